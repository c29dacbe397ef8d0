"""Making and writing the whole page: one or several renditions at their places, with lettering, as they must be sent."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from hashlib import sha256
from pathlib import Path

import numpy as np

from rehearsal.core.errors import PictureError
from rehearsal.core.picture.write import put_in_place, write_picture
from rehearsal.core.sheet.composing import Margins, Page, check_whole, compose
from rehearsal.core.sheet.lettering import ink_for
from rehearsal.core.sheet.page import DrawnPage, Plain, as_fed, draw_page
from rehearsal.core.sheet.pdffile import write_pdf
from rehearsal.core.sheet.printfile import file_profile, make_pixels, printed_size
from rehearsal.core.sheet.trueplace import Mending
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.frame import CM_PER_INCH, PrintSize
from rehearsal.core.values.sheet import Sheet
from rehearsal.core.values.trueplace import TruePlace
from rehearsal.core.work.progress import Progress, part_of, silent
from rehearsal.tasks.writing import Target
from rehearsal.workbook.values import Written

_NONE: Margins = (0.0, 0.0, 0.0, 0.0)


@dataclass(frozen=True, eq=False)
class PageOrder:
    """What a page is made of.

    Attributes:
        opened: what is printed: this take's rendition first, whose sheet it is; others only on a packed sheet.
        margins_mm: edge no ink reaches, of the sheet as it is fed.
        place: what the printer does to a page, to be taken out; None for nothing.
        plain: of the composed page, boxes of one colour that lie on it too; None for none.
    """

    opened: tuple[OpenRendition, ...]
    margins_mm: Margins = _NONE
    place: TruePlace | None = None
    plain: Callable[[Page], Sequence[Plain]] | None = None

    @property
    def sheet(self) -> Sheet:
        """The sheet of the first."""
        return self.opened[0].rendition.sheet

    @property
    def page(self) -> Page:
        """The page composed, in mm."""
        return compose(self.sheet, [size_of(one) for one in self.opened], self.margins_mm)

    @property
    def mending(self) -> Mending:
        """What must be sent so that it comes out as planned."""
        return Mending(*self.page.fed, self.place)


def size_of(opened: OpenRendition) -> PrintSize:
    """Size of a rendition's print: as set, else as its pixels give it."""
    size = printed_size(opened.rendition.frame, *opened.open.size)
    if size is not None:
        return size
    _x, _y, w, h = opened.box
    ppi = opened.rendition.hand_over.ppi
    return PrintSize(w / ppi * CM_PER_INCH, h / ppi * CM_PER_INCH)


def make_page(order: PageOrder, fed: bool = False, progress: Progress = silent) -> DrawnPage:
    """The pixels of a page in the space of the first rendition's file.

    Args:
        fed: with the edge that goes in first above, as a printer takes it; else as it is seen.

    Raises:
        RehearsalError: a print hangs over the sheet, or finds no room.
        PictureError: a mark's file is another than the one that was chosen, or cannot be read.
    """
    page, first = order.page, order.opened[0]
    check_whole(page)
    _check_mark(order.sheet)
    hand_over, profile = first.rendition.hand_over, file_profile(first)[0]
    ink, count = ink_for(profile, hand_over.file.depth), len({one.number for one in page.laid})
    done = [0]

    def make(number: int, size: PrintSize, room: object) -> None:
        start = done[0] / count
        done[0] += 1
        one = _in_size(order.opened[number], first, size)
        make_pixels(one, part_of(progress, start, min(done[0] / count, 1.0)), room)  # type: ignore[arg-type]

    kind = np.uint8 if hand_over.file.depth == 8 else np.uint16
    made = draw_page(
        page,
        hand_over.ppi,
        profile.channels,
        kind,
        make,
        ink,
        order.mending,
        () if order.plain is None else order.plain(page),
    )
    return as_fed(made, page.feeds_left) if fed else made


def _in_size(opened: OpenRendition, first: OpenRendition, size: PrintSize) -> OpenRendition:
    """A rendition printed in another size, its crop kept, in the resolution and depth of the page."""
    mine, page = opened.rendition.hand_over, first.rendition.hand_over
    hand_over = replace(mine, ppi=page.ppi, format=page.format, route=page.route, space=page.space)
    frame = replace(opened.rendition.frame, size=size, fit="crop")
    made = replace(opened.rendition, frame=frame, hand_over=hand_over)
    return opened if made == opened.rendition else OpenRendition(made, opened.open, opened.paper)


def _check_mark(sheet: Sheet) -> None:
    caption = sheet.caption
    if not caption.mark or not caption.mark_digest:
        return
    if mark_digest(caption.mark) != caption.mark_digest:
        raise PictureError("the mark has changed since it was chosen", caption.mark, "choose it again")


def mark_digest(path: str) -> str:
    """SHA-256 of a mark's file.

    Raises:
        PictureError: it cannot be read.
    """
    try:
        return sha256(Path(path).read_bytes()).hexdigest()
    except (OSError, ValueError) as error:
        raise PictureError("the mark cannot be read", path, "choose a PNG, TIFF or JPEG of it") from error


def write_page(order: PageOrder, target: Target, progress: Progress = silent) -> Written:
    """Write the whole page, as it is seen: TIFF or PNG of its own depth, PDF of 8 bits.

    Raises:
        PictureError: the ending is another, PDF is wanted of 16 bits, or nothing can be written there.
    """
    first, suffix = order.opened[0], target.path.suffix.lower()
    if suffix not in (".tif", ".tiff", ".png", ".pdf"):
        raise PictureError("a page is written as TIFF, PNG or PDF", target.path, "end the name in .tif, .png or .pdf")
    if suffix == ".pdf" and first.rendition.hand_over.file.depth != 8:
        raise PictureError("PDF carries 8 bits here", target.path, "end the name in .tif, or ask for a depth of 8")
    for one in order.opened:
        target.check(one)
    page = make_page(order, progress=part_of(progress, 0.0, 0.9))
    progress(0.9, "writing")
    if suffix == ".pdf":
        put_in_place(target.path, lambda name: write_pdf(page, name), target.replace)
    else:
        write_picture(page.pixels, file_profile(first)[0], page.ppi, target.path, target.replace)
    return Written(str(target.path), first.rendition)


def sheets_of(renditions: Sequence[OpenRendition]) -> tuple[OpenRendition, ...]:
    """The renditions of a page, each with the first one's paper: what lies on one sheet is one paper."""
    first = renditions[0]
    return (first, *(one.on(first.paper, first.rendition.destination.path) for one in renditions[1:]))
