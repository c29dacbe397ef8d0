"""What all boards share."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from rehearsal.desk import theme
from rehearsal.desk.parts.offer import Offer
from rehearsal.desk.parts.widgets import button, heading, quiet
from rehearsal.session.session import Session


class Board(QWidget):
    """A sheet of its own in the middle of the window, closed by its button or Esc.

    ``title`` heads it; ``beside`` boards leave the take visible at their left, ``with_tray`` boards the tray below.
    """

    closed = pyqtSignal()
    #: Another board is wanted instead.
    other_wanted = pyqtSignal(str)
    #: Another station is wanted, by its key.
    station_wanted = pyqtSignal(str)
    title = ""
    beside = False
    with_tray = False
    #: What the board shows, as a change record names it.
    follows: tuple[str, ...] = ("take", "picture", "conditions", "facts", "screen", "judgement", "library")

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.room = theme.ROOMS["mid"]
        self.setObjectName("board")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAccessibleName(self.title)
        rows = QVBoxLayout(self)
        rows.setContentsMargins(14, 6, 14, 10)
        rows.setSpacing(6)
        self._head = QHBoxLayout()
        self._head.setSpacing(10)
        self._head.addWidget(heading(self.title))
        self.sentence = quiet()
        self.sentence.setWordWrap(True)
        self._head.addStretch(1)
        self._close = button("Back to the pair", self.closed.emit, "Esc", f"Close: {self.title}")
        self._head.addWidget(self._close)
        rows.addLayout(self._head)
        rows.addWidget(self.sentence)
        self.rows = rows
        self.build()

    def head(self, *widgets: QWidget) -> None:
        """Controls in the head of the board, before the button that closes it."""
        for widget in widgets:
            self._head.insertWidget(self._head.count() - 1, widget)

    def label(self, text: str) -> QLabel:
        """A quiet label for the head."""
        return quiet(text)

    def build(self) -> None:
        """Make the body."""
        raise NotImplementedError(type(self).__name__)

    def open(self) -> None:
        """The board is shown now: ask for what it needs."""

    def point(self, place: tuple[int, int] | None) -> None:
        """The pointer is over a pixel of the master, or over none."""

    def subject(self) -> object:
        """What the board's figures are about; when it changes while the board is shown, the board is opened anew."""
        return None

    def refresh_pictures(self) -> None:
        """The picture on the screen looks different."""

    def refresh(self) -> None:
        """Follow the session while the board is shown."""

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        self.room = room
        self.update()


class ProofBoard(Board):
    """A board of proofs of the open take, made for the size they are seen in."""

    def open(self) -> None:
        """Show them."""
        self.refresh()

    def subject(self) -> object:
        """The open take."""
        take = self.session.now.take
        return None if take is None else take.id

    def refresh_pictures(self) -> None:
        """The view has changed."""
        self.refresh()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Proofs for another size."""
        super().resizeEvent(event)
        if self.isVisible():
            self.refresh()


def pane(name: QLabel, state: QLabel, content: QWidget) -> QVBoxLayout:
    """What is seen, under its name at the left and its state at the right."""
    rows, head = QVBoxLayout(), QHBoxLayout()
    rows.setSpacing(theme.px(3))
    head.addWidget(name)
    head.addStretch(1)
    head.addWidget(state)
    rows.addLayout(head)
    rows.addWidget(content, 1)
    return rows


def show_choosing(choose: Offer, session: Session) -> None:
    """The button by which the paper that is looked at is chosen: there while one is, and named after it."""
    looked, takes = session.now.looked, session.takes
    choose.setVisible(looked is not None and session.now.take is not None)
    if looked is not None:
        words, act = ("New take on", takes.new_on_looked) if takes.is_worked else ("Choose", takes.take_over_to_looked)
        choose.offer(f"{words} {looked.paper}", act)
