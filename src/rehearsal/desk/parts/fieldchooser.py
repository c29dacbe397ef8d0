"""Fields of a test sheet under the pointer and the keys: one, or the gap between two, is pointed at and chosen."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QWidget

from rehearsal.core.testsheets.laying import TestPage
from rehearsal.desk import theme

_ARROWS = {
    Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1),
}  # fmt: skip


def moved(page: TestPage, at: tuple[int, ...], step: tuple[int, int]) -> tuple[int, ...]:
    """What an arrow goes to: from a field to the gap beside it, from a gap to the field behind it; the same at an edge."""
    columns, count = page.columns, len(page.fields)
    if not at:
        return (1,)
    dx, dy = step
    if len(at) == 2:
        along = at[1] - at[0] == 1 if dx else at[1] - at[0] == columns
        if along:
            return (at[1],) if dx + dy > 0 else (at[0],)
        return at
    number = at[0]
    target = number + dx + dy * columns
    inside = 1 <= target <= count and (not dx or (target - 1) // columns == (number - 1) // columns)
    return tuple(sorted((number, target))) if inside else at


class FieldChooser(QWidget):
    """``pointed`` tells what the pointer or the keys are on, empty for nothing; ``chosen`` what was clicked or entered."""

    pointed = pyqtSignal(tuple)
    chosen = pyqtSignal(tuple)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.at: tuple[int, ...] = ()
        self.best: tuple[int, ...] = ()
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    @property
    def page(self) -> TestPage | None:
        """How the sheet lies; None while there is none."""
        raise NotImplementedError(type(self).__name__)

    def numbers_at(self, at: QPointF) -> tuple[int, ...]:
        """The field under a point, or the two beside it; empty for none."""
        raise NotImplementedError(type(self).__name__)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Point."""
        if event is not None:
            self.pointed.emit(self.numbers_at(event.position()))

    def leaveEvent(self, _event: object) -> None:
        """Nothing is pointed at, unless the keys are at work here."""
        if not self.hasFocus():
            self.pointed.emit(())

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            numbers = self.numbers_at(event.position())
            self.pointed.emit(numbers)
            self._choose(numbers, bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))

    def _choose(self, numbers: tuple[int, ...], with_best: bool) -> None:
        """Choose a field or a gap; with Shift a second field beside the chosen one: what is between them."""
        if with_best and len(numbers) == 1 and len(self.best) == 1 and numbers != self.best:
            numbers = tuple(sorted((*self.best, *numbers)))
        if numbers:
            self.chosen.emit(numbers)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows point, Return and Space choose, with Shift a second field; the rest goes to the window."""
        page = self.page
        if event is None or page is None:
            return
        step = _ARROWS.get(Qt.Key(event.key()))
        if step is not None:
            self.pointed.emit(moved(page, self.at, step))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and self.at:
            self._choose(self.at, bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))
        else:
            super().keyPressEvent(event)
