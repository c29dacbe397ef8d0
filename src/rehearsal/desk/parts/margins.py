"""The edge no ink reaches: four fields round the drawn sheet, whose edge can be dragged too."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QGridLayout, QLabel, QVBoxLayout, QWidget

from rehearsal.core.sheet.onsheet import fed_margins, turned_margins
from rehearsal.desk import theme
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.paperdrawing import Margins, PaperDrawing
from rehearsal.desk.parts.widgets import quiet

_SIDES = ("Top", "Right", "Bottom", "Left")


class MarginFields(QWidget):
    """``margins_set`` tells margins in mm, top, right, bottom, left as the sheet is fed."""

    margins_set = pyqtSignal(tuple)

    def __init__(self) -> None:
        super().__init__()
        self.drawing = PaperDrawing(dragged=True)
        self.drawing.setMinimumHeight(theme.px(120))
        self.drawing.margins_set.connect(self.margins_set.emit)
        self.fields = [self._field(side) for side in _SIDES]
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(theme.px(4))
        top, right, bottom, left = self.fields
        middle = Qt.AlignmentFlag.AlignCenter
        grid.addWidget(top, 0, 1, middle)
        grid.addWidget(left, 1, 0, middle)
        grid.addWidget(self.drawing, 1, 1)
        grid.addLayout(self._feed(right), 1, 2)
        grid.addWidget(bottom, 2, 1, middle)
        grid.setColumnStretch(1, 1)
        grid.setRowStretch(1, 1)

    def _field(self, side: str) -> NumberField:
        made = NumberField(0, 80, 1, "mm", 0.5)
        made.setFixedWidth(theme.px(72))
        made.setAccessibleName(f"{side} edge that no ink reaches")
        made.valueChanged.connect(lambda _v: self._on_field())
        return made

    def _feed(self, right: NumberField) -> QVBoxLayout:
        """The field at the right, and over it the way the sheet goes in."""
        rows = QVBoxLayout()
        self.arrow: QLabel = quiet("⟵ goes in")
        rows.addStretch(1)
        rows.addWidget(self.arrow)
        rows.addWidget(right)
        rows.addStretch(1)
        return rows

    def _on_field(self) -> None:
        top, right, bottom, left = (f.value() for f in self.fields)
        self.margins_set.emit(fed_margins((top, right, bottom, left), self.drawing.is_wide))

    def show_margins(self, sheet: str, margins: Margins, white: QColor) -> None:
        """A level sheet of a name, with the margins as it is fed."""
        self.drawing.show_sheet(sheet, None, margins, white)
        for field, value in zip(self.fields, turned_margins(margins, self.drawing.is_wide), strict=True):
            field.show_value(value)
