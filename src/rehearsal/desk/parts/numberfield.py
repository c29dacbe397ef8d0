"""A field for a number with its unit: takes it as people type it, and keeps what it cannot read in sight with a sentence."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QSignalBlocker, Qt
from PyQt6.QtGui import QHideEvent, QKeyEvent, QValidator
from PyQt6.QtWidgets import QDoubleSpinBox, QFrame, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from rehearsal.core.values.typed import NotRead, Numbers
from rehearsal.core.values.words import word
from rehearsal.desk import theme

#: From this many times, or this part, of what it was, a field that asks asks.
ASKED_FROM = 2.0


class Note(QFrame):
    """What a field has to say of what was typed, under it; a question has its two answers beside it."""

    def __init__(self, field: NumberField) -> None:
        super().__init__(field.window())
        self._field = field
        self.setObjectName("tray")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFrameShape(QFrame.Shape.Box)
        self._words = QLabel()
        self._words.setWordWrap(True)
        self._words.setMinimumWidth(theme.px(260))
        self.set_it, self.keep_it = QPushButton(), QPushButton()
        self.set_it.clicked.connect(field.agree)
        self.keep_it.clicked.connect(field.take_back)
        rows, answers = QVBoxLayout(self), QHBoxLayout()
        rows.addWidget(self._words)
        answers.addWidget(self.set_it)
        answers.addWidget(self.keep_it)
        rows.addLayout(answers)

    @property
    def words(self) -> str:
        """What it says."""
        return self._words.text()

    def say(self, words: str, wanted: str = "", now: str = "") -> None:
        """Show it under the field, within the window."""
        self._words.setText(words)
        for button, key in ((self.set_it, "set"), (self.keep_it, "keep")):
            button.setText(word("typed", key).format(wanted=wanted, now=now))
            button.setVisible(bool(wanted))
        self._dress()
        self.adjustSize()
        self._place()
        self.show()
        self.raise_()

    def _dress(self) -> None:
        """Like what the field lies in, in whatever room that is."""
        above: QWidget | None = self._field
        while above is not None and not above.styleSheet():
            above = above.parentWidget()
        if above is not None and above.styleSheet() != self.styleSheet():
            self.setStyleSheet(above.styleSheet())

    def _place(self) -> None:
        window = self._field.window()
        under = self._field.mapTo(window, QPoint(0, self._field.height() + 2))
        if under.y() + self.height() > window.height():
            under = self._field.mapTo(window, QPoint(0, -self.height() - 2))
        self.move(max(0, min(under.x(), window.width() - self.width())), max(0, under.y()))


class NumberField(QDoubleSpinBox):
    """A number with its unit. ``asks``: a change over two times is asked about before it is made; ``least``: of what can be typed, where
    the field's own least value stands for nothing told.
    """

    def __init__(
        self,
        low: float,
        high: float,
        decimals: int,
        unit: str,
        step: float = 1.0,
        asks: bool = False,
        least: float | None = None,
    ) -> None:
        super().__init__()
        self._least = low if least is None else least
        self._unit, self._asks, self._special = unit.strip(), asks, ""
        self._left = ""
        self._asked: float | None = None
        self._note: Note | None = None
        self.setDecimals(decimals)
        self.setRange(low, high)
        self.setSingleStep(step)
        self.setKeyboardTracking(False)
        self.setButtonSymbols(QDoubleSpinBox.ButtonSymbols.NoButtons)
        self.lineEdit().textEdited.connect(self._on_typing)

    # ---- what it takes and shows

    @property
    def numbers(self) -> Numbers:
        """What it takes."""
        return Numbers(self._unit, max(self.minimum(), self._least), self.maximum(), self.decimals())

    def suffix(self) -> str:
        """Its unit, behind a space."""
        return f" {self._unit}" if self._unit else ""

    def setSuffix(self, unit: str | None) -> None:
        """Another unit."""
        self._unit = (unit or "").strip()
        self._show_again()

    def setSpecialValueText(self, text: str | None) -> None:
        """What stands for the least value: nothing told."""
        self._special = text or ""
        self._show_again()

    def specialValueText(self) -> str:
        """What stands for the least value."""
        return self._special

    def _show_again(self) -> None:
        if not self._left:
            self.lineEdit().setText(self.textFromValue(self.value()))

    def show_value(self, value: float) -> None:
        """Show a value without telling anybody; never under the user's typing, nor over what could not be read."""
        same, typing = abs(self.value() - value) < 1e-9, self.hasFocus() and self.lineEdit().isModified()
        if not typing and not (same and self._left):
            with QSignalBlocker(self):
                self.setValue(value)

    def setValue(self, value: float) -> None:
        """A value; what could not be read goes."""
        self._forget()
        super().setValue(value)
        self._show_again()

    def stepBy(self, steps: int) -> None:
        """From the value that stands; between nothing told and the least there is nothing."""
        self._forget()
        to = self.value() + steps * self.singleStep()
        if self.minimum() < to < self._least:
            self.setValue(self._least if steps > 0 else self.minimum())
        else:
            super().stepBy(steps)

    # ---- Qt's side

    def textFromValue(self, value: float) -> str:
        """The number with its unit; what was typed and could not be read stays."""
        if self._left:
            return self._left
        return self._special if self._special and value <= self.minimum() else self.numbers.written(value)

    def valueFromText(self, text: str | None) -> float:
        """What was typed; the value as it was where that cannot be read, or is asked about."""
        typed = (text or "").strip()
        if typed == self.textFromValue(self.value()) and not self._left:
            return self.value()
        if self._special and typed in ("", self._special):
            self._forget()
            return self.minimum()
        try:
            found = self.numbers.read(typed)
        except NotRead as why:
            return self._leave(typed, f"{why} {word('typed', 'as_it_was').format(now=self._now())}")
        if self._is_far(found):
            self._asked = found
            return self._leave(typed, self._far_words(found), self.numbers.written(found))
        self._forget()
        return found

    def validate(self, text: str | None, at: int) -> tuple[QValidator.State, str, int]:
        """Anything can be typed."""
        return QValidator.State.Acceptable, text or "", at

    def fixup(self, text: str | None) -> str:
        """Nothing is put right unasked."""
        return text or ""

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Return again sets what was asked about; Escape takes back what was typed."""
        key = None if event is None else Qt.Key(event.key())
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._asked is not None:
            self.agree()
        elif key == Qt.Key.Key_Escape and self._left:
            self.take_back()
        else:
            super().keyPressEvent(event)

    def hideEvent(self, event: QHideEvent | None) -> None:
        """What was typed and not read is not carried to another time."""
        super().hideEvent(event)
        self.take_back()

    # ---- what cannot be read, and what is asked about

    @property
    def note(self) -> str:
        """What it says of what was typed; empty for nothing."""
        return self._note.words if self._note is not None and self._left else ""

    @property
    def answers(self) -> tuple[QPushButton, QPushButton]:
        """The buttons of its question: set it, keep it."""
        assert self._note is not None
        return self._note.set_it, self._note.keep_it

    def agree(self) -> None:
        """Set what was asked about."""
        if self._asked is not None:
            self.setValue(self._asked)

    def take_back(self) -> None:
        """The value as it is, instead of what was typed."""
        if self._left:
            self._forget()
            self._show_again()
            self.selectAll()

    def _on_typing(self, _text: str) -> None:
        """Whoever types again is not told the old."""
        self._asked = None
        if self._note is not None:
            self._note.hide()

    def _now(self) -> str:
        special = self._special and self.value() <= self.minimum()
        return self._special if special else self.numbers.written(self.value())

    def _is_far(self, wanted: float) -> bool:
        now = self.value()
        return self._asks and now > 0 and wanted > 0 and max(wanted / now, now / wanted) > ASKED_FROM

    def _far_words(self, wanted: float) -> str:
        now = self.value()
        return word("typed", "over" if wanted > now else "under").format(
            wanted=self.numbers.written(wanted),
            now=self.numbers.written(now),
            times=f"{wanted / now:.1f}".removesuffix(".0"),
        )

    def _leave(self, typed: str, words: str, wanted: str = "") -> float:
        """Keep what was typed in the field, and say why."""
        self._left = typed or " "
        if self._note is None:
            self._note = Note(self)
        self.setAccessibleDescription(words)
        self._note.say(words, wanted, self._now())
        return self.value()

    def _forget(self) -> None:
        self._left, self._asked = "", None
        self.lineEdit().setModified(False)
        if self._note is not None:
            self._note.hide()
            self.setAccessibleDescription("")
