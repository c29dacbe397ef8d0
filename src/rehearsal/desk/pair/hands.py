"""What hands do with the pair: drag, point, zoom, crop, draw a line, pin."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent

from rehearsal.core.sheet.layout import same_proportion
from rehearsal.core.values.frame import Crop, PrintSize
from rehearsal.desk.pair.cropping import CropFrame, crop_by_key
from rehearsal.desk.pair.geometry import Zoom
from rehearsal.desk.pair.placing import Placing
from rehearsal.desk.pair.state import PairState
from rehearsal.session.now import Now
from rehearsal.session.takes import Takes

_ARROWS = {
    Qt.Key.Key_Left: (-0.08, 0.0), Qt.Key.Key_Right: (0.08, 0.0), Qt.Key.Key_Up: (0.0, -0.08), Qt.Key.Key_Down: (0.0, 0.08),
}  # fmt: skip


class Hands:
    """Follows mouse and keys; what they change goes to the state of the pair or, once let go, to the take."""

    def __init__(self, now: Now, takes: Takes, state: PairState, placing: Placing, frame: CropFrame) -> None:
        self._now, self._takes, self._state, self._placing, self._frame = now, takes, state, placing, frame
        self._drag: QPointF | None = None
        self._line_start: tuple[float, float] | None = None
        #: The line while it is being drawn.
        self.line_now: tuple[float, ...] = ()

    # ---- pins

    def pin(self) -> None:
        """Keep the reading under the pointer."""
        take, under = self._now.take, self._state.under
        if under is not None and take is not None and self._now.picture is not None:
            self._takes.mark(pins=(*take.marks.pins, self._placing.fraction(under)))

    # ---- mouse

    def press(self, event: QMouseEvent) -> None:
        """Begin to drag the picture, the curtain or the crop; Shift pins."""
        point = self._placing.picture_point(event.position())
        if point is not None and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self._state.under = point
            self.pin()
            return
        if self._state.picking and point is not None:
            self._state.pick(False)
            self._state.picked.emit(point)
            return
        if self._state.drawing_line and point is not None:
            self._line_start = self._placing.fraction(point)
            return
        self._drag = event.position()
        placed = self._placing.placed(0)
        if self._state.shows_whole and placed is not None and placed.pane.contains(event.position()):
            self._frame.begin(event.position(), placed.picture, self._placing.crop, self._wanted_proportion())

    def _wanted_proportion(self) -> float | None:
        """Width over height in fractions that the crop must keep; None when it is free."""
        take, picture, kept = self._now.take, self._now.picture, self._state.proportion
        if take is None or picture is None or kept == 0:
            return None
        (w, h), crop, size = picture.size, take.frame.crop, take.frame.size
        if kept > 0:
            upright = crop.height * h > crop.width * w
            return (1 / kept if upright else kept) * h / w
        return None if size is None else size.width_cm / size.height_cm * h / w

    def move(self, here: QPointF) -> None:
        """Drag, or tell what is under the pointer."""
        if self._line_start is not None:
            self._draw_to(here)
        elif self._drag is None:
            self._state.point(self._placing.picture_point(here))
        elif self._frame.active:
            self._frame.drag(here)
            self._state.repaint.emit()
        elif self._state.mode == "curtain" and abs(self._drag.x() - self.curtain_x()) < 14:
            pane = self._placing.pane_rects()[0]
            self._state.set_curtain((here.x() - pane.x()) / pane.width())
            self._drag = here
        elif self._state.zoom.scale:
            self._pan_to(here)

    def _draw_to(self, here: QPointF) -> None:
        point = self._placing.picture_point(here)
        if point is not None and self._line_start is not None:
            self.line_now = (*self._line_start, *self._placing.fraction(point))
            self._state.repaint.emit()

    def _pan_to(self, here: QPointF) -> None:
        placed = self._placing.placed(1)
        if placed is not None and self._drag is not None:
            moved = self._drag - here
            size = placed.picture
            self._state.set_zoom(self._state.zoom.moved(moved.x() / size.width(), moved.y() / size.height()))
            self._drag = here

    def cursor(self, here: QPointF) -> Qt.CursorShape | None:
        """The pointer's shape at a place; None while something is dragged."""
        if self._drag is not None or self._line_start is not None:
            return None
        if self._state.mode == "curtain" and abs(here.x() - self.curtain_x()) < 6:
            return Qt.CursorShape.SplitHCursor
        return (
            Qt.CursorShape.CrossCursor
            if self._state.drawing_line or self._state.picking
            else Qt.CursorShape.ArrowCursor
        )

    def release(self) -> None:
        """End a drag; a moved crop or a drawn line becomes a change of the take."""
        self._drag = None
        if self._line_start is not None:
            line, self._line_start, self.line_now = self.line_now, None, ()
            if line:
                self._takes.mark(line=line)
            self._state.draw_line(False)
            self._state.line_drawn.emit()
        crop = self._frame.end()
        if crop is not None and crop != self._placing.crop:
            self._takes.change_frame(crop=crop, size=self._size_for(crop))

    def _size_for(self, crop: Crop) -> PrintSize | None:
        """A print size that follows a crop of another proportion, along the print's longer side."""
        take, picture = self._now.take, self._now.picture
        size = None if take is None else take.frame.size
        if picture is None or size is None:
            return size
        w, h = crop.width * picture.size[0], crop.height * picture.size[1]
        if same_proportion(w, h, size.width_cm, size.height_cm):
            return size
        long = max(size.width_cm, size.height_cm)
        return PrintSize(round(long * min(1, w / h), 2), round(long * min(1, h / w), 2))

    def double_click(self, at: QPointF) -> None:
        """Between fit and 1:1 at the pointed place."""
        point = None if self._state.cropping else self._placing.picture_point(at)
        if self._state.cropping:
            return
        if self._state.zoom.scale or point is None:
            self._state.set_zoom(Zoom())
            return
        x, y, w, h = self._placing.box()
        self._state.set_zoom(Zoom(1 / self._placing.ratio(), (point[0] - x) / w, (point[1] - y) / h))

    def curtain_x(self) -> float:
        """Where the curtain's edge lies in the widget."""
        pane = self._placing.pane_rects()[0]
        return pane.x() + self._state.curtain * pane.width()

    # ---- keys

    def key(self, event: QKeyEvent) -> bool:
        """Arrows pan, or move the crop while it is being set; False for a key that is not meant here."""
        step = _ARROWS.get(Qt.Key(event.key()))
        control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if step is None:
            return False
        if self._state.cropping:
            self._takes.change_frame(crop=crop_by_key(self._placing.crop, step, control))
        elif control:
            return False
        elif self._state.mode == "curtain" and not self._state.zoom.scale:
            self._state.set_curtain(self._state.curtain + step[0] / 2)
        elif self._state.zoom.scale:
            self._state.set_zoom(self._state.zoom.moved(*step))
        return True
