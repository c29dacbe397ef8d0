"""Printers, instruments and measurement files."""
