"""The tone of a recipe: overall lightness, the two ends, contrast and the two halves, free points, as one curve on L*."""

from __future__ import annotations

import numpy as np

from rehearsal.core.colour.lab import lightness_to_y, y_to_lightness
from rehearsal.core.values.adjustments import Values

#: Reflectance that a stop of lightness moves by exactly a stop.
MIDDLE_GREY = 0.18
STEPS = 4096
#: What a step of contrast or of a half moves the quarters by, as a share of their half of the scale: 50 steps move it by 0.15.
_HANDLE = 0.003


def lighter(y: np.ndarray, stops: float) -> np.ndarray:
    """Luminance (...) made lighter: y' = g y / (1 + (g − 1) y), exact at 18 %, black and white held, slope g in the depths.

    g = 2^s (1 − m) / (1 − m 2^s), m = 0.18; a power of y would throw the depths up (L* 2 to 18.5 at one stop).
    """
    gain = 2.0**stops
    g = gain * (1 - MIDDLE_GREY) / (1 - MIDDLE_GREY * gain)
    return np.asarray(g * y / (1 + (g - 1) * y))


def pulled(values: Values) -> tuple[float, float]:
    """L* that become black and white: 0 and 100 where no end is pulled in."""
    return max(0.0, -values["deepest"]), 100.0 - max(0.0, values["lightest"])


def handles(values: Values) -> np.ndarray:
    """L* (5,) that 0, 25, 50, 75 and 100 become: ends let out, contrast and halves."""
    black, white = max(0.0, values["deepest"]), min(0.0, values["lightest"])
    low = 0.5 + _HANDLE * (values["dark_half"] - values["contrast"])
    high = 0.5 + _HANDLE * (values["light_half"] + values["contrast"])
    return np.array([black, black + (50 - black) * low, 50.0, 50 + (50 + white) * high, 100 + white])


def monotone(x: np.ndarray, knots: np.ndarray, heights: np.ndarray) -> np.ndarray:
    """Cubic Hermite curve (...) through rising knots (k,), rising as they do.

    Interior slopes are the harmonic mean of the neighbouring secants (Fritsch and Butland 1984), at most twice the smaller of them, so
    that it rises for unequal steps too; end slopes the end secants: a straight line stays one, to the last bit.
    """
    run, rise = np.diff(knots), np.diff(heights)
    secant = rise / run
    inner = 2 * secant[:-1] * secant[1:] / np.maximum(secant[:-1] + secant[1:], 1e-12)
    slope = np.concatenate([secant[:1], inner, secant[-1:]])
    at = np.clip(np.searchsorted(knots, x, side="right") - 1, 0, len(run) - 1)
    t, h = (x - knots[at]) / run[at], run[at]
    bend = (slope[at] + slope[at + 1] - 2 * secant[at]) * t + 3 * secant[at] - 2 * slope[at] - slope[at + 1]
    made = heights[at] + h * t * (slope[at] + t * bend)
    return np.asarray(np.where(x == knots[-1], heights[-1], made))


_KNOTS = np.array([0.0, 25.0, 50.0, 75.0, 100.0])
#: Least slope between two free points.
_LEAST = 0.1


def free_curve(values: Values) -> tuple[np.ndarray, np.ndarray]:
    """Knots and heights (k,) of the free points with 0 and 100, moved so far that each secant is at least 0.1."""
    knots = np.array([0.0, *(p.at for p in values.points), 100.0])
    heights = np.array([0.0, *(p.to for p in values.points), 100.0])
    for i in range(1, len(knots) - 1):
        heights[i] = max(heights[i], heights[i - 1] + _LEAST * (knots[i] - knots[i - 1]))
    for i in range(len(knots) - 2, 0, -1):
        heights[i] = min(heights[i], heights[i + 1] - _LEAST * (knots[i + 1] - knots[i]))
    return knots, heights


def tone(lightness: np.ndarray, values: Values) -> np.ndarray:
    """L* out (...) of L* in, 0 to 100."""
    out = np.asarray(lightness, dtype=np.float64)
    if values["lightness"]:
        out = y_to_lightness(lighter(lightness_to_y(out), values["lightness"]))
    low, high = pulled(values)
    if (low, high) != (0.0, 100.0):
        out = np.clip(100 * (out - low) / (high - low), 0, 100)
    heights = handles(values)
    out = out if np.array_equal(heights, _KNOTS) else np.clip(monotone(out, _KNOTS, heights), 0, 100)
    return np.clip(monotone(out, *free_curve(values)), 0, 100) if values.points else out


def luminance_curve(values: Values) -> np.ndarray:
    """Luminance out (4097,), 0 to 1, of luminances whose square roots stand at equal steps from 0 to 1."""
    return lightness_to_y(tone(y_to_lightness(np.linspace(0, 1, STEPS + 1) ** 2), values))


def cut_shares(lightness: np.ndarray, values: Values) -> tuple[float, float]:
    """Per cent of L* (...) that an end pulled in makes plain black, and plain white."""
    low, high = pulled(values)
    lit = y_to_lightness(lighter(lightness_to_y(lightness), values["lightness"]))
    below = float((lit <= low).mean() * 100) if low > 0 else 0.0
    above = float((lit >= high).mean() * 100) if high < 100 else 0.0
    return below, above
