"""Printing a page at a queue: from what is kept alone, so that it can be done now, after a restart, or in a year."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from rehearsal.core.colour.lab import y_to_lightness
from rehearsal.core.errors import PictureError, ProfileError
from rehearsal.core.icc import Profile, Step, Transform, open_profile, xyz_profile
from rehearsal.core.icc.named import open_destination
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.model import check_destination
from rehearsal.core.picture.file import assume_profile, read_picture
from rehearsal.core.proof.chain import Look, ScreenLeg
from rehearsal.core.sheet.page import DrawnPage
from rehearsal.core.sheet.printed import PrintCompared, compare_prints
from rehearsal.core.sheet.queueing import job_options
from rehearsal.core.sheet.request import TicketRequest
from rehearsal.core.tuning.opened import OpenPicture, OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.queue import QueueOffers
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.work.kernels import ndimage
from rehearsal.core.work.progress import Progress, part_of
from rehearsal.devices.protocols import PrintQueue
from rehearsal.devices.simulated.press import LoadedSheet, SeenPrint, SimulatedMeter, SimulatedPress, seen_in
from rehearsal.tasks.paging import PageOrder, make_page, sheets_of, write_page
from rehearsal.tasks.writing import Target, WrittenTicket, with_ticket
from rehearsal.workbook.masters import state
from rehearsal.workbook.values import Master


@dataclass(frozen=True)
class PrintOrder:
    """What is printed, as it is kept.

    Attributes:
        renditions, masters: of the page, this take's first.
        card: the condition as it was.
        title: what the queue calls it.
        profile: bytes of the kept profile; empty for the file's own.
    """

    renditions: tuple[Rendition, ...]
    masters: tuple[Master, ...]
    card: PrintCondition
    title: str
    profile: bytes = b""


@dataclass(frozen=True)
class Sent:
    """A page that was sent: its number at the queue, and every setting it was sent with."""

    number: str
    options: tuple[tuple[str, str], ...]


def open_order(order: PrintOrder) -> tuple[OpenRendition, ...]:
    """The renditions with their pictures and the paper's profile.

    Raises:
        PictureError: a picture's file is gone, or another than it was.
        ProfileError: the profile is gone or another, and its bytes were not kept; or nothing can be printed with it.
    """
    paper = profile_of(order)
    check_destination(paper)
    pictures: dict[str, OpenPicture] = {}
    opened = []
    for rendition, master in zip(order.renditions, order.masters, strict=True):
        if rendition.master not in pictures:
            pictures[rendition.master] = _picture(rendition, master)
        opened.append(OpenRendition(rendition, pictures[rendition.master], paper))
    return sheets_of(opened)


def _picture(rendition: Rendition, master: Master) -> OpenPicture:
    found = state(master)
    if found != "there" or master.digest != rendition.master:
        what = (
            "the picture's file is gone"
            if found == "missing"
            else "the picture's file is another than the one that was judged"
        )
        raise PictureError(what, master.path, "put it back, or open it and print it anew")
    picture = read_picture(master.path, large=True)
    if picture.info.assumed and rendition.assumed:
        picture = assume_profile(picture, working_space(rendition.assumed))
    return OpenPicture(picture, master.digest)


def profile_of(order: PrintOrder) -> Profile:
    """The profile a page was judged with: its file while that is still the same, else the bytes that were kept.

    Raises:
        ProfileError: neither is there.
    """
    wanted = order.renditions[0].destination
    try:
        found = open_destination(wanted.path)
    except ProfileError:
        if not order.profile:
            raise
        return open_profile(order.profile, wanted.path)
    if wanted.digest and found.digest != wanted.digest:
        if not order.profile:
            raise ProfileError(
                "the paper's profile is another than the one that was judged", wanted.path, "judge the take again"
            )
        return open_profile(order.profile, wanted.path)
    return found


def page_order(order: PrintOrder) -> PageOrder:
    """The page to be made, in 8 bits as queues take it."""
    opened = open_order(order)
    eight = tuple(
        OpenRendition(
            replace(o.rendition, hand_over=replace(o.rendition.hand_over, format="tiff8", route="printer")),
            o.open,
            o.paper,
        )
        for o in opened
    )
    return PageOrder(eight, order.card.margins_mm, order.card.true_place)


def print_page(order: PrintOrder, queue: PrintQueue, offers: QueueOffers, progress: Progress) -> Sent:
    """Make the page and send it, with every setting named.

    Raises:
        RehearsalError: it cannot be made, or the queue does not take it.
    """
    made = page_order(order)
    page, first = made.page, order.renditions[0]
    sheet = first.sheet
    options = job_options(first.hand_over, order.card, offers, sheet.name, page.fed, sheet.borderless)
    drawn = make_page(made, fed=True, progress=part_of(progress, 0.0, 0.9))
    progress(0.9, f"sending to {queue.name}")
    return Sent(queue.send(drawn, order.title, options), tuple(options))


def write_page_with_ticket(
    order: PrintOrder, opened: OpenRendition, request: TicketRequest, target: Target, progress: Progress
) -> WrittenTicket:
    """Write the whole page of an open rendition into a file, with its ticket beside it; others on the sheet are opened for it."""
    others = (
        open_order(replace(order, renditions=order.renditions[1:], masters=order.masters[1:]))
        if order.masters[1:]
        else ()
    )
    page = PageOrder(sheets_of((opened, *others)), order.card.margins_mm, order.card.true_place)
    return with_ticket(write_page(page, target, progress), request)


@dataclass(frozen=True, eq=False)
class SeenPair:
    """A take and its print side by side, both as the sheet is seen.

    Attributes:
        planned, printed: 8-bit screen RGB (h, w, 3); printed is None where nobody can look at the print.
        compared: what the print is beside its plan, of the sheet as it is fed; None without a print.
        meter: L* that the meter reads in the print's darkest part; None without a print.
    """

    planned: np.ndarray
    printed: np.ndarray | None = None
    compared: PrintCompared | None = None
    meter: float | None = None


#: Pixels to the mm at which a print is looked at beside its take.
_SEEN_PER_MM = 1.6


def look_at_print(
    order: PrintOrder, look: Look, press: SimulatedPress | None, options: dict[str, str], wet_minutes: float, right_medium: str,
    kelvin: float, progress: Progress,
) -> SeenPair:  # fmt: skip
    """The take as planned and, where the printer is a simulated one, its print so many minutes old, in a light.

    Args:
        options: as it was sent, by their roles (``media``, ``feed``).
        right_medium: what the queue calls the paper's own medium.
    """
    made = page_order(order)
    drawn = make_page(made, fed=True, progress=part_of(progress, 0.0, 0.6))
    paper, leg = made.opened[0].paper, replace(look, view="on-paper", unmanaged=False).leg(made.opened[0].paper)
    pixels = reduced(drawn, _SEEN_PER_MM)
    plan = device_xyz(pixels, paper)
    progress(0.8, "looking at it")
    turned = made.page.feeds_left
    shown = _screen(leg, plan, turned)
    if press is None:
        return SeenPair(shown)
    card = order.card
    sheet = LoadedSheet(paper, drawn.width, drawn.height, card.surface, card.texture, right_medium)
    seen = press.print_page(pixels, _SEEN_PER_MM, sheet, options.get("media", ""), options.get("feed", ""), wet_minutes)
    compared = compare_prints(plan, seen.xyz, seen.white, _SEEN_PER_MM)
    return SeenPair(
        shown, _screen(leg, seen_in(seen, kelvin, look.light.lux), turned), compared, _read_black(seen, plan)
    )


def _screen(leg: ScreenLeg, xyz: np.ndarray, turned: bool) -> np.ndarray:
    rgb = np.round(leg.of_xyz(xyz) * 255).astype(np.uint8)
    return np.ascontiguousarray(np.rot90(rgb)) if turned else rgb


def _read_black(seen: SeenPrint, plan: np.ndarray) -> float:
    """L* that the simulated meter reads where the plan is darkest through its opening."""
    meter = SimulatedMeter()
    smooth = ndimage.uniform_filter(plan[..., 1], max(1, round(6.0 * seen.per_mm)), mode="nearest")
    row, column = np.unravel_index(int(smooth.argmin()), smooth.shape)
    xyz = meter.read(seen, float(column) / seen.per_mm, float(row) / seen.per_mm)
    return float(y_to_lightness(np.clip(xyz[1:2], 0, 1))[0])


def device_xyz(pixels: np.ndarray, paper: Profile) -> np.ndarray:
    """Absolute XYZ (h, w, 3) of device values (h, w, channels) of 8 or 16 bit."""
    road = Transform([Step(paper), Step(xyz_profile(), "absolute")])
    flat = pixels.reshape(-1, pixels.shape[2]) / float(np.iinfo(pixels.dtype).max)
    return np.maximum(road.apply(flat), 0.0).reshape(*pixels.shape[:2], 3)


def reduced(page: DrawnPage, per_mm: float) -> np.ndarray:
    """A page's device values at so many pixels to the mm, at most its own: means of blocks (for looking, not for figures of colours)."""
    import pyvips

    factor = per_mm / (page.ppi / 25.4)
    pixels = np.ascontiguousarray(page.pixels)
    if factor >= 1:
        return pixels
    image = pyvips.Image.new_from_array(pixels)
    wide, high = max(1, round(page.width * per_mm)), max(1, round(page.height * per_mm))
    small = image.resize(wide / image.width, vscale=high / image.height, kernel="linear")
    return np.asarray(small.numpy()).reshape(high, wide, pixels.shape[2])


def title_of(picture: str, paper: str, others: Sequence[str] = ()) -> str:
    """What a queue calls a page."""
    more = f" and {len(others)} more" if others else ""
    return f"{picture}{more} on {paper}"
