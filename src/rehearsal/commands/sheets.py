"""The commands of the page: ``sheet`` writes it, ``print`` sends it to a queue."""

from __future__ import annotations

import argparse
import sys
from dataclasses import replace
from pathlib import Path
from typing import Any

from rehearsal.commands.common import (
    add_force,
    add_rendering,
    opened_rendition,
    read_given,
    read_paper,
    resolution,
    target_of,
)
from rehearsal.core.errors import QueueError, RehearsalError
from rehearsal.core.papers.surface import SIGMA_UM, family
from rehearsal.core.sheet.layout import fit_size, parse_size, sheet_name, turned_like
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import Frame
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.queue import QueueOffers
from rehearsal.core.values.sheet import Sheet


def add_sheet(commands: Any) -> None:
    """Arguments of ``sheet``."""
    sheet = commands.add_parser("sheet", help="write the whole page: the print at its place on bare paper")
    _add_page(sheet)
    sheet.add_argument("--depth", type=int, choices=(8, 16), help="16 for TIFF and PNG, 8 for PDF when not given")
    sheet.add_argument("--out", required=True, help="the file to write")
    add_force(sheet)


def add_print(commands: Any) -> None:
    """Arguments of ``print``."""
    printing = commands.add_parser("print", help="send the whole page to a print queue")
    _add_page(printing)
    printing.add_argument("--queue", required=True, help="the print queue's name")
    printing.add_argument(
        "--media", default="", help="the queue's word for the paper; what it stands at when not given"
    )
    printing.add_argument("--feed", default="", help="the queue's word for the feed; what it stands at when not given")


def _add_page(command: argparse.ArgumentParser) -> None:
    command.add_argument("picture", help="a TIFF, PNG or JPEG; it is never written to")
    command.add_argument("--paper", required=True, help="the printer-and-paper profile")
    add_rendering(command)
    command.add_argument("--size", required=True, help="of the print, as 30x20cm or 12x8in; it turns with the picture")
    command.add_argument("--sheet", required=True, help="the sheet, as A4, A3+ or 30x40cm")
    command.add_argument("--ppi", type=float, default=300.0, help="pixels to the inch of the print")
    command.add_argument("--margins", default="0,0,0,0", help="least bare paper in mm: top, right, bottom, left")
    command.add_argument("--place", default="centre", help="centre, foot:15, or mm from the left and the top: 30,45")
    command.add_argument("--sharpen", type=float, default=0.0, help="per cent, 0 to 150")
    command.add_argument("--surface", default="", help=f"of the paper: {', '.join(SIGMA_UM)}")


def do_sheet(arguments: argparse.Namespace) -> None:
    """Write the page."""
    from rehearsal.tasks.paging import PageOrder, write_page

    out = Path(arguments.out)
    depth = arguments.depth or (8 if out.suffix.lower() == ".pdf" else 16)
    opened = _on_sheet(arguments, depth)
    write_page(PageOrder((opened,)), target_of(arguments, out))


def do_print(arguments: argparse.Namespace) -> None:
    """Name what is not as it should be, and send the page; its number at the queue is printed."""
    from rehearsal.core.sheet.queueing import job_options
    from rehearsal.tasks.paging import PageOrder, make_page
    from rehearsal.tasks.queues import open_queue

    queue = open_queue(arguments.queue)
    offers = queue.offers()
    opened = _on_sheet(arguments, 8)
    hand_over = replace(
        opened.rendition.hand_over, queue=queue.name, media=_word(arguments.media, "media", offers),
        feed=_word(arguments.feed, "feed", offers),
    )  # fmt: skip
    rendition = replace(opened.rendition, hand_over=hand_over)
    opened = OpenRendition(rendition, opened.open, opened.paper)
    card = PrintCondition(
        paper=opened.paper.description,
        profile_path=opened.paper.where,
        margins_mm=(0.0,) * 4,
        surface=arguments.surface,
    )
    order = PageOrder((opened,))
    options = job_options(hand_over, card, offers, rendition.sheet.name, order.page.fed)
    for words in _said(opened, card, offers, arguments):
        print(f"rehearsal: {words}", file=sys.stderr)
    print(queue.send(make_page(order, fed=True), f"{Path(arguments.picture).name} on {card.paper}", options))


def _word(given: str, role: str, offers: QueueOffers) -> str:
    """A queue's word for a role: the one that was given, else the one it stands at.

    Raises:
        QueueError: the queue does not know it.
    """
    option = offers.option(role)
    if option is None:
        if given:
            raise QueueError(f"the queue {offers.name} has no setting for that", given, "leave it out")
        return ""
    if given and given not in option.choices:
        raise QueueError(
            f"the queue {offers.name} does not know that", given, f"take one of {', '.join(option.choices)}"
        )
    return given or option.default


def _said(opened: OpenRendition, card: PrintCondition, offers: QueueOffers, arguments: argparse.Namespace) -> list[str]:
    """What needs a look, as sentences: of the page and of the queue; there is no card and no judgement here to speak of."""
    from rehearsal.core.sheet.cautions import looked_at
    from rehearsal.core.sheet.request import TicketRequest

    _x, _y, w, h = opened.box
    hand_over = opened.rendition.hand_over
    here = replace(card, printer=offers.name, media_setting=hand_over.media, feed=hand_over.feed)
    name = Path(arguments.picture).name
    request = TicketRequest(opened.rendition, here, name, (w, h), card.paper, opened.rendition, queue=offers)
    found = [c.text for c in looked_at(request) if c.key != "untold"]
    for given, role in ((arguments.media, "media"), (arguments.feed, "feed")):
        option = offers.option(role)
        if not given and option is not None:
            found.append(f"No {role} was named: it is sent with “{option.default}”, as the queue stands.")
    return found


def _on_sheet(arguments: argparse.Namespace, depth: int) -> OpenRendition:
    """The rendition of a page: size, sheet and place as they were given."""
    from rehearsal.core.sheet.placing import parse_sheet, place_print

    paper, picture, wanted = read_paper(arguments.paper), read_given(arguments), parse_size(arguments.size)
    size = fit_size(turned_like(wanted, *picture.size), *picture.size)
    mm = parse_sheet(arguments.sheet, size)
    place_print(size, mm, arguments.place, _margins(arguments.margins))
    hand_over = HandOver(
        format="tiff8" if depth == 8 else "tiff16", ppi=resolution(arguments.ppi), sharpen=arguments.sharpen,
        sigma_um=_spread(arguments.sharpen, arguments.surface),
    )  # fmt: skip
    sheet = Sheet(sheet_name(arguments.sheet), place=arguments.place)
    return opened_rendition(picture, paper, arguments, frame=Frame(size=size), hand_over=hand_over, sheet=sheet)


def _margins(text: str) -> tuple[float, float, float, float]:
    try:
        top, right, foot, left = (float(part) for part in text.split(","))
    except ValueError:
        raise RehearsalError("the margins are not understood", text, "write four numbers in mm like 5,5,15,5") from None
    if not all(0 <= side < 1000 for side in (top, right, foot, left)):
        raise RehearsalError("the margins are not possible", text, "write four numbers in mm like 5,5,15,5")
    return top, right, foot, left


def _spread(sharpen: float, surface: str) -> float:
    """Spread of a surface in µm; 0 when nothing is sharpened."""
    if not 0 <= sharpen <= 150:
        raise RehearsalError("the strength of sharpening is not possible", f"{sharpen:g}", "use 0 to 150 per cent")
    kind = family(surface)
    if sharpen and not kind:
        raise RehearsalError(
            "sharpening needs the paper's surface", surface or "--surface", f"name one of {', '.join(SIGMA_UM)}"
        )
    return SIGMA_UM.get(kind, 0.0) if sharpen else 0.0
