"""The command line over the same tasks as the window."""
