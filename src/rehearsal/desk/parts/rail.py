"""A rail: one value on a scale of its own, with named places; dragged, stepped by keys or turned by the wheel."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.desk import theme
from rehearsal.desk.parts.focus import paint_focus

_HANDLE_WIDE, _HANDLE_HIGH, _ENDS = 8, 20, 8
#: So far from the handle's middle it is taken hold of, px.
_REACH = 12.0
_LINE_Y, _NAMES_Y, _HEIGHT = 12, 22, 38


@dataclass(frozen=True)
class Scale:
    """The scale of a rail.

    Attributes:
        low, high: values at its ends.
        place: a value's place, in any unit that is even along the rail; value: the other way.
        step: of one key press, in that unit.
    """

    low: float
    high: float
    place: Callable[[float], float]
    value: Callable[[float], float]
    step: float

    def share(self, value: float) -> float:
        """Where a value lies, 0 at the left end to 1."""
        low, high = self.place(self.low), self.place(self.high)
        return min(max((self.place(value) - low) / (high - low), 0.0), 1.0)

    def at(self, share: float) -> float:
        """The value at a share of the rail."""
        low, high = self.place(self.low), self.place(self.high)
        return self.value(low + min(max(share, 0.0), 1.0) * (high - low))

    def stepped(self, value: float, steps: float) -> float:
        """A value so many steps on; it never leaves the ends, and one typed beyond them never turns back on the way out."""
        here = self.place(value)
        low, high = sorted((self.place(self.low), self.place(self.high)))
        ahead = 1.0 if self.place(self.high) > self.place(self.low) else -1.0
        return self.value(min(max(here + ahead * steps * self.step, min(low, here)), max(high, here)))


class Rail(QWidget):
    """``moving`` while it is dragged, ``set_to`` when it comes to rest; a value of 0 is not known and has no handle.

    Args:
        name: what it sets; words: a value in words, for screen readers.
        places: values with a name each.
        signed: 0 is a value like all others.
    """

    moving = pyqtSignal(float)
    set_to = pyqtSignal(float)

    def __init__(
        self,
        name: str,
        scale: Scale,
        words: Callable[[float], str],
        places: Sequence[tuple[float, str]],
        signed: bool = False,
    ) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.scale, self._words, self._places = scale, words, tuple(places)
        self.value, self._signed = 0.0, signed
        self._held = self._moved = False
        #: Pixels from the pointer to the middle of the handle it took hold of.
        self._off = 0.0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(name)

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(190), self._high)

    def minimumSizeHint(self) -> QSize:
        """It may be short."""
        return QSize(theme.px(110), self._high)

    def show_value(self, value: float) -> None:
        """Show a value without telling anybody, unless it is being dragged."""
        if not self._held:
            self._become(value)

    def _become(self, value: float) -> None:
        self.value = value
        self.setAccessibleDescription(self._words(value))
        self.update()

    @property
    def _high(self) -> int:
        return theme.px(_HEIGHT if any(name for _value, name in self._places) else 2 * _LINE_Y)

    @property
    def _is_known(self) -> bool:
        return self._signed or self.value > 0

    # ---- painting

    def place_of(self, value: float) -> QPointF:
        """Where a value lies in the widget."""
        ends = theme.px(_ENDS)
        return QPointF(ends + self.scale.share(value) * (self.width() - 2 * ends), theme.px(_LINE_Y))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Line, places with the names there is room for, the handle."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        y = float(theme.px(_LINE_Y))
        painter.setPen(QPen(self.room.colour("border"), 1.4))
        painter.drawLine(QPointF(theme.px(_ENDS), y), QPointF(self.width() - theme.px(_ENDS), y))
        self._paint_places(painter, y)
        if self._is_known:
            handle = QRectF(0, 0, theme.px(_HANDLE_WIDE), theme.px(_HANDLE_HIGH))
            handle.moveCenter(self.place_of(self.value))
            painter.fillRect(handle, self.room.colour("text"))
        paint_focus(painter, self, self.room)

    def _paint_places(self, painter: QPainter, y: float) -> None:
        font = theme.font(theme.SMALL)
        painter.setFont(font)
        metrics, free = QFontMetricsF(font), 0.0
        for value, name in sorted(self._places, key=lambda p: self.place_of(p[0]).x()):
            x, wide = self.place_of(value).x(), metrics.horizontalAdvance(name)
            painter.setPen(QPen(self.room.colour("border"), 1.4))
            painter.drawLine(QPointF(x, y - 5), QPointF(x, y + 5))
            left = min(max(x - wide / 2, 0.0), self.width() - wide)
            if name and left >= free:
                painter.setPen(self.room.colour("quiet"))
                painter.drawText(
                    QRectF(left, theme.px(_NAMES_Y), wide + 1, theme.px(15)), Qt.AlignmentFlag.AlignVCenter, name
                )
                free = left + wide + 8

    # ---- hands

    def _at(self, x: float) -> float:
        ends = theme.px(_ENDS)
        return self.scale.at((x - ends) / max(self.width() - 2 * ends, 1))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of the handle as it is, or bring it to where the rail is pressed."""
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self._held, self._moved, self._off = True, False, 0.0
        off = self.place_of(self.value).x() - event.position().x()
        if self._is_known and abs(off) <= _REACH:
            self._off = off
        else:
            self._drag(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Follow the pointer."""
        if event is not None and self._held:
            self._drag(event.position().x())

    def _drag(self, x: float) -> None:
        self._moved = True
        self._become(self._at(x + self._off))
        self.moving.emit(self.value)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go: one change, none when nothing was moved."""
        if event is not None and self._held:
            self._held = False
            if self._moved:
                self.set_to.emit(self.value)

    def _step(self, steps: float) -> None:
        self._become(self.scale.stepped(self.value if self._is_known else self.scale.at(0.5), steps))
        self.set_to.emit(self.value)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows step, with Shift five times as far."""
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Down: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: 1}.get(
            Qt.Key(event.key()) if event else Qt.Key.Key_unknown
        )
        if event is None or step is None:
            super().keyPressEvent(event)
        else:
            self._step(step * (5 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1))

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """The wheel steps while the rail has the focus; else it scrolls what is under it."""
        if event is not None and self.hasFocus():
            self._step(1 if event.angleDelta().y() > 0 else -1)
        elif event is not None:
            event.ignore()
