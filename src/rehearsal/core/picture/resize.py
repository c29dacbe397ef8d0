"""Resizing for print files: three-lobed Lanczos in linear light that never goes past an edge.

Lanczos rings beside edges; in linear light the dark side of an edge is driven to black, which a print shows as a line. So each
axis is held within the range of the samples that lie at most one pixel (of the coarser side) from the new one: when enlarging,
its two neighbours. Means of light are kept. Pixels are squares: the middle of a new one at (i + ½) · old / new − ½.
"""

from __future__ import annotations

import math

import numpy as np

from rehearsal.core.picture.reduce import encode_linear
from rehearsal.core.picture.space import MasterSpace
from rehearsal.core.work.kernels import kernel
from rehearsal.core.work.pool import in_slices

_LOBES = 3
#: Rows worked on at a time by one thread.
_ROWS = 32


class _Axis:
    """What each of ``after`` new samples is made of, along an axis of ``before`` samples.

    ``first`` (after,): its first sample; ``weights`` (after, taps) with sum 1; ``low`` and ``high`` (after,): the samples, in
    places of ``weights``, between whose least and greatest it is held.
    """

    def __init__(self, before: int, after: int) -> None:
        step = before / after
        coarse = max(1.0, step)
        reach = _LOBES * coarse
        middle = (np.arange(after) + 0.5) * step - 0.5
        taps = min(before, math.ceil(2 * reach) + 1)
        self.first = np.clip(np.ceil(middle - reach).astype(np.int64), 0, before - taps)
        # samples beyond the end repeat the last one: their weight is given to it
        wide = np.arange(-math.ceil(reach) - 1, math.ceil(reach) + 2)
        at = np.floor(middle).astype(np.int64)[:, None] + wide
        away = (at - middle[:, None]) / coarse
        share = np.where(np.abs(away) < _LOBES, np.sinc(away) * np.sinc(away / _LOBES), 0.0)
        weights = np.zeros((after, taps))
        column = np.clip(at, 0, before - 1) - self.first[:, None]
        inside = share != 0
        np.add.at(weights, (np.nonzero(inside)[0], column[inside]), share[inside])
        self.weights = np.ascontiguousarray(weights / weights.sum(axis=1, keepdims=True), dtype=np.float32)
        low = np.clip(np.ceil(middle - coarse).astype(np.int64), 0, before - 1)
        high = np.clip(np.floor(middle + coarse).astype(np.int64), 0, before - 1)
        self.low, self.high = low - self.first, high - self.first


@kernel
def _decode_row(row, curves, out):  # type: ignore[no-untyped-def]
    channels = row.shape[1]
    for x in range(row.shape[0]):
        for c in range(channels):
            out[x * channels + c] = curves[row[x, c], c]


@kernel
def _down(lines, weights, low, high, out, least, most):  # type: ignore[no-untyped-def]
    """One new line (n,) out of old ones (taps, n), held within the range of some of them."""
    out[:] = 0.0
    for k in range(weights.shape[0]):
        w = weights[k]
        if w != 0.0:
            line = lines[k]
            for i in range(out.shape[0]):
                out[i] += w * line[i]
    least[:], most[:] = lines[low], lines[low]
    for k in range(low + 1, high + 1):
        line = lines[k]
        for i in range(out.shape[0]):
            least[i] = min(least[i], line[i])
            most[i] = max(most[i], line[i])
    for i in range(out.shape[0]):
        out[i] = min(max(out[i], least[i]), most[i])


@kernel
def _down_rows(pixels, curves, first, weights, low, high, out):  # type: ignore[no-untyped-def]
    """New rows (m, w · channels) of linear light."""
    taps, wide = weights.shape[1], out.shape[1]
    start, last = first[0], first[-1] + taps
    lines = np.empty((last - start, wide), dtype=np.float32)
    for y in range(start, last):
        _decode_row(pixels[y], curves, lines[y - start])
    least, most = np.empty(wide, np.float32), np.empty(wide, np.float32)
    for row in range(out.shape[0]):
        at = first[row] - start
        _down(lines[at : at + taps], weights[row], low[row], high[row], out[row], least, most)


@kernel
def _across(columns, first, weights, low, high, out):  # type: ignore[no-untyped-def]
    """New columns (width, n) out of old ones (w, n); all rows of a column lie side by side, which is several times as fast."""
    taps = weights.shape[1]
    least, most = np.empty(out.shape[1], np.float32), np.empty(out.shape[1], np.float32)
    for x in range(out.shape[0]):
        at = first[x]
        _down(columns[at : at + taps], weights[x], low[x], high[x], out[x], least, most)


class Resizer:
    """A picture at another size, made strip by strip.

    Args:
        pixels: (h, w, channels) uint16; a view of a larger picture will do.
        space: of the pixels.
        width, height: of the result, at least 1.
    """

    def __init__(self, pixels: np.ndarray, space: MasterSpace, width: int, height: int) -> None:
        self._pixels, self._space = pixels, space
        self.width, self.height = width, height
        self._same = pixels.shape[:2] == (height, width)
        if not self._same:
            self._down, self._across = _Axis(pixels.shape[0], height), _Axis(pixels.shape[1], width)

    def rows(self, part: slice) -> np.ndarray:
        """Rows ``part`` of the result: (m, width, channels) uint16."""
        if self._same:
            return self._pixels[part]
        out = np.empty((part.stop - part.start, self.width, self._pixels.shape[2]), dtype=np.uint16)

        def work(mine: slice) -> None:
            for start in range(mine.start, mine.stop, _ROWS):
                here = slice(start, min(start + _ROWS, mine.stop))
                out[here] = self._made(slice(part.start + here.start, part.start + here.stop))

        in_slices(len(out), work, small=_ROWS)
        return out

    def _made(self, rows: slice) -> np.ndarray:
        down, across, count = self._down, self._across, rows.stop - rows.start
        old, channels = self._pixels.shape[1:]
        lines = np.empty((count, old * channels), dtype=np.float32)
        _down_rows(
            self._pixels,
            self._space.linear,
            down.first[rows],
            down.weights[rows],
            down.low[rows],
            down.high[rows],
            lines,
        )
        columns = np.ascontiguousarray(lines.reshape(count, old, channels).swapaxes(0, 1)).reshape(old, -1)
        made = np.empty((self.width, columns.shape[1]), dtype=np.float32)
        _across(columns, across.first, across.weights, across.low, across.high, made)
        upright = np.ascontiguousarray(made.reshape(self.width, count, channels).swapaxes(0, 1))
        return encode_linear(upright, self._space)
