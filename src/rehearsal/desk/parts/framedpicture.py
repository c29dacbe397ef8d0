"""A small picture with named frames round some of its areas."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QImage, QPainter, QPaintEvent, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.desk import theme
from rehearsal.desk.parts.images import rgb_image
from rehearsal.desk.parts.samples import paint_line


@dataclass(frozen=True)
class Frame:
    """One frame: x, y, width, height in fractions of the picture, its words, its line (``solid`` or ``dashed``)."""

    box: tuple[float, float, float, float]
    words: str
    style: str


class FramedPicture(QWidget):
    """The picture as large as there is room for; frames over it, their words where none lies over another."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._image, self.frames = QImage(), tuple[Frame, ...]()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(theme.px(84))
        self.setAccessibleName(name)

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(420), theme.px(260))

    def show_frames(self, rgb: np.ndarray | None, frames: Sequence[Frame]) -> None:
        """A picture, 8-bit RGB (h, w, 3), and its frames."""
        self._image = QImage() if rgb is None else rgb_image(rgb)
        self.frames = tuple(frames)
        self.setAccessibleDescription("; ".join(frame.words for frame in frames if frame.words))
        self.update()

    def picture_rect(self) -> QRectF:
        """Where the picture lies."""
        if self._image.isNull():
            return QRectF()
        size = self._image.size().toSizeF()
        scale = min(self.width() / size.width(), self.height() / size.height())
        return QRectF(0, 0, size.width() * scale, size.height() * scale)

    def frame_rect(self, frame: Frame) -> QRectF:
        """Where a frame lies, never so small that it cannot be seen."""
        place, (x, y, w, h) = self.picture_rect(), frame.box
        made = QRectF(
            place.x() + x * place.width(), place.y() + y * place.height(), w * place.width(), h * place.height()
        )
        more = QPointF(max(12 - made.width(), 0) / 2, max(12 - made.height(), 0) / 2)
        return made.adjusted(-more.x(), -more.y(), more.x(), more.y())

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Picture, frames, words."""
        if self._image.isNull():
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(self.picture_rect(), self._image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setFont(theme.font(theme.SMALL))
        for frame in self.frames:
            box = self.frame_rect(frame)
            corners = [box.topLeft(), box.topRight(), box.bottomRight(), box.bottomLeft(), box.topLeft()]
            paint_line(painter, QPolygonF(corners), frame.style)
        named = [frame for frame in self.frames if frame.words]
        for frame, place in zip(named, self.label_rects(), strict=True):
            painter.fillRect(place, QColor(26, 26, 26))
            painter.setPen(self.room.colour("light"))
            painter.drawText(place, Qt.AlignmentFlag.AlignCenter, frame.words)

    def label_rects(self) -> list[QRectF]:
        """Where the words lie: over their frame's upper edge, moved down where others lie already."""
        metrics, picture = QFontMetricsF(theme.font(theme.SMALL)), self.picture_rect()
        taken: list[QRectF] = []
        for frame in (each for each in self.frames if each.words):
            box = self.frame_rect(frame)
            made = QRectF(box.left(), box.top() - 8, metrics.horizontalAdvance(frame.words) + 10, metrics.height() + 2)
            made.moveLeft(min(max(made.left(), picture.left()), picture.right() - made.width()))
            made.moveTop(max(made.top(), picture.top()))
            while any(made.intersects(other) for other in taken):
                made.translate(0, 2)
            taken.append(made)
        return taken
