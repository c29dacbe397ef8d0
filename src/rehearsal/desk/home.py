"""The window's thread as the home of a session."""

from __future__ import annotations

import contextlib
from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from rehearsal.session.home import Timer


class _QtTimer:
    def __init__(self, ms: int, work: Callable[[], None], parent: QObject) -> None:
        self._timer = QTimer(parent)
        self._timer.setSingleShot(True)
        self._timer.setInterval(ms)
        self._timer.timeout.connect(work)

    def start(self) -> None:
        self._timer.start()

    def stop(self) -> None:
        self._timer.stop()

    @property
    def is_active(self) -> bool:
        return self._timer.isActive()


class QtHome(QObject):
    """Answers come home through the event loop."""

    _posted = pyqtSignal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._posted.connect(lambda work: work())

    def post(self, work: Callable[[], None]) -> None:
        """Do this on the window's thread, soon."""
        with contextlib.suppress(RuntimeError):  # the window is gone already
            self._posted.emit(work)

    def timer(self, ms: int, work: Callable[[], None]) -> Timer:
        """A clock on the window's thread."""
        return _QtTimer(ms, work, self)
