"""A colour pulled on a disc of a* and b*: ring is the picture, dot is the print; beside it a rail of lightness."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QKeyEvent,
    QLinearGradient,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.core.tuning.pulling import ends, inside, towards
from rehearsal.core.values.pull import Pull
from rehearsal.desk import theme
from rehearsal.desk.parts.focus import paint_focus
from rehearsal.desk.parts.samples import paint_line
from rehearsal.desk.words import lab_colour, lab_colours
from rehearsal.tasks.scouting import Body

_SPAN, _RAIL, _GAP, _REACH, _COARSE = 112.0, 14, 26, 14.0, 5


class PullDisc(QWidget):
    """``moving`` and ``set_to`` tell the pull; Shift pushes past the paper's edge."""

    moving = pyqtSignal(object)
    set_to = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.pull: Pull | None = None
        self._body: Body | None = None
        self._pixels, self._colours = np.empty((0, 3)), np.empty((0, 3), dtype=int)
        self._held, self._moved = "", False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Colour pulled")

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(190), theme.px(150))

    def minimumSizeHint(self) -> QSize:
        """It may be small."""
        return QSize(theme.px(130), theme.px(96))

    def show_pull(self, pull: Pull | None, body: Body | None, pixels: np.ndarray) -> None:
        """A pull (None for none), the paper's body, and some of the picture's colours, Lab (m, 3)."""
        if not self._held:
            self.pull = pull
        self._body = body
        if pixels is not self._pixels:
            self._pixels, self._colours = pixels, lab_colours(pixels) if len(pixels) else np.empty((0, 3), dtype=int)
        self._tell()

    def _tell(self) -> None:
        if self.pull is not None:
            one, two = ends(self.pull)
            said = "picture L* {:.0f}, a* {:+.0f}, b* {:+.0f}; becomes L* {:.0f}, a* {:+.0f}, b* {:+.0f}".format(
                *one, *two
            )
            self.setAccessibleDescription(said)
        self.update()

    # ---- places

    def disc(self) -> QRectF:
        """The disc's square."""
        side = min(self.width() - theme.px(_RAIL + _GAP), self.height()) - 2
        return QRectF(1, (self.height() - side) / 2, side, side)

    def rail(self) -> QRectF:
        """The rail of lightness."""
        disc = self.disc()
        return QRectF(disc.right() + theme.px(10), disc.top() + 4, theme.px(_RAIL), disc.height() - 8)

    def place(self, lab: Sequence[float] | np.ndarray) -> QPointF:
        """Where a colour lies on the disc."""
        disc = self.disc()
        x = disc.center().x() + float(lab[1]) / _SPAN * disc.width() / 2
        return QPointF(x, disc.center().y() - float(lab[2]) / _SPAN * disc.height() / 2)

    def level(self, lightness: float) -> QPointF:
        """Where an L* lies on the rail."""
        rail = self.rail()
        return QPointF(rail.center().x(), rail.bottom() - lightness / 100 * rail.height())

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Disc, reach, the picture's colours, ring and dot; rail."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        disc = self.disc()
        painter.setPen(QPen(self.room.colour("border"), 1))
        painter.setBrush(self.room.colour("field"))
        painter.drawEllipse(disc)
        painter.setPen(QPen(self.room.colour("line"), 1))
        painter.drawLine(self.place((0, -_SPAN, 0)), self.place((0, _SPAN, 0)))
        painter.drawLine(self.place((0, 0, -_SPAN)), self.place((0, 0, _SPAN)))
        if self.pull is None:
            painter.setFont(theme.font(theme.SMALL))
            painter.setPen(self.room.colour("quiet"))
            painter.drawText(disc, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, "no colour\nis pulled yet")
            return
        for lab, rgb in zip(self._pixels, self._colours.tolist(), strict=True):
            at = self.place(lab)
            painter.fillRect(QRectF(at.x() - 1, at.y() - 1, 2, 2), QColor(*rgb))
        one, two = ends(self.pull)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for line in self._body.outline(float(np.clip(two[0], 1, 99))) if self._body is not None else ():
            paint_line(painter, QPolygonF([self.place((0.0, float(a), float(b))) for a, b in line]), "solid")
        self._paint_rail(painter, one, two)
        for lab, full in ((one, False), (two, True)):
            self._paint_mark(painter, self.place(lab), lab, full)
        paint_focus(painter, self, self.room)

    def _paint_rail(self, painter: QPainter, one: np.ndarray, two: np.ndarray) -> None:
        rail = self.rail()
        ramp = QLinearGradient(rail.bottomLeft(), rail.topLeft())
        for i in range(11):
            rgb = [round(v * self.room.lightest / 255) for v in lab_colour((i * 10.0, 0.0, 0.0))]
            ramp.setColorAt(i / 10, QColor(*rgb))
        painter.fillRect(rail, ramp)
        for lab, full in ((one, False), (two, True)):
            self._paint_mark(painter, self.level(float(lab[0])), lab, full)

    def _paint_mark(self, painter: QPainter, at: QPointF, lab: np.ndarray, full: bool) -> None:
        """A ring for the picture, a dot of its colour for the print."""
        painter.setBrush(
            QColor(*lab_colour((float(lab[0]), float(lab[1]), float(lab[2])))) if full else Qt.BrushStyle.NoBrush
        )
        radius = 5.0 if full else 7.0
        for colour, width in ((QColor(20, 20, 20), 3.2), (QColor(255, 255, 255), 1.5)):
            painter.setPen(QPen(colour, width))
            painter.drawEllipse(at, radius, radius)

    # ---- hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of the dot, or of the rail's."""
        if event is None or event.button() != Qt.MouseButton.LeftButton or self.pull is None:
            return
        here = event.position()
        _one, two = ends(self.pull)
        if np.hypot(here.x() - self.place(two).x(), here.y() - self.place(two).y()) <= _REACH:
            self._held = "disc"
        elif self.rail().adjusted(-8, -8, 8, 8).contains(here):
            self._held = "rail"
        self._moved = False

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """It follows, and stops at the paper's edge unless it is pushed."""
        if event is None or not self._held or self.pull is None:
            return
        here, two = event.position(), ends(self.pull)[1]
        if self._held == "disc":
            disc = self.disc()
            a = (here.x() - disc.center().x()) / (disc.width() / 2) * _SPAN
            b = -(here.y() - disc.center().y()) / (disc.height() / 2) * _SPAN
            wanted = np.array([two[0], a, b])
        else:
            rail = self.rail()
            light = min(max((rail.bottom() - here.y()) / rail.height() * 100, 1.0), 99.0)
            wanted = np.array([light, two[1], two[2]])
        self._moved = True
        self.pull = self._stopped(
            towards(self.pull, wanted), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        )
        self._tell()
        self.moving.emit(self.pull)

    def _stopped(self, pull: Pull, pushed: bool) -> Pull:
        return pull if pushed or self._body is None else inside(pull, self._body.solid)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """One change; none when nothing was moved."""
        if event is not None and self._held:
            self._held = ""
            if self._moved and self.pull is not None:
                self.set_to.emit(self.pull)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows move the dot by one in a* and b*, page keys in L*, with Shift by five; Backspace brings it back."""
        ways = {
            Qt.Key.Key_Left: (0, -1, 0), Qt.Key.Key_Right: (0, 1, 0), Qt.Key.Key_Up: (0, 0, 1), Qt.Key.Key_Down: (0, 0, -1),
            Qt.Key.Key_PageUp: (1, 0, 0), Qt.Key.Key_PageDown: (-1, 0, 0),
        }  # fmt: skip
        key = Qt.Key(event.key()) if event is not None else Qt.Key.Key_unknown
        if event is None or self.pull is None or (key not in ways and key != Qt.Key.Key_Backspace):
            super().keyPressEvent(event)
            return
        one, two = ends(self.pull)
        far = _COARSE if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        if key == Qt.Key.Key_Backspace:
            self._keep(towards(self.pull, one))
        else:
            self._keep(self._stopped(towards(self.pull, two + far * np.array(ways[key])), False))

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """The wheel makes the print's colour lighter or darker by one L* while the disc has the focus."""
        if event is not None and self.hasFocus() and self.pull is not None:
            way = 1.0 if event.angleDelta().y() > 0 else -1.0
            self._keep(self._stopped(towards(self.pull, ends(self.pull)[1] + np.array([way, 0.0, 0.0])), False))
        elif event is not None:
            event.ignore()

    def _keep(self, made: Pull) -> None:
        if made != self.pull:
            self.pull = made
            self._tell()
            self.set_to.emit(made)
