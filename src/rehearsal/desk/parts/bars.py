"""Bars: a figure of a row with its length on a common scale."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.desk import theme
from rehearsal.desk.parts.cards import bar_width

_ROW, _BAR = 30, 8
#: Of bars in line: height of a row, room for its name and its figure.
_LINE, _NAME, _FIGURE = 20, 56, 72


@dataclass(frozen=True)
class Bar:
    """One figure: what it is of, its value on the bars' scale, and as words; ``before`` is where it stood, a darker part of the bar."""

    name: str
    value: float
    words: str
    before: float = 0.0


class Bars(QWidget):
    """Names at the left, figures at the right, bars under them up to a common end; what is longer fills it.

    Args:
        most: the bars' end.
        in_line: each bar lies between its name and its figure.
    """

    def __init__(self, name: str, most: float, in_line: bool = False) -> None:
        super().__init__()
        self._in_line = in_line
        self.room = theme.ROOMS["mid"]
        self.most = most
        self._bars: tuple[Bar, ...] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(name)

    def sizeHint(self) -> QSize:
        """A row for each."""
        return QSize(theme.px(180), self._row * len(self._bars))

    @property
    def _row(self) -> int:
        return theme.px(_LINE if self._in_line else _ROW)

    def minimumSizeHint(self) -> QSize:
        """It may be narrow."""
        return QSize(theme.px(120), self.sizeHint().height())

    def show_bars(self, bars: tuple[Bar, ...]) -> None:
        """What to draw."""
        self._bars = bars
        self.setAccessibleDescription("; ".join(f"{bar.name}: {bar.words}" for bar in bars))
        self.updateGeometry()
        self.update()

    def track(self, index: int) -> QRectF:
        """Where the whole of a bar's scale lies."""
        if self._in_line:
            left, right = theme.px(_NAME), theme.px(_FIGURE)
            return QRectF(
                left, (index + 0.5) * self._row - theme.px(_BAR) / 2, self.width() - left - right, theme.px(_BAR)
            )
        return QRectF(0, index * self._row + theme.px(18), self.width(), theme.px(_BAR))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Name, figure, bar."""
        painter = QPainter(self)
        painter.setFont(theme.font(theme.SMALL))
        for i, bar in enumerate(self._bars):
            track = self.track(i)
            above = QRectF(0, track.y() - theme.px(17), self.width(), theme.px(16))
            words = QRectF(0, i * self._row, self.width(), self._row) if self._in_line else above
            painter.setPen(self.room.colour("quiet"))
            painter.drawText(words, Qt.AlignmentFlag.AlignVCenter, bar.name)
            painter.setPen(self.room.colour("text"))
            painter.drawText(words, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, bar.words)
            painter.fillRect(track, self.room.colour("field"))
            wide = bar_width(min(bar.value, self.most), self.most, track.width())
            painter.fillRect(QRectF(track.x(), track.y(), wide, track.height()), self.room.colour("text"))
            if 0 < bar.before < bar.value:
                old = bar_width(min(bar.before, self.most), self.most, track.width())
                painter.fillRect(QRectF(track.x(), track.y(), old, track.height()), self.room.colour("mark"))
