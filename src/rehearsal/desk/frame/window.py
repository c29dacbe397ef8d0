"""The window: running order above, the pair in the middle, verdict and tray below."""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QByteArray, QProcess, QRect, QSize, Qt, QTimer, QUrl
from PyQt6.QtGui import (
    QCloseEvent,
    QDesktopServices,
    QDragEnterEvent,
    QDropEvent,
    QKeySequence,
    QResizeEvent,
    QScreen,
    QShortcut,
    QShowEvent,
)
from PyQt6.QtWidgets import QApplication, QGridLayout, QHBoxLayout, QMainWindow, QVBoxLayout, QWidget

from rehearsal.core.values.words import word
from rehearsal.desk import theme
from rehearsal.desk.boards.holder import BoardHolder
from rehearsal.desk.frame.actions import Actions
from rehearsal.desk.frame.held import HeldKeys
from rehearsal.desk.frame.keys import KEYS, WAYS, Key, place_of
from rehearsal.desk.frame.message import MessageLine
from rehearsal.desk.frame.rack import Rack
from rehearsal.desk.frame.ribbon import Ribbon
from rehearsal.desk.frame.rooms import Rooms
from rehearsal.desk.frame.stations import AT, AT_WORK, FOLLOWS, LOOKED_AT, STATIONS, station_states
from rehearsal.desk.frame.trays import TrayStack
from rehearsal.desk.frame.verdict import Verdict
from rehearsal.desk.frame.where import KeyPlace, is_field
from rehearsal.desk.pair.geometry import Zoom
from rehearsal.desk.pair.outlines import area_outlines
from rehearsal.desk.pair.state import MODES
from rehearsal.desk.pair.view import PairView
from rehearsal.desk.parts.widgets import heading
from rehearsal.desk.trays.tune import TuneTray
from rehearsal.desk.watch import FolderWatch
from rehearsal.session.bus import Change
from rehearsal.session.jobs import Job
from rehearsal.session.session import Session
from rehearsal.workbook.values import Take

_LEAST = QSize(1000, 640)
#: As large as it opens at first, where the screen has so much free.
_FIRST = QSize(1280, 800)
#: What the message about the lines is of.
_LINES = "lines"
_FIRST_SIGHT_MS = 1500
#: Width over height below which a picture counts as upright.
_UPRIGHT = 0.9


def open_demo() -> None:
    """The demo in a window, and a process, of its own."""
    program = "import sys; sys.argv = ['rehearsal', '--demo']; from rehearsal.main import program; program()"
    QProcess.startDetached(sys.executable, ["-c", program])


class Window(QMainWindow):
    """Puts the parts together on one session.

    Args:
        as_left: it stands as it did when it was closed; else as in a new workbook.
    """

    def __init__(self, session: Session, as_left: bool = True) -> None:
        super().__init__()
        self.session = session
        self.setWindowTitle("Rehearsal")
        self.setAcceptDrops(True)
        self.ribbon = Ribbon([word("station", s.key) for s in STATIONS])
        self.pair, self.rack = PairView(session), Rack(session)
        self.verdict = Verdict(session)
        self.message = MessageLine(session, self._next_steps())
        self.stack = TrayStack(session, self.pair)
        self.boards = BoardHolder(session, self.pair)
        #: Over the pictures of a second window.
        self.only_looks = heading(word("ask", "only_looks"))
        self.only_looks.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.only_looks.setMinimumHeight(theme.px(30))
        self.only_looks.setVisible(session.book.is_read_only)
        self.rooms = Rooms(session.book, self._dressed_parts())
        self.boards.made.connect(self.rooms.add)
        self.actions_of_keys = Actions(
            session, self.pair, self.stack, self.boards, self.rack, self.verdict, self.rooms, self.ribbon
        )
        self._place = KeyPlace(self, (self.pair, self.boards))
        self._held = HeldKeys(self, self.pair, self.pair.state, self._hold, self._place)
        self._watch = FolderWatch(session, self)
        self._follows_screen = False
        #: Pictures whose lines have been shown by themselves.
        self._seen: set[int] = set()
        #: False when the window was closed over work that did not heed.
        self.is_calm = True
        self._compose()
        self._connect()
        self._add_shortcuts()
        self._restore(as_left)
        app = QApplication.instance()
        assert app is not None
        app.installEventFilter(self._held)

    # ---- building

    def _dressed_parts(self) -> list[QWidget]:
        """What covers the window: each is dressed for itself, the smallest that is shown and hidden as a whole."""
        stack = self.stack
        return [
            self.ribbon, self.only_looks, self.pair, self.rack, self.rack.edge, self.message, self.verdict, stack.edge, *stack.trays,
        ]  # fmt: skip

    def _compose(self) -> None:
        body = QWidget()
        body.setObjectName("desk")
        grid = self._grid = QGridLayout(body)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(0)
        grid.addWidget(self.ribbon, 0, 0, 1, 3)
        grid.addWidget(self.rack.edge, 1, 0)
        middle = QHBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(self.pair, 1)
        middle.addWidget(self.boards, 1)
        column = QVBoxLayout()
        column.setSpacing(0)
        column.addWidget(self.only_looks)
        column.addLayout(middle, 1)
        grid.addLayout(column, 1, 1)
        grid.addWidget(self.message, 2, 0, 1, 3)
        grid.addWidget(self.verdict, 3, 0, 1, 3)
        grid.addWidget(self.stack, 4, 0, 1, 3)
        grid.setRowStretch(1, 1)
        grid.setColumnStretch(1, 1)
        self.rack.setParent(body)
        self.setCentralWidget(body)
        self.setMinimumSize(_LEAST)

    def _next_steps(self) -> dict[str, Callable[[str], object]]:
        """What the actions of messages do."""
        takes, now = self.session.takes, self.session.now
        return {
            "undo": lambda _about: takes.undo(),
            "tell-light": lambda _about: self.boards.toggle("light"),
            "without-steps": lambda about: takes.leave_steps(int(about)),
            "print": lambda _about: self.stack.sheet.print(),
            "log": self._judge_print,
            "accept": lambda about: now.accept_changed_master() if now.master and str(now.master.id) == about else None,
            "folder": lambda path: QDesktopServices.openUrl(QUrl.fromLocalFile(str(Path(path).parent))),
        }

    def _judge_print(self, about: str) -> None:
        """Open the take of a print that is dry, to say how it came out."""
        take = self.session.book.get(Take, int(about))
        if take is not None:
            self.session.takes.open(take)
            self.stack.go_to("log")

    def _arrange(self) -> None:
        """For an upright picture the tray stands at its right; else it lies under all."""
        upright = self.session.now.picture is not None and self.pair.placing.proportion < _UPRIGHT
        if upright != self.stack.stands:
            self._grid.removeWidget(self.stack)
            if upright:
                self._grid.addWidget(self.stack, 1, 2)
            else:
                self._grid.addWidget(self.stack, 4, 0, 1, 3)
            self.stack.stand(upright)
        self._lay_rack()

    def _lay_rack(self, _folded: bool = False) -> None:
        edge = self.rack.edge.geometry()
        self.rack.lie_over(QRect(edge.right() + 1, edge.y(), self.width() - edge.right() - 1, edge.height()))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """What lies over the pictures follows them."""
        super().resizeEvent(event)
        QTimer.singleShot(0, self._lay_rack)  # when the parts have their places

    def _connect(self) -> None:
        stack, pair, boards = self.stack, self.pair, self.boards
        self.ribbon.chosen.connect(stack.go)
        self.ribbon.asked_to_skip.connect(self._skip)
        stack.sheet.printed.connect(lambda: self.message.answered("print"))
        stack.went.connect(self._on_station)
        self.rack.folded.connect(self._lay_rack)
        pair.empty.pictures_wanted.connect(self.rack.open_dialog)
        pair.empty.profiles_wanted.connect(stack.add_profiles)
        pair.empty.demo_wanted.connect(open_demo)
        pair.head_parts.undo.connect(lambda: self.actions_of_keys.act("undo"))
        pair.head_parts.redo.connect(lambda: self.actions_of_keys.act("redo"))
        stack.board_wanted.connect(boards.toggle)
        pair.mending.station_wanted.connect(stack.go_to)
        pair.state.pointed.connect(self.verdict.point)
        pair.state.moved.connect(self._arrange)
        self.verdict.why_wanted.connect(self._show_why)
        pair.state.line_drawn.connect(lambda: stack.judge.show_page(1))
        stack.judge.area_chosen.connect(self._show_area)
        stack.judge.areas_pointed.connect(self._outline)
        stack.judge.offered = tuple((k.action, k.words, k.key) for k in KEYS if k.action in WAYS)
        stack.judge.way_wanted.connect(self.actions_of_keys.act)
        stack.picture.proportion_chosen.connect(pair.state.set_proportion)
        boards.station_wanted.connect(stack.go_to)
        boards.changed.connect(self._on_board)
        boards.changed.connect(stack.show_board)
        self.session.bus.changed.connect(self._follow)
        self.session.jobs.progressed.connect(lambda step: self._show_work(step[0], step[1]))
        self.session.jobs.ended.connect(lambda job: self._show_work(job, None))

    def _show_work(self, job: Job, done: float | None) -> None:
        """The ring of the station at work fills."""
        if job.kind in AT_WORK and (done is None or self.session.jobs.is_running(job.kind)):
            still = done is None and self.session.jobs.is_running(job.kind)
            if not still:
                self.ribbon.show_work(AT[AT_WORK[job.kind]], done)

    def _add_shortcuts(self) -> None:
        for key in KEYS:
            shortcut = QShortcut(QKeySequence(key.key), self)
            shortcut.setContext(Qt.ShortcutContext.WindowShortcut)
            shortcut.activated.connect(lambda k=key: self._on_key(k))

    def _on_key(self, key: Key) -> None:
        """A key acts where it is meant to; what is being typed is told first."""
        if not self._place.allows(place_of(key)):
            return
        field = QApplication.focusWidget()
        if key.action == "write" and is_field(field) and field is not None:
            field.clearFocus()
        self.actions_of_keys.act(key.action, key.argument)

    # ---- between the parts

    def _on_station(self, station: int) -> None:
        """A board of another station is closed."""
        self.ribbon.set_current(station)
        self.message.forget(_LINES)
        self.verdict.set_station(STATIONS[station].key)
        self.message.set_station(STATIONS[station].key)
        for kind, of in LOOKED_AT.items():
            if of != STATIONS[station].key:  # it is asked for again where it is seen; what is known of it stays
                self.session.jobs.stop(kind)
        if STATIONS[station].key != "paper":
            self.session.now.look_at(None)
            takes = self.session.roads.rival_take is not None and STATIONS[station].key == "tune"
            if self.session.roads.rival is not None and not takes:
                self.session.roads.end_rival()
        if STATIONS[station].key != "judge" and self.session.roads.unmanaged:
            self.session.roads.set_unmanaged(False)
        self.boards.leave(STATIONS[station].key)
        self.boards.open_of(STATIONS[station].key)
        self._tune.near.put_away(STATIONS[station].key == "tune")

    @property
    def _tune(self) -> TuneTray:
        return next(t for t in self.stack.trays if isinstance(t, TuneTray))

    def _hold(self, key: str, on: bool) -> bool:
        """A held key of the Tune station."""
        tray = self._tune
        is_open = self.stack.trays[self.stack.station] is tray
        return (is_open or not on) and tray.hold(key, on)  # let go wherever one has gone meanwhile

    def _on_board(self, _name: str) -> None:
        """A board in the pair's place gets the tray's room too, unless it wants the tray; T brings the tray back."""
        board = self.boards.shown
        pair = self.pair.state.mode == "pair"
        self.stack.fold(not (pair if board is None else board.beside or board.with_tray))

    def _skip(self, station: int) -> None:
        take = self.session.now.take
        if take is not None:
            skipped = set(take.not_wanted) ^ {STATIONS[station].key}
            self.session.takes.change("skip", not_wanted=tuple(s.key for s in STATIONS if s.key in skipped))

    def _show_why(self, page: str) -> None:
        """Open what is behind the sentence."""
        self.actions_of_keys.show_why(page)

    def _show_first_sight(self) -> None:
        """The first judgement of a picture draws its lines by itself for a moment: an answer before any key is known."""
        result, master = self.session.judging.judgement, self.session.now.master
        if result is None or master is None or not result.areas or master.id in self._seen:
            return
        self._seen.add(master.id)
        if self.stack.current_key == "judge" and self.pair.isVisible():
            self.pair.state.show_once("beyond", _FIRST_SIGHT_MS)
            self.session.bus.say(
                "Lines, shown once: solid where the picture lies beyond this paper by ΔE₀₀ 1.5, dashed by 4. Hold B to see them.",
                about=_LINES,
            )

    def _show_area(self, box: tuple[float, float, float, float] | None) -> None:
        self.pair.highlight(box)
        self.pair.state.set_zoom(Zoom() if box is None else self.pair.placing.around(box))

    def _outline(self, numbers: list[int]) -> None:
        """Calm outlines of some areas in both panes."""
        self.pair.marks.outlines = area_outlines(self.session.judging.judgement, tuple(numbers))
        self.pair.update()

    def _follow(self, change: Change) -> None:
        """Show what changed in the parts that depend on it."""
        if change.about(*FOLLOWS):
            self.ribbon.set_states(station_states(self.session))
        if change.about(*self.rack.follows):
            self.rack.refresh()
        if "added" in change.topics and self.stack.current_key != "paper":
            self.stack.go_to("paper")
        if change.about("take", "looked", "conditions"):
            self.message.go_on()
        if change.about("take", "picture"):
            self._arrange()
        if "judgement" in change.topics:
            self._show_first_sight()
        if "screen" in change.topics and self.session.screen.knows_light:
            self.message.answered("tell-light")
        if change.about("road", "look") and not self.session.roads.previews:
            self.rooms.go_under(self.session.roads.paper_level)
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

    def _restore(self, as_left: bool) -> None:
        """Stand as before, at its station."""
        screen = self.screen()
        free = _FIRST if screen is None else screen.availableSize()
        self.resize(_FIRST.boundedTo(free))
        recall = self.session.book.recall if as_left else (lambda _name, default=None: default)
        geometry = recall("geometry")
        if geometry:
            self.restoreGeometry(QByteArray.fromBase64(geometry.encode()))
        self.rooms.set(recall("room") or "mid")
        mode = recall("mode")
        if mode in MODES:
            self.stack.fold(mode != "pair")
            self.pair.state.set_mode(mode)
        self.rack.fold(bool(recall("rack folded", True)))
        self.stack.go(AT.get(recall("station", "judge"), AT["judge"]))
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
