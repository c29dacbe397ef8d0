"""What sharpening does in the print: a piece of the picture as paper and ink will show it, without and with it."""

from __future__ import annotations

import numpy as np

from rehearsal.core.picture.reduce import encode_linear
from rehearsal.core.picture.space import MasterSpace
from rehearsal.core.sheet.printfile import plan_pixels, sharpener_of
from rehearsal.core.sheet.sharpen import RADIUS
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.work.kernels import ndimage

#: A place is looked for on so coarse a grid, and not nearer to the edge than this share of the picture.
_GRID, _EDGE = 24, 0.08


def detailed_place(opened: OpenRendition) -> tuple[float, float]:
    """Where the picture has most fine detail, as fractions of its crop: the square with the largest spread of second differences."""
    block = opened.block(250_000).astype(np.float64)
    y = block @ np.array([0.2, 0.7, 0.1])
    fine = np.abs(ndimage.laplace(y))
    h, w = fine.shape
    smooth = ndimage.uniform_filter(fine, max(3, min(h, w) // _GRID), mode="nearest")
    top, left = int(h * _EDGE), int(w * _EDGE)
    inner = smooth[top : h - top, left : w - left]
    row, column = np.unravel_index(int(inner.argmax()), inner.shape)
    return (float(column) + left + 0.5) / w, (float(row) + top + 0.5) / h


def sharpen_looks(opened: OpenRendition, place: tuple[float, float], side: int) -> tuple[np.ndarray, np.ndarray]:
    """A square piece of the file as the print shows it, without and with sharpening: two of (side, side, 3) uint16, not yet converted.

    Args:
        opened: with a hand-over that knows the paper's spread; its strength counts.
        place: middle of the piece, fractions of the crop; side: in pixels of the file.
    """
    rendition = opened.rendition
    box, (width, height) = plan_pixels(rendition.frame, rendition.hand_over.ppi, *opened.open.size)
    reach = side + 2 * RADIUS
    left = min(max(round(place[0] * width - reach / 2), 0), max(width - reach, 0))
    top = min(max(round(place[1] * height - reach / 2), 0), max(height - reach, 0))
    piece = _piece(opened, box, (width, height), (left, top, min(reach, width), min(reach, height)))
    sharpener, space = sharpener_of(opened), opened.tuned.space
    wide = np.pad(piece, ((RADIUS, RADIUS), (0, 0), (0, 0)), mode="edge")
    sigma = rendition.hand_over.sigma_um / 25400 * rendition.hand_over.ppi
    looks = [_spread(each, sigma, space) for each in (piece, sharpener.pixels(wide, space))]
    h, w = piece.shape[:2]
    y, x = max((h - side) // 2, 0), max((w - side) // 2, 0)
    before, after = (look[y : y + side, x : x + side] for look in looks)
    return before, after


def _piece(
    opened: OpenRendition, box: tuple[int, int, int, int], size: tuple[int, int], part: tuple[int, int, int, int]
) -> np.ndarray:
    """Tuned pixels of a part of the file, resized as the file is (from the pixels of the part alone)."""
    x, y, w, h = box
    across, down = w / size[0], h / size[1]
    x0, y0 = x + int(part[0] * across), y + int(part[1] * down)
    wide, high = max(1, round(part[2] * across)), max(1, round(part[3] * down))
    wide, high = min(wide, x + w - x0), min(high, y + h - y0)
    ((_rows, pixels),) = opened.tuned.strips((x0, y0, wide, high), part[2], part[3], part[3])
    return pixels


def _spread(pixels: np.ndarray, sigma: float, space: MasterSpace) -> np.ndarray:
    """Blurred in linear light by the paper's spread, σ in pixels."""
    linear = np.stack([space.curves[c][pixels[..., c]] for c in range(3)], axis=-1)
    soft = np.stack([ndimage.gaussian_filter(linear[..., c], sigma, mode="nearest") for c in range(3)], axis=-1)
    return encode_linear(np.clip(soft, 0, 1), space)
