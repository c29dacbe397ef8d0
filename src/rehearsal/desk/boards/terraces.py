"""A gamut as terraces: its slices stacked from black up, each a plate with a rim in its own colours."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from rehearsal.desk import theme
from rehearsal.desk.words import lab_colours

#: Half the height of a terrace, L*.
HALF = 2.5
#: A rim seen from its side is darker than one that faces the eye.
_AWAY, _FACING = 0.5, 0.38

#: Places in the widget and distances of Lab colours (n, 3): (n, 2) and (n,), further away is larger.
Seen = Callable[[np.ndarray], tuple[np.ndarray, np.ndarray]]


@dataclass(frozen=True)
class Terrace:
    """One slice: its ring (n, 3) in Lab, first point last again, and the colours (n - 1, 3) along its rim, 8-bit sRGB."""

    ring: np.ndarray
    rim: np.ndarray

    @classmethod
    def of(cls, ring: np.ndarray) -> Terrace:
        """From a ring of core.papers.body."""
        closed = ring if np.allclose(ring[0], ring[-1]) else np.vstack([ring, ring[:1]])
        return cls(closed, lab_colours(0.5 * (closed[1:] + closed[:-1])))

    @property
    def level(self) -> float:
        """L* of the slice."""
        return float(self.ring[0, 0])

    def outline(self, seen: Seen, top: float) -> QPainterPath:
        """What the terrace covers when its plate lies at ``top`` (L*)."""
        path = QPainterPath()
        for at in (self.level - HALF, top):
            path.addPolygon(_polygon(seen(self._at(at))[0]))
            path.closeSubpath()
        path.setFillRule(Qt.FillRule.WindingFill)
        quads, _facing, near = self._sides(seen, top)
        for quad in quads[near]:
            path.addPolygon(_polygon(quad))
            path.closeSubpath()
        return path

    def paint(self, painter: QPainter, seen: Seen, top: float, room: theme.Room, strong: bool) -> None:
        """The rim that faces the eye, then the plate; a strong one has the outline of the chosen slice."""
        quads, facing, order = self._sides(seen, top)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        for i in order:
            grey = _AWAY + _FACING * float(facing[i])
            colour = QColor(*(int(v * grey) for v in self.rim[i]))
            painter.setPen(QPen(colour, 0.6))
            painter.setBrush(colour)
            painter.drawPolygon(_polygon(quads[i]))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(room.colour("raised"))
        painter.setPen(QPen(room.colour("text" if strong else "line"), 2.0 if strong else 1.0))
        painter.drawPolygon(_polygon(seen(self._at(top))[0]))

    def _at(self, level: float) -> np.ndarray:
        moved = self.ring.copy()
        moved[:, 0] = level
        return moved

    def _sides(self, seen: Seen, top: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Quads (n, 4, 2) of the rim, how much each faces the eye (n,), and those that do from far to near."""
        (low, far), (high, _) = seen(self._at(self.level - HALF)), seen(self._at(top))
        quads = np.stack([low[:-1], low[1:], high[1:], high[:-1]], axis=1)
        middle = 0.5 * (far[:-1] + far[1:])
        across = (quads[:, 1, 0] - quads[:, 0, 0]) * self._way()  # negative: on the far side
        long = np.maximum(np.hypot(*(self.ring[1:, 1:] - self.ring[:-1, 1:]).T), 1e-6)
        facing = np.clip(across / (long * max(float(across.max(initial=0)) / float(long.max()), 1e-6)), 0, 1)
        near = np.flatnonzero(across > 0)
        return quads, facing, near[np.argsort(-middle[near])]

    def _way(self) -> float:
        """1 for a ring that runs from a* to b* (anticlockwise), -1 for the other way: the sign of its area."""
        a, b = self.ring[:, 1], self.ring[:, 2]
        return 1.0 if float(np.sum(a[:-1] * b[1:] - a[1:] * b[:-1])) >= 0 else -1.0


def _polygon(points: np.ndarray) -> QPolygonF:
    return QPolygonF([QPointF(float(x), float(y)) for x, y in points])
