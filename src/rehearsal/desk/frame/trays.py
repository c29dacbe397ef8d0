"""The trays of all stations, one of them shown."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QStackedWidget

from rehearsal.desk import theme
from rehearsal.desk.frame.stations import AT, STATIONS
from rehearsal.desk.pair.view import PairView
from rehearsal.desk.trays.base import Tray
from rehearsal.desk.trays.judge import JudgeTray
from rehearsal.desk.trays.picture import PictureTray
from rehearsal.desk.trays.sheet import SheetTray
from rehearsal.session.bus import Change
from rehearsal.session.session import Session

_TRAY_HEIGHT = 216


class TrayStack(QStackedWidget):
    """Owns the trays and which station is open; the pictures stay when the station changes."""

    went = pyqtSignal(int)
    board_wanted = pyqtSignal(str)

    def __init__(self, session: Session, pair: PairView) -> None:
        super().__init__()
        self._session, self._pair = session, pair
        self.setObjectName("tray")
        self.setFixedHeight(_TRAY_HEIGHT)
        self.trays = [station.tray(session, pair) for station in STATIONS]
        for tray in self.trays:
            self.addWidget(tray)
            tray.board_wanted.connect(self.board_wanted)
        self.station = AT["judge"]
        session.bus.changed.connect(self._follow)

    def _of(self, kind: type[Tray]) -> Tray:
        return next(tray for tray in self.trays if isinstance(tray, kind))

    @property
    def judge(self) -> JudgeTray:
        """The Judge station's tray."""
        tray = self._of(JudgeTray)
        assert isinstance(tray, JudgeTray)
        return tray

    @property
    def sheet(self) -> SheetTray:
        """The Sheet station's tray."""
        tray = self._of(SheetTray)
        assert isinstance(tray, SheetTray)
        return tray

    @property
    def picture(self) -> PictureTray:
        """The Picture station's tray."""
        tray = self._of(PictureTray)
        assert isinstance(tray, PictureTray)
        return tray

    @property
    def current_key(self) -> str:
        """Key of the open station."""
        return STATIONS[self.station].key

    def go(self, station: int) -> None:
        """Open a station's tray."""
        self.station = station
        self.setCurrentIndex(station)
        key = self.current_key
        self._pair.state.set_cropping(key == "picture")
        if key != "judge":
            self._pair.highlight(None)
        self.trays[station].refresh()
        self.trays[station].opened()
        self._session.book.remember("station", key)
        self.went.emit(station)

    def go_to(self, key: str) -> None:
        """Open a station's tray by its key."""
        self.go(AT[key])

    def show_board(self, name: str) -> None:
        """Mark the board that is shown."""
        for tray in self.trays:
            tray.show_board(name)

    def _follow(self, change: Change) -> None:
        self.trays[self.station].follow(change)

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        for tray in self.trays:
            tray.set_room(room)
