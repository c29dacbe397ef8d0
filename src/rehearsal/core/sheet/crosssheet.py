"""The sheet of crosses: printed, measured with a ruler from its edges, so that a printer's true place is found."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from rehearsal.core.sheet.composing import Lettering
from rehearsal.core.sheet.lettering import Ink, draw_lettering
from rehearsal.core.sheet.page import DrawnPage, Part
from rehearsal.core.sheet.trueplace import ASKED, NEEDED

_ARM_MM, _PPI = 8.0, 300.0
_DARK = Ink(np.array([0, 0, 0]))


def draw_crosses(width: float, height: float, at: Mapping[str, tuple[float, float]], title: str) -> DrawnPage:
    """The page, as it is fed: a cross near each corner, which distances are measured, and what it is of.

    Args:
        width, height: of the sheet, mm; at: where the crosses lie, by corner.
    """
    wide, high = round(width / 25.4 * _PPI), round(height / 25.4 * _PPI)
    pixels: np.ndarray = np.full((high, wide, 3), 255, dtype=np.uint8)
    lines: list[tuple[float, float, float, float]] = []
    for x, y in at.values():
        lines += [(x - _ARM_MM, y, x + _ARM_MM, y), (x, y - _ARM_MM, x, y + _ARM_MM)]
    for x0, y0, x1, y1 in lines:
        left, top, right, foot = (round(v / 25.4 * _PPI) for v in (x0, y0, x1, y1))
        pixels[top : foot + 1, left : right + 1] = 0
    parts = []
    for line in _words(width, height, at, title):
        found = draw_lettering(pixels, line, _PPI, _DARK)
        if found is not None:
            parts.append(Part(*found, found[1].start / _PPI * 25.4, found[0].start / _PPI * 25.4))
    return DrawnPage(pixels, parts, tuple(lines), width, height, _PPI)


def _words(width: float, height: float, at: Mapping[str, tuple[float, float]], title: str) -> list[Lettering]:
    middle = width / 2
    said = [title, "This edge goes in first: top. Measure from the middle of a cross to the paper's edge, in mm."]
    asked = [f"{i + 1}  {corner} cross to the {edge}" for i, (corner, edge) in enumerate(ASKED)]
    asked[NEEDED] += "  (from here on for the doubt)"
    first = min(y for _x, y in at.values()) + 18
    return [Lettering(text, middle, first + 8 * i, "middle", 2.6) for i, text in enumerate([*said, "", *asked]) if text]
