"""What was learnt of lightness as bars from zero: what all prints on the screen share, and each paper's own, each with its doubt."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.desk import theme

_ROW, _NAME, _WORDS, _BAR = 21, 90, 112, 8


@dataclass(frozen=True)
class LearntBar:
    """One row: name, value and doubt in stops (below 0: prints come out darker), and its words."""

    name: str
    stops: float
    doubt: float
    words: str
    strong: bool = False


class LearntBars(QWidget):
    """Rows of bars on one scale."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._rows: Sequence[LearntBar] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        self.setAccessibleName("What was learnt of lightness")

    def show_rows(self, rows: Sequence[LearntBar]) -> None:
        """The rows."""
        if len(rows) != len(self._rows):
            self._rows = rows
            self.setMinimumHeight(theme.px(_ROW) * max(len(rows), 1))
        self._rows = rows
        self.setAccessibleDescription("; ".join(f"{r.name}: {r.words}" for r in rows))
        self.update()

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(310), theme.px(_ROW) * max(len(self._rows), 1))

    def minimumSizeHint(self) -> QSize:
        """It may be narrower."""
        return QSize(theme.px(240), self.sizeHint().height())

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Name, bar from zero with its doubt as a line, words."""
        painter = QPainter(self)
        text, px = self.room.colour("text"), theme.px
        most = max([abs(r.stops) + r.doubt for r in self._rows], default=0.0) or 1.0
        track = QRectF(px(_NAME), 0, self.width() - px(_NAME + _WORDS + 6), px(_BAR))
        for i, row in enumerate(self._rows):
            middle = px(_ROW) * (i + 0.5)
            painter.setFont(theme.font(theme.SMALL, strong=row.strong))
            painter.setPen(text)
            painter.drawText(QRectF(0, middle - 9, px(_NAME - 6), 18), Qt.AlignmentFlag.AlignVCenter, row.name)
            track.moveCenter(QPointF(track.center().x(), middle))
            painter.fillRect(track, self.room.colour("field"))
            zero, unit = track.center().x(), track.width() / 2 / most
            end = zero + row.stops * unit
            bar = QRectF(min(zero, end), track.y(), abs(end - zero), track.height())
            painter.fillRect(bar, text if row.strong else self.room.colour("mark"))
            painter.setPen(QPen(self.room.colour("quiet"), 1.4))
            painter.drawLine(QPointF(end - row.doubt * unit, middle), QPointF(end + row.doubt * unit, middle))
            painter.setPen(QPen(text, 1))
            painter.drawLine(QPointF(zero, middle - 8), QPointF(zero, middle + 8))
            painter.setPen(text)
            words = QRectF(self.width() - px(_WORDS), middle - 9, px(_WORDS), 18)
            painter.drawText(words, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, row.words)
