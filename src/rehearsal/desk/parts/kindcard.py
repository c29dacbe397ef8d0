"""Cards of kinds and layouts of test sheets, each with a miniature; rows of small choices; the fields to click after drying."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QPushButton, QSizePolicy, QWidget

from rehearsal.core.testsheets.laying import TestPage
from rehearsal.desk import theme
from rehearsal.desk.parts.fieldchooser import FieldChooser
from rehearsal.desk.parts.flow import FlowLayout
from rehearsal.desk.parts.focus import paint_focus
from rehearsal.desk.parts.widgets import button

_MINI_WIDE, _MINI_HIGH = 26, 20
#: Miniatures: boxes of a kind in a square of 1 × 1, each with its grey from 0 (dark) to 1.
_MINIS: dict[str, tuple[tuple[float, float, float, float, float], ...]] = {
    "bracket": tuple((i * 0.2, 0.3, 0.18, 0.45, 0.25 + 0.17 * i) for i in range(5)),
    "two": tuple((x * 0.34, y * 0.34, 0.3, 0.3, 0.3 + 0.11 * (x + y)) for y in range(3) for x in range(3)),
    "mixed": tuple(
        (x * 0.34, y * 0.34, 0.3, 0.3, (0.6, 0.75, 0.4, 0.9, 0.5, 0.7, 0.3, 0.95, 0.1)[3 * y + x]) for y in range(3) for x in range(3)
    ),
    "renderings": tuple((i * 0.35, 0.15, 0.32, 0.7, 0.35 + 0.25 * i) for i in range(3)),
    "strength": tuple((i * 0.26, 0.75 - 0.22 * i, 0.22, 0.25 + 0.22 * i, 0.7) for i in range(4)),
    "sharpening": tuple((i * 0.13, 0.1, 0.06, 0.8, 0.9 - 0.1 * i) for i in range(8)),
    "takes": ((0.0, 0.1, 0.6, 0.55, 0.5), (0.38, 0.4, 0.6, 0.55, 0.85)),
    "papers": tuple((i * 0.35, 0.05, 0.3, 0.9, 0.98 - 0.12 * i) for i in range(3)),
    "2x2": tuple((0.06 + x * 0.46, 0.08 + y * 0.4, 0.42, 0.36, 0.4) for y in range(2) for x in range(2)),
    "3x3": tuple((0.05 + x * 0.31, 0.06 + y * 0.28, 0.27, 0.22, 0.4) for y in range(3) for x in range(3)),
    "strips": tuple((0.06, 0.05 + y * 0.17, 0.88, 0.12, 0.4) for y in range(5)),
}  # fmt: skip


class MiniCard(QAbstractButton):
    """A checkable card: a miniature, a name and perhaps a second line."""

    def __init__(self, key: str, title: str, on_paper: bool = False) -> None:
        super().__init__()
        self.key, self._title, self._on_paper, self._under = key, title, on_paper, ""
        self.room = theme.ROOMS["mid"]
        self.setCheckable(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(title)

    def say_under(self, text: str) -> None:
        """A second, quiet line."""
        if text != self._under:
            self._under = text
            self.setAccessibleDescription(text)
            self.updateGeometry()
            self.update()

    def sizeHint(self) -> QSize:
        """With the type."""
        words = QFontMetricsF(theme.font(strong=True)).horizontalAdvance(self._title)
        return QSize(round(words) + theme.px(_MINI_WIDE + 28), theme.px(38 if self._on_paper else 30))

    def minimumSizeHint(self) -> QSize:
        """The same."""
        return self.sizeHint()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Miniature and words; a bar at the left and a light frame when chosen."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.room.colour("raised" if self.isChecked() else "field"))
        mini = QRectF(
            theme.px(9), (self.height() - theme.px(_MINI_HIGH)) / 2, theme.px(_MINI_WIDE), theme.px(_MINI_HIGH)
        )
        if self._on_paper:
            painter.fillRect(mini, self.room.colour("text"))
        low, high = self.room.quiet // 4, self.room.quiet
        for x, y, w, h, grey in _MINIS.get(self.key, ()):
            level = round(low + grey * (high - low))
            box = QRectF(mini.x() + x * mini.width(), mini.y() + y * mini.height(), w * mini.width(), h * mini.height())
            painter.fillRect(box, QColor(level, level, level))
        text = self.room.colour("text")
        left = mini.right() + theme.px(8)
        half = self.height() / 2 if self._under else self.height()
        painter.setPen(text)
        painter.setFont(theme.font(strong=self.isChecked()))
        painter.drawText(QRectF(left, 0, self.width() - left, half), Qt.AlignmentFlag.AlignVCenter, self._title)
        if self._under:
            painter.setPen(self.room.colour("quiet"))
            painter.setFont(theme.font(theme.SMALL))
            painter.drawText(
                QRectF(left, half - 2, self.width() - left, half), Qt.AlignmentFlag.AlignVCenter, self._under
            )
        painter.setPen(QPen(self.room.colour("text" if self.isChecked() else "border"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(QRectF(0.5, 0.5, self.width() - 1, self.height() - 1))
        if self.isChecked():
            painter.fillRect(QRectF(0, 0, 4, self.height()), text)
        if self.hasFocus():
            painter.setPen(QPen(text, 1, Qt.PenStyle.DotLine))
            painter.drawRect(QRectF(3.5, 3.5, self.width() - 7, self.height() - 7))


class Choices(QWidget):
    """A row of small buttons of which one is down; ``chosen`` tells its value."""

    chosen = pyqtSignal(object)

    def __init__(self, name: str, values: Sequence[tuple[str, object]]) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.px(4))
        self.buttons: list[tuple[QPushButton, object]] = []
        for words, value in values:
            made = button(words, partial(self.chosen.emit, value), name=f"{name}: {words}")
            made.setCheckable(True)
            made.setProperty("small", True)
            row.addWidget(made, 1)
            self.buttons.append((made, value))

    def show_value(self, value: object) -> None:
        """Follow the model."""
        for made, own in self.buttons:
            made.setChecked(own == value)


class Members(QWidget):
    """Buttons of which any may be down: what is on a sheet; ``toggled`` tells the number of one that was pressed."""

    toggled = pyqtSignal(int)

    def __init__(self, name: str) -> None:
        super().__init__()
        self._name = name
        self._layout = FlowLayout(4, 4)
        self.setLayout(self._layout)
        self.buttons: dict[int, QPushButton] = {}

    def show_members(self, candidates: Sequence[tuple[int, str]], chosen: Sequence[int]) -> None:
        """What may be on the sheet, by number and name, and what is."""
        if [(n, b.text()) for n, b in self.buttons.items()] != list(candidates):
            for old in self.buttons.values():
                self._layout.removeWidget(old)
                old.deleteLater()
            self.buttons = {
                n: button(name, partial(self.toggled.emit, n), name=f"{self._name}: {name}") for n, name in candidates
            }
            for made in self.buttons.values():
                made.setCheckable(True)
                self._layout.addWidget(made)
        for number, made in self.buttons.items():
            made.setChecked(number in chosen)
        self.setVisible(bool(candidates))


class FieldGrid(FieldChooser):
    """The fields of a printed sheet as cells, with bars between neighbours: ``chosen`` tells one field, or the two beside a bar."""

    def __init__(self) -> None:
        super().__init__()
        self._page: TestPage | None = None
        self._said: frozenset[int] = frozenset()
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Best field, or the gap between two")

    def show_fields(
        self, page: TestPage | None, at: tuple[int, ...], best: tuple[int, ...], said: frozenset[int]
    ) -> None:
        """Fields of a sheet, what is pointed at, what was chosen, and fields something was said of."""
        changed = page is not self._page
        self._page, self.at, self.best, self._said = page, at, best, said
        self.setAccessibleDescription("" if not best else f"chosen: {' and '.join(str(n) for n in best)}")
        if changed:
            self.updateGeometry()
        self.update()

    @property
    def page(self) -> TestPage | None:
        """The sheet the cells are of."""
        return self._page

    def sizeHint(self) -> QSize:
        """Cells of 30 × 28 with gaps that can be hit."""
        if self._page is None:
            return QSize(theme.px(140), theme.px(28))
        columns, rows = self._page.columns, -(-len(self._page.fields) // self._page.columns)
        return QSize(theme.px(30 * columns + 24 * (columns - 1) + 2), theme.px(28 * rows + 14 * (rows - 1) + 2))

    def minimumSizeHint(self) -> QSize:
        """The same."""
        return self.sizeHint()

    def cell(self, number: int) -> QRectF:
        """Where a field's cell is."""
        columns = 1 if self._page is None else self._page.columns
        x, y = (number - 1) % columns, (number - 1) // columns
        return QRectF(1 + x * theme.px(54), 1 + y * theme.px(42), theme.px(30), theme.px(28))

    def gap(self, one: int, two: int) -> QRectF:
        """Where the gap between two neighbours is."""
        a, b = self.cell(one), self.cell(two)
        if two - one == 1:
            return QRectF(a.right(), a.y(), b.left() - a.right(), a.height())
        return QRectF(a.x(), a.bottom(), a.width(), b.top() - a.bottom())

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Cells and bars."""
        painter = QPainter(self)
        if self._page is None:
            return
        text, line = self.room.colour("text"), self.room.colour("border")
        painter.setFont(theme.font(theme.SMALL))
        for number in range(1, len(self._page.fields) + 1):
            box, best = self.cell(number), number in self.best
            painter.fillRect(box, self.room.colour("raised" if best else "field"))
            painter.setPen(QPen(text if best or number in self.at else line, 2 if best else 1))
            painter.drawRect(box)
            painter.setPen(text)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, f"{number}{'·' if number in self._said else ''}")
        for one, two in self._page.neighbours():
            gap, chosen = self.gap(one, two), self.best == (one, two)
            middle, strong = gap.center(), chosen or self.at == (one, two)
            size = (2.0, 9.0) if two - one == 1 else (9.0, 2.0)
            half = QPointF(size[0] * (2 if chosen else 1), size[1])
            if two - one != 1:
                half = QPointF(size[0], size[1] * (2 if chosen else 1))
            painter.fillRect(QRectF(middle - half, middle + half), text if strong else line)
        paint_focus(painter, self, self.room)

    def numbers_at(self, at: QPointF) -> tuple[int, ...]:
        """The cell under a point, or the two beside a bar."""
        page = self.page
        if page is None:
            return ()
        fields = range(1, len(page.fields) + 1)
        found = next(((n,) for n in fields if self.cell(n).contains(at)), ())
        return found or next((pair for pair in page.neighbours() if self.gap(*pair).contains(at)), ())
