"""The card of a paper, by real clicks, keys and drags: what is told is kept at once, what was only read carries a bar."""

from dataclasses import replace

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QWidget
from pytestqt.qtbot import QtBot
from tests.desk.conftest import hover, pixels, press, wait_until_settled

from rehearsal.core.values.condition import PrintCondition
from rehearsal.desk.boards.card import CardBoard
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.cardrows import NotesField, Steps
from rehearsal.desk.parts.margins import MarginFields
from rehearsal.desk.parts.paperdrawing import PaperDrawing


@pytest.fixture
def board(window: Window) -> CardBoard:
    """The card of the open take's paper, some of it only read from a name."""
    shown = window.session.now.condition
    assert shown is not None
    window.session.shelf.change(replace(shown, read=("quality", "surface"), unread="WCRW", dry_hours=0.0))
    press(window, Qt.Key.Key_F7)
    made = window.boards.shown
    assert isinstance(made, CardBoard) and window.stack.current_key == "paper"
    return made


def _kept(window: Window) -> PrintCondition:
    shown = window.session.now.condition
    assert shown is not None
    return shown


def _type(field: QWidget, text: str) -> None:
    QTest.mouseClick(field, Qt.MouseButton.LeftButton)
    press_all = Qt.KeyboardModifier.ControlModifier
    QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_A, press_all)
    QTest.keyClicks(QApplication.focusWidget(), text)


def _drag(widget: QWidget, start: QPointF, way: QPoint) -> None:
    QTest.mousePress(widget, Qt.MouseButton.LeftButton, pos=start.toPoint())
    for i in range(1, 5):
        hover(widget, start.toPoint() + way * (i / 4), Qt.MouseButton.LeftButton)
    QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, pos=start.toPoint() + way)


def test_what_was_read_carries_a_bar_until_it_is_told(board: CardBoard, window: Window) -> None:
    quality, printer = board._rows["quality"], board._rows["printer"]
    assert quality.is_read and not printer.is_read and "“WCRW”" in board.sentence.text()
    assert "2 lines were read" in board.sentence.text() and board._heads[1].ring == "half"
    left = quality.field.x() - 2
    bar = pixels(quality)[quality.height() // 2, left, 0]
    none = pixels(printer)[printer.height() // 2, printer.field.x() - 2, 0]
    assert bar > 200
    assert none < 100
    _type(quality.field, "Fine")
    assert _kept(window).quality == "High", "kept when it is left"
    press(window, Qt.Key.Key_Tab)
    assert _kept(window).quality == "Fine" and _kept(window).read == ("surface",) and not quality.is_read
    assert board._heads[1].ring == "full" and board._heads[0].ring == "half" and board._right.isVisible()
    QTest.mouseClick(board._right, Qt.MouseButton.LeftButton)
    assert _kept(window).read == () and not board._right.isVisible() and "kept at once" in board.sentence.text()
    window.actions_of_keys.act("undo")
    window.actions_of_keys.act("undo")
    assert _kept(window).quality == "High" and _kept(window).read == ("quality", "surface") and quality.is_read


def test_brightener_margins_steps_and_hours(board: CardBoard, window: Window) -> None:
    choice = board._rows["brightener"].field
    QTest.mouseClick(choice.buttons["full"], Qt.MouseButton.LeftButton)
    assert _kept(window).brightener == "full" and "fades" in board._brightener.text()
    drawing = board.margins.drawing
    assert drawing.is_wide and drawing.drawn_margins == (5, 30, 5, 30)
    mm = 10 * drawing._cm()[0] / drawing.sheet_rect().width()
    ink = drawing.ink_rect()
    _drag(drawing, QPointF(ink.left(), ink.center().y()), QPoint(10, 0))
    top, right, bottom, left = _kept(window).margins_mm
    assert (right, bottom, left) == (5, 30, 5) and top == pytest.approx(30 + 10 * mm, abs=mm), (
        "the first edge is at the left"
    )
    assert board.margins.fields[3].value() == pytest.approx(top, abs=0.06)
    board.margins.fields[0].setValue(12)
    assert _kept(window).margins_mm == (top, 12, bottom, left)
    before = len(board.steps.fields)
    assert before == 3 and board.steps.fields[0].text().startswith("Brush off dust")
    board.steps.add()
    QTest.keyClicks(board.steps.fields[3], "Wait for the light.")
    press(window, Qt.Key.Key_Return)
    assert _kept(window).steps[3] == "Wait for the light." and len(_kept(window).steps) == 4
    assert board._heads[2].ring == "empty", "nobody has told the hours"
    board._dry.setValue(36)
    assert _kept(window).dry_hours == 36 and board._heads[2].ring == "full"
    window.actions_of_keys.act("undo")
    assert _kept(window).dry_hours == 0 and board._dry.text() == "not told"


def test_a_lab_is_asked_other_things_and_nothing_typed_is_lost(board: CardBoard, window: Window) -> None:
    assert board._rows["media_setting"].isVisible() and not board._rows["lab_days"].isVisible()
    board._lab.click()
    assert _kept(window).lab and not board._rows["media_setting"].isVisible() and not board.steps.isVisible()
    assert board._heads[1].title == "At the lab" and board._heads[1].ring == "empty"
    _type(board._rows["lab_price"].field, "9.50 a print")
    press(window, Qt.Key.Key_Escape)
    assert window.boards.shown is None and _kept(window).lab_price == "9.50 a print"
    press(window, Qt.Key.Key_F7)
    notes = board._rows["notes"].field
    _type(notes, "Soft. ")
    shown, other = _kept(window), next(c for c in window.session.shelf.conditions if c.paper == "Old Quay")
    window.session.bus.tell("facts")
    assert notes.toPlainText() == "Soft. ", "what is being typed stays"
    window.session.now.look_at(other)  # kept for the card it was typed on
    wait_until_settled(window)
    kept = window.session.shelf.get(shown.id)
    assert kept is not None and kept.notes == "Soft." and notes.toPlainText().startswith("Natural white")
    assert board._detail.text() == "Lines closer than 0.48 mm lose over half of their contrast"
    printer = board._rows["printer"].field
    _type(printer, "Ostrel 44")
    window.session.bus.tell("facts")
    assert printer.text() == "Ostrel 44"
    window.session.now.look_at(None)
    gone = window.session.shelf.get(other.id)
    assert gone is not None and gone.printer == "Ostrel 44" and _kept(window).printer == shown.printer
    window.session.now.look_at(gone)
    other = gone
    _type(board._rows["paper"].field, " ")
    press(window, Qt.Key.Key_Tab)
    assert window.session.shelf.get(other.id) == other and board._rows["paper"].field.text() == "Old Quay"


def test_the_edge_no_ink_reaches_is_hatched_to_scale(qtbot: QtBot) -> None:
    fields = MarginFields()
    qtbot.addWidget(fields)
    drawing = PaperDrawing()
    qtbot.addWidget(drawing)
    drawing.resize(300, 170)
    white = drawing.white
    drawing.show_sheet("A3+", None, (30.0, 5.0, 20.0, 5.0), white)
    sheet, ink = drawing.sheet_rect(), drawing.ink_rect()
    mm = sheet.width() / 483
    assert ink.left() - sheet.left() == pytest.approx(30 * mm) and sheet.right() - ink.right() == pytest.approx(20 * mm)
    assert ink.top() - sheet.top() == pytest.approx(5 * mm) and sheet.height() == pytest.approx(329 * mm)
    row = pixels(drawing)[round(sheet.center().y()) - 30 : round(sheet.center().y()) - 10, :, 0].astype(int)
    inside = row[:, round(ink.left()) + 3 : round(ink.right()) - 3]
    edge = row[:, round(sheet.left()) + 2 : round(ink.left()) - 2]
    assert (inside == white.red()).all() and (edge < white.red() - 40).mean() > 0.1
    assert drawing.accessibleDescription() == "no ink: top 5 mm, right 20 mm, bottom 5 mm, left 30 mm"


def test_notes_grow_and_steps_are_numbered(qtbot: QtBot) -> None:
    notes, steps = NotesField(), Steps()
    for each in (notes, steps):
        qtbot.addWidget(each)
        each.resize(200, 60)
    low = notes.height()
    notes.show_text("\n".join(["a line"] * 5))
    assert notes.height() > low and notes.toPlainText().count("\n") == 4
    told: list[str] = []
    steps.told.connect(told.append)
    steps.show_steps(("one", "two"))
    steps.show()
    assert [f.accessibleName() for f in steps.fields] == ["Loading, step 1", "Loading, step 2"]
    steps.fields[0].setFocus()
    QTest.keyClicks(steps.fields[0], "x")
    steps.show_steps(("other", "two"))
    assert steps.fields[0].text() == "xone", "what is being typed stays"
    QTest.keyClick(steps.fields[0], Qt.Key.Key_Return)
    assert told == ["xone\ntwo"]
    steps.show_steps(())
    assert len(steps.fields) == 1 and steps.text() == ""
