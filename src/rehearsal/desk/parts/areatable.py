"""The table of areas: swatches of picture and print, the hatch itself, a bar for the share."""

from __future__ import annotations

from dataclasses import dataclass, replace

from PyQt6.QtCore import QModelIndex, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPen
from PyQt6.QtWidgets import QHeaderView, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QTableWidgetItem

from rehearsal.desk import theme
from rehearsal.desk.parts.cards import bar_width
from rehearsal.desk.parts.widgets import PlainTable, dress_table

_SWATCH = QSize(36, 14)
_HATCH = QSize(18, 14)
_BAR = QSize(24, 7)
_ROW = 24
_DRAWN = Qt.ItemDataRole.UserRole + 1
#: By cause, as the lines on the print have it: level strokes, dots, slanted strokes.
HATCHES = {"too_dark": "level", "too_light": "dots", "too_saturated": "slanted"}


@dataclass(frozen=True)
class AreaRow:
    """One row: colours of picture and print there, names (longest first), hatch, share with the largest share, figures, tip."""

    colours: tuple[QColor, QColor]
    names: tuple[str, ...]
    cause: str
    why: str
    share: float
    most: float
    figures: tuple[str, ...]
    tip: str


def paint_hatch(painter: QPainter, box: QRectF, kind: str, colour: QColor) -> None:
    """A piece of the hatch that the lines on the print have."""
    painter.save()
    painter.setClipRect(box)
    painter.setPen(QPen(colour, 1.2))
    step = theme.px(5)
    if kind == "level":
        for i in range(3):
            y = box.y() + step * (i + 0.4)
            painter.drawLine(box.topLeft() + QPointF(0, y - box.y()), box.topLeft() + QPointF(box.width(), y - box.y()))
    elif kind == "dots":
        painter.setBrush(colour)
        for i in range(4):
            for j in range(3):
                painter.drawEllipse(box.topLeft() + QPointF(step * (i + 0.4), step * (j + 0.4)), 0.8, 0.8)
    elif kind:
        for i in range(-2, 6):
            painter.drawLine(
                box.topLeft() + QPointF(step * i, box.height()), box.topLeft() + QPointF(step * i + box.height(), 0)
            )
    painter.restore()


class _Delegate(QStyledItemDelegate):
    """Paints swatches, hatch and bar."""

    def __init__(self, table: AreaTable) -> None:
        super().__init__(table)
        self._table = table

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        row = index.data(_DRAWN)
        if painter is None or not isinstance(row, AreaRow):
            super().paint(painter, option, index)
            return
        room, box = self._table.room, QRectF(option.rect)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected) or index.row() == self._table.hovered
        if chosen:
            painter.fillRect(box, room.colour("raised"))
        painter.setPen(room.colour("text"))
        painter.setFont(theme.font())
        column = index.column()
        if column == 0:
            if index.row() == self._table.currentRow() and chosen:
                painter.fillRect(QRectF(box.x(), box.y(), 3, box.height()), room.colour("text"))
            self._swatches(painter, box, row)
        elif column == 1:
            self._cause(painter, box, row)
        else:
            self._share(painter, box, row)

    def _swatches(self, painter: QPainter, box: QRectF, row: AreaRow) -> None:
        wide, high = theme.px(_SWATCH.width()), theme.px(_SWATCH.height())
        y = box.center().y() - high / 2
        for i, colour in enumerate(row.colours):
            painter.fillRect(QRectF(box.x() + 5 + i * wide / 2, y, wide / 2, high), colour)
        text = box.adjusted(wide + theme.px(13), 0, -2, 0)
        painter.drawText(text, Qt.AlignmentFlag.AlignVCenter, self._table.fitting(row.names, text.width()))

    def _cause(self, painter: QPainter, box: QRectF, row: AreaRow) -> None:
        wide, high = theme.px(_HATCH.width()), theme.px(_HATCH.height())
        hatch = QRectF(box.x() + 2, box.center().y() - high / 2, wide, high)
        paint_hatch(painter, hatch, HATCHES.get(row.cause, ""), self._table.room.colour("text"))
        painter.setFont(theme.font(theme.SMALL))
        text = box.adjusted(wide + theme.px(7), 0, 0, 0)
        if not self._table.is_narrow:
            painter.drawText(text, Qt.AlignmentFlag.AlignVCenter, row.why)

    def _share(self, painter: QPainter, box: QRectF, row: AreaRow) -> None:
        wide, high = theme.px(_BAR.width()), theme.px(_BAR.height())
        bar = QRectF(box.x() + 2, box.center().y() - high / 2, bar_width(row.share, row.most, wide), high)
        painter.fillRect(bar, self._table.room.colour("mark"))
        text = box.adjusted(wide + theme.px(4), 0, -6, 0)
        painter.drawText(text, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, row.figures[0])


class AreaTable(PlainTable):
    """Rows of areas. ``pointed`` tells the row under the pointer (-1 for none)."""

    pointed = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.hovered = -1
        dress_table(self, ("colour", "why beyond", "share", "ΔE₀₀", "worst", "folds"), "Areas beyond the paper", _ROW)
        self._delegate = _Delegate(self)
        for column in range(3):
            self.setItemDelegateForColumn(column, self._delegate)
        head = self.horizontalHeader()
        head.setStretchLastSection(False)
        head.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        head.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self._widths = (0, 110, 70, 46, 46, 36)
        self.set_narrow(False)
        self.setMouseTracking(True)

    def set_narrow(self, on: bool) -> None:
        """Beside the pictures there is room for the first figures only."""
        self._narrow = on
        for column, width in enumerate(self._widths):
            if column:
                self.setColumnWidth(column, theme.px(_HATCH.width() + 10 if on and column == 1 else width))
            self.setColumnHidden(column, on and column > 3)
        self.horizontalHeaderItem(1).setText("" if on else "why beyond")

    @property
    def is_narrow(self) -> bool:
        """True while the hatch alone tells the cause; the row's tip has the words."""
        return self._narrow

    def fitting(self, names: tuple[str, ...], width: float) -> str:
        """The longest name there is room for, in the worst case a part of the shortest; the row's tip has all of it."""
        metrics = self.fontMetrics()
        whole = next((name for name in names if metrics.horizontalAdvance(name) <= width), None)
        return whole or metrics.elidedText(names[-1], Qt.TextElideMode.ElideRight, round(width))

    def show_rows(self, rows: list[AreaRow]) -> None:
        """Show these, nothing chosen."""
        self.clearSelection()
        self.setRowCount(len(rows))
        for i, row in enumerate(rows):
            for column in range(6):
                item = QTableWidgetItem(("", "", "", *row.figures[1:])[column])
                if column < 3:
                    item.setData(_DRAWN, row)
                    item.setData(Qt.ItemDataRole.AccessibleTextRole, (row.names[0], row.why, row.figures[0])[column])
                elif column < 5:
                    item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                item.setToolTip(row.tip)
                self.setItem(i, column, item)

    def recolour(self, colours: list[tuple[QColor, QColor]]) -> None:
        """Other colours of picture and print in the rows that are there."""
        for i, pair in enumerate(colours):
            item = self.item(i, 0)
            if item is not None:
                item.setData(_DRAWN, replace(item.data(_DRAWN), colours=pair))

    def _hover(self, row: int) -> None:
        if row != self.hovered:
            self.hovered = row
            self.viewport().update()
            self.pointed.emit(row)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Point at a row."""
        super().mouseMoveEvent(event)
        if event is not None:
            self._hover(self.rowAt(round(event.position().y())))

    def leaveEvent(self, event: object) -> None:
        """Point at nothing."""
        super().leaveEvent(event)  # type: ignore[arg-type]
        self._hover(-1)
