"""The facts of a profile that can be measured from it (the ``inspect`` command and the condition card)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.colour.lab import chroma, density, lab_to_xyz, xyz_to_lab
from rehearsal.core.icc import Profile, destination_black
from rehearsal.core.icc.shared import per_profile
from rehearsal.core.papers.model import PaperModel, paper_model

#: Steps of the printed neutral ramp that are kept.
RAMP = 25
_COMPENSATED = ("perceptual", "relative", "saturation")


@dataclass(frozen=True)
class PaperFacts:
    """Measured facts of a destination; Lab is absolute where it says white or black.

    Attributes:
        media_white, black: absolute Lab (3,).
        contrast: Y(white) : Y(black), absolute.
        dmax: -log10 Y(black).
        gamut_volume: cubic Lab, media-relative.
        noise_median, noise_p95: ΔE₀₀ of Lab to device to Lab at least 4 Lab inside the solid.
        drift_chroma, drift_lightness: largest chroma of the printed neutral ramp and where on L*.
        ramp: printed media-relative Lab (RAMP, 3) of that ramp, at even steps of L* from the printed black up to the paper.
    """

    media_white: np.ndarray
    black: np.ndarray
    contrast: float
    dmax: float
    gamut_volume: float
    noise_median: float
    noise_p95: float
    drift_chroma: float
    drift_lightness: float
    ramp: np.ndarray


def table_noise(model: PaperModel, samples: int = 8000) -> tuple[float, float]:
    """Median and 95th percentile of ΔE₀₀ of Lab to device to Lab, well inside the solid."""
    nodes = model.solid.nodes(depth=4.0, most=samples)
    if len(nodes) == 0:
        return 0.0, 0.0
    back = model.to_lab.apply(np.clip(model.from_lab.apply(nodes), 0, 1))
    delta = delta_e_2000(nodes, back)
    return float(np.median(delta)), float(np.percentile(delta, 95))


def neutral_ramp(model: PaperModel, step: float = 1.0) -> tuple[np.ndarray, np.ndarray]:
    """Asked-for L* (m,) from the printed black up to white, and the printed media-relative Lab (m, 3)."""
    lightness = np.arange(np.ceil(model.relative_black[0]), 100 + step / 2, step)
    asked = np.zeros((len(lightness), 3))
    asked[:, 0] = lightness
    return lightness, model.to_lab.apply(np.clip(model.from_lab.apply(asked), 0, 1))


def _measure(profile: Profile) -> PaperFacts:
    """All measurable facts of a destination profile."""
    model = paper_model(profile)
    white_y, black_y = lab_to_xyz(model.white)[1], max(lab_to_xyz(model.black)[1], 1e-6)
    median, p95 = table_noise(model)
    lightness, ramp = neutral_ramp(model)
    worst = int(np.argmax(chroma(ramp)))
    return PaperFacts(
        media_white=model.white,
        black=model.black,
        contrast=float(white_y / black_y),
        dmax=density(black_y),
        gamut_volume=model.solid.volume,
        noise_median=median,
        noise_p95=p95,
        drift_chroma=float(chroma(ramp)[worst]),
        drift_lightness=float(lightness[worst]),
        ramp=ramp[np.round(np.linspace(0, len(ramp) - 1, RAMP)).astype(int)],
    )


measure = per_profile(_measure, keep=64)


def compensation_blacks(profile: Profile) -> dict[str, np.ndarray]:
    """Lab (3,) of the black point the engine compensates to, per intent, media-relative."""
    return {
        intent: xyz_to_lab(destination_black(profile, intent)) for intent in _COMPENSATED if intent in profile.intents()
    }
