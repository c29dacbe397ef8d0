"""Small parts that trays and boards are made of."""
