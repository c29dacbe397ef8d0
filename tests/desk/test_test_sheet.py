"""The Test station: the sheet is the plan; pointed at, written, chosen and given to the take with real clicks and keys."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog
from tests.desk.conftest import drag, hover, pixels, press, until, wait_until_settled

from rehearsal.core.values.recipe import by_hand
from rehearsal.desk.boards.testsheet import TestSheetBoard
from rehearsal.desk.frame.window import Window
from rehearsal.desk.trays.test import TestTray
from rehearsal.workbook.values import Take, TestSheet


@pytest.fixture
def board(window: Window) -> Iterator[TestSheetBoard]:
    window.session.takes.change_hand_over(ppi=72.0)  # what is written is written quickly
    window.stack.go(5)
    wait_until_settled(window)
    made = window.boards.shown
    assert isinstance(made, TestSheetBoard)
    until(lambda: made.drawing._look is not None)
    yield made


def _sheet(window: Window) -> TestSheet:
    found = window.session.tested.last
    assert found is not None
    return found


def _write(window: Window, board: TestSheetBoard, path: Path) -> TestSheet:
    before = len(window.session.tested.all)
    window.stack.test.write_to(path)
    until(lambda: len(window.session.tested.all) > before)
    wait_until_settled(window)
    return _sheet(window)


def _middle(board: TestSheetBoard, *numbers: int) -> QPoint:
    return board.drawing.place_of(numbers).toPoint()


def test_the_sheet_is_drawn_with_its_live_fields(window: Window, board: TestSheetBoard) -> None:
    made, drawing = window.session.testing.made, board.drawing
    assert made is not None and made.page is not None and drawing.page is made.page
    assert "as planned" in board.right_name.text() and "untouched" in board.left_name.text()
    scale = drawing.scale
    assert scale is not None
    before = pixels(drawing)
    fields = []
    for field in made.page.fields:
        rect = scale.rect(field.pieces[0]).toRect().adjusted(3, 3, -3, -3)
        fields.append(before[rect.top() : rect.bottom(), rect.left() : rect.right()].astype(float))
    means = [f.mean() for f in fields]
    assert means == sorted(means) and means[-1] - means[0] > 3, "darker to lighter"
    assert all(f.std() > 5 for f in fields), "each a picture"
    # other data, other pixels: the take, the piece, the kind
    window.session.takes.change_recipe(by_hand(warmth=40))
    wait_until_settled(window)
    until(lambda: drawing._look is not None)
    tuned = pixels(drawing)
    assert np.abs(tuned.astype(int) - before).max() > 20
    names = window.stack.test.kinds
    QTest.mouseClick(names["two"], Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    until(lambda: drawing.page is not None and len(drawing.page.fields) == 9)
    assert names["two"].isChecked() and not names["bracket"].isChecked()
    assert "1 darker" in drawing.accessibleDescription() and "5 untouched" in drawing.accessibleDescription()


def test_what_is_pointed_at_fills_the_pane(window: Window, board: TestSheetBoard) -> None:
    whole = pixels(board.view)
    hover(board.drawing, _middle(board, 1))
    wait_until_settled(window)
    assert board.left_name.text().startswith("1") and "its piece, large" in board.left_state.text()
    one = pixels(board.view)
    assert np.abs(one.astype(int) - whole).mean() > 3
    hover(board.drawing, _middle(board, 1, 2))
    wait_until_settled(window)
    between = pixels(board.view)
    assert board.left_name.text() == "Between 1 and 2" and not np.array_equal(between, one)
    hover(board.drawing, QPoint(1, 1))
    wait_until_settled(window)
    assert np.array_equal(pixels(board.view), whole), "nothing is pointed at: the untouched print again"
    # keys go the same way
    board.drawing.setFocus()
    press(window, Qt.Key.Key_Right)
    assert window.session.testing.pointed == (1,)
    press(window, Qt.Key.Key_Right)
    assert window.session.testing.pointed == (1, 2)
    press(window, Qt.Key.Key_Right)
    press(window, Qt.Key.Key_Left)
    press(window, Qt.Key.Key_Left)
    assert window.session.testing.pointed == (1,)
    press(window, Qt.Key.Key_Up)
    assert window.session.testing.pointed == (1,), "there is nothing above"
    assert window.session.now.take is not None and window.session.tested.all == [], "looking changes nothing"


def test_from_the_plan_to_the_take(
    window: Window, board: TestSheetBoard, take: Callable[[], Take], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    tray = window.stack.test
    QTest.mouseClick(board.drawing, Qt.MouseButton.LeftButton, pos=_middle(board, 2))
    assert window.session.tested.all == [] and "not printed yet" in window.message.text
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(tmp_path / "sheet.tif"), ""))
    QTest.mouseClick(tray.write_button, Qt.MouseButton.LeftButton)
    until(lambda: bool(window.session.tested.all))
    wait_until_settled(window)
    sheet = _sheet(window)
    assert (tmp_path / "sheet.tif").exists() and sheet.names == ("lightness",)
    # the dry sheet: chosen in the tray, shown as it was printed
    look = tray.look
    assert "1: One control" in look.sheets.itemText(1)
    gap = look.grid.gap(1, 2).center().toPoint()
    QTest.mouseClick(look.grid, Qt.MouseButton.LeftButton, pos=gap)
    wait_until_settled(window)
    assert _sheet(window).looked.chosen == (1, 2) and board.right_name.text().startswith("Test sheet 1")
    assert window.verdict.text.startswith("Between 1 and 2: ")
    assert "no finer sheet is worth its paper" in window.verdict.text
    # or on the sheet itself
    QTest.mouseClick(board.drawing, Qt.MouseButton.LeftButton, pos=_middle(board, 2))
    assert _sheet(window).looked.chosen == (2,)
    QTest.mouseClick(look.words["flat"], Qt.MouseButton.LeftButton)
    assert _sheet(window).looked.of(2).words == ("flat",) and look.words["flat"].isChecked()
    QTest.mouseClick(look.give, Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    assert take().recipe.total["lightness"] == sheet.variants[1].values[0]
    look.black_step.setValue(3)
    assert (
        _sheet(window).looked.wedges.black == 3.0
        and "within 2 L* of the deepest black are one black" in look.dryness.text()
    )


def test_none_of_them_is_kept_and_the_next_sheet_goes_on(window: Window, board: TestSheetBoard, tmp_path: Path) -> None:
    tray = window.stack.test
    sheet = _write(window, board, tmp_path / "a.tif")
    assert tray.look.up.text() == "Further: lighter"
    QTest.mouseClick(tray.look.up, Qt.MouseButton.LeftButton)
    assert "None of them: further, lighter." in window.verdict.text
    QTest.mouseClick(tray.look.next, Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    planned = window.session.testing.planned
    assert planned is not None and min(v.values[0] for v in planned.variants[1:]) > max(
        v.values[0] for v in sheet.variants
    )
    QTest.mouseClick(tray.look.untouched, Qt.MouseButton.LeftButton)
    assert _sheet(window).looked.ending == "none-better" and tray.look.next.text() == "Small proof…"


def test_with_shift_a_second_field_is_chosen_wherever_it_lies(
    window: Window, board: TestSheetBoard, tmp_path: Path
) -> None:
    sheet = _write(window, board, tmp_path / "a.tif")
    window.session.testing.look_at(sheet)
    wait_until_settled(window)
    last = max(v.number for v in sheet.variants if not v.black)
    QTest.mouseClick(board.drawing, Qt.MouseButton.LeftButton, pos=_middle(board, 1))
    wait_until_settled(window)
    assert _sheet(window).looked.chosen == (1,)
    QTest.mouseClick(
        board.drawing, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, pos=_middle(board, last)
    )
    wait_until_settled(window)
    assert last > 2 and _sheet(window).looked.chosen == (1, last)
    QTest.mouseClick(board.drawing, Qt.MouseButton.LeftButton, pos=_middle(board, 2))
    wait_until_settled(window)
    assert _sheet(window).looked.chosen == (2,), "without Shift one field takes their place"


def test_keys_alone_choose_on_the_sheet(window: Window, board: TestSheetBoard, tmp_path: Path) -> None:
    _write(window, board, tmp_path / "a.tif")
    look = window.stack.test.look
    look.sheets.setFocus()
    press(window, Qt.Key.Key_Down)
    wait_until_settled(window)
    assert window.session.testing.sheet == _sheet(window)
    look.grid.setFocus()
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Return):
        press(window, key)
    assert _sheet(window).looked.chosen == (2,)


def test_a_piece_is_moved_by_hand_and_offered_again(window: Window, board: TestSheetBoard) -> None:
    tray, testing = window.stack.test, window.session.testing
    offered = testing.made.pieces  # type: ignore[union-attr]
    assert "tenths of the tones" in tray._covered.text() and not tray._offered.isEnabled()
    rect = board.view.piece_rect(0)
    way = QPoint(-40 if rect.x() > 80 else 40, 0)
    drag(board.view, rect.center().toPoint(), way)
    wait_until_settled(window)
    until(lambda: testing.made is not None)
    moved = testing.made.pieces  # type: ignore[union-attr]
    assert moved[0].x != pytest.approx(offered[0].x, abs=0.01) and tray._offered.isEnabled()
    QTest.mouseClick(tray._offered, Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    until(lambda: testing.made is not None)
    assert testing.made.pieces == offered  # type: ignore[union-attr]
    QTest.mouseClick(tray._whole, Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    until(lambda: testing.made is not None)
    assert testing.made.pieces == () and "The whole picture, at" in tray._covered.text()  # type: ignore[union-attr]
    QTest.mouseClick(tray._many.buttons[1][0], Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    until(lambda: testing.made is not None)
    assert len(testing.made.pieces) == 2  # type: ignore[union-attr]


def test_steps_layouts_and_sheets(window: Window, board: TestSheetBoard) -> None:
    tray, testing = window.stack.test, window.session.testing
    assert all(1.2 <= d <= 1.8 for d in testing.planned.brackets[0].differences)  # type: ignore[union-attr]
    assert "Each differs from the next by ΔE₀₀" in tray._said.text()
    tray._apart.buttons[3][0].click()
    wait_until_settled(window)
    assert testing.plan.step == pytest.approx(1 / 3) and tray._by_hand.isVisible()
    tray._by_hand.setValue(1)
    tray._first.setFocus()
    while tray._first.currentData() != "dark_half":
        press(window, Qt.Key.Key_Up)
    wait_until_settled(window)
    assert testing.plan.first == "dark_half" and testing.plan.step == 0.0, "another control begins with visible steps"
    QTest.mouseClick(tray.layouts["strips"], Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    until(lambda: testing.made is not None)
    assert testing.made.page is not None and testing.made.page.layout == "strips" and testing.made.page.columns == 1  # type: ignore[union-attr]
    tray._sheet.setFocus()
    while tray._sheet.currentData() != "A3":
        press(window, Qt.Key.Key_Down)
    wait_until_settled(window)
    until(lambda: testing.made is not None)
    assert testing.made.page.name == "A3" and "A3" in tray.layouts["strips"].accessibleDescription()  # type: ignore[union-attr]
    tray._apart.buttons[3][0].click()
    tray._by_hand.setValue(1)
    wait_until_settled(window)
    until(lambda: testing.made is not None)
    assert "a waste: 1 and 2" in tray._said.text()


def test_papers_have_a_card_each_with_an_answer(window: Window, board: TestSheetBoard, tmp_path: Path) -> None:
    tray = window.stack.test
    assert isinstance(tray, TestTray)
    QTest.mouseClick(tray.kinds["papers"], Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    until(lambda: len(board.answers) >= 3 and all(a.proof.image is not None for a in board.answers))
    seen = [pixels(a.proof) for a in board.answers]
    assert not np.array_equal(seen[0], seen[2]) and not board.answers[0].buttons["yes"].isEnabled()
    first = window.session.testing.candidates[0][0]
    QTest.mouseClick(tray.members.buttons[window.session.testing.candidates[-1][0]], Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    until(lambda: len(board.answers) == len(window.session.testing.candidates) - 1)
    window.session.testing.wish(members=tuple(n for n, _name in window.session.testing.candidates[:2]))
    wait_until_settled(window)
    until(lambda: len(board.answers) == 2)
    window.session.tested.write_papers(tmp_path)
    until(lambda: bool(window.session.tested.all))
    wait_until_settled(window)
    window.session.testing.look_at(_sheet(window))
    wait_until_settled(window)
    QTest.mouseClick(board.answers[0].buttons["no"], Qt.MouseButton.LeftButton)
    board.answers[0].why.setFocus()
    QTest.keyClicks(board.answers[0].why, "its texture")
    press(window, Qt.Key.Key_Return)
    said = _sheet(window).looked.of(1)
    assert (said.words, said.why) == (("no",), "its texture") and _sheet(window).variants[0].condition == first


def test_one_key_for_a_small_proof(
    window: Window, board: TestSheetBoard, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(tmp_path / "proof.tif"), ""))
    window.stack.go(3)
    press(window, Qt.Key.Key_P, Qt.KeyboardModifier.ShiftModifier)
    until(lambda: bool(window.session.tested.all))
    assert (tmp_path / "proof.tif").exists() and window.stack.current_key == "test"
    wait_until_settled(window)
    assert (
        "small proof written"
        in window.ribbon.buttons[5].accessibleName() + window.ribbon.buttons[5].accessibleDescription()
    )


def test_the_board_stays_closed_when_it_was_closed_by_hand(window: Window, board: TestSheetBoard) -> None:
    press(window, Qt.Key.Key_Escape)
    assert window.boards.shown is None and window.pair.isVisible()
    window.stack.go(4)
    window.stack.go(5)
    assert window.boards.shown is None
    press(window, Qt.Key.Key_T, Qt.KeyboardModifier.ShiftModifier)
    assert window.boards.shown is board
