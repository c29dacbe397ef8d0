"""What a take's page is made of, as it is kept: renditions and pictures, this take's first."""

from __future__ import annotations

from dataclasses import replace

from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.rendition import Rendition
from rehearsal.session.book import Book
from rehearsal.tasks.printing import PrintOrder, title_of
from rehearsal.workbook.values import Master, Take


def page_parts(book: Book, take: Take, condition: PrintCondition) -> list[tuple[Master, Rendition]]:
    """Picture and rendition of each print on a take's page, by the present arithmetic; empty when a picture is gone."""
    packed = take.sheet.several.way == "packed"
    others = [t for n in take.sheet.several.takes if packed and (t := book.get(Take, n)) is not None and t.frame.size]
    found = []
    for each in (take, *others):
        master = book.get(Master, each.master)
        if master is None:
            return []
        made = each.rendition(master, Destination(condition.profile_digest, condition.profile_path))
        found.append((master, replace(made, recipe=made.recipe.renewed)))
    return found


def order_of(
    book: Book, renditions: tuple[Rendition, ...], masters: list[Master], card: PrintCondition, picture: str
) -> PrintOrder:
    """What is printed, with the kept bytes of its profile."""
    kept = book.profile_bytes(renditions[0].destination.digest) or b""
    return PrintOrder(
        renditions, tuple(masters), card, title_of(picture, card.paper, [m.name for m in masters[1:]]), kept
    )
