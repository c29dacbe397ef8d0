"""Station 1: can this screen be trusted, and how bright should it be?"""

from __future__ import annotations

from datetime import date
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QDate, QSignalBlocker
from PyQt6.QtWidgets import QComboBox, QDateEdit, QFileDialog

from rehearsal.core.screen.brightness import USUAL_KELVIN, USUAL_LIGHT, lighten_words, lux_for_screen
from rehearsal.core.screen.standards import VIEWING_VALUES
from rehearsal.core.values.words import capital, date_words, share_words, word
from rehearsal.desk import theme
from rehearsal.desk.monitor import desktop_converts
from rehearsal.desk.parts.plots import Plot, Trace
from rehearsal.desk.parts.widgets import (
    Form,
    button,
    choice,
    number,
    quiet,
    scrolled,
    show_choice,
    show_number,
    show_page,
)
from rehearsal.desk.trays.base import Tray
from rehearsal.tasks.conditions import Facts


class ScreenTray(Tray):
    """Profile of the screen, age and drift of its calibration, brightness arithmetic, what it can show."""

    follows = ("screen", "take", "facts", "judgement", "arrival")

    def build(self) -> None:
        """Columns: profile, calibration, drift, light, what follows."""
        profile = self.column("This screen", 226)
        self._profile = quiet(wrap=True)
        profile.add(self._profile)
        profile.pair(button("Choose…", self._choose), button("Ask the desktop", self._ask_desktop))
        self._caution = quiet(wrap=True)
        profile.add(self._caution)
        profile.end()
        profile.pair(button("Real size…", lambda: self.board_wanted.emit("size"), "Lay a card on the screen (F3)"))
        self._build_calibration()
        drift = self.column("Drift", 196, 1, about=("reading", "forget-reading"))
        self._drift = Plot("Luminance of white", "cd/m²")
        self._drift.setMinimumHeight(theme.px(90))
        drift.rows.addWidget(self._drift, 1)
        self._trust = quiet(wrap=True)
        drift.add(self._trust)
        self._build_light()
        self._build_advice()

    def _build_calibration(self) -> None:
        column = self.column("Calibration", 222, about=("screen",))
        form = Form()
        self._date = QDateEdit()
        self._date.setDisplayFormat("d MMM yyyy")
        self._date.setDateRange(QDate(2000, 1, 1), QDate.currentDate())
        self._date.setSpecialValueText("never")
        self._date.setButtonSymbols(QDateEdit.ButtonSymbols.NoButtons)
        self._date.dateChanged.connect(lambda d: self.session.screen.set(calibrated=d.toString("yyyy-MM-dd")))
        form.row("Last calibrated", self._date)
        self._unit = choice([("days", "days"), ("hours of light", "hours")])
        self._unit.activated.connect(self._choose_unit)
        form.row("Counted in", self._unit)
        self._interval = number(1, 5000, 0, " days")
        self._interval.valueChanged.connect(self._set_interval)
        form.row("Remind me after", self._interval)
        self._day = number(0.5, 24, 1, " h a day", 0.5)
        self._day.valueChanged.connect(lambda v: self.session.screen.set(hours_a_day=v))
        form.row("The screen is lit", self._day)
        self._contrast = number(1, 100000, 0, " : 1")
        self._contrast.valueChanged.connect(lambda v: self.session.screen.set(contrast=v))
        form.row("Screen contrast", self._contrast)
        column.rows.addLayout(form)
        column.end()
        check = button(
            "Check…", lambda: self.board_wanted.emit("check"), "Show patches and read them (F2)", "Check this screen"
        )
        column.pair(button("Calibrated today", self._today), check)

    def _build_light(self) -> None:
        column = self.column("Light", 282)
        form = Form()
        self._white = number(20, 1000, 0, " cd/m²")
        self._white.valueChanged.connect(lambda v: self.session.screen.set(white=v))
        form.row("Screen's white", self._white)
        self._light = choice([(word("light", key), key) for key, _lux in USUAL_LIGHT])
        self._light.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self._light.activated.connect(self._choose_light)
        form.row("Prints are seen", self._light)
        self._lux = number(5, 20000, 0, " lx", 10)
        self._lux.valueChanged.connect(lambda v: self.session.screen.set(lux=v))
        form.row("Light on the print", self._lux)
        self._kelvin = number(0, 12000, 0, " K", 100)
        self._kelvin.setSpecialValueText("not known")
        self._kelvin.valueChanged.connect(lambda v: self.session.screen.set(kelvin=v))
        form.row("Its colour", self._kelvin)
        column.rows.addLayout(form)
        column.add(
            quiet(
                "Usual lux are common practice; a meter knows better. Lamps get hot: keep paper and hands away.",
                wrap=True,
            )
        )
        column.end()
        column.pair(button("Standards for light and room…", self._show_standards))

    def _build_advice(self) -> None:
        self._advice_column = self.column("What follows", 236)
        self._advice = quiet(wrap=True)
        self._advice_column.add(scrolled(self._advice))
        self._lighten = button("Lighten this print", self.session.logbook.lighten_for_light)
        self._advice_column.pair(self._lighten)

    def _choose_unit(self) -> None:
        self.session.screen.set(hours_a_day=8.0 if self._unit.currentData() == "hours" else 0.0)

    def _set_interval(self, value: float) -> None:
        if self.session.screen.record.hours_a_day > 0:
            self.session.screen.set(interval_hours=value)
        else:
            self.session.screen.set(interval_days=int(value))

    def _show_standards(self) -> None:
        show_page(self, "Light and room", standards_html(), "Standards for light and room", 860, 470)

    def _choose_light(self) -> None:
        name = self._light.currentData()
        self.session.screen.set(light=name, lux=dict(USUAL_LIGHT)[name], kelvin=USUAL_KELVIN[name])

    def _today(self) -> None:
        self.session.screen.set(calibrated=date.today().isoformat())

    def _choose(self) -> None:
        start = (
            str(Path(self.session.screen.record.profile_path).parent)
            if self.session.screen.record.profile_path
            else "/usr/share/color/icc"
        )
        path, _ = QFileDialog.getOpenFileName(self, "Choose the screen's profile", start, "Profiles (*.icc *.icm)")
        if path:
            self.session.screen.choose_profile(path, "chosen")

    def _ask_desktop(self) -> None:
        if not self.session.screen.ask_desktop():
            self.session.bus.say(
                "The desktop knows no profile for this screen. Choose the file your calibration wrote."
            )

    def _shows_text(self) -> str:
        """What this screen can and cannot show of this paper and this picture."""
        session = self.session
        facts, own, cover = self._facts(), session.screen.record.contrast, session.inquiries.cover
        if facts is None:
            return ""
        parts = []
        if facts.is_paper and facts.contrast > 1:
            deep = "cannot show how deep its black is" if own < facts.contrast else "shows its black as it prints"
            parts.append(f"Paper {facts.contrast:.0f} : 1 on a screen of {own:.0f} : 1: it {deep}.")
        if cover is not None:
            parts.append(f"It holds {cover.share:.0f} % of this paper's gamut.")
        judging, beyond = session.judging, session.judging.beyond_screen
        printed = None if judging.judgement is None or not judging.is_current else judging.judgement.screen_print
        if beyond is not None:
            of_print = "" if printed is None else f", {share_words(printed)} of the print"
            parts.append(f"Beyond it: {share_words(beyond)} of the picture{of_print}.")
        depth = self.screen().depth() if self.screen() else 24
        bits = 10 if depth == 30 else 8
        parts.append(
            f"{bits} bits a channel{': faint steps can be the screen’s, not the print’s' if bits == 8 else ''}."
        )
        return " ".join(parts)

    def _facts(self) -> Facts | None:
        take = self.session.now.take
        return None if take is None else self.session.shelf.facts_of(take.condition)

    def refresh(self) -> None:
        """Follow the session."""
        part = self.session.screen
        screen = part.record
        self.session.inquiries.ask_cover()
        name = f"{part.key}\n" if len(part.seen) > 1 else ""
        if screen.profile_path:
            self._profile.setText(f"{name}{part.profile.description}\nfrom: {word('source', screen.source or 'file')}")
            self._caution.setText(
                desktop_converts() or "If the desktop converts colours as well, switch that off for this window."
            )
        else:
            self._profile.setText(f"{name}No profile known: colours are shown as if the screen were sRGB.")
            self._caution.setText(part.doubt)
        with QSignalBlocker(self._date):
            self._date.setDate(QDate.fromString(screen.calibrated or "2000-01-01", "yyyy-MM-dd"))
        by_hours = screen.hours_a_day > 0
        show_choice(self._unit, "hours" if by_hours else "days")
        self._interval.setSuffix(" hours" if by_hours else " days")
        show_number(self._interval, screen.interval_hours if by_hours else screen.interval_days)
        self._day.setEnabled(by_hours)
        show_number(self._day, screen.hours_a_day or 8.0)
        for field, value in (
            (self._contrast, screen.contrast),
            (self._white, screen.white),
            (self._lux, screen.lux),
            (self._kelvin, screen.kelvin),
        ):
            show_number(field, value)
        show_choice(self._light, screen.light)
        self._refresh_drift()
        self._refresh_advice()

    def _refresh_drift(self) -> None:
        readings, trust = self.session.screen.record.readings, self.session.screen.trust
        when = np.array([date.fromisoformat(r.when).toordinal() for r in readings], dtype=float)
        light = np.array([r.luminance for r in readings], dtype=float)
        ends = (date_words(readings[0].when), date_words(readings[-1].when)) if readings else ("", "")
        aim = (self.session.screen.record.aim_luminance, "aim")
        self._drift.show_traces([Trace("white", when, light, dots=True)] if readings else [], aim, ends=ends)
        self._trust.setText(f"{capital(trust.words)}. {self.session.screen.doubt}")

    def _refresh_advice(self) -> None:
        advice = self.session.logbook.brightness
        words = "Choose a paper first." if advice is None else advice.words
        if advice is not None and abs(advice.offset) >= 0.17:
            facts = self._facts()
            lux = lux_for_screen(self.session.screen.record.white, facts.white_y) if facts else 0
            words += f" Or light the print with {lux:.0f} lx."
        self._advice.setText(f"{words}\n{self._shows_text()}")
        lighten = "" if advice is None else lighten_words(advice)
        self._lighten.setVisible(bool(lighten))
        self._lighten.setText(lighten)

    def set_room(self, room: theme.Room) -> None:
        """Painted parts follow the room."""
        self._drift.room = room
        self._drift.update()


def standards_html() -> str:
    """The standards' values beside what is usual at home."""
    rows = "".join(
        f"<tr><td>{v.what}</td><td><b>{v.value}</b></td><td>{v.standard}</td><td>{v.at_home}</td></tr>"
        for v in VIEWING_VALUES
    )
    head = "<tr><td></td><td>the standard says</td><td></td><td>usual at home (common practice)</td></tr>"
    return (
        f"<p>Values of ISO 3664:2009 and ISO 12646, written down from memory: look them up where money hangs on them.</p>"
        f"<table cellspacing='6'>{head}{rows}</table>"
    )
