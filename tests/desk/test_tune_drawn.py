"""Tune drawn: ladder, ledger, white and fields by real drags and keys, against the arithmetic they stand for."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QWidget
from pytestqt.qtbot import QtBot
from tests.desk.conftest import drag, pixels, press, wait_until_settled

from rehearsal.core.tuning.summing import lightness_words
from rehearsal.core.tuning.tone import tone
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.place import Ellipse
from rehearsal.core.values.pull import Point
from rehearsal.core.values.recipe import HAND, LEARNT, LIGHT, PLACE, Recipe, Step, by_hand
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.ladder import RUNGS, Ladder
from rehearsal.desk.parts.ledger import Ledger
from rehearsal.desk.parts.valuefield import ValueField
from rehearsal.desk.parts.whitepad import WhitePad
from rehearsal.desk.trays.tune import TuneTray
from rehearsal.desk.trays.tunenear import near_words
from rehearsal.workbook.values import Take

PRINTED = np.linspace(18.0, 95.0, 101)


@pytest.fixture
def ladder(qtbot: QtBot) -> Ladder:
    """A ladder on a paper from L* 18 to 95."""
    made = Ladder()
    qtbot.addWidget(made)
    made.resize(300, 230)
    made.show_ladder(PRINTED, np.full(101, 0.5))
    made.show()
    return made


def _kept(ladder: Ladder) -> list[Values]:
    told: list[Values] = []
    ladder.set_to.connect(told.append)
    return told


@pytest.mark.parametrize(("name", "level"), [("light_half", 75.0), ("lightness", 50.0), ("dark_half", 25.0)])
def test_a_rung_follows_the_pointer(ladder: Ladder, name: str, level: float) -> None:
    told = _kept(ladder)
    start = ladder.handle(name).center().toPoint()
    drag(ladder, start, QPoint(0, -9))
    assert len(told) == 1 and told[0][name] > 0 and [n for n, _v in told[0]] == [name]
    assert ladder.handle(name).center().y() == pytest.approx(start.y() - 9, abs=4), "to a whole step"
    printed = np.interp(float(tone(np.array(level), told[0])), np.linspace(0, 100, 101), PRINTED)
    assert ladder.handle(name).center().y() == pytest.approx(ladder.y_of(float(printed)), abs=0.5)
    QTest.mouseClick(ladder, Qt.MouseButton.LeftButton, pos=ladder.handle(name).center().toPoint())
    assert len(told) == 1, "no change without a move"


def test_ends_are_pulled_in_and_let_out(ladder: Ladder) -> None:
    told = _kept(ladder)
    unit = ladder.y_of(0) - ladder.y_of(1)
    drag(ladder, ladder.handle("lightest").center().toPoint(), QPoint(0, -round(5 * unit)))
    assert told[-1]["lightest"] == pytest.approx(5, abs=1) and ladder.start_of("lightest") == 100 - told[-1]["lightest"]
    assert ladder.handle("lightest").center().y() == pytest.approx(ladder.y_of(95), abs=0.5), "white stays white"
    drag(ladder, ladder.handle("deepest").center().toPoint(), QPoint(0, -round(6 * unit)))
    assert told[-1]["deepest"] == pytest.approx(6, abs=1) and ladder.start_of("deepest") == 0
    ladder.show_values(Values.of(deepest=-8))
    assert ladder.start_of("deepest") == 8 and ladder.start_of("lightest") == 100


def test_a_press_on_a_thread_makes_a_free_point(ladder: Ladder) -> None:
    told = _kept(ladder)
    left, right = ladder.rails()
    level = 30.0
    share = 0.5
    y = ladder.y_of(level) + (ladder.y_of(float(ladder.out(level))) - ladder.y_of(level)) * share
    at = QPoint(round(left + (right - left) * share), round(y))
    drag(ladder, at, QPoint(0, -8))
    (point,) = told[-1].points
    assert point.at == pytest.approx(30, abs=1.5) and point.to > point.at + 4
    place = ladder.point_place(point)
    shown = pixels(ladder)[round(place.y()), round(place.x()), 0]
    assert shown > 200, "the chosen one is light"
    press_key(ladder, Qt.Key.Key_Down)
    assert told[-1].points[0].to == pytest.approx(point.to - 1, abs=0.06)
    QTest.mouseClick(ladder, Qt.MouseButton.RightButton, pos=ladder.point_place(told[-1].points[0]).toPoint())
    assert told[-1].points == () and ladder.chosen == "lightness"
    assert not told[-1]


def press_key(widget: QWidget, key: Qt.Key, shift: bool = False) -> None:
    modifier = Qt.KeyboardModifier.ShiftModifier if shift else Qt.KeyboardModifier.NoModifier
    QTest.keyClick(widget, key, modifier)


def test_keys_step_choose_and_clear(ladder: Ladder) -> None:
    told = _kept(ladder)
    press_key(ladder, Qt.Key.Key_Up)
    assert told[-1]["lightness"] == pytest.approx(1 / 6, abs=1e-5) and "+⅙ stop" in ladder.accessibleDescription()
    press_key(ladder, Qt.Key.Key_PageDown)
    assert ladder.chosen == "contrast"
    press_key(ladder, Qt.Key.Key_PageDown)
    assert ladder.chosen == "dark_half"
    press_key(ladder, Qt.Key.Key_Up, shift=True)
    assert told[-1]["dark_half"] == 5
    press_key(ladder, Qt.Key.Key_Backspace)
    assert told[-1]["dark_half"] == 0 and told[-1]["lightness"] == pytest.approx(1 / 6, abs=1e-5)
    for _ in range(9):
        press_key(ladder, Qt.Key.Key_PageUp)
    assert ladder.chosen == "lightest"


def test_the_prints_rail_ends_where_ink_and_paper_end(ladder: Ladder) -> None:
    painted = pixels(ladder)[..., 0].astype(int)
    _left, right = ladder.rails()
    x = round(right) + 8
    high, low = round(ladder.y_of(95)), round(ladder.y_of(18))
    ramp = painted[high + 3 : low - 3, x]
    assert (np.diff(ramp) <= 1).all() and ramp[0] > ramp[-1] + 100
    assert [round(ladder.handle(n).center().y()) for n in ("lightest", "deepest")] == [high, low]
    assert [n for n in RUNGS] == ["lightest", "light_half", "lightness", "dark_half", "deepest"]


def test_a_field_steps_types_and_clears(qtbot: QtBot) -> None:
    field, told = ValueField("lightness"), []
    qtbot.addWidget(field)
    field.set_to.connect(told.append)
    field.show()
    field.setFocus()
    press_key(field, Qt.Key.Key_Up)
    assert told == [pytest.approx(1 / 6, abs=1e-5)] and field.text() == "+⅙ stop"
    press_key(field, Qt.Key.Key_Down, shift=True)
    assert told[-1] == pytest.approx(-4 / 6, abs=1e-5)
    field.selectAll()
    QTest.keyClicks(field, "1/2")
    press_key(field, Qt.Key.Key_Return)
    assert told[-1] == 0.5 and field.text() == "+½ stop"
    field.selectAll()
    QTest.keyClicks(field, "nonsense")
    press_key(field, Qt.Key.Key_Return)
    assert field.value() == 0.5 and len(told) == 3, "what is no number changes nothing"
    field.selectAll()
    press_key(field, Qt.Key.Key_Backspace)
    assert told[-1] == 0


def test_the_white_is_dragged_along_and_across_the_locus(qtbot: QtBot) -> None:
    pad, told = WhitePad(), []
    qtbot.addWidget(pad)
    pad.resize(220, 120)
    pad.set_to.connect(lambda warm, tint: told.append((warm, tint)))
    pad.show()
    middle, end = pad.place(0, 0).toPoint(), pad.place(20, -10).toPoint()
    drag(pad, middle, end - middle)
    assert told[-1] == (pytest.approx(20, abs=1), pytest.approx(-10, abs=1.5))
    spot = pad.place(*told[-1]).toPoint()
    assert pixels(pad)[spot.y(), spot.x(), 0] > 200
    pad.setFocus()
    press_key(pad, Qt.Key.Key_Left, shift=True)
    assert told[-1][0] == pytest.approx(15, abs=1)
    press_key(pad, Qt.Key.Key_Backspace)
    assert told[-1] == (0, 0)


def test_ledger_rows_switch_and_weigh(qtbot: QtBot) -> None:
    ledger, told = Ledger(), []
    qtbot.addWidget(ledger)
    ledger.changed.connect(lambda at, step: told.append((at, step)))
    steps = (Step(LIGHT, Values.of(lightness=1 / 3)), Step(HAND, Values.of(contrast=4)))
    ledger.show_steps(steps, None)
    ledger.resize(360, 80)
    ledger.show()
    ledger.rows[0].switch.click()
    assert told == [(0, replace(steps[0], on=False))]
    ledger.rows[1].strength.setValue(60)
    assert told[-1] == (1, replace(steps[1], strength=0.6))
    QTest.mouseClick(ledger.rows[1].words, Qt.MouseButton.LeftButton)
    assert ledger.chosen == 1 and ledger.rows[1].is_chosen and not ledger.rows[0].is_chosen
    dashes = pixels(ledger.rows[0])[:, 0, 0] == ledger.room.text
    assert 6 < dashes.sum() < 20 and np.diff(dashes.astype(int)).astype(bool).sum() > 4, "it acts on the print only"
    assert ledger.rows[0].switch.accessibleName() == "for the light: lighter by ⅓ stop"
    ledger.activateWindow()
    QTest.qWaitForWindowActive(ledger)
    ledger.rows[0].switch.setFocus()
    assert ledger.chosen == 0, "who comes to it by keys means it"
    ledger.rows[1].strength.setFocus()
    assert ledger.chosen == 1
    ledger.show_steps(steps[:1], None)
    assert len(ledger.rows) == 1 and ledger.chosen == 0


def test_how_near_is_said_only_as_far_as_it_holds() -> None:
    assert (
        near_words(0.37, False).startswith("37 % of the way")
        and near_words(-0.2, False) == "Further away than untuned."
    )
    assert near_words(0.0, True) == "As near as untuned." and near_words(0.004, False) == "No nearer than untuned."


def test_the_sum_is_no_false_arithmetic() -> None:
    both = Recipe((Step(LIGHT, Values.of(lightness=1 / 3)), Step(LEARNT, Values.of(lightness=-1 / 6))))
    assert (
        lightness_words(both) == "⅓ for the light − ⅙ learnt = ⅙ stop" and lightness_words(by_hand(lightness=1)) == ""
    )
    much = Recipe((Step(LIGHT, Values.of(lightness=1.5)), Step(HAND, Values.of(lightness=1.0))))
    assert lightness_words(much) == "1½ for the light + 1 by hand, limited to 2 stops"
    none = Recipe((Step(LIGHT, Values.of(lightness=0.5)), Step(HAND, Values.of(lightness=-0.5))))
    assert lightness_words(none) == "½ for the light − ½ by hand = as the picture is"


def test_no_ladder_stands_before_it_is_known(ladder: Ladder) -> None:
    shown = pixels(ladder).copy()
    ladder.show_ladder(None, None)
    told = _kept(ladder)
    drag(ladder, ladder.handle("lightness").center().toPoint(), QPoint(0, -9))
    assert not told and np.abs(pixels(ladder).astype(int) - shown).mean() > 3


def test_the_station(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go_to("tune")
    wait_until_settled(window)
    tray, session = window.stack.trays[4], window.session
    assert isinstance(tray, TuneTray) and session.nearness.ladder is not None
    black = session.nearness.ladder.printed[0]
    facts = session.shelf.facts_of(take().condition)
    assert (
        facts is not None
        and black == pytest.approx(facts.black[0], abs=1.5)
        and session.nearness.ladder.printed[-1] > 96
    )
    start = tray.ladder.handle("light_half").center().toPoint()
    drag(tray.ladder, start, QPoint(0, -5))
    assert take().recipe.step(HAND).values["light_half"] > 0  # type: ignore[union-attr]
    wait_until_settled(window)
    near = session.nearness.near
    assert near is not None and len(tray.ledger.rows) == 1 and session.nearness.steps is not None
    assert f"{near.now:.1f}" in tray.near.bars.accessibleDescription() and near.floor < near.before
    window.actions_of_keys.act("undo")
    assert take().recipe == Recipe() and tray.ladder.values == Values()
    # the steps for the light and learnt ones are in the print and not on the screen
    session.takes.change_recipe(by_hand(contrast=3).having(Step(LEARNT, Values.of(lightness=1 / 3))))
    wait_until_settled(window)
    roads = session.roads
    assert roads.shown is not None and roads.on_screen is not None and roads.leaves_out
    assert roads.on_screen.rendition.recipe == by_hand(contrast=3) and roads.shown.rendition == session.now.rendition
    assert "left out on this screen" in tray._sum.text()
    lean = pixels(window.pair).copy()
    QTest.keyPress(window.pair, Qt.Key.Key_F10)
    wait_until_settled(window)
    assert not roads.leaves_out and np.abs(pixels(window.pair).astype(int) - lean).mean() > 0.5
    assert "≈" in tray.near.bars.accessibleDescription(), "no exact figure of the screen's take beside its print"
    QTest.keyRelease(window.pair, Qt.Key.Key_F10)
    wait_until_settled(window)
    assert roads.leaves_out and np.abs(pixels(window.pair).astype(int) - lean).mean() < 0.05
    QTest.keyPress(window.pair, Qt.Key.Key_F8)
    assert roads.on_screen.rendition.recipe == Recipe()
    QTest.keyRelease(window.pair, Qt.Key.Key_F8)
    assert roads.on_screen.rendition.recipe == by_hand(contrast=3) and take().recipe.total["contrast"] == 3
    press(window, Qt.Key.Key_0, Qt.KeyboardModifier.AltModifier)
    wait_until_settled(window)
    assert take().view == "in-its-light" and not roads.leaves_out, "as it will hang"


def test_nothing_stays_held_and_no_old_figure_stands(window: Window, take: Callable[[], Take]) -> None:
    window.session.takes.change_recipe(by_hand(lightness=0.5))
    window.stack.go_to("tune")
    wait_until_settled(window)
    tray, roads = window.stack.trays[4], window.session.roads
    assert isinstance(tray, TuneTray) and roads.on_screen is not None
    field = tray._fields["contrast"]
    field.setFocus()
    QTest.keyPress(field, Qt.Key.Key_F8)
    assert roads.on_screen.rendition.recipe == Recipe() and "at rest" in tray.near.words.text(), "in a field too"
    near = window.session.nearness.near
    assert near is not None
    untuned = next(row.near for row in tray.near.bars.rows)
    assert untuned is not None and "≈" in tray.near.bars.accessibleDescription()
    assert untuned.now == pytest.approx(near.before, rel=0.1), "no old figure stands beside what is shown"
    assert abs(near.now - near.before) > 0.5
    window.stack.go_to("judge")  # gone elsewhere with the key held
    assert not roads.previews
    QTest.keyRelease(window, Qt.Key.Key_F8)
    window.stack.go_to("tune")
    tray.pulls._point.click()
    assert window.pair.state.picking
    press(window, Qt.Key.Key_Escape)
    assert not window.pair.state.picking
    tray.pulls._point.click()
    window.stack.go_to("judge")
    assert not window.pair.state.picking, "no press picks a colour at another station"
    assert take().recipe == by_hand(lightness=0.5)


def test_ladder_values_keep_the_other_steps() -> None:
    recipe = Recipe((Step(LEARNT, Values.of(lightness=1 / 3)), Step("habit:lift", Values(points=(Point(30.0, 34.0),)))))
    made = recipe.with_tone(
        replace(recipe.total, points=(Point(30.0, 40.0), Point(60.0, 58.0))).having("lightness", 0.5)
    )
    assert made.total["lightness"] == pytest.approx(0.5) and made.step(LEARNT) == recipe.steps[0]
    assert [(p.at, round(p.to, 3)) for p in made.total.points] == [(30.0, 40.0), (60.0, 58.0)]
    gone = made.with_tone(replace(made.total, points=()))
    assert all(abs(p.to - p.at) < 1e-6 for p in gone.total.points), "a habit's point is taken back by hand"
    assert made.put(0, None).steps == made.steps[1:] and made.put(1, Step(HAND)).steps[1] == Step(HAND)


def test_a_place_stays_seen_while_another_step_moves(window: Window) -> None:
    roads, pair = window.session.roads, window.pair
    place = Step(PLACE, Values.of(lightness=-1.5), place=Ellipse((0.5, 0.33), (0.2, 0.15), fade=0.2))
    window.session.takes.change_recipe(Recipe((place,)))
    window.stack.go(4)
    wait_until_settled(window)
    placed = pair.placing.placed(1)
    assert placed is not None

    def middle_and_corner() -> tuple[float, float]:
        seen, p = pixels(pair).astype(float), placed.picture.toAlignedRect()
        x, y, part = p.center().x(), p.center().y(), 12
        return seen[y - part : y + part, x - part : x + part].mean(), seen[
            p.y() + 4 : p.y() + 20, p.x() + 4 : p.x() + 20
        ].mean()

    rest = middle_and_corner()
    roads.preview(Recipe((*by_hand(strength=1).steps, place)))
    moved = middle_and_corner()
    assert not any(job.kind == "placed" for job in window.session.jobs.running), "no exact pixels for each move"
    assert moved == pytest.approx(rest, abs=3)
    roads.preview(by_hand(strength=1))
    assert middle_and_corner()[0] > rest[0] + 25, "it was the place that was seen"
    roads.end_preview()
    wait_until_settled(window)
    assert middle_and_corner() == pytest.approx(rest, abs=1)
