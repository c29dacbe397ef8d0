"""Small plots painted in the chrome's greys: lines over a common axis, with units and end values."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from rehearsal.desk import theme


@dataclass(frozen=True)
class Trace:
    """One line of a plot: values over places; ``dashes`` tells it apart without colour; dots mark single readings."""

    name: str
    x: np.ndarray
    y: np.ndarray
    dashes: tuple[float, ...] = ()
    dots: bool = False


class Plot(QWidget):
    """Traces over one axis, with a title and its unit, an optional level and marked spans."""

    def __init__(self, title: str, unit: str = "") -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.title, self.unit = title, unit
        self._traces: list[Trace] = []
        self._level: tuple[float, str] | None = None
        self._spans: list[tuple[float, float]] = []
        self._ends = ("", "")
        self._band = False
        self.setMinimumHeight(theme.px(44))
        self.setAccessibleName(f"Plot: {title}")

    def show_traces(
        self, traces: list[Trace], level: tuple[float, str] | None = None, spans: list[tuple[float, float]] | None = None,
        ends: tuple[str, str] = ("", ""), band: bool = False,
    ) -> None:  # fmt: skip
        """What to draw; ``level`` is an aim with its name, ``spans`` are places (from, to) to be hatched.

        ``band``: what lies between the first two traces is filled.
        """
        self._traces, self._level, self._spans, self._ends = traces, level, spans or [], ends
        self._band = band and len(traces) > 1
        told = [f"{t.name} {t.y[0]:.1f} to {t.y[-1]:.1f} {self.unit}" for t in traces if len(t.y)]
        self.setAccessibleDescription("; ".join(told))
        self.update()

    def _box(self) -> QRectF:
        left, top, foot = theme.px(38), theme.px(15), theme.px(16 if any(self._ends) else 5)
        return QRectF(left, top, max(self.width() - left - 6, 10), max(self.height() - top - foot, 10))

    def _ranges(self) -> tuple[float, float, float, float] | None:
        xs = np.concatenate([t.x for t in self._traces]) if self._traces else np.empty(0)
        ys = np.concatenate([t.y for t in self._traces]) if self._traces else np.empty(0)
        ys = ys[np.isfinite(ys)]
        if not len(xs) or not len(ys):
            return None
        if self._level is not None:
            ys = np.append(ys, self._level[0])
        low, high = float(ys.min()), float(ys.max())
        room = max((high - low) * 0.08, 0.05)
        x0, x1 = float(xs.min()), float(xs.max())
        floor = 0.0 if low >= 0 else low - room
        return x0, max(x1, x0 + 1e-6), max(low - room, floor), high + room

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Title, frame, spans, level, traces."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font(theme.SMALL))
        painter.setPen(self.room.colour("quiet"))
        box, ranges = self._box(), self._ranges()
        unit = f", {self.unit}" if self.unit else ""
        painter.drawText(
            QRectF(box.left(), 0, box.width(), box.top() - 1), Qt.AlignmentFlag.AlignVCenter, f"{self.title}{unit}"
        )
        painter.fillRect(box, self.room.colour("field"))
        if ranges is None:
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "nothing yet")
            return
        self._paint_axis(painter, box, ranges)
        if self._band:
            self._paint_band(painter, box, ranges)
        for span in self._spans:
            self._paint_span(painter, box, ranges, span)
        for trace in self._traces:
            self._paint_trace(painter, box, ranges, trace)

    def _paint_axis(self, painter: QPainter, box: QRectF, ranges: tuple[float, float, float, float]) -> None:
        _x0, _x1, low, high = ranges
        painter.setFont(theme.font(7.6))
        digits = 0 if high - low > 8 else 1
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        line, beside = theme.px(12), box.left() - 4
        painter.drawText(QRectF(0, box.top() - 4, beside, line), right, f"{high:.{digits}f}")
        painter.drawText(QRectF(0, box.bottom() - line + 4, beside, line), right, f"{low:.{digits}f}")
        under = QRectF(box.left(), box.bottom() + 1, box.width(), line)
        painter.drawText(under, Qt.AlignmentFlag.AlignLeft, self._ends[0])
        painter.drawText(under, Qt.AlignmentFlag.AlignRight, self._ends[1])
        if self._level is not None:
            value, name = self._level
            y = box.bottom() - (value - low) / (high - low) * box.height()
            painter.setPen(QPen(self.room.colour("line"), 1, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
            painter.setPen(self.room.colour("quiet"))
            painter.drawText(QRectF(box.left() + 4, y - line, box.width() - 8, line), right, name)

    def _paint_span(
        self, painter: QPainter, box: QRectF, ranges: tuple[float, float, float, float], span: tuple[float, float]
    ) -> None:
        x0, x1, _low, _high = ranges
        left = box.left() + (span[0] - x0) / (x1 - x0) * box.width()
        width = max((span[1] - span[0]) / (x1 - x0) * box.width(), 1.5)
        painter.save()
        painter.setClipRect(QRectF(left, box.top(), width, box.height()))
        painter.setPen(QPen(self.room.colour("line"), 1))
        for k in range(-int(box.height()), int(width) + 1, 5):
            painter.drawLine(QPointF(left + k, box.bottom()), QPointF(left + k + box.height(), box.top()))
        painter.restore()

    def _points(self, box: QRectF, ranges: tuple[float, float, float, float], trace: Trace) -> list[QPointF]:
        x0, x1, low, high = ranges
        px = box.left() + (trace.x - x0) / (x1 - x0) * box.width()
        py = box.bottom() - (trace.y - low) / (high - low) * box.height()
        return [QPointF(float(x), float(y)) for x, y in zip(px, py, strict=True) if np.isfinite(y)]

    def _paint_band(self, painter: QPainter, box: QRectF, ranges: tuple[float, float, float, float]) -> None:
        """What lies between the first two traces."""
        one, two = (self._points(box, ranges, trace) for trace in self._traces[:2])
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.room.colour("line"))
        painter.drawPolygon(QPolygonF([*one, *reversed(two)]))

    def _paint_trace(
        self, painter: QPainter, box: QRectF, ranges: tuple[float, float, float, float], trace: Trace
    ) -> None:
        x0, x1, low, high = ranges
        good = np.isfinite(trace.y)
        px = box.left() + (trace.x - x0) / (x1 - x0) * box.width()
        py = box.bottom() - (trace.y - low) / (high - low) * box.height()
        pen = QPen(self.room.colour("text"), 1.4)
        if trace.dashes:
            pen.setDashPattern(list(trace.dashes))
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        cuts = np.flatnonzero(~good)
        for part in np.split(np.arange(len(px)), cuts):
            part = part[good[part]]  # noqa: PLW2901
            if len(part) > 1:
                painter.drawPolyline(QPolygonF([QPointF(float(px[i]), float(py[i])) for i in part]))
        if trace.dots or good.sum() == 1:
            painter.setBrush(self.room.colour("text"))
            for i in np.flatnonzero(good):
                painter.drawEllipse(QPointF(float(px[i]), float(py[i])), 2.4, 2.4)
