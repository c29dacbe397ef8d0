"""Prints of the past, from what was kept of them: looked at again, held against now, printed again, their likely faults."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile
from rehearsal.core.proof.chain import Look
from rehearsal.core.sheet.causes import LOOKS, look_pixels
from rehearsal.core.sheet.cost import coverage
from rehearsal.core.testsheets.verdictrows import compared
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.recipe import MATHS
from rehearsal.core.work.progress import Progress, silent
from rehearsal.tasks.paging import PageOrder, write_page
from rehearsal.tasks.printing import PrintOrder, open_order
from rehearsal.tasks.proofing import proof_rgb, thumbnail_block
from rehearsal.tasks.writing import Target, write_print_file
from rehearsal.workbook.values import Written

#: Pixels along the longer side on which two predictions are compared, and on which ink is counted.
_COMPARED, _COUNTED = 500, 300


def opened_print(order: PrintOrder) -> OpenRendition:
    """The first rendition of a kept print with its picture, and the profile it was made with.

    Raises:
        PictureError, ProfileError: the picture is gone or another, or no bytes of its profile were kept.
    """
    return open_order(order)[0]


def write_again(order: PrintOrder, target: Target, progress: Progress = silent) -> Written:
    """Write the file of a kept print once more: its whole page where it was one, else the print alone.

    Raises:
        RehearsalError: :func:`opened_print` tells when; or nothing may be written there.
    """
    opened = open_order(order)
    if not opened[0].rendition.hand_over.whole:
        return write_print_file(opened[0], target, progress)
    return write_page(PageOrder(opened, order.card.margins_mm, order.card.true_place), target, progress)


def look_at_print_again(
    order: PrintOrder, look: Look, long_side: int, progress: Progress = silent
) -> tuple[np.ndarray, np.ndarray]:
    """A kept print as its light and screen show it: 8-bit screen RGB (h, w, 3), and its bare paper's (3,)."""
    progress(0.1, "reading the picture")
    opened = compared(opened_print(order))
    leg = look.leg(opened.paper)
    rgb = proof_rgb(thumbnail_block(opened, long_side), opened.chain(), leg)
    return rgb, np.round(leg.paper_rgb * 255).astype(np.uint8)


@dataclass(frozen=True)
class ThenAndNow:
    """A kept print against what the same rendition would print now.

    Attributes:
        same: the very pixels can be printed again; problem: a sentence when they cannot be compared.
        profile: ``kept`` (its file is the same), ``bytes`` (its file is another or gone, the bytes were kept) or ``gone``.
        older: it was tuned by an earlier arithmetic.
        mean, worst: ΔE₀₀ between the prediction then and now, with the paper's profile of now.
    """

    same: bool
    profile: str
    older: bool = False
    mean: float = 0.0
    worst: float = 0.0
    problem: str = ""

    @property
    def words(self) -> str:
        """What it means to print it again, as a sentence."""
        if self.problem:
            return self.problem
        if self.older:
            return "Tuned by an earlier arithmetic, which is not there any more: the same numbers print otherwise now."
        if self.profile == "kept":
            return "Profile, picture and arithmetic are the same: the same pixels."
        changed = f"mean ΔE₀₀ {self.mean:.1f}, worst {self.worst:.1f}"
        return f"The paper's profile is another one now ({changed}). Its bytes were kept: the same pixels can be printed again."


def then_and_now(order: PrintOrder, paper: Profile | None, progress: Progress = silent) -> ThenAndNow:
    """Hold a kept print against now.

    Args:
        paper: the profile of its paper's card now; None when it cannot be opened.
    """
    rendition = order.renditions[0]
    older = rendition.recipe.maths < MATHS and not rendition.recipe.is_neutral
    progress(0.1, "reading the picture")
    try:
        opened = opened_print(order)
    except RehearsalError as error:
        return ThenAndNow(False, "gone", older, problem=error.words())
    if paper is not None and paper.digest == opened.paper.digest:
        return ThenAndNow(not older, "kept", older)
    if paper is None:
        return ThenAndNow(
            not older,
            "bytes",
            older,
            problem="The paper's profile cannot be opened now; the print's own bytes were kept.",
        )
    progress(0.6, "comparing then and now")
    then, now = (_prediction(each) for each in (opened, opened.on(paper)))
    delta = delta_e_2000(then, now)
    return ThenAndNow(not older, "bytes", older, float(delta.mean()), float(np.percentile(delta, 99.9)))


def _prediction(opened: OpenRendition) -> np.ndarray:
    """Absolute Lab of the print: another profile may tell another white."""
    block, chain = thumbnail_block(opened, _COMPARED), opened.chain()
    return np.asarray(chain.model.absolute(chain.print_lab(block.reshape(-1, 3) / 65535.0)))


def coverage_of(opened: OpenRendition) -> float:
    """Share of the deepest black's ink a rendition's print takes."""
    block, chain = thumbnail_block(opened, _COUNTED), opened.chain()
    return coverage(chain.device(block.reshape(-1, 3) / 65535.0), chain.model.channels)


def cause_looks(order: PrintOrder, look: Look, size: int, progress: Progress = silent) -> dict[str, np.ndarray]:
    """All looks of a kept print by their keys, 8-bit screen RGB (h, w, 3), the longer side of so many pixels.

    They carry the steps that act on the print: it is the print itself that is held against them.
    """
    opened = opened_print(order)
    _x, _y, w, h = opened.box
    factor = size / max(w, h)
    sides = max(1, round(w * factor)), max(1, round(h * factor))
    made = {}
    for i, kind in enumerate(LOOKS):
        progress(i / len(LOOKS), "looks of the print")
        made[kind] = look_pixels(opened, kind, sides, look)
    return made
