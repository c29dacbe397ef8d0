"""What all trays share."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from rehearsal.desk import theme
from rehearsal.desk.pair.view import PairView
from rehearsal.desk.parts.widgets import Column
from rehearsal.session.bus import Change
from rehearsal.session.session import Session


class Tray(QWidget):
    """Columns laid out left to right in the order of use. ``board_wanted`` names a board to be shown or closed.

    ``follows`` names what the tray shows, as a change record has it.
    """

    board_wanted = pyqtSignal(str)
    follows: tuple[str, ...] = ("take", "picture")

    def __init__(self, session: Session, pair: PairView) -> None:
        super().__init__()
        self.session, self.pair = session, pair
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(16, 10, 16, 10)
        self.row.setSpacing(26)
        self.build()
        self.row.addStretch(1)

    def build(self) -> None:
        """Make the columns."""
        raise NotImplementedError(type(self).__name__)

    def refresh(self) -> None:
        """Show what the session holds now."""

    def follow(self, change: Change) -> None:
        """Something changed while this tray is open."""
        if change.about(*self.follows):
            self.refresh()

    def opened(self) -> None:
        """The station was gone to."""

    def show_board(self, name: str) -> None:
        """Mark the board that is shown."""

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone of painted parts."""

    def column(self, title: str, width: int = 0) -> Column:
        """A new column at the right."""
        made = Column(title, width)
        self.row.addWidget(made)
        return made
