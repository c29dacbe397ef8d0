"""A paper as a small sheet in its own white with its own black, what it holds and what it loses of the open picture."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QSizePolicy, QWidget

from rehearsal.core.colour.lab import lab_to_xyz
from rehearsal.core.colour.table import srgb_encode
from rehearsal.core.values.words import share_words
from rehearsal.desk import theme
from rehearsal.desk.parts.cards import bar_width
from rehearsal.desk.words import linear_srgb

Lab = tuple[float, float, float]
_WIDE, _HIGH, _PAD, _SHEET, _BLACK = 98, 146, 4, 54, 36
#: The bars' whole length stands for so much of the picture, per cent, or for the largest share there is.
BAR_END = 40.0


class ShelfLight:
    """Colours of the papers of a shelf, all darkened by one factor in linear light.

    The lightest of them is then no lighter than the lightest grey of the room, so that in a view that shows a paper none
    outshines it.
    """

    def __init__(self, whites: Sequence[Lab], lightest: int) -> None:
        lit = [float(linear_srgb(lab_to_xyz(np.asarray(white))).max()) for white in whites]
        self.factor = theme.luminance(lightest) / max([*lit, 1e-6]) if lit else theme.luminance(lightest)

    def colour(self, lab: Sequence[float]) -> QColor:
        """A colour of Lab, absolute."""
        return QColor(*self.pixels(np.asarray(lab, dtype=float)).tolist())

    def pixels(self, lab: np.ndarray) -> np.ndarray:
        """8-bit sRGB (..., 3) of absolute Lab."""
        linear = linear_srgb(lab_to_xyz(lab)) * self.factor
        return np.asarray(np.round(srgb_encode(np.clip(linear, 0, 1)) * 255).astype(np.uint8))


@dataclass(frozen=True)
class PaperShown:
    """What a tile tells of a paper.

    Attributes:
        name, under: the paper, and printer with surface.
        white, black: absolute Lab; None for a file without paper, or while nothing is measured.
        contrast: in words, or what keeps it from being known.
        lost: per cent of the open picture that lies beyond; None while it is not known.
    """

    name: str
    under: str
    white: Lab | None
    black: Lab | None
    contrast: str
    lost: float | None

    @property
    def lost_words(self) -> str:
        """The share in words."""
        return "…" if self.lost is None else f"{share_words(self.lost)} lost"


class LookedButton(QAbstractButton):
    """A paper among others: a click or Space looks at it (``looked``); Enter or a double click chooses it (``chosen``)."""

    looked = pyqtSignal()
    chosen = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.is_looked = False
        self.setCheckable(True)
        self.setProperty("ownEnter", True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.clicked.connect(self._on_click)

    def _on_click(self) -> None:
        self.setChecked(not self.isChecked())  # only choosing marks it
        self.looked.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter chooses."""
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.chosen.emit()
        else:
            super().keyPressEvent(event)

    def mouseDoubleClickEvent(self, _event: QMouseEvent | None) -> None:
        """A double click chooses."""
        self.chosen.emit()

    def paint_marks(self, painter: QPainter) -> None:
        """A frame when it is chosen, a dotted one with the focus, a bar at the left when it is looked at."""
        if self.is_looked:
            painter.fillRect(QRectF(0, 0, 4, self.height()), self.room.colour("text"))
        if self.isChecked() or self.hasFocus():
            style = Qt.PenStyle.SolidLine if self.isChecked() else Qt.PenStyle.DotLine
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(self.room.colour("text"), 1.2, style))
            painter.drawRect(QRectF(0.5, 0.5, self.width() - 1.5, self.height() - 1.5))


class PaperTile(LookedButton):
    """A small sheet, what it holds, what it loses."""

    def __init__(self) -> None:
        super().__init__()
        self.paper = PaperShown("", "", None, None, "", None)
        self._light, self._end = ShelfLight((), 255), BAR_END
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(_WIDE), theme.px(_HIGH))

    def show_paper(self, paper: PaperShown, light: ShelfLight, end: float, tip: str) -> None:
        """Show a paper; ``end`` is the share that fills the bar, per cent."""
        self.paper, self._light, self._end = paper, light, end
        self.setAccessibleName(f"{paper.name}, {paper.under}" if paper.under else paper.name)
        self.setAccessibleDescription("; ".join(part for part in (paper.contrast, paper.lost_words) if part))
        self.setToolTip(tip)
        self.update()

    # ---- painting

    def sheet(self) -> QRectF:
        """Where the small sheet lies."""
        return QRectF(_PAD, _PAD, self.width() - 2 * _PAD, theme.px(_SHEET))

    def ink(self) -> QRectF:
        """Where its black lies."""
        side, sheet = theme.px(_BLACK), self.sheet()
        return QRectF(sheet.right() - side - 8, sheet.center().y() - side / 2, side, side)

    def track(self) -> QRectF:
        """Where the bar's whole scale lies."""
        return QRectF(_PAD + 1, self.height() - theme.px(29), self.width() - 2 * _PAD - 2, theme.px(7))

    def bar(self) -> QRectF:
        """Where the bar lies."""
        track = self.track()
        wide = bar_width(min(self.paper.lost or 0.0, self._end), self._end, track.width())
        return QRectF(track.x(), track.y(), wide, track.height())

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Sheet, words, bar; a frame when chosen, a bar at the left when looked at."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.room.colour("field"))
        self._paint_sheet(painter)
        self._paint_words(painter)
        painter.fillRect(self.track(), self.room.colour("raised"))
        painter.fillRect(self.bar(), self.room.colour("mark"))
        self.paint_marks(painter)

    def _paint_sheet(self, painter: QPainter) -> None:
        paper = self.paper
        if paper.white is not None and paper.black is not None:
            painter.fillRect(self.sheet(), self._light.colour(paper.white))
            painter.fillRect(self.ink(), self._light.colour(paper.black))
            return
        painter.setPen(QPen(self.room.colour("border"), 1, Qt.PenStyle.DashLine))
        painter.drawRect(self.sheet().adjusted(0.5, 0.5, -0.5, -0.5))

    def _paint_words(self, painter: QPainter) -> None:
        top, line = self.sheet().bottom() + 3, theme.px(16)
        rows = (
            (self.paper.name, "text", theme.font(theme.SMALL, strong=True)),
            (self.paper.under, "quiet", theme.font(theme.SMALL)),
            (self.paper.contrast, "text", theme.font(theme.SMALL)),
        )
        for i, (words, part, font) in enumerate(rows):
            self._paint_line(painter, words, part, font, top + i * line)
        self._paint_line(painter, self.paper.lost_words, "text", theme.font(theme.SMALL), self.track().bottom() + 2)

    def _paint_line(self, painter: QPainter, words: str, part: str, font, y: float) -> None:  # type: ignore[no-untyped-def]
        room = self.width() - 2 * _PAD - 2
        painter.setFont(font)
        painter.setPen(self.room.colour(part))
        cut = QFontMetricsF(font).elidedText(words, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(_PAD + 1, y, room, theme.px(16)), Qt.AlignmentFlag.AlignVCenter, cut)


class Swatch(QWidget):
    """A piece of paper with its black on it, named."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._white: QColor | None = None
        self._black: QColor | None = None
        self.setFixedSize(QSize(theme.px(150), theme.px(104)))
        self.setAccessibleName("Its white and its black")

    def show_paper(self, white: Lab | None, black: Lab | None, light: ShelfLight) -> None:
        """White and black, absolute Lab; None while they are not known."""
        self._white = None if white is None else light.colour(white)
        self._black = None if black is None else light.colour(black)
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The paper, its black, what they are."""
        painter = QPainter(self)
        if self._white is None or self._black is None:
            painter.setPen(QPen(self.room.colour("border"), 1, Qt.PenStyle.DashLine))
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -1, -1))
            return
        painter.fillRect(self.rect(), self._white)
        ink = QRectF(self.width() * 0.5, theme.px(14), self.width() * 0.5 - theme.px(12), self.height() - theme.px(28))
        painter.fillRect(ink, self._black)
        painter.setFont(theme.font(theme.SMALL))
        painter.setPen(QColor(20, 20, 20))
        painter.drawText(
            QRectF(theme.px(10), theme.px(10), ink.left(), theme.px(16)), Qt.AlignmentFlag.AlignVCenter, "its white"
        )
        painter.setPen(self._white)
        painter.drawText(ink.adjusted(theme.px(8), theme.px(6), 0, 0), Qt.AlignmentFlag.AlignTop, "its black")
