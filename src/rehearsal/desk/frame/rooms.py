"""The room tones: everything is dressed for a dark, mid or light room."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtWidgets import QApplication

from rehearsal.desk import theme
from rehearsal.session.book import Book

_ORDER = ("dark", "mid", "light")


class Rooms:
    """Owner of the room tone.

    Args:
        dress: what follows it.
    """

    def __init__(self, book: Book, dress: Sequence[Callable[[theme.Room], None]]) -> None:
        self._book, self._dress = book, dress
        self.name = "mid"

    def set(self, name: str) -> None:
        """Dress everything for a room."""
        self.name = name
        room = theme.ROOMS[name]
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        theme.apply_room(app, room)
        for part in self._dress:
            part(room)
        self._book.remember("room", name)

    def next(self) -> None:
        """The next room."""
        self.set(_ORDER[(_ORDER.index(self.name) + 1) % len(_ORDER)])
