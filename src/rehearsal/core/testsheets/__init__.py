"""Test sheets: what is varied, by how much, on which piece of the picture, where it lies on the sheet, and what was chosen."""
