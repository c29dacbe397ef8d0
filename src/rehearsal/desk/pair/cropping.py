"""Moving and sizing the crop on the whole picture."""

from __future__ import annotations

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from rehearsal.core.sheet.layout import DIVISIONS
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


#: Ticks inside the frame, in pixels: those of the first division are longer.
_TICKS = 11.0, 6.0


def held_at(rect: QRectF, at: QPointF) -> tuple[int, int]:
    """Which corner (±1, ±1) or side (±1, 0), (0, ±1) of a frame lies under a place; (0, 0) for none."""
    near_x = [s for s, x in ((-1, rect.left()), (1, rect.right())) if abs(at.x() - x) < _GRIP]
    near_y = [s for s, y in ((-1, rect.top()), (1, rect.bottom())) if abs(at.y() - y) < _GRIP]
    if near_x and near_y:
        return near_x[-1], near_y[-1]
    if near_x and rect.top() <= at.y() <= rect.bottom():
        return near_x[-1], 0
    if near_y and rect.left() <= at.x() <= rect.right():
        return 0, near_y[-1]
    return 0, 0


def ticks(rect: QRectF) -> list[QLineF]:
    """Short strokes inward from all four sides where the divisions lie: they help to compose and cover nothing."""
    made = []
    for places, long in zip(DIVISIONS.values(), _TICKS, strict=True):
        for f in places:
            x, y = rect.x() + f * rect.width(), rect.y() + f * rect.height()
            made += [QLineF(x, rect.top(), x, rect.top() + long), QLineF(x, rect.bottom(), x, rect.bottom() - long)]
            made += [QLineF(rect.left(), y, rect.left() + long, y), QLineF(rect.right(), y, rect.right() - long, y)]
    return made


def _room(start: float, length: float, side: int) -> float:
    """How long a side may become: from what stays fixed to the picture's edge, or about its middle (side 0)."""
    middle = start + length / 2
    return 1 - start if side > 0 else start + length if side < 0 else 2 * min(middle, 1 - middle)


def _start(start: float, length: float, side: int, now: float) -> float:
    """Where a side begins that is ``now`` long."""
    return start if side > 0 else start + length - now if side < 0 else start + (length - now) / 2


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
        #: The lightest grey to draw with.
        self.light = 236

    @property
    def active(self) -> bool:
        """True while something is dragged."""
        return self._start is not None

    def begin(self, at: QPointF, picture: QRectF, crop: Crop, proportion: float | None) -> None:
        """Take hold of a corner, of a side or of the inside."""
        rect = self.rect(picture, crop)
        self._corner = held_at(rect, at)
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
        """The crop with the held corner or side moved; a kept proportion grows a side's crop about its middle."""
        c, (sx, sy) = self._from, self._corner
        wide, high = max(c.width + sx * dx, _LEAST), max(c.height + sy * dy, _LEAST)
        most_w, most_h = _room(c.x, c.width, sx), _room(c.y, c.height, sy)
        if self._proportion:
            wanted = wide if sy == 0 else high * self._proportion if sx == 0 else max(wide, high * self._proportion)
            wide = min(wanted, most_w, most_h * self._proportion)
            high = wide / self._proportion
        wide, high = min(wide, most_w), min(high, most_h)
        return Crop(_start(c.x, c.width, sx, wide), _start(c.y, c.height, sy, high), wide, high)

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

    def paint(self, painter: QPainter, picture: QRectF, crop: Crop, plain: bool = False) -> None:
        """Veil what is cut off; one thin frame, with ticks and four short bars in the middles of its sides unless it is plain."""
        rect = self.rect(picture, self._crop or crop)
        veil = QColor(60, 60, 60, 170)
        painter.fillRect(QRectF(picture.x(), picture.y(), picture.width(), rect.y() - picture.y()), veil)
        painter.fillRect(QRectF(picture.x(), rect.bottom(), picture.width(), picture.bottom() - rect.bottom()), veil)
        painter.fillRect(QRectF(picture.x(), rect.y(), rect.x() - picture.x(), rect.height()), veil)
        painter.fillRect(QRectF(rect.right(), rect.y(), picture.right() - rect.right(), rect.height()), veil)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        light = QColor(self.light, self.light, self.light)
        for colour, width in ((QColor(20, 20, 20, 180), 3.0), (light, 1.2)):
            painter.setPen(QPen(colour, width))
            painter.drawRect(rect)
            if not plain:
                painter.drawLines(ticks(rect))
        if plain:
            return
        painter.setPen(QPen(QColor(20, 20, 20), 1))
        painter.setBrush(light)
        middle, (long, thick) = rect.center(), _BAR
        for x in (rect.left(), rect.right()):
            painter.drawRect(QRectF(x - thick / 2, middle.y() - long / 2, thick, long))
        for y in (rect.top(), rect.bottom()):
            painter.drawRect(QRectF(middle.x() - long / 2, y - thick / 2, long, thick))
