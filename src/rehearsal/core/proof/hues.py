"""Keys of everyday hue names for places on the Oklab hue circle.

Borders lie between the colours that the W3C names (CSS Color Module Level 4, section "Named Colors"), so that red, orange,
yellow, green, cyan, blue, violet and magenta are called what they are called there. The circle is Oklab's, since CIELAB calls
a strong blue violet (its mean error on constant-hue data is 12.6° in the blues, Oklab's 4.6°). Light, dark and weak colours get
their everyday names (common practice, no source).
"""

from __future__ import annotations

import math

import numpy as np

from rehearsal.core.colour.lab import chroma
from rehearsal.core.colour.oklab import LMS_FROM_XYZ, OKLAB_FROM_LMS
from rehearsal.core.icc.standard import WHITE_D50
from rehearsal.core.work.kernels import kernel
from rehearsal.core.work.pool import in_slices

#: Upper border of each sector in degrees of Oklab hue, and its name.
SECTORS = (
    (14, "pink-red"),
    (33, "red"),
    (76, "orange"),
    (92, "amber"),
    (117, "yellow"),
    (137, "yellow-green"),
    (160, "green"),
    (190, "sea-green"),
    (218, "cyan"),
    (256, "blue"),
    (280, "deep-blue"),
    (315, "violet"),
    (326, "purple"),
    (343, "magenta"),
    (360, "pink-red"),
)
_BORDERS = np.array([border for border, _ in SECTORS], dtype=np.float64)
NAMES = ("pink-red", *dict.fromkeys(name for _, name in SECTORS[1:-1]))
_GREY_CHROMA = 6.0
_FROM_RELATIVE = np.ascontiguousarray(LMS_FROM_XYZ * np.asarray(WHITE_D50))
_AB = np.ascontiguousarray(OKLAB_FROM_LMS[1:])


@kernel
def _unlab(f):  # type: ignore[no-untyped-def]
    return f * f * f if f > 6.0 / 29.0 else 3.0 * (6.0 / 29.0) * (6.0 / 29.0) * (f - 4.0 / 29.0)


@kernel
def _sector_rows(lab, to_lms, to_ab, borders, grey, out):  # type: ignore[no-untyped-def]
    names = borders.shape[0] - 1
    for n in range(lab.shape[0]):
        if math.sqrt(lab[n, 1] * lab[n, 1] + lab[n, 2] * lab[n, 2]) < grey:
            out[n] = -1
            continue
        y = (lab[n, 0] + 16.0) / 116.0
        white_relative = (_unlab(y + lab[n, 1] / 500.0), _unlab(y), _unlab(y - lab[n, 2] / 200.0))
        a, b = 0.0, 0.0
        for i in range(3):
            cone = np.cbrt(
                to_lms[i, 0] * white_relative[0] + to_lms[i, 1] * white_relative[1] + to_lms[i, 2] * white_relative[2]
            )
            a += to_ab[0, i] * cone
            b += to_ab[1, i] * cone
        hue = math.degrees(math.atan2(b, a))
        hue = hue + 360.0 if hue < 0.0 else hue
        index = 0
        while index < names and hue >= borders[index]:
            index += 1
        out[n] = 0 if index == names else index


def sector(lab: np.ndarray) -> np.ndarray:
    """Index into NAMES (...) of Lab (..., 3), D50; greys (C* under 6) get -1."""
    flat = np.ascontiguousarray(lab, dtype=np.float64).reshape(-1, 3)
    out = np.empty(len(flat), dtype=np.int32)
    in_slices(len(flat), lambda s: _sector_rows(flat[s], _FROM_RELATIVE, _AB, _BORDERS, _GREY_CHROMA, out[s]))
    return out.reshape(np.shape(lab)[:-1])


#: What a hue is called below a lightness L*.
_DARKER = {"magenta": (45, "purple"), "pink-red": (45, "wine-red"), "yellow": (62, "olive"), "deep-blue": (28, "blue")}
_NEAR_BLACK, _DARK = 15, 28


def hue_key(lab: np.ndarray) -> str:
    """Key of the everyday name of a Lab colour (3,), D50; ``core/values/words`` has the names."""
    lightness, strength = float(lab[0]), float(chroma(np.asarray(lab, dtype=float)))
    index = int(sector(np.asarray(lab, dtype=float)))
    if index < 0:
        return "near-black" if lightness < 12 else "near-white" if lightness > 88 else "grey"
    below, darker = _DARKER.get(NAMES[index], (0, ""))
    name = darker if lightness < below else NAMES[index]
    if lightness < _NEAR_BLACK:
        return "near-black." + {"wine-red": "red", "olive": "yellow"}.get(name, name)
    if name in ("wine-red", "olive"):
        return name
    if name == "orange" and lightness < 52:
        return "brown" if strength < 60 else "deep-orange"
    return _shade(name, lightness, strength)


def _shade(name: str, lightness: float, strength: float) -> str:
    if lightness > 80 and strength < 25:
        return "cream" if name == "amber" else f"pale.{name}"
    return f"dark.{name}" if lightness < _DARK else name


def plain_hue(key: str) -> str:
    """A hue without its shade: ``dark.green`` is a green."""
    return key.rpartition(".")[2]


#: Names that pixels go by, without shades; the first two have no hue that could be lost.
PLAIN = ("grey", "near-black", *NAMES, "wine-red", "olive", "brown", "deep-orange")
_AT = {name: i for i, name in enumerate(PLAIN)}


def plain_hues(lab: np.ndarray) -> np.ndarray:
    """Index into PLAIN (m,) uint8 of Lab colours (m, 3): each by its own name as :func:`hue_key` gives it, without its shade."""
    index, light, strong = sector(lab), lab[:, 0], np.hypot(lab[:, 1], lab[:, 2])
    found = np.where(index < 0, _AT["grey"], index + _AT[NAMES[0]]).astype(np.uint8)
    for name, (below, darker) in _DARKER.items():
        found[(index == NAMES.index(name)) & (light < below)] = _AT[darker]
    browns = (found == _AT["orange"]) & (light < 52)
    found[browns] = np.where(strong[browns] < 60, _AT["brown"], _AT["deep-orange"])
    found[(index >= 0) & (light < _NEAR_BLACK)] = _AT["near-black"]
    return found
