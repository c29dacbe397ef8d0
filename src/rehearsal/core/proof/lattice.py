"""The distance of every colour from what a paper can print, kept on a Lab lattice.

δ depends on the colour and the paper alone, so one lattice per paper serves every picture, smoothed or
not. Nodes are computed (by the bounded search for the nearest printable colour) only where pictures have
colours, and kept. Between nodes values are trilinear; where a share hangs on it, exact answers correct it.
"""

from __future__ import annotations

import threading

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc.shared import per_profile
from rehearsal.core.papers.model import paper_model
from rehearsal.core.work.kernels import kernel
from rehearsal.core.work.pool import in_slices

#: Wide enough for every colour of ROMM RGB (a* from −187 to 145, b* from −172 to 172).
_LOW = np.array([-1.0, -195.0, -195.0])
_STEP = np.array([1.0, 3.0, 3.0])
_SHAPE = (103, 131, 131)
_FIRST_NODES = 4096
#: What a node's place in the flat lattice means: where it begins, its steps, its shape.
LATTICE = (*_LOW.tolist(), *_STEP.tolist(), *_SHAPE)


@kernel
def _cell(value, low, step, count):  # type: ignore[no-untyped-def]
    """Cell of a coordinate, and how far into it."""
    x = (value - low) / step
    if not x > 0.0:  # also when it is no number
        x = 0.0
    x = min(x, count - 1.001)
    i = int(x)
    return i, x - i


@kernel
def _touch_rows(lab, low, step, shape, touched):  # type: ignore[no-untyped-def]
    for n in range(lab.shape[0]):
        i, _ = _cell(lab[n, 0], low[0], step[0], shape[0])
        j, _ = _cell(lab[n, 1], low[1], step[1], shape[1])
        k, _ = _cell(lab[n, 2], low[2], step[2], shape[2])
        touched[i, j, k] = True


@kernel
def _field_rows(lab, low, step, shape, place, values, out):  # type: ignore[no-untyped-def]
    for n in range(lab.shape[0]):
        i, x = _cell(lab[n, 0], low[0], step[0], shape[0])
        j, y = _cell(lab[n, 1], low[1], step[1], shape[1])
        k, z = _cell(lab[n, 2], low[2], step[2], shape[2])
        p, q = place[i, j, k], place[i, j, k + 1]
        r, s = place[i, j + 1, k], place[i, j + 1, k + 1]
        t, u = place[i + 1, j, k], place[i + 1, j, k + 1]
        v, w = place[i + 1, j + 1, k], place[i + 1, j + 1, k + 1]
        for c in range(out.shape[1]):
            a = values[p, c] * (1 - z) + values[q, c] * z
            b = values[r, c] * (1 - z) + values[s, c] * z
            d = values[t, c] * (1 - z) + values[u, c] * z
            e = values[v, c] * (1 - z) + values[w, c] * z
            out[n, c] = (a * (1 - y) + b * y) * (1 - x) + (d * (1 - y) + e * y) * x


def _corners(touched: np.ndarray) -> np.ndarray:
    """All nodes of the touched cells."""
    need = touched.copy()
    need[1:] |= touched[:-1]
    step = need.copy()
    step[:, 1:] |= need[:, :-1]
    need = step.copy()
    need[:, :, 1:] |= step[:, :, :-1]
    return need


class DeltaLattice:
    """δ and P* of one paper over Lab (media-relative).

    Only nodes that were asked for take room: ``_place`` says where each stands in ``_values`` (0: not made).
    """

    def __init__(self, profile) -> None:  # type: ignore[no-untyped-def]
        self.model = paper_model(profile)
        self._place = np.zeros(_SHAPE, dtype=np.int32)
        self._values = np.zeros((_FIRST_NODES, 4), dtype=np.float32)
        self._count = 1
        self._claimed = np.zeros(_SHAPE, dtype=bool)
        self._changed = threading.Condition()

    def prepare(self, lab: np.ndarray) -> None:
        """Compute the nodes around these Lab colours (m, 3) that are not known yet.

        Nodes are claimed under the lock and computed outside it; those that another thread has claimed are waited for.
        """
        touched = np.zeros(_SHAPE, dtype=bool)
        _touch_rows(lab, _LOW, _STEP, np.array(_SHAPE), touched)
        need = _corners(touched)
        while True:
            with self._changed:
                mine = need & ~self._claimed
                if not mine.any():
                    if (self._place[need] > 0).all():
                        return
                    self._changed.wait()
                    continue
                self._claimed |= mine
            self._compute(mine)

    def _compute(self, mine: np.ndarray) -> None:
        """Make claimed nodes; when that fails, they can be claimed again."""
        try:
            want = np.argwhere(mine) * _STEP + _LOW
            _device, best, delta = self.model.nearest(want)
            delta = np.where(delta < 0.06, 0.0, delta_e_2000(want, best))
            with self._changed:
                self._keep(mine, np.column_stack([delta, best]))
        finally:
            with self._changed:
                self._claimed &= (self._place > 0) | ~mine
                self._changed.notify_all()

    def _keep(self, mine: np.ndarray, values: np.ndarray) -> None:
        """Values (m, 4) of nodes, in the order of their places; whoever reads meanwhile keeps the array he took."""
        last = self._count + len(values)
        if last > len(self._values):
            grown = np.zeros((max(last, 2 * len(self._values)), 4), dtype=np.float32)
            grown[: self._count] = self._values[: self._count]
            self._values = grown
        self._values[self._count : last] = values
        self._place[mine] = np.arange(self._count, last)
        self._count = last

    def known(self) -> tuple[np.ndarray, np.ndarray]:
        """Nodes that are made: their places in the flat lattice (m,) int32, rising, and their values (m, 4)."""
        with self._changed:
            at = self._place.ravel()
            places = np.flatnonzero(at > 0)
            return places.astype(np.int32), self._values[at[places]]

    def adopt(self, places: np.ndarray, values: np.ndarray) -> None:
        """Take over nodes that :meth:`known` told of before; raises ValueError when they cannot be such."""
        rising = places.ndim == 1 and places.dtype == np.int32 and bool((np.diff(places) > 0).all())
        inside = rising and (not len(places) or (places[0] >= 0 and places[-1] < self._place.size))
        if (
            not inside
            or values.dtype != np.float32
            or values.shape != (len(places), 4)
            or not np.isfinite(values).all()
        ):
            raise ValueError("no nodes of a lattice")
        with self._changed:
            new = ~self._claimed.ravel()[places]
            mine = np.zeros(_SHAPE, dtype=bool)
            mine.ravel()[places[new]] = True
            self._claimed |= mine
            self._keep(mine, values[new])
            self._changed.notify_all()

    def look_up(self, lab: np.ndarray) -> np.ndarray:
        """δ and P* as float32 (..., 4) of Lab (..., 3): δ, L*, a*, b*."""
        flat = np.ascontiguousarray(lab, dtype=np.float32).reshape(-1, 3)
        self.prepare(flat)
        return self.read(flat).reshape((*np.shape(lab)[:-1], 4))

    def read(self, flat: np.ndarray) -> np.ndarray:
        """The same (m, 4) of colours (m, 3) float32 whose nodes are prepared."""
        out = np.empty((len(flat), 4), dtype=np.float32)
        shape, place, values = np.array(_SHAPE), self._place, self._values
        in_slices(len(flat), lambda s: _field_rows(flat[s], _LOW, _STEP, shape, place, values, out[s]))
        return out

    def delta(self, lab: np.ndarray) -> np.ndarray:
        """δ (...) of Lab (..., 3), from the lattice."""
        return self.look_up(lab)[..., 0]

    def exact(self, lab: np.ndarray) -> np.ndarray:
        """δ (m,) of Lab (m, 3) by the search itself, read back through the profile."""
        want = np.asarray(lab, dtype=np.float64)
        _device, best, delta = self.model.nearest(want)
        return np.where(delta < 0.06, 0.0, delta_e_2000(want, best))


delta_lattice = per_profile(DeltaLattice, keep=8)
