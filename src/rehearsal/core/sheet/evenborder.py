"""Borders on purpose: the same all round, or none at all. The picture is cut to what is left of the sheet."""

from __future__ import annotations

from dataclasses import replace

from rehearsal.core.errors import RehearsalError
from rehearsal.core.sheet.layout import crop_to, sheet_size
from rehearsal.core.values.frame import CM_PER_INCH, Frame, PrintSize
from rehearsal.core.values.sheet import Sheet

#: Even borders that are usual, mm (common practice, no source): 6, 10 and 50 mm, ¼ and 2 in.
USUAL_MM = (6.0, CM_PER_INCH * 10 / 4, 10.0, 50.0, CM_PER_INCH * 20)
_LEAST_CM = 1.0


def even_print(sheet: str, turned_like: PrintSize, border_mm: float) -> PrintSize:
    """The print that leaves a border of the same width all round.

    Raises:
        RehearsalError: the border leaves nothing.
    """
    wide, high = sheet_size(sheet, turned_like)
    made = PrintSize(wide - border_mm / 5, high - border_mm / 5)
    if min(made.width_cm, made.height_cm) < _LEAST_CM or border_mm < 0:
        raise RehearsalError(
            "so wide a border leaves no print", f"{border_mm:g} mm", "take a narrower one or a larger sheet"
        )
    return made


def with_even_border(frame: Frame, sheet: Sheet, border_mm: float, width: int, height: int) -> tuple[Frame, Sheet]:
    """Frame and sheet with an even border; the picture of width × height pixels is cut to the print's proportions.

    It starts from the print's own size and crop, whatever other way it is laid now.

    Raises:
        RehearsalError: the border leaves nothing.
    """
    frame = frame.before_any("way")
    crop = frame.crop
    like = PrintSize(crop.width * width, crop.height * height)
    size = even_print(sheet.name, frame.size or like, border_mm)
    cut = crop_to(size.width_cm / size.height_cm, width, height, crop)
    made = frame.lent("way", replace(frame, crop=cut, size=size, fit="crop"))
    return made, replace(sheet, place="centre", borderless=border_mm == 0)
