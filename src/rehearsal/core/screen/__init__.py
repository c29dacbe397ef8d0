"""Trust in the screen and the arithmetic between its light and the light on the print."""
