"""What was told, what was only read from a name, what nobody said: a ring before each line."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.desk import theme
from rehearsal.desk.parts.rings import paint_ring

_ROW, _RING, _LABEL = 20, 4.6, 82
#: How a state is known by its ring, and in words.
RINGS = {"told": "full", "read": "half", "empty": "empty", "odd": "look"}
WORDS = {"told": "told", "read": "from the name", "empty": "nobody said"}


@dataclass(frozen=True)
class Told:
    """One line: what it is, its value, and how it is known: ``told``, ``read``, ``empty``, or ``odd`` for what needs a look.

    A line without a name is its value alone.
    """

    name: str
    value: str
    state: str = "told"


class ToldList(QWidget):
    """Lines with rings, and at the end (``legend``) what the rings mean; words that find no room in a line go on in the next."""

    def __init__(self, name: str = "Told and read", legend: bool = True) -> None:
        super().__init__()
        self._legend = legend
        self.room = theme.ROOMS["mid"]
        self._rows: tuple[Told, ...] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        self.setAccessibleName(name)

    def show_rows(self, rows: Sequence[Told]) -> None:
        """What to show."""
        self._rows = tuple(rows)
        said = [
            f"{r.name + ': ' if r.name else ''}{r.value or WORDS['empty']}{', ' + WORDS['read'] if r.state == 'read' else ''}"
            for r in rows
        ]
        self.setAccessibleDescription("; ".join(said))
        self.updateGeometry()
        self.update()

    def heightForWidth(self, width: int) -> int:
        """So high as its lines are in that width."""
        legend = theme.px(_ROW) * len(set(line for _x, line in self._legend_places(width)))
        return round(sum(self._height(row, width) for row in self._rows) + legend)

    def hasHeightForWidth(self) -> bool:
        """Words may go on in the next line."""
        return True

    def sizeHint(self) -> QSize:
        """In its present width."""
        wide = max(self.width(), theme.px(160))
        return QSize(theme.px(220), self.heightForWidth(wide))

    def minimumSizeHint(self) -> QSize:
        """It scrolls where there is less room."""
        return QSize(theme.px(120), self.heightForWidth(max(self.width(), theme.px(160))))

    def _value_box(self, row: Told, width: float) -> QRectF:
        left = theme.px(16 + _LABEL) if row.name else theme.px(17)
        return QRectF(left, 0, max(width - left, 20), 10_000)

    def _height(self, row: Told, width: float) -> float:
        metrics = QFontMetricsF(theme.font(theme.SMALL))
        words = metrics.boundingRect(self._value_box(row, width), Qt.TextFlag.TextWordWrap, row.value or WORDS["empty"])
        return max(float(theme.px(_ROW)), words.height() + 4)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Rings, names, values; then the meaning of the rings."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font(theme.SMALL))
        y = 0.0
        for row in self._rows:
            high = self._height(row, self.width())
            self._paint_row(painter, row, QRectF(0, y, self.width(), high))
            y += high
        self._paint_legend(painter, y)

    def _paint_legend(self, painter: QPainter, y: float) -> None:
        high = theme.px(_ROW)
        for (x, line), (state, words) in zip(self._legend_places(self.width()), WORDS.items(), strict=False):
            top = y + line * high
            paint_ring(painter, QPointF(x + 6, top + high / 2), _RING, RINGS[state], self.room)
            painter.setPen(self.room.colour("quiet"))
            painter.drawText(QRectF(x + 17, top, self.width(), high), Qt.AlignmentFlag.AlignVCenter, words)

    def _legend_places(self, width: float) -> list[tuple[float, int]]:
        """Where each word of the legend begins, and in which line; none without a legend."""
        metrics, places, x, line = QFontMetricsF(theme.font(theme.SMALL)), [], 0.0, 0
        for words in WORDS.values() if self._legend else ():
            wide = metrics.horizontalAdvance(words) + 19
            if x and x + wide > width:
                x, line = 0.0, line + 1
            places.append((x, line))
            x += wide + 9
        return places

    def _paint_row(self, painter: QPainter, row: Told, box: QRectF) -> None:
        first = theme.px(_ROW)
        paint_ring(painter, QPointF(6, box.y() + first / 2), _RING, RINGS[row.state], self.room)
        painter.setPen(self.room.colour("quiet"))
        painter.drawText(QRectF(17, box.y(), theme.px(_LABEL), first), Qt.AlignmentFlag.AlignVCenter, row.name)
        painter.setPen(self.room.colour("text" if row.value else "quiet"))
        place = self._value_box(row, self.width())
        place.moveTop(box.y() + 3)
        place.setHeight(box.height())
        painter.drawText(place, Qt.TextFlag.TextWordWrap, row.value or WORDS["empty"])
