"""The colour space of a master as tables and matrices: linear light, Lab, index curves."""

from __future__ import annotations

import math

import numpy as np

from rehearsal.core.colour.lab import cube_root
from rehearsal.core.colour.table import IndexCurve, srgb_decode
from rehearsal.core.icc import Profile, Step, Transform, lab_profile, xyz_profile
from rehearsal.core.icc.shared import per_profile
from rehearsal.core.icc.standard import WHITE_D50
from rehearsal.core.work.kernels import kernel
from rehearsal.core.work.once import once
from rehearsal.core.work.pool import in_slices


@kernel
def _lab_f(t):  # type: ignore[no-untyped-def]
    return cube_root(t) if t > 216.0 / 24389.0 else (24389.0 / 27.0 * t + 16.0) / 116.0


@kernel
def _lab_rows(pixels, red, green, blue, matrix, out):  # type: ignore[no-untyped-def]
    """RGB16 to float32 Lab through three curves (65536,) and a matrix whose rows are divided by the white."""
    for i in range(pixels.shape[0]):
        r, g, b = red[pixels[i, 0]], green[pixels[i, 1]], blue[pixels[i, 2]]
        x = _lab_f(matrix[0, 0] * r + matrix[0, 1] * g + matrix[0, 2] * b)
        y = _lab_f(matrix[1, 0] * r + matrix[1, 1] * g + matrix[1, 2] * b)
        z = _lab_f(matrix[2, 0] * r + matrix[2, 1] * g + matrix[2, 2] * b)
        out[i, 0] = 116.0 * y - 16.0
        out[i, 1] = 500.0 * (x - y)
        out[i, 2] = 200.0 * (y - z)


@kernel
def code_of(linear, back):  # type: ignore[no-untyped-def]
    """16-bit code of linear light, by one of :attr:`MasterSpace.inverses`."""
    return back[int(math.sqrt(min(max(linear, 0.0), 1.0)) * 65535.0 + 0.5)]


def _inverse(curve: np.ndarray) -> np.ndarray:
    """Codes (65536,) uint16 at the squares of equal steps, for a curve (65536,) of linear light."""
    rising = np.maximum.accumulate(curve.astype(np.float64))
    roots = np.linspace(0, 1, 65536)
    return np.round(np.interp(roots**2, rising, np.arange(65536, dtype=np.float64))).astype(np.uint16)


class MasterSpace:
    """What the pixels of a master mean.

    Args:
        profile: Gray, RGB or CMYK profile of the picture.
    """

    def __init__(self, profile: Profile) -> None:
        self.profile = profile
        self.channels = profile.channels

    @once
    def linear(self) -> np.ndarray:
        """(65536, channels) float32 linear light, 0 to 1, of each 16-bit value.

        Curves of the profile for matrix and grey profiles. Ink amounts of CMYK are averaged as area
        coverages, so they stay as they are; a table RGB profile is taken as having the sRGB curve.
        """
        ramp = np.arange(65536) / 65535.0
        if self.profile.is_matrix:
            to_xyz = Transform([Step(self.profile), Step(xyz_profile(), "relative")])
            floor = self._floor
            columns = []
            for channel in range(3):
                probe = np.zeros((65536, 3))
                probe[:, channel] = ramp
                total = to_xyz.apply(probe).sum(axis=1)
                columns.append(floor + (1 - floor) * (total - total[0]) / (total[-1] - total[0]))
            return np.ascontiguousarray(np.stack(columns, axis=1), dtype=np.float32)
        if self.channels == 1:
            to_xyz = Transform([Step(self.profile), Step(xyz_profile(), "relative")])
            y = to_xyz.apply(ramp[:, None])[:, 1]
            return np.clip(y / max(y[-1], 1e-6), 0, 1).astype(np.float32)[:, None]
        curve = ramp if self.channels == 4 else srgb_decode(ramp)
        return np.repeat(curve.astype(np.float32)[:, None], self.channels, axis=1)

    @once
    def curves(self) -> tuple[np.ndarray, ...]:
        """The columns of :attr:`linear`, one after the other in memory; equal ones are the same array (for the cache)."""
        made: list[np.ndarray] = []
        for channel in range(self.channels):
            column = np.ascontiguousarray(self.linear[:, channel])
            made.append(next((m for m in made if np.allclose(m, column, rtol=0, atol=1e-7)), column))
        return tuple(made)

    @once
    def inverses(self) -> tuple[np.ndarray, ...]:
        """For each channel the codes (65536,) uint16 of linear light at the squares of equal steps (see :func:`code_of`)."""
        made = {id(curve): _inverse(curve) for curve in self.curves}
        return tuple(made[id(curve)] for curve in self.curves)

    @once
    def matrix(self) -> np.ndarray:
        """(3, 3) linear RGB to XYZ divided by the D50 white; matrix profiles only."""
        to_xyz = Transform([Step(self.profile), Step(xyz_profile(), "relative")])
        columns = (to_xyz.apply(np.eye(3)) - to_xyz.apply(np.zeros((1, 3)))).T / (1 - self._floor)
        return np.ascontiguousarray(columns / WHITE_D50[:, None])

    @once
    def _floor(self) -> float:
        """Linear light of code 0: above 0 in spaces whose black is not black."""
        to_xyz = Transform([Step(self.profile), Step(xyz_profile(), "relative")])
        black, white = to_xyz.apply(np.array([[0.0, 0.0, 0.0], [1.0, 1.0, 1.0]]))
        return float(max(black[1] / white[1], 0.0))

    @once
    def index_curve(self) -> IndexCurve:
        """Index encoding of tables over this space (the green curve stands for all)."""
        return IndexCurve(self.linear[:, min(1, self.channels - 1)].astype(np.float64))

    @once
    def engine_to_lab(self) -> Transform:
        """Exact float transform to Lab, relative colorimetric, uncompensated."""
        return Transform([Step(self.profile), Step(lab_profile(), "relative")])

    def to_lab(self, pixels: np.ndarray) -> np.ndarray:
        """M: Lab (..., 3) float32 of 16-bit pixels (..., channels)."""
        if not self.profile.is_matrix:
            return self._engine_lab(pixels)
        flat = np.ascontiguousarray(pixels).reshape(-1, 3)
        out = np.empty((len(flat), 3), dtype=np.float32)
        in_slices(len(flat), lambda s: _lab_rows(flat[s], *self.curves, self.matrix, out[s]))
        return out.reshape((*pixels.shape[:-1], 3))

    def _engine_lab(self, pixels: np.ndarray) -> np.ndarray:
        if self.channels == 1:
            ramp = self.engine_to_lab.apply(np.arange(65536)[:, None] / 65535.0).astype(np.float32)
            return ramp[pixels[..., 0]]
        flat = pixels.reshape(-1, self.channels)
        out = np.empty((len(flat), 3), dtype=np.float32)

        def work(part: slice) -> None:
            for start in range(part.start, part.stop, 1 << 18):
                piece = slice(start, min(start + (1 << 18), part.stop))
                out[piece] = self.engine_to_lab.apply(flat[piece] / 65535.0)

        in_slices(len(flat), work)
        return out.reshape((*pixels.shape[:-1], 3))


master_space = per_profile(MasterSpace, keep=16)
