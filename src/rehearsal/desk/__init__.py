"""The window."""
