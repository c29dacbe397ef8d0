"""The window that tests share: whatever was done to it, it stands as at first, or is given up."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QDoubleSpinBox, QLabel, QLineEdit
from pytestqt.qtbot import QtBot
from tests.desk.conftest import drop_shared, open_window, press, wait_until_settled
from tests.desk.shared import SharedWindow, seen
from tests.known import known_figures

from rehearsal.core.values.recipe import by_hand
from rehearsal.core.values.rendering import Rendering
from rehearsal.desk.frame.window import Window
from rehearsal.desk.pair.geometry import Zoom
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Master, Take


@pytest.fixture
def shared(qtbot: QtBot, make_book: Callable[[Path], Workbook], tmp_path: Path) -> Iterator[SharedWindow]:
    drop_shared()
    swap, book = known_figures(), make_book(tmp_path)
    made = SharedWindow(open_window(book, qtbot), book)
    yield made
    made.drop()
    swap.undo()


def _do_much(window: Window) -> None:
    """All that tests do to a window: takes and papers, undo, room, view, zoom, boards, stations, what is typed."""
    session = window.session
    session.takes.change_recipe(by_hand(contrast=8))
    session.takes.duplicate()
    session.takes.render(Rendering("perceptual"))
    session.takes.undo()
    session.screen.set(lux=77.0)
    session.takes.choose_condition(next(c for c in session.shelf.conditions if c.paper == "Old Quay"))
    session.shelf.change(replace(session.shelf.conditions[0], notes="changed"))
    window.rooms.set("dark")
    window.pair.state.set_zoom(Zoom(4.0))
    press(window, Qt.Key.Key_C)
    wait_until_settled(window)
    window.stack.go_to("log")
    window.rack.fold(False)
    session.takes.remove(session.takes.of(session.takes.masters[1].id)[0])


def test_it_stands_as_it_stood_whatever_was_done(shared: SharedWindow) -> None:
    window, session = shared.window, shared.window.session
    before, values = seen(window), {kind: dict(rows) for kind, rows in session.book._workbook._values.items()}
    settings, take, road = dict(session.book._workbook._settings), session.now.take, session.roads.road
    _do_much(window)
    assert session.now.take != take and seen(window) != before and session.book.undoes
    assert shared.back(), shared.why
    assert seen(window) == before and session.now.take == take and session.roads.road is road
    assert session.book._workbook._values == values and session.book._workbook._settings == settings
    assert (session.book.undoes, session.book.redoes, session.jobs.running) == ("", "", [])
    assert window.stack.current_key == "judge" and window.pair.state.zoom == Zoom() and window.rooms.name == "mid"
    assert window.boards.boards == {} and session.judging.is_current
    window.close()
    takes, left = _file(session.book._workbook)
    left = {name: value for name, value in left.items() if name not in ("geometry", "mode", "rack folded")}
    assert takes == list(values[Take].values()) and left.items() <= settings.items()


def test_what_was_left_in_parts_that_are_not_seen_is_put_back(shared: SharedWindow) -> None:
    window = shared.window
    search = next(w for w in window.findChildren(QLineEdit) if w.accessibleName() == "Search the logbook")
    boxes = [b for b in window.findChildren(QCheckBox) if not b.isVisible()]
    fields = [f for f in window.findChildren(QDoubleSpinBox) if not f.isVisible()]
    ticks, numbers = [b.isChecked() for b in boxes], [f.value() for f in fields]
    assert not search.isVisible() and len(boxes) >= 3 and len(fields) > 3
    search.setText("left over")
    for box in boxes:
        box.setChecked(not box.isChecked())
    for field in fields:
        field.setValue(field.value() + 1)
    wait_until_settled(window)
    assert shared.back(), shared.why
    assert search.text() == "" and [f.value() for f in fields] == numbers and [b.isChecked() for b in boxes] == ticks


def _file(book: Workbook) -> tuple[list[Take], dict]:
    """Takes and settings as the file of a workbook holds them."""
    again = Workbook(book.path)
    found = again.all(Take), dict(again._settings)
    again.close()
    return found


def test_what_does_not_come_back_is_given_up(shared: SharedWindow) -> None:
    window = shared.window
    more = QLabel("more", window)
    more.show()
    assert not shared.back() and "'more'" in shared.why
    more.hide()
    path = Path(window.session.book.all(Master)[0].path)
    with path.open("ab") as stream:
        stream.write(b"more")
    assert not shared.back() and path.name in shared.why
    window.close()
    assert not shared.back() and shared.why == "it is closed"
