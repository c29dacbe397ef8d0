"""Station 1: can this screen be trusted, and how bright should it be?"""

from __future__ import annotations

import math
from datetime import date
from pathlib import Path

from PyQt6.QtCore import QDate, QSignalBlocker
from PyQt6.QtWidgets import (
    QBoxLayout,
    QComboBox,
    QDateEdit,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from rehearsal.core.screen.brightness import USUAL_KELVIN, USUAL_LIGHT, lighten_words, lux_for_screen
from rehearsal.core.screen.check import USABLE_MEAN
from rehearsal.core.screen.drift import drift
from rehearsal.core.screen.held import Held, held, limit_for, meeting_words
from rehearsal.core.screen.nometer import CAMERA_STOPS
from rehearsal.core.screen.standards import VIEWING_VALUES
from rehearsal.core.values.words import capital, date_words, share_words, stops_words, word
from rehearsal.desk import theme
from rehearsal.desk.monitor import desktop_converts
from rehearsal.desk.parts.checkrings import check_rings
from rehearsal.desk.parts.driftplot import DriftPlot
from rehearsal.desk.parts.lightscale import LightScale
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.rail import Rail, Scale
from rehearsal.desk.parts.rings import RingLine
from rehearsal.desk.parts.widgets import (
    Form,
    button,
    choice,
    heading,
    link,
    quiet,
    scrolled,
    show_choice,
    show_page,
)
from rehearsal.desk.trays.base import Tray
from rehearsal.tasks.conditions import Facts
from rehearsal.workbook.values import ScreenRecord

#: Brightness is even in doublings, colour in mired (a mired step looks alike everywhere along the daylight locus).
LUX = Scale(30.0, 3000.0, math.log2, lambda v: float(2.0**v), 1 / 6)
KELVIN = Scale(2200.0, 9000.0, lambda k: 1e6 / k, lambda m: 1e6 / m, 5.0)
LUX_PLACES = ((50.0, "dim"), (150.0, ""), (320.0, "hall"), (500.0, ""), (1000.0, "window"), (2000.0, ""))
KELVIN_PLACES = ((2700.0, "lamp"), (4000.0, "hall"), (5000.0, ""), (6500.0, "north"))


_UNTOLD = "not told"
_MATCHED = "An example: matched by eye, nobody knows cd/m²."
_EXAMPLE = "An example: nobody has told how bright this screen and the light on the prints are."


class ScreenTray(Tray):
    """What is seen and what will be held, the light on the print, drift and checks of the screen, its profile and calibration."""

    follows = ("screen", "take", "facts", "judgement", "arrival")

    def build(self) -> None:
        """Columns: what is seen and held, the light, drift, check, the screen, when to calibrate, a limit."""
        self._build_scale()
        self._build_light()
        drift = self.column("Drift of its white", 206, 1, about=("reading", "forget-reading"))
        self._drift = DriftPlot()
        drift.rows.addWidget(self._drift, 1)
        self._trust = quiet(wrap=True)
        drift.add(self._trust)
        drift.pair(button("Calibrated today", self._today))
        self._build_check()
        self._build_screen()
        self._build_calibration()
        self._build_limit()
        self._caution = ""

    def _build_scale(self) -> None:
        column = self.column("What you see, and what you will hold", 506)
        self._unit_words = quiet("cd/m², each line ten times")
        column.beside_title(self._unit_words)
        body = self._scale_body = QHBoxLayout()
        body.setSpacing(theme.px(12))
        self.scale = LightScale(self._preview_whites)
        self.scale.screen_set.connect(lambda v: self.session.screen.set(white=float(round(v))))
        self.scale.paper_set.connect(self._set_paper_white)
        body.addWidget(self.scale)
        said = QVBoxLayout()
        said.setSpacing(2)
        self._told: list[tuple[QLabel, QLabel]] = []
        for _ in range(4):
            pair = heading(""), quiet(wrap=True)
            for label in pair:
                said.addWidget(label)
            self._told.append(pair)
        said.addStretch(1)
        self._lighten = button("Lighten this print", self.session.logbook.lighten_for_light)
        said.addWidget(self._lighten)
        body.addLayout(said, 1)
        column.rows.addLayout(body, 1)

    def _build_light(self) -> None:
        column = self.column("Light on the print", 226, about=("screen", "match-light"))
        column.beside_title(link("standards…", self._show_standards, "Standards for light and room"))
        told = link("no meter?", lambda: self.board_wanted.emit("light"), "Tell the light without a meter")
        told.setToolTip("With a sheet of paper beside the screen, or a camera (Ctrl+L)")
        column.beside_title(told)
        self._light = choice([(_UNTOLD, ""), *((word("light", key), key) for key, _lux in USUAL_LIGHT)])
        self._light.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self._light.setAccessibleName("Prints are seen")
        self._light.activated.connect(self._choose_light)
        self._lux = self._said_field("lux", 5, 20_000, "lx", 10)
        self.lux_rail = Rail("How bright the light is", LUX, lambda v: f"{v:.0f} lx", LUX_PLACES)
        self.lux_rail.moving.connect(self._preview_lux)
        self.lux_rail.set_to.connect(lambda v: self.session.screen.set(lux=float(round(v))))
        self._kelvin = NumberField(0, 12000, 0, "K", 100)
        self._kelvin.setSpecialValueText("not known")
        self._kelvin.valueChanged.connect(lambda v: self.session.screen.set(kelvin=v))
        self.kelvin_rail = Rail(
            "How warm the light is", KELVIN, lambda v: f"{v:.0f} K" if v > 0 else "not known", KELVIN_PLACES
        )
        self.kelvin_rail.set_to.connect(lambda v: self.session.screen.set(kelvin=float(round(v, -1))))
        self._light.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        rows = (
            (self._light, "Light on the print", self._lux, self.lux_rail),
            (quiet("how warm"), "Its colour", self._kelvin, self.kelvin_rail),
        )
        for words, name, field, rail in rows:
            field.setAccessibleName(name)
            line = QHBoxLayout()
            line.addWidget(words, 1)
            field.setFixedWidth(theme.px(86))
            line.addWidget(field)
            column.rows.addLayout(line)
            column.add(rail)
        self._light_origin = quiet("", wrap=True)
        column.add(self._light_origin)
        column.end()

    def _said_field(self, name: str, least: float, most: float, unit: str, step: float = 1.0) -> NumberField:
        """A field for a value that is nobody's until it is told; emptied, it is nobody's again."""
        field = NumberField(0, most, 0, unit, step, least=least)
        field.setSpecialValueText(_UNTOLD)
        field.valueChanged.connect(
            lambda v: self.session.screen.set(**{name: v}) if v > 0 else self.session.screen.forget(name)
        )
        return field

    def _build_check(self) -> None:
        column = self.column("Check", 238)
        self._last_check = RingLine("", "ΔE₀₀")
        self._last_check.setAccessibleName("The last check of this screen")
        column.rows.addWidget(self._last_check, 1)
        self._check_words = quiet(wrap=True)
        column.add(self._check_words)
        check = button(
            "Check…", lambda: self.board_wanted.emit("check"), "Show patches and read them (F2)", "Check this screen"
        )
        column.pair(
            check, button("Real size…", lambda: self.board_wanted.emit("size"), "Lay a card on the screen (F3)")
        )

    def _build_screen(self) -> None:
        column = self.column("Screen", 238, about=("screen",))
        self._profile = quiet(wrap=True)
        column.pair(button("Choose…", self._choose), button("Ask the desktop", self._ask_desktop))
        form = Form()
        self._white = self._said_field("white", 20, 1000, "cd/m²")
        form.row("Screen's white", self._white)
        self._contrast = self._said_field("contrast", 1, 100_000, ": 1")
        form.row("Screen contrast", self._contrast)
        column.rows.addLayout(form)
        self._shows = quiet(wrap=True)
        told = QWidget()
        lines = QVBoxLayout(told)
        lines.setContentsMargins(0, 0, 0, 0)
        for label in (self._profile, self._shows):
            lines.addWidget(label)
        lines.addStretch(1)
        shown = scrolled(told)
        shown.setMinimumHeight(theme.px(40))
        column.add(shown)

    def _build_calibration(self) -> None:
        column = self.column("Reminder", 238, about=("screen",))
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
        self._interval = NumberField(1, 5000, 0, "days")
        self._interval.valueChanged.connect(self._set_interval)
        form.row("Remind me after", self._interval)
        self._hours = NumberField(0, 50_000, 0, "hours")
        self._hours.setSpecialValueText("not told")
        self._hours.setToolTip("As the screen's own menu counts them, less what it counted at the calibration")
        self._hours.valueChanged.connect(lambda v: self.session.screen.set(hours=v))
        form.row("Light since then", self._hours)
        column.rows.addLayout(form)
        column.end()

    def _build_limit(self) -> None:
        """For those who limit the whole screen to the paper instead of the proof."""
        column = self.column("Limit", 200, about=("screen",))
        form = Form()
        self._limited = NumberField(0, 100_000, 0, ": 1")
        self._limited.setSpecialValueText("no")
        self._limited.setToolTip("The contrast the whole screen is calibrated to: the proof does not limit it twice")
        self._limited.valueChanged.connect(lambda v: self.session.screen.set(limited=v if v > 1 else 0.0))
        form.row("Limited already to", self._limited)
        column.rows.addLayout(form)
        self._limit_words = quiet(wrap=True)
        column.add(self._limit_words)
        column.end()

    def on_stand(self, upright: bool) -> None:
        """Beside the pictures the words stand under the bars."""
        self._scale_body.setDirection(QBoxLayout.Direction.TopToBottom if upright else QBoxLayout.Direction.LeftToRight)
        self._unit_words.setVisible(not upright)

    # ---- whites that are dragged

    def _paper_y(self) -> float:
        facts = self._facts()
        return facts.white_y if facts is not None and facts.is_paper else 0.0

    def _held(self, screen: float, lux: float) -> Held | None:
        """What is seen and held at a screen's white and a light on the open paper; None without a paper."""
        facts = self._facts()
        if facts is None or not facts.is_paper or facts.contrast <= 1:
            return None
        record = self.session.screen.record
        return held(screen, record.contrast, lux, facts.white_y, facts.contrast, self.session.inquiries.tones)

    def _preview_whites(self, screen: float, paper: float) -> None:
        lux = paper * math.pi / self._paper_y()
        self._show_held(self._held(screen, lux), lux)

    def _preview_lux(self, lux: float) -> None:
        self._show_held(self._held(self.session.screen.record.white, lux), lux)

    def _set_paper_white(self, value: float) -> None:
        """The light on the print that makes its white so bright."""
        if self._paper_y() > 0:
            self.session.screen.set(lux=float(round(lux_for_screen(value, self._paper_y()))))

    def _show_held(self, seen: Held | None, lux: float) -> None:
        tones = self.session.inquiries.tones
        self.scale.show_held(seen, None if tones is None else tones.silhouette())
        screen = self.session.screen
        example = "" if screen.is_said("white", "lux") else _MATCHED if screen.record.beside > 0 else _EXAMPLE
        for (head, words), said in zip(self._told, told_of(seen, lux, example), strict=True):
            head.setText(said[0])
            words.setText(said[1])
            head.setVisible(bool(said[0]))
            words.setVisible(bool(said[1]))

    def _choose_unit(self) -> None:
        self.session.screen.set(by_hours=self._unit.currentData() == "hours")

    def _set_interval(self, value: float) -> None:
        if self.session.screen.record.by_hours:
            self.session.screen.set(interval_hours=value)
        else:
            self.session.screen.set(interval_days=int(value))

    def _show_standards(self) -> None:
        show_page(self, "Light and room", standards_html(), "Standards for light and room", 860, 470)

    def _choose_light(self) -> None:
        name = self._light.currentData()
        if not name:
            self.session.screen.forget("lux")
            return
        self.session.screen.set(light=name, lux=dict(USUAL_LIGHT)[name], kelvin=USUAL_KELVIN[name])

    def _today(self) -> None:
        self.session.screen.calibrated_today()

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
        if facts.is_paper and facts.contrast > 1 and session.screen.is_said("contrast"):
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
            self._caution = (
                desktop_converts() or "If the desktop converts colours as well, switch that off for this window."
            )
        else:
            self._profile.setText(f"{name}No profile known: colours are shown as if the screen were sRGB.")
            self._caution = part.doubt
        with QSignalBlocker(self._date):
            self._date.setDate(QDate.fromString(screen.calibrated or "2000-01-01", "yyyy-MM-dd"))
        by_hours = screen.by_hours
        show_choice(self._unit, "hours" if by_hours else "days")
        self._interval.setSuffix(" hours" if by_hours else " days")
        self._interval.show_value(screen.interval_hours if by_hours else screen.interval_days)
        self._hours.setEnabled(by_hours)
        for field, value in (
            (self._hours, screen.hours),
            (self._limited, screen.limited),
            (self._contrast, screen.contrast if part.is_said("contrast") else 0.0),
            (self._white, screen.white if part.is_said("white") else 0.0),
            (self._lux, screen.lux if part.is_said("lux") else 0.0),
            (self._kelvin, screen.kelvin),
        ):
            field.show_value(value)
        show_choice(self._light, screen.light if part.is_said("lux") else "")
        self._light_origin.setText(_light_origin_words(screen))
        self.lux_rail.show_value(screen.lux)
        self.kelvin_rail.show_value(screen.kelvin)
        self.session.inquiries.ask_tones()
        self._show_held(self._held(screen.white, screen.lux), screen.lux)
        self._refresh_drift()
        self._refresh_check()
        self._refresh_advice()

    def _refresh_drift(self) -> None:
        record, trust = self.session.screen.record, self.session.screen.trust
        read = [(r.when, r.luminance) for r in record.readings]
        made = drift(read, record.calibrated, float(record.interval_days), record.by_hours)
        self._drift.show_drift(made, record.aim_luminance, date.today())
        self._trust.setText(f"{capital(trust.words)}. {self.session.screen.doubt}")

    def _refresh_check(self) -> None:
        """The last check that read colours."""
        last = next((r for r in reversed(self.session.screen.record.readings) if r.patches), None)
        self._last_check.setVisible(last is not None)
        if last is None:
            self._check_words.setText("No colours of this screen were read yet.")
            return
        self._last_check.show_rings(check_rings(last.patches), USABLE_MEAN, ((0, "white to black, then colours"),))
        self._check_words.setText(f"{date_words(last.when)}, from {word('source', last.source)}: on the line is right.")

    def _refresh_advice(self) -> None:
        advice = self.session.logbook.brightness
        self._shows.setText(f"{self._caution} {self._shows_text()}".strip())
        lighten = "" if advice is None else lighten_words(advice)
        self._lighten.setVisible(bool(lighten))
        self._lighten.setText(lighten)
        seen = self._held(self.session.screen.record.white, self.session.screen.record.lux)
        said = self.session.screen.is_said("white", "lux")
        limited = (
            ""
            if seen is None or not said
            else f"To limit the whole screen to this paper, calibrate it to {limit_for(seen).words}."
        )
        self._limit_words.setText(limited)

    def set_room(self, room: theme.Room) -> None:
        """Painted parts follow the room."""
        for part in (self._drift, self.scale, self.lux_rail, self.kelvin_rail, self._last_check):
            part.room = room
            part.update()


_LAMPS = "Lamps get hot: keep paper and hands away."


def _light_origin_words(record: ScreenRecord) -> str:
    """How well the light is known."""
    if record.beside > 0:
        return f"Matched by eye: lux are not needed. {_LAMPS}"
    if record.origin("lux") == "camera":
        return f"From a camera: ± {stops_words(CAMERA_STOPS)}. {_LAMPS}"
    return f"A meter knows the lux better. {_LAMPS}"


def told_of(seen: Held | None, lux: float, example: str = "") -> list[tuple[str, str]]:
    """What is said beside the bars: four heads, each with its words; empty where nothing can be said.

    Args:
        example: why the bars are only an example and nothing follows from them; empty when light and screen are known.
    """
    if seen is None:
        return [("", "Choose a paper: its white and black stand beside the screen's."), ("", ""), ("", ""), ("", "")]
    deeper = None if seen.deeper is None else share_words(seen.deeper)
    last = example or f"{capital(meeting_words(seen, lux))}."
    return [
        (f"paper white {seen.paper_white:.0f}", "drag: light on the print"),
        (f"paper black {seen.paper_black:.1f}", f"contrast {seen.paper_contrast:.0f} : 1"),
        (
            "" if deeper is None else f"{deeper} of the picture",
            "" if deeper is None else "lies deeper: the paper cannot hold it",
        ),
        ("", last),
    ]


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
