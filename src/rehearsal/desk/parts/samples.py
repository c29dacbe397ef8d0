"""Drawn samples for legends: a line as it is drawn, a square as it is struck."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from rehearsal.desk import theme

#: Line styles of outlines: the paper, the second paper, the screen.
DASHES: dict[str, tuple[float, ...]] = {"solid": (), "dashed": (6.0, 3.0), "dotted": (1.5, 2.5)}


def paint_line(painter: QPainter, shape: object, style: str, width: float = 1.5) -> None:
    """A light line with a dark one under it, in one of the styles; ``shape`` is a polygon or a pair of points."""
    for colour, wide, dashes in (
        (QColor(0, 0, 0, 190), width + 1.7, ()),
        (QColor(255, 255, 255), width, DASHES[style]),
    ):
        pen = QPen(colour, wide)
        if dashes:
            pen.setDashPattern(list(dashes))
        painter.setPen(pen)
        if isinstance(shape, tuple):
            painter.drawLine(*shape)
        else:
            painter.drawPolyline(shape)  # type: ignore[call-overload]


class Sample(QWidget):
    """One sample: ``solid``, ``dashed`` or ``dotted`` for a line, ``struck`` for a square, ``rim`` for a dot with a light rim."""

    def __init__(self, kind: str) -> None:
        super().__init__()
        self.room, self._kind = theme.ROOMS["mid"], kind
        self.setFixedSize(QSize(theme.px(34), theme.px(18)))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The sample, on the ground it is drawn on."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), self.room.colour("field"))
        middle = QRectF(self.rect()).center()
        square = QRectF(middle.x() - 5, middle.y() - 5, 10, 10)
        if self._kind in DASHES:
            paint_line(painter, (QPointF(4, middle.y()), QPointF(self.width() - 4, middle.y())), self._kind)
        elif self._kind == "struck":
            painter.fillRect(square, self.room.colour("mark"))
            painter.setPen(QPen(QColor(16, 16, 16), 1))
            painter.drawLine(square.bottomLeft(), square.topRight())
        else:
            painter.setPen(QPen(self.room.colour("text"), 1.2))
            painter.setBrush(QColor(90, 90, 90))
            painter.drawEllipse(middle, 4.5, 4.5)
