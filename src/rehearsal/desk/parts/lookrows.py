"""A row of small pictures of one print in visible steps: the one like the print in the hand is chosen, or the gap between two."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.core.testsheets.verdictrows import VerdictRow
from rehearsal.desk import theme
from rehearsal.desk.parts.focus import paint_focus

_TITLE, _FOOT, _GAP = 18, 30, 6


class LookRow(QWidget):
    """``pointed`` tells the offset under the pointer or the keys (None for none), ``chosen`` the one that was taken."""

    pointed = pyqtSignal(object)
    chosen = pyqtSignal(float)

    def __init__(self, title: str, less: str, more: str) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._title, self._less, self._more = title, less, more
        self._row: VerdictRow | None = None
        self._pictures: list[QImage] = []
        self._labels: Sequence[str] = ()
        self.paper = QColor(0xEC, 0xEC, 0xEC)
        self.offset = 0.0
        self._at: float | None = None
        self._proportion = 1.5
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(title)

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(560), theme.px(112))

    def minimumSizeHint(self) -> QSize:
        """Pictures that can still be told apart."""
        return QSize(theme.px(280), theme.px(98))

    def show_row(
        self, row: VerdictRow | None, labels: Sequence[str], pictures: list[QImage], paper: QColor, offset: float, at: float | None
    ) -> None:  # fmt: skip
        """The row's offsets with their words, its pictures (none while they are coming), what is chosen and pointed at."""
        self._row, self._labels, self._pictures, self.paper = row, labels, pictures, paper
        self.offset, self._at = offset, at
        said = "as the take" if not offset else f"chosen: {self._words(offset)}"
        self.setAccessibleDescription(said)
        self.update()

    def _words(self, offset: float) -> str:
        return f"{self._more if offset > 0 else self._less} by {abs(offset):.3g}"

    def picture_of(self, offset: float) -> QImage | None:
        """The row's own picture of an offset; None where there is none."""
        offsets = () if self._row is None else self._row.offsets
        at = offsets.index(offset) if offset in offsets else -1
        return self._pictures[at] if 0 <= at < len(self._pictures) else None

    # ---- where things are

    @property
    def count(self) -> int:
        """Pictures in the row."""
        return 0 if self._row is None else len(self._row.offsets)

    def wanted_size(self, proportion: float) -> tuple[int, int]:
        """Pixels of the screen of a picture of that proportion (width to height)."""
        self._proportion = proportion
        rect, ratio = self.picture_rect(0, 7), self.devicePixelRatioF()
        return max(8, round(rect.width() * ratio)), max(8, round(rect.height() * ratio))

    def cell(self, place: int, count: int = 0) -> QRectF:
        """A picture's cell, its paper."""
        count = count or max(self.count, 1)
        gap, high = theme.px(_GAP), self.height() - theme.px(_TITLE + _FOOT)
        wide = (self.width() - gap * (count - 1)) / count
        most = (self.width() - gap * 6) / 7
        wide = min(wide, most)
        left = (self.width() - wide * count - gap * (count - 1)) / 2 + place * (wide + gap)
        return QRectF(left, theme.px(_TITLE), wide, high)

    def picture_rect(self, place: int, count: int = 0) -> QRectF:
        """Where a picture lies on its paper."""
        cell = self.cell(place, count)
        border = max(2.0, cell.width() * 0.05)
        inner = cell.adjusted(border, border, -border, -border)
        wide = min(inner.width(), inner.height() * self._proportion)
        made = QRectF(0, 0, max(wide, 4), max(wide / self._proportion, 4))
        made.moveCenter(inner.center())
        return made

    def offset_at(self, at: QPointF) -> float | None:
        """The offset at a place: a picture's own, or between two the middle."""
        if self._row is None or not self.count:
            return None
        for i in range(self.count):
            if self.cell(i).adjusted(3, 0, -3, theme.px(_FOOT)).contains(at):
                return self._row.offsets[i]
        for i in range(self.count - 1):
            one, two = self.cell(i), self.cell(i + 1)
            gap = QRectF(one.right() - 3, one.top(), two.left() - one.right() + 6, one.height() + theme.px(_FOOT))
            if gap.contains(at):
                return self._row.between(i + 0.5)
        return None

    def _place(self, offset: float) -> float:
        """An offset's place along the row, in pictures."""
        assert self._row is not None
        offsets = self._row.offsets
        for i, low in enumerate(offsets[:-1]):
            high = offsets[i + 1]
            if low <= offset <= high:
                return i + (offset - low) / (high - low)
        return 0.0 if offset < offsets[0] else len(offsets) - 1.0

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Title and directions, pictures on their paper, a line of places under them."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        text, quiet = self.room.colour("text"), self.room.colour("quiet")
        painter.setPen(text)
        painter.setFont(theme.font(theme.SMALL, strong=True))
        head = QRectF(0, 0, self.width(), theme.px(_TITLE))
        painter.drawText(head, Qt.AlignmentFlag.AlignVCenter, self._title)
        painter.setFont(theme.font(theme.SMALL))
        painter.setPen(quiet)
        half = self.width() / 2
        painter.drawText(
            QRectF(0, 0, half - 20, head.height()),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            f"← {self._less}",
        )
        painter.drawText(QRectF(half + 20, 0, half, head.height()), Qt.AlignmentFlag.AlignVCenter, f"{self._more} →")
        if self._row is None:
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, "working out the steps…")
            return
        if self.count == 1:
            foot = QRectF(0, self.cell(0).bottom(), self.width(), theme.px(_FOOT))
            painter.drawText(foot, Qt.AlignmentFlag.AlignCenter, "this picture cannot show it")
        for i in range(self.count):
            self._paint_one(painter, i)
        if self.count > 1:
            self._paint_line(painter)
        paint_focus(painter, self, self.room)

    def _paint_one(self, painter: QPainter, place: int) -> None:
        cell, text = self.cell(place), self.room.colour("text")
        painter.fillRect(cell, self.paper)
        if place < len(self._pictures):
            painter.drawImage(self.picture_rect(place), self._pictures[place])
        assert self._row is not None
        own = self._row.offsets[place]
        if abs(own - self.offset) < 1e-9 or (self._at is not None and abs(own - self._at) < 1e-9):
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(10, 10, 10), 3))
            painter.drawRect(cell.adjusted(1, 1, -1, -1))
            painter.setPen(QPen(text, 1))
            painter.drawRect(cell.adjusted(-1, -1, 1, 1))

    def _paint_line(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        xs = [self.cell(i).center().x() for i in range(self.count)]
        y, radius, text = self.cell(0).bottom() + theme.px(8), theme.px(3.5), self.room.colour("text")
        painter.setPen(QPen(self.room.colour("mark"), 1))
        painter.drawLine(QPointF(xs[0], y), QPointF(xs[-1], y))
        painter.setFont(theme.font(theme.SMALL))
        for x, words in zip(xs, self._labels, strict=False):
            painter.setPen(QPen(text, 1.2))
            painter.setBrush(self.room.colour("field"))
            painter.drawEllipse(QPointF(x, y), radius, radius)
            painter.drawText(QRectF(x - 60, y + radius + 1, 120, theme.px(17)), Qt.AlignmentFlag.AlignCenter, words)
        place = self._place(self.offset)
        low = min(int(place), self.count - 2)
        x = xs[low] + (place - low) * (xs[low + 1] - xs[low])
        painter.setBrush(text)
        painter.drawEllipse(QPointF(x, y), radius + 1.5, radius + 1.5)

    # ---- hands

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Point."""
        if event is not None:
            self.pointed.emit(self.offset_at(event.position()))

    def leaveEvent(self, _event: object) -> None:
        """Nothing is pointed at."""
        self.pointed.emit(None)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose."""
        found = None if event is None else self.offset_at(event.position())
        if found is not None:
            self.chosen.emit(found)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows point half a step on, Return and Space choose; the rest goes to the window."""
        if event is None or self._row is None:
            return
        step = {Qt.Key.Key_Left: -0.5, Qt.Key.Key_Right: 0.5}.get(Qt.Key(event.key()))
        here = self.offset if self._at is None else self._at
        if step is not None and self.count > 1:
            self.pointed.emit(self._row.between(min(max(self._place(here) + step, 0.0), self.count - 1.0)))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.chosen.emit(here)
        else:
            super().keyPressEvent(event)
