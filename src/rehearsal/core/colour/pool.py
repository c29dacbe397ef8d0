"""The two threads that share heavy array work.

Kernels release the interpreter's lock; numba's own parallel mode is not used, because without an
OpenMP library it aborts when two Python threads meet in it.
"""

from __future__ import annotations

import functools
import threading
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import Any

THREADS = 2
_SMALL = 20_000
_here = threading.local()


@functools.cache
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(THREADS, thread_name_prefix="pixels")


def _shared(work: Callable[[], Any]) -> Any:
    """Run work that shares nothing further: pool threads that waited for each other would stand still for ever."""
    before = getattr(_here, "shared", False)
    _here.shared = True
    try:
        return work()
    finally:
        _here.shared = before


def side_by_side(works: Sequence[Callable[[], Any]]) -> list[Any]:
    """Results of several pieces of work, shared between this thread and the other one, in their order."""
    if getattr(_here, "shared", False):
        return [work() for work in works]
    later = [_pool().submit(_shared, work) for work in works[1::2]]
    try:
        mine = [_shared(work) for work in works[::2]]
    finally:
        theirs = [future.result() for future in later]
    return [mine[i // 2] if i % 2 == 0 else theirs[i // 2] for i in range(len(works))]


def in_two_halves(count: int, work: Callable[[slice], None], small: int = _SMALL) -> None:
    """Run work on slices that cover range(count); in this thread when there is little to do."""
    if count <= small or getattr(_here, "shared", False):
        work(slice(0, count))
        return
    middle = count // 2
    side_by_side([lambda: work(slice(0, middle)), lambda: work(slice(middle, count))])
