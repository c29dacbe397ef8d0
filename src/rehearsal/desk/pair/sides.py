"""The painted pixels of both sides: cut out of the pyramid, brought to the screen by the roads, kept until something changes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtGui import QColor, QImage

from rehearsal.core.picture.pyramid import soft_look
from rehearsal.core.proof.movingroad import Paints
from rehearsal.desk.pair.geometry import Placed
from rehearsal.desk.pair.placing import Placing
from rehearsal.desk.pair.state import PairState
from rehearsal.session.now import Now
from rehearsal.session.roads import Roads
from rehearsal.tasks.maps import Patch


@dataclass
class _Side:
    """One painted picture: its pixels on the screen and what they were painted from."""

    image: QImage | None = None
    buffer: np.ndarray | None = None
    key: object = None


class Sides:
    """Images of the picture (0) and the take (1)."""

    def __init__(self, now: Now, roads: Roads, state: PairState, placing: Placing) -> None:
        self._now, self._roads, self._state, self._placing = now, roads, state, placing
        self._sides = (_Side(), _Side())
        #: The last blocks, by what they were cut out of.
        self._blocks: dict[tuple[int, Patch], np.ndarray] = {}

    def forget(self) -> None:
        """Other pixels are visible."""
        self._blocks.clear()
        for side in self._sides:
            side.key = None

    def block(self, patch: Patch, content: int = 0, whole: bool = False) -> np.ndarray:
        """16-bit pixels of a visible part at device resolution; both sides share them where they are read alike."""
        assert self._now.picture is not None
        roads, pyramid = self._roads, self._now.picture.pyramid
        if roads.road is not None and content == 1:
            pyramid = roads.reading or pyramid
        elif roads.rival_road is not None:
            pyramid = roads.rival_reading or pyramid
        if whole:
            return pyramid.block(*patch.box, patch.width, patch.height)
        key = (id(pyramid), patch)
        if key not in self._blocks:
            self._blocks = {k: v for k, v in self._blocks.items() if k[1] == patch}
            self._blocks[key] = pyramid.block(*patch.box, patch.width, patch.height)
        return self._blocks[key]

    def image(self, content: int, placed: Placed) -> QImage | None:
        """The picture (content 0) or the take (1) as it is to be painted; None while there is no road."""
        whole = content == 0 and self._state.shows_whole
        patch = self._placing.patch(placed, whole)
        source = self.block(patch, content, whole)
        painter, tuned = self._painter_of(content, source, patch)
        if painter is None:
            return None
        side = self._sides[content]
        wanted = (id(self._now.picture), patch, painter, self._state.soft, id(tuned))
        if side.key != wanted:
            pixels = soft_look(tuned) if self._state.soft else tuned
            reuse = side.buffer if side.buffer is not None and side.buffer.shape == pixels.shape[:2] else None
            side.image = None
            side.buffer = painter.paint(pixels, reuse)
            side.image, side.key = _image(side.buffer, self._placing.ratio()), wanted
        return side.image

    def _painter_of(self, content: int, block: np.ndarray, patch: Patch) -> tuple[Paints | None, np.ndarray]:
        """What paints a side, and the pixels it paints: already tuned ones where the recipe has places."""
        roads = self._roads
        if roads.road is None:
            return (roads.plain if content == 0 else None), block
        road, painter = (roads.road, roads.painter) if content == 1 else (roads.rival_road, roads.rival_painter)
        if road is None:
            return roads.road.master, block
        placed = roads.placed.block(block, patch.box, content)
        if placed is not None:
            return road.neutral, placed
        return roads.placed.between(road, block, patch.box, content) or painter, block

    def mount(self, content: int, surround: QColor) -> QColor:
        """Colour of the mount: the simulated paper under the take, the screen's white (or the rival's paper) under the picture."""
        road, rival = self._roads.road, self._roads.rival_road
        if road is None:
            return surround
        rgb = road.paper_rgb if content == 1 else road.mount_rgb if rival is None else rival.paper_rgb
        return QColor.fromRgbF(*[float(v) for v in rgb])


def _image(buffer: np.ndarray, ratio: float) -> QImage:
    h, w = buffer.shape
    image = QImage(buffer.data, w, h, w * 4, QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(ratio)
    return image
