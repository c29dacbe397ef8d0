"""What the adjustments do to colours of a working space; they map the space into itself.

In this order, once per pixel: tone (``tone.py``), warmth and tint (``white.py``), strength and quiet colours in Oklab, and back
into the cube at the same Oklab lightness and hue.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from rehearsal.core.colour.lab import cube_root
from rehearsal.core.colour.oklab import LMS_FROM_XYZ, OKLAB_FROM_LMS
from rehearsal.core.icc.standard import WHITE_D50
from rehearsal.core.picture.reduce import code_of, inverse_curve
from rehearsal.core.picture.space import MasterSpace
from rehearsal.core.tuning.tone import STEPS, tone_curve
from rehearsal.core.tuning.white import white_shift
from rehearsal.core.values.adjustments import Values
from rehearsal.core.work.kernels import kernel
from rehearsal.core.work.once import once

#: Oklab chroma at which a quiet colour stops being one.
QUIET = 0.12
_TINY = 1e-7
#: Halvings of the chroma that is kept: finer than a 16-bit step.
_HALVINGS = 18
#: So many pixels are worked on at a time: they stay in the nearest cache.
_AT_A_TIME = 256


@kernel
def _l_star(y):  # type: ignore[no-untyped-def]
    return 116.0 * cube_root(y) - 16.0 if y > 216.0 / 24389.0 else 24389.0 / 27.0 * y


@kernel
def _y_of(lightness):  # type: ignore[no-untyped-def]
    f = (lightness + 16.0) / 116.0
    return f * f * f if f * f * f > 216.0 / 24389.0 else lightness * 27.0 / 24389.0


@kernel
def _tone_one(rgb, luminance, curves, row):  # type: ignore[no-untyped-def]
    """Tone of linear RGB in place: rgb' = k + rgb (Y' − k) / Y, so that a lifted black is grey."""
    y = min(max(luminance[0] * rgb[0] + luminance[1] * rgb[1] + luminance[2] * rgb[2], 0.0), 1.0)
    if not y > 0.0:  # also when it is no number
        y = 0.0
    place = _l_star(y) * (STEPS / 100.0)
    below = min(int(place), STEPS - 1)
    wanted = _y_of(curves[row, below] + (curves[row, below + 1] - curves[row, below]) * (place - below))
    black = _y_of(curves[row, 0])
    gain = (wanted - black) / max(y, _TINY)
    for c in range(3):
        rgb[c] = black + rgb[c] * gain


@kernel
def _white_one(rgb, luminance, matrices, most, row):  # type: ignore[no-untyped-def]
    """Warmth and tint of linear RGB in place, at constant Y but for what keeps a neutral inside."""
    y = luminance[0] * rgb[0] + luminance[1] * rgb[1] + luminance[2] * rgb[2]
    r = matrices[row, 0, 0] * rgb[0] + matrices[row, 0, 1] * rgb[1] + matrices[row, 0, 2] * rgb[2]
    g = matrices[row, 1, 0] * rgb[0] + matrices[row, 1, 1] * rgb[1] + matrices[row, 1, 2] * rgb[2]
    b = matrices[row, 2, 0] * rgb[0] + matrices[row, 2, 1] * rgb[1] + matrices[row, 2, 2] * rgb[2]
    share = y / max(luminance[0] * r + luminance[1] * g + luminance[2] * b, _TINY)
    share /= 1.0 + (most[row] - 1.0) * y * y
    rgb[0], rgb[1], rgb[2] = r * share, g * share, b * share


@kernel
def _product(matrix, v, out):  # type: ignore[no-untyped-def]
    for i in range(3):
        out[i] = matrix[i, 0] * v[0] + matrix[i, 1] * v[1] + matrix[i, 2] * v[2]


@kernel
def _to_oklab(rgb, to_lms, cones, lab):  # type: ignore[no-untyped-def]
    _product(to_lms, rgb, cones)
    for i in range(3):
        cones[i] = cube_root(cones[i])
    _product(OKLAB_FROM_LMS, cones, lab)


@kernel
def _is_inside(rgb):  # type: ignore[no-untyped-def]
    return min(rgb[0], rgb[1], rgb[2]) >= -_TINY and max(rgb[0], rgb[1], rgb[2]) <= 1.0 + _TINY


@kernel
def _strength_one(lab, strength, quiet):  # type: ignore[no-untyped-def]
    """C (1 + s), then C (1 + q exp(−(C / 0.12)²)), of Oklab in place."""
    lab[1] *= 1.0 + strength
    lab[2] *= 1.0 + strength
    if quiet != 0.0:
        more = 1.0 + quiet * math.exp(-(lab[1] * lab[1] + lab[2] * lab[2]) / (QUIET * QUIET))
        lab[1] *= more
        lab[2] *= more


@kernel
def _at_chroma(cubes, t, rgb):  # type: ignore[no-untyped-def]
    for c in range(3):
        rgb[c] = cubes[c, 0] + t * (cubes[c, 1] + t * (cubes[c, 2] + t * cubes[c, 3]))


@kernel
def _fit_one(lab, back, from_lms, cubes, rgb):  # type: ignore[no-untyped-def]
    """RGB of Oklab: lightness clamped, the largest chroma that stays inside, the hue kept.

    Along the chroma each channel is a cubic: its coefficients (3, 4) are worked out once.
    """
    lightness = min(max(lab[0], 0.0), 1.0)
    cubes[:] = 0.0
    for i in range(3):
        v, d = back[i, 0] * lightness, back[i, 1] * lab[1] + back[i, 2] * lab[2]
        for c in range(3):
            m = from_lms[c, i]
            cubes[c, 0] += m * v * v * v
            cubes[c, 1] += m * 3.0 * v * v * d
            cubes[c, 2] += m * 3.0 * v * d * d
            cubes[c, 3] += m * d * d * d
    _at_chroma(cubes, 1.0, rgb)
    if _is_inside(rgb):
        return
    low, high = 0.0, 1.0
    for _ in range(_HALVINGS):
        middle = 0.5 * (low + high)
        _at_chroma(cubes, middle, rgb)
        if _is_inside(rgb):
            low = middle
        else:
            high = middle
    _at_chroma(cubes, low, rgb)


@kernel
def _tune_rows(linear, which, luminance, curves, toned, whites, most, turned, amounts, to_lms, from_lms, back, out):  # type: ignore[no-untyped-def]
    rgb, lab, cones, cubes = np.empty(3), np.empty(3), np.empty(3), np.empty((3, 4))
    for n in range(linear.shape[0]):
        row = which[n] if which.shape[0] else 0
        for c in range(3):
            rgb[c] = linear[n, c]
        if toned[row]:
            _tone_one(rgb, luminance, curves, row)
        if turned[row]:
            _white_one(rgb, luminance, whites, most, row)
        stronger = amounts[row, 0] != 0.0 or amounts[row, 1] != 0.0
        if stronger or not _is_inside(rgb):
            _to_oklab(rgb, to_lms, cones, lab)
            if stronger:
                _strength_one(lab, amounts[row, 0], amounts[row, 1])
            _fit_one(lab, back, from_lms, cubes, rgb)
        for c in range(3):
            out[n, c] = min(max(rgb[c], 0.0), 1.0)


@kernel
def _tune_codes(codes, which, light, backs, luminance, curves, toned, whites, most, turned, amounts, to_lms, from_lms, back, out):  # type: ignore[no-untyped-def]  # fmt: skip
    """Tuned RGB16 of RGB16 (m, 3), some at a time: ``light`` the curves of the channels, ``backs`` their inverses."""
    red, green, blue = light
    linear, tuned = np.empty((_AT_A_TIME, 3)), np.empty((_AT_A_TIME, 3))
    for start in range(0, codes.shape[0], _AT_A_TIME):
        count = min(_AT_A_TIME, codes.shape[0] - start)
        for n in range(count):
            linear[n, 0] = red[codes[start + n, 0]]
            linear[n, 1] = green[codes[start + n, 1]]
            linear[n, 2] = blue[codes[start + n, 2]]
        rows = which[start : start + count] if which.shape[0] else which
        _tune_rows(
            linear[:count], rows, luminance, curves, toned, whites, most, turned, amounts, to_lms, from_lms, back, tuned
        )
        for n in range(count):
            for c in range(3):
                out[start + n, c] = code_of(tuned[n, c], backs[c])


_TONE = ("lightness", "deepest", "contrast", "dark_half", "light_half", "lightest")


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
    def _tones(self) -> tuple[np.ndarray, np.ndarray]:
        """(k, 4097) curves on L*, and which of them change anything (k,)."""
        kinds: dict[tuple[float, ...], np.ndarray] = {}
        keys = [tuple(values[name] for name in _TONE) for values in self._rows]
        for key, values in zip(keys, self._rows, strict=True):
            if key not in kinds:
                kinds[key] = tone_curve(values)
        return np.stack([kinds[key] for key in keys]), np.array([any(key) for key in keys])

    @once
    def _whites(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """(k, 3, 3) on linear RGB, the shifted whites' largest channels (k,), and which of them change anything (k,)."""
        made = [white_shift(values, self._to_xyz) for values in self._rows]
        acts = np.array([bool(values["warmth"] or values["tint"]) for values in self._rows])
        return np.stack([m for m, _n in made]), np.array([n for _m, n in made]), acts

    @once
    def _amounts(self) -> np.ndarray:
        """(k, 2): strength and quiet colours as shares."""
        return np.array([[values["strength"], values["quiet"]] for values in self._rows]) / 100

    @once
    def _parts(self) -> tuple[np.ndarray, ...]:
        """What the loops want to know, in their order."""
        to_lms = LMS_FROM_XYZ @ self._to_xyz
        ways = (to_lms, np.linalg.inv(to_lms), np.linalg.inv(OKLAB_FROM_LMS))
        return (np.ascontiguousarray(self._to_xyz[1]), *self._tones, *self._whites, self._amounts, *ways)

    def linear(self, linear: np.ndarray, which: np.ndarray | None = None) -> np.ndarray:
        """Tuned linear RGB (m, 3) of linear RGB (m, 3), 0 to 1 both; ``which`` (m,) is each pixel's row, None the first."""
        given = np.ascontiguousarray(linear, dtype=np.float64)
        out = np.empty_like(given)
        _tune_rows(given, _each_row(which), *self._parts, out)
        return out

    def codes(self, codes: np.ndarray, which: np.ndarray | None = None) -> np.ndarray:
        """The same for 16-bit RGB (m, 3)."""
        given = np.ascontiguousarray(codes)
        out = np.empty_like(given)
        backs = tuple(inverse_curve(curve) for curve in self._space.curves)
        _tune_codes(given, _each_row(which), self._space.curves, backs, *self._parts, out)
        return out


def _each_row(which: np.ndarray | None) -> np.ndarray:
    return np.empty(0, np.int64) if which is None else np.ascontiguousarray(which, dtype=np.int64)
