"""The window: running order above, the pair in the middle, verdict and tray below."""

from __future__ import annotations

from PyQt6.QtCore import QByteArray, Qt
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QKeySequence, QScreen, QShortcut, QShowEvent
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QMainWindow, QVBoxLayout, QWidget

from rehearsal.core.values.words import word
from rehearsal.desk.boards.holder import BoardHolder
from rehearsal.desk.frame.actions import Actions
from rehearsal.desk.frame.held import HeldKeys
from rehearsal.desk.frame.keys import KEYS
from rehearsal.desk.frame.rack import Rack
from rehearsal.desk.frame.ribbon import Ribbon
from rehearsal.desk.frame.rooms import Rooms
from rehearsal.desk.frame.stations import AT, FOLLOWS, STATIONS, station_states
from rehearsal.desk.frame.trays import TrayStack
from rehearsal.desk.frame.verdict import Verdict
from rehearsal.desk.pair.geometry import Zoom
from rehearsal.desk.pair.state import MODES
from rehearsal.desk.pair.view import PairView
from rehearsal.desk.watch import FolderWatch
from rehearsal.session.bus import Change
from rehearsal.session.session import Session


class Window(QMainWindow):
    """Puts the parts together on one session."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setWindowTitle("Rehearsal")
        self.setAcceptDrops(True)
        self.ribbon = Ribbon([word("station", s.key) for s in STATIONS])
        self.pair, self.rack, self.verdict = PairView(session), Rack(session), Verdict(session)
        self.stack = TrayStack(session, self.pair)
        self.boards = BoardHolder(session, self.pair)
        dressed = (self.ribbon, self.pair, self.rack, self.stack, self.boards)
        self.rooms = Rooms(session.book, [part.set_room for part in dressed])
        self.actions_of_keys = Actions(session, self.pair, self.stack, self.boards, self.rack, self.verdict, self.rooms)
        self._held = HeldKeys(self, self.pair.state)
        self._watch = FolderWatch(session, self)
        self._follows_screen = False
        #: False when the window was closed over work that did not heed.
        self.is_calm = True
        self._compose()
        self._connect()
        self._add_shortcuts()
        self._restore()
        app = QApplication.instance()
        assert app is not None
        app.installEventFilter(self._held)

    # ---- building

    def _compose(self) -> None:
        body = QWidget()
        body.setObjectName("desk")
        rows = QVBoxLayout(body)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(0)
        middle = QHBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(self.rack)
        middle.addWidget(self.pair, 1)
        middle.addWidget(self.boards, 1)
        rows.addWidget(self.ribbon)
        rows.addLayout(middle, 1)
        rows.addWidget(self.verdict)
        rows.addWidget(self.stack)
        self.setCentralWidget(body)

    def _connect(self) -> None:
        stack, pair, boards = self.stack, self.pair, self.boards
        self.ribbon.chosen.connect(stack.go)
        self.ribbon.asked_to_skip.connect(self._skip)
        stack.went.connect(self._on_station)
        stack.board_wanted.connect(boards.toggle)
        pair.mending.station_wanted.connect(stack.go_to)
        pair.state.pointed.connect(self.verdict.point)
        pair.state.line_drawn.connect(lambda: stack.judge.show_page(1))
        stack.judge.area_chosen.connect(self._show_area)
        stack.picture.guides_chosen.connect(pair.set_guides)
        stack.picture.proportion_chosen.connect(pair.state.set_proportion)
        boards.station_wanted.connect(stack.go_to)
        boards.changed.connect(self._on_board)
        boards.changed.connect(stack.show_board)
        self.session.bus.changed.connect(self._follow)

    def _add_shortcuts(self) -> None:
        for key in KEYS:
            shortcut = QShortcut(QKeySequence(key.key), self)
            shortcut.setContext(Qt.ShortcutContext.WindowShortcut)
            shortcut.activated.connect(lambda k=key: self.actions_of_keys.act(k.action, k.argument))

    # ---- between the parts

    def _on_station(self, station: int) -> None:
        """A board of another station is closed."""
        self.ribbon.set_current(station)
        if STATIONS[station].key != "paper":
            self.session.now.look_at(None)
        self.boards.leave(STATIONS[station].key)

    def _on_board(self, _name: str) -> None:
        """A board in the pair's place gets the tray's room too, unless it wants the tray; T brings the tray back."""
        board = self.boards.shown
        pair = self.pair.state.mode == "pair"
        self.stack.setVisible(pair if board is None else board.beside or board.with_tray)

    def _skip(self, station: int) -> None:
        take = self.session.now.take
        if take is not None:
            skipped = set(take.not_wanted) ^ {STATIONS[station].key}
            self.session.takes.change("skip", not_wanted=tuple(s.key for s in STATIONS if s.key in skipped))

    def _show_area(self, box: tuple[float, float, float, float] | None) -> None:
        self.pair.highlight(box)
        self.pair.state.set_zoom(Zoom() if box is None else self.pair.placing.around(box))

    def _follow(self, change: Change) -> None:
        """Show what changed in the parts that depend on it."""
        if change.about(*FOLLOWS):
            self.ribbon.set_states(station_states(self.session))
        if change.about(*self.rack.follows):
            self.rack.refresh()
        if "added" in change.topics and self.stack.current_key != "paper":
            self.stack.go_to("paper")
        if change.about("take", "looked", "conditions"):
            self.verdict.end_message()
        if change.about(*self.verdict.follows):
            self.verdict.refresh()
        if change.about("take", "masters"):
            master = self.session.now.master
            self.setWindowTitle(f"{master.name} – Rehearsal" if master else "Rehearsal")

    # ---- the screen the window is on

    def showEvent(self, event: QShowEvent | None) -> None:
        """Take up the record of the screen, now and whenever the window is moved to another."""
        super().showEvent(event)
        handle = self.windowHandle()
        if handle is not None and not self._follows_screen:
            self._follows_screen = True
            handle.screenChanged.connect(self._on_screen)
            self._on_screen(handle.screen())

    def _on_screen(self, screen: QScreen | None) -> None:
        if screen is None:
            return
        named = ", ".join(part for part in (screen.name(), f"{screen.manufacturer()} {screen.model()}".strip()) if part)
        places = QApplication.screens()
        self.session.screen.use(named or "screen", places.index(screen) if screen in places else 0)

    # ---- files dropped

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Accept files."""
        if event is not None and event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Open pictures; profiles become print conditions."""
        if event is not None:
            urls = event.mimeData().urls()
            self.session.incoming.open_files([u.toLocalFile() for u in urls if u.isLocalFile()])

    # ---- remembered between starts

    def _restore(self) -> None:
        book = self.session.book
        self.resize(1280, 800)
        geometry = book.recall("geometry")
        if geometry:
            self.restoreGeometry(QByteArray.fromBase64(geometry.encode()))
        self.rooms.set(book.recall("room") or "mid")
        mode = book.recall("mode")
        if mode in MODES:
            self.stack.setVisible(mode == "pair")
            self.pair.state.set_mode(mode)
        self.rack.fold(bool(book.recall("rack folded", True)))
        station = book.recall("station", "judge")
        self.stack.go(AT.get(station, AT["judge"]))
        self.pair.setFocus()
        self.ribbon.set_states(station_states(self.session))
        self.rack.refresh()
        self.verdict.refresh()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Remember the window and stop all work; changes are kept before it ends."""
        self.boards.close_board()
        book = self.session.book
        book.remember("geometry", self.saveGeometry().toBase64().data().decode())
        book.remember("mode", self.pair.state.mode)
        book.remember("rack folded", self.rack.is_folded)
        app = QApplication.instance()
        if app is not None:
            app.removeEventFilter(self._held)
        self._watch.close()
        self.is_calm = self.session.close()
        super().closeEvent(event)
