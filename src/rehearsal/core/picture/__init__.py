"""Picture files: what they say about themselves, reading, reducing, writing."""
