"""How much of the master's shading survives in the print.

Both images are compared in windows of 9 × 9 pixels on (L*, a*/2, b*/2), as far as the master has
something to show there. Definitions of the project; the form follows the structure term of Wang et al.,
"Image quality assessment: from error visibility to structural similarity", IEEE TIP 13(4), 2004.
"""

from __future__ import annotations

import functools
from dataclasses import dataclass

import numpy as np

from rehearsal.core.work.kernels import ndimage
from rehearsal.core.work.pool import side_by_side

MODELLING_PIXELS = 300_000
_WINDOW = 9
_FLOOR = 0.6


@dataclass(frozen=True)
class Modelling:
    """Window figures over an image.

    Attributes:
        weight: σ of the master (h, w), 0 where it has nothing to show.
        kept: clip(cov / (σ_M max(σ_P, 0.6)), 0, 1).
        contrast: clip(cov / σ_M², 0, 1).
        reversed_share: per cent of the counted windows with negative covariance.
    """

    weight: np.ndarray
    kept: np.ndarray
    contrast: np.ndarray
    reversed_share: float

    def mean(self, where: np.ndarray | None = None) -> float | None:
        """Weighted mean of ``kept`` inside a mask; None when nothing is to be seen there."""
        weight = self.weight if where is None else self.weight * where
        total = float(weight.sum())
        return float((self.kept * weight).sum() / total) if total > 0 else None

    def by_label(self, labels: np.ndarray, count: int) -> tuple[list[float | None], list[float | None]]:
        """:meth:`mean` and the mean of ``contrast`` over counted windows, of every label 0 to count - 1 of an image (h, w) at once."""
        place = labels.ravel()

        def ratios(top: np.ndarray, bottom: np.ndarray) -> list[float | None]:
            over, under = (np.bincount(place, v.ravel(), count) for v in (top, bottom))
            return [float(o / u) if u > 0 else None for o, u in zip(over, under, strict=True)]

        counted = (self.weight > 0).astype(np.float32)
        return ratios(self.kept * self.weight, self.weight), ratios(self.contrast * counted, counted)

    def flat_share(self, among: np.ndarray | None = None) -> float:
        """Per cent of pixels where detail has gone flat; of the pixels in ``among`` when given."""
        flat = (self.weight > 0) & (self.contrast < 0.25)
        if among is None:
            return float(flat.mean() * 100)
        count = np.count_nonzero(among)
        return float(np.count_nonzero(flat & among) / count * 100) if count else 0.0


def _scaled(lab: np.ndarray) -> np.ndarray:
    channels = np.moveaxis(lab.astype(np.float32) * np.array([1, 0.5, 0.5], dtype=np.float32), -1, 0)
    return np.stack(side_by_side([functools.partial(ndimage.gaussian_filter, c, 1.0) for c in channels]))


class MasterWindows:
    """The master's side of the comparison, kept for several prints of it."""

    def __init__(self, lab: np.ndarray) -> None:
        self.scaled = _scaled(lab)
        self.mean = self._mean(self.scaled)
        self.variance = np.maximum((self._mean(self.scaled**2) - self.mean**2).sum(axis=0), 0)
        sigma = np.sqrt(self.variance)
        self.weight = np.where(sigma > _FLOOR, sigma, 0)

    @staticmethod
    def _mean(channels: np.ndarray) -> np.ndarray:
        return np.stack(side_by_side([functools.partial(ndimage.uniform_filter, c, _WINDOW) for c in channels]))

    def against(self, print_lab: np.ndarray) -> Modelling:
        """Compare with a print of the same size (h, w, 3)."""
        other = _scaled(print_lab)
        mean = self._mean(other)
        variance = np.maximum((self._mean(other**2) - mean**2).sum(axis=0), 0)
        covariance = (self._mean(self.scaled * other) - self.mean * mean).sum(axis=0)
        sigma = np.maximum(np.sqrt(self.variance), 1e-6)
        kept = np.clip(covariance / (sigma * np.maximum(np.sqrt(variance), _FLOOR)), 0, 1)
        contrast = np.clip(covariance / np.maximum(self.variance, 1e-9), 0, 1)
        counted = self.weight > 0
        turned = float(np.mean(covariance[counted] < 0) * 100) if counted.any() else 0.0
        return Modelling(self.weight, kept, contrast, turned)


def in_words(value: float | None) -> str:
    """Modelling as a word."""
    if value is None:
        return "nothing to show"
    return "kept" if value >= 0.9 else "softened" if value >= 0.7 else "going flat"
