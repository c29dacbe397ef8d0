"""Rows of a paper's card: a label, a field, and a bar before it while it was only read from the profile's name."""

from __future__ import annotations

import functools
from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPlainTextEdit, QSizePolicy, QVBoxLayout, QWidget

from rehearsal.desk import theme
from rehearsal.desk.parts.rings import paint_ring
from rehearsal.desk.parts.widgets import Choice, button, quiet

_LABEL, _BAR, _HEAD = 92, 3, 44
FROM_NAME = "from the name"


class CardRow(QWidget):
    """A label and its field; a bar at the field's left and the words say that its value was only read."""

    def __init__(self, label: str, field: QWidget) -> None:
        super().__init__()
        self.field, self.is_read, self.room = field, False, theme.ROOMS["mid"]
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.px(6))
        name = quiet(label)
        name.setFixedWidth(theme.px(_LABEL))
        high = isinstance(field, NotesField)
        row.addWidget(name, 0, Qt.AlignmentFlag.AlignTop if high else Qt.AlignmentFlag.AlignVCenter)
        row.addWidget(field, 1)
        self._hint = quiet(FROM_NAME)
        self._hint.hide()
        row.addWidget(self._hint)
        if not field.accessibleName():
            field.setAccessibleName(label)

    def mark(self, read: bool) -> None:
        """Say that it was only read, or not any more."""
        self.is_read = read
        self._hint.setVisible(read)
        self.field.setAccessibleDescription(FROM_NAME if read else "")
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The bar."""
        if self.is_read:
            box = self.field.geometry()
            QPainter(self).fillRect(
                box.left() - theme.px(_BAR) - 1, box.top(), theme.px(_BAR), box.height(), self.room.colour("text")
            )


class TextField(QLineEdit):
    """One line of words; ``told`` when it was edited and left, or Enter pressed."""

    told = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.editingFinished.connect(self.flush)

    def flush(self) -> None:
        """Tell what was typed and not told yet."""
        if self.isModified():
            self.setModified(False)
            self.told.emit(self.text().strip())

    def show_text(self, text: str) -> None:
        """Show words, unless others are being typed."""
        if not self.isModified() and self.text() != text:
            self.setText(text)
            self.setCursorPosition(0)


class SuggestField(Choice):
    """Words with suggestions; ``told`` when a suggestion was taken, or other words typed and left."""

    told = pyqtSignal(str)

    def __init__(self, suggestions: Sequence[str]) -> None:
        super().__init__()
        self.addItems(list(suggestions))
        self.setEditable(True)
        self.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.setMinimumContentsLength(10)
        self._typed = False
        self.lineEdit().textEdited.connect(self._on_typed)
        self.lineEdit().editingFinished.connect(self.flush)
        self.activated.connect(lambda _i: self._tell())

    def _on_typed(self, _text: str) -> None:
        self._typed = True

    def flush(self) -> None:
        """Tell what was typed and not told yet."""
        if self._typed:
            self._tell()

    def _tell(self) -> None:
        self._typed = False
        self.told.emit(self.currentText().strip())

    def show_text(self, text: str) -> None:
        """Show words, unless others are being typed."""
        if not self._typed and self.currentText() != text:
            with QSignalBlocker(self):
                self.setEditText(text)
                self.lineEdit().setCursorPosition(0)
            self._tell_whole()

    def show_hint(self, text: str) -> None:
        """What may belong here, shown while nothing is told."""
        self.lineEdit().setPlaceholderText(text)


class NotesField(QPlainTextEdit):
    """Words that are never cut; ``told`` when they were edited and left. Tab leaves it."""

    told = pyqtSignal(str)

    def __init__(self, lines: int = 3) -> None:
        super().__init__()
        self.setTabChangesFocus(True)
        self._lines, self._typed, self._shows = lines, False, False
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.textChanged.connect(self._on_changed)
        self._grow()

    def _on_changed(self) -> None:
        self._typed = self._typed or not self._shows
        self._grow()

    def _grow(self) -> None:
        """As high as its words, up to three times its least."""
        lines = min(max(round(self.document().size().height()), self._lines), self._lines * 3)
        self.setFixedHeight(round(QFontMetricsF(self.font()).lineSpacing() * lines + theme.px(12)))

    def focusOutEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        """What was typed is told."""
        super().focusOutEvent(event)
        self.flush()

    def flush(self) -> None:
        """Tell what was typed and not told yet."""
        if self._typed:
            self._typed = False
            self.told.emit(self.toPlainText().strip())

    def show_text(self, text: str) -> None:
        """Show words, unless others are being typed."""
        if not self._typed and self.toPlainText().strip() != text:
            self._shows = True
            self.setPlainText(text)
            self._shows = False


class WordChoice(QWidget):
    """A few words side by side, one of them chosen; ``told`` when another is."""

    told = pyqtSignal(str)

    def __init__(self, words: Sequence[tuple[str, str]], name: str) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.px(4))
        self.buttons = {}
        self.setAccessibleName(name)
        for text, value in words:
            made = button(text, functools.partial(self._on_press, value), name=f"{name}: {text}")
            made.setCheckable(True)
            self.buttons[value] = made
            row.addWidget(made, 1)

    def _on_press(self, value: str) -> None:
        self.show_text(value)
        self.told.emit(value)

    def show_text(self, value: str) -> None:
        """Show which is chosen."""
        for each, made in self.buttons.items():
            made.setChecked(each == value)


class StepHead(QWidget):
    """A ring on the line of the work, and what comes at this place."""

    def __init__(self, title: str, quiet_words: str) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.title, self._quiet, self.ring = title, quiet_words, "empty"
        self.setFixedHeight(theme.px(_HEAD))
        self.setAccessibleName(title)

    def show_ring(self, ring: str, words: str) -> None:
        """``full`` when all is told, ``half`` when some was only read, ``empty`` when something is missing."""
        self.ring = ring
        self.setAccessibleDescription(words)
        self.setToolTip(words)
        self.update()

    def show_title(self, title: str, quiet_words: str) -> None:
        """Other words."""
        self.title, self._quiet = title, quiet_words
        self.setAccessibleName(title)
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Line, ring, words."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        y = float(theme.px(9))
        painter.setPen(QPen(self.room.colour("border"), 1.4))
        painter.drawLine(QPointF(17, y), QPointF(self.width(), y))
        paint_ring(painter, QPointF(8, y), 7, self.ring, self.room)
        strong, small = theme.font(theme.LARGE, strong=True), theme.font(theme.SMALL)
        painter.setFont(strong)
        painter.setPen(self.room.colour("text"))
        base = theme.px(34)
        painter.drawText(QPointF(0, base), self.title)
        painter.setFont(small)
        painter.setPen(self.room.colour("quiet"))
        painter.drawText(QPointF(QFontMetricsF(strong).horizontalAdvance(self.title) + theme.px(10), base), self._quiet)


class Steps(QWidget):
    """Numbered steps, a line each; ``told`` with all of them when one was edited, added or emptied."""

    told = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._rows = QVBoxLayout(self)
        self._rows.setContentsMargins(0, 0, 0, 0)
        self._rows.setSpacing(theme.px(4))
        self.fields: list[TextField] = []
        self._add = button("Add a step", self.add)
        line = QHBoxLayout()
        line.addSpacing(theme.px(26))
        line.addWidget(self._add)
        line.addStretch(1)
        self._rows.addLayout(line)

    def add(self) -> None:
        """One more step, to be filled in."""
        if not self.fields or self.fields[-1].text().strip():
            self._make()
        self.fields[-1].setFocus()

    def _make(self) -> None:
        field, number = TextField(), quiet(f"{len(self.fields) + 1}")
        number.setFixedWidth(theme.px(20))
        number.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        field.setAccessibleName(f"Loading, step {len(self.fields) + 1}")
        field.told.connect(lambda _t: self.told.emit(self.text()))
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.px(6))
        row.addWidget(number)
        row.addWidget(field, 1)
        self._rows.insertWidget(len(self.fields), holder)
        self.fields.append(field)

    def text(self) -> str:
        """All steps, a line each."""
        return "\n".join(f.text().strip() for f in self.fields if f.text().strip())

    def show_steps(self, steps: Sequence[str]) -> None:
        """Show steps, unless others are being typed."""
        if any(f.isModified() for f in self.fields):
            return
        wanted = max(len(steps), 1)
        empty_last = len(self.fields) == wanted + 1 and not self.fields[-1].text() and self.fields[-1].hasFocus()
        while len(self.fields) > wanted and not empty_last:
            gone = self.fields.pop().parentWidget()
            self._rows.removeWidget(gone)
            gone.hide()
            gone.deleteLater()
        while len(self.fields) < wanted:
            self._make()
        for field, text in zip(self.fields, [*steps, *[""] * len(self.fields)], strict=False):
            field.show_text(text)


Field = TextField | SuggestField | NotesField | WordChoice
