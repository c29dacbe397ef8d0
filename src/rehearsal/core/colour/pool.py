"""The two threads that share heavy array work.

Kernels release the interpreter's lock; numba's own parallel mode is not used, because without an
OpenMP library it aborts when two Python threads meet in it.
"""

from __future__ import annotations

import functools
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

THREADS = 2
_SMALL = 20_000


@functools.cache
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(THREADS, thread_name_prefix="pixels")


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
