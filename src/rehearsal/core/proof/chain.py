"""The chain master, print, screen by the exact road, and the five paper views."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from rehearsal.core.colour.lab import compensate_lab
from rehearsal.core.icc import (
    Profile,
    Step,
    Transform,
    destination_black,
    source_black,
    xyz_profile,
)
from rehearsal.core.icc.shared import per_profile
from rehearsal.core.icc.standard import WHITE_D50
from rehearsal.core.papers.model import PaperModel, paper_model
from rehearsal.core.picture.space import MasterSpace, master_space
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.work.once import once
from rehearsal.core.work.pool import in_slices

VIEWS = ("fitted", "true-black", "on-paper", "on-paper-bright", "in-its-light")
_PART = 1 << 17


@dataclass(frozen=True)
class Light:
    """Light on the print and of the screen: lux, screen white in cd/m²."""

    lux: float = 500.0
    screen_white: float = 100.0


@dataclass(frozen=True)
class Look:
    """How a print is looked at; nothing of it goes on paper.

    Attributes:
        screen: the monitor's profile.
        view: one of VIEWS.
        hold: the master is kept no lighter than the simulated paper.
        unmanaged: the picture's numbers reach an RGB printer as they are: a warning, not a proof.
        scale: one brightness for several papers in views with paper; None for each paper's own.
        limited: contrast to which the whole screen is limited already; 0 when it is not.
    """

    screen: Profile
    view: str = "true-black"
    light: Light = Light()
    hold: bool = True
    unmanaged: bool = False
    scale: float | None = None
    limited: float = 0.0

    @property
    def shows_paper(self) -> bool:
        """True when the view shows the paper's own white."""
        return self.view not in ("fitted", "true-black")

    def leg(self, paper: Profile) -> ScreenLeg:
        """From a paper to the screen."""
        return ScreenLeg(paper, self.screen, self.view, self.light, self.scale, self.limited)


def effective(rendering: Rendering, profile: Profile) -> Rendering:
    """What the engine really does: absolute never compensates; version 4 perceptual and saturation always do."""
    if rendering.intent == "absolute":
        return replace(rendering, compensate=False)
    if rendering.intent in ("perceptual", "saturation") and profile.header.version >= 4:
        return replace(rendering, compensate=True)
    return rendering


def switch_is_fixed(intent: str, profile: Profile) -> str:
    """Why the compensation switch has no say, as a sentence; empty when it has one."""
    if intent == "absolute":
        return "The absolute intent never compensates the black."
    if intent in ("perceptual", "saturation") and profile.header.version >= 4:
        return "Version 4 profiles always compensate the black in this intent."
    return ""


def in_parts(values: np.ndarray, width: int, work) -> np.ndarray:  # type: ignore[no-untyped-def]
    """Apply work to (m, k) arrays piece by piece on two threads; returns (m, width) float64."""
    out = np.empty((len(values), width))

    def run(part: slice) -> None:
        for start in range(part.start, part.stop, _PART):
            piece = slice(start, min(start + _PART, part.stop))
            out[piece] = work(values[piece])

    in_slices(len(values), run)
    return out


class PrintChain:
    """Master to print for one paper and one rendering.

    Pixels are read by the table of the same intent as they are rendered with (the engine chooses the first profile's table by
    the first step's intent; ICC.1:2022, 8.2 pairs the tables likewise).

    Args:
        master: profile of the pixels that are converted.
        paper: destination profile.
        rendering: intent and compensation.
        via: a working space in which the file is handed over, relative colorimetric with compensation; what lies outside it is
            cut off before the printer's profile sees it. None when the pixels are converted straight to the printer.
    """

    def __init__(self, master: Profile, paper: Profile, rendering: Rendering, via: Profile | None = None) -> None:
        self.space: MasterSpace = master_space(master)
        self.model: PaperModel = paper_model(paper)
        self.rendering = effective(rendering, paper)
        self.via = None if via is None or via.digest == master.digest else via

    @property
    def key(self) -> tuple[str, str | None, str, Rendering]:
        """What the way depends on."""
        via = None if self.via is None else self.via.digest
        return self.space.profile.digest, via, self.model.profile.digest, self.rendering

    @property
    def is_identity(self) -> bool:
        """True when the picture is in the destination's very profile: its numbers stay, with every intent."""
        return (self.via or self.space.profile).digest == self.model.profile.digest

    @once
    def _to_device(self) -> Transform:
        step = Step(self.model.profile, self.rendering.intent, self.rendering.compensate)
        return Transform([Step(self.via or self.space.profile, self.rendering.intent), step])

    @once
    def _into_space(self) -> Transform | None:
        if self.via is None:
            return None
        return Transform([Step(self.space.profile, "relative"), Step(self.via, "relative", True)])

    def _convert(self, values: np.ndarray) -> np.ndarray:
        into = self._into_space
        sent = values if into is None else np.clip(into.apply(values), 0, 1)
        if self.is_identity:
            return np.clip(np.asarray(sent, dtype=np.float64), 0, 1)
        return np.clip(self._to_device.apply(sent), 0, 1)

    def device(self, values: np.ndarray) -> np.ndarray:
        """Printer values (m, channels) of master values (m, k), 0 to 1, straight from profile to profile."""
        return in_parts(values, self.model.channels, self._convert)

    def print_lab(self, values: np.ndarray) -> np.ndarray:
        """P: media-relative Lab (m, 3) of master values (m, k), 0 to 1."""
        return in_parts(values, 3, lambda v: self.model.to_lab.apply(self._convert(v)))

    def printed(self, values: np.ndarray) -> np.ndarray:
        """What change is measured against: P, for the absolute intent Pa (m, 3) of master values (m, k), 0 to 1."""
        lab = self.print_lab(values)
        return self.model.absolute(lab) if self.rendering.intent == "absolute" else lab


def fitted_master(lab: np.ndarray, master: Profile, paper: Profile) -> np.ndarray:
    """M′ of M (..., 3), Lab: black scaled onto the printer's black (ISO 18619), both of the relative colorimetric direction."""
    return compensate_lab(lab, source_black(master, "relative"), destination_black(paper, "relative"))


class ScreenLeg:
    """Print to screen: device values of the paper to screen RGB, 0 to 1, for one paper view.

    Args:
        paper, screen: destination and monitor profiles.
        view: one of VIEWS.
        light: only used by the view ``in-its-light``.
        scale: one brightness for several papers, instead of this paper's own ``paper_scale``.
        limited: contrast to which the whole screen is limited already, so that the proof does not limit it again; 0 when it is not.
    """

    def __init__(
        self,
        paper: Profile,
        screen: Profile,
        view: str,
        light: Light | None = None,
        scale: float | None = None,
        limited: float = 0.0,
    ) -> None:
        if view not in VIEWS:
            raise ValueError(f"unknown paper view {view!r}")
        self.model, self.screen, self.view = paper_model(paper), screen, view
        self.light = light or Light()
        self._scale, self._limited = scale, limited

    @once
    def _relative(self) -> Transform:
        return Transform([Step(self.model.profile), Step(self.screen, "relative", self.view == "fitted")])

    @once
    def _absolute(self) -> Transform:
        return Transform([Step(self.model.profile), Step(xyz_profile(), "absolute")])

    @once
    def _relative_xyz(self) -> Transform:
        return Transform([Step(self.model.profile), Step(xyz_profile(), "relative")])

    @once
    def _from_xyz(self) -> Transform:
        return Transform([Step(xyz_profile()), Step(self.screen, "relative")])

    @once
    def paper_scale(self) -> float:
        """Factor on absolute XYZ before it goes to the screen."""
        if self._scale is not None:
            return self._scale
        white = self._absolute.apply(self.model.paper_device[None])[0]
        if self.view == "in-its-light":
            return self.light.lux / np.pi / self.light.screen_white
        linear = linear_screen(self.screen, white)
        most = float(linear.max())
        if self.view == "on-paper-bright":
            return 1.0 / most
        return 1.0 / most if most > 1 else 1.0

    @property
    def outshines(self) -> bool:
        """True when the lit paper is brighter than this screen can be."""
        white = self._absolute.apply(self.model.paper_device[None])[0]
        return float(linear_screen(self.screen, white * self.paper_scale).max()) > 1.0 + 1e-6

    def rgb(self, device: np.ndarray) -> np.ndarray:
        """Screen RGB (m, 3), 0 to 1, of device values (m, channels)."""
        if self.view == "fitted" or (self.view == "true-black" and not self.lifts_already):
            return in_parts(device, 3, lambda v: np.clip(self._relative.apply(v), 0, 1))
        to_xyz, scale = (self._relative_xyz, 1.0) if self.view == "true-black" else (self._absolute, self.paper_scale)
        return in_parts(device, 3, lambda v: np.clip(self._from_xyz.apply(self._sunk(to_xyz.apply(v) * scale)), 0, 1))

    def of_xyz(self, xyz: np.ndarray) -> np.ndarray:
        """Screen RGB (..., 3), 0 to 1, of absolute XYZ (..., 3) in views that show the paper: of a print as it was read, not planned."""
        flat = xyz.reshape(-1, 3)
        made = in_parts(flat, 3, lambda v: np.clip(self._from_xyz.apply(self._sunk(v * self.paper_scale)), 0, 1))
        return made.reshape(xyz.shape)

    @once
    def lifts_already(self) -> float:
        """Y of the black that the screen adds and its profile does not know of, 0 when there is none.

        A profile made after the screen was limited knows its black: the engine then reaches the print's black by itself.
        """
        if self._limited <= 1:
            return 0.0
        known = float(Transform([Step(self.screen), Step(xyz_profile(), "relative")]).apply(np.zeros((1, 3)))[0, 1])
        return max(1.0 / self._limited - known, 0.0)

    def _sunk(self, xyz: np.ndarray) -> np.ndarray:
        """XYZ (m, 3) that with the screen's own lift becomes what is wanted: (X − kW) / (1 − k), not below black."""
        k = self.lifts_already
        return xyz if k == 0 else np.maximum((xyz - k * WHITE_D50) / (1 - k), 0.0)

    @property
    def paper_rgb(self) -> np.ndarray:
        """Screen RGB (3,) of the bare paper in this view."""
        return self.rgb(self.model.paper_device[None])[0]

    @property
    def black_rgb(self) -> np.ndarray:
        """Screen RGB (3,) of the printable black in this view."""
        return self.rgb(self.model.black_device[None])[0]


def _primaries(screen: Profile) -> tuple[np.ndarray, np.ndarray]:
    """XYZ (3, 3) that the screen's channels add at full, one a column, and XYZ (3,) of its black."""
    to_xyz = Transform([Step(screen), Step(xyz_profile(), "relative")])
    black, white, *full = to_xyz.apply(np.concatenate([np.zeros((1, 3)), np.ones((1, 3)), np.eye(3)]))
    columns = (np.array(full) - black).T
    return columns * np.linalg.solve(columns, white - black), black


_screen_primaries = per_profile(_primaries)


def linear_screen(screen: Profile, xyz: np.ndarray) -> np.ndarray:
    """Linear light (3,) of the screen's channels that XYZ asks for, 1 at full, unclipped.

    The channels' lights are taken to add up, with tables as with matrices: of a table the values at its corners count, since what
    lies between them is coded and never linear.
    """
    columns, black = _screen_primaries(screen)
    return np.linalg.solve(columns, xyz - black)


class MasterLeg:
    """Master to screen, relative colorimetric, uncompensated; its white may be held at the paper's lightness.

    Args:
        master, screen: profiles.
        scale: neutral factor on linear light, 1 for full brightness.
    """

    def __init__(self, master: Profile, screen: Profile, scale: float = 1.0) -> None:
        self.scale = scale
        self._to_xyz = Transform([Step(master), Step(xyz_profile(), "relative")])
        self._from_xyz = Transform([Step(xyz_profile()), Step(screen, "relative")])

    def rgb(self, values: np.ndarray) -> np.ndarray:
        """Screen RGB (m, 3), 0 to 1, of master values (m, k), 0 to 1."""
        return in_parts(values, 3, lambda v: np.clip(self._from_xyz.apply(self._to_xyz.apply(v) * self.scale), 0, 1))


def master_scale(leg: ScreenLeg) -> float:
    """Factor that brings the master's white to the lightness of the simulated paper, 1 in views without paper."""
    if leg.view in ("fitted", "true-black"):
        return 1.0
    to_xyz = Transform([Step(leg.screen), Step(xyz_profile(), "relative")])
    return float(min(1.0, to_xyz.apply(leg.paper_rgb[None])[0][1]))
