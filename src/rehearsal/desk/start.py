"""Starting the window: hooks first, then fonts, workbook, model."""

from __future__ import annotations

import argparse
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

from rehearsal.core.errors import PictureError, RehearsalError, WorkbookError, system_words
from rehearsal.core.values.words import capital
from rehearsal.core.work.files import remove_unfinished, write_beside
from rehearsal.core.work.kernels import slow_start_words
from rehearsal.core.work.memory import keep_little
from rehearsal.demo.make import make_demo
from rehearsal.desk import theme
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


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="rehearsal", description="Rehearse a print before the first sheet.")
    parser.add_argument("files", nargs="*", help="pictures or profiles to open")
    parser.add_argument("--demo", action="store_true", help="start on a fresh copy of the demo workbook")
    parser.add_argument("--workbook", type=Path, help="another workbook file")
    parser.add_argument("--picture", type=Path, help="write a picture of the window when it is ready, and end")
    return parser


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


def make_window(workbook: Workbook, files: list[str]) -> Window:
    """Session and window on a workbook, with its last take open."""
    session = Session(workbook, QtHome(), desktop_profile)
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    theme.set_type_size(app, float(session.book.recall("type") or 1.0))
    window = Window(session)
    _install_hooks(session.bus)
    number = session.book.recall("open take")
    take = session.book.get(Take, int(number)) if number else None
    if take is not None and not files:
        session.takes.open(take)
    elif files:
        session.incoming.open_files(files)
    elif session.takes.masters:
        session.takes.open_master(session.takes.masters[0])
    if not session.jobs.is_running("load"):  # else when the picture has been judged
        session.shelf.measure()
    if not session.screen.record.profile_path:
        QTimer.singleShot(0, session.screen.ask_desktop)
    session.jobs.ended.connect(_SlowStart(session))
    if workbook.notice:
        session.bus.say_wrong(workbook.notice)
    else:
        session.bus.say(session.screen.reminder())
    return window


def _no_display() -> bool:
    if os.environ.get("QT_QPA_PLATFORM", "") in ("offscreen", "minimal", "vnc"):
        return False
    return not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"))


def start(given: list[str]) -> int:
    """Open the window; returns the exit status."""
    arguments = _parser().parse_args(given)
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
    except WorkbookError as error:
        print(f"rehearsal: {error.sentence()}", file=sys.stderr)
        return 2
    window = make_window(workbook, arguments.files)
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
