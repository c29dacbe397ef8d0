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


def pack_screen_table(rgb: np.ndarray, n: int) -> np.ndarray:
    """Pack screen colours (n³, 3), 0 to 1, into one uint64 per node for :func:`paint`."""
    scaled = np.round(np.clip(rgb, 0, 1) * 4080).astype(np.uint64)
    packed = scaled[:, 0] << np.uint64(42) | scaled[:, 1] << np.uint64(21) | scaled[:, 2]
    return np.ascontiguousarray(packed.reshape(n, n, n))


@kernel
def _paint_rows(pixels, position, table, out):  # type: ignore[no-untyped-def]
    n = table.shape[0]
    flat = table.ravel()
    sr, sg = n * n, n
    half = np.uint64(2048) | np.uint64(2048) << np.uint64(21) | np.uint64(2048) << np.uint64(42)
    for y in range(pixels.shape[0]):
        for x in range(pixels.shape[1]):
            r, g, b = position[pixels[y, x, 0]], position[pixels[y, x, 1]], position[pixels[y, x, 2]]
            ir, ig, ib = r >> 8, g >> 8, b >> 8
            fr, fg, fb = r & 255, g & 255, b & 255
            base = ir * sr + ig * sg + ib
            dr = sr if fr else 0
            dg = sg if fg else 0
            db = 1 if fb else 0
            far = base + dr + dg + db
            if fr >= fg:
                if fg >= fb:
                    f1, f2, f3, p1, p2 = fr, fg, fb, base + dr, base + dr + dg
                elif fr >= fb:
                    f1, f2, f3, p1, p2 = fr, fb, fg, base + dr, base + dr + db
                else:
                    f1, f2, f3, p1, p2 = fb, fr, fg, base + db, base + db + dr
            elif fr >= fb:
                f1, f2, f3, p1, p2 = fg, fr, fb, base + dg, base + dg + dr
            elif fg >= fb:
                f1, f2, f3, p1, p2 = fg, fb, fr, base + dg, base + dg + db
            else:
                f1, f2, f3, p1, p2 = fb, fg, fr, base + db, base + db + dg
            v = (
                flat[base] * np.uint64(256 - f1)
                + flat[p1] * np.uint64(f1 - f2)
                + flat[p2] * np.uint64(f2 - f3)
                + flat[far] * np.uint64(f3)
                + half
            )
            red = (v >> np.uint64(54)) & np.uint64(255)
            green = (v >> np.uint64(33)) & np.uint64(255)
            blue = (v >> np.uint64(12)) & np.uint64(255)
            out[y, x] = np.uint32(np.uint64(0xFF000000) | red << np.uint64(16) | green << np.uint64(8) | blue)


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
