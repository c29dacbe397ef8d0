"""Station 8: how the print came out, and what it teaches."""

from __future__ import annotations

from datetime import date

from PyQt6.QtCore import QSignalBlocker, Qt
from PyQt6.QtWidgets import QLineEdit, QTableWidgetItem

from rehearsal.desk.parts import Form, TuneSlider, button, choice, quiet, table
from rehearsal.desk.trays.base import Tray
from rehearsal.workbook.values import LogEntry, to_json

_HEADS = ("date", "picture", "paper", "verdict", "light", "cast", "contrast", "words")


def _side(more: str, less: str, unit: str, divide: float = 1.0) -> object:
    def words(value: float) -> str:
        if not value:
            return "as on screen"
        return f"{more if value > 0 else less} {abs(value) / divide:.2g}{unit}"

    return words


class LogTray(Tray):
    """Verdict of the dry print, the logbook, as last time."""

    def build(self) -> None:
        """Columns: verdict, logbook."""
        column = self.column("The dry print beside the screen", 360)
        self._dark = TuneSlider("Light", -12, 12, _side("darker", "lighter", "/6 stop"))  # type: ignore[arg-type]
        self._cool = TuneSlider("Cast", -6, 6, _side("cooler", "warmer", " steps"))  # type: ignore[arg-type]
        self._flat = TuneSlider("Contrast", -6, 6, _side("flatter", "harder", " steps"))  # type: ignore[arg-type]
        for slider in (self._dark, self._cool, self._flat):
            column.add(slider)
        form = Form()
        self._verdict = choice([(t, t) for t in ("good, sign it", "usable", "print again", "given up")])
        form.row("Verdict", self._verdict)
        self._words = QLineEdit()
        self._words.setPlaceholderText("in words")
        form.row("Notes", self._words)
        column.rows.addLayout(form)
        column.pair(button("Keep in the logbook", self.keep), button("As last time", self._last, "Key A"))
        self._light = quiet(wrap=True)
        column.add(self._light)
        column.end()
        book = self.column("Logbook", 780)
        self._table = table(_HEADS, "Logbook", 20)
        book.add(self._table)

    def keep(self) -> LogEntry | None:
        """Write the verdict into the logbook."""
        take, condition, master = self.model.take, self.model.condition, self.model.master
        if take is None or condition is None or master is None:
            return None
        entry = LogEntry(
            when=date.today().isoformat(), picture=master.name, condition=condition.id, condition_name=condition.name,
            light=self.model.screen.light, lux=self.model.screen.lux, screen_white=self.model.screen.white,
            darker=float(self._dark.slider.value()), cooler=float(self._cool.slider.value()),
            flatter=float(self._flat.slider.value()), verdict=self._verdict.currentData(),
            words=self._words.text().strip(), file=take.file, take=to_json(take), condition_card=to_json(condition),
        )  # fmt: skip
        kept = self.model.keep_log(entry)
        for slider in (self._dark, self._cool, self._flat):
            slider.show_value(0)
        self._words.clear()
        self.model.said.emit(
            f"Kept: {master.name} on {condition.paper}. It will be offered at the next take on this paper."
        )
        return kept

    def _last(self) -> None:
        self.model.said.emit(self.model.as_last_time())

    def refresh(self) -> None:
        """Follow the model."""
        screen = self.model.screen
        self._light.setText(
            f"Seen in: {screen.light}, {screen.lux:.0f} lux; screen {screen.white:.0f} cd/m². Let it dry first."
        )
        entries = list(reversed(self.model.log))
        with QSignalBlocker(self._table):
            self._table.setRowCount(len(entries))
            for row, e in enumerate(entries):
                cells = (
                    e.when, e.picture, e.condition_name.split(" on ")[0], e.verdict,
                    _word(e.darker, "darker", "lighter", "/6 stop"), _word(e.cooler, "cooler", "warmer"),
                    _word(e.flatter, "flatter", "harder"), e.words,
                )  # fmt: skip
                for column, text in enumerate(cells):
                    item = QTableWidgetItem(text)
                    item.setFlags(item.flags() & ~Qt.ItemFlag.ItemIsEditable)
                    item.setToolTip(text)
                    self._table.setItem(row, column, item)


def _word(value: float, more: str, less: str, unit: str = "") -> str:
    return "–" if not value else f"{more if value > 0 else less} {abs(value):g}{unit}"
