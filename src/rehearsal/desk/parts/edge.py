"""A folded part of the window: a line with its words, standing or lying, pressed to bring it back."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QSizePolicy

from rehearsal.desk import theme

_THICK = 26


class Edge(QAbstractButton):
    """A button as thin as a line of text.

    Args:
        name: for screen readers; tip: what pressing does, with its key.
    """

    def __init__(self, name: str, tip: str) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._stands = True
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(name)
        self.setToolTip(tip)
        self.stand(True)

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        self.room = room
        self.update()

    def stand(self, upright: bool) -> None:
        """Along a side of the window, or along its foot."""
        self._stands = upright
        fixed, free = QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Preferred
        self.setSizePolicy(fixed if upright else free, free if upright else fixed)
        self.updateGeometry()

    def sizeHint(self) -> QSize:
        """As thick as a line of text."""
        thick = theme.px(_THICK)
        return QSize(thick, 60) if self._stands else QSize(60, thick)

    def minimumSizeHint(self) -> QSize:
        """The same."""
        return self.sizeHint()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The words along the line."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.room.colour("rack"))
        painter.setPen(self.room.colour("quiet"))
        painter.setFont(theme.font(theme.SMALL))
        long, thick = (self.height(), self.width()) if self._stands else (self.width(), self.height())
        if self._stands:
            painter.translate(QPointF(self.width(), 0))
            painter.rotate(90)
        painter.drawText(QRectF(12, 0, long - 20, thick), Qt.AlignmentFlag.AlignVCenter, self.text())
        if self.hasFocus():
            painter.setPen(QPen(self.room.colour("text"), 1))
            painter.drawRect(QRectF(0.5, 0.5, long - 1, thick - 1))
