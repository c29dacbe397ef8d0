"""Wedges: steps of one L* from the deepest black up and from bare paper down, and what an eye told apart on them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.papers.model import paper_model
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.wedge import WedgeSeen

#: So many steps each, of so many L*.
STEPS, STEP = 12, 1.0
_GREYS = 1025


@dataclass(frozen=True, eq=False)
class Wedges:
    """Values (STEPS, channels), 0 to 1, of the file, and media-relative L* (STEPS,) each is meant to print.

    ``black`` goes up from the deepest black, ``white`` down from bare paper.
    """

    black: np.ndarray
    white: np.ndarray
    black_lightness: np.ndarray
    white_lightness: np.ndarray


def wedges_for(opened: OpenRendition) -> Wedges:
    """The wedges of a rendition's paper, in the space of its file.

    In the printer's space: nearest colours without the take's intent, a* and b* from the black's to 0. In a working space the
    greys whose print by the rendition's own chain is so light: whoever converts them does with them as with the picture.
    """
    return _in_space(opened) if opened.rendition.hand_over.via else _in_printer(opened)


def _in_printer(opened: OpenRendition) -> Wedges:
    model = paper_model(opened.paper)
    black = model.relative_black
    up = black[0] + STEP * np.arange(STEPS)
    down = 100.0 - STEP * np.arange(STEPS)
    dark, light = np.zeros((STEPS, 3)), np.zeros((STEPS, 3))
    dark[:, 0], light[:, 0] = up, down
    dark[:, 1:] = black[1:] * np.linspace(1, 0, STEPS)[:, None]
    made = np.clip(model.nearest(np.concatenate([dark, light]))[0], 0, 1)
    made[0], made[STEPS] = model.black_device, model.paper_device
    return Wedges(made[:STEPS], made[STEPS:], up, down)


def _in_space(opened: OpenRendition) -> Wedges:
    greys = np.linspace(0, 1, _GREYS)
    chain = opened.chain(opened.via)
    printed = np.maximum.accumulate(chain.print_lab(np.repeat(greys[:, None], 3, axis=1))[:, 0])
    up, down = printed[0] + STEP * np.arange(STEPS), printed[-1] - STEP * np.arange(STEPS)
    dark, light = (np.repeat(np.interp(wanted, printed, greys)[:, None], 3, axis=1) for wanted in (up, down))
    dark[0], light[0] = 0.0, 1.0
    return Wedges(dark, light, up, down)


def black_values(opened: OpenRendition) -> np.ndarray:
    """Values (channels,), 0 to 1, of the deepest black in the space of the rendition's file."""
    return np.zeros(3) if opened.rendition.hand_over.via else paper_model(opened.paper).black_device


def seen_of(black_step: int, white_step: int, lux: float, kelvin: float) -> WedgeSeen:
    """What was seen: numbers, from 0, of the first steps told from black and from bare paper; below 0 for not looked at."""
    return WedgeSeen(max(black_step * STEP, -1.0), max(white_step * STEP, -1.0), lux, kelvin)


def one_black_words(seen: WedgeSeen, paper: str) -> str:
    """What the wedges said of a paper's depths and whites; empty when nobody looked, or every step was told apart."""
    light = f"{seen.lux:.0f} lux" + (f", {seen.kelvin:.0f} K" if seen.kelvin > 0 else "")
    said = []
    if seen.black > STEP:
        said.append(f"depths within {seen.black - STEP:g} L* of the deepest black are one black")
    if seen.white > STEP:
        said.append(f"tones within {seen.white - STEP:g} L* of bare paper are one white")
    return f"On {paper}, as seen at {light}, {' and '.join(said)}." if said else ""
