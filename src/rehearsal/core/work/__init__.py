"""How work is shared out and its results are kept: threads, things made once, progress."""
