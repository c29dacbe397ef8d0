"""A simulated ink-jet printer: spectra of inks and papers, dot gain, ink limit, driver, wear.

Model: Yule-Nielsen modified spectral Neugebauer. Area coverages combine by Demichel's equations over
all overprints of six inks; R = (sum a_i R_i^(1/n))^n (Yule and Nielsen 1951; Viggiano 1985). An overprint's
body reflectance is the paper's times the squared transmittance of each ink layer (Beer-Lambert), with a
little light scattered by the ink itself; the surface adds a constant reflection, which is what limits the
black of matte papers (Saunderson 1942, simplified to its first term). All spectra are invented.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.devices.spectra import WAVELENGTHS, to_xyz

_NM = WAVELENGTHS.astype(np.float64)
INKS = ("cyan", "magenta", "yellow", "black", "light cyan", "light magenta")


def _bell(centre: float, width: float) -> np.ndarray:
    return np.exp(-0.5 * ((_NM - centre) / width) ** 2)


def _edge(centre: float, width: float) -> np.ndarray:
    """Falls from 1 (short wavelengths) to 0 (long)."""
    return 1.0 / (1.0 + np.exp((_NM - centre) / width))


#: Absorbance of one full solid layer.
_CYAN = 2.42 * _bell(640, 50) + 1.76 * _bell(712, 50) + 0.01 * _bell(560, 45) + 0.10 * _bell(420, 40)
_MAGENTA = 2.42 * _bell(548, 33) + 0.88 * _bell(510, 24) + 0.42 * _bell(440, 42) + 0.03 * _bell(610, 30)
_YELLOW = 2.53 * _edge(487, 9) + 0.02 * _bell(560, 40)
_BLACK = 2.5 + 0.25 * _bell(430, 90)
_LAYERS = {
    "cyan": _CYAN,
    "magenta": _MAGENTA,
    "yellow": _YELLOW,
    "black": _BLACK,
    "light cyan": 0.36 * _CYAN,
    "light magenta": 0.36 * _MAGENTA,
}


@dataclass(frozen=True)
class PaperStock:
    """An invented paper.

    Attributes:
        base: body reflectance at long wavelengths.
        yellowing: loss towards the blue, 0 to 0.3.
        brightener: height of the fluorescent bump near 440 nm as seen under M1 light.
        surface: reflection added by the surface at 45°:0°.
        strength: how much of an ink layer's absorbance stays at the top of the sheet.
        gain: dot gain at half coverage.
        yule_nielsen: n of the model.
        ink_limit: largest sum of the six inks the coating takes.
    """

    name: str
    base: float
    yellowing: float
    brightener: float
    surface: float
    strength: float
    gain: float
    yule_nielsen: float
    ink_limit: float

    def reflectance(self) -> np.ndarray:
        """Body reflectance of the bare sheet (36,)."""
        cut = 1.0 - _edge(402, 9) * 0.55
        return self.base * (1 - self.yellowing * _edge(520, 45)) * cut + self.brightener * _bell(442, 17)


class SimulatedPrinter:
    """One machine loaded with one paper.

    Args:
        stock: the paper.
        machine: seed of this machine's own deviation; 0 is the average machine.
        spread: size of the machine-to-machine variation (1 is usual).
    """

    def __init__(self, stock: PaperStock, machine: int = 0, spread: float = 1.0) -> None:
        self.stock = stock
        rng = np.random.default_rng(1000 + machine)
        size = 0.0 if machine == 0 else spread
        self._density = 1 + size * rng.normal(0, 0.035, 6)
        self._gain = stock.gain + size * rng.normal(0, 0.018, 6)
        self._primaries = self._overprints()

    def _overprints(self) -> np.ndarray:
        """(64, 36) reflectances of all overprints to the power 1/n."""
        paper = self.stock.reflectance()
        layers = np.stack([_LAYERS[name] for name in INKS]) * self._density[:, None] * self.stock.strength
        rows = []
        for mask in range(64):
            used = np.array([mask >> i & 1 for i in range(6)], dtype=np.float64)
            absorbance = used @ layers
            scatter = 0.0025 * (1 - np.exp(-used.sum()))
            body = paper * 10.0**-absorbance + scatter * (1 - 10.0**-absorbance)
            rows.append(self.stock.surface + (1 - self.stock.surface) * body)
        return np.stack(rows) ** (1 / self.stock.yule_nielsen)

    def separate(self, rgb: np.ndarray) -> np.ndarray:
        """The driver's separation for this media setting: RGB (m, 3), 0 to 1, to six ink amounts (m, 6)."""
        ink = 1 - np.clip(rgb, 0, 1)
        common = ink.min(axis=1)
        black = 0.92 * np.clip((common - 0.32) / 0.68, 0, 1) ** 1.6
        colour = ink - (0.55 * black)[:, None] * common[:, None]
        full = colour**1.55
        dark = np.clip((colour - 0.30) / 0.70, 0, 1) ** 1.35
        light = np.clip(full - 0.42 * dark, 0, None) * 1.35 * (1 - 0.75 * dark)
        inks = np.column_stack([dark[:, :2], full[:, 2], black, np.clip(light[:, :2], 0, 0.85)])
        total = inks.sum(axis=1, keepdims=True)
        over = np.maximum(total / self.stock.ink_limit, 1.0)
        inks[:, [0, 1, 2, 4, 5]] /= over
        return inks

    def reflectance(self, rgb: np.ndarray) -> np.ndarray:
        """Spectra (m, 36) of a print of RGB values (m, 3), 0 to 1, without any noise."""
        inks = self.separate(np.asarray(rgb, dtype=np.float64))
        cover = inks + 4 * self._gain * inks * (1 - inks)
        cover = np.clip(cover, 0, 1)
        out = np.empty((len(inks), len(WAVELENGTHS)))
        for start in range(0, len(inks), 20000):
            part = cover[start : start + 20000]
            weights = np.ones((len(part), 1))
            for i in range(6):
                c = part[:, i : i + 1]
                weights = np.concatenate([weights * (1 - c), weights * c], axis=1)
            out[start : start + 20000] = (weights @ self._primaries) ** self.stock.yule_nielsen
        return out

    def xyz(self, rgb: np.ndarray) -> np.ndarray:
        """XYZ (m, 3) under D50 of a print of RGB values (m, 3), without noise."""
        return to_xyz(self.reflectance(rgb))

    def print_chart(self, rgb: np.ndarray, seed: int = 1) -> np.ndarray:
        """Spectra (m, 36) of one printed sheet: the machine wavers a little from patch to patch."""
        rng = np.random.default_rng(seed)
        wobble = np.clip(np.asarray(rgb) + rng.normal(0, 0.0012, np.shape(rgb)), 0, 1)
        return self.reflectance(np.where((rgb <= 0) | (rgb >= 1), rgb, wobble))
