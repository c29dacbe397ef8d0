"""From a bad print to its cause: looks computed from the picture, and likely causes held against the ticket of that print."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.proof.chain import Look
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.handover import HandOver
from rehearsal.core.work.kernels import ndimage

#: Looks of a print, as planned first.
LOOKS = ("planned", "never", "twice", "grey", "dark", "banded", "soft", "magenta", "faded")
#: Stops a wrong medium, or a screen that is much too bright, makes (common practice, no source).
_DARK_STOPS = -0.9
#: Width of a head's pass and how far it is off, as shares of the picture's height and of its light; a blur of the picture's width.
_BANDS, _BAND_DEPTH, _SOFT = 26, 0.16, 1 / 160
_FADE, _MAGENTA = 0.35, np.array([1.05, 0.78, 1.02])


def look_pixels(opened: OpenRendition, kind: str, size: tuple[int, int], look: Look) -> np.ndarray:
    """The print as it comes out when something went wrong: 8-bit screen RGB (h, w, 3) of a size (width, height).

    Never converted: the picture's numbers reach the printer as they are; converted twice: the printer's numbers are taken for the
    picture's and converted again: both computed through the profiles. Grey keeps the light of the planned print alone. The others
    are drawn on the planned print: they are looks, not measurements.
    """
    recipe = opened.rendition.recipe
    if kind == "dark":
        recipe = recipe.with_total("lightness", max(recipe.total["lightness"] + _DARK_STOPS, -2.0))
    block = opened.having(recipe).tuned.region(opened.box, *size)
    device = _device(opened, kind, block.reshape(-1, 3) / 65535.0)
    rgb = look.leg(opened.paper).rgb(device).reshape(size[1], size[0], 3)
    if kind == "grey":
        rgb = _grey(opened, device, look).reshape(rgb.shape)
    return np.round(np.clip(_drawn(rgb, kind, look.leg(opened.paper).paper_rgb), 0, 1) * 255).astype(np.uint8)


def _device(opened: OpenRendition, kind: str, values: np.ndarray) -> np.ndarray:
    """What reaches the printer."""
    chain = opened.chain()
    if kind == "never" and opened.paper.channels == 3:
        return values
    once = chain.device(values)
    return chain.device(once) if kind == "twice" and opened.paper.channels == 3 else once


def _grey(opened: OpenRendition, device: np.ndarray, look: Look) -> np.ndarray:
    """The planned print without its colours: the same L* on the paper's neutral line."""
    model = opened.chain().model
    lab = model.to_lab.apply(device)
    lab[:, 1:] = 0.0
    return look.leg(opened.paper).rgb(np.clip(model.from_lab.apply(lab), 0, 1))


def _drawn(rgb: np.ndarray, kind: str, paper: np.ndarray) -> np.ndarray:
    h, w = rgb.shape[:2]
    if kind == "banded":
        rows = (np.arange(h) * _BANDS // max(h, 1)) % 2 == 0
        edge = np.abs((np.arange(h) * _BANDS / max(h, 1)) % 1 - 0.5) > 0.38
        light = 1 + _BAND_DEPTH * np.where(edge, 1.0, np.where(rows, 0.25, -0.25))
        return np.asarray(rgb * light[:, None, None])
    if kind == "soft":
        sigma = max(w * _SOFT, 0.8)
        return np.stack([ndimage.gaussian_filter(rgb[..., c], sigma, mode="nearest") for c in range(3)], axis=-1)
    if kind == "faded":
        return np.asarray(rgb + _FADE * (paper - rgb))
    return np.asarray(rgb * _MAGENTA) if kind == "magenta" else rgb


@dataclass(frozen=True)
class Cause:
    """A likely cause.

    Attributes:
        key: of its words.
        likely: 0 to 1, among the causes of its look (common practice, no source), after it was held against the ticket.
        known: ``open`` (the ticket does not tell), ``read`` (told by a name or by default only) or ``out`` (the ticket rules it out).
        ticket: key of what the ticket says about it.
    """

    key: str
    likely: float
    known: str
    ticket: str


#: For each look its causes and how often each is the one (common practice, no source).
_OF: dict[str, tuple[tuple[str, float], ...]] = {
    "never": (("never-converted", 0.6), ("other-profile", 0.2), ("driver-corrects", 0.15), ("other-ink", 0.05)),
    "twice": (("program-converts", 0.5), ("driver-corrects", 0.35), ("lab-converts", 0.1), ("other-profile", 0.05)),
    "magenta": (("program-converts", 0.35), ("driver-corrects", 0.3), ("nozzles", 0.2), ("other-profile", 0.15)),
    "grey": (("grey-mode", 0.85), ("nozzles", 0.15)),
    "dark": (("other-medium", 0.4), ("screen-bright", 0.35), ("density", 0.15), ("driver-corrects", 0.1)),
    "faded": (("wrong-black", 0.4), ("wrong-side", 0.3), ("other-medium", 0.3)),
    "banded": (("nozzles", 0.6), ("high-speed", 0.25), ("other-medium", 0.15)),
    "soft": (("scaled", 0.4), ("wrong-side", 0.35), ("high-speed", 0.25)),
}  # fmt: skip
#: A screen's white above this is much too bright for prints, cd/m² (common practice, no source).
_BRIGHT = 120.0
#: What is left of a cause that the ticket rules out, and that it only reads of.
_OUT, _READ = 0.05, 0.6


def causes(
    look: str, hand_over: HandOver, card: PrintCondition, profile_kept: bool, screen_white: float = 0.0
) -> list[Cause]:
    """Likely causes of a look, the likeliest first, each held against what that print's ticket says.

    Args:
        hand_over, card: as the print was made.
        profile_kept: the profile's bytes are those that were judged.
        screen_white: cd/m² of the screen it was judged on, 0 for not known.
    """
    found = []
    for key, often in _OF.get(look, ()):
        known, ticket = _held(key, hand_over, card, profile_kept, screen_white)
        share = {"out": _OUT, "read": _READ, "open": 1.0, "speaks-for": 2.0}[known]
        found.append((key, often * share, known, ticket))
    total = sum(weight for _k, weight, _s, _t in found) or 1.0
    made = [
        Cause(key, weight / total, "open" if known == "speaks-for" else known, ticket)
        for key, weight, known, ticket in found
    ]
    return sorted(made, key=lambda cause: -cause.likely)


def _held(
    key: str, hand_over: HandOver, card: PrintCondition, profile_kept: bool, screen_white: float
) -> tuple[str, str]:
    """How a cause stands against the ticket, and the key of what that says."""
    ready, queue = hand_over.route == "printer", bool(hand_over.queue)
    scaled = hand_over.scale_percent != 100
    answers: dict[str, tuple[str, str]] = {
        "program-converts": ("out", "queue-unconverted") if queue else ("open", "file-ready" if ready else "file-space"),
        "never-converted": ("out", "file-converted") if ready else ("speaks-for", "file-space"),
        "driver-corrects": _at_queue(queue, "driver-untold"),
        "lab-converts": ("speaks-for" if ready else "read", "lab") if card.lab else ("out", "home"),
        "other-profile": ("out", "profile-kept") if profile_kept else ("open", "profile-changed"),
        "grey-mode": ("speaks-for", "grey-set") if hand_over.mode == "grey" else _at_queue(queue, "mode-untold"),
        "other-medium": _medium(hand_over, card, queue),
        "screen-bright": _screen(screen_white),
        "density": ("out", "colour-mode") if hand_over.mode != "grey" else ("open", "grey-set"),
        "high-speed": ("speaks-for", "speed-on") if hand_over.speed == "on" else _at_queue(queue, "speed-untold"),
        "scaled": ("speaks-for", "scaled") if scaled else ("out", "queue-unscaled") if queue else ("open", "scale-untold"),
        "wrong-black": _black(hand_over, card),
        "nozzles": ("open", "never-told"), "wrong-side": ("open", "never-told"), "other-ink": ("open", "never-told"),
    }  # fmt: skip
    return answers[key]


def _at_queue(queue: bool, untold: str) -> tuple[str, str]:
    return ("read", "queue-set") if queue else ("open", untold)


def _screen(white: float) -> tuple[str, str]:
    if white <= 0:
        return "open", "screen-untold"
    return ("speaks-for", "screen-bright") if white > _BRIGHT else ("read", "screen-usual")


def _medium(hand_over: HandOver, card: PrintCondition, queue: bool) -> tuple[str, str]:
    if hand_over.media and card.media_setting and hand_over.media != card.media_setting:
        return "speaks-for", "medium-other"
    if queue:
        return "out", "queue-set"
    return ("read", "medium-told") if card.media_setting else ("open", "medium-untold")


def _black(hand_over: HandOver, card: PrintCondition) -> tuple[str, str]:
    if hand_over.ink and card.ink and hand_over.ink != card.ink:
        return "speaks-for", "ink-other"
    return ("read", "ink-told") if card.ink else ("open", "ink-untold")
