"""Station 5: tune the take while looking: its steps, the ladder of lightness, colour, how near it comes."""

from __future__ import annotations

from typing import Any

from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QBoxLayout, QGridLayout, QHBoxLayout

from rehearsal.core.tuning.summing import lightness_words
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.recipe import Recipe, Step
from rehearsal.core.values.words import capital, share_words, word
from rehearsal.desk import theme
from rehearsal.desk.parts.chromaladder import ChromaLadder
from rehearsal.desk.parts.ladder import RUNGS, Ladder
from rehearsal.desk.parts.ledger import Ledger
from rehearsal.desk.parts.valuefield import WIDE, ValueField
from rehearsal.desk.parts.whitepad import WhitePad
from rehearsal.desk.parts.widgets import button, choice, quiet, scrolled
from rehearsal.desk.trays.base import Tray
from rehearsal.desk.trays.tunenear import NearColumn
from rehearsal.desk.trays.tunepulled import PulledColumn
from rehearsal.desk.trays.tuning import Tuning

#: Width of the list of habits.
_HABITS = 144
#: Width of the fields of the ladder where two stand in a row.
_NARROW = 66


class TuneTray(Tray):
    """Ledger, ladder, colour, how near."""

    follows = ("take", "picture", "log", "habits", "screen", "near", "judgement")

    def build(self) -> None:
        """Columns in the order of looking."""
        self._fields: dict[str, ValueField] = {}
        self._tuning = Tuning(self.session)
        self._build_ledger()
        self._build_light()
        self.near = NearColumn(self, self._tuning, lambda: self.ledger.chosen)
        self._build_colour()
        self.pulls = PulledColumn(self, self._tuning)

    def _build_ledger(self) -> None:
        column = self.column(
            "Steps of this take",
            310,
            1,
            about=("recipe", "keep-looks", "variant", "light", "learnt", "habit", "lift", "history", "without-steps"),
        )
        column.drawn_height = 196
        column.beside_title(quiet("without, with"))
        self.ledger = Ledger()
        self.ledger.changed.connect(self._on_step)
        column.add(scrolled(self.ledger))
        self._sum = quiet(wrap=True)
        column.add(self._sum)
        self._old = quiet(
            "Tuned by an earlier arithmetic: the same numbers look different now. Change it, or keep it as it looks.",
            wrap=True,
        )
        column.add(self._old)
        self._keep = button("Keep as it looks now", self.session.takes.keep_looks)
        self._remove = button("Remove the step", self._remove_step, "The one with the bar")
        self._reset_button = button("Take all tuning away", self._reset, "As the picture is")
        self._habits = choice([("apply a habit…", 0)])
        self._habits.setAccessibleName("Apply a habit")
        self._habits.setFixedWidth(theme.px(_HABITS))
        self._habits.activated.connect(self._apply_habit)
        self._board_buttons = [
            button("Habits…", lambda: self.board_wanted.emit("habits"), "What is done again (F5)"),
            button(
                "Takes…",
                lambda: self.board_wanted.emit("takes"),
                "All takes of this picture, and how this one came about (F12)",
            ),
        ]
        column.pair(self._keep, self._remove, self._reset_button, self._habits, *self._board_buttons)

    def _build_light(self) -> None:
        column = self.column("Light", 340, 1)
        column.beside_title(quiet("drag a rung; press a thread for a free point"))
        self._light = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        self._light.setSpacing(theme.px(10))
        self.ladder = Ladder()
        self.ladder.moving.connect(lambda values: self._preview(self._recipe().with_tone(values)))
        self.ladder.set_to.connect(lambda values: self.session.takes.change_recipe(self._recipe().with_tone(values)))
        self._light.addWidget(self.ladder, 1)
        self._amounts = QGridLayout()
        self._amounts.setHorizontalSpacing(theme.px(8))
        self._amounts.setVerticalSpacing(theme.px(2))
        names = (*list(RUNGS)[:2], "lightness", "contrast", *list(RUNGS)[3:])
        self._rows = [(quiet(word("adjustment_short", name)), self._field(name)) for name in names]
        self._light.addLayout(self._amounts)
        self._place_amounts(False)
        column.rows.addLayout(self._light, 1)
        self._cut = quiet(wrap=True)
        column.add(self._cut)

    def _place_amounts(self, upright: bool) -> None:
        """Fields beside the ladder in its order, or two in a row below it."""
        for i, (label, field) in enumerate(self._rows):
            for widget in (label, field):
                self._amounts.removeWidget(widget)
            row, column = (i // 2, i % 2 * 2) if upright else (i, 0)
            self._amounts.addWidget(label, row, column)
            self._amounts.addWidget(field, row, column + 1)
            field.setFixedWidth(theme.px(_NARROW if upright else WIDE))

    def on_stand(self, upright: bool) -> None:
        """Beside an upright picture the fields find their room below the ladder."""
        way = QBoxLayout.Direction.TopToBottom if upright else QBoxLayout.Direction.LeftToRight
        self._light.setDirection(way)
        self._place_amounts(upright)

    def _build_colour(self) -> None:
        column = self.column("Colour", 200)
        self.chroma = ChromaLadder()
        self.chroma.moving.connect(lambda name, value: self._preview(self._recipe().with_total(name, value)))
        self.chroma.set_to.connect(self._set)
        column.rows.addWidget(self.chroma, 1)
        line = QHBoxLayout()
        for name in ("strength", "quiet"):
            line.addWidget(quiet(word("adjustment_short", name).removeprefix("colour ").removesuffix(" colours")))
            line.addWidget(self._field(name))
        column.rows.addLayout(line)
        self.white = WhitePad()
        self.white.moving.connect(lambda warm, tint: self._preview(self._whitened(warm, tint)))
        self.white.set_to.connect(lambda warm, tint: self.session.takes.change_recipe(self._whitened(warm, tint)))
        column.rows.addWidget(self.white, 1)
        line = QHBoxLayout()
        for name in ("warmth", "tint"):
            line.addWidget(self._field(name))
        column.rows.addLayout(line)

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Another station: nothing stays held, and no press picks a colour any more."""
        super().hideEvent(event)
        self.near.let_go()
        self.pair.state.pick(False)

    def let_go(self) -> None:
        """What was held is let go."""
        self.near.let_go()

    def hold(self, key: str, on: bool) -> bool:
        """A key that is held does what its button does; False for another key."""
        return self.near.hold(key, on)

    def _field(self, name: str) -> ValueField:
        made = self._fields[name] = ValueField(name)
        made.set_to.connect(lambda value: self._set(name, value))
        return made

    # ---- changes

    def _recipe(self) -> Recipe:
        return self._tuning.recipe()

    def _preview(self, recipe: Recipe) -> None:
        """Show a tuning that is not kept; the figures are of the kept one, and say nothing of this."""
        self._tuning.preview(recipe)

    def _set(self, name: str, value: float) -> None:
        self.session.takes.change_recipe(self._recipe().with_total(name, value))

    def _whitened(self, warmth: float, tint: float) -> Recipe:
        return self._recipe().with_total("warmth", warmth).with_total("tint", tint)

    def _on_step(self, at: int, step: Step) -> None:
        if at < len(self._recipe().steps):
            self.session.takes.change_recipe(self._recipe().put(at, step))

    def _remove_step(self) -> None:
        if self.ledger.chosen < len(self._recipe().steps):
            self.session.takes.change_recipe(self._recipe().put(self.ledger.chosen, None))

    def _reset(self) -> None:
        self.session.takes.change_recipe(Recipe())

    def _apply_habit(self) -> None:
        number = self._habits.currentData()
        habit = next((h for h in self.session.habits.all if h.id == number), None)
        self._habits.setCurrentIndex(0)
        if habit is not None:
            self.session.habits.apply(habit)

    # ---- following

    def set_room(self, room: theme.Room) -> None:
        """Drawn parts follow the room."""
        self.ledger.set_room(room)
        part: Any
        for part in (self.ladder, self.white, self.chroma):
            part.room = room
            part.update()
        self.near.set_room(room)
        self.pulls.set_room(room)

    def refresh(self) -> None:
        """Follow the session."""
        recipe = self._recipe()
        total = recipe.total
        judged = self.session.judging.judgement
        if self.session.judging.is_current and judged is not None:  # the judgement first: it is waited for
            self.session.nearness.ask(judged)
        self.ledger.show_steps(recipe.steps, self.session.nearness.steps)
        for name, field in self._fields.items():
            field.show_value(total[name])
        self.chroma.show_values(total["strength"], total["quiet"])
        self.white.show_white(total["warmth"], total["tint"])
        self._show_ladder(total)
        self._show_words(recipe)
        self.near.refresh()
        self.pulls.refresh()
        self._show_offers(recipe)

    def _show_ladder(self, total: Values) -> None:
        known = self.session.nearness.ladder
        self.ladder.show_ladder(*((None, None) if known is None else (known.printed, known.tones)))
        self.ladder.show_values(total)
        opened = self.session.now.opened
        cut = (0.0, 0.0) if opened is None else opened.cut
        shares = [(share, name) for share, name in zip(cut, ("black", "white"), strict=True) if share > 0]
        said = [f"{share_words(share)} of the picture becomes plain {name}" for share, name in shares]
        self._cut.setText(f"{capital('; '.join(said))}." if said else "")
        self._cut.setVisible(bool(said))

    def _show_words(self, recipe: Recipe) -> None:
        """The sum for lightness, and that the print's own steps are left out here."""
        summed = lightness_words(recipe)
        parts = [f"How light: {summed}." if summed else ""]
        if self.session.roads.leaves_out:
            parts.append("Dashed: in the print, left out on this screen.")
        if not recipe.steps:
            parts.append("As the picture is: nothing is tuned.")
        self._sum.setText(" ".join(part for part in parts if part))
        self._sum.setVisible(bool(self._sum.text()))

    def _show_offers(self, recipe: Recipe) -> None:
        for widget in (self._old, self._keep):
            widget.setVisible(recipe.is_old)
        for widget in (self._remove, self._reset_button):
            widget.setVisible(bool(recipe.steps))
        habits = self.session.habits.all
        self._habits.clear()
        self._habits.addItem("apply a habit…", 0)
        for habit in habits:
            self._habits.addItem(habit.name, habit.id)
        self._habits.setVisible(bool(habits))
