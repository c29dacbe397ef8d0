"""State and geometry of the pair: zoom, mode, which maps and marks are shown, and what part of the picture is visible."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QImage,
)
from PyQt6.QtWidgets import QWidget

from rehearsal.core.sheet.layout import Crop, sheet_size
from rehearsal.desk import theme
from rehearsal.desk.cropping import CropFrame
from rehearsal.desk.geometry import Placed, Zoom, panes, place
from rehearsal.desk.model import DeskModel
from rehearsal.desk.pairmaps import PairMaps
from rehearsal.desk.pairmarks import Marks

MODES = ("pair", "large", "curtain")
MOST_SCALE = 16.0


@dataclass
class _Side:
    """One painted picture: its pixels on the screen and what they were painted from."""

    image: QImage | None = None
    buffer: np.ndarray | None = None
    key: object = None


class PairBase(QWidget):
    """Owns zoom, mode, maps and marks; painting and hands build on it."""

    pointed = pyqtSignal(object)
    mode_changed = pyqtSignal(str)
    maps_changed = pyqtSignal()
    zoomed = pyqtSignal()
    line_drawn = pyqtSignal()

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
        self.marks = Marks()
        self.drawing_line = False
        self._kept_proportion = -1.0
        self._line_start: tuple[float, float] | None = None
        self._line_now: tuple[float, ...] = ()
        self._under: tuple[int, int] | None = None
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
        self.marks.frame = box
        self.update()

    def show_pixels(self, mask: np.ndarray | None) -> None:
        """Leave only these pixels (h, w) of the crop unveiled."""
        self.marks.set_mask(mask)
        self.update()

    def set_guides(self, name: str) -> None:
        """Guides on the crop: one of layout.GUIDES."""
        self._frame.guides = name
        self.update()

    def set_proportion(self, proportion: float) -> None:
        """Long side over short side that the crop keeps; 0 is free, below 0 as the print size."""
        self._kept_proportion = proportion

    def draw_line(self, on: bool) -> None:
        """The next drag draws a line instead of moving the picture."""
        self.drawing_line = on
        self.setCursor(Qt.CursorShape.CrossCursor if on else Qt.CursorShape.ArrowCursor)

    def pin_here(self) -> None:
        """Keep the reading under the pointer."""
        if self._under is not None and self.model.take is not None:
            self.model.change(pins=(*self.model.take.pins, self._fraction(self._under)))

    def _fraction(self, point: tuple[int, int]) -> tuple[float, float]:
        assert self.model.loaded is not None
        w, h = self.model.loaded.pyramid.size
        return round((point[0] + 0.5) / w, 5), round((point[1] + 0.5) / h, 5)

    @property
    def shown_maps(self) -> set[str]:
        """Maps that are to be seen now."""
        return self.maps | ({self.held_map} if self.held_map else set())

    def _on_road(self) -> None:
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

    # ---- what is visible

    def _ratio(self) -> float:
        return float(self.devicePixelRatioF())

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

    def _refresh_maps(self) -> None:
        self.update()
        placed = self.placed(1)
        if self.model.loaded is not None and placed is not None and not placed.visible.isEmpty() and self.shown_maps:
            self._lines.ask(self.shown_maps, *self._visible_block(placed, False))
