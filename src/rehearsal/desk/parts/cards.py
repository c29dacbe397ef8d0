"""Cards of rendering intents: a live little picture each, and as bars the figures by which they differ."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QSizePolicy, QWidget

from rehearsal.core.proof.advice import CandidateFigures, rendering_name
from rehearsal.core.proof.grouping import Telling
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.words import share_words, word
from rehearsal.desk import theme

_LYING, _STANDING, _NAMES_WIDTH = QSize(106, 146), QSize(298, 62), 72
_BAR = 8


def bar_width(value: float, most: float, room: float) -> float:
    """Length of a bar; what is above nothing can be seen."""
    return 0.0 if value <= 0 or most <= 0 else max(2.0, room * value / most)


def figure_words(each: Telling, value: float) -> str:
    """A figure with its unit; a share that is there is never told as none."""
    return share_words(value) if each.key == "detail_lost" else word("telling_value", each.key).format(value)


class IntentCard(QAbstractButton):
    """One rendering. ``rows`` are what tells it from its neighbours, with the largest value of each among them."""

    def __init__(self, rendering: Rendering, title: str, key: str) -> None:
        super().__init__()
        self.rendering, self._title, self.room = rendering, title, theme.ROOMS["mid"]
        self._picture: QImage | None = None
        self._rows: list[tuple[Telling, float, float, bool]] = []
        self.advised = self._stands = False
        self.setCheckable(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"Render {rendering_name(rendering)}")
        self.setToolTip(f"{rendering_name(rendering)} ({key})")
        self.stand(False)

    def stand(self, upright: bool) -> None:
        """As a row, or as an upright card."""
        self._stands = upright
        self.setSizePolicy(
            QSizePolicy.Policy.Expanding if upright else QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed
        )
        self.updateGeometry()

    def sizeHint(self) -> QSize:
        """With the type."""
        size = _STANDING if self._stands else _LYING
        return QSize(theme.px(size.width()), theme.px(size.height()))

    def minimumSizeHint(self) -> QSize:
        """A row may be narrower."""
        hint = self.sizeHint()
        return QSize(theme.px(220), hint.height()) if self._stands else hint

    def show_picture(self, image: QImage | None) -> None:
        """The take in this rendering."""
        self._picture = image
        self.update()

    def show_figures(
        self,
        figures: CandidateFigures | None,
        advised: bool,
        rows: Sequence[Telling],
        among: Sequence[CandidateFigures],
    ) -> None:
        """Its figures among those of its neighbours."""
        self.advised, self._rows = advised, []
        if figures is not None:
            for each in rows:
                values = [each.value(c) for c in among]
                mine = each.value(figures)
                self._rows.append((each, mine, max(values), mine <= min(values) + each.step / 2))
        said = [f"{word('telling', t.key)} {figure_words(t, v)}" for t, v, _m, _b in self._rows]
        self.setAccessibleDescription("; ".join([*(["advised"] if advised else []), *said]))
        self.update()

    # ---- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Picture, name, bars; a light frame and a bar at the left when chosen, a dotted one with the focus."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), self.room.colour("field"))
        self._paint_standing(painter) if self._stands else self._paint_lying(painter)
        text = self.room.colour("text")
        if self.isChecked():
            painter.fillRect(QRectF(0, 0, 4, self.height()), text)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if self.isChecked() or self.hasFocus():
            painter.setPen(QPen(text, 1))
            painter.drawRect(QRectF(0.5, 0.5, self.width() - 1, self.height() - 1))
        if self.hasFocus():
            painter.setPen(QPen(text, 1, Qt.PenStyle.DotLine))
            painter.drawRect(QRectF(3.5, 3.5, self.width() - 7, self.height() - 7))

    def _paint_picture(self, painter: QPainter, box: QRectF) -> None:
        if self._picture is None:
            return
        size = self._picture.size().scaled(box.size().toSize(), Qt.AspectRatioMode.KeepAspectRatio)
        target = QRectF(0, 0, size.width(), size.height())
        target.moveCenter(box.center())
        painter.drawImage(target, self._picture)

    def _paint_lying(self, painter: QPainter) -> None:
        px = theme.px
        self._paint_picture(painter, QRectF(px(6), px(5), self.width() - px(12), px(64)))
        painter.setPen(self.room.colour("text"))
        painter.setFont(theme.font(theme.SMALL, strong=True))
        box = QRectF(px(7), px(71), self.width() - px(12), px(17))
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, self._title)
        painter.setFont(theme.font(theme.SMALL))
        if self.advised:
            badge = QRectF(self.width() - px(56), px(5), px(50), px(16))
            painter.fillRect(badge, self.room.colour("field"))
            painter.drawText(badge, Qt.AlignmentFlag.AlignCenter, "advised")
        for i, row in enumerate(self._rows):
            self._paint_bar(painter, QRectF(px(7), px(row_top(i)), self.width() - px(14), px(18)), row)

    def _paint_standing(self, painter: QPainter) -> None:
        px = theme.px
        self._paint_picture(painter, QRectF(px(7), px(4), px(40), self.height() - px(8)))
        painter.setPen(self.room.colour("text"))
        painter.setFont(theme.font(theme.SMALL, strong=True))
        box = QRectF(px(56), px(4), self.width() - px(64), px(18))
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, self._title)
        painter.setFont(theme.font(theme.SMALL))
        if self.advised:
            painter.setPen(self.room.colour("quiet"))
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, "advised")
        width = (self.width() - px(64)) / max(1, len(self._rows))
        for i, row in enumerate(self._rows):
            self._paint_tall(painter, QRectF(px(56) + i * width, px(22), width - px(8), px(36)), row)

    def _paint_bar(self, painter: QPainter, box: QRectF, row: tuple[Telling, float, float, bool]) -> None:
        """A bar with its figure at the right."""
        each, value, most, best = row
        figure = theme.px(42)
        track = QRectF(box.x(), box.center().y() - theme.px(_BAR) / 2, box.width() - figure, theme.px(_BAR))
        self._paint_track(painter, track, value, most, best)
        painter.setPen(self.room.colour("text"))
        painter.drawText(
            box,
            Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
            figure_words(each, value),
        )

    def _paint_tall(self, painter: QPainter, box: QRectF, row: tuple[Telling, float, float, bool]) -> None:
        """A figure over its bar."""
        each, value, most, best = row
        painter.setPen(self.room.colour("text"))
        painter.drawText(
            QRectF(box.x(), box.y(), box.width(), theme.px(18)), Qt.AlignmentFlag.AlignVCenter,
            f"{word('telling', each.key)} {figure_words(each, value)}",
        )  # fmt: skip
        self._paint_track(
            painter, QRectF(box.x(), box.y() + theme.px(21), box.width(), theme.px(_BAR)), value, most, best
        )

    def _paint_track(self, painter: QPainter, track: QRectF, value: float, most: float, best: bool) -> None:
        painter.fillRect(track, self.room.colour("raised"))
        wide = bar_width(value, most, track.width())
        painter.fillRect(
            QRectF(track.x(), track.y(), wide, track.height()), self.room.colour("text" if best else "mark")
        )


def row_top(index: int) -> float:
    """Where the row of a figure begins in a lying card, in pixels at the usual type."""
    return 89 + 19.0 * index


class RowNames(QWidget):
    """Names of the cards' rows, once for all."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._rows: Sequence[Telling] = ()
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        """Beside the cards."""
        return QSize(theme.px(_NAMES_WIDTH), theme.px(_LYING.height()))

    def show_rows(self, rows: Sequence[Telling]) -> None:
        """What the cards' rows are."""
        self._rows = rows
        self.setToolTip("\n".join(f"{word('telling', r.key)}: {word('telling_tip', r.key)}" for r in rows))
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """One name a row."""
        painter = QPainter(self)
        painter.setPen(self.room.colour("text"))
        painter.setFont(theme.font(theme.SMALL))
        for i, each in enumerate(self._rows):
            box = QRectF(0, theme.px(row_top(i)), self.width(), theme.px(18))
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, word("telling", each.key))
