"""Everything that is kept, in one SQLite file."""
