"""What the adjustments do to colours of a working space; they map the space into itself.

In this order, once per pixel: tone (``tone.py``), warmth and tint (``white.py``), strength, quiet and pulled colours in Oklab, and back
into the cube at the same Oklab lightness and hue.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from rehearsal.core.colour.lab import cube_root
from rehearsal.core.colour.oklab import LMS_FROM_XYZ, OKLAB_FROM_LMS
from rehearsal.core.icc.standard import WHITE_D50
from rehearsal.core.picture.space import MasterSpace, code_of
from rehearsal.core.tuning.tone import STEPS, luminance_curve
from rehearsal.core.tuning.white import white_shift
from rehearsal.core.values.adjustments import Values
from rehearsal.core.work.kernels import kernel
from rehearsal.core.work.once import once

#: Oklab chroma at which a quiet colour stops being one, and from which on a colour is pulled in full: greys are none.
QUIET = 0.12
_COLOURFUL = 0.04
#: exp(−(C / 0.12)²) at equal steps of C², straight between them within 8e-6, to where it is 1e-7 and no more.
_BELL_END, _BELL_SPAN = 2048, 0.232
_BELL_STEP = _BELL_END / _BELL_SPAN
_BELL = np.exp(-np.arange(_BELL_END + 1) / _BELL_STEP / QUIET**2)
_TINY = 1e-7
#: A tone that moves luminance by no more than what rounding leaves behind moves nothing.
_STILL = 1e-12
#: No hue in degrees.
_UNKNOWN = 1e9
#: The search for the chroma that stays inside ends this near the edge, finer than a 16-bit step, or after so many steps.
_NEAR, _STEPS = 2e-6, 40
#: So many pixels are worked on at a time: they stay in the nearest cache.
_AT_A_TIME = 256


@kernel
def _tone_one(r, g, b, luminance, curves, row):  # type: ignore[no-untyped-def]
    """Tone of linear RGB: rgb' = k + rgb (Y' − k) / Y, so that a lifted black is grey."""
    y = min(max(luminance[0] * r + luminance[1] * g + luminance[2] * b, 0.0), 1.0)
    if not y > 0.0:  # also when it is no number
        y = 0.0
    place = math.sqrt(y) * STEPS
    below = min(int(place), STEPS - 1)
    wanted = curves[row, below] + (curves[row, below + 1] - curves[row, below]) * (place - below)
    black = curves[row, 0]
    gain = (wanted - black) / max(y, _TINY)
    return black + r * gain, black + g * gain, black + b * gain


@kernel
def _white_one(r, g, b, luminance, matrices, most, row):  # type: ignore[no-untyped-def]
    """Warmth and tint of linear RGB, at constant Y but for what keeps a neutral inside."""
    y = luminance[0] * r + luminance[1] * g + luminance[2] * b
    red = matrices[row, 0, 0] * r + matrices[row, 0, 1] * g + matrices[row, 0, 2] * b
    green = matrices[row, 1, 0] * r + matrices[row, 1, 1] * g + matrices[row, 1, 2] * b
    blue = matrices[row, 2, 0] * r + matrices[row, 2, 1] * g + matrices[row, 2, 2] * b
    share = y / max(luminance[0] * red + luminance[1] * green + luminance[2] * blue, _TINY)
    share /= 1.0 + (most[row] - 1.0) * y * y
    return red * share, green * share, blue * share


@kernel
def _to_oklab(r, g, b, to_lms):  # type: ignore[no-untyped-def]
    one = cube_root(to_lms[0, 0] * r + to_lms[0, 1] * g + to_lms[0, 2] * b)
    two = cube_root(to_lms[1, 0] * r + to_lms[1, 1] * g + to_lms[1, 2] * b)
    three = cube_root(to_lms[2, 0] * r + to_lms[2, 1] * g + to_lms[2, 2] * b)
    return (
        OKLAB_FROM_LMS[0, 0] * one + OKLAB_FROM_LMS[0, 1] * two + OKLAB_FROM_LMS[0, 2] * three,
        OKLAB_FROM_LMS[1, 0] * one + OKLAB_FROM_LMS[1, 1] * two + OKLAB_FROM_LMS[1, 2] * three,
        OKLAB_FROM_LMS[2, 0] * one + OKLAB_FROM_LMS[2, 1] * two + OKLAB_FROM_LMS[2, 2] * three,
    )


@kernel
def _leaves(r, g, b):  # type: ignore[no-untyped-def]
    """By how much RGB leaves the cube: at most 0 inside."""
    return max(-min(r, g, b), max(r, g, b) - 1.0) - _TINY


@kernel
def _stronger(a, b, strength, quiet):  # type: ignore[no-untyped-def]
    """C (1 + s), then C (1 + q exp(−(C / 0.12)²)), of Oklab's a and b."""
    a, b = a * (1.0 + strength), b * (1.0 + strength)
    if quiet != 0.0:
        place = (a * a + b * b) * _BELL_STEP
        if place < _BELL_END:
            below = int(place)
            more = 1.0 + quiet * (_BELL[below] + (_BELL[below + 1] - _BELL[below]) * (place - below))
            a, b = a * more, b * more
    return a, b


@kernel
def _window(away, width):  # type: ignore[no-untyped-def]
    """(1 + cos πt) / 2 of the distance over the width, nothing beyond."""
    t = abs(away) / width
    return 0.5 * (1.0 + math.cos(math.pi * t)) if t < 1.0 else 0.0


@kernel
def _pull_one(lightness, a, b, pulls, row, count):  # type: ignore[no-untyped-def]
    """Oklab with the pulls of a row, and whether any of them reached it; their weights together never count more than one."""
    chroma = math.sqrt(a * a + b * b)
    hue, rise = _UNKNOWN, 0.0
    total = lighter = stronger = turned = 0.0
    for i in range(count):
        far, wide = abs(lightness - pulls[row, i, 0]), abs(chroma - pulls[row, i, 1])
        along = a * pulls[row, i, 9] + b * pulls[row, i, 10]
        if far >= pulls[row, i, 6] or wide >= pulls[row, i, 7] or along <= chroma * pulls[row, i, 11]:
            continue  # outside its window: most pixels are, and need no angle
        if hue == _UNKNOWN:
            hue = math.degrees(math.atan2(b, a))
            rise = min(chroma / _COLOURFUL, 1.0)
            rise = rise * rise * (3.0 - 2.0 * rise)
        turn = (hue - pulls[row, i, 2] + 540.0) % 360.0 - 180.0
        weight = rise * _window(turn, pulls[row, i, 8])
        weight *= _window(wide, pulls[row, i, 7]) * _window(far, pulls[row, i, 6])
        total += weight
        lighter += weight * pulls[row, i, 3]
        stronger += weight * pulls[row, i, 4]
        turned += weight * pulls[row, i, 5]
    if total <= 0.0:
        return lightness, a, b, False
    share = 1.0 / max(1.0, total)
    wanted = max(chroma + share * stronger, 0.0)
    angle = math.radians(hue + share * turned)
    return lightness + share * lighter, wanted * math.cos(angle), wanted * math.sin(angle), True


@kernel
def _rgb_of_cones(one, two, three, from_lms):  # type: ignore[no-untyped-def]
    """Linear RGB of the cube roots of cone values."""
    one, two, three = one * one * one, two * two * two, three * three * three
    return (
        from_lms[0, 0] * one + from_lms[0, 1] * two + from_lms[0, 2] * three,
        from_lms[1, 0] * one + from_lms[1, 1] * two + from_lms[1, 2] * three,
        from_lms[2, 0] * one + from_lms[2, 1] * two + from_lms[2, 2] * three,
    )


@kernel
def _fit_one(lightness, a, b, back, from_lms):  # type: ignore[no-untyped-def]
    """RGB of Oklab: lightness clamped, the largest chroma that stays inside, the hue kept.

    Where the chroma has to give way it is found by false position (the Illinois rule), inside to the end.
    """
    lightness = min(max(lightness, 0.0), 1.0)
    v0, v1, v2 = back[0, 0] * lightness, back[1, 0] * lightness, back[2, 0] * lightness
    d0, d1, d2 = back[0, 1] * a + back[0, 2] * b, back[1, 1] * a + back[1, 2] * b, back[2, 1] * a + back[2, 2] * b
    red, green, blue = _rgb_of_cones(v0 + d0, v1 + d1, v2 + d2, from_lms)
    over = _leaves(red, green, blue)
    if over <= 0.0:
        return red, green, blue
    red, green, blue = _rgb_of_cones(v0, v1, v2, from_lms)
    low, high, under, side = 0.0, 1.0, min(_leaves(red, green, blue), -1e-12), 0
    for _ in range(_STEPS):
        share = low + (high - low) * under / (under - over)
        r, g, b = _rgb_of_cones(v0 + share * d0, v1 + share * d1, v2 + share * d2, from_lms)
        out = _leaves(r, g, b)
        if out > 0.0:
            high, over = share, out
            under, side = (0.5 * under if side > 0 else under), 1
        else:
            low, under = share, min(out, -1e-12)
            red, green, blue = r, g, b
            over, side = (0.5 * over if side < 0 else over), -1
            if out > -_NEAR:
                break
        if high - low < _NEAR:
            break
    return red, green, blue


@kernel
def _tune_rows(  # type: ignore[no-untyped-def]
    linear, which, luminance, curves, toned, whites, most, turned, amounts,
    pulls, pulled, to_lms, from_lms, back, out,
):  # fmt: skip
    for n in range(linear.shape[0]):
        row = which[n] if which.shape[0] else 0
        r, g, b = linear[n, 0], linear[n, 1], linear[n, 2]
        if toned[row]:
            r, g, b = _tone_one(r, g, b, luminance, curves, row)
        if turned[row]:
            r, g, b = _white_one(r, g, b, luminance, whites, most, row)
        strength, quiet = amounts[row, 0], amounts[row, 1]
        stronger = strength != 0.0 or quiet != 0.0
        outside = _leaves(r, g, b) > 0.0
        if stronger or outside or pulled[row] > 0:
            lightness, one, two = _to_oklab(r, g, b, to_lms)
            if stronger:
                one, two = _stronger(one, two, strength, quiet)
            moved = False
            if pulled[row] > 0:
                lightness, one, two, moved = _pull_one(lightness, one, two, pulls, row, pulled[row])
            if stronger or outside or moved:  # what no window reaches stays as it is, to the last bit
                r, g, b = _fit_one(lightness, one, two, back, from_lms)
        out[n, 0] = min(max(r, 0.0), 1.0)
        out[n, 1] = min(max(g, 0.0), 1.0)
        out[n, 2] = min(max(b, 0.0), 1.0)


@kernel
def _tune_codes(  # type: ignore[no-untyped-def]
    codes, which, light, backs, luminance, curves, toned, whites, most,
    turned, amounts, pulls, pulled, to_lms, from_lms, back, out,
):  # fmt: skip
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
            linear[:count],
            rows,
            luminance,
            curves,
            toned,
            whites,
            most,
            turned,
            amounts,
            pulls,
            pulled,
            to_lms,
            from_lms,
            back,
            tuned,
        )
        for n in range(count):
            for c in range(3):  # what did not move keeps its very code
                same = tuned[n, c] == linear[n, c]
                out[start + n, c] = codes[start + n, c] if same else code_of(tuned[n, c], backs[c])


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
        """(k, 4097) luminances out, and which of them change anything (k,)."""
        kinds: dict[object, np.ndarray] = {}
        keys = [(*(values[name] for name in _TONE), *values.points) for values in self._rows]
        for key, values in zip(keys, self._rows, strict=True):
            if key not in kinds:
                kinds[key] = luminance_curve(values)
        rest = luminance_curve(Values())
        acts = {key: bool(np.abs(curve - rest).max() > _STILL) for key, curve in kinds.items()}
        return np.stack([kinds[key] for key in keys]), np.array([acts[key] for key in keys])

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
    def _pulls(self) -> tuple[np.ndarray, np.ndarray]:
        """(k, m, 12) and how many of them each row has (k,).

        Each pull's centre, shift and width on lightness, chroma and hue; cosine and sine of its hue, cosine of its width.
        """
        acting = [[p for p in values.pulled if p.acts] for values in self._rows]
        counts = np.array([len(each) for each in acting], dtype=np.int64)
        made = np.ones((len(acting), max(int(counts.max(initial=0)), 1), 12))
        for row, each in enumerate(acting):
            for i, p in enumerate(each):
                hue, end = math.radians(p.hue), math.radians(min(p.widths[2], 180.0))
                ways = (math.cos(hue), math.sin(hue), math.cos(end))
                made[row, i] = (p.lightness, p.chroma, p.hue, p.lighter, p.stronger, p.turned, *p.widths, *ways)
        return made, counts

    @once
    def _parts(self) -> tuple[np.ndarray, ...]:
        """What the loops want to know, in their order."""
        to_lms = LMS_FROM_XYZ @ self._to_xyz
        ways = (to_lms, np.linalg.inv(to_lms), np.linalg.inv(OKLAB_FROM_LMS))
        return (np.ascontiguousarray(self._to_xyz[1]), *self._tones, *self._whites, self._amounts, *self._pulls, *ways)

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
        _tune_codes(given, _each_row(which), self._space.curves, self._space.inverses, *self._parts, out)
        return out


def _each_row(which: np.ndarray | None) -> np.ndarray:
    return np.empty(0, np.int64) if which is None else np.ascontiguousarray(which, dtype=np.int64)
