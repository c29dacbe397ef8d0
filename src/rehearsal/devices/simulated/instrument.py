"""A simulated spectrophotometer: reads a printed chart with a little noise, 45°:0°, M1."""

from __future__ import annotations

import numpy as np

from rehearsal.core.colour.lab import xyz_to_lab
from rehearsal.core.making.chart import chart_patches
from rehearsal.devices import cgats
from rehearsal.devices.protocols import Printer, Spectrophotometer
from rehearsal.devices.spectra import to_xyz


class SimulatedSpectrophotometer:
    """Reads spectra with offset noise (absolute) and gain noise (relative), both seeded."""

    def __init__(self, seed: int = 5, offset: float = 0.00008, gain: float = 0.0012) -> None:
        self._rng = np.random.default_rng(seed)
        self._offset, self._gain = offset, gain

    def read(self, spectra: np.ndarray) -> np.ndarray:
        """XYZ (m, 3), D50, of printed spectra (m, 36)."""
        m = len(spectra)
        noisy = spectra * (1 + self._rng.normal(0, self._gain, (m, 1))) + self._rng.normal(0, self._offset, (m, 1))
        return np.maximum(to_xyz(noisy), 1e-5)


def measure_chart(printer: Printer, title: str, seed: int = 5, patches: np.ndarray | None = None) -> str:
    """Print a chart, read it, and return the CGATS text."""
    rgb = chart_patches() if patches is None else patches
    instrument: Spectrophotometer = SimulatedSpectrophotometer(seed)
    xyz = instrument.read(printer.print_chart(rgb, seed))
    return cgats.write(rgb, xyz, xyz_to_lab(xyz), title)
