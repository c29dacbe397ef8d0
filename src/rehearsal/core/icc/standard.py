"""Working spaces by their standards, written by our own code.

Primaries and curves: sRGB IEC 61966-2-1, opRGB IEC 61966-2-5, ROMM RGB ISO 22028-2,
Display P3 (primaries of SMPTE RP 431-2 with D65 and the sRGB curve). D65 colorants are adapted
to D50 with the Bradford matrix as ICC.1:2022 annex E asks.
"""

from __future__ import annotations

import functools

import numpy as np

from rehearsal.core.icc.profile import Profile
from rehearsal.core.icc.write import D50, curve_tag, gamma_tag, gray_profile, matrix_profile, parametric_tag

BRADFORD = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])
WHITE_D50 = np.array(D50)
D65_XY = (0.3127, 0.3290)
_SRGB_CURVE = parametric_tag(3, 2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045)
_ROMM_CURVE = parametric_tag(3, 1.8, 1.0, 0.0, 1 / 16, 16 * 0.001953125)
_SPACES = {
    "sRGB": ("sRGB IEC 61966-2-1", ((0.64, 0.33), (0.30, 0.60), (0.15, 0.06)), D65_XY, _SRGB_CURVE),
    "opRGB": ("opRGB IEC 61966-2-5", ((0.64, 0.33), (0.21, 0.71), (0.15, 0.06)), D65_XY, gamma_tag(563 / 256)),
    "P3": ("Display P3", ((0.680, 0.320), (0.265, 0.690), (0.150, 0.060)), D65_XY, _SRGB_CURVE),
    "ROMM": (
        "ROMM RGB ISO 22028-2",
        ((0.7347, 0.2653), (0.1596, 0.8404), (0.0366, 0.0001)),
        (0.3457, 0.3585),
        _ROMM_CURVE,
    ),
}


#: Working spaces that pictures and files can be in: key and the standard's name.
#: What a grey file without a profile can be taken for.
GREYS = {
    "gray": "Grey, gamma 2.2", "gray18": "Grey, gamma 1.8", "graysrgb": "Grey, sRGB curve", "graydot20": "Grey, dot gain 20 %",
}  # fmt: skip
SPACES = {key: row[0] for key, row in _SPACES.items()}


def xy_to_xyz(x: float, y: float) -> np.ndarray:
    """XYZ (3,) with Y = 1 of a chromaticity."""
    return np.array([x / y, 1.0, (1 - x - y) / y])


def bradford(white: np.ndarray, to: np.ndarray = WHITE_D50) -> np.ndarray:
    """(3, 3) matrix that adapts XYZ from one white to another."""
    ratio = (BRADFORD @ to) / (BRADFORD @ white)
    return np.linalg.inv(BRADFORD) @ np.diag(ratio) @ BRADFORD


def colorants(primaries: tuple[tuple[float, float], ...], white: tuple[float, float]) -> np.ndarray:
    """(3, 3) D50 adapted colorants, columns red, green, blue; their sum is D50."""
    columns = np.stack([xy_to_xyz(*p) for p in primaries], axis=1)
    white_xyz = xy_to_xyz(*white)
    matrix = columns * np.linalg.solve(columns, white_xyz)
    return bradford(white_xyz) @ matrix


def _grey_curve(name: str) -> bytes:
    """Curve of one of GREYS; dot gain by the parabola about the middle tone with an ideal black (Murray-Davies; from memory)."""
    if name == "graysrgb":
        return _SRGB_CURVE
    if name == "graydot20":
        dot = 1 - np.linspace(0, 1, 1024)
        return curve_tag(1 - (dot + 4 * 0.2 * dot * (1 - dot)))
    return gamma_tag(1.8 if name == "gray18" else 2.2)


def space_bytes(name: str) -> bytes:
    """Profile bytes of a working space: one of SPACES or of GREYS."""
    if name in GREYS:
        return gray_profile(GREYS[name], _grey_curve(name))
    title, primaries, white, curve = _SPACES[name]
    return matrix_profile(title, colorants(primaries, white), curve)


def wide_space_bytes(black: float) -> bytes:
    """ROMM primaries with the sRGB curve lifted so that code 0 is a grey of luminance ``black`` (0 to 0.2).

    A working copy of a picture whose own black is not black (CMYK, table RGB) lives here: the engine then finds
    the same black point in the copy as in the original, and compensates alike.
    """
    _title, primaries, white, _curve = _SPACES["ROMM"]
    codes = np.linspace(0, 1, 4096)
    linear = np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4)
    return matrix_profile(
        "Wide RGB, working copy", colorants(primaries, white), curve_tag(black + (1 - black) * linear)
    )


@functools.cache
def working_space(name: str) -> Profile:
    """Opened working space: sRGB, opRGB, P3, ROMM or gray."""
    return Profile(space_bytes(name), name)
