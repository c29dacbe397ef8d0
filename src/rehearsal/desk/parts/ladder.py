"""A ladder of lightness: the picture's rail, the print's rail, threads between them, rungs and free points to drag."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QBrush,
    QColor,
    QKeyEvent,
    QLinearGradient,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.core.colour.lab import lightness_to_y
from rehearsal.core.colour.table import srgb_encode
from rehearsal.core.tuning.tone import tone
from rehearsal.core.values.adjustments import ADJUSTMENTS, Values
from rehearsal.core.values.pull import Point
from rehearsal.core.values.words import amount, word
from rehearsal.desk import theme
from rehearsal.desk.parts.focus import paint_focus

#: Rungs from the lightest down, each with the L* of the picture it starts from.
RUNGS = {"lightest": 100.0, "light_half": 75.0, "lightness": 50.0, "dark_half": 25.0, "deepest": 0.0}
_ENDS = ("lightest", "deepest")
#: The bracket from the light half to the dark one.
CONTRAST = "contrast"
_LEVELS = np.linspace(0.0, 100.0, 101)
_THREADS = range(0, 101, 5)
_TONES, _LEFT, _RIGHT, _RAIL, _EDGE, _HEAD = 44, 50, 78, 16, 6, 16
_HANDLE = QSize(18, 10)
_REACH, _COARSE = 12.0, 5
#: So many values of a rung are tried to find the one that brings it under the pointer.
_TRIED = 121


class Ladder(QWidget):
    """``moving`` and ``set_to`` tell values of the tone (all of them) while a rung or point is dragged, and at rest."""

    moving = pyqtSignal(object)
    set_to = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.values = Values()
        self._printed, self._tones = _LEVELS, np.zeros(101)
        self.is_known = False
        #: A rung's name, or the L* of a free point.
        self.chosen: str | float = "lightness"
        self._held: tuple[float, np.ndarray, np.ndarray] | None = None
        self._pressed_at, self._moved = QPointF(), False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Ladder of lightness")

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(280), theme.px(180))

    def minimumSizeHint(self) -> QSize:
        """It may be small."""
        return QSize(theme.px(214), theme.px(104))

    def show_ladder(self, printed: np.ndarray | None, tones: np.ndarray | None) -> None:
        """Absolute L* (101,) at which greys of L* 0 to 100 come out, and the picture's tones (101,), 1 at their largest.

        None while they are not known: no other paper's ladder stands there meanwhile.
        """
        self.is_known = printed is not None and tones is not None
        if printed is not None and tones is not None:
            self._printed, self._tones = np.maximum.accumulate(printed), tones
        self.update()

    def show_values(self, values: Values) -> None:
        """The tuning as it is kept; not under the hand."""
        if self._held is None:
            self.values = values
            if isinstance(self.chosen, float) and self.chosen not in [p.at for p in values.points]:
                self.chosen = "lightness"
            self._tell()
            self.update()

    def _tell(self) -> None:
        self.setAccessibleDescription(f"{self._name()}: {self._words()}")

    def _name(self) -> str:
        return (
            word("adjustment", self.chosen) if isinstance(self.chosen, str) else f"free point at L* {self.chosen:.0f}"
        )

    def _words(self) -> str:
        if isinstance(self.chosen, str):
            return amount(self.chosen, self.values[self.chosen])
        return f"to L* {next((p.to for p in self.values.points if p.at == self.chosen), self.chosen):.0f}"

    # ---- places

    def y_of(self, lightness: float) -> float:
        """Where an L* lies on both rails."""
        top, foot = theme.px(_HEAD) + _EDGE, self.height() - _EDGE
        return float(top + (100.0 - lightness) / 100.0 * (foot - top))

    def rails(self) -> tuple[float, float]:
        """x where the threads begin and end."""
        return theme.px(_LEFT + _RAIL), self.width() - theme.px(_RIGHT + _RAIL)

    def out(self, lightness: float | np.ndarray, values: Values | None = None) -> np.ndarray:
        """Absolute L* at which the picture's L* comes out on the paper."""
        tuned = tone(np.asarray(lightness, dtype=float), self.values if values is None else values)
        return np.asarray(np.interp(tuned, _LEVELS, self._printed))

    def start_of(self, name: str, values: Values | None = None) -> float:
        """L* of the picture where a rung begins: of an end pulled in, what becomes plain black or white."""
        value = (values or self.values)[name]
        return RUNGS[name] - value if (name == "lightest") == (value > 0) and name in _ENDS and value else RUNGS[name]

    def handle(self, name: str) -> QRectF:
        """A rung's handle; by turns nearer and further, so that they do not meet. That of contrast sits on its bracket."""
        if name == CONTRAST:
            return self._bracket_handle()
        near = list(RUNGS).index(name) % 2 == 0
        _left, right = self.rails()
        x = right + theme.px(_RAIL) + (theme.px(8) if near else theme.px(32))
        made = QRectF(0, 0, theme.px(_HANDLE.width()), theme.px(_HANDLE.height()))
        made.moveCenter(QPointF(x + made.width() / 2, self.y_of(float(self.out(self.start_of(name))))))
        return made

    def bracket(self) -> tuple[float, float, float]:
        """x of the bracket that spans the halves, and y of its upper and lower end."""
        x = self.rails()[1] + theme.px(_RAIL + 56)
        return x, self.handle("light_half").center().y(), self.handle("dark_half").center().y()

    def _bracket_handle(self) -> QRectF:
        x, top, foot = self.bracket()
        made = QRectF(0, 0, theme.px(_HANDLE.height()), theme.px(_HANDLE.width()))
        made.moveCenter(QPointF(x, (top + foot) / 2))
        return made

    def point_place(self, point: Point) -> QPointF:
        """A free point's ring, two thirds along its thread."""
        before = tone(_LEVELS, replace(self.values, points=()))
        start = float(np.interp(point.at, before, _LEVELS))
        left, right = self.rails()
        one, two = self.y_of(start), self.y_of(float(np.interp(point.to, _LEVELS, self._printed)))
        return QPointF(left + (right - left) * 2 / 3, one + (two - one) * 2 / 3)

    def _thread_at(self, at: QPointF) -> float | None:
        """L* of the picture whose thread runs through a place between the rails; None beside them."""
        left, right = self.rails()
        share = (at.x() - left) / (right - left)
        if not 0.05 < share < 0.95:
            return None
        starts = np.array([self.y_of(v) for v in _LEVELS])
        ends = np.array([self.y_of(float(v)) for v in self.out(_LEVELS)])
        ys = starts + (ends - starts) * share
        return float(np.interp(-at.y(), -ys, _LEVELS))

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Tones, rails, threads, rungs, points."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font(theme.SMALL))
        if not self.is_known:
            painter.setPen(self.room.colour("quiet"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "not measured yet")
            return
        left, right = self.rails()
        painter.setPen(self.room.colour("quiet"))
        for words, x in (("picture", left - theme.px(_RAIL) / 2), ("print", right + theme.px(_RAIL) / 2)):
            painter.drawText(QRectF(x - 40, 0, 80, theme.px(_HEAD)), Qt.AlignmentFlag.AlignCenter, words)
        self._paint_tones(painter, left)
        self._paint_rails(painter, left, right)
        self._paint_threads(painter, left, right)
        for name in RUNGS:
            self._paint_rung(painter, name, left, right)
        self._paint_bracket(painter)
        for point in self.values.points:
            place = self.point_place(point)
            painter.setPen(QPen(QColor(20, 20, 20), 3))
            painter.setBrush(self.room.colour("light" if point.at == self.chosen else "chrome"))
            painter.drawEllipse(place, 5, 5)
            painter.setPen(QPen(self.room.colour("text"), 1.6))
            painter.drawEllipse(place, 5, 5)
        paint_focus(painter, self, self.room)

    def _paint_tones(self, painter: QPainter, left: float) -> None:
        edge = left - theme.px(_RAIL) - 2
        line = [QPointF(edge - float(v) * theme.px(_TONES), self.y_of(i)) for i, v in enumerate(self._tones)]
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.room.colour("border"))
        painter.drawPolygon(QPolygonF([QPointF(edge, self.y_of(0)), *line, QPointF(edge, self.y_of(100))]))

    def _paint_rails(self, painter: QPainter, left: float, right: float) -> None:
        wide, white = theme.px(_RAIL), self.room.lightest
        for x, low, high in ((left - wide, 0.0, 100.0), (right, float(self._printed[0]), float(self._printed[-1]))):
            box = QRectF(x, self.y_of(high), wide, self.y_of(low) - self.y_of(high))
            ramp = QLinearGradient(box.bottomLeft(), box.topLeft())
            for i in range(11):
                level = _grey(low + (high - low) * i / 10, white)
                ramp.setColorAt(i / 10, QColor(level, level, level))
            painter.fillRect(box, ramp)
        hatch = QBrush(self.room.colour("border"), Qt.BrushStyle.HorPattern)
        for top, foot in ((100.0, float(self._printed[-1])), (float(self._printed[0]), 0.0)):
            painter.fillRect(QRectF(right, self.y_of(top), wide, self.y_of(foot) - self.y_of(top)), hatch)
        painter.setPen(QPen(self.room.colour("border"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(QRectF(right, self.y_of(100), wide, self.y_of(0) - self.y_of(100)))

    def _paint_threads(self, painter: QPainter, left: float, right: float) -> None:
        quiet, strong = self.room.line, self.room.quiet
        for level in _THREADS:
            share = float(self._tones[level]) ** 0.5
            grey = round(quiet + (strong - quiet) * share)
            painter.setPen(QPen(QColor(grey, grey, grey), 1))
            end = self.y_of(float(self.out(float(level))))
            painter.drawLine(QPointF(left, self.y_of(level)), QPointF(right, end))

    def _paint_rung(self, painter: QPainter, name: str, left: float, right: float) -> None:
        start, box = self.start_of(name), self.handle(name)
        light = self.room.colour("text")
        if self.values:
            untuned = self.y_of(float(self.out(RUNGS[name], Values())))
            painter.setPen(QPen(light, 1, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(left, self.y_of(RUNGS[name])), QPointF(right, untuned))
        painter.setPen(QPen(light, 1.8))
        painter.drawLine(QPointF(left, self.y_of(start)), QPointF(right, box.center().y()))
        painter.setPen(QPen(self.room.colour("border"), 1))
        painter.drawLine(QPointF(right + theme.px(_RAIL), box.center().y()), box.center())
        painter.fillRect(box, light)
        if name == self.chosen:
            painter.setPen(QPen(light, 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box.adjusted(-3, -3, 3, 3))

    def _paint_bracket(self, painter: QPainter) -> None:
        """Contrast: the spread of the halves."""
        x, top, foot = self.bracket()
        arm, box = theme.px(5), self.handle(CONTRAST)
        painter.setPen(QPen(self.room.colour("border"), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(
            QPolygonF([QPointF(x - arm, top), QPointF(x, top), QPointF(x, foot), QPointF(x - arm, foot)])
        )
        painter.fillRect(box, self.room.colour("text"))
        if self.chosen == CONTRAST:
            painter.setPen(QPen(self.room.colour("text"), 1))
            painter.drawRect(box.adjusted(-3, -3, 3, 3))

    # ---- hands

    def _at(self, place: QPointF) -> str | float | None:
        """What lies under a place: a rung's name, a free point's L*, or nothing."""
        gaps: list[tuple[float, str | float]] = []
        for name in (*RUNGS, CONTRAST):
            box = self.handle(name)
            if box.adjusted(-4, -8, 4, 8).contains(place):
                gaps.append((abs(box.center().y() - place.y()), name))
        for point in self.values.points:
            away = self.point_place(point) - place
            if np.hypot(away.x(), away.y()) <= _REACH:
                gaps.append((float(np.hypot(away.x(), away.y())), point.at))
        return min(gaps)[1] if gaps else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of a rung or a point; a press on a thread makes a free point there; the right button takes a point away."""
        if event is None or not self.is_known:
            return
        under = self._at(event.position())
        if event.button() == Qt.MouseButton.RightButton and isinstance(under, float):
            self._keep(self._without(under))
        if event.button() != Qt.MouseButton.LeftButton:
            return
        self._moved = False
        if under is None:
            level = self._thread_at(event.position())
            if level is None:
                return
            at = round(float(tone(np.array(level), replace(self.values, points=()))), 1)
            if not 0.5 <= at <= 99.5:
                return
            to = round(float(tone(np.array(level), self.values)), 2)
            self.values = replace(
                self.values, points=tuple(sorted((*self.values.points, Point(at, to)), key=lambda p: p.at))
            )
            under, self._moved = at, True
        self.chosen = under
        self._pressed_at = event.position()
        self._held = self._table(under, event.position().y())
        self._tell()
        self.update()

    def _table(self, what: str | float, y: float) -> tuple[float, np.ndarray, np.ndarray]:
        """How far the pointer is from what it holds, and for tried values the y they bring it to."""
        if isinstance(what, float):
            tried = np.linspace(0.0, 100.0, _TRIED)
            place = self.point_place(next(p for p in self.values.points if p.at == what))
            ys = np.array([self.point_place(Point(what, float(v))).y() for v in tried])
            return y - place.y(), tried, ys
        each = ADJUSTMENTS[what]
        tried = np.linspace(each.low, each.high, _TRIED)
        if what in _ENDS:  # as far as the pointer went, on the rail's own scale: an end pulled in stays where it is
            here = self.y_of(0.0) - self.y_of(1.0)
            return 0.0, tried, y - (tried - self.values[what]) * here
        if what == CONTRAST:  # as far as the light half goes
            light = [self.y_of(float(self.out(75.0, self.values.having(what, float(v))))) for v in tried]
            return 0.0, tried, y + np.array(light) - self.y_of(float(self.out(75.0)))
        ys = np.array([self.y_of(float(self.out(RUNGS[what], self.values.having(what, float(v))))) for v in tried])
        return y - self.handle(what).center().y(), tried, ys

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """The rung or the point follows."""
        if event is None or self._held is None:
            return
        if not self._moved and abs(event.position().y() - self._pressed_at.y()) < 2:
            return
        off, tried, ys = self._held
        self._moved = True
        self.values = self._with(float(np.interp(-(event.position().y() - off), -ys, tried)))
        self._tell()
        self.moving.emit(self.values)
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """One change; none when nothing was moved."""
        if event is not None and self._held is not None:
            self._held = None
            if self._moved:
                self._keep(self.values)

    def _with(self, value: float) -> Values:
        """What is chosen set to a value, in whole steps."""
        if isinstance(self.chosen, str):
            each = ADJUSTMENTS[self.chosen]
            return self.values.having(self.chosen, each.clamp(round(value / each.step) * each.step))
        to = round(min(max(value, 0.0), 100.0), 1)
        points = tuple(Point(p.at, to) if p.at == self.chosen else p for p in self.values.points)
        return replace(self.values, points=points)

    def _without(self, at: float) -> Values:
        self.chosen = "lightness"
        return replace(self.values, points=tuple(p for p in self.values.points if p.at != at))

    def _keep(self, values: Values) -> None:
        self.values = values
        self._tell()
        self.update()
        self.set_to.emit(values)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down: the chosen one, with Shift coarse; page up and down choose; Backspace: zero, or the point away."""
        key = Qt.Key(event.key()) if event is not None else Qt.Key.Key_unknown
        way = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1}.get(key)
        if event is not None and way is not None:
            self._step(way * (_COARSE if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1))
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self._choose(1 if key == Qt.Key.Key_PageDown else -1)
        elif key in (Qt.Key.Key_Backspace, Qt.Key.Key_Delete):
            self._keep(self._with(0.0) if isinstance(self.chosen, str) else self._without(self.chosen))
        else:
            super().keyPressEvent(event)

    def _step(self, steps: int) -> None:
        if isinstance(self.chosen, str):
            now, step = self.values[self.chosen], ADJUSTMENTS[self.chosen].step
        else:
            now, step = next(p.to for p in self.values.points if p.at == self.chosen), 1.0
        made = self._with(now + steps * step)
        if made != self.values:
            self._keep(made)

    def _choose(self, way: int) -> None:
        """The next rung or point down, or up."""
        rows: list[tuple[float, str | float]] = [(RUNGS[name], name) for name in RUNGS]
        rows.append((49.0, CONTRAST))
        rows += [(p.at, p.at) for p in self.values.points]
        order = [what for _level, what in sorted(rows, key=lambda row: -row[0])]
        self.chosen = order[min(max(order.index(self.chosen) + way, 0), len(order) - 1)]
        self._tell()
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """The wheel steps the chosen one while the ladder has the focus."""
        if event is not None and self.hasFocus():
            self._step(1 if event.angleDelta().y() > 0 else -1)
        elif event is not None:
            event.ignore()


def _grey(lightness: float, white: int) -> int:
    """8-bit grey of L*, the lightest as light as a grey of the room."""
    y = float(lightness_to_y(np.array(lightness))) * theme.luminance(white)
    return round(float(srgb_encode(np.array(y))) * 255)
