"""Tune: bars of three ends, the ladder of strength, the bracket, the locus, the other school; habits, takes and states by hand."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog, QPushButton, QWidget
from pytestqt.qtbot import QtBot
from tests.desk.conftest import drag, pixels, press, wait_until_settled
from tests.desk.test_tune_drawn import press_key

from rehearsal.core.proof.near import Near
from rehearsal.core.tuning.tone import tone
from rehearsal.core.tuning.white import daylight_xy, white_uv
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.recipe import LEARNT, Recipe, Step, by_hand, habit_origin
from rehearsal.desk.boards.habits import HabitsBoard, habit_words, lift_words
from rehearsal.desk.boards.takes import NameField, TakesBoard, figures_words, when_words
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.chromaladder import RUNGS, ChromaLadder
from rehearsal.desk.parts.ladder import CONTRAST, Ladder
from rehearsal.desk.parts.nearbars import NearBars, NearRow
from rehearsal.desk.parts.whitepad import WhitePad
from rehearsal.desk.trays.tune import TuneTray
from rehearsal.session.standing import TakeFigures
from rehearsal.workbook.values import Habit, Take

# ---- bars of three ends


@pytest.fixture
def bars(qtbot: QtBot) -> NearBars:
    """Two bars: one that came nearer, one that turned back."""
    made = NearBars("near", 4.0)
    qtbot.addWidget(made)
    made.resize(200, 60)
    made.show_rows((NearRow("whole", Near(3.0, 2.0, 1.0)), NearRow("red", Near(2.0, 3.0, 1.0))))
    made.show()
    return made


def test_a_bar_has_three_ends(bars: NearBars) -> None:
    seen, room = pixels(bars)[..., 0].astype(int), bars.room
    row = seen[round(bars.track(0).center().y())]
    now, before = round(bars.place(0, 2.0)), round(bars.place(0, 3.0))
    assert (now, before) == (100, 150) and bars.most == 4.0
    assert (row[55:98] == room.text).all(), "now is light"
    assert (row[103:148] == room.mark).all(), "what it came nearer by is grey"
    assert (row[153:] == room.field).all()
    hatched = row[2:48]
    assert (hatched != room.text).any() and (hatched != room.field).any(), "what the paper cannot better is hatched"


def test_a_bar_that_turned_back_is_grey_with_a_mark(bars: NearBars) -> None:
    seen, room = pixels(bars)[..., 0].astype(int), bars.room
    row = seen[round(bars.track(1).center().y())]
    assert (row[104:148] == room.mark).all() and (row[60:97] == room.mark).all()
    assert (row[99:101] == room.text).any(), "a mark where it stood before"
    assert "turned back" in bars.accessibleDescription().split(";")[1]
    assert "turned back" not in bars.accessibleDescription().split(";")[0]


def test_a_few_pixels_say_that_it_turned_back_only_when_it_is_far_off(bars: NearBars) -> None:
    bars.show_rows((NearRow("whole", Near(2.0, 2.2, 1.0)), NearRow("red", Near(2.0, 2.4, 1.0))), about=True)
    seen = [round(bars.place(i, value)) for i, value in ((0, 2.2), (1, 2.4))]
    rows = [pixels(bars)[round(bars.track(i).center().y()), :, 0].astype(int) for i in (0, 1)]
    light, grey = bars.room.text, bars.room.mark
    assert rows[0][seen[0] - 4] == light and rows[1][seen[1] - 4] == grey
    assert "≈ 2.2" in bars.accessibleDescription()


def test_turned_back_is_said_of_what_is_further_away_alone() -> None:
    assert Near(2.0, 2.2, 1.0).turned_back
    assert (
        not Near(2.0, 2.02, 1.0).turned_back
        and not Near(2.0, 2.0, 1.0).turned_back
        and not Near(2.0, 1.0, 1.0).turned_back
    )


def test_figures_follow_what_moves_and_are_exact_at_rest(window: Window, take: Callable[[], Take]) -> None:
    window.session.takes.change_recipe(by_hand(contrast=3))
    window.stack.go_to("tune")
    wait_until_settled(window)
    tray, nearness = window.stack.trays[4], window.session.nearness
    assert isinstance(tray, TuneTray)
    kept = nearness.near
    assert kept is not None and nearness.moving(by_hand(contrast=3)) == kept, "of the kept tuning it is what it is"
    for lightness in (0.2, 0.9):
        tray.ladder.moving.emit(take().recipe.total.having("lightness", lightness))
    QTest.qWait(150)
    about = tray.near.bars.rows[0].near
    assert about is not None and len(tray.near.bars.rows) == 1 and "≈" in tray.near.bars.accessibleDescription()
    assert "few pixels" in tray.near.words.text() and about.now > kept.now + 1, "of the last move, not of the first"
    tray.ladder.set_to.emit(take().recipe.total.having("lightness", 0.9))
    wait_until_settled(window)
    exact = nearness.near
    assert exact is not None and about.now == pytest.approx(exact.now, rel=0.12)
    assert tray.near.bars.rows[0].near == exact and "≈" not in tray.near.bars.accessibleDescription()
    assert tray.near.bars.rows[0].name == "whole picture" and len(tray.near.bars.rows) > 1
    # a colour that is pulled moves them too
    tray.pulls._add_pull(np.array([45.0, 50.0, 40.0]))
    wait_until_settled(window)
    tray.pulls.disc.moving.emit(replace(tray.pulls._all_pulled()[0], stronger=0.03))
    assert "≈" in tray.near.bars.accessibleDescription()
    window.session.roads.end_preview()
    wait_until_settled(window)


def test_a_colour_pointed_at_but_not_moved_is_no_change_and_no_state(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go_to("tune")
    tray, session = window.stack.trays[4], window.session
    assert isinstance(tray, TuneTray)
    pulls = tray.pulls
    before, states = take(), list(session.book.all(Take))
    pulls._add_pull(np.array([45.0, 50.0, 40.0]))
    assert pulls.disc.pull is not None and pulls._of.count() == 1 and not pulls._drop_pull.isHidden()
    pulls._set_width(150.0)
    pulls._add_pull(np.array([60.0, -30.0, 30.0]))  # pointed at another one instead
    assert pulls._of.count() == 1 and take() == before and session.book.all(Take) == states
    pulls.disc.set_to.emit(pulls.disc.pull)
    assert take() == before, "set down where it was"
    pulls._drop_pull.click()
    assert pulls.disc.pull is None and take() == before
    pulls._add_pull(np.array([45.0, 50.0, 40.0]))
    moved = replace(pulls.disc.pull, stronger=0.03)
    pulls.disc.set_to.emit(moved)
    assert [p for _s, p in take().recipe.pulls] == [moved] and pulls._of.count() == 1 and pulls.disc.pull == moved
    session.takes.undo()
    assert take().recipe == before.recipe
    pulls._add_pull(np.array([45.0, 50.0, 40.0]))
    other = next(t for t in session.book.all(Take) if t.id != before.id)
    session.takes.open(other)
    wait_until_settled(window)
    assert pulls._pointed is None and pulls._of.count() == len(take().recipe.pulls)


# ---- strength, contrast, the white


def test_the_ladder_of_strength_follows_the_pointer(qtbot: QtBot) -> None:
    ladder, told = ChromaLadder(), []
    qtbot.addWidget(ladder)
    ladder.resize(200, 120)
    ladder.set_to.connect(lambda name, value: told.append((name, value)))
    ladder.show()
    start = ladder.handle("strength").center().toPoint()
    drag(ladder, start, QPoint(0, -7))
    ((name, value),) = told
    assert name == "strength" and value > 3
    assert ladder.handle("strength").center().y() == pytest.approx(start.y() - 7, abs=1)
    assert ladder.out(RUNGS["strength"]) == pytest.approx(RUNGS["strength"] * (1 + value / 100), rel=0.03)
    assert ladder.handle("quiet").center().y() < ladder.y_of(RUNGS["quiet"]), "all colours go along"
    drag(ladder, ladder.handle("quiet").center().toPoint(), QPoint(0, 4))
    assert told[-1][0] == "quiet" and told[-1][1] < 0 and ladder.values["strength"] == value
    ladder.setFocus()
    press_key(ladder, Qt.Key.Key_Backspace)
    assert told[-1] == ("quiet", 0.0)
    press_key(ladder, Qt.Key.Key_PageUp)
    press_key(ladder, Qt.Key.Key_Down, shift=True)
    assert told[-1] == ("strength", value - 5)
    count = len(told)
    QTest.mouseClick(ladder, Qt.MouseButton.LeftButton, pos=ladder.handle("quiet").center().toPoint())
    assert len(told) == count and ladder.chosen == "quiet"


def test_contrast_is_the_bracket_of_the_halves(qtbot: QtBot) -> None:
    ladder, told = Ladder(), []
    qtbot.addWidget(ladder)
    ladder.resize(320, 240)
    ladder.show_ladder(np.linspace(18.0, 95.0, 101), np.full(101, 0.5))
    ladder.set_to.connect(told.append)
    ladder.show()
    half = ladder.handle("light_half").center().y()
    x, top, foot = ladder.bracket()
    assert top == half and foot == ladder.handle("dark_half").center().y() and x < ladder.width()
    drag(ladder, ladder.handle(CONTRAST).center().toPoint(), QPoint(0, -6))
    assert [name for name, _v in told[0]] == [CONTRAST] and told[0][CONTRAST] > 5
    assert ladder.handle("light_half").center().y() == pytest.approx(half - 6, abs=1)
    wide = ladder.bracket()
    assert wide[2] - wide[1] > foot - top + 8, "the spread grows"
    light, dark = tone(np.array([75.0, 25.0]), told[0])
    assert light > 75 and dark < 25
    ladder.setFocus()
    press_key(ladder, Qt.Key.Key_Backspace)
    assert told[-1][CONTRAST] == 0
    press_key(ladder, Qt.Key.Key_PageUp)
    assert ladder.chosen == "lightness"


def test_the_locus_is_daylight_s_own(qtbot: QtBot) -> None:
    pad = WhitePad()
    qtbot.addWidget(pad)
    pad.resize(300, 200)
    pad.show()
    # places are affine in CIE 1960 u, v: three whites fix the map, daylight at other temperatures (CIE 15:2018) lies where it says
    known = [(0.0, 0.0), (30.0, 0.0), (0.0, 20.0)]
    uv = np.array([[*white_uv(*each), 1.0] for each in known])
    at = np.array([[pad.place(*each).x(), pad.place(*each).y()] for each in known])
    affine = np.linalg.solve(uv, at)
    for warmth in (-40.0, -15.0, 45.0):
        x, y = daylight_xy(1e6 / (1e6 / 5003.0 + warmth))
        there = np.array([4 * x / (-2 * x + 12 * y + 3), 6 * y / (-2 * x + 12 * y + 3), 1.0]) @ affine
        place = pad.place(warmth, 0.0)
        assert (place.x(), place.y()) == (pytest.approx(there[0], abs=0.05), pytest.approx(there[1], abs=0.05))
    xs = [pad.place(float(w), 0.0).x() for w in range(-50, 51, 10)]
    assert np.diff(xs).min() > 0, "cool at the left"
    assert pad.place(0.0, -20.0).y() < pad.place(0.0, 20.0).y(), "green above"


# ---- the other school


def test_who_edits_for_the_paper_has_the_take_alone(window: Window, take: Callable[[], Take]) -> None:
    window.session.takes.change_recipe(by_hand(contrast=3))
    window.stack.go_to("tune")
    wait_until_settled(window)
    tray, state = window.stack.trays[4], window.pair.state
    assert isinstance(tray, TuneTray) and state.mode == "pair" and tray.near.bars.isVisible()
    tray.near.school.click()
    assert state.mode == "large" and not tray.near.bars.isVisible() and not tray.near.words.isVisible()
    assert not window.stack.is_folded
    window.stack.go_to("judge")
    assert state.mode == "pair", "the picture is there again"
    window.stack.go_to("tune")
    assert state.mode == "large"
    window.actions_of_keys.act("fold_tray")
    assert state.mode == "large", "a folded tray brings no picture back"
    window.actions_of_keys.act("fold_tray")
    tray.near.school.click()
    assert state.mode == "pair" and tray.near.bars.isVisible()
    window.actions_of_keys.act("large")
    window.stack.go_to("judge")
    assert state.mode == "large", "who wants one large picture keeps it"
    window.actions_of_keys.act("large")
    assert take().recipe == by_hand(contrast=3)


def test_damage_is_said_and_gone_with_it(window: Window) -> None:
    window.stack.go_to("tune")
    tray, session = window.stack.trays[4], window.session
    assert isinstance(tray, TuneTray)
    session.takes.change_recipe(by_hand(lightest=20))
    wait_until_settled(window)
    assert "newly burnt out" in tray.near.cautions.text() and tray.near.cautions.isVisible()
    session.takes.change_recipe(by_hand(contrast=6, strength=8))
    wait_until_settled(window)
    assert session.nearness.damage is not None and "burnt" not in tray.near.cautions.text()
    session.takes.change_recipe(Recipe())
    wait_until_settled(window)
    assert not tray.near.cautions.isVisible()


# ---- habits, takes, states


def _press(board: QWidget, name: str) -> None:
    QTest.qWait(20)  # what was just made has its place
    made = next(b for b in board.findChildren(QPushButton) if name in (b.accessibleName(), b.text()) and b.isVisible())
    QTest.mouseClick(made, Qt.MouseButton.LeftButton)


def test_a_habit_is_kept_applied_and_written_by_hand(
    window: Window, take: Callable[[], Take], monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    session = window.session
    session.takes.change_recipe(by_hand(contrast=6).having(Step(LEARNT, Values.of(warmth=5))))
    press(window, Qt.Key.Key_F5)
    wait_until_settled(window)
    board = window.boards.shown
    assert isinstance(board, HabitsBoard) and window.stack.current_key == "tune"
    assert [box.isChecked() for box in board.steps] == [True, False]
    _press(board, "Keep it")
    assert board.name.hasFocus(), "a name is asked for"
    board.intent.setChecked(True)
    QTest.keyClicks(board.name, "Matte papers")
    press_key(board.name, Qt.Key.Key_Return)
    made = session.habits.named("Matte papers")
    assert (
        made is not None
        and made.values == Values.of(contrast=6)
        and made.intent == "relative"
        and made.compensate is None
    )
    row = next(r for r in board.habit_rows if r.habit == made)
    session.takes.change_recipe(Recipe())
    row = next(r for r in board.habit_rows if r.habit == made)
    row.strength.setValue(50)
    QTest.mouseClick(row.apply, Qt.MouseButton.LeftButton)
    step = take().recipe.step(habit_origin("Matte papers"))
    assert step is not None and step.strength == 0.5
    row.starts.setCurrentIndex(1)
    row.starts.activated.emit(1)
    assert session.habits.named("Matte papers").starts and session.habits.named("Matte papers").condition == 0  # type: ignore[union-attr]
    path = tmp_path / "matte.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(path), ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(path), ""))
    _press(board, "Write Matte papers to a file")
    _press(board, "Remove Matte papers")
    assert path.exists() and session.habits.named("Matte papers") is None
    _press(board, "Open a file…")
    assert session.habits.named("Matte papers") is not None
    press(window, Qt.Key.Key_Escape)
    assert window.boards.shown is None
    wait_until_settled(window)


def test_takes_are_named_compared_and_gone_back_in(window: Window, take: Callable[[], Take]) -> None:
    session = window.session
    first = take()
    session.takes.change_recipe(by_hand(lightness=-1.0))
    session.takes.duplicate()
    session.takes.change_recipe(by_hand(lightness=0.5))
    press(window, Qt.Key.Key_F12)
    wait_until_settled(window)
    board = window.boards.shown
    assert isinstance(board, TakesBoard)
    _press(board, "Compare with White Dune, relative")
    wait_until_settled(window)
    rival = session.roads.rival_take
    assert rival is not None and rival.id == first.id and window.boards.shown is None
    placed = [window.pair.placing.placed(side) for side in (0, 1)]
    seen = pixels(window.pair).astype(float)
    light = []
    for each in placed:
        assert each is not None
        p = each.picture.toAlignedRect()
        light.append(seen[p.y() + 5 : p.bottom() - 5, p.x() + 5 : p.right() - 5].mean())
    assert light[1] > light[0] + 25, "each take as it is tuned"
    press(window, Qt.Key.Key_Escape)
    assert session.roads.rival_take is None
    press(window, Qt.Key.Key_F12)
    wait_until_settled(window)
    board = window.boards.shown
    assert board is not None
    _press(board, "Go back to: Begun")
    assert take().recipe == by_hand(lightness=-1.0), "as it was when it was made of the other"
    press(window, Qt.Key.Key_Escape)
    wait_until_settled(window)


def test_a_name_that_is_typed_is_not_lost_to_what_comes_meanwhile(window: Window, take: Callable[[], Take]) -> None:
    press(window, Qt.Key.Key_F12)
    wait_until_settled(window)
    board = window.boards.shown
    assert isinstance(board, TakesBoard)
    field = next(f for f in board.findChildren(NameField) if f.accessibleName() == "Name of White Dune, relative")
    field.setFocus()
    QTest.keyClicks(field, "Hall")
    window.session.takes.change_recipe(by_hand(contrast=4))
    wait_until_settled(window)
    assert field.text() == "Hall" and field.hasFocus()
    press_key(field, Qt.Key.Key_Return)
    QTest.qWait(40)
    assert take().name == "Hall" and take().recipe == by_hand(contrast=4), "Enter ends the name and presses nothing"
    assert any(b.accessibleName() == "Go back to: Begun" for b in board.findChildren(QPushButton)), (
        "and the lists catch up"
    )
    press(window, Qt.Key.Key_Escape)
    wait_until_settled(window)


def test_another_paper_offers_to_leave_the_steps(window: Window, take: Callable[[], Take]) -> None:
    session = window.session
    session.takes.change_recipe(by_hand(warmth=5))
    other = next(c for c in session.shelf.conditions if c.id != take().condition and c.printer)
    session.takes.choose(other)
    wait_until_settled(window)
    assert take().condition == other.id and take().recipe == by_hand(warmth=5)
    _press(window, "Without its steps")
    assert take().recipe == Recipe()
    wait_until_settled(window)


def test_sentences_of_habits_and_takes() -> None:
    assert habit_words(Habit(values=Values.of(contrast=6), intent="relative", compensate=False)) == (
        "Contrast +6 and relative colorimetric, uncompensated."
    )
    assert habit_words(Habit(intent="perceptual", compensate=False)) == "Perceptual, uncompensated."
    assert habit_words(Habit(intent="relative")) == "Relative colorimetric, compensated or not as each take is."
    assert habit_words(Habit(intent="absolute", compensate=True)) == "Absolute colorimetric."
    assert habit_words(Habit(compensate=True, view="on-paper")) == "Compensated and seen on paper."
    assert habit_words(Habit()) == "Holds nothing."
    assert lift_words("Pans", 0.0) == "New takes of Pans begin as light as the picture."
    assert (
        lift_words("Pans", -1 / 6) == "Every new take of Pans begins ⅙ stop darker."
        and lift_words("", 0.0) == "No picture is open."
    )
    assert figures_words(TakeFigures()) == "No print of it in the logbook."
    assert (
        figures_words(TakeFigures(2.44, 12.0, printed=True)) == "Near by ΔE₀₀ 2.4, 12 % beyond the paper and printed."
    )
    assert (
        figures_words(TakeFigures(None, 0.0, written=True))
        == "0 % beyond the paper, written and no print of it in the logbook."
    )
    from datetime import datetime

    now = datetime(2026, 11, 27, 12, 0)
    assert (
        when_words("2026-11-27T09:05:00", now) == "09:05" and when_words("2026-11-03T09:05:00", now) == "3 Nov, 09:05"
    )
