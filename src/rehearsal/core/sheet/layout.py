"""Crop, print size and resolution: the arithmetic of the sheet."""

from __future__ import annotations

import re
from dataclasses import dataclass

from rehearsal.core.errors import RehearsalError
from rehearsal.core.values.frame import CM_PER_INCH, Crop, PrintSize

_SIZE = re.compile(r"^\s*(\d+(?:[.,]\d+)?)\s*[x×]\s*(\d+(?:[.,]\d+)?)\s*(cm|in|mm)\s*$", re.IGNORECASE)


def parse_size(text: str) -> PrintSize:
    """``30x20cm``, ``12x8in`` or ``300x200mm``; raises RehearsalError with the form to use."""
    match = _SIZE.match(text)
    if not match:
        raise RehearsalError("the size is not understood", text, "write it like 30x20cm or 12x8in")
    width, height = (float(v.replace(",", ".")) for v in match.group(1, 2))
    factor = {"cm": 1.0, "in": CM_PER_INCH, "mm": 0.1}[match.group(3).lower()]
    if width <= 0 or height <= 0 or max(width, height) * factor > 2000:
        raise RehearsalError("the size is not possible", text, "write it like 30x20cm or 12x8in")
    return PrintSize(width * factor, height * factor)


def crop_to(proportion: float, width: int, height: int, crop: Crop | None = None) -> Crop:
    """Largest centred crop of the given width : height inside a crop of a picture of width × height pixels."""
    base = crop or Crop()
    w, h = base.width * width, base.height * height
    new_w, new_h = (w, w / proportion) if w / h < proportion else (h * proportion, h)
    x = base.x * width + (w - new_w) / 2
    y = base.y * height + (h - new_h) / 2
    return Crop(x / width, y / height, new_w / width, new_h / height)


def crop_about(crop: Crop, proportion: float, width: int, height: int) -> Crop:
    """A crop of another width : height about the middle of the one there is, of a picture of width × height pixels.

    One that spans the picture from edge to edge goes on doing so; any other keeps its area as far as there is picture, and is moved
    in where it would lie over the edge.
    """
    w, h = crop.width * width, crop.height * height
    spans = crop.width > 1 - 1e-6 or crop.height > 1 - 1e-6
    most = min(height, width / proportion)
    high = most if spans else min((w * h / proportion) ** 0.5, most)
    wide = high * proportion
    x = min(max(crop.x * width + (w - wide) / 2, 0.0), width - wide)
    y = min(max(crop.y * height + (h - high) / 2, 0.0), height - high)
    return Crop(x / width, y / height, wide / width, high / height)


def same_proportion(width: float, height: float, other_width: float, other_height: float) -> bool:
    """True when two proportions agree within half a per cent (no visible stretch to decide about)."""
    return abs(width / height / (other_width / other_height) - 1) < 0.005


def fit_size(size: PrintSize, width: int, height: int) -> PrintSize:
    """Largest print inside ``size`` with the proportions of width × height pixels."""
    factor = min(size.width_cm / width, size.height_cm / height)
    return PrintSize(width * factor, height * factor)


def turned_like(size: PrintSize, width: int, height: int) -> PrintSize:
    """A size turned like a picture of width × height pixels; as it is where one of them is square."""
    across = (size.width_cm - size.height_cm) * (width - height)
    return size.turned if across < 0 else size


def enlargement(pixels: int, cm: float, ppi: float) -> float:
    """By what factor so many pixels are enlarged for a print of a width at a resolution; under 1 when they are reduced."""
    return cm / CM_PER_INCH * ppi / pixels


def enlarged_words(factor: float) -> str:
    """An enlargement, always said; empty when nothing is enlarged."""
    return (
        f"enlarged {factor:.1f} times" if factor >= 1.05 else f"enlarged {factor:.2f} times" if factor > 1.005 else ""
    )


def effective_ppi(width_px: float, width_cm: float) -> float:
    """Pixels per printed inch after the crop."""
    return width_px / (width_cm / CM_PER_INCH)


@dataclass(frozen=True)
class SizeOption:
    """A common print or sheet size, long side first."""

    name: str
    width_cm: float
    height_cm: float


#: ISO 216 and common photographic sizes (checked against tables of two libraries in the tests).
COMMON_SIZES = (
    SizeOption("A5", 21.0, 14.8),
    SizeOption("A4", 29.7, 21.0),
    SizeOption("A3", 42.0, 29.7),
    SizeOption("A3+", 48.3, 32.9),
    SizeOption("A2", 59.4, 42.0),
    SizeOption("A1", 84.1, 59.4),
    SizeOption("15 × 10 cm", 15.0, 10.0),
    SizeOption("18 × 13 cm", 18.0, 13.0),
    SizeOption("30 × 20 cm", 30.0, 20.0),
    SizeOption("40 × 30 cm", 40.0, 30.0),
    SizeOption("10 × 8 in", 25.4, 20.32),
    SizeOption("12 × 8 in", 30.48, 20.32),
    SizeOption("14 × 11 in", 35.56, 27.94),
    SizeOption("18 × 12 in", 45.72, 30.48),
    SizeOption("20 × 16 in", 50.8, 40.64),
)


#: Proportions of common prints, long side over short side (0 is free).
PROPORTIONS = (
    ("as the print size", -1.0),
    ("free", 0.0),
    ("3 : 2", 3 / 2),
    ("4 : 3", 4 / 3),
    ("5 : 4", 5 / 4),
    ("7 : 5", 7 / 5),
    ("1 : 1", 1.0),
    ("2 : 1", 2.0),
    ("16 : 9", 16 / 9),
    ("A sheets, √2 : 1", 2**0.5),
    ("A3+, 19 : 13", 48.3 / 32.9),
)
#: Places along a crop's sides that help to compose, as fractions, the coarser division first.
DIVISIONS: dict[str, tuple[float, ...]] = {
    "thirds": (1 / 3, 2 / 3),
    "golden section": (0.381966, 0.618034),
}


#: Sheets by name, short side first, in cm (ISO 216; A3+ and the inch sheets by common practice).
SHEETS = {
    "A5": (14.8, 21.0),
    "A4": (21.0, 29.7),
    "A3": (29.7, 42.0),
    "A3+": (32.9, 48.3),
    "A2": (42.0, 59.4),
    "A1": (59.4, 84.1),
    "Letter": (21.59, 27.94),
    "13 × 19 in": (33.02, 48.26),
    "17 × 22 in": (43.18, 55.88),
}


#: Widths of common rolls in mm by name: 17, 24 and 44 in (common practice, no source).
ROLLS = {"roll 432mm": 431.8, "roll 610mm": 609.6, "roll 1118mm": 1117.6}
_ROLL = re.compile(r"^roll (\d+(?:\.\d+)?) ?mm$")
#: Bare paper before and after a print on a roll, and round one on a sheet made for it, cm.
_LEAD_CM = 2.0
_LEAST_ROLL_MM, _MOST_ROLL_MM = 100.0, 2000.0


def sheet_words(name: str) -> str:
    """A sheet's name; one without a name has been made for its print."""
    return name or "a sheet of its own"


def sheet_name(text: str) -> str:
    """A sheet as it was typed: a common one by its name whatever its capitals, else as it is."""
    return next((name for name in (*SHEETS, *ROLLS) if name.lower() == text.strip().lower()), text.strip())


def roll_width_cm(name: str) -> float:
    """Width of a roll by its name, ``roll 610mm``; 0 for sheets."""
    found = _ROLL.match(name)
    width = ROLLS.get(name, float(found.group(1)) if found else 0.0)
    return width / 10 if _LEAST_ROLL_MM <= width <= _MOST_ROLL_MM else 0.0


def has_size(name: str) -> bool:
    """True for sheets that are as large whatever lies on them: common ones, and own ones such as ``30x40cm``."""
    return name in SHEETS or _own_size(name) is not None


def _own_size(name: str) -> PrintSize | None:
    try:
        return parse_size(name)
    except RehearsalError:
        return None


def sheet_size(
    name: str, size: PrintSize, margins_mm: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)
) -> tuple[float, float]:
    """Width and height in cm of a sheet, turned like the print on it.

    Of a roll: its width and the length that is used, turned so that the length is least: before and after the print 2 cm, or as much as
    no ink reaches at its ends (``margins_mm``: top, right, bottom, left as it is fed) where that is more. A name that is not known gives
    a sheet with 2 cm round the print.
    """
    if roll := roll_width_cm(name):
        return _on_roll(roll, size, margins_mm)
    own = _own_size(name)
    if name not in SHEETS and own is None:
        return size.width_cm + 2 * _LEAD_CM, size.height_cm + 2 * _LEAD_CM
    short, long = SHEETS[name] if own is None else sorted((own.width_cm, own.height_cm))
    return (long, short) if size.width_cm >= size.height_cm else (short, long)


def _on_roll(roll: float, size: PrintSize, margins_mm: tuple[float, float, float, float]) -> tuple[float, float]:
    top, right, foot, left = margins_mm
    lead, across = max(_LEAD_CM, top / 10, foot / 10), roll - (left + right) / 10
    upright, turned = (roll, size.height_cm + 2 * lead), (size.width_cm + 2 * lead, roll)
    lies = size.height_cm <= across + 1e-6 and (size.width_cm < size.height_cm or size.width_cm > across + 1e-6)
    return turned if lies else upright


def fits_sheet(size: PrintSize, sheet: str, margins_mm: tuple[float, float, float, float], borderless: bool) -> str:
    """Why a print does not fit on a sheet, as a sentence; empty when it does. Margins: top, right, bottom, left."""
    width, height = sheet_size(sheet, size, (0.0, 0.0, 0.0, 0.0) if borderless else margins_mm)
    if size.width_cm > width + 0.01 or size.height_cm > height + 0.01:
        return f"{size.in_words} is larger than {sheet} ({width:.1f} × {height:.1f} cm)."
    if borderless:
        return ""
    top, right, bottom, left = margins_mm
    along = (top + bottom) / 10
    across = (left + right) / 10
    room_long, room_short = max(width, height) - along, min(width, height) - across
    long, short = max(size.width_cm, size.height_cm), min(size.width_cm, size.height_cm)
    if long > room_long + 0.01 or short > room_short + 0.01:
        return f"{size.in_words} runs into the unprintable margins of {sheet} ({room_long:.1f} × {room_short:.1f} cm can be printed)."
    return ""
