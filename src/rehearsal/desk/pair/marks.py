"""Marks over the pair: pins, a line, the frame of an area, the pixels of a chosen colour."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPen, QPolygonF

from rehearsal.desk import theme
from rehearsal.desk.pair.geometry import Placed

_VEIL = 150 << 24 | 0x262626  # premultiplied grey 64 at 150 / 255


class Marks:
    """What is marked, in fractions of the whole picture (pins, line) or of the crop (frame, mask).

    ``crop`` is x, y, width, height of the crop in the same fractions as the pins.
    """

    def __init__(self) -> None:
        #: Closed lines (n, 2) in fractions of the crop.
        self.outlines: tuple[np.ndarray, ...] = ()
        self.frame: tuple[float, float, float, float] | None = None
        self._veil: QImage | None = None
        #: The lightest grey to draw with.
        self.light = 236

    def set_mask(self, mask: np.ndarray | None) -> None:
        """Leave only these pixels (h, w) of the crop unveiled; None ends it."""
        if mask is None:
            self._veil = None
            return
        argb = np.where(mask, np.uint32(0), np.uint32(_VEIL)).astype(np.uint32)
        h, w = mask.shape
        self._veil = QImage(argb.tobytes(), w, h, w * 4, QImage.Format.Format_ARGB32_Premultiplied).copy()

    @property
    def has_mask(self) -> bool:
        """True while pixels of a colour are shown."""
        return self._veil is not None

    def paint(
        self, painter: QPainter, placed: Placed, crop: tuple[float, float, float, float],
        pins: tuple[tuple[float, float], ...], line: tuple[float, ...],
    ) -> None:  # fmt: skip
        """Everything that is marked, on one picture."""
        if self._veil is not None:
            painter.drawImage(placed.picture, self._veil)
        for outline in self.outlines:
            self._paint_outline(painter, placed.picture, outline)
        if self.frame is not None:
            self._paint_frame(painter, placed.picture, self.frame)
        if len(line) == 4:
            self._paint_line(painter, place_of(placed, crop, line[:2]), place_of(placed, crop, line[2:]))
        for i, pin in enumerate(pins):
            self._paint_pin(painter, place_of(placed, crop, pin), i + 1)

    def _paint_outline(self, painter: QPainter, p: QRectF, outline: np.ndarray) -> None:
        places = outline * (p.width(), p.height()) + (p.x(), p.y())
        line = QPolygonF([QPointF(float(x), float(y)) for x, y in places])
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for colour, width in ((QColor(20, 20, 20, 220), 3.4), (_grey(self.light), 1.4)):
            painter.setPen(QPen(colour, width))
            painter.drawPolyline(line)

    def _paint_frame(self, painter: QPainter, p: QRectF, frame: tuple[float, float, float, float]) -> None:
        x, y, w, h = frame
        rect = QRectF(p.x() + x * p.width(), p.y() + y * p.height(), w * p.width(), h * p.height())
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for colour, width in ((QColor(20, 20, 20, 200), 3.0), (_grey(self.light), 1.2)):
            painter.setPen(QPen(colour, width))
            painter.drawRect(rect)

    def _paint_line(self, painter: QPainter, start: QPointF, end: QPointF) -> None:
        for colour, width in ((QColor(20, 20, 20, 200), 3.6), (_grey(self.light), 1.4)):
            painter.setPen(QPen(colour, width))
            painter.drawLine(start, end)
        painter.setFont(theme.font(theme.SMALL, strong=True))
        for at, name in ((start, "A"), (end, "B")):
            _badge(painter, at, name, self.light)

    def _paint_pin(self, painter: QPainter, at: QPointF, number: int) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for colour, width in ((QColor(20, 20, 20, 220), 3.4), (_grey(self.light), 1.3)):
            painter.setPen(QPen(colour, width))
            painter.drawEllipse(at, 4.5, 4.5)
        painter.setFont(theme.font(theme.SMALL, strong=True))
        _badge(painter, QPointF(at.x() + 13, at.y() - 9), str(number), self.light)


def _grey(level: int) -> QColor:
    return QColor(level, level, level)


def _badge(painter: QPainter, at: QPointF, text: str, light: int) -> None:
    """A few letters on a small dark ground, legible on any picture."""
    box = QRectF(at.x() - 8, at.y() - 8, 16, 16)
    painter.fillRect(box, QColor(20, 20, 20, 200))
    painter.setPen(_grey(light))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def place_of(placed: Placed, crop: tuple[float, float, float, float], at: tuple[float, ...]) -> QPointF:
    """Where a place of the whole picture lies in the widget."""
    x, y, w, h = crop
    p = placed.picture
    return QPointF(p.x() + (at[0] - x) / w * p.width(), p.y() + (at[1] - y) / h * p.height())
