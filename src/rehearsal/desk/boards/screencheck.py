"""Checking this screen: patches are shown and read, and compared with what the profile promises."""

from __future__ import annotations

from datetime import date
from pathlib import Path

import numpy as np
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QColor, QPainter, QPaintEvent
from PyQt6.QtWidgets import QDialog, QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from rehearsal.core.errors import RehearsalError
from rehearsal.core.screen.check import GOOD_MEAN, USABLE_MEAN, ScreenCheck, check_patches, check_screen, patch_name
from rehearsal.core.screen.whites import AIMS, colour_temperature
from rehearsal.core.values.words import date_words
from rehearsal.demo.screens import SCREENS, simulated_display
from rehearsal.desk import theme
from rehearsal.desk.boards.base import Board
from rehearsal.desk.parts.checkrings import check_groups, check_rings
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.rings import Ring, RingLine
from rehearsal.desk.parts.widgets import Form, button, choice, keep_or_leave, quiet, show_choice
from rehearsal.devices.protocols import Colorimeter
from rehearsal.devices.screenfile import read_screen_file
from rehearsal.devices.simulated.display import SimulatedColorimeter
from rehearsal.workbook.values import PatchOff, ScreenReading

_SHOW_MS = 45
_HOURS_A_DAY = 8.0
#: Heights of the history that are drawn in any case: cd/m², K, ΔE₀₀.
_LEAST = (5.0, 150.0, USABLE_MEAN)


class PatchView(QWidget):
    """The patch that is being read; afterwards all of them as rings along a line, higher the further they are off."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.current: np.ndarray | None = None
        self.result: ScreenCheck | None = None
        self.rings = RingLine("How far each patch is off", "ΔE₀₀")
        self.rings.hide()
        QVBoxLayout(self).addWidget(self.rings)
        self.layout().setContentsMargins(0, 0, 0, 0)
        self.setMinimumSize(300, theme.px(110))
        self.setAccessibleName("Patches")

    def refresh(self) -> None:
        """The rings of a check, when there is one and nothing is being read."""
        self.rings.setVisible(self.current is None and self.result is not None)
        if self.result is not None:
            rings = check_rings(PatchOff.each(self.result.rgb, self.result.delta))
            limit = (GOOD_MEAN, f"good on average up to ΔE₀₀ {GOOD_MEAN:.1f}")
            self.rings.show_rings(rings, USABLE_MEAN, check_groups(rings), limit)
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """One large patch while reading, words before."""
        painter = QPainter(self)
        if self.current is not None:
            painter.fillRect(self.rect(), QColor.fromRgbF(*[float(v) for v in self.current]))
        elif self.result is None:
            painter.setPen(self.room.colour("quiet"))
            painter.setFont(theme.font())
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "Patches are shown here while they are read.\n"
                             "Lay the instrument flat on this place, in a dim room.")  # fmt: skip


class TypedReading(QDialog):
    """A reading typed in from another instrument's display."""

    def __init__(self, luminance: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Type in a reading")
        rows = QVBoxLayout(self)
        form = Form()
        self._luminance = NumberField(5, 2000, 1, "cd/m²")
        self._luminance.setValue(luminance)
        form.row("White", self._luminance)
        self._black = NumberField(0, 20, 3, "cd/m²", 0.01)
        form.row("Black (0: not read)", self._black)
        self._temperature = NumberField(0, 12000, 0, "K", 50)
        form.row("Colour temperature (0: not read)", self._temperature)
        self._mean = NumberField(-1, 50, 2, "", 0.1)
        self._mean.setValue(-1)
        self._mean.setSpecialValueText("not read")
        form.row("Mean ΔE₀₀ of a check", self._mean)
        rows.addLayout(form)
        rows.addWidget(keep_or_leave(self, "Keep the reading", "Leave it"))

    def value(self) -> ScreenReading:
        """The reading."""
        mean = self._mean.value()
        state = "" if mean < 0 else "good" if mean <= GOOD_MEAN else "usable" if mean <= USABLE_MEAN else "calibrate"
        return ScreenReading(
            when=date.today().isoformat(),
            luminance=self._luminance.value(),
            black=self._black.value(),
            temperature=self._temperature.value(),
            white_gap=0.0,
            mean=mean,
            worst=mean,
            state=state,
            source="typed",
        )


class ScreenCheckBoard(Board):
    """Patches at the left; aims, verdict and history at the right."""

    title = "Check this screen"

    def build(self) -> None:
        """Patches, ways to read, aims, verdict, history."""
        self._read = button("Read with the simulated colorimeter", self.start)
        self._load = button("Load readings (CGATS)…", self._choose_file)
        self._type = button("Type in a reading…", self._type_in)
        self.head(self._read, self._load, self._type)
        body = QHBoxLayout()
        body.setSpacing(18)
        left = QVBoxLayout()
        left.setSpacing(10)
        self.view = PatchView()
        left.addWidget(self.view, 3)
        self.history = (
            RingLine("White against the aim, over time", "cd/m²", signed=True),
            RingLine("Its warmth against the aim", "K", 0, signed=True),
            RingLine("How far the checks were off on average", "ΔE₀₀"),
        )
        for line in self.history:
            left.addWidget(line, 1)
        body.addLayout(left, 1)
        side = QVBoxLayout()
        side.setSpacing(5)
        form = Form()
        self._aim = NumberField(40, 400, 0, "cd/m²", 5)
        self._aim.valueChanged.connect(lambda v: self.session.screen.set(aim_luminance=v))
        form.row("Aim for white", self._aim)
        self._white = choice([(name, name) for name in AIMS])
        self._white.activated.connect(lambda _i: self.session.screen.set(aim_white=self._white.currentData()))
        form.row("Aim for its colour", self._white)
        side.addLayout(form)
        self.verdict = quiet(wrap=True)
        self.verdict.setMinimumHeight(theme.px(86))
        side.addWidget(self.verdict)
        row = QHBoxLayout()
        self._use = button("Use this white and contrast", self._use_values)
        self._forget = button("Forget the last reading", self.session.screen.forget_reading)
        row.addWidget(self._use)
        self._recall = button("Bring it back", self.session.screen.recall_reading)
        row.addWidget(self._forget)
        row.addWidget(self._recall)
        row.addStretch(1)
        side.addLayout(row)
        side.addStretch(1)
        body.addLayout(side)
        self.rows.addLayout(body, 1)
        self._timer = QTimer(self)
        self._timer.setInterval(_SHOW_MS)
        self._timer.timeout.connect(self._step)
        self._instrument: Colorimeter | None = None
        self._patches = check_patches()
        self._readings: list[np.ndarray] = []

    def open(self) -> None:
        """Show the history."""
        self.refresh()

    def instrument(self) -> Colorimeter:
        """The simulated colorimeter on a simulated display like this screen's profile, as old as the calibration."""
        name = Path(self.session.screen.record.profile_path).name
        display = simulated_display(name if name in SCREENS else "desk-screen-standard.icc")
        days = self.session.screen.trust.days if self.session.screen.trust.days is not None else 120
        hours = max(days, 0) * _HOURS_A_DAY
        return SimulatedColorimeter(display, hours, seed=len(self.session.screen.record.readings) + 3)

    def start(self) -> None:
        """Show and read one patch after the other."""
        self._instrument, self._readings = self.instrument(), []
        self.view.result = None
        self._read.setEnabled(False)
        self._next()
        self._timer.start()

    def _next(self) -> None:
        at, count = len(self._readings), len(self._patches)
        self.view.current = self._patches[at] if at < count else None
        told = f"Reading patch {at + 1} of {count}: {patch_name(self._patches[at])}" if at < count else ""
        self.sentence.setText(told)
        self.view.refresh()

    def _step(self) -> None:
        assert self._instrument is not None
        self._readings.append(self._instrument.read(self._patches[len(self._readings)]))
        self._next()
        if len(self._readings) == len(self._patches):
            self._stop()
            self.take(self._patches, np.array(self._readings), self._instrument.name)

    def _stop(self) -> None:
        self._timer.stop()
        self.view.current = None
        self._read.setEnabled(True)
        self.view.refresh()

    def take(self, rgb: np.ndarray, xyz: np.ndarray, source: str) -> None:
        """Judge readings and keep them in the history."""
        screen = self.session.screen.record
        try:
            result = check_screen(rgb, xyz, self.session.screen.profile, screen.aim_luminance, screen.aim_white)
        except RehearsalError as error:
            self.session.bus.say_error(error)
            return
        self.view.result = result
        black = 0.0 if np.isnan(result.black) else result.black
        self.session.screen.keep_reading(
            ScreenReading(
                when=date.today().isoformat(),
                luminance=result.luminance,
                black=black,
                temperature=result.temperature,
                white_gap=result.white_gap,
                mean=result.mean,
                worst=result.worst,
                state=result.state,
                source=source,
                patches=PatchOff.each(result.rgb, result.delta),
            )
        )
        self.view.refresh()
        self.refresh()

    def _choose_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Load readings of this screen", "", "Readings (*.txt *.cgats)")
        if name:
            self.load(Path(name))

    def load(self, path: Path) -> None:
        """Judge the readings of a CGATS file."""
        try:
            rgb, xyz = read_screen_file(path, self.session.screen.record.white)
        except RehearsalError as error:
            self.session.bus.say_error(error)
            return
        self.take(rgb, xyz, path.name)

    def _type_in(self) -> None:
        dialog = TypedReading(self.session.screen.record.white, self)
        if dialog.exec():
            self.session.screen.keep_reading(dialog.value())

    def _use_values(self) -> None:
        if self.session.screen.record.readings:
            last = self.session.screen.record.readings[-1]
            changes = {"white": round(last.luminance, 1)}
            if last.black > 0:
                changes["contrast"] = round(last.luminance / last.black)
            self.session.screen.set("read", **changes)

    def refresh(self) -> None:
        """Aims, verdict, history."""
        screen = self.session.screen.record
        self._aim.show_value(screen.aim_luminance)
        show_choice(self._white, screen.aim_white)
        for widget in (self._use, self._forget):
            widget.setEnabled(bool(screen.readings))
        self._recall.setVisible(self.session.screen.forgotten is not None)
        # a simulated meter would tell of a simulated screen: only the demo's own is one
        self._read.setVisible(screen.source == "demo" and Path(screen.profile_path).name in SCREENS)
        self.verdict.setText(self._verdict_text())
        aim = colour_temperature(np.array(AIMS[screen.aim_white]))
        values = (
            [r.luminance - screen.aim_luminance for r in screen.readings],
            [r.temperature - aim if r.temperature else np.nan for r in screen.readings],
            [r.mean if r.mean >= 0 else np.nan for r in screen.readings],
        )
        days = [float(date.fromisoformat(r.when).toordinal()) for r in screen.readings]
        names = [date_words(r.when) for r in screen.readings]
        for line, row, least in zip(self.history, values, _LEAST, strict=True):
            line.show_rings(tuple(Ring(n, v, at=d) for n, v, d in zip(names, row, days, strict=True)), least)
        self.view.refresh()

    def _verdict_text(self) -> str:
        result, screen = self.view.result, self.session.screen.record
        if result is not None:
            more = f"White {result.luminance:.0f} cd/m², {result.temperature:.0f} K"
            contrast = "" if np.isnan(result.contrast) else f", contrast {result.contrast:.0f} : 1"
            return f"{result.words}\n{more}{contrast}."
        if screen.readings:
            last = screen.readings[-1]
            mean = "" if last.mean < 0 else f", mean ΔE₀₀ {last.mean:.1f}"
            return f"Last read on {date_words(last.when)} ({last.source}): white {last.luminance:.0f} cd/m²{mean}."
        return "Not read yet. Load the readings your instrument's software wrote (CGATS), or type one in."

    def hideEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        """Stop reading when the board is closed."""
        if self._timer.isActive():
            self._stop()
        super().hideEvent(event)

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        super().set_room(room)
        for part in (self.view, self.view.rings, *self.history):
            part.room = room
            part.update()
