"""Waiting for the window."""

from __future__ import annotations

from collections.abc import Callable
from time import monotonic

from PyQt6.QtTest import QTest

from rehearsal.desk.frame.window import Window

#: A busy machine is slow; only what never comes is given up.
PATIENCE_SECONDS = 240.0
#: Looks in a row that must find nothing to do; between them what waits for a pause gets it.
_CALM_LOOKS, _LOOK_MS = 4, 15


def until(ready: Callable[[], object]) -> None:
    """Let the window live until something is so."""
    end = monotonic() + PATIENCE_SECONDS
    while not ready():
        assert monotonic() < end, "it never came"
        QTest.qWait(_LOOK_MS)


def wait_until_settled(window: Window, judged: bool = True) -> None:
    """Wait until the picture is shown and judged (unless it cannot be) and nothing is being worked on."""
    session, calm, end = window.session, 0, monotonic() + PATIENCE_SECONDS
    while calm < _CALM_LOOKS:
        assert monotonic() < end, session.jobs.running
        QTest.qWait(_LOOK_MS)
        busy = session.jobs.running or session.roads.is_settling or (judged and not session.judging.is_current)
        calm = 0 if busy else calm + 1
