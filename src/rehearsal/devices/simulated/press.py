"""A simulated press: what really comes out when a page is printed. Its own truth stands behind the profile; all of it is invented.

The profile's colorimetric table says what the average machine prints on this paper. This machine prints up to a third of a stop lighter or
darker, a little warmer or cooler, with a black of its own; it shifts and stretches what it feeds; light and ink spread in the paper; the
print dries over half an hour. Under a medium that is not the paper's too much ink goes down: far darker, with a dull black.
"""

from __future__ import annotations

import hashlib
import math
from dataclasses import dataclass

import numpy as np

from rehearsal.core.icc import Profile, Step, Transform, xyz_profile
from rehearsal.core.papers.surface import SIGMA_UM, family
from rehearsal.core.values.trueplace import TruePlace
from rehearsal.core.work.kernels import ndimage

#: Minutes in which the share by which a print is still wet falls to 1/e; after thirty a tenth is left.
_FASTER = 13.0
_MIDDLE = 0.18
_WRONG_STOPS, _WRONG_BLACK = -0.8, 0.03
_WET_STOPS, _WET_MIRED = -0.16, -5.0


@dataclass(frozen=True)
class LoadedSheet:
    """What lies in the tray.

    Attributes:
        profile: of printer, paper and its right medium; surface, texture: as its card tells them.
        width, height: mm, as it is fed.
        right_medium: the queue's word for the medium this paper wants; empty when nobody knows: then none is wrong.
    """

    profile: Profile
    width: float
    height: float
    surface: str = ""
    texture: str = ""
    right_medium: str = ""


@dataclass(frozen=True, eq=False)
class SeenPrint:
    """A print as an instrument sees it.

    Attributes:
        xyz: (h, w, 3), D50, perfect diffuser Y = 1, of the sheet as it is fed.
        per_mm: pixels to the mm; white: XYZ (3,) of the bare paper.
    """

    xyz: np.ndarray
    per_mm: float
    white: np.ndarray


class SimulatedPress:
    """One machine.

    Args:
        name: the machine's own name: the same one prints the same way again.
        faulty: False for a machine that prints as its profile says and puts everything in its place.
    """

    def __init__(self, name: str, faulty: bool = True) -> None:
        self.name, self._faulty = name, faulty

    def _dice(self, what: str) -> np.random.Generator:
        seed = hashlib.sha256(f"{self.name} {what}".encode()).digest()
        return np.random.default_rng(int.from_bytes(seed[:8], "little"))

    def _place(self, feed: str) -> TruePlace:
        """What the feed does to a page."""
        if not self._faulty:
            return TruePlace()
        dice = self._dice(f"feed {feed}")
        right, down = dice.uniform(-1.2, 1.2, 2)
        return TruePlace(float(right), float(down), 0.0, float(dice.uniform(-0.3, 0.3)), float(dice.uniform(-1.5, 1.5)))

    def _tones(self, sheet: LoadedSheet, medium: str, minutes: float) -> tuple[float, float, float]:
        """Stops and mired by which this print differs, and how much its black is lifted."""
        dice = self._dice(f"paper {sheet.profile.digest}")
        stops, mired, black = dice.uniform(-1 / 3, 1 / 3), dice.uniform(-8, 8), dice.uniform(0, 0.0015)
        if not self._faulty:
            stops = mired = black = 0.0
        if sheet.right_medium and medium and medium != sheet.right_medium:
            stops, black = stops + _WRONG_STOPS, black + _WRONG_BLACK
        wet = math.exp(-max(minutes, 0.0) / _FASTER) if self._faulty else 0.0
        return float(stops + wet * _WET_STOPS), float(mired + wet * _WET_MIRED), float(black)

    def print_page(
        self, page: np.ndarray, per_mm: float, sheet: LoadedSheet, medium: str = "", feed: str = "", minutes: float = math.inf,
        scale: float = 100.0,
    ) -> SeenPrint:  # fmt: skip
        """The print of a page.

        Args:
            page: device values (h, w, channels) of 8 or 16 bit, as the page is fed; per_mm: its pixels to the mm.
            medium, feed: as they are set; minutes: since it was printed; scale: per cent, set in a driver.
        """
        to_xyz = Transform([Step(sheet.profile), Step(xyz_profile(), "absolute")])
        most = np.iinfo(page.dtype).max
        bare = 0 if page.shape[2] == 4 else most
        white = np.maximum(to_xyz.apply(np.full((1, page.shape[2]), bare / most))[0], 1e-6)
        inked = (page != bare).any(axis=2)
        xyz = np.maximum(to_xyz.apply(page[inked] / float(most)), 0.0)
        seen = _bare(white, page.shape)
        seen[:, inked] = (self._toned(xyz / white, *self._tones(sheet, medium, minutes)) * white).T
        kind = family(sheet.surface, sheet.texture)
        sigma = SIGMA_UM.get(kind, 0.0) / 1000 * per_mm
        if sigma > 0.15:
            for plane in seen:
                ndimage.gaussian_filter(plane, sigma, mode="nearest", output=plane)
        fed = self._fed(seen, per_mm, white, self._place(feed), scale / 100)
        return SeenPrint(np.moveaxis(fed, 0, -1), per_mm, white)

    @staticmethod
    def _toned(relative: np.ndarray, stops: float, mired: float, black: float) -> np.ndarray:
        """Relative to the paper's white: lighter by stops at 18 %, warmer by mired about 5000 K, its black lifted."""
        gain = 2.0**stops * (1 - _MIDDLE) / (1 - _MIDDLE * min(2.0**stops, 5.0))
        made = gain * relative / (1 + (gain - 1) * relative)
        # along the daylight locus 10 mired are about 3 % of Z at these temperatures; ink fades out towards bare paper
        depth = np.clip(1 - relative[..., 1:2], 0, 1)
        made = made * (1 + depth * mired / 10 * np.array([0.006, 0.0, -0.03]))
        return np.asarray(black + (1 - black) * made)

    @staticmethod
    def _fed(xyz: np.ndarray, per_mm: float, white: np.ndarray, place: TruePlace, scale: float) -> np.ndarray:
        """XYZ (3, h, w) shifted, stretched and turned by the feed, about the sheet's middle; bare paper comes in at the edges."""
        if place == TruePlace() and scale == 1:
            return xyz
        high, wide = xyz.shape[1:]
        turned = place.turned / 1000
        # rows and columns: y goes down, x to the right
        forth = np.array([[(1 + place.along / 100) * scale, turned], [-turned, (1 + place.across / 100) * scale]])
        back = np.linalg.inv(forth)
        middle = np.array([(high - 1) / 2, (wide - 1) / 2])
        offset = middle - back @ (middle + np.array([place.down, place.right]) * per_mm)
        made = np.empty_like(xyz)
        for plane, out, edge in zip(xyz, made, white, strict=True):
            ndimage.affine_transform(plane, back, offset, output=out, order=1, mode="constant", cval=float(edge))
        return made


def _bare(white: np.ndarray, shape: tuple[int, ...]) -> np.ndarray:
    """XYZ (3, h, w) of a sheet without ink."""
    made = np.empty((3, *shape[:2]), dtype=np.float32)
    made[:] = white[:, None, None]
    return made


def seen_in(seen: SeenPrint, kelvin: float, lux: float) -> np.ndarray:
    """XYZ (h, w, 3) of a print as an eye used to daylight sees it under a lamp, 1 for white paper in it.

    The eye goes along with a lamp's colour only in part: the degree of adaptation of CIECAM02, D = 1 − (1/3.6) exp(−(L_A + 42) / 92),
    L_A a fifth of the white's luminance (CIE 159:2004). The lamp is a black body.
    """
    if kelvin <= 0:
        return seen.xyz
    adapting = lux / math.pi / 5
    left = (1 / 3.6) * math.exp(-(adapting + 42) / 92)
    lamp, daylight = _planck_xyz(kelvin), _planck_xyz(5003.0)
    return np.asarray(seen.xyz * (1 + left * (lamp / daylight - 1)))


def _planck_xyz(kelvin: float) -> np.ndarray:
    """White of a black body, Y = 1 (Planck's law with c₂ = 0.014388 m K; the observer of ``devices/spectra``)."""
    from rehearsal.devices.spectra import WAVELENGTHS, X_BAR, Y_BAR, Z_BAR

    metres = WAVELENGTHS * 1e-9
    power = metres**-5 / (np.exp(0.014388 / (metres * kelvin)) - 1)
    xyz = np.array([(power * bar).sum() for bar in (X_BAR, Y_BAR, Z_BAR)])
    return np.asarray(xyz / xyz[1])


class SimulatedMeter:
    """Reads patches of a print through a round opening, with a little noise."""

    name = "simulated meter"

    def __init__(self, opening_mm: float = 6.0, seed: int = 5) -> None:
        self._radius = opening_mm / 2
        self._dice = np.random.default_rng(seed)

    def read(self, seen: SeenPrint, x: float, y: float) -> np.ndarray:
        """XYZ (3,) of the print around a place, mm from the upper left of the sheet as it is fed."""
        high, wide = seen.xyz.shape[:2]
        r = self._radius * seen.per_mm
        rows = slice(max(0, int(y * seen.per_mm - r)), min(high, int(y * seen.per_mm + r) + 1))
        columns = slice(max(0, int(x * seen.per_mm - r)), min(wide, int(x * seen.per_mm + r) + 1))
        if rows.start >= rows.stop or columns.start >= columns.stop:
            return np.asarray(seen.white)
        down, across = np.mgrid[rows, columns]
        inside = (down - y * seen.per_mm) ** 2 + (across - x * seen.per_mm) ** 2 <= max(r, 1.0) ** 2
        if not inside.any():
            return np.asarray(seen.white)
        mean = seen.xyz[rows, columns][inside].mean(axis=0)
        return np.asarray(np.maximum(mean + self._dice.normal(0, 0.0004, 3), 0.0))
