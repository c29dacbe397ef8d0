"""What belongs to a take, to its paper and to a print: ticks, states, copies, written files, profiles, sheets and rolls."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

import pytest
from tests.session.conftest import Desk

from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import PrintSize
from rehearsal.core.values.queue import SentState
from rehearsal.core.values.recipe import by_hand
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.sheet import Sheet
from rehearsal.session.book import _DEPTH, Operation
from rehearsal.session.history import is_of, moment_of
from rehearsal.session.prints import _after
from rehearsal.workbook.values import PrintJob, Take, Written

_TICKS = ("coated side", "nozzles")


def _other(desk: Desk) -> PrintCondition:
    return next(c for c in desk.session.shelf.conditions if c.id != desk.take.condition and not c.space)


def test_ticks_are_of_this_print_on_this_paper(desk: Desk) -> None:
    s = desk.session
    s.takes.change("tick", ticked=_TICKS)
    s.takes.choose_condition(_other(desk))
    assert desk.take.ticked == (), "another paper is loaded anew"
    s.takes.undo()
    assert desk.take.ticked == _TICKS
    s.takes.duplicate()
    assert desk.take.ticked == () and desk.take.id != 0


def test_ticks_are_used_up_by_a_print_that_came_out(desk: Desk) -> None:
    s = desk.session
    s.takes.change("tick", ticked=_TICKS)
    take, rendition = desk.take, s.now.rendition
    assert rendition is not None and s.now.condition is not None
    job = s.book.note(
        PrintJob(
            take=take.id, condition=take.condition, queue="hall", renditions=(rendition,), card=s.now.condition, state="sent",
        )
    )  # fmt: skip
    s.prints._on_states([(job.id, SentState("held"))])
    assert desk.take.ticked == _TICKS, "a page that waits has used nothing"
    s.prints._on_states([(job.id, SentState("done"))])
    assert desk.take.ticked == () and desk.take.written is not None and desk.take.written.rendition == rendition


@pytest.mark.parametrize(
    ("state", "after"),
    [("sent", "sent"), ("held", "held"), ("done", "done"), ("failed", "waiting"), ("stopped", "waiting")],
)
def test_only_a_page_that_is_over_without_a_print_is_printed_again(desk: Desk, state: str, after: str) -> None:
    s, rendition = desk.session, desk.session.now.rendition
    assert rendition is not None
    job = s.book.note(PrintJob(take=desk.take.id, queue="hall", renditions=(rendition,), state=state, number="hall-1"))
    s.prints._begin = lambda: None  # type: ignore[method-assign]
    s.prints.again(job)
    kept = s.book.get(PrintJob, job.id)
    assert kept is not None and kept.state == after and bool(kept.number) is (state == after)


def test_a_copy_has_no_name_of_its_own_yet(desk: Desk) -> None:
    s = desk.session
    s.takes.change("name", name="for the hall")
    s.takes.duplicate()
    assert desk.take.name == "" and desk.take.recipe == s.takes.of(desk.take.master)[0].recipe


def test_what_was_put_back_is_not_offered_again(desk: Desk) -> None:
    s = desk.session
    s.takes.duplicate()
    gone, name = desk.take, s.takes.name_of(desk.take)
    s.takes.remove(gone)
    assert s.takes.removed == name
    s.takes.restore()
    assert s.takes.removed == "" and s.book.get(Take, gone.id) == gone
    s.takes.remove(gone)
    s.takes.undo()
    assert s.takes.removed == "", "undone is put back as well"


def test_an_operation_knows_what_it_made() -> None:
    old, made, changed = Take(id=1), Take(id=2), Take(id=1, name="now named")
    done = Operation("some", 0, (old, None), (changed, made))
    assert done.is_new(made) and not done.is_new(changed) and not done.is_new(old)
    assert not done.turned.is_new(old), "taken back, it was there before"


def test_a_copy_and_a_take_on_another_paper_are_not_written(desk: Desk) -> None:
    s, rendition = desk.session, desk.session.now.rendition
    assert rendition is not None
    s.takes.change("written", written=Written("a.tif", rendition, "2026-11-02T10:00"))
    assert s.standing.of(desk.take).written
    s.takes.duplicate()
    assert desk.take.written is None and not s.standing.of(desk.take).written
    s.takes.undo()
    s.takes.take_on(_other(desk))
    assert desk.take.written is None and desk.take.ticked == ()


@pytest.mark.parametrize(
    "change",
    [
        {"sheet": Sheet("A2")}, {"sheet": Sheet("A3+", borderless=True)}, {"recipe": by_hand(contrast=4)},
        {"rendering": Rendering("perceptual")},
    ],
)  # fmt: skip
def test_each_part_of_a_print_is_a_state_that_is_gone_back_to(desk: Desk, change: dict[str, object]) -> None:
    s, before = desk.session, desk.take
    s.takes.change("part", **change)
    states = s.history.of(desk.take)
    assert len(states) == 2 and is_of(states[1], desk.take) and not is_of(states[1], before)
    s.history.go_back(states[0])
    assert {name: getattr(desk.take, name) for name in change} == {name: getattr(before, name) for name in change}
    assert len(s.history.of(desk.take)) == 2, "a state come back to is not a new one"


def test_forty_states_are_kept_and_those_with_a_name_beside_them(desk: Desk) -> None:
    s = desk.session
    for i in range(45):
        s.takes.change_recipe(by_hand(contrast=i % 50 + 1))
        if i == 1:
            s.book.note(replace(s.history.of(desk.take)[-1], name="kept"))
    states = s.history.of(desk.take)
    assert len([m for m in states if not m.name]) == 40 and [m.name for m in states if m.name] == ["kept"]
    assert is_of(states[-1], desk.take), "the newest are kept"


def test_a_state_is_of_the_take_it_was_noted_of(desk: Desk) -> None:
    s, first = desk.session, desk.take
    s.takes.change_recipe(by_hand(contrast=4))
    s.takes.duplicate()
    second = desk.take
    assert second.id != first.id and s.history.of(second) == []
    s.takes.change_recipe(by_hand(contrast=8))
    assert [m.take for m in s.history.of(second)] == [second.id] * 2
    assert s.history.of(second)[0].recipe == by_hand(contrast=4) and len(s.history.of(first)) == 2
    noted = moment_of(second, 0, datetime(2026, 11, 2))
    assert is_of(noted, second) and not is_of(noted, replace(second, id=first.id))


def test_two_hundred_steps_can_be_taken_back(desk: Desk) -> None:
    s, start = desk.session, desk.take
    for i in range(_DEPTH + 20):
        s.takes.change("notes", notes=f"{i}")
    count = 0
    while s.takes.undo():
        count += 1
    assert count == _DEPTH == 200
    assert desk.take.notes == "19" and replace(desk.take, notes=start.notes) == start
    for _ in range(3):
        s.takes.redo()
    assert desk.take.notes == "22"
    s.takes.change("notes", notes="another way")
    assert s.book.redoes == "", "a change closes the other way"


def test_every_page_keeps_the_profile_it_was_judged_with(desk: Desk) -> None:
    s, here = desk.session, desk.take
    other = _other(desk)
    s.prints.is_paused = True
    s.takes.change_hand_over(queue="hall")
    s.takes.take_on(other)
    s.takes.change_hand_over(queue="hall")
    desk.settle()
    there = desk.take
    first = s.book.get(Take, here.id)
    assert first is not None
    made = s.prints.order([first, there])
    digests = {job.rendition.destination.digest for job in made}
    assert len(made) == 2 and len(digests) == 2
    for job in made:
        kept = s.book.profile_bytes(job.rendition.destination.digest)
        assert kept == s.shelf.profile(job.card.profile_path).data


def test_sharpening_stays_within_what_can_be_given_back(desk: Desk) -> None:
    s = desk.session
    for asked, given in ((300.0, 150.0), (150.0, 150.0), (-5.0, 0.0), (75.0, 75.0)):
        s.takes.sharpen(asked)
        assert desk.take.hand_over.sharpen == given


# ---- what is left of a paper


def _card(**fields: object) -> PrintCondition:
    return PrintCondition(1, "Skarn 24", "White Dune", **fields)  # type: ignore[arg-type]


def _job(desk: Desk, sheet: str, size: PrintSize) -> PrintJob:
    rendition = desk.session.now.rendition
    assert rendition is not None
    made = replace(rendition, sheet=Sheet(sheet), frame=replace(rendition.frame, size=size))
    return PrintJob(take=1, condition=1, renditions=(made,))


def test_a_count_of_sheets_goes_down_to_none_and_not_below(desk: Desk) -> None:
    job = _job(desk, "A3", PrintSize(39, 26))
    assert [_after(_card(stock=n), job).stock for n in (3, 1, 0, -1)] == [2, 0, 0, -1]


@pytest.mark.parametrize(
    ("size", "used_cm"),  # with 2 cm before and after the print, turned so that the length is least
    [(PrintSize(60, 40), 44.0), (PrintSize(40, 60), 44.0), (PrintSize(30, 80), 84.0), (PrintSize(80, 30), 84.0)],
)
def test_a_roll_is_used_up_along_its_length_whichever_way_the_print_lies(
    desk: Desk, size: PrintSize, used_cm: float
) -> None:
    job = _job(desk, "roll 610mm", size)
    assert _after(_card(roll_m=10.0), job).roll_m == pytest.approx(10.0 - used_cm / 100, abs=0.006)
    assert _after(_card(roll_m=0.1), job).roll_m == 0.0
    assert _after(_card(roll_m=-1.0), job).roll_m == -1.0, "what nobody has told does not go down"
