"""A simulated spectrophotometer: reads a printed chart with a little noise, 45°:0°, M1."""

from __future__ import annotations

import numpy as np

from rehearsal.core.colour.lab import xyz_to_lab
from rehearsal.devices import cgats
from rehearsal.devices.simulated.printer import SimulatedPrinter
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


def chart_patches(steps: int = 11, greys: int = 61) -> np.ndarray:
    """RGB patches (m, 3), 0 to 1: a regular cube, a fine grey ramp, near-greys and a few repeats of white."""
    axis = np.linspace(0, 1, steps)
    cube = np.stack(np.meshgrid(axis, axis, axis, indexing="ij"), axis=-1).reshape(-1, 3)
    grey = np.repeat(np.linspace(0, 1, greys)[:, None], 3, axis=1)
    tints = np.array([[0.04, 0, 0], [0, 0.04, 0], [0, 0, 0.04], [-0.04, 0, 0], [0, -0.04, 0], [0, 0, -0.04]])
    near = np.clip(np.linspace(0.06, 0.94, 23)[:, None, None] + tints, 0, 1).reshape(-1, 3)
    return np.concatenate([cube, grey, near, np.ones((6, 3))])


def measure_chart(printer: SimulatedPrinter, title: str, seed: int = 5, patches: np.ndarray | None = None) -> str:
    """Print a chart, read it, and return the CGATS text."""
    rgb = chart_patches() if patches is None else patches
    xyz = SimulatedSpectrophotometer(seed).read(printer.print_chart(rgb, seed))
    return cgats.write(rgb, xyz, xyz_to_lab(xyz), title)
