"""Screen and lit paper as two bars in one logarithmic scale of luminance, the picture's tones between them."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QKeyEvent,
    QLinearGradient,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QPolygonF,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.core.screen.held import BINS, DECADES, Held
from rehearsal.desk import theme

_LEAST, _MOST = 0.07, 140.0
#: Pixels at the usual type: labels of the scale, width of a bar, of the silhouette to each side, of a handle.
_LABELS, _BAR, _TONES, _HANDLE, _TARGET, _GRIP = 36, 58, 56, 74, 24, 10
_TOP, _FOOT, _HATCH = 30, 10, 5
_FINE, _COARSE = 1.01, 1.08


class Grip(QWidget):
    """The handle of a white: dragged up and down, or stepped by keys. ``moved`` tells a new luminance, ``let_go`` the last."""

    moved = pyqtSignal(float)
    let_go = pyqtSignal(float)

    def __init__(self, name: str, parent: LightScale) -> None:
        super().__init__(parent)
        self._scale, self.value, self._held, self._moved = parent, 1.0, False, False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(name)
        self.setCursor(Qt.CursorShape.SizeVerCursor)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """A light bar; dotted round when it has the focus."""
        painter, room = QPainter(self), self._scale.room
        bar = QRectF(0, 0, self.width() - 2, theme.px(_GRIP))
        bar.moveCenter(QRectF(self.rect()).center())
        painter.fillRect(bar, room.colour("text"))
        if self.hasFocus():
            painter.setPen(QPen(room.colour("text"), 1, Qt.PenStyle.DotLine))
            painter.drawRect(QRectF(0.5, 0.5, self.width() - 1, self.height() - 1))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold."""
        self._held = event is not None and event.button() == Qt.MouseButton.LeftButton
        self._moved = False

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Follow the pointer."""
        if event is not None and self._held:
            y = self.mapToParent(event.position().toPoint()).y()
            self.value, self._moved = self._scale.luminance_at(float(y)), True
            self.moved.emit(self.value)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """One change, none when nothing was moved."""
        if event is not None and self._held:
            self._held = False
            if self._moved:
                self.let_go.emit(self.value)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down: one per cent; with Shift eight."""
        ways = {Qt.Key.Key_Up: 1, Qt.Key.Key_Right: 1, Qt.Key.Key_Down: -1, Qt.Key.Key_Left: -1}
        way = ways.get(Qt.Key(event.key())) if event is not None else None
        if event is None or way is None:
            super().keyPressEvent(event)
            return
        factor = _COARSE if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else _FINE
        self.let_go.emit(self.value * factor**way)


class LightScale(QWidget):
    """What is seen and what will be held. ``screen_set`` and ``paper_set`` tell a white's luminance in cd/m².

    Args:
        previewed: asked for what would be held at other whites (screen, paper), while one is dragged.
    """

    screen_set = pyqtSignal(float)
    paper_set = pyqtSignal(float)

    def __init__(self, previewed: Callable[[float, float], None]) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.held: Held | None = None
        self._outline = np.zeros(BINS)
        self._previewed = previewed
        self.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Luminance of screen and lit paper")
        self.screen_grip = Grip("White of the screen", self)
        self.paper_grip = Grip("White of the lit paper", self)
        self.screen_grip.moved.connect(lambda v: self._previewed(v, self.paper_grip.value))
        self.paper_grip.moved.connect(lambda v: self._previewed(self.screen_grip.value, v))
        self.screen_grip.let_go.connect(self.screen_set)
        self.paper_grip.let_go.connect(self.paper_set)

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(372), theme.px(176))

    def minimumSizeHint(self) -> QSize:
        """It may be low."""
        return QSize(theme.px(250), theme.px(120))

    def show_held(self, held: Held | None, outline: np.ndarray | None) -> None:
        """Show whites and blacks, and the silhouette of a picture's tones (BINS,)."""
        self.held = held
        self._outline = np.zeros(BINS) if outline is None else outline
        for grip in (self.screen_grip, self.paper_grip):
            grip.setVisible(held is not None)
        if held is not None:
            self.screen_grip.value, self.paper_grip.value = held.screen_white, held.paper_white
            self.screen_grip.setAccessibleDescription(f"{held.screen_white:.0f} cd/m²")
            self.paper_grip.setAccessibleDescription(f"{held.paper_white:.0f} cd/m²")
            self._place_grips()
        self.update()

    def resizeEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        """Handles stay on their whites."""
        super().resizeEvent(event)
        self._place_grips()

    def _place_grips(self) -> None:
        if self.held is None:
            return
        for grip, box, value in (
            (self.screen_grip, self._bar(0), self.held.screen_white),
            (self.paper_grip, self._bar(1), self.held.paper_white),
        ):
            grip.resize(round(self._wide(_HANDLE)), theme.px(_TARGET))
            grip.move(round(box.center().x() - grip.width() / 2), round(self.y_of(value) - grip.height() / 2))

    # ---- places

    @property
    def ends(self) -> tuple[float, float]:
        """Luminances at foot and top of the scale."""
        if self.held is None:
            return _LEAST, _MOST
        top = max(_MOST, self.held.screen_white * 1.15, self.held.paper_white * 1.15)
        return min(_LEAST, self.held.paper_black / 1.5), top

    def y_of(self, luminance: float) -> float:
        """Where a luminance lies; what is under the scale lies at its foot."""
        low, high = (math.log10(v) for v in self.ends)
        top, foot = theme.px(_TOP), self.height() - theme.px(_FOOT)
        share = (math.log10(max(luminance, 1e-9)) - low) / (high - low)
        return foot - min(max(share, 0.0), 1.0) * (foot - top)

    def luminance_at(self, y: float) -> float:
        """The luminance at a height."""
        low, high = (math.log10(v) for v in self.ends)
        top, foot = theme.px(_TOP), self.height() - theme.px(_FOOT)
        share = min(max((foot - y) / max(foot - top, 1), 0.0), 1.0)
        return float(10 ** (low + share * (high - low)))

    def _wide(self, pixels: int) -> float:
        """Pixels across at the usual type, less where the scale is narrow."""
        return theme.px(pixels) * min(1.0, self.width() / theme.px(372))

    def _bar(self, which: int) -> QRectF:
        """Screen (0) or paper (1), over the whole height of the scale."""
        left = theme.px(_LABELS) + self._wide(8) + which * self._wide(_BAR + 2 * _TONES + 72)
        return QRectF(left, theme.px(_TOP), self._wide(_BAR), self.height() - theme.px(_TOP + _FOOT))

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Scale, bars, silhouette, and hatched what the paper cannot hold."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font(theme.SMALL))
        self._paint_decades(painter)
        if self.held is None:
            return
        h, light = self.held, self.room.lightest
        self._paint_bar(painter, self._bar(0), (h.screen_white, h.screen_black), light, f"screen, {h.screen_white:.0f}")
        level = round(light * min(1.0, (h.paper_white / h.screen_white) ** (1 / 2.2)))
        self._paint_bar(painter, self._bar(1), (h.paper_white, h.paper_black), level, f"lit paper, {h.paper_white:.0f}")
        self._paint_hatch(painter, QRectF(self._bar(1).left(), self.y_of(h.paper_black), self._bar(1).width(), 0))
        self._paint_tones(painter, h)

    def _paint_decades(self, painter: QPainter) -> None:
        low, high = self.ends
        for power in range(math.ceil(math.log10(low)), math.floor(math.log10(high)) + 1):
            y = self.y_of(10.0**power)
            painter.setPen(QPen(self.room.colour("line"), 1))
            painter.drawLine(QPointF(theme.px(_LABELS), y), QPointF(self._bar(1).right() + theme.px(12), y))
            painter.setPen(self.room.colour("quiet"))
            box = QRectF(0, y - theme.px(8), theme.px(_LABELS - 6), theme.px(16))
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, f"{10.0**power:g}")

    def _paint_bar(self, painter: QPainter, box: QRectF, ends: tuple[float, float], level: int, words: str) -> None:
        """From its white to its black, as light as they are to each other."""
        top, foot = self.y_of(ends[0]), self.y_of(ends[1])
        grey = QLinearGradient(QPointF(0, top), QPointF(0, foot))
        for i in range(9):
            y = 10 ** (i / 8 * math.log10(max(ends[1] / ends[0], 1e-6)))
            value = round(level * y ** (1 / 2.2))
            grey.setColorAt(i / 8, QColor(value, value, value))
        painter.fillRect(QRectF(box.x(), top, box.width(), foot - top), grey)
        painter.setPen(self.room.colour("text"))
        words_box = QRectF(box.x() - self._wide(36), 0, box.width() + self._wide(72), theme.px(17))
        painter.drawText(words_box, Qt.AlignmentFlag.AlignCenter, words)

    def _paint_hatch(self, painter: QPainter, box: QRectF, path: QPainterPath | None = None) -> None:
        """Level strokes from a box's top to the foot of the scale, within a path."""
        foot = self._bar(1).bottom()
        painter.save()
        if path is not None:
            painter.setClipPath(path, Qt.ClipOperation.IntersectClip)
        painter.setPen(QPen(self.room.colour("mark"), 1))
        y = box.top() + 2
        while y < foot:
            painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
            y += _HATCH
        painter.restore()

    def _paint_tones(self, painter: QPainter, h: Held) -> None:
        """The silhouette on the screen's scale, hatched under the paper's black as it lies there when the whites meet."""
        if not self._outline.any():
            return
        middle = (self._bar(0).right() + self._bar(1).left()) / 2
        half = self._wide(_TONES)
        luminance = h.screen_white * 10.0 ** ((np.arange(BINS) + 0.5) / BINS * DECADES - DECADES)
        ys = [self.y_of(float(v)) for v in luminance]
        left = [QPointF(middle - half * float(w), y) for w, y in zip(self._outline, ys, strict=True)]
        right = [QPointF(middle + half * float(w), y) for w, y in zip(self._outline, ys, strict=True)]
        path = QPainterPath()
        path.addPolygon(QPolygonF([*left, *reversed(right)]))
        path.closeSubpath()
        black = self.y_of(h.screen_white / h.paper_contrast)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.room.colour("border"))
        painter.save()
        painter.setClipRect(QRectF(0, 0, self.width(), black))
        painter.drawPath(path)
        painter.restore()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(self.room.colour("border"), 1))
        painter.drawPath(path)
        self._paint_hatch(painter, QRectF(middle - half, black, 2 * half, 0), path)
        painter.setPen(QPen(self.room.colour("quiet"), 1, Qt.PenStyle.DotLine))
        for screen, paper in ((h.screen_white / h.paper_contrast, h.paper_black), (h.screen_white, h.paper_white)):
            start = QPointF(middle + half if screen < h.screen_white else self._bar(0).right(), self.y_of(screen))
            painter.drawLine(start, QPointF(self._bar(1).left(), self.y_of(paper)))
        painter.setPen(self.room.colour("text"))
        painter.drawText(QRectF(middle - half, 0, 2 * half, theme.px(17)), Qt.AlignmentFlag.AlignCenter, "its tones")
