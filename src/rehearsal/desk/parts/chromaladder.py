"""A small ladder of strength: the picture's colours at the left, the print's at the right, a rung for quiet and one for strong."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.core.tuning.chroma import chroma_out
from rehearsal.core.values.adjustments import ADJUSTMENTS
from rehearsal.core.values.words import amount, word
from rehearsal.desk import theme
from rehearsal.desk.parts.focus import paint_focus

#: Oklab chroma where the rungs begin, and where the rails end (a strong red of the usual working spaces).
RUNGS = {"strength": 0.2, "quiet": 0.06}
MOST = 0.3
_THREADS = np.arange(0.0, MOST + 1e-9, 0.03)
_EDGE, _SIDE, _TRIED, _COARSE = 7, 46, 101, 5
_HANDLE = QSize(18, 10)


class ChromaLadder(QWidget):
    """``moving`` and ``set_to`` tell the name of an adjustment and its value in per cent."""

    moving = pyqtSignal(str, float)
    set_to = pyqtSignal(str, float)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.values = dict.fromkeys(RUNGS, 0.0)
        self.chosen = "strength"
        self._held: tuple[float, np.ndarray, np.ndarray] | None = None
        self._moved = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Ladder of colour strength")
        self.setToolTip("Drag a rung: strength of all colours, or of quiet ones alone")

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(180), theme.px(72))

    def minimumSizeHint(self) -> QSize:
        """It may be small."""
        return QSize(theme.px(140), theme.px(54))

    def show_values(self, strength: float, quiet: float) -> None:
        """The amounts as they are kept; not under the hand."""
        if self._held is None:
            self.values = {"strength": strength, "quiet": quiet}
            self._tell()

    def _tell(self) -> None:
        name = self.chosen
        self.setAccessibleDescription(f"{word('adjustment', name)}: {amount(name, self.values[name])}")
        self.update()

    # ---- places

    def y_of(self, chroma: float) -> float:
        """Where a strength lies on both rails, strong above."""
        high = self.height() - 2 * _EDGE
        return float(_EDGE + (1 - min(max(chroma / MOST, 0.0), 1.0)) * high)

    def out(self, chroma: float, values: dict[str, float] | None = None) -> float:
        """Strength at which one comes out."""
        given = values or self.values
        return float(chroma_out(np.array(chroma), given["strength"], given["quiet"]))

    def _rails(self) -> tuple[float, float]:
        return theme.px(_SIDE), self.width() - theme.px(_SIDE)

    def handle(self, name: str) -> QRectF:
        """A rung's handle at the right."""
        made = QRectF(0, 0, theme.px(_HANDLE.width()), theme.px(_HANDLE.height()))
        made.moveCenter(QPointF(self._rails()[1] + theme.px(6) + made.width() / 2, self.y_of(self.out(RUNGS[name]))))
        return made

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Rails, threads, rungs."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font(theme.SMALL))
        left, right = self._rails()
        painter.setPen(QPen(self.room.colour("border"), 2))
        for x in (left, right):
            painter.drawLine(QPointF(x, self.y_of(MOST)), QPointF(x, self.y_of(0.0)))
        painter.setPen(QPen(self.room.colour("border"), 1))
        for chroma in _THREADS:
            end = self.out(float(chroma))
            if end <= MOST:
                painter.drawLine(QPointF(left, self.y_of(float(chroma))), QPointF(right, self.y_of(end)))
        for name, start in RUNGS.items():
            box, y = self.handle(name), self.y_of(start)
            painter.setPen(QPen(self.room.colour("text"), 1, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(left, y), QPointF(right, y))
            painter.setPen(QPen(self.room.colour("text"), 1.8))
            painter.drawLine(QPointF(left, y), QPointF(right, box.center().y()))
            painter.fillRect(box, self.room.colour("text"))
            if name == self.chosen:
                painter.setPen(QPen(self.room.colour("text"), 1))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(box.adjusted(-3, -3, 3, 3))
            painter.setPen(self.room.colour("quiet"))
            label = QRectF(0, y - theme.px(9), left - theme.px(6), theme.px(18))
            painter.drawText(
                label,
                Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
                "all" if name == "strength" else "quiet",
            )
        paint_focus(painter, self, self.room)

    # ---- hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of a rung."""
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        at, reach = event.position(), theme.px(7)
        under = [n for n in RUNGS if self.handle(n).adjusted(-4, -reach, 4, reach).contains(at)]
        if not under:
            return
        self.chosen = min(under, key=lambda n: abs(self.handle(n).center().y() - at.y()))
        each = ADJUSTMENTS[self.chosen]
        tried = np.linspace(each.low, each.high, _TRIED)
        ys = np.array([self.y_of(self.out(RUNGS[self.chosen], {**self.values, self.chosen: float(v)})) for v in tried])
        self._held, self._moved = (at.y() - self.handle(self.chosen).center().y(), tried, ys), False
        self._tell()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """It follows."""
        if event is not None and self._held is not None:
            off, tried, ys = self._held
            value = float(round(float(np.interp(-(event.position().y() - off), -ys, tried))))
            self._moved = True
            self.values = {**self.values, self.chosen: value}
            self._tell()
            self.moving.emit(self.chosen, value)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """One change; none when nothing was moved."""
        if event is not None and self._held is not None:
            self._held = None
            if self._moved:
                self.set_to.emit(self.chosen, self.values[self.chosen])

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down: the chosen rung, with Shift coarse; page up and down choose; Backspace: zero."""
        key = Qt.Key(event.key()) if event is not None else Qt.Key.Key_unknown
        way = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1}.get(key)
        if event is not None and way is not None:
            self._step(way * (_COARSE if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1))
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self.chosen = "quiet" if key == Qt.Key.Key_PageDown else "strength"
            self._tell()
        elif key in (Qt.Key.Key_Backspace, Qt.Key.Key_Delete):
            self._keep(0.0)
        else:
            super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """The wheel steps the chosen rung while the ladder has the focus."""
        if event is not None and self.hasFocus():
            self._step(1 if event.angleDelta().y() > 0 else -1)
        elif event is not None:
            event.ignore()

    def _step(self, steps: int) -> None:
        self._keep(ADJUSTMENTS[self.chosen].clamp(self.values[self.chosen] + steps))

    def _keep(self, value: float) -> None:
        if value != self.values[self.chosen]:
            self.values = {**self.values, self.chosen: value}
            self._tell()
            self.set_to.emit(self.chosen, value)
