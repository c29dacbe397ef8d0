"""A master as a pyramid of reductions, from which the visible part is cut at screen size."""

from __future__ import annotations

import numpy as np

from rehearsal.core.picture.reduce import reduce_to
from rehearsal.core.picture.space import MasterSpace
from rehearsal.core.work.kernels import ndimage
from rehearsal.core.work.once import once

_SMALLEST = 700


class Pyramid:
    """Halvings of a 16-bit RGB picture in linear light, made on first use or by :meth:`prepare`.

    Args:
        pixels: (h, w, 3) uint16.
        space: of the pixels; matrix RGB.
    """

    def __init__(self, pixels: np.ndarray, space: MasterSpace) -> None:
        self.space = space
        #: The full picture, as it is.
        self.whole = pixels

    @once
    def _levels(self) -> list[np.ndarray]:
        made = [self.whole]
        while max(made[-1].shape[:2]) > 2 * _SMALLEST:
            last = made[-1]
            made.append(reduce_to(last, self.space, max(1, last.shape[1] // 2), max(1, last.shape[0] // 2)))
        return made

    def prepare(self) -> None:
        """Make the reductions now (off the interface thread) rather than at the first look."""
        assert self._levels

    @property
    def size(self) -> tuple[int, int]:
        """Width and height of the full picture."""
        h, w = self.whole.shape[:2]
        return w, h

    def block(self, x: float, y: float, width: float, height: float, out_w: int, out_h: int) -> np.ndarray:
        """Pixels (out_h, out_w, 3) of a rectangle given in full-resolution pixels; enlarged by repetition."""
        out_w, out_h = max(1, out_w), max(1, out_h)
        level = 0
        while level + 1 < len(self._levels) and width / 2 ** (level + 1) >= out_w:
            level += 1
        source = self._levels[level]
        fx, fy = source.shape[1] / self._levels[0].shape[1], source.shape[0] / self._levels[0].shape[0]
        if width * fx <= out_w:
            return self._repeated(source, x * fx, y * fy, width * fx, height * fy, out_w, out_h)
        x0, y0 = min(int(x * fx), source.shape[1] - 1), min(int(y * fy), source.shape[0] - 1)
        x1 = min(max(round((x + width) * fx), x0 + 1), source.shape[1])
        y1 = min(max(round((y + height) * fy), y0 + 1), source.shape[0])
        made = reduce_to(source[y0:y1, x0:x1], self.space, out_w, out_h)
        if made.shape[:2] != (out_h, out_w):
            made = self._repeated(made, 0, 0, made.shape[1], made.shape[0], out_w, out_h)
        return made

    @staticmethod
    def _repeated(
        source: np.ndarray, x: float, y: float, width: float, height: float, out_w: int, out_h: int
    ) -> np.ndarray:
        columns = np.clip((x + (np.arange(out_w) + 0.5) * width / out_w).astype(int), 0, source.shape[1] - 1)
        rows = np.clip((y + (np.arange(out_h) + 0.5) * height / out_h).astype(int), 0, source.shape[0] - 1)
        return np.ascontiguousarray(source[rows[:, None], columns])

    def sample(
        self, x: int, y: int, width: int, height: int, count: int, seed: int = 8
    ) -> tuple[np.ndarray, np.ndarray]:
        """Random pixels (count, 3) of a rectangle, out of the reduction nearest above a megapixel, and where they lie.

        The places (count, 2) are x and y of their middles in pixels of the full picture.
        """
        level = 0
        while level + 1 < len(self._levels) and width * height / 4 ** (level + 1) >= 1_000_000:
            level += 1
        source, full = self._levels[level], self._levels[0]
        fy, fx = source.shape[0] / full.shape[0], source.shape[1] / full.shape[1]
        rng = np.random.default_rng(seed)
        rows = np.minimum(((y + rng.random(count) * height) * fy).astype(int), source.shape[0] - 1)
        columns = np.minimum(((x + rng.random(count) * width) * fx).astype(int), source.shape[1] - 1)
        places = np.stack([(columns + 0.5) / fx, (rows + 0.5) / fy], axis=1)
        return np.ascontiguousarray(source[rows, columns]), places

    def pixels_at(self, places: np.ndarray) -> np.ndarray:
        """Full-resolution pixels (m, 3) at places (m, 2), x and y; the nearest inside."""
        w, h = self.size
        x = np.clip(places[:, 0].astype(int), 0, w - 1)
        y = np.clip(places[:, 1].astype(int), 0, h - 1)
        return np.ascontiguousarray(self._levels[0][y, x])


def soft_look(block: np.ndarray) -> np.ndarray:
    """16-bit pixels (h, w, 3) blurred by about a ninetieth of their size: tone without detail."""
    small = block[::3, ::3].astype(np.float32)
    sigma = max(block.shape[:2]) / 90 / 3
    blurred = np.stack([ndimage.gaussian_filter(small[..., c], sigma) for c in range(3)], axis=-1)
    factors = (block.shape[0] / blurred.shape[0], block.shape[1] / blurred.shape[1], 1)
    return np.ascontiguousarray(np.clip(ndimage.zoom(blurred, factors, order=1), 0, 65535).astype(np.uint16))
