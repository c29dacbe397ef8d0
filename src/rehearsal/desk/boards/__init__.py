"""Boards: what takes the place of the pair for a while (walls of proofs, the shelf, the reach, checks of the screen)."""
