"""A test sheet drawn to scale with live proofs: a field, or the gap between two, is pointed at and chosen by hand or by keys."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy

from rehearsal.core.testsheets.laying import TestPage
from rehearsal.desk import theme
from rehearsal.desk.parts.fieldchooser import FieldChooser
from rehearsal.desk.parts.focus import paint_focus
from rehearsal.desk.parts.images import rgb_image
from rehearsal.desk.parts.pagepainter import Scale, paint_page, scale_into
from rehearsal.tasks.testsheets import SheetLook, WorkedOut

#: Numbers and values can be read on the screen too, px.
_LEAST_TYPE = 10


class TestDrawing(FieldChooser):
    """The whole sheet, with its proofs in their places."""

    __test__ = False

    def __init__(self) -> None:
        super().__init__()
        self._made: WorkedOut | None = None
        self._look: SheetLook | None = None
        self._pictures: dict[int, QImage] = {}
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
        # round the whole cell: a frame round the pieces alone would go through the label under them
        rects = [scale.rect(page.fields[n - 1].cell) for n in numbers]
        if len(numbers) == 2 and numbers not in page.neighbours():
            for rect in rects:
                painter.drawRect(rect.adjusted(-3, -3, 3, 3))
            return
        whole = rects[0]
        for rect in rects[1:]:
            whole = whole.united(rect)
        painter.drawRect(whole.adjusted(-3, -3, 3, 3))
        if len(numbers) == 2:
            middle, long = self.place_of(numbers), 20.0
            half = QPointF(3, long) if numbers[1] - numbers[0] == 1 else QPointF(long, 3)
            painter.fillRect(QRectF(middle - half, middle + half), pen.color())

    # ---- hands

    def numbers_at(self, at: QPointF) -> tuple[int, ...]:
        """The field under a point, or the two beside it."""
        page, scale = self.page, self.scale
        return () if page is None or scale is None else page.at(*scale.mm(at))
