"""Rings along a line: what is known of a row of things, as height over a line and as the ring's filling."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from rehearsal.desk import theme
from rehearsal.desk.parts.focus import paint_focus

_RADIUS, _HATCH = 5.2, 3.4


def paint_ring(
    painter: QPainter, centre: QPointF, radius: float, ring: str, room: theme.Room, done: float = 0.0
) -> None:
    """A ring: ``empty``, ``half``, ``full``, ``look`` (hatched), ``work`` (filled so far as ``done``) or ``skip`` (a dash)."""
    painter.setPen(QPen(room.colour("text"), 1.6))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if ring == "skip":
        painter.drawLine(QPointF(centre.x() - radius, centre.y()), QPointF(centre.x() + radius, centre.y()))
        return
    if ring == "full":
        painter.setBrush(room.colour("text"))
    inner = radius - 0.8
    painter.drawEllipse(centre, inner, inner)
    turn = {"work": -round(360 * 16 * done), "half": 180 * 16}.get(ring, 0)
    if turn:
        painter.setBrush(room.colour("text"))
        painter.drawPie(QRectF(centre.x() - inner, centre.y() - inner, 2 * inner, 2 * inner), 90 * 16, turn)
    if ring == "look":
        _paint_hatch(painter, centre, radius, room)


def _paint_hatch(painter: QPainter, centre: QPointF, radius: float, room: theme.Room) -> None:
    clip = QPainterPath()
    clip.addEllipse(centre, radius - 1, radius - 1)
    painter.save()
    painter.setClipPath(clip)
    painter.setPen(QPen(room.colour("text"), 1.4))
    for k in range(-2, 3):
        x, y = centre.x() + k * _HATCH, centre.y()
        painter.drawLine(QPointF(x - radius, y + radius), QPointF(x + radius, y - radius))
    painter.restore()


@dataclass(frozen=True)
class Ring:
    """One ring.

    Attributes:
        name: what it is of.
        value: its height over the line, in the line's unit; not finite for none.
        ring: its filling, as :func:`paint_ring` has it.
        colour: of the thing itself, shown under the line; None for none.
        at: its place along the line; rings without one stand at equal steps.
    """

    name: str
    value: float
    ring: str = "full"
    colour: QColor | None = None
    at: float | None = None


class RingLine(QWidget):
    """A row of rings over a line; pointing or the arrow keys tell one, else the furthest is told.

    Args:
        title: what the heights are, with :attr:`unit` after each figure.
        digits: of the figures.
        signed: rings may lie under the line.
    """

    def __init__(self, title: str, unit: str, digits: int = 1, signed: bool = False) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.title, self.unit = title, unit
        self._digits, self._signed = digits, signed
        self._rings: tuple[Ring, ...] = ()
        self._least, self._groups = 1.0, tuple[tuple[int, str], ...]()
        self._limit: tuple[float, str] | None = None
        self._pointed: int | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(title)
        self.setMinimumHeight(theme.px(52))

    def show_rings(
        self,
        rings: tuple[Ring, ...],
        least: float,
        groups: tuple[tuple[int, str], ...] = (),
        limit: tuple[float, str] | None = None,
    ) -> None:
        """What to draw.

        Args:
            least: a height that is drawn in any case, so that little does not look like much.
            groups: numbers of rings that begin a group, with its name.
            limit: a height with what it means.
        """
        self._rings, self._least, self._groups, self._limit = rings, least, groups, limit
        self._pointed = None
        self.setAccessibleDescription(self.told())
        self.update()

    def told(self) -> str:
        """The ring that is pointed at, or the furthest, in words."""
        known = [i for i, r in enumerate(self._rings) if np.isfinite(r.value)]
        if not known:
            return "nothing yet"
        if self._pointed is not None:
            ring = self._rings[self._pointed]
            value = "not read" if not np.isfinite(ring.value) else self._figure(ring.value)
            return f"{ring.name}: {value}"
        furthest = self._rings[max(known, key=lambda i: abs(self._rings[i].value))]
        return f"furthest: {furthest.name}, {self._figure(furthest.value)}"

    def _figure(self, value: float) -> str:
        sign = "+" if self._signed and round(value, self._digits) > 0 else ""
        front, back = (f"{self.unit} ", "") if self.unit == "ΔE₀₀" else ("", f" {self.unit}" if self.unit else "")
        return f"{front}{sign}{value:.{self._digits}f}{back}".replace("-", "−")

    # ---- places

    def _box(self) -> QRectF:
        """Where the rings are: under the title, over swatches and the groups' names."""
        top, foot = (
            theme.px(24),
            theme.px(16) * (bool(self._groups) or self._has_ends) + (theme.px(20) if self._has_colours else 0),
        )
        return QRectF(
            _RADIUS + 2,
            top + _RADIUS,
            max(self.width() - 2 * _RADIUS - 4, 1),
            max(self.height() - top - foot - 2 * _RADIUS, 1),
        )

    @property
    def _has_ends(self) -> bool:
        """Rings that stand at places of their own: the first and the last are named."""
        return bool(self._rings) and all(r.at is not None for r in self._rings)

    @property
    def _has_colours(self) -> bool:
        return any(r.colour is not None for r in self._rings)

    def place(self, index: int) -> QPointF:
        """Where the centre of a ring lies in the widget."""
        box, ring = self._box(), self._rings[index]
        places = [r.at for r in self._rings if r.at is not None]
        if ring.at is None or len(places) < len(self._rings):
            x = box.left() + (index + 0.5) / len(self._rings) * box.width()
        else:
            x = box.left() + (ring.at - min(places)) / max(max(places) - min(places), 1e-9) * box.width()
        value = ring.value if np.isfinite(ring.value) else 0.0
        return QPointF(x, self._line_y() - value / self._most() * self._reach())

    def _line_y(self) -> float:
        box = self._box()
        return box.center().y() if self._signed else box.bottom()

    def _reach(self) -> float:
        return self._box().height() / (2 if self._signed else 1)

    def _most(self) -> float:
        return max(self._least, *(abs(r.value) for r in self._rings if np.isfinite(r.value)), 1e-9)

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Title and told figure, the line, rings on their stalks, swatches and names under them."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font(theme.SMALL))
        head = QRectF(0, 0, self.width(), theme.px(17))
        painter.setPen(self.room.colour("quiet"))
        painter.drawText(head, Qt.AlignmentFlag.AlignVCenter, self.title)
        painter.setPen(self.room.colour("text"))
        painter.drawText(head, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, self.told())
        y = self._line_y()
        painter.setPen(QPen(self.room.colour("line"), 1))
        painter.drawLine(QPointF(0, y), QPointF(self.width(), y))
        self._paint_limit(painter, y)
        for i, ring in enumerate(self._rings):
            self._paint_one(painter, i, ring)
        self._paint_under(painter)
        paint_focus(painter, self, self.room)

    def _radius(self) -> float:
        """As large as the room between rings at equal steps."""
        if not self._rings or self._has_ends:
            return _RADIUS
        return min(_RADIUS, max(self._box().width() / len(self._rings) / 2 - 0.6, 2.2))

    def _paint_limit(self, painter: QPainter, y: float) -> None:
        if self._limit is None or not self._rings:
            return
        height = y - self._limit[0] / self._most() * self._reach()
        painter.setPen(QPen(self.room.colour("line"), 1, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(0, height), QPointF(self.width(), height))
        painter.setPen(self.room.colour("quiet"))
        words = QRectF(0, height - theme.px(15), self.width(), theme.px(15))
        painter.drawText(words, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, self._limit[1])

    def _paint_one(self, painter: QPainter, index: int, ring: Ring) -> None:
        centre, y = self.place(index), self._line_y()
        if ring.colour is not None:
            box = QRectF(0, 0, min(theme.px(22), self._box().width() / len(self._rings) - 3), theme.px(14))
            box.moveCenter(QPointF(centre.x(), self._box().bottom() + _RADIUS + theme.px(10)))
            painter.fillRect(box, ring.colour)
        if not np.isfinite(ring.value):
            return
        painter.setPen(QPen(self.room.colour("quiet"), 1))
        painter.drawLine(QPointF(centre.x(), y), centre)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.room.colour("chrome"))
        radius = self._radius()
        painter.drawEllipse(centre, radius + 1, radius + 1)
        paint_ring(painter, centre, radius, ring.ring, self.room)
        if index == self._pointed:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(centre, radius + 3, radius + 3)

    def _paint_under(self, painter: QPainter) -> None:
        """Names of the groups, or the first and last ring's."""
        painter.setPen(self.room.colour("quiet"))
        foot = QRectF(0, self.height() - theme.px(16), self.width(), theme.px(15))
        for number, name in self._groups:
            x = self.place(number).x() - _RADIUS
            painter.drawText(QRectF(x, foot.y(), self.width() - x, foot.height()), Qt.AlignmentFlag.AlignVCenter, name)
        if self._has_ends and self._rings:
            painter.drawText(foot, Qt.AlignmentFlag.AlignVCenter, self._rings[0].name)
            if len(self._rings) > 1:
                painter.drawText(
                    foot, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, self._rings[-1].name
                )

    # ---- telling one

    def point_at(self, index: int | None) -> None:
        """Tell one ring, or the furthest again."""
        if index != self._pointed:
            self._pointed = index
            self.setAccessibleDescription(self.told())
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """The ring nearest to the pointer across is told: the whole height is its target."""
        if event is not None and self._rings:
            gaps = [abs(self.place(i).x() - event.position().x()) for i in range(len(self._rings))]
            self.point_at(int(np.argmin(gaps)))

    def leaveEvent(self, event: QEvent | None) -> None:
        """Nothing is pointed at any more."""
        self.point_at(None)
        super().leaveEvent(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right walk along the line."""
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key())) if event else None
        if step is None or not self._rings:
            super().keyPressEvent(event)
            return
        start = -1 if step > 0 else len(self._rings)
        here = start if self._pointed is None else self._pointed
        self.point_at(min(max(here + step, 0), len(self._rings) - 1))
