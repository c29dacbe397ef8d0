"""Profiles that were opened once stay open."""

from __future__ import annotations

from rehearsal.core.icc import Profile
from rehearsal.core.icc.named import open_destination


class OpenProfiles:
    """Owner of opened profiles, by path."""

    def __init__(self) -> None:
        self._open: dict[str, Profile] = {}

    def open(self, path: str) -> Profile:
        """A profile by the path of its file or its working space; raises ProfileError."""
        if path not in self._open:
            self._open[path] = open_destination(path)
        return self._open[path]
