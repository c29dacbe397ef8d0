"""A way to lay a print on its sheet: a card with the page drawn to scale."""

from __future__ import annotations

from collections.abc import Mapping

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QSizePolicy

from rehearsal.core.sheet.composing import Page
from rehearsal.desk import theme
from rehearsal.desk.parts.pagepainter import paint_page, scale_into

_WIDE, _HIGH, _WORDS = 150, 128, 38


class WayCard(QAbstractButton):
    """Checked while the sheet is laid so."""

    def __init__(self, title: str) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.title, self._under = title, ""
        self._page: Page | None = None
        self._pictures: Mapping[int, QImage] = {}
        self._paper = QColor(0xEC, 0xEC, 0xEC)
        self.setCheckable(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(title)

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(_WIDE), theme.px(_HIGH))

    def minimumSizeHint(self) -> QSize:
        """A page that can still be seen over two lines of words."""
        return QSize(theme.px(88), theme.px(62))

    def show_way(self, page: Page | None, under: str, pictures: Mapping[int, QImage], paper: QColor) -> None:
        """The page so laid, and what it means in a few words."""
        self._page, self._under, self._pictures, self._paper = page, under, pictures, paper
        self.setAccessibleDescription(under)
        self.setToolTip(under)
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The page over its words; a light frame and a bar when chosen."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.room.colour("raised" if not self.isChecked() else "field"))
        words, pad = theme.px(_WORDS), theme.px(7)
        place = QRectF(pad, pad, self.width() - 2 * pad, self.height() - words - 1.5 * pad)
        if self._page is not None:
            paint_page(painter, self._page, scale_into(self._page, place), self._pictures, self._paper, hatched=False)
        text = self.room.colour("text")
        for i, (line, strong) in enumerate(((self.title, True), (self._under, False))):
            font = theme.font(theme.SMALL, strong=strong)
            painter.setFont(font)
            painter.setPen(text if strong else self.room.colour("quiet"))
            box = QRectF(pad, self.height() - words + i * words / 2.2, self.width() - 2 * pad, words / 2)
            shown = QFontMetricsF(font).elidedText(line, Qt.TextElideMode.ElideRight, box.width())
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, shown)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if self.isChecked():
            painter.fillRect(QRectF(0, 0, 4, self.height()), text)
        if self.isChecked() or self.hasFocus():
            painter.setPen(QPen(text, 1, Qt.PenStyle.DotLine if self.hasFocus() else Qt.PenStyle.SolidLine))
            painter.drawRect(QRectF(0.5, 0.5, self.width() - 1, self.height() - 1))
