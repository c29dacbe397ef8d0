"""The reach: lightness slices of a paper's gamut with the picture's colours in them, tied both ways to the picture."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFontMetricsF,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QWheelEvent,
)
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QSlider, QStackedWidget, QWidget

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile
from rehearsal.core.papers.body import pixels_near
from rehearsal.core.papers.reach import CELL, Slice, cell_centre, cell_of, picture_slice, pixels_of_cell
from rehearsal.core.proof.beyond import LIMIT
from rehearsal.desk import theme
from rehearsal.desk.boards.base import Board
from rehearsal.desk.boards.body import BodyPlot
from rehearsal.desk.parts.flow import flow
from rehearsal.desk.parts.samples import Sample, paint_line
from rehearsal.desk.parts.widgets import choice, quiet, show_choice
from rehearsal.desk.words import lab_colour
from rehearsal.session.session import Session
from rehearsal.tasks.scouting import Body, Reach

_SPAN = 112.0
#: Line styles of the outlines: the paper, the second paper, the screen.
_STYLES = ("solid", "dashed", "dotted")
#: Room for the axes' figures beside the slice: they are never painted over.
_LEFT, _FOOT = 34, 34


class SlicePlot(QWidget):
    """One slice: a* to the right, b* upwards. A click selects a square."""

    picked = pyqtSignal(object)
    stepped = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.slice: Slice | None = None
        self.outlines: list[list[np.ndarray]] = []
        self.cell: tuple[int, int] | None = None
        self.pointed: np.ndarray | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Slice of the gamut")
        self.setMinimumSize(240, 200)

    def _box(self) -> QRectF:
        left, foot = theme.px(_LEFT), theme.px(_FOOT)
        side = max(min(self.width() - left, self.height() - foot) - 6, 20)
        box = QRectF(0, 0, side, side)
        box.moveCenter(QPointF((self.width() + left) / 2, (self.height() - foot) / 2))
        return box

    def place(self, a: float, b: float) -> QPointF:
        """Where a* and b* lie in the widget."""
        box = self._box()
        return QPointF(box.center().x() + a / _SPAN * box.width() / 2, box.center().y() - b / _SPAN * box.height() / 2)

    def colour_at(self, at: QPointF) -> tuple[float, float]:
        """a* and b* of a place in the widget."""
        box = self._box()
        return (at.x() - box.center().x()) / box.width() * 2 * _SPAN, -(
            at.y() - box.center().y()
        ) / box.height() * 2 * _SPAN

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Axes, the picture's squares, outlines, the pointed colour."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = self._box()
        painter.fillRect(box, self.room.colour("field"))
        painter.setClipRect(box)
        painter.setPen(QPen(self.room.colour("line"), 1))
        painter.drawLine(self.place(-_SPAN, 0), self.place(_SPAN, 0))
        painter.drawLine(self.place(0, -_SPAN), self.place(0, _SPAN))
        if self.slice is not None:
            self._paint_squares(painter, self.slice)
        for lines, style in zip(self.outlines, _STYLES, strict=False):
            self._paint_outline(painter, lines, style)
        if self.pointed is not None:
            at = self.place(float(self.pointed[1]), float(self.pointed[2]))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for colour, width in ((QColor(0, 0, 0), 3.4), (QColor(255, 255, 255), 1.4)):
                painter.setPen(QPen(colour, width))
                painter.drawEllipse(at, 7, 7)
        painter.setClipping(False)
        self._paint_axes(painter, box)

    def _paint_axes(self, painter: QPainter, box: QRectF) -> None:
        """Figures and names beside the slice, with ticks at its edge."""
        font = theme.font(theme.SMALL)
        painter.setFont(font)
        metrics, high = QFontMetricsF(font), theme.px(15)
        painter.setPen(self.room.colour("quiet"))
        for value in (-80, -40, 0, 40, 80):
            at, text = self.place(value, value), f"{value}"
            wide = metrics.horizontalAdvance(text)
            painter.drawLine(QPointF(at.x(), box.bottom()), QPointF(at.x(), box.bottom() + 4))
            painter.drawLine(QPointF(box.left() - 4, at.y()), QPointF(box.left(), at.y()))
            painter.drawText(QPointF(at.x() - wide / 2, box.bottom() + high), text)
            painter.drawText(QPointF(box.left() - 7 - wide, at.y() + 4), text)
        name = "a*, to red"
        painter.drawText(QPointF(box.right() - metrics.horizontalAdvance(name), box.bottom() + 2 * high), name)
        painter.save()
        painter.translate(box.left() - theme.px(24), box.top())
        painter.rotate(-90)
        name = "b*, to yellow"
        painter.drawText(QPointF(-metrics.horizontalAdvance(name), 0), name)
        painter.restore()

    def _paint_squares(self, painter: QPainter, piece: Slice) -> None:
        most = max(float(np.log1p(piece.counts.max())), 1e-6)
        full = self._box().width() / (2 * _SPAN) * CELL
        for i, j in np.argwhere(piece.counts > 0):
            a, b = cell_centre((int(i), int(j)))
            side = full * (0.45 + 0.55 * float(np.log1p(piece.counts[i, j])) / most)
            square = QRectF(0, 0, side, side)
            square.moveCenter(self.place(a, b))
            painter.fillRect(square, QColor(*lab_colour((piece.lightness, a, b))))
            if piece.beyond[i, j] * 2 > piece.counts[i, j]:
                painter.setPen(QPen(QColor(16, 16, 16), 1))
                painter.drawLine(square.bottomLeft(), square.topRight())
            if self.cell is not None and (int(i), int(j)) == self.cell:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(QPen(QColor(0, 0, 0), 3))
                painter.drawRect(square)
                painter.setPen(QPen(QColor(255, 255, 255), 1.4))
                painter.drawRect(square)

    def _paint_outline(self, painter: QPainter, lines: list[np.ndarray], style: str) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for line in lines:
            paint_line(painter, QPolygonF([self.place(float(a), float(b)) for a, b in line]), style)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Select a square."""
        if event is not None and self.slice is not None:
            cell = cell_of(np.array(self.colour_at(event.position())))
            self.picked.emit((int(cell[0]), int(cell[1])))

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Another lightness."""
        if event is not None:
            self.stepped.emit(2 if event.angleDelta().y() > 0 else -2)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down: another lightness; arrows with Shift walk the selection."""
        if event is None:
            return
        shift = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        moves = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        move = moves.get(Qt.Key(event.key()))
        if move is None:
            super().keyPressEvent(event)
        elif shift or move[0]:
            at = self.cell or (35, 35)
            self.picked.emit((at[0] + move[0], at[1] + move[1]))
        else:
            self.stepped.emit(2 * move[1])


class ReachBoard(Board):
    """Slices beside the take."""

    title = "The reach"
    beside = True
    selected = pyqtSignal(object)

    def __init__(self, session: Session) -> None:
        self._reach: Reach | None = None
        self._bodies: list[Body | None] = []
        super().__init__(session)

    def build(self) -> None:
        """Slice, lightness, what is overlaid."""
        self._other = choice([("this paper alone", 0)])
        self._other.setAccessibleName("Second paper")
        self._other.activated.connect(lambda _i: self._gather())
        self._screen = QCheckBox("this screen")
        self._screen.setChecked(True)
        self._screen.toggled.connect(lambda _on: self._gather())
        self.plot = SlicePlot()
        self.plot.picked.connect(self.pick)
        self.plot.stepped.connect(lambda step: self.slider.setValue(self.slider.value() + step))
        self.body = BodyPlot()
        self.body.picked.connect(self.pick_bin)
        self.body.stepped.connect(lambda step: self.slider.setValue(self.slider.value() + step))
        self._as_body = choice([("slices", False), ("turning body", True)])
        self._as_body.setAccessibleName("Show the reach as")
        self._as_body.activated.connect(lambda _i: self.show_body(bool(self._as_body.currentData())))
        self.head(self._as_body)
        self._plots = QStackedWidget()
        self._plots.addWidget(self.plot)
        self._plots.addWidget(self.body)
        body = QHBoxLayout()
        body.addWidget(self._plots, 1)
        self.slider = QSlider(Qt.Orientation.Vertical)
        self.slider.setRange(2, 98)
        self.slider.setValue(50)
        self.slider.setPageStep(8)
        self.slider.setAccessibleName("Lightness of the slice, L*")
        self.slider.valueChanged.connect(lambda _v: self._cut())
        body.addWidget(self.slider)
        self.rows.addLayout(body, 1)
        self._other.setSizeAdjustPolicy(self._other.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self._other.setMinimumContentsLength(14)
        self._samples = [Sample(kind) for kind in (*_STYLES, "struck", "rim")]
        solid, dashed, dotted, struck, rim = self._samples
        beyond = (quiet("beyond the paper"), quiet("beyond the paper"))
        first = (solid, quiet("this paper"), dashed, self._other, dotted, self._screen)
        self.rows.addLayout(flow(*first, struck, beyond[0], rim, beyond[1]))
        self._of_slice, self._of_body = (struck, beyond[0]), (rim, beyond[1])
        self._show_legend(False)
        self.note = quiet(wrap=True)
        self.note.setMinimumHeight(30)
        self.rows.addWidget(self.note)

    def subject(self) -> object:
        """The picture as it is tuned and cropped, the paper and the screen."""
        opened = self.session.now.opened
        return opened and opened.rendition.look, self.session.screen.profile.digest

    def open(self) -> None:
        """Measure the picture's colours for the present paper."""
        self._reach, self.plot.cell, self.plot.slice = None, None, None
        self.body.show_bins(None)
        self.selected.emit(None)
        with_other = [
            (c.name, c.id)
            for c in self.session.shelf.conditions
            if self.session.now.take is None or c.id != self.session.now.take.condition
        ]
        kept = self._other.currentData()
        self._other.clear()
        for text, value in [("no second paper", 0), *with_other]:
            self._other.addItem(text, value)
        show_choice(self._other, kept)
        if self.session.now.opened is None:
            self.sentence.setText("Open a picture first.")
            return

        def answer(reach: Reach) -> None:
            self._reach = reach
            self.body.show_bins(reach.bins)
            self._gather()

        self.session.inquiries.ask_reach(answer)
        self._gather()

    def show_body(self, on: bool) -> None:
        """The turning body in the place of the slice, or the slice again."""
        show_choice(self._as_body, on)
        self._plots.setCurrentIndex(1 if on else 0)
        self._show_legend(on)
        self.plot.cell, self.body.chosen = None, None
        self.selected.emit(None)
        self._cut()
        (self.body if on else self.plot).setFocus()

    def _show_legend(self, body: bool) -> None:
        """How what lies beyond is drawn here."""
        for part in self._of_slice:
            part.setVisible(not body)
        for part in self._of_body:
            part.setVisible(body)

    @property
    def shows_body(self) -> bool:
        """True while the turning body is shown."""
        return self._plots.currentIndex() == 1

    def choose_other(self, condition: int) -> None:
        """Lay a second paper over the first; 0 takes it away."""
        show_choice(self._other, condition)
        self._gather()

    def _gather(self) -> None:
        """Profiles whose outlines are drawn; their solids are made in the background."""
        paper = self.session.now.paper
        if paper is None:
            return
        profiles: list[Profile | None] = [paper, None, None]
        condition = self.session.shelf.get(self._other.currentData() or 0)
        if condition is not None:
            try:
                profiles[1] = self.session.shelf.profile(condition.profile_path)
            except RehearsalError as error:
                self.session.bus.say_error(error)
        if self._screen.isChecked():
            profiles[2] = self.session.screen.profile

        def answer(made: list[Body | None]) -> None:
            self._bodies = made
            self.body.show_rings([[] if each is None else each.rings for each in made])
            self._cut()

        self.session.inquiries.ask_bodies(profiles, answer)

    def _cut(self) -> None:
        """The slice at the slider's lightness."""
        lightness = float(self.slider.value())
        drawn = [[] if body is None else body.outline(lightness) for body in self._bodies]
        self.plot.outlines = drawn
        if self._reach is not None:
            self.plot.slice = picture_slice(self._reach.lab, self._reach.delta > LIMIT, lightness)
        self.body.level = lightness
        self.plot.update()
        self.body.update()
        self._tell()

    def _tell(self) -> None:
        lightness, piece = self.slider.value(), self.plot.slice
        if piece is None or self._reach is None:
            self.sentence.setText("Measuring…")
            return
        all_covered = float((self._reach.delta <= LIMIT).mean() * 100)
        here = f"{piece.covered:.0f} % covered" if piece.covered is not None else "the picture has nothing here"
        share = float(piece.counts.sum() / self._reach.delta.size * 100)
        self.sentence.setText(
            f"L* {lightness}: {here} ({share:.0f} % of the picture). All in all the paper covers {all_covered:.0f} %."
        )
        self.plot.setAccessibleDescription(self.sentence.text())
        if self.shows_body:
            if self.body.chosen is not None:
                return
            self.note.setText("Drag or the arrow keys turn the body; a click, or Shift and the arrows, shows a colour's pixels. "
                              "The paper is built up to the slice.")  # fmt: skip
        elif self.plot.cell is None:
            self.note.setText("Click a square to see its pixels in the picture; point at the picture to see its place here. "
                              "Up and down change the lightness.")  # fmt: skip

    def pick(self, cell: tuple[int, int]) -> None:
        """Select a square: its pixels are shown in the picture."""
        if self._reach is None:
            return
        self.plot.cell = cell
        mask = pixels_of_cell(self._reach.lab, float(self.slider.value()), cell)
        a, b = cell_centre(cell)
        self._show_pixels(mask, f"a* {a:+.0f}, b* {b:+.0f} near L* {self.slider.value()}")
        self.plot.update()

    def pick_bin(self, which: int | None) -> None:
        """Select one of the body's colours: its pixels are shown in the picture; None ends it."""
        self.body.chosen = which
        if which is None or self._reach is None or self.body.bins is None:
            self.selected.emit(None)
            self._tell()
        else:
            centre = self.body.bins.centre[which]
            name = "L* {:.0f}, a* {:+.0f}, b* {:+.0f}".format(*centre)
            self._show_pixels(pixels_near(self._reach.lab, centre), name)
        self.body.update()

    def _show_pixels(self, mask: np.ndarray, name: str) -> None:
        """Show some pixels of the picture and say how many and how far they are."""
        assert self._reach is not None
        share = float(mask.mean() * 100)
        delta = float(np.median(self._reach.delta[mask])) if mask.any() else 0.0
        beyond = f"beyond by ΔE₀₀ {delta:.1f}" if delta > LIMIT else "within the paper's reach"
        here = f"{name}: {share:.2f} % of the picture, {beyond}. A click beside the colours ends it."
        self.note.setText(here if mask.any() else f"{name}: no pixel of the picture.")
        self.selected.emit(mask if mask.any() else None)

    def point(self, place: tuple[int, int] | None) -> None:
        """The colour under the pointer in the picture: go to its slice and mark its place."""
        lab = None if place is None else self.session.inquiries.tuned_lab(*place)
        self.plot.pointed, self.body.pointed = lab, lab
        if lab is not None:
            self.slider.setValue(round(float(np.clip(lab[0], 2, 98))))
        self.plot.update()
        self.body.update()

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        super().set_room(room)
        part: Any
        for part in (self.plot, self.body, *self._samples):
            part.room = room
            part.update()
        self.plot.update()
        self.body.update()
