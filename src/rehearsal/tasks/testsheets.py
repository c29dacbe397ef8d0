"""Test sheets: worked out, looked at as live proofs, written. Each answer is about the rendition and the plan it was given."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from rehearsal.core.picture.reduce import fit_within
from rehearsal.core.picture.write import put_in_place, write_picture
from rehearsal.core.proof.chain import Look
from rehearsal.core.sheet.composing import Margins, Page
from rehearsal.core.sheet.lettering import ink_for
from rehearsal.core.sheet.page import DrawnPage, Plain, as_fed, draw_page
from rehearsal.core.sheet.pdffile import write_pdf
from rehearsal.core.sheet.printfile import file_profile, make_pixels
from rehearsal.core.sheet.queueing import job_options
from rehearsal.core.sheet.sharpenlook import sharpen_looks
from rehearsal.core.sheet.trueplace import Mending
from rehearsal.core.testsheets.laying import TestPage, Wanted, lay_test, layout_for, serves, smallest_sheet, strip_of
from rehearsal.core.testsheets.pieces import Covered, PieceFinder, of_crop, within
from rehearsal.core.testsheets.variants import Others, Planned, opened_as, plan_variants
from rehearsal.core.testsheets.wedges import black_values, wedges_for
from rehearsal.core.testsheets.words import label_of, units_words
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import Crop, Frame, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.testplan import TestPlan, Variant
from rehearsal.core.values.trueplace import TruePlace
from rehearsal.core.work.progress import Progress, part_of, silent
from rehearsal.devices.protocols import PrintQueue
from rehearsal.tasks.paging import size_of
from rehearsal.tasks.printing import Sent
from rehearsal.tasks.proofing import proof_rgb
from rehearsal.tasks.writing import Target
from rehearsal.workbook.values import TestSheet, Written

#: Pixels of the map pieces are looked for on.
_MAP = 60_000
#: Rounds of choosing pieces for a sheet, and steps for the pieces: the number of fields may change the sheet.
_ROUNDS = 2


@dataclass(frozen=True)
class SheetAsked:
    """What a test sheet is laid from.

    Attributes:
        names: sheets there are of the paper; margins_mm: as it is fed.
        caption: the line at its foot.
        titles: of takes and papers, by their numbers.
    """

    names: tuple[str, ...]
    margins_mm: Margins
    caption: str = ""
    titles: tuple[tuple[int, str], ...] = ()


@dataclass(frozen=True)
class WorkedOut:
    """A test sheet as it would be printed.

    Attributes:
        page: None where nothing can be laid (a sheet for each paper, or a problem).
        pieces: in fractions of the master, as many as are in each field.
        covered: what they show; None for the whole picture.
        scale: of a piece on the sheet to the final print, 1 for its own size.
    """

    planned: Planned
    page: TestPage | None
    pieces: tuple[Crop, ...]
    covered: Covered | None
    scale: float
    labels: tuple[str, ...]
    small: bool = False


def work_out(
    opened: OpenRendition, plan: TestPlan, asked: SheetAsked, others: Others, areas: np.ndarray | None, progress: Progress = silent
) -> WorkedOut:  # fmt: skip
    """Work a test sheet out: the pieces that serve, the steps that are visible in them, the sheet that holds them.

    Args:
        areas: (h, w) numbers of the areas beyond the paper inside the crop, from 1; None while nobody knows them.

    Raises:
        RehearsalError: the plan names what is not there, or the sheet has no room.
    """
    if plan.kind == "papers":
        planned = plan_variants(opened, plan, (), others)
        return WorkedOut(planned, None, (), None, 1.0, _labels(planned, asked))
    finder = PieceFinder(_lightness(opened), areas)
    expected = _expected(plan, others)
    pieces: tuple[Crop, ...] = ()
    for round_ in range(_ROUNDS):
        progress(round_ / _ROUNDS, "the piece and its steps")
        page = _laid(opened, plan, asked, ("",) * expected)
        pieces = () if plan.whole else _pieces(opened, plan, finder, page.piece)
        planned = plan_variants(opened, plan, [c.pixels(*opened.open.size) for c in pieces], others)
        if len(planned.variants) == expected or not planned.is_ready:
            break
        expected = len(planned.variants)
    if not planned.is_ready:
        return WorkedOut(planned, None, pieces, None, 1.0, _labels(planned, asked))
    for _again in range(2):
        labels = _labels(planned, asked)
        page = _laid(opened, plan, replace(asked, caption=full_caption(asked.caption, planned)), labels)
        found = () if plan.whole else _pieces(opened, plan, finder, page.piece)
        if found == pieces:
            break
        # long labels took room: what is told of the steps is told of the pieces that are printed
        pieces = found
        anew = plan_variants(opened, plan, [c.pixels(*opened.open.size) for c in pieces], others)
        if len(anew.variants) != len(planned.variants) or not anew.is_ready:
            break
        planned = anew
    crop = opened.rendition.frame.crop
    covered = None if plan.whole else finder.covered([of_crop(c, crop) for c in pieces])
    scale = page.piece[0] / (size_of(opened).width_cm * 10) if plan.whole else 1.0
    return WorkedOut(
        planned, page, pieces, covered, scale, labels, not serves(page, _wanted(opened, plan, asked, labels))
    )


def full_caption(caption: str, planned: Planned) -> str:
    """The line at the foot with the units of the labels."""
    units = units_words(planned.names) if planned.plan.kind in ("bracket", "two", "mixed") else ""
    return "; ".join(part for part in (caption, units) if part)


def _expected(plan: TestPlan, others: Others) -> int:
    """About how many fields there will be."""
    if plan.kind in ("two", "mixed"):
        return 9
    if plan.kind in ("bracket", "strength"):
        return plan.count
    return max(2, min(len(others.takes), 9)) if plan.kind == "takes" else 4


def _labels(planned: Planned, asked: SheetAsked) -> tuple[str, ...]:
    titles = dict(asked.titles)
    return tuple(label_of(planned.plan.kind, planned.names, v, planned.base, titles) for v in planned.variants)


def _lightness(opened: OpenRendition) -> np.ndarray:
    """L* of what is wanted inside the crop, small."""
    _x, _y, w, h = opened.box
    size = fit_within(w, h, _MAP) if w * h > _MAP else (w, h)
    return np.asarray(opened.space.to_lab(opened.wanted.region(opened.box, *size))[..., 0], dtype=np.float64)


def _wanted(opened: OpenRendition, plan: TestPlan, asked: SheetAsked, labels: Sequence[str]) -> Wanted:
    size = size_of(opened)
    return Wanted(
        tuple(labels), 1 if plan.whole else plan.many, size.width_cm / size.height_cm if plan.whole else 0.0,
        (size.width_cm * 10, size.height_cm * 10), asked.caption, size.height_cm > size.width_cm,
    )  # fmt: skip


def _laid(opened: OpenRendition, plan: TestPlan, asked: SheetAsked, labels: Sequence[str]) -> TestPage:
    wanted = _wanted(opened, plan, asked, labels)
    layout = plan.layout or layout_for(len(labels))
    if plan.sheet:
        return lay_test(wanted, plan.sheet, layout, asked.margins_mm)
    return smallest_sheet(wanted, layout, asked.margins_mm, asked.names)


def _pieces(
    opened: OpenRendition, plan: TestPlan, finder: PieceFinder, piece_mm: tuple[float, float]
) -> tuple[Crop, ...]:
    """Pieces of a size on paper, in fractions of the master: about the places chosen by hand, or as they are offered."""
    crop, size = opened.rendition.frame.crop, size_of(opened)
    wide, high = min(piece_mm[0] / size.width_cm / 10, 1.0), min(piece_mm[1] / size.height_cm / 10, 1.0)
    more = [_exact(piece, wide, high) for piece in finder.offered(wide, high, plan.many)]
    made = []
    for chosen in plan.pieces[: plan.many]:
        own = of_crop(chosen, crop)
        made.append(_exact(Crop(own.x + own.width / 2 - wide / 2, own.y + own.height / 2 - high / 2), wide, high))
    return tuple(within(piece, crop) for piece in (*made, *more[: plan.many - len(made)]))


def _exact(piece: Crop, wide: float, high: float) -> Crop:
    """A piece at its place in exactly this size, inside the crop: the map it was looked for on is coarser than the print."""
    return Crop(min(max(piece.x, 0.0), 1.0 - wide), min(max(piece.y, 0.0), 1.0 - high), wide, high)


# ---- looking


def shown_recipe(recipe: Recipe, with_additions: bool) -> Recipe:
    """What of a recipe a view shows."""
    return recipe if with_additions else recipe.on_screen


@dataclass(frozen=True, eq=False)
class SheetLook:
    """A sheet as the screen shows it, 8-bit screen RGB.

    Attributes:
        pieces: (h, w, 3) of each piece, field by field; a field of black has its own.
        paper, black: (3,); black_wedge, white_wedge: (steps, 3).
    """

    pieces: tuple[np.ndarray, ...]
    paper: np.ndarray
    black: np.ndarray
    black_wedge: np.ndarray
    white_wedge: np.ndarray


def look_at_sheet(
    opened: OpenRendition, made: WorkedOut, look: Look, per_mm: float, with_additions: bool, progress: Progress = silent
) -> SheetLook:  # fmt: skip
    """Live proofs of all fields of a sheet, by the exact road.

    Args:
        per_mm: pixels of the screen to the mm of the sheet; with_additions: steps for the light and learnt ones are shown too.
    """
    page, leg = made.page, look.leg(opened.paper)
    pixels: list[np.ndarray] = []
    black = np.round(leg.black_rgb * 255).astype(np.uint8)
    for i, variant in enumerate(made.planned.variants):
        progress(i / len(made.planned.variants), "proofs of the fields")
        for box in page.fields[i].pieces if page else ():
            size = max(1, round(box.width * per_mm)), max(1, round(box.height * per_mm))
            at = len(pixels) % max(len(made.pieces), 1)
            crop = made.pieces[at] if made.pieces else opened.rendition.frame.crop
            if variant.black:
                pixels.append(np.broadcast_to(black, (size[1], size[0], 3)).copy())
            else:
                pixels.append(look_at_variant(opened, variant, crop, size, look, with_additions))
    wedges, chain = wedges_for(opened), opened.chain(opened.via)
    device = [chain.device(w) if opened.via else w for w in (wedges.black, wedges.white)]
    dark, light = (np.round(leg.rgb(d) * 255).astype(np.uint8) for d in device)
    return SheetLook(tuple(pixels), np.round(leg.paper_rgb * 255).astype(np.uint8), black, dark, light)


def look_at_variant(
    opened: OpenRendition, variant: Variant, crop: Crop, size: tuple[int, int], look: Look, with_additions: bool
) -> np.ndarray:
    """A piece of a variant as its print would look: 8-bit screen RGB (h, w, 3) of a size (width, height).

    Where sharpening is varied, the middle of the piece pixel for pixel as paper and ink will show it.
    """
    if variant.black:
        black = np.round(look.leg(opened.paper).black_rgb * 255).astype(np.uint8)
        return np.broadcast_to(black, (size[1], size[0], 3)).copy()
    rendition = replace(variant.rendition, recipe=shown_recipe(variant.rendition.recipe, with_additions))
    one = opened_as(opened, rendition)
    if rendition.hand_over.sharpen != opened.rendition.hand_over.sharpen:
        block = _sharpened(one, crop, size)
    else:
        block = one.tuned.region(crop.pixels(*opened.open.size), *size)
    return proof_rgb(block, one.chain(), look.leg(one.paper))


def _sharpened(opened: OpenRendition, crop: Crop, size: tuple[int, int]) -> np.ndarray:
    piece, side = of_crop(crop, opened.rendition.frame.crop), max(size)
    place = piece.x + piece.width / 2, piece.y + piece.height / 2
    after = sharpen_looks(opened, place, side)[1]
    h, w = after.shape[:2]
    top, left = max((h - size[1]) // 2, 0), max((w - size[0]) // 2, 0)
    return np.ascontiguousarray(after[top : top + size[1], left : left + size[0]])


# ---- writing


def make_test_page(
    opened: OpenRendition, made: WorkedOut, place: TruePlace | None = None, progress: Progress = silent
) -> DrawnPage:
    """The pixels of a test sheet in the space of the rendition's file: each field made as the print is, bare paper without ink."""
    laid = made.page
    assert laid is not None
    page, hand_over, profile = laid.page, opened.rendition.hand_over, file_profile(opened)[0]
    each = max(len(made.pieces), 1)
    count = len(page.laid)

    def make(number: int, size: PrintSize, room: object) -> None:
        variant = made.planned.variants[number // each]
        here = part_of(progress, number / count, (number + 1) / count)
        if variant.black:
            wide, high = size.pixels(hand_over.ppi)
            values = black_values(opened)
            kind = np.uint8 if hand_over.file.depth == 8 else np.uint16
            room((wide, high))[...] = np.round(values * np.iinfo(kind).max).astype(kind)  # type: ignore[operator]
            return
        one = opened_as(opened, variant.rendition)
        crop = made.pieces[number % each] if made.pieces else opened.rendition.frame.crop
        piece = replace(
            one.rendition, frame=Frame(crop, size, "crop"), hand_over=_file_of(one.rendition, opened.rendition)
        )
        make_pixels(OpenRendition(piece, one.open, one.paper), here, room, one)  # type: ignore[arg-type]

    black, wedges = black_values(opened), wedges_for(opened)
    plain = [(field.black, black) for field in laid.fields]
    plain += list(zip(laid.black_wedge, wedges.black, strict=True))
    plain += list(zip(laid.white_wedge[1:], wedges.white[1:], strict=True))
    kind = np.uint8 if hand_over.file.depth == 8 else np.uint16
    return draw_page(
        page, hand_over.ppi, profile.channels, kind, make, ink_for(profile, hand_over.file.depth), Mending(*page.fed, place), plain
    )  # fmt: skip


def _file_of(one: Rendition, base: Rendition) -> HandOver:
    """The page's own resolution, depth and route, with the variant's sharpening."""
    return replace(base.hand_over, sharpen=one.hand_over.sharpen, sigma_um=one.hand_over.sigma_um)


def strip_on(opened: OpenRendition) -> Callable[[Page], list[Plain]]:
    """Black and the wedges at the foot of a small proof of the whole, in the space of its file."""
    wedges, black = wedges_for(opened), black_values(opened)

    def made(page: Page) -> list[Plain]:
        box, dark, light = strip_of(page)
        plain = [(box, black), *zip(dark, wedges.black, strict=True)]
        return [*plain, *zip(light[1:], wedges.white[1:], strict=True)]

    return made


def write_test_page(
    opened: OpenRendition, made: WorkedOut, target: Target, place: TruePlace | None = None, progress: Progress = silent
) -> Written:
    """Write a test sheet: TIFF or PNG of the file's depth, PDF of 8 bits; answers with the rendition it was given.

    Raises:
        PictureError: nothing can be written there.
    """
    target.check(opened)
    page = make_test_page(opened, made, place, part_of(progress, 0.0, 0.92))
    progress(0.93, "writing")
    if target.path.suffix.lower() == ".pdf" and page.pixels.dtype == np.uint8:
        put_in_place(target.path, lambda name: write_pdf(page, name), target.replace)
    else:
        write_picture(page.pixels, file_profile(opened)[0], page.ppi, target.path, target.replace)
    return Written(str(target.path), opened.rendition)


def print_test_page(
    opened: OpenRendition,
    made: WorkedOut,
    card: PrintCondition,
    queue: PrintQueue,
    title: str,
    progress: Progress = silent,
) -> Sent:
    """Make a test sheet in the printer's own 8 bits and send it, with every setting named.

    Raises:
        RehearsalError: the queue does not take it.
    """
    assert made.page is not None
    hand_over = replace(opened.rendition.hand_over, format="tiff8", route="printer")
    own = OpenRendition(replace(opened.rendition, hand_over=hand_over), opened.open, opened.paper)
    page, offers = made.page.page, queue.offers()
    options = job_options(hand_over, card, offers, made.page.name, page.fed, False)
    drawn = as_fed(make_test_page(own, made, card.true_place, part_of(progress, 0.0, 0.9)), page.feeds_left)
    progress(0.9, f"sending to {queue.name}")
    return Sent(queue.send(drawn, title, options), tuple(options))


# ---- what was printed


def as_kept(sheet: TestSheet, opened: OpenRendition, asked: SheetAsked) -> WorkedOut | None:
    """A printed sheet as it was, from what was kept of it; None for one of which only the writing is known.

    Args:
        opened: what it was printed of.
    """
    if not sheet.variants:
        return None
    planned = Planned(sheet.plan, sheet.rendition, sheet.names, sheet.variants)
    labels = _labels(planned, asked)
    if sheet.plan.kind in ("papers", "proof"):
        return WorkedOut(planned, None, sheet.pieces, None, 1.0, labels)
    many = max(len(sheet.pieces), 1)
    plan = replace(sheet.plan, whole=not sheet.pieces, many=many, layout=sheet.layout, sheet=sheet.sheet or "A4")
    return WorkedOut(
        planned, _laid(opened, plan, replace(asked, caption=sheet.caption), labels), sheet.pieces, None, 1.0, labels
    )
