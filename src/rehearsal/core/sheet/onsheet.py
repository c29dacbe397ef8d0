"""The print on its sheet: borders in mm, the sheet that holds a print, the print a border leaves room for."""

from __future__ import annotations

from dataclasses import replace

from rehearsal.core.sheet.layout import SHEETS, fit_size, has_size, roll_width_cm, sheet_size
from rehearsal.core.values.frame import Frame, PrintSize

#: The least side of a print that a border leaves, cm.
_LEAST_CM = 1.0
_SLACK_CM = 0.011


def borders_mm(size: PrintSize, sheet: str) -> tuple[float, float]:
    """Width of the border at the sides, and at top and foot, in mm, of a print in the middle of its sheet."""
    width, height = sheet_size(sheet, size)
    return (width - size.width_cm) * 5, (height - size.height_cm) * 5


def turned_margins(margins_mm: tuple[float, float, float, float], is_wide: bool) -> tuple[float, float, float, float]:
    """Unprintable margins (top, right, bottom, left of a sheet as it is fed, short side first) as they lie round a drawn sheet.

    A wide sheet is drawn with the edge that goes in first at its left.
    """
    top, right, bottom, left = margins_mm
    return (right, bottom, left, top) if is_wide else margins_mm


def fed_margins(drawn_mm: tuple[float, float, float, float], is_wide: bool) -> tuple[float, float, float, float]:
    """The way back of :func:`turned_margins`."""
    top, right, bottom, left = drawn_mm
    return (left, top, right, bottom) if is_wide else drawn_mm


def holds(sheet: str, size: PrintSize) -> bool:
    """True when a print finds room on a sheet, turned like it."""
    return min(borders_mm(size, sheet)) >= -5 * _SLACK_CM


def sheet_for(size: PrintSize, now: str) -> str:
    """The sheet a print of this size lies on: the present one while it holds it, else the smallest that does.

    A print larger than all of them lies on a sheet of its own, which has no name.
    """
    if (has_size(now) or roll_width_cm(now)) and holds(now, size):
        return now
    fitting = [name for name in SHEETS if holds(name, size)]
    return min(
        fitting, key=lambda name: (_by_inches(name) != _by_inches(now), SHEETS[name][0] * SHEETS[name][1]), default=""
    )


def _by_inches(sheet: str) -> bool:
    """True for sheets that are sold by inches: who uses one wants the next of its kind."""
    return sheet == "Letter" or sheet.endswith(" in")


def with_border(frame: Frame, border_mm: float, sheet: str, width: int, height: int) -> Frame:
    """The largest print with the crop's proportions that leaves at least so wide a border on a sheet.

    Args:
        width, height: of the picture in pixels.
    """
    w, h = frame.crop.width * width, frame.crop.height * height
    shape = PrintSize(w, h)  # only its proportions count: a sheet turns like its print
    wide, high = sheet_size(sheet, shape) if has_size(sheet) else sheet_size(sheet, frame.size or shape)
    most = (min(wide, high) - _LEAST_CM) / 2
    border = min(max(border_mm / 10, 0.0), most)
    room = PrintSize(wide - 2 * border, high - 2 * border)
    return replace(frame, size=_to_millimetres(fit_size(room, round(w), round(h)), room))


def on_sheet(frame: Frame, before: str, sheet: str, width: int, height: int) -> Frame:
    """The print on another sheet: as it is where that holds it, else smaller, its border in the same proportion to the sheet."""
    if frame.size is None or holds(sheet, frame.size):
        return frame
    share = max(min(borders_mm(frame.size, before)), 0.0) / min(sheet_size(before, frame.size))
    return with_border(frame, share * min(sheet_size(sheet, frame.size)), sheet, width, height)


def _to_millimetres(size: PrintSize, most: PrintSize) -> PrintSize:
    """To half a millimetre, never larger than the room."""
    wide, high = (round(v * 20) / 20 for v in (size.width_cm, size.height_cm))
    return PrintSize(min(wide, most.width_cm), min(high, most.height_cm))
