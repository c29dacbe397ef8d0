"""One tray per station; each shows and changes the model it is given."""
