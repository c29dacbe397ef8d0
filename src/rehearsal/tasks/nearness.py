"""How near a take comes to its picture, and where its greys come out on paper."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.picture.reduce import MAX_UNSIZED, encode_linear, fit_within
from rehearsal.core.proof.grouping import grouped
from rehearsal.core.proof.judging import Judgement
from rehearsal.core.proof.lattice import delta_lattice
from rehearsal.core.proof.near import Near, NearArea, NearSample, how_near, mean_away, near_target, printed_lightness
from rehearsal.core.tuning.damage import Damage, banding, fallen_modelling, lost_tones, pushed, undoing
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.recipe import Recipe

_COLOURS, _SEED = 4_000, 8
#: Pixels that tell how near while something moves.
_FEW = 400
#: So many areas are looked at by themselves, and so many pixels of each.
_AREAS, _IN_AREA = 5, 600
#: Pixels of the image in which damage is looked for.
_DAMAGE = 90_000
#: So many pixels tell the tones; they are smoothed a little.
_TONES = 60_000
_SMOOTH = np.array([1, 6, 15, 20, 15, 6, 1]) / 64
#: Levels of L* whose print is told, 0 to 100.
LEVELS = 101


@dataclass(frozen=True)
class Ladder:
    """What a ladder of lightness is drawn from.

    Attributes:
        printed: absolute L* (101,) at which greys of L* 0 to 100 come out on the paper.
        tones: share of the untuned picture's crop at L* 0 to 100 (101,), smoothed, 1 at its largest.
        colours: Lab (m, 3) of a random sample of it.
    """

    printed: np.ndarray
    tones: np.ndarray
    colours: np.ndarray


@dataclass(frozen=True)
class Where:
    """Areas of a judgement to be looked at by themselves: labels (h, w) of its image, and of each group hue, share and labels."""

    labels: np.ndarray
    groups: tuple[tuple[str, float, tuple[int, ...]], ...]


def areas_of(judged: Judgement) -> Where:
    """The largest areas of a judgement, those of one name together."""
    rows = grouped(judged.areas)[:_AREAS]
    groups = tuple((row.hue, row.share, tuple(i + 1 for i in row.members)) for row in rows)
    return Where(judged.labels, groups)


def nearness(opened: OpenRendition, on_paper: bool) -> Near:
    """How near the rendition comes to the untuned picture, from a random sample of its judging image."""
    sample = _sample(opened, *_shape(opened))
    count = len(sample.lab)
    pick = np.random.default_rng(_SEED).choice(count, min(_COLOURS, count), replace=False)
    return _how_near(opened, _part(sample, pick), on_paper)


def near_areas(opened: OpenRendition, on_paper: bool, where: Where) -> tuple[NearArea, ...]:
    """The same inside areas, each from a random sample of its pixels."""
    h, w = where.labels.shape
    flat, random = where.labels.reshape(-1), np.random.default_rng(_SEED)
    picks = []
    for _hue, _share, labels in where.groups:
        inside = np.flatnonzero(np.isin(flat, labels))
        picks.append(random.choice(inside, min(_IN_AREA, len(inside)), replace=False))
    if not any(len(pick) for pick in picks):
        return ()
    sample = _sample(opened, h, w)
    return tuple(
        NearArea(hue, share, _how_near(opened, _part(sample, pick), on_paper))
        for (hue, share, _labels), pick in zip(where.groups, picks, strict=True)
        if len(pick)
    )


def _shape(opened: OpenRendition) -> tuple[int, int]:
    width, height = opened.judging_pixels()
    return fit_within(width, height, MAX_UNSIZED)[::-1] if width * height > MAX_UNSIZED else (height, width)


def _sample(opened: OpenRendition, h: int, w: int) -> NearSample:
    """All pixels of the crop at h × w: M untuned, and what is printed untuned and tuned."""
    plain = opened.having(Recipe())
    lab = opened.space.to_lab(plain.wanted.region(opened.box, w, h)).reshape(-1, 3)
    printed = [each.tuned.region(opened.box, w, h).reshape(h * w, -1) / 65535.0 for each in (plain, opened)]
    return NearSample(lab.astype(np.float64), printed[0], printed[1])


def _part(sample: NearSample, pick: np.ndarray) -> NearSample:
    return NearSample(sample.lab[pick], sample.plain[pick], sample.tuned[pick])


def _how_near(opened: OpenRendition, sample: NearSample, on_paper: bool) -> Near:
    return how_near(sample, opened.space.profile, opened.chain(), opened.paper, on_paper)


class MovingNear:
    """By how much a tuning that is being moved comes nearer, from a few pixels: quickly, and not exactly.

    Args:
        opened: the rendition as it is kept, whose figures at rest are exact.
    """

    def __init__(self, opened: OpenRendition, on_paper: bool) -> None:
        self._opened = opened
        self._absolute = on_paper or opened.rendition.rendering.intent == "absolute"
        x, y, w, h = opened.box
        self._places = np.random.default_rng(_SEED).random((_FEW, 2)) * (w, h) + (x, y)
        lab = opened.space.to_lab(opened.having(Recipe()).wanted.points(self._places)[None])[0].astype(np.float64)
        self._target = near_target(lab, opened.space.profile, opened.paper)
        self._chain = opened.chain()
        self._kept = self._away(opened)

    def _away(self, opened: OpenRendition) -> float:
        values = opened.tuned.points(self._places) / 65535.0
        return mean_away(values, self._target, self._chain, self._absolute)

    def differs(self, recipe: Recipe) -> float:
        """Mean ΔE₀₀ by which a recipe is further away than the kept one; below 0 it is nearer."""
        return self._away(self._opened.having(recipe)) - self._kept


def damage_of(opened: OpenRendition) -> tuple[Damage, ...]:
    """What the tuning of a rendition damages in its print; by the print's own pixels where it can be seen in them."""
    recipe, values = opened.rendition.recipe, opened.rendition.recipe.total
    if recipe.is_neutral:
        return ()
    width, height = opened.judging_pixels()
    w, h = fit_within(width, height, _DAMAGE) if width * height > _DAMAGE else (width, height)
    sample, chain = _sample(opened, h, w), opened.chain()
    plain, tuned = (chain.print_lab(each) for each in (sample.plain, sample.tuned))
    black = float(chain.print_lab(np.zeros((1, sample.plain.shape[1])))[0, 0])
    found = lost_tones(plain[:, 0], tuned[:, 0], black)
    found += fallen_modelling(*(each.reshape(h, w, 3) for each in (sample.lab, plain, tuned)))
    found += [*undoing(recipe), *pushed(values.pulled, delta_lattice(opened.paper))]
    if opened.open.picture.info.depth == 8:
        counts = np.bincount(np.clip(np.round(sample.lab[:, 0]), 0, 100).astype(np.int64), minlength=LEVELS)
        found += banding(values, opened.space, counts)
    return tuple(found)


def ladder_of(opened: OpenRendition) -> Ladder:
    """Where greys come out, and the picture's tones."""
    space, light = opened.open.space_for(opened.rendition.read_intent), np.linspace(0, 100, LEVELS)
    y = np.where(light > 8, ((light + 16) / 116) ** 3, light * 27 / 24389)  # CIE 1976
    codes = encode_linear(np.repeat(y[:, None], 3, axis=1), space)
    printed = printed_lightness(opened.chain(), codes / 65535.0)
    lab = opened.space.to_lab(opened.having(Recipe()).block(_TONES)).reshape(-1, 3)
    pick = np.random.default_rng(_SEED).choice(len(lab), min(_COLOURS, len(lab)), replace=False)
    counts = np.bincount(np.clip(np.round(lab[:, 0]), 0, 100).astype(np.int64), minlength=LEVELS).astype(float)
    tones = np.convolve(np.pad(counts, 3, mode="edge"), _SMOOTH, mode="valid")
    return Ladder(printed, tones / max(tones.max(), 1e-9), lab[pick].astype(np.float64))
