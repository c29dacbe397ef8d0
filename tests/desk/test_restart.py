"""The window opened again: everything is there, and what has changed meanwhile is said."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton, QWidget
from pytestqt.qtbot import QtBot
from tests.desk.conftest import wait_until_settled

from rehearsal.core.values.recipe import by_hand
from rehearsal.desk.frame.window import Window
from rehearsal.desk.start import make_window
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Take


def _click(widget: QWidget) -> None:
    QTest.mouseClick(widget, Qt.MouseButton.LeftButton)


def _button(window: QWidget, text: str) -> QPushButton:
    return next(b for b in window.findChildren(QPushButton) if b.text() == text)


def test_everything_is_there_after_a_restart(
    window: Window, demo_book: Workbook, qtbot: QtBot, take: Callable[[], Take]
) -> None:
    window.session.takes.change(recipe=by_hand(strength=7), view="on-paper")
    window.stack.go(6)
    window.rooms.set("dark")
    kept, path = take(), demo_book.path
    window.close()
    again = make_window(Workbook(path), [])
    again.show()
    qtbot.waitExposed(again)
    wait_until_settled(again)
    assert again.session.now.take == kept and again.stack.station == 6 and again.rooms.name == "dark"
    again.close()


def test_an_edited_picture_asks_to_be_judged_again(window: Window, demo_book: Workbook, qtbot: QtBot) -> None:
    master = window.session.now.master
    assert master is not None
    path = demo_book.path
    window.close()
    with Path(master.path).open("ab") as stream:
        stream.write(b"edited")
    again = make_window(Workbook(path), [])
    again.show()
    wait_until_settled(again)
    assert again.ribbon.buttons[1].state.words == "changed since, judge again?"
    again.stack.go(1)
    _click(_button(again.stack.trays[1], "Judge the changed picture"))
    wait_until_settled(again)
    assert again.ribbon.buttons[1].state.ring == "full"
    again.close()


def test_a_profile_deleted_between_two_starts(
    window: Window, demo_book: Workbook, qtbot: QtBot, tmp_path: Path
) -> None:
    condition = window.session.now.condition
    assert condition is not None
    lost = tmp_path / "lost.icc"
    lost.write_bytes(Path(condition.profile_path).read_bytes())
    window.session.book.note(replace(condition, profile_path=str(lost)))
    path = demo_book.path
    window.close()
    lost.unlink()
    again = make_window(Workbook(path), [])
    again.show()
    QTest.qWait(1500)
    assert "lost.icc" in again.pair.mending.text and again.verdict.text == "Nothing can be judged yet."
    assert again.ribbon.buttons[2].state.words == "profile missing" and again.ribbon.buttons[2].state.ring == "look"
    assert again.session.now.take is not None
    again.close()
