"""The values of a test sheet as places on a line, with what each is under it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.desk import theme


class StepLine(QWidget):
    """Equal places, one for each variant: they are one visible step apart, whatever their numbers; the untouched one is full."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._values: tuple[str, ...] = ()
        self._middle = -1
        self._between: tuple[float, ...] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Values on the sheet")

    def show_values(self, values: tuple[str, ...], middle: int, between: tuple[float, ...]) -> None:
        """Words of each value, which is the untouched one (-1 for none), and ΔE₀₀ from each to the next."""
        self._values, self._middle, self._between = values, middle, between
        self.setAccessibleDescription(", ".join(values))
        self.setToolTip("; ".join(f"{i} to {i + 1}: ΔE₀₀ {d:.1f}" for i, d in enumerate(between, 1)))
        self.update()

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(200), theme.px(34))

    def minimumSizeHint(self) -> QSize:
        """It may be narrower."""
        return QSize(theme.px(120), theme.px(34))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Line, places, words of as many as find room."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        count = len(self._values)
        if not count:
            return
        side, y, radius = theme.px(22), theme.px(9), theme.px(4)
        wide = self.width() - 2 * side
        xs = [side + (wide * i / (count - 1) if count > 1 else wide / 2) for i in range(count)]
        text, line = self.room.colour("text"), self.room.colour("mark")
        painter.setPen(QPen(line, 1))
        painter.drawLine(QPointF(xs[0], y), QPointF(xs[-1], y))
        font = theme.font(theme.SMALL)
        metrics = QFontMetricsF(font)
        painter.setFont(font)
        ends = {self._middle, 0, count - 1} if self._crowded(metrics, xs) else set(range(count))
        for i, (x, words) in enumerate(zip(xs, self._values, strict=True)):
            painter.setPen(QPen(text, 1.4))
            painter.setBrush(text if i == self._middle else self.room.colour("chrome"))
            painter.drawEllipse(QPointF(x, y), radius, radius)
            if i in ends:
                width = metrics.horizontalAdvance(words) + 2
                left = min(max(x - width / 2, 0), self.width() - width)
                painter.drawText(QRectF(left, y + radius + 2, width, theme.px(18)), Qt.AlignmentFlag.AlignCenter, words)

    def _crowded(self, metrics: QFontMetricsF, xs: list[float]) -> bool:
        room = xs[1] - xs[0] if len(xs) > 1 else self.width()
        return any(metrics.horizontalAdvance(w) + 6 > room for w in self._values)
