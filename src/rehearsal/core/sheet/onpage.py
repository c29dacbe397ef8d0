"""What does not lie on the page as it should."""

from __future__ import annotations

from rehearsal.core.errors import RehearsalError
from rehearsal.core.sheet.boxes import Box
from rehearsal.core.sheet.caution import Caution
from rehearsal.core.sheet.composing import Page, compose, lettering_box
from rehearsal.core.sheet.layout import fits_sheet
from rehearsal.core.sheet.lettering import text_width_mm
from rehearsal.core.sheet.request import TicketRequest
from rehearsal.core.values.words import counted


def page_of(request: TicketRequest) -> Page | None:
    """The page of a print; None while it has no size.

    Raises:
        RehearsalError: it cannot be composed.
    """
    size = request.rendition.frame.size
    if size is None:
        return None
    margins = (
        request.condition.margins_mm if request.condition.is_ours or request.condition.lab else (0.0, 0.0, 0.0, 0.0)
    )
    return compose(request.rendition.sheet, [size, *request.others], margins)


def page_cautions(request: TicketRequest) -> list[Caution]:
    """Prints over the edge or in the edge no ink reaches, mats that leave a gap, lettering that is cut."""
    sheet, size = request.rendition.sheet, request.rendition.frame.size
    if size is None:
        return []
    if not sheet.several.way and sheet.place == "centre" and not sheet.mat.way:
        problem = fits_sheet(size, sheet.name, request.condition.margins_mm, sheet.borderless)
        if problem:
            return [Caution("margins", f"{problem}{_usual_margins(request)}", "fit-the-page")]
    try:
        page = page_of(request)
    except RehearsalError as error:
        return [Caution("page", error.words(), "lay-single")]
    if page is None:
        return []
    return [*_edge_cautions(page, request), *_mat_cautions(page), *_lettering_cautions(page)]


def _usual_margins(request: TicketRequest) -> str:
    """What the edge no ink reaches is worth while nobody has told it."""
    c = request.condition
    usual = c.state("margins_mm") == "usual"
    return f" Nobody has told that edge: {c.margins_mm[0]:g} mm is usual, look at the driver." if usual else ""


def _edge_cautions(page: Page, request: TicketRequest) -> list[Caution]:
    notes = []
    if page.left_out or not page.laid:
        count = len(page.left_out) or 1
        notes.append(
            Caution("left-out", f"{counted(count, 'print')} not on the sheet: there is no room.", "lay-single")
        )
    if any(not page.paper.holds(one.box) for one in page.laid):
        notes.append(Caution("over-edge", "The print lies over the edge of the sheet.", "fit-the-page"))
    elif any(not page.inked.holds(one.box) for one in page.laid) and not request.rendition.sheet.borderless:
        notes.append(
            Caution("margins", f"The print runs into the edge no ink reaches.{_usual_margins(request)}", "fit-the-page")
        )
    return notes


def _mat_cautions(page: Page) -> list[Caution]:
    mat = page.mat
    if mat is None or not page.laid:
        return []
    if mat.opening.width <= 0 or mat.opening.height <= 0:
        return [Caution("mat", "The mat covers the whole print.", "no-mat")]
    if not page.paper.holds(mat.opening):
        return [
            Caution(
                "mat", "The mat's opening shows more than the sheet: something else would be seen behind it.", "no-mat"
            )
        ]
    if not mat.outside.holds(mat.opening.grown(5.0)):
        return [Caution("mat", "Less than 5 mm of mat is left at an edge.", "no-mat")]
    return []


def _lettering_cautions(page: Page) -> list[Caution]:
    """Lines as wide as they are set; a mark counts as wide as it is high: its file is not opened for this."""
    boxes: list[Box] = []
    for line in page.lettering:
        wide = line.capital * 4.0 if line.picture else text_width_mm(line.text, line.capital)
        boxes.append(lettering_box(line, wide))
    if any(not page.inked.holds(box) for box in boxes):
        return [
            Caution("lettering", "What is written runs into the edge no ink reaches, or over the sheet.", "no-caption")
        ]
    return []
