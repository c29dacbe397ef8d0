"""Chromaticity of whites: u′v′, correlated colour temperature, the daylight aims a screen is set to."""

from __future__ import annotations

import numpy as np

#: Chromaticity x, y of the usual aims (CIE 15, 2° observer).
AIMS = {"D50": (0.3457, 0.3585), "D55": (0.3324, 0.3474), "D65": (0.3127, 0.3290)}


def chromaticity(xyz: np.ndarray) -> np.ndarray:
    """x, y (..., 2) of XYZ (..., 3); the equal-energy point where there is no light."""
    total = np.sum(xyz, axis=-1, keepdims=True)
    return np.where(total > 0, xyz[..., :2] / np.where(total > 0, total, 1), 1 / 3)


def uv_prime(xy: np.ndarray) -> np.ndarray:
    """CIE 1976 u′, v′ (..., 2) of x, y (..., 2)."""
    xy = np.asarray(xy, dtype=float)
    down = -2 * xy[..., 0] + 12 * xy[..., 1] + 3
    return np.stack([4 * xy[..., 0] / down, 9 * xy[..., 1] / down], axis=-1)


def colour_temperature(xy: np.ndarray) -> float:
    """Correlated colour temperature in kelvin of x, y (2,): McCamy, Color Res. Appl. 17 (1992)."""
    n = (xy[0] - 0.3320) / (0.1858 - xy[1])
    return float(449 * n**3 + 3525 * n**2 + 6823.3 * n + 5520.33)


def white_distance(xy: np.ndarray, aim: str) -> float:
    """Distance in u′v′ of a white from one of :data:`AIMS`."""
    return float(np.linalg.norm(uv_prime(xy) - uv_prime(np.array(AIMS[aim]))))
