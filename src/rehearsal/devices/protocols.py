"""What the program wants of each kind of device. ``simulated/`` ships a stand-in for each."""

from __future__ import annotations

from typing import Protocol

import numpy as np


class Printer(Protocol):
    """A printer loaded with one paper."""

    def print_chart(self, rgb: np.ndarray, seed: int = 1) -> np.ndarray:
        """Print patches of RGB (m, 3), 0 to 1, unconverted; what lies on the paper, as an instrument sees it (m, bands)."""
        ...


class Spectrophotometer(Protocol):
    """An instrument that reads a printed chart."""

    def read(self, spectra: np.ndarray) -> np.ndarray:
        """XYZ (m, 3), D50, perfect diffuser Y = 1, of printed patches (m, bands)."""
        ...


class Colorimeter(Protocol):
    """An instrument on the glass: one patch is shown, one reading taken."""

    name: str

    def read(self, rgb: np.ndarray) -> np.ndarray:
        """XYZ (3,) in cd/m² of the patch of screen RGB (3,), 0 to 1, that is shown now."""
        ...
