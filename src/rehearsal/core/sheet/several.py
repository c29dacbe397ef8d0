"""More than one print on a sheet: a grid of cells, as many as fit, different ones packed with least waste."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from rehearsal.core.errors import RehearsalError
from rehearsal.core.sheet.boxes import Box, around
from rehearsal.core.values.frame import PrintSize

#: Places are packed on a grid of so many to the mm.
_PER_MM = 20
#: Up to so many different prints every way of turning them is tried.
_ALL_TURNS = 7
_SLACK = 1e-6
#: No sheet holds more prints; so many different ones are packed at most.
MOST, MOST_PACKED = 400, 40


@dataclass(frozen=True)
class Laid:
    """One print on the sheet.

    Attributes:
        number: which of the sizes that were given.
        turned: by a quarter clockwise.
    """

    number: int
    box: Box
    turned: bool = False


def cell_mm(width: float, height: float, columns: int, rows: int, gap: float) -> tuple[float, float]:
    """Width and height of a cell of a grid in a room of width × height, all in mm.

    Raises:
        RehearsalError: the gaps leave nothing.
    """
    made = (width - (columns - 1) * gap) / columns, (height - (rows - 1) * gap) / rows
    if min(columns, rows) < 1 or columns * rows > MOST or min(made) < 1:
        raise RehearsalError("the gaps leave no room for prints", f"{columns} × {rows}", "take fewer, or smaller gaps")
    return made


def lay_grid(size: PrintSize, room: Box, columns: int, rows: int, gap: float) -> list[Laid]:
    """The same print in each cell of a grid, in the middle of its cell."""
    wide, high = cell_mm(room.width, room.height, columns, rows, gap)
    w, h = size.width_cm * 10, size.height_cm * 10
    return [
        Laid(0, Box(room.left + x * (wide + gap) + (wide - w) / 2, room.top + y * (high + gap) + (high - h) / 2, w, h))
        for y, x in itertools.product(range(rows), range(columns))
    ]


def lay_most(size: PrintSize, room: Box, gap: float) -> list[Laid]:
    """As many of one print as fit, all turned where more fit so; in the middle of the room."""
    w, h = size.width_cm * 10, size.height_cm * 10
    level, stood = (_rows(room, wide, high, gap) for wide, high in ((w, h), (h, w)))
    turned = len(stood) > len(level)
    return _middled([Laid(0, box, turned) for box in (stood if turned else level)], room)


def _rows(room: Box, w: float, h: float, gap: float) -> list[Box]:
    """Rows of equal boxes, from the room's upper left corner.

    Raises:
        RehearsalError: there would be more than anybody cuts.
    """
    across, down = (int((side + gap + _SLACK) // (own + gap)) for side, own in ((room.width, w), (room.height, h)))
    if across * down > MOST:
        raise RehearsalError(
            "so many prints cannot be laid", f"{across} × {down}", "print them larger, or on a smaller sheet"
        )
    return [Box(x * (w + gap), y * (h + gap), w, h) for y in range(down) for x in range(across)]


def _middled(laid: list[Laid], room: Box) -> list[Laid]:
    if not laid:
        return []
    block = around([one.box for one in laid])
    right = room.left + (room.width - block.width) / 2 - block.left
    down = room.top + (room.height - block.height) / 2 - block.top
    return [Laid(one.number, one.box.moved(right, down), one.turned) for one in laid]


def lay_packed(sizes: Sequence[PrintSize], room: Box, gap: float) -> list[Laid]:
    """Different prints with least waste: the smallest rectangle that holds them all, each turned where that helps.

    Returns:
        Those that fit, in the middle of the room: the last ones are left out where not all do.
    """
    for count in range(min(len(sizes), MOST_PACKED), 0, -1):
        found = [made for turns in _turns(count) if (made := _packed(sizes[:count], turns, room, gap))]
        if found:
            return _middled(min(found, key=_used), room)
    return []


def _turns(count: int) -> Iterator[tuple[bool, ...]]:
    """Ways of turning so many prints: all of them for a few, else none or all."""
    if count <= _ALL_TURNS:
        yield from itertools.product((False, True), repeat=count)
    else:
        yield (False,) * count
        yield (True,) * count


def _packed(sizes: Sequence[PrintSize], turns: Sequence[bool], room: Box, gap: float) -> list[Laid]:
    """One way of turning them, packed by the library; nothing when they do not fit."""
    import rpack

    sides = [((s.height_cm, s.width_cm) if t else (s.width_cm, s.height_cm)) for s, t in zip(sizes, turns, strict=True)]
    whole = [
        (math.ceil((w * 10 + gap) * _PER_MM - _SLACK), math.ceil((h * 10 + gap) * _PER_MM - _SLACK)) for w, h in sides
    ]
    most = [int((side + gap) * _PER_MM + _SLACK) for side in (room.width, room.height)]
    if any(w > most[0] or h > most[1] for w, h in whole):
        return []
    try:
        places = rpack.pack(whole, max_width=most[0], max_height=most[1])
    except rpack.PackingImpossibleError:
        return []
    return [
        Laid(i, Box(x / _PER_MM, y / _PER_MM, w * 10, h * 10), turned)
        for i, ((x, y), (w, h), turned) in enumerate(zip(places, sides, turns, strict=True))
    ]


def _used(laid: list[Laid]) -> tuple[float, int]:
    block = around([one.box for one in laid])
    return round(block.width * block.height, 3), sum(one.turned for one in laid)


#: Cut marks: their length, and how far from the print they begin, mm.
_MARK_MM, _OFF_MM = 4.0, 1.0


def cut_marks(laid: Sequence[Laid], paper: Box) -> list[tuple[float, float, float, float]]:
    """Short lines outside the corners of each print (x, y of both ends, mm), where they meet no print and stay on the paper."""
    boxes = [one.box for one in laid]
    found = []
    for box in boxes:
        for x, y in itertools.product((-1, 1), (-1, 1)):
            corner = (box.left if x < 0 else box.right), (box.top if y < 0 else box.foot)
            near, far = _OFF_MM, _OFF_MM + _MARK_MM
            for line in (
                (corner[0] + x * near, corner[1], corner[0] + x * far, corner[1]),
                (corner[0], corner[1] + y * near, corner[0], corner[1] + y * far),
            ):
                if _is_free(line, boxes, paper):
                    found.append(line)
    return found


def _is_free(line: tuple[float, float, float, float], boxes: list[Box], paper: Box) -> bool:
    x0, y0, x1, y1 = line
    body = Box(min(x0, x1), min(y0, y1), abs(x1 - x0), abs(y1 - y0)).grown(0.05)
    return paper.holds(body, 0.0) and not any(body.meets(box) for box in boxes)
