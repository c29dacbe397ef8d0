"""What a picture brings along: clipped lights and darks, sharpening already done, sizes it is good for."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.picture.reduce import wanted_ppi
from rehearsal.core.picture.space import MasterSpace
from rehearsal.core.work.kernels import ndimage

#: Overshoot at edges, as a share of the edge, from which a picture counts as sharpened, and up to which it does not; between
#: them nobody can tell. Open photographs as published have -0.02 to 0.06, after an unsharp mask of amount 1.5 and radius 1.5
#: pixels 0.08 to 0.23 (measured on 26 pictures with and without).
SHARPENED, PLAIN = 0.07, 0.03
_EDGE_HALF = 8
_EDGES = 4000
#: Fewer edges than these are texture rather than edges.
_LEAST_EDGES = 100
#: An edge that ends in clipped white or black (L*) has lost its halo, if it had one.
_WHITE, _BLACK = 97.0, 3.0
#: Finest detail at edges, 0.44 to 0.5 cycles per pixel against 0.03: enlarged pictures have 0.03 to 0.09, others 0.08 to 0.6
#: (measured); what the enlarging left at edges is no sharpening.
_ENLARGED = 0.085
#: More edges with a halo than this (share) and no halo in the middle of them: unclear.
_UNCLEAR = 0.42


@dataclass(frozen=True)
class Clipping:
    """Per cent of the pixels with all channels at their end (white, black), and with at least one (lights, darks)."""

    white: float
    black: float
    lights: float
    darks: float


def clipping(pixels: np.ndarray, step: int = 1) -> Clipping:
    """Clipped lights and darks of RGB or grey pixels (h, w, channels) uint16; every ``step``-th row and column counts.

    A value counts as clipped within half an 8-bit step of the end: exports of 8-bit files end there.
    """
    part = pixels[::step, ::step]
    high, low = part >= 65535 - 128, part <= 128
    return Clipping(*(float(m.mean() * 100) for m in (high.all(-1), low.all(-1), high.any(-1), low.any(-1))))


def edge_overshoot(lightness: np.ndarray, seed: int = 4) -> float | None:
    """Median overshoot beside strong edges as a share of their height, at full resolution; None where it cannot be told.

    Args:
        lightness: L* (h, w).

    Along a row through an edge, a sharpened picture runs past its level on both sides and comes back; a camera or
    a reduced picture does not. It cannot be told with too few edges, where they are clipped, or where the picture was enlarged.
    """
    m = _EDGE_HALF
    runs = _clear_edges(np.concatenate([_edge_runs(lightness, seed), _edge_runs(lightness.T, seed)]))
    if len(runs) < _LEAST_EDGES or _finest(runs) < _ENLARGED:
        return None
    low, high = _levels(runs)
    over = runs[:, m : m + 3].max(axis=1) - high
    under = low - runs[:, m - 3 : m].min(axis=1)
    found = (over + under) / 2 / (high - low)
    middle = float(np.median(found))
    return None if middle <= PLAIN and np.mean(found > PLAIN) > _UNCLEAR else middle


def is_sharpened(overshoot: float | None) -> bool | None:
    """Whether edges that overshoot so far were sharpened; None where it cannot be told."""
    if overshoot is None or PLAIN < overshoot < SHARPENED:
        return None
    return overshoot >= SHARPENED


def _levels(runs: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Levels (m,) before and after the edges of runs (m, 16)."""
    return np.median(runs[:, :4], axis=1), np.median(runs[:, -4:], axis=1)


def _clear_edges(runs: np.ndarray) -> np.ndarray:
    """Runs (m, 16), rising, through steep edges between two calm sides that are not clipped."""
    m = _EDGE_HALF
    runs = np.where((runs[:, -1] < runs[:, 0])[:, None], -runs, runs)
    low, high = _levels(runs)
    height = high - low
    good = (height > 12) & (runs[:, m + 1] - runs[:, m - 2] > 0.8 * height)
    good &= (np.std(runs[:, :4], axis=1) < 0.08 * height) & (np.std(runs[:, -4:], axis=1) < 0.08 * height)
    ends = np.sort(np.abs(np.stack([low, high])), axis=0)  # runs that fell are negative
    return np.asarray(runs[good & (ends[0] > _BLACK) & (ends[1] < _WHITE)])


def _finest(runs: np.ndarray) -> float:
    """Finest detail of edges (m, 16): amplitude at 0.44 to 0.5 cycles per pixel against that at 0.03, the median edge."""
    low, high = _levels(runs)
    spread = np.diff(runs, axis=1)[:, 3:-3] / (high - low)[:, None]
    power = np.median(np.abs(np.fft.rfft(spread, 32, axis=1)) ** 2, axis=0)
    return float(np.sqrt(power[14:].mean() / power[1]))


def _edge_runs(lightness: np.ndarray, seed: int) -> np.ndarray:
    """Rows of 2 × 8 values across strong upright edges (m, 16)."""
    h, w = lightness.shape
    if w < 4 * _EDGE_HALF or h < 4:
        return np.empty((0, 2 * _EDGE_HALF))
    slope = np.abs(np.diff(lightness, axis=1))
    inner = slope[:, _EDGE_HALF : w - _EDGE_HALF]
    peak = (inner > 5) & (inner >= ndimage.maximum_filter1d(inner, 5, axis=1))
    rows, columns = np.nonzero(peak)
    if len(rows) > _EDGES:
        keep = np.random.default_rng(seed).choice(len(rows), _EDGES, replace=False)
        rows, columns = rows[keep], columns[keep]
    first = columns + 1
    place = first[:, None] + np.arange(2 * _EDGE_HALF)
    return np.asarray(lightness[rows[:, None], place], dtype=np.float64)


def overshoot_of(pixels: np.ndarray, space: MasterSpace, side: int = 1400) -> float | None:
    """:func:`edge_overshoot` of the middle of a picture, at its own resolution."""
    h, w = pixels.shape[:2]
    y, x = max(0, (h - side) // 2), max(0, (w - side) // 2)
    return edge_overshoot(space.to_lab(np.ascontiguousarray(pixels[y : y + side, x : x + side]))[..., 0])


@dataclass(frozen=True)
class GoodFor:
    """Largest print with all the detail the eye can use at a distance, cm."""

    distance_cm: float
    width_cm: float
    height_cm: float


def good_for(width: int, height: int, distances: tuple[float, ...] = (30, 60, 100, 200)) -> list[GoodFor]:
    """Largest print sizes in cm of so many pixels, seen from some distances."""
    return [GoodFor(d, width / wanted_ppi(d) * 2.54, height / wanted_ppi(d) * 2.54) for d in distances]
