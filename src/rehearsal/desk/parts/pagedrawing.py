"""The page with hands on it: the print is dragged, its sides are dragged, borders are typed at the sheet's edges."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from PyQt6.QtCore import QLineF, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.core.sheet.boxes import Box
from rehearsal.core.sheet.composing import Page
from rehearsal.desk import theme
from rehearsal.desk.parts.focus import paint_focus
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.pagepainter import Scale, paint_page, scale_into

SIDES = ("top", "right", "foot", "left")
#: Units of lengths by their name: mm in one, decimals, step.
UNITS = {"mm": (1.0, 1, 1.0), "cm": (10.0, 2, 0.1), "in": (25.4, 3, 0.0625)}
_GRIP, _SNAP = 12.0, 7.0
_FINE_MM, _COARSE_MM, _LEAST_MM = 1.0, 10.0, 10.0
_FIELD = 76


@dataclass(frozen=True)
class _Drag:
    """What is held: the print (``move``) or one of its sides, where, and how the print lay."""

    what: str
    at: QPointF
    box: Box


class PageDrawing(QWidget):
    """``moved`` tells the print's upper left corner in mm, ``resized`` its width, ``cut`` a new box in mm (while recropping), each when it
    comes to rest; ``border_typed`` a side and its border in mm.
    """

    moved = pyqtSignal(float, float)
    resized = pyqtSignal(float)
    cut = pyqtSignal(object, str)
    border_typed = pyqtSignal(str, float)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.paper = QColor(0xEC, 0xEC, 0xEC)
        self.page: Page | None = None
        self.unit, self.recrops = "mm", False
        self._pictures: Mapping[int, QImage] = {}
        self._whole: tuple[QImage, Box] | None = None
        self._drag: _Drag | None = None
        self._shown: Box | None = None
        self._slid = (0.0, 0.0)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("The page")
        self.fields = {side: self._field(side) for side in SIDES}

    def _field(self, side: str) -> NumberField:
        made = NumberField(0, 2000, 1, "mm")
        made.setParent(self)
        made.setFixedWidth(theme.px(_FIELD))
        made.setAlignment(Qt.AlignmentFlag.AlignCenter)
        made.setAccessibleName(f"Border at the {side}")
        made.valueChanged.connect(lambda value: self.border_typed.emit(side, value * UNITS[self.unit][0]))
        return made

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(560), theme.px(380))

    def minimumSizeHint(self) -> QSize:
        """It may be small."""
        return QSize(theme.px(300), theme.px(180))

    # ---- what is shown

    def show_page(self, page: Page | None, pictures: Mapping[int, QImage], paper: QColor) -> None:
        """Show a page (None while no size is set)."""
        self.page, self._pictures, self.paper = page, pictures, paper
        self._show_borders()
        self.setAccessibleDescription(page_words(page))
        self._lay_fields()
        self.update()

    def show_whole(self, picture: QImage | None, around: Box | None) -> None:
        """The whole picture at the print's scale, and where it lies, for cutting on the sheet; None for none."""
        self._whole = None if picture is None or around is None else (picture, around)
        self.update()

    def set_unit(self, unit: str) -> None:
        """Show lengths in mm, cm or inches."""
        self.unit = unit
        _mm, decimals, step = UNITS[unit]
        for field in self.fields.values():
            field.blockSignals(True)
            field.setDecimals(decimals)
            field.setSingleStep(step)
            field.setSuffix(f" {unit}")
            field.blockSignals(False)
        self._show_borders()

    @property
    def box(self) -> Box | None:
        """The single print as it is drawn now; None for none or several."""
        if self.page is None or len(self.page.laid) != 1:
            return None
        return self._shown or self.page.laid[0].box

    def _show_borders(self) -> None:
        page, box = self.page, self.box
        if page is None:
            return
        borders = page.borders if box is None else (box.top, page.width - box.right, page.height - box.foot, box.left)
        for side, mm in zip(SIDES, borders, strict=True):
            self.fields[side].show_value(round(max(mm, 0.0) / UNITS[self.unit][0], UNITS[self.unit][1]))

    # ---- places

    def scale(self) -> Scale | None:
        """How the page lies in the widget."""
        if self.page is None:
            return None
        side, above = theme.px(_FIELD) + 12, theme.px(8)
        return scale_into(self.page, QRectF(self.rect()).adjusted(side, above, -side, -above))

    def _lay_fields(self) -> None:
        """Each field on the middle of its edge: above and below inside the sheet's border, at the sides outside of it."""
        scale, box = self.scale(), self.box
        for field in self.fields.values():
            field.setVisible(box is not None)
        if scale is None or box is None or self.page is None:
            return
        sheet, print_ = scale.rect(self.page.paper), scale.rect(box)
        high = self.fields["top"].sizeHint().height()
        middles = {
            "top": (sheet.center().x(), max((sheet.top() + print_.top()) / 2, sheet.top() + high / 2)),
            "foot": (sheet.center().x(), min((sheet.bottom() + print_.bottom()) / 2, sheet.bottom() - high / 2)),
            "left": (sheet.left() - theme.px(_FIELD) / 2 - 6, sheet.center().y()),
            "right": (sheet.right() + theme.px(_FIELD) / 2 + 6, sheet.center().y()),
        }
        for side, (x, y) in middles.items():
            field = self.fields[side]
            field.move(round(x - field.width() / 2), round(y - high / 2))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The fields follow."""
        super().resizeEvent(event)
        self._lay_fields()

    def part_at(self, at: QPointF) -> str:
        """What a place would take hold of: a side, ``move``, or nothing."""
        scale, box = self.scale(), self.box
        if scale is None or box is None:
            return ""
        rect = scale.rect(box)
        if not rect.adjusted(-_GRIP, -_GRIP, _GRIP, _GRIP).contains(at):
            return ""
        gaps = {
            "left": abs(at.x() - rect.left()), "right": abs(at.x() - rect.right()), "top": abs(at.y() - rect.top()),
            "foot": abs(at.y() - rect.bottom()),
        }  # fmt: skip
        nearest = min(gaps, key=lambda side: gaps[side])
        return nearest if gaps[nearest] <= _GRIP else "move"

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The page on the surround, with handles in the middle of the print's sides."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.room.colour("surround"))
        scale, page = self.scale(), self.page
        if scale is None or page is None:
            painter.setPen(self.room.colour("on_surround"))
            painter.setFont(theme.font())
            painter.drawText(
                self.rect(),
                Qt.AlignmentFlag.AlignCenter,
                "No print size is set yet: take one of the ways, or set one at Picture.",
            )
            return
        box = self.box
        shown = page if box is None else replace(page, laid=(replace(page.laid[0], box=box),))
        paint_page(painter, shown, scale, self._pictures, self.paper)
        self._paint_feed(painter, scale)
        if box is not None:
            self._paint_whole(painter, scale)
            self._paint_hands(painter, scale, box)
        paint_focus(painter, self, self.room)

    def _paint_feed(self, painter: QPainter, scale: Scale) -> None:
        """An arrow at the edge that goes in first."""
        assert self.page is not None
        sheet = scale.rect(self.page.paper)
        painter.setPen(QPen(self.room.colour("on_surround"), 1.5))
        painter.setFont(theme.font(theme.SMALL))
        long, tip = theme.px(26), theme.px(5)
        if self.page.feeds_left:
            y, x = sheet.top() + theme.px(14), sheet.left() - 6
            ends = (QPointF(x - long, y), QPointF(x, y))
            wings = (QPointF(x - long + tip, y - tip), QPointF(x - long + tip, y + tip))
            painter.drawText(
                QRectF(x - theme.px(70), y + 4, theme.px(70), theme.px(16)), Qt.AlignmentFlag.AlignRight, "goes in"
            )
        else:
            x, y = sheet.left() - theme.px(16), sheet.top() + long
            ends = (QPointF(x, y - long), QPointF(x, y))
            wings = (QPointF(x - tip, y - long + tip), QPointF(x + tip, y - long + tip))
            painter.drawText(
                QRectF(x - theme.px(56), y + 2, theme.px(70), theme.px(16)), Qt.AlignmentFlag.AlignCenter, "goes in"
            )
        painter.drawLine(QLineF(*ends))
        for wing in wings:
            painter.drawLine(QLineF(ends[0], wing))

    def _paint_whole(self, painter: QPainter, scale: Scale) -> None:
        """While recropping: what is cut off, faintly."""
        if not self.recrops or self._whole is None or self.page is None:
            return
        picture, around = self._whole
        place = scale.rect(around.moved(*self._slid))
        painter.setOpacity(0.35)
        painter.drawImage(place, picture)
        painter.setOpacity(1.0)
        if self._drag is not None and self.box is not None:
            painter.save()
            painter.setClipRect(scale.rect(self.box))
            painter.drawImage(place, picture)
            painter.restore()

    def _paint_hands(self, painter: QPainter, scale: Scale, box: Box) -> None:
        rect = scale.rect(box)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if self._drag is not None and self._drag.what == "move":
            self._paint_middles(painter, scale, rect)
        long, thick = theme.px(22), theme.px(6)
        for middle, level in ((rect.center().x(), True), (rect.center().y(), False)):
            for edge in (rect.top(), rect.bottom()) if level else (rect.left(), rect.right()):
                bar = QRectF(0, 0, long if level else thick, thick if level else long)
                bar.moveCenter(QPointF(middle, edge) if level else QPointF(edge, middle))
                painter.setPen(QPen(QColor(20, 20, 20), 1))
                painter.setBrush(self.room.colour("light") if not self.room.is_light else QColor(0xEC, 0xEC, 0xEC))
                painter.drawRect(bar)
        if self.recrops:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(20, 20, 20), 2, Qt.PenStyle.DashLine))
            painter.drawRect(rect)

    def _paint_middles(self, painter: QPainter, scale: Scale, rect: QRectF) -> None:
        """The sheet's middle lines, where the print's own middle lies on them."""
        assert self.page is not None
        sheet = scale.rect(self.page.paper)
        painter.setPen(QPen(QColor(20, 20, 20), 1, Qt.PenStyle.DashLine))
        if abs(rect.center().x() - sheet.center().x()) < 0.5:
            painter.drawLine(QLineF(sheet.center().x(), sheet.top(), sheet.center().x(), sheet.bottom()))
        if abs(rect.center().y() - sheet.center().y()) < 0.5:
            painter.drawLine(QLineF(sheet.left(), sheet.center().y(), sheet.right(), sheet.center().y()))

    # ---- hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of the print or of one of its sides."""
        box = self.box
        if event is None or event.button() != Qt.MouseButton.LeftButton or box is None:
            return
        what = self.part_at(event.position())
        self._drag = _Drag(what, event.position(), box) if what else None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """The print follows."""
        if event is None:
            return
        if self._drag is None:
            self._show_hand(self.part_at(event.position()))
            return
        self._shown = self._dragged(event.position())
        self._show_borders()
        self._lay_fields()
        self.update()

    def _show_hand(self, what: str) -> None:
        shapes = {
            "move": Qt.CursorShape.SizeAllCursor, "left": Qt.CursorShape.SizeHorCursor, "right": Qt.CursorShape.SizeHorCursor,
            "top": Qt.CursorShape.SizeVerCursor, "foot": Qt.CursorShape.SizeVerCursor,
        }  # fmt: skip
        self.setCursor(shapes.get(what, Qt.CursorShape.ArrowCursor))

    def _dragged(self, at: QPointF) -> Box:
        """The print's box with the held part under the pointer."""
        drag, scale, page = self._drag, self.scale(), self.page
        assert drag is not None and scale is not None and page is not None
        right, down = (at.x() - drag.at.x()) / scale.per_mm, (at.y() - drag.at.y()) / scale.per_mm
        if self.recrops:
            around = page.paper if self._whole is None else self._whole[1]
            if drag.what == "move":
                self._slid = slid(drag.box, around, right, down)
                return drag.box
            return cut_box(drag.box, drag.what, right, down, around, page.paper)
        if drag.what == "move":
            return _snapped(drag.box.moved(right, down), page, _SNAP / scale.per_mm)
        return side_dragged(drag.box, drag.what, right, down, page)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """One change."""
        drag, box = self._drag, self._shown
        self._drag = self._shown = None
        if event is None or drag is None or box is None:
            return
        slid_by, self._slid = self._slid, (0.0, 0.0)
        if self.recrops:
            self.cut.emit(box.moved(-slid_by[0], -slid_by[1]), drag.what)
        elif drag.what == "move":
            self.moved.emit(box.left, box.top)
        else:
            self.resized.emit(box.width)
        self._show_borders()
        self._lay_fields()
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows move the print by 1 mm (with Shift 10); with Ctrl up and right make it larger, down and left smaller."""
        ways = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        way, box = ways.get(Qt.Key(event.key())) if event is not None else None, self.box
        if event is None or way is None or box is None:
            super().keyPressEvent(event)
            return
        step = _COARSE_MM if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else _FINE_MM
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.resized.emit(box.width + step * (way[0] - way[1]))
        else:
            self.moved.emit(box.left + way[0] * step, box.top + way[1] * step)


def _snapped(box: Box, page: Page, near: float) -> Box:
    """A print that is dragged near the sheet's middle lies on it; it stays on the sheet."""
    across, along = (page.width - box.width) / 2, (page.height - box.height) / 2
    left = across if abs(box.left - across) < near else min(max(box.left, 0.0), max(page.width - box.width, 0.0))
    top = along if abs(box.top - along) < near else min(max(box.top, 0.0), max(page.height - box.height, 0.0))
    return Box(left, top, box.width, box.height)


def side_dragged(box: Box, side: str, right: float, down: float, page: Page) -> Box:
    """A print whose side is dragged: larger or smaller about its middle, its proportions kept, at most as its sheet."""
    more = {
        "left": -2 * right,
        "right": 2 * right,
        "top": -2 * down * box.width / box.height,
        "foot": 2 * down * box.width / box.height,
    }
    most = min(page.width, page.height * box.width / box.height)
    wide = min(max(box.width + more[side], 10.0), most)
    high = wide * box.height / box.width
    return Box(box.left + (box.width - wide) / 2, box.top + (box.height - high) / 2, wide, high)


def cut_box(box: Box, side: str, right: float, down: float, around: Box, paper: Box) -> Box:
    """A print that is cut on the sheet: a side moves over the picture (``around``), which stays; within picture and sheet."""
    sides = {"left": box.left, "top": box.top, "right": box.right, "foot": box.foot}
    sides[side] += right if side in ("left", "right") else down
    left = max(sides["left"], around.left, paper.left)
    top = max(sides["top"], around.top, paper.top)
    far, low = min(sides["right"], around.right, paper.right), min(sides["foot"], around.foot, paper.foot)
    if side == "left":
        left = min(left, far - _LEAST_MM)
    if side == "top":
        top = min(top, low - _LEAST_MM)
    return Box(left, top, max(far - left, _LEAST_MM), max(low - top, _LEAST_MM))


def slid(box: Box, around: Box, right: float, down: float) -> tuple[float, float]:
    """By how much the picture can be slid under a print that stays: it still fills it."""
    return (
        min(max(right, box.right - around.right), box.left - around.left),
        min(max(down, box.foot - around.foot), box.top - around.top),
    )


def page_words(page: Page | None) -> str:
    """A page for who does not see it."""
    if page is None:
        return "no print size yet"
    borders = ", ".join(f"{side} {mm:.1f} mm" for side, mm in zip(SIDES, page.borders, strict=True))
    count = f"{len(page.laid)} prints; " if len(page.laid) != 1 else ""
    size = f"{page.width / 10:.1f} × {page.height / 10:.1f} cm"
    return f"{count}{size}; bare paper: {borders}; {page.bare * 100:.0f} % of the sheet stays bare"
