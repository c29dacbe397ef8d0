"""Plain hue names for places on the CIELAB hue circle.

Borders were set on the unique hues of CIE 1976 L*a*b* under D50 (red near 24°, yellow 90°, green 162°,
blue 246°: CIE 142 / NCS elementary hues as quoted in Fairchild, "Color Appearance Models", from memory)
and common practice for the names between; light, dark and weak colours get their everyday names.
"""

from __future__ import annotations

import numpy as np

#: Upper border of each sector in degrees, and its name.
SECTORS = (
    (14, "pink red"),
    (38, "red"),
    (68, "orange"),
    (88, "amber"),
    (104, "yellow"),
    (126, "yellow green"),
    (165, "green"),
    (192, "sea green"),
    (222, "cyan"),
    (258, "blue"),
    (290, "deep blue"),
    (318, "violet"),
    (340, "purple"),
    (357, "magenta"),
    (360, "pink red"),
)
_BORDERS = np.array([border for border, _ in SECTORS])
NAMES = ("pink red", *dict.fromkeys(name for _, name in SECTORS[1:-1]))
_GREY_CHROMA = 6.0


def sector(lab: np.ndarray) -> np.ndarray:
    """Index into NAMES (...) of Lab (..., 3); greys get -1."""
    hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360
    index = np.searchsorted(_BORDERS, hue, side="right")
    index = np.where(index >= len(NAMES), 0, index)
    return np.where(np.hypot(lab[..., 1], lab[..., 2]) < _GREY_CHROMA, -1, index)


def hue_name(lab: np.ndarray) -> str:
    """Everyday name of a Lab colour (3,)."""
    lightness, strength = float(lab[0]), float(np.hypot(lab[1], lab[2]))
    index = int(sector(np.asarray(lab, dtype=float)))
    if index < 0:
        return "near-black" if lightness < 12 else "near-white" if lightness > 88 else "grey"
    name = NAMES[index]
    if lightness < 15:
        return f"near-black {name}"
    if name == "orange" and lightness < 52:
        return "brown" if strength < 60 else "deep orange"
    if lightness > 80 and strength < 25:
        return f"pale {name}"
    return f"dark {name}" if lightness < 28 else name
