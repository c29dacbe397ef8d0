"""Station 8: how the print came out, and what it teaches."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QLineEdit

from rehearsal.core.values.words import all_words, date_words, stops_words, word
from rehearsal.desk.parts.widgets import Form, TuneSlider, button, choice, quiet, table
from rehearsal.desk.trays.base import Tray
from rehearsal.workbook.values import LogEntry

_HEADS = ("date", "picture", "paper", "verdict", "light", "cast", "contrast", "words")


def _sixths(value: float) -> str:
    return stops_words(value / 6)


def _steps(value: float) -> str:
    return f"{value:g} step" if value == 1 else f"{value:g} steps"


def _side(more: str, less: str, words: Callable[[float], str], none: str = "as on screen") -> Callable[[float], str]:
    """Words for a verdict on one scale."""
    return lambda value: f"{more if value > 0 else less} by {words(abs(value))}" if value else none


_DARK = ("darker", "lighter", _sixths)
_COOL = ("cooler", "warmer", _steps)
_FLAT = ("flatter", "harder", _steps)


class LogTray(Tray):
    """Verdict of the dry print, the logbook, as last time."""

    follows = ("take", "log", "screen")

    def build(self) -> None:
        """Columns: verdict, logbook."""
        column = self.column("The dry print beside the screen", 360)
        self._dark = TuneSlider("Light", -12, 12, _side(*_DARK))
        self._cool = TuneSlider("Cast", -6, 6, _side(*_COOL))
        self._flat = TuneSlider("Contrast", -6, 6, _side(*_FLAT))
        for slider in (self._dark, self._cool, self._flat):
            column.add(slider)
        form = Form()
        self._verdict = choice(all_words("verdict"))
        form.row("Verdict", self._verdict)
        self._words = QLineEdit()
        self._words.setPlaceholderText("in words")
        form.row("Notes", self._words)
        column.rows.addLayout(form)
        column.pair(button("Keep in the logbook", self.keep), button("As last time", self._last, "Key A"))
        self._light = quiet(wrap=True)
        column.add(self._light)
        column.end()
        book = self.column("Logbook", 420, 1, about=("log",))
        self._table = table(_HEADS, "Logbook")
        book.add(self._table)

    def on_stand(self, upright: bool) -> None:
        """Beside the pictures there is room for the first words only."""
        for column in (2, 4, 5, 6, 7):
            self._table.setColumnHidden(column, upright)

    def keep(self) -> LogEntry | None:
        """Write the verdict into the logbook."""
        kept = self.session.logbook.keep(
            float(self._dark.slider.value()), float(self._cool.slider.value()), float(self._flat.slider.value()),
            self._verdict.currentData(), self._words.text().strip(),
        )  # fmt: skip
        if kept is not None:
            for slider in (self._dark, self._cool, self._flat):
                slider.show_value(0)
            self._words.clear()
        return kept

    def _last(self) -> None:
        self.session.bus.say(self.session.logbook.as_last_time())

    def _dryness(self) -> str:
        """Whether it may be judged yet, counted from the writing of its file."""
        condition, wet = self.session.now.condition, self.session.logbook.wet_until(datetime.now())
        if condition is not None and wet:
            return f"It dries until {wet} ({condition.dry_hours:g} hours, as its card says): wait with the verdict."
        return "Let it dry first."

    def refresh(self) -> None:
        """Follow the session."""
        screen, take = self.session.screen.record, self.session.now.take
        other = take is not None and take.written is not None and take.written.rendition != self.session.now.rendition
        about = "It is about the file that was written; the take has changed since. " if other else ""
        self._light.setText(
            f"{about}Seen in: {word('light', screen.light)}, {screen.lux:.0f} lux{_kelvin(screen.kelvin)}; "
            f"screen {screen.white:.0f} cd/m². "
            f"{self._dryness()}"
        )
        entries = list(reversed(self.session.logbook.entries))
        with QSignalBlocker(self._table):
            self._table.setRowCount(len(entries))
            for row, e in enumerate(entries):
                cells = (
                    date_words(e.when), e.picture, e.condition_name.split(" on ")[0], word("verdict", e.verdict),
                    _side(*_DARK, none="–")(e.darker), _side(*_COOL, none="–")(e.cooler), _side(*_FLAT, none="–")(e.flatter), e.words,
                )  # fmt: skip
                self._table.put(row, cells, cells)


def _kelvin(value: float) -> str:
    return f", {value:.0f} K" if value > 0 else ""
