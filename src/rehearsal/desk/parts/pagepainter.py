"""A composed page drawn to scale: sheet, edge no ink reaches, prints, lettering, cut marks, mat."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QFont, QFontMetricsF, QImage, QPainter, QPainterPath, QPen, QTransform

from rehearsal.core.sheet.boxes import Box
from rehearsal.core.sheet.composing import Lettering, Page
from rehearsal.core.sheet.several import Laid
from rehearsal.desk import theme

_INK = QColor(26, 26, 26)
#: Height of a capital of the type, of its size.
_CAPITAL = 0.727
#: A mat is a little darker than the paper it lies on, or it could not be told from it.
_MAT_SHARE = 0.9


@dataclass(frozen=True)
class Scale:
    """Millimetres of the page to pixels of a widget."""

    left: float
    top: float
    per_mm: float

    def rect(self, box: Box) -> QRectF:
        """A box in pixels."""
        return QRectF(
            self.left + box.left * self.per_mm,
            self.top + box.top * self.per_mm,
            box.width * self.per_mm,
            box.height * self.per_mm,
        )

    def point(self, x: float, y: float) -> QPointF:
        """A place in pixels."""
        return QPointF(self.left + x * self.per_mm, self.top + y * self.per_mm)

    def mm(self, at: QPointF) -> tuple[float, float]:
        """A pixel's place on the page."""
        return (at.x() - self.left) / self.per_mm, (at.y() - self.top) / self.per_mm


def extent(page: Page) -> Box:
    """All that is drawn of a page: its sheet, and its mat where that is larger."""
    if page.mat is None:
        return page.paper
    mat = page.mat.outside
    left, top = min(0.0, mat.left), min(0.0, mat.top)
    return Box(left, top, max(page.width, mat.right) - left, max(page.height, mat.foot) - top)


def scale_into(page: Page, room: QRectF) -> Scale:
    """A page in the middle of a rectangle, as large as it can be."""
    whole = extent(page)
    per_mm = max(min(room.width() / whole.width, room.height() / whole.height), 0.01)
    left = room.center().x() - (whole.left + whole.width / 2) * per_mm
    top = room.center().y() - (whole.top + whole.height / 2) * per_mm
    return Scale(left, top, per_mm)


def paint_page(
    painter: QPainter, page: Page, scale: Scale, pictures: Mapping[int, QImage], paper: QColor, hatched: bool = True, least: int = 0
) -> None:  # fmt: skip
    """Everything of a page.

    Args:
        pictures: of the prints by their numbers, upright; those that are missing are drawn grey.
        paper: the bare sheet's colour.
        hatched: the edge no ink reaches is hatched.
        least: pixels of the type on the screen, where it would be smaller to scale; 0 to leave out what is too small to read.
    """
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    sheet = scale.rect(page.paper)
    painter.fillRect(sheet, paper)
    if hatched and page.mat is None:
        _paint_edge(painter, sheet, scale.rect(page.inked), paper)
    painter.save()
    painter.setClipRect(sheet)
    for one in page.laid:
        paint_print(painter, one, scale.rect(one.box), pictures.get(one.number))
    painter.setPen(QPen(_INK, 1))
    for x0, y0, x1, y1 in page.marks:
        painter.drawLine(QLineF(scale.point(x0, y0), scale.point(x1, y1)))
    painter.restore()
    for line in page.lettering:
        _paint_line(painter, line, scale, least)
    if page.mat is not None:
        _paint_mat(painter, page, scale, paper)


def paint_print(painter: QPainter, one: Laid, box: QRectF, picture: QImage | None) -> None:
    """One print in its place."""
    if picture is None or picture.isNull():
        painter.fillRect(box, QColor(0x90, 0x90, 0x90))
    elif one.turned:
        painter.drawImage(box, picture.transformed(QTransform().rotate(90)))
    else:
        painter.drawImage(box, picture)


def _paint_edge(painter: QPainter, sheet: QRectF, inked: QRectF, paper: QColor) -> None:
    """Hatched where no ink reaches."""
    if inked == sheet:
        return
    path = QPainterPath()
    path.addRect(sheet)
    hole = QPainterPath()
    hole.addRect(inked)
    grey = QColor.fromHslF(0.0, 0.0, max(paper.lightnessF() * 0.62, 0.2))
    painter.fillPath(path.subtracted(hole), QBrush(grey, Qt.BrushStyle.BDiagPattern))
    painter.setPen(QPen(grey, 1))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(inked)


def _paint_line(painter: QPainter, line: Lettering, scale: Scale, least: int = 0) -> None:
    at = scale.point(line.x, line.y)
    painter.setOpacity(line.opacity / 100)
    if line.picture:
        mark = QImage(line.picture)
        high = line.capital * 4 * scale.per_mm
        wide = high * (mark.width() / mark.height() if mark.height() else 1.0)
        painter.drawImage(QRectF(at.x() - wide, at.y() - high, wide, high), mark)
    elif (size := max(line.capital * scale.per_mm / _CAPITAL, least)) >= 3:
        font = QFont(theme.FAMILY)
        font.setPixelSize(max(1, round(size)))
        if (
            least
            and line.room
            and (wide := QFontMetricsF(font).horizontalAdvance(line.text)) > line.room * scale.per_mm
        ):
            font.setPixelSize(max(1, int(size * line.room * scale.per_mm / wide)))
        painter.setFont(font)
        painter.setPen(_INK)
        wide = QFontMetricsF(font).horizontalAdvance(line.text)
        painter.drawText(
            QPointF(at.x() - wide * {"left": 0.0, "middle": 0.5, "right": 1.0}[line.side], at.y()), line.text
        )
    painter.setOpacity(1.0)


def _paint_mat(painter: QPainter, page: Page, scale: Scale, paper: QColor) -> None:
    """The mat over the sheet, whose edge shows through as a dashed line."""
    assert page.mat is not None
    path, hole = QPainterPath(), QPainterPath()
    path.addRect(scale.rect(page.mat.outside))
    hole.addRect(scale.rect(page.mat.opening))
    level = round(paper.lightness() * _MAT_SHARE)
    painter.fillPath(path.subtracted(hole), QColor(level, level, level))
    line = QColor(level * 6 // 10, level * 6 // 10, level * 6 // 10)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(line, 1))
    painter.drawPath(hole)
    painter.drawPath(path)
    painter.setPen(QPen(line, 1, Qt.PenStyle.DashLine))
    painter.drawRect(scale.rect(page.paper))
