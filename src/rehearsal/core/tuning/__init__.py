"""Adjustments of a take as values, and what they do to pixels."""
