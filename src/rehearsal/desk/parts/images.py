"""Pixels as images of the desktop."""

from __future__ import annotations

import numpy as np
from PyQt6.QtGui import QColor, QImage

from rehearsal.core.proof.screenroad import ScreenRoad


def rgb_image(rgb: np.ndarray) -> QImage:
    """8-bit RGB (h, w, 3) as an image of its own."""
    h, w = rgb.shape[:2]
    return QImage(np.ascontiguousarray(rgb).tobytes(), w, h, w * 3, QImage.Format.Format_RGB888).copy()


def paper_colour(road: ScreenRoad | None) -> QColor:
    """The bare paper a road shows; a light grey while there is none."""
    if road is None:
        return QColor(0xEC, 0xEC, 0xEC)
    return QColor.fromRgbF(*[min(max(float(v), 0.0), 1.0) for v in road.paper_rgb])
