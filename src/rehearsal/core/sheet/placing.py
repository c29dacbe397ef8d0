"""Where a print lies on its sheet: in the middle, with a heavier foot, or at a place."""

from __future__ import annotations

import re
from dataclasses import dataclass

from rehearsal.core.errors import RehearsalError
from rehearsal.core.sheet.layout import ROLLS, SHEETS, has_size, roll_width_cm, sheet_name, sheet_size
from rehearsal.core.values.frame import PrintSize

_FOOT = re.compile(r"^foot:(\d+(?:\.\d+)?)$")
_AT = re.compile(r"^(\d+(?:\.\d+)?),(\d+(?:\.\d+)?)$")
_SLACK = 0.02
_FORM = "write it like centre, foot:15 or 30,45"


@dataclass(frozen=True)
class OnSheet:
    """A print on its sheet, all in mm, from the upper left corner of the sheet as it is seen.

    Attributes:
        sheet: width and height; size: of the print; left, top: of its upper left corner.
    """

    sheet: tuple[float, float]
    size: tuple[float, float]
    left: float
    top: float

    @property
    def borders(self) -> tuple[float, float, float, float]:
        """Bare paper at the top, right, foot and left."""
        right = self.sheet[0] - self.left - self.size[0]
        foot = self.sheet[1] - self.top - self.size[1]
        return self.top, right, foot, self.left


def parse_sheet(text: str, size: PrintSize) -> tuple[float, float]:
    """Width and height in mm of a sheet by name or as ``30x40cm``, turned like the print.

    Raises:
        RehearsalError: it is not understood.
    """
    name = sheet_name(text)
    if not has_size(name) and not roll_width_cm(name):
        names = ", ".join((*SHEETS, *ROLLS))
        raise RehearsalError("the sheet is not understood", text, f"write it like 30x40cm, or as one of {names}")
    wide, high = sheet_size(name, size)
    return wide * 10, high * 10


def place_print(
    size: PrintSize, sheet_mm: tuple[float, float], place: str = "centre",
    margins_mm: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0),
) -> OnSheet:  # fmt: skip
    """A print on a sheet.

    Args:
        place: ``centre``; ``foot:15``: sides alike, the foot 15 % higher than the top; ``30,45``: mm from the left and the top.
        margins_mm: least bare paper at the top, right, foot and left.

    Raises:
        RehearsalError: the place is not understood, or the print does not leave so much paper.
    """
    wide, high = size.width_cm * 10, size.height_cm * 10
    across, along = sheet_mm[0] - wide, sheet_mm[1] - high
    if min(across, along) < -_SLACK:
        held = f"{sheet_mm[0] / 10:.1f} × {sheet_mm[1] / 10:.1f} cm"
        raise RehearsalError(
            f"the print is larger than its sheet of {held}", size.in_words, "print it smaller or on a larger sheet"
        )
    left, top = place_in(sheet_mm, (wide, high), place)
    made = OnSheet(sheet_mm, (wide, high), left, top)
    sides = ("top", "right", "foot", "left")
    for side, border, least in zip(sides, made.borders, margins_mm, strict=True):
        if border < least - _SLACK:
            raise RehearsalError(
                f"the print leaves {border:.1f} mm of bare paper at the {side}, and {least:g} mm are wanted", size.in_words,
                "print it smaller, on a larger sheet or at another place",
            )  # fmt: skip
    return made


def place_in(room_mm: tuple[float, float], size_mm: tuple[float, float], place: str) -> tuple[float, float]:
    """Upper left corner of a print of a size in a room, both width and height in mm.

    Raises:
        RehearsalError: the place is not understood.
    """
    across, along = room_mm[0] - size_mm[0], room_mm[1] - size_mm[1]
    foot, at = _FOOT.match(place), _AT.match(place)
    if place == "centre":
        return across / 2, along / 2
    if foot is not None:
        return across / 2, along / (2 + float(foot.group(1)) / 100)
    if at is not None:
        return float(at.group(1)), float(at.group(2))
    raise RehearsalError("the place on the sheet is not understood", place, _FORM)
