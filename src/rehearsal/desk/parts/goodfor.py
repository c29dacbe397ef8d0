"""What a picture is good for: nested frames by viewing distance, with the print among them, all to one scale."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize
from PyQt6.QtGui import QFontMetricsF, QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.core.picture.arrived import GoodFor
from rehearsal.core.values.frame import PrintSize
from rehearsal.desk import theme

_LEAST_SIDE = 4.0


def distance_words(cm: float) -> str:
    """A viewing distance: ``60 cm``, ``1.1 m``, ``2 m``."""
    return f"{round(cm / 100, 1):g} m" if cm >= 99.5 else f"{cm:.0f} cm"


class GoodForFrames(QWidget):
    """Frames share the lower left corner; the print is the strong one. Words stand in the frames' upper lines, as on a contour."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._sizes: tuple[GoodFor, ...] = ()
        self._print: PrintSize | None = None
        self._picture = QImage()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Good for, by viewing distance")

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(236), theme.px(118))

    def minimumSizeHint(self) -> QSize:
        """It may be small."""
        return QSize(theme.px(140), theme.px(80))

    def show_sizes(self, sizes: Sequence[GoodFor], size: PrintSize | None, picture: QImage) -> None:
        """Largest prints by distance, the print (None while no size is set) and its picture."""
        self._sizes, self._print, self._picture = tuple(sizes), size, picture
        told = [f"from {distance_words(g.distance_cm)}: {g.width_cm:.0f} × {g.height_cm:.0f} cm" for g in sizes]
        self.setAccessibleDescription("; ".join(told))
        self.update()

    def frame(self, width_cm: float, height_cm: float) -> QRectF:
        """Where a print of that size lies in the widget."""
        box = QRectF(self.rect()).adjusted(2, theme.px(9), -2, -3)
        widest = max([g.width_cm for g in self._sizes] + ([self._print.width_cm] if self._print else []), default=1.0)
        highest = max(
            [g.height_cm for g in self._sizes] + ([self._print.height_cm] if self._print else []), default=1.0
        )
        scale = min(box.width() / widest, box.height() / highest)
        w, h = max(width_cm * scale, _LEAST_SIDE), max(height_cm * scale, _LEAST_SIDE)
        return QRectF(box.left(), box.bottom() - h, w, h)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """From the largest to the smallest, then the print."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.setFont(theme.font(theme.SMALL))
        for good in sorted(self._sizes, key=lambda g: -g.width_cm):
            box = self.frame(good.width_cm, good.height_cm)
            painter.setPen(QPen(self.room.colour("border"), 1))
            painter.drawRect(box)
            self._paint_words(
                painter, box, distance_words(good.distance_cm), f"{good.width_cm:.0f} × {good.height_cm:.0f} cm"
            )
        if self._print is not None:
            box = self.frame(self._print.width_cm, self._print.height_cm)
            if not self._picture.isNull():
                painter.drawImage(box, self._picture)
            painter.setPen(QPen(self.room.colour("text"), 2))
            painter.drawRect(box)

    def _paint_words(self, painter: QPainter, box: QRectF, distance: str, size: str) -> None:
        """The longest words that find room in a frame's upper line, on its ground."""
        metrics = QFontMetricsF(painter.font())
        for words in (f"{distance}: {size}", distance):
            wide = metrics.horizontalAdvance(words)
            if wide + theme.px(16) <= box.width():
                high = theme.px(15)
                place = QRectF(box.right() - wide - theme.px(12), box.top() - high / 2, wide + 6, high)
                painter.fillRect(place, self.room.colour("chrome"))
                painter.setPen(self.room.colour("text"))
                painter.drawText(QPointF(place.x() + 3, place.center().y() + metrics.capHeight() / 2), words)
                return
