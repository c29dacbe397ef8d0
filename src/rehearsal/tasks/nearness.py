"""How near a take comes to its picture, and where its greys come out on paper."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.picture.reduce import MAX_UNSIZED, encode_linear
from rehearsal.core.proof.near import Near, NearSample, how_near, printed_lightness
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.recipe import Recipe

_COLOURS, _SEED = 4_000, 8
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


def nearness(opened: OpenRendition, on_paper: bool) -> Near:
    """How near the rendition comes to the untuned picture, from a random sample of its judging image."""
    plain = opened.having(Recipe())
    wanted = plain.block(MAX_UNSIZED)
    count = wanted.shape[0] * wanted.shape[1]
    pick = np.random.default_rng(_SEED).choice(count, min(_COLOURS, count), replace=False)
    lab = opened.space.to_lab(wanted.reshape(-1, 3)[pick][None])[0].astype(np.float64)
    printed = [each.block(MAX_UNSIZED, each.tuned).reshape(-1, 3)[pick] / 65535.0 for each in (plain, opened)]
    sample = NearSample(lab, printed[0], printed[1])
    return how_near(sample, opened.space.profile, opened.chain(), opened.paper, on_paper)


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
