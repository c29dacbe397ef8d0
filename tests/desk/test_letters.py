"""Where letters act: looking keys everywhere but in and after a field, letters for rooms and boards at the pictures alone."""

import threading

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QPushButton
from tests.desk.conftest import press, wait_until_settled

from rehearsal.desk.frame.keys import KEYS, place_of
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.session.jobs import Job


def _field(window: Window) -> NumberField:
    window.stack.go_to("screen")
    field = next(f for f in window.stack.trays[0].findChildren(NumberField) if f.isVisible() and f.isEnabled())
    field.setFocus()
    assert field.hasFocus() or field.focusProxy() is QApplication.focusWidget()
    return field


def _letters(window: Window) -> tuple[object, ...]:
    state = window.pair.state
    return window.boards.name, window.rooms.room, window.stack.is_folded, state.soft, state.mode, state.maps


def test_each_letter_has_its_place() -> None:
    places = {key.key: place_of(key) for key in KEYS}
    assert places["L"] == places["+"] == places["H"] == "looking"
    assert places["R"] == places["O"] == places["A"] == places["?"] == "pictures"
    assert places["Ctrl+Return"] == places["F2"] == places["Alt+3"] == places["Esc"] == "anywhere"


@pytest.mark.own_window
def test_letters_beside_a_field_open_nothing(window: Window) -> None:
    field, before = _field(window), _letters(window)
    edit = QApplication.focusWidget()
    assert edit is not None
    QTest.keyClick(edit, Qt.Key.Key_Return)
    QTest.keyClick(edit, Qt.Key.Key_Tab)
    assert QApplication.focusWidget() is not edit
    window.ribbon.buttons[0].setFocus()  # left by a key: who types goes on typing
    for letter in "roeqcxtiulwkb":
        press(window, getattr(Qt.Key, f"Key_{letter.upper()}"))
    assert _letters(window) == before and field.isVisible()
    QTest.mouseClick(window.stack.trays[0], Qt.MouseButton.LeftButton, pos=QPoint(3, 3))  # a press beside it
    window.ribbon.buttons[0].setFocus()
    for letter in "roeqcxtiu":
        press(window, getattr(Qt.Key, f"Key_{letter.upper()}"))
    assert _letters(window) == before, "rooms and boards are called at the pictures alone"
    press(window, Qt.Key.Key_W)
    assert window.pair.state.soft, "how the pictures are looked at can be changed from everywhere else"
    press(window, Qt.Key.Key_W)
    window.pair.setFocus()
    press(window, Qt.Key.Key_R)
    press(window, Qt.Key.Key_T)
    assert window.rooms.room != before[1] and window.stack.is_folded
    press(window, Qt.Key.Key_O)
    assert window.boards.name == "scout"
    press(window, Qt.Key.Key_O)
    assert window.boards.name == "", "the same letter closes what it opened"
    wait_until_settled(window)


@pytest.mark.own_window
def test_esc_ends_what_was_typed(window: Window) -> None:
    _field(window)
    edit = QApplication.focusWidget()
    assert edit is not None
    QTest.keyClick(edit, Qt.Key.Key_Tab)
    window.ribbon.buttons[0].setFocus()
    press(window, Qt.Key.Key_W)
    assert not window.pair.state.soft
    press(window, Qt.Key.Key_Escape)
    press(window, Qt.Key.Key_W)
    assert window.pair.state.soft
    wait_until_settled(window)


@pytest.mark.own_window
def test_ctrl_return_acts_from_a_field_with_what_was_typed(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    field = _field(window)
    called: list[float] = []
    monkeypatch.setattr(window.stack.sheet, "write", lambda: called.append(field.value()))
    edit = QApplication.focusWidget()
    assert edit is not None
    QTest.keyClick(edit, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClicks(edit, "111")
    QTest.keyClick(edit, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    assert called == [111.0] and window.stack.current_key == "sheet"
    wait_until_settled(window)


@pytest.mark.own_window
def test_a_stations_own_work_comes_before_what_another_one_began(window: Window) -> None:
    jobs, line, go = window.session.jobs, window.message, threading.Event()
    window.stack.go_to("judge")
    paper, judge, write = Job("lost", "x"), Job("judge", "x"), Job("write", "x")
    for job in (paper, judge, write):
        jobs.run(job, lambda _p: go.wait(20), lambda _r: None, alone=False)
    jobs.progressed.emit((judge, 0.3, "its own"))
    jobs.progressed.emit((write, 0.7, "of another station"))
    assert line._doing.toolTip() == "its own"
    press(window, Qt.Key.Key_Escape)
    assert judge not in jobs.running and write in jobs.running and paper in jobs.running, "Esc stops the own work first"
    jobs.progressed.emit((write, 0.7, "of another station"))
    assert line._doing.toolTip() == "of another station", "while it has none, what is under way is shown"
    window.stack.go_to("tune")
    assert paper not in jobs.running and write in jobs.running, (
        "what was only for the eye at Paper stands in nobody's way"
    )
    jobs.stop(write)
    go.set()
    wait_until_settled(window)


def test_judge_offers_the_ways_of_looking_to_the_pointer(window: Window) -> None:
    window.stack.go_to("judge")
    judge, state, roads = window.stack.judge, window.pair.state, window.session.roads

    def action(name: str):  # type: ignore[no-untyped-def]
        return next(a for a in judge.ways().actions() if a.text().endswith(f"\t{name}"))

    assert [a.text().split("\t")[1] for a in judge.ways().actions()] == ["L", "K", "F", "G", "P", "W", "H"]
    for key, seen in (("W", lambda: state.soft), ("H", lambda: roads.hold), ("K", lambda: state.mode == "curtain")):
        before = seen()
        assert action(key).isChecked() == before
        action(key).trigger()
        assert seen() != before and action(key).isChecked() != before
        action(key).trigger()
        assert seen() == before
    fitted = state.zoom
    action("G").trigger()
    assert state.zoom != fitted
    action("F").trigger()
    assert state.zoom == fitted
    wait_until_settled(window)
    assert any(
        b.accessibleName() == "Ways to look at the pictures" and b.isVisible() for b in judge.findChildren(QPushButton)
    )
