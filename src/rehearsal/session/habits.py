"""What is done again: habits, and the lightness that is kept with a picture; how new takes begin."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from pathlib import Path

from rehearsal.core.errors import RehearsalError
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.recipe import HAND, LEARNT, LIGHT, PICTURE, Recipe, Step, habit_of, habit_origin
from rehearsal.core.values.rendering import Rendering
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus
from rehearsal.session.now import Now
from rehearsal.tasks.habits import read_habit, write_habit
from rehearsal.tasks.writing import Target
from rehearsal.workbook.values import Habit, Master, Take


def habit_step(habit: Habit) -> Step:
    """A habit's tuning as a step."""
    return Step(habit_origin(habit.name), habit.values, name=habit.name)


def with_habit(take: Take, habit: Habit, condition: PrintCondition | None) -> Take:
    """A take with a habit: its tuning set, never added; what a lab prescribes stays."""
    recipe = take.recipe.having(habit_step(habit)) if habit.values else take.recipe
    prescribed = condition is not None and condition.prescribed
    given = take.rendering
    compensate = given.compensate if habit.compensate is None else habit.compensate
    rendering = given if prescribed else Rendering(habit.intent or given.intent, compensate)
    return replace(take, recipe=recipe, rendering=rendering, view=habit.view or take.view)


def begun(take: Take, master: Master | None, habits: Iterable[Habit], condition: PrintCondition) -> Take:
    """A new take as it begins: with the lightness kept with its picture, and the habits new takes on its paper begin with."""
    if master is not None and master.lift:
        take = replace(take, recipe=take.recipe.having(_lift(master.lift)))
    for habit in habits:
        if habit.starts and habit.condition in (0, condition.id):
            take = with_habit(take, habit, condition)
    return take


def _lift(stops: float) -> Step:
    return Step(PICTURE, Values.of(lightness=stops))


def steps_for_another_paper(recipe: Recipe, habits: Iterable[Habit]) -> Recipe:
    """The steps that go along to another paper: none for the light, none learnt, none of a habit of one paper alone."""
    bound = {habit_origin(h.name) for h in habits if h.condition}
    kept = tuple(s for s in recipe.steps if s.origin not in (LIGHT, LEARNT) and s.origin not in bound)
    return replace(recipe, steps=kept)


class Habits:
    """Operations on habits and on the lightness kept with a picture; ``habits`` tells of a change."""

    def __init__(self, book: Book, bus: Bus, now: Now) -> None:
        self._book, self._bus, self._now = book, bus, now

    @property
    def all(self) -> list[Habit]:
        """Oldest first."""
        return self._book.all(Habit)

    def named(self, name: str) -> Habit | None:
        """The habit of a name."""
        return next((h for h in self.all if h.name == name), None)

    def keep(self, habit: Habit) -> Habit | None:
        """Keep a habit; one of the same name is replaced."""
        same = self.named(habit.name)
        if habit == Habit(name=habit.name, condition=habit.condition, starts=habit.starts):
            self._bus.say("Nothing is chosen that the habit should hold.")
            return None
        kept = self._book.do("keep-habit", [replace(habit, id=0 if same is None else same.id)])
        self._bus.tell("habits")
        return kept[0] if kept else None

    def apply(self, habit: Habit, strength: float = 1.0) -> None:
        """Make a habit a step of the open take, with a strength from 0 to 1; intent, compensation and view as it holds them."""
        take, condition = self._now.take, self._now.condition
        if take is None:
            return
        made = with_habit(take, habit, condition)
        origin = habit_origin(habit.name)
        steps = tuple(replace(s, strength=strength) if s.origin == origin else s for s in made.recipe.steps)
        made = replace(made, recipe=replace(made.recipe, steps=steps))
        if made == take:
            self._bus.say(f"{habit.name} changes nothing here: the take is so already.")
        elif self._book.do("habit", [made]):
            self._now.become(made)
            if condition is not None and condition.prescribed and (habit.intent or habit.compensate is not None):
                self._bus.say(f"{condition.paper} prescribes the intent: it stays.")

    def remove(self, habit: Habit) -> None:
        """Forget a habit; steps that came from it stay."""
        fresh = self._book.get(Habit, habit.id)
        if fresh is None:
            return
        self._book.do("remove-habit", removes=[fresh])
        self._bus.tell("habits")
        if self._book.get(Habit, habit.id) is None:
            self._bus.say(f"{habit.name} is removed. Takes keep the steps they have of it.", "undo")

    def start(self, habit: Habit, condition: int | None) -> None:
        """Begin every new take on a condition with it; 0 for every paper, None for no take."""
        fresh = self._book.get(Habit, habit.id)
        if fresh is None:
            return
        place = fresh.condition if condition is None else condition
        made = replace(fresh, starts=condition is not None, condition=place)
        if made != fresh and self._book.do("start-habit", [made]):
            self._bus.tell("habits")

    # ---- files

    def open_file(self, path: Path) -> Habit | None:
        """A habit out of a file."""
        try:
            made = read_habit(path)
        except RehearsalError as error:
            self._bus.say_error(error)
            return None
        same = self.named(made.name)  # what belongs to this workbook stays with the name
        return self.keep(made if same is None else replace(made, condition=same.condition, starts=same.starts))

    def write_file(self, habit: Habit, target: Target) -> None:
        """A habit into a file."""
        try:
            write_habit(habit, target)
        except RehearsalError as error:
            self._bus.say_error(error)
            return
        self._bus.say(f"{target.path.name} written.", "folder", str(target.path))

    # ---- the lightness of a picture

    def keep_lift(self) -> None:
        """Keep how much lighter or darker the open take is by hand with the picture: every new take of it begins so."""
        take, master = self._now.take, self._now.master
        if take is None or master is None:
            return
        hand, before = take.recipe.step(HAND), take.recipe.step(PICTURE)
        stops = sum(s.values["lightness"] * s.strength for s in (hand, before) if s is not None and s.acts)
        recipe = take.recipe
        if hand is not None:
            recipe = recipe.having(replace(hand, values=hand.values.having("lightness", 0.0)))
        recipe = recipe.having(_lift(stops)) if stops else recipe.without(PICTURE)
        made = (replace(master, lift=round(stops, 6)), replace(take, recipe=recipe))
        if made != (master, take) and self._book.do("lift", made):
            self._now.become(made[1])
            self._bus.tell("masters")

    @property
    def keeps_lift(self) -> bool:
        """True while the open take is lighter or darker by hand than its picture begins."""
        take = self._now.take
        hand = None if take is None else take.recipe.step(HAND)
        return hand is not None and hand.acts and bool(hand.values["lightness"])


def offered(recipe: Recipe) -> tuple[int, ...]:
    """Numbers of the steps a new habit takes on unless told otherwise: those that act everywhere and belong to no light, no print,
    no picture and no other habit."""
    others = (LIGHT, LEARNT, PICTURE)
    return tuple(
        i
        for i, s in enumerate(recipe.steps)
        if s.place is None and s.acts and s.origin not in others and not habit_of(s.origin)
    )


def sum_of(recipe: Recipe, chosen: Iterable[int]) -> Values:
    """What some steps of a recipe add up to."""
    steps = tuple(replace(recipe.steps[i], place=None) for i in chosen)
    return replace(recipe, steps=steps).total
