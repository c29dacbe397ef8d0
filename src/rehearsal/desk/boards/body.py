"""The turning body of the reach: terraces of the paper up to a lightness, the picture's colours on and beside them."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QWheelEvent
from PyQt6.QtWidgets import QWidget

from rehearsal.core.papers.body import Bins, seen_from
from rehearsal.desk import theme
from rehearsal.desk.boards.terraces import HALF, Terrace
from rehearsal.desk.words import lab_colours

_STEP = 6.0
_REACH_PX = 9.0
#: Other bodies are drawn dashed, as in the slices: the second paper, the screen.
_DASHES = ((5.0, 4.0), (1.5, 3.5))


class BodyPlot(QWidget):
    """The body as seen from a side: drag or the arrow keys turn it; a click selects a colour of the picture."""

    picked = pyqtSignal(object)
    stepped = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.bins: Bins | None = None
        self._terraces: list[Terrace] = []
        self._others: list[tuple[np.ndarray, tuple[float, ...]]] = []
        self._colours: list[QColor] = []
        self.level = 50.0
        self.turn, self.tilt = 30.0, 22.0
        self.chosen: int | None = None
        self.pointed: np.ndarray | None = None
        self._pressed: tuple[QPointF, float, float] | None = None
        self._dragged = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Body of the gamut")
        self.setMinimumSize(240, 200)

    def show_rings(self, stacks: list[list[np.ndarray]]) -> None:
        """Rings of the paper first, then of other bodies: (n, 3) in Lab; of those every second level is enough."""
        self._terraces = [Terrace.of(ring) for ring in stacks[0]] if stacks else []
        pairs = zip(stacks[1:], _DASHES, strict=False)
        self._others = [(ring, dash) for stack, dash in pairs for ring in stack if int(ring[0, 0]) % 10 == 0]
        self.update()

    def show_bins(self, bins: Bins | None) -> None:
        """The picture's colours."""
        self.bins, self.chosen = bins, None
        self._colours = [] if bins is None else [QColor(*rgb) for rgb in lab_colours(bins.centre).tolist()]
        self.update()

    # ---- places

    @property
    def _scale(self) -> float:
        """Pixels per Lab unit, so that the body fits from every side."""
        tilt = np.radians(self.tilt)
        return min(self.width() / 236, self.height() / (2 * (56 * np.cos(tilt) + 106 * abs(np.sin(tilt)))))

    def place(self, lab: np.ndarray) -> QPointF:
        """Where a Lab colour (3,) lies in the widget."""
        return self._at(seen_from(np.asarray(lab, dtype=float), self.turn, self.tilt))

    def _at(self, seen: np.ndarray) -> QPointF:
        scale = self._scale
        return QPointF(self.width() / 2 + float(seen[0]) * scale, self.height() / 2 - float(seen[1]) * scale)

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Terraces and the picture's colours from the bottom up; rings of what lies higher and of other bodies."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), self.room.colour("field"))
        built = self._built()
        if self.tilt >= 0:
            self._paint_bins(painter, -np.inf, self._foot(built))
        for terrace, top in built if self.tilt >= 0 else built[::-1]:
            last = terrace is built[-1][0]
            terrace.paint(painter, self._seen, top, self.room, last)
            self._paint_bins(painter, terrace.level - HALF, self.level if last else terrace.level + HALF)
        if self.tilt < 0:
            self._paint_bins(painter, -np.inf, self._foot(built))
        for ring in (t.ring for t in self._terraces if t.level - HALF >= self.level and t.level % 10 == 0):
            self._paint_ring(painter, ring, (), self.room.colour("quiet"))
        for ring, dashes in self._others:
            self._paint_ring(painter, ring, dashes, self.room.colour("text"))
        self._paint_compass(painter)
        self._paint_marks(painter)

    def _built(self) -> list[tuple[Terrace, float]]:
        """The terraces up to the level, lowest first, each with the L* of its plate."""
        below = sorted((t for t in self._terraces if t.level - HALF < self.level), key=lambda t: t.level)
        return [(t, min(t.level + HALF, self.level)) for t in below]

    def _foot(self, built: list[tuple[Terrace, float]]) -> float:
        """L* under which there is no terrace: what is darker lies under the paper's black."""
        return min(built[0][0].level - HALF if built else self.level, self.level)

    def _seen(self, lab: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Places in the widget (n, 2) and distances (n,) of Lab colours."""
        seen, scale = seen_from(lab, self.turn, self.tilt), self._scale
        x, y = self.width() / 2 + seen[:, 0] * scale, self.height() / 2 - seen[:, 1] * scale
        return np.stack([x, y], axis=1), seen[:, 2]

    def _paint_ring(self, painter: QPainter, ring: np.ndarray, dashes: tuple[float, ...], colour: QColor) -> None:
        colour.setAlphaF(0.55)
        pen = QPen(colour, 1.0)
        if dashes:
            pen.setDashPattern(list(dashes))
        painter.setPen(pen)
        painter.drawPolyline(QPolygonF([QPointF(x, y) for x, y in self._seen(ring)[0]]))

    def _paint_bins(self, painter: QPainter, low: float, high: float) -> None:
        """The picture's colours of some lightnesses, from far to near."""
        if self.bins is None:
            return
        light = self.bins.centre[:, 0]
        which = np.flatnonzero((light >= low) & (light < high))
        places, away = self._seen(self.bins.centre[which])
        radii, rim = self._radii()[which], QPen(self.room.colour("text"), 0.9)
        for i in np.argsort(-away):
            painter.setPen(rim if self.bins.beyond[which[i]] > 0.5 else QPen(QColor(16, 16, 16), 0.8))
            painter.setBrush(self._colours[which[i]])
            painter.drawEllipse(QPointF(*places[i]), float(radii[i]), float(radii[i]))

    def shown_bins(self) -> np.ndarray:
        """Numbers of the picture's colours that are seen: not above the level, not behind a higher terrace."""
        if self.bins is None:
            return np.empty(0, dtype=int)
        places, light = self._seen(self.bins.centre)[0], self.bins.centre[:, 0]
        built = self._built()
        seen = light < self.level
        for terrace, top in built:
            cover = terrace.outline(self._seen, top)
            later = light < terrace.level - HALF if self.tilt >= 0 else light >= top
            for i in np.flatnonzero(seen & later):
                seen[i] = not cover.contains(QPointF(*places[i]))
        return np.flatnonzero(seen)

    def _paint_compass(self, painter: QPainter) -> None:
        """Where lighter, redder and yellower lie, in the corner beside the body."""
        away = QPointF(theme.px(46), self.height() - theme.px(40))
        painter.setFont(theme.font(theme.SMALL))
        origin = seen_from(np.array([50.0, 0, 0]), self.turn, self.tilt)
        for name, lab in (("L*", (80.0, 0, 0)), ("a*", (50.0, 30, 0)), ("b*", (50.0, 0, 30))):
            way = seen_from(np.array(lab), self.turn, self.tilt) - origin
            end = away + QPointF(float(way[0]), -float(way[1])) * (theme.px(26) / 30)
            painter.setPen(QPen(self.room.colour("quiet"), 1.4))
            painter.drawLine(away, end)
            beyond = away + (end - away) * 1.3
            painter.drawText(QRectF(beyond.x() - 10, beyond.y() - 8, 20, 16), Qt.AlignmentFlag.AlignCenter, name)

    def _paint_marks(self, painter: QPainter) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        chosen = None if self.bins is None or self.chosen is None else self.bins.centre[self.chosen]
        for lab, radius in ((chosen, 8.0), (self.pointed, 7.0)):
            if lab is None:
                continue
            for colour, width in ((QColor(0, 0, 0), 3.4), (QColor(255, 255, 255), 1.4)):
                painter.setPen(QPen(colour, width))
                painter.drawEllipse(self.place(lab), radius, radius)

    # ---- turning and choosing

    def look_from(self, turn: float, tilt: float) -> None:
        """Look from another side; degrees."""
        self.turn, self.tilt = turn % 360.0, float(np.clip(tilt, -20.0, 90.0))
        self.setAccessibleDescription(f"turned by {self.turn:.0f}°, from {self.tilt:.0f}° above")
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Begin to turn, or to choose."""
        if event is not None:
            self._pressed, self._dragged = (event.position(), self.turn, self.tilt), False

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Turn."""
        if event is None or self._pressed is None:
            return
        start, turn, tilt = self._pressed
        moved = event.position() - start
        if moved.manhattanLength() > 4:
            self._dragged = True
            self.look_from(turn - moved.x() * 0.5, tilt + moved.y() * 0.4)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """A click without turning chooses the colour in front."""
        if event is not None and self._pressed is not None and not self._dragged:
            self.picked.emit(self.bin_at(event.position()))
        self._pressed = None

    def bin_at(self, at: QPointF) -> int | None:
        """The picture's colour under a place: the one in front, else the nearest a few pixels away."""
        which = self.shown_bins()
        if self.bins is None or not len(which):
            return None
        places, away = self._seen(self.bins.centre[which])
        gap = np.hypot(places[:, 0] - at.x(), places[:, 1] - at.y())
        covered = np.flatnonzero(gap <= self._radii()[which])
        if len(covered):
            return int(which[covered[np.argmin(away[covered])]])
        return int(which[np.argmin(gap)]) if gap.min() < _REACH_PX else None

    def _radii(self) -> np.ndarray:
        """Radius in pixels of each of the picture's colours, by how many pixels it has."""
        assert self.bins is not None
        return np.asarray(1.2 + 3.0 * np.log1p(self.bins.count) / np.log1p(self.bins.count.max()))

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Another lightness is marked."""
        if event is not None:
            self.stepped.emit(2 if event.angleDelta().y() > 0 else -2)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right turn, up and down tilt; with Shift they walk from colour to colour."""
        moves = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        move = None if event is None else moves.get(Qt.Key(event.key()))
        if event is None or move is None:
            super().keyPressEvent(event)
        elif event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.picked.emit(self._next_bin(move))
        else:
            self.look_from(self.turn - _STEP * move[0], self.tilt + _STEP * move[1])

    def _next_bin(self, move: tuple[int, int]) -> int | None:
        """The colour next to the chosen one to the right, left, up or down as seen; at first the one nearest to the middle."""
        which = self.shown_bins()
        if self.bins is None or not len(which):
            return None
        seen = seen_from(self.bins.centre, self.turn, self.tilt)[:, :2]
        if self.chosen is None:
            return int(which[np.argmin(np.hypot(*seen[which].T))])
        away = seen[which] - seen[self.chosen]
        along, across = away @ np.array(move, dtype=float), away @ np.array([move[1], move[0]], dtype=float)
        ahead = np.where(along > 0.5, along + 2 * np.abs(across), np.inf)
        return int(which[np.argmin(ahead)]) if np.isfinite(ahead).any() else self.chosen
