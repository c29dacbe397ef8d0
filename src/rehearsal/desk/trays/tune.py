"""Station 5: tune the take while looking: its steps, the ladder of lightness, colour, how near it comes."""

from __future__ import annotations

import functools
import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np
from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QHBoxLayout, QInputDialog, QPushButton, QVBoxLayout

from rehearsal.core.tuning.pulling import pull_at
from rehearsal.core.tuning.summing import lightness_words
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.pull import MOST_PULLED, Pull
from rehearsal.core.values.recipe import HAND, Recipe, Step
from rehearsal.core.values.words import amount, capital, hue_words, share_words, word
from rehearsal.desk import theme
from rehearsal.desk.parts.bars import Bar, Bars
from rehearsal.desk.parts.ladder import RUNGS, Ladder
from rehearsal.desk.parts.ledger import Ledger
from rehearsal.desk.parts.pulldisc import PullDisc
from rehearsal.desk.parts.rail import Rail, Scale
from rehearsal.desk.parts.valuefield import ValueField
from rehearsal.desk.parts.whitepad import WhitePad
from rehearsal.desk.parts.widgets import Form, button, choice, quiet, scrolled
from rehearsal.desk.trays.base import Tray
from rehearsal.tasks.scouting import Body

#: The bars' whole length, mean ΔE₀₀, or the largest there is.
_NEAR_END = 3.0
#: Oklab chroma under which there is no colour to pull.
_COLOURFUL = 0.02
#: Width of a window against the usual one, per cent, even in its logarithm.
_WIDTH = Scale(40.0, 250.0, math.log, math.exp, math.log(1.1))
#: Width of what stands beside the disc.
_SIDE = 124
#: So many areas are offered to be pulled.
_AREAS = 6
_NONE = np.empty((0, 3))
_EVEN = Scale(-50.0, 50.0, lambda value: value, lambda place: place, 1.0)


class TuneTray(Tray):
    """Ledger, ladder, colour, how near."""

    follows = ("take", "picture", "log", "habits", "screen", "near", "judgement")

    def build(self) -> None:
        """Columns in the order of looking."""
        self._fields: dict[str, ValueField] = {}
        self._build_ledger()
        self._build_light()
        self._build_near()
        self._build_colour()
        self._build_pulled()

    def _build_ledger(self) -> None:
        column = self.column(
            "Steps of this take", 330, 1, about=("recipe", "keep-looks", "variant", "light", "learnt", "habit")
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
        self._habits.setFixedWidth(theme.px(_SIDE + 40))
        self._habits.activated.connect(self._apply_habit)
        self._keep_button = button("Keep as a habit…", self._keep_habit)
        column.pair(self._keep, self._habits, self._keep_button, self._remove, self._reset_button)

    def _build_light(self) -> None:
        column = self.column("Light", 340, 1)
        column.beside_title(quiet("drag a rung; press a thread for a free point"))
        row = QHBoxLayout()
        row.setSpacing(theme.px(10))
        self.ladder = Ladder()
        self.ladder.moving.connect(lambda values: self._preview(self._recipe().with_tone(values)))
        self.ladder.set_to.connect(lambda values: self.session.takes.change_recipe(self._recipe().with_tone(values)))
        row.addWidget(self.ladder, 1)
        form = Form()
        for name in (*list(RUNGS)[:2], "lightness", "contrast", *list(RUNGS)[3:]):
            form.row(word("adjustment_short", name), self._field(name))
        row.addLayout(form)
        column.rows.addLayout(row, 1)
        self._cut = quiet(wrap=True)
        column.add(self._cut)

    def _build_colour(self) -> None:
        column = self.column("Colour", 200)
        self.rails: dict[str, Rail] = {}
        for name in ("strength", "quiet"):
            rail = Rail(word("adjustment", name), _EVEN, functools.partial(amount, name), ((0.0, ""),), signed=True)
            rail.moving.connect(lambda value, n=name: self._preview(self._recipe().with_total(n, round(value))))
            rail.set_to.connect(lambda value, n=name: self._set(n, round(value)))
            self.rails[name] = rail
            line = QHBoxLayout()
            line.addWidget(quiet(word("adjustment_short", name)), 1)
            line.addWidget(self._field(name))
            column.rows.addLayout(line)
            column.add(rail)
        self.white = WhitePad()
        self.white.moving.connect(lambda warm, tint: self._preview(self._whitened(warm, tint)))
        self.white.set_to.connect(lambda warm, tint: self.session.takes.change_recipe(self._whitened(warm, tint)))
        column.rows.addWidget(self.white, 1)
        line = QHBoxLayout()
        for name in ("warmth", "tint"):
            line.addWidget(self._field(name))
        column.rows.addLayout(line)

    def _build_pulled(self) -> None:
        column = self.column("A colour pulled", 276)
        self.disc = PullDisc()
        self.disc.setToolTip(
            "Ring: the picture. Dot: the print; it stops at the paper's edge, with Shift it is pushed past it."
        )
        self.disc.moving.connect(lambda pull: self._preview(self._recipe().with_pulled(self._pulled(pull))))
        self.disc.set_to.connect(lambda pull: self._keep_pulled(self._pulled(pull)))
        row, side = QHBoxLayout(), QVBoxLayout()
        row.addWidget(self.disc, 1)
        row.addLayout(side)
        column.rows.addLayout(row, 1)
        self._of = choice([])
        self._of.setAccessibleName("Colour that is pulled")
        self._of.activated.connect(self._choose_pull)
        self._point = button("Point at a colour", self._pick, "Then press a place in the picture")
        self._drop_pull = button("Let it go", lambda: self._keep_pulled(self._pulled(None)), "Pull this colour no more")
        self._from_area = choice([("from an area…", None)])
        self._from_area.setAccessibleName("Pull the colour of an area")
        self._from_area.activated.connect(lambda _i: self._pull_area())
        self.width_rail = Rail("Width of its window", _WIDTH, "{:.0f} %".format, ((100.0, "as usual"),))
        self.width_rail.set_to.connect(self._set_width)
        for part in (self._point, self._from_area, self._of, self._drop_pull):
            part.setFixedWidth(theme.px(_SIDE))
            side.addWidget(part)
        side.addStretch(1)
        self._width_words = quiet("width of its window")
        side.addWidget(self._width_words)
        self.width_rail.setFixedWidth(theme.px(_SIDE))
        side.addWidget(self.width_rail)
        self._chosen_pull = 0
        self._areas: list[tuple[str, tuple[float, float]]] | None = None
        self._body: Body | None = None
        self._body_of = ""
        self.pair.state.picked.connect(self._on_picked)

    # ---- colours pulled

    def _all_pulled(self) -> tuple[Pull, ...]:
        hand = self._recipe().step(HAND)
        return () if hand is None else hand.values.pulled

    def _pulled(self, pull: Pull | None) -> tuple[Pull, ...]:
        """All colours that are pulled, the chosen one as another, or gone."""
        made, at = list(self._all_pulled()), self._chosen_pull
        made[at : at + 1] = [] if pull is None else [pull]
        return tuple(made)

    def _keep_pulled(self, pulled: tuple[Pull, ...]) -> None:
        self.session.takes.change_recipe(self._recipe().with_pulled(pulled))

    def _choose_pull(self, at: int) -> None:
        self._chosen_pull = at
        self._show_pulled()

    def _pick(self) -> None:
        if len(self._all_pulled()) >= MOST_PULLED:
            self.session.bus.say(f"{MOST_PULLED} colours are pulled already. Let one go first.")
            return
        self.pair.state.pick(True)
        self.session.bus.say("Press the colour in the picture or in the take.")

    def _on_picked(self, point: tuple[int, int]) -> None:
        self._add_pull(self.session.inquiries.unpulled_lab(point[0] + 0.5, point[1] + 0.5))

    def _add_pull(self, lab: np.ndarray | None) -> None:
        if lab is None:
            return
        made = pull_at(lab)
        if made.chroma < _COLOURFUL:
            self.session.bus.say("That is a grey: there is no colour to pull.")
            return
        pulled = self._all_pulled()
        self._chosen_pull = len(pulled)
        self._keep_pulled((*pulled, made))

    def _pull_area(self) -> None:
        place, opened = self._from_area.currentData(), self.session.now.opened
        self._from_area.setCurrentIndex(0)
        if place is not None and opened is not None and len(self._all_pulled()) < MOST_PULLED:
            x, y, w, h = opened.box
            self._add_pull(self.session.inquiries.unpulled_lab(x + place[0] * w, y + place[1] * h))

    def _set_width(self, per_cent: float) -> None:
        pulled, share = self._all_pulled(), per_cent / 100
        if self._chosen_pull < len(pulled):
            usual = Pull(0.0, 0.0, 0.0)
            wide = replace(
                pulled[self._chosen_pull], lightness_width=usual.lightness_width * share,
                chroma_width=usual.chroma_width * share, hue_width=usual.hue_width * share,
            )  # fmt: skip
            self._keep_pulled(self._pulled(wide))

    def _show_pulled(self) -> None:
        pulled, ladder = self._all_pulled(), self.session.nearness.ladder
        self._chosen_pull = min(self._chosen_pull, max(len(pulled) - 1, 0))
        chosen = pulled[self._chosen_pull] if pulled else None
        self._ask_body()
        colours = _NONE if ladder is None or chosen is None else ladder.colours
        self.disc.show_pull(chosen, self._body, colours)
        for part in (self._of, self._drop_pull, self.width_rail, self._width_words):
            part.setVisible(bool(pulled))
        names = [f"{i + 1}: {hue_words(p.name)}" for i, p in enumerate(pulled)]
        if [self._of.itemText(i) for i in range(self._of.count())] != names:
            self._of.clear()
            self._of.addItems(names)
        self._of.setCurrentIndex(self._chosen_pull)
        if chosen is not None:
            self.width_rail.show_value(chosen.hue_width / Pull(0.0, 0.0, 0.0).hue_width * 100)
        judged = self.session.judging.judgement if self.session.judging.is_current else None
        areas = [(hue_words(a.hue), a.place) for a in (() if judged is None else judged.areas[:_AREAS])]
        if areas != self._areas:
            self._areas = areas
            self._from_area.clear()
            for text, place in [("from an area…", None), *areas]:
                self._from_area.addItem(text, place)

    def _ask_body(self) -> None:
        paper = self.session.now.paper
        if paper is None or paper.digest == self._body_of:
            return
        self._body_of, self._body = paper.digest, None

        def answer(made: list[Body | None]) -> None:
            if paper.digest == self._body_of:
                self._body = made[0]
                self._show_pulled()

        self.session.inquiries.ask_bodies([paper], answer)

    def _build_near(self) -> None:
        column = self.column("How near", 166)
        column.beside_title(quiet("shorter is nearer"))
        self.near = Bars("How near to the picture, mean ΔE₀₀", _NEAR_END)
        column.add(self.near)
        self._near_words = quiet(wrap=True)
        column.add(self._near_words)
        column.end()
        self._without = self._hold("Untuned", "F8", lambda: self._preview(Recipe()))
        self._less = self._hold("Without the step", "F9", self._preview_less)
        self._added = self._hold("As it prints", "F10", lambda: self.session.roads.add_what_prints(True))
        column.pair(self._without, self._less, self._added)

    def _hold(self, text: str, key: str, begin: Callable[[], object]) -> QPushButton:
        """A button that shows something while it is held."""
        made = button(f"{text}   {key}", lambda: None, "Hold it", name=f"Hold: {text.lower()}")
        made.setProperty("holds", key)
        made.pressed.connect(begin)
        made.released.connect(self.let_go)
        return made

    def let_go(self) -> None:
        """What was held is let go: the take as it is again."""
        self.session.roads.end_preview()
        self.session.roads.add_what_prints(False)
        self._show_near()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Another station: nothing stays held, and no press picks a colour any more."""
        super().hideEvent(event)
        self.let_go()
        self.pair.state.pick(False)

    def hold(self, key: str, on: bool) -> bool:
        """A key that is held does what its button does; False for another key."""
        for each in (self._without, self._less, self._added):
            if each.property("holds") == key:
                (each.pressed if on else each.released).emit()
                each.setDown(on)
                return True
        return False

    def _field(self, name: str) -> ValueField:
        made = self._fields[name] = ValueField(name)
        made.set_to.connect(lambda value: self._set(name, value))
        return made

    # ---- changes

    def _recipe(self) -> Recipe:
        take = self.session.now.take
        return take.recipe if take else Recipe()

    def _preview(self, recipe: Recipe) -> None:
        """Show a tuning that is not kept; the figures are of the kept one, and say nothing of this."""
        self.session.roads.preview(recipe)
        self._show_near()

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

    def _preview_less(self) -> None:
        recipe, at = self._recipe(), self.ledger.chosen
        if at < len(recipe.steps):
            self._preview(recipe.put(at, replace(recipe.steps[at], on=False)))

    def _reset(self) -> None:
        self.session.takes.change_recipe(Recipe())

    def _apply_habit(self) -> None:
        number = self._habits.currentData()
        habit = next((h for h in self.session.logbook.habits if h.id == number), None)
        self._habits.setCurrentIndex(0)
        if habit is not None:
            self.session.logbook.apply_habit(habit)

    def _keep_habit(self) -> None:
        condition = self.session.now.condition
        if condition is None:
            return
        if not self._recipe().total:
            self.session.bus.say("There is no tuning to keep yet.")
            return
        name, good = QInputDialog.getText(self, "Keep as a habit", "Name of the habit", text=f"{condition.paper}: ")
        if good and name.strip():
            self.session.logbook.keep_habit(name.strip())

    # ---- following

    def set_room(self, room: theme.Room) -> None:
        """Drawn parts follow the room."""
        self.ledger.set_room(room)
        part: Any
        for part in (self.ladder, self.white, self.near, self.disc, self.width_rail, *self.rails.values()):
            part.room = room
            part.update()

    def refresh(self) -> None:
        """Follow the session."""
        recipe = self._recipe()
        total = recipe.total
        if self.session.judging.is_current:  # the judgement first: it is waited for
            self.session.nearness.ask()
        self.ledger.show_steps(recipe.steps, self.session.nearness.steps)
        for name, field in self._fields.items():
            field.show_value(total[name])
        for name, rail in self.rails.items():
            rail.show_value(total[name])
        self.white.show_white(total["warmth"], total["tint"])
        self._show_ladder(total)
        self._show_words(recipe)
        self._show_near()
        self._show_pulled()
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

    def _show_near(self) -> None:
        near = self.session.nearness.near
        if near is None or self.session.roads.previews:
            self._near_words.setText("not measured yet" if near is None else "measured at rest")
            self.near.show_bars(tuple(Bar(name, 0.0, "…") for name in ("untuned", "now", "this paper can")))
            return
        rows = (("untuned", near.before), ("now", near.now), ("this paper can", near.floor))
        self.near.most = max([_NEAR_END, *(value for _name, value in rows)])
        self.near.show_bars(tuple(Bar(name, value, f"ΔE₀₀ {value:.1f}") for name, value in rows))
        self._near_words.setText(near_words(near.nearer, near.before == near.now))

    def _show_offers(self, recipe: Recipe) -> None:
        logbook = self.session.logbook
        for widget in (self._old, self._keep):
            widget.setVisible(recipe.is_old)
        for widget in (self._remove, self._reset_button):
            widget.setVisible(bool(recipe.steps))
        self._keep_button.setVisible(bool(recipe.total))
        self._less.setEnabled(bool(recipe.steps))
        self._added.setEnabled(self.session.roads.leaves_out or self.session.roads.with_additions)
        self._habits.clear()
        self._habits.addItem("apply a habit…", 0)
        for habit in logbook.habits:
            self._habits.addItem(habit.name, habit.id)
        self._habits.setVisible(bool(logbook.habits))


def near_words(nearer: float, same: bool) -> str:
    """How far tuning has come on the way to the nearest this paper can show; ``same``: the print is as near as untuned."""
    if same:
        return "As near as untuned."
    share = round(nearer * 100)
    if share > 0:
        return f"{share} % of the way to the nearest this paper can show."
    return "No nearer than untuned." if share == 0 else "Further away than untuned."
