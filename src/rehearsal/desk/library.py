"""The profiles on this machine: found, watched, taken out of archives; owned by the shelf."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QObject, QTimer, pyqtSignal

from rehearsal.demo.make import data_home
from rehearsal.desk.jobs import Jobs, Progress
from rehearsal.tasks.finding import FoundProfile, find_profiles, standard_folders, unpack
from rehearsal.workbook.store import Workbook

_CALM_MS = 700
_MOST_WATCHED = 200


class Library(QObject):
    """Standard folders and those the user added; looked through in the background, again when a folder changes."""

    changed = pyqtSignal()

    def __init__(self, workbook: Workbook, jobs: Jobs, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._workbook, self._jobs = workbook, jobs
        self.found: list[FoundProfile] = []
        self._known: dict[str, FoundProfile] = {}
        self._watcher = QFileSystemWatcher(self)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(_CALM_MS)
        self._later.timeout.connect(self.look)
        self._watcher.directoryChanged.connect(lambda _path: self._later.start())

    @property
    def added(self) -> list[Path]:
        """Folders the user added."""
        return [Path(name) for name in self._workbook.setting("profile folders") or []]

    @property
    def folders(self) -> list[Path]:
        """All folders that are looked through."""
        own = data_home() / "profiles"
        return [*self.added, *([own] if own.is_dir() else []), *standard_folders()]

    def add_folder(self, folder: Path) -> None:
        """Look through one more folder from now on."""
        names = [str(p) for p in self.added]
        if str(folder) not in names:
            self._workbook.set_setting("profile folders", [*names, str(folder)])
        self.look()

    def remove_folder(self, folder: Path) -> None:
        """Leave a folder alone again; nothing is deleted."""
        self._workbook.set_setting("profile folders", [str(p) for p in self.added if p != folder])
        self.look()

    def look(self) -> None:
        """Look through all folders, away from the interface."""
        folders, known = self.folders, self._known

        def work(progress: Progress) -> tuple[list[FoundProfile], list[str]]:
            inner = [str(p) for f in folders for p in (f, *(q for q in f.rglob("*") if q.is_dir()))]
            return find_profiles(folders, known, progress), inner[:_MOST_WATCHED]

        self._jobs.run("library", work, self._on_found)

    def _on_found(self, result: tuple[list[FoundProfile], list[str]]) -> None:
        self.found, inner = result
        new = [p for p in inner if p not in self._watcher.directories()]
        if new:
            self._watcher.addPaths(new)
        self.changed.emit()

    def take_archive(self, archive: Path) -> list[Path]:
        """Unpack an archive beside the program's own files; returns its profiles (raises RehearsalError)."""
        made = unpack(archive, data_home())
        self.look()
        return made

    def close(self) -> None:
        """Stop watching."""
        self._later.stop()
        if self._watcher.directories():
            self._watcher.removePaths(self._watcher.directories())
