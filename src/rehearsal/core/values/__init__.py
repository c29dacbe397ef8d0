"""What every part of the program names: the rendition, the recipe and its adjustments, and the words for kept keys."""
