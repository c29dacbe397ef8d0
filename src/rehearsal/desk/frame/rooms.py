"""The room tones: everything is dressed for a dark, mid or light room, and never lighter than a paper that is shown."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtWidgets import QApplication, QWidget

from rehearsal.desk import theme
from rehearsal.session.book import Book

_ORDER = ("dark", "mid", "light")


class Rooms(QObject):
    """Owner of the room tone. Parts that cannot be seen are dressed when they come to be seen: that is many times as fast.

    Args:
        parts: what follows it; those with a ``set_room`` are told.
    """

    def __init__(self, book: Book, parts: Sequence[QWidget]) -> None:
        super().__init__()
        self._book, self._parts = book, tuple(parts)
        self.name = "mid"
        #: Grey level of the paper that is shown; 255 while no paper is.
        self._paper = 255
        self._room = theme.ROOMS["mid"]
        self._dressed: dict[QWidget, theme.Room] = {}
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        theme.apply_room(app, self._room)
        for part in self._parts:
            part.installEventFilter(self)

    def add(self, part: QWidget) -> None:
        """A part that was made later."""
        self._parts = (*self._parts, part)
        part.installEventFilter(self)
        self._dress(part)

    def set(self, name: str) -> None:
        """Dress everything for a room."""
        self.name = name
        self._apply()
        self._book.remember("room", name)

    def go_under(self, paper: int) -> None:
        """Nothing is lighter than a paper of that grey level; 255 ends it."""
        self._paper = paper
        self._apply()

    def next(self) -> None:
        """The next room."""
        self.set(_ORDER[(_ORDER.index(self.name) + 1) % len(_ORDER)])

    @property
    def room(self) -> theme.Room:
        """The room as it is now."""
        return self._room

    def _apply(self) -> None:
        room = theme.ROOMS[self.name].under(self._paper)
        if room == self._room and self._dressed:
            return
        self._room = room
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        app.setPalette(theme.palette(room))
        for part in self._parts:
            if part.isVisible():
                self._dress(part)

    def _dress(self, part: QWidget) -> None:
        if self._dressed.get(part) == self._room:
            return
        self._dressed[part] = self._room
        part.setStyleSheet(theme.sheet(self._room))
        told = getattr(part, "set_room", None)
        if told is not None:
            told(self._room)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """A part comes to be seen."""
        if event is not None and event.type() == QEvent.Type.Show and isinstance(watched, QWidget):
            self._dress(watched)
        return False
