"""Where the pictures of the pair lie in its widget, and which pixel of the master is where."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PyQt6.QtCore import QPointF, QRectF

from rehearsal.core.sheet.layout import sheet_size
from rehearsal.core.values.frame import Crop
from rehearsal.desk.pair.geometry import Placed, Zoom, fit_scale, panes, place
from rehearsal.desk.pair.state import MOST_SCALE, PairState
from rehearsal.session.now import Now
from rehearsal.tasks.maps import Patch


class Placing:
    """Geometry of the pair.

    Args:
        area: the widget's rectangle; ratio: device pixels per widget pixel.
    """

    def __init__(self, now: Now, state: PairState, area: Callable[[], QRectF], ratio: Callable[[], float]) -> None:
        self._now, self._state, self._area, self.ratio = now, state, area, ratio

    @property
    def crop(self) -> Crop:
        """Crop of the open take."""
        return self._now.take.frame.crop if self._now.take else Crop()

    def _size(self) -> tuple[int, int]:
        assert self._now.picture is not None
        return self._now.picture.size

    def box(self, whole: bool = False) -> tuple[int, int, int, int]:
        """The crop (or the whole picture) in pixels of the master."""
        return (0, 0, *self._size()) if whole else self.crop.pixels(*self._size())

    def _sheet(self) -> tuple[float, float]:
        """Sheet over picture, when the sheet is to be seen, a size is set and the sheet is known; follows the picture's direction."""
        take = self._now.take
        if take is None or take.frame.size is None or not self._state.shows_sheet:
            return 0.0, 0.0
        size = take.frame.size
        card = None if take.sheet.borderless else self._now.condition
        width, height = sheet_size(take.sheet.name, size, *(() if card is None else (card.margins_mm,)))
        return width / size.width_cm, height / size.height_cm

    def pane_rects(self) -> list[QRectF]:
        """The panes below their headers."""
        return panes(self._area(), self._state.mode == "pair", self.proportion)

    @property
    def proportion(self) -> float:
        """Width over height of what is shown, which decides how the pictures lie; while it is cut, of the whole picture."""
        if self._now.picture is None:
            return 1.5
        _x, _y, w, h = self.box(self._state.shows_whole)
        return w / h

    def placed(self, index: int) -> Placed | None:
        """Where the picture (0) or the take (1) lies; None when there is no picture."""
        if self._now.picture is None:
            return None
        rects = self.pane_rects()
        pane = rects[index] if len(rects) > 1 else rects[0]
        if index == 0 and self._state.shows_whole:
            return place(pane, *self._size(), Zoom())
        _x, _y, w, h = self.box()
        return place(pane, w, h, self._state.zoom, self._sheet())

    def current_scale(self) -> float:
        """Widget pixels per picture pixel as shown."""
        placed = self.placed(1)
        return placed.picture.width() / self.box()[2] if placed else 1.0

    def picture_point(self, position: QPointF) -> tuple[int, int] | None:
        """Full-resolution pixel under a place in the widget, in either pane."""
        if self._now.picture is None:
            return None
        for index in (0, 1):
            placed = self.placed(index)
            if placed is None or not placed.visible.contains(position):
                continue
            fx = (position.x() - placed.picture.x()) / placed.picture.width()
            fy = (position.y() - placed.picture.y()) / placed.picture.height()
            x, y, w, h = self.box(index == 0 and self._state.shows_whole)
            return int(x + fx * w), int(y + fy * h)
        return None

    def fraction(self, point: tuple[int, int]) -> tuple[float, float]:
        """Middle of a pixel in fractions of the master."""
        w, h = self._size()
        return round((point[0] + 0.5) / w, 5), round((point[1] + 0.5) / h, 5)

    def patch(self, placed: Placed, whole: bool = False) -> Patch:
        """The visible part of a placed picture at device resolution."""
        x, y, w, h = self.box(whole)
        part = placed.visible_fraction
        size = (round(placed.visible.width() * self.ratio()), round(placed.visible.height() * self.ratio()))
        area = (x + part.x() * w, y + part.y() * h, part.width() * w, part.height() * h)
        return Patch((round(area[0], 3), round(area[1], 3), round(area[2], 3), round(area[3], 3)), *size)

    # ---- zooms

    def zoomed(self, factor: float) -> Zoom:
        """Larger or smaller; fit when it would be smaller than that."""
        placed, zoom = self.placed(1), self._state.zoom
        if placed is None:
            return zoom
        _x, _y, w, h = self.box()
        least = fit_scale(placed.pane, w, h, self._sheet())
        scale = min((zoom.scale or self.current_scale()) * factor, MOST_SCALE)
        return Zoom() if scale <= least else replace(zoom, scale=scale)

    def around(self, box: tuple[float, float, float, float]) -> Zoom:
        """A zoom at which a box (fractions of the crop) fills most of the panes."""
        placed = self.placed(1)
        if placed is None:
            return self._state.zoom
        _x, _y, w, h = self.box()
        scale = 0.7 * min(placed.pane.width() / max(box[2] * w, 1), placed.pane.height() / max(box[3] * h, 1))
        if scale <= fit_scale(placed.pane, w, h, self._sheet()):
            return Zoom()
        return Zoom(min(scale, MOST_SCALE), box[0] + box[2] / 2, box[1] + box[3] / 2)

    def print_size(self, ppi: float) -> Zoom | None:
        """A zoom as large as on paper on a screen of so many widget pixels per inch; None without a print size."""
        take = self._now.take
        if take is None or self._now.picture is None or take.frame.size is None:
            return None
        width = take.frame.crop.width * self._size()[0]
        return replace(self._state.zoom, scale=take.frame.size.width_cm / 2.54 * ppi / width)
