"""Parts of the board of prints: a row for each page on its way, take and print side by side, what the print is beside its plan."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QAbstractButton, QSizePolicy, QWidget

from rehearsal.core.sheet.composing import Page
from rehearsal.desk import theme
from rehearsal.desk.parts.focus import paint_focus
from rehearsal.desk.parts.images import rgb_image
from rehearsal.desk.parts.pagepainter import paint_page, scale_into
from rehearsal.desk.parts.rings import paint_ring

_ROW, _SHEET = QSize(320, 58), 66


@dataclass(frozen=True)
class RowShown:
    """What a row tells of a page on its way: its name, what it is printed on, its ring, how it stands, and how far it is."""

    name: str
    under: str
    ring: str
    state: str
    done: float = 0.0


class PrintRow(QAbstractButton):
    """A page on its way; checked while it is the one that is looked at."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.shown = RowShown("", "", "empty", "")
        self._page: Page | None = None
        self._picture = QImage()
        self.setCheckable(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(_ROW.width()), theme.px(_ROW.height()))

    def show_row(self, shown: RowShown, page: Page | None, picture: QImage) -> None:
        """What it tells."""
        self.shown, self._page, self._picture = shown, page, picture
        self.setAccessibleName(shown.name)
        self.setAccessibleDescription(f"{shown.under}; {shown.state}")
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Sheet, name, ring and words."""
        painter, room, px = QPainter(self), self.room, theme.px
        painter.fillRect(self.rect(), room.colour("raised" if self.isChecked() else "field"))
        if self._page is not None:
            light = room.lightest
            place = QRectF(px(10), px(6), px(_SHEET), self.height() - px(12))
            paint_page(
                painter,
                self._page,
                scale_into(self._page, place),
                {0: self._picture},
                QColor(light, light, light),
                hatched=False,
            )
        left, text = px(_SHEET + 22), room.colour("text")
        for words, strong, top in ((self.shown.name, True, 7), (self.shown.under, False, 23)):
            font = theme.font(theme.NORMAL if strong else theme.SMALL, strong=strong)
            painter.setFont(font)
            painter.setPen(text if strong else room.colour("quiet"))
            box = QRectF(left, px(top), self.width() - left - px(8), px(17))
            painter.drawText(
                box,
                Qt.AlignmentFlag.AlignVCenter,
                QFontMetricsF(font).elidedText(words, Qt.TextElideMode.ElideRight, box.width()),
            )
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_ring(painter, QPointF(left + px(6), px(46)), px(5), self.shown.ring, room, self.shown.done)
        font = theme.font(theme.SMALL, strong=self.shown.ring == "look")
        painter.setFont(font)
        painter.setPen(text)
        box = QRectF(left + px(17), px(38), self.width() - left - px(25), px(17))
        painter.drawText(
            box,
            Qt.AlignmentFlag.AlignVCenter,
            QFontMetricsF(font).elidedText(self.shown.state, Qt.TextElideMode.ElideRight, box.width()),
        )
        if self.isChecked():
            painter.fillRect(QRectF(0, 0, 4, self.height()), text)
        paint_focus(painter, self, room)


class PrintPair(QWidget):
    """The take at the left, its print at the right; while it is held they change places."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._images: list[QImage | None] = [None, None]
        self._words = ["", ""]
        self.swapped = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(QSize(theme.px(240), theme.px(130)))
        self.setAccessibleName("The take and its print")

    def show_pair(self, take: np.ndarray | None, printed: np.ndarray | None, words: Sequence[str]) -> None:
        """8-bit RGB (h, w, 3) of both, None for what is not there, and what each is."""
        self._images = [None if rgb is None else rgb_image(rgb) for rgb in (take, printed)]
        self._words = list(words)
        self.setAccessibleDescription("; ".join(self._words))
        self.update()

    def swap(self, on: bool) -> None:
        """Change places, or back."""
        self.swapped = on
        self.update()

    def boxes(self) -> list[QRectF]:
        """Where both lie, under their words."""
        head, gap = theme.px(20), theme.px(14)
        wide = (self.width() - gap) / 2
        return [QRectF(i * (wide + gap), head, wide, self.height() - head) for i in (0, 1)]

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Both on the surround."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), self.room.colour("surround"))
        order = (1, 0) if self.swapped else (0, 1)
        for box, index in zip(self.boxes(), order, strict=True):
            painter.setPen(self.room.colour("on_surround"))
            painter.setFont(theme.font(theme.SMALL, strong=True))
            painter.drawText(
                QRectF(box.x() + 4, 0, box.width(), theme.px(20)), Qt.AlignmentFlag.AlignVCenter, self._words[index]
            )
            image = self._images[index]
            if image is not None:
                size = image.size().scaled(box.size().toSize(), Qt.AspectRatioMode.KeepAspectRatio)
                place = QRectF(0, 0, size.width(), size.height())
                place.moveCenter(box.center())
                painter.drawImage(place, image)
        paint_focus(painter, self, self.room)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Hold: they change places."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self.swap(True)

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        """And back."""
        self.swap(False)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Space, held."""
        if event is not None and event.key() == Qt.Key.Key_Space:
            if not event.isAutoRepeat():
                self.swap(True)
        else:
            super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        """And back."""
        if event is not None and event.key() == Qt.Key.Key_Space:
            if not event.isAutoRepeat():
                self.swap(False)
        else:
            super().keyReleaseEvent(event)


class TonePlot(QWidget):
    """By how much L* the print is lighter or darker than the take, by tone."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._tones = np.empty((0, 2))
        self.setMinimumSize(QSize(theme.px(150), theme.px(84)))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Print less take, by tone")

    def show_tones(self, tones: np.ndarray) -> None:
        """(n, 2): L* of the take, and L* of the print less it."""
        self._tones = tones
        said = "; ".join(f"L* {at:.0f}: {more:+.1f}" for at, more in tones)
        self.setAccessibleDescription(said or "nothing to compare yet")
        self.update()

    @property
    def most(self) -> float:
        """Half of the plot's height, L*: 6 at least, so that little does not look like much."""
        return max(6.0, float(np.abs(self._tones[:, 1]).max()) * 1.1 if len(self._tones) else 0.0)

    def place(self, light: float, more: float) -> QPointF:
        """Where a tone's difference lies."""
        left, foot = theme.px(26), theme.px(16)
        wide, high = self.width() - left - 6, self.height() - foot - theme.px(10)
        return QPointF(left + light / 100 * wide, theme.px(8) + high * (0.5 - more / self.most / 2))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The nought line, the curve, ends in words."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.place(0, self.most), self.place(100, -self.most))
        painter.fillRect(box, self.room.colour("field"))
        painter.setPen(QPen(self.room.colour("line"), 1))
        painter.drawLine(QLineF(self.place(0, 0), self.place(100, 0)))
        painter.setFont(theme.font(theme.SMALL))
        painter.setPen(self.room.colour("quiet"))
        for value in (self.most, 0.0, -self.most):
            at = self.place(0, value)
            painter.drawText(
                QRectF(0, at.y() - 8, theme.px(23), 16),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                f"{value:+.0f}" if value else "0",
            )
        under = QRectF(box.left(), box.bottom() + 1, box.width(), theme.px(15))
        painter.drawText(under, Qt.AlignmentFlag.AlignLeft, "darks")
        painter.drawText(under, Qt.AlignmentFlag.AlignRight, "lights")
        if len(self._tones) > 1:
            painter.setPen(QPen(self.room.colour("text"), 1.8))
            painter.drawPolyline(QPolygonF([self.place(float(at), float(more)) for at, more in self._tones]))


@dataclass(frozen=True)
class Read:
    """A figure on a line: its name, where its dot lies (−1 to 1, 0 is as planned), and its words."""

    name: str
    at: float
    words: str


class ReadScales(QWidget):
    """Figures as dots on lines whose middle is "as planned"."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._reads: tuple[Read, ...] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("What the print is beside its plan")

    def sizeHint(self) -> QSize:
        """A row for each of four."""
        return QSize(theme.px(290), theme.px(22) * 4)

    def minimumSizeHint(self) -> QSize:
        """It may be narrow."""
        return QSize(theme.px(230), theme.px(22) * 4)

    def show_reads(self, reads: tuple[Read, ...]) -> None:
        """What to draw."""
        self._reads = reads
        self.setAccessibleDescription("; ".join(f"{r.name}: {r.words}" for r in reads))
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Name, line with its dot, words."""
        painter, px = QPainter(self), theme.px
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font(theme.SMALL))
        name, line = px(92), px(74)
        for i, read in enumerate(self._reads):
            y = px(22) * (i + 0.5)
            row = QRectF(0, y - px(11), self.width(), px(22))
            painter.setPen(self.room.colour("quiet"))
            painter.drawText(row, Qt.AlignmentFlag.AlignVCenter, read.name)
            painter.setPen(QPen(self.room.colour("border"), 1))
            painter.drawLine(QLineF(name, y, name + line, y))
            painter.drawLine(QLineF(name + line / 2, y - 6, name + line / 2, y + 6))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(self.room.colour("text"))
            painter.drawEllipse(QPointF(name + line / 2 * (1 + min(max(read.at, -1.0), 1.0)), y), 4.5, 4.5)
            painter.setPen(self.room.colour("text"))
            painter.drawText(row.adjusted(name + line + px(10), 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, read.words)
