"""Oklab, used to change the strength of colours at steady hue.

Björn Ottosson, "A perceptual color space for image processing", 2020: matrices M1 (from XYZ D65) and M2.
XYZ here is relative to D50; it is adapted to D65 with Bradford first.
"""

from __future__ import annotations

import numpy as np

from rehearsal.core.icc.standard import D65_XY, WHITE_D50, bradford, xy_to_xyz

_M1 = np.array(
    [
        [0.8189330101, 0.3618667424, -0.1288597137],
        [0.0329845436, 0.9293118715, 0.0361456387],
        [0.0482003018, 0.2643662691, 0.6338517070],
    ]
)
_M2 = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)
_TO_D65 = bradford(WHITE_D50, xy_to_xyz(*D65_XY))
_LMS = _M1 @ _TO_D65
#: Linear cone values (3, 3) of XYZ relative to D50, and Oklab (3, 3) of their cube roots. The published matrices see white as 1
#: within 0.0002 only; here it is 1 exactly, so that every neutral is without chroma.
LMS_FROM_XYZ = _LMS / (_LMS @ WHITE_D50)[:, None]
OKLAB_FROM_LMS = _M2


def xyz_to_oklab(xyz: np.ndarray) -> np.ndarray:
    """XYZ (..., 3), D50, white Y = 1, to Oklab (..., 3), L 0 to 1."""
    return np.cbrt(xyz @ LMS_FROM_XYZ.T) @ _M2.T


def oklab_to_xyz(lab: np.ndarray) -> np.ndarray:
    """Oklab (..., 3) to XYZ (..., 3), D50."""
    return (lab @ np.linalg.inv(_M2).T) ** 3 @ np.linalg.inv(LMS_FROM_XYZ).T
