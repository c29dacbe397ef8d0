"""Words of the interface for values of the core."""

from __future__ import annotations

from rehearsal.core.proof.chain import Rendering

VIEWS = {
    "fitted": ("Fitted to the screen", "6", "paper white as screen white, ink black as screen black"),
    "true-black": ("True black", "7", "paper white as screen white, the black as it prints"),
    "on-paper": ("On paper", "8", "the paper's own white and black"),
    "on-paper-bright": ("On paper, bright", "9", "the same, as bright as the screen allows"),
    "in-its-light": ("In its light", "0", "real brightness under the light on the print"),
}
INTENT_KEYS = (
    (Rendering("relative", True), "Relative, comp.", "1"),
    (Rendering("relative", False), "Relative", "2"),
    (Rendering("perceptual", True), "Perceptual", "3"),
    (Rendering("saturation", True), "Saturation", "4"),
    (Rendering("absolute", False), "Absolute", "5"),
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


def share_words(share: float) -> str:
    """A share as people read it."""
    if share <= 0:
        return "0 %"
    if share < 0.1:
        return "< 0.1 %"
    return f"{share:.0f} %" if share >= 9.5 else f"{share:.1f} %"
