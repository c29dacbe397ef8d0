"""Where the pictures lie: one shared zoom and centre, two panes, a mount around each picture."""

from __future__ import annotations

from dataclasses import dataclass, replace

from PyQt6.QtCore import QRectF

from rehearsal.desk import theme

#: Mount around a picture over its long side; of its short side never more than the second.
MARGIN, MOST_MARGIN = 0.045, 0.08
#: A sheet much larger than its print runs out of the pane, so that the picture keeps the room.
MOST_SHEET = 1.3
_HEADER, _GAP, _FOOT = 26, 12, 5


def header_height() -> int:
    """Height of a pane's head in pixels, with the type."""
    return theme.px(_HEADER)


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
    def head(self) -> QRectF:
        """The pane's head above it."""
        height = header_height()
        return QRectF(self.pane.x(), self.pane.y() - height, self.pane.width(), height)

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
    if sheet[0] > 0 and sheet[1] > 0:  # where the print is larger than its sheet there is no border to be seen
        return max(sheet[0], 1.0), max(sheet[1], 1.0)
    margin = 2 * min(MARGIN * max(width, height), MOST_MARGIN * min(width, height))
    return 1 + margin / width, 1 + margin / height


def fit_scale(pane: QRectF, width: float, height: float, sheet: tuple[float, float] = (0.0, 0.0)) -> float:
    """Scale at which picture and mount (or a good part of a large sheet) just fit."""
    grow_x, grow_y = (min(grow, MOST_SHEET) for grow in _grow(width, height, sheet))
    return min(pane.width() / (width * grow_x), pane.height() / (height * grow_y))


def panes(area: QRectF, pair: bool, proportion: float = 1.5) -> list[QRectF]:
    """Rectangles of one or two panes below their headers: side by side, or one above the other where that shows more.

    Args:
        proportion: width of the picture over its height.
    """
    gap, head = theme.px(_GAP), header_height()
    inner = area.adjusted(gap, head, -gap, -theme.px(_FOOT))
    if not pair:
        return [inner]
    width, height = (inner.width() - gap) / 2, (inner.height() - head) / 2
    beside = [QRectF(inner.x() + i * (width + gap), inner.y(), width, inner.height()) for i in range(2)]
    above = [QRectF(inner.x(), inner.y() + i * (height + head), inner.width(), height) for i in range(2)]
    return max((beside, above), key=lambda rects: fit_scale(rects[0], proportion, 1.0))
