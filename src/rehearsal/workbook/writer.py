"""Commits away from whoever makes a change: one after the other, in their order, none given up."""

from __future__ import annotations

import threading
from collections import deque
from collections.abc import Callable
from typing import Any

Statement = tuple[str, tuple[Any, ...]]


class Writer:
    """A thread that commits one transaction after the other; a failed one stays first and is tried again with the next.

    Args:
        commit: writes the statements of one transaction, or raises.
        failed: told why, from the writing thread.
    """

    def __init__(self, commit: Callable[[list[Statement]], None], failed: Callable[[Exception], None]) -> None:
        self._commit, self._failed = commit, failed
        self._waiting: deque[list[Statement]] = deque()
        self._changed = threading.Condition()
        self._closing = self._stuck = False
        self._thread = threading.Thread(target=self._run, name="workbook")
        self._thread.start()

    def submit(self, statements: list[Statement]) -> None:
        """Commit these after all that came before."""
        with self._changed:
            self._waiting.append(statements)
            self._stuck = False
            self._changed.notify_all()

    def flush(self) -> bool:
        """Wait until everything is committed; False when something cannot be."""
        with self._changed:
            self._changed.wait_for(lambda: not self._waiting or self._stuck)
            return not self._waiting

    def close(self) -> bool:
        """Try once more what is left, and end; False when something could not be committed."""
        with self._changed:
            self._closing, self._stuck = True, False
            self._changed.notify_all()
        self._thread.join()
        return not self._waiting

    def _run(self) -> None:
        while True:
            with self._changed:
                self._changed.wait_for(lambda: (self._waiting and not self._stuck) or self._closing)
                if not self._waiting or self._stuck:
                    return
                first = self._waiting[0]
            try:
                self._commit(first)
            except Exception as error:
                self._fail(error)
            else:
                self._done()

    def _done(self) -> None:
        with self._changed:
            self._waiting.popleft()
            self._changed.notify_all()

    def _fail(self, error: Exception) -> None:
        with self._changed:
            self._stuck = True
            self._changed.notify_all()
        self._failed(error)
