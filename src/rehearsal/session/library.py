"""The profiles on this machine."""

from __future__ import annotations

from pathlib import Path

from rehearsal.session.book import Book
from rehearsal.session.bus import Bus
from rehearsal.session.jobs import Job, JobProgress, Jobs
from rehearsal.tasks.finding import FoundProfile, find_profiles, standard_folders
from rehearsal.workbook.home import data_home

_MOST_WATCHED = 200
_SETTING = "profile folders"


class Library:
    """Owner of what was found in the standard folders and in those the user added."""

    def __init__(self, book: Book, bus: Bus, jobs: Jobs) -> None:
        self._book, self._bus, self._jobs = book, bus, jobs
        self.found: list[FoundProfile] = []
        #: Folders with profiles in them, for whoever watches them.
        self.places: list[str] = []
        self._known: dict[str, FoundProfile] = {}

    @property
    def added(self) -> list[Path]:
        """Folders the user added."""
        return [Path(p) for p in self._book.recall(_SETTING) or []]

    @property
    def folders(self) -> list[Path]:
        """All folders that are looked through."""
        own = data_home() / "profiles"
        return [*self.added, *([own] if own.is_dir() else []), *standard_folders()]

    def add_folder(self, folder: Path) -> None:
        """Look through one more folder from now on."""
        if folder not in self.added:
            self._book.remember(_SETTING, [*map(str, self.added), str(folder)])
        self.look()

    def remove_folder(self, folder: Path) -> None:
        """Leave a folder alone again; nothing is deleted."""
        self._book.remember(_SETTING, [str(p) for p in self.added if p != folder])
        self.look()

    def look(self) -> None:
        """Look through all folders, in the background."""
        folders, known = self.folders, self._known

        def work(progress: JobProgress) -> tuple[list[FoundProfile], list[str]]:
            inner = [str(p) for f in folders for p in (f, *(q for q in f.rglob("*") if q.is_dir()))]
            return find_profiles(folders, known, progress), inner[:_MOST_WATCHED]

        self._jobs.run(Job("library", tuple(folders)), work, self._on_found)

    def _on_found(self, result: tuple[list[FoundProfile], list[str]]) -> None:
        self.found, self.places = result
        self._bus.tell("library")
