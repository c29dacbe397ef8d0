"""Takes that name themselves, how they stand, and the states they went through; another take as the pair."""

from __future__ import annotations

from dataclasses import replace

from tests.known import keep_verdict, known_already
from tests.session.conftest import Desk

from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.place import Ellipse
from rehearsal.core.values.recipe import PLACE, Recipe, Step, by_hand
from rehearsal.core.values.rendering import Rendering
from rehearsal.session.history import MOST
from rehearsal.session.standing import mark_of
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Moment, Take, Written


def test_takes_name_themselves(desk: Desk) -> None:
    s = desk.session
    first = desk.take
    assert first.name == "" and s.takes.name_of(first) == "White Dune, relative"
    s.takes.duplicate()
    second = desk.take
    assert s.takes.name_of(second) == "White Dune, relative 2" and s.takes.name_of(first) == "White Dune, relative"
    s.takes.render(Rendering("relative", False))
    assert s.takes.name_of(desk.take) == "White Dune, relative, uncompensated", "its number goes with what it shared"
    s.takes.rename(desk.take, "  For the hall ")
    assert s.takes.name_of(desk.take) == "For the hall"
    s.takes.rename(desk.take, "")
    assert s.takes.name_of(desk.take) == "White Dune, relative, uncompensated"
    s.takes.undo()
    assert desk.take.name == "For the hall"


def test_two_takes_never_share_a_name(desk: Desk) -> None:
    s = desk.session
    first = desk.take
    s.takes.duplicate()
    second = desk.take
    s.takes.rename(second, "For the hall")
    s.takes.rename(first, "For the hall")
    assert s.takes.name_of(s.book.get(Take, first.id) or first) == "For the hall 2"
    s.takes.rename(s.book.get(Take, first.id) or first, "")
    s.takes.rename(second, "White Dune, relative")  # what the other one calls itself
    names = [s.takes.name_of(t) for t in s.takes.of(first.master)]
    assert len(set(names)) == len(names) and "White Dune, relative 2" in names
    s.takes.duplicate()
    names = [s.takes.name_of(t) for t in s.takes.of(first.master)]
    assert len(set(names)) == len(names) and "White Dune, relative 3" in names


def test_how_a_take_stands_is_said_of_it_as_it_is_now(desk: Desk) -> None:
    s = desk.session
    judged = s.judging.judgement
    assert judged is not None
    found = s.standing.of(desk.take)
    assert found.beyond == judged.beyond.share and found.near is None and not found.printed and not found.written
    s.nearness.ask(judged)
    desk.until(lambda: s.nearness.near is not None)
    near = s.nearness.near
    assert near is not None and s.standing.of(desk.take).near == near.now
    # another view is another nearness; another tuning has neither figure
    s.takes.change("view", view="on-paper")
    assert s.standing.of(desk.take).near is None and s.standing.of(desk.take).beyond == judged.beyond.share
    s.takes.change("view", view="true-black")
    assert s.standing.of(desk.take).near == near.now
    s.takes.change_recipe(by_hand(contrast=5))
    assert s.standing.of(desk.take).near is None and s.standing.of(desk.take).beyond is None
    s.takes.undo()
    assert s.standing.of(desk.take).beyond == judged.beyond.share


def test_written_and_printed_are_said_of_this_very_rendition(desk: Desk) -> None:
    s = desk.session
    rendition = s.now.rendition
    assert rendition is not None
    s.takes.change("write", written=Written("/prints/a.tif", rendition))
    assert s.standing.of(desk.take).written and not s.standing.of(desk.take).printed
    keep_verdict(s, 0.0, 0.0, 0.0, "good", "")
    assert s.standing.of(desk.take).printed
    s.takes.change_recipe(by_hand(contrast=5))
    found = s.standing.of(desk.take)
    assert not found.printed and not found.written, "what was printed is another print"


def test_a_mark_tells_renditions_apart(desk: Desk) -> None:
    rendition = desk.session.now.rendition
    assert rendition is not None
    assert mark_of(rendition) == mark_of(replace(rendition))
    assert mark_of(rendition) != mark_of(replace(rendition, recipe=by_hand(contrast=1)))


def test_a_change_of_paper_is_said_only_when_there_is_one(desk: Desk) -> None:
    s = desk.session
    here = s.now.condition
    assert here is not None
    s.takes.choose_condition(here)
    assert desk.said == []
    s.takes.choose_condition(next(c for c in s.shelf.conditions if c.paper == "Old Quay"))
    assert desk.said == [f"Paper changed from {here.paper} to Old Quay."]


# ---- states


def _words(desk: Desk) -> list[str]:
    return [desk.session.history.words(m) for m in desk.session.history.of(desk.take)]


def test_each_change_is_a_state_with_its_words(desk: Desk) -> None:
    s = desk.session
    s.takes.change_recipe(by_hand(contrast=5))
    s.takes.change_recipe(by_hand(contrast=5, lightness=1 / 3))
    s.takes.render(Rendering("perceptual", True))
    s.takes.change("notes", notes="nothing that prints")
    assert _words(desk) == ["Begun", "Contrast +5", "Lightness +⅓ stop", "Perceptual"]


def test_a_state_come_back_to_is_not_a_new_one(desk: Desk) -> None:
    s = desk.session
    s.takes.change_recipe(by_hand(contrast=5))
    s.takes.change_recipe(by_hand(contrast=8))
    s.takes.undo()
    assert _words(desk) == ["Begun", "Contrast +5", "Contrast +8"], "what was undone can still be gone to"
    s.history.go_back(s.history.of(desk.take)[0])
    assert desk.take.recipe.is_neutral and len(_words(desk)) == 3
    s.takes.undo()
    assert desk.take.recipe == by_hand(contrast=5), "going back is one change"
    s.history.go_back(s.history.of(desk.take)[2])
    assert desk.take.recipe == by_hand(contrast=8)


def test_states_survive_a_restart(desk: Desk, book: Workbook) -> None:
    s = desk.session
    s.takes.change_recipe(by_hand(contrast=5))
    s.history.rename(s.history.of(desk.take)[1], " For the hall ")
    s.takes.change_recipe(Recipe())
    take, kept = desk.take, s.history.of(desk.take)
    desk.settle()
    s.close()
    again = Workbook(book.path)
    found = [m for m in again.all(Moment) if m.take == take.id]
    assert found == kept and [m.name for m in found] == ["", "For the hall"]
    other = Desk(again)
    swap = known_already()
    other.session.takes.open(again.get(Take, take.id))  # type: ignore[arg-type]
    other.session.history.go_back(found[1])
    assert other.take.recipe == by_hand(contrast=5)
    other.settle()
    swap.undo()
    other.session.close()


def test_only_so_many_states_are_kept_and_those_with_a_name(desk: Desk) -> None:
    s = desk.session
    s.takes.change_recipe(by_hand(contrast=1))
    s.history.rename(s.history.of(desk.take)[1], "kept")
    for i in range(MOST + 6):
        s.takes.change_recipe(by_hand(strength=i % 50 + 1, warmth=i // 50 + 1))
    found = s.history.of(desk.take)
    assert len(found) == MOST + 1 and found[0].name == "kept" and found[-1].recipe == desk.take.recipe


def test_a_state_of_another_take_or_of_a_paper_that_is_gone(desk: Desk) -> None:
    s = desk.session
    s.takes.change_recipe(by_hand(contrast=5))
    moment = s.history.of(desk.take)[0]
    s.history.go_back(replace(moment, condition=9999))
    assert "no longer on the shelf" in desk.said[-1] and desk.take.recipe == by_hand(contrast=5)
    s.takes.duplicate()
    here = desk.take
    s.history.go_back(moment)
    assert desk.take == here


def test_states_keep_no_words_and_tell_how_they_came_about(desk: Desk) -> None:
    s = desk.session
    s.takes.change_recipe(by_hand(contrast=5))
    s.history.go_back(s.history.of(desk.take)[0])
    s.takes.change_recipe(by_hand(strength=4))  # made of the first state, not of the last one
    assert _words(desk) == ["Begun", "Contrast +5", "Colour strength +4 %"]
    moment = s.history.of(desk.take)[2]
    assert s.history.words(replace(moment, after=9999)) == "Colour strength +4 %", (
        "of one whose beginning is gone: how it is tuned"
    )
    assert s.history.words(replace(moment, after=9999, recipe=Recipe())) == "Begun"
    other = next(c for c in s.shelf.conditions if c.id != desk.take.condition and c.printer)
    s.takes.choose_condition(other)
    assert _words(desk)[-1] == f"On {other.paper}"


def test_a_name_given_late_takes_nothing_back(desk: Desk) -> None:
    s = desk.session
    listed = desk.take
    s.takes.change_recipe(by_hand(contrast=5))
    s.takes.rename(listed, "Hall")
    assert desk.take.name == "Hall" and desk.take.recipe == by_hand(contrast=5)
    s.takes.open(listed)
    assert desk.take.recipe == by_hand(contrast=5), "what is opened is the take as it is now"
    s.takes.remove(desk.take)
    s.takes.rename(listed, "Gone")
    assert s.book.get(Take, listed.id) is None
    desk.settle()


def test_states_of_a_take_that_is_gone_go_at_the_next_start(desk: Desk, book: Workbook) -> None:
    # a take's number may come again: another take must not inherit them
    s = desk.session
    s.takes.duplicate()
    s.takes.change_recipe(by_hand(contrast=5))
    gone = desk.take
    s.takes.remove(gone)
    s.takes.undo()
    assert len(s.history.of(gone)) == 2, "put back it has them"
    s.takes.redo()
    desk.settle()
    s.close()
    again = Workbook(book.path)
    assert [m for m in again.all(Moment) if m.take == gone.id]
    other = Desk(again)
    assert other.session.history.of(gone) == []
    other.session.close()


# ---- another take as the pair


def test_another_take_in_the_picture_s_place(desk: Desk) -> None:
    s = desk.session
    s.takes.change_recipe(by_hand(lightness=-1.0))
    first = desk.take
    s.takes.duplicate()
    s.takes.change_recipe(by_hand(lightness=1.0))
    desk.settle()
    s.side_by_side(first)
    desk.until(lambda: s.roads.rival_painter is not None)
    assert s.roads.rival_take == first and s.now.picture is not None
    block = s.now.picture.pyramid.block(0, 0, 200, 150, 40, 30)
    assert s.roads.rival_painter is not None and s.roads.painter is not None
    dark, light = (p.paint(block) & 255 for p in (s.roads.rival_painter, s.roads.painter))
    assert int(light.sum()) > 1.2 * int(dark.sum()), "each with its own tuning"
    before = s.roads.rival_painter
    s.roads.preview(by_hand(lightness=0.5))
    assert (s.roads.rival_painter.paint(block) == before.paint(block)).all(), "a drag moves the open take alone"
    s.roads.end_preview()
    # changed or taken off meanwhile
    s.takes.remove(first)
    assert s.roads.rival_take is None and s.roads.rival_painter is None
    s.side_by_side(desk.take)
    assert s.roads.rival_take is None, "a take is not compared with itself"
    desk.settle()


def test_a_compared_take_keeps_its_places(desk: Desk) -> None:
    s = desk.session
    place = Step(PLACE, Values.of(lightness=-1.5), place=Ellipse((0.5, 0.3), (0.4, 0.3)))
    s.takes.change_recipe(Recipe((place,)))
    first = desk.take
    s.takes.duplicate()
    s.takes.change_recipe(Recipe())
    desk.settle()
    s.side_by_side(first)
    desk.until(lambda: s.roads.of_side(0) is not s.roads.of_side(1))
    left, right = s.roads.of_side(0), s.roads.of_side(1)
    assert left is not None and right is not None
    assert left.rendition.recipe == Recipe((place,)) and right.rendition.recipe.is_neutral
    s.roads.end_rival()
    assert s.roads.of_side(0) is s.roads.of_side(1)
    desk.settle()


def test_comparing_keeps_nothing(desk: Desk) -> None:
    s = desk.session
    before = s.book.all(Take)
    s.takes.duplicate()
    other = desk.take
    s.takes.open(before[0])
    s.side_by_side(other)
    desk.settle()
    s.roads.end_rival()
    assert s.book.all(Take) == [*before, other]
