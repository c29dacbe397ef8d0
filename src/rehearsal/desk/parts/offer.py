"""A button whose act may change: never under the pointer, or a press would do something else than was read."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent
from PyQt6.QtWidgets import QPushButton

Act = Callable[[], object]


class Offer(QPushButton):
    """Shows what it was offered last, and does that; while the pointer is on it another offer waits until it has left."""

    def __init__(self, tip: str = "") -> None:
        super().__init__()
        self._tip = tip
        self._act: Act | None = None
        self._next: tuple[str, Act, str, str] | None = None
        self.setAutoDefault(False)
        self.clicked.connect(lambda _checked=False: self._do())
        self.setToolTip(tip)

    def offer(self, text: str, act: Act, name: str = "", tip: str = "") -> None:
        """Another act with its words; the same words are the same act."""
        if self.isVisible() and self.underMouse() and self.text() and text != self.text():
            self._next = text, act, name, tip
            return
        self._next, self._act = None, act
        self.setText(text)
        self.setAccessibleName(name or text)
        self.setToolTip(tip or self._tip)

    def _do(self) -> None:
        if self._act is not None:
            self._act()

    def leaveEvent(self, event: QEvent | None) -> None:
        """What was offered meanwhile."""
        super().leaveEvent(event)
        waiting, self._next = self._next, None
        if waiting is not None:
            self._act = None
            self.setText("")
            self.offer(*waiting)
