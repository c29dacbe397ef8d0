"""The running order: a line with a ring per station and a few words under each."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QWidget

from rehearsal.desk import theme
from rehearsal.desk.parts.rings import paint_ring

_RING = 6.0
_RING_Y = 13.0


@dataclass(frozen=True)
class StationState:
    """What a station says of itself.

    Attributes:
        ring: ``empty``, ``half``, ``full``, ``look`` (needs a look), ``skip`` (not for this print) or ``work`` (at work).
        words: a few; short: fewer, where those find no room.
        done: share of the work that is done, 0 to 1.
    """

    ring: str = "empty"
    words: str = ""
    short: str = ""
    done: float = 0.0


class _Station(QAbstractButton):
    def __init__(self, index: int, name: str, last: bool, ribbon: Ribbon) -> None:
        super().__init__(ribbon)
        self.index, self._name, self._last, self._ribbon = index, name, last, ribbon
        self.state = StationState()
        self._calm: StationState | None = None
        self.setCheckable(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(name)

    def sizeHint(self) -> QSize:
        return QSize(theme.px(90), theme.px(56))

    def set_state(self, state: StationState) -> None:
        if self._calm is not None:  # its work runs: what it will say then
            self._calm = state
            state = replace(state, ring="work", done=self.state.done)
        self.state = state
        self.setAccessibleDescription(f"{state.words}, {state.ring}")
        self.setToolTip(f"{self._name}: {state.words}\nCtrl+{self.index + 1}; right click: not for this print")
        self.update()

    def shown_words(self) -> str:
        """The words there is room for."""
        metrics, room = QFontMetricsF(theme.font(theme.SMALL)), self.width() - 18
        fitting = [w for w in (self.state.words, self.state.short) if w and metrics.horizontalAdvance(w) <= room]
        return (
            fitting[0]
            if fitting
            else metrics.elidedText(self.state.short or self.state.words, Qt.TextElideMode.ElideRight, room)
        )

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        room = self._ribbon.room
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.isChecked():
            painter.fillRect(self.rect(), room.colour("chrome"))
        self._paint_line(painter, room)
        self._paint_ring(painter, room)
        painter.setPen(room.colour("text"))
        painter.setFont(theme.font(theme.NORMAL, strong=True))
        painter.drawText(
            QRectF(14, theme.px(23), self.width() - 16, theme.px(17)), Qt.AlignmentFlag.AlignVCenter, self._name
        )
        small = theme.font(theme.SMALL)
        painter.setFont(small)
        painter.setPen(room.colour("quiet"))
        box = QRectF(14, theme.px(39), self.width() - 16, theme.px(15))
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, self.shown_words())
        if self.hasFocus():
            painter.setPen(QPen(room.colour("text"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(0.5, 0.5, self.width() - 1, self.height() - 1))

    def _paint_line(self, painter: QPainter, room: theme.Room) -> None:
        x = 14 + _RING
        painter.setPen(QPen(room.colour("text" if self.isChecked() else "line"), 1.4))
        if self.index > 0:
            painter.drawLine(QPointF(0, _RING_Y), QPointF(x - _RING - 1, _RING_Y))
        if not self._last:
            painter.drawLine(QPointF(x + _RING + 1, _RING_Y), QPointF(self.width(), _RING_Y))

    def _paint_ring(self, painter: QPainter, room: theme.Room) -> None:
        centre = QPointF(14 + _RING, _RING_Y)
        paint_ring(painter, centre, _RING, self.state.ring, room, self.state.done)
        if self.isChecked() and self.state.ring != "skip":
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(room.colour("text"), 1.2))
            painter.drawEllipse(centre, _RING + 3, _RING + 3)

    def show_work(self, done: float | None) -> None:
        """Its work runs: the ring fills; None ends it."""
        known = self.state if self._calm is None else self._calm
        self._calm = None if done is None else known
        self.state = known if done is None else replace(known, ring="work", done=done)
        self.update()


class Ribbon(QWidget):
    """All stations; always all reachable.

    Args:
        names: of the stations, in the order of the work.
    """

    chosen = pyqtSignal(int)
    asked_to_skip = pyqtSignal(int)

    def __init__(self, names: Sequence[str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("ribbon")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.room = theme.ROOMS["mid"]
        self.setFixedHeight(theme.px(58))
        self.setAccessibleName("Running order")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self.buttons = [_Station(i, name, i == len(names) - 1, self) for i, name in enumerate(names)]
        for button in self.buttons:
            row.addWidget(button, 1)
            button.clicked.connect(lambda _checked, i=button.index: self.chosen.emit(i))

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        self.room = room
        self.update()

    def set_current(self, index: int) -> None:
        """Mark the open station."""
        for button in self.buttons:
            button.setChecked(button.index == index)

    def show_work(self, index: int, done: float | None) -> None:
        """Work of a station runs: its ring fills; None ends it."""
        self.buttons[index].show_work(done)

    def set_states(self, states: list[StationState]) -> None:
        """Rings and words of all stations."""
        for button, state in zip(self.buttons, states, strict=True):
            button.set_state(state)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Right click: not for this print."""
        if event is not None and event.button() == Qt.MouseButton.RightButton:
            index = math.floor(event.position().x() / max(1, self.width()) * len(self.buttons))
            self.asked_to_skip.emit(min(max(index, 0), len(self.buttons) - 1))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right walk along the line."""
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key())) if event else None
        here = next((b.index for b in self.buttons if b.hasFocus()), None)
        if step is None or here is None:
            super().keyPressEvent(event)
            return
        self.buttons[(here + step) % len(self.buttons)].setFocus()
