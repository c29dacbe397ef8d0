"""The ticket's page: laid out once, then drawn by the screen and by the PDF writer alike."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from rehearsal.core.picture.write import put_in_place
from rehearsal.core.sheet.ticket import Ticket

#: A4 in points, and the margins.
WIDTH, HEIGHT = 595.28, 841.89
_MM = 72 / 25.4
_LEFT, _INDENT, _VALUES, _RIGHT = 20 * _MM, 24 * _MM, 66 * _MM, 186 * _MM
#: A row that is set otherwise than it should be carries a mark here.
_MARK = 20 * _MM
_LEADING = 1.35
#: Files of the page's type (shipped with the page library): plain and strong.
FONTS = {"plain": "Vera.ttf", "strong": "VeraBd.ttf"}


@dataclass(frozen=True)
class Words:
    """A run of text: x of its start and y of its base line in points from the upper left corner of its page."""

    page: int
    x: float
    y: float
    text: str
    size: float
    strong: bool = False


def font_file(name: str) -> Path:
    """Path of one of FONTS."""
    import reportlab

    return Path(reportlab.__file__).parent / "fonts" / FONTS[name]


def _register() -> None:
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    for name, file in FONTS.items():
        pdfmetrics.registerFont(TTFont(name, file))


class _Layout:
    """Runs of text from the top of the page downwards; a full page begins another."""

    def __init__(self) -> None:
        self.page, self._y, self.made = 0, 25 * _MM, list[Words]()

    def put(self, x: float, text: str, size: float, strong: bool = False, keep: bool = False) -> float:
        """Text broken to the room right of x; returns its height, and moves down by it unless told to keep the place."""
        from reportlab.lib.utils import simpleSplit

        rows = simpleSplit(text, "strong" if strong else "plain", size, _RIGHT - x) or [""]
        height = len(rows) * size * _LEADING
        if self._y + height > HEIGHT - 20 * _MM:
            self.page, self._y = self.page + 1, 25 * _MM
        for i, row in enumerate(rows):
            self.made.append(Words(self.page, x, self._y + i * size * _LEADING, row, size, strong))
        if not keep:
            self._y += height
        return height

    def space(self, mm: float) -> None:
        """Leave some room."""
        self._y += mm * _MM


def lay_out(ticket: Ticket) -> list[Words]:
    """All text of a ticket, in its order."""
    _register()
    page = _Layout()
    page.put(_LEFT, ticket.title, 15, strong=True)
    page.space(3)
    if ticket.cautions:
        page.put(_LEFT, "Needs a look", 10.5, strong=True)
        page.space(1)
        for text in ticket.cautions:
            page.put(_INDENT, f"– {text}", 9.5)
            page.space(0.5)
        page.space(4)
    for name, rows in ticket.sections:
        page.put(_LEFT, name, 10.5, strong=True)
        page.space(1)
        for row in rows:
            wrong = bool(row.told)
            if wrong:
                page.put(_MARK, "≠", 9.5, strong=True, keep=True)
            page.put(_INDENT, row.label, 9.5, strong=wrong, keep=True)
            page.put(_VALUES, row.text, 9.5, strong=wrong)
            page.space(0.5)
        page.space(4)
    return page.made


def plain_text(ticket: Ticket) -> str:
    """The ticket's page read aloud, a line for each run of text."""
    return "\n".join(words.text for words in lay_out(ticket))


def write_ticket_pdf(ticket: Ticket, path: Path, replace: bool = True) -> None:
    """The ticket as A4 pages, written beside and renamed into place.

    Args:
        replace: take the place of a file of that name.

    Raises:
        PictureError: the file cannot be written, or is there; nothing half-written stays.
    """
    from reportlab.pdfgen.canvas import Canvas

    words = lay_out(ticket)

    def write(name: str) -> None:
        canvas = Canvas(name, pagesize=(WIDTH, HEIGHT))
        canvas.setTitle(ticket.title)
        for page in _pages(words):
            _draw(canvas, page)
        canvas.save()

    put_in_place(path, write, replace, "ticket")


def _pages(words: list[Words]) -> Iterator[list[Words]]:
    for number in range(words[-1].page + 1):
        yield [w for w in words if w.page == number]


def _draw(canvas: Any, page: list[Words]) -> None:
    for words in page:
        canvas.setFont("strong" if words.strong else "plain", words.size)
        canvas.drawString(words.x, HEIGHT - words.y, words.text)
    canvas.showPage()
