"""Fields that take numbers as they are typed, with real keys."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest
from PyQt6.QtCore import QLocale, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget
from pytestqt.qtbot import QtBot
from tests.desk.conftest import pixels, wait_until_settled

from rehearsal.core.values.words import word
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.workbook.values import Take


@pytest.fixture(params=["C", "de_DE"])
def locale(request: pytest.FixtureRequest) -> Iterator[None]:
    before = QLocale()
    QLocale.setDefault(QLocale(request.param))
    yield
    QLocale.setDefault(before)


class Both(QWidget):
    """A field that asks, another to go to, and what the first has told."""

    def __init__(self) -> None:
        super().__init__()
        rows = QVBoxLayout(self)
        self.field, self.other = NumberField(0, 500, 1, "cm", asks=True), QLineEdit()
        rows.addWidget(self.field)
        rows.addWidget(self.other)
        self.told: list[float] = []
        self.field.show_value(25.0)
        self.field.valueChanged.connect(self.told.append)

    def type(self, text: str, key: Qt.Key = Qt.Key.Key_Return) -> None:
        self.field.setFocus()
        self.field.selectAll()
        QTest.keyClick(self.field, Qt.Key.Key_Delete)
        QTest.keyClicks(self.field, text)
        QTest.keyClick(self.field, key)


@pytest.fixture
def both(qtbot: QtBot, locale: None) -> Both:
    made = Both()
    qtbot.addWidget(made)
    made.resize(400, 300)
    made.show()
    qtbot.waitExposed(made)
    made.activateWindow()
    QTest.qWaitForWindowActive(made)
    return made


@pytest.mark.parametrize(
    ("typed", "cm"), [("24,5", 24.5), ("24.5", 24.5), ("250 mm", 25.0), ("10 in", 25.4), ('10"', 25.4)]
)
def test_a_number_is_taken_as_it_is_meant_in_every_desktop(both: Both, typed: str, cm: float) -> None:
    both.type("30")
    both.type(typed)
    assert both.told[-1] == pytest.approx(cm) and both.field.text() == f"{cm} cm" and not both.field.note


def test_what_cannot_be_read_stays_with_one_sentence(both: Both) -> None:
    both.type("much", Qt.Key.Key_Tab)
    assert both.field.text() == "much" and both.told == [] and both.field.value() == 25.0
    assert both.field.note == "“much” is no number that can be read here. It stays 25.0 cm."
    assert both.field.accessibleDescription() == both.field.note
    both.field.show_value(25.0)  # whoever shows the value again leaves it there
    assert both.field.text() == "much"
    both.field.show_value(30.0)  # another value is another matter
    assert both.field.text() == "30.0 cm" and not both.field.note
    both.type("10 kg")
    assert both.field.text() == "10 kg" and "kg" in both.field.note
    QTest.keyClick(both.field, Qt.Key.Key_Escape)
    assert both.field.text() == "30.0 cm" and not both.field.note and not both.field.accessibleDescription()
    both.type("900")
    assert both.field.value() == 30.0 and "500.0 cm" in both.field.note
    both.type("40")
    assert both.told == [40.0] and not both.field.note


def test_more_than_twice_is_asked_and_answered_by_keys_or_buttons(both: Both) -> None:
    both.type("50")
    assert both.told == [50.0] and not both.field.note  # twice is not over two times
    both.type("245", Qt.Key.Key_Tab)
    assert both.told == [50.0] and both.field.text() == "245" and both.field.note == "245.0 cm is 4.9 times 50.0 cm."
    keep, sets = both.field.answers[1], both.field.answers[0]
    assert (sets.text(), keep.text()) == ("Set 245.0 cm", "Keep 50.0 cm")
    QTest.mouseClick(keep, Qt.MouseButton.LeftButton)
    assert both.field.text() == "50.0 cm" and both.told == [50.0] and not both.field.note
    both.type("24,9")
    assert both.field.note == "24.9 cm is less than half of 50.0 cm."
    QTest.keyClick(both.field, Qt.Key.Key_Return)
    assert both.told == [50.0, 24.9] and both.field.text() == "24.9 cm" and not both.field.note
    both.type("100")
    QTest.mouseClick(sets, Qt.MouseButton.LeftButton)
    assert both.told == [50.0, 24.9, 100.0]
    both.type("9")
    both.type("90")  # another answer than the two
    assert both.told[-1] == 90.0 and not both.field.note


def test_a_question_goes_with_its_field(both: Both) -> None:
    both.type("245")
    both.field.hide()
    both.field.show()
    assert both.field.text() == "25.0 cm" and not both.field.note and both.told == []


def test_arrows_step_from_the_value_not_from_what_was_not_read(both: Both) -> None:
    both.type("much")
    QTest.keyClick(both.field, Qt.Key.Key_Up)
    assert both.told == [26.0] and both.field.text() == "26.0 cm" and not both.field.note


def test_nothing_told_has_its_word_and_an_empty_field_means_it(qtbot: QtBot, locale: None) -> None:
    field = NumberField(0, 12_000, 0, "K", 100)
    qtbot.addWidget(field)
    field.setSpecialValueText("not known")
    assert field.text() == "not known"
    field.show()
    for typed, value, text in (
        ("5500", 5500, "5500 K"),
        ("", 0, "not known"),
        ("5 500K", 5500, "5500 K"),
        ("not known", 0, "not known"),
    ):
        field.selectAll()
        QTest.keyClick(field, Qt.Key.Key_Delete)
        QTest.keyClicks(field, typed)
        QTest.keyClick(field, Qt.Key.Key_Return)
        assert (field.value(), field.text()) == (value, text) and not field.note
    QTest.keyClicks(field, "x")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert field.note.endswith(word("typed", "as_it_was").format(now="not known"))


def test_a_print_keeps_its_crop_where_a_comma_was_typed(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go(1)
    tray = window.stack.trays[1]
    width = next(f for f in tray.findChildren(NumberField) if f.accessibleName() == "Width")
    for typed in ("25", "24,5"):
        width.setFocus()
        width.selectAll()
        QTest.keyClicks(width, typed)
        QTest.keyClick(width, Qt.Key.Key_Return)
        if width.note:  # the demo's own print may be of quite another size
            QTest.keyClick(width, Qt.Key.Key_Return)
    wait_until_settled(window, judged=False)
    size = take().frame.size
    assert size is not None and size.width_cm == pytest.approx(24.5) and width.text() == "24.5 cm"


def test_what_a_field_says_is_dressed_like_what_it_lies_in(window: Window) -> None:
    window.stack.go(1)
    tray = window.stack.trays[1]
    width = next(f for f in tray.findChildren(NumberField) if f.accessibleName() == "Width")
    levels = {}
    for room in ("dark", "mid", "light"):
        window.rooms.set(room)
        width.setFocus()
        width.selectAll()
        QTest.keyClicks(width, "much")
        QTest.keyClick(width, Qt.Key.Key_Return)
        assert width._note is not None and width._note.isVisible()
        levels[room] = int(pixels(width._note)[3, 3, 0]), int(pixels(tray)[-2, -2, 0])
        width.take_back()
    assert (
        all(note == around for note, around in levels.values())
        and levels["light"][0] > levels["mid"][0] > levels["dark"][0]
    )
