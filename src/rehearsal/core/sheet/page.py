"""The whole page as it goes to the printer: device values of each pixel, bare paper without ink.

Prints are made straight into the page's own pixels: a large page is held once.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from rehearsal.core.sheet.boxes import Box
from rehearsal.core.sheet.composing import Page
from rehearsal.core.sheet.lettering import Ink, draw_lettering
from rehearsal.core.sheet.several import Laid
from rehearsal.core.sheet.trueplace import Mending
from rehearsal.core.values.frame import PrintSize

#: A page that is turned by less than this at its corners is not turned, mm: half of what an eye sees at a border.
_LEAST_TURN_MM = 0.05
#: Cut marks are so wide, mm.
_MARK_MM = 0.1


@dataclass(frozen=True)
class Part:
    """Something on the page: its rows and columns, and its upper left corner in mm."""

    rows: slice
    columns: slice
    left: float
    top: float


@dataclass(eq=False)
class DrawnPage:
    """A page in pixels.

    Attributes:
        pixels: (h, w, channels), 8 or 16 bit.
        parts: prints and lettering; all else is bare. ``lines``: cut marks, mm, drawn in ``pixels`` too.
        width, height: mm; ppi: of the pixels.
    """

    pixels: np.ndarray
    parts: list[Part]
    lines: tuple[tuple[float, float, float, float], ...]
    width: float
    height: float
    ppi: float


def bare_value(channels: int, kind: type) -> int:
    """No ink: the largest value of RGB printers and of grey ones, and nought of ink amounts."""
    return 0 if channels == 4 else int(np.iinfo(kind).max)


def place_box(page: Page, box: Box, mending: Mending) -> Box:
    """Where a box of the page is sent so that it comes out there; both as the page is seen."""
    if mending.place is None:
        return box
    if not page.feeds_left:
        return mending.box(box)
    fed = mending.box(Box(page.height - box.foot, box.left, box.height, box.width))
    return Box(fed.top, page.height - fed.right, fed.height, fed.width)


def sent_size(page: Page, one: Laid, mending: Mending) -> PrintSize:
    """Size in which a print is made, so that it comes out in its own; upright, as its picture is."""
    box = place_box(page, one.box, mending)
    made = PrintSize(box.width / 10, box.height / 10)
    return made.turned if one.turned else made


Line = tuple[float, float, float, float]
Make = Callable[[int, PrintSize, Callable[[tuple[int, int]], np.ndarray]], None]


#: A box of the page, mm, and the file's values (channels,), 0 to 1, that fill it.
Plain = tuple[Box, np.ndarray]


def draw_page(
    page: Page, ppi: float, channels: int, kind: type, make: Make, ink: Ink, mending: Mending, plain: Sequence[Plain] = ()
) -> DrawnPage:  # fmt: skip
    """The page's pixels, as it is seen.

    Args:
        make: ``make(number, size, room)`` puts the pixels of a print of a size into the array that ``room((width, height))`` gives.
        ink: what lettering and cut marks are printed with.
        mending: what the printer does to a page, taken out.
        plain: boxes of one colour.
    """
    wide, high = round(page.width / 25.4 * ppi), round(page.height / 25.4 * ppi)
    pixels: np.ndarray = np.full((high, wide, channels), bare_value(channels, kind), dtype=kind)
    made: dict[tuple[int, bool], Part] = {}
    parts = []
    for one in page.laid:
        box = place_box(page, one.box, mending)
        key = (one.number, one.turned)
        if key in made:
            parts.append(_copied(pixels, made[key], box, ppi))
            continue
        found: list[Part] = []

        def room(size: tuple[int, int], box: Box = box, one: Laid = one, found: list[Part] = found) -> np.ndarray:
            part = _part(pixels, box, size[::-1] if one.turned else size, ppi)
            found.append(part)
            mine = pixels[part.rows, part.columns]
            return np.rot90(mine) if one.turned else mine

        make(one.number, sent_size(page, one, mending), room)
        made[key] = found[0]
        parts.append(found[0])
    parts += [_filled(pixels, place_box(page, box, mending), values, ppi) for box, values in plain]
    for line in page.lettering:
        there = place_box(page, Box(line.x, line.y, 0.0, 0.0), mending)
        drawn = draw_lettering(pixels, replace(line, x=there.left, y=there.top), ppi, ink)
        parts += [] if drawn is None else [Part(*drawn, drawn[1].start / ppi * 25.4, drawn[0].start / ppi * 25.4)]
    marks = tuple(_placed_line(page, line, mending) for line in page.marks)
    _draw_lines(pixels, marks, ppi, ink)
    done = DrawnPage(pixels, parts, marks, page.width, page.height, ppi)
    return _turned(done, mending.turn)


def _filled(pixels: np.ndarray, box: Box, values: np.ndarray, ppi: float) -> Part:
    """A box of one colour: its edges on the nearest pixels, so that boxes that meet on paper meet here."""
    left, right, top, foot = (round(v / 25.4 * ppi) for v in (box.left, box.right, box.top, box.foot))
    rows, columns = slice(max(top, 0), foot), slice(max(left, 0), right)
    pixels[rows, columns] = np.round(values * np.iinfo(pixels.dtype).max).astype(pixels.dtype)
    return Part(rows, columns, box.left, box.top)


def _placed_line(page: Page, line: Line, mending: Mending) -> Line:
    """A cut mark where it is sent, like the print it is of."""
    x0, y0, x1, y1 = line
    there = place_box(page, Box(x0, y0, x1 - x0, y1 - y0), mending)
    return there.left, there.top, there.right, there.foot


def _part(pixels: np.ndarray, box: Box, size: tuple[int, int], ppi: float) -> Part:
    """Rows and columns of a print of so many pixels; one as large as its sheet may be a pixel larger by rounding."""
    high, wide = pixels.shape[:2]
    w, h = min(size[0], wide), min(size[1], high)
    left, top = (min(max(round(v / 25.4 * ppi), 0), most) for v, most in ((box.left, wide - w), (box.top, high - h)))
    return Part(slice(top, top + h), slice(left, left + w), box.left, box.top)


def _copied(pixels: np.ndarray, first: Part, box: Box, ppi: float) -> Part:
    """The same print once more."""
    source = pixels[first.rows, first.columns]
    part = _part(pixels, box, (source.shape[1], source.shape[0]), ppi)
    pixels[part.rows, part.columns] = source
    return part


def _draw_lines(pixels: np.ndarray, lines: Sequence[tuple[float, float, float, float]], ppi: float, ink: Ink) -> None:
    thick = max(1, round(_MARK_MM / 25.4 * ppi))
    for x0, y0, x1, y1 in lines:
        left, top, right, foot = (round(v / 25.4 * ppi) for v in (min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1)))
        pixels[top : max(foot, top + thick), left : max(right, left + thick)] = ink.values


def _turned(page: DrawnPage, by: float) -> DrawnPage:
    """The page turned clockwise about its middle, where that can be seen; in steps finer than a pixel."""
    if abs(by) * math.hypot(page.width, page.height) / 2 < _LEAST_TURN_MM:
        return page
    import pyvips

    high, wide, channels = page.pixels.shape
    bare = bare_value(channels, page.pixels.dtype.type)
    image = pyvips.Image.new_from_array(page.pixels)
    cos, sin = math.cos(by), math.sin(by)
    x, y = (wide - 1) / 2, (high - 1) / 2
    turned = image.affine(
        [cos, -sin, sin, cos], interpolate=pyvips.Interpolate.new("bicubic"), oarea=[0, 0, wide, high],
        odx=x - cos * x + sin * y, ody=y - sin * x - cos * y, background=[bare] * channels, extend="background",
    )  # fmt: skip
    made = np.asarray(turned.numpy()).reshape(page.pixels.shape)
    whole = Part(slice(0, high), slice(0, wide), 0.0, 0.0)
    return DrawnPage(made, [whole], (), page.width, page.height, page.ppi)


def as_fed(page: DrawnPage, feeds_left: bool) -> DrawnPage:
    """The page with the edge that goes in first above: turned by a quarter clockwise where that is the left one."""
    if not feeds_left:
        return page
    high = len(page.pixels)
    parts = [
        Part(p.columns, slice(high - p.rows.stop, high - p.rows.start), page.height - _foot(page, p), p.left) for p in page.parts
    ]  # fmt: skip
    lines = tuple((page.height - y0, x0, page.height - y1, x1) for x0, y0, x1, y1 in page.lines)
    return DrawnPage(np.rot90(page.pixels, -1), parts, lines, page.height, page.width, page.ppi)


def _foot(page: DrawnPage, part: Part) -> float:
    return part.top + (part.rows.stop - part.rows.start) / page.ppi * 25.4
