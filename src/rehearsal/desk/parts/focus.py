"""How painted widgets show that they have the focus."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QWidget

from rehearsal.desk import theme


def paint_focus(painter: QPainter, widget: QWidget, room: theme.Room) -> None:
    """A dotted frame round a widget that has the focus."""
    if widget.hasFocus():
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(room.colour("text"), 1, Qt.PenStyle.DotLine))
        painter.drawRect(QRectF(0.5, 0.5, widget.width() - 1, widget.height() - 1))


def dress(room: theme.Room, parts: Iterable[QWidget]) -> None:
    """Let painted parts follow the room."""
    for part in parts:
        part.room = room  # type: ignore[attr-defined]
        part.update()
