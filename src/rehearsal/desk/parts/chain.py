"""Who turns the picture into printer colours: the hands it goes through, of which exactly one converts."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

from PyQt6.QtCore import QLineF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.core.values.handover import HandOver
from rehearsal.desk import theme

_HIGH, _GAP = 42, 14


@dataclass(frozen=True)
class Link:
    """One of the hands: its name, what it does, and whether it converts."""

    name: str
    does: str
    converts: bool


def links(hand_over: HandOver) -> tuple[Link, ...]:
    """The chain of a hand-over, as it is set: it shows when two convert, or nobody."""
    here = hand_over.route == "printer"
    middle = "print service" if hand_over.queue else "program"
    who = hand_over.converts
    return (
        Link("Rehearsal", "converts" if here else f"into {hand_over.space}", here),
        Link(middle, "converts" if who == "program" else "passes on", who == "program"),
        Link("driver", "may convert" if who == "driver" else "colour off", who == "driver"),
    )


class ChainDrawing(QWidget):
    """Boxes in a row, light where colours are converted; hatched when it is not exactly one."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._links: tuple[Link, ...] = links(HandOver())
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Who converts")

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(270), theme.px(_HIGH))

    def minimumSizeHint(self) -> QSize:
        """It may be narrow."""
        return QSize(theme.px(220), theme.px(_HIGH))

    def show_chain(self, hand_over: HandOver) -> None:
        """The hands of a hand-over."""
        self._links = links(hand_over)
        self.setAccessibleDescription("; ".join(f"{link.name}: {link.does}" for link in self._links))
        self.update()

    @property
    def is_right(self) -> bool:
        """True when exactly one converts."""
        return sum(link.converts for link in self._links) == 1

    def boxes(self) -> list[QRectF]:
        """Where each lies."""
        gap, count = theme.px(_GAP), len(self._links)
        wide = (self.width() - gap * (count - 1) - 1) / count
        return [QRectF(i * (wide + gap) + 0.5, 0.5, wide, self.height() - 1) for i in range(count)]

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Boxes and the lines between them."""
        painter, room = QPainter(self), self.room
        boxes = self.boxes()
        painter.setPen(QPen(room.colour("text"), 1.5))
        for one, two in itertools.pairwise(boxes):
            painter.drawLine(QLineF(one.right(), one.center().y(), two.left(), two.center().y()))
        for link, box in zip(self._links, boxes, strict=True):
            light = link.converts and self.is_right
            painter.setPen(QPen(room.colour("border"), 1))
            painter.setBrush(room.colour("light" if light else "field"))
            painter.drawRect(box)
            if (link.converts and not self.is_right) or not any(each.converts for each in self._links):
                painter.fillRect(box.adjusted(1, box.height() - 7, 0, 0), Qt.BrushStyle.BDiagPattern)
            pen = room.colour("on_light" if light else "text")
            for words, strong, top in ((link.name, True, 0.12), (link.does, False, 0.5)):
                painter.setFont(theme.font(theme.SMALL, strong=strong))
                painter.setPen(pen)
                painter.drawText(box.adjusted(7, box.height() * top, -2, 0), Qt.AlignmentFlag.AlignTop, words)
