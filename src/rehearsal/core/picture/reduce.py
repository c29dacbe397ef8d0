"""Reductions in linear light, and the judging image.

A reduction averages the area each new pixel covers (an exact box filter with fractional edges), in
linear light, and encodes the mean again: what an eye at a distance does.
"""

from __future__ import annotations

import math

import numpy as np

from rehearsal.core.picture.space import MasterSpace, code_of
from rehearsal.core.work.kernels import kernel
from rehearsal.core.work.pool import in_slices

MAX_UNSIZED = 2_000_000
#: One minute of arc, the resolution of a good eye.
ONE_MINUTE = math.radians(1 / 60)


def wanted_ppi(distance_cm: float) -> float:
    """Pixels per inch an eye can use at a distance: 1 / (d · tan 1′)."""
    return 2.54 / (distance_cm * math.tan(ONE_MINUTE))


def sharp_from(ppi: float) -> float:
    """Distance in cm from which so many pixels an inch are all the eye can use: the other way of :func:`wanted_ppi`."""
    return wanted_ppi(1.0) / ppi


#: As near as people step to a print on a wall, in cm (common practice, no source); the other school takes 1.5 diagonals.
NEAR_CM = 60.0


def viewing_distance(width_cm: float, height_cm: float) -> float:
    """Usual viewing distance in cm: one and a half diagonals, 25 cm at the least (common practice, no source)."""
    return max(25.0, 1.5 * math.hypot(width_cm, height_cm))


@kernel
def _add_line(line, curve, channel, weight, sums):  # type: ignore[no-untyped-def]
    for x in range(line.shape[0]):
        sums[x] += weight * curve[line[x, channel]]


@kernel
def _average_columns(sums, area, back, channel, out):  # type: ignore[no-untyped-def]
    """Codes of one reduced line (width, channels) out of the sums of the full lines (w,), by box means and ``back``."""
    w, width = sums.shape[0], out.shape[0]
    sx = w / width
    for col in range(width):
        x0, x1 = col * sx, (col + 1) * sx
        left, right = int(x0), min(int(x1), w - 1)
        total = sums[left] * (min(left + 1.0, x1) - x0)
        for x in range(left + 1, right):
            total += sums[x]
        if right > left:
            total += sums[right] * (x1 - right)
        out[col, channel] = code_of(total / area, back)


@kernel
def _average_rows(pixels, curve, back, channel, first, height, out):  # type: ignore[no-untyped-def]
    """Area means of one channel for rows first... of the reduced picture into out (rows, width, channels) uint16."""
    h, w = pixels.shape[0], pixels.shape[1]
    sy, sx = h / height, w / out.shape[1]
    sums = np.empty(w)
    for row in range(out.shape[0]):
        y0, y1 = (first + row) * sy, (first + row + 1) * sy
        sums[:] = 0.0
        for y in range(int(y0), min(math.ceil(y1 - 1e-9), h)):
            _add_line(pixels[y], curve, channel, min(y1, y + 1.0) - max(y0, float(y)), sums)
        _average_columns(sums, sx * sy, back, channel, out[row])


@kernel
def _encode_rows(values, back, channel, out):  # type: ignore[no-untyped-def]
    for i in range(values.shape[0]):
        out[i, channel] = code_of(values[i, channel], back)


def encode_linear(values: np.ndarray, space: MasterSpace) -> np.ndarray:
    """16-bit codes of linear values (..., channels) by inverting the curves of their space."""
    flat = np.ascontiguousarray(values).reshape(-1, values.shape[-1])
    out = np.empty(flat.shape, dtype=np.uint16)
    backs = space.inverses

    def work(part: slice) -> None:
        for channel, back in enumerate(backs):
            _encode_rows(flat[part], back, channel, out[part])

    in_slices(len(flat), work)
    return out.reshape(values.shape)


def reduce_to(pixels: np.ndarray, space: MasterSpace, width: int, height: int) -> np.ndarray:
    """Reduced 16-bit picture (height, width, channels); never enlarged."""
    h, w = pixels.shape[:2]
    width, height = max(1, min(width, w)), max(1, min(height, h))
    if (width, height) == (w, h):
        return np.ascontiguousarray(pixels)
    made = np.empty((height, width, pixels.shape[2]), dtype=np.uint16)
    curves = space.curves
    backs = space.inverses

    def work(part: slice) -> None:
        for channel, (curve, back) in enumerate(zip(curves, backs, strict=True)):
            _average_rows(pixels, curve, back, channel, part.start, height, made[part])

    in_slices(height, work, small=8)
    return made


def fit_within(width: int, height: int, most: float) -> tuple[int, int]:
    """Size with the same proportions and at most so many pixels."""
    factor = min(1.0, math.sqrt(most / (width * height)))
    return max(1, round(width * factor)), max(1, round(height * factor))


def judging_size(
    width: int, height: int, print_cm: tuple[float, float] | None = None, distance_cm: float | None = None
) -> tuple[int, int]:
    """Pixels of the judging image.

    Args:
        width, height: pixels inside the crop.
        print_cm: printed width and height, or None when no size is set (then at most 2 megapixels).
        distance_cm: viewing distance; the usual one when None.
    """
    if print_cm is None:
        return fit_within(width, height, MAX_UNSIZED)
    ppi = wanted_ppi(distance_cm or viewing_distance(*print_cm))
    factor = min(1.0, print_cm[0] / 2.54 * ppi / width)
    return max(1, round(width * factor)), max(1, round(height * factor))
