"""Station 5: tune the take while looking."""

from __future__ import annotations

from PyQt6.QtWidgets import QInputDialog

from rehearsal.core.tuning.values import RANGES, Tuning, in_words
from rehearsal.desk.parts import TuneSlider, button, choice, quiet
from rehearsal.desk.trays.base import Tray
from rehearsal.workbook.values import Habit

_LIGHT = (
    ("lightness", "How light overall", lambda v: f"{v / 6:+.2f} stop" if v else "0 stop"),
    ("contrast", "Contrast", lambda v: f"{v:+.0f}" if v else "0"),
    ("dark_half", "Dark half", lambda v: f"{v:+.0f}" if v else "0"),
    ("light_half", "Light half", lambda v: f"{v:+.0f}" if v else "0"),
)
_COLOUR = (
    ("strength", "Strength", lambda v: f"{v:+.0f} %" if v else "0 %"),
    ("warmth", "Cool to warm", lambda v: f"{v:+.0f} mired" if v else "0 mired"),
)


class TuneTray(Tray):
    """Light, colour, what was learnt, habits."""

    def build(self) -> None:
        """Sliders at the left, offers at the right."""
        self._sliders: dict[str, TuneSlider] = {}
        for title, rows in (("Light", _LIGHT), ("Colour", _COLOUR)):
            column = self.column(title, 325)
            for name, label, words in rows:
                slider = TuneSlider(label, *RANGES[name], words)
                slider.moving.connect(lambda v, n=name: self._preview(n, v))
                slider.set_to.connect(lambda v, n=name: self._set(n, v))
                self._sliders[name] = slider
                column.add(slider)
            if title == "Colour":
                column.add(
                    quiet(
                        "Hold space to see the picture. B shows what lies beyond the paper while you move.", wrap=True
                    )
                )
                column.pair(button("As the master", self._reset, "Take all tuning away"))
            column.end()
        self._build_offers()

    def _build_offers(self) -> None:
        column = self.column("Learnt from earlier prints", 250)
        self._lesson = quiet(wrap=True)
        column.add(self._lesson)
        self._take_offer = button("Add this to the tuning", self._apply_lesson)
        column.pair(self._take_offer)
        column.end()
        habits = self.column("Habits", 210)
        self._habits = choice([("apply a habit…", 0)])
        self._habits.setAccessibleName("Apply a habit")
        self._habits.activated.connect(self._apply_habit)
        habits.add(self._habits)
        habits.pair(button("Keep as a habit…", self._keep_habit))
        self._words = quiet(wrap=True)
        habits.add(self._words)
        habits.end()

    def _tuning(self) -> Tuning:
        return self.model.take.tuning if self.model.take else Tuning()

    def _preview(self, name: str, value: float) -> None:
        self.model.preview_tuning(self._tuning().with_value(name, value))

    def _set(self, name: str, value: float) -> None:
        self.model.change(tuning=self._tuning().with_value(name, value))

    def _reset(self) -> None:
        self.model.change(tuning=Tuning(), learnt=Tuning())

    def _apply_lesson(self) -> None:
        lesson, take = self.model.lesson, self.model.take
        if lesson is not None and take is not None:
            self.model.change(tuning=take.tuning.plus(lesson.tuning), learnt=lesson.tuning)

    def _apply_habit(self) -> None:
        number = self._habits.currentData()
        habit = next((h for h in self.model.habits if h.id == number), None)
        self._habits.setCurrentIndex(0)
        if habit is not None:
            self.model.change(tuning=self._tuning().plus(habit.tuning))

    def _keep_habit(self) -> None:
        take, condition = self.model.take, self.model.condition
        if take is None or condition is None:
            return
        if take.tuning.is_neutral:
            self.model.said.emit("There is no tuning to keep yet.")
            return
        name, good = QInputDialog.getText(self, "Keep as a habit", "Name of the habit", text=f"{condition.paper}: ")
        if good and name.strip():
            self.model.workbook.put(Habit(name=name.strip(), condition=condition.id, tuning=take.tuning))
            self.model.lists_changed.emit()

    def refresh(self) -> None:
        """Follow the model."""
        tuning = self._tuning()
        for name, slider in self._sliders.items():
            slider.show_value(getattr(tuning, name))
        lesson, take = self.model.lesson, self.model.take
        taken = take is not None and not take.learnt.is_neutral
        if lesson is None:
            self._lesson.setText("Nothing yet for this paper in this light. The logbook teaches it.")
        else:
            prints = "1 print" if lesson.prints == 1 else f"the last {lesson.prints} prints"
            done = " It is part of this tuning." if taken else ""
            self._lesson.setText(f"The middle of {prints} on this paper in this light: {lesson.words}.{done}")
        self._take_offer.setVisible(lesson is not None and not taken)
        self._habits.clear()
        self._habits.addItem("apply a habit…", 0)
        for habit in self.model.habits:
            self._habits.addItem(habit.name, habit.id)
        self._words.setText("\n".join(in_words(tuning)) or "As the master.")
