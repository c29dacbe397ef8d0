"""How bright light and screen are, told without a meter in the real window."""

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QComboBox
from pytestqt.qtbot import QtBot
from tests.desk.conftest import pixels, press, wait_until_settled

from rehearsal.core.screen.nometer import field_y
from rehearsal.desk.boards.light import LightBoard
from rehearsal.desk.frame.window import Window
from rehearsal.desk.start import make_window
from rehearsal.workbook.store import Workbook


def _open(window: Window) -> LightBoard:
    press(window, Qt.Key.Key_L, Qt.KeyboardModifier.ControlModifier)
    wait_until_settled(window)
    board = window.boards.shown
    assert isinstance(board, LightBoard) and board.isVisible()
    return board


def _choose(box: QComboBox, value: object) -> None:
    box.setCurrentIndex(box.findData(value))
    box.activated.emit(box.currentIndex())


def test_a_sheet_beside_the_field_tells_the_offset_and_no_lux(window: Window) -> None:
    screen = window.session.screen
    screen.set(lux=300.0, white=100.0)
    board = _open(window)
    field = board.field
    assert (pixels(field)[field.height() // 2, field.width() // 2] == 255).all()
    field.setFocus()
    for key in (Qt.Key.Key_PageDown,) * 9 + (Qt.Key.Key_Down, Qt.Key.Key_Up, Qt.Key.Key_Down):
        QTest.keyClick(field, key)
    assert field.value == 255 - 73
    assert (pixels(field)[field.height() // 2, field.width() // 2] == field.value).all()
    y = field_y(field.value, screen.profile)
    assert f"{100 * y:.0f} % of full white" in board._match_words.text()
    board._alike.click()
    facts = window.session.shelf.facts_of(window.session.now.condition.id)  # type: ignore[union-attr]
    assert screen.record.beside * facts.white_y == pytest.approx(y)  # type: ignore[union-attr]
    assert not screen.is_said("lux") and screen.knows_light
    assert window.session.logbook.brightness.offset > 0.5  # type: ignore[union-attr]
    assert "Matched by eye, the screen is" in board.sentence.text() and "cd/m²" not in board.sentence.text()
    window.stack.go_to("judge")
    assert "make the screen darker by as much first" in window.verdict.text
    window.session.takes.undo()
    assert screen.is_said("lux") and screen.record.lux == 300.0 and screen.record.beside == 0.0


def test_light_told_afterwards_takes_the_place_of_what_was_matched(window: Window) -> None:
    screen = window.session.screen
    screen.match(0.6)
    screen.set(contrast=800.0)
    assert screen.record.beside == 0.6
    screen.set(white=120.0)
    assert screen.record.beside == 0.0 and not screen.knows_light


def test_a_paper_brighter_than_full_white_is_said_and_nothing_kept(window: Window) -> None:
    board, before = _open(window), window.session.screen.record
    assert board._above.isVisible()
    board._above.click()
    assert "brighter than all this screen shows" in window.message.text and window.session.screen.record == before
    board._step(-1)
    assert not board._above.isVisible() and board.field.value == 254


def test_a_cameras_exposure_is_taken_with_its_doubt(window: Window) -> None:
    board, screen = _open(window), window.session.screen
    assert "60 cd/m²" in board._camera_words.text() and "1047 lx" in board._camera_words.text()
    assert "give or take ½ stop" in board._camera_words.text()
    _choose(board._time, 1 / 15)
    board._take.click()
    assert screen.record.lux == 524.0 and screen.record.origin("lux") == "camera"
    window.stack.go_to("screen")
    window.stack.trays[0].refresh()
    assert "± ½ stop" in window.stack.trays[0]._light_origin.text()  # type: ignore[attr-defined]
    _choose(board._filled, "screen")
    board._take.click()
    assert screen.record.white == 30.0 and screen.record.origin("white") == "camera"
    assert screen.record.lux == 524.0
    _choose(board._light, "")
    assert not screen.is_said("lux")


def test_without_a_paper_nothing_is_matched(tmp_path: Path, qtbot: QtBot) -> None:
    window = make_window(Workbook(tmp_path / "book.sqlite"), [])
    window.show()
    window.boards.toggle("light")
    board = window.boards.shown
    assert isinstance(board, LightBoard)
    assert not board._alike.isEnabled() and "Choose a paper first" in board._match_words.text()
    assert board._take.isEnabled(), "a grey card needs no paper"
    _choose(board._filled, "paper")
    assert not board._take.isEnabled()
    window.close()
