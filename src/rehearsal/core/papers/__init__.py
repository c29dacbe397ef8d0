"""Facts of a print condition measured from its profile."""
