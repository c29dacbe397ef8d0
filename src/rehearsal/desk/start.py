"""Starting the window: hooks first, then fonts, workbook, model."""

from __future__ import annotations

import argparse
import enum
import logging
import os
import sys
import threading
import traceback
import weakref
from pathlib import Path
from time import monotonic
from types import TracebackType

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from rehearsal.core.errors import PictureError, RehearsalError, system_words
from rehearsal.core.values.words import capital
from rehearsal.core.work.files import remove_unfinished, write_beside
from rehearsal.core.work.kernels import slow_start_words
from rehearsal.core.work.memory import keep_little
from rehearsal.demo.make import make_demo
from rehearsal.desk import theme
from rehearsal.desk.arguments import window_parser
from rehearsal.desk.frame.window import Window
from rehearsal.desk.home import QtHome
from rehearsal.desk.monitor import desktop_profile
from rehearsal.session.bus import Bus
from rehearsal.session.jobs import Job
from rehearsal.session.session import Session
from rehearsal.tasks.writing import Target
from rehearsal.workbook.home import data_home
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Take

#: A picture of the window is taken after so many seconds whatever is still under way.
_MOST_SECONDS = 60.0
_log = logging.getLogger("rehearsal")


def _install_hooks(bus: Bus | None = None) -> None:
    """An uncaught error must not abort the program: it is shown, and written to the log.

    The hooks outlive the session: they hold its bus weakly, so that a window that was closed can go with all its pictures.
    """
    held = None if bus is None else weakref.ref(bus)

    def show(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        _log.error("%s", "".join(traceback.format_exception(kind, error, trace)))
        to = None if held is None else held()
        if to is not None:
            text = error.words() if isinstance(error, RehearsalError) else f"unexpected {kind.__name__}: {error}"
            to.say_wrong(capital(text))

    sys.excepthook = show
    threading.excepthook = lambda args: show(args.exc_type, args.exc_value or args.exc_type(), args.exc_traceback)


def open_workbook(arguments: argparse.Namespace) -> Workbook:
    """The workbook asked for: the demo's, a named one, or the user's own."""
    if arguments.demo:
        return make_demo(data_home() / "demo.sqlite")
    return Workbook(arguments.workbook or data_home() / "workbook.sqlite")


class _SlowStart:
    """Says once, when the first work has ended, that compiled parts cannot be kept."""

    def __init__(self, session: Session) -> None:
        self._session, self._said = session, False

    def __call__(self, _job: Job) -> None:
        words = slow_start_words()
        if words and not self._said:
            self._said = True
            self._session.bus.say(words)


class _Ground(enum.Enum):
    """How much of what is remembered a start builds on: all of it; all but how the window stood; nothing, and nothing is opened."""

    LEFT = "left"
    PLAIN = "plain"
    BARE = "bare"


_FELL_BACK = {
    _Ground.PLAIN: "The window could not open as it was left ({}), so it opens plainly: please report this.",
    _Ground.BARE: "What was open last could not be opened again ({}), so nothing is open, and settings are neither "
    "read nor kept here: please report this.",
}  # fmt: skip
#: Said only of a workbook that had nothing else to tell when it was opened.
_WHOLE = "Nothing that is kept was lost."


def make_window(workbook: Workbook, files: list[str]) -> Window:
    """Session and window on a workbook, with its last take open. A start that fails falls back to a plainer one, and says so."""
    fault = ""
    for ground in _Ground:
        try:
            return _window_on(ground, workbook, files, fault)
        except Exception as error:
            if ground is _Ground.BARE:
                raise
            _log.error("%s", "".join(traceback.format_exception(error)))
            fault = f"{type(error).__name__}: {error}"
        workbook.close()  # what half a window has heard of goes with its session
        notice, workbook = workbook.notice, Workbook(workbook.path)
        workbook.notice = workbook.notice or notice  # that it was damaged is told once, at its first opening
    raise AssertionError("unreachable")


def _window_on(ground: _Ground, workbook: Workbook, files: list[str], fault: str) -> Window:
    """A window, or an error after which none of its work goes on."""
    if ground is _Ground.BARE:
        workbook.overlook_settings()
    session = Session(workbook, QtHome(), desktop_profile)
    try:
        window = _dressed(session, ground is _Ground.LEFT)
        if ground is not _Ground.BARE:
            _open_first(session, files)
    except BaseException:
        session.close()
        raise
    _begin(session, workbook, _FELL_BACK[ground].format(fault) if ground in _FELL_BACK else "")
    return window


def _dressed(session: Session, as_left: bool) -> Window:
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    theme.set_type_size(app, float(session.book.recall("type") or 1.0) if as_left else 1.0)
    window = Window(session, as_left)
    _install_hooks(session.bus)
    return window


def _open_first(session: Session, files: list[str]) -> None:
    """What was asked for, else the take that was open last, else the first picture there is."""
    number = session.book.recall("open take")
    take = session.book.get(Take, int(number)) if number else None
    if files:
        session.incoming.open_files(files)
    elif take is not None:
        session.takes.open(take)
    elif session.takes.masters:
        session.takes.open_master(session.takes.masters[0])


def _begin(session: Session, workbook: Workbook, fell_back: str) -> None:
    """What is worked on and said once the window is there."""
    if not session.jobs.is_running("load"):  # else when the picture has been judged
        session.shelf.measure()
    if not session.screen.record.profile_path:
        QTimer.singleShot(0, session.screen.ask_desktop)
    session.jobs.ended.connect(_SlowStart(session))
    wrong = f"{fell_back} {workbook.notice or _WHOLE}" if fell_back else workbook.notice
    if wrong:
        session.bus.say_wrong(wrong)
    else:
        session.bus.say(session.screen.reminder())


def _no_display() -> bool:
    if os.environ.get("QT_QPA_PLATFORM", "") in ("offscreen", "minimal", "vnc"):
        return False
    return not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"))


def start(given: list[str]) -> int:
    """Open the window; returns the exit status."""
    arguments = window_parser().parse_args(given)
    if _no_display():
        print(
            "rehearsal: no display found: this session: start it on a desktop, or see the window as a picture with "
            "./start --picture FILE.png",
            file=sys.stderr,
        )
        return 2
    logging.basicConfig(level=logging.WARNING)
    _install_hooks()
    keep_little()
    app = QApplication(["rehearsal"])
    app.setApplicationName("Rehearsal")
    app.setStyle("Fusion")
    theme.load_fonts()
    try:
        workbook = open_workbook(arguments)
    except RehearsalError as error:  # also the demo's pictures, where they cannot be made
        print(f"rehearsal: {error.sentence()}", file=sys.stderr)
        return 2
    try:
        window = make_window(workbook, arguments.files)
    except Exception as error:
        _log.error("%s", "".join(traceback.format_exception(error)))
        fault = error.words() if isinstance(error, RehearsalError) else f"{type(error).__name__}: {error}"
        print(f"rehearsal: no window can be opened ({fault}): {workbook.path}: please report this", file=sys.stderr)
        return 1
    window.show()
    if arguments.picture:
        _picture_when_ready(window, arguments.picture)
    status = app.exec()
    if not window.is_calm:  # nothing is waited for: what is kept is kept
        remove_unfinished()
        sys.stdout.flush()
        os._exit(status)
    return status


def _save_picture(window: Window, path: Path) -> None:
    """Write a picture of the window, and nowhere a master or a profile in use lies."""
    grabbed = window.grab()

    def write(name: str) -> None:
        if not grabbed.save(name, path.suffix.removeprefix(".") or "png"):
            raise PictureError("the picture of the window cannot be written", path, "name it .png or .jpg")

    try:
        Target(path, window.session.printing.protected()).check()
        write_beside(path, write)
    except RehearsalError as error:
        print(f"rehearsal: {error.sentence()}", file=sys.stderr)
    except OSError as error:
        print(
            f"rehearsal: the picture of the window cannot be written ({system_words(error)}): {path}", file=sys.stderr
        )
    else:
        print(f"rehearsal: a picture of the window is in {path}")


def _picture_when_ready(window: Window, path: Path) -> None:
    """Write a picture of the window once nothing is being worked on, and close."""
    timer = QTimer(window)
    end = monotonic() + _MOST_SECONDS

    def look() -> None:
        session = window.session
        ready = session.judging.is_current and session.shelf.facts and not session.jobs.running
        if ready or monotonic() > end:
            timer.stop()
            _save_picture(window, path)
            window.close()

    timer.timeout.connect(look)
    timer.start(300)
