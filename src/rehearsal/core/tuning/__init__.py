"""What a recipe does to pixels; :class:`TunedPicture` is the only door to tuned ones."""
