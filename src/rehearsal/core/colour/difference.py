"""CIEDE2000 colour difference.

Sharma, Wu, Dalal, "The CIEDE2000 color-difference formula", Color Res. Appl. 30(1), 2005,
equations 2 to 22; kL = kC = kH = 1.
"""

from __future__ import annotations

import math

import numpy as np

from rehearsal.core.work.kernels import kernel
from rehearsal.core.work.pool import in_slices

_POW25_7 = 25.0**7
_RAD = math.pi / 180.0
_COS6, _SIN6 = math.cos(6.0 * _RAD), math.sin(6.0 * _RAD)
_COS30, _SIN30 = math.cos(30.0 * _RAD), math.sin(30.0 * _RAD)
_COS63, _SIN63 = math.cos(63.0 * _RAD), math.sin(63.0 * _RAD)
_COS275, _SIN275 = math.cos(275.0 * _RAD), math.sin(275.0 * _RAD)


@kernel
def _seventh(x):  # type: ignore[no-untyped-def]
    square = x * x
    return square * square * square * x


@kernel
def _mean_hue(p1, b1, p2, b2, c1, c2):  # type: ignore[no-untyped-def]
    """Cosine and sine of the mean hue (equation 14): the direction half-way between, on the shorter arc."""
    x, y = p1 * c2 + p2 * c1, b1 * c2 + b2 * c1
    length = math.sqrt(x * x + y * y)
    if length > 1e-12 * c1 * c2:
        return x / length, y / length
    h1, h2 = math.atan2(b1, p1), math.atan2(b2, p2)  # opposite hues: the mean of the two angles from 0 to 360
    h1, h2 = (h1 + 2.0 * math.pi if h1 < 0.0 else h1), (h2 + 2.0 * math.pi if h2 < 0.0 else h2)
    return math.cos(0.5 * (h1 + h2)), math.sin(0.5 * (h1 + h2))


@kernel
def _hue_weight(x, y):  # type: ignore[no-untyped-def]
    """T (equation 15) of a mean hue given by its cosine and sine, by the rules for multiple angles."""
    x2, y2 = x * x - y * y, 2.0 * x * y
    x3, y3 = x2 * x - y2 * y, x2 * y + y2 * x
    x4, y4 = x2 * x2 - y2 * y2, 2.0 * x2 * y2
    return (
        1.0
        - 0.17 * (x * _COS30 + y * _SIN30)
        + 0.24 * x2
        + 0.32 * (x3 * _COS6 - y3 * _SIN6)
        - 0.20 * (x4 * _COS63 + y4 * _SIN63)
    )


@kernel
def _hue_step(p1, b1, p2, b2, both):  # type: ignore[no-untyped-def]
    """ΔH′ (equation 11): twice the root of C′₁C′₂ times the sine of half the hue difference, without losing digits."""
    dot, cross = p1 * p2 + b1 * b2, p1 * b2 - p2 * b1
    if dot >= 0.0:
        return cross / math.sqrt(0.5 * (both + dot))
    step = math.sqrt(2.0 * (both - dot))
    return -step if cross < 0.0 else step


@kernel
def _rotation(x, y, cm):  # type: ignore[no-untyped-def]
    """R_T (equations 16, 17, 21): only blues have one; from 0° on the formula counts hue as far from 275°."""
    near = x * _COS275 + y * _SIN275
    if near < -0.45:
        return 0.0
    turn = math.atan2(y * _COS275 - x * _SIN275, near) / (25.0 * _RAD)
    if turn > 85.0 / 25.0:
        return 0.0
    cm7 = _seventh(cm)
    return -2.0 * math.sqrt(cm7 / (cm7 + _POW25_7)) * math.sin(60.0 * _RAD * math.exp(-turn * turn))


@kernel
def ciede_parts(L1, a1, b1, L2, a2, b2):  # type: ignore[no-untyped-def]
    """Scaled lightness, chroma and hue terms and the rotation factor (equation 22 before squaring and summing).

    Angles are kept as cosine and sine, which gives the same numbers as the equations in half the time.
    """
    c_mean = 0.5 * (math.sqrt(a1 * a1 + b1 * b1) + math.sqrt(a2 * a2 + b2 * b2))
    c7 = _seventh(c_mean)
    g = 1.5 - 0.5 * math.sqrt(c7 / (c7 + _POW25_7))
    p1, p2 = a1 * g, a2 * g
    c1, c2 = math.sqrt(p1 * p1 + b1 * b1), math.sqrt(p2 * p2 + b2 * b2)
    lm, cm, both = 0.5 * (L1 + L2) - 50.0, 0.5 * (c1 + c2), c1 * c2
    l50 = lm * lm
    tl, tc = (L2 - L1) / (1.0 + 0.015 * l50 / math.sqrt(20.0 + l50)), (c2 - c1) / (1.0 + 0.045 * cm)
    if both == 0.0:
        return tl, tc, 0.0, 0.0
    x, y = _mean_hue(p1, b1, p2, b2, c1, c2)
    th = _hue_step(p1, b1, p2, b2, both) / (1.0 + 0.015 * cm * _hue_weight(x, y))
    return tl, tc, th, _rotation(x, y, cm)


@kernel
def ciede(L1, a1, b1, L2, a2, b2):  # type: ignore[no-untyped-def]
    """One CIEDE2000 difference."""
    tl, tc, th, rt = ciede_parts(L1, a1, b1, L2, a2, b2)
    return math.sqrt(max(tl * tl + tc * tc + th * th + rt * tc * th, 0.0))


@kernel
def _difference_rows(one, two, out):  # type: ignore[no-untyped-def]
    for i in range(one.shape[0]):
        L1, a1, b1 = np.float64(one[i, 0]), np.float64(one[i, 1]), np.float64(one[i, 2])
        L2, a2, b2 = np.float64(two[i, 0]), np.float64(two[i, 1]), np.float64(two[i, 2])
        out[i] = ciede(L1, a1, b1, L2, a2, b2)


def delta_e_2000(lab1: np.ndarray, lab2: np.ndarray) -> np.ndarray:
    """ΔE₀₀ of two broadcastable Lab arrays (..., 3); result (...) in float64 (float32 for float32 input)."""
    kind = np.float32 if np.asarray(lab1).dtype == np.float32 == np.asarray(lab2).dtype else np.float64
    one, two = np.broadcast_arrays(np.asarray(lab1, dtype=kind), np.asarray(lab2, dtype=kind))
    flat1, flat2 = np.ascontiguousarray(one).reshape(-1, 3), np.ascontiguousarray(two).reshape(-1, 3)
    out = np.empty(len(flat1), dtype=kind)
    in_slices(len(flat1), lambda s: _difference_rows(flat1[s], flat2[s], out[s]))
    return out.reshape(one.shape[:-1])


@kernel
def ciede_split(L1, a1, b1, L2, a2, b2):  # type: ignore[no-untyped-def]
    """Lightness part and colour part of one squared CIEDE2000 difference."""
    tl, tc, th, rt = ciede_parts(L1, a1, b1, L2, a2, b2)
    return tl * tl, tc * tc + th * th + rt * tc * th
