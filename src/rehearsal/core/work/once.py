"""Things that are costly to make: made once, kept, and never made under a lock.

Who asks first makes; who asks for the same thing meanwhile waits for that thing alone. Nobody who wants something else waits.
(Python 3.11's ``functools.cached_property`` has one lock for all objects of a class, so that one paper's table held every other
paper, and threads that shared work out while they held it could stand still for ever.)
"""

from __future__ import annotations

import itertools
import threading
import weakref
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any, Generic, TypeVar, overload

from rehearsal.core.work.memory import size_of

Made = TypeVar("Made")
_clock = itertools.count()


class Budget:
    """What all results that are kept for later may take together, in bytes: those used longest ago go first.

    The last used one of each kind stays whatever it takes, since somebody is at work with it.
    """

    def __init__(self, most: int) -> None:
        self._most = most
        self._kinds: weakref.WeakSet[LastUsed[Any]] = weakref.WeakSet()
        self._lock = threading.Lock()

    def add(self, kind: LastUsed[Any]) -> None:
        """Count what is kept there."""
        with self._lock:
            self._kinds.add(kind)

    def settle(self) -> int:
        """Forget what is too much; answers with the bytes that are left."""
        with self._lock:
            kinds = list(self._kinds)
        kept = [(tick, kind, key, made) for kind in kinds for key, made, tick in kind.entries()]
        total, counted, started = 0, set[int](), set[int]()
        for tick, kind, key, made in sorted(kept, key=lambda entry: -entry[0]):
            size = size_of(made, counted)
            if total + size > self._most and id(kind) in started:
                kind.drop(key, tick)
            else:
                total += size
            started.add(id(kind))
        return total


#: Of this program: with the demo's pictures (6 megapixels) a session stays at 520 to 760 MB, for moments at 890.
BUDGET = Budget(115 << 20)


class _Making:
    """Something that is being made by one thread."""

    def __init__(self) -> None:
        self.ready = threading.Event()
        self.by = threading.get_ident()


class LastUsed(Generic[Made]):
    """The results for the last ``keep`` keys used; the lock only guards the list.

    Args:
        budget: what all shared results together may take; None for those that are part of a larger thing.
    """

    def __init__(self, keep: int, budget: Budget | None = BUDGET) -> None:
        self._keep, self._budget = keep, budget
        self._made: OrderedDict[Hashable, tuple[Made, int]] = OrderedDict()
        self._making: dict[Hashable, _Making] = {}
        self._lock = threading.Lock()
        if budget is not None:
            budget.add(self)

    def _use(self, key: Hashable) -> Made:
        made = self._made.pop(key)[0]
        self._made[key] = made, next(_clock)
        return made

    def get(self, key: Hashable, make: Callable[[], Made]) -> Made:
        """The result for a key, made by this thread when nobody has made it and nobody is making it."""
        while True:
            with self._lock:
                if key in self._made:
                    return self._use(key)
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
            self._made.pop(key, None)
            self._made[key] = made, next(_clock)
            while len(self._made) > self._keep:
                self._made.popitem(last=False)
        if self._budget is not None:
            self._budget.settle()

    def items(self) -> list[tuple[Any, Made]]:
        """Keys and results that are there, the last used ones last."""
        return [(key, made) for key, made, _tick in self.entries()]

    def entries(self) -> list[tuple[Any, Made, int]]:
        """The same with the moments at which they were used last, as rising numbers."""
        with self._lock:
            return [(key, made, tick) for key, (made, tick) in self._made.items()]

    def drop(self, key: Hashable, tick: int) -> None:
        """Forget a result, unless it was used since."""
        with self._lock:
            if key in self._made and self._made[key][1] == tick:
                del self._made[key]

    def peek(self, key: Hashable) -> Made | None:
        """The result for a key when it is there; never waits for one that is being made."""
        with self._lock:
            return self._use(key) if key in self._made else None


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
        kept = instance.__dict__.setdefault("_made_once", LastUsed(1 << 30, None))
        made: Made = kept.get(self._name, lambda: self._make(instance))
        instance.__dict__[self._name] = made
        return made
