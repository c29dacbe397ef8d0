"""Opening what a path stands for: a profile's file, or a working space by its name."""

from __future__ import annotations

from rehearsal.core.icc.profile import Profile, open_profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.values.destination import space_of


def open_destination(path: str) -> Profile:
    """The profile of a destination's path.

    Raises:
        ProfileError: the file is missing or is no profile.
    """
    space = space_of(path)
    return working_space(space) if space else open_profile(path)
