"""The reach of a paper: lightness slices of its solid, and a picture's colours in them."""

from __future__ import annotations

from dataclasses import dataclass

import contourpy
import numpy as np

from rehearsal.core.papers.solid import Solid
from rehearsal.core.work.kernels import ndimage

#: Width of one square of the picture's colours in a* and b*.
CELL = 4.0
#: A slice stands for this much lightness above and below it.
HALF = 4.0
_SIDE = 70


@dataclass(frozen=True)
class Slice:
    """The colours of a picture near one lightness.

    Attributes:
        lightness: of the slice, L*.
        counts: pixels per square (a*, b*), (70, 70); square (i, j) covers a* from 4 (i − 35).
        beyond: pixels beyond the limit per square.
    """

    lightness: float
    counts: np.ndarray
    beyond: np.ndarray

    @property
    def covered(self) -> float | None:
        """Per cent of the slice's pixels within the limit; None when the picture has none there."""
        total = int(self.counts.sum())
        return None if total == 0 else float(100 - self.beyond.sum() / total * 100)


def cell_of(ab: np.ndarray) -> np.ndarray:
    """Square (..., 2) of a*, b* (..., 2)."""
    return np.clip(np.floor(np.asarray(ab) / CELL).astype(int) + _SIDE // 2, 0, _SIDE - 1)


def cell_centre(cell: tuple[int, int]) -> tuple[float, float]:
    """a*, b* in the middle of a square."""
    return (cell[0] - _SIDE // 2 + 0.5) * CELL, (cell[1] - _SIDE // 2 + 0.5) * CELL


def near_slice(lab: np.ndarray, lightness: float) -> np.ndarray:
    """True where Lab (..., 3) belongs to a slice."""
    return np.asarray(np.abs(lab[..., 0] - lightness) <= HALF)


def picture_slice(lab: np.ndarray, beyond: np.ndarray, lightness: float) -> Slice:
    """The squares of a picture (h, w, 3) near a lightness, and which pixels of them are beyond (h, w)."""
    here = near_slice(lab, lightness)
    cells = cell_of(lab[here][:, 1:])
    place = cells[:, 0] * _SIDE + cells[:, 1]
    counts = np.bincount(place, minlength=_SIDE * _SIDE).reshape(_SIDE, _SIDE)
    out = np.bincount(place[beyond[here]], minlength=_SIDE * _SIDE).reshape(_SIDE, _SIDE)
    return Slice(lightness, counts, out)


def pixels_of_cell(lab: np.ndarray, lightness: float, cell: tuple[int, int], around: int = 1) -> np.ndarray:
    """Mask (h, w) of the pixels in a square of a slice and its neighbours."""
    cells = cell_of(lab[..., 1:])
    close = np.all(np.abs(cells - np.array(cell)) <= around, axis=-1)
    return near_slice(lab, lightness) & close


def slice_outline(solid: Solid, lightness: float) -> list[np.ndarray]:
    """Outline of a solid at L*: closed lines (n, 2) of a*, b*; empty when the solid has nothing there."""
    place = (lightness - solid.low[0]) / solid.step
    i = int(np.clip(np.floor(place), 0, solid.inside.shape[0] - 2))
    share = float(np.clip(place - i, 0, 1))
    layer = solid.inside[i] * (1 - share) + solid.inside[i + 1] * share
    soft = ndimage.gaussian_filter(np.pad(layer.astype(np.float32), 1), 0.9)
    lines = contourpy.contour_generator(z=soft.T).lines(0.5)
    return [(np.asarray(line) - 1) * solid.step + solid.low[1:] for line in lines if len(line) > 6]
