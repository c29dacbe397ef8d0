"""Two pieces of the print side by side, without and with sharpening, as paper and ink will show them."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.desk import theme
from rehearsal.desk.parts.images import rgb_image

_SIDE, _GAP = 66, 6


class SharpenCrops(QWidget):
    """``fine``: one pixel of the file for each of the screen; else as large as on paper."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._images: tuple[QImage, QImage] | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("A piece of the print, without and with sharpening")

    def sizeHint(self) -> QSize:
        """Two squares."""
        return QSize(theme.px(2 * _SIDE + _GAP), theme.px(_SIDE))

    def minimumSizeHint(self) -> QSize:
        """As it is."""
        return self.sizeHint()

    @property
    def side(self) -> int:
        """Pixels of the screen along a square."""
        return round(theme.px(_SIDE) * self.devicePixelRatioF())

    def show_looks(self, looks: tuple[np.ndarray, np.ndarray] | None) -> None:
        """8-bit screen RGB (h, w, 3) of both; None while they are made."""
        self._images = None if looks is None else (rgb_image(looks[0]), rgb_image(looks[1]))
        self.setAccessibleDescription("" if looks is None else "left without, right with sharpening")
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The squares."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        side, gap = theme.px(_SIDE), theme.px(_GAP)
        for i in (0, 1):
            box = QRectF(i * (side + gap), 0, side, side)
            painter.fillRect(box, self.room.colour("field"))
            if self._images is not None:
                painter.drawImage(box, self._images[i])
            else:
                painter.setPen(self.room.colour("quiet"))
                painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "…")
