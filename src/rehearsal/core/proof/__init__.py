"""The chain master, print, screen, and every figure that is read from it."""
