"""CIELAB, CIE XYZ and densities under D50.

XYZ has Y = 1 for the perfect diffuser; L* runs 0 to 100. Formulas: CIE 15:2018, 8.2.1;
white D50 as in ICC.1:2022 (0.9642, 1, 0.8249).
"""

from __future__ import annotations

import numpy as np

from rehearsal.core.icc.standard import WHITE_D50
from rehearsal.core.work.kernels import kernel
from rehearsal.core.work.pool import in_slices

_EPSILON = 216 / 24389
_KAPPA = 24389 / 27


def xyz_to_lab(xyz: np.ndarray, white: np.ndarray = WHITE_D50) -> np.ndarray:
    """XYZ (..., 3) to L*, a*, b* (..., 3)."""
    ratio = np.asarray(xyz, dtype=np.float64) / white
    f = np.where(ratio > _EPSILON, np.cbrt(np.maximum(ratio, 0)), (_KAPPA * ratio + 16) / 116)
    return np.stack([116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])], axis=-1)


def lab_to_xyz(lab: np.ndarray, white: np.ndarray = WHITE_D50) -> np.ndarray:
    """L*, a*, b* (..., 3) to XYZ (..., 3)."""
    lab = np.asarray(lab, dtype=np.float64)
    fy = (lab[..., 0] + 16) / 116
    f = np.stack([fy + lab[..., 1] / 500, fy, fy - lab[..., 2] / 200], axis=-1)
    return np.where(f**3 > _EPSILON, f**3, (116 * f - 16) / _KAPPA) * white


def lightness_to_y(lightness: float | np.ndarray) -> np.ndarray:
    """L* to relative luminance Y, 0 to 1."""
    f = (np.asarray(lightness, dtype=np.float64) + 16) / 116
    return np.where(f**3 > _EPSILON, f**3, (116 * f - 16) / _KAPPA)


def y_to_lightness(y: float | np.ndarray) -> np.ndarray:
    """Relative luminance Y, 0 to 1, to L*."""
    y = np.asarray(y, dtype=np.float64)
    return np.where(y > _EPSILON, 116 * np.cbrt(np.maximum(y, 0)) - 16, _KAPPA * y)


def chroma(lab: np.ndarray) -> np.ndarray:
    """C*ab of Lab (..., 3)."""
    return np.hypot(lab[..., 1], lab[..., 2])


def hue_degrees(lab: np.ndarray) -> np.ndarray:
    """h_ab in degrees, 0 to 360, of Lab (..., 3)."""
    return np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360.0


def density(y: float) -> float:
    """Visual density of a reflectance factor Y, 0 to 1: -log10 Y (ISO 5-3 status visual, here from Y alone)."""
    return float(-np.log10(max(y, 1e-9)))


@kernel
def cube_root(value):  # type: ignore[no-untyped-def]
    """Cube root to 2e-12: a third of the exponent as a first guess, then two of Halley's steps."""
    size = abs(value)
    if size < 1e-30:
        return 0.0
    root = np.uint64(np.float64(size).view(np.uint64) // np.uint64(3) + np.uint64(3071454945866678272)).view(np.float64)
    for _ in range(2):
        cube = root * root * root
        root *= (cube + 2.0 * size) / (2.0 * cube + size)
    return root if value > 0.0 else -root


@kernel
def _scaled_rows(lab, scale, offset, out):  # type: ignore[no-untyped-def]
    """Lab to XYZ over white, scale and offset per coordinate, and back to Lab."""
    for i in range(lab.shape[0]):
        fy = (lab[i, 0] + 16.0) / 116.0
        f0, f2 = fy + lab[i, 1] / 500.0, fy - lab[i, 2] / 200.0
        for c in range(3):
            f = f0 if c == 0 else fy if c == 1 else f2
            t = f * f * f
            if t <= _EPSILON:
                t = (116.0 * f - 16.0) / _KAPPA
            t = t * scale[c] + offset[c]
            out[i, c] = cube_root(t) if t > _EPSILON else (_KAPPA * t + 16.0) / 116.0
        x, y, z = out[i, 0], out[i, 1], out[i, 2]
        out[i, 0], out[i, 1], out[i, 2] = 116.0 * y - 16.0, 500.0 * (x - y), 200.0 * (y - z)


def compensate_lab(lab: np.ndarray, source_black: np.ndarray, target_black: np.ndarray) -> np.ndarray:
    """:func:`compensate_xyz` on Lab (..., 3), for whole images; blacks are XYZ (3,). Keeps float32."""
    kind = np.float32 if np.asarray(lab).dtype == np.float32 else np.float64
    flat = np.ascontiguousarray(lab, dtype=kind).reshape(-1, 3)
    scale = (target_black - WHITE_D50) / (source_black - WHITE_D50)
    out = np.empty_like(flat)
    in_slices(len(flat), lambda s: _scaled_rows(flat[s], scale, 1 - scale, out[s]))
    return out.reshape(np.shape(lab))


def compensate_xyz(xyz: np.ndarray, source_black: np.ndarray, target_black: np.ndarray) -> np.ndarray:
    """Black point compensation: scale XYZ so that one black falls on another and white stays.

    ISO 18619:2015, equations for the scale and offset of each of X, Y, Z.

    Args:
        xyz: (..., 3) relative to D50, white Y = 1.
        source_black, target_black: (3,).
    """
    scale = (target_black - WHITE_D50) / (source_black - WHITE_D50)
    offset = -WHITE_D50 * (target_black - source_black) / (source_black - WHITE_D50)
    return xyz * scale + offset
