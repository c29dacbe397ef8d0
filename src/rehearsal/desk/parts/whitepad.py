"""Warmth and tint at once: a white dragged along the daylight locus, or across it."""

from __future__ import annotations

import functools

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QWheelEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.core.tuning.white import white_uv
from rehearsal.core.values.adjustments import ADJUSTMENTS
from rehearsal.core.values.words import amount
from rehearsal.desk import theme
from rehearsal.desk.parts.focus import paint_focus

_EDGE, _COARSE = 16, 5


@functools.cache
def _frame() -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Middle (2,), turning matrix (2, 2) and half sizes (2,) that bring all whites into a square of -1 to 1."""
    warm, tint = ADJUSTMENTS["warmth"], ADJUSTMENTS["tint"]
    along = white_uv(warm.high, 0.0) - white_uv(warm.low, 0.0)
    along = along / np.hypot(*along)
    turn = np.array([along, [along[1], -along[0]]])
    edge = [white_uv(w, t) for w in np.linspace(warm.low, warm.high, 21) for t in (tint.low, 0.0, tint.high)]
    turned = np.array(edge) @ turn.T
    low, high = turned.min(axis=0), turned.max(axis=0)
    return (low + high) / 2, turn, (high - low) / 2


def _turned(uv: np.ndarray) -> np.ndarray:
    """Places (..., 2), -1 to 1, of u, v (..., 2)."""
    middle, turn, half = _frame()
    return np.asarray((uv @ turn.T - middle) / half)


@functools.cache
def _grid() -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Warmth (m,), tint (m,) and place (m, 2) of all whites that can be set, in whole mired."""
    warm, tint = ADJUSTMENTS["warmth"], ADJUSTMENTS["tint"]
    w, t = np.meshgrid(np.arange(warm.low, warm.high + 1), np.arange(tint.low, tint.high + 1), indexing="ij")
    places = _turned(np.array([white_uv(float(a), float(b)) for a, b in zip(w.flat, t.flat, strict=True)]))
    return w.ravel(), t.ravel(), places


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
        """Where a white lies in the CIE 1960 diagram, turned so that daylight runs from cool at the left to warm; green above."""
        box = self._box()
        x, y = _turned(white_uv(warmth, tint))
        return QPointF(box.center().x() + x * box.width() / 2, box.center().y() + y * box.height() / 2)

    def _at(self, place: QPointF) -> tuple[float, float]:
        """Warmth and tint of the nearest white that can be set."""
        box = self._box()
        wanted = np.array([place.x() - box.center().x(), place.y() - box.center().y()])
        away = _grid()[2] * np.array([box.width() / 2, box.height() / 2]) - wanted
        at = int(np.argmin((away**2).sum(axis=1)))
        return float(_grid()[0][at]), float(_grid()[1][at])

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The field, the locus, its names, the white."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), self.room.colour("field"))
        low, high = ADJUSTMENTS["warmth"].low, ADJUSTMENTS["warmth"].high
        painter.setPen(QPen(self.room.colour("border"), 1.4))
        painter.drawPolyline(QPolygonF([self.place(float(w), 0.0) for w in np.linspace(low, high, 25)]))
        across = ADJUSTMENTS["tint"]
        painter.drawLine(self.place(0.0, across.low), self.place(0.0, across.high))
        painter.setFont(theme.font(theme.SMALL))
        painter.setPen(self.room.colour("quiet"))
        whole = QRectF(self.rect()).adjusted(4, 1, -4, -1)
        foot, top = Qt.AlignmentFlag.AlignBottom, Qt.AlignmentFlag.AlignTop
        painter.drawText(whole, foot | Qt.AlignmentFlag.AlignLeft, "cool")
        painter.drawText(whole, foot | Qt.AlignmentFlag.AlignRight, "warm")
        painter.drawText(whole, top | Qt.AlignmentFlag.AlignHCenter, "green")
        painter.drawText(whole, foot | Qt.AlignmentFlag.AlignHCenter, "magenta")
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

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """The wheel makes it warmer or cooler while the pad has the focus, with Shift magenta or green."""
        if event is not None and self.hasFocus():
            turned = event.angleDelta().y() or event.angleDelta().x()  # some systems turn it with Shift
            way, across = (1 if turned > 0 else -1), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            warm, tint = ADJUSTMENTS["warmth"], ADJUSTMENTS["tint"]
            self._keep(warm.clamp(self.warmth + way * (not across)), tint.clamp(self.tint + way * across))
        elif event is not None:
            event.ignore()

    def _keep(self, warmth: float, tint: float) -> None:
        if (warmth, tint) != (self.warmth, self.tint):
            self.warmth, self.tint = warmth, tint
            self._tell()
            self.set_to.emit(warmth, tint)
