"""One shared object per profile content, made on first use."""

from __future__ import annotations

import functools
import threading
from collections import OrderedDict
from collections.abc import Callable
from typing import TypeVar

from rehearsal.core.icc.profile import Profile

Made = TypeVar("Made")


def per_profile(make: Callable[[Profile], Made], keep: int = 24) -> Callable[[Profile], Made]:
    """Cache ``make(profile)`` by the profile's bytes, for the last ``keep`` profiles used; safe between threads."""
    made: OrderedDict[str, Made] = OrderedDict()
    lock = threading.RLock()

    @functools.wraps(make)
    def shared(profile: Profile) -> Made:
        with lock:
            if profile.digest not in made:
                made[profile.digest] = make(profile)
            made.move_to_end(profile.digest)
            while len(made) > keep:
                made.popitem(last=False)
            return made[profile.digest]

    return shared
