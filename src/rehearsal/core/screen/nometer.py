"""How bright the light on prints is, told without a meter: a sheet of paper beside a field of the screen, or a camera's exposure."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from rehearsal.core.icc import Profile, Step, Transform, xyz_profile

#: K of reflected-light meters, cd·s/(m²·…): 12.5 is what cameras are usually set to (ISO 2720 allows 10.6 to 13.4).
METER_K = 12.5
#: Reflectance of the usual grey card.
GREY_CARD = 0.18
#: An exposure read off a camera is no nearer than this, in stops (common practice, no source).
CAMERA_STOPS = 0.5
#: Apertures, times in seconds and speeds in thirds of a stop, as cameras are marked.
APERTURES = (
    1.4,
    1.6,
    1.8,
    2.0,
    2.2,
    2.5,
    2.8,
    3.2,
    3.5,
    4.0,
    4.5,
    5.0,
    5.6,
    6.3,
    7.1,
    8.0,
    9.0,
    10.0,
    11.0,
    13.0,
    14.0,
    16.0,
)
_PARTS = (
    2000,
    1600,
    1250,
    1000,
    800,
    640,
    500,
    400,
    320,
    250,
    200,
    160,
    125,
    100,
    80,
    60,
    50,
    40,
    30,
    25,
    20,
    15,
    13,
    10,
    8,
    6,
    5,
    4,
)
TIMES = (*(1 / part for part in _PARTS), 0.3, 0.4, 0.5, 0.6, 0.8, 1.0, 1.3, 1.6, 2.0, 2.5, 3.2, 4.0)
SPEEDS = (100, 125, 160, 200, 250, 320, 400, 500, 640, 800, 1000, 1250, 1600, 2000, 2500, 3200, 4000, 5000, 6400)


def time_words(seconds: float) -> str:
    """An exposure time as cameras write it."""
    return f"{seconds:g} s" if seconds >= 0.3 else f"1/{1 / seconds:.0f} s"


@dataclass(frozen=True)
class Exposure:
    """What a camera takes for right: aperture N, time t in seconds, speed S."""

    aperture: float = 4.0
    time: float = 1 / 30
    speed: float = 100.0

    @property
    def luminance(self) -> float:
        """Of what fills the frame, cd/m²: L = K N² / (t S), ISO 2720."""
        return METER_K * self.aperture**2 / (self.time * self.speed)

    def lux(self, reflectance: float) -> float:
        """Light on a matt surface of this reflectance (0 to 1) that fills the frame: E = π L / ρ."""
        return math.pi * self.luminance / reflectance


def field_y(value: int, profile: Profile) -> float:
    """Y of a grey field of this 8-bit value on a screen, full white = 1, as its profile has it."""
    grey = np.array([[value] * 3, [255] * 3], dtype=float) / 255
    xyz = Transform([Step(profile), Step(xyz_profile(), "relative")]).apply(grey)
    return float(xyz[0, 1] / xyz[1, 1])


def offset_of(beside: float, white_y: float) -> float:
    """Stops the screen's white is above lit paper: −log2 of paper : screen white.

    Args:
        beside: a perfect white in the light on prints : the screen's white.
        white_y: Y of the paper's white, 0 to 1.
    """
    return -math.log2(beside * white_y)
