"""Watches the folders with profiles, and has them looked through when something in them changes."""

from __future__ import annotations

from PyQt6.QtCore import QFileSystemWatcher, QObject, QTimer

from rehearsal.session.session import Session

_CALM_MS = 700


class FolderWatch(QObject):
    """Follows the library of a session."""

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._library = session.library
        self._watcher = QFileSystemWatcher(self)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(_CALM_MS)
        self._later.timeout.connect(self._library.look)
        self._watcher.directoryChanged.connect(lambda _path: self._later.start())
        session.bus.on(("library",), self._watch)

    def _watch(self) -> None:
        new = [p for p in self._library.places if p not in self._watcher.directories()]
        if new:
            self._watcher.addPaths(new)

    def close(self) -> None:
        """Stop watching."""
        self._later.stop()
        if self._watcher.directories():
            self._watcher.removePaths(self._watcher.directories())
