"""Areas of a picture that come inside with one paper and lie beyond another."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from rehearsal.core.proof.areas import disk, fractions, labelled, smoothed
from rehearsal.core.proof.hues import hue_key, sector
from rehearsal.core.work.kernels import ndimage

#: So many pixels of an area tell its name.
_TELLING = 4000


@dataclass(frozen=True)
class Inside:
    """One area that comes inside.

    Attributes:
        hue: key of the everyday name of its median colour.
        share: per cent of the image, raw pixels that are inside here and beyond there.
        box: x, y, width, height in fractions of the image.
    """

    hue: str
    share: float
    box: tuple[float, float, float, float]


def come_inside(lab: np.ndarray, here: np.ndarray, there: np.ndarray, limit: float) -> tuple[Inside, ...]:
    """Areas of M (h, w, 3) that lie within the limit here and beyond it there, the largest first.

    Args:
        here, there: δ (h, w) of the image against the two papers.

    They are closed and parted by hue as areas beyond a paper are; what is under 0.05 % of the image is no area.
    """
    gained = (here <= limit) & (there > limit)
    closed = ndimage.binary_closing(np.pad(gained, 3), disk(2))[3:-3, 3:-3] | gained
    labels = labelled(closed, sector(smoothed(lab)) + 2)
    made = []
    for number, box in enumerate(ndimage.find_objects(labels), start=1):
        if box is None:
            continue
        members = (labels[box] == number) & gained[box]
        colours = lab[box][members]
        share = len(colours) / gained.size * 100
        if share > 0:
            step = max(1, len(colours) // _TELLING)
            made.append(Inside(hue_key(np.median(colours[::step], axis=0)), share, fractions(box, gained.shape)))
    return tuple(sorted(made, key=lambda each: -each.share))


def by_hue(areas: Sequence[Inside]) -> list[tuple[str, float]]:
    """Hues with what their areas have together, per cent, the largest first."""
    sums: dict[str, float] = defaultdict(float)
    for each in areas:
        sums[each.hue] += each.share
    return sorted(sums.items(), key=lambda pair: -pair[1])
