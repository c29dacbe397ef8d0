"""Station 5: tune the take while looking."""

from __future__ import annotations

from PyQt6.QtWidgets import QInputDialog

from rehearsal.core.values.adjustments import ADJUSTMENTS, Adjustment
from rehearsal.core.values.recipe import LEARNT, Recipe
from rehearsal.core.values.words import amount, share_words, values_words, word
from rehearsal.desk.parts.widgets import TuneSlider, button, choice, quiet
from rehearsal.desk.trays.base import Tray

_GROUPS = (("Light", "light"), ("Colour", "colour"))


class TuneTray(Tray):
    """Light, colour, what was learnt, habits."""

    follows = ("take", "picture", "log", "habits", "screen")

    def build(self) -> None:
        """Sliders at the left, offers at the right."""
        self._sliders: dict[str, TuneSlider] = {}
        for title, group in _GROUPS:
            column = self.column(title, 325, about=("recipe", "keep-looks", "variant", "light"))
            for each in (a for a in ADJUSTMENTS.values() if a.group == group):
                column.add(self._slider(each))
            if group == "colour":
                self._hint = quiet(
                    "Hold space to see the picture. B shows what lies beyond the paper while you move.", wrap=True
                )
                column.add(self._hint)
                self._old = quiet(
                    "Tuned by an earlier arithmetic: the same numbers look different now. Change it, or keep it as it looks.",
                    wrap=True,
                )
                column.add(self._old)
                self._keep = button("Keep as it looks now", self.session.takes.keep_looks)
                column.pair(button("Take all tuning away", self._reset, "As the picture is"), self._keep)
            column.end()
        self._build_offers()

    def on_stand(self, upright: bool) -> None:
        """Beside the pictures there is no room for what F1 tells as well."""
        self._hint.setVisible(not upright)

    def _slider(self, each: Adjustment) -> TuneSlider:
        """A slider that counts in the adjustment's own steps."""
        slider = TuneSlider(
            word("adjustment", each.name), each.low / each.step, each.high / each.step,
            lambda steps: amount(each.name, steps * each.step),
        )  # fmt: skip
        slider.setToolTip(word("adjustment_does", each.name))
        slider.moving.connect(lambda steps: self.session.roads.preview(self._with(each, steps)))
        slider.set_to.connect(lambda steps: self.session.takes.change_recipe(self._with(each, steps)))
        self._sliders[each.name] = slider
        return slider

    def _with(self, each: Adjustment, steps: float) -> Recipe:
        return self._recipe().with_total(each.name, steps * each.step)

    def _build_offers(self) -> None:
        column = self.column("Learnt from earlier prints", 250, 1, about=("learnt",))
        self._lesson = quiet(wrap=True)
        column.add(self._lesson)
        self._take_offer = button("Add this to the tuning", self.session.logbook.apply_lesson)
        column.pair(self._take_offer)
        column.end()
        habits = self.column("Habits", 210, about=("habit",))
        self._habits = choice([("apply a habit…", 0)])
        self._habits.setAccessibleName("Apply a habit")
        self._habits.activated.connect(self._apply_habit)
        habits.add(self._habits)
        habits.pair(button("Keep as a habit…", self._keep_habit))
        self._words = quiet(wrap=True)
        habits.add(self._words)
        habits.end()

    def _recipe(self) -> Recipe:
        take = self.session.now.take
        return take.recipe if take else Recipe()

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

    def refresh(self) -> None:
        """Follow the session."""
        recipe, logbook = self._recipe(), self.session.logbook
        for name, slider in self._sliders.items():
            slider.show_value(recipe.total[name] / ADJUSTMENTS[name].step)
        for widget in (self._old, self._keep):
            widget.setVisible(recipe.is_old)
        lesson, taken = logbook.lesson, recipe.step(LEARNT) is not None
        if lesson is None:
            self._lesson.setText("Nothing yet for this paper in this light. The logbook teaches it.")
        else:
            prints = "1 print" if lesson.prints == 1 else f"the last {lesson.prints} prints"
            done = " It is part of this tuning." if taken else ""
            self._lesson.setText(f"The middle of {prints} on this paper in this light: {lesson.words}.{done}")
        self._take_offer.setVisible(lesson is not None and not taken)
        self._habits.clear()
        self._habits.addItem("apply a habit…", 0)
        for habit in logbook.habits:
            self._habits.addItem(habit.name, habit.id)
        self._words.setText("\n".join([*values_words(recipe.total), *self._cut_words()]) or "As the picture is.")

    def _cut_words(self) -> list[str]:
        """What ends pulled in cut off."""
        opened = self.session.now.opened
        cut = (0.0, 0.0) if opened is None else opened.cut
        shares = [(share, name) for share, name in zip(cut, ("black", "white"), strict=True) if share > 0]
        return [f"{share_words(share)} of the picture becomes plain {name}" for share, name in shares]
