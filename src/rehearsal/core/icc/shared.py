"""One shared thing for each profile."""

from __future__ import annotations

import functools
from collections.abc import Callable
from typing import TypeVar

from rehearsal.core.icc.profile import Profile
from rehearsal.core.work.once import LastUsed

Made = TypeVar("Made")


def per_profile(make: Callable[[Profile], Made], keep: int = 24) -> Callable[[Profile], Made]:
    """One shared ``make(profile)`` per profile content, for the last ``keep`` profiles used."""
    kept: LastUsed[Made] = LastUsed(keep)

    @functools.wraps(make)
    def shared(profile: Profile) -> Made:
        return kept.get(profile.digest, lambda: make(profile))

    return shared
