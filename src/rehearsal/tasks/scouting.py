"""The paper scout: one picture rehearsed for several papers at once; two profiles of one paper; the reach."""

from __future__ import annotations

import functools
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from rehearsal.core.icc import Profile
from rehearsal.core.papers.body import Bins, picture_bins, rings
from rehearsal.core.papers.comparing import ProfilePair, compare_profiles
from rehearsal.core.papers.model import paper_model
from rehearsal.core.papers.reach import slice_outline
from rehearsal.core.papers.solid import Solid
from rehearsal.core.picture.reduce import MAX_UNSIZED, fit_within, reduce_to
from rehearsal.core.proof.beyond import LIMIT, Lost
from rehearsal.core.proof.chain import Look
from rehearsal.core.proof.inside import Inside, come_inside
from rehearsal.core.proof.lattice import delta_lattice
from rehearsal.core.proof.modelling import MODELLING_PIXELS, MasterWindows
from rehearsal.core.proof.scout import PaperCost, ScoutSample, paper_cost
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.work.once import LastUsed
from rehearsal.core.work.pool import cores, side_by_side
from rehearsal.core.work.progress import Progress
from rehearsal.tasks.judging import beyond_paper, judged_colours, losses
from rehearsal.tasks.proofing import proof_rgb, thumbnail_block

_COLOURS = 8_000


def common_look(papers: Sequence[Profile], look: Look) -> Look:
    """The look with one brightness for all papers of a wall, so that no white clips; the same in views without paper."""
    if not look.shows_paper:
        return look
    return replace(look, scale=min(look.leg(paper).paper_scale for paper in papers))


def wall_picture(block: np.ndarray, opened: OpenRendition, look: Look) -> tuple[np.ndarray, np.ndarray]:
    """8-bit screen RGB (h, w, 3) of a rendition's tuned pixels, and of its bare paper (3,), by the exact road."""
    leg = look.leg(opened.paper)
    rgb = proof_rgb(block, opened.chain(), leg)
    return rgb, np.round(leg.paper_rgb * 255).astype(np.uint8)


def scout_sample(opened: OpenRendition, seed: int = 6) -> ScoutSample:
    """What the scout measures on."""
    space, reading = opened.space, opened.reading.space
    wanted = opened.block(MAX_UNSIZED)
    printed = wanted if opened.wanted is opened.tuned else opened.block(MAX_UNSIZED, opened.tuned)
    pick = _picked(wanted, seed)
    size = fit_within(wanted.shape[1], wanted.shape[0], MODELLING_PIXELS)
    image = reduce_to(printed, reading, *size)
    lab = space.to_lab(image if printed is wanted else reduce_to(wanted, space, *size))
    return ScoutSample(
        master=space.profile,
        source=opened.source,
        values=printed.reshape(-1, 3)[pick] / 65535.0,
        lab=space.to_lab(wanted.reshape(-1, 3)[pick][None])[0].astype(np.float64),
        image=image,
        image_lab=lab,
        windows=MasterWindows(lab),
        via=opened.via,
    )


def _picked(block: np.ndarray, seed: int) -> np.ndarray:
    """Places of a random sample of a block's pixels."""
    count = block.shape[0] * block.shape[1]
    return np.random.default_rng(seed).choice(count, min(_COLOURS, count), replace=False)


def scout(
    papers: list[OpenRendition], look: Look, long_side: int, shown: Callable[[int, np.ndarray, np.ndarray], None],
    told: Callable[[int, PaperCost], None], progress: Progress, limit: float = LIMIT,
) -> None:  # fmt: skip
    """Pictures of one picture on all papers first, then their figures, as many at a time as the machine has cores.

    What a paper costs is told twice: from a sample, and then as a judgement counts it, so that no paper has two figures for one thing.

    Args:
        papers: renditions of one picture and recipe, each for its own destination with its own rendering.
        shown, told: get pictures and figures as they come, from the working thread.
    """
    blocks: LastUsed[np.ndarray] = LastUsed(4)
    samples: LastUsed[ScoutSample] = LastUsed(4)
    look = common_look([p.paper for p in papers], look)
    progress(0.0, "proofs of all papers")

    def picture_of(paper: OpenRendition) -> tuple[np.ndarray, np.ndarray]:
        block = blocks.get(paper.source.digest, lambda: thumbnail_block(paper, long_side))
        return wall_picture(block, paper, look)

    for i, made in _as_they_come(papers, picture_of):
        progress(0.3 * i / len(papers), "proofs of all papers")
        shown(i, *made)

    def cost_of(paper: OpenRendition) -> PaperCost:
        sample = samples.get(paper.source.digest, lambda: scout_sample(paper))
        return paper_cost(sample, paper.paper, paper.rendition.rendering, limit, look.shows_paper)

    costs: list[PaperCost] = []
    for i, cost in _as_they_come(papers, cost_of):
        progress(0.35 + 0.25 * i / len(papers), "what each paper costs")
        told(i, cost)
        costs.append(cost)
    colours = judged_colours(papers[0])
    for i, paper in enumerate(papers):
        progress(0.6 + 0.4 * i / len(papers), "counting all pixels")
        told(i, replace(costs[i], lost=losses(colours, paper.paper, limit)))


def _as_they_come(papers: list[OpenRendition], work: Callable[[OpenRendition], Any]) -> Iterator[tuple[int, Any]]:
    """Results of work on each paper, with its place; one paper for each core is worked on at a time."""
    for first in range(0, len(papers), cores()):
        made = side_by_side([functools.partial(work, paper) for paper in papers[first : first + cores()]])
        yield from enumerate(made, start=first)


@dataclass(frozen=True)
class PairOverPicture:
    """Two profiles, and what they do to one picture.

    Attributes:
        lost: what each costs it.
        inside: areas that lie beyond the other profile and come inside with this one, the largest first.
        picture: Lab (h, w, 3) of what was judged, small.
    """

    pair: ProfilePair
    lost: tuple[Lost, Lost]
    inside: tuple[tuple[Inside, ...], tuple[Inside, ...]]
    picture: np.ndarray


#: Long side in pixels, at most, of the picture its areas are framed in.
_FRAMED = 480


def compare_two(one: OpenRendition, two: OpenRendition, progress: Progress, limit: float = LIMIT) -> PairOverPicture:
    """Two profiles of one paper over one picture."""
    progress(0.1, "comparing two profiles")
    pick = _picked_places(one, 7)
    pair = compare_profiles(one.paper, two.paper, (_printer_values(one, pick), _printer_values(two, pick)))
    progress(0.5, "counting all pixels")
    colours = judged_colours(one)
    first, second = (beyond_paper(colours, each.paper, limit) for each in (one, two))
    inside = (
        come_inside(colours, first.delta, second.delta, limit), come_inside(colours, second.delta, first.delta, limit),
    )  # fmt: skip
    return PairOverPicture(pair, (first.lost, second.lost), inside, _small(colours))


def _small(lab: np.ndarray) -> np.ndarray:
    """Means of squares of an image (h, w, 3), so many that it is small."""
    h, w = lab.shape[:2]
    k = max(1, -(-max(h, w) // _FRAMED))
    even = lab[: max(h // k, 1) * k, : max(w // k, 1) * k]
    if min(h, w) < k:
        return np.asarray(lab[::k, ::k])
    made: np.ndarray = even.reshape(h // k, k, w // k, k, 3).mean(axis=(1, 3))
    return made


def _picked_places(opened: OpenRendition, seed: int) -> np.ndarray:
    """Places of a random sample of a rendition's pixels."""
    return _picked(opened.block(MAX_UNSIZED), seed)


def _printer_values(opened: OpenRendition, pick: np.ndarray) -> np.ndarray:
    values = opened.block(MAX_UNSIZED, opened.tuned).reshape(-1, 3)[pick] / 65535.0
    return opened.chain().device(values)


@dataclass(frozen=True)
class Reach:
    """The picture's colours for the reach: Lab (h, w, 3) and δ (h, w) of a reduction of the crop, and bins of them."""

    lab: np.ndarray
    delta: np.ndarray
    bins: Bins


def picture_reach(opened: OpenRendition, progress: Progress, most: int = 160_000) -> Reach:
    """Colours of a rendition's picture and how far each is beyond the paper."""
    progress(0.2, "the picture's colours")
    lab = opened.space.to_lab(opened.block(most))
    progress(0.4, "how far each is beyond")
    delta = delta_lattice(opened.paper).delta(lab)
    return Reach(lab, delta, picture_bins(lab, delta > LIMIT))


@dataclass(frozen=True)
class Body:
    """A device's gamut to be drawn: its solid, and the turning body as a stack of rings (n, 3) in Lab."""

    solid: Solid
    rings: list[np.ndarray]

    def outline(self, lightness: float) -> list[np.ndarray]:
        """Outline at L*."""
        return slice_outline(self.solid, lightness)


def body_of(profile: Profile) -> Body:
    """The body of a device; takes a moment when nothing is known of it yet."""
    solid = paper_model(profile).solid
    return Body(solid, rings(solid))
