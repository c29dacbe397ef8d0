"""The turning body of a gamut: its slices as a stack of rings, a picture's colours in bins, and how they look from a side."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.papers.reach import slice_outline
from rehearsal.core.papers.solid import Solid

#: Lightness of the rings, L*.
LEVELS = tuple(range(5, 100, 5))
#: Side of a bin of the picture's colours in L*, a* and b*.
BIN = 6.0
_RING_POINTS = 72
_MIDDLE = 50.0


def rings(solid: Solid, levels: tuple[int, ...] = LEVELS) -> list[np.ndarray]:
    """Closed rings (n, 3) in Lab around a solid at some lightnesses; levels without any are left out."""
    made = []
    for level in levels:
        for line in slice_outline(solid, float(level)):
            even = _evenly(line, _RING_POINTS)
            made.append(np.column_stack([np.full(len(even), float(level)), even]))
    return made


def _evenly(line: np.ndarray, count: int) -> np.ndarray:
    """A polyline (n, 2) walked in equal steps, at most so many; first and last point stay."""
    steps = np.hypot(*np.diff(line, axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    wanted = np.linspace(0, along[-1], min(count, len(line)))
    return np.column_stack([np.interp(wanted, along, line[:, c]) for c in range(2)])


@dataclass(frozen=True)
class Bins:
    """A picture's colours in bins of Lab.

    Attributes:
        centre: mean Lab of each bin's pixels (k, 3).
        count: pixels (k,).
        beyond: share of them beyond the limit (k,), 0 to 1.
    """

    centre: np.ndarray
    count: np.ndarray
    beyond: np.ndarray


def picture_bins(lab: np.ndarray, beyond: np.ndarray, size: float = BIN) -> Bins:
    """Bins of a picture (..., 3) with what is beyond (...); in no particular order."""
    flat, out = lab.reshape(-1, 3).astype(np.float64), beyond.ravel()
    cell = np.floor(flat / size).astype(np.int64)
    cell -= cell.min(axis=0)
    # one number a cell: rows would be compared under the interpreter's lock, for so long that the window stands
    _cells, place = np.unique(np.ravel_multi_index(tuple(cell.T), tuple(cell.max(axis=0) + 1)), return_inverse=True)
    count = np.bincount(place)
    centre = np.column_stack([np.bincount(place, flat[:, c]) / count for c in range(3)])
    return Bins(centre, count, np.bincount(place, out) / count)


def pixels_near(lab: np.ndarray, centre: np.ndarray, radius: float = BIN) -> np.ndarray:
    """Mask (...) of the pixels of Lab (..., 3) within some ΔE*ab (CIE 1976) of a colour (3,)."""
    return np.asarray(np.linalg.norm(lab - np.asarray(centre, dtype=np.float32), axis=-1) <= radius)


def seen_from(lab: np.ndarray, turn: float, tilt: float) -> np.ndarray:
    """Lab (..., 3) as seen from a side, without perspective.

    Args:
        turn: degrees about the axis of lightness; at 0 a* points to the right and b* away.
        tilt: degrees from which it is looked down upon; 0 is level, 90 from above (a slice's view).

    Returns:
        (..., 3): right, up, away, in Lab units from L* 50 on the neutral axis.
    """
    theta, phi = np.radians(turn), np.radians(tilt)
    lift, a, b = lab[..., 0] - _MIDDLE, lab[..., 1], lab[..., 2]
    right, away = a * np.cos(theta) + b * np.sin(theta), b * np.cos(theta) - a * np.sin(theta)
    return np.stack([right, lift * np.cos(phi) + away * np.sin(phi), away * np.cos(phi) - lift * np.sin(phi)], axis=-1)
