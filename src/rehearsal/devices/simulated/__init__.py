"""Simulated printer, paper and instrument that ship with the program."""
