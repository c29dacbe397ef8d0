"""The place of the boards: makes each when it is first wanted, shows one at a time beside or instead of the pair."""

from __future__ import annotations

from PyQt6.QtCore import QSize, pyqtSignal
from PyQt6.QtWidgets import QStackedWidget

from rehearsal.desk import theme
from rehearsal.desk.boards.base import Board
from rehearsal.desk.boards.intents import IntentsBoard
from rehearsal.desk.boards.reach import ReachBoard
from rehearsal.desk.boards.realsize import RealSizeBoard
from rehearsal.desk.boards.scout import ScoutBoard
from rehearsal.desk.boards.screencheck import ScreenCheckBoard
from rehearsal.desk.boards.shelf import ShelfBoard
from rehearsal.desk.boards.twoprofiles import TwoProfilesBoard
from rehearsal.desk.model import DeskModel
from rehearsal.desk.pair import PairView

_SCREEN, _PAPER, _JUDGE = 0, 2, 3
#: Boards by name: how they are made, and the station they belong to.
BOARDS: dict[str, tuple[type[Board], int]] = {
    "check": (ScreenCheckBoard, _SCREEN), "size": (RealSizeBoard, _SCREEN), "shelf": (ShelfBoard, _PAPER),
    "scout": (ScoutBoard, _PAPER), "reach": (ReachBoard, _PAPER), "two": (TwoProfilesBoard, _PAPER),
    "intents": (IntentsBoard, _JUDGE),
}  # fmt: skip


class BoardHolder(QStackedWidget):
    """Owns the boards; ``changed`` tells the name of the one shown, empty for none."""

    changed = pyqtSignal(str)

    def __init__(self, model: DeskModel, pair: PairView) -> None:
        super().__init__()
        self.model, self._pair = model, pair
        self.boards: dict[str, Board] = {}
        self.name = ""
        self._room = theme.ROOMS["mid"]
        self._mode_before = ""
        self._subject: object = None
        self.hide()
        pair.pointed.connect(self._point)
        model.library.changed.connect(self.refresh)

    def board(self, name: str) -> Board:
        """A board, made when it is first wanted."""
        if name not in self.boards:
            made = BOARDS[name][0](self.model)
            made.set_room(self._room)
            made.closed.connect(self.close_board)
            if isinstance(made, ReachBoard):
                made.selected.connect(self._pair.show_pixels)
            self.addWidget(made)
            self.boards[name] = made
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

    def open_board(self, name: str) -> None:
        """Show a board in the pair's place, or beside the take."""
        self.close_board()
        board = self.board(name)
        self.name = name
        self.setCurrentWidget(board)
        if board.beside:
            self._mode_before = self._pair.mode
            self._pair.set_mode("large")
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
            self._pair.set_mode(self._mode_before)
        self.name = ""
        self.changed.emit("")
        self._pair.setFocus()

    def refresh(self) -> None:
        """Let the shown board follow the model; one whose subject has changed begins anew."""
        board = self.shown
        if board is None:
            return
        subject = board.subject()
        if subject != self._subject:
            self._subject = subject
            board.open()
        board.refresh()

    def refresh_pictures(self) -> bool:
        """Let live proofs follow the take; False when no board shows any."""
        board, take = self.shown, self.model.take
        if isinstance(board, IntentsBoard) and take is not None and self.model.shown_tuning == take.tuning:
            board.refresh_pictures()
            return True
        return False

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        self._room = room
        for board in self.boards.values():
            board.set_room(room)

    def _point(self, place: tuple[int, int] | None) -> None:
        """The colour under the pointer, for the reach."""
        board, loaded, picture = self.shown, self.model.loaded, self.model.open_picture()
        if not isinstance(board, ReachBoard) or loaded is None or picture is None or self._pair.marks.has_mask:
            return
        if place is None:
            board.point(None)
            return
        pixel = picture.tuned(loaded.pyramid.pixel(*place).reshape(1, 1, 3))
        board.point(loaded.pyramid.space.to_lab(pixel)[0, 0])
