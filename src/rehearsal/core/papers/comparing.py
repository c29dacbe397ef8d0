"""Two profiles of one paper: where each holds more, and whether they agree about what the machine does."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile
from rehearsal.core.papers.model import PaperModel, paper_model
from rehearsal.core.papers.solid import Solid

#: How many bands of lightness lie between a paper's black and its white, and the hue sectors by name (centres 0°, 30°, ...).
BANDS = 5
HUES = (
    "pink red",
    "red",
    "orange",
    "yellow",
    "yellow green",
    "green",
    "sea green",
    "cyan",
    "blue",
    "deep blue",
    "violet",
    "purple",
)
#: Disagreement about the same ink that makes one of the two suspect (common practice, no source).
_SUSPECT_MEAN, _SUSPECT_WHITE, _SUSPECT_BLACK = 3.5, 2.0, 4.0


def band_edges(black: float) -> np.ndarray:
    """Borders (6,) of the lightness bands, media-relative L*: the darkest begins at the black, on matte paper too."""
    return np.linspace(black, 100.0, BANDS + 1)


def volume_map(solid: Solid, black: float = 0.0) -> np.ndarray:
    """Cubic Lab of a solid by lightness band from the black up (rows) and hue sector (columns), (5, 12)."""
    nodes = solid.nodes()
    band = np.clip(np.searchsorted(band_edges(black), nodes[:, 0], side="right") - 1, 0, BANDS - 1)
    hue = np.degrees(np.arctan2(nodes[:, 2], nodes[:, 1])) % 360
    sector = np.round(hue / 30).astype(int) % 12
    counts = np.bincount(band * 12 + sector, minlength=60).astype(float)
    return counts.reshape(5, 12) * solid.step**3


@dataclass(frozen=True)
class ProfilePair:
    """Comparison of two profiles, first against second.

    Attributes:
        volumes: cubic Lab of each, total.
        maps: volume by lightness band and hue of each (2, 5, 12); edges: L* borders of the bands (6,), from the deeper black up.
        common: per cent of the second's solid that the first holds too, and the other way round.
        proofs: ΔE₀₀ mean and 95th percentile between the two predicted prints of the picture.
        same_ink: ΔE₀₀ mean and 95th between what the two say the same device values print; None when their
            devices differ.
        white, black: ΔE₀₀ between the two papers' white and black.
        warning: a sentence when one is likely out of date, else empty.
    """

    volumes: tuple[float, float]
    maps: np.ndarray
    edges: np.ndarray
    common: tuple[float, float]
    proofs: tuple[float, float]
    same_ink: tuple[float, float] | None
    white: float
    black: float
    warning: str


def overlap(one: Solid, two: Solid) -> tuple[float, float]:
    """Per cent of the second solid inside the first, and of the first inside the second."""
    return float(one.contains(two.nodes()).mean() * 100), float(two.contains(one.nodes()).mean() * 100)


def compare_profiles(one: Profile, two: Profile, prints: tuple[np.ndarray, np.ndarray]) -> ProfilePair:
    """Compare two destination profiles over a picture.

    Args:
        prints: the device values each would get for a sample of its pixels, (m, channels).
    """
    models = (paper_model(one), paper_model(two))
    absolute = [model.to_absolute.apply(device) for model, device in zip(models, prints, strict=True)]
    proofs = delta_e_2000(absolute[0], absolute[1])
    floor = float(min(model.relative_black[0] for model in models))
    same = _same_ink(models, prints)
    white = float(delta_e_2000(models[0].white, models[1].white))
    black = float(delta_e_2000(models[0].black, models[1].black))
    return ProfilePair(
        volumes=(models[0].solid.volume, models[1].solid.volume),
        maps=np.stack([volume_map(m.solid, floor) for m in models]),
        edges=band_edges(floor),
        common=overlap(models[0].solid, models[1].solid),
        proofs=_two(proofs),
        same_ink=same,
        white=white,
        black=black,
        warning=_warning(same, white, black),
    )


def _two(values: np.ndarray) -> tuple[float, float]:
    return float(values.mean()), float(np.percentile(values, 95))


def share_beyond(model: PaperModel, colours: np.ndarray, limit: float) -> float:
    """Per cent of Lab colours (m, 3) further than the limit from what a device can do, each answered exactly."""
    best = model.nearest(colours)[1]
    return float((delta_e_2000(colours, best) > limit).mean() * 100)


def _same_ink(
    models: tuple[PaperModel, PaperModel], prints: tuple[np.ndarray, np.ndarray]
) -> tuple[float, float] | None:
    if models[0].profile.space != models[1].profile.space:
        return None
    device = np.concatenate(prints)
    return _two(delta_e_2000(models[0].to_absolute.apply(device), models[1].to_absolute.apply(device)))


def _warning(same: tuple[float, float] | None, white: float, black: float) -> str:
    if same is None:
        return ""
    reasons = []
    if same[0] > _SUSPECT_MEAN:
        reasons.append(f"they disagree about the same ink by ΔE₀₀ {same[0]:.1f} on average")
    if white > _SUSPECT_WHITE:
        reasons.append(f"about the bare paper by {white:.1f}")
    if black > _SUSPECT_BLACK:
        reasons.append(f"about its black by {black:.1f}")
    if not reasons:
        return ""
    text = " and ".join(reasons)
    return f"One of the two is likely out of date or made for another setting: {text}. Print and read a few patches."


def hue_words(pair: ProfilePair, names: tuple[str, str]) -> str:
    """Who gains where, in a sentence."""
    total = pair.maps.sum(axis=(1, 2))
    gain = pair.maps[0] - pair.maps[1]
    parts = []
    for side, sign in ((0, 1), (1, -1)):
        least = 0.001 * total.mean()
        places = [
            (float(sign * gain[band, hue]), band, hue) for band in range(5) for hue in range(12) if sign * gain[band, hue] > least
        ]  # fmt: skip
        if places:
            best = sorted(places, reverse=True)[:3]
            words = ", ".join(f"{_band_words(band)} {HUES[hue]}" for _v, band, hue in best)
            parts.append(f"{names[side]} holds more {words}")
    return ("; ".join(parts) if parts else "They hold nearly the same colours") + "."


def _band_words(band: int) -> str:
    return ("very dark", "dark", "middle", "light", "very light")[band]
