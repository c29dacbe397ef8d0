"""The thread that owns the session: where answers come home to, and clocks that ring on it."""

from __future__ import annotations

import contextlib
import queue
from collections.abc import Callable
from time import monotonic
from typing import Protocol


class Timer(Protocol):
    """A clock that rings once, a moment after it was last started."""

    def start(self) -> None:
        """Ring in a moment; a running one begins anew."""
        ...

    def stop(self) -> None:
        """Do not ring."""
        ...

    @property
    def is_active(self) -> bool:
        """True while it is going to ring."""
        ...


class Home(Protocol):
    """What a session wants of the thread that owns it; the window has one of its own."""

    def post(self, work: Callable[[], None]) -> None:
        """Do this on the owning thread, soon; may be called from any thread."""
        ...

    def timer(self, ms: int, work: Callable[[], None]) -> Timer:
        """A clock for some work."""
        ...


class _PlainTimer:
    def __init__(self, ms: int, work: Callable[[], None]) -> None:
        self._seconds, self.work = ms / 1000, work
        self.due: float | None = None

    def start(self) -> None:
        self.due = monotonic() + self._seconds

    def stop(self) -> None:
        self.due = None

    @property
    def is_active(self) -> bool:
        return self.due is not None


class PlainHome:
    """A home without a window: somebody calls :meth:`turn` until nothing is left to do."""

    def __init__(self) -> None:
        self._work: queue.SimpleQueue[Callable[[], None]] = queue.SimpleQueue()
        self._timers: list[_PlainTimer] = []

    def post(self, work: Callable[[], None]) -> None:
        """Do this in a later turn."""
        self._work.put(work)

    def timer(self, ms: int, work: Callable[[], None]) -> Timer:
        """A clock that rings in a turn."""
        made = _PlainTimer(ms, work)
        self._timers.append(made)
        return made

    def turn(self, seconds: float = 0.02) -> None:
        """Do what has come, waiting a little for it; ring what is due."""
        work: Callable[[], None] | None = None
        with contextlib.suppress(queue.Empty):
            work = self._work.get(timeout=seconds)
        if work is not None:
            work()
        for timer in self._timers:
            if timer.due is not None and timer.due <= monotonic():
                timer.stop()
                timer.work()
