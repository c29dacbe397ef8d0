"""The Log station with real clicks and keys: verdict by looking, prints along the days, causes, two prints, put right."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog
from tests.desk.conftest import hover, pixels, press, until, wait_until_settled

from rehearsal.core.values.recipe import by_hand
from rehearsal.desk.boards.causes import CausesBoard
from rehearsal.desk.boards.twoprints import TwoPrintsBoard
from rehearsal.desk.boards.verdict import VerdictBoard
from rehearsal.desk.frame.window import Window
from rehearsal.desk.trays.log import LogTray
from rehearsal.workbook.values import LogEntry, Take


@pytest.fixture
def board(window: Window) -> Iterator[VerdictBoard]:
    window.stack.go(7)
    wait_until_settled(window)
    made = window.boards.shown
    assert isinstance(made, VerdictBoard)
    until(lambda: bool(made.rows_of["contrast"]._pictures) and made.view._image is not None)
    yield made


@pytest.fixture
def tray(window: Window, board: VerdictBoard) -> LogTray:
    made = window.stack.trays[7]
    assert isinstance(made, LogTray)
    return made


def test_a_verdict_by_looking(window: Window, board: VerdictBoard) -> None:
    row = board.rows_of["lightness"]
    rows = window.session.verdicts.rows
    assert rows is not None and row.count == len(rows[0].offsets)
    middle = rows[0].middle
    before = pixels(board.view)
    hover(row, row.cell(middle - 1).center().toPoint())
    until(lambda: "darker" in board.name.text())
    wait_until_settled(window)
    assert pixels(board.view).mean() < before.mean(), "the pointed one fills the pane"
    hover(row, QPoint(1, 1))
    wait_until_settled(window)
    assert board.name.text() == "as the take" and window.session.verdicts.offsets == {}, "looking says nothing"
    QTest.mouseClick(row, Qt.MouseButton.LeftButton, pos=row.cell(middle - 1).center().toPoint())
    wait_until_settled(window)
    assert window.session.verdicts.offsets == {"lightness": rows[0].offsets[middle - 1]}
    assert window.verdict.text.startswith("You hold a print ") and "darker than the take" in window.verdict.text
    # the gap between two
    contrast = board.rows_of["contrast"]
    one, two = contrast.cell(rows[2].middle), contrast.cell(rows[2].middle + 1)
    at = QPoint(round((one.right() + two.left()) / 2), round(one.center().y()))
    QTest.mouseClick(contrast, Qt.MouseButton.LeftButton, pos=at)
    assert window.session.verdicts.offsets["contrast"] == pytest.approx(rows[2].offsets[rows[2].middle + 1] / 2)
    board.words.setText("a touch dark")
    count = len(window.session.logbook.entries)
    QTest.mouseClick(board.verdicts["usable"], Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    entry = window.session.logbook.entries[-1]
    assert (
        len(window.session.logbook.entries) == count + 1 and entry.verdict == "usable" and entry.words == "a touch dark"
    )
    assert (
        entry.darker == pytest.approx(-rows[0].offsets[middle - 1] * 6)
        and entry.flatter < 0
        and board.words.text() == ""
    )


def test_rows_follow_their_data(window: Window, board: VerdictBoard) -> None:
    row = board.rows_of["warmth"]
    before = pixels(row)
    window.session.takes.change_recipe(by_hand(strength=50))
    wait_until_settled(window)
    until(lambda: not np.array_equal(pixels(row), before) and len(row._pictures) == row.count)
    tuned = pixels(row)
    QTest.mouseClick(
        board.rows_of["lightness"], Qt.MouseButton.LeftButton, pos=board.rows_of["lightness"].cell(0).center().toPoint()
    )
    wait_until_settled(window)
    until(lambda: len(row._pictures) == row.count and not np.array_equal(pixels(row), tuned))


def test_keys_alone_give_a_verdict(window: Window, board: VerdictBoard) -> None:
    row = board.rows_of["lightness"]
    row.setFocus()
    press(window, Qt.Key.Key_Left)
    press(window, Qt.Key.Key_Left)
    wait_until_settled(window)
    rows = window.session.verdicts.rows
    assert rows is not None and window.session.verdicts.pointed == ("lightness", rows[0].offsets[rows[0].middle - 1])
    press(window, Qt.Key.Key_Return)
    assert window.session.verdicts.offsets["lightness"] == rows[0].offsets[rows[0].middle - 1]
    board.verdicts["again"].setFocus()
    press(window, Qt.Key.Key_Space)
    wait_until_settled(window)
    assert window.session.logbook.entries[-1].verdict == "again"


def test_places_are_pointed_at(window: Window, board: VerdictBoard) -> None:
    QTest.mouseClick(board.places["blocked"], Qt.MouseButton.LeftButton)
    before = pixels(board.view)
    place = board.view.place_for(board.view._proportion)
    at = QPoint(round(place.x() + place.width() * 0.25), round(place.y() + place.height() * 0.5))
    QTest.mouseClick(board.view, Qt.MouseButton.LeftButton, pos=at)
    wait_until_settled(window)
    (said,) = window.session.verdicts.places
    crop = window.session.now.take.frame.crop  # type: ignore[union-attr]
    assert said.what == "blocked" and said.x == pytest.approx(crop.x + 0.25 * crop.width, abs=0.01)
    assert not np.array_equal(pixels(board.view), before)
    QTest.mouseClick(board.unmark, Qt.MouseButton.LeftButton)
    assert window.session.verdicts.places == ()


def test_the_light_of_a_verdict_is_told(window: Window, board: VerdictBoard) -> None:
    board.lux.setValue(90)
    board.kelvin.setValue(2700)
    QTest.mouseClick(board.verdicts["sign"], Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    entry = window.session.logbook.entries[-1]
    assert (entry.lux, entry.kelvin, entry.verdict) == (90, 2700, "good")


def test_prints_lie_along_the_days(window: Window, tray: LogTray) -> None:
    line = tray.timeline
    until(lambda: len(line._pictures) > 0)
    entries = window.session.past.shown
    assert len(line._points) == len(entries) and len(line._line) == sum(1 for e in entries if not e.cause)
    rects = [line.rect_of(e.id) for e in entries]
    assert [r.x() for r in rects] == sorted(r.x() for r in rects)
    darkest = max(entries, key=lambda e: e.darker)
    assert line.rect_of(darkest.id).y() == max(r.y() for r in rects), "darker lies lower"
    before = pixels(line)
    window.session.past.change(entries[0], darker=-3.0)
    wait_until_settled(window)
    after = pixels(line)
    assert not np.array_equal(before, after) and line.rect_of(entries[0].id).y() < rects[0].y(), "lighter lies higher"
    QTest.mouseClick(line, Qt.MouseButton.LeftButton, pos=line.rect_of(entries[0].id).center().toPoint())
    assert window.session.past.chosen == (entries[0].id,) and entries[0].picture in tray.print_.about.text()
    line.setFocus()
    press(window, Qt.Key.Key_Right)
    assert window.session.past.chosen == (entries[1].id,)
    press(window, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert window.session.past.chosen == (entries[1].id, entries[2].id) and tray.print_.compare.isEnabled()
    QTest.mouseClick(tray.this_paper, Qt.MouseButton.LeftButton)
    QTest.keyClicks(tray.search, "no such thing")
    assert window.session.past.shown == [] and not np.array_equal(pixels(line), after)
    tray.search.clear()
    QTest.mouseClick(tray.as_table, Qt.MouseButton.LeftButton)
    assert tray.views.currentWidget() is tray.table and tray.table.rowCount() == len(window.session.past.shown)
    shown = list(reversed(window.session.past.shown))
    places = [tray.table.visualRect(tray.table.model().index(row, 0)).center() for row in (0, 1)]
    QTest.mouseClick(tray.table.viewport(), Qt.MouseButton.LeftButton, pos=places[0])
    assert window.session.past.chosen == (shown[0].id,) and not tray.print_.compare.isEnabled()
    QTest.mouseClick(
        tray.table.viewport(), Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier, pos=places[1]
    )
    assert window.session.past.chosen == (shown[0].id, shown[1].id) and tray.print_.compare.isEnabled()


def test_an_entry_is_put_right_and_taken_out(
    window: Window, tray: LogTray, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    Image.new("RGB", (40, 30), (90, 60, 30)).save(tmp_path / "photo.png")
    entry = window.session.past.entry
    assert entry is not None
    tray.print_.words.setFocus()
    tray.print_.words.setText("seen again in the hall")
    press(window, Qt.Key.Key_Return)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(tmp_path / "photo.png"), ""))
    QTest.mouseClick(tray.print_.attach, Qt.MouseButton.LeftButton)
    kept = window.session.book.get(LogEntry, entry.id)
    assert kept is not None and kept.words == "seen again in the hall" and kept.photo.endswith("photo.png")
    assert tray.print_.photo.isVisible() and not tray.print_.photo.pixmap().isNull()
    QTest.mouseClick(tray.print_.remove, Qt.MouseButton.LeftButton)
    assert window.session.book.get(LogEntry, entry.id) is None
    window.session.takes.undo()
    assert window.session.book.get(LogEntry, entry.id) == kept
    until(lambda: "same pixels" in tray.print_.then.text())
    assert tray.print_.again.isEnabled()


def test_what_went_wrong(window: Window, tray: LogTray) -> None:
    entry = window.session.past.entry
    QTest.mouseClick(tray.print_.wrong, Qt.MouseButton.LeftButton)
    board = window.boards.shown
    assert isinstance(board, CausesBoard) and entry is not None
    until(lambda: board.cards["planned"]._image is not None)
    looks = {key: pixels(card) for key, card in board.cards.items()}
    assert not np.array_equal(looks["never"], looks["planned"]) and not np.array_equal(looks["never"], looks["twice"])
    QTest.mouseClick(board.cards["grey"], Qt.MouseButton.LeftButton)
    assert board.list.causes[0].key == "grey-mode" and "black-and-white" in board.do.text()
    first = pixels(board.split)
    QTest.mouseClick(board.cards["twice"], Qt.MouseButton.LeftButton)
    assert not np.array_equal(pixels(board.split), first)
    board.list.setFocus()
    press(window, Qt.Key.Key_Down)
    assert board.list.at == 1
    press(window, Qt.Key.Key_Up)
    key = board.list.causes[0].key
    QTest.mouseClick(board.not_this, Qt.MouseButton.LeftButton)
    assert board.list.causes[0].key != key
    QTest.mouseClick(board.was, Qt.MouseButton.LeftButton)
    kept = window.session.book.get(LogEntry, entry.id)
    assert (
        kept is not None
        and kept.cause == board.list.causes[0].key
        and "went wrong at the printer" in tray.afresh.text()
    )
    # another print, other looks
    other = next(e for e in window.session.past.shown if e.picture != entry.picture)
    assert other.rendition is not None  # the pictures of these tests are alike: another tuning tells the prints apart
    window.session.past.change(other, rendition=replace(other.rendition, recipe=by_hand(lightness=-1.0)))
    window.session.past.choose(other)
    until(
        lambda: (
            board.cards["planned"]._image is not None
            and not np.array_equal(pixels(board.cards["planned"]), looks["planned"])
        )
    )


def test_two_prints_are_compared(window: Window, tray: LogTray) -> None:
    one, two = window.session.past.shown[:2]
    assert two.rendition is not None  # the pictures of these tests are alike: another tuning tells the prints apart
    window.session.past.change(two, rendition=replace(two.rendition, recipe=by_hand(lightness=-1.0)))
    one, two = window.session.past.shown[:2]
    window.session.past.choose(one)
    window.session.past.choose(two, too=True)
    QTest.mouseClick(tray.print_.compare, Qt.MouseButton.LeftButton)
    board = window.boards.shown
    assert isinstance(board, TwoPrintsBoard)
    until(lambda: all(v._image is not None for v in board.views))
    left, right = (pixels(v) for v in board.views)
    assert (
        not np.array_equal(left, right)
        and one.picture in board.names[0].text()
        and two.picture in board.names[1].text()
    )
    press(window, Qt.Key.Key_Escape)
    assert window.boards.shown is None


def test_cost_and_stock_are_told_on_the_paper(window: Window, tray: LogTray, take: Callable[[], Take]) -> None:
    tray.cost.price.setValue(2.5)
    tray.cost.stock.setValue(3)
    card = window.session.shelf.get(take().condition)
    assert card is not None and card.sheet_price == 2.5 and card.stock == 3
    mine = [e for e in window.session.past.shown if e.condition == card.id]
    for entry in mine:
        window.session.past.change(entry, verdict="usable")
    count = window.session.past.account(card.id).sheets
    said = tray.cost.said.text()
    assert f"{count} sheets so far, 0 signed" in said and "left" not in said, "nothing was signed yet"
    window.session.past.change(mine[0], verdict="good")
    needed = window.session.past.account(card.id).needed
    assert needed == count and "three left" in tray.cost.said.text()
    # a reading typed for one print counts for the paper
    window.session.past.choose(mine[0])
    before = window.session.past.account(card.id).cost
    tray.print_.cost.setValue(9.0)
    assert window.session.past.account(card.id).cost == pytest.approx(before - mine[0].cost + 9.0)


def test_a_logbook_of_odd_numbers_is_drawn_all_the_same(window: Window, tray: LogTray) -> None:
    shown = window.session.past.shown
    window.session.past.change(shown[0], darker=1e9, when="no date", picture="x" * 400)
    window.session.past.change(shown[1], cooler=-1e12, cost=1e300)
    wait_until_settled(window)
    rect = tray.timeline.rect_of(shown[0].id)
    assert tray.timeline.rect().contains(rect.center().toPoint()), "far off lies at the edge"
    assert pixels(tray.timeline).std() > 3


def test_a_dry_print_is_a_press_away(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go(3)
    other = next(t for t in window.session.book.all(Take) if t.master != take().master)
    window.session.bus.say("It is dry.", "log", str(other.id))
    QTest.mouseClick(window.message._action, Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    assert window.stack.current_key == "log" and take().id == other.id
