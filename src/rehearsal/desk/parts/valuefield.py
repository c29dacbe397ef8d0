"""A field for the amount of an adjustment: arrows step it finely, with Shift coarsely; Backspace over all of it: zero."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QKeySequence

from rehearsal.core.values.adjustments import ADJUSTMENTS
from rehearsal.core.values.typed import Numbers
from rehearsal.core.values.words import word
from rehearsal.desk import theme
from rehearsal.desk.parts.numberfield import NumberField

_COARSE, WIDE = 5, 82


class ValueField(NumberField):
    """``set_to`` tells an amount that was typed, stepped or turned."""

    set_to = pyqtSignal(float)

    def __init__(self, name: str) -> None:
        self._name = name
        each = ADJUSTMENTS[name]
        super().__init__(each.low, each.high, 6, "", each.step)
        self.setFixedWidth(theme.px(WIDE))
        self.setAccessibleName(word("adjustment", name))
        self.setToolTip(word("adjustment_does", name))
        self.valueChanged.connect(lambda value: self.set_to.emit(each.snapped(value)))

    @property
    def numbers(self) -> Numbers:
        """Its amount."""
        return Numbers.of_adjustment(self._name)

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
