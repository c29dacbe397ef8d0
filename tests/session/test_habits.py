"""Habits, the lightness kept with a picture, and how new takes begin."""

from __future__ import annotations

import json
import os
from dataclasses import replace
from pathlib import Path

import pytest
from tests.known import keep_verdict
from tests.session.conftest import Desk

from rehearsal.core.errors import RehearsalError
from rehearsal.core.proof.chain import VIEWS
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.pull import Point, Pull
from rehearsal.core.values.recipe import HAND, LEARNT, PICTURE, Recipe, Step, by_hand, habit_origin
from rehearsal.core.values.rendering import INTENTS, Rendering
from rehearsal.session.habits import offered, sum_of
from rehearsal.tasks.habits import habit_json, read_habit, write_habit
from rehearsal.tasks.writing import Target
from rehearsal.workbook.values import Habit, Master, Take


def _matte(**fields: object) -> Habit:
    return Habit(**{"name": "Matte", "values": Values.of(contrast=6), **fields})  # type: ignore[arg-type]


def test_a_habit_of_intent_and_view_is_one_change_with_its_strength(desk: Desk) -> None:
    s = desk.session
    before = desk.take
    s.habits.apply(_matte(intent="perceptual", compensate=True, view="on-paper"), 0.5)
    step = desk.take.recipe.step(habit_origin("Matte"))
    assert step is not None and step.strength == 0.5 and desk.take.recipe.total["contrast"] == 3
    assert desk.take.rendering == Rendering("perceptual", True) and desk.take.view == "on-paper"
    s.habits.apply(_matte(intent="perceptual", compensate=True, view="on-paper"), 0.5)
    assert "so already" in desk.said[-1]
    s.takes.undo()
    assert desk.take == before


def test_what_a_habit_does_not_hold_stays(desk: Desk) -> None:
    s = desk.session
    s.takes.render(Rendering("relative", False))
    s.takes.change("view", view="on-paper")
    s.habits.apply(_matte(values=Values(), intent="perceptual"))
    assert desk.take.rendering == Rendering("perceptual", False) and desk.take.view == "on-paper"
    assert desk.take.recipe.is_neutral
    s.habits.apply(_matte(values=Values(), compensate=True))
    assert desk.take.rendering == Rendering("perceptual", True)


def test_what_a_lab_prescribes_stays(desk: Desk) -> None:
    s, condition = desk.session, desk.session.now.condition
    assert condition is not None
    s.shelf.change(replace(condition, prescribed=True))
    held = desk.take.rendering
    s.habits.apply(_matte(intent="saturation"))
    assert desk.take.rendering == held and desk.take.recipe.total["contrast"] == 6
    assert "prescribes the intent" in desk.said[-1]


def test_a_habit_of_the_same_name_is_replaced_and_an_empty_one_refused(desk: Desk) -> None:
    s = desk.session
    count = len(s.habits.all)
    assert s.habits.keep(_matte()) is not None and s.habits.keep(_matte(values=Values.of(contrast=9))) is not None
    assert len(s.habits.all) == count + 1
    found = s.habits.named("Matte")
    assert found is not None and found.values == Values.of(contrast=9)
    assert s.habits.keep(Habit(name="Nothing", starts=True)) is None and "Nothing is chosen" in desk.said[-1]
    s.habits.remove(found)
    assert s.habits.named("Matte") is None
    s.takes.undo()
    assert s.habits.named("Matte") == found


def test_new_takes_begin_with_the_habits_of_their_paper(desk: Desk) -> None:
    s = desk.session
    here, other = desk.take.condition, next(c for c in s.shelf.conditions if c.id != desk.take.condition and c.printer)
    mine, every = s.habits.keep(_matte(condition=here)), s.habits.keep(_matte(name="All", values=Values.of(strength=4)))
    assert mine is not None and every is not None
    s.habits.start(mine, other.id)
    s.habits.start(every, 0)
    s.takes.change_recipe(by_hand(warmth=5))
    s.takes.take_on(other)
    assert desk.take.condition == other.id
    assert desk.take.recipe.total == Values.of(warmth=5, contrast=6, strength=4)
    s.habits.start(s.habits.named("Matte"), None)  # type: ignore[arg-type]
    third = next(c for c in s.shelf.conditions if c.id not in (here, other.id) and c.printer)
    s.takes.take_on(third)
    # what is a habit of one paper stays with that paper
    assert desk.take.recipe.total == Values.of(warmth=5, strength=4)


def test_another_paper_without_the_steps(desk: Desk) -> None:
    s = desk.session
    other = next(c for c in s.shelf.conditions if c.id != desk.take.condition and c.printer)
    s.habits.keep(_matte(condition=other.id, starts=True))
    s.takes.change_recipe(by_hand(warmth=5).having(Step(LEARNT, Values.of(lightness=1 / 3))))
    first = desk.take
    s.takes.choose(other)
    made = desk.take
    assert made.id != first.id and made.recipe.total == Values.of(warmth=5, contrast=6)
    assert "with the steps of" in desk.said[-1] and s.takes.name_of(first) in desk.said[-1]
    s.takes.leave_steps(first.id)
    assert desk.take == made, "it was said of another take"
    s.takes.leave_steps(made.id)
    assert desk.take.recipe.total == Values.of(contrast=6), "as a new take on that paper begins"
    s.takes.undo()
    assert desk.take.recipe == made.recipe
    assert s.book.get(type(first), first.id) == first


def test_the_lightness_kept_with_a_picture(desk: Desk) -> None:
    s = desk.session
    assert not s.habits.keeps_lift
    s.takes.change_recipe(by_hand(lightness=1 / 3, contrast=4))
    s.habits.keep_lift()
    assert {n: v for n, v in desk.take.recipe.total.items if v} == pytest.approx({"lightness": 1 / 3, "contrast": 4})
    step, hand = desk.take.recipe.step(PICTURE), desk.take.recipe.step(HAND)
    assert step is not None and step.values["lightness"] == pytest.approx(1 / 3, abs=1e-6)
    assert hand is not None and hand.values == Values.of(contrast=4) and not s.habits.keeps_lift
    master = s.now.master
    assert master is not None and master.lift == pytest.approx(1 / 3, abs=1e-5)
    other = next(c for c in s.shelf.conditions if c.id != desk.take.condition and c.printer)
    s.takes.take_on(other)
    assert desk.take.recipe.total["lightness"] == pytest.approx(1 / 3, abs=1e-6), "once, not twice"
    s.takes.leave_steps(desk.take.id)
    assert desk.take.recipe.total == Values.of(lightness=round(1 / 3, 6))
    s.takes.change_recipe(Recipe((*desk.take.recipe.steps, *by_hand(lightness=-1 / 3).steps)))
    s.habits.keep_lift()
    fresh = s.book.get(Master, master.id)
    assert fresh is not None and abs(fresh.lift) < 1e-5 and desk.take.recipe.step(PICTURE) is None
    s.takes.undo()
    again = s.book.get(Master, master.id)
    assert again is not None and again.lift == master.lift


def test_as_last_time_leaves_a_pictures_own_lightness_to_it(desk: Desk) -> None:
    s = desk.session
    s.takes.change_recipe(by_hand(lightness=1 / 3, contrast=4))
    s.habits.keep_lift()
    keep_verdict(s, 0.0, 0.0, 0.0, "good", "")
    other = next(t for t in s.book.all(Take) if t.condition == desk.take.condition and t.master != desk.take.master)
    s.takes.open(other)
    s.takes.change_recipe(by_hand(lightness=-1 / 6))
    s.habits.keep_lift()
    desk.settle()
    s.last_time.take_over()
    assert "the lightness kept with the other picture" in desk.said[-1]
    assert desk.take.recipe.total == Values.of(lightness=round(-1 / 6, 6), contrast=4)
    desk.settle()


def test_a_habit_that_is_gone_is_not_brought_back(desk: Desk) -> None:
    s = desk.session
    made = s.habits.keep(_matte())
    assert made is not None
    s.habits.remove(made)
    said = len(desk.said)
    s.habits.start(made, 0)
    s.habits.remove(made)
    assert s.habits.named("Matte") is None and len(desk.said) == said


def test_which_steps_a_new_habit_takes_on() -> None:
    steps = (
        Step("light", Values.of(lightness=0.2)), Step(LEARNT, Values.of(warmth=5)), Step(PICTURE, Values.of(lightness=0.1)),
        Step(habit_origin("Old"), Values.of(contrast=3), name="Old"), Step(HAND, Values.of(strength=5)),
        Step("area", Values.of(dark_half=4)), Step("area", Values.of(dark_half=4), on=False),
    )  # fmt: skip
    recipe = Recipe(steps)
    assert offered(recipe) == (4, 5)
    assert sum_of(recipe, offered(recipe)) == Values.of(strength=5, dark_half=4)
    assert sum_of(recipe, (3,)) == Values.of(contrast=3) and sum_of(recipe, ()) == Values()


# ---- files


def test_a_habit_comes_back_from_its_file(tmp_path: Path, desk: Desk) -> None:
    pull = Pull(0.6, 0.1, 40.0, lighter=0.05, name="orange")
    values = replace(Values.of(contrast=6, lightness=1 / 3), points=(Point(30.0, 34.0),), pulled=(pull,))
    habit = Habit(name="Mätte “soft”", values=values, intent="relative", compensate=False, view="on-paper")
    path = tmp_path / "matte.json"
    desk.session.habits.write_file(habit, Target(path))
    assert read_habit(path) == habit and "written" in desk.said[-1]
    assert set(json.loads(path.read_text("utf-8"))) == {"habit", "values", "intent", "compensate", "view"}
    desk.session.habits.open_file(path)
    kept = desk.session.habits.named(habit.name)
    assert kept is not None and replace(kept, id=0) == habit
    desk.session.habits.start(kept, 0)
    again = desk.session.habits.open_file(path)
    assert again is not None and again.starts, "what belongs to this workbook stays with the name"
    plain = Habit(name="View alone", view="fitted")
    assert habit_json(plain) == {"habit": "View alone", "view": "fitted"}
    master = desk.session.now.master
    assert master is not None
    before = Path(master.path).read_bytes()
    desk.session.habits.write_file(habit, Target(Path(master.path), desk.session.printing.protected()))
    hard = tmp_path / "other-name.json"
    os.link(master.path, hard)  # the same file by another name
    desk.session.habits.write_file(habit, Target(hard, desk.session.printing.protected()))
    assert "never written to" in desk.said[-1] and Path(master.path).read_bytes() == before
    desk.session.habits.write_file(habit, Target(tmp_path / "nowhere" / "habit.json"))
    assert "folder is missing" in desk.said[-1]


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "no JSON"), ("[1]", "no object"), ("{}", "no name"), ('{"habit": "a"}', "holds nothing"),
        ('{"habit": "a", "intent": "vivid"}', "intent is none of"), ('{"habit": "a", "view": "nice"}', "view is none of"),
        ('{"habit": "a", "compensate": 1}', "neither true nor false"), ('{"habit": "a", "values": {"contrast": "x"}}', "no amount"),
        ('{"habit": "a", "values": {"sparkle": 3}}', "sparkle"), ('{"habit": "a", "starts": true}', "starts"),
        ('{"habit": 3, "view": "fitted"}', "no name"), ('{"habit": "a", "values": [1]}', "no amount"),
    ],
)  # fmt: skip
def test_a_file_that_is_no_habit_is_named(tmp_path: Path, text: str, says: str) -> None:
    path = tmp_path / "habit.json"
    path.write_text(text, "utf-8")
    with pytest.raises(RehearsalError) as found:
        read_habit(path)
    assert says in found.value.words()


def test_the_schema_names_everything_a_habit_may_hold(tmp_path: Path) -> None:
    schema = json.loads((Path(__file__).parents[2] / "docs" / "habit.schema.json").read_text())["properties"]
    whole = Habit(name="a", values=Values.of(contrast=1), intent="relative", compensate=True, view="fitted")
    assert set(schema) == set(habit_json(whole))
    assert tuple(sorted(schema["intent"]["enum"])) == tuple(sorted(INTENTS)) and tuple(schema["view"]["enum"]) == VIEWS


def test_files_that_are_none_are_not_waited_for(tmp_path: Path) -> None:
    pipe, large, bytes_ = tmp_path / "pipe.json", tmp_path / "large.json", tmp_path / "bytes.json"
    os.mkfifo(pipe)
    large.write_bytes(b" " * 1_100_000)
    bytes_.write_bytes(b"\xff\xfe{}")
    for path, says in (
        (pipe, "cannot be read"),
        (large, "is no habit"),
        (bytes_, "no JSON"),
        (tmp_path / "none", "cannot be read"),
    ):
        with pytest.raises(RehearsalError) as found:
            read_habit(path)
        assert says in found.value.words()
    with pytest.raises(RehearsalError):
        write_habit(Habit(name="a", view="fitted"), Target(tmp_path / "none" / "habit.json"))
