"""The page composed: prints, mat, lettering and cut marks at their places on the sheet, in mm from its upper left corner as it is seen."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rehearsal.core.errors import RehearsalError
from rehearsal.core.sheet.boxes import Box, around
from rehearsal.core.sheet.layout import roll_width_cm, sheet_size
from rehearsal.core.sheet.onsheet import turned_margins
from rehearsal.core.sheet.placing import place_in
from rehearsal.core.sheet.several import Laid, cell_mm, cut_marks, lay_grid, lay_most, lay_packed
from rehearsal.core.values.frame import PrintSize
from rehearsal.core.values.sheet import Caption, Sheet

Margins = tuple[float, float, float, float]
_NONE: Margins = (0.0, 0.0, 0.0, 0.0)
#: From a print, or from a mat's opening, to the capitals under it, and from a print's sides to what is signed in it, mm.
_UNDER_MM, _INSIDE_MM = 3.0, 4.0
#: A mark is as high as so many capitals.
_MARK_CAPITALS = 4.0
#: No length on a sheet is longer, mm.
_MOST_MM = 20_000.0


@dataclass(frozen=True)
class Lettering:
    """A line of type.

    Attributes:
        x, y: of the foot of its letters, mm; ``side`` says which end of it lies there: left, middle or right.
        capital: height of a capital, mm.
        opacity: per cent; ``picture``: file of a mark that stands instead, as high as four capitals.
        room: width it has, mm; 0 for as much as it wants.
    """

    text: str
    x: float
    y: float
    side: str
    capital: float
    opacity: float = 100.0
    picture: str = ""
    room: float = 0.0


@dataclass(frozen=True)
class MatBoxes:
    """A mat as it lies over the sheet: its outside and its opening, mm of the sheet."""

    outside: Box
    opening: Box


@dataclass(frozen=True)
class Page:
    """What is on one sheet.

    Attributes:
        width, height: of the sheet as it is seen, mm.
        margins: edge no ink reaches at the top, right, foot and left as it is seen.
        feeds_left: the edge that goes in first is the left one, else the upper one.
        laid: the prints.
        left_out: numbers of prints there was no room for.
    """

    width: float
    height: float
    margins: Margins
    feeds_left: bool
    laid: tuple[Laid, ...]
    left_out: tuple[int, ...] = ()
    mat: MatBoxes | None = None
    lettering: tuple[Lettering, ...] = ()
    marks: tuple[tuple[float, float, float, float], ...] = ()

    @property
    def paper(self) -> Box:
        """The whole sheet."""
        return Box(0.0, 0.0, self.width, self.height)

    @property
    def fed(self) -> tuple[float, float]:
        """Width across the feed and length along it, mm: the sheet as it goes in."""
        return (self.height, self.width) if self.feeds_left else (self.width, self.height)

    @property
    def inked(self) -> Box:
        """Where ink reaches."""
        top, right, foot, left = self.margins
        return Box(left, top, self.width - left - right, self.height - top - foot)

    @property
    def borders(self) -> Margins:
        """Bare paper outside all prints, at the top, right, foot and left."""
        if not self.laid:
            return self.height, self.width, self.height, self.width
        block = around([one.box for one in self.laid])
        return block.top, self.width - block.right, self.height - block.foot, block.left

    @property
    def bare(self) -> float:
        """Share of the sheet that no print covers, 0 to 1; prints that hang over it count as far as they lie on it."""
        covered = sum(_within(one.box, self.paper) for one in self.laid)
        return max(0.0, 1.0 - covered / (self.width * self.height))


def _within(box: Box, paper: Box) -> float:
    wide = min(box.right, paper.right) - max(box.left, paper.left)
    high = min(box.foot, paper.foot) - max(box.top, paper.top)
    return max(wide, 0.0) * max(high, 0.0)


def page_size(sheet: Sheet, sizes: Sequence[PrintSize], margins_mm: Margins = _NONE) -> tuple[float, float]:
    """Width and height of the sheet in mm, turned like what lies on it; a roll is as long as its ends no ink reaches want it."""
    wide, high = sheet_size(sheet.name, _turner(sheet, sizes), _NONE if sheet.borderless else margins_mm)
    return wide * 10, high * 10


def _turner(sheet: Sheet, sizes: Sequence[PrintSize]) -> PrintSize:
    """What the sheet turns like: the print, or the grid of them."""
    size, several = sizes[0], sheet.several
    if several.way != "grid":
        return size
    return PrintSize(size.width_cm * several.columns, size.height_cm * several.rows)


def compose(sheet: Sheet, sizes: Sequence[PrintSize], margins_mm: Margins = _NONE) -> Page:
    """The page of a sheet.

    Args:
        sizes: of the prints: one, or for ``packed`` this take's and the others'.
        margins_mm: edge no ink reaches, top, right, bottom, left of the sheet as it is fed, short side across.

    Raises:
        RehearsalError: the place is not understood, or the gaps of a grid leave nothing. A print too large for its sheet hangs over it.
    """
    _check_numbers(sheet, sizes, margins_mm)
    width, height = page_size(sheet, sizes, margins_mm)
    feeds_left = goes_in_left(sheet.name, width, height)
    margins = turned_margins(_NONE if sheet.borderless else margins_mm, feeds_left)
    bare = Page(width, height, margins, feeds_left, ())
    if sheet.several.way:
        return _with_several(bare, sheet, sizes)
    mat = _mat_outside(sheet, width, height)
    room = mat or bare.paper
    left, top = place_in((room.width, room.height), (sizes[0].width_cm * 10, sizes[0].height_cm * 10), sheet.place)
    box = Box(room.left + left, room.top + top, sizes[0].width_cm * 10, sizes[0].height_cm * 10)
    opening = None if mat is None else box.grown(-sheet.mat.overlap if sheet.mat.way == "over" else sheet.mat.show)
    boxes = None if mat is None or opening is None else MatBoxes(mat, opening)
    words = _lettering(sheet.caption, box, opening)
    return Page(width, height, margins, feeds_left, (Laid(0, box),), (), boxes, words)


def _check_numbers(sheet: Sheet, sizes: Sequence[PrintSize], margins_mm: Margins) -> None:
    """Raise RehearsalError for a sheet that no hand can have laid: a workbook may have been written by anybody."""
    mat, several, caption = sheet.mat, sheet.several, sheet.caption
    lengths = [mat.width, mat.height, mat.overlap, mat.show, several.gap, several.edge, *margins_mm]
    sides = [side for size in sizes for side in (size.width_cm, size.height_cm)]
    good = all(0 <= v <= _MOST_MM for v in lengths) and all(0 < v <= _MOST_MM for v in (*sides, caption.size_mm))
    if not good or not sizes:
        raise RehearsalError(
            "the sheet cannot be laid so", sheet.name, "lay it anew: one of its lengths makes no sense"
        )


def goes_in_left(name: str, width: float, height: float) -> bool:
    """True when the edge that goes in first is the left one: sheets go in by their short side; of a roll its width lies across."""
    roll = roll_width_cm(name) * 10
    return abs(height - roll) < abs(width - roll) if roll else width > height


def _mat_outside(sheet: Sheet, width: float, height: float) -> Box | None:
    """The mat round the sheet's middle, turned like it; None for none."""
    mat = sheet.mat
    if not mat.way:
        return None
    sides = (mat.width, mat.height) if mat.width > 0 and mat.height > 0 else (width, height)
    long, short = max(sides), min(sides)
    wide, high = (long, short) if width >= height else (short, long)
    return Box((width - wide) / 2, (height - high) / 2, wide, high)


def grid_cell(sheet: Sheet, size: PrintSize, margins_mm: Margins = _NONE) -> PrintSize:
    """Size of a cell of the sheet's grid, which turns like ``size`` does.

    Raises:
        RehearsalError: the gaps leave nothing.
    """
    width, height = page_size(sheet, [size], margins_mm)
    margins = turned_margins(_NONE if sheet.borderless else margins_mm, goes_in_left(sheet.name, width, height))
    room = _room(Page(width, height, margins, False, ()), sheet)
    wide, high = cell_mm(room.width, room.height, sheet.several.columns, sheet.several.rows, sheet.several.gap)
    return PrintSize(wide / 10, high / 10)


def _room(page: Page, sheet: Sheet) -> Box:
    """Where several prints may lie: inside the wanted edge and where ink reaches."""
    top, right, foot, left = (max(side, sheet.several.edge) for side in page.margins)
    return Box(left, top, page.width - left - right, page.height - top - foot)


def _with_several(page: Page, sheet: Sheet, sizes: Sequence[PrintSize]) -> Page:
    several, room = sheet.several, _room(page, sheet)
    if several.way == "grid":
        laid = lay_grid(sizes[0], room, several.columns, several.rows, several.gap)
    elif several.way == "most":
        laid = lay_most(sizes[0], room, several.gap)
    else:
        laid = lay_packed(sizes, room, several.gap)
    wanted = range(len(sizes) if several.way == "packed" else 1)
    left_out = tuple(sorted(set(wanted) - {one.number for one in laid}))
    marks = tuple(cut_marks(laid, page.inked)) if several.cut_marks else ()
    return Page(page.width, page.height, page.margins, page.feeds_left, tuple(laid), left_out, None, (), marks)


def _lettering(caption: Caption, box: Box, opening: Box | None) -> tuple[Lettering, ...]:
    """Number at the left, text in the middle, name or mark at the right, under the print or where the mat covers them."""
    if caption.is_empty:
        return ()
    capital = caption.size_mm
    edge = max(box.foot, opening.foot) if opening is not None and caption.hidden else box.foot
    foot = edge + _UNDER_MM + capital
    found = [
        Lettering(caption.number, box.left, foot, "left", capital),
        Lettering(caption.text, box.left + box.width / 2, foot, "middle", capital),
    ]
    x, y = (box.right - _INSIDE_MM, box.foot - _INSIDE_MM) if caption.inside else (box.right, foot)
    if caption.mark and not caption.inside:
        y = edge + _UNDER_MM + capital * _MARK_CAPITALS
    found.append(Lettering(caption.signature, x, y, "right", capital, caption.opacity, caption.mark))
    return tuple(line for line in found if line.text or line.picture)


def lettering_box(line: Lettering, widths: float) -> Box:
    """About where a line lies, of so many mm of width, with room for what hangs under it."""
    high = line.capital * (_MARK_CAPITALS if line.picture else 1.0)
    left = {"left": line.x, "middle": line.x - widths / 2, "right": line.x - widths}[line.side]
    below = 0.0 if line.picture else 0.35 * line.capital
    return Box(left, line.y - high, widths, high + below)


def check_whole(page: Page) -> None:
    """Raise RehearsalError when a print hangs over its sheet or is left out: what is written is whole."""
    if not page.laid:
        raise RehearsalError("no print finds room on the sheet", "its size", "print it smaller or on a larger sheet")
    if page.left_out:
        raise RehearsalError(
            "not all prints find room on the sheet",
            f"{len(page.left_out)} left out",
            "take a larger sheet or fewer prints",
        )
    for one in page.laid:
        if not page.paper.holds(one.box):
            held = f"{page.width / 10:.1f} × {page.height / 10:.1f} cm"
            raise RehearsalError(
                f"the print lies over the edge of its sheet of {held}", f"{one.box.width / 10:.1f} × {one.box.height / 10:.1f} cm",
                "print it smaller, at another place or on a larger sheet",
            )  # fmt: skip
