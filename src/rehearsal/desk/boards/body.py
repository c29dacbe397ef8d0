"""The turning body of the reach: rings of the paper, the picture's colours among them. Painted without OpenGL."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QWheelEvent
from PyQt6.QtWidgets import QWidget

from rehearsal.core.papers.body import Bins, seen_from
from rehearsal.desk import theme
from rehearsal.desk.words import lab_colour, lab_colours

_STEP = 6.0
_REACH_PX = 9.0
#: Points of a ring that are painted in one colour.
_RUN = 6
#: Other bodies are drawn dashed, as in the slices: the second paper, the screen.
_DASHES = ((5.0, 4.0), (1.5, 3.5))


@dataclass(frozen=True)
class _Run:
    """A piece of a ring (n, 3) in Lab, its colour (None: that of the room's text), its dashes (none for the paper)."""

    lab: np.ndarray
    colour: QColor | None
    dashes: tuple[float, ...]


def _runs(ring: np.ndarray, which: int) -> list[_Run]:
    """Pieces of a ring of the paper (0) or of another body; of those every second level is enough."""
    if which > 0 and int(ring[0, 0]) % 10:
        return []
    pieces = [ring[i : i + _RUN + 1] for i in range(0, len(ring) - 1, _RUN)]
    if which > 0:
        return [_Run(piece, None, _DASHES[min(which, len(_DASHES)) - 1]) for piece in pieces]
    return [_Run(piece, QColor(*lab_colour(tuple(piece[len(piece) // 2]))), ()) for piece in pieces]


class BodyPlot(QWidget):
    """The body as seen from a side: drag or the arrow keys turn it; a click selects a colour of the picture."""

    picked = pyqtSignal(object)
    stepped = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.bins: Bins | None = None
        self._runs: list[_Run] = []
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
        """Rings of the paper first, then of other bodies: (n, 3) in Lab."""
        self._runs = [run for which, stack in enumerate(stacks) for ring in stack for run in _runs(ring, which)]
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
        """The far sides of the rings, the picture's colours from far to near, the near sides; axis and marks."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), self.room.colour("field"))
        self._paint_axis(painter)
        seen = [seen_from(run.lab, self.turn, self.tilt) for run in self._runs]
        far = [float(s[:, 2].mean()) for s in seen]
        for run, where, away in zip(self._runs, seen, far, strict=True):
            if away > 0:
                self._paint_run(painter, run, where, away)
        self._paint_bins(painter)
        for run, where, away in zip(self._runs, seen, far, strict=True):
            if away <= 0:
                self._paint_run(painter, run, where, away)
        self._paint_marks(painter)

    def _paint_run(self, painter: QPainter, run: _Run, seen: np.ndarray, away: float) -> None:
        marked = not run.dashes and abs(float(run.lab[0, 0]) - self.level) < 2.5
        colour = QColor(run.colour) if run.colour is not None and not marked else QColor(self.room.colour("text"))
        colour.setAlphaF(float(np.clip(0.62 - away / 260, 0.22, 1.0)))
        pen = QPen(colour, 2.0 if marked else 1.0 if run.dashes else 1.4)
        if run.dashes:
            pen.setDashPattern(list(run.dashes))
        painter.setPen(pen)
        painter.drawPolyline(QPolygonF([self._at(point) for point in seen]))

    def _paint_bins(self, painter: QPainter) -> None:
        if self.bins is None:
            return
        seen = seen_from(self.bins.centre, self.turn, self.tilt)
        radii = self._radii()
        rim = QPen(self.room.colour("text"), 0.9)
        for i in np.argsort(-seen[:, 2]):
            painter.setPen(rim if self.bins.beyond[i] > 0.5 else Qt.PenStyle.NoPen)
            painter.setBrush(self._colours[i])
            painter.drawEllipse(self._at(seen[i]), float(radii[i]), float(radii[i]))

    def _paint_axis(self, painter: QPainter) -> None:
        painter.setPen(QPen(self.room.colour("quiet"), 1))
        painter.drawLine(self.place(np.array([0.0, 0, 0])), self.place(np.array([100.0, 0, 0])))
        painter.setFont(theme.font(theme.SMALL))
        for text, lab in (("L* 100", (104, 0, 0)), ("L* 0", (-6, 0, 0)), ("a*", (50, 106, 0)), ("b*", (50, 0, 106))):
            at = self.place(np.array(lab, dtype=float))
            painter.drawText(at + QPointF(-10, 4), text)

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
        if self.bins is None:
            return None
        seen, scale = seen_from(self.bins.centre, self.turn, self.tilt), self._scale
        x, y = (at.x() - self.width() / 2) / scale, (self.height() / 2 - at.y()) / scale
        gap = np.hypot(seen[:, 0] - x, seen[:, 1] - y) * scale
        covered = np.flatnonzero(gap <= self._radii())
        if len(covered):
            return int(covered[np.argmin(seen[covered, 2])])
        return int(np.argmin(gap)) if gap.min() < _REACH_PX else None

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
        if self.bins is None:
            return None
        seen = seen_from(self.bins.centre, self.turn, self.tilt)[:, :2]
        if self.chosen is None:
            return int(np.argmin(np.hypot(*seen.T)))
        away = seen - seen[self.chosen]
        along, across = away @ np.array(move, dtype=float), away @ np.array([move[1], move[0]], dtype=float)
        ahead = np.where(along > 0.5, along + 2 * np.abs(across), np.inf)
        return int(np.argmin(ahead)) if np.isfinite(ahead).any() else self.chosen
