"""Warmth and tint at once: a white dragged along the daylight locus, or across it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.core.values.adjustments import ADJUSTMENTS
from rehearsal.core.values.words import amount
from rehearsal.desk import theme
from rehearsal.desk.parts.focus import paint_focus

_EDGE, _BEND, _COARSE = 16, 10, 5


class WhitePad(QWidget):
    """``moving`` and ``set_to`` tell warmth and tint in mired."""

    moving = pyqtSignal(float, float)
    set_to = pyqtSignal(float, float)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.warmth = self.tint = 0.0
        self._held = self._moved = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Warmth and tint")

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(200), theme.px(84))

    def minimumSizeHint(self) -> QSize:
        """It may be small."""
        return QSize(theme.px(140), theme.px(64))

    def show_white(self, warmth: float, tint: float) -> None:
        """The amounts as they are kept; not under the hand."""
        if not self._held:
            self.warmth, self.tint = warmth, tint
            self._tell()

    def _tell(self) -> None:
        self.setAccessibleDescription(f"{amount('warmth', self.warmth)}, {amount('tint', self.tint)}")
        self.update()

    # ---- places

    def _box(self) -> QRectF:
        edge = theme.px(_EDGE)
        return QRectF(self.rect()).adjusted(edge, edge, -edge, -edge)

    def place(self, warmth: float, tint: float) -> QPointF:
        """Where a white lies: cool at the left, green above."""
        box, most, across = self._box(), ADJUSTMENTS["warmth"].high, ADJUSTMENTS["tint"].high
        x = box.center().x() + warmth / most * box.width() / 2
        return QPointF(x, box.center().y() + tint / across * box.height() / 2)

    def _at(self, place: QPointF) -> tuple[float, float]:
        box, warm, tint = self._box(), ADJUSTMENTS["warmth"], ADJUSTMENTS["tint"]
        x = (place.x() - box.center().x()) / (box.width() / 2) * warm.high
        y = (place.y() - box.center().y()) / (box.height() / 2) * tint.high
        return float(round(warm.clamp(x))), float(round(tint.clamp(y)))

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The field, the locus, its names, the white."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), self.room.colour("field"))
        box, bend = self._box(), theme.px(_BEND)
        locus = QPainterPath(QPointF(box.left(), box.center().y() + bend / 2))
        locus.quadTo(
            QPointF(box.center().x(), box.center().y() - bend / 2), QPointF(box.right(), box.center().y() + bend / 2)
        )
        painter.setPen(QPen(self.room.colour("border"), 1.4))
        painter.drawPath(locus)
        painter.drawLine(QPointF(box.center().x(), box.top()), QPointF(box.center().x(), box.bottom()))
        painter.setFont(theme.font(theme.SMALL))
        painter.setPen(self.room.colour("quiet"))
        whole = QRectF(self.rect()).adjusted(4, 1, -4, -1)
        low, high = Qt.AlignmentFlag.AlignBottom, Qt.AlignmentFlag.AlignTop
        painter.drawText(whole, low | Qt.AlignmentFlag.AlignLeft, "cool")
        painter.drawText(whole, low | Qt.AlignmentFlag.AlignRight, "warm")
        painter.drawText(whole, high | Qt.AlignmentFlag.AlignHCenter, "green")
        painter.drawText(whole, low | Qt.AlignmentFlag.AlignHCenter, "magenta")
        painter.setPen(QPen(self.room.colour("field"), 2))
        painter.setBrush(self.room.colour("text"))
        painter.drawEllipse(self.place(self.warmth, self.tint), 6, 6)
        paint_focus(painter, self, self.room)

    # ---- hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of the white."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._held, self._moved = True, False

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """It follows."""
        if event is not None and self._held:
            self._moved = True
            self.warmth, self.tint = self._at(event.position())
            self._tell()
            self.moving.emit(self.warmth, self.tint)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """One change; none when nothing was moved."""
        if event is not None and self._held:
            self._held = False
            if self._moved:
                self.set_to.emit(self.warmth, self.tint)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right: cooler and warmer; up and down: green and magenta; Backspace: neither."""
        ways = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        key = Qt.Key(event.key()) if event is not None else Qt.Key.Key_unknown
        if event is not None and key in ways:
            far = _COARSE if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
            warm, tint = ADJUSTMENTS["warmth"], ADJUSTMENTS["tint"]
            self._keep(warm.clamp(self.warmth + far * ways[key][0]), tint.clamp(self.tint + far * ways[key][1]))
        elif key in (Qt.Key.Key_Backspace, Qt.Key.Key_Delete):
            self._keep(0.0, 0.0)
        else:
            super().keyPressEvent(event)

    def _keep(self, warmth: float, tint: float) -> None:
        if (warmth, tint) != (self.warmth, self.tint):
            self.warmth, self.tint = warmth, tint
            self._tell()
            self.set_to.emit(warmth, tint)
