"""Things that are costly to make: made once, kept, and never made under a lock.

Who asks first makes; who asks for the same thing meanwhile waits for that thing alone. Nobody who wants something else waits.
(Python 3.11's ``functools.cached_property`` has one lock for all objects of a class, so that one paper's table held every other
paper, and threads that shared work out while they held it could stand still for ever.)
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any, Generic, TypeVar, overload

Made = TypeVar("Made")


class _Making:
    """Something that is being made by one thread."""

    def __init__(self) -> None:
        self.ready = threading.Event()
        self.by = threading.get_ident()


class LastUsed(Generic[Made]):
    """The results for the last ``keep`` keys used; the lock only guards the list."""

    def __init__(self, keep: int) -> None:
        self._keep = keep
        self._made: OrderedDict[Hashable, Made] = OrderedDict()
        self._making: dict[Hashable, _Making] = {}
        self._lock = threading.Lock()

    def get(self, key: Hashable, make: Callable[[], Made]) -> Made:
        """The result for a key, made by this thread when nobody has made it and nobody is making it."""
        while True:
            with self._lock:
                if key in self._made:
                    self._made.move_to_end(key)
                    return self._made[key]
                other = self._making.get(key)
                mine = self._making.setdefault(key, _Making()) if other is None else None
            if mine is not None:
                return self._make(key, mine, make)
            assert other is not None
            if other.by == threading.get_ident():
                raise RuntimeError(f"making {key!r} asks for itself")
            other.ready.wait()

    def _make(self, key: Hashable, mine: _Making, make: Callable[[], Made]) -> Made:
        try:
            made = make()
            self.put(key, made)
            return made
        finally:
            with self._lock:
                del self._making[key]
            mine.ready.set()

    def put(self, key: Hashable, made: Made) -> None:
        """Keep a result that was made elsewhere."""
        with self._lock:
            self._made[key] = made
            while len(self._made) > self._keep:
                self._made.popitem(last=False)

    def items(self) -> list[tuple[Any, Made]]:
        """Keys and results that are there, the last used ones last."""
        with self._lock:
            return list(self._made.items())

    def peek(self, key: Hashable) -> Made | None:
        """The result for a key when it is there; never waits for one that is being made."""
        with self._lock:
            return self._made.get(key)


class once(Generic[Made]):
    """A property computed on first use and kept in the object; threads that want it meanwhile wait for this object's alone."""

    def __init__(self, make: Callable[[Any], Made]) -> None:
        self._make = make
        self.__doc__ = make.__doc__

    def __set_name__(self, owner: type, name: str) -> None:
        self._name = name

    @overload
    def __get__(self, instance: None, owner: type) -> once[Made]: ...
    @overload
    def __get__(self, instance: object, owner: type) -> Made: ...
    def __get__(self, instance: object | None, owner: type) -> once[Made] | Made:
        if instance is None:
            return self
        # kept under the same name in the object, which Python finds before this descriptor from then on
        kept = instance.__dict__.setdefault("_made_once", LastUsed(1 << 30))
        made: Made = kept.get(self._name, lambda: self._make(instance))
        instance.__dict__[self._name] = made
        return made
