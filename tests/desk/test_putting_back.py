"""What was removed can be put back; what was measured is kept; the picture comes before the shelf."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton, QWidget
from tests.desk.conftest import press, wait_until_settled

from rehearsal.core.values.recipe import by_hand
from rehearsal.desk.boards.screencheck import ScreenCheckBoard
from rehearsal.desk.frame.window import Window
from rehearsal.desk.start import make_window
from rehearsal.session import shelf
from rehearsal.tasks.conditions import Facts
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import PrintCondition, ScreenReading, Take


def _button(widget: QWidget, text: str) -> QPushButton:
    return next(b for b in widget.findChildren(QPushButton) if b.text().startswith(text))


def test_a_removed_take_is_put_back_as_it_was(window: Window, take: Callable[[], Take]) -> None:
    window.rack.fold(False)
    _button(window.rack, "New take").click()
    wait_until_settled(window)
    window.session.takes.change(recipe=by_hand(lightness=2 / 3, warmth=-3), name="Lighter, cooler")
    before = take()
    assert not _button(window.rack, "Put").isVisibleTo(window.rack)
    _button(window.rack, "Take this take off").click()
    wait_until_settled(window)
    assert before.id not in [t.id for t in window.session.book.all(Take)]
    back = _button(window.rack, "Put Lighter, cooler back")
    back.click()
    wait_until_settled(window)
    assert take() == before and not back.isVisibleTo(window.rack)
    # one list of what was done: putting it back, taking it off, and the steps before that
    window.session.takes.undo()
    assert before.id not in [t.id for t in window.session.book.all(Take)]
    window.session.takes.undo()
    assert take() == before
    window.session.takes.undo()
    assert take().recipe.is_neutral and take().id == before.id
    wait_until_settled(window)


def test_what_was_made_meanwhile_stays_when_something_is_put_back(window: Window, take: Callable[[], Take]) -> None:
    session = window.session
    session.takes.duplicate()
    removed = take()
    session.takes.remove(removed)
    session.takes.duplicate()
    new = take()
    session.takes.restore()
    wait_until_settled(window)
    assert take() == removed and session.book.get(Take, new.id) == new != removed
    spare = session.shelf.add(PrintCondition(paper="Spare", profile_path="space:opRGB"))
    assert "off the shelf" in session.shelf.remove(spare)
    newer = session.shelf.add(PrintCondition(paper="Newer", profile_path="space:P3"))
    session.shelf.restore()
    papers = [c.paper for c in session.shelf.conditions]
    assert papers.count("Spare") == papers.count("Newer") == 1 and session.shelf.get(newer.id) == newer
    wait_until_settled(window)


def test_a_forgotten_reading_is_brought_back(window: Window) -> None:
    session = window.session
    reading = ScreenReading("2026-11-01", 91.0, 0.09, 6400, 0.001, 0.7, 1.9, "good", "typed")
    session.screen.keep_reading(reading)
    press(window, Qt.Key.Key_F2)
    board = window.boards.shown
    assert isinstance(board, ScreenCheckBoard)
    assert not _button(board, "Bring it back").isVisibleTo(board)
    _button(board, "Forget the last reading").click()
    assert reading not in session.screen.record.readings
    _button(board, "Bring it back").click()
    assert session.screen.record.readings[-1] == reading
    assert not _button(board, "Bring it back").isVisibleTo(board)
    wait_until_settled(window)


def test_a_reading_is_never_brought_back_to_another_screen(window: Window) -> None:
    session = window.session
    session.screen.forget_reading()
    session.screen.use("another, unheard of")
    session.screen.recall_reading()
    assert session.screen.record.readings == ()
    session.screen.recall_reading()
    wait_until_settled(window)


def test_nothing_to_forget(window: Window) -> None:
    window.session.screen.set(readings=())
    window.session.screen.forget_reading()
    window.session.screen.recall_reading()
    assert window.session.screen.record.readings == ()


# ---- measuring the shelf


def _measured(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """Papers in the order they are asked about, and whether facts were at hand."""
    asked: list[str] = []
    real = shelf.condition_facts

    def noted(condition: PrintCondition, kept: dict) -> Facts:
        found = real(condition, kept)
        assert isinstance(found, Facts)
        asked.append(f"{condition.paper} {condition.id}{' (kept)' if found.digest in kept else ''}")
        return found

    monkeypatch.setattr(shelf, "condition_facts", noted)
    return asked


def _open(book: Workbook, qtbot) -> Window:  # type: ignore[no-untyped-def]
    window = make_window(book, [])
    window.show()
    qtbot.waitExposed(window)
    wait_until_settled(window)
    return window


def test_the_open_papers_facts_come_first_and_are_kept(
    demo_book: Workbook,
    tmp_path: Path,
    qtbot,  # type: ignore[no-untyped-def]
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    asked = _measured(monkeypatch)
    window = _open(demo_book, qtbot)
    current = window.session.now.condition
    assert current is not None and asked[0] == f"{current.paper} {current.id}"
    assert len(asked) == len(window.session.shelf.conditions) == len(set(asked)) and not [
        a for a in asked if "kept" in a
    ]
    facts = dict(window.session.shelf.facts)
    window.close()
    # the program started again measures nothing a second time
    asked.clear()
    again = _open(Workbook(tmp_path / "book.sqlite"), qtbot)
    assert len(asked) == len(again.session.shelf.conditions) and all(a.endswith("(kept)") for a in asked)
    for number, found in facts.items():
        assert again.session.shelf.facts[number] == found
    again.close()


def test_papers_are_measured_although_the_picture_is_lost(
    demo_book: Workbook,
    tmp_path: Path,
    qtbot,  # type: ignore[no-untyped-def]
) -> None:
    for path in (tmp_path / "pictures").iterdir():
        path.unlink()
    window = make_window(demo_book, [])
    window.show()
    qtbot.waitUntil(lambda: len(window.session.shelf.facts) == len(window.session.shelf.conditions), timeout=30_000)
    assert window.session.judging.judgement is None
    window.close()


def test_another_profile_is_measured_anew(window: Window) -> None:
    session = window.session
    dune = session.now.condition
    assert dune is not None and session.shelf.facts[dune.id].contrast < 60
    gloss = next(c for c in session.shelf.conditions if c.paper == "Sluice Gloss")
    session.shelf.change(replace(dune, profile_path=gloss.profile_path, profile_digest=gloss.profile_digest))
    wait_until_settled(window)
    assert session.shelf.facts[dune.id].contrast == session.shelf.facts[gloss.id].contrast > 100
    # an edit of words alone measures nothing again
    kept = session.shelf.facts[dune.id]
    session.shelf.change(replace(session.now.condition, notes="kept flat"))  # type: ignore[type-var]
    wait_until_settled(window)
    assert session.shelf.facts[dune.id] is kept


def test_facts_do_not_pass_on_to_a_condition_with_the_same_number(window: Window) -> None:
    session = window.session
    spare = session.shelf.add(PrintCondition(paper="Spare", profile_path="space:ROMM"))
    wait_until_settled(window)
    volume = session.shelf.facts[spare.id].volume
    session.shelf.remove(spare)
    newer = session.shelf.add(PrintCondition(paper="Newer", profile_path="space:P3"))
    wait_until_settled(window)
    assert spare.id not in session.shelf.facts and session.shelf.facts[newer.id].volume < 0.7 * volume
    session.shelf.restore()
    wait_until_settled(window)
    back = next(c for c in session.shelf.conditions if c.paper == "Spare")
    assert session.shelf.facts[back.id].volume == volume
