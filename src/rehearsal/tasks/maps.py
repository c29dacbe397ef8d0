"""Maps over the visible picture: fields of difference as isolines, generalised to what a screen can carry."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile
from rehearsal.core.papers.model import paper_model
from rehearsal.core.proof.beyond import CAUSES, LIMIT, causes, near_whites, refine_near
from rehearsal.core.proof.chain import PrintChain
from rehearsal.core.proof.contours import calm_lines, is_dark, smooth_field, without_crumbs
from rehearsal.core.proof.lattice import DeltaLattice, delta_lattice
from rehearsal.core.proof.line import LineReading, line_places, read_line
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.work.kernels import ndimage
from rehearsal.core.work.once import LastUsed

#: Isolines of the three maps in ΔE₀₀.
LEVELS = {"beyond": (LIMIT, 4.0), "moved": (2.0, 5.0), "screen": (LIMIT,)}
_LINE_BAND = 0.12
#: So far a pixel reaches into its neighbours' lines: two deviations of the smoothing to each side.
_REACH_PX = 13
_PASSES = 2
#: A region that touches the picture's edge is closed along it, however far its field is from the limit there.
_EDGE_BAND = 0.6
_EXACT_PIXELS = 140_000


@dataclass(frozen=True)
class MapLines:
    """Isolines in pixels of the visible block.

    Attributes:
        lines: per level, a list of (n, 2) arrays x, y.
        cause: (h, w) int8 index of the cause inside the first line, -1 outside; for the map beyond the paper.
        dark: (h, w) True where the ground is so dark that a dark line would not show.
        near_white: lines around near-whites that are colder or lighter than the bare paper; for the map beyond the paper.
    """

    kind: str
    lines: tuple[tuple[float, tuple[np.ndarray, ...]], ...]
    cause: np.ndarray | None
    dark: np.ndarray
    near_white: tuple[np.ndarray, ...] = ()


@dataclass(frozen=True)
class Patch:
    """A visible part: x, y, width, height in pixels of the uncropped master, and how many screen pixels it takes."""

    box: tuple[float, float, float, float]
    width: int
    height: int


def beyond_map(opened: OpenRendition, patch: Patch, refined: bool = True) -> MapLines:
    """Isolines of the visible difference δ beyond the paper.

    Args:
        refined: answer exactly around the lines, so that they lie within a pixel of the exact road; without it the lines
            are there several times as fast.
    """
    lab = opened.space.to_lab(opened.wanted.region(patch.box, patch.width, patch.height))
    soft = np.stack([ndimage.gaussian_filter(lab[..., c], 1.0) for c in range(3)], axis=-1)
    lattice = delta_lattice(opened.paper)
    found = lattice.look_up(soft)
    field = smooth_field(found[..., 0])
    if refined:
        found, field = _refined(soft, found, field, lattice)
    kind = np.full(field.shape, -1, dtype=np.int8)
    mask = without_crumbs(field > LIMIT)
    kind[mask] = causes(soft[mask], found[..., 1:][mask])[0]
    cold = smooth_field((near_whites(soft, lattice.model.bare_paper).gap > 0).astype(np.float32))
    lines, dark = calm_lines(field, LEVELS["beyond"]), is_dark(soft[..., 0])
    return MapLines("beyond", lines, kind, dark, calm_lines(cold, (0.5,))[0][1])


def _refined(
    soft: np.ndarray, found: np.ndarray, field: np.ndarray, lattice: DeltaLattice
) -> tuple[np.ndarray, np.ndarray]:
    """Exact answers around the lines, and around where they move to by that; answers (h, w, 4) and their smooth field."""
    exact = np.zeros(field.shape, dtype=bool)
    left = _EXACT_PIXELS
    for _ in range(_PASSES):
        where = np.where(exact, np.inf, _around_lines(field))
        wanted = np.isfinite(where)
        if not wanted.any() or left <= 0:
            break
        found = refine_near(soft, found, where, lattice, left)
        field = smooth_field(found[..., 0])
        left -= int(np.count_nonzero(wanted))
        exact |= wanted
    return found, field


def _around_lines(field: np.ndarray) -> np.ndarray:
    """How near each pixel is to a line, in ΔE₀₀; infinite for pixels that no line depends on."""
    made, band = np.full(field.shape, np.inf), np.full(field.shape, _LINE_BAND)
    band[:, [0, -1]], band[[0, -1]] = _EDGE_BAND, _EDGE_BAND
    for level in LEVELS["beyond"]:
        away = np.abs(field - level)
        close = ndimage.maximum_filter(away < band, size=_REACH_PX)
        made = np.minimum(made, np.where(close, away, np.inf))
    return made


def moved_map(opened: OpenRendition, patch: Patch) -> MapLines:
    """Isolines of what the print moves: ΔE₀₀ from M to P."""
    plain = opened.open.pyramid.block(*patch.box, patch.width, patch.height)
    tuned = opened.tuned.region(patch.box, patch.width, patch.height)
    lab = opened.space.to_lab(plain).reshape(-1, 3)
    printed = chain_of(opened).print_lab(tuned.reshape(-1, 3) / 65535.0)
    field = delta_e_2000(lab, printed.astype(np.float32)).reshape(plain.shape[:2])
    dark = is_dark(printed[:, 0].reshape(field.shape))
    return MapLines("moved", calm_lines(smooth_field(field), LEVELS["moved"]), None, dark)


def screen_map(opened: OpenRendition, patch: Patch, screen: Profile, of_print: bool) -> MapLines:
    """Isolines of what this screen cannot show, of the print or of the master."""
    if of_print:
        tuned = opened.tuned.region(patch.box, patch.width, patch.height)
        lab = chain_of(opened).print_lab(tuned.reshape(-1, 3) / 65535.0)
        lab = lab.reshape(tuned.shape).astype(np.float32)
    else:
        lab = opened.space.to_lab(opened.open.pyramid.block(*patch.box, patch.width, patch.height))
    field = smooth_field(delta_lattice(screen).delta(lab))
    return MapLines("screen", calm_lines(field, LEVELS["screen"]), None, is_dark(lab[..., 0]))


def line_reading(opened: OpenRendition, line: tuple[float, ...], samples: int = 300) -> LineReading:
    """M and P along a line (x, y of start and end in fractions of the master), averaged over five pixels' breadth."""
    w, h = opened.open.size
    start, end = (line[0] * w, line[1] * h), (line[2] * w, line[3] * h)
    length = max(float(np.hypot(end[0] - start[0], end[1] - start[1])), 1.0)
    across = np.array([-(end[1] - start[1]), end[0] - start[0]]) / length * max(1.0, length / samples)
    places = line_places(start, end, samples)
    many = (places[:, None] + np.arange(-2, 3)[:, None] * across).reshape(-1, 2)
    printed = chain_of(opened).printed(opened.tuned.points(many) / 65535.0)
    shape = (samples, 5, 3)
    lab = opened.space.to_lab(opened.open.pyramid.pixels_at(many)[None])[0].astype(np.float64)
    return read_line(lab.reshape(shape).mean(axis=1), printed.reshape(shape).mean(axis=1))


@dataclass(frozen=True)
class PixelReading:
    """One place of the picture: M, P, their ΔE₀₀, δ and the key of the cause (empty when it is within reach)."""

    master: np.ndarray
    printed: np.ndarray
    change: float
    delta: float
    cause: str


#: The pointer asks for one pixel many times a second.
_chains: LastUsed[PrintChain] = LastUsed(8)


def chain_of(opened: OpenRendition) -> PrintChain:
    """The chain from the pixels that are printed to the print; the last ones are kept."""
    made = opened.chain()
    return _chains.get(made.key, lambda: made)


def read_point(opened: OpenRendition, x: float, y: float) -> PixelReading:
    """Exact reading of one pixel of the master."""
    at = np.array([[x, y]], dtype=float)
    tuned, space = opened.tuned.points(at), opened.space
    lab = space.to_lab(opened.open.pyramid.pixels_at(at)[None])[0, 0].astype(np.float64)
    wanted = space.to_lab(opened.wanted.points(at)[None])[0].astype(np.float64)
    printed = chain_of(opened).printed(tuned / 65535.0)
    _device, best, _ = paper_model(opened.paper).nearest(wanted)
    delta = float(delta_e_2000(wanted, best)[0])
    cause = CAUSES[int(causes(wanted, best)[0][0])] if delta > LIMIT else ""
    return PixelReading(lab, printed[0], float(delta_e_2000(lab, printed[0])), delta, cause)
