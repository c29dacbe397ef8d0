"""Warmth and tint: where the white goes, along daylight and across it."""

from __future__ import annotations

import numpy as np

from rehearsal.core.icc.standard import bradford, xy_to_xyz
from rehearsal.core.values.adjustments import Values

_D50_KELVIN = 5003.0
_D50_MIRED = 1e6 / _D50_KELVIN
#: The largest channel a shifted white may have at Y 1; up to 2 neutrals still rise everywhere.
MOST = 1.9


def daylight_xy(kelvin: float) -> tuple[float, float]:
    """Chromaticity of CIE daylight between 4000 and 25000 K (CIE 15:2018, 4.1.2)."""
    t = kelvin
    if t <= 7000:
        x = -4.6070e9 / t**3 + 2.9678e6 / t**2 + 0.09911e3 / t + 0.244063
    else:
        x = -2.0064e9 / t**3 + 1.9018e6 / t**2 + 0.24748e3 / t + 0.237040
    return x, -3.000 * x * x + 2.870 * x - 0.275


def _uv(mired: float) -> np.ndarray:
    """Daylight in the CIE 1960 diagram (2,)."""
    x, y = daylight_xy(1e6 / mired)
    return np.array([4 * x, 6 * y]) / (-2 * x + 12 * y + 3)


def white_uv(warmth: float, tint: float) -> np.ndarray:
    """CIE 1960 u, v (2,) of D50 daylight moved along its locus by ``warmth`` mired and across it by ``tint``.

    A mired of tint is as long in that diagram as a mired of daylight at D50; above 0 it goes towards magenta.
    """
    at = _uv(_D50_MIRED + warmth)
    if tint:
        along = _uv(_D50_MIRED + warmth + 0.5) - _uv(_D50_MIRED + warmth - 0.5)
        length = float(np.hypot(*(_uv(_D50_MIRED + 0.5) - _uv(_D50_MIRED - 0.5))))
        at = at + tint * length * np.array([along[1], -along[0]]) / np.hypot(*along)
    return at


def shifted_white(warmth: float, tint: float) -> np.ndarray:
    """XYZ (3,), Y = 1, of :func:`white_uv`."""
    u, v = white_uv(warmth, tint)
    return xy_to_xyz(3 * u / (2 * u - 8 * v + 4), 2 * v / (2 * u - 8 * v + 4))


def white_shift(values: Values, to_xyz: np.ndarray) -> tuple[np.ndarray, float]:
    """Matrix (3, 3) on linear RGB, and the largest channel of the shifted white at Y 1.

    Args:
        to_xyz: (3, 3) linear RGB to XYZ, D50, white Y = 1.
    """
    back, here = np.linalg.inv(to_xyz), shifted_white(0.0, 0.0)

    def made(tint: float) -> tuple[np.ndarray, float]:
        matrix = back @ bradford(here, shifted_white(values["warmth"], tint)) @ to_xyz
        turned = matrix @ np.ones(3)
        return matrix, float(turned.max() / (to_xyz[1] @ turned))

    share, found = 1.0, made(values["tint"])
    for _ in range(40):
        if found[1] <= MOST:
            break
        share *= 0.97
        found = made(values["tint"] * share)
    return found
