"""Pixels as images of the desktop."""

from __future__ import annotations

import numpy as np
from PyQt6.QtGui import QImage


def rgb_image(rgb: np.ndarray) -> QImage:
    """8-bit RGB (h, w, 3) as an image of its own."""
    h, w = rgb.shape[:2]
    return QImage(np.ascontiguousarray(rgb).tobytes(), w, h, w * 3, QImage.Format.Format_RGB888).copy()
