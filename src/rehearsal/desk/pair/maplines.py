"""Painting of map lines: dark with a white halo, the level told by the dashes, the cause by a hatch."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPainterPath, QPen, QPixmap, QPolygonF

from rehearsal.tasks.maps import MapLines

DASHES = {
    "beyond": ([], [5.0, 3.0]),
    "moved": ([1.0, 3.0], [5.0, 2.0, 1.0, 2.0]),
    "screen": ([9.0, 4.0],),
}
#: Around near-whites that are colder or lighter than the paper.
NEAR_WHITE = [1.5, 2.0]
_HATCH_STEP = 9
_HATCH_ALPHA = 105


class MapPicture:
    """Map lines made ready for painting at one place.

    Args:
        lines: from tasks.maps, in pixels of the visible block.
        target: where the block lies in the widget.
        ratio: device pixels per widget pixel.
    """

    def __init__(self, lines: MapLines, target: QRectF, ratio: float) -> None:
        self.kind = lines.kind
        self._target = target
        self._paths = [self._path(level, target, ratio) for _value, level in lines.lines]
        self._near_white = self._path(lines.near_white, target, ratio)
        self._hatch = None if lines.cause is None else _hatch_image(lines.cause)

    @staticmethod
    def _path(lines: tuple[np.ndarray, ...], target: QRectF, ratio: float) -> QPainterPath:
        path = QPainterPath()
        for line in lines:
            points = [QPointF(target.x() + (x + 0.5) / ratio, target.y() + (y + 0.5) / ratio) for x, y in line]
            path.addPolygon(QPolygonF(points))
        return path

    def paint(self, painter: QPainter, light: int) -> None:
        """Hatch first, then each line with its halo of a grey."""
        if self._hatch is not None:
            painter.drawImage(self._target, self._hatch)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for path, dashes in zip(self._paths, DASHES[self.kind], strict=True):
            draw_line(painter, path, dashes, light)
        if not self._near_white.isEmpty():
            draw_line(painter, self._near_white, NEAR_WHITE, light)


def draw_line(painter: QPainter, path: QPainterPath, dashes: list[float], light: int) -> None:
    """A dark line with a halo of a light grey, dashed by a pattern in widths."""
    halo = QPen(QColor(light, light, light, 215), 3.4)
    halo.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    line = QPen(QColor(16, 16, 16), 1.5)
    line.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    line.setCapStyle(Qt.PenCapStyle.FlatCap)
    if dashes:
        line.setDashPattern(dashes)
    painter.strokePath(path, halo)
    painter.strokePath(path, line)


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


def legend_pixmap(kind: str, level: int, light: int, width: int = 40, ratio: float = 1.0) -> QPixmap:
    """A short piece of a line for legends."""
    pixmap = QPixmap(round(width * ratio), round(12 * ratio))
    pixmap.setDevicePixelRatio(ratio)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    path = QPainterPath(QPointF(2, 6))
    path.lineTo(width - 2, 6)
    draw_line(painter, path, [*DASHES[kind], NEAR_WHITE][level], light)
    painter.end()
    return pixmap
