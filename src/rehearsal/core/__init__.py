"""The heart: colour, proof, papers, tuning and sheets as plain functions on arrays; no interface code."""
