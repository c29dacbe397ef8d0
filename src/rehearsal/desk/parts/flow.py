"""Widgets one after the other, in as many lines as the width needs."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRect, QSize, Qt
from PyQt6.QtWidgets import QLayout, QLayoutItem, QWidget


class FlowLayout(QLayout):
    """Left to right, then on the next line; every widget has its own wanted size."""

    def __init__(self, gap: int = 6, line_gap: int = 4) -> None:
        super().__init__()
        self._gap, self._line_gap = gap, line_gap
        self._items: list[QLayoutItem] = []
        #: Heights by width, as long as nothing in it changes: a window asks for them hundreds of times while it is laid out.
        self._heights: dict[int, int] = {}
        self.setContentsMargins(0, 0, 0, 0)

    def addItem(self, item: QLayoutItem | None) -> None:
        """Part of the layout's contract."""
        if item is not None:
            self._items.append(item)
            self.invalidate()

    def count(self) -> int:
        """Number of items."""
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        """Item at a place."""
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        """Take an item out."""
        self._heights.clear()
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        """It takes no more room than it needs."""
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        """Its height follows from its width."""
        return True

    def heightForWidth(self, width: int) -> int:
        """Height of all lines."""
        if width not in self._heights:
            self._heights[width] = self._flow(QRect(0, 0, width, 0), move=False)
        return self._heights[width]

    def invalidate(self) -> None:
        """A part wants another size, comes or goes."""
        self._heights.clear()
        super().invalidate()

    def setGeometry(self, rect: QRect) -> None:
        """Place everything."""
        super().setGeometry(rect)
        self._flow(rect, move=True)

    def sizeHint(self) -> QSize:
        """All in one line."""
        shown = self._shown()
        width = sum(i.sizeHint().width() for i in shown) + self._gap * max(0, len(shown) - 1)
        return QSize(width, max((i.sizeHint().height() for i in shown), default=0))

    def minimumSize(self) -> QSize:
        """As wide as the widest widget; one line high."""
        shown = self._shown()
        sizes = [i.sizeHint() for i in shown]
        return QSize(max((s.width() for s in sizes), default=0), max((s.height() for s in sizes), default=0))

    def _shown(self) -> list[QLayoutItem]:
        return [item for item in self._items if not item.isEmpty()]

    def _flow(self, rect: QRect, move: bool) -> int:
        x, y, height = rect.x(), rect.y(), 0
        for item in self._shown():
            size = item.sizeHint()
            if x > rect.x() and x + size.width() > rect.x() + rect.width():
                x, y, height = rect.x(), y + height + self._line_gap, 0
            if move:
                wide = min(size.width(), rect.width())
                item.setGeometry(QRect(QPoint(x, y), QSize(wide, size.height())))
            x, height = x + size.width() + self._gap, max(height, size.height())
        return y + height - rect.y()


def flow(*widgets: QWidget) -> FlowLayout:
    """A flow of some widgets."""
    made = FlowLayout()
    for widget in widgets:
        made.addWidget(widget)
    return made
