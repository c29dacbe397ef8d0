"""Where the pictures lie: one shared zoom and centre, two panes, a mount around each picture."""

from __future__ import annotations

from dataclasses import dataclass, replace

from PyQt6.QtCore import QRectF

HEADER = 26
GAP = 14
MARGIN = 0.045
#: A sheet much larger than its print runs out of the pane, so that the picture keeps the room.
MOST_SHEET = 1.3


@dataclass(frozen=True)
class Zoom:
    """How large and where.

    Attributes:
        scale: screen pixels per picture pixel; 0 means fit.
        x, y: centre of the view in fractions of the (cropped) picture.
    """

    scale: float = 0.0
    x: float = 0.5
    y: float = 0.5

    def moved(self, dx: float, dy: float) -> Zoom:
        """Centre shifted by fractions, kept inside."""
        return replace(self, x=min(max(self.x + dx, 0.0), 1.0), y=min(max(self.y + dy, 0.0), 1.0))


@dataclass(frozen=True)
class Placed:
    """A picture in a pane: the pane, the mount and the whole picture as rectangles in widget pixels."""

    pane: QRectF
    mount: QRectF
    picture: QRectF

    @property
    def visible(self) -> QRectF:
        """The part of the picture inside the pane."""
        return self.picture.intersected(self.pane)

    @property
    def visible_fraction(self) -> QRectF:
        """The visible part in fractions of the picture."""
        v, p = self.visible, self.picture
        return QRectF(
            (v.x() - p.x()) / p.width(), (v.y() - p.y()) / p.height(), v.width() / p.width(), v.height() / p.height()
        )


def place(pane: QRectF, width: float, height: float, zoom: Zoom, sheet: tuple[float, float] = (0.0, 0.0)) -> Placed:
    """Put a picture of width × height pixels into a pane.

    Args:
        sheet: width and height of the sheet over those of the picture; (0, 0) for a plain mount.
    """
    grow_x, grow_y = _grow(width, height, sheet)
    scale = zoom.scale or fit_scale(pane, width, height, sheet)
    w, h = width * scale, height * scale
    if zoom.scale and (w > pane.width() or h > pane.height()):
        x = pane.center().x() - zoom.x * w
        y = pane.center().y() - zoom.y * h
    else:
        x, y = pane.center().x() - w / 2, pane.center().y() - h / 2
    picture = QRectF(round(x), round(y), max(1, round(w)), max(1, round(h)))
    mw, mh = w * grow_x, h * grow_y
    mount = QRectF(picture.center().x() - mw / 2, picture.center().y() - mh / 2, mw, mh)
    return Placed(pane, mount, picture)


def _grow(width: float, height: float, sheet: tuple[float, float]) -> tuple[float, float]:
    if sheet[0] >= 1 and sheet[1] >= 1:
        return sheet
    margin = 2 * MARGIN * max(width, height)
    return 1 + margin / width, 1 + margin / height


def fit_scale(pane: QRectF, width: float, height: float, sheet: tuple[float, float] = (0.0, 0.0)) -> float:
    """Scale at which picture and mount (or a good part of a large sheet) just fit."""
    grow_x, grow_y = (min(grow, MOST_SHEET) for grow in _grow(width, height, sheet))
    return min(pane.width() / (width * grow_x), pane.height() / (height * grow_y))


def panes(area: QRectF, pair: bool) -> list[QRectF]:
    """Rectangles of one or two panes below their headers."""
    inner = area.adjusted(GAP, HEADER, -GAP, -GAP)
    if not pair:
        return [inner]
    width = (inner.width() - GAP) / 2
    return [
        QRectF(inner.x(), inner.y(), width, inner.height()),
        QRectF(inner.x() + width + GAP, inner.y(), width, inner.height()),
    ]
