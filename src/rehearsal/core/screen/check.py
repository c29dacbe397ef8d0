"""Checking a screen: patches, their readings against the profile's promise, and a verdict in words."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.colour.lab import xyz_to_lab
from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile, Step, Transform, lab_profile
from rehearsal.core.icc.standard import WHITE_D50, bradford
from rehearsal.core.screen.standards import WHITE_RADIUS
from rehearsal.core.screen.whites import chromaticity, colour_temperature, white_distance
from rehearsal.core.values.words import counted

#: Limits of the verdict in ΔE₀₀ and of the luminance as a share (common practice, no source).
GOOD_MEAN, USABLE_MEAN, GOOD_WORST, USABLE_WORST = 1.5, 3.0, 4.0, 6.0
LUMINANCE_TOLERANCE = 0.10
#: Fewer patches than these prove nothing of a profile (common practice, no source).
LEAST_GREYS, LEAST_COLOURS = 3, 6


def check_patches() -> np.ndarray:
    """Screen RGB (26, 3), 0 to 1: white, black, nine greys, full and half colours, three skins and skies."""
    greys = np.repeat(np.linspace(0.1, 0.9, 9)[:, None], 3, axis=1)
    full = np.array([[1, 0, 0], [0, 1, 0], [0, 0, 1], [0, 1, 1], [1, 0, 1], [1, 1, 0]], dtype=float)
    soft = 0.35 + 0.4 * full
    life = np.array([[0.82, 0.62, 0.52], [0.42, 0.55, 0.78], [0.36, 0.46, 0.26]])
    return np.concatenate([np.ones((1, 3)), np.zeros((1, 3)), greys, full, soft, life])


@dataclass(frozen=True)
class ScreenCheck:
    """Result of a check.

    Attributes:
        rgb: patches (m, 3).
        delta: ΔE₀₀ (m,) between the reading, seen relative to the screen's own white, and the profile.
        white_xy: chromaticity of the white (2,).
        temperature: correlated colour temperature of the white, kelvin.
        white_gap: distance of the white from its aim in u′v′.
        luminance, black: of white and black in cd/m²; black is nan when it was not read.
        contrast: white to black; nan likewise.
        state: ``good``, ``usable`` or ``calibrate``.
        words: the verdict, sentences.
    """

    rgb: np.ndarray
    delta: np.ndarray
    white_xy: np.ndarray
    temperature: float
    white_gap: float
    luminance: float
    black: float
    contrast: float
    state: str
    words: str

    @property
    def mean(self) -> float:
        """Mean ΔE₀₀."""
        return float(self.delta.mean())

    @property
    def worst(self) -> float:
        """Largest ΔE₀₀."""
        return float(self.delta.max())


def _row(rgb: np.ndarray, wanted: float) -> int | None:
    found = np.flatnonzero(np.all(np.abs(rgb - wanted) < 1e-4, axis=1))
    return int(found[0]) if len(found) else None


def relative_lab(xyz: np.ndarray, white: np.ndarray) -> np.ndarray:
    """Lab (m, 3) of readings XYZ (m, 3) seen relative to the screen's own white (Bradford, to D50)."""
    return xyz_to_lab(xyz / white[1] @ bradford(white / white[1], WHITE_D50).T)


def check_screen(
    rgb: np.ndarray, xyz: np.ndarray, profile: Profile, luminance_aim: float, white_aim: str
) -> ScreenCheck:
    """Compare readings with the profile.

    Args:
        rgb: patches (m, 3), 0 to 1; white must be among them.
        xyz: readings (m, 3) in cd/m².
        luminance_aim: wanted luminance of white, cd/m².
        white_aim: one of whites.AIMS.

    Raises:
        RehearsalError: there is no white patch, or it shines with nothing.
    """
    at = _row(rgb, 1.0)
    if at is None or not xyz[at, 1] > 0:
        raise RehearsalError("the readings have no patch of full white", "", "read the white of the screen as well")
    white = xyz[at]
    promised = Transform([Step(profile), Step(lab_profile(), "relative")]).apply(rgb)
    delta = delta_e_2000(promised, relative_lab(xyz, white))
    dark = _row(rgb, 0.0)
    black = float("nan") if dark is None else float(max(xyz[dark, 1], 0.0))
    contrast = float(white[1] / max(black, 1e-4)) if dark is not None else float("nan")
    xy = chromaticity(white)
    gap = white_distance(xy, white_aim)
    state, words = _verdict(rgb, delta, gap, float(white[1]), luminance_aim, white_aim)
    return ScreenCheck(
        rgb=rgb,
        delta=delta,
        white_xy=xy,
        temperature=colour_temperature(xy),
        white_gap=gap,
        luminance=float(white[1]),
        black=black,
        contrast=contrast,
        state=state,
        words=words,
    )


def _counts(rgb: np.ndarray) -> tuple[int, int]:
    """How many different greys and colours were read, of patches (m, 3)."""
    patches = np.unique(np.round(rgb, 4), axis=0)
    grey = np.ptp(patches, axis=1) < 1e-6
    return int(np.count_nonzero(grey)), int(np.count_nonzero(~grey))


def _verdict(
    rgb: np.ndarray, delta: np.ndarray, gap: float, luminance: float, aim: float, white_aim: str
) -> tuple[str, str]:
    mean, worst = float(delta.mean()), float(delta.max())
    greys, colours = _counts(rgb)
    read = f"{counted(greys, 'grey')} and {counted(colours, 'colour')} read"
    if mean <= GOOD_MEAN and worst <= GOOD_WORST and (greys < LEAST_GREYS or colours < LEAST_COLOURS):
        # what was not read cannot be vouched for
        state, parts = (
            "usable",
            [
                f"Too little was read to say that the profile still holds ({read}, mean ΔE₀₀ {mean:.1f}): read at least "
                f"{LEAST_GREYS} greys and {LEAST_COLOURS} colours."
            ],
        )
    elif mean <= GOOD_MEAN and worst <= GOOD_WORST:
        state, parts = "good", [f"The profile still tells the truth: {read}, mean ΔE₀₀ {mean:.1f}, worst {worst:.1f}."]
    elif mean <= USABLE_MEAN and worst <= USABLE_WORST:
        state = "usable"
        parts = [f"Usable with care: colours are off by ΔE₀₀ {mean:.1f} on average; smaller differences prove nothing."]
    else:
        state = "calibrate"
        parts = [
            f"Calibrate and profile again before judging colours: ΔE₀₀ {mean:.1f} on average, {worst:.1f} at worst."
        ]
    if worst > GOOD_WORST:
        parts.append(f"Furthest off: {patch_name(rgb[int(delta.argmax())])}.")
    if abs(luminance / aim - 1) > LUMINANCE_TOLERANCE:
        side = "brighter" if luminance > aim else "darker"
        parts.append(
            f"White is {abs(luminance / aim - 1):.0%} {side} than the {aim:.0f} cd/m² wanted.".replace("%", " %")
        )
        state = "usable" if state == "good" else state
    if gap > WHITE_RADIUS:
        parts.append(f"White lies {gap:.3f} in u′v′ from {white_aim}, more than the {WHITE_RADIUS:.2f} of ISO 12646.")
        state = "usable" if state == "good" else state
    return state, " ".join(parts)


def patch_name(rgb: np.ndarray) -> str:
    """Plain name of a screen patch (3,)."""
    low, high = float(rgb.min()), float(rgb.max())
    if high - low < 1e-6:
        return "white" if low > 0.999 else "black" if high < 1e-3 else f"grey {round(low * 100)} %"
    names = {(1, 0, 0): "red", (0, 1, 0): "green", (0, 0, 1): "blue", (0, 1, 1): "cyan", (1, 0, 1): "magenta",
             (1, 1, 0): "yellow"}  # fmt: skip
    middle = (low + high) / 2
    name = names.get((int(rgb[0] > middle), int(rgb[1] > middle), int(rgb[2] > middle)), "colour")
    full = high > 0.999 and low < 1e-3
    return name if full else f"soft {name}"
