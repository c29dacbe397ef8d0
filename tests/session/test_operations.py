"""Named operations over every kept kind, one undo list, and the change record; without a window."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest
from tests.known import keep_verdict
from tests.session.conftest import Desk

from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import Crop
from rehearsal.core.values.recipe import HAND, LEARNT, LIGHT, Recipe, Step, by_hand, habit_origin
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.testplan import Looked, TestPlan, Variant
from rehearsal.session.bus import Change
from rehearsal.session.screen import record_of
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Accepted, Habit, LogEntry, Master, ScreenReading, Take, TestSheet


def _everything(desk: Desk) -> dict:
    kinds = (Take, Master, PrintCondition, Habit, LogEntry, Accepted)
    return {k: desk.session.book.all(k) for k in kinds} | {"screen": desk.session.screen.record}


# ---- the undo list


def test_one_undo_list_over_every_kept_kind(desk: Desk, tmp_path: Path, little_cloths: Path) -> None:
    s = desk.session
    first = s.now.take
    states = [_everything(desk)]

    def done() -> None:
        states.append(_everything(desk))
        assert states[-1] != states[-2], "the operation changed something that is kept"

    s.takes.change_recipe(by_hand(strength=5))
    done()
    s.takes.duplicate()
    done()
    s.shelf.add(PrintCondition(paper="Spare", profile_path="space:opRGB"))
    done()
    s.shelf.change(replace(s.shelf.conditions[-1], notes="kept flat"))
    done()
    s.shelf.accept(s.now.take.condition, "deep-orange", "too_saturated", "velvet")  # type: ignore[union-attr]
    done()
    s.screen.keep_reading(ScreenReading("2026-11-01", 91.0, source="typed"))
    done()
    s.screen.set(lux=150.0)
    done()
    s.habits.keep(Habit(name="strong", values=Values.of(strength=5)))
    done()
    keep_verdict(s, 2.0, 0.0, 0.0, "usable", "dark")
    done()
    s.shelf.remove(s.shelf.conditions[-1])
    done()
    other = tmp_path / "other.tif"
    other.write_bytes(little_cloths.read_bytes() + b"another")
    s.incoming.open_files([str(other)])
    desk.until(lambda: s.now.master is not None and s.now.master.name == "other")
    states.append(_everything(desk))
    s.takes.remove(s.takes.of(s.takes.masters[0].id)[0])
    done()
    # all the way back, through every state there was, and all the way forth again
    left = states[-2::-1]
    for _ in range(20):
        s.takes.undo()
        if left and _everything(desk) == left[0]:
            left.pop(0)
    assert left == [] and _everything(desk) == states[0] and s.now.take == first
    for _ in range(20):
        s.takes.redo()
    assert _everything(desk) == states[-1]
    desk.settle()


def test_undo_goes_back_to_the_take_it_is_about_and_says_so(desk: Desk) -> None:
    s, first = desk.session, desk.take
    s.takes.change_recipe(by_hand(strength=5))
    other = next(t for t in s.book.all(Take) if t.master != first.master)
    s.takes.open(other)
    desk.settle()
    desk.said.clear()
    s.takes.undo()
    assert s.now.take == first and desk.said == ["Taken back: tuning."]
    desk.settle()
    # of the open take it is said as well: what was taken back may not show where one looks
    desk.said.clear()
    s.takes.redo()
    s.takes.undo()
    assert desk.said == ["Done again: tuning.", "Taken back: tuning."]
    desk.settle()


def test_a_change_ends_what_could_be_done_again(desk: Desk) -> None:
    s = desk.session
    s.takes.change_recipe(by_hand(strength=5))
    s.takes.undo()
    s.takes.render(Rendering("perceptual"))
    s.takes.redo()
    assert desk.take.recipe.is_neutral and desk.take.rendering.intent == "perceptual"


def test_undo_of_the_first_picture_leaves_an_empty_desk(tmp_path: Path, little_cloths: Path) -> None:
    desk = Desk(Workbook(tmp_path / "empty.sqlite"))
    s = desk.session
    s.takes.undo()
    s.incoming.open_files([str(little_cloths)])
    desk.until(lambda: s.now.picture is not None)
    desk.settle()
    while s.book.all(Master):
        s.takes.undo()
    assert s.now.take is None and s.now.picture is None and s.book.all(Take) == [] == s.shelf.conditions
    for _ in range(5):
        s.takes.redo()
    assert len(s.book.all(Take)) == 1 and len(s.takes.masters) == 1
    s.close()


def test_a_moved_master_is_noted_and_not_an_operation(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    s.takes.change_recipe(by_hand(strength=5))
    master = s.now.master
    assert master is not None
    Path(master.path).rename(tmp_path / "moved.tif")
    s.now.read_again()
    desk.settle()
    assert s.now.master is not None and s.now.master.path.endswith("moved.tif") and s.now.file_state == "there"
    s.takes.undo()
    assert s.now.take is not None and s.now.take.recipe.is_neutral and s.now.master.path.endswith("moved.tif")


def test_a_window_that_only_looks_changes_nothing_and_says_why(tmp_path: Path, book: Workbook) -> None:
    other = Desk(Workbook(book.path))
    take = book.all(Take)[0]
    other.session.takes.open(take)
    other.settle()
    other.session.takes.change_recipe(by_hand(strength=5))
    other.session.screen.set(lux=5.0)
    assert other.session.now.take == take and other.session.screen.record.lux == 320.0
    assert len(other.said) == 2 and all("another window" in text for text in other.said)
    other.session.close()
    book.close()
    again = Workbook(book.path)
    assert again.all(Take)[0] == take
    again.close()


# ---- the change record


def test_the_change_record_names_what_changed(desk: Desk) -> None:
    s = desk.session
    desk.topics.clear()
    s.takes.change_sheet(name="A2")
    assert frozenset({"take.sheet"}) in desk.topics
    assert not any(t.startswith("take.") and t != "take.sheet" for topics in desk.topics for t in topics)
    for change, topic in (
        (lambda: s.takes.change_frame(crop=Crop(0, 0, 0.5, 0.5)), "take.frame"),
        (lambda: s.takes.change_recipe(by_hand(strength=7)), "take.recipe"),
        (lambda: s.takes.render(Rendering("perceptual")), "take.rendering"),
        (lambda: s.takes.change_hand_over(format="jpeg"), "take.hand_over"),
        (lambda: s.takes.change(view="on-paper"), "take.view"),
        (lambda: s.takes.change(name="another"), "take.name"),
        (lambda: s.takes.change(not_wanted=("log",)), "take.not_wanted"),
    ):
        desk.topics.clear()
        change()
        assert frozenset({topic}) in desk.topics, topic
    desk.settle()
    desk.topics.clear()
    s.shelf.accept(1, "red", "too_dark", "velvet")
    assert desk.topics == [frozenset({"accepted"})]


def test_what_a_change_is_about() -> None:
    part = Change(frozenset({"take.recipe", "road"}))
    assert part.about("take") and part.about("take.recipe") and part.about("road", "log")
    assert not part.about("take.frame") and not part.about("log") and not part.about("tak")
    whole = Change(frozenset({"take"}))
    assert whole.about("take.frame") and not whole.about("takes")


# ---- steps with origins


def test_pressing_lighten_again_sets_it_again(desk: Desk) -> None:
    s = desk.session
    s.screen.set(white=240.0, lux=100.0)
    rest = s.logbook.brightness.rest  # type: ignore[union-attr]
    assert rest > 0.5
    for _ in range(3):
        s.logbook.lighten_for_light()
    step = desk.take.recipe.step(LIGHT)
    assert step is not None and step.values["lightness"] == pytest.approx(rest, abs=1 / 12 + 1e-6)
    assert desk.take.recipe.total["lightness"] == step.values["lightness"]


def test_a_habit_is_set_again_never_added(desk: Desk) -> None:
    s = desk.session
    habit = s.habits.all[0]
    assert habit.values == Values.of(dark_half=8)
    s.takes.change_recipe(by_hand(dark_half=4))
    for _ in range(3):
        s.habits.apply(habit)
    assert desk.take.recipe.total["dark_half"] == 12
    origins = [step.origin for step in desk.take.recipe.steps]
    assert origins == [HAND, habit_origin("White Dune: open the darks")]
    s.habits.apply(Habit(name="another", values=Values.of(contrast=3)))
    assert len(desk.take.recipe.steps) == 3


def test_the_lesson_is_set_again_and_stays_the_lesson(desk: Desk) -> None:
    s = desk.session
    lesson = s.logbook.lesson
    assert lesson is not None and 0.2 < lesson.values["lightness"] < 0.35
    stops = lesson.values["lightness"]
    for _ in range(3):
        s.logbook.apply_lesson()
    assert desk.take.recipe.total["lightness"] == pytest.approx(stops, abs=0.02)
    # three right prints with it: it is still what was learnt, also when taken over as last time
    s.takes.change_recipe(desk.take.recipe.with_total("contrast", 4))
    for _ in range(5):
        keep_verdict(s, 0.0, 0.0, 0.0, "good", "")
    again = s.logbook.lesson
    assert again is not None and again.values["lightness"] == pytest.approx(stops, abs=0.02)
    other = next(t for t in s.book.all(Take) if t.condition == desk.take.condition and t.master != desk.take.master)
    s.takes.open(other)
    desk.settle()
    s.last_time.take_over()
    assert "As the print of " in desk.said[-1]
    learnt = desk.take.recipe.step(LEARNT)
    assert learnt is not None and learnt.values["lightness"] == pytest.approx(stops, abs=0.02)
    assert desk.take.recipe.total["contrast"] == 4


def test_as_the_master_takes_everything_away(desk: Desk) -> None:
    s = desk.session
    s.logbook.apply_lesson()
    s.takes.change_recipe(Recipe())
    assert desk.take.recipe == Recipe() and s.logbook.lesson is not None


def test_as_last_time_leaves_places_to_their_picture(desk: Desk) -> None:
    from rehearsal.core.values.place import Ellipse

    s = desk.session
    place = Step("place", Values.of(contrast=5), place=Ellipse((0.5, 0.3), (0.1, 0.1)))
    s.takes.change_recipe(by_hand(strength=3).having(place))
    keep_verdict(s, 0.0, 0.0, 0.0, "good", "")
    other = next(t for t in s.book.all(Take) if t.condition == desk.take.condition and t.master != desk.take.master)
    s.takes.open(other)
    assert s.now.picture is None or desk.take.recipe.is_neutral
    before = desk.take
    s.last_time.take_over()  # the picture is still being read: nothing is changed before it is there
    assert desk.take == before and "as soon as the picture is read" in desk.said[-1]
    desk.settle()
    assert (
        desk.take.recipe == by_hand(strength=3)
        and "Not taken over: places, which are the other picture's" in desk.said[-1]
    )
    s.takes.duplicate()
    desk.settle()


# ---- the shelf


def test_a_condition_that_takes_or_the_logbook_need_stays(desk: Desk) -> None:
    s, condition = desk.session, desk.session.now.condition
    assert condition is not None
    fresh = s.shelf.add(replace(condition, id=0, paper="Only logged", profile_digest="another"))
    assert fresh is not None
    s.book.do("keep-entry", [LogEntry(condition=fresh.id, verdict="right")])
    assert s.shelf.remove(fresh) == f"{fresh.name} stays: 1 entry of the logbook needs it."
    assert s.shelf.get(fresh.id) == fresh
    assert "stays" in s.shelf.remove(condition) and s.shelf.get(condition.id) == condition
    unused = s.shelf.add(replace(condition, id=0, paper="Unused", profile_digest="a third"))
    assert unused is not None and "off the shelf" in s.shelf.remove(unused) and s.shelf.get(unused.id) is None


def test_what_a_lab_prescribes_reaches_the_judgement(desk: Desk) -> None:
    s, condition = desk.session, desk.session.now.condition
    assert condition is not None
    for prescribed in (False, True):
        s.shelf.change(replace(condition, default_intent="saturation", prescribed=prescribed))
        desk.settle()
        judged = s.judging.judgement
        assert judged is not None
        assert (judged.advice.rendering == Rendering("saturation")) is prescribed


def test_a_papers_own_default_is_taken_over(desk: Desk, tmp_path: Path, little_cloths: Path) -> None:
    s, condition = desk.session, desk.session.now.condition
    assert condition is not None
    s.shelf.change(replace(condition, default_intent="perceptual"))
    path = tmp_path / "fresh.tif"
    path.write_bytes(little_cloths.read_bytes() + b"fresh")
    s.incoming.open_files([str(path)])
    desk.until(lambda: s.now.master is not None and s.now.master.name == "fresh")
    desk.settle()
    assert desk.take.condition == condition.id and desk.take.rendering == Rendering("perceptual")


def test_a_rendering_the_user_has_set_stays_on_another_paper(desk: Desk) -> None:
    s = desk.session
    papers = [c for c in s.shelf.conditions if not c.space and c.id != desk.take.condition]
    s.shelf.change(replace(papers[0], default_intent="perceptual"))
    s.shelf.change(replace(papers[1], default_intent="saturation", prescribed=True))
    s.takes.choose_condition(s.shelf.get(papers[0].id))  # type: ignore[arg-type]
    assert desk.take.rendering == Rendering("perceptual"), "nothing was set: the paper's own default"
    s.takes.render(Rendering("relative", False))
    s.takes.choose_condition(papers[2])
    assert desk.take.rendering == Rendering("relative", False)
    s.takes.choose_condition(s.shelf.get(papers[1].id))  # type: ignore[arg-type]
    assert desk.take.rendering.intent == "saturation", "a lab's prescription comes first"
    desk.settle()


def test_no_master_of_the_workbook_is_ever_written_to(desk: Desk) -> None:
    s = desk.session
    other = next(m for m in s.book.all(Master) if m.id != desk.take.master)
    before = Path(other.path).read_bytes()
    s.printing.write(Path(other.path))
    desk.until(lambda: s.testing.made is not None)
    s.tested.write(Path(other.path))
    s.printing.save_ticket(Path(other.path))
    desk.settle()
    assert Path(other.path).read_bytes() == before and desk.take.file == "" and s.tested.last is None
    assert sum("never written to" in words for words in desk.said) == 3


def _printed_before(desk: Desk) -> Recipe:
    """The open take as an earlier arithmetic left it, in the logbook and on a test sheet too."""
    s = desk.session
    old = replace(by_hand(contrast=12), maths=1)
    s.takes.change("recipe", recipe=old)
    keep_verdict(s, 0.0, 0.0, 0.0, "good", "")
    assert s.now.take is not None and s.now.rendition is not None
    fields = tuple(Variant(i, s.now.rendition, (value,)) for i, value in enumerate((4.0, 12.0), 1))
    plan, looked = TestPlan("bracket", "contrast"), Looked("chosen", (2,))
    sheet = TestSheet(
        take=s.now.take.id, rendition=s.now.rendition, plan=plan, names=("contrast",), variants=fields, looked=looked
    )
    s.book.do("test-sheet", [sheet])
    return old


def test_what_an_earlier_arithmetic_tuned_is_kept_and_named_when_it_is_printed_again(desk: Desk) -> None:
    s, old = desk.session, _printed_before(desk)
    assert desk.take.recipe == old and s.logbook.entries[-1].rendition.recipe == old  # type: ignore[union-attr]
    s.takes.change_recipe(Recipe())
    s.last_time.take_over()
    assert "earlier arithmetic" in desk.said[-1] and desk.take.recipe == old
    s.takes.keep_looks()
    assert desk.take.recipe == by_hand(contrast=12)
    s.takes.undo()
    assert desk.take.recipe == old
    assert s.tested.last is not None and s.tested.apply(s.tested.last)
    assert desk.take.recipe == by_hand(contrast=12) and "earlier arithmetic" in desk.said[-1]


def test_as_last_time_says_nothing_of_arithmetic_when_it_is_the_same(desk: Desk) -> None:
    s = desk.session
    s.takes.change_recipe(by_hand(contrast=12))
    keep_verdict(s, 0.0, 0.0, 0.0, "good", "")
    s.last_time.take_over()
    assert "arithmetic" not in desk.said[-1]
    s.takes.keep_looks()
    assert desk.take.recipe == by_hand(contrast=12)


def test_what_is_written_now_is_of_the_present_arithmetic(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    _printed_before(desk)
    desk.settle()
    s.printing.write(tmp_path / "print.tif")
    desk.until(lambda: desk.take.written is not None and not s.jobs.running)
    assert desk.take.written is not None and desk.take.written.rendition.recipe == by_hand(contrast=12)
    assert desk.take.recipe.is_old


def test_what_is_tuned_by_hand_is_not_counted_twice_in_its_light(desk: Desk) -> None:
    s = desk.session
    s.screen.set(white=200.0, lux=150.0)
    desk.settle()
    plain = s.logbook.light_words
    assert " darker than this screen" in plain and "set the screen to" in plain
    s.takes.change_recipe(by_hand(lightness=0.5))
    assert s.logbook.light_words == plain
    s.takes.change_recipe(Recipe((Step(LIGHT, Values.of(lightness=0.5)),)))
    assert s.logbook.light_words != plain
    s.takes.change_recipe(Recipe((Step(LEARNT, Values.of(lightness=0.5)),)))
    assert s.logbook.light_words != plain


def test_the_colour_of_the_light_is_kept_with_a_verdict(desk: Desk) -> None:
    s = desk.session
    s.screen.set(kelvin=3000.0)
    keep_verdict(s, 1.0, 0.0, 0.0, "usable", "")
    assert s.logbook.entries[-1].kelvin == 3000.0
    lesson = s.logbook.lesson
    s.screen.set(kelvin=5000.0)
    assert s.logbook.lesson != lesson


def test_the_first_change_of_a_screen_is_taken_back_too(desk: Desk) -> None:
    screen = desk.session.screen
    screen.use("a screen never changed", 0)
    before = screen.record
    screen.set(lux=before.lux + 77)
    desk.session.takes.undo()
    assert screen.record == before


def test_hours_that_were_guessed_from_days_are_not_taken_over() -> None:
    # as the version before kept it
    old = {"white": 90.0, "calibrated": "2026-11-01", "interval_hours": 170.0, "hours_a_day": 8.0}
    record = record_of(old)
    assert record.by_hours and record.hours == 0.0 and record.interval_hours == 170.0 and record.white == 90.0
    assert not record_of({**old, "hours_a_day": 0.0}).by_hours
    assert not record_of({**old, "by_hours": False}).by_hours
