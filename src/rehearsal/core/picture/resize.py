"""Resizing for print files."""

from __future__ import annotations

import numpy as np

from rehearsal.core.picture.reduce import encode_linear
from rehearsal.core.picture.space import MasterSpace


def resize_linear(pixels: np.ndarray, space: MasterSpace, width: int, height: int) -> np.ndarray:
    """Resize 16-bit pixels with a three-lobed Lanczos filter in linear light; both ways."""
    h, w = pixels.shape[:2]
    if (w, h) == (width, height):
        return pixels
    import pyvips

    out = np.empty((height, width, pixels.shape[2]), dtype=np.uint16)
    for c in range(pixels.shape[2]):
        linear = space.linear[:, c][pixels[..., c]]
        image = pyvips.Image.new_from_array(np.ascontiguousarray(linear))
        made = image.resize(width / w, vscale=height / h, kernel="lanczos3").numpy()
        made = made[:height, :width]
        made = np.pad(made, ((0, height - made.shape[0]), (0, width - made.shape[1])), mode="edge")
        out[..., c] = encode_linear(made[..., None], space.linear[:, c : c + 1])[..., 0]
    return out
