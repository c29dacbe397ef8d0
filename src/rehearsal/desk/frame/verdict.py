"""The band of the sentence: what the open station says, what may be done about it, and the readout under the pointer."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from rehearsal.core.colour.lab import chroma, hue_degrees
from rehearsal.core.values.words import word
from rehearsal.desk import theme
from rehearsal.desk.frame.sentences import Sentence, sentence_of
from rehearsal.desk.parts.offer import Offer
from rehearsal.desk.parts.widgets import Words, button
from rehearsal.session.jobs import Job
from rehearsal.session.session import Session
from rehearsal.tasks.maps import PixelReading

_HEIGHT = 50
_SWATCH = QSize(26, 18)


class _Sentence(Words):
    """A sentence in the largest type in which all of it can be read."""

    def say(self, text: str) -> None:
        """Show a sentence."""
        self.setText(text)
        self.setToolTip(text)
        self._fit()

    def _fit(self) -> None:
        for size in (theme.LARGE, theme.NORMAL, theme.SMALL):
            self.setStyleSheet(f"font-size: {size * theme.type_size()}pt")
            if self.heightForWidth(self.width()) <= theme.px(_HEIGHT) - 4:
                return

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The type follows the room."""
        super().resizeEvent(event)
        self._fit()


class Readout(QWidget):
    """Picture and print under the pointer: a swatch and L*, C*, h of each, their difference, why it is beyond."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Under the pointer")
        self._rows: list[tuple[str, str, str]] = []
        self._colours: list[QColor] = []
        self.room = theme.ROOMS["mid"]

    @property
    def text(self) -> str:
        """What is read."""
        return "\n".join("  ".join(row) for row in self._rows)

    def show_reading(self, reading: PixelReading, colours: list[QColor]) -> None:
        """Show a reading and the colours the panes have there."""
        self._rows, self._colours = readout_rows(reading), colours
        self.setAccessibleDescription(self.text)
        self.updateGeometry()
        self.update()

    def _columns(self) -> tuple[float, float, float]:
        metrics = QFontMetricsF(theme.font(theme.SMALL))
        one, two, three = (max((metrics.horizontalAdvance(r[i]) for r in self._rows), default=0.0) for i in range(3))
        return one, two, three

    def sizeHint(self) -> QSize:
        """As wide as its words."""
        gap = theme.px(12)
        return QSize(round(theme.px(_SWATCH.width()) + sum(self._columns()) + 3 * gap), theme.px(_HEIGHT) - 8)

    def minimumSizeHint(self) -> QSize:
        """The same."""
        return self.sizeHint()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Two rows."""
        painter = QPainter(self)
        painter.setFont(theme.font(theme.SMALL))
        wide, high, gap, line = theme.px(_SWATCH.width()), theme.px(_SWATCH.height()), theme.px(12), self.height() / 2
        one, two, three = self._columns()
        for i, row in enumerate(self._rows):
            middle = line * (i + 0.5)
            if i < len(self._colours):
                painter.fillRect(QRectF(0, middle - high / 2, wide, high), self._colours[i])
            painter.setPen(self.room.colour("text"))
            x: float = wide + gap
            for text, width in zip(row, (one, two, three), strict=True):
                painter.drawText(QRectF(x, middle - line / 2, width + 2, line), Qt.AlignmentFlag.AlignVCenter, text)
                x += width + gap


class Verdict(QWidget):
    """Sentence, "Why?", advice, readout. ``why_wanted`` names the page that is behind the sentence."""

    why_wanted = pyqtSignal(str)
    #: What the sentences depend on, as a change record names it.
    follows = (
        "take", "picture", "judgement", "first", "accepted", "facts", "screen", "looked", "conditions", "log", "test_sheets",
        "test_plan", "verdict", "queues", "prints", "look",
    )  # fmt: skip

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._station = "judge"
        self.setObjectName("verdict")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(theme.px(_HEIGHT))
        row = QHBoxLayout(self)
        row.setContentsMargins(theme.px(16), 2, theme.px(16), 2)
        row.setSpacing(theme.px(10))
        self._sentence = _Sentence()
        self._sentence.setProperty("sentence", True)
        self._sentence.setWordWrap(True)
        self._sentence.setAccessibleName("Verdict")
        row.addWidget(self._sentence, 1)
        self._why = button("Why?", self.show_why, "The figures behind it (?)", "Why this verdict")
        self._take = Offer()
        self._take.setProperty("advice", True)
        row.addWidget(self._why)
        row.addWidget(self._take)
        self._readout = Readout()
        row.addWidget(self._readout)
        self._said = Sentence("")
        session.jobs.ended.connect(self._on_end)
        self.point(None)

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        self._readout.room = room
        self._readout.update()

    def set_station(self, station: str) -> None:
        """Another station speaks."""
        self._station = station
        self.refresh()

    def _on_end(self, job: Job) -> None:
        if job.kind == "judge":
            self.refresh()

    def refresh(self) -> None:
        """Say what the open station has to say now."""
        said = self._said = sentence_of(self._session, self._station)
        self._why.setVisible(bool(said.why))
        self._take.setVisible(bool(said.advice))
        if said.advice and said.take is not None:
            self._take.offer(said.advice, said.take, said.tip, said.tip)
        self._sentence.say(said.text)

    @property
    def text(self) -> str:
        """What is said."""
        return self._sentence.text()

    def show_why(self) -> None:
        """Ask for what is behind the sentence."""
        if self._said.why:
            self.why_wanted.emit(self._said.why)

    def point(self, place: tuple[int, int] | None) -> None:
        """Read the picture at a full-resolution pixel; while nothing is read the sentence has the room."""
        reading = None if place is None else self._session.inquiries.read(*place)
        self._readout.setVisible(reading is not None)
        if reading is not None and place is not None:
            painted = self._session.roads.colours_of(*place)
            self._readout.show_reading(reading, [] if painted is None else [QColor(*rgb) for rgb in painted])


def readout_rows(reading: PixelReading) -> list[tuple[str, str, str]]:
    """Two rows: name, colour, and the difference or why it is beyond."""

    def colour(lab) -> str:  # type: ignore[no-untyped-def]
        return f"L* {lab[0]:.0f}  C* {float(chroma(lab)):.0f}  h {float(hue_degrees(lab)):.0f}°"

    beyond = f"{word('cause', reading.cause)} by {reading.delta:.1f}" if reading.cause else ""
    return [
        ("picture", colour(reading.master), f"ΔE₀₀ {reading.change:.1f}"),
        ("print", colour(reading.printed), beyond),
    ]
