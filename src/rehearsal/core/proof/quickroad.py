"""Straight from a master's pixels to the printer's, by a profile's own table, several times as fast as the engine.

The engine gives its whole attention to every pixel; a print file has a hundred million of them. For the usual case, a master of
curves and a matrix and a printing profile with a 16- or 8-bit table, the same arithmetic is done here in one loop: light,
compensation (ISO 18619), Lab, and the table with its curves, trilinear as the engine takes tables over Lab. Whether it really is the
same is not taken on trust: each road is compared with the engine's before it is used, and where they differ the engine's is taken.
"""

from __future__ import annotations

import functools

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.colour.table import cube_nodes
from rehearsal.core.icc import Profile, Step, Transform, destination_black, source_black
from rehearsal.core.icc.outputtable import OutputTable, output_table
from rehearsal.core.icc.standard import WHITE_D50
from rehearsal.core.papers.model import paper_model
from rehearsal.core.picture.space import master_space
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.work.kernels import kernel

#: The roads may differ by no more than this on any colour tried, ΔE₀₀ of the print.
SAME = 0.1
_TRIED_NODES = 17
_TRIED_RANDOM = 8192


#: Steps of the cube-root curve of CIELAB: between them it is straight within 0.001 L*.
_ROOT_STEPS = 4352
#: XYZ over white at its start (adapted primaries can lie a little below nought) and over all of it.
_ROOT_LOW, _ROOT_WIDE = -1 / 16, 17 / 16


@kernel
def _along(curve, last, value):  # type: ignore[no-untyped-def]
    """A curve at steps of 1 / last, whose last entry stands twice, at a value that is taken into 0 to 1."""
    place = value * last
    if not place > np.float32(0.0):  # also when it is no number
        place = np.float32(0.0)
    place = min(place, last)
    below = np.uint32(place)
    return curve[below] + (curve[below + np.uint32(1)] - curve[below]) * (place - np.float32(below))


@kernel
def _rows(pixels, curves, matrix, offset, root, first, last, codes, nodes, grid, out):  # type: ignore[no-untyped-def]
    """Device values (m, channels) of RGB16 (m, 3).

    ``matrix`` and ``offset`` lead to XYZ over white, taken as 0 to 1 along ``root``, the cube root of CIELAB; ``codes`` (6,) are
    the gains and then the constants that make codes of L*, a*, b* of it; ``first`` yields places among ``nodes``
    (grid³, channels), ``last`` device values with the half for rounding.
    """
    red, green, blue = curves
    of_l, of_a, of_b = first[0], first[1], first[2]
    root_end = np.float32(root.shape[0] - 2)
    first_end, last_end = np.float32(first.shape[1] - 2), np.float32(last.shape[1] - 2)
    far = np.uint32(grid - 2)
    one, a_step, l_step = np.uint32(1), np.uint32(grid), np.uint32(grid * grid)
    for n in range(pixels.shape[0]):
        r, g, b = red[pixels[n, 0]], green[pixels[n, 1]], blue[pixels[n, 2]]
        fx = _along(root, root_end, matrix[0, 0] * r + matrix[0, 1] * g + matrix[0, 2] * b + offset[0])
        fy = _along(root, root_end, matrix[1, 0] * r + matrix[1, 1] * g + matrix[1, 2] * b + offset[1])
        fz = _along(root, root_end, matrix[2, 0] * r + matrix[2, 1] * g + matrix[2, 2] * b + offset[2])
        x = _along(of_l, first_end, fy * codes[0] + codes[3])
        y = _along(of_a, first_end, (fx - fy) * codes[1] + codes[4])
        z = _along(of_b, first_end, (fy - fz) * codes[2] + codes[5])
        i, j, k = min(np.uint32(x), far), min(np.uint32(y), far), min(np.uint32(z), far)
        x, y, z = x - np.float32(i), y - np.float32(j), z - np.float32(k)
        low = i * l_step + j * a_step + k
        high = low + l_step
        for c in range(out.shape[1]):
            p = nodes[low, c] + (nodes[low + one, c] - nodes[low, c]) * z
            q = nodes[low + a_step, c] + (nodes[low + a_step + one, c] - nodes[low + a_step, c]) * z
            p += (q - p) * y
            s = nodes[high, c] + (nodes[high + one, c] - nodes[high, c]) * z
            t = nodes[high + a_step, c] + (nodes[high + a_step + one, c] - nodes[high + a_step, c]) * z
            s += (t - s) * y
            out[n, c] = np.uint32(_along(last[c], last_end, p + (s - p) * x))


def _twice(curves: np.ndarray) -> np.ndarray:
    """Curves (..., n) with their last entries once more."""
    return np.ascontiguousarray(np.concatenate([curves, curves[..., -1:]], axis=-1), dtype=np.float32)


@functools.cache
def _root() -> np.ndarray:
    """f of CIELAB (CIE 15:2018, 8.2.1) at equal steps."""
    t = _ROOT_LOW + np.linspace(0, _ROOT_WIDE, _ROOT_STEPS + 1)
    return _twice(np.where(t > 216 / 24389, np.cbrt(np.abs(t)), (24389 / 27 * t + 16) / 116))


class QuickRoad:
    """RGB16 pixels of a matrix profile to 8- or 16-bit device values, as the engine converts them.

    Args:
        source: profile of curves and a matrix.
        target: printing profile; table: the one that serves the intent.
        rendering: as the engine really does it (see :func:`rehearsal.core.proof.chain.effective`).
        kind: numpy's type of the device values.
    """

    def __init__(self, source: Profile, target: Profile, table: OutputTable, rendering: Rendering, kind: type) -> None:
        self.space, self.target, self._kind = master_space(source), target, kind
        grid = len(table.nodes)
        scale = np.ones(3)
        if rendering.compensate:
            ways = (destination_black(target, rendering.intent), source_black(source, rendering.intent))
            to, start = (each / WHITE_D50 for each in ways)
            scale = (1.0 - to) / (1.0 - start)
        light = (self.space.matrix * scale[:, None] / _ROOT_WIDE, (1.0 - scale - _ROOT_LOW) / _ROOT_WIDE)
        gain, shift = table.gain * (116, 500, 200), table.shift - (16 * table.gain[0], 0, 0)
        ends = (table.first * (grid - 1), table.last * np.iinfo(kind).max + 0.5)
        self._numbers = (
            *(each.astype(np.float32) for each in light), _root(), *map(_twice, ends),
            np.concatenate([gain, shift]).astype(np.float32), table.nodes.reshape(grid**3, -1), grid,
        )  # fmt: skip
        self.channels = len(table.last)

    def apply(self, pixels: np.ndarray) -> np.ndarray:
        """Device values (..., channels) of pixels (..., 3) uint16."""
        flat = np.ascontiguousarray(pixels).reshape(-1, 3)
        out: np.ndarray = np.empty((len(flat), self.channels), dtype=self._kind)
        _rows(flat, self.space.curves, *self._numbers, out)
        return out.reshape((*pixels.shape[:-1], out.shape[1]))


def quick_road(source: Profile, target: Profile, rendering: Rendering, kind: type) -> QuickRoad | None:
    """A road that was found to be the engine's, or None.

    Args:
        rendering: as the engine really does it.
        kind: numpy's type of the device values, uint8 or uint16.
    """
    if not source.is_matrix or source.space != "RGB" or rendering.intent == "absolute":
        return None
    table = output_table(target, rendering.intent)
    if table is None:
        return None
    step = Step(target, rendering.intent, rendering.compensate)
    fine = QuickRoad(source, target, table, rendering, np.uint16)
    if greatest_difference(fine, Transform([Step(source, rendering.intent), step])) > SAME:
        return None
    return fine if kind is np.uint16 else QuickRoad(source, target, table, rendering, kind)


def greatest_difference(road: QuickRoad, engine: Transform) -> float:
    """Largest ΔE₀₀ between the prints of a road to 16 bits and of the engine's in floating point.

    Tried are nodes of the cube, its greys and random colours.
    """
    nodes = cube_nodes(road.space.index_curve, _TRIED_NODES)
    random = np.random.default_rng(12).random((_TRIED_RANDOM, 3))
    greys = np.repeat(np.linspace(0, 1, 256), 3).reshape(-1, 3)
    tried = np.round(np.concatenate([nodes, greys, random]) * 65535).astype(np.uint16)
    exact = np.clip(engine.apply(tried / 65535.0), 0, 1)
    ours, theirs = (paper_model(road.target).to_lab.apply(v) for v in (road.apply(tried) / 65535.0, exact))
    return float(delta_e_2000(ours, theirs).max())
