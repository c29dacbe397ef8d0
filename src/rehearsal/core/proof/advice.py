"""Rendering intents compared on this picture: the figures that advice is made from."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile, Step, Transform, lab_profile
from rehearsal.core.papers.model import PaperModel
from rehearsal.core.proof.chain import effective
from rehearsal.core.proof.modelling import Modelling
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.work.once import LastUsed

CANDIDATES = (Rendering("relative", True), Rendering("relative", False), Rendering("perceptual", True))
#: Two prints that differ by less than both are the same to the eye (ΔE₀₀, mean and 95th percentile).
SAME_MEAN, SAME_P95 = 0.5, 1.5
_DEPTHS = 20.0
_NAMES = {
    ("relative", True): "relative colorimetric with compensation",
    ("relative", False): "relative colorimetric without compensation",
    ("perceptual", True): "perceptual",
    ("perceptual", False): "perceptual without compensation",
    ("saturation", True): "saturation",
    ("saturation", False): "saturation without compensation",
    ("absolute", False): "absolute colorimetric",
    ("absolute", True): "absolute colorimetric",
}


def rendering_name(rendering: Rendering) -> str:
    """Standard name in words."""
    return _NAMES[rendering.intent, rendering.compensate]


def candidates_for(paper: Profile) -> tuple[Rendering, ...]:
    """What may be advised on a paper: perceptual only where it has a table of its own."""
    alike = paper.one_table("perceptual", "relative")
    return tuple(c for c in CANDIDATES if c.intent != "perceptual" or not alike)


@dataclass(frozen=True)
class CandidateFigures:
    """One way to render this picture.

    Attributes:
        score: mean felt change + 0.2 × detail gone flat.
        felt_change: mean of half raw, half fitted ΔE₀₀.
        fitted_change: mean ΔE₀₀ from M′.
        modelling: over the whole image; None when there is nothing to show.
        flat, flat_depths: per cent of all pixels, per cent of the pixels under L* 20.
        black_depth: absolute L* of the darkest neutral.
        shadow_separation: levels of 20 that stay apart in a neutral ramp from L* 0 to 20.
        lightness, contrast: mean L* of the print, and its standard deviation over the master's.
        strong: modelling in the strong parts, the most colourful tenth of the picture; None without any.
    """

    rendering: Rendering
    score: float
    felt_change: float
    fitted_change: float
    modelling: float | None
    flat: float
    flat_depths: float
    flat_areas: float
    change_outside: float
    black_depth: float
    shadow_separation: int
    lightness: float
    contrast: float
    strong: float | None = None


def strong_parts(lab: np.ndarray) -> np.ndarray:
    """The most colourful tenth of a picture: mask (...) of Lab (..., 3) with C* at or above its 90th percentile, and 10."""
    strength = np.hypot(lab[..., 1], lab[..., 2])
    return np.asarray(strength >= max(float(np.percentile(strength, 90)), 10.0))


@dataclass(frozen=True)
class Compensation:
    """What compensation does with one intent here: ΔE₀₀ mean and 95th percentile between with and without."""

    intent: str
    mean: float
    p95: float

    @property
    def visible(self) -> bool:
        """False when with and without look the same."""
        return self.mean >= SAME_MEAN or self.p95 >= SAME_P95

    @property
    def words(self) -> str:
        """A sentence."""
        name = "relative colorimetric" if self.intent == "relative" else self.intent
        if self.mean < 0.005:
            return f"Compensation changes nothing with {name}."
        if not self.visible:
            return f"Compensation makes no visible difference with {name} (ΔE₀₀ {self.mean:.1f}): either will do."
        return f"Compensation changes {name} by ΔE₀₀ {self.mean:.1f} on average."


_neutrals: LastUsed[np.ndarray] = LastUsed(60)


def neutral_print(model: PaperModel, rendering: Rendering) -> tuple[np.ndarray, np.ndarray]:
    """L* asked for, 0 to 20 in steps of 0.25, and the printed media-relative Lab (81, 3); the last papers' are kept."""
    real = effective(rendering, model.profile)
    asked = np.zeros((81, 3))
    asked[:, 0] = np.arange(81) * 0.25

    def make() -> np.ndarray:
        to_device = Transform([Step(lab_profile()), Step(model.profile, real.intent, real.compensate)])
        return model.to_lab.apply(np.clip(to_device.apply(asked), 0, 1))

    return asked[:, 0], _neutrals.get((model.profile.digest, real), make)


def count_levels(lightness: np.ndarray) -> int:
    """Levels at least 1 L* above the last one counted, greedily from the darkest."""
    count, last = 0, float(lightness[0])
    for value in lightness[1:]:
        if value >= last + 1 - 1e-9:
            count, last = count + 1, float(value)
    return count


def shadow_separation(model: PaperModel, rendering: Rendering) -> int:
    """Levels of 20 the paper and intent keep apart between L* 0 and 20."""
    return count_levels(neutral_print(model, rendering)[1][:, 0])


def black_depth(model: PaperModel, rendering: Rendering) -> float:
    """Absolute L* of the darkest neutral this rendering prints."""
    return float(model.absolute(neutral_print(model, rendering)[1])[:, 0].min())


@dataclass(frozen=True)
class Rehearsed:
    """One way to print the modelling-size image: P (h, w, 3), its modelling, and ΔE₀₀ (h, w) from M and from M′."""

    rendering: Rendering
    printed: np.ndarray
    modelling: Modelling
    raw: np.ndarray
    fitted: np.ndarray


def candidate_figures(
    model: PaperModel, made: Rehearsed, lab: np.ndarray, areas: np.ndarray, strong: np.ndarray
) -> CandidateFigures:
    """Figures of one candidate on the modelling-size image.

    Args:
        lab: M (h, w, 3).
        areas: True (h, w) inside areas beyond the paper; strong: in the picture's :func:`strong_parts`.
    """
    felt, modelling, lightness = (made.raw + made.fitted) / 2, made.modelling, made.printed[..., 0]
    flat = modelling.flat_share()
    spread = float(np.std(lab[..., 0]))
    outside = ~areas
    return CandidateFigures(
        rendering=made.rendering,
        score=float(felt.mean()) + 0.2 * flat,
        felt_change=float(felt.mean()),
        fitted_change=float(made.fitted.mean()),
        modelling=modelling.mean(),
        flat=flat,
        flat_depths=modelling.flat_share(lab[..., 0] < _DEPTHS),
        flat_areas=modelling.flat_share(areas),
        change_outside=float(felt[outside].mean()) if outside.any() else 0.0,
        black_depth=black_depth(model, made.rendering),
        shadow_separation=shadow_separation(model, made.rendering),
        lightness=float(lightness.mean()),
        contrast=float(np.std(lightness)) / spread if spread > 1e-6 else 1.0,
        strong=modelling.mean(strong),
    )


def compensation_effect(intent: str, on: np.ndarray, off: np.ndarray) -> Compensation:
    """Effect of compensation between two prints (h, w, 3) of one intent."""
    gap = delta_e_2000(on, off)
    return Compensation(intent, float(gap.mean()), float(np.percentile(gap, 95)))
