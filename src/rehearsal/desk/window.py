"""The window: running order above, the pair in the middle, verdict and tray below."""

from __future__ import annotations

from time import monotonic

from PyQt6.QtCore import QByteArray, QEvent, QObject, Qt
from PyQt6.QtGui import (
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QKeyEvent,
    QKeySequence,
    QScreen,
    QShortcut,
    QShowEvent,
)
from PyQt6.QtWidgets import (
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QMainWindow,
    QPlainTextEdit,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from rehearsal.core.proof.chain import Rendering
from rehearsal.desk import theme
from rehearsal.desk.boards.holder import BOARDS, BoardHolder
from rehearsal.desk.geometry import Zoom
from rehearsal.desk.keys import KEYS, MAP_KEYS, keys_html
from rehearsal.desk.model import DeskModel
from rehearsal.desk.pair import PairView
from rehearsal.desk.parts import show_page
from rehearsal.desk.rack import Rack
from rehearsal.desk.ribbon import STATIONS, Ribbon
from rehearsal.desk.stations import station_states
from rehearsal.desk.trays.base import Tray
from rehearsal.desk.trays.judge import JudgeTray
from rehearsal.desk.trays.log import LogTray
from rehearsal.desk.trays.paper import PaperTray
from rehearsal.desk.trays.picture import PictureTray
from rehearsal.desk.trays.screen import ScreenTray
from rehearsal.desk.trays.sheet import SheetTray
from rehearsal.desk.trays.test import TestTray
from rehearsal.desk.trays.tune import TuneTray
from rehearsal.desk.verdict import Verdict

_TRAY_HEIGHT = 216
_HOLD_SECONDS = 0.35
_PICTURE, _JUDGE, _SHEET = 1, 3, 6
_ROOM_ORDER = ("dark", "mid", "light")


class Window(QMainWindow):
    """Wires the parts to one model."""

    def __init__(self, model: DeskModel) -> None:
        super().__init__()
        self.model = model
        self.setWindowTitle("Rehearsal")
        self.setAcceptDrops(True)
        self.ribbon, self.pair, self.rack, self.verdict = Ribbon(), PairView(model), Rack(model), Verdict(model)
        self.judge_tray = JudgeTray(model, self.pair)
        self.sheet_tray = SheetTray(model)
        self.paper_tray, self.picture_tray, self.screen_tray = PaperTray(model), PictureTray(model), ScreenTray(model)
        self.boards = BoardHolder(model, self.pair)
        self.trays: list[Tray] = [
            self.screen_tray, self.picture_tray, self.paper_tray, self.judge_tray, TuneTray(model), TestTray(model),
            self.sheet_tray, LogTray(model),
        ]  # fmt: skip
        self._stack = QStackedWidget()
        self._stack.setObjectName("tray")
        self._stack.setFixedHeight(_TRAY_HEIGHT)
        for tray in self.trays:
            self._stack.addWidget(tray)
        self._compose()
        self._connect()
        self._add_shortcuts()
        self._map_pressed: dict[str, float] = {}
        self._follows_screen = False
        self.station = _JUDGE
        self.room = "mid"
        self._restore()
        app = QApplication.instance()
        assert app is not None
        app.installEventFilter(self)

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
        rows.addWidget(self._stack)
        self.setCentralWidget(body)

    def _connect(self) -> None:
        model = self.model
        self.ribbon.chosen.connect(self.go)
        self.ribbon.asked_to_skip.connect(self._skip)
        self.pair.pointed.connect(self.verdict.point)
        self.pair.line_drawn.connect(lambda: self.judge_tray.show_page(1))
        self.judge_tray.area_chosen.connect(self._show_area)
        self.picture_tray.guides_chosen.connect(self.pair.set_guides)
        self.picture_tray.proportion_chosen.connect(self.pair.set_proportion)
        for tray in self.trays:
            tray.board_wanted.connect(self.show_board)
        self.boards.changed.connect(self._on_board)
        self.boards.changed.connect(self.paper_tray.show_board)
        self.boards.changed.connect(self.judge_tray.show_board)
        model.take_changed.connect(self._on_take)
        model.picture_changed.connect(self.refresh)
        model.lists_changed.connect(self._on_lists)
        model.screen_changed.connect(self.refresh)
        model.judgement_changed.connect(self._on_judgement)
        model.road_changed.connect(self._on_road)
        model.arrival_changed.connect(self._refresh_tray)
        model.said.connect(self.verdict.say)

    def _add_shortcuts(self) -> None:
        for key in KEYS:
            shortcut = QShortcut(QKeySequence(key.key), self)
            shortcut.setContext(Qt.ShortcutContext.WindowShortcut)
            shortcut.activated.connect(lambda k=key: self._act(k.action, k.argument))

    def _act(self, action: str, argument: object) -> None:
        handler = getattr(self, f"_do_{action}")
        handler(argument) if argument is not None else handler()

    # ---- actions

    def go(self, station: int) -> None:
        """Open a station's tray; the pictures stay, a board of another station is closed."""
        if self.boards.name and BOARDS[self.boards.name][1] != station:
            self.boards.close_board()
        self.station = station
        self._stack.setCurrentIndex(station)
        self.ribbon.set_current(station)
        self.pair.set_cropping(station == _PICTURE)
        if station != _JUDGE:
            self.pair.highlight(None)
        self.trays[station].refresh()
        if station == _JUDGE:
            self.judge_tray.refresh_pictures()
        self.model.workbook.set_setting("station", station)

    _do_go = go

    def show_board(self, name: str) -> None:
        """Show a board with its station; the same name again closes it."""
        if name == self.boards.name:
            self.boards.close_board()
            return
        if self.station != BOARDS[name][1]:
            self.go(BOARDS[name][1])
        self.boards.open_board(name)

    _do_board = show_board

    def _on_board(self, _name: str) -> None:
        """A board in the pair's place gets the tray's room too, unless it wants the tray; T brings the tray back."""
        board = self.boards.shown
        self._stack.setVisible(self.pair.mode == "pair" if board is None else board.beside or board.with_tray)

    def _do_unmanaged(self) -> None:
        self.model.set_unmanaged(not self.model.unmanaged)
        self.refresh()

    def _do_line(self) -> None:
        self.go(_JUDGE)
        self.judge_tray.show_page(1)
        self.pair.draw_line(True)

    def _do_pin(self) -> None:
        self.pair.pin_here()
        if self.station == _JUDGE:
            self.judge_tray.show_page(2)

    def _do_intent(self, value: tuple[str, bool]) -> None:
        self.judge_tray.choose(Rendering(*value))

    def _do_view(self, view: str) -> None:
        self.model.change(view=view)

    def _do_large(self) -> None:
        self._change_mode("large" if self.pair.mode == "pair" else "pair")

    def _do_curtain(self) -> None:
        self._change_mode("pair" if self.pair.mode == "curtain" else "curtain")

    def _change_mode(self, mode: str) -> None:
        """One large picture gets the tray's room too; T brings the tray back."""
        self._stack.setVisible(mode == "pair")
        self.pair.set_mode(mode)

    def _do_fit(self) -> None:
        self.pair.set_zoom(Zoom())

    def _do_grain(self) -> None:
        self.pair.set_zoom(Zoom(1 / self.pair.devicePixelRatioF(), self.pair.zoom.x, self.pair.zoom.y))

    def _do_print_size(self) -> None:
        take, loaded = self.model.take, self.model.loaded
        if take is None or loaded is None or take.size is None:
            self.verdict.say("Set a print size in the Picture station first.")
            return
        screen, known = self.screen(), self.model.screen.ppi / self.devicePixelRatioF()
        ppi = known or (screen.physicalDotsPerInch() if screen else 96.0)
        width = take.crop.width * loaded.pyramid.size[0]
        self.pair.set_zoom(Zoom(take.size.width_cm / 2.54 * ppi / width, self.pair.zoom.x, self.pair.zoom.y))

    def _do_zoom(self, factor: float) -> None:
        self.pair.zoom_by(factor)

    def _do_soft(self) -> None:
        self.pair.set_soft(not self.pair.soft)

    def _do_hold(self) -> None:
        self.model.set_hold(not self.model.hold)

    def _do_room(self) -> None:
        self.set_room(_ROOM_ORDER[(_ROOM_ORDER.index(self.room) + 1) % 3])

    def _do_fold_tray(self) -> None:
        self._stack.setVisible(not self._stack.isVisible())

    def _do_fold_rack(self) -> None:
        self.rack.fold(not self.rack.is_folded)

    def _do_as_last(self) -> None:
        said = self.model.as_last_time()
        self.go(_SHEET)
        self.verdict.say(said)

    def _do_open(self) -> None:
        self.rack.open_dialog()

    def _do_duplicate(self) -> None:
        self.model.duplicate_take()

    def _do_undo(self) -> None:
        self.model.undo()

    def _do_redo(self) -> None:
        self.model.redo()

    def _do_judge(self) -> None:
        self.model.judge()

    def _do_write(self) -> None:
        self.go(_SHEET)
        self.sheet_tray._write()

    def _do_ticket(self) -> None:
        self.sheet_tray.show_ticket()

    def _do_why(self) -> None:
        self.verdict.show_why()

    def _do_keys(self) -> None:
        show_page(self, "Keys", keys_html(), "All keys", 860, 600)

    def _do_escape(self) -> None:
        running = self.model.jobs.running
        if self.boards.name:
            self.boards.close_board()
        elif self.pair.drawing_line:
            self.pair.draw_line(False)
        elif self.model.rival is not None:
            self.model.end_rival()
        elif self.model.unmanaged:
            self._do_unmanaged()
        elif running:
            for key in running:
                self.model.jobs.stop(key)
        else:
            self._do_fit()

    def set_room(self, name: str) -> None:
        """Dress everything for a dark, mid or light room."""
        self.room = name
        room = theme.ROOMS[name]
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        theme.apply_room(app, room)
        for part in (self.ribbon, self.pair, self.rack, self.judge_tray, self.screen_tray, self.boards):
            part.set_room(room)
        self.model.workbook.set_setting("room", name)

    def _skip(self, station: int) -> None:
        take = self.model.take
        if take is None:
            return
        name = STATIONS[station]
        skipped = set(take.not_wanted) ^ {name}
        self.model.change(not_wanted=tuple(s for s in STATIONS if s in skipped))

    def _show_area(self, box: tuple[float, float, float, float] | None) -> None:
        self.pair.highlight(box)
        if box is not None:
            self.pair.frame_box(box)
        else:
            self.pair.set_zoom(Zoom())

    # ---- following the model

    def refresh(self) -> None:
        """Show the model in ribbon, rack, verdict and the open tray."""
        self.ribbon.set_states(station_states(self.model))
        self.rack.refresh()
        self.verdict.refresh()
        self.trays[self.station].refresh()
        self.boards.refresh()
        master = self.model.master
        self.setWindowTitle(f"{master.name} – Rehearsal" if master else "Rehearsal")
        self.pair.update()

    def _refresh_tray(self) -> None:
        self.trays[self.station].refresh()

    def _on_take(self, _take: object, _fields: object) -> None:
        self.verdict.end_message()
        self.refresh()

    def _on_lists(self) -> None:
        self.refresh()

    def _on_judgement(self) -> None:
        self.refresh()

    def _on_road(self) -> None:
        if self.boards.refresh_pictures():
            return
        if self.station == _JUDGE and self.model._preview is None:
            self.judge_tray.refresh_pictures()

    # ---- keys that are held

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Space and the map keys work wherever the focus is, except while typing."""
        if isinstance(event, QKeyEvent) and event.type() in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
            return self.isActiveWindow() and not _is_typing() and self._held_key(event)
        return super().eventFilter(watched, event)

    def _held_key(self, event: QKeyEvent) -> bool:
        pressed = event.type() == QEvent.Type.KeyPress
        if event.modifiers() & ~Qt.KeyboardModifier.ShiftModifier:
            return False
        if event.key() == Qt.Key.Key_Space and not isinstance(QApplication.focusWidget(), QComboBox):
            if not event.isAutoRepeat():
                self.pair.set_swapped(pressed)
            return True
        name = event.text().upper() or QKeySequence(event.key()).toString()
        if name not in MAP_KEYS:
            return False
        if not event.isAutoRepeat():
            self._map_key(name, pressed)
        return True

    def _map_key(self, name: str, pressed: bool) -> None:
        kind = MAP_KEYS[name][0]
        if pressed:
            self._map_pressed[name] = monotonic()
            self.pair.hold_map(kind)
            return
        began = self._map_pressed.pop(name, None)
        self.pair.hold_map("")
        if began is not None and monotonic() - began < _HOLD_SECONDS:
            self.pair.toggle_map(kind)

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
        self.model.use_screen(named or "screen", places.index(screen) if screen in places else 0)

    # ---- files dropped

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Accept files."""
        if event is not None and event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Open pictures; profiles become print conditions."""
        if event is not None:
            self.model.open_files([u.toLocalFile() for u in event.mimeData().urls() if u.isLocalFile()])

    # ---- remembered between starts

    def _restore(self) -> None:
        book = self.model.workbook
        self.resize(1280, 800)
        geometry = book.setting("geometry")
        if geometry:
            self.restoreGeometry(QByteArray.fromBase64(geometry.encode()))
        self.set_room(book.setting("room") or "mid")
        mode = book.setting("mode")
        if mode in ("pair", "large", "curtain"):
            self._change_mode(mode)
        self.rack.fold(bool(book.setting("rack folded", True)))
        self.go(int(book.setting("station", _JUDGE)))
        self.pair.setFocus()
        self.refresh()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Remember the window and stop all work."""
        self.boards.close_board()
        book = self.model.workbook
        book.set_setting("geometry", self.saveGeometry().toBase64().data().decode())
        book.set_setting("mode", self.pair.mode)
        book.set_setting("rack folded", self.rack.is_folded)
        app = QApplication.instance()
        if app is not None:
            app.removeEventFilter(self)
        self.model.close()
        super().closeEvent(event)


def _is_typing() -> bool:
    widget = QApplication.focusWidget()
    if isinstance(widget, QComboBox):
        return widget.isEditable()
    return isinstance(widget, (QLineEdit, QPlainTextEdit, QAbstractSpinBox)) or (
        QApplication.activeModalWidget() is not None or QApplication.activePopupWidget() is not None
    )
