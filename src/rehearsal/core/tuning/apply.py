"""What a tuning does to colours of a working space; it maps the space into itself.

Tone is a curve on L*(Y) applied as one gain to all linear channels, so hue and saturation stay put.
Warmth moves the white along the daylight locus (CIE 15:2018, 4.1.2) with Bradford and keeps Y.
Strength scales Oklab chroma. What would leave the cube is mixed with the grey of its own luminance.
"""

from __future__ import annotations

import numpy as np

from rehearsal.core.colour.lab import lightness_to_y, y_to_lightness
from rehearsal.core.colour.oklab import oklab_to_xyz, xyz_to_oklab
from rehearsal.core.icc.standard import WHITE_D50, bradford, xy_to_xyz
from rehearsal.core.picture.reduce import encode_linear
from rehearsal.core.picture.space import MasterSpace
from rehearsal.core.tuning.values import Tuning
from rehearsal.core.work.once import once
from rehearsal.core.work.pool import in_slices

_MIDDLE_GREY = 0.18
_D50_KELVIN = 5003.0
_ROWS = 1 << 18


def daylight_white(kelvin: float) -> np.ndarray:
    """XYZ (3,) with Y = 1 of CIE daylight between 4000 and 25000 K."""
    t = kelvin
    if t <= 7000:
        x = -4.6070e9 / t**3 + 2.9678e6 / t**2 + 0.09911e3 / t + 0.244063
    else:
        x = -2.0064e9 / t**3 + 1.9018e6 / t**2 + 0.24748e3 / t + 0.237040
    return xy_to_xyz(x, -3.000 * x * x + 2.870 * x - 0.275)


def tone_curve(tuning: Tuning) -> np.ndarray:
    """L* out (1025,) for L* in from 0 to 100 at equal steps; rises everywhere, ends held."""
    x = np.linspace(0, 1, 1025)
    y = lightness_to_y(x * 100)
    target = _MIDDLE_GREY * 2.0 ** (tuning.lightness / 6)
    power = np.log(min(target, 0.95)) / np.log(_MIDDLE_GREY)
    x = y_to_lightness(y**power) / 100
    x = x + 0.8 * tuning.contrast / 50 * x * (1 - x) * (2 * x - 1)
    x = x + 1.1 * tuning.dark_half / 50 * x * (1 - x) ** 3
    x = x + 1.1 * tuning.light_half / 50 * x**3 * (1 - x)
    return np.clip(np.maximum.accumulate(x), 0, 1) * 100


def _into_cube(linear: np.ndarray, luminance: np.ndarray) -> np.ndarray:
    """Mix with the grey of equal luminance just enough to be inside 0 to 1."""
    grey = np.clip(linear @ luminance, 0, 1)[..., None]
    colour = linear - grey
    with np.errstate(divide="ignore", invalid="ignore"):
        up = np.where(colour > 1e-12, (1 - grey) / colour, np.inf)
        down = np.where(colour < -1e-12, -grey / colour, np.inf)
    keep = np.clip(np.minimum(up, down).min(axis=-1, keepdims=True), 0, 1)
    return np.clip(grey + colour * keep, 0, 1)


class TuningMap:
    """A tuning ready to be applied in one RGB working space."""

    def __init__(self, tuning: Tuning, space: MasterSpace) -> None:
        self.tuning, self.space = tuning, space

    @once
    def _to_xyz(self) -> np.ndarray:
        return self.space.matrix * WHITE_D50[:, None]

    @once
    def _curve(self) -> np.ndarray:
        return tone_curve(self.tuning)

    @once
    def _warmth(self) -> np.ndarray:
        """(3, 3) on linear RGB."""
        mired = 1e6 / _D50_KELVIN + self.tuning.warmth
        adapt = bradford(daylight_white(_D50_KELVIN), daylight_white(1e6 / mired))
        return np.linalg.inv(self._to_xyz) @ adapt @ self._to_xyz

    def linear(self, linear: np.ndarray) -> np.ndarray:
        """Tuned linear RGB (m, 3) of linear RGB (m, 3), 0 to 1 both."""
        luminance = self._to_xyz[1]
        out = np.asarray(linear, dtype=np.float64)
        y = np.clip(out @ luminance, 0, 1)
        wanted = lightness_to_y(np.interp(y_to_lightness(y), np.linspace(0, 100, 1025), self._curve))
        out = out * (wanted / np.maximum(y, 1e-7))[:, None]
        if self.tuning.warmth:
            turned = out @ self._warmth.T
            out = turned * ((out @ luminance) / np.maximum(turned @ luminance, 1e-7))[:, None]
        if self.tuning.strength:
            lab = xyz_to_oklab(np.maximum(out, 0) @ self._to_xyz.T)
            lab[:, 1:] *= 1 + self.tuning.strength / 100
            out = oklab_to_xyz(lab) @ np.linalg.inv(self._to_xyz).T
        return _into_cube(out, luminance)

    def values(self, values: np.ndarray) -> np.ndarray:
        """Tuned device values (m, 3), 0 to 1, of device values (for table nodes), to 16 bit."""
        if self.tuning.is_neutral:
            return np.asarray(values)
        codes = np.round(np.asarray(values) * 65535).astype(np.uint16)
        tables = self.space.linear
        linear = np.stack([tables[codes[:, c], c] for c in range(3)], axis=1)
        return encode_linear(self.linear(linear), tables) / 65535.0

    def pixels(self, pixels: np.ndarray) -> np.ndarray:
        """Tuned 16-bit pixels (h, w, 3), exactly."""
        if self.tuning.is_neutral:
            return pixels
        flat = np.ascontiguousarray(pixels).reshape(-1, 3)
        out = np.empty_like(flat)
        tables = self.space.linear

        def work(part: slice) -> None:
            for start in range(part.start, part.stop, _ROWS):
                piece = flat[start : min(start + _ROWS, part.stop)]
                linear = np.stack([tables[piece[:, c], c] for c in range(3)], axis=1)
                out[start : start + len(piece)] = encode_linear(self.linear(linear), tables)

        in_slices(len(flat), work)
        return out.reshape(pixels.shape)
