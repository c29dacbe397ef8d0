"""How near: a bar of three ends for the whole and for each area. Shorter is nearer."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.core.proof.near import Near
from rehearsal.desk import theme

_ROW, _BAR, _STEP = 25, 8, 5
#: Figures of a few pixels that are further away by less do not say that it turned back.
_ABOUT = 0.3


@dataclass(frozen=True)
class NearRow:
    """One bar: what it is of, and how near that comes; None while it is not known."""

    name: str
    near: Near | None


class NearBars(QWidget):
    """Hatched: what this paper cannot better. Light: now. Grey: before. A bar that has turned back is grey, with a mark where it stood."""

    def __init__(self, name: str, most: float) -> None:
        super().__init__()
        self.room, self._least_end = theme.ROOMS["mid"], most
        self.rows: tuple[NearRow, ...] = ()
        self._about = False
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(name)

    @property
    def most(self) -> float:
        """Where the bars end."""
        known = [value for row in self.rows if row.near is not None for value in (row.near.before, row.near.now)]
        return max([self._least_end, *known])

    def sizeHint(self) -> QSize:
        """A row for each."""
        return QSize(theme.px(150), theme.px(_ROW) * len(self.rows))

    def minimumSizeHint(self) -> QSize:
        """It may be narrow."""
        return QSize(theme.px(120), self.sizeHint().height())

    def show_rows(self, rows: tuple[NearRow, ...], about: bool = False) -> None:
        """What to draw; ``about``: figures of a few pixels."""
        self.rows, self._about = rows, about
        self.setAccessibleDescription("; ".join(_said(row, about) for row in rows))
        self.setToolTip(
            "Mean ΔE₀₀ from half-way between the picture and the picture fitted to this paper. Light: now. Grey: untuned. "
            "Hatched: the nearest this paper can show."
        )
        self.updateGeometry()
        self.update()

    def _turned(self, near: Near) -> bool:
        """True for a bar that has turned back; of a few pixels only when it is far off."""
        return near.now > near.before + _ABOUT if self._about else near.turned_back

    def track(self, index: int) -> QRectF:
        """Where the whole of a bar's scale lies."""
        return QRectF(0, index * theme.px(_ROW) + theme.px(16), self.width(), theme.px(_BAR))

    def place(self, index: int, value: float) -> float:
        """Where a value ends on a bar."""
        track = self.track(index)
        return track.x() + min(value / self.most, 1.0) * track.width()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Name, figure, bar."""
        painter = QPainter(self)
        for i, row in enumerate(self.rows):
            self._paint_words(painter, i, row)
            painter.fillRect(self.track(i), self.room.colour("field"))
            if row.near is not None:
                self._paint_bar(painter, i, row.near)

    def _paint_words(self, painter: QPainter, index: int, row: NearRow) -> None:
        line = QRectF(0, self.track(index).y() - theme.px(15), self.width(), theme.px(15))
        back = row.near is not None and self._turned(row.near)
        figure = "…" if row.near is None else f"{_sign(self._about)}{row.near.now:.1f}"
        strong = theme.font(theme.SMALL, strong=back)
        room = line.width() - QFontMetricsF(strong).horizontalAdvance(figure) - theme.px(8)
        painter.setFont(theme.font(theme.SMALL))
        painter.setPen(self.room.colour("quiet"))
        cut = QFontMetricsF(painter.font()).elidedText(row.name, Qt.TextElideMode.ElideRight, room)
        painter.drawText(line, Qt.AlignmentFlag.AlignVCenter, cut)
        painter.setFont(strong)
        painter.setPen(self.room.colour("text"))
        painter.drawText(line, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, figure)

    def _paint_bar(self, painter: QPainter, index: int, near: Near) -> None:
        track = self.track(index)
        now, before, floor = (self.place(index, v) for v in (near.now, near.before, near.floor))
        light, grey = self.room.colour("text"), self.room.colour("mark")

        def part(left: float, right: float) -> QRectF:
            return QRectF(left, track.y(), max(right - left, 0.0), track.height())

        back = self._turned(near)
        if back:
            painter.fillRect(part(track.x(), now), grey)
            painter.fillRect(QRectF(before - 1, track.y() - 2, 2, track.height() + 4), light)
        else:
            painter.fillRect(part(now, before), grey)
            painter.fillRect(part(floor, now), light)
        painter.save()
        painter.setClipRect(part(track.x(), min(floor, before if back else now)))
        painter.fillRect(track, self.room.colour("field"))
        painter.setPen(light)
        step = theme.px(_STEP)
        for x in range(-int(track.height()), int(track.width()), step):
            painter.drawLine(
                int(track.x()) + x, int(track.bottom()), int(track.x() + x + track.height()), int(track.y())
            )
        painter.restore()


def _sign(about: bool) -> str:
    return "ΔE₀₀ ≈ " if about else "ΔE₀₀ "


def _said(row: NearRow, about: bool) -> str:
    """A row for who cannot see it."""
    if row.near is None:
        return f"{row.name}: not measured yet"
    n = row.near
    back = ", turned back" if n.turned_back else ""
    return f"{row.name}: now {_sign(about)}{n.now:.1f}, untuned {n.before:.1f}, at best {n.floor:.1f}{back}"
