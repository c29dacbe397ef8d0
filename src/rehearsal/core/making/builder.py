"""From readings of a chart to a printer profile.

Forward: a cubic radial-basis interpolation of the readings (thin plates in three dimensions, scipy's
RBFInterpolator) in media-relative Lab, sampled on a cube. Backward: every node of a Lab lattice is
inverted by the same nearest-colour search the figures use. The perceptual table first moves the
wide world of pictures into the paper's solid: lightness by the black point compensation formula, chroma
by a soft knee that starts with slope one, both along constant CIELAB hue.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import ndimage, spatial
from scipy.interpolate import RBFInterpolator

from rehearsal.core.colour.lab import compensate_xyz, lab_to_xyz, xyz_to_lab
from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import write
from rehearsal.core.icc.standard import WHITE_D50, working_space
from rehearsal.core.papers.model import paper_model
from rehearsal.core.papers.nearest import nearest
from rehearsal.core.papers.solid import Solid, build_solid

_FORWARD_NODES = 33
_BACK_NODES = 41
_AB_REACH = 116.0
_AB_POWER = 0.85
_V4_BLACK = np.array([0.00336, 0.0034731, 0.00287])


@dataclass(frozen=True)
class PrinterFit:
    """A fitted forward model: RGB (m, 3), 0 to 1, to media-relative Lab; ``white`` is absolute XYZ of the paper."""

    interpolator: RBFInterpolator
    white: np.ndarray

    def lab(self, rgb: np.ndarray) -> np.ndarray:
        """Media-relative Lab (m, 3)."""
        return np.asarray(self.interpolator(np.atleast_2d(rgb)))


def fit(rgb: np.ndarray, xyz: np.ndarray, smoothing: float = 1e-6) -> PrinterFit:
    """Fit the forward model.

    Args:
        rgb: device values (m, 3), 0 to 1; repeats are averaged; (1, 1, 1) must be among them.
        xyz: absolute XYZ (m, 3), D50, perfect diffuser Y = 1.
        smoothing: of the radial-basis fit, against reading noise.
    """
    unique, place = np.unique(np.round(rgb, 5), axis=0, return_inverse=True)
    count = np.bincount(place.ravel())
    mean = np.stack([np.bincount(place.ravel(), xyz[:, c]) / count for c in range(3)], axis=1)
    is_white = np.all(unique > 0.9999, axis=1)
    if not is_white.any():
        raise RehearsalError("the readings have no patch of bare paper", "", "print a chart with a white patch")
    white = mean[is_white][0]
    lab = xyz_to_lab(mean / white * WHITE_D50)
    return PrinterFit(RBFInterpolator(unique, lab, kernel="cubic", smoothing=smoothing, degree=1), white)


def _cube(n: int) -> np.ndarray:
    axis = np.linspace(0, 1, n)
    return np.stack(np.meshgrid(axis, axis, axis, indexing="ij"), axis=-1).reshape(-1, 3)


def _lattice_axes() -> tuple[np.ndarray, np.ndarray]:
    """L* and a* (or b*) values that stand at the nodes of the backward tables."""
    side = np.linspace(-1, 1, _BACK_NODES)
    return np.linspace(0, 100, _BACK_NODES), np.sign(side) * np.abs(side) ** (1 / _AB_POWER) * _AB_REACH


def _back_curves() -> np.ndarray:
    """Input curves (3, 4096) that bring encoded Lab onto the lattice."""
    encoded = np.linspace(0, 1, 4096)
    lightness = np.clip(encoded * 65535 / 0xFF00, 0, 1)
    ab = encoded * 65535 / 256 - 128
    side = 0.5 + 0.5 * np.sign(ab) * np.minimum(np.abs(ab) / _AB_REACH, 1) ** _AB_POWER
    return np.stack([lightness, side, side])


@dataclass(frozen=True)
class _Reach:
    """Largest chroma inside a solid over L* (rows, step 1) and hue (columns, step 3°), smoothed, and its cusp."""

    chroma: np.ndarray
    cusp_lightness: np.ndarray

    def at(self, lightness: np.ndarray, hue: np.ndarray) -> np.ndarray:
        wrapped = np.concatenate([self.chroma, self.chroma[:, :1]], axis=1)
        return ndimage.map_coordinates(wrapped, [np.clip(lightness, 0, 100), (hue % 360) / 3], order=1, mode="nearest")

    def cusp(self, hue: np.ndarray) -> np.ndarray:
        return np.interp(hue % 360, np.arange(121) * 3.0, np.append(self.cusp_lightness, self.cusp_lightness[0]))


def _reach(solid: Solid) -> _Reach:
    lightness, hue, c = np.arange(101.0), np.radians(np.arange(120) * 3.0), np.arange(0, 190.0)
    ll, hh, cc = np.meshgrid(lightness, hue, c, indexing="ij")
    inside = solid.contains(np.stack([ll, cc * np.cos(hh), cc * np.sin(hh)], axis=-1))
    longest = np.where(inside.any(axis=2), inside.shape[2] - np.argmax(inside[..., ::-1], axis=2) - 0.5, 0.0)
    smooth = ndimage.gaussian_filter(longest, (1.5, 1.5), mode=("nearest", "wrap"))
    smooth = np.minimum(smooth, longest + 2)
    cusp = ndimage.gaussian_filter1d(np.argmax(smooth, axis=0).astype(float), 3, mode="wrap")
    return _Reach(smooth, cusp)


def perceptual_aim(lab: np.ndarray, solid: Solid, black: np.ndarray, source_black: np.ndarray) -> np.ndarray:
    """Where the perceptual table sends media-relative Lab (m, 3).

    Args:
        solid: the paper's gamut.
        black: media-relative XYZ of the paper's black.
        source_black: XYZ that becomes that black (zeros in version 2, the reference black in version 4).
    """
    source = _reach(paper_model(working_space("opRGB")).solid)
    target = _reach(solid)
    aim = xyz_to_lab(compensate_xyz(lab_to_xyz(lab), source_black, black))
    hue = np.degrees(np.arctan2(lab[:, 2], lab[:, 1]))
    colour = np.hypot(aim[:, 1], aim[:, 2])
    wide = np.maximum(source.at(lab[:, 0], hue) * 1.06, 4.0)
    excess = np.clip(colour / wide, 0, 1.2)
    room = target.at(aim[:, 0], hue)
    need = np.clip((wide - room) / wide, 0, 1)
    lightness = aim[:, 0] + 0.42 * need * excess**2 * (target.cusp(hue) - aim[:, 0])
    room = np.maximum(target.at(lightness, hue) - 0.5, 0.5)
    knee = 0.70 * room
    s = np.maximum(wide - room, 0) / (room - knee)
    t = np.clip((colour - knee) / np.maximum(wide - knee, 1e-6), 0, 1.5)
    squeezed = np.where(colour > knee, knee + (room - knee) * (1 + s) * t / (1 + s * t), colour)
    squeezed = np.where(wide > room, squeezed, colour)
    radians = np.radians(hue)
    return np.stack([lightness, squeezed * np.cos(radians), squeezed * np.sin(radians)], axis=1)


def _towards_grey(lab: np.ndarray, solid: Solid, black: float) -> np.ndarray:
    """Points of the solid on the way to neutral: safe starts for the search from outside."""
    grey = np.zeros_like(lab)
    grey[:, 0] = np.clip(lab[:, 0], black + 2, 97)
    low, high = np.zeros(len(lab)), np.ones(len(lab))
    for _ in range(8):
        middle = (low + high) / 2
        inside = solid.contains(grey + (lab - grey) * middle[:, None])
        low, high = np.where(inside, middle, low), np.where(inside, high, middle)
    return grey + (lab - grey) * low[:, None]


class _Inverse:
    """Lab to device through a sampled forward table."""

    def __init__(self, forward: np.ndarray) -> None:
        self.table = forward
        self.solid = build_solid(forward, 3, step=1.5)
        self.black = float(forward[:, 0].min())
        coarse = forward.reshape(_FORWARD_NODES, _FORWARD_NODES, _FORWARD_NODES, 3)[::4, ::4, ::4].reshape(-1, 3)
        self._coarse = spatial.cKDTree(coarse)
        self._coarse_device = _cube(9)

    def device(self, lab: np.ndarray) -> np.ndarray:
        """Device values (m, 3) of the nearest printable colours, by two searches one after the other."""
        inner = _towards_grey(lab, self.solid, self.black)
        start = self._coarse_device[self._coarse.query(inner)[1]]
        first = nearest(inner, start, self.table, 3.0, 0.01)[0]
        return nearest(lab, first, self.table, 3.0, 0.01)[0]


def _white_without_ink(device: np.ndarray, lab: np.ndarray) -> np.ndarray:
    """Bare paper for paper white and above."""
    device[(lab[:, 0] >= 99.999) & (np.hypot(lab[:, 1], lab[:, 2]) < 0.01)] = 1.0
    return device


def build(
    rgb: np.ndarray, xyz: np.ndarray, name: str, version: float = 2.4, readings_text: str = "", smoothing: float = 1e-6
) -> bytes:
    """A printer profile with perceptual, relative colorimetric and saturation tables both ways.

    Args:
        rgb, xyz: readings as in :func:`fit`, at least some hundreds spread over the cube.
        name: description.
        version: 2.4 or 4.3.
        readings_text: the CGATS text to keep inside the profile.
    """
    model = fit(rgb, xyz, smoothing)
    forward = np.clip(model.lab(_cube(_FORWARD_NODES)), [0, -127, -127], [100, 127, 127])
    forward[-1] = (100.0, 0.0, 0.0)
    inverse = _Inverse(np.ascontiguousarray(forward))
    lightness, side = _lattice_axes()
    nodes = np.stack(np.meshgrid(lightness, side, side, indexing="ij"), axis=-1).reshape(-1, 3)
    colorimetric = _white_without_ink(inverse.device(nodes), nodes)
    source_black = _V4_BLACK if version >= 4 else np.zeros(3)
    black = lab_to_xyz(forward[forward[:, 0].argmin()] * [1, 0, 0])
    aim = perceptual_aim(nodes, inverse.solid, black, source_black)
    perceptual = _white_without_ink(inverse.device(aim), nodes)
    return _assemble(model, forward, colorimetric, perceptual, name, version, readings_text)


def _assemble(
    model: PrinterFit, forward: np.ndarray, colorimetric: np.ndarray, perceptual: np.ndarray, name: str,
    version: float, readings_text: str,
) -> bytes:  # fmt: skip
    straight = np.tile(np.linspace(0, 1, 2), (3, 1))
    n, m = _FORWARD_NODES, _BACK_NODES
    to_lab = write.table_tag(write.encode_lab(forward).reshape(n, n, n, 3), straight, straight)
    curves = _back_curves()
    relative = write.table_tag(colorimetric.reshape(m, m, m, 3), curves, straight)
    pictorial = write.table_tag(perceptual.reshape(m, m, m, 3), curves, straight)
    whole = int(version)
    tags = {
        "desc": write.text_tag(name, whole),
        "cprt": write.text_tag("CC0, no rights reserved", whole, "text"),
        "wtpt": write.xyz_tag(model.white),
        "A2B0": to_lab, "A2B1": to_lab, "A2B2": to_lab,
        "B2A0": pictorial, "B2A1": relative, "B2A2": pictorial,
    }  # fmt: skip
    if readings_text:
        tags["targ"] = write.plain_text_tag(readings_text)
    return write.assemble(tags, "prtr", "RGB ", "Lab ", version)
