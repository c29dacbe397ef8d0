"""The drift of a screen's white: what was read, what is expected, and the day to calibrate again."""

from __future__ import annotations

from datetime import date, timedelta

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from rehearsal.core.screen.drift import Drift
from rehearsal.core.values.words import date_words
from rehearsal.desk import theme
from rehearsal.desk.parts.rings import paint_ring

_LEFT, _TOP, _FOOT, _RING = 30, 20, 18, 4.2
#: The scale shows this much at least, as a share of the aim: little drift shall not look like much.
_LEAST = 0.05


class DriftPlot(QWidget):
    """Rings are read, the dashed line is expected, the upright is the day to calibrate again, dotted is a calibration."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._drift: Drift | None = None
        self._aim, self._today = 100.0, date.today()
        self.setMinimumHeight(theme.px(90))
        self.setAccessibleName("Drift of the screen's white")

    def show_drift(self, drift: Drift, aim: float, today: date) -> None:
        """Show it against the white that is aimed at, cd/m²."""
        self._drift, self._aim, self._today = drift, aim, today
        read = [f"{date_words(p.day.isoformat())} {p.white:.0f}" for p in drift.points]
        due = "" if drift.due is None else f"; calibrate again on {date_words(drift.due.isoformat())}"
        self.setAccessibleDescription(f"read, cd/m²: {', '.join(read) or 'nothing yet'}{due}")
        self.update()

    # ---- places

    def _days(self) -> tuple[date, date]:
        d = self._drift
        known = [self._today, *(p.day for p in d.points)] if d else [self._today]
        known += [day for day in (d.calibrated, d.due) if day is not None] if d else []
        first, last = min(known), max(known)
        return first, max(last, first + timedelta(days=14))

    def place(self, day: date, white: float) -> QPointF:
        """Where a white on a day lies in the widget."""
        first, last = self._days()
        box = self._box()
        x = box.left() + (day - first).days / (last - first).days * box.width()
        low, high = self._ends()
        return QPointF(x, box.bottom() - (white - low) / (high - low) * box.height())

    def _box(self) -> QRectF:
        left, top = theme.px(_LEFT), theme.px(_TOP)
        return QRectF(left, top, max(self.width() - left - 8, 1), max(self.height() - top - theme.px(_FOOT), 1))

    def _ends(self) -> tuple[float, float]:
        values = [self._aim, *(p.white for p in self._drift.points)] if self._drift else [self._aim]
        end = None if self._drift is None or self._drift.due is None else self._drift.expected(self._drift.due)
        values += [end] if end is not None else []
        low, high = min(values), max(values)
        more = max(_LEAST * self._aim - (high - low), 0.0) + 0.15 * max(high - low, _LEAST * self._aim)
        return low - more, high + 0.1 * (high - low)

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Aim, calibration, read points, expected line, the day it is due."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font(theme.SMALL))
        box, d = self._box(), self._drift
        aim = self.place(self._today, self._aim).y()
        painter.setPen(QPen(self.room.colour("border"), 1, Qt.PenStyle.DotLine))
        painter.drawLine(QPointF(box.left(), aim), QPointF(box.right(), aim))
        painter.setPen(self.room.colour("quiet"))
        beside = QRectF(0, aim - theme.px(8), box.left() - 5, theme.px(16))
        painter.drawText(beside, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, f"{self._aim:.0f}")
        if d is None:
            return
        if not d.points:
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "no check yet")
        self._paint_calibration(painter, d, box)
        self._paint_points(painter, d)
        self._paint_due(painter, d, box)

    def _paint_calibration(self, painter: QPainter, d: Drift, box: QRectF) -> None:
        if d.calibrated is not None:
            x = self.place(d.calibrated, self._aim).x()
            painter.setPen(QPen(self.room.colour("quiet"), 1, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
        painter.setPen(self.room.colour("quiet"))
        foot = QRectF(box.left(), box.bottom() + 2, box.width(), theme.px(15))
        first, last = self._days()
        painter.drawText(foot, Qt.AlignmentFlag.AlignLeft, date_words(first.isoformat()))
        share = (self._today - first).days / (last - first).days
        if share > 0.45:
            words = QRectF(box.left() + share * box.width() - theme.px(30), foot.y(), theme.px(60), foot.height())
            words.moveRight(min(words.right(), box.right() + 8))
            painter.drawText(words, Qt.AlignmentFlag.AlignCenter, "today")

    def _paint_points(self, painter: QPainter, d: Drift) -> None:
        for period in d.periods():
            painter.setPen(QPen(self.room.colour("text"), 1.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPolyline(QPolygonF([self.place(p.day, p.white) for p in period]))
        for point in d.points:
            paint_ring(painter, self.place(point.day, point.white), _RING, "full", self.room)

    def _paint_due(self, painter: QPainter, d: Drift, box: QRectF) -> None:
        if d.due is None:
            return
        x = self.place(d.due, self._aim).x()
        painter.setPen(QPen(self.room.colour("text"), 1.2))
        painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
        words = QRectF(0, 0, self.width(), theme.px(17))
        said = f"{'remind' if d.due >= self._today else 'due since'} {date_words(d.due.isoformat())}"
        painter.drawText(words, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, said)
        end = d.expected(d.due)
        if end is not None:
            last = d.points[-1]
            painter.setPen(QPen(self.room.colour("text"), 1.4, Qt.PenStyle.DashLine))
            painter.drawLine(self.place(last.day, last.white), self.place(d.due, end))
