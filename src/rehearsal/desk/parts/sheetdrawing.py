"""The print on its sheet, drawn to scale; dragging the print's edge sets the border."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.core.sheet.layout import sheet_size
from rehearsal.core.sheet.onsheet import borders_mm
from rehearsal.core.values.frame import PrintSize
from rehearsal.desk import theme
from rehearsal.desk.parts.focus import paint_focus

_LABEL, _GRIP = 18, 12.0
_FINE_MM, _COARSE_MM = 1.0, 5.0


class SheetDrawing(QWidget):
    """Sheet, print and borders in mm. ``border_set`` tells a border in mm when an edge comes to rest, ``moving`` meanwhile."""

    border_set = pyqtSignal(float)
    moving = pyqtSignal(float)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.size_cm: PrintSize | None = None
        self.sheet, self._picture, self._held = "A4", QImage(), ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("The print on its sheet")

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(220), theme.px(170))

    def minimumSizeHint(self) -> QSize:
        """It may be small."""
        return QSize(theme.px(150), theme.px(110))

    def show_print(self, size: PrintSize | None, sheet: str, picture: QImage) -> None:
        """Show a print (None while no size is set) on a sheet."""
        self.size_cm, self.sheet, self._picture = size, sheet, picture
        sides, foot = (0.0, 0.0) if size is None else borders_mm(size, sheet)
        self.setAccessibleDescription(
            "no print size yet"
            if size is None
            else f"{size.in_words} on {sheet}: at the sides {_border_words(sides)}, at top and foot {_border_words(foot)}"
        )
        self.update()

    # ---- places

    def sheet_rect(self) -> QRectF:
        """The sheet in pixels of the widget, room for the borders' figures around it."""
        label = theme.px(_LABEL)
        place = QRectF(self.rect()).adjusted(1.6 * label, label, -1.6 * label, -label)
        wide, high = sheet_size(self.sheet, self.size_cm or PrintSize(3, 2))
        scale = min(place.width() / wide, place.height() / high)
        made = QRectF(0, 0, wide * scale, high * scale)
        made.moveCenter(place.center())
        return made

    def print_rect(self) -> QRectF:
        """The print in pixels of the widget."""
        if self.size_cm is None:
            return QRectF()
        sheet = self.sheet_rect()
        scale = sheet.width() / sheet_size(self.sheet, self.size_cm)[0]
        made = QRectF(0, 0, self.size_cm.width_cm * scale, self.size_cm.height_cm * scale)
        made.moveCenter(sheet.center())
        return made

    def _border_at(self, at: QPointF) -> float:
        """The border in mm when the held edge lies there."""
        sheet = self.sheet_rect()
        mm = sheet_size(self.sheet, self.size_cm or PrintSize(3, 2))[0] * 10 / max(sheet.width(), 1)
        gap = {
            "left": at.x() - sheet.left(), "right": sheet.right() - at.x(), "top": at.y() - sheet.top(),
            "bottom": sheet.bottom() - at.y(),
        }[self._held]  # fmt: skip
        return max(gap * mm, 0.0)

    def _edge_at(self, at: QPointF) -> str:
        box = self.print_rect()
        if self.size_cm is None or not box.adjusted(-_GRIP, -_GRIP, _GRIP, _GRIP).contains(at):
            return ""
        gaps = {
            "left": abs(at.x() - box.left()), "right": abs(at.x() - box.right()), "top": abs(at.y() - box.top()),
            "bottom": abs(at.y() - box.bottom()),
        }  # fmt: skip
        nearest = min(gaps, key=lambda edge: gaps[edge])
        return nearest if gaps[nearest] <= _GRIP else ""

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Sheet, print with a thin dark frame, borders in mm at the edges."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.setFont(theme.font(theme.SMALL))
        sheet, light = self.sheet_rect(), self.room.lightest
        painter.fillRect(sheet, QColor(light, light, light))
        if self.size_cm is None:
            painter.setPen(QColor(20, 20, 20))
            painter.drawText(sheet, Qt.AlignmentFlag.AlignCenter, "no size yet")
            return
        box = self.print_rect()
        painter.save()
        painter.setClipRect(sheet)  # what is larger than the sheet is cut off by it
        if self._picture.isNull():
            painter.fillRect(box, self.room.colour("mark"))
        else:
            painter.drawImage(box, self._picture)
        painter.setPen(QPen(QColor(20, 20, 20), 1))
        painter.drawRect(box)
        painter.restore()
        self._paint_borders(painter, sheet)
        paint_focus(painter, self, self.room)

    def _paint_borders(self, painter: QPainter, sheet: QRectF) -> None:
        assert self.size_cm is not None
        sides, foot = borders_mm(self.size_cm, self.sheet)
        painter.setPen(self.room.colour("text"))
        high, wide = theme.px(16), theme.px(96)
        for words, centre in (
            (_border_words(foot), QPointF(sheet.center().x(), sheet.top() - high / 2 - 1)),
            (_border_words(foot), QPointF(sheet.center().x(), sheet.bottom() + high / 2 + 1)),
            (_border_words(sides, short=True), QPointF(sheet.left() - theme.px(14), sheet.center().y())),
            (_border_words(sides, short=True), QPointF(sheet.right() + theme.px(14), sheet.center().y())),
        ):
            place = QRectF(0, 0, wide, high)
            place.moveCenter(centre)
            painter.drawText(place, Qt.AlignmentFlag.AlignCenter, words)

    # ---- hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of an edge of the print."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._held = self._edge_at(event.position())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """The print follows."""
        if event is not None and self._held:
            self.moving.emit(self._border_at(event.position()))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """One change."""
        if event is not None and self._held:
            border = self._border_at(event.position())
            self._held = ""
            self.border_set.emit(border)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and right: a narrower border, so a larger print; down and left: a wider one; with Shift 5 mm."""
        ways = {Qt.Key.Key_Up: -1, Qt.Key.Key_Right: -1, Qt.Key.Key_Down: 1, Qt.Key.Key_Left: 1}
        way = ways.get(Qt.Key(event.key())) if event is not None else None
        if event is None or way is None or self.size_cm is None:
            super().keyPressEvent(event)
            return
        step = _COARSE_MM if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else _FINE_MM
        self.border_set.emit(max(min(borders_mm(self.size_cm, self.sheet)) + way * step, 0.0))


def _border_words(mm: float, short: bool = False) -> str:
    """A border, or by how much the print is larger than its sheet there."""
    if mm < -0.5:
        return "cut" if short else f"{-mm:.0f} mm cut off"
    return f"{max(mm, 0.0):.0f}" if short else f"{max(mm, 0.0):.0f} mm"
