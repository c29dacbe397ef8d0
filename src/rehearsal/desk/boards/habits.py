"""What is done again: habits, where they begin new takes, their files; and the lightness that is kept with a picture."""

from __future__ import annotations

import functools
from dataclasses import replace
from pathlib import Path

from PyQt6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from rehearsal.core.tuning.summing import origin_words, step_words
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.words import capital, in_row, stops_words, values_words
from rehearsal.desk import theme
from rehearsal.desk.boards.base import Board
from rehearsal.desk.parts.flow import flow
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.widgets import button, choice, heading, quiet, scrolled, show_choice
from rehearsal.desk.words import rendering_words, view_words
from rehearsal.session.habits import offered, sum_of
from rehearsal.tasks.writing import Target
from rehearsal.workbook.values import Habit

_FIELD = 240


def _intent_words(intent: str, compensate: bool | None) -> str:
    """An intent with its compensation, which is always named where the intent has any."""
    name = rendering_words(Rendering(intent)).split(",", maxsplit=1)[0]
    if intent == "absolute":
        return name
    if compensate is None:
        return f"{name}, compensated or not as each take is"
    return f"{name}, {'' if compensate else 'un'}compensated"


def habit_words(habit: Habit) -> str:
    """All a habit holds, as a sentence."""
    said = values_words(habit.values)
    if habit.intent:
        said.append(_intent_words(habit.intent, habit.compensate))
    elif habit.compensate is not None:
        said.append("compensated" if habit.compensate else "uncompensated")
    if habit.view:
        said.append(f"seen {view_words(habit.view)}")
    return capital(f"{in_row(said)}.") if said else "Holds nothing."


class HabitRow(QWidget):
    """One habit: its name, what it holds, where it begins new takes; applied with a strength."""

    def __init__(self, board: HabitsBoard, habit: Habit) -> None:
        super().__init__()
        self.habit, self._board = habit, board
        session = board.session
        rows = QVBoxLayout(self)
        rows.setContentsMargins(0, 0, 0, theme.px(8))
        rows.setSpacing(2)
        rows.addWidget(heading(habit.name))
        rows.addWidget(quiet(habit_words(habit), wrap=True))
        self.strength = NumberField(0, 100, 0, "%", 5)
        self.strength.setValue(100)
        self.strength.setFixedHeight(theme.px(theme.TARGET))
        self.strength.setAccessibleName(f"Strength of {habit.name}")
        self.strength.setEnabled(bool(habit.values))
        self.apply = button("Apply", self._apply, "Set as one step of this take, never added", f"Apply {habit.name}")
        self.starts = choice(self._places(habit))
        self.starts.setAccessibleName(f"Takes that begin with {habit.name}")
        show_choice(self.starts, habit.condition if habit.starts else -1)
        self.starts.activated.connect(lambda _i: self._start())
        write = button("Write to a file…", self._write, name=f"Write {habit.name} to a file")
        remove = button("Remove", functools.partial(session.habits.remove, habit), name=f"Remove {habit.name}")
        rows.addLayout(flow(self.apply, self.strength, self.starts, write, remove))

    def _places(self, habit: Habit) -> list[tuple[str, object]]:
        """Where new takes may begin with it: nowhere, on every paper, on the paper it is of, on this one."""
        session = self._board.session
        made: list[tuple[str, object]] = [("no take begins with it", -1), ("every new take begins with it", 0)]
        here = session.now.condition
        for number_of in dict.fromkeys((habit.condition, here.id if here else 0)):
            paper = session.shelf.get(number_of) if number_of else None
            if paper is not None:
                made.append((f"new takes on {paper.paper} begin with it", paper.id))
        return made

    def _apply(self) -> None:
        self._board.session.habits.apply(self.habit, self.strength.value() / 100)

    def _start(self) -> None:
        place = self.starts.currentData()
        self._board.session.habits.start(self.habit, None if place == -1 else place)

    def _write(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Write the habit", f"{self.habit.name}.json", "Habits (*.json)")
        if name:
            session = self._board.session
            session.habits.write_file(self.habit, Target(Path(name), session.printing.protected()))


class HabitsBoard(Board):
    """All habits, a new one from this take, and what is kept with the picture."""

    title = "Habits"
    beside = True
    follows = ("take", "habits", "masters", "conditions")

    def build(self) -> None:
        """List, new one, the picture's own lightness."""
        self.head(button("Open a file…", self._open, "A habit that was written to a file"))
        body = QWidget()
        rows = QVBoxLayout(body)
        rows.setContentsMargins(0, 0, theme.px(6), 0)
        self.rows.addWidget(scrolled(body), 1)
        self._habits = QVBoxLayout()
        rows.addLayout(self._habits)
        self.habit_rows: list[HabitRow] = []
        rows.addWidget(heading("Keep a new one from this take"))
        line = QHBoxLayout()
        self.name = QLineEdit()
        self.name.setAccessibleName("Name of the new habit")
        self.name.setPlaceholderText("its name")
        self.name.setFixedWidth(theme.px(_FIELD))
        self.name.returnPressed.connect(self.keep)
        self._keep = button("Keep it", self.keep)
        line.addWidget(self.name)
        line.addWidget(self._keep)
        line.addStretch(1)
        rows.addLayout(line)
        self._ticks = flow()
        rows.addLayout(self._ticks)
        self.steps: list[QCheckBox] = []
        self.intent, self.compensation, self.view = (QCheckBox() for _ in range(3))
        rows.addWidget(heading("Kept with the picture"))
        self._lift = quiet(wrap=True)
        rows.addWidget(self._lift)
        self._keep_lift = button(
            "Keep its lightness with the picture",
            self.session.habits.keep_lift,
            "Every new take of this picture begins with it",
        )
        line = QHBoxLayout()
        line.addWidget(self._keep_lift)
        line.addStretch(1)
        rows.addLayout(line)
        rows.addStretch(1)

    def subject(self) -> object:
        """The take whose steps are offered."""
        take = self.session.now.take
        return None if take is None else (take.id, take.recipe, take.rendering, take.view)

    def open(self) -> None:
        """Offer what the take has."""
        take = self.session.now.take
        while self._ticks.count():
            item = self._ticks.takeAt(0)
            widget = None if item is None else item.widget()
            if widget is not None and widget in self.steps:
                widget.hide()
                widget.deleteLater()
        self.steps = []
        if take is not None:
            wanted = offered(take.recipe)
            for i, step in enumerate(take.recipe.steps):
                box = QCheckBox(f"{capital(origin_words(step))}: {step_words(step)}")
                box.setChecked(i in wanted)
                box.setEnabled(step.place is None)
                self.steps.append(box)
            compensated = "compensated" if take.rendering.compensate else "uncompensated"
            self.intent.setText(f"The intent: {take.rendering.intent}")
            self.compensation.setText(f"The black: {compensated}")
            self.view.setText(f"The view: {view_words(take.view)}")
            for box in (*self.steps, self.intent, self.compensation, self.view):
                self._ticks.addWidget(box)
        self.refresh()

    def keep(self) -> None:
        """Keep what is ticked under the name."""
        take, condition, name = self.session.now.take, self.session.now.condition, self.name.text().strip()
        if take is None or condition is None:
            return
        if not name:
            self.session.bus.say("Give the habit a name first.")
            self.name.setFocus()
            return
        chosen = [i for i, box in enumerate(self.steps) if box.isChecked()]
        made = Habit(
            name=name, condition=condition.id, values=sum_of(take.recipe, chosen),
            intent=take.rendering.intent if self.intent.isChecked() else "",
            compensate=take.rendering.compensate if self.compensation.isChecked() else None,
            view=take.view if self.view.isChecked() else "",
        )  # fmt: skip
        same = self.session.habits.named(name)
        if self.session.habits.keep(made if same is None else replace(made, starts=same.starts)) is not None:
            self.name.clear()

    def _open(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Open a habit", str(Path.home()), "Habits (*.json)")
        if name:
            self.session.habits.open_file(Path(name))

    def refresh(self) -> None:
        """Follow the session."""
        habits = self.session.habits.all
        if [row.habit for row in self.habit_rows] != habits:
            for row in self.habit_rows:
                row.hide()
                row.deleteLater()
            while self._habits.count():
                self._habits.takeAt(0)
            self.habit_rows = [HabitRow(self, habit) for habit in habits]
            for row in self.habit_rows:
                self._habits.addWidget(row)
        self.sentence.setText("" if habits else "None is kept yet: tune a take, then keep what you do again and again.")
        self.sentence.setVisible(not habits)
        master = self.session.now.master
        self._lift.setText(lift_words("" if master is None else master.name, 0.0 if master is None else master.lift))
        self._keep_lift.setEnabled(self.session.habits.keeps_lift)


def lift_words(name: str, stops: float) -> str:
    """What every new take of a picture begins with."""
    if not stops:
        return f"New takes of {name} begin as light as the picture." if name else "No picture is open."
    return f"Every new take of {name} begins {stops_words(stops)} {'lighter' if stops > 0 else 'darker'}."
