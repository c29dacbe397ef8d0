"""A wall of live proofs: cards with a picture on its paper, a name and rows of figures; walked with the arrow keys."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QGridLayout, QSizePolicy, QWidget

from rehearsal.desk import theme
from rehearsal.desk.parts.images import rgb_image

_TITLE, _ROW, _PAD = 22.0, 15.0, 8.0


@dataclass(frozen=True)
class CardFigures:
    """Rows (label, value) of a card, laid out in columns, and a mark at its head."""

    rows: tuple[tuple[str, str], ...] = ()
    mark: str = ""
    columns: int = 1


class Card(QAbstractButton):
    """One proof of a wall; a ``picked`` one carries a light bar at its left, one that is looked at along its top."""

    double_clicked = pyqtSignal()

    def __init__(self, title: str, key: str = "") -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.title, self._key = title, key
        self.figures = CardFigures()
        self._picture: QImage | None = None
        self._paper = QColor(255, 255, 255)
        self.picked = self.is_looked = False
        self.setCheckable(True)
        self.setProperty("ownEnter", True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(title)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(QSize(150, 110))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter is the wall's, which knows what it means; Space is a click."""
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            event.ignore()
        else:
            super().keyPressEvent(event)

    def mouseDoubleClickEvent(self, _event: QMouseEvent | None) -> None:
        """Chosen."""
        self.double_clicked.emit()

    def show_picture(self, rgb: np.ndarray | None, paper: np.ndarray | None = None) -> None:
        """The proof and the bare paper it lies on, 8-bit screen RGB."""
        self._picture = None if rgb is None else rgb_image(rgb)
        if paper is not None:
            self._paper = QColor(*[int(v) for v in paper])
        self.update()

    def show_figures(self, figures: CardFigures) -> None:
        """Rows of figures and the mark."""
        self.figures = figures
        self.setAccessibleDescription("; ".join([*(f"{a} {b}" for a, b in figures.rows), figures.mark]))
        self.update()

    def picture_rect(self) -> QRectF:
        """Where the picture with its paper lies."""
        lines = -(-len(self.figures.rows) // max(self.figures.columns, 1))
        under = lines * _ROW + (_PAD if lines else 0)
        return QRectF(_PAD, _TITLE + 2, self.width() - 2 * _PAD, max(self.height() - _TITLE - under - _PAD - 2, 20))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Name, picture on its paper, rows; a light frame when chosen, a bar at the left when picked."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), self.room.colour("ribbon"))
        self._paint_title(painter)
        self._paint_picture(painter)
        self._paint_rows(painter)
        if self.is_looked:
            painter.fillRect(QRectF(0, 0, self.width(), 3), self.room.colour("text"))
        if self.picked:
            painter.fillRect(QRectF(0, 0, 3, self.height()), self.room.colour("text"))
        if self.isChecked() or self.hasFocus():
            style = Qt.PenStyle.SolidLine if self.isChecked() else Qt.PenStyle.DotLine
            painter.setPen(QPen(self.room.colour("text"), 1.2, style))
            painter.drawRect(QRectF(0.5, 0.5, self.width() - 1.5, self.height() - 1.5))

    def _paint_title(self, painter: QPainter) -> None:
        strong, small = theme.font(theme.NORMAL, strong=True), theme.font(theme.SMALL)
        right = "   ".join(part for part in (self.figures.mark, self._key) if part)
        room = self.width() - 2 * _PAD - QFontMetricsF(small).horizontalAdvance(right) - 8
        painter.setPen(self.room.colour("text"))
        painter.setFont(strong)
        text = QFontMetricsF(strong).elidedText(self.title, Qt.TextElideMode.ElideRight, max(room, 40))
        painter.drawText(QRectF(_PAD, 1, room, _TITLE), Qt.AlignmentFlag.AlignVCenter, text)
        painter.setFont(small)
        box = QRectF(_PAD, 1, self.width() - 2 * _PAD, _TITLE)
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, right)

    def _paint_picture(self, painter: QPainter) -> None:
        box = self.picture_rect()
        if self._picture is None:
            painter.setFont(theme.font(theme.SMALL))
            painter.setPen(self.room.colour("quiet"))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "proofing…")
            return
        margin = 0.05 * min(box.width(), box.height())
        size = self._picture.size().toSizeF()
        factor = min((box.width() - 2 * margin) / size.width(), (box.height() - 2 * margin) / size.height())
        target = QRectF(0, 0, size.width() * factor, size.height() * factor)
        target.moveCenter(box.center())
        painter.fillRect(target.adjusted(-margin, -margin, margin, margin), self._paper)
        painter.drawImage(target, self._picture)

    def _paint_rows(self, painter: QPainter) -> None:
        columns = max(self.figures.columns, 1)
        lines = -(-len(self.figures.rows) // columns)
        width = (self.width() - 2 * _PAD) / columns
        small = theme.font(theme.SMALL)
        metrics = QFontMetricsF(small)
        painter.setFont(small)
        top = self.height() - _PAD - lines * _ROW
        for i, (label, value) in enumerate(self.figures.rows):
            column, line = divmod(i, lines)
            box = QRectF(_PAD + column * width, top + line * _ROW, width - (8 if columns > 1 else 0), _ROW)
            painter.setPen(self.room.colour("quiet"))
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, label)
            painter.setPen(self.room.colour("text"))
            room = box.width() - metrics.horizontalAdvance(label) - 6
            text = metrics.elidedText(value, Qt.TextElideMode.ElideRight, room)
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, text)


class Wall(QWidget):
    """Cards in a grid, told by their places: ``looked`` of one that was clicked, ``chosen`` of one that was entered or clicked
    twice, ``picked`` of one picked besides.
    """

    looked = pyqtSignal(int)
    chosen = pyqtSignal(int)
    picked = pyqtSignal(int)

    def __init__(self, name: str) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.setAccessibleName(name)
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setSpacing(8)
        self.cards: list[Card] = []
        self._columns = 1

    def set_cards(self, titles: list[tuple[str, str]]) -> None:
        """New cards (title, key) in their order."""
        for card in self.cards:
            self._grid.removeWidget(card)
            card.deleteLater()
        self.cards = []
        for i, (title, key) in enumerate(titles):
            card = Card(title, key)
            card.room = self.room
            card.clicked.connect(lambda _c, at=i: self._on_click(at))
            card.double_clicked.connect(lambda at=i: self.chosen.emit(at))
            card.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
            card.customContextMenuRequested.connect(lambda _p, at=i: self.picked.emit(at))
            self.cards.append(card)
        self.arrange(list(range(len(titles))))

    def _on_click(self, at: int) -> None:
        self.cards[at].setChecked(not self.cards[at].isChecked())  # only choosing marks it
        self.looked.emit(at)

    def arrange(self, order: list[int]) -> None:
        """Lay the cards out in this order of their places."""
        count = len(order)
        self._columns = count if count <= 3 else -(-count // 2) if count <= 10 else 6
        for place, i in enumerate(order):
            self._grid.addWidget(self.cards[i], place // self._columns, place % self._columns)
        self._order = order

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        self.room = room
        for card in self.cards:
            card.room = room
            card.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows walk over the wall, Enter chooses."""
        here = next((i for i, c in enumerate(self.cards) if c.hasFocus()), None)
        if event is None or here is None:
            return super().keyPressEvent(event)
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            shift = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            return self.picked.emit(here) if shift else self.chosen.emit(here)
        step = {
            Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -self._columns, Qt.Key.Key_Down: self._columns,
        }.get(Qt.Key(event.key()))  # fmt: skip
        if step is None:
            return super().keyPressEvent(event)
        place = min(max(self._order.index(here) + step, 0), len(self._order) - 1)
        self.cards[self._order[place]].setFocus()
        return None
