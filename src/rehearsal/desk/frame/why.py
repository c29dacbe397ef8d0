"""Behind the verdict: the candidates as dots on scales, and all figures as a page."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass
from html import escape

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QBoxLayout, QVBoxLayout, QWidget

from rehearsal.core.proof.advice import CandidateFigures, rendering_name
from rehearsal.core.proof.judging import Judgement
from rehearsal.core.values.words import share_words
from rehearsal.desk import theme
from rehearsal.desk.parts.flow import flow
from rehearsal.desk.parts.widgets import button, heading, quiet, show_page

_PITCH, _NAMES, _FIGURES = 38, 150, 110
_DOT = 6.0


def why_html(result: Judgement) -> str:
    """The figures behind the verdict."""
    rows = ["<h3>Why</h3><ul>"]
    rows += [f"<li>{escape(reason)}</li>" for reason in result.advice.reasons]
    rows.append("</ul><table cellspacing='6'><tr><td></td><td>score</td><td>differs by, as felt, ΔE₀₀</td><td>folds and shading kept</td>"
                "<td>strong parts</td><td>detail lost</td><td>deepest L*</td><td>dark steps kept</td></tr>")  # fmt: skip
    for c in result.candidates:
        modelling, strong = ("–" if v is None else f"{v * 100:.0f} %" for v in (c.modelling, c.strong))
        rows.append(
            f"<tr><td>{rendering_name(c.rendering)}</td><td>{c.score:.2f}</td><td>{c.felt_change:.2f}</td>"
            f"<td>{modelling}</td><td>{strong}</td><td>{escape(share_words(c.flat))}</td><td>{c.black_depth:.1f}</td>"
            f"<td>{c.shadow_separation} of 20</td></tr>"
        )
    f, g = result.change, result.fitted_change
    rows.append(
        f"</table><p>{' '.join(c.words for c in result.compensation)}</p>"
        "<p>Score: mean of the felt difference + 0.2 × per cent of detail lost; the lowest wins when it wins by more "
        f"than 0.3.</p><p>This rendering differs by mean {f.mean:.1f}, 95 % below {f.p95:.1f} ΔE₀₀; "
        f"without the black: mean {g.mean:.1f}, 95 % below {g.p95:.1f}.</p><p>{escape(share_words(result.shadow_share))} of the picture is "
        f"darker than L* 20. {escape(share_words(result.colder))} is near-white and colder or lighter than the bare paper.</p>"
    )
    if result.screen_master is not None and result.screen_print is not None:
        rows.append(
            f"<p>This screen cannot show {escape(share_words(result.screen_master))} of the picture and "
            f"{escape(share_words(result.screen_print))} of the print.</p>"
        )
    return "".join(rows)


@dataclass(frozen=True)
class Scale:
    """One figure of all candidates; better is always at the right.

    Attributes:
        name: with its unit; values: None where there is nothing to show; words: one for each value.
        high_is_better: which end is right.
        span: the least the whole line stands for: what hardly differs lies close together.
    """

    name: str
    values: tuple[float | None, ...]
    words: tuple[str, ...]
    high_is_better: bool
    span: float

    def places(self) -> list[float | None]:
        """Where each lies, 0 to 1, the best at the right end."""
        known = [v for v in self.values if v is not None]
        low, high = min(known, default=0.0), max(known, default=0.0)
        best, span = (high if self.high_is_better else low), max(high - low, self.span)
        return [None if v is None else 1 - abs(v - best) / span for v in self.values]


def scales_of(candidates: tuple[CandidateFigures, ...]) -> list[Scale]:
    """What the advice is made of."""

    def scale(name: str, values: list[float | None], form: str, high: bool, span: float) -> Scale:
        words = tuple("–" if v is None else form.format(v) for v in values)
        return Scale(name, tuple(values), words, high, span)

    kept: list[float | None] = [None if c.modelling is None else c.modelling * 100 for c in candidates]
    return [
        scale("differs by, ΔE₀₀", [c.felt_change for c in candidates], "{:.1f}", False, 1.0),
        scale("detail lost", [c.flat for c in candidates], "{:.1f} %", False, 5.0),
        scale("folds and shading kept", kept, "{:.0f} %", True, 10.0),
        scale("dark steps kept, of 20", [float(c.shadow_separation) for c in candidates], "{:.0f}", True, 10.0),
    ]


class Scales(QWidget):
    """The candidates on each scale: the advised one strong and full, the others as rings, thin."""

    def __init__(self, result: Judgement, room: theme.Room) -> None:
        super().__init__()
        self.room = room
        self._names = [rendering_name(c.rendering) for c in result.candidates]
        self._advised = next((i for i, c in enumerate(result.candidates) if c.rendering == result.advice.rendering), 0)
        self._scales = scales_of(result.candidates)
        self.setAccessibleName("Candidates on scales, better at the right")
        self.setAccessibleDescription(
            "; ".join(
                f"{s.name}: {', '.join(f'{n} {w}' for n, w in zip(self._names, s.words, strict=True))}"
                for s in self._scales
            )
        )

    def sizeHint(self) -> QSize:
        """A row a scale, and one for the names."""
        return QSize(theme.px(620), theme.px(_PITCH) * len(self._scales) + theme.px(24))

    def minimumSizeHint(self) -> QSize:
        """Narrower beside the pictures."""
        return QSize(theme.px(260), self.sizeHint().height())

    def _width(self) -> tuple[float, float]:
        names = min(theme.px(_NAMES), self.width() * 0.4)
        return names, self.width() - names - theme.px(24)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Lines, dots, figures."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        left, wide = self._width()
        points: list[list[QPointF | None]] = [[] for _ in self._names]
        for row, scale in enumerate(self._scales):
            y = theme.px(_PITCH) * (row + 0.5) + theme.px(4)
            painter.setFont(theme.font(theme.SMALL))
            painter.setPen(self.room.colour("text"))
            painter.drawText(
                QRectF(0, y - theme.px(10), left - 8, theme.px(20)), Qt.AlignmentFlag.AlignVCenter, scale.name
            )
            painter.setPen(QPen(self.room.colour("border"), 1))
            painter.drawLine(QPointF(left, y), QPointF(left + wide, y))
            for i, place in enumerate(scale.places()):
                points[i].append(None if place is None else QPointF(left + 8 + place * (wide - 16), y))
        self._paint_candidates(painter, points)
        self._paint_figures(painter, points)
        painter.setPen(self.room.colour("quiet"))
        foot = QRectF(left, self.height() - theme.px(20), wide, theme.px(20))
        painter.drawText(foot, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, "better →")

    def _paint_candidates(self, painter: QPainter, points: list[list[QPointF | None]]) -> None:
        order = [i for i in range(len(points)) if i != self._advised] + [self._advised]
        half = order[1] if len(order) > 2 else -1
        for i in order:
            strong, line = i == self._advised, [p for p in points[i] if p is not None]
            pen = QPen(self.room.colour("text" if strong else "border"), 2 if strong else 1)
            if not strong:
                pen.setDashPattern([2.0 + 2 * i, 3.0])
            painter.setPen(pen)
            for a, b in itertools.pairwise(line):
                painter.drawLine(a, b)
            painter.setPen(QPen(self.room.colour("text"), 1.4))
            painter.setBrush(self.room.colour("text" if strong else "chrome"))
            size = _DOT + (1 if strong else -1)
            for point in line:
                painter.drawEllipse(point, size, size)
                if i == half:
                    box = QRectF(point.x() - size, point.y() - size, 2 * size, 2 * size)
                    painter.setBrush(self.room.colour("text"))
                    painter.drawPie(box, 90 * 16, 180 * 16)
                    painter.setBrush(self.room.colour("chrome"))

    def _paint_figures(self, painter: QPainter, points: list[list[QPointF | None]]) -> None:
        """The advised one's figure and the farthest other's, over the line."""
        metrics = QFontMetricsF(theme.font(theme.SMALL))
        painter.setPen(self.room.colour("text"))
        for row, scale in enumerate(self._scales):
            taken: list[QRectF] = []
            for i in [self._advised, *(k for k in range(len(points)) if k != self._advised)]:
                point = points[i][row] if row < len(points[i]) else None
                if point is None:
                    continue
                width = metrics.horizontalAdvance(scale.words[i]) + 4
                x = min(max(point.x() - width / 2, 0), self.width() - width)
                box = QRectF(x, point.y() - theme.px(21), width, theme.px(14))
                if not any(box.intersects(t) for t in taken):
                    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, scale.words[i])
                    taken.append(box)


class WhyPage(QWidget):
    """In the tray's place, so that the pictures stay: reasons, scales, all figures folded away."""

    def __init__(self, result: Judgement, room: theme.Room, stands: bool, back: Callable[[], object]) -> None:
        super().__init__()
        self.setAccessibleName("Why")
        self.setObjectName("tray")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setStyleSheet(theme.sheet(room))
        row = QBoxLayout(QBoxLayout.Direction.TopToBottom if stands else QBoxLayout.Direction.LeftToRight, self)
        row.setContentsMargins(theme.px(16), theme.px(8), theme.px(16), theme.px(8))
        row.setSpacing(theme.px(24))
        left = QVBoxLayout()
        left.addWidget(heading("Why"))
        reasons = quiet("\n".join(result.advice.reasons), wrap=True)
        left.addWidget(reasons, 1)
        others = [rendering_name(c.rendering) for c in result.candidates if c.rendering != result.advice.rendering]
        marks = [f"Full dots: {rendering_name(result.advice.rendering)}"]
        marks += [f"{mark}: {name}" for mark, name in zip(("rings", "half rings", "rings too"), others, strict=False)]
        left.addWidget(quiet(f"{'; '.join(marks)}.", wrap=True))
        figures = button("All figures…", lambda: show_figures(self, result))
        left.addLayout(flow(button("Back to the tray", back, "Esc"), figures))
        row.addLayout(left, 2)
        row.addWidget(Scales(result, room), 3)


def show_figures(parent: QWidget, result: Judgement) -> None:
    """All figures behind a verdict as a page."""
    show_page(parent, "Why?", why_html(result), "Figures behind the verdict", 720, 470)
