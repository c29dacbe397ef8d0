"""What the adjustments do to colours of a working space; they map the space into itself.

Tone is a curve on L*(Y) applied as one gain to all linear channels, so hue and saturation stay put.
Warmth moves the white along the daylight locus (CIE 15:2018, 4.1.2) with Bradford and keeps Y.
Strength scales Oklab chroma. What would leave the cube is mixed with the grey of its own luminance.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from rehearsal.core.colour.lab import lightness_to_y, y_to_lightness
from rehearsal.core.colour.oklab import oklab_to_xyz, xyz_to_oklab
from rehearsal.core.icc.standard import WHITE_D50, bradford, xy_to_xyz
from rehearsal.core.picture.space import MasterSpace
from rehearsal.core.values.adjustments import Values
from rehearsal.core.work.once import once

_MIDDLE_GREY = 0.18
_D50_KELVIN = 5003.0
_STEPS = 1024


def daylight_white(kelvin: float) -> np.ndarray:
    """XYZ (3,) with Y = 1 of CIE daylight between 4000 and 25000 K."""
    t = kelvin
    if t <= 7000:
        x = -4.6070e9 / t**3 + 2.9678e6 / t**2 + 0.09911e3 / t + 0.244063
    else:
        x = -2.0064e9 / t**3 + 1.9018e6 / t**2 + 0.24748e3 / t + 0.237040
    return xy_to_xyz(x, -3.000 * x * x + 2.870 * x - 0.275)


def tone_curve(values: Values) -> np.ndarray:
    """L* out (1025,) for L* in from 0 to 100 at equal steps; rises everywhere, ends held."""
    x = np.linspace(0, 1, _STEPS + 1)
    y = lightness_to_y(x * 100)
    target = _MIDDLE_GREY * 2.0 ** values["lightness"]
    power = np.log(min(target, 0.95)) / np.log(_MIDDLE_GREY)
    x = y_to_lightness(y**power) / 100
    x = x + 0.8 * values["contrast"] / 50 * x * (1 - x) * (2 * x - 1)
    x = x + 1.1 * values["dark_half"] / 50 * x * (1 - x) ** 3
    x = x + 1.1 * values["light_half"] / 50 * x**3 * (1 - x)
    return np.clip(np.maximum.accumulate(x), 0, 1) * 100


def into_cube(linear: np.ndarray, luminance: np.ndarray) -> np.ndarray:
    """Mix with the grey of equal luminance just enough to be inside 0 to 1."""
    grey = np.clip(linear @ luminance, 0, 1)[..., None]
    colour = linear - grey
    with np.errstate(divide="ignore", invalid="ignore"):
        up = np.where(colour > 1e-12, (1 - grey) / colour, np.inf)
        down = np.where(colour < -1e-12, -grey / colour, np.inf)
    keep = np.clip(np.minimum(up, down).min(axis=-1, keepdims=True), 0, 1)
    return np.clip(grey + colour * keep, 0, 1)


class Applied:
    """Some rows of values ready to be applied in one RGB working space; each pixel takes one row.

    Args:
        rows: one for the whole picture, or one for each weight of its places.
        space: matrix RGB.
    """

    def __init__(self, rows: Sequence[Values], space: MasterSpace) -> None:
        self._rows, self._space = rows, space

    @once
    def _to_xyz(self) -> np.ndarray:
        return self._space.matrix * WHITE_D50[:, None]

    @once
    def _curves(self) -> np.ndarray:
        """(k, 1025)."""
        return np.stack([tone_curve(values) for values in self._rows])

    @once
    def _warmth(self) -> np.ndarray:
        """(k, 3, 3) on linear RGB."""
        back, white = np.linalg.inv(self._to_xyz), daylight_white(_D50_KELVIN)
        made = []
        for values in self._rows:
            mired = 1e6 / _D50_KELVIN + values["warmth"]
            made.append(back @ bradford(white, daylight_white(1e6 / mired)) @ self._to_xyz)
        return np.stack(made)

    def _toned(self, y: np.ndarray, which: np.ndarray | None) -> np.ndarray:
        """L* out (m,) of luminance (m,)."""
        place = y_to_lightness(y) * (_STEPS / 100)
        if which is None:
            return np.interp(place, np.arange(_STEPS + 1), self._curves[0])
        below = np.minimum(place.astype(np.intp), _STEPS - 1)
        low, high = self._curves[which, below], self._curves[which, below + 1]
        return np.asarray(low + (high - low) * (place - below))

    def linear(self, linear: np.ndarray, which: np.ndarray | None = None) -> np.ndarray:
        """Tuned linear RGB (m, 3) of linear RGB (m, 3), 0 to 1 both; ``which`` (m,) is each pixel's row, None the first."""
        luminance = self._to_xyz[1]
        out = np.asarray(linear, dtype=np.float64)
        y = np.clip(out @ luminance, 0, 1)
        out = out * (lightness_to_y(self._toned(y, which)) / np.maximum(y, 1e-7))[:, None]
        if any(values["warmth"] for values in self._rows):
            turned = out @ self._warmth[0].T if which is None else np.einsum("mij,mj->mi", self._warmth[which], out)
            out = turned * ((out @ luminance) / np.maximum(turned @ luminance, 1e-7))[:, None]
        if any(values["strength"] for values in self._rows):
            factor = 1 + np.array([values["strength"] for values in self._rows]) / 100
            lab = xyz_to_oklab(np.maximum(out, 0) @ self._to_xyz.T)
            lab[:, 1:] *= factor[0] if which is None else factor[which][:, None]
            out = oklab_to_xyz(lab) @ np.linalg.inv(self._to_xyz).T
        return into_cube(out, luminance)
