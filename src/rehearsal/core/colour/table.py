"""Tables over a three-channel cube, looked up with tetrahedral interpolation.

Two kinds: float tables for figures, and packed tables that turn 16-bit pixels into screen pixels.
Nodes stand at equal steps of an *index encoding* (a curve per channel), so that dark tones get
enough of them.
"""

from __future__ import annotations

import numpy as np

from rehearsal.core.work.kernels import kernel
from rehearsal.core.work.pool import in_slices

_FRACTION = 256
#: A full channel in a packed colour.
_FULL = 4080


def srgb_encode(linear: np.ndarray) -> np.ndarray:
    """Linear 0 to 1 to the sRGB curve (IEC 61966-2-1)."""
    linear = np.clip(linear, 0.0, 1.0)
    return np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)


def srgb_decode(encoded: np.ndarray) -> np.ndarray:
    """Inverse of :func:`srgb_encode`."""
    encoded = np.clip(encoded, 0.0, 1.0)
    return np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)


class IndexCurve:
    """Where a 16-bit value lies among the nodes of a table.

    Args:
        linear: (65536,) linear light, 0 to 1, of each 16-bit value; rising.
    """

    def __init__(self, linear: np.ndarray) -> None:
        # indices come of this: nothing that is no number may pass
        self.encoded = np.ascontiguousarray(np.maximum.accumulate(np.nan_to_num(srgb_encode(linear), nan=0.0)))
        self._values = np.arange(65536) / 65535.0
        self._positions: dict[int, np.ndarray] = {}

    def node_values(self, n: int) -> np.ndarray:
        """Device values 0 to 1 (n,) that stand at the n nodes."""
        return np.interp(np.linspace(self.encoded[0], self.encoded[-1], n), self.encoded, self._values)

    def positions(self, n: int) -> np.ndarray:
        """(65536,) int32: node number times 256 plus the fraction."""
        if n not in self._positions:
            self._positions[n] = self._made_positions(n)
        return self._positions[n]

    def _made_positions(self, n: int) -> np.ndarray:
        low, high = self.encoded[0], self.encoded[-1]
        place = (self.encoded - low) / max(high - low, 1e-9) * (n - 1) * _FRACTION
        return np.minimum(np.round(place), (n - 1) * _FRACTION).astype(np.int32)

    def float_positions(self, n: int) -> np.ndarray:
        """(65536,) float32 position among the nodes."""
        low, high = self.encoded[0], self.encoded[-1]
        return ((self.encoded - low) / max(high - low, 1e-9) * (n - 1)).astype(np.float32)


def cube_nodes(curve: IndexCurve, n: int) -> np.ndarray:
    """Device colours (n³, 3), 0 to 1, of all nodes; red varies slowest."""
    axis = curve.node_values(n)
    return np.stack(np.meshgrid(axis, axis, axis, indexing="ij"), axis=-1).reshape(-1, 3)


def pack_colours(rgb: np.ndarray) -> np.ndarray:
    """Screen colours (m, 3), 0 to 1, packed into one uint64 each (m,)."""
    scaled = np.round(np.clip(rgb, 0, 1) * _FULL).astype(np.uint64)
    return scaled[:, 0] << np.uint64(42) | scaled[:, 1] << np.uint64(21) | scaled[:, 2]


def pack_screen_table(rgb: np.ndarray, n: int) -> np.ndarray:
    """Pack screen colours (n³, 3), 0 to 1, into one uint64 per node for :func:`paint`."""
    return np.ascontiguousarray(pack_colours(rgb).reshape(n, n, n))


@kernel
def _packed(flat, start, n, r, g, b):  # type: ignore[no-untyped-def]
    """256 times the packed colour at positions of three channels, tetrahedral, of the table that begins at ``start``.

    A channel's fraction and its stride are sorted as one number, so that nothing depends on which tetrahedron it is.
    """
    last, stride = np.int32(n - 2), np.int32(0xFFFF)
    ir, ig, ib = min(r >> 8, last), min(g >> 8, last), min(b >> 8, last)
    red = (r - (ir << 8)) << 16 | np.int32(n * n)
    green = (g - (ig << 8)) << 16 | np.int32(n)
    blue = (b - (ib << 8)) << 16 | np.int32(1)
    high, low = max(red, green), min(red, green)
    first, mid = max(high, blue), min(high, blue)
    second, third = max(mid, low), min(mid, low)
    f1, f2, f3 = np.uint64(first >> 16), np.uint64(second >> 16), np.uint64(third >> 16)
    p0 = start + (ir * n + ig) * n + ib
    p1 = p0 + (first & stride)
    p2 = p1 + (second & stride)
    p3 = p2 + (third & stride)
    return (
        flat[np.uint32(p0)] * (np.uint64(256) - f1)
        + flat[np.uint32(p1)] * (f1 - f2)
        + flat[np.uint32(p2)] * (f2 - f3)
        + flat[np.uint32(p3)] * f3
    )


@kernel
def _paint_rows(pixels, position, table, out):  # type: ignore[no-untyped-def]
    n = np.int32(table.shape[0])
    flat = table.ravel()
    half = np.uint64(2048) | np.uint64(2048) << np.uint64(21) | np.uint64(2048) << np.uint64(42)
    for y in range(pixels.shape[0]):
        for x in range(pixels.shape[1]):
            r, g, b = position[pixels[y, x, 0]], position[pixels[y, x, 1]], position[pixels[y, x, 2]]
            v = _packed(flat, 0, n, r, g, b) + half
            red = (v >> np.uint64(54)) & np.uint64(255)
            green = (v >> np.uint64(33)) & np.uint64(255)
            blue = (v >> np.uint64(12)) & np.uint64(255)
            out[y, x] = np.uint32(np.uint64(0xFF000000) | red << np.uint64(16) | green << np.uint64(8) | blue)


@kernel
def _paint_between(pixels, level, position, tables, out):  # type: ignore[no-untyped-def]
    """As _paint_rows, each pixel (h, w) between two of several tables: their number times 256 plus the fraction."""
    n, flat = np.int32(tables.shape[1]), tables.ravel()
    each, field, half = n * n * n, np.uint64((1 << 21) - 1), np.uint64(1 << 19)
    for y in range(pixels.shape[0]):
        for x in range(pixels.shape[1]):
            r, g, b = position[pixels[y, x, 0]], position[pixels[y, x, 1]], position[pixels[y, x, 2]]
            start, share = np.int64(level[y, x] >> 8) * each, np.uint64(level[y, x] & 255)
            one = _packed(flat, start, n, r, g, b)
            two = one if share == 0 else _packed(flat, start + each, n, r, g, b)
            less = np.uint64(256) - share
            red = (one >> np.uint64(42)) * less + (two >> np.uint64(42)) * share + half >> np.uint64(20)
            green = (one >> np.uint64(21) & field) * less + (two >> np.uint64(21) & field) * share + half >> np.uint64(
                20
            )
            blue = (one & field) * less + (two & field) * share + half >> np.uint64(20)
            out[y, x] = np.uint32(np.uint64(0xFF000000) | red << np.uint64(16) | green << np.uint64(8) | blue)


@kernel
def _mark_rows(pixels, position, marks):  # type: ignore[no-untyped-def]
    last = np.int32(marks.shape[0] - 2)
    for i in range(pixels.shape[0]):
        r, g, b = position[pixels[i, 0]], position[pixels[i, 1]], position[pixels[i, 2]]
        marks[min(r >> 8, last), min(g >> 8, last), min(b >> 8, last)] = True


def nodes_needed(pixels: np.ndarray, positions: np.ndarray, n: int) -> np.ndarray:
    """Numbers (m,) of the nodes of a table that 16-bit pixels (..., 3) lie between: a few per cent of all for most pictures."""
    flat, cells = np.ascontiguousarray(pixels).reshape(-1, 3), np.zeros((n, n, n), dtype=np.bool_)
    in_slices(len(flat), lambda s: _mark_rows(flat[s], positions, cells))
    for axis in range(3):  # the corners of a cell are its own node and the next on each axis
        cells |= np.roll(cells, 1, axis=axis)  # nothing is marked at the far end
    return np.flatnonzero(cells)


def paint(pixels: np.ndarray, positions: np.ndarray, table: np.ndarray, out: np.ndarray | None = None) -> np.ndarray:
    """Screen pixels of 16-bit RGB pixels.

    Args:
        pixels: (h, w, 3) uint16.
        positions: from :meth:`IndexCurve.positions` for this table's size.
        table: from :func:`pack_screen_table`.
        out: (h, w) uint32 to write into.

    Returns:
        (h, w) uint32 with alpha 255, red, green, blue from the high byte down.
    """
    if out is None:
        out = np.empty(pixels.shape[:2], dtype=np.uint32)
    target = out
    in_slices(len(pixels), lambda s: _paint_rows(pixels[s], positions, table, target[s]), small=64)
    return out


def paint_between(
    pixels: np.ndarray, levels: np.ndarray, positions: np.ndarray, tables: np.ndarray, out: np.ndarray | None = None
) -> np.ndarray:
    """As :func:`paint`, with each pixel between two of several tables.

    Args:
        levels: (h, w) uint16, number of the lower table times 256 plus the fraction towards the next.
        tables: (k, n, n, n), each from :func:`pack_screen_table`.
    """
    target = np.empty(pixels.shape[:2], dtype=np.uint32) if out is None else out
    in_slices(len(pixels), lambda s: _paint_between(pixels[s], levels[s], positions, tables, target[s]), small=64)
    return target


@kernel
def _look_up(table, r, g, b, out):  # type: ignore[no-untyped-def]
    """Tetrahedral look-up at one position into out (k,)."""
    n = table.shape[0]
    r, g, b = min(max(r, 0.0), n - 1.0), min(max(g, 0.0), n - 1.0), min(max(b, 0.0), n - 1.0)
    ir, ig, ib = min(int(r), n - 2), min(int(g), n - 2), min(int(b), n - 2)
    fr, fg, fb = r - ir, g - ig, b - ib
    if fr >= fg:
        if fg >= fb:
            f1, f2, f3 = fr, fg, fb
            a1, b1, c1, a2, b2, c2 = 1, 0, 0, 1, 1, 0
        elif fr >= fb:
            f1, f2, f3 = fr, fb, fg
            a1, b1, c1, a2, b2, c2 = 1, 0, 0, 1, 0, 1
        else:
            f1, f2, f3 = fb, fr, fg
            a1, b1, c1, a2, b2, c2 = 0, 0, 1, 1, 0, 1
    elif fr >= fb:
        f1, f2, f3 = fg, fr, fb
        a1, b1, c1, a2, b2, c2 = 0, 1, 0, 1, 1, 0
    elif fg >= fb:
        f1, f2, f3 = fg, fb, fr
        a1, b1, c1, a2, b2, c2 = 0, 1, 0, 0, 1, 1
    else:
        f1, f2, f3 = fb, fg, fr
        a1, b1, c1, a2, b2, c2 = 0, 0, 1, 0, 1, 1
    for k in range(table.shape[3]):
        out[k] = (
            table[ir, ig, ib, k] * (1.0 - f1)
            + table[ir + a1, ig + b1, ib + c1, k] * (f1 - f2)
            + table[ir + a2, ig + b2, ib + c2, k] * (f2 - f3)
            + table[ir + 1, ig + 1, ib + 1, k] * f3
        )


@kernel
def _pixel_rows(pixels, position, table, out):  # type: ignore[no-untyped-def]
    for i in range(pixels.shape[0]):
        _look_up(table, position[pixels[i, 0]], position[pixels[i, 1]], position[pixels[i, 2]], out[i])


def look_up_pixels(pixels: np.ndarray, positions: np.ndarray, table: np.ndarray) -> np.ndarray:
    """Values (..., k) float32 of a float table (n, n, n, k) at 16-bit pixels (..., 3); positions from float_positions."""
    flat = np.ascontiguousarray(pixels).reshape(-1, 3)
    out = np.empty((len(flat), table.shape[3]), dtype=np.float32)
    in_slices(len(flat), lambda s: _pixel_rows(flat[s], positions, table, out[s]))
    return out.reshape((*pixels.shape[:-1], table.shape[3]))
