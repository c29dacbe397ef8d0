"""The trays of all stations, one of them shown."""

from __future__ import annotations

from typing import TypeVar

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QStackedLayout, QStackedWidget, QVBoxLayout, QWidget

from rehearsal.core.values.words import word
from rehearsal.desk import theme
from rehearsal.desk.frame.stations import AT, STATIONS
from rehearsal.desk.frame.why import WhyPage
from rehearsal.desk.pair.view import PairView
from rehearsal.desk.parts.edge import Edge
from rehearsal.desk.parts.widgets import quiet
from rehearsal.desk.trays.base import Tray
from rehearsal.desk.trays.judge import JudgeTray
from rehearsal.desk.trays.paper import PaperTray
from rehearsal.desk.trays.picture import PictureTray
from rehearsal.desk.trays.sheet import SheetTray
from rehearsal.desk.trays.test import TestTray
from rehearsal.session.bus import Change
from rehearsal.session.session import Session

Kind = TypeVar("Kind", bound=Tray)
_MOST_HEIGHT, _LEAST_HEIGHT, _WIDTH = 232, 92, 330
#: Stations that have something to show before there is a take.
_WITHOUT_A_TAKE = ("screen", "paper")


class Empty(QWidget):
    """What a tray says while there is no picture."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("tray")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        rows = QVBoxLayout(self)
        rows.setContentsMargins(theme.px(16), theme.px(10), theme.px(16), theme.px(10))
        rows.addWidget(quiet("The tools of this station come with the first picture.", wrap=True))
        rows.addStretch(1)


class TrayStack(QWidget):
    """Owns the trays and which station is open; the pictures stay when the station changes.

    It lies under the pictures, as high as what is in it, or stands at their right; folded it is a line to press.
    """

    went = pyqtSignal(int)
    board_wanted = pyqtSignal(str)

    def __init__(self, session: Session, pair: PairView) -> None:
        super().__init__()
        self._session, self._pair = session, pair
        self._place = QStackedLayout(self)
        self._place.setContentsMargins(0, 0, 0, 0)
        self._stack = QStackedWidget()
        self.edge = Edge("Unfold the tray", "Unfold the tray (T)")
        self.edge.clicked.connect(lambda: self.fold(False))
        self._page: QWidget | None = None
        self._place.addWidget(self._stack)
        self._place.addWidget(self.edge)
        self.stands = self.is_folded = False
        self._height = 0
        self.trays = [station.tray(session, pair) for station in STATIONS]
        for tray in self.trays:
            self._stack.addWidget(tray)
            tray.board_wanted.connect(self.board_wanted)
            tray.station_wanted.connect(self.go_to)
        self._nothing = Empty()
        self._stack.addWidget(self._nothing)
        self.station = AT["judge"]
        session.bus.changed.connect(self._follow)
        self.stand(False)

    # ---- room

    def stand(self, upright: bool) -> None:
        """Stand at the right of the pictures, or lie under them."""
        self.stands = upright
        self.edge.stand(upright)
        for tray in self.trays:
            tray.stand(upright)
        self._fit(anew=True)

    def fold(self, on: bool) -> None:
        """To a line, or open."""
        self.is_folded = on
        self._place.setCurrentIndex(1 if on else 0)
        self._fit(anew=True)

    def _fit(self, anew: bool = False) -> None:
        """Take the room that is needed; while a station is open its tray does not shrink, so that the pictures stay."""
        self.edge.setText(f"{word('station', self.current_key)}: press, or T, to unfold its tray")
        free = 16_777_215
        thick = self.edge.sizeHint()
        if self.stands:
            self.setMinimumHeight(0)
            self.setMaximumHeight(free)
            self.setFixedWidth(thick.width() if self.is_folded else theme.px(_WIDTH))
            return
        self.setMinimumWidth(0)
        self.setMaximumWidth(free)
        if self._page is not None:
            wanted = self._page.sizeHint().height()
        else:
            wanted = self.trays[self.station].wanted_height() if self._is_live else 0
        wanted = min(max(wanted, theme.px(_LEAST_HEIGHT)), theme.px(_MOST_HEIGHT))
        self._height = wanted if anew else max(wanted, self._height)
        self.setFixedHeight(thick.height() if self.is_folded else self._height)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Another width folds other columns."""
        super().resizeEvent(event)
        if event is not None and event.size().width() != event.oldSize().width():
            self._fit(anew=True)

    def show_page(self, page: QWidget | None) -> None:
        """Something in the tray's place, or the tray again."""
        if self._page is not None:
            self._stack.removeWidget(self._page)
            self._page.deleteLater()
        self._page = page
        if page is not None:
            self._stack.addWidget(page)
            self._stack.setCurrentWidget(page)
            page.setFocus()
        else:
            self._show_tray()
        self._fit(anew=True)

    def _show_tray(self) -> None:
        """The station's tray; of a take that is not there it has nothing to show."""
        self._stack.setCurrentWidget(self.trays[self.station] if self._is_live else self._nothing)

    @property
    def _is_live(self) -> bool:
        return self._session.now.take is not None or self.current_key in _WITHOUT_A_TAKE

    def add_profiles(self) -> None:
        """Ask for profiles of papers."""
        self.go_to("paper")
        self._of_kind(PaperTray).add_profiles()

    @property
    def page(self) -> QWidget | None:
        """What is shown instead of the tray."""
        return self._page

    def show_why(self) -> None:
        """What is behind the verdict, in the tray's place."""
        result = self._session.judging.judgement
        if result is not None:
            self.fold(False)
            self.show_page(WhyPage(result, self.edge.room, self.stands, lambda: self.show_page(None)))

    def column_about(self, operation: str) -> QWidget | None:
        """The column of the open tray that shows what an operation changed."""
        return self.trays[self.station].column_about(operation)

    def station_about(self, operation: str) -> int | None:
        """The first station whose tray shows what an operation changed."""
        return next((i for i, tray in enumerate(self.trays) if tray.column_about(operation) is not None), None)

    # ---- trays

    def _of_kind(self, kind: type[Kind]) -> Kind:
        return next(tray for tray in self.trays if isinstance(tray, kind))

    @property
    def judge(self) -> JudgeTray:
        """The Judge station's tray."""
        return self._of_kind(JudgeTray)

    @property
    def sheet(self) -> SheetTray:
        """The Sheet station's tray."""
        return self._of_kind(SheetTray)

    @property
    def test(self) -> TestTray:
        """The Test station's tray."""
        return self._of_kind(TestTray)

    @property
    def picture(self) -> PictureTray:
        """The Picture station's tray."""
        return self._of_kind(PictureTray)

    @property
    def current_key(self) -> str:
        """Key of the open station."""
        return STATIONS[self.station].key

    def go(self, station: int) -> None:
        """Open a station's tray."""
        self.station = station
        self.show_page(None)
        key = self.current_key
        self._pair.state.set_sheet(key in ("picture", "sheet"))
        self._pair.state.set_cropping(key == "picture")
        if key != "judge":
            self._pair.highlight(None)
        self.trays[station].refresh()
        self.trays[station].opened()
        self._fit(anew=True)
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
        self.trays[self.station].arrange()
        if self._page is not None and change.about("take", "looked", "judgement", "conditions"):
            self.show_page(None)  # its figures are of what was shown before
        if change.about("take") and self._page is None:
            self._show_tray()
        self._fit()
