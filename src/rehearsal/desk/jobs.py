"""Work away from the interface thread: one ending each, late answers dropped, stop at known steps."""

from __future__ import annotations

import threading
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from rehearsal.core.errors import Stopped


class _Ticket:
    """One request; ``stop`` is polled by the progress function."""

    def __init__(self, key: str, number: int) -> None:
        self.key, self.number = key, number
        self.stop = threading.Event()


class Progress:
    """What work is given: call it with the share done and words (it raises Stopped when the work is not wanted any more)."""

    def __init__(
        self, ticket: _Ticket, step: Callable[[object, float, str], None], part: Callable[[object, object], None]
    ):
        self._ticket, self._step, self._part = ticket, step, part

    def __call__(self, share: float, text: str) -> None:
        if self._ticket.stop.is_set():
            raise Stopped
        self._step(self._ticket, share, text)

    def tell(self, value: object) -> None:
        """Hand over a part of the result before the end."""
        if self._ticket.stop.is_set():
            raise Stopped
        self._part(self._ticket, value)


Work = Callable[[Progress], Any]


class Jobs(QObject):
    """Runs work on two threads. A new request under a key stops and replaces the earlier one."""

    progressed = pyqtSignal(str, float, str)
    ended = pyqtSignal(str)
    failed = pyqtSignal(str, object)
    _done = pyqtSignal(object, object, object)
    _step = pyqtSignal(object, float, str)
    _part = pyqtSignal(object, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool = ThreadPoolExecutor(2, thread_name_prefix="job")
        self._quick = ThreadPoolExecutor(1, thread_name_prefix="quick")
        self._current: dict[str, _Ticket] = {}
        self._answers: dict[str, Callable[[Any], None]] = {}
        self._parts: dict[str, Callable[[Any], None]] = {}
        self._number = 0
        self._done.connect(self._on_done)
        self._step.connect(self._on_step)
        self._part.connect(self._on_part)

    def run(
        self,
        key: str,
        work: Work,
        answer: Callable[[Any], None],
        quick: bool = False,
        part: Callable[[Any], None] | None = None,
    ) -> None:
        """Start work(progress) under a key; answer(result) is called on the interface thread.

        ``quick`` work (what the eye waits for) has a thread of its own. ``part`` gets what the work tells on its way.
        """
        self.stop(key)
        self._number += 1
        ticket = _Ticket(key, self._number)
        self._current[key], self._answers[key] = ticket, answer
        if part is not None:
            self._parts[key] = part
        (self._quick if quick else self._pool).submit(self._body, ticket, work)

    def _body(self, ticket: _Ticket, work: Work) -> None:
        progress = Progress(ticket, self._step.emit, self._part.emit)
        result, error = None, None
        try:
            if ticket.stop.is_set():
                raise Stopped
            result = work(progress)
        except BaseException as caught:
            error = caught
        try:
            self._done.emit(ticket, result, error)
        except RuntimeError:
            return

    def _on_step(self, ticket: _Ticket, share: float, text: str) -> None:
        if self._current.get(ticket.key) is ticket:
            self.progressed.emit(ticket.key, share, text)

    def _on_part(self, ticket: _Ticket, value: Any) -> None:
        if self._current.get(ticket.key) is ticket and ticket.key in self._parts:
            self._parts[ticket.key](value)

    def _on_done(self, ticket: _Ticket, result: Any, error: BaseException | None) -> None:
        if self._current.get(ticket.key) is not ticket:
            return
        del self._current[ticket.key]
        answer = self._answers.pop(ticket.key)
        self._parts.pop(ticket.key, None)
        self.ended.emit(ticket.key)
        if error is None:
            answer(result)
        elif not isinstance(error, Stopped):
            self.failed.emit(ticket.key, error)

    def stop(self, key: str) -> None:
        """Stop the work under a key, if any."""
        ticket = self._current.pop(key, None)
        if ticket is not None:
            ticket.stop.set()
            self._answers.pop(key, None)
            self._parts.pop(key, None)
            self.ended.emit(key)

    @property
    def running(self) -> list[str]:
        """Keys with work under way."""
        return list(self._current)

    def close(self) -> None:
        """Stop everything and wait for it."""
        for key in list(self._current):
            self.stop(key)
        self._pool.shutdown(wait=True, cancel_futures=True)
        self._quick.shutdown(wait=True, cancel_futures=True)
