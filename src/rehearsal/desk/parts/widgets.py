"""Small parts of trays: columns with headings, rows, quiet labels, links, sliders that snap to nothing but steps."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence

from PyQt6.QtCore import QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QDoubleSpinBox,
    QGridLayout,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QPushButton,
    QSlider,
    QStackedWidget,
    QTableWidget,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)


def heading(text: str) -> QLabel:
    """Heading of a column."""
    label = QLabel(text)
    label.setProperty("heading", True)
    return label


#: A figure and its unit stay in one line.
_UNIT = re.compile(r"(?<=[\d<]) (?=%|cm\b|mm\b|ppi\b|cd/m²|lux\b|\d)|(?<=ΔE₀₀) (?=\d)|(?<=L\*) (?=[\d+-])")


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


class Column(QWidget):
    """A heading with things under it; columns stand left to right in the order of use."""

    def __init__(self, title: str, width: int = 0) -> None:
        super().__init__()
        self.rows = QVBoxLayout(self)
        self.rows.setContentsMargins(0, 0, 0, 0)
        self.rows.setSpacing(5)
        if title:
            self.rows.addWidget(heading(title))
        if width:
            self.setFixedWidth(width)

    def add(self, widget: QWidget) -> QWidget:
        """One more row."""
        self.rows.addWidget(widget)
        return widget

    def pair(self, *widgets: QWidget) -> None:
        """Several widgets in one row."""
        row = QHBoxLayout()
        row.setSpacing(6)
        for widget in widgets:
            row.addWidget(widget)
        row.addStretch(1)
        self.rows.addLayout(row)

    def end(self) -> None:
        """Push everything up."""
        self.rows.addStretch(1)


class Pages(QWidget):
    """Several pages in one place; their names stand in a row above and choose."""

    def __init__(self) -> None:
        super().__init__()
        rows = QVBoxLayout(self)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(5)
        self._names = QHBoxLayout()
        self._names.setSpacing(16)
        self._names.addStretch(1)
        rows.addLayout(self._names)
        self._stack = QStackedWidget()
        rows.addWidget(self._stack, 1)
        self._buttons: list[QPushButton] = []

    def add(self, name: str, page: QWidget) -> None:
        """One more page."""
        at = len(self._buttons)
        made = button(name, lambda: self.show_page(at), name=f"Page: {name}")
        made.setProperty("page", True)
        made.setCheckable(True)
        self._names.insertWidget(at, made)
        self._buttons.append(made)
        self._stack.addWidget(page)
        self.show_page(0)

    def show_page(self, at: int) -> None:
        """Show one page."""
        self._stack.setCurrentIndex(at)
        for i, each in enumerate(self._buttons):
            each.setChecked(i == at)

    @property
    def current(self) -> int:
        """Number of the page shown."""
        return self._stack.currentIndex()


class Form(QGridLayout):
    """Labels at the left, fields at the right."""

    def __init__(self) -> None:
        super().__init__()
        self.setHorizontalSpacing(10)
        self.setVerticalSpacing(4)
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


def table(heads: tuple[str, ...], name: str, row_height: int = 20) -> QTableWidget:
    """A plain list with columns; whole rows are selected, nothing is edited in place."""
    made = QTableWidget(0, len(heads))
    made.setHorizontalHeaderLabels(heads)
    made.setAccessibleName(name)
    made.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    made.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
    made.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
    made.setShowGrid(False)
    made.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    made.verticalHeader().hide()
    made.verticalHeader().setDefaultSectionSize(row_height)
    head = made.horizontalHeader()
    head.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
    head.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft)
    head.setStretchLastSection(True)
    return made


def number(low: float, high: float, decimals: int, suffix: str, step: float = 1.0) -> QDoubleSpinBox:
    """A field for a number with its unit."""
    made = QDoubleSpinBox()
    made.setRange(low, high)
    made.setDecimals(decimals)
    made.setSuffix(suffix)
    made.setSingleStep(step)
    made.setKeyboardTracking(False)
    made.setButtonSymbols(QDoubleSpinBox.ButtonSymbols.NoButtons)
    return made


def choice(items: Sequence[tuple[str, object]]) -> QComboBox:
    """A list to choose from; each item carries a value."""
    made = QComboBox()
    for text, value in items:
        made.addItem(text, value)
    made.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
    return made


def show_choice(box: QComboBox, value: object) -> None:
    """Select the item that carries a value, without telling anybody."""
    with QSignalBlocker(box):
        box.setCurrentIndex(max(0, box.findData(value)))


def show_number(field: QDoubleSpinBox, value: float) -> None:
    """Show a value without telling anybody; never under the user's typing."""
    if not field.hasFocus() or abs(field.value() - value) > 1e-9:
        with QSignalBlocker(field):
            field.setValue(value)


class TuneSlider(QWidget):
    """Name, slider and value with unit. ``moving`` while it is dragged, ``set_to`` when it comes to rest."""

    moving = pyqtSignal(float)
    set_to = pyqtSignal(float)

    def __init__(self, name: str, low: float, high: float, words: Callable[[float], str]) -> None:
        super().__init__()
        self._words = words
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        label = QLabel(name)
        label.setFixedWidth(110)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(round(low), round(high))
        self.slider.setPageStep(max(1, round((high - low) / 24)))
        self.slider.setAccessibleName(name)
        self.slider.setMinimumWidth(120)
        self.value_label = quiet(words(0))
        self.value_label.setMinimumWidth(74)
        for widget in (label, self.slider, self.value_label):
            row.addWidget(widget)
        self.slider.valueChanged.connect(self._on_value)
        self.slider.sliderReleased.connect(lambda: self.set_to.emit(float(self.slider.value())))

    def _on_value(self, value: int) -> None:
        self.value_label.setText(self._words(float(value)))
        if self.slider.isSliderDown():
            self.moving.emit(float(value))
        else:
            self.set_to.emit(float(value))

    def show_value(self, value: float) -> None:
        """Follow the model without telling anybody."""
        if self.slider.isSliderDown():
            return
        with QSignalBlocker(self.slider):
            self.slider.setValue(round(value))
        self.value_label.setText(self._words(value))
