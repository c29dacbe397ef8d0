"""Small parts of trays: columns with headings, rows, quiet labels, links, sliders that snap to nothing but steps."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence

from PyQt6.QtCore import QSignalBlocker, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFrame,
    QGridLayout,
    QHeaderView,
    QLabel,
    QPushButton,
    QScrollArea,
    QTableWidget,
    QTableWidgetItem,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from rehearsal.desk import theme


def heading(text: str) -> QLabel:
    """Heading of a column."""
    label = QLabel(text)
    label.setProperty("heading", True)
    return label


#: A figure and its unit stay in one line.
_UNIT = re.compile(r"(?<=[\d<]) (?=%|cm\b|mm\b|µm\b|ppi\b|cd/m²|lux\b|\d)|(?<=ΔE₀₀) (?=\d)|(?<=L\*) (?=[\d+-])")


def unbroken(text: str) -> str:
    """The same words, with no line end between a figure and its unit."""
    return _UNIT.sub("\u00a0", text)


class Words(QLabel):
    """A label whose figures keep their units beside them; :meth:`text` is what it was given."""

    def __init__(self, text: str = "") -> None:
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)
        self._plain = ""
        self.setText(text)

    def setText(self, text: str | None) -> None:
        """Show words."""
        self._plain = text or ""
        super().setText(unbroken(self._plain))

    def text(self) -> str:
        """The words as they were given."""
        return self._plain


def quiet(text: str = "", wrap: bool = False) -> QLabel:
    """Secondary text."""
    label = Words(text)
    label.setProperty("quiet", True)
    label.setWordWrap(wrap)
    if wrap:
        label.setAlignment(Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft)
    return label


def scrolled(label: QWidget) -> QScrollArea:
    """Words that may be more than there is room for."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setMinimumHeight(theme.px(70))
    area.setWidget(label)
    return area


def button(text: str, slot: Callable[[], object], tip: str = "", name: str = "") -> QPushButton:
    """A push button that does one thing."""
    made = QPushButton(text)
    made.clicked.connect(lambda _checked=False: slot())
    made.setToolTip(tip)
    made.setAccessibleName(name or text)
    made.setAutoDefault(False)
    return made


def link(text: str, slot: Callable[[], object], name: str = "") -> QPushButton:
    """An underlined question beside advice."""
    made = button(text, slot, name=name)
    made.setProperty("link", True)
    made.setCursor(Qt.CursorShape.PointingHandCursor)
    return made


def keep_or_leave(dialog: QDialog, keep: str, leave: str) -> QDialogButtonBox:
    """The two ways out of a dialog."""
    buttons = QDialogButtonBox()
    buttons.addButton(keep, QDialogButtonBox.ButtonRole.AcceptRole)
    buttons.addButton(leave, QDialogButtonBox.ButtonRole.RejectRole)
    buttons.accepted.connect(dialog.accept)
    buttons.rejected.connect(dialog.reject)
    return buttons


def show_page(parent: QWidget, title: str, html: str, name: str, width: int, height: int) -> None:
    """A page of text over the window, until it is closed."""
    dialog = QDialog(parent)
    dialog.setWindowTitle(title)
    dialog.resize(width, height)
    rows = QVBoxLayout(dialog)
    page = QTextBrowser()
    page.setAccessibleName(name)
    page.setHtml(html)
    rows.addWidget(page)
    rows.addWidget(button("Close", dialog.accept))
    dialog.exec()
    dialog.deleteLater()


class Form(QGridLayout):
    """Labels at the left, fields at the right."""

    def __init__(self) -> None:
        super().__init__()
        self.setHorizontalSpacing(10)
        self.setVerticalSpacing(4)
        self.setColumnStretch(1, 1)
        #: Labels by their words.
        self.labels: dict[str, QLabel] = {}

    def row(self, label: str, field: QWidget) -> QWidget:
        """One more field; the label names it for screen readers."""
        at = self.rowCount()
        name = self.labels[label] = quiet(label)
        self.addWidget(name, at, 0)
        self.addWidget(field, at, 1)
        if not field.accessibleName():
            field.setAccessibleName(label)
        return field


_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter


class PlainTable(QTableWidget):
    """A table that Tab and Shift+Tab leave; arrows go along its rows."""

    def __init__(self) -> None:
        super().__init__(0, 0)
        self.setTabKeyNavigation(False)
        self._figures: frozenset[int] = frozenset()

    def right_align(self, *columns: int) -> None:
        """Columns of figures stand at the right, and so do their heads."""
        self._figures = frozenset(columns)
        for column in columns:
            head = self.horizontalHeaderItem(column)
            if head is not None:
                head.setTextAlignment(_RIGHT)

    def fill(self, rows: list[list[str]]) -> None:
        """The words of all rows, which the pointer tells in full; nobody is told that they changed."""
        if rows == self._words:
            return
        head = self.horizontalHeader()
        head.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)  # columns are measured once, not for each cell
        with QSignalBlocker(self):
            self.setRowCount(len(rows))
            for i, texts in enumerate(rows):
                for column, text in enumerate(texts):
                    self.setItem(i, column, self._cell(column, text))
        head.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)

    @property
    def _words(self) -> list[list[str]]:
        items = ([self.item(row, c) for c in range(self.columnCount())] for row in range(self.rowCount()))
        return [[item.text() if item is not None else "" for item in row] for row in items]

    def _cell(self, column: int, text: str) -> QTableWidgetItem:
        item = QTableWidgetItem(text)
        item.setToolTip(text)
        if column in self._figures:
            item.setTextAlignment(_RIGHT)
        return item


def dress_table(made: QTableWidget, heads: tuple[str, ...], name: str, row_height: int) -> None:
    """A plain list with columns; whole rows are selected, nothing is edited in place."""
    made.setColumnCount(len(heads))
    made.setHorizontalHeaderLabels(heads)
    made.setAccessibleName(name)
    made.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    made.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
    made.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
    made.setShowGrid(False)
    made.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    made.verticalHeader().hide()
    made.verticalHeader().setDefaultSectionSize(theme.px(row_height))
    head = made.horizontalHeader()
    head.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
    head.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
    head.setHighlightSections(False)
    head.setStretchLastSection(True)
    made.setMinimumHeight(theme.px(90))


def table(heads: tuple[str, ...], name: str, row_height: int = 24) -> PlainTable:
    """A plain list with columns."""
    made = PlainTable()
    dress_table(made, heads, name, row_height)
    return made


class Choice(QComboBox):
    """A list to choose from, whose words are told whole by the pointer where they have not room enough."""

    _ARROW = 30

    def __init__(self) -> None:
        super().__init__()
        self._own_tip = ""
        self.currentTextChanged.connect(lambda _text: self._tell_whole())
        self.editTextChanged.connect(lambda _text: self._tell_whole())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """There may be room now."""
        super().resizeEvent(event)
        self._tell_whole()

    def _tell_whole(self) -> None:
        text = self.currentText()
        cut = self.fontMetrics().horizontalAdvance(text) + self._ARROW > self.width()
        super().setToolTip(text if cut else self._own_tip)

    def setToolTip(self, tip: str | None) -> None:
        """What is told while the words have room."""
        self._own_tip = tip or ""
        self._tell_whole()


def choice(items: Sequence[tuple[str, object]]) -> Choice:
    """A list to choose from; each item carries a value."""
    made = Choice()
    for text, value in items:
        made.addItem(text, value)
    made.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
    return made


def show_choice(box: QComboBox, value: object) -> None:
    """Select the item that carries a value, without telling anybody."""
    with QSignalBlocker(box):
        box.setCurrentIndex(max(0, box.findData(value)))
