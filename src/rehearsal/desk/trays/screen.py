"""Station 1: can this screen be trusted, and how bright should it be?"""

from __future__ import annotations

from datetime import date
from pathlib import Path

from PyQt6.QtCore import QDate, QSignalBlocker
from PyQt6.QtWidgets import QDateEdit, QFileDialog

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import open_profile
from rehearsal.core.papers.model import check_destination
from rehearsal.core.screen.brightness import USUAL_LIGHT, BrightnessAdvice
from rehearsal.desk.parts import Form, button, choice, number, quiet, show_choice, show_number
from rehearsal.desk.trays.base import Tray


class ScreenTray(Tray):
    """Profile of the screen, age of its calibration, brightness arithmetic."""

    def build(self) -> None:
        """Columns: profile, calibration, light, what follows."""
        profile = self.column("Profile of this screen", 270)
        self._profile = quiet(wrap=True)
        profile.add(self._profile)
        profile.pair(button("Choose a file…", self._choose), button("Ask the desktop", self._ask_desktop))
        self._caution = quiet(wrap=True)
        profile.add(self._caution)
        profile.end()
        self._build_calibration()
        self._build_light()
        self._advice_column = self.column("What follows", 330)
        self._advice = quiet(wrap=True)
        self._advice_column.add(self._advice)
        self._lighten = button("Lighten this print", self._apply_rest)
        self._advice_column.pair(self._lighten)
        self._advice_column.end()

    def _build_calibration(self) -> None:
        column = self.column("Calibration", 240)
        form = Form()
        self._date = QDateEdit()
        self._date.setDisplayFormat("yyyy-MM-dd")
        self._date.setDateRange(QDate(2000, 1, 1), QDate.currentDate())
        self._date.setSpecialValueText("never")
        self._date.setButtonSymbols(QDateEdit.ButtonSymbols.NoButtons)
        self._date.dateChanged.connect(lambda d: self.model.set_screen(calibrated=d.toString("yyyy-MM-dd")))
        form.row("Last calibrated", self._date)
        self._interval = number(1, 365, 0, " days")
        self._interval.valueChanged.connect(lambda v: self.model.set_screen(interval_days=int(v)))
        form.row("Again after", self._interval)
        self._contrast = number(1, 100000, 0, " : 1")
        self._contrast.valueChanged.connect(lambda v: self.model.set_screen(contrast=v))
        form.row("Screen contrast", self._contrast)
        column.rows.addLayout(form)
        column.pair(button("Calibrated today", self._today))
        self._trust = quiet(wrap=True)
        column.add(self._trust)
        column.end()

    def _build_light(self) -> None:
        column = self.column("Light", 270)
        form = Form()
        self._white = number(20, 1000, 0, " cd/m²")
        self._white.valueChanged.connect(lambda v: self.model.set_screen(white=v))
        form.row("Screen's white", self._white)
        self._light = choice([(f"{name}, {lux:.0f} lux", name) for name, lux in USUAL_LIGHT])
        self._light.activated.connect(self._choose_light)
        form.row("Prints are seen", self._light)
        self._lux = number(5, 20000, 0, " lux", 10)
        self._lux.valueChanged.connect(lambda v: self.model.set_screen(lux=v))
        form.row("Light on the print", self._lux)
        column.rows.addLayout(form)
        column.add(quiet("Usual lux are common practice; a lux meter knows better. Mind hot lamps.", wrap=True))
        column.end()

    def _choose_light(self) -> None:
        name = self._light.currentData()
        self.model.set_screen(light=name, lux=dict(USUAL_LIGHT)[name])

    def _today(self) -> None:
        self.model.set_screen(calibrated=date.today().isoformat())

    def _choose(self) -> None:
        start = (
            str(Path(self.model.screen.profile_path).parent)
            if self.model.screen.profile_path
            else "/usr/share/color/icc"
        )
        path, _ = QFileDialog.getOpenFileName(self, "Choose the screen's profile", start, "Profiles (*.icc *.icm)")
        if path:
            self.use_file(path, "chosen file")

    def use_file(self, path: str, source: str) -> None:
        """Use a profile file for this screen."""
        try:
            profile = open_profile(path)
            check_destination(profile)
        except RehearsalError as error:
            self.model.said.emit(error.sentence())
            return
        self.model.set_screen(profile_path=path, source=source)

    def _ask_desktop(self) -> None:
        if not self.model.ask_desktop_for_profile():
            self.model.said.emit(
                "The desktop knows no profile for this screen. Choose the file your calibration wrote."
            )

    def _apply_rest(self) -> None:
        advice, take = self.model.brightness, self.model.take
        if advice is not None and take is not None:
            sixths = round(advice.rest * 6)
            self.model.change(tuning=take.tuning.with_value("lightness", take.tuning.lightness + sixths))

    def _advice_text(self, advice: BrightnessAdvice | None) -> str:
        facts, own = self.model.condition_facts, self.model.screen.contrast
        if advice is None or facts is None:
            return "Choose a paper first."
        if not 1 < facts["contrast"] < 10000:
            return advice.words
        text = f"{advice.words}\nThis paper holds {facts['contrast']:.0f} : 1, the screen {own:.0f} : 1"
        if own < facts["contrast"]:
            return f"{text}: the screen cannot show how deep this paper's black is."
        return f"{text}: its blacks are shown as they print, unless the view is fitted to the screen."

    def refresh(self) -> None:
        """Follow the model."""
        screen = self.model.screen
        if screen.profile_path:
            name = self.model.screen_profile.description
            self._profile.setText(f"{name}\nfrom: {screen.source or 'file'}")
            self._caution.setText("If the desktop converts colours as well, switch that off for this window.")
        else:
            self._profile.setText("None known: colours are shown as if the screen were sRGB.")
            self._caution.setText(
                "A proof on an unknown screen can be wrong by more than any paper. Calibrate, or choose a file."
            )
        with QSignalBlocker(self._date):
            self._date.setDate(QDate.fromString(screen.calibrated or "2000-01-01", "yyyy-MM-dd"))
        show_number(self._interval, screen.interval_days)
        show_number(self._contrast, screen.contrast)
        show_number(self._white, screen.white)
        show_number(self._lux, screen.lux)
        show_choice(self._light, screen.light)
        trust = self.model.trust
        self._trust.setText(
            {"fresh": "", "old": "An old calibration adds doubt of some ΔE₀₀ to all you see. ", "unknown": ""}[trust.state]
            + trust.words[:1].upper() + trust.words[1:] + "."
        )  # fmt: skip
        advice = self.model.brightness
        self._advice.setText(self._advice_text(advice))
        self._lighten.setVisible(advice is not None and abs(advice.rest) >= 1 / 6)
        if advice is not None:
            verb = "Lighten" if advice.rest > 0 else "Darken"
            self._lighten.setText(f"{verb} this print by {abs(round(advice.rest * 6)) / 6:.2f} stops")
