"""The window opened again: everything is there, and what has changed meanwhile is said."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton, QWidget
from pytestqt.qtbot import QtBot
from tests.desk.conftest import wait_until_settled

from rehearsal.core.tuning.values import Tuning
from rehearsal.desk.start import make_window
from rehearsal.desk.window import Window
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Take


def _click(widget: QWidget) -> None:
    QTest.mouseClick(widget, Qt.MouseButton.LeftButton)


def _button(window: QWidget, text: str) -> QPushButton:
    return next(b for b in window.findChildren(QPushButton) if b.text() == text)


def test_everything_is_there_after_a_restart(window: Window, qtbot: QtBot, take: Callable[[], Take]) -> None:
    window.model.change(tuning=Tuning(strength=7), view="on-paper")
    window.go(6)
    window.set_room("dark")
    kept, path = take(), window.model.workbook.path
    window.close()
    again = make_window(Workbook(path), [])
    again.show()
    qtbot.waitExposed(again)
    wait_until_settled(again)
    assert again.model.take == kept and again.station == 6 and again.room == "dark"
    again.close()


def test_an_edited_picture_asks_to_be_judged_again(window: Window, qtbot: QtBot) -> None:
    master = window.model.master
    assert master is not None
    path = window.model.workbook.path
    window.close()
    with Path(master.path).open("ab") as stream:
        stream.write(b"edited")
    again = make_window(Workbook(path), [])
    again.show()
    wait_until_settled(again)
    assert again.ribbon.buttons[1].state.words == "changed since, judge again?"
    again.go(1)
    _click(_button(again.trays[1], "Judge the changed picture"))
    wait_until_settled(again)
    assert again.ribbon.buttons[1].state.ring == "full"
    again.close()


def test_a_profile_deleted_between_two_starts(window: Window, qtbot: QtBot, tmp_path: Path) -> None:
    condition = window.model.condition
    assert condition is not None
    lost = tmp_path / "lost.icc"
    lost.write_bytes(Path(condition.profile_path).read_bytes())
    window.model.workbook.put(replace(condition, profile_path=str(lost)))
    path = window.model.workbook.path
    window.close()
    lost.unlink()
    again = make_window(Workbook(path), [])
    again.show()
    QTest.qWait(1500)
    assert "Choose the profile again" in again.verdict.text or "profile missing" in again.ribbon.buttons[2].state.words
    assert again.model.take is not None
    again.close()
