"""Memory that was freed goes back to the system: the C library would keep it for each thread that ever needed much."""

from __future__ import annotations

import ctypes
import threading
import time
from typing import Any

import numpy as np

#: No oftener than this, in seconds: giving back takes some hundredths of one.
_PAUSE = 0.2
_PLAIN = (str, int, float, bool, type(None))
_lock = threading.Lock()
_last = [0.0]


#: Parameters of the GNU C library's mallopt (malloc.h), and what they are set to: heaps to share among all threads, and the
#: size in bytes from which an array is a piece of its own, which goes back at once.
_SETTINGS = ((-8, 2), (-3, 4 << 20))


def _of_library(name: str) -> Any:
    try:
        return getattr(ctypes.CDLL(None), name)
    except (OSError, AttributeError):  # another C library
        return None


_malloc_trim = _of_library("malloc_trim")


def keep_little() -> None:
    """For a program that stays open: keep as little freed memory as can be."""
    mallopt = _of_library("mallopt")
    if mallopt is not None and _malloc_trim is not None:
        for parameter, value in _SETTINGS:
            mallopt(parameter, value)


def give_back() -> bool:
    """Give freed memory back, unless that was done a moment ago or is being done; True when it was done."""
    if _malloc_trim is None or not _lock.acquire(blocking=False):
        return False
    try:
        if time.monotonic() - _last[0] < _PAUSE:
            return False
        _malloc_trim(0)
        _last[0] = time.monotonic()
        return True
    finally:
        _lock.release()


def size_of(thing: object, counted: set[int]) -> int:
    """Bytes of the arrays and byte strings in a thing, and in what it is made of.

    Args:
        counted: identities of what was counted before, which is not counted again; grows.
    """
    total, rest = 0, [thing]
    while rest:
        one = rest.pop()
        while isinstance(one, np.ndarray) and isinstance(one.base, np.ndarray):
            one = one.base  # a view holds all of the array it looks into
        if id(one) in counted or isinstance(one, _PLAIN):
            continue
        counted.add(id(one))
        if isinstance(one, np.ndarray):
            total += one.nbytes
        elif isinstance(one, bytes):
            total += len(one)
        elif isinstance(one, dict):
            rest.extend(one.values())
        elif isinstance(one, tuple | list):
            rest.extend(one)
        elif hasattr(one, "__dict__") and not isinstance(one, type) and not callable(one):
            rest.extend(vars(one).values())
    return total
