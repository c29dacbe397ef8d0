"""Prints along the days, each a small picture, lighter above and darker below; what was learnt as a line with its doubt."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFontMetricsF,
    QHelpEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
)
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from rehearsal.core.values.words import date_words
from rehearsal.desk import theme
from rehearsal.desk.parts.focus import paint_focus

_LEFT, _RIGHT, _TOP, _FOOT = 38, 12, 10, 20
_WIDE, _HIGH = 48, 32
#: The scale holds at least so many sixths of a stop each way.
_LEAST_SIXTHS = 2
#: and no more than so many: what came out further off lies at the edge.
_MOST_SIXTHS = 18.0


@dataclass(frozen=True)
class TimePoint:
    """One print.

    Attributes:
        number: of its entry; day: ISO date.
        stops: it came out lighter by (below 0 darker), its steps counted in.
        key: of its picture; words: what the pointer tells; counts: it teaches what the line shows.
    """

    number: int
    day: str
    stops: float
    key: str
    words: str
    counts: bool = True


def _day(text: str) -> int:
    try:
        return date.fromisoformat(text[:10]).toordinal()
    except ValueError:
        return date.today().toordinal()


class Timeline(QWidget):
    """``chosen`` tells the number of a print, and whether it is to be compared too (Ctrl or Shift held)."""

    chosen = pyqtSignal(int, bool)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._points: Sequence[TimePoint] = ()
        self._line: Sequence[tuple[str, float, float]] = ()
        self._pictures: Mapping[str, QImage] = {}
        self._chosen: Sequence[int] = ()
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Prints along the days")

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(560), theme.px(150))

    def minimumSizeHint(self) -> QSize:
        """It may be small."""
        return QSize(theme.px(260), theme.px(96))

    def show_prints(
        self, points: Sequence[TimePoint], line: Sequence[tuple[str, float, float]], pictures: Mapping[str, QImage],
        chosen: Sequence[int],
    ) -> None:  # fmt: skip
        """Prints, the lesson after each of those that taught it (day, how much lighter prints come out, its doubt, in stops), pictures by
        their keys, what is chosen.
        """
        self._points, self._line, self._pictures, self._chosen = points, line, pictures, chosen
        here = [p.words for p in points if p.number in chosen]
        self.setAccessibleDescription("; ".join(here) or f"{len(points)} prints")
        self.update()

    # ---- where things are

    def _days(self) -> tuple[int, int]:
        days = [_day(p.day) for p in self._points] or [date.today().toordinal()]
        return min(days), max(max(days), min(days) + 1)

    def _reach(self) -> float:
        """Stops the scale holds each way."""
        most = max([abs(p.stops) for p in self._points] + [abs(v) + d for _day_, v, d in self._line], default=0.0)
        return min(float(max(_LEAST_SIXTHS, -(-most * 6 // 1)) + 1), _MOST_SIXTHS) / 6

    def _size(self) -> tuple[float, float]:
        """Width and height of a print: smaller where there are many."""
        room = (self.width() - theme.px(_LEFT + _RIGHT)) / max(len(self._points), 1)
        share = min(max(room / theme.px(_WIDE), 0.6), 1.0)
        return theme.px(_WIDE) * share, theme.px(_HIGH) * share

    def _x(self, day: int) -> float:
        first, last = self._days()
        half = self._size()[0] / 2
        room = self.width() - theme.px(_LEFT + _RIGHT) - 2 * half
        return theme.px(_LEFT) + half + room * (day - first) / (last - first)

    def _y(self, stops: float) -> float:
        top, foot = theme.px(_TOP), self.height() - theme.px(_FOOT)
        return top + (foot - top) * (1 - min(max(stops / self._reach(), -1.0), 1.0)) / 2

    def rect_of(self, number: int) -> QRectF:
        """Where a print is."""
        point = next(p for p in self._points if p.number == number)
        wide, high = self._size()
        return QRectF(self._x(_day(point.day)) - wide / 2, self._y(point.stops) - high / 2, wide, high)

    def number_at(self, at: QPointF) -> int | None:
        """The print at a place, the newest on top."""
        return next((p.number for p in reversed(self._points) if self.rect_of(p.number).contains(at)), None)

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Scale, doubt, lesson, prints."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        self._paint_scale(painter)
        if not self._points:
            painter.setPen(self.room.colour("quiet"))
            painter.drawText(
                QRectF(self.rect()),
                Qt.AlignmentFlag.AlignCenter,
                "No print here yet: the first verdict begins the line.",
            )
            return
        self._paint_doubt(painter)
        for point in self._points:
            self._paint_print(painter, point)
        self._paint_lesson(painter)
        self._paint_days(painter)
        paint_focus(painter, self, self.room)

    def _paint_scale(self, painter: QPainter) -> None:
        painter.setFont(theme.font(theme.SMALL))
        reach = round(self._reach() * 6)
        every = 1 if reach <= 4 else 2 if reach <= 8 else 6
        for sixths in range(-reach, reach + 1):
            if sixths % every:
                continue
            y = self._y(sixths / 6)
            painter.setPen(QPen(self.room.colour("border" if not sixths else "line"), 1))
            painter.drawLine(QPointF(theme.px(_LEFT), y), QPointF(self.width() - theme.px(_RIGHT), y))
            painter.setPen(self.room.colour("quiet"))
            words = "0" if not sixths else f"{'+' if sixths > 0 else '−'}{_sixth(abs(sixths))}"
            painter.drawText(
                QRectF(0, y - 9, theme.px(_LEFT - 6), 18),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                words,
            )
        side = Qt.AlignmentFlag.AlignLeft
        painter.drawText(QRectF(theme.px(_LEFT) + 4, self._y(self._reach()) - 4, 120, 16), side, "lighter")
        painter.drawText(QRectF(theme.px(_LEFT) + 4, self._y(-self._reach()) - 12, 120, 16), side, "darker")

    def _paint_doubt(self, painter: QPainter) -> None:
        if not self._line:
            return
        at = [(self._x(_day(day)), value, doubt) for day, value, doubt in self._line]
        band = [QPointF(x, self._y(v + d)) for x, v, d in at] + [QPointF(x, self._y(v - d)) for x, v, d in reversed(at)]
        grey = self.room.colour("mark")
        grey.setAlpha(70)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(grey)
        painter.drawPolygon(QPolygonF(band))

    def _paint_lesson(self, painter: QPainter) -> None:
        if not self._line:
            return
        at = [(self._x(_day(day)), value, doubt) for day, value, doubt in self._line]
        painter.setPen(QPen(self.room.colour("text"), 1.8))
        painter.drawPolyline(QPolygonF([QPointF(x, self._y(v)) for x, v, _d in at]))
        end = QPointF(at[-1][0], self._y(at[-1][1]))
        painter.setPen(QPen(self.room.colour("text"), 1.8, Qt.PenStyle.DashLine))
        painter.drawLine(end, QPointF(self.width() - theme.px(_RIGHT), end.y()))

    def _paint_print(self, painter: QPainter, point: TimePoint) -> None:
        rect, chosen = self.rect_of(point.number), point.number in self._chosen
        lightest = self.room.lightest / 255  # nothing here is lighter than a paper that is shown
        painter.fillRect(rect, QColor(15, 15, 15))
        painter.setOpacity(lightest * (1.0 if point.counts else 0.45))
        painter.fillRect(rect, QColor(0xE6, 0xE6, 0xE6))
        picture = self._pictures.get(point.key)
        inner = rect.adjusted(3, 3, -3, -3)
        if picture is not None and not picture.isNull():
            size = picture.size().scaled(inner.size().toSize(), Qt.AspectRatioMode.KeepAspectRatio)
            place = QRectF(0, 0, size.width(), size.height())
            place.moveCenter(inner.center())
            painter.drawImage(place, picture)
        painter.setOpacity(1.0)
        if chosen:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(self.room.colour("text"), 2))
            painter.drawRect(rect.adjusted(-3, -3, 3, 3))

    def _paint_days(self, painter: QPainter) -> None:
        painter.setFont(theme.font(theme.SMALL))
        metrics, taken = QFontMetricsF(theme.font(theme.SMALL)), -1e9
        strong = {p.day for p in self._points if p.number in self._chosen}
        for day in sorted({p.day for p in self._points}, key=_day):
            words, x = date_words(day[:10]), self._x(_day(day))
            wide = metrics.horizontalAdvance(words)
            if x - wide / 2 < taken + 8:
                continue
            taken = x + wide / 2
            painter.setPen(self.room.colour("text" if day in strong else "quiet"))
            box = QRectF(
                min(x - wide / 2, self.width() - wide - 2), self.height() - theme.px(_FOOT), wide + 2, theme.px(_FOOT)
            )
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)

    # ---- hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose a print; with Ctrl or Shift one more, to be compared."""
        number = None if event is None else self.number_at(event.position())
        if event is not None and number is not None:
            held = event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
            self.chosen.emit(number, bool(held))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right go along the prints; with Shift one more is chosen."""
        step = {} if event is None else {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}
        by = 0 if event is None else step.get(Qt.Key(event.key()), 0)
        if event is None or not by or not self._points:
            super().keyPressEvent(event)
            return
        numbers = [p.number for p in self._points]
        at = (
            numbers.index(self._chosen[-1]) if self._chosen and self._chosen[-1] in numbers else len(numbers) - (by < 0)
        )
        number = numbers[min(max(at + by, 0), len(numbers) - 1)]
        self.chosen.emit(number, bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))

    def event(self, event):  # type: ignore[no-untyped-def]
        """The print under the pointer in words."""
        if isinstance(event, QHelpEvent):
            number = self.number_at(QPointF(event.pos()))
            words = next((p.words for p in self._points if p.number == number), "")
            QToolTip.showText(event.globalPos(), words, self)
            return True
        return super().event(event)


def _sixth(count: int) -> str:
    whole, rest = divmod(count, 6)
    return f"{whole or ''}{('', '⅙', '⅓', '½', '⅔', '⅚')[rest]}"
