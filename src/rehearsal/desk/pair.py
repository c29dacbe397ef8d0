"""The pair: picture and take side by side, as one large blink, or under a curtain; locked zoom and pan."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import (
    QColor,
    QFontMetricsF,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QWheelEvent,
)

from rehearsal.core.picture.pyramid import soft_look
from rehearsal.core.proof.screenroad import Painter
from rehearsal.core.sheet.layout import Crop, same_proportion
from rehearsal.desk import theme
from rehearsal.desk.cropping import crop_by_key
from rehearsal.desk.geometry import HEADER, Placed, Zoom, fit_scale
from rehearsal.desk.pairbase import MOST_SCALE, PairBase
from rehearsal.desk.stations import header_texts


def _image(buffer: np.ndarray, ratio: float) -> QImage:
    h, w = buffer.shape
    image = QImage(buffer.data, w, h, w * 4, QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(ratio)
    return image


class PairView(PairBase):
    """Shows the open take of a model, and follows hands."""

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Surround, headers, mounts, pictures, maps."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), self.room.colour("surround"))
        if self.model.loaded is None:
            self._paint_empty(painter)
            return
        if self.mode == "pair":
            order = (1, 0) if self.swapped else (0, 1)
            for pane, content in enumerate(order):
                self._paint_side(painter, pane, content)
        else:
            self._paint_side(painter, 1, 0 if self.swapped else 1)
            if self.mode == "curtain":
                self._paint_curtain(painter)

    def _paint_empty(self, painter: QPainter) -> None:
        painter.setFont(theme.font(theme.LARGE))
        painter.setPen(self.room.colour("text"))
        busy = "load" in self.model.jobs.running
        text = (
            "Reading the picture…"
            if busy
            else "Drop a picture here, or open one with Ctrl+O.\nPrinter profiles can be dropped as well."
        )
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, text)

    def _paint_side(self, painter: QPainter, pane: int, content: int) -> None:
        """Paint the picture (content 0) or the take (1) into a pane."""
        placed = self.placed(pane)
        if placed is None:
            return
        self._paint_header(painter, placed, content)
        painter.save()
        painter.setClipRect(placed.pane)
        painter.fillRect(placed.mount, self._mount_colour(content))
        whole = pane == 0 and self.cropping and self.mode == "pair"
        image = self._side_image(content, placed, whole)
        if image is not None:
            painter.drawImage(placed.visible.topLeft(), image)
        if whole:
            self._frame.paint(painter, placed.picture, self.crop)
        else:
            self._paint_maps(painter, content)
            self._paint_marks(painter, placed)
        painter.restore()

    def _paint_header(self, painter: QPainter, placed: Placed, content: int) -> None:
        rect = QRectF(placed.pane.x(), 0, placed.pane.width() - 6, HEADER)
        left, right = self.header_texts(content)
        ground = self.room.surround
        painter.setPen(QColor(0xEC, 0xEC, 0xEC) if ground < 0x80 else QColor(0x10, 0x10, 0x10))
        room = rect.width() - QFontMetricsF(theme.font(theme.SMALL)).horizontalAdvance(right) - 16
        painter.setFont(theme.font())
        left = QFontMetricsF(theme.font()).elidedText(left, Qt.TextElideMode.ElideRight, max(room, 60))
        painter.drawText(rect, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, left)
        painter.setFont(theme.font(theme.SMALL))
        painter.drawText(rect, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, right)

    def header_texts(self, content: int) -> tuple[str, str]:
        """Name and state at the head of a pane."""
        return header_texts(self.model, content, self.mode)

    def _mount_colour(self, content: int) -> QColor:
        road = self.model.road
        if road is None:
            return self.room.colour("surround")
        rival = self.model.rival_road
        rgb = road.paper_rgb if content == 1 else road.mount_rgb if rival is None else rival.paper_rgb
        return QColor.fromRgbF(*[float(v) for v in rgb])

    def _side_image(self, content: int, placed: Placed, whole: bool) -> QImage | None:
        painter = self._painter_of(content)
        if painter is None:
            return None
        block, key = self._visible_block(placed, whole)
        side = self._sides[content]
        wanted = (key, painter, self.soft)
        if side.key != wanted:
            source = soft_look(block) if self.soft else block
            reuse = side.buffer if side.buffer is not None and side.buffer.shape == source.shape[:2] else None
            side.image = None
            side.buffer = painter.paint(source, reuse)
            side.image, side.key = _image(side.buffer, self._ratio()), wanted
        return side.image

    def _painter_of(self, content: int) -> Painter | None:
        road = self.model.road
        if road is None:
            return None
        if content == 0:
            return self.model.rival_painter or road.master
        return self.model.painter

    # ---- maps

    def _paint_maps(self, painter: QPainter, content: int) -> None:
        placed = self.placed(content)
        if placed is not None and not self.swapped:
            self._lines.paint(painter, content, self.shown_maps, placed.visible, self._ratio())

    def _paint_marks(self, painter: QPainter, placed: Placed) -> None:
        take = self.model.take
        if take is not None:
            c = take.crop
            self.marks.paint(painter, placed, (c.x, c.y, c.width, c.height), take.pins, self._line_now or take.line)

    def _paint_curtain(self, painter: QPainter) -> None:
        placed = self.placed(1)
        if placed is None:
            return
        x = placed.pane.x() + self.curtain * placed.pane.width()
        image = self._side_image(0, placed, False)
        painter.save()
        painter.setClipRect(QRectF(placed.pane.x(), placed.pane.y(), x - placed.pane.x(), placed.pane.height()))
        painter.fillRect(placed.mount, self._mount_colour(0))
        if image is not None:
            painter.drawImage(placed.visible.topLeft(), image)
        painter.restore()
        painter.setPen(QPen(QColor(20, 20, 20), 3))
        painter.drawLine(QPointF(x, placed.pane.y()), QPointF(x, placed.pane.bottom()))
        painter.setPen(QPen(QColor(245, 245, 245), 1))
        painter.drawLine(QPointF(x, placed.pane.y()), QPointF(x, placed.pane.bottom()))

    # ---- hands

    def _curtain_x(self) -> float:
        pane = self._pane_rects()[0]
        return pane.x() + self.curtain * pane.width()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Begin to drag the picture, the curtain or the crop."""
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self.setFocus()
        point = self.picture_point(event.position())
        if point is not None and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self._under = point
            self.pin_here()
            return
        if self.drawing_line and point is not None:
            self._line_start = self._fraction(point)
            return
        self._drag = event.position()
        placed = self.placed(0)
        if self.cropping and self.mode == "pair" and placed is not None and placed.pane.contains(event.position()):
            proportion = self._wanted_proportion()
            self._frame.begin(event.position(), placed.picture, self.crop, proportion)

    def _wanted_proportion(self) -> float | None:
        """Width over height in fractions that the crop must keep; None when it is free."""
        take, loaded = self.model.take, self.model.loaded
        if take is None or loaded is None or self._kept_proportion == 0:
            return None
        w, h = loaded.pyramid.size
        if self._kept_proportion > 0:
            upright = take.crop.height * h > take.crop.width * w
            return (1 / self._kept_proportion if upright else self._kept_proportion) * h / w
        return None if take.size is None else take.size.width_cm / take.size.height_cm * h / w

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag, or tell what is under the pointer."""
        if event is None:
            return
        here = event.position()
        if self._line_start is not None:
            point = self.picture_point(here)
            if point is not None:
                self._line_now = (*self._line_start, *self._fraction(point))
                self.update()
            return
        if self._drag is None:
            near = self.mode == "curtain" and abs(here.x() - self._curtain_x()) < 6
            plain = Qt.CursorShape.CrossCursor if self.drawing_line else Qt.CursorShape.ArrowCursor
            self.setCursor(Qt.CursorShape.SplitHCursor if near else plain)
            self._under = self.picture_point(here)
            self.pointed.emit(self._under)
            return
        if self._frame.active:
            self._frame.drag(here)
            self.update()
        elif self.mode == "curtain" and abs(self._drag.x() - self._curtain_x()) < 14:
            pane = self._pane_rects()[0]
            self.curtain = min(max((here.x() - pane.x()) / pane.width(), 0.0), 1.0)
            self._drag = here
            self.update()
        elif self.zoom.scale:
            placed = self.placed(1)
            if placed is not None:
                moved = self._drag - here
                self.set_zoom(self.zoom.moved(moved.x() / placed.picture.width(), moved.y() / placed.picture.height()))
                self._drag = here

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        """End a drag; a moved crop becomes a change of the take."""
        self._drag = None
        if self._line_start is not None:
            self._line_start = None
            if self._line_now:
                self.model.change(line=self._line_now)
            self._line_now = ()
            self.draw_line(False)
            self.line_drawn.emit()
        crop = self._frame.end()
        if crop is not None and crop != self.crop:
            self.model.change(crop=crop, **self._size_for(crop))

    def _size_for(self, crop: Crop) -> dict[str, float]:
        """A print size that follows a crop of another proportion, along the print's longer side."""
        take, loaded = self.model.take, self.model.loaded
        if take is None or loaded is None or take.size is None:
            return {}
        w, h = crop.width * loaded.pyramid.size[0], crop.height * loaded.pyramid.size[1]
        if same_proportion(w, h, take.size.width_cm, take.size.height_cm):
            return {}
        long = max(take.size.width_cm, take.size.height_cm)
        return {"print_width_cm": round(long * min(1, w / h), 2), "print_height_cm": round(long * min(1, h / w), 2)}

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Between fit and 1:1 at the pointed place."""
        if event is None or self.cropping:
            return
        point = self.picture_point(event.position())
        if self.zoom.scale or point is None:
            self.set_zoom(Zoom())
            return
        x, y, w, h = self._crop_pixels()
        self.set_zoom(Zoom(1 / self._ratio(), (point[0] - x) / w, (point[1] - y) / h))

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom in and out."""
        if event is not None:
            self.zoom_by(1.25 if event.angleDelta().y() > 0 else 0.8)

    def zoom_by(self, factor: float) -> None:
        """Larger or smaller; back to fit when it would be smaller than that."""
        placed = self.placed(1)
        if placed is None:
            return
        _x, _y, w, h = self._crop_pixels()
        least = fit_scale(placed.pane, w, h, self._sheet())
        scale = min((self.zoom.scale or self.current_scale()) * factor, MOST_SCALE)
        self.set_zoom(Zoom() if scale <= least else replace(self.zoom, scale=scale))

    def frame_box(self, box: tuple[float, float, float, float]) -> None:
        """Zoom so that a box (fractions of the crop) fills most of the panes."""
        placed = self.placed(1)
        if placed is None:
            return
        _x, _y, w, h = self._crop_pixels()
        scale = 0.7 * min(placed.pane.width() / max(box[2] * w, 1), placed.pane.height() / max(box[3] * h, 1))
        least = fit_scale(placed.pane, w, h, self._sheet())
        if scale <= least:
            self.set_zoom(Zoom())
        else:
            self.set_zoom(Zoom(min(scale, MOST_SCALE), box[0] + box[2] / 2, box[1] + box[3] / 2))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows pan, or move the crop while it is being set; the rest goes to the window."""
        if event is None:
            return
        steps = {
            Qt.Key.Key_Left: (-0.08, 0), Qt.Key.Key_Right: (0.08, 0), Qt.Key.Key_Up: (0, -0.08), Qt.Key.Key_Down: (0, 0.08),
        }  # fmt: skip
        step = steps.get(Qt.Key(event.key()))
        control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if step is not None and self.cropping:
            self.model.change(crop=crop_by_key(self.crop, step, control))
        elif step is None or control:
            super().keyPressEvent(event)
        elif self.mode == "curtain" and not self.zoom.scale:
            self.curtain = min(max(self.curtain + step[0] / 2, 0.0), 1.0)
            self.update()
        elif self.zoom.scale:
            self.set_zoom(self.zoom.moved(*step))

    def resizeEvent(self, _event: QResizeEvent | None) -> None:
        """The visible part changes with the size."""
        self._forget()

    def leaveEvent(self, _event: object) -> None:
        """Nothing is pointed at any more; a pin still keeps the last reading."""
        self.pointed.emit(None)
