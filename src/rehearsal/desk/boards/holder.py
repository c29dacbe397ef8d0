"""The place of the boards: makes each when it is first wanted, shows one at a time beside or instead of the pair."""

from __future__ import annotations

from PyQt6.QtCore import QSize, pyqtSignal
from PyQt6.QtWidgets import QStackedWidget

from rehearsal.desk.boards.base import Board
from rehearsal.desk.boards.card import CardBoard
from rehearsal.desk.boards.causes import CausesBoard
from rehearsal.desk.boards.habits import HabitsBoard
from rehearsal.desk.boards.intents import IntentsBoard
from rehearsal.desk.boards.light import LightBoard
from rehearsal.desk.boards.page import PageBoard
from rehearsal.desk.boards.prints import PrintsBoard
from rehearsal.desk.boards.reach import ReachBoard
from rehearsal.desk.boards.realsize import RealSizeBoard
from rehearsal.desk.boards.scout import ScoutBoard
from rehearsal.desk.boards.screencheck import ScreenCheckBoard
from rehearsal.desk.boards.shelf import ShelfBoard
from rehearsal.desk.boards.takes import TakesBoard
from rehearsal.desk.boards.testsheet import TestSheetBoard
from rehearsal.desk.boards.twoprints import TwoPrintsBoard
from rehearsal.desk.boards.twoprofiles import TwoProfilesBoard
from rehearsal.desk.boards.verdict import VerdictBoard
from rehearsal.desk.pair.view import PairView
from rehearsal.session.bus import Change
from rehearsal.session.session import Session

#: Boards by name: how they are made, and the key of the station they belong to.
BOARDS: dict[str, tuple[type[Board], str]] = {
    "check": (ScreenCheckBoard, "screen"), "size": (RealSizeBoard, "screen"), "light": (LightBoard, "screen"),
    "shelf": (ShelfBoard, "paper"),
    "card": (CardBoard, "paper"), "scout": (ScoutBoard, "paper"), "reach": (ReachBoard, "paper"), "two": (TwoProfilesBoard, "paper"),
    "intents": (IntentsBoard, "judge"), "habits": (HabitsBoard, "tune"), "takes": (TakesBoard, "tune"), "page": (PageBoard, "sheet"),
    "prints": (PrintsBoard, "sheet"), "test": (TestSheetBoard, "test"),
    "verdict": (VerdictBoard, "log"), "causes": (CausesBoard, "log"), "twoprints": (TwoPrintsBoard, "log"),
}  # fmt: skip


#: Boards that open with their station, and what remembers that they were closed by hand.
_OPEN_THEMSELVES = {"page": "page shown", "test": "test sheet shown", "verdict": "verdict shown"}


class BoardHolder(QStackedWidget):
    """Owns the boards; ``changed`` tells the name of the one shown, empty for none; ``station_wanted`` where it belongs."""

    changed = pyqtSignal(str)
    #: A board was made.
    made = pyqtSignal(object)
    station_wanted = pyqtSignal(str)

    def __init__(self, session: Session, pair: PairView) -> None:
        super().__init__()
        self._session, self._pair = session, pair
        self._station = ""
        self.boards: dict[str, Board] = {}
        self.name = ""
        self._mode_before = ""
        self._subject: object = None
        self.hide()
        pair.state.pointed.connect(self._point)
        session.bus.changed.connect(self._follow)

    def board(self, name: str) -> Board:
        """A board, made when it is first wanted."""
        if name not in self.boards:
            made = BOARDS[name][0](self._session)
            made.closed.connect(self.dismiss)
            made.other_wanted.connect(self.open_board)
            made.station_wanted.connect(self.station_wanted)
            if isinstance(made, ReachBoard):
                made.selected.connect(self._pair.show_pixels)
            self.addWidget(made)
            self.boards[name] = made
            self.made.emit(made)
        return self.boards[name]

    def minimumSizeHint(self) -> QSize:
        """Only the board that is shown asks for room."""
        board = self.shown
        return QSize(0, 0) if board is None else board.minimumSizeHint()

    def sizeHint(self) -> QSize:
        """As small as it may be: the layout shares the room out."""
        return self.minimumSizeHint()

    @property
    def shown(self) -> Board | None:
        """The board that is shown."""
        return self.boards.get(self.name)

    def dismiss(self) -> None:
        """A hand closes the board: one that opens with its station does not do so again until it is called for."""
        if self.name in _OPEN_THEMSELVES:
            self._session.book.remember(_OPEN_THEMSELVES[self.name], False)
        self.close_board()

    def open_of(self, station: str) -> None:
        """What opens by itself with a station, unless it was closed by hand."""
        if self._session.now.take is None or self.name:
            return
        for name, setting in _OPEN_THEMSELVES.items():
            if station == BOARDS[name][1] and self._session.book.recall(setting, True):
                self.open_board(name)

    def toggle(self, name: str) -> None:
        """Show a board with its station; the same name again closes it."""
        if name == self.name:
            self.dismiss()
            return
        if name in _OPEN_THEMSELVES:
            self._session.book.remember(_OPEN_THEMSELVES[name], True)
        if self._station != BOARDS[name][1]:
            self.station_wanted.emit(BOARDS[name][1])
        self.open_board(name)

    def leave(self, station: str) -> None:
        """Another station is open: a board that does not belong to it is closed."""
        self._station = station
        if self.name and BOARDS[self.name][1] != station:
            self.close_board()

    def open_board(self, name: str) -> None:
        """Show a board in the pair's place, or beside the take."""
        self.close_board()
        board = self.board(name)
        self.name = name
        self.setCurrentWidget(board)
        if board.beside:
            self._mode_before = self._pair.state.mode
            self._pair.state.set_mode("large")
        else:
            self._pair.hide()
        self.show()
        self.changed.emit(name)
        self._subject = board.subject()
        board.open()
        board.setFocus()

    def close_board(self) -> None:
        """Back to the pair."""
        board = self.shown
        if board is None:
            return
        self.hide()
        self._pair.show()
        self._pair.show_pixels(None)
        if board.beside:
            self._pair.state.set_mode(self._mode_before)
        self.name = ""
        self.changed.emit("")
        self._pair.setFocus()

    def refresh(self) -> None:
        """Let the shown board follow the session; one whose subject has changed begins anew."""
        board = self.shown
        if board is None:
            return
        subject = board.subject()
        if subject != self._subject:
            self._subject = subject
            board.open()
        board.refresh()

    def _follow(self, change: Change) -> None:
        board = self.shown
        if board is None:
            return
        if change.about(*board.follows):
            self.refresh()
        if change.about("road") and not self._session.roads.previews:
            board.refresh_pictures()

    def _point(self, place: tuple[int, int] | None) -> None:
        """The place under the pointer, unless pixels of a chosen colour are shown."""
        board = self.shown
        if board is not None and not self._pair.marks.has_mask:
            board.point(place)
