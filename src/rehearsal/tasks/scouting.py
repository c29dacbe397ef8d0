"""The paper scout: one picture rehearsed for several papers at once; two profiles of one paper; the reach."""

from __future__ import annotations

import functools
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from rehearsal.core.icc import Profile
from rehearsal.core.papers.body import rings
from rehearsal.core.papers.comparing import ProfilePair, compare_profiles
from rehearsal.core.papers.model import paper_model
from rehearsal.core.papers.reach import slice_outline
from rehearsal.core.picture.pyramid import Pyramid
from rehearsal.core.picture.reduce import MAX_UNSIZED, fit_within, judging_size, reduce_to
from rehearsal.core.proof.beyond import LIMIT
from rehearsal.core.proof.chain import Light, PrintChain, Rendering, ScreenLeg
from rehearsal.core.proof.field import delta_field
from rehearsal.core.proof.modelling import MODELLING_PIXELS, MasterWindows
from rehearsal.core.proof.scout import PaperCost, ScoutSample, paper_cost
from rehearsal.core.sheet.layout import Crop, PrintSize
from rehearsal.core.tuning.apply import TuningMap
from rehearsal.core.tuning.values import Tuning
from rehearsal.core.work.pool import side_by_side
from rehearsal.core.work.progress import Progress
from rehearsal.tasks.thumbnails import proof_rgb, thumbnail_block

_COLOURS = 8_000


@dataclass(frozen=True)
class OpenPicture:
    """The picture of a take as it stands: pixels of the crop, tuning, print size."""

    pyramid: Pyramid
    crop: Crop
    tuning: Tuning
    size: PrintSize | None

    @property
    def master(self) -> Profile:
        """Profile of the working pixels."""
        return self.pyramid.space.profile

    def tuned(self, block: np.ndarray) -> np.ndarray:
        """16-bit pixels after tuning."""
        return block if self.tuning.is_neutral else TuningMap(self.tuning, self.pyramid.space).pixels(block)

    def reduced(self, most: float) -> np.ndarray:
        """The crop at the judging image's resolution or less, at most so many pixels."""
        x, y, w, h = self.crop.pixels(*self.pyramid.size)
        size = None if self.size is None else (self.size.width_cm, self.size.height_cm)
        jw, jh = judging_size(w, h, size)
        out = fit_within(jw, jh, most) if jw * jh > most else (jw, jh)
        return self.pyramid.block(x, y, w, h, *out)


@dataclass(frozen=True)
class PaperChoice:
    """One paper of the scout."""

    profile: Profile
    rendering: Rendering


def common_scale(papers: list[Profile], screen: Profile, view: str, light: Light) -> float | None:
    """One brightness for all papers of a wall, so that no white clips; None in views without paper."""
    if view in ("fitted", "true-black"):
        return None
    return min(ScreenLeg(paper, screen, view, light).paper_scale for paper in papers)


def wall_picture(
    block: np.ndarray,
    master: Profile,
    choice: PaperChoice,
    screen: Profile,
    view: str,
    light: Light,
    scale: float | None,
) -> tuple[np.ndarray, np.ndarray]:
    """8-bit screen RGB (h, w, 3) of tuned pixels on a paper, and of the bare paper (3,), by the exact road."""
    leg = ScreenLeg(choice.profile, screen, view, light, scale)
    rgb = proof_rgb(block, PrintChain(master, choice.profile, choice.rendering), leg)
    return rgb, np.round(leg.paper_rgb * 255).astype(np.uint8)


def scout_sample(picture: OpenPicture, seed: int = 6) -> ScoutSample:
    """What the scout measures on."""
    space = picture.pyramid.space
    whole = picture.tuned(picture.reduced(MAX_UNSIZED))
    flat = whole.reshape(-1, 3)
    pick = np.random.default_rng(seed).choice(len(flat), min(_COLOURS, len(flat)), replace=False)
    values = flat[pick]
    size = fit_within(whole.shape[1], whole.shape[0], MODELLING_PIXELS)
    image = reduce_to(whole, space, *size)
    lab = space.to_lab(image)
    colours = space.to_lab(values[None])[0].astype(np.float64)
    return ScoutSample(picture.master, values / 65535.0, colours, image, lab, MasterWindows(lab))


def scout(
    picture: OpenPicture, papers: list[PaperChoice], screen: Profile, view: str, light: Light, long_side: int,
    shown: Callable[[int, np.ndarray, np.ndarray], None], told: Callable[[int, PaperCost], None], progress: Progress,
    limit: float = LIMIT,
) -> None:  # fmt: skip
    """Pictures of all papers first, then their figures, two papers at a time; told as they come (from the working thread)."""
    block = picture.tuned(thumbnail_block(picture.pyramid, picture.crop, long_side))
    scale = common_scale([p.profile for p in papers], screen, view, light)
    progress(0.0, "proofs of all papers")
    for i, made in _two_by_two(papers, lambda p: wall_picture(block, picture.master, p, screen, view, light, scale)):
        progress(0.3 * i / len(papers), "proofs of all papers")
        shown(i, *made)
    sample, on_paper = scout_sample(picture), view not in ("fitted", "true-black")
    for i, cost in _two_by_two(papers, lambda p: paper_cost(sample, p.profile, p.rendering, limit, on_paper)):
        progress(0.35 + 0.65 * i / len(papers), "what each paper costs")
        told(i, cost)


def _two_by_two(papers: list[PaperChoice], work: Callable[[PaperChoice], Any]) -> Iterator[tuple[int, Any]]:
    """Results of work on each paper, with its place; two papers are worked on at a time."""
    for first in range(0, len(papers), 2):
        made = side_by_side([functools.partial(work, paper) for paper in papers[first : first + 2]])
        yield from enumerate(made, start=first)


def compare_two(
    picture: OpenPicture, one: PaperChoice, two: PaperChoice, progress: Progress, limit: float = LIMIT
) -> ProfilePair:
    """Two profiles of one paper over the open picture."""
    progress(0.1, "comparing two profiles")
    flat = picture.tuned(picture.reduced(MAX_UNSIZED)).reshape(-1, 3)
    pick = np.random.default_rng(7).choice(len(flat), min(_COLOURS, len(flat)), replace=False)
    values, space = flat[pick], picture.pyramid.space
    device = [PrintChain(picture.master, c.profile, c.rendering).device(values / 65535.0) for c in (one, two)]
    progress(0.4, "measuring both")
    colours = space.to_lab(values[None])[0].astype(np.float64)
    return compare_profiles(one.profile, two.profile, colours, (device[0], device[1]), limit)


@dataclass(frozen=True)
class Reach:
    """The picture's colours for the reach: Lab (h, w, 3) and δ (h, w) of a reduction of the crop."""

    lab: np.ndarray
    delta: np.ndarray


def picture_reach(picture: OpenPicture, paper: Profile, progress: Progress, most: int = 160_000) -> Reach:
    """Colours of the take's picture and how far each is beyond the paper."""
    progress(0.2, "the picture's colours")
    lab = picture.pyramid.space.to_lab(picture.tuned(picture.reduced(most)))
    progress(0.4, "how far each is beyond")
    return Reach(lab, delta_field(paper).delta(lab))


def outlines(profiles: list[Profile], lightness: float) -> list[list[np.ndarray]]:
    """Outlines of several devices at L*."""
    return [slice_outline(paper_model(profile).solid, lightness) for profile in profiles]


def ring_stacks(profiles: list[Profile]) -> list[list[np.ndarray]]:
    """The turning bodies of several devices: each a stack of rings (n, 3) in Lab."""
    return [rings(paper_model(profile).solid) for profile in profiles]
