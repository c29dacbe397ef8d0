"""Words of the interface for values of the core."""

from __future__ import annotations

import numpy as np

from rehearsal.core.colour.lab import lab_to_xyz
from rehearsal.core.colour.table import srgb_encode
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.rendering import Rendering

#: Linear sRGB of XYZ under D50 (IEC 61966-2-1 primaries, Bradford; Lindbloom's published matrix, from memory).
_SRGB_D50 = np.array([[3.1339, -1.6169, -0.4906], [-0.9788, 1.9161, 0.0335], [0.0719, -0.2290, 1.4052]])

VIEWS = {
    "fitted": ("Fitted to the screen", "Alt+6", "paper white as screen white, ink black as screen black"),
    "true-black": ("Black as printed", "Alt+7", "paper white as screen white, the black as it prints"),
    "on-paper": ("On paper", "Alt+8", "the paper's own white and black"),
    "on-paper-bright": ("On paper, bright", "Alt+9", "the same, as bright as the screen allows"),
    "in-its-light": ("In its light", "Alt+0", "real brightness under the light on the print"),
}
INTENT_KEYS = (
    (Rendering("relative", True), "Relative, comp.", "Alt+1"),
    (Rendering("relative", False), "Relative", "Alt+2"),
    (Rendering("perceptual", True), "Perceptual", "Alt+3"),
    (Rendering("saturation", True), "Saturation", "Alt+4"),
    (Rendering("absolute", False), "Absolute", "Alt+5"),
)


def view_words(view: str) -> str:
    """Name of a paper view within a sentence."""
    return VIEWS[view][0].lower()


def rendering_words(rendering: Rendering) -> str:
    """Standard name of intent and compensation."""
    name = {"relative": "relative colorimetric", "absolute": "absolute colorimetric"}.get(
        rendering.intent, rendering.intent
    )
    if rendering.intent == "relative":
        return f"{name}, compensated" if rendering.compensate else f"{name}, uncompensated"
    return name


def as_printed(hand_over: HandOver) -> str:
    """That nothing else is printed than was judged: sharpening for the paper is no part of a judgement, and is said."""
    more = ", sharpened for the paper," if hand_over.sharpens else ""
    return f"what was judged{more} is what will be printed"


def linear_srgb(xyz: np.ndarray) -> np.ndarray:
    """Linear sRGB (..., 3), not clipped, of XYZ under D50 (white Y = 1)."""
    made: np.ndarray = xyz @ _SRGB_D50.T
    return made


def lab_colours(lab: np.ndarray) -> np.ndarray:
    """8-bit sRGB (..., 3) of Lab colours, for swatches in plots and cards (not for judging)."""
    rgb = srgb_encode(np.clip(linear_srgb(lab_to_xyz(lab)), 0, 1))
    return np.asarray(np.round(rgb * 255).astype(int))


def lab_colour(lab: tuple[float, float, float]) -> tuple[int, int, int]:
    """:func:`lab_colours` of one."""
    red, green, blue = lab_colours(np.asarray(lab)).tolist()
    return red, green, blue
