"""A sheet of a paper drawn to scale: its white, the edge no ink reaches, the way it is fed, the print on it."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QTransform
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.core.sheet.layout import sheet_size
from rehearsal.core.sheet.onsheet import fed_margins, turned_margins
from rehearsal.core.values.frame import PrintSize
from rehearsal.desk import theme
from rehearsal.desk.parts.images import rgb_image

Margins = tuple[float, float, float, float]
_EDGE, _GRIP, _MOST_MM = 16, 9.0, 80.0
_SIDES = ("top", "right", "bottom", "left")


class PaperDrawing(QWidget):
    """``margins_set`` tells margins in mm (top, right, bottom, left as the sheet is fed) when a dragged edge comes to rest.

    Args:
        dragged: its edges can be dragged; then the figures round it are left to fields.
    """

    margins_set = pyqtSignal(tuple)

    def __init__(self, dragged: bool = False) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.white = QColor(0xEC, 0xEC, 0xEC)
        self.size_cm: PrintSize | None = None
        self.sheet, self.margins, self._picture = "A4", (3.0, 3.0, 3.0, 3.0), QImage()
        self._dragged, self._held = dragged, ""
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMouseTracking(dragged)
        self.setAccessibleName("A sheet of this paper")

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(240), theme.px(130))

    def minimumSizeHint(self) -> QSize:
        """It may be small."""
        return QSize(theme.px(150), theme.px(48))

    def show_sheet(self, sheet: str, size: PrintSize | None, margins: Margins, white: QColor) -> None:
        """A sheet by name, turned like the print on it; margins as it is fed, in mm."""
        self.sheet, self.size_cm, self.white = sheet, size, white
        if not self._held:
            self.margins = margins
        said = ", ".join(f"{side} {mm:g} mm" for side, mm in zip(_SIDES, self.drawn_margins, strict=True))
        self.setAccessibleDescription(f"no ink: {said}")
        self.update()

    def show_picture(self, rgb: np.ndarray | None) -> None:
        """The print, 8-bit RGB (h, w, 3)."""
        self._picture = QImage() if rgb is None else rgb_image(rgb)
        self.update()

    # ---- places

    @property
    def is_wide(self) -> bool:
        """The sheet lies with its long side level."""
        wide, high = self._cm()
        return wide >= high

    @property
    def drawn_margins(self) -> Margins:
        """Margins as they lie round the drawn sheet: top, right, bottom, left."""
        return turned_margins(self.margins, self.is_wide)

    def _cm(self) -> tuple[float, float]:
        return sheet_size(self.sheet, self.size_cm or PrintSize(3, 2))

    def sheet_rect(self) -> QRectF:
        """Where the sheet lies, between the figures at its edges and beside the arrow."""
        edge = theme.px(3 if self._dragged else _EDGE)
        side = edge if self._dragged else theme.px(52)
        place = QRectF(self.rect()).adjusted(side, edge, -side, -edge)
        if not self.is_wide:
            place.adjust(0, 0, 0, -theme.px(12))
        wide, high = self._cm()
        scale = max(min(place.width() / wide, place.height() / high), 0.1)
        made = QRectF(0, 0, wide * scale, high * scale)
        made.moveCenter(place.center())
        return made

    def ink_rect(self) -> QRectF:
        """Where ink may lie."""
        sheet = self.sheet_rect()
        mm = sheet.width() / (self._cm()[0] * 10)
        top, right, bottom, left = (v * mm for v in self.drawn_margins)
        return sheet.adjusted(left, top, -right, -bottom)

    def print_rect(self) -> QRectF:
        """The print in the middle of the sheet."""
        if self.size_cm is None:
            return QRectF()
        sheet = self.sheet_rect()
        scale = sheet.width() / self._cm()[0]
        made = QRectF(0, 0, self.size_cm.width_cm * scale, self.size_cm.height_cm * scale)
        made.moveCenter(sheet.center())
        return made

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Sheet, hatched edge, print, arrow, figures."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        sheet, ink, box = self.sheet_rect(), self.ink_rect(), self.print_rect()
        painter.fillRect(sheet, self.white)
        painter.save()
        painter.setClipRect(sheet)
        if not self._picture.isNull() and not box.isEmpty():
            painter.drawImage(box, self._picture)
        hatch = QBrush(QColor(20, 20, 20, 130), Qt.BrushStyle.BDiagPattern)
        hatch.setTransform(QTransform.fromScale(0.8, 0.8))
        for part in _frame(sheet, ink):
            painter.fillRect(part, hatch)
        painter.setPen(QPen(QColor(20, 20, 20), 1))
        painter.drawRect(ink)
        painter.restore()
        painter.setFont(theme.font(theme.SMALL))
        painter.setPen(self.room.colour("text"))
        if self._dragged:
            painter.setPen(QColor(20, 20, 20))
            painter.drawText(ink, Qt.AlignmentFlag.AlignCenter, "ink may lie\ninside this frame")
        else:
            self._paint_figures(painter, sheet)
        self._paint_feed(painter, sheet)

    def _paint_figures(self, painter: QPainter, sheet: QRectF) -> None:
        top, right, bottom, left = self.drawn_margins
        high, wide = theme.px(15), theme.px(44)
        for words, centre in (
            (f"{top:g}", QPointF(sheet.center().x(), sheet.top() - high / 2)),
            (f"{right:g} mm", QPointF(sheet.right() + wide / 2 + 3, sheet.center().y() + theme.px(20))),
            (f"{bottom:g}", QPointF(sheet.center().x(), sheet.bottom() + high / 2)),
            (f"{left:g}", QPointF(sheet.left() - theme.px(16), sheet.center().y())),
        ):
            place = QRectF(0, 0, wide, high)
            place.moveCenter(centre)
            painter.drawText(place, Qt.AlignmentFlag.AlignCenter, words)

    def _paint_feed(self, painter: QPainter, sheet: QRectF) -> None:
        """The arrow along which it goes in: its first edge is at the left of a wide sheet, else at the top."""
        if self._dragged:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(self.room.colour("text"), 1.4))
        long, head = theme.px(34), 5.0
        if self.is_wide:
            y = sheet.center().y() - theme.px(12)
            start, end = QPointF(sheet.right() + 6 + long, y), QPointF(sheet.right() + 6, y)
            wings = (QPointF(head, -head), QPointF(head, head))
            words = QRectF(sheet.right() + 6, y + 3, theme.px(44), theme.px(15))
        else:
            x = sheet.right() + theme.px(14)
            start, end = QPointF(x, sheet.bottom()), QPointF(x, sheet.bottom() - long)
            wings = (QPointF(-head, head), QPointF(head, head))
            words = QRectF(x + 4, sheet.bottom() - theme.px(15), theme.px(44), theme.px(15))
        painter.drawLine(start, end)
        for wing in wings:
            painter.drawLine(end, end + wing)
        painter.setPen(self.room.colour("quiet"))
        painter.drawText(words, Qt.AlignmentFlag.AlignVCenter, "feeds")

    # ---- hands

    def _side_at(self, at: QPointF) -> str:
        ink = self.ink_rect()
        if not self._dragged or not ink.adjusted(-_GRIP, -_GRIP, _GRIP, _GRIP).contains(at):
            return ""
        gaps = {"top": at.y() - ink.top(), "right": at.x() - ink.right(), "bottom": at.y() - ink.bottom(),
                "left": at.x() - ink.left()}  # fmt: skip
        nearest = min(gaps, key=lambda side: abs(gaps[side]))
        return nearest if abs(gaps[nearest]) <= _GRIP else ""

    def _margins_at(self, at: QPointF) -> Margins:
        """Margins as the sheet is fed, when the held edge lies there; to half a millimetre."""
        sheet = self.sheet_rect()
        mm = self._cm()[0] * 10 / sheet.width()
        gap = {"top": at.y() - sheet.top(), "right": sheet.right() - at.x(), "bottom": sheet.bottom() - at.y(),
               "left": at.x() - sheet.left()}[self._held]  # fmt: skip
        drawn = list(self.drawn_margins)
        drawn[_SIDES.index(self._held)] = min(max(round(gap * mm * 2) / 2, 0.0), _MOST_MM)
        return fed_margins((drawn[0], drawn[1], drawn[2], drawn[3]), self.is_wide)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of an edge."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._held = self._side_at(event.position())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """The edge follows."""
        if event is None:
            return
        if self._held:
            self.margins = self._margins_at(event.position())
            self.update()
        else:
            self.setCursor(_CURSORS[self._side_at(event.position())])

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """One change."""
        if event is not None and self._held:
            self._held = ""
            self.margins_set.emit(self.margins)


_CURSORS = {
    "": Qt.CursorShape.ArrowCursor, "left": Qt.CursorShape.SizeHorCursor, "right": Qt.CursorShape.SizeHorCursor,
    "top": Qt.CursorShape.SizeVerCursor, "bottom": Qt.CursorShape.SizeVerCursor,
}  # fmt: skip


def _frame(outer: QRectF, inner: QRectF) -> tuple[QRectF, QRectF, QRectF, QRectF]:
    """The four parts of a frame."""
    return (
        QRectF(outer.left(), outer.top(), outer.width(), inner.top() - outer.top()),
        QRectF(outer.left(), inner.bottom(), outer.width(), outer.bottom() - inner.bottom()),
        QRectF(outer.left(), inner.top(), inner.left() - outer.left(), inner.height()),
        QRectF(inner.right(), inner.top(), outer.right() - inner.right(), inner.height()),
    )
