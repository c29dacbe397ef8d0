"""One print large: the untouched one with the pieces of a test sheet framed and moved by hand, or the piece that is pointed at."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.core.values.frame import Crop
from rehearsal.desk import theme
from rehearsal.desk.parts.focus import paint_focus

_BORDER = 0.045
_KEY_STEP = 0.02


class PieceView(QWidget):
    """``placed`` tells the number of a piece, from 0, and its new place in fractions of the crop, when it comes to rest."""

    placed = pyqtSignal(int, object)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.paper = QColor(0xEC, 0xEC, 0xEC)
        self._image: QImage | None = None
        self._proportion = 1.5
        self._pieces: list[Crop] = []
        self._drag: tuple[int, QPointF, Crop] | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("The print and its pieces")

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(560), theme.px(380))

    def minimumSizeHint(self) -> QSize:
        """It may be small."""
        return QSize(theme.px(200), theme.px(150))

    def show_print(self, image: QImage | None, proportion: float, pieces: list[Crop], paper: QColor) -> None:
        """An image (None while it is coming), its width to height, pieces framed on it in fractions of it, and the paper round it."""
        self._image, self._proportion, self.paper = image, proportion, paper
        if self._drag is None:
            self._pieces = pieces
        self.update()

    def place_for(self, proportion: float) -> QRectF:
        """Where a picture of that proportion lies."""
        room = QRectF(self.rect())
        border = _BORDER * min(room.width(), room.height()) + 4
        inner = room.adjusted(border, border, -border, -border)
        wide = min(inner.width(), inner.height() * proportion)
        made = QRectF(0, 0, max(wide, 1), max(wide / proportion, 1))
        made.moveCenter(room.center())
        return made

    def wanted_size(self, proportion: float) -> tuple[int, int]:
        """Pixels of the screen that a picture of that proportion has here."""
        place, ratio = self.place_for(proportion), self.devicePixelRatioF()
        return max(1, round(place.width() * ratio)), max(1, round(place.height() * ratio))

    def piece_rect(self, number: int) -> QRectF:
        """Where a piece's frame is."""
        place, piece = self.place_for(self._proportion), self._pieces[number]
        return QRectF(
            place.x() + piece.x * place.width(), place.y() + piece.y * place.height(), piece.width * place.width(),
            piece.height * place.height(),
        )  # fmt: skip

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The picture on its paper, frames over it."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        place = self.place_for(self._proportion)
        border = _BORDER * min(self.width(), self.height())
        painter.fillRect(place.adjusted(-border, -border, border, border), self.paper)
        if self._image is not None:
            painter.drawImage(place, self._image)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for number in range(len(self._pieces)):
            rect = self.piece_rect(number)
            painter.setPen(QPen(QColor(20, 20, 20), 3))
            painter.drawRect(rect)
            painter.setPen(QPen(self.paper, 1))
            painter.drawRect(rect)
        paint_focus(painter, self, self.room)

    # ---- hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of a piece, or bring the nearest one here."""
        if event is None or event.button() != Qt.MouseButton.LeftButton or not self._pieces:
            return
        at = event.position()
        near = min(range(len(self._pieces)), key=lambda n: (self.piece_rect(n).center() - at).manhattanLength())
        if not self.piece_rect(near).contains(at):
            place, piece = self.place_for(self._proportion), self._pieces[near]
            x = (at.x() - place.x()) / place.width() - piece.width / 2
            y = (at.y() - place.y()) / place.height() - piece.height / 2
            self._pieces = [*self._pieces[:near], _within(piece, x, y), *self._pieces[near + 1 :]]
        self._drag = near, at, self._pieces[near]
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Move it."""
        if event is None or self._drag is None:
            return
        near, start, piece = self._drag
        place = self.place_for(self._proportion)
        by = event.position() - start
        moved = _within(piece, piece.x + by.x() / place.width(), piece.y + by.y() / place.height())
        self._pieces = [*self._pieces[:near], moved, *self._pieces[near + 1 :]]
        self.update()

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        """It lies there."""
        if self._drag is not None:
            near = self._drag[0]
            self._drag = None
            self.placed.emit(near, self._pieces[near])

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows move the first piece."""
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        step = None if event is None else steps.get(Qt.Key(event.key()))
        if event is None or step is None or not self._pieces:
            super().keyPressEvent(event)
            return
        piece = self._pieces[0]
        moved = _within(piece, piece.x + step[0] * _KEY_STEP, piece.y + step[1] * _KEY_STEP)
        self._pieces = [moved, *self._pieces[1:]]
        self.placed.emit(0, moved)
        self.update()


def _within(piece: Crop, x: float, y: float) -> Crop:
    """A piece at another place, wholly inside."""
    return Crop(min(max(x, 0.0), 1 - piece.width), min(max(y, 0.0), 1 - piece.height), piece.width, piece.height)
