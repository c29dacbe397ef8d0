"""Curves and matrices of profiles, looked at before anything is computed with them.

ICC.1:2022, 10.6 (curveType) and 10.18 (parametricCurveType). A constant curve divides nought by nought, a singular matrix has no
way back: such a profile is refused with a sentence. A curve that falls somewhere can be used, and is named among what is odd.
"""

from __future__ import annotations

import struct
from collections.abc import Mapping

import numpy as np

from rehearsal.core.errors import ProfileError
from rehearsal.core.icc.tags import ANOTHER, decode_xyz

_POINTS = np.linspace(0, 1, 1025)
#: Smallest determinant of colorants: spaces of real devices have 0.05 and more.
_LEAST_DETERMINANT = 1e-4
#: A curve must rise by this much at least.
_LEAST_RISE = 0.01
_PARAMETERS = (1, 3, 4, 5, 7)


def decode_curve(raw: bytes) -> np.ndarray | None:
    """Values (1025,) of a curve tag at equal steps from 0 to 1; None when it is no curve or is cut short."""
    if raw[:4] == b"curv" and len(raw) >= 12:
        count = struct.unpack(">I", raw[8:12])[0]
        if count == 0:
            return _POINTS.copy()
        if len(raw) < 12 + 2 * count:
            return None
        words = np.frombuffer(raw[12 : 12 + 2 * count], dtype=">u2").astype(np.float64)
        if count == 1:
            return np.asarray(_POINTS ** (words[0] / 256.0))
        return np.interp(_POINTS, np.linspace(0, 1, count), words / 65535.0)
    return _parametric(raw) if raw[:4] == b"para" else None


def _parametric(raw: bytes) -> np.ndarray | None:
    function = struct.unpack(">H", raw[8:10])[0] if len(raw) >= 12 else 9
    if function >= len(_PARAMETERS) or len(raw) < 12 + 4 * _PARAMETERS[function]:
        return None
    given = [v / 65536.0 for v in struct.unpack(f">{_PARAMETERS[function]}i", raw[12 : 12 + 4 * _PARAMETERS[function]])]
    g, a, b, c, d, e, f = (given + [0.0] * 7)[:7]
    x = _POINTS
    with np.errstate(all="ignore"):
        if function == 0:
            return np.asarray(x**g)
        power = np.where(a * x + b > 0, np.abs(a * x + b) ** g, 0.0)
        if function in (1, 2):
            return np.asarray(np.where(a * x + b >= 0, power, 0.0) + (c if function == 2 else 0.0))
        return np.asarray(np.where(x >= d, power + e, c * x + f))


def check_shape(tags: Mapping[str, bytes], where: str) -> None:
    """Raise ProfileError when a matrix or grey profile cannot be computed with."""
    if any(name.startswith(("A2B", "B2A")) for name in tags):
        return
    for name in ("rTRC", "gTRC", "bTRC", "kTRC"):
        if name in tags:
            _check_curve(name, tags[name], where)
    columns = [decode_xyz(tags[name]) for name in ("rXYZ", "gXYZ", "bXYZ") if name in tags]
    if len(columns) == 3 and "rTRC" in tags:
        matrix = np.array([np.full(3, np.nan) if c is None else c for c in columns])
        if not np.isfinite(matrix).all() or abs(float(np.linalg.det(matrix))) <= _LEAST_DETERMINANT:
            raise ProfileError("not a usable colour profile (its three colours lie in one plane)", where, ANOTHER)


def _check_curve(name: str, raw: bytes, where: str) -> None:
    curve = decode_curve(raw)
    if curve is None or not np.isfinite(curve).all():
        raise ProfileError(f"not a usable colour profile (the curve {name!r} is damaged)", where, ANOTHER)
    if curve[-1] - curve[0] < _LEAST_RISE:
        raise ProfileError(f"not a usable colour profile (the curve {name!r} does not rise)", where, ANOTHER)


def odd_curves(tags: Mapping[str, bytes]) -> list[str]:
    """Names of curve tags that fall somewhere, and of tables whose first curves are constant or fall."""
    odd = []
    for name, raw in tags.items():
        curves = [decode_curve(raw)] if raw[:4] in (b"curv", b"para") else table_curves(raw)
        if any(
            c is not None and (np.diff(c).min() < -1e-4 or np.ptp(c) < _LEAST_RISE or not np.isfinite(c).all())
            for c in curves
        ):
            odd.append(name)
    return odd


def table_curves(raw: bytes) -> list[np.ndarray | None]:
    """Input curves of a lut8 or lut16 table tag (ICC.1:2022, 10.10 and 10.11); none for other tags."""
    if raw[:4] not in (b"mft1", b"mft2") or len(raw) < 52:
        return []
    inputs, entries, at, kind = raw[8], 256, 48, ">u1"
    if raw[:4] == b"mft2":
        entries, at, kind = struct.unpack(">H", raw[48:50])[0], 52, ">u2"
    size = entries * np.dtype(kind).itemsize
    if entries < 2 or len(raw) < at + inputs * size:
        return [np.zeros(2)]
    values = np.frombuffer(raw[at : at + inputs * size], dtype=kind).reshape(inputs, entries)
    return list(values.astype(np.float64) / np.iinfo(kind).max)
