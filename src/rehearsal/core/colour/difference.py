"""CIEDE2000 colour difference.

Sharma, Wu, Dalal, "The CIEDE2000 color-difference formula", Color Res. Appl. 30(1), 2005,
equations 2 to 22; kL = kC = kH = 1.
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from rehearsal.core.colour.pool import in_two_halves

_POW25_7 = 25.0**7
_RAD = math.pi / 180.0


@njit(cache=True, nogil=True)
def ciede_parts(L1, a1, b1, L2, a2, b2):  # type: ignore[no-untyped-def]
    """Scaled lightness, chroma and hue terms and the rotation factor (equation 22 before squaring and summing)."""
    c_mean = 0.5 * (math.sqrt(a1 * a1 + b1 * b1) + math.sqrt(a2 * a2 + b2 * b2))
    c7 = c_mean**7
    g = 1.5 - 0.5 * math.sqrt(c7 / (c7 + _POW25_7))
    p1, p2 = a1 * g, a2 * g
    c1, c2 = math.sqrt(p1 * p1 + b1 * b1), math.sqrt(p2 * p2 + b2 * b2)
    h1 = math.atan2(b1, p1) if c1 > 0.0 else 0.0
    h2 = math.atan2(b2, p2) if c2 > 0.0 else 0.0
    if h1 < 0.0:
        h1 += 2.0 * math.pi
    if h2 < 0.0:
        h2 += 2.0 * math.pi
    dh = h2 - h1
    hm = h1 + h2
    if c1 * c2 == 0.0:
        dh = 0.0
    else:
        if abs(h2 - h1) > math.pi:
            hm += 2.0 * math.pi if hm < 2.0 * math.pi else -2.0 * math.pi
        hm *= 0.5
        if dh > math.pi:
            dh -= 2.0 * math.pi
        elif dh < -math.pi:
            dh += 2.0 * math.pi
    lm, cm = 0.5 * (L1 + L2), 0.5 * (c1 + c2)
    t = (
        1.0
        - 0.17 * math.cos(hm - 30.0 * _RAD)
        + 0.24 * math.cos(2.0 * hm)
        + 0.32 * math.cos(3.0 * hm + 6.0 * _RAD)
        - 0.20 * math.cos(4.0 * hm - 63.0 * _RAD)
    )
    l50 = (lm - 50.0) * (lm - 50.0)
    sl = 1.0 + 0.015 * l50 / math.sqrt(20.0 + l50)
    sc = 1.0 + 0.045 * cm
    sh = 1.0 + 0.015 * cm * t
    turn = (hm / _RAD - 275.0) / 25.0
    cm7 = cm**7
    rt = -2.0 * math.sqrt(cm7 / (cm7 + _POW25_7)) * math.sin(60.0 * _RAD * math.exp(-turn * turn))
    return (L2 - L1) / sl, (c2 - c1) / sc, 2.0 * math.sqrt(c1 * c2) * math.sin(0.5 * dh) / sh, rt


@njit(cache=True, nogil=True)
def ciede(L1, a1, b1, L2, a2, b2):  # type: ignore[no-untyped-def]
    """One CIEDE2000 difference."""
    tl, tc, th, rt = ciede_parts(L1, a1, b1, L2, a2, b2)
    return math.sqrt(max(tl * tl + tc * tc + th * th + rt * tc * th, 0.0))


@njit(cache=True, nogil=True)
def _difference_rows(one, two, out):  # type: ignore[no-untyped-def]
    for i in range(one.shape[0]):
        out[i] = ciede(one[i, 0], one[i, 1], one[i, 2], two[i, 0], two[i, 1], two[i, 2])


def delta_e_2000(lab1: np.ndarray, lab2: np.ndarray) -> np.ndarray:
    """ΔE₀₀ of two broadcastable Lab arrays (..., 3); result (...) in float64 (float32 for float32 input)."""
    kind = np.float32 if np.asarray(lab1).dtype == np.float32 == np.asarray(lab2).dtype else np.float64
    one, two = np.broadcast_arrays(np.asarray(lab1, dtype=kind), np.asarray(lab2, dtype=kind))
    flat1, flat2 = np.ascontiguousarray(one).reshape(-1, 3), np.ascontiguousarray(two).reshape(-1, 3)
    out = np.empty(len(flat1), dtype=kind)
    in_two_halves(len(flat1), lambda s: _difference_rows(flat1[s], flat2[s], out[s]))
    return out.reshape(one.shape[:-1])


@njit(cache=True, nogil=True)
def _part_rows(one, two, out):  # type: ignore[no-untyped-def]
    for i in range(one.shape[0]):
        tl, tc, th, rt = ciede_parts(one[i, 0], one[i, 1], one[i, 2], two[i, 0], two[i, 1], two[i, 2])
        out[i, 0] = tl * tl
        out[i, 1] = tc * tc + th * th + rt * tc * th


def difference_split(lab1: np.ndarray, lab2: np.ndarray) -> np.ndarray:
    """Squared ΔE₀₀ split into its lightness part l and its colour part c: (..., 2)."""
    flat1 = np.ascontiguousarray(lab1, dtype=np.float64).reshape(-1, 3)
    flat2 = np.ascontiguousarray(lab2, dtype=np.float64).reshape(-1, 3)
    out = np.empty((len(flat1), 2))
    in_two_halves(len(flat1), lambda s: _part_rows(flat1[s], flat2[s], out[s]))
    return out.reshape((*np.shape(lab1)[:-1], 2))
