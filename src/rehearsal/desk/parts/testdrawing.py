"""A test sheet drawn to scale with live proofs: a field, or the gap between two, is pointed at and chosen by hand or by keys."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.core.testsheets.laying import TestPage
from rehearsal.desk import theme
from rehearsal.desk.parts.focus import paint_focus
from rehearsal.desk.parts.images import rgb_image
from rehearsal.desk.parts.pagepainter import Scale, paint_page, scale_into
from rehearsal.tasks.testsheets import SheetLook, WorkedOut

#: Numbers and values can be read on the screen too, px.
_LEAST_TYPE = 10
_ARROWS = {
    Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1),
}  # fmt: skip


def moved(page: TestPage, at: tuple[int, ...], step: tuple[int, int]) -> tuple[int, ...]:
    """What an arrow goes to: from a field to the gap beside it, from a gap to the field behind it; the same at an edge."""
    columns, count = page.columns, len(page.fields)
    if not at:
        return (1,)
    dx, dy = step
    if len(at) == 2:
        along = at[1] - at[0] == 1 if dx else at[1] - at[0] == columns
        if along:
            return (at[1],) if dx + dy > 0 else (at[0],)
        return at
    number = at[0]
    target = number + dx + dy * columns
    inside = 1 <= target <= count and (not dx or (target - 1) // columns == (number - 1) // columns)
    return tuple(sorted((number, target))) if inside else at


class TestDrawing(QWidget):
    """``pointed`` tells what the pointer or the keys are on, empty for nothing; ``chosen`` what was clicked or entered."""

    __test__ = False

    pointed = pyqtSignal(tuple)
    chosen = pyqtSignal(tuple)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._made: WorkedOut | None = None
        self._look: SheetLook | None = None
        self._pictures: dict[int, QImage] = {}
        self.at: tuple[int, ...] = ()
        self.best: tuple[int, ...] = ()
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("The test sheet")

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(560), theme.px(380))

    def minimumSizeHint(self) -> QSize:
        """It may be small."""
        return QSize(theme.px(240), theme.px(150))

    # ---- what is shown

    def show_sheet(
        self, made: WorkedOut | None, look: SheetLook | None, at: tuple[int, ...], best: tuple[int, ...]
    ) -> None:
        """A sheet, its proofs (None while they are coming: the old ones stay only for the same sheet), what is pointed at and chosen."""
        if made is not self._made or look is not None:
            if look is not self._look:
                self._pictures = {} if look is None else {i: rgb_image(rgb) for i, rgb in enumerate(look.pieces)}
            self._look = look
        self._made, self.at, self.best = made, at, best
        self.setAccessibleDescription("" if made is None else self._words(made))
        self.update()

    @staticmethod
    def _words(made: WorkedOut) -> str:
        return "; ".join(f"{v.number} {label}" for v, label in zip(made.planned.variants, made.labels, strict=True))

    def picture_of(self, numbers: tuple[int, ...]) -> QImage | None:
        """The first piece of a field as small as it lies here; None for a gap, and while it is coming."""
        page = self.page
        if page is None or len(numbers) != 1 or numbers[0] > len(page.fields):
            return None
        each = len(page.fields[0].pieces)
        return self._pictures.get((numbers[0] - 1) * each)

    @property
    def page(self) -> TestPage | None:
        """The sheet as it is laid."""
        return None if self._made is None else self._made.page

    @property
    def scale(self) -> Scale | None:
        """Millimetres of the sheet to pixels."""
        page = self.page
        return None if page is None else self.scale_of(page)

    def scale_of(self, page: TestPage) -> Scale:
        """Millimetres of a sheet to pixels, were it shown here."""
        return scale_into(page.page, QRectF(self.rect()).adjusted(2, 2, -2, -2))

    def place_of(self, numbers: tuple[int, ...]) -> QPointF:
        """Where a field, or a gap, is."""
        page, scale = self.page, self.scale
        assert page is not None and scale is not None
        boxes = [scale.rect(page.fields[n - 1].pieces[0]) for n in numbers]
        if len(boxes) == 1:
            return boxes[0].center()
        one, two = boxes
        last = scale.rect(page.fields[numbers[0] - 1].pieces[-1])
        if abs(one.top() - two.top()) < 1:
            return QPointF((last.right() + two.left()) / 2, one.center().y())
        return QPointF(one.center().x(), (one.bottom() + two.top()) / 2)

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Sheet, fields, black, wedges; a frame round what is pointed at and a bar in a gap, a tick at what was chosen."""
        painter = QPainter(self)
        page, scale = self.page, self.scale
        if page is None or scale is None:
            return
        look = self._look
        paper = QColor(0xEC, 0xEC, 0xEC) if look is None else QColor(*(int(v) for v in look.paper))
        paint_page(painter, page.page, scale, self._pictures, paper, least=theme.px(_LEAST_TYPE))
        if look is not None:
            black = QColor(*(int(v) for v in look.black))
            for field in page.fields:
                painter.fillRect(scale.rect(field.black), black)
            for boxes, colours in ((page.black_wedge, look.black_wedge), (page.white_wedge, look.white_wedge)):
                for box, rgb in zip(boxes, colours, strict=True):
                    painter.fillRect(scale.rect(box), QColor(*(int(v) for v in rgb)))
        ink = QColor(20, 20, 20)
        if self.best:
            self._paint_mark(painter, page, scale, self.best, QPen(ink, 3))
        if self.at and self.at != self.best:
            self._paint_mark(painter, page, scale, self.at, QPen(ink, 2, Qt.PenStyle.DashLine))
        paint_focus(painter, self, self.room)

    def _paint_mark(self, painter: QPainter, page: TestPage, scale: Scale, numbers: tuple[int, ...], pen: QPen) -> None:
        if any(n > len(page.fields) for n in numbers):
            return
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen)
        rects = [scale.rect(page.fields[n - 1].pieces[0]) for n in numbers]
        for n in numbers:
            for box in page.fields[n - 1].pieces:
                rects.append(scale.rect(box))
        whole = rects[0]
        for rect in rects[1:]:
            whole = whole.united(rect)
        painter.drawRect(whole.adjusted(-3, -3, 3, 3))
        if len(numbers) == 2:
            middle, long = self.place_of(numbers), 20.0
            half = QPointF(3, long) if numbers[1] - numbers[0] == 1 else QPointF(long, 3)
            painter.fillRect(QRectF(middle - half, middle + half), pen.color())

    # ---- hands

    def _numbers_at(self, at: QPointF) -> tuple[int, ...]:
        page, scale = self.page, self.scale
        return () if page is None or scale is None else page.at(*scale.mm(at))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Point."""
        if event is not None:
            self.pointed.emit(self._numbers_at(event.position()))

    def leaveEvent(self, _event: object) -> None:
        """Nothing is pointed at, unless the keys are at work here."""
        if not self.hasFocus():
            self.pointed.emit(())

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            numbers = self._numbers_at(event.position())
            self.pointed.emit(numbers)
            if numbers:
                self.chosen.emit(numbers)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows point, Return and Space choose; the rest goes to the window."""
        page = self.page
        if event is None or page is None:
            return
        step = _ARROWS.get(Qt.Key(event.key()))
        if step is not None:
            self.pointed.emit(moved(page, self.at, step))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and self.at:
            self.chosen.emit(self.at)
        else:
            super().keyPressEvent(event)
