"""The two threads that share heavy array work.

Kernels release the interpreter's lock; numba's own parallel mode is not used, because without an
OpenMP library it aborts when two Python threads meet in it.
"""

from __future__ import annotations

import functools
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import Any

THREADS = 2
_SMALL = 20_000


@functools.cache
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(THREADS, thread_name_prefix="pixels")


def side_by_side(works: Sequence[Callable[[], Any]]) -> list[Any]:
    """Results of several pieces of work, shared between this thread and the other one, in their order."""
    later = [_pool().submit(work) for work in works[1::2]]
    mine = [work() for work in works[::2]]
    theirs = [future.result() for future in later]
    return [mine[i // 2] if i % 2 == 0 else theirs[i // 2] for i in range(len(works))]


def in_two_halves(count: int, work: Callable[[slice], None], small: int = _SMALL) -> None:
    """Run work on slices that cover range(count); in this thread when there is little to do."""
    if count <= small:
        work(slice(0, count))
        return
    middle = count // 2
    other = _pool().submit(work, slice(middle, count))
    try:
        work(slice(0, middle))
    finally:
        other.result()
