"""The card of a paper, in the order of the work: the paper in hand, the driver, the printer. What is told is kept at once."""

from __future__ import annotations

import functools
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QSignalBlocker, Qt, QUrl
from PyQt6.QtGui import QDesktopServices
from PyQt6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from rehearsal.core.errors import RehearsalError
from rehearsal.core.papers.names import medium_words
from rehearsal.core.papers.surface import BRIGHTENERS, brightener_words, detail_words, family
from rehearsal.core.sheet.layout import SHEETS
from rehearsal.core.values.condition import TO_TELL, USUAL, PrintCondition
from rehearsal.core.values.words import capital, counted, in_row, word
from rehearsal.desk import theme
from rehearsal.desk.boards.base import Board
from rehearsal.desk.parts.bars import Bar, Bars
from rehearsal.desk.parts.cardrows import (
    CardRow,
    Field,
    NotesField,
    StepHead,
    Steps,
    SuggestField,
    TextField,
    WordChoice,
)
from rehearsal.desk.parts.greys import GreysStrip
from rehearsal.desk.parts.margins import MarginFields
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.papertile import BAR_END, ShelfLight, Swatch
from rehearsal.desk.parts.profilesays import room_bars, room_of, said_rows
from rehearsal.desk.parts.toldlist import ToldList
from rehearsal.desk.parts.widgets import button, choice, quiet, scrolled, show_choice
from rehearsal.desk.words import INTENT_KEYS, rendering_words
from rehearsal.tasks.conditions import Facts, with_profile

MADE_BY = (("nobody has said", ""), ("the paper's maker", "maker"),
           ("ourselves, for this printer", "own"), ("a service, from our chart", "service"),
           ("the lab", "lab"), ("a standard space", "standard"))  # fmt: skip
#: Suggestions per field, all common words of the trade; anything else can be typed.
SUGGESTIONS: dict[str, tuple[str, ...]] = {
    "media_setting": ("Photo gloss", "Photo semi-gloss", "Photo lustre", "Baryta", "Matte", "Fine art", "Fine art, smooth",
                      "Fine art, textured", "Canvas"),
    "quality": ("Standard", "High", "One below the highest", "Highest"),
    "resolution": ("720 dpi", "1440 dpi", "2880 dpi", "600 dpi", "1200 dpi", "2400 dpi"),
    "ink": ("matte black", "photo black"),
    "black_mode": ("matte", "photo", "photo, carbon-rich"),
    "gloss_coat": ("none", "automatic", "full", "only on ink"),
    "high_speed": ("off", "on, both directions"),
    "feed": ("top", "rear, single sheet", "front, straight", "roll", "cassette"),
    "panel_setting": ("Plain", "Thick sheet", "Fine art", "Wide platen gap"),
    "surface": ("gloss", "semi-gloss", "lustre", "baryta", "matte", "cotton", "textured", "canvas"),
    "texture": ("none", "fine", "smooth", "textured", "coarse"),
    "weight": ("190 g/m²", "260 g/m²", "285 g/m²", "310 g/m²"),
    "lab_space": ("sRGB", "opRGB", "the profile on this card"),
    "lab_days": ("2 days", "5 days", "10 days"),
}  # fmt: skip
_HAND = (("surface", "surface"), ("texture", "texture"), ("weight", "weight"))
_DRIVER = (("printer", "printer"), ("media_setting", "media"), ("preset", "preset"), ("quality", "quality"),
           ("resolution", "resolution"), ("black_mode", "black mode"), ("ink", "black ink"), ("gloss_coat", "gloss coat"),
           ("high_speed", "high speed"), ("feed", "feed"))  # fmt: skip
_LAB = (("lab_space", "space"), ("lab_price", "price"), ("lab_days", "days"))
#: Fields of each place of the work, for its ring.
_PLACES = (
    ("paper", "surface", "brightener"),
    (*TO_TELL, "high_speed"),
    ("loading", "dry_hours", "margins_mm", "borderless", "sheets"),
)
#: Height of what the profile says.
_FOOT = 64


class CardBoard(Board):
    """Every field is kept when it is left, and can be undone; fields read from a name carry a bar until somebody has told them."""

    title = "Card"
    follows = (*Board.follows, "looked", "lost")

    def build(self) -> None:
        """Head, three columns, foot."""
        self._right = button(
            "What was read is right",
            self._say_right,
            "A person has looked at what was read from names and at what is only usual",
        )
        self._other = button("Another profile file…", self._choose_profile)
        self._sheet = button("Its instruction sheet", self._open_instructions)
        self._figures = button("On the shelf", functools.partial(self.other_wanted.emit, "shelf"), "All cards: Q")
        self.head(self._right, self._other, self._sheet, self._figures)
        self._rows: dict[str, CardRow] = {}
        self._condition: PrintCondition | None = None
        body, columns = QWidget(), QHBoxLayout()
        body.setLayout(columns)
        columns.setContentsMargins(0, 0, 8, 0)
        columns.setSpacing(theme.px(26))
        for build in (self._build_hand, self._build_driver, self._build_printer):
            column = QVBoxLayout()
            column.setSpacing(theme.px(5))
            build(column)
            column.addStretch(1)
            columns.addLayout(column, 1)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setWidget(body)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.rows.addWidget(area, 1)
        self.rows.addLayout(self._foot())

    # ---- the three places

    def _build_hand(self, column: QVBoxLayout) -> None:
        self._heads = [StepHead("Paper in hand", "what lies on the table")]
        column.addWidget(self._heads[0])
        line = QHBoxLayout()
        line.setSpacing(theme.px(14))
        self.swatch = Swatch()
        line.addWidget(self.swatch)
        says = QVBoxLayout()
        self._contrast, self._detail = quiet(), quiet(wrap=True)
        self.lost = Bars("What it loses of the open picture", BAR_END)
        for part in (self._contrast, self.lost, self._detail):
            says.addWidget(part)
        says.addStretch(1)
        line.addLayout(says, 1)
        column.addLayout(line)
        self._text(column, "paper", "name")
        self._made_by = choice(list(MADE_BY))
        self._made_by.activated.connect(lambda _i: self._tell("made_by", self._made_by.currentData()))
        self._row(column, "made_by", "profile by", self._made_by)
        for name, label in _HAND:
            self._suggest(column, name, label)
        self._text(column, "sheets", "sheets")
        words = WordChoice([*((w, w) for w in BRIGHTENERS), ("not told", "")], "Brightener")
        self._told_row(column, "brightener", "brightener", words)
        self._brightener = quiet(wrap=True)
        column.addWidget(self._brightener)
        self._told_row(column, "notes", "notes", NotesField())

    def _build_driver(self, column: QVBoxLayout) -> None:
        self._heads.append(StepHead("In the driver", "what its window asks for, top to bottom"))
        column.addWidget(self._heads[1])
        self._lab = QCheckBox("a lab prints on it")
        self._lab.toggled.connect(lambda on: self._tell("lab", on))
        column.addWidget(self._lab)
        for name, label in (*_DRIVER, *_LAB):
            if name in SUGGESTIONS:
                self._suggest(column, name, label)
            else:
                self._text(column, name, label)
        self._intent = choice([(capital(rendering_words(r)), r) for r, _short, _key in INTENT_KEYS])
        self._intent.activated.connect(lambda _i: self._tell_intent())
        self._row(column, "default_intent", "usual intent", self._intent)
        self._checks = {}
        for name, text in (("prescribed", "the lab prescribes this intent"), ("borderless", "may be printed borderless"),
                           ("shortlist", "compared on all papers")):  # fmt: skip
            box = QCheckBox(text)
            box.toggled.connect(functools.partial(self._tell, name))
            self._checks[name] = box
            column.addWidget(box)

    def _build_printer(self, column: QVBoxLayout) -> None:
        self._heads.append(StepHead("On the printer", "what your hands do"))
        column.addWidget(self._heads[2])
        self.margins = MarginFields()
        self.margins.margins_set.connect(lambda margins: self._tell("margins_mm", tuple(margins)))
        column.addWidget(self.margins)
        self._suggest(column, "panel_setting", "on its panel")
        self._text(column, "ink_set", "ink set")
        self._loading = quiet("Loading, step by step")
        column.addWidget(self._loading)
        self.steps = Steps()
        self.steps.told.connect(lambda text: self._tell("loading", text))
        column.addWidget(self.steps)
        self._dry = NumberField(0, 240, 0, "hours", 1)
        self._dry.setSpecialValueText("not told")
        self._dry.valueChanged.connect(lambda value: self._tell("dry_hours", float(value)))
        self._row(column, "dry_hours", "dry after", self._dry)
        self._dry_words = quiet("Log waits for it. Stack, frame or coat nothing that is wet; with sprays and solvents mind the "
                                "maker's sheet, fresh air and local rules.", wrap=True)  # fmt: skip
        column.addWidget(self._dry_words)

    def _foot(self) -> QHBoxLayout:
        """What the profile says."""
        foot = QHBoxLayout()
        foot.setSpacing(theme.px(24))
        self.greys = GreysStrip()
        self.said = ToldList("What its profile says", legend=False)
        self.room_bar = Bars("Room for colour", 100.0)
        self._file = quiet(wrap=True)
        said = scrolled(self.said)
        said.setFixedHeight(theme.px(_FOOT))
        for part, stretch in ((self.greys, 3), (said, 4), (self.room_bar, 3), (self._file, 3)):
            foot.addWidget(part, stretch, Qt.AlignmentFlag.AlignTop)
        return foot

    # ---- rows

    def _row(self, column: QVBoxLayout, name: str, label: str, field: QWidget) -> None:
        row = self._rows[name] = CardRow(label, field)
        column.addWidget(row)

    def _told_row(self, column: QVBoxLayout, name: str, label: str, field: Field) -> None:
        field.told.connect(functools.partial(self._tell, name))
        self._row(column, name, label, field)

    def _text(self, column: QVBoxLayout, name: str, label: str) -> None:
        self._told_row(column, name, label, TextField())

    def _suggest(self, column: QVBoxLayout, name: str, label: str) -> None:
        self._told_row(column, name, label, SuggestField(SUGGESTIONS[name]))

    # ---- telling

    def _tell(self, name: str, value: object) -> None:
        """Keep what was told about the card that is shown, whatever is open by now."""
        shown = self._condition and self.session.shelf.get(self._condition.id)
        if shown is None:
            return
        if name == "sheets":
            value = tuple(part.strip() for part in str(value).split(",") if part.strip()) or shown.sheets
        if name == "paper" and not value:  # a paper without a name cannot be found again
            self._show_fields(shown)
            return
        self._keep(shown.touched(**{name: value}))

    def _keep(self, changed: PrintCondition) -> None:
        """Keep the card; where it cannot be (a window that only looks), show it as it is."""
        self.session.shelf.change(changed)
        kept = self.session.shelf.get(changed.id)
        if kept is not None and kept != changed:
            self._show_fields(kept)

    def _flush(self) -> None:
        for field in (*(row.field for row in self._rows.values()), *self.steps.fields):
            if isinstance(field, (TextField, SuggestField, NotesField)):
                field.flush()

    def _tell_intent(self) -> None:
        rendering, shown = self._intent.currentData(), self._condition
        if shown is not None:
            self._keep(shown.touched(default_intent=rendering.intent, default_compensate=rendering.compensate))

    def _say_right(self) -> None:
        shown = self._condition
        if shown is not None:
            usual = (name for name in USUAL if shown.state(name) == "usual")
            self._keep(shown.touched(**{name: getattr(shown, name) for name in (*shown.read, *usual)}))

    def _choose_profile(self) -> None:
        shown = self._condition
        path, _ = QFileDialog.getOpenFileName(self, "Choose a printer profile", "", "Profiles (*.icc *.icm)")
        if path and shown is not None:
            try:
                self.session.shelf.change(with_profile(shown, Path(path)))
            except RehearsalError as error:
                self.session.bus.say_error(error)

    def _open_instructions(self) -> None:
        if self._condition is not None:
            QDesktopServices.openUrl(QUrl.fromLocalFile(self._condition.instructions))

    # ---- showing

    def subject(self) -> object:
        """The card that is shown."""
        card = self.session.now.card
        return None if card is None else card.id

    def open(self) -> None:
        """Count what it costs."""
        self.session.costs.ask_lost()
        self.refresh()

    def refresh(self) -> None:
        """Follow the session."""
        card = self.session.now.card
        self.setEnabled(card is not None)
        if card is None:
            self.sentence.setText("Choose a paper first.")
            return
        if self._condition is not None and self._condition.id != card.id:
            self._flush()  # what is being typed belongs to the card it was typed on
        self._condition = card
        self._show_fields(card)
        self._show_paper(card)
        self._show_rings(card)
        read = [name for name in card.read if getattr(card, name)]
        unread = (
            f" “{card.unread}” in its name was not understood; the tail of a name often is the medium."
            if card.unread
            else ""
        )
        told = "What is told here is kept at once and can be undone."
        if read:
            lines = counted(len(read), "line was", "lines were")
            told = f"{lines} read from the name of the profile; a bar marks what to look at once."
        self.sentence.setText(f"{card.name}. {told}{unread}")
        self._right.setText("What was read is right" if read else "What is usual is right")
        usual = card.is_ours and any(card.state(name) == "usual" for name in USUAL)
        self._right.setVisible(bool(read) or usual)
        self._sheet.setVisible(bool(card.instructions))

    def _show_fields(self, card: PrintCondition) -> None:
        for name, row in self._rows.items():
            row.mark(name in card.read and bool(getattr(card, name)))
            field = row.field
            if isinstance(field, (TextField, SuggestField, NotesField, WordChoice)):
                value = getattr(card, name)
                field.show_text(", ".join(value) if isinstance(value, tuple) else value)
        media = self._rows["media_setting"].field
        if isinstance(media, SuggestField):
            media.show_hint(medium_words(card.unread))
        show_choice(self._made_by, card.made_by)
        shown = next((r for r, _s, _k in INTENT_KEYS if r.intent == card.default_intent and
                      (r.intent != "relative" or r.compensate == card.default_compensate)), None)  # fmt: skip
        show_choice(self._intent, shown)
        for name, box in (*self._checks.items(), ("lab", self._lab)):
            with QSignalBlocker(box):
                box.setChecked(getattr(card, name))
        self.steps.show_steps(card.steps)
        self._dry.show_value(card.dry_hours)
        self._brightener.setText(brightener_words(card.brightener))
        self._show_lab(card.lab)

    def _show_lab(self, lab: bool) -> None:
        """A lab sets its own driver: it is asked other things."""
        for name, _label in _DRIVER[1:]:
            self._rows[name].setVisible(not lab)
        for name, _label in _LAB:
            self._rows[name].setVisible(lab)
        words = (
            ("At the lab", "what it asks for") if lab else ("In the driver", "what its window asks for, top to bottom")
        )
        self._heads[1].show_title(*words)
        for part in (self._heads[2], self._rows["panel_setting"], self._rows["ink_set"], self._rows["dry_hours"], self.margins,
                     self.steps, self._loading, self._dry_words, self._checks["borderless"]):  # fmt: skip
            part.setVisible(not lab)

    def _show_paper(self, card: PrintCondition) -> None:
        facts = self.session.shelf.facts_of(card.id)
        is_paper = facts is not None and facts.is_paper
        known = [f.white for f in self.session.shelf.facts.values() if isinstance(f, Facts) and f.is_paper]
        light = ShelfLight(known, self.room.lightest)
        self.swatch.show_paper(
            facts.white if facts and is_paper else None, facts.black if facts and is_paper else None, light
        )
        self._contrast.setText(f"contrast {facts.contrast:.0f} : 1" if facts is not None and is_paper else "")
        lost, master = self.session.costs.lost_on(card), self.session.now.master
        bars = (
            ()
            if lost is None or master is None
            else (Bar(f"lost of {master.name}", lost.share, f"{lost.share:.0f} %"),)
        )
        self.lost.most = max([BAR_END, *(bar.value for bar in bars)])
        self.lost.show_bars(bars)
        self._detail.setText(capital(detail_words("" if card.space else family(card.surface, card.texture))))
        sheet = next((s for s in reversed(card.sheets) if s in SHEETS), "A4")
        white = light.colour(facts.white) if facts is not None and is_paper else self.room.colour("text")
        self.margins.show_margins(sheet, card.margins_mm, white)
        self.greys.show_greys(facts.greys if facts is not None and is_paper else ())
        self.said.show_rows(said_rows(self.session.shelf, card))
        self.room_bar.show_bars(room_bars(room_of(self.session.shelf, card)))
        self._file.setText(f"{Path(card.profile_path).name}\nits figures are read from this file")

    def _show_rings(self, card: PrintCondition) -> None:
        hand, driver, printer = _PLACES
        asked = tuple(name for name, _label in _LAB) if card.lab else driver
        for head, names in zip(self._heads, (hand, asked, printer), strict=True):
            head.show_ring(*_ring_of(card, names))

    def set_room(self, room: theme.Room) -> None:
        """Drawn parts follow."""
        super().set_room(room)
        drawn = (self.swatch, self.lost, self.margins.drawing, self.greys, self.said, self.room_bar)
        part: Any
        for part in (*self._heads, *self._rows.values(), *drawn):
            part.room = room
            part.update()
        if self._condition is not None:
            self._show_paper(self._condition)


_STATES = (
    ("empty", "empty", "nobody has told"),
    ("read", "half", "only read from the name:"),
    ("usual", "half", "only usual, nobody has told:"),
)


def _ring_of(card: PrintCondition, names: Sequence[str]) -> tuple[str, str]:
    """The ring of a place of the work, and why."""
    states = {name: card.state(name) for name in names}
    for state, ring, words in _STATES:
        found = [word("field", name) for name, each in states.items() if each == state]
        if found:
            return ring, f"{words} {in_row(found)}"
    return "full", "all told"
