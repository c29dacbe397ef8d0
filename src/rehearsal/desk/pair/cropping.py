"""Moving and sizing the crop on the whole picture."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from rehearsal.core.sheet.layout import GUIDES
from rehearsal.core.values.frame import Crop

_GRIP = 14.0
_LEAST = 0.03


def crop_by_key(crop: Crop, step: tuple[float, float], size: bool) -> Crop:
    """A crop moved by a quarter of an arrow's step, or made larger (right, up) or smaller about its middle."""
    w, h = crop.width, crop.height
    x, y = crop.x + step[0] / 4, crop.y + step[1] / 4
    if size:
        grow = 1.05 if step[0] > 0 or step[1] < 0 else 0.95
        grow = min(grow, 1 / w, 1 / h)
        x, y = crop.x + w * (1 - grow) / 2, crop.y + h * (1 - grow) / 2
        w, h = w * grow, h * grow
    return Crop(min(max(x, 0.0), 1 - w), min(max(y, 0.0), 1 - h), w, h)


#: The short bars of the frame: length and thickness in pixels.
_BAR = 22, 6


class CropFrame:
    """A crop being dragged; keeps the wanted proportion when there is one."""

    def __init__(self) -> None:
        self._start: QPointF | None = None
        self._picture = QRectF()
        self._from = Crop()
        self._crop: Crop | None = None
        self._corner = (0, 0)
        self._proportion: float | None = None
        self.guides = "none"
        #: The lightest grey to draw with.
        self.light = 236

    @property
    def active(self) -> bool:
        """True while something is dragged."""
        return self._start is not None

    def begin(self, at: QPointF, picture: QRectF, crop: Crop, proportion: float | None) -> None:
        """Take hold of a corner or of the inside."""
        rect = self.rect(picture, crop)
        self._corner = (0, 0)
        for sx, x in ((-1, rect.left()), (1, rect.right())):
            for sy, y in ((-1, rect.top()), (1, rect.bottom())):
                if abs(at.x() - x) < _GRIP and abs(at.y() - y) < _GRIP:
                    self._corner = (sx, sy)
        if self._corner == (0, 0) and not rect.contains(at):
            return
        self._start, self._picture, self._from, self._proportion = at, picture, crop, proportion
        self._crop = crop

    def drag(self, at: QPointF) -> None:
        """Follow the pointer."""
        if self._start is None:
            return
        dx = (at.x() - self._start.x()) / self._picture.width()
        dy = (at.y() - self._start.y()) / self._picture.height()
        self._crop = self._moved(dx, dy) if self._corner == (0, 0) else self._sized(dx, dy)

    def _moved(self, dx: float, dy: float) -> Crop:
        c = self._from
        x = min(max(c.x + dx, 0.0), 1 - c.width)
        y = min(max(c.y + dy, 0.0), 1 - c.height)
        return Crop(x, y, c.width, c.height)

    def _sized(self, dx: float, dy: float) -> Crop:
        c, (sx, sy) = self._from, self._corner
        fixed_x = c.x if sx > 0 else c.x + c.width
        fixed_y = c.y if sy > 0 else c.y + c.height
        width, height = max(c.width + sx * dx, _LEAST), max(c.height + sy * dy, _LEAST)
        most_w = 1 - fixed_x if sx > 0 else fixed_x
        most_h = 1 - fixed_y if sy > 0 else fixed_y
        if self._proportion:
            width = min(max(width, height * self._proportion), most_w, most_h * self._proportion)
            height = width / self._proportion
        width, height = min(width, most_w), min(height, most_h)
        return Crop(fixed_x if sx > 0 else fixed_x - width, fixed_y if sy > 0 else fixed_y - height, width, height)

    def end(self) -> Crop | None:
        """Let go; the new crop, or None when nothing was held."""
        crop = self._crop if self._start is not None else None
        self._start, self._crop = None, None
        return crop

    @staticmethod
    def rect(picture: QRectF, crop: Crop) -> QRectF:
        """The crop in widget pixels."""
        return QRectF(
            picture.x() + crop.x * picture.width(), picture.y() + crop.y * picture.height(),
            crop.width * picture.width(), crop.height * picture.height(),
        )  # fmt: skip

    def paint(self, painter: QPainter, picture: QRectF, crop: Crop) -> None:
        """Veil what is cut off; one thin frame with four short bars in the middles of its sides."""
        rect = self.rect(picture, self._crop or crop)
        veil = QColor(60, 60, 60, 170)
        painter.fillRect(QRectF(picture.x(), picture.y(), picture.width(), rect.y() - picture.y()), veil)
        painter.fillRect(QRectF(picture.x(), rect.bottom(), picture.width(), picture.bottom() - rect.bottom()), veil)
        painter.fillRect(QRectF(picture.x(), rect.y(), rect.x() - picture.x(), rect.height()), veil)
        painter.fillRect(QRectF(rect.right(), rect.y(), picture.right() - rect.right(), rect.height()), veil)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        self._paint_guides(painter, rect)
        light = QColor(self.light, self.light, self.light)
        for colour, width in ((QColor(20, 20, 20, 180), 3.0), (light, 1.2)):
            painter.setPen(QPen(colour, width))
            painter.drawRect(rect)
        painter.setPen(QPen(QColor(20, 20, 20), 1))
        painter.setBrush(light)
        middle, (long, thick) = rect.center(), _BAR
        for x in (rect.left(), rect.right()):
            painter.drawRect(QRectF(x - thick / 2, middle.y() - long / 2, thick, long))
        for y in (rect.top(), rect.bottom()):
            painter.drawRect(QRectF(middle.x() - long / 2, y - thick / 2, long, thick))

    def _paint_guides(self, painter: QPainter, rect: QRectF) -> None:
        """Fine dotted lines, dark and light dots in turn, so that they show on any picture and hide none."""
        across, down = GUIDES[self.guides]
        lines = [
            (QPointF(rect.x() + f * rect.width(), rect.top()), QPointF(rect.x() + f * rect.width(), rect.bottom()))
            for f in across
        ]
        lines += [
            (QPointF(rect.left(), rect.y() + f * rect.height()), QPointF(rect.right(), rect.y() + f * rect.height()))
            for f in down
        ]
        for offset, colour in ((0.0, QColor(20, 20, 20, 150)), (4.0, QColor(self.light, self.light, self.light, 170))):
            pen = QPen(colour, 1)
            pen.setDashPattern([4, 4])
            pen.setDashOffset(offset)
            painter.setPen(pen)
            for start, end in lines:
                painter.drawLine(start, end)
