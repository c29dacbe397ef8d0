"""The threads that share heavy array work, as many as the machine has cores.

Kernels release the interpreter's lock; numba's own parallel mode is not used, because without an
OpenMP library it aborts when two Python threads meet in it. Whoever shares work out takes back what no
thread has begun yet, so that nobody ever waits for a thread that waits for him.
"""

from __future__ import annotations

import contextlib
import functools
import itertools
import os
import threading
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from typing import Any

_SMALL = 20_000
#: Slices for each core.
_EACH = 3
#: Niceness of work that nobody waits for.
_AFTER = 5
#: Seconds between two looks at whether work that waits is still wanted.
_WAITS = 0.05
_here = threading.local()


def cores() -> int:
    """How many cores this process may use."""
    return max(1, len(os.sched_getaffinity(0)))


def give_way() -> None:
    """Let this thread come after those that somebody waits for, where the system can tell threads apart."""
    with contextlib.suppress(OSError):
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), _AFTER)


@functools.cache
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(cores(), thread_name_prefix="pixels")


@contextlib.contextmanager
def heeding(stop: Callable[[], None]) -> Iterator[None]:
    """Array work within goes on only while ``stop`` raises nothing; it is asked before each piece, in every thread that helps."""
    before = getattr(_here, "stop", None)
    _here.stop = stop
    try:
        yield
    finally:
        _here.stop = before


def heed() -> None:
    """Raise what the work at hand is to be stopped by."""
    stop = getattr(_here, "stop", None)
    if stop is not None:
        stop()


@contextlib.contextmanager
def in_turn(gate: threading.Lock) -> Iterator[None]:
    """Work within waits for other work of its kind, and heeds a stop meanwhile."""
    while not gate.acquire(timeout=_WAITS):
        heed()
    try:
        yield
    finally:
        gate.release()


def _shared(work: Callable[[], Any], stop: Callable[[], None] | None) -> Any:
    """Run work that shares nothing further: there are no more cores than threads."""
    before = getattr(_here, "shared", False), getattr(_here, "stop", None)
    _here.shared, _here.stop = True, stop
    try:
        heed()
        return work()
    finally:
        _here.shared, _here.stop = before


def _heeded(work: Callable[[], Any]) -> Any:
    heed()
    return work()


def side_by_side(works: Sequence[Callable[[], Any]]) -> list[Any]:
    """Results of several pieces of work, shared between this thread and the others, in their order."""
    stop = getattr(_here, "stop", None)
    if len(works) < 2 or cores() < 2 or getattr(_here, "shared", False):
        return [_heeded(work) for work in works]
    later = [_pool().submit(_shared, work, stop) for work in works[1:]]
    mine: dict[int, Any] = {}
    try:
        mine[0] = _shared(works[0], stop)
        # what no thread has begun is done here, from the end, since the threads begin at the front
        for i in range(len(later), 0, -1):
            if later[i - 1].cancel():
                mine[i] = _shared(works[i], stop)
        return [mine[i] if i in mine else later[i - 1].result() for i in range(len(works))]
    finally:
        while later:  # nothing of it is held on: an error holds this frame, and may not be held by it
            _end(later.pop())


def _end(future: Future[Any]) -> None:
    """Work must not go on behind whoever shared it out."""
    if not future.cancel():
        future.exception()  # waits


def in_slices(count: int, work: Callable[[slice], None], small: int = _SMALL) -> None:
    """Run work on slices that cover range(count), some for each core; in this thread when there is little to do.

    When the other cores are busy this thread does nearly all of it, and at the end waits for one slice at the most.
    """
    if count <= small or getattr(_here, "shared", False):
        heed()
        work(slice(0, count))
        return
    parts = min(_EACH * cores(), -(-count // max(1, small // 2)))
    edges = [count * i // parts for i in range(parts + 1)]
    side_by_side([functools.partial(work, slice(a, b)) for a, b in itertools.pairwise(edges)])
