"""The working copy of a picture whose own space cannot be tuned (grey, CMYK, table RGB)."""

from __future__ import annotations

import numpy as np

from rehearsal.core.icc import Profile, Step, Transform, source_black
from rehearsal.core.icc.standard import wide_space_bytes
from rehearsal.core.picture.space import MasterSpace, master_space
from rehearsal.core.work.once import LastUsed
from rehearsal.core.work.pool import in_slices

_ROWS = 1 << 18


#: Black points that differ by less in Y (about 0.1 L* in the depths) are the same.
_SAME_BLACK = 1e-4
_readings: LastUsed[str] = LastUsed(60)


def reading_intent(profile: Profile, intent: str) -> str:
    """The intent that names how pixels are read: ``relative`` where another has the same table and the same black point."""
    if intent in ("relative", "absolute"):
        return "relative"

    def make() -> str:
        if not profile.one_table(intent, "relative", "A2B"):
            return intent
        one, two = (source_black(profile, each) for each in (intent, "relative"))
        return "relative" if profile.channels == 1 or abs(one[1] - two[1]) < _SAME_BLACK else intent

    return _readings.get((profile.digest, intent), make)


_spaces: LastUsed[MasterSpace] = LastUsed(12)


def working_copy_space(profile: Profile, intent: str = "relative") -> MasterSpace:
    """The space that pixels in a profile are tuned in: its own when it is matrix RGB, else a wide RGB with the same black.

    Args:
        intent: by which the pixels are read.
    """
    if profile.is_matrix:
        return master_space(profile)
    read = reading_intent(profile, intent)

    def make() -> MasterSpace:
        black = 0.0 if profile.channels == 1 else float(np.clip(source_black(profile, read)[1], 0, 0.2))
        return master_space(Profile(wide_space_bytes(black), f"working copy of {profile.where}"))

    return _spaces.get((profile.digest, read), make)


def tunable(pixels: np.ndarray, profile: Profile, intent: str = "relative") -> np.ndarray:
    """Pixels (h, w, 3) uint16 in :func:`working_copy_space` of 16-bit pixels; the same ones when nothing is to be done."""
    wide = working_copy_space(profile, intent).profile
    if wide.digest == profile.digest:
        return pixels
    # no compensation: both spaces have the same black
    convert = Transform([Step(profile, reading_intent(profile, intent)), Step(wide, "relative")], np.uint16, np.uint16)
    flat = pixels.reshape(-1, pixels.shape[-1])
    out = np.empty((len(flat), 3), dtype=np.uint16)

    def work(part: slice) -> None:
        for start in range(part.start, part.stop, _ROWS):
            piece = slice(start, min(start + _ROWS, part.stop))
            out[piece] = convert.apply(flat[piece])

    in_slices(len(flat), work)
    return out.reshape((*pixels.shape[:-1], 3))
