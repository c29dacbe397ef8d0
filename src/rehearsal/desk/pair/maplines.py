"""Painting of map lines: dark with a light halo, light on dark ground; the map and its level told by dashes, ticks, beads."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPainterPath, QPen, QPixmap, QPolygonF

from rehearsal.core.proof.contours import dark_runs
from rehearsal.tasks.maps import MapLines


@dataclass(frozen=True)
class Hand:
    """How a line is drawn.

    Attributes:
        dashes: in px, none for a line drawn through.
        tick: px between short strokes towards what lies further, 0 for none.
        bead: px between the small rings that stand for the line, 0 for a line.
    """

    dashes: tuple[float, ...] = ()
    tick: float = 0.0
    bead: float = 0.0


#: The levels of each map: beyond is a plain line, moved has ticks, beyond the screen is a row of beads.
HANDS = {
    "beyond": (Hand(), Hand(dashes=(8, 5))),
    "moved": (Hand(tick=14.0), Hand(tick=5.0)),
    "screen": (Hand(bead=9.0),),
}
#: Around near-whites that are colder or lighter than the paper.
NEAR_WHITE = Hand(dashes=(2, 4))
_TICK_PX, _BEAD_PX, _LINE_PX, _HALO_PX = 5.0, 2.3, 1.5, 3.6
_HATCH_STEP = 9
_HATCH_ALPHA = 105


def strokes(line: np.ndarray, hand: Hand) -> QPainterPath:
    """What is stroked for a line (n, 2) in pixels of the widget, dashes left to the pen."""
    path = QPainterPath()
    if not hand.bead:
        path.addPolygon(QPolygonF([QPointF(x, y) for x, y in line]))
    for (x, y), (u, v) in zip(*_marks(line, hand.tick or hand.bead), strict=True):
        if hand.tick:
            path.moveTo(x, y)
            path.lineTo(x + u * _TICK_PX, y + v * _TICK_PX)
        else:
            path.addEllipse(QPointF(x, y), _BEAD_PX, _BEAD_PX)
    return path


def _marks(line: np.ndarray, step: float) -> tuple[np.ndarray, np.ndarray]:
    """Places (m, 2) at equal steps along a line, and there the unit vectors towards the larger values."""
    if step <= 0 or len(line) < 2:
        return np.empty((0, 2)), np.empty((0, 2))
    pieces = np.diff(line, axis=0)
    walked = np.concatenate([[0.0], np.hypot(*pieces.T).cumsum()])
    at = np.arange(step / 2, walked[-1], step)
    places = np.stack([np.interp(at, walked, line[:, i]) for i in (0, 1)], axis=1)
    ahead = np.stack(
        [np.interp(at + 2, walked, line[:, i]) - np.interp(at - 2, walked, line[:, i]) for i in (0, 1)], axis=1
    )
    long = np.maximum(np.hypot(*ahead.T), 1e-6)[:, None]
    return places, np.stack([-ahead[:, 1], ahead[:, 0]], axis=1) / long


class MapPicture:
    """Map lines made ready for painting at one place.

    Args:
        lines: from tasks.maps, in pixels of the visible block.
        target: where the block lies in the widget.
        ratio: device pixels per widget pixel.
    """

    def __init__(self, lines: MapLines, target: QRectF, ratio: float) -> None:
        self._target, self._ratio = target, ratio
        self._hatch = None if lines.cause is None else _hatch_image(lines.cause)
        hands = (*HANDS[lines.kind], NEAR_WHITE)
        levels = (*(level for _value, level in lines.lines), lines.near_white)
        self._drawn = [(hand, *self._paths(level, hand, lines.dark)) for level, hand in zip(levels, hands, strict=True)]

    def _paths(self, lines: tuple[np.ndarray, ...], hand: Hand, dark: np.ndarray) -> tuple[QPainterPath, QPainterPath]:
        """What is stroked on light ground and on dark ground."""
        paths = QPainterPath(), QPainterPath()
        corner = np.array([self._target.x(), self._target.y()])
        for line in lines:
            for run, on_dark in dark_runs(line, dark):
                paths[on_dark].addPath(strokes(corner + (run + 0.5) / self._ratio, hand))
        return paths

    def paint(self, painter: QPainter, light: int) -> None:
        """Hatch first, then each line in a grey no lighter than ``light``."""
        if self._hatch is not None:
            painter.drawImage(self._target, self._hatch)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for hand, on_light, on_dark in self._drawn:
            draw_line(painter, on_light, hand, light)
            draw_line(painter, on_dark, hand, light, on_dark=True)


def draw_line(painter: QPainter, path: QPainterPath, hand: Hand, light: int, on_dark: bool = False) -> None:
    """A dark line with a halo of a light grey; on dark ground one light line."""
    grey, ink = QColor(light, light, light, 215), QColor(16, 16, 16)
    halo, line = (QColor(0, 0, 0, 90), QColor(light, light, light)) if on_dark else (grey, ink)
    for colour, width in ((halo, _HALO_PX), (line, _LINE_PX)):
        pen = QPen(colour, width)
        pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
        pen.setCapStyle(Qt.PenCapStyle.FlatCap)
        if hand.dashes and colour is line:
            pen.setDashPattern([length / width for length in hand.dashes])
        painter.strokePath(path, pen)


def _hatch_image(cause: np.ndarray) -> QImage:
    """Thin hatch by cause: level strokes for too dark, dots for too light, slanted strokes for too saturated."""
    h, w = cause.shape
    y, x = np.mgrid[0:h, 0:w]
    step = _HATCH_STEP
    marks = (
        (cause == 0) & (y % step == 0)
        | (cause == 1) & (y % step == 0) & (x % step == 0)
        | (cause == 2) & ((x + y) % step == 0)
    )
    light = (
        (cause == 0) & (y % step == 1)
        | (cause == 1) & (y % step <= 1) & (x % step <= 1)
        | (cause == 2) & ((x + y) % step == 1)
    )
    argb = np.where(marks, (_HATCH_ALPHA << 24), np.where(light, (_HATCH_ALPHA << 24) | 0x808080, 0)).astype(np.uint32)
    # premultiplied white at the same opacity
    white = _HATCH_ALPHA << 24 | _HATCH_ALPHA << 16 | _HATCH_ALPHA << 8 | _HATCH_ALPHA
    argb = np.where(light & ~marks, np.uint32(white), argb).astype(np.uint32)
    image = QImage(argb.tobytes(), w, h, w * 4, QImage.Format.Format_ARGB32_Premultiplied)
    return image.copy()


def legend_pixmap(hand: Hand, light: int, width: int = 40, ratio: float = 1.0) -> QPixmap:
    """A short piece of a line for legends."""
    pixmap = QPixmap(round(width * ratio), round(14 * ratio))
    pixmap.setDevicePixelRatio(ratio)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    draw_line(painter, strokes(np.array([(width - 2.0, 9.0), (2.0, 9.0)]), hand), hand, light)
    painter.end()
    return pixmap
