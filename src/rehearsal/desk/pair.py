"""The pair: picture and take side by side, as one large blink, or under a curtain; locked zoom and pan."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
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
from PyQt6.QtWidgets import QWidget

from rehearsal.core.picture.pyramid import soft_look
from rehearsal.core.proof.screenroad import Painter
from rehearsal.core.sheet.layout import Crop, sheet_size
from rehearsal.desk import theme
from rehearsal.desk.cropping import CropFrame, crop_by_key
from rehearsal.desk.geometry import HEADER, Placed, Zoom, fit_scale, panes, place
from rehearsal.desk.model import DeskModel
from rehearsal.desk.pairmaps import PairMaps
from rehearsal.desk.stations import header_texts

MODES = ("pair", "large", "curtain")
_MOST_SCALE = 16.0


@dataclass
class _Side:
    """One painted picture: its pixels on the screen and what they were painted from."""

    image: QImage | None = None
    buffer: np.ndarray | None = None
    key: object = None


def _image(buffer: np.ndarray, ratio: float) -> QImage:
    h, w = buffer.shape
    image = QImage(buffer.data, w, h, w * 4, QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(ratio)
    return image


class PairView(QWidget):
    """Shows the open take of a model; owns zoom, mode and which maps are shown."""

    pointed = pyqtSignal(object)
    mode_changed = pyqtSignal(str)
    maps_changed = pyqtSignal()
    zoomed = pyqtSignal()

    def __init__(self, model: DeskModel, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.model = model
        self.room = theme.ROOMS["mid"]
        self.mode = "pair"
        self.zoom = Zoom()
        self.curtain = 0.5
        self.swapped = False
        self.soft = False
        self.cropping = False
        self.maps: set[str] = set()
        self.held_map = ""
        self._sides = (_Side(), _Side())
        self._block: np.ndarray | None = None
        self._block_key: object = None
        self._lines = PairMaps(model)
        self._lines.ready.connect(self.update)
        self._drag: QPointF | None = None
        self._frame = CropFrame()
        self._highlight: tuple[float, float, float, float] | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(400, 200)
        self.setAccessibleName("Picture and take")
        self.setAccessibleDescription("Left the picture, right the take on its paper. Hold space for the other one.")
        model.road_changed.connect(self._on_road)
        model.picture_changed.connect(self._on_picture)

    # ---- state

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        self.room = room
        self.update()

    def set_mode(self, mode: str) -> None:
        """One of MODES."""
        self.mode = mode
        self._forget()
        self.mode_changed.emit(mode)

    def set_zoom(self, zoom: Zoom) -> None:
        """Change size and place of both pictures."""
        self.zoom = zoom
        self._forget()
        self.zoomed.emit()

    def set_cropping(self, on: bool) -> None:
        """Show the whole picture with the crop on it at the left."""
        self.cropping = on
        self._forget()

    def set_soft(self, on: bool) -> None:
        """Blur both panes."""
        self.soft = on
        self._forget()

    def set_swapped(self, on: bool) -> None:
        """Show the other picture while a key is held."""
        if on != self.swapped:
            self.swapped = on
            self.update()

    def toggle_map(self, kind: str) -> None:
        """Keep or remove a map."""
        self.maps ^= {kind}
        self._refresh_maps()
        self.maps_changed.emit()

    def hold_map(self, kind: str) -> None:
        """Show a map while its key is held; an empty name ends it."""
        self.held_map = kind
        self._refresh_maps()

    def highlight(self, box: tuple[float, float, float, float] | None) -> None:
        """Frame a place of the picture, in fractions of the crop."""
        self._highlight = box
        self.update()

    @property
    def shown_maps(self) -> set[str]:
        """Maps that are to be seen now."""
        return self.maps | ({self.held_map} if self.held_map else set())

    def _on_road(self) -> None:
        for side in self._sides:
            side.key = None
        self._lines.forget_request()
        self._refresh_maps()
        self.update()

    def _on_picture(self) -> None:
        self.zoom = replace(self.zoom, x=0.5, y=0.5)
        self._forget()

    def _forget(self) -> None:
        self._block_key = None
        self._lines.clear()
        for side in self._sides:
            side.key = None
        self._refresh_maps()
        self.update()

    # ---- geometry

    @property
    def crop(self) -> Crop:
        """Crop of the open take."""
        return self.model.take.crop if self.model.take else Crop()

    def _crop_pixels(self) -> tuple[int, int, int, int]:
        assert self.model.loaded is not None
        return self.crop.pixels(*self.model.loaded.pyramid.size)

    def _sheet(self) -> tuple[float, float]:
        """Sheet over picture, when a size is set and the sheet is known; follows the picture's direction."""
        take = self.model.take
        if take is None or take.size is None:
            return 0.0, 0.0
        width, height = sheet_size(take.sheet, take.size)
        return width / take.size.width_cm, height / take.size.height_cm

    def _pane_rects(self) -> list[QRectF]:
        return panes(QRectF(self.rect()), self.mode == "pair")

    def placed(self, index: int) -> Placed | None:
        """Where the picture (0) or the take (1) lies; None when there is no picture."""
        if self.model.loaded is None:
            return None
        rects = self._pane_rects()
        pane = rects[index] if len(rects) > 1 else rects[0]
        if index == 0 and self.cropping and self.mode == "pair":
            width, height = self.model.loaded.pyramid.size
            return place(pane, width, height, Zoom())
        _x, _y, w, h = self._crop_pixels()
        return place(pane, w, h, self.zoom, self._sheet())

    def current_scale(self) -> float:
        """Screen pixels per picture pixel as shown."""
        placed = self.placed(1)
        return placed.picture.width() / self._crop_pixels()[2] if placed else 1.0

    def picture_point(self, position: QPointF) -> tuple[int, int] | None:
        """Full-resolution pixel under a place in the widget, in either pane."""
        if self.model.loaded is None:
            return None
        for index in (0, 1):
            placed = self.placed(index)
            if placed is None or not placed.visible.contains(position):
                continue
            fx = (position.x() - placed.picture.x()) / placed.picture.width()
            fy = (position.y() - placed.picture.y()) / placed.picture.height()
            whole = index == 0 and self.cropping and self.mode == "pair"
            x, y, w, h = (0, 0, *self.model.loaded.pyramid.size) if whole else self._crop_pixels()
            return int(x + fx * w), int(y + fy * h)
        return None

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
            self._paint_highlight(painter, placed)
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
        rgb = road.paper_rgb if content == 1 else road.mount_rgb
        return QColor.fromRgbF(*[float(v) for v in rgb])

    def _ratio(self) -> float:
        return float(self.devicePixelRatioF())

    def _side_image(self, content: int, placed: Placed, whole: bool) -> QImage | None:
        painter = self._painter_of(content)
        if painter is None:
            return None
        block, key = self._visible_block(placed, whole)
        side = self._sides[content]
        wanted = (key, id(painter), self.soft)
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
        return road.master if content == 0 else self.model.painter

    def _visible_block(self, placed: Placed, whole: bool) -> tuple[np.ndarray, object]:
        """16-bit pixels of the visible part at device resolution; both panes share the last one."""
        assert self.model.loaded is not None
        pyramid = self.model.loaded.pyramid
        x, y, w, h = (0, 0, *pyramid.size) if whole else self._crop_pixels()
        part = placed.visible_fraction
        out = (round(placed.visible.width() * self._ratio()), round(placed.visible.height() * self._ratio()))
        area = (x + part.x() * w, y + part.y() * h, part.width() * w, part.height() * h)
        key = (id(pyramid), tuple(round(v, 3) for v in area), out)
        if whole:
            return pyramid.block(*area, *out), key
        if self._block is None or self._block_key != key:
            self._block, self._block_key = pyramid.block(*area, *out), key
        return self._block, key

    # ---- maps

    def _refresh_maps(self) -> None:
        self.update()
        placed = self.placed(1)
        if self.model.loaded is not None and placed is not None and not placed.visible.isEmpty() and self.shown_maps:
            self._lines.ask(self.shown_maps, *self._visible_block(placed, False))

    def _paint_maps(self, painter: QPainter, content: int) -> None:
        placed = self.placed(content)
        if placed is not None and not self.swapped:
            self._lines.paint(painter, content, self.shown_maps, placed.visible, self._ratio())

    def _paint_highlight(self, painter: QPainter, placed: Placed) -> None:
        if self._highlight is None:
            return
        x, y, w, h = self._highlight
        p = placed.picture
        rect = QRectF(p.x() + x * p.width(), p.y() + y * p.height(), w * p.width(), h * p.height())
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(20, 20, 20, 200), 3))
        painter.drawRect(rect)
        painter.setPen(QPen(QColor(250, 250, 250), 1.2))
        painter.drawRect(rect)

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
        self._drag = event.position()
        placed = self.placed(0)
        if self.cropping and self.mode == "pair" and placed is not None and placed.pane.contains(event.position()):
            proportion = self._wanted_proportion()
            self._frame.begin(event.position(), placed.picture, self.crop, proportion)

    def _wanted_proportion(self) -> float | None:
        """Width over height in fractions that the crop must keep, when a print size is set."""
        take, loaded = self.model.take, self.model.loaded
        if take is None or loaded is None or take.size is None:
            return None
        w, h = loaded.pyramid.size
        return take.size.width_cm / take.size.height_cm * h / w

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag, or tell what is under the pointer."""
        if event is None:
            return
        here = event.position()
        if self._drag is None:
            near = self.mode == "curtain" and abs(here.x() - self._curtain_x()) < 6
            self.setCursor(Qt.CursorShape.SplitHCursor if near else Qt.CursorShape.ArrowCursor)
            self.pointed.emit(self.picture_point(here))
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
        crop = self._frame.end()
        if crop is not None and crop != self.crop:
            self.model.change(crop=crop)

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
        scale = min((self.zoom.scale or self.current_scale()) * factor, _MOST_SCALE)
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
            self.set_zoom(Zoom(min(scale, _MOST_SCALE), box[0] + box[2] / 2, box[1] + box[3] / 2))

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
        """Nothing is pointed at any more."""
        self.pointed.emit(None)
