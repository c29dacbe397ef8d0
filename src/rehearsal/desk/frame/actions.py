"""What the keys do: one action each, by the names in ``keys.py``."""

from __future__ import annotations

from collections.abc import Callable

from rehearsal.core.values.rendering import Rendering
from rehearsal.desk import theme
from rehearsal.desk.boards.holder import BoardHolder
from rehearsal.desk.frame.keypage import KeyPage
from rehearsal.desk.frame.pages import lesson_html, sizes_html
from rehearsal.desk.frame.rack import Rack
from rehearsal.desk.frame.ribbon import Ribbon
from rehearsal.desk.frame.rooms import Rooms
from rehearsal.desk.frame.stations import AT_WORK
from rehearsal.desk.frame.trays import TrayStack
from rehearsal.desk.frame.verdict import Verdict
from rehearsal.desk.pair.geometry import Zoom
from rehearsal.desk.pair.view import PairView
from rehearsal.desk.parts.flash import Flash
from rehearsal.desk.parts.widgets import show_page
from rehearsal.desk.trays.screen import standards_html
from rehearsal.session.session import Session


class Actions:
    """Brings keys to the parts of the window and to the operations of the session."""

    def __init__(
        self, session: Session, pair: PairView, stack: TrayStack, boards: BoardHolder, rack: Rack, verdict: Verdict,
        rooms: Rooms, ribbon: Ribbon,
    ) -> None:  # fmt: skip
        self._session, self._pair, self._stack, self._boards = session, pair, stack, boards
        self._verdict, self._ribbon = verdict, ribbon
        state, roads, takes = pair.state, session.roads, session.takes
        self._by_name: dict[str, Callable[..., object]] = {
            "go": stack.go,
            "board": self._board,
            "intent": lambda value: takes.render(Rendering(*value)),
            "view": lambda view: takes.change("view", view=view),
            "large": lambda: self._mode("large" if state.mode == "pair" else "pair"),
            "curtain": lambda: self._mode("pair" if state.mode == "curtain" else "curtain"),
            "fit": lambda: state.set_zoom(Zoom()),
            "grain": lambda: state.set_zoom(Zoom(1 / pair.devicePixelRatioF(), state.zoom.x, state.zoom.y)),
            "print_size": self._print_size,
            "zoom": lambda factor: state.set_zoom(pair.placing.zoomed(factor)),
            "soft": lambda: state.set_soft(not state.soft),
            "hold": lambda: roads.set_hold(not roads.hold),
            "room": rooms.next,
            "type": self._larger_type,
            "fold_tray": lambda: stack.fold(not stack.is_folded),
            "sheet": state.turn_sheet,
            "fold_rack": lambda: rack.fold(not rack.is_folded),
            "unmanaged": self._unmanaged,
            "line": self._line,
            "pin": self._pin,
            "as_last": self._as_last,
            "open": rack.open_dialog,
            "duplicate": takes.duplicate,
            "judge": lambda: session.judging.judge(anew=True),
            "write": self._write,
            "ticket": stack.sheet.show_ticket,
            "small_proof": self._small_proof,
            "why": verdict.show_why,
            "undo": lambda: self._undone(takes.undo()),
            "redo": lambda: self._undone(takes.redo()),
            "keys": self._keys,
            "close": lambda: stack.window().close(),
            "escape": self._escape,
        }

    @property
    def names(self) -> frozenset[str]:
        """Everything a key can do."""
        return frozenset(self._by_name)

    def act(self, name: str, argument: object = None) -> None:
        """Do what a key means."""
        work = self._by_name[name]
        work(argument) if argument is not None else work()

    def _board(self, name: str) -> None:
        self._boards.toggle(name)

    def _mode(self, mode: str) -> None:
        """One large picture gets the tray's room too; T brings the tray back."""
        self._stack.fold(mode != "pair")
        self._pair.state.set_mode(mode)

    def _print_size(self) -> None:
        screen = self._pair.screen()
        known = self._session.screen.record.ppi / self._pair.devicePixelRatioF()
        zoom = self._pair.placing.print_size(known or (screen.physicalDotsPerInch() if screen else 96.0))
        if zoom is None:
            self._session.bus.say("Set a print size in the Picture station first.")
        else:
            self._pair.state.set_zoom(zoom)

    def _unmanaged(self) -> None:
        self._session.roads.set_unmanaged(not self._session.roads.unmanaged)

    def _line(self) -> None:
        self._stack.go_to("judge")
        self._stack.judge.show_page(1)
        self._pair.state.draw_line(True)

    def _pin(self) -> None:
        self._pair.hands.pin()
        if self._stack.current_key == "judge":
            self._stack.judge.show_page(2)

    def _as_last(self) -> None:
        self._stack.go_to("sheet")
        self._session.last_time.take_over()

    def _write(self) -> None:
        self._stack.go_to("sheet")
        self._stack.sheet.write()

    def _small_proof(self) -> None:
        self._stack.go_to("test")
        self._stack.test.small_proof()

    def _larger_type(self) -> None:
        """The next size of type, from the next start on: every size in the window follows it."""
        now = float(self._session.book.recall("type") or 1.0)
        wanted = next((size for size in theme.TYPE_SIZES if size > now + 0.01), theme.TYPE_SIZES[0])
        self._session.book.remember("type", wanted)
        self._session.bus.say(f"Type of {wanted * 100:.0f} % from the next start.")

    def _undone(self, name: str) -> None:
        """Frame what an undo or redo has changed."""
        column, station = self._stack.column_about(name), self._stack.station_about(name)
        if column is not None and not self._stack.is_folded:
            Flash(column, self._pair.room)
        elif station is not None:
            Flash(self._ribbon.buttons[station], self._pair.room)

    def show_why(self, page: str) -> None:
        """Open what is behind the sentence of a station."""
        window = self._pair.window() or self._pair
        if page == "judgement":
            self._stack.show_why()
        elif page == "standards":
            show_page(window, "Light and room", standards_html(), "Standards for light and room", 860, 470)
        elif page == "sizes":
            show_page(window, "How large it may be", sizes_html(self._session), "Sizes and distances", 640, 320)
        elif page == "lesson":
            show_page(window, "What was learnt", lesson_html(self._session), "Prints that taught it", 640, 360)
        elif page == "ticket":
            self._stack.sheet.show_ticket()

    def _keys(self) -> None:
        page = KeyPage(self._pair.window() or self._pair)
        page.exec()
        page.deleteLater()

    def _escape(self) -> None:
        session, state = self._session, self._pair.state
        if self._boards.name:
            self._boards.dismiss()
        elif self._stack.page is not None:
            self._stack.show_page(None)
        elif state.drawing_line:
            state.draw_line(False)
        elif state.picking:
            state.pick(False)
        elif session.roads.rival is not None:
            session.end_comparison()
        elif session.now.looked is not None:
            session.now.look_at(None)
        elif session.roads.unmanaged:
            self._unmanaged()
        elif session.jobs.running:
            running = session.jobs.running
            own = [job for job in running if AT_WORK.get(job.kind) == self._stack.current_key]
            for job in own or running:
                session.jobs.stop_by_hand(job)
        else:
            state.set_zoom(Zoom())
