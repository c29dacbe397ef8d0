"""Rehearsal: rehearse a print before the first sheet."""

__version__ = "0.1.0"
