"""A print against what was planned: by tone, lighter or darker, warmer or cooler, its black, and how far it is moved."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np

from rehearsal.core.colour.lab import y_to_lightness
from rehearsal.core.icc.standard import WHITE_D50
from rehearsal.core.tuning.white import white_uv
from rehearsal.core.work.kernels import ndimage

#: Tones between these L* count for light and warmth: ends are paper and black, which have figures of their own.
_LOW, _HIGH = 20.0, 88.0
#: Only quiet colours tell the warmth: saturation a* and b* of XYZ ratios within this of grey.
_QUIET = 0.12
#: Prints are compared through so wide a blur, mm: a shift of the feed is not taken for a tone.
_BLUR_MM = 1.0
_BINS, _LEAST_PIXELS = 20, 40
_MIDDLE = 0.18


@dataclass(frozen=True, eq=False)
class PrintCompared:
    """What a print is beside its plan.

    Attributes:
        tones: (n, 2): L* of the plan, and L* of the print less it, where the picture has that tone.
        stops: lighter (below 0 darker) at 18 per cent; mired: warmer (below 0 cooler); both 0 where nothing can tell.
        black: L* of the print's darkest part; planned_black: of the plan's there.
        right, down: how far the picture is moved, mm as the sheet is fed.
    """

    tones: np.ndarray
    stops: float
    mired: float
    black: float
    planned_black: float
    right: float
    down: float


def compare_prints(planned: np.ndarray, printed: np.ndarray, white: np.ndarray, per_mm: float) -> PrintCompared:
    """Compare a print with its plan.

    Args:
        planned, printed: XYZ (h, w, 3), D50, perfect diffuser Y = 1, of the same page; white: XYZ (3,) of the bare paper.
        per_mm: pixels to the mm.
    """
    right, down = moved(planned[..., 1], printed[..., 1], per_mm)
    there = shift_back(printed, right * per_mm, down * per_mm)
    sigma = _BLUR_MM * per_mm
    one, two = (
        np.stack([ndimage.gaussian_filter(xyz[..., c], sigma, mode="nearest") for c in range(3)], axis=-1) for xyz in (planned, there)
    )  # fmt: skip
    inked = (
        ndimage.gaussian_filter((planned[..., 1] < white[1] * 0.985).astype(np.float32), sigma, mode="nearest") > 0.98
    )
    if not inked.any():
        return PrintCompared(np.empty((0, 2)), 0.0, 0.0, 0.0, 0.0, right, down)
    plan, print_ = one[inked], two[inked]
    light, seen = y_to_lightness(np.clip(plan[:, 1], 0, 1)), y_to_lightness(np.clip(print_[:, 1], 0, 1))
    darkest = light <= np.quantile(light, 0.002)
    return PrintCompared(
        _tones(light, seen), _stops(plan, print_, white, light), _mired(plan, print_, light), float(np.median(seen[darkest])),
        float(np.median(light[darkest])), right, down,
    )  # fmt: skip


def _tones(light: np.ndarray, seen: np.ndarray) -> np.ndarray:
    """Median difference in each twentieth of L* that has pixels enough."""
    edges = np.linspace(0, 100, _BINS + 1)
    rows = []
    for low, high in itertools.pairwise(edges):
        there = (light >= low) & (light < high)
        if there.sum() >= _LEAST_PIXELS:
            rows.append((float(np.median(light[there])), float(np.median(seen[there] - light[there]))))
    return np.array(rows) if rows else np.empty((0, 2))


def _stops(plan: np.ndarray, print_: np.ndarray, white: np.ndarray, light: np.ndarray) -> float:
    """By the curve of overall lightness, Y′ = gY / (1 + (g − 1)Y): g is the ratio of the odds Y / (1 − Y), and gives the stops at 18 %."""
    middle = (light > _LOW) & (light < _HIGH)
    if middle.sum() < _LEAST_PIXELS:
        return 0.0
    y, z = (np.clip(v[middle, 1] / white[1], 1e-4, 1 - 1e-4) for v in (plan, print_))
    gain = float(np.median((z / (1 - z)) / (y / (1 - y))))
    return float(np.log2(gain / (1 - _MIDDLE + _MIDDLE * gain)))


def _mired(plan: np.ndarray, print_: np.ndarray, light: np.ndarray) -> float:
    """Along daylight's locus (CIE 1960): where the print moves the quiet middle tones' white."""
    ratio = plan / np.maximum(plan[:, 1:2], 1e-6) / WHITE_D50
    quiet = (
        (light > _LOW) & (light < _HIGH) & (np.abs(ratio[:, 0] - 1) < _QUIET) & (np.abs(ratio[:, 2] - 1) < 2 * _QUIET)
    )
    if quiet.sum() < _LEAST_PIXELS:
        return 0.0
    moves = print_[quiet] / np.maximum(plan[quiet], 1e-6)
    x, y, z = WHITE_D50 * np.median(moves / np.maximum(moves[:, 1:2], 1e-6), axis=0)
    uv = np.array([4 * x, 6 * y]) / (x + 15 * y + 3 * z)
    along = white_uv(0.5, 0.0) - white_uv(-0.5, 0.0)
    return float((uv - white_uv(0.0, 0.0)) @ along / (along @ along))


def moved(planned: np.ndarray, printed: np.ndarray, per_mm: float) -> tuple[float, float]:
    """How far a print lies to the right of and below its plan, mm: the highest place of their cross-correlation, finer than a pixel.

    Args:
        planned, printed: luminance (h, w) of the same page.
    """
    one, two = (np.gradient(v - v.mean()) for v in (planned, printed))
    total = np.zeros(planned.shape)
    for a, b in zip(one, two, strict=True):
        total += np.fft.irfft2(np.fft.rfft2(b) * np.conj(np.fft.rfft2(a)), s=planned.shape)
    reach = round(8 * per_mm)
    near = np.fft.fftshift(total)
    row, column = near.shape[0] // 2, near.shape[1] // 2
    part = near[max(row - reach, 1) : row + reach + 1, max(column - reach, 1) : column + reach + 1]
    at = np.unravel_index(int(part.argmax()), part.shape)
    y, x = int(at[0]) + max(row - reach, 1), int(at[1]) + max(column - reach, 1)
    return (x - column + _between(near[y, x - 1 : x + 2])) / per_mm, (
        y - row + _between(near[y - 1 : y + 2, x])
    ) / per_mm


def _between(three: np.ndarray) -> float:
    """Where a parabola through three values is highest, from the middle one."""
    if len(three) < 3:
        return 0.0
    bend = three[0] - 2 * three[1] + three[2]
    return 0.0 if bend >= 0 else float(np.clip(0.5 * (three[0] - three[2]) / bend, -0.5, 0.5))


def shift_back(xyz: np.ndarray, right: float, down: float) -> np.ndarray:
    """A print (h, w, 3) moved back by so many pixels."""
    if abs(right) < 0.05 and abs(down) < 0.05:
        return xyz
    return np.stack([ndimage.shift(xyz[..., c], (-down, -right), order=1, mode="nearest") for c in range(3)], axis=-1)
