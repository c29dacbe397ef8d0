"""The gamut solid of a device: which colours its table holds, and how large it is.

The device cube is cut into cells, each cell into six tetrahedra; a Lab lattice node belongs to the
solid when it lies in any of them. A convex hull would be 8 to 11 % too large.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from rehearsal.core.work.kernels import kernel

#: Corners of a cell as bits (red, green, blue) along each of the six tetrahedra.
_TETRAHEDRA = np.array(
    [[0, 4, 6, 7], [0, 4, 5, 7], [0, 2, 6, 7], [0, 2, 3, 7], [0, 1, 5, 7], [0, 1, 3, 7]], dtype=np.int64
)
#: Bound of the work: real profiles of devices need 30 to 70 million.
_MOST_NODES = 3e8
_LOW = np.array([-2.0, -140.0, -140.0])
_HIGH = np.array([104.0, 140.0, 140.0])
#: Primaries of very wide spaces lie outside the usual lattice.
_WIDE_LOW = np.array([-2.0, -200.0, -200.0])
_WIDE_HIGH = np.array([104.0, 200.0, 200.0])


@kernel
def _mark_tetrahedron(p, low, step, inside):  # type: ignore[no-untyped-def]
    e1, e2, e3 = p[1] - p[0], p[2] - p[0], p[3] - p[0]
    det = (
        e1[0] * (e2[1] * e3[2] - e2[2] * e3[1])
        - e1[1] * (e2[0] * e3[2] - e2[2] * e3[0])
        + e1[2] * (e2[0] * e3[1] - e2[1] * e3[0])
    )
    if abs(det) < 1e-9:
        return
    lo, hi = np.empty(3, np.int64), np.empty(3, np.int64)
    for c in range(3):
        small = min(min(p[0, c], p[1, c]), min(p[2, c], p[3, c]))
        large = max(max(p[0, c], p[1, c]), max(p[2, c], p[3, c]))
        lo[c] = max(int(np.ceil((small - low[c]) / step)), 0)
        hi[c] = min(int(np.floor((large - low[c]) / step)), inside.shape[c] - 1)
    for i in range(lo[0], hi[0] + 1):
        x = low[0] + i * step - p[0, 0]
        for j in range(lo[1], hi[1] + 1):
            y = low[1] + j * step - p[0, 1]
            for k in range(lo[2], hi[2] + 1):
                z = low[2] + k * step - p[0, 2]
                u = (
                    x * (e2[1] * e3[2] - e2[2] * e3[1])
                    - y * (e2[0] * e3[2] - e2[2] * e3[0])
                    + z * (e2[0] * e3[1] - e2[1] * e3[0])
                ) / det
                if u < -1e-9 or u > 1 + 1e-9:
                    continue
                v = (
                    e1[0] * (y * e3[2] - z * e3[1]) - e1[1] * (x * e3[2] - z * e3[0]) + e1[2] * (x * e3[1] - y * e3[0])
                ) / det
                if v < -1e-9:
                    continue
                w = (
                    e1[0] * (e2[1] * z - e2[2] * y) - e1[1] * (e2[0] * z - e2[2] * x) + e1[2] * (e2[0] * y - e2[1] * x)
                ) / det
                if w < -1e-9 or u + v + w > 1 + 1e-9:
                    continue
                inside[i, j, k] = True


@kernel
def _mark(lab, ink, limit, low, step, tetrahedra, inside):  # type: ignore[no-untyped-def]
    n = lab.shape[0]
    p = np.empty((4, 3))
    for i in range(n - 1):
        for j in range(n - 1):
            for k in range(n - 1):
                for t in range(tetrahedra.shape[0]):
                    over = False
                    for q in range(4):
                        bits = tetrahedra[t, q]
                        a, b, c = i + (bits >> 2 & 1), j + (bits >> 1 & 1), k + (bits & 1)
                        over = over or ink[a, b, c] > limit
                        for m in range(3):
                            p[q, m] = lab[a, b, c, m]
                    if not over:
                        _mark_tetrahedron(p, low, step, inside)


@dataclass(frozen=True)
class Solid:
    """A Lab lattice with the nodes inside the gamut marked.

    ``inside`` is boolean (L, a, b); node (i, j, k) stands at ``low + step * (i, j, k)``.
    """

    inside: np.ndarray
    low: np.ndarray
    step: float

    @property
    def volume(self) -> float:
        """Cubic Lab units."""
        return float(np.count_nonzero(self.inside)) * self.step**3

    def nodes(self, depth: float = 0.0, most: int | None = None) -> np.ndarray:
        """Lab (m, 3) of nodes inside.

        Args:
            depth: at least so many Lab units from the nearest node outside.
            most: about so many of all nodes are looked at, evenly spread; all when None.
        """
        place = np.argwhere(self.inside)
        place = place[:: max(1, len(place) // most)] if most else place
        return (place[self._deep(place, depth)] if depth > 0 else place) * self.step + self.low

    def _deep(self, place: np.ndarray, depth: float) -> np.ndarray:
        """True (m,) for nodes (m, 3) with nothing but inside nearer than ``depth``."""
        reach = math.ceil(depth / self.step)
        padded = np.pad(self.inside, reach)
        flat, strides = padded.ravel(), np.array(padded.strides)
        at = (place + reach) @ strides
        ball = np.argwhere(np.ones((2 * reach + 1,) * 3)) - reach
        near = ball[np.linalg.norm(ball, axis=1) * self.step < depth] @ strides
        deep = np.ones(len(place), dtype=bool)
        for offset in near:
            deep &= flat[at + offset]
        return deep

    def contains(self, lab: np.ndarray) -> np.ndarray:
        """True where the lattice node next to Lab (..., 3) is inside."""
        index = np.round((np.asarray(lab) - self.low) / self.step).astype(int)
        ok = np.all((index >= 0) & (index < self.inside.shape), axis=-1)
        index = np.clip(index, 0, np.array(self.inside.shape) - 1)
        return ok & self.inside[index[..., 0], index[..., 1], index[..., 2]]


def _boxes(cube: np.ndarray) -> float:
    """How many lattice nodes at step 1 lie in the boxes around all tetrahedra of a cube (n, n, n, 3), about."""
    n = cube.shape[0]
    corners = [cube[a : n - 1 + a, b : n - 1 + b, c : n - 1 + c] for a in (0, 1) for b in (0, 1) for c in (0, 1)]
    extent = np.maximum.reduce(corners) - np.minimum.reduce(corners)
    return float(np.prod(extent + 1, axis=-1).sum() * len(_TETRAHEDRA))


def _affordable(boxes: float, step: float) -> float:
    """The step, doubled until the work is bounded: in tables of random numbers every cell spans the whole of Lab."""
    while boxes / step**3 > _MOST_NODES:
        step *= 2
    return step


def build_solid(table: np.ndarray, channels: int, limit: float = 9.0, step: float = 1.0) -> Solid:
    """Solid of a device table.

    Args:
        table: (n^channels, 3) Lab at equal steps of the device values.
        channels: 3 (device cube) or 4 (its eight three-dimensional faces).
        limit: largest ink sum; only used with four channels.
        step: lattice step in Lab units; coarser where the table jumps about so that the work would have no end.
    """
    wide = float(np.abs(table[:, 1:]).max()) > 138
    low, high = (_WIDE_LOW, _WIDE_HIGH) if wide else (_LOW, _HIGH)
    n = round(len(table) ** (1 / channels))
    cube = table.reshape(*([n] * channels), 3)
    faces = [cube] if channels == 3 else [np.take(cube, end, axis=c) for c in range(4) for end in (0, n - 1)]
    step = _affordable(sum(_boxes(face) for face in faces), step)
    inside = np.zeros(tuple(np.ceil((high - low) / step).astype(int) + 1), dtype=bool)
    if channels == 3:
        _mark(cube, np.zeros((n, n, n)), 9.0, low, step, _TETRAHEDRA, inside)
        return Solid(inside, low, step)
    axis = np.linspace(0, 1, n)
    total = axis[:, None, None, None] + axis[:, None, None] + axis[:, None] + axis
    for channel in range(4):
        for end in (0, n - 1):
            face = np.ascontiguousarray(np.take(cube, end, axis=channel))
            ink = np.ascontiguousarray(np.take(total, end, axis=channel))
            _mark(face, ink, limit + 1e-6, low, step, _TETRAHEDRA, inside)
    return Solid(inside, low, step)
