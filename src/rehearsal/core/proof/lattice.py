"""The distance of every colour from what a paper can print, kept on a Lab lattice.

δ depends on the colour and the paper alone, so one lattice per paper serves every picture, smoothed or
not. Nodes are computed (by the bounded search for the nearest printable colour) only where pictures have
colours, and kept. Between nodes values are trilinear; where a share hangs on it, exact answers correct it.
"""

from __future__ import annotations

import threading

import numpy as np
from numba import njit

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc.shared import per_profile
from rehearsal.core.papers.model import paper_model
from rehearsal.core.work.pool import in_slices

_LOW = np.array([-1.0, -129.0, -129.0])
_STEP = np.array([1.0, 3.0, 3.0])
_SHAPE = (103, 87, 87)


@njit(cache=True, nogil=True)
def _cell(lab, low, step, shape, axis):  # type: ignore[no-untyped-def]
    x = (lab[axis] - low[axis]) / step[axis]
    x = min(max(x, 0.0), shape[axis] - 1.001)
    i = int(x)
    return i, x - i


@njit(cache=True, nogil=True)
def _touch_rows(lab, low, step, shape, touched):  # type: ignore[no-untyped-def]
    for n in range(lab.shape[0]):
        i, _ = _cell(lab[n], low, step, shape, 0)
        j, _ = _cell(lab[n], low, step, shape, 1)
        k, _ = _cell(lab[n], low, step, shape, 2)
        touched[i, j, k] = True


@njit(cache=True, nogil=True)
def _field_rows(lab, low, step, shape, nodes, out):  # type: ignore[no-untyped-def]
    for n in range(lab.shape[0]):
        i, x = _cell(lab[n], low, step, shape, 0)
        j, y = _cell(lab[n], low, step, shape, 1)
        k, z = _cell(lab[n], low, step, shape, 2)
        for c in range(out.shape[1]):
            a = nodes[i, j, k, c] * (1 - z) + nodes[i, j, k + 1, c] * z
            b = nodes[i, j + 1, k, c] * (1 - z) + nodes[i, j + 1, k + 1, c] * z
            d = nodes[i + 1, j, k, c] * (1 - z) + nodes[i + 1, j, k + 1, c] * z
            e = nodes[i + 1, j + 1, k, c] * (1 - z) + nodes[i + 1, j + 1, k + 1, c] * z
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
    """δ and P* of one paper over Lab (media-relative)."""

    def __init__(self, profile) -> None:  # type: ignore[no-untyped-def]
        self.model = paper_model(profile)
        self._nodes = np.zeros((*_SHAPE, 4), dtype=np.float32)
        self._made = np.zeros(_SHAPE, dtype=bool)
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
                    if (self._made | ~need).all():
                        return
                    self._changed.wait()
                    continue
                self._claimed |= mine
            self._compute(mine)

    def _compute(self, mine: np.ndarray) -> None:
        """Make claimed nodes; when that fails, they can be claimed again."""
        try:
            place = np.argwhere(mine)
            want = place * _STEP + _LOW
            _device, best, delta = self.model.nearest(want)
            delta = np.where(delta < 0.06, 0.0, delta_e_2000(want, best))
            i, j, k = place.T
            self._nodes[i, j, k, 0] = delta
            self._nodes[i, j, k, 1:] = best
            made = mine
        except BaseException:
            made = np.zeros_like(mine)
            raise
        finally:
            with self._changed:
                self._made |= made
                self._claimed &= self._made | ~mine
                self._changed.notify_all()

    def look_up(self, lab: np.ndarray) -> np.ndarray:
        """δ and P* as float32 (..., 4) of Lab (..., 3): δ, L*, a*, b*."""
        flat = np.ascontiguousarray(lab, dtype=np.float32).reshape(-1, 3)
        self.prepare(flat)
        out = np.empty((len(flat), 4), dtype=np.float32)
        shape = np.array(_SHAPE)
        in_slices(len(flat), lambda s: _field_rows(flat[s], _LOW, _STEP, shape, self._nodes, out[s]))
        return out.reshape((*np.shape(lab)[:-1], 4))

    def delta(self, lab: np.ndarray) -> np.ndarray:
        """δ (...) of Lab (..., 3), from the lattice."""
        return self.look_up(lab)[..., 0]

    def exact(self, lab: np.ndarray) -> np.ndarray:
        """δ (m,) of Lab (m, 3) by the search itself, read back through the profile."""
        want = np.asarray(lab, dtype=np.float64)
        _device, best, delta = self.model.nearest(want)
        return np.where(delta < 0.06, 0.0, delta_e_2000(want, best))


delta_lattice = per_profile(DeltaLattice, keep=8)
