"""Compiled array loops. Their machine code is kept between starts where there is a place for it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from numba import njit

_not_kept: list[str] = []


def kernel(function: Callable[..., Any]) -> Any:
    """Compile a function for arrays, without the interpreter's lock.

    Where no folder can be written to, it is compiled anew at every start.
    """
    try:
        return njit(cache=True, nogil=True)(function)
    except RuntimeError:  # the library finds no place for its cache
        _not_kept.append(function.__name__)
        return njit(nogil=True)(function)


def slow_start_words() -> str:
    """Why starting takes longer than it need, as a sentence; empty when it does not."""
    if not _not_kept:
        return ""
    return "There is no folder for compiled parts of the program, so that each start takes some seconds longer."
