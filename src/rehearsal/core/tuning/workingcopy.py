"""The working copy of a picture whose own space cannot be tuned (grey, CMYK, table RGB)."""

from __future__ import annotations

import numpy as np

from rehearsal.core.icc import Profile, source_black
from rehearsal.core.icc.shared import per_profile
from rehearsal.core.icc.standard import wide_space_bytes
from rehearsal.core.picture.space import MasterSpace, master_space
from rehearsal.core.proof.convert import convert_pixels
from rehearsal.core.values.rendering import Rendering


def tunable(pixels: np.ndarray, space: MasterSpace) -> tuple[np.ndarray, MasterSpace]:
    """Pixels in a space that can be tuned: the same when it is matrix RGB, else a wide RGB with the same black."""
    if space.profile.is_matrix:
        return pixels, space
    wide = working_copy_space(space.profile)
    return convert_pixels(pixels, space.profile, wide.profile, Rendering("relative", False), 16), wide


def _working_copy_space(profile: Profile) -> MasterSpace:
    black = 0.0 if profile.channels == 1 else float(np.clip(source_black(profile, "relative")[1], 0, 0.2))
    return master_space(Profile(wide_space_bytes(black), f"working copy of {profile.where}"))


#: The space of the working copy of a picture in a grey, CMYK or table profile.
working_copy_space = per_profile(_working_copy_space, keep=8)
