"""A field for the amount of an adjustment: arrows step it finely, with Shift coarsely; Backspace over all of it: zero."""

from __future__ import annotations

import re
from fractions import Fraction

from PyQt6.QtCore import QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QKeySequence, QValidator
from PyQt6.QtWidgets import QDoubleSpinBox

from rehearsal.core.values.adjustments import ADJUSTMENTS
from rehearsal.core.values.words import amount, word
from rehearsal.desk import theme

_COARSE, WIDE = 5, 82
_SIGNS = {"½": "1/2", "⅓": "1/3", "⅔": "2/3", "⅙": "1/6", "⅚": "5/6", "¼": "1/4", "¾": "3/4"}
#: A fraction, a number, or a whole number and a fraction.
_NUMBER = re.compile(r"\d+/\d+|\d+\s+\d+/\d+|\d+(?:[.,]\d+)?")


def read_amount(text: str) -> float | None:
    """A number as people type it: ``+0.5``, ``−1/3``, ``1 1/6``, ``⅓ stop``; None when it is none."""
    plain = text.replace("−", "-").strip()
    for sign, fraction in _SIGNS.items():
        plain = plain.replace(sign, f" {fraction} ")
    way, parts = (-1 if plain.strip().startswith("-") else 1), _NUMBER.match(plain.strip().lstrip("+-").strip())
    if parts is None:
        return None
    try:
        texts: list[str] = parts.group(0).split()
        return way * float(sum((Fraction(each.replace(",", ".")) for each in texts), Fraction(0)))
    except (ValueError, ZeroDivisionError):
        return None


class ValueField(QDoubleSpinBox):
    """``set_to`` tells an amount that was typed, stepped or turned."""

    set_to = pyqtSignal(float)

    def __init__(self, name: str) -> None:
        super().__init__()
        each = ADJUSTMENTS[name]
        self._name = name
        self.setDecimals(6)
        self.setRange(each.low, each.high)
        self.setSingleStep(each.step)
        self.setKeyboardTracking(False)
        self.setButtonSymbols(QDoubleSpinBox.ButtonSymbols.NoButtons)
        self.setFixedWidth(theme.px(WIDE))
        self.setAccessibleName(word("adjustment", name))
        self.setToolTip(word("adjustment_does", name))
        self.valueChanged.connect(lambda value: self.set_to.emit(each.snapped(value)))

    def show_value(self, value: float) -> None:
        """Show an amount without telling anybody; never under the user's typing."""
        if not (self.hasFocus() and self.lineEdit().isModified()) and abs(self.value() - value) > 1e-9:
            with QSignalBlocker(self):
                self.setValue(value)

    def textFromValue(self, value: float) -> str:
        """The amount with its unit."""
        return amount(self._name, value)

    def valueFromText(self, text: str | None) -> float:
        """What was typed; the value as it was where that is no number."""
        found = read_amount(text or "")
        return self.value() if found is None else ADJUSTMENTS[self._name].clamp(found)

    def validate(self, text: str | None, at: int) -> tuple[QValidator.State, str, int]:
        """Anything can be typed; what is no number changes nothing."""
        return QValidator.State.Acceptable, text or "", at

    def stepBy(self, steps: int) -> None:
        """In whole steps of the adjustment."""
        each = ADJUSTMENTS[self._name]
        self.setValue(each.clamp(each.snapped(self.value() + steps * each.step)))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Shift steps coarsely; Backspace over all of it, or Ctrl with it: zero."""
        if event is None:
            return
        shift = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        way = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1}.get(Qt.Key(event.key()))
        text, whole = self.lineEdit().text(), self.lineEdit().selectedText()
        if way is not None:
            self.stepBy(way * (_COARSE if shift else 1))
            self.selectAll()
        elif event.key() == Qt.Key.Key_Backspace and (
            whole == text or event.matches(QKeySequence.StandardKey.DeleteStartOfWord)
        ):
            self.setValue(0.0)
            self.selectAll()
        else:
            super().keyPressEvent(event)
