"""Things that are costly to make, kept for the last keys used; safe between threads."""

from __future__ import annotations

import functools
import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

from rehearsal.core.icc.profile import Profile

Made = TypeVar("Made")


class LastUsed(Generic[Made]):
    """The results for the last ``keep`` keys."""

    def __init__(self, keep: int) -> None:
        self._keep = keep
        self._made: OrderedDict[Hashable, Made] = OrderedDict()
        self._lock = threading.RLock()

    def get(self, key: Hashable, make: Callable[[], Made]) -> Made:
        """The result for a key, made when it is not there."""
        with self._lock:
            if key not in self._made:
                self._made[key] = make()
            self._made.move_to_end(key)
            while len(self._made) > self._keep:
                self._made.popitem(last=False)
            return self._made[key]

    def peek(self, key: Hashable) -> Made | None:
        """The result for a key when it is there; never waits for one that is being made."""
        return self._made.get(key)


def per_profile(make: Callable[[Profile], Made], keep: int = 24) -> Callable[[Profile], Made]:
    """One shared ``make(profile)`` per profile content, for the last ``keep`` profiles used."""
    kept: LastUsed[Made] = LastUsed(keep)

    @functools.wraps(make)
    def shared(profile: Profile) -> Made:
        return kept.get(profile.digest, lambda: make(profile))

    return shared
