"""Along a line across the picture: L*, C*, h of picture and print, and where the print goes flat."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.colour.lab import chroma, hue_degrees
from rehearsal.core.work.kernels import ndimage

#: The print has gone flat where it keeps less than this much of the picture's slope.
FLAT_SHARE = 0.25
#: Slope of the picture, Lab units for a hundredth of the line, below which there is nothing to keep.
_LEAST_SLOPE = 0.12
_SMOOTH = 0.012


@dataclass(frozen=True)
class LineReading:
    """Samples along a line.

    Attributes:
        master, printed: Lab (m, 3), averaged across the line's breadth.
        flat: True (m,) where the picture changes and the print does not.
    """

    master: np.ndarray
    printed: np.ndarray
    flat: np.ndarray

    def rows(self, which: str) -> tuple[np.ndarray, np.ndarray]:
        """Picture and print (m,) of ``L``, ``C`` or ``h`` (degrees, unwrapped so that it does not jump)."""
        if which == "L":
            return self.master[:, 0], self.printed[:, 0]
        if which == "C":
            return chroma(self.master), chroma(self.printed)
        return _hues(self.master), _hues(self.printed)

    @property
    def flat_share(self) -> float:
        """Per cent of the line that has gone flat."""
        return float(self.flat.mean() * 100) if len(self.flat) else 0.0


def _hues(lab: np.ndarray) -> np.ndarray:
    """Hue angles without jumps; nan where a colour is too grey for a hue."""
    hue = hue_degrees(lab)
    strong = chroma(lab) > 4
    made = np.full(len(lab), np.nan)
    made[strong] = np.degrees(np.unwrap(np.radians(hue[strong])))
    return made


def line_places(start: tuple[float, float], end: tuple[float, float], samples: int) -> np.ndarray:
    """Places (samples, 2), x and y, at equal steps from start to end."""
    t = np.linspace(0, 1, samples)[:, None]
    return np.asarray(np.array(start) * (1 - t) + np.array(end) * t)


def read_line(master: np.ndarray, printed: np.ndarray) -> LineReading:
    """Reading of samples (m, 3) of M and P along a line."""
    sigma = max(1.0, _SMOOTH * len(master))
    slopes = []
    for lab in (master, printed):
        soft = ndimage.gaussian_filter1d(lab.astype(np.float64), sigma, axis=0) * np.array([1, 0.5, 0.5])
        slopes.append(np.gradient(soft, axis=0) * len(master) / 100)
    size = np.linalg.norm(slopes[0], axis=1)
    along = np.sum(slopes[0] * slopes[1], axis=1) / np.maximum(size, 1e-9)
    return LineReading(master, printed, (size > _LEAST_SLOPE) & (along < FLAT_SHARE * size))
