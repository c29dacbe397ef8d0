"""A simulated display that drifts slowly with its hours, and a simulated colorimeter on its glass. All invented.

Drift as displays have it (common practice, no source): the backlight loses light, blue first, so that white grows
warmer, the contrast curve wanders a little.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.icc.standard import xy_to_xyz


@dataclass(frozen=True)
class SimulatedDisplay:
    """A display on the day it was calibrated, and how it ages.

    Attributes:
        primaries, white: chromaticities x, y.
        luminance, black: of white and black in cd/m².
        gamma: exponent of its curve.
        light_loss, blue_loss: share of light, and of blue light besides, lost per 1000 hours.
        gamma_drift: change of the exponent per 1000 hours.
    """

    primaries: tuple[tuple[float, float], ...]
    white: tuple[float, float]
    luminance: float = 90.0
    black: float = 0.09
    gamma: float = 2.2
    light_loss: float = 0.16
    blue_loss: float = 0.12
    gamma_drift: float = 0.06

    def light(self, rgb: np.ndarray, hours: float = 0.0) -> np.ndarray:
        """XYZ (..., 3) in cd/m² of screen RGB (..., 3), 0 to 1, so many hours after calibration."""
        columns = np.stack([xy_to_xyz(*p) for p in self.primaries], axis=1)
        matrix = columns * np.linalg.solve(columns, xy_to_xyz(*self.white))
        age = hours / 1000
        left = np.array([1.0, 1 - 0.25 * self.blue_loss * age, 1 - self.blue_loss * age]) * (1 - self.light_loss * age)
        linear = np.clip(rgb, 0, 1) ** (self.gamma + self.gamma_drift * age)
        black = self.black / self.luminance * xy_to_xyz(*self.white)
        return np.asarray(((linear * np.maximum(left, 0)) @ matrix.T * (1 - black[1]) + black) * self.luminance)


class SimulatedColorimeter:
    """Reads a simulated display with a little noise: 0.2 % of the light and 0.002 cd/m²."""

    name = "simulated colorimeter"

    def __init__(self, display: SimulatedDisplay, hours: float, seed: int = 3) -> None:
        self._display, self._hours = display, hours
        self._rng = np.random.default_rng(seed)

    def read(self, rgb: np.ndarray) -> np.ndarray:
        """XYZ (3,) in cd/m² of the patch that is shown."""
        true = self._display.light(np.asarray(rgb, dtype=float), self._hours)
        return np.maximum(true * (1 + self._rng.normal(0, 0.002)) + self._rng.normal(0, 0.002, 3), 0)
