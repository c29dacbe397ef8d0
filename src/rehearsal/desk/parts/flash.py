"""A frame round what has just changed, for half a second."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt, QTimer
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from rehearsal.desk import theme

_SHOWN_MS = 500


class Flash(QWidget):
    """Lies over a widget and goes by itself; nothing is pressed through or on it."""

    def __init__(self, over: QWidget, room: theme.Room) -> None:
        parent = over.parentWidget() or over
        super().__init__(parent)
        self._room = room
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setGeometry(over.geometry().adjusted(-4, -4, 4, 4).intersected(parent.rect()))
        self.raise_()
        self.show()
        QTimer.singleShot(_SHOWN_MS, self.deleteLater)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The frame."""
        painter = QPainter(self)
        painter.setPen(QPen(self._room.colour("text"), 2))
        painter.drawRect(QRectF(1, 1, self.width() - 2, self.height() - 2))
