"""Where everything lies on a test sheet, in mm from its upper left corner as it is seen."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from rehearsal.core.errors import RehearsalError
from rehearsal.core.sheet.boxes import Box
from rehearsal.core.sheet.composing import Lettering, Margins, Page, goes_in_left
from rehearsal.core.sheet.layout import SHEETS, sheet_size
from rehearsal.core.sheet.lettering import text_width_mm
from rehearsal.core.sheet.onsheet import turned_margins
from rehearsal.core.sheet.several import Laid
from rehearsal.core.testsheets.wedges import STEPS
from rehearsal.core.values.frame import PrintSize

#: Least bare edge, mm; capitals of numbers and values, and of the line at the foot; from one line to the next.
EDGE = 5.0
_CAPITAL, _LINE = 2.6, 5.4
#: Gaps of each layout, and columns and fields it holds at most.
GAPS = {"2x2": 1.0, "3x3": 3.0, "strips": 2.0}
COLUMNS = {"2x2": 2, "3x3": 3, "strips": 1}
HOLDS = {"2x2": 4, "3x3": 9, "strips": 9}
#: Black over bare paper beside each field: its width and its distance; the wedges' height; from fields to the foot.
_BESIDE, _APART, _WEDGE, _ABOVE_FOOT = 7.0, 1.5, 6.0, 3.0
#: A sheet serves when a piece is at least so large (long and short side), or the long side of a whole picture is (common practice,
#: no source).
_LEAST = {"2x2": (45.0, 28.0), "3x3": (45.0, 28.0), "strips": (90.0, 9.0)}
_LEAST_WHOLE = 70.0
#: Pieces beside each other in a field, mm.
_BETWEEN = 1.0


@dataclass(frozen=True)
class Field:
    """One field: its cell, its pieces in their order, black and bare paper beside them."""

    number: int
    cell: Box
    pieces: tuple[Box, ...]
    black: Box
    bare: Box


@dataclass(frozen=True)
class Wanted:
    """What is to be laid.

    Attributes:
        labels: of the fields in their order, without their numbers.
        pieces: in each field; proportion: width to height of a whole picture, 0 for pieces, which take the room there is.
        print_mm: width and height of the final print: no piece is larger.
        caption: what stands at the foot; upright: the sheet stands.
    """

    labels: tuple[str, ...]
    pieces: int = 1
    proportion: float = 0.0
    print_mm: tuple[float, float] = (0.0, 0.0)
    caption: str = ""
    upright: bool = False


@dataclass(frozen=True)
class TestPage:
    """A test sheet laid.

    Attributes:
        name, layout: of the sheet, and one of LAYOUTS.
        page: sheet, margins and lettering; its prints are the pieces, numbered field by field.
        black_wedge, white_wedge: boxes of each step.
        piece: size of a piece, mm.
    """

    __test__ = False

    name: str
    layout: str
    page: Page
    fields: tuple[Field, ...]
    black_wedge: tuple[Box, ...]
    white_wedge: tuple[Box, ...]
    piece: tuple[float, float]

    @property
    def columns(self) -> int:
        """Fields beside each other."""
        return min(COLUMNS[self.layout], len(self.fields))

    def at(self, x: float, y: float) -> tuple[int, ...]:
        """Numbers of the fields at a place: one, or the two on both sides of a gap; none elsewhere."""
        for field in self.fields:
            if any(box.left <= x <= box.right and box.top <= y <= box.foot for box in field.pieces):
                return (field.number,)
        for one, two in self.neighbours():
            if _between(self.fields[one - 1], self.fields[two - 1], x, y):
                return (one, two)
        inside = (f for f in self.fields if f.cell.left <= x <= f.cell.right and f.cell.top <= y <= f.cell.foot)
        return next(((f.number,) for f in inside), ())

    def neighbours(self) -> list[tuple[int, int]]:
        """Pairs of numbers that lie beside or under each other."""
        count, columns = len(self.fields), self.columns
        across = [(n, n + 1) for n in range(1, count) if n % columns]
        return across + [(n, n + columns) for n in range(1, count - columns + 1)]


#: How near to the middle of a gap the pointer must be, mm.
_GAP_REACH = 4.0


def _between(one: Field, two: Field, x: float, y: float) -> bool:
    a, b = one.pieces[-1], two.pieces[0]
    if abs(one.cell.top - two.cell.top) < 1e-6:
        middle = (a.right + b.left) / 2
        reach = max(_GAP_REACH, (b.left - a.right) / 2)
        return a.top <= y <= a.foot and abs(x - middle) <= reach
    middle = (a.foot + b.top) / 2
    reach = max(_GAP_REACH, (b.top - a.foot) / 2)
    return one.pieces[0].left <= x <= a.right and abs(y - middle) <= reach


def layout_for(fields: int) -> str:
    """The layout that is offered for so many fields."""
    return "2x2" if fields <= HOLDS["2x2"] else "3x3"


def lay_test(wanted: Wanted, name: str, layout: str, margins_mm: Margins) -> TestPage:
    """Lay a test sheet.

    Args:
        margins_mm: edge no ink reaches: top, right, bottom, left of the sheet as it is fed.

    Raises:
        RehearsalError: the fields do not fit the layout, or nothing is left for them.
    """
    count = len(wanted.labels)
    if not 0 < count <= HOLDS[layout]:
        raise RehearsalError(
            f"{layout} holds {HOLDS[layout]} fields", str(count), "take another layout, or fewer variants"
        )
    wide, high = (10 * side for side in sheet_size(name, PrintSize(2, 3) if wanted.upright else PrintSize(3, 2)))
    feeds_left = goes_in_left(name, wide, high)
    margins = turned_margins(margins_mm, feeds_left)
    top, right, foot, left = (max(side, EDGE) for side in margins)
    room = Box(left, top, wide - left - right, high - top - foot)
    lines = wrapped(wanted.caption, room.width, _CAPITAL)
    under = _ABOVE_FOOT + _WEDGE + len(lines) * _LINE
    fields, labels = _fields(wanted, layout, Box(room.left, room.top, room.width, room.height - under))
    foot_top = room.foot - under + _ABOVE_FOOT
    lettering = [*labels, *_lines(lines, Box(room.left, 0.0, room.width, 0.0), foot_top + _WEDGE + _CAPITAL + 1.8)]
    laid = tuple(Laid(i, box) for i, box in enumerate(box for field in fields for box in field.pieces))
    page = Page(wide, high, margins, feeds_left, laid, (), None, tuple(lettering))
    black, white = _wedges(Box(room.left, foot_top, room.width, _WEDGE))
    piece = fields[0].pieces[0]
    return TestPage(name, layout, page, fields, black, white, (piece.width, piece.height))


def _lines(lines: Sequence[str], row: Box, foot: float) -> list[Lettering]:
    """Lines under each other; each has of the row what it has of the longest line, so that all shrink alike where they must."""
    widths = [text_width_mm(text, _CAPITAL) for text in lines]
    most = max(widths, default=1.0)
    return [
        Lettering(text, row.left, foot + i * _LINE, "left", _CAPITAL, room=row.width * max(width / most, 0.01))
        for i, (text, width) in enumerate(zip(lines, widths, strict=True))
    ]


def _fields(wanted: Wanted, layout: str, room: Box) -> tuple[tuple[Field, ...], list[Lettering]]:
    count, gap = len(wanted.labels), GAPS[layout]
    columns = min(COLUMNS[layout], count)
    rows = math.ceil(count / columns)
    wide, high = (room.width - (columns - 1) * gap) / columns, (room.height - (rows - 1) * gap) / rows
    said = [wrapped(f"{i}  {label}", wide, _CAPITAL) for i, label in enumerate(wanted.labels, 1)]
    most = max(len(lines) for lines in said)
    fields, lettering = [], []
    for i, lines in enumerate(said):
        x, y = room.left + i % columns * (wide + gap), room.top + i // columns * (high + gap)
        cell = Box(x, y, wide, high)
        field = _field(wanted, i + 1, cell, high - most * _LINE)
        fields.append(field)
        lettering += _lines(lines, cell, field.pieces[0].foot + 1.4 + _CAPITAL)
    return tuple(fields), lettering


def _field(wanted: Wanted, number: int, cell: Box, high: float) -> Field:
    """Pieces from the cell's upper left, black over bare paper at their right."""
    n = wanted.pieces
    wide = (cell.width - _APART - _BESIDE - (n - 1) * _BETWEEN) / n
    if min(wide, high) < 5.0:
        raise RehearsalError("the fields are too small", f"{wide:.0f} × {high:.0f} mm", "take a larger sheet")
    if wanted.proportion:
        wide, high = min(wide, high * wanted.proportion), min(high, wide / wanted.proportion)
    most = [side or math.inf for side in wanted.print_mm]
    wide, high = min(wide, most[0]), min(high, most[1])
    pieces = tuple(Box(cell.left + i * (wide + _BETWEEN), cell.top, wide, high) for i in range(n))
    beside = Box(pieces[-1].right + _APART, cell.top, _BESIDE, high / 2)
    return Field(number, cell, pieces, beside, beside.moved(0.0, high / 2))


def _wedges(row: Box) -> tuple[tuple[Box, ...], tuple[Box, ...]]:
    """Black at the left, rising to the right; white at the right, bare paper last."""
    half = (row.width - 2 * EDGE) / 2
    step = half / STEPS
    black = tuple(Box(row.left + i * step, row.top, step, row.height) for i in range(STEPS))
    white = tuple(Box(row.right - (i + 1) * step, row.top, step, row.height) for i in range(STEPS))
    return black, white


#: Height of the row of wedges at the foot of a small proof, and its distance to what lies above, mm.
STRIP_MM = _WEDGE + 3.0


def strip_of(page: Page) -> tuple[Box, tuple[Box, ...], tuple[Box, ...]]:
    """At the foot of a page of one print: black, and the wedges of :func:`lay_test`, within the edge that ink reaches."""
    inked = page.inked
    left, right = max(inked.left, EDGE), min(inked.right, page.width - EDGE)
    foot = min(inked.foot, page.height - EDGE)
    black = Box(left, foot - _WEDGE, _BESIDE, _WEDGE)
    row = Box(left + _BESIDE + 2 * EDGE, foot - _WEDGE, right - left - _BESIDE - 2 * EDGE, _WEDGE)
    return black, *_wedges(row)


def wrapped(text: str, width: float, capital: float) -> list[str]:
    """A text in lines of at most so many mm; a single word that is longer is broken: type is never cut."""
    lines: list[str] = []
    line = ""
    for word in _short_words(text, width, capital):
        longer = f"{line} {word}".strip() if line else word
        if line and text_width_mm(longer, capital) > width:
            lines.append(line)
            line = word
        else:
            line = longer
    return [*lines, line] if line else lines


def _short_words(text: str, width: float, capital: float) -> list[str]:
    made = []
    for word in text.split(" "):
        rest = word
        while text_width_mm(rest, capital) > width and len(rest) > 1:
            cut = max(1, next((i for i in range(len(rest), 0, -1) if text_width_mm(rest[:i], capital) <= width), 1))
            made.append(rest[:cut])
            rest = rest[cut:]
        made.append(rest)
    return made


def serves(page: TestPage, wanted: Wanted) -> bool:
    """True when what is compared on a sheet is large enough to be compared, or as large as the print itself."""
    wide, high = page.piece
    most = [side or math.inf for side in wanted.print_mm]
    if wanted.proportion:
        return max(wide, high) >= min(_LEAST_WHOLE, max(most) - 0.1)
    long, short = _LEAST[page.layout]
    return max(wide, high) >= min(long, max(most) - 0.1) and min(wide, high) >= min(short, min(most) - 0.1)


def smallest_sheet(wanted: Wanted, layout: str, margins_mm: Margins, names: Sequence[str]) -> TestPage:
    """The smallest of the sheets that serves, standing or lying as ``wanted`` says; the largest when none does.

    Args:
        names: sheets there are of the paper; those of no known size are passed over.

    Raises:
        RehearsalError: not even the largest has room.
    """
    known = sorted({n for n in names if n in SHEETS}, key=lambda n: SHEETS[n][0] * SHEETS[n][1]) or ["A4"]
    found = None
    for name in known:
        try:
            found = lay_test(wanted, name, layout, margins_mm)
        except RehearsalError:
            continue
        if serves(found, wanted):
            return found
    return found if found is not None else lay_test(wanted, known[-1], layout, margins_mm)
