"""A crop whose frame stays while the picture moves under it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QWheelEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.core.values.frame import Crop
from rehearsal.desk import theme
from rehearsal.desk.pair.cropping import CropFrame, crop_by_key
from rehearsal.desk.parts.focus import paint_focus

#: The frame leaves so much of the widget to what is cut off.
_ROUND = 16
_ARROWS = {
    Qt.Key.Key_Left: (0.08, 0.0), Qt.Key.Key_Right: (-0.08, 0.0), Qt.Key.Key_Up: (0.0, 0.08), Qt.Key.Key_Down: (0.0, -0.08),
}  # fmt: skip


class StillCrop(QWidget):
    """``moving`` tells a crop while the picture is dragged, ``crop_set`` when it comes to rest."""

    moving = pyqtSignal(object)
    crop_set = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._image, self._shape, self.crop = QImage(), (3, 2), Crop()
        self._held: tuple[QPointF, Crop] | None = None
        self._frame = CropFrame()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self.setAccessibleName("Crop: the frame stays, the picture moves")

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(206), theme.px(110))

    def minimumSizeHint(self) -> QSize:
        """It may be small."""
        return QSize(theme.px(110), theme.px(40))

    def show_crop(self, image: QImage, shape: tuple[int, int], crop: Crop) -> None:
        """The picture (small), its width and height in pixels, and its crop."""
        self._image, self._shape = image, shape
        if self._held is None:
            self.crop = crop
        self.setAccessibleDescription(f"{crop.width * 100:.0f} % of the width, {crop.height * 100:.0f} % of the height")
        self.update()

    # ---- places

    def frame_rect(self) -> QRectF:
        """The frame: in the middle, as large as there is room for."""
        wide, high = self.crop.width * self._shape[0], self.crop.height * self._shape[1]
        gap = theme.px(_ROUND)
        scale = max(min((self.width() - 2 * gap) / wide, (self.height() - 2 * gap) / high), 1e-6)
        made = QRectF(0, 0, wide * scale, high * scale)
        made.moveCenter(QRectF(self.rect()).center())
        return made

    def picture_rect(self) -> QRectF:
        """The whole picture, so that its crop lies in the frame."""
        frame = self.frame_rect()
        wide, high = frame.width() / self.crop.width, frame.height() / self.crop.height
        return QRectF(frame.x() - self.crop.x * wide, frame.y() - self.crop.y * high, wide, high)

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The picture, the veil over what is cut off, the frame."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), self.room.colour("field"))
        picture = self.picture_rect()
        if not self._image.isNull():
            painter.drawImage(picture, self._image)
        self._frame.light = self.room.lightest
        self._frame.paint(painter, picture, self.crop, plain=True)
        paint_focus(painter, self, self.room)

    # ---- hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of the picture."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._held = (event.position(), self.crop)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """The picture follows."""
        if event is None or self._held is None:
            return
        start, crop = self._held
        picture, moved = self.picture_rect(), event.position() - start
        x, y = crop.x - moved.x() / picture.width(), crop.y - moved.y() / picture.height()
        self.crop = Crop(min(max(x, 0.0), 1 - crop.width), min(max(y, 0.0), 1 - crop.height), crop.width, crop.height)
        self.moving.emit(self.crop)
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """One change, none when nothing was moved."""
        if event is not None and self._held is not None:
            before, self._held = self._held[1], None
            if self.crop != before:
                self.crop_set.emit(self.crop)

    def _step(self, crop: Crop) -> None:
        if crop != self.crop:
            self.crop = crop
            self.update()
            self.crop_set.emit(crop)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows move the picture; + and − make it larger and smaller in the frame."""
        key = Qt.Key(event.key()) if event is not None else Qt.Key.Key_unknown
        if event is not None and key in _ARROWS:
            self._step(crop_by_key(self.crop, _ARROWS[key], size=False))
        elif event is not None and key in (Qt.Key.Key_Plus, Qt.Key.Key_Minus):
            self._step(crop_by_key(self.crop, (-0.08 if key == Qt.Key.Key_Plus else 0.08, 0.0), size=True))
        else:
            super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """The wheel makes it larger and smaller while it has the focus; else it scrolls what is under it."""
        if event is not None and self.hasFocus():
            self._step(crop_by_key(self.crop, (-0.08 if event.angleDelta().y() > 0 else 0.08, 0.0), size=True))
        elif event is not None:
            event.ignore()
