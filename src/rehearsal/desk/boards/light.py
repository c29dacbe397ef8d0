"""Telling how bright the light on the prints is: known, matched with a sheet of paper beside the screen, or read off a camera."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from rehearsal.core.screen.brightness import USUAL_KELVIN, USUAL_LIGHT
from rehearsal.core.screen.nometer import (
    APERTURES,
    CAMERA_STOPS,
    GREY_CARD,
    SPEEDS,
    TIMES,
    Exposure,
    field_y,
    offset_of,
    time_words,
)
from rehearsal.core.values.words import stops_words, word
from rehearsal.desk import theme
from rehearsal.desk.boards.base import Board
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.widgets import Form, button, choice, heading, quiet, show_choice

_KEYS = {
    Qt.Key.Key_Down: -1, Qt.Key.Key_Up: 1, Qt.Key.Key_PageDown: -8, Qt.Key.Key_PageUp: 8,
    Qt.Key.Key_End: -255, Qt.Key.Key_Home: 255,
}  # fmt: skip
_FULL = 255


class WhiteField(QWidget):
    """A grey of the screen's own numbers, made darker and brighter by keys. ``changed`` tells its 8-bit value."""

    changed = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.value = _FULL
        self.setMinimumSize(theme.px(260), theme.px(220))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("White field, to hold a sheet of paper beside")

    def set_value(self, value: int) -> None:
        """Another grey."""
        self.value = min(max(value, 1), _FULL)
        self.setAccessibleDescription(f"{self.value} of {_FULL}")
        self.update()
        self.changed.emit(self.value)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down by the smallest step, page up and down by eight."""
        step = _KEYS.get(Qt.Key(event.key())) if event is not None else None
        if event is None or step is None:
            super().keyPressEvent(event)
            return
        self.set_value(self.value + step)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """The keys go to the field."""
        self.setFocus()
        super().mousePressEvent(event)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """One colour, on black: nothing brighter stands beside it."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(0, 0, 0))
        edge = theme.px(28)
        painter.fillRect(self.rect().adjusted(edge, edge, -edge, -edge), QColor(self.value, self.value, self.value))


class LightBoard(Board):
    """The field at the left; the three ways of telling at the right."""

    title = "How bright are the light on the print and this screen?"
    follows = ("take", "facts", "screen", "conditions")

    def build(self) -> None:
        """Field, known values, match, camera."""
        self.field = WhiteField()
        self.field.changed.connect(lambda _v: self._show_match())
        body, side = QHBoxLayout(), QVBoxLayout()
        body.setSpacing(theme.px(20))
        body.addWidget(self.field, 3)
        for rows in (self._known(), self._matched(), self._camera()):
            for row in rows:
                side.addWidget(row) if isinstance(row, QWidget) else side.addLayout(row)
            side.addSpacing(theme.px(14))
        side.addStretch(1)
        body.addLayout(side, 2)
        self.rows.addLayout(body, 1)

    def _known(self) -> list[QWidget | Form]:
        self._light = choice([("not told", ""), *((word("light", key), key) for key, _lux in USUAL_LIGHT)])
        self._light.activated.connect(self._choose_light)
        self._lux, self._white = NumberField(0, 20_000, 0, "lx", 10), NumberField(0, 1000, 0, "cd/m²")
        for field, name in ((self._lux, "lux"), (self._white, "white")):
            field.setSpecialValueText("not told")
            field.valueChanged.connect(lambda v, n=name: self._tell(n, v))
        form = Form()
        form.row("Prints are seen", self._light)
        form.row("Light on the print", self._lux)
        form.row("This screen's white", self._white)
        return [heading("You know it, or it is one of the usual"), form]

    def _matched(self) -> list[QWidget | QHBoxLayout]:
        self._match_words = quiet(wrap=True)
        how = quiet(
            "Hold a sheet of this paper in the light the prints are seen in, beside the field. Press ↓ until both are equally "
            "bright, ↑ when the field is too dark; look from a step away.",
            wrap=True,
        )
        self._alike = button("They are alike", self._keep_match)
        self._above = button("The paper is brighter than full white", self._say_above)
        buttons = QHBoxLayout()
        for item in (
            button("Darker", lambda: self._step(-1), "↓", "Make the field darker"),
            button("Brighter", lambda: self._step(1), "↑", "Make the field brighter"),
            self._alike,
            self._above,
        ):
            buttons.addWidget(item)
        buttons.addStretch(1)
        return [heading("You do not know: a sheet of paper beside the field"), how, buttons, self._match_words]

    def _camera(self) -> list[QWidget | QHBoxLayout]:
        usual = Exposure()
        self._aperture = choice([(f"f/{n:g}", n) for n in APERTURES])
        self._time = choice([(time_words(t), t) for t in TIMES])
        self._speed = choice([(f"ISO {s}", float(s)) for s in SPEEDS])
        self._filled = choice(
            [("a grey card of 18 %", "card"), ("the paper itself", "paper"), ("this screen, white", "screen")]
        )
        row = QHBoxLayout()
        parts = (
            (self._filled, "What fills the frame", "card"),
            (self._aperture, "Aperture", usual.aperture),
            (self._time, "Exposure time", usual.time),
            (self._speed, "Speed", usual.speed),
        )
        for box, name, value in parts:
            box.setAccessibleName(name)
            show_choice(box, value)
            box.activated.connect(lambda _i: self._show_camera())
            row.addWidget(box)
        row.addStretch(1)
        self._camera_words = quiet(wrap=True)
        self._take = button("Take it", self._keep_camera)
        last = QHBoxLayout()
        last.addWidget(self._take)
        last.addStretch(1)
        return [
            heading("You do not know: a camera's exposure"),
            quiet("Fill the frame, let the camera meter without a correction, and tell what it chose.", wrap=True),
            row,
            self._camera_words,
            last,
        ]

    # ---- known

    def _choose_light(self) -> None:
        name = self._light.currentData()
        screen = self.session.screen
        if name:
            screen.set(light=name, lux=dict(USUAL_LIGHT)[name], kelvin=USUAL_KELVIN[name])
        else:
            screen.forget("lux")

    def _tell(self, name: str, value: float) -> None:
        if value > 0:
            self.session.screen.set("told", **{name: value})
        else:
            self.session.screen.forget(name)

    # ---- matched

    def _step(self, by: int) -> None:
        self.field.set_value(self.field.value + by)
        self.field.setFocus()

    @property
    def _white_y(self) -> float:
        """Y of the open paper's white; 0 without a paper."""
        take = self.session.now.take
        facts = None if take is None else self.session.shelf.facts_of(take.condition)
        return facts.white_y if facts is not None and facts.is_paper else 0.0

    def _keep_match(self) -> None:
        """The field is as bright as the lit paper."""
        screen = self.session.screen
        screen.match(field_y(self.field.value, screen.profile) / self._white_y)
        advice = self.session.logbook.brightness
        self.session.bus.say("" if advice is None else advice.words, "undo")

    def _say_above(self) -> None:
        self.session.bus.say(
            "The lit paper is brighter than all this screen shows now: make the screen brighter or the light weaker, then match again."
        )

    def _show_match(self) -> None:
        known = self._white_y > 0
        self._alike.setEnabled(known)
        self._above.setVisible(self.field.value == _FULL)
        if not known:
            self._match_words.setText("Choose a paper first: what is held beside the field is a sheet of it.")
            return
        screen = self.session.screen
        y = field_y(self.field.value, screen.profile)
        offset = offset_of(y / self._white_y, self._white_y)
        said = "as bright as full white" if abs(offset) < 1 / 12 else f"{stops_words(offset)} darker than full white"
        doubt = "" if screen.record.profile_path else " This screen has no profile: taken for a usual one."
        self._match_words.setText(
            f"The field shows {100 * y:.0f} % of full white. Alike now: the paper is {said}.{doubt}"
        )

    # ---- camera

    @property
    def _exposure(self) -> Exposure:
        return Exposure(self._aperture.currentData(), self._time.currentData(), self._speed.currentData())

    def _reflectance(self) -> float:
        return GREY_CARD if self._filled.currentData() == "card" else self._white_y

    def _show_camera(self) -> None:
        seen, what = self._exposure, self._filled.currentData()
        about = f"{seen.luminance:.0f} cd/m²"
        self._take.setEnabled(what == "screen" or self._reflectance() > 0)
        if what == "screen":
            self._camera_words.setText(
                f"This screen's white is about {about}, give or take {stops_words(CAMERA_STOPS)}."
            )
        elif self._reflectance() > 0:
            self._camera_words.setText(
                f"What fills the frame shines with {about}: about {seen.lux(self._reflectance()):.0f} lx on it, "
                f"give or take {stops_words(CAMERA_STOPS)}."
            )
        else:
            self._camera_words.setText("Choose a paper first, or meter a grey card.")

    def _keep_camera(self) -> None:
        name = "white" if self._filled.currentData() == "screen" else "lux"
        value = self._exposure.luminance if name == "white" else self._exposure.lux(self._reflectance())
        self.session.screen.set("camera", **{name: float(round(value))})

    # ---- following

    def open(self) -> None:
        """Start from full white."""
        self.field.set_value(_FULL)
        self.refresh()

    def refresh(self) -> None:
        """Follow what is told."""
        screen = self.session.screen
        show_choice(self._light, screen.record.light if screen.is_said("lux") else "")
        self._lux.show_value(screen.record.lux if screen.is_said("lux") else 0.0)
        self._white.show_value(screen.record.white if screen.is_said("white") else 0.0)
        self._show_match()
        self._show_camera()
        advice = self.session.logbook.brightness
        self.sentence.setText(
            "Nobody has told it yet; until then nothing is said of how light prints will look."
            if advice is None
            else advice.words
        )
