"""Use cases: a snapshot in, a result out."""
