"""The open work, without any window: parts that own its state, named operations with one undo list, and a change record."""
