"""Compiled array loops, and large libraries, each brought in when it is first needed: the window is on the screen before.

The machine code of the loops is kept between starts where there is a place for it.
"""

from __future__ import annotations

import functools
import importlib
import sys
import threading
from collections.abc import Callable
from typing import Any

import numpy as np

#: Arrays with no more numbers than this go through the plain loop as long as nothing has needed the compiler.
_FEW = 512
_making = threading.RLock()
_not_kept: list[str] = []


class Kernel:
    """A function for arrays that is compiled, without the interpreter's lock, when it is first called."""

    def __init__(self, function: Callable[..., Any]) -> None:
        functools.update_wrapper(self, function)
        self._plain = function
        self._made: Any = None

    def __call__(self, *given: Any) -> Any:
        """What the function answers."""
        if self._made is None and "numba" not in sys.modules and _are_few(given):
            return self._plain(*given)
        return (self._made or self.compiled())(*given)

    def compiled(self) -> Any:
        """The compiled function; the kernels it calls are compiled with it and take their names' places in its module."""
        with _making:
            if self._made is None:
                names = self._plain.__globals__
                for name in self._plain.__code__.co_names:
                    if isinstance(names.get(name), Kernel):
                        names[name] = names[name].compiled()
                self._made = _compile(self._plain)
            return self._made


def _are_few(given: tuple[Any, ...]) -> bool:
    return all(
        np.isscalar(v) or (isinstance(v, np.ndarray) and v.dtype == np.float64 and v.size <= _FEW) for v in given
    )


def _compile(function: Callable[..., Any]) -> Any:
    """Where no folder can be written to, it is compiled anew at every start. Dividing by nought is no error, as in NumPy."""
    from numba import njit

    try:
        return njit(cache=True, nogil=True, error_model="numpy")(function)
    except RuntimeError:  # the library finds no place for its cache
        _not_kept.append(function.__name__)
        return njit(nogil=True, error_model="numpy")(function)


#: The decorator of a kernel.
kernel = Kernel


def slow_start_words() -> str:
    """Why starting takes longer than it need, as a sentence; empty when it does not, or when nothing was compiled yet."""
    if not _not_kept:
        return ""
    return "There is no folder for compiled parts of the program, so that each start takes some seconds longer."


class Later:
    """A module that is imported when something of it is first used."""

    def __init__(self, name: str) -> None:
        self._name = name

    def __getattr__(self, name: str) -> Any:
        return getattr(importlib.import_module(self._name), name)


#: Filters and labels over arrays.
ndimage: Any = Later("scipy.ndimage")
