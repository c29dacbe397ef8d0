"""Where Rehearsal keeps its files."""

from __future__ import annotations

import os
from pathlib import Path


def data_home() -> Path:
    """The program's folder among the user's data (XDG base directory specification)."""
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share") / "rehearsal"


def cache_home() -> Path:
    """The program's folder among what may be removed at any time (the same specification)."""
    return Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "rehearsal"
