"""Each control of each tray does something: what it changes, and what it shows."""

from collections.abc import Callable
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QDate, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDateEdit,
    QDoubleSpinBox,
    QLabel,
    QPushButton,
    QTableWidget,
    QWidget,
)
from tests.desk.conftest import pixels, read_page, wait_until_settled
from tests.known import keep_verdict

from rehearsal.core.icc.standard import space_bytes
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.frame import Crop
from rehearsal.core.values.recipe import HAND, by_hand
from rehearsal.desk.frame.stations import STATIONS
from rehearsal.desk.frame.window import Window
from rehearsal.desk.pair.headers import contrast_words, header_texts
from rehearsal.desk.trays.sheet import SheetTray
from rehearsal.desk.trays.tune import TuneTray
from rehearsal.desk.words import as_printed
from rehearsal.workbook.values import Take


def _field(tray: QWidget, name: str, kind: type = QDoubleSpinBox):  # type: ignore[no-untyped-def]
    return next(f for f in tray.findChildren(kind) if f.accessibleName() == name)


def _choose(box: QComboBox, text: str) -> None:
    index = next(i for i in range(box.count()) if box.itemText(i).startswith(text))
    box.setCurrentIndex(index)
    box.activated.emit(index)


def _texts(tray: QWidget) -> str:
    return " ".join(label.text() for label in tray.findChildren(QLabel) if label.isVisibleTo(tray))


def _press(tray: QWidget, text: str) -> None:
    next(b for b in tray.findChildren(QPushButton) if b.text().startswith(text)).click()


def test_screen_light_and_brightness(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go(0)
    tray = window.stack.trays[0]
    _field(tray, "Screen's white").setValue(240)
    assert "brighter" in window.verdict.text and "Set the screen to" in window.verdict.text
    assert "would meet this" in _texts(tray)
    _choose(_field(tray, "Prints are seen", QComboBox), "living room")
    assert window.session.screen.record.lux == 150
    _field(tray, "Light on the print").setValue(100)
    assert not tray._lighten.isVisible() and "washed out in any other light" in window.verdict.text
    _field(tray, "Light on the print").setValue(130)
    before = take().recipe.total["lightness"]
    _press(tray, "Lighten this print")
    assert take().recipe.total["lightness"] > before
    _field(tray, "Light on the print").setValue(3000)
    assert "darker than the lit paper" in window.verdict.text and "No screen should go to" in _texts(tray)


def test_nothing_is_concluded_from_what_nobody_told(window: Window) -> None:
    screen, session = window.session.screen, window.session
    for name in ("white", "contrast", "lux"):
        screen.forget(name)
    window.stack.go(0)
    tray = window.stack.trays[0]
    fields = {n: _field(tray, n) for n in ("Screen's white", "Screen contrast", "Light on the print")}
    assert {f.text() for f in fields.values()} == {"not told"}
    assert _field(tray, "Prints are seen", QComboBox).currentText() == "not told"
    assert session.logbook.brightness is None and session.logbook.light_words == "" and not tray._lighten.isVisible()
    assert "Nobody has told how bright" in window.verdict.text and "An example" in _texts(tray)
    assert (
        "calibrate it to" not in _texts(tray)
        and contrast_words(session).endswith(": 1")
        and "screen" not in contrast_words(session)
    )
    fields["Screen's white"].setValue(100)  # the usual value, but told
    assert screen.record.origin("white") == "told" and session.logbook.brightness is None
    _choose(_field(tray, "Prints are seen", QComboBox), "hall or office")
    assert session.logbook.brightness is not None and "Nobody has told" not in window.verdict.text
    fields["Screen's white"].setFocus()
    fields["Screen's white"].selectAll()
    QTest.keyClick(fields["Screen's white"], Qt.Key.Key_Delete)
    QTest.keyClick(fields["Screen's white"], Qt.Key.Key_Return)
    assert screen.record.origin("white") == "" and session.logbook.brightness is None
    QTest.keyClick(fields["Screen's white"], Qt.Key.Key_Up)  # from nothing told to the least there is
    assert screen.record.white == 20 and screen.record.origin("white") == "told"
    QTest.keyClicks(fields["Screen's white"], "5")
    fields["Screen's white"].selectAll()
    QTest.keyClicks(fields["Screen's white"], "5")
    QTest.keyClick(fields["Screen's white"], Qt.Key.Key_Return)
    assert screen.record.white == 20 and "20 cd/m² to 1000 cd/m²" in fields["Screen's white"].note
    _choose(_field(tray, "Prints are seen", QComboBox), "not told")
    assert screen.record.origin("lux") == ""


def test_age_of_the_calibration(window: Window) -> None:
    window.stack.go(0)
    tray = window.stack.trays[0]
    old = date.today() - timedelta(days=50)
    _field(tray, "Last calibrated", QDateEdit).setDate(QDate(old.year, old.month, old.day))
    assert window.ribbon.buttons[0].state.ring == "look" and "50 days ago" in window.ribbon.buttons[0].state.words
    _field(tray, "Remind me after").setValue(60)
    assert window.ribbon.buttons[0].state.ring == "full"
    _press(tray, "Calibrated today")
    assert window.session.screen.record.calibrated == date.today().isoformat()
    _field(tray, "Screen contrast").setValue(500)
    assert window.session.screen.record.contrast == 500


def test_profile_of_the_screen(window: Window, tmp_path: Path) -> None:
    window.stack.go(0)
    tray = window.stack.trays[0]
    (tmp_path / "p3.icc").write_bytes(space_bytes("P3"))
    window.session.screen.choose_profile(str(tmp_path / "p3.icc"), "chosen")
    wait_until_settled(window)
    _press(tray, "Screen")
    assert window.session.screen.profile.description == "Display P3" and "Display P3" in _texts(tray)
    (tmp_path / "bad.icc").write_text("no profile")
    window.session.screen.choose_profile(str(tmp_path / "bad.icc"), "chosen")
    assert "ot a usable colour profile" in window.message.text
    assert window.session.screen.profile.description == "Display P3"
    window.session.screen.set(profile_path="")
    assert window.ribbon.buttons[0].state.words == "no profile known"
    assert window.session.screen.profile.description.startswith("sRGB")


def test_facts_and_size_of_the_picture(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go(1)
    tray = window.stack.trays[1]
    assert "210 × 140 pixels" in _texts(tray) and "ROMM" in _texts(tray)
    _field(tray, "Width").setValue(30)
    assert take().frame.size.width_cm == 30
    _choose(_field(tray, "Unit", QComboBox), "in")
    assert _field(tray, "Width").suffix() == " in" and _field(tray, "Width").value() == pytest.approx(11.81, abs=0.06)
    _field(tray, "Resolution").setValue(360)
    assert take().hand_over.ppi == 360
    _choose(_field(tray, "When proportions differ", QComboBox), "keep the whole")
    assert take().frame.fit == "inside" and take().frame.crop == Crop()
    assert take().frame.size.width_cm / take().frame.size.height_cm == pytest.approx(1.5, abs=0.01)
    assert "the eye can use" in _texts(tray)


def test_adding_a_condition(window: Window, tmp_path: Path, take: Callable[[], Take]) -> None:
    window.stack.go(2)
    tray = window.stack.trays[2]
    (tmp_path / "srgb.icc").write_bytes(space_bytes("sRGB"))
    window.session.incoming.open_files([str(tmp_path / "srgb.icc")])
    wait_until_settled(window)
    added = window.session.now.looked
    assert added is not None and added.paper.startswith("sRGB") and added.made_by == "standard"
    assert "is new on the shelf and not chosen yet" in window.message.text
    assert take().condition != added.id, "adding is not choosing"
    _press(tray, "Choose this paper")
    wait_until_settled(window)
    assert take().condition == added.id and window.session.now.looked is None
    assert "a working space" in tray.said.accessibleDescription()
    count = len(window.session.shelf.conditions)
    window.session.incoming.open_files([str(tmp_path / "srgb.icc")])
    wait_until_settled(window)
    assert len(window.session.shelf.conditions) == count and "already on the shelf" in window.message.text
    (tmp_path / "gray.icc").write_bytes(space_bytes("gray"))
    window.session.incoming.open_files([str(tmp_path / "gray.icc")])
    wait_until_settled(window)
    assert "Gray profile" in window.message.text and len(window.session.shelf.conditions) == count


def test_judge_tray_follows_the_take(window: Window, take: Callable[[], Take]) -> None:
    tray = window.stack.judge
    wait_until_settled(window)
    assert all(card._picture is not None and card._rows for card in tray._cards)
    assert len({tuple(row[0].key for row in card._rows) for card in tray._cards}) == 1, "the same rows in all cards"
    assert [card.isChecked() for card in tray._cards] == [True, False, False]
    tray._cards[2].click()
    assert take().rendering.intent == "perceptual" and [c.isChecked() for c in tray._cards] == [False, False, True]
    _choose(_field(tray, "Other rendering intents", QComboBox), "absolute")
    assert take().rendering.intent == "absolute" and "fixed" in _texts(tray)
    _press(tray, "In its light")
    assert take().view == "in-its-light"
    _press(tray, "Beyond this screen")
    assert window.pair.state.maps == {"screen"}
    _press(tray, "Beyond this screen")
    assert window.pair.state.maps == set()


def test_habits(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go(4)
    tray = window.stack.trays[4]
    box = _field(tray, "Apply a habit", QComboBox)
    _choose(box, "White Dune: open the darks")
    assert take().recipe.total == Values.of(dark_half=8) and take().recipe.step(HAND) is None
    _choose(box, "White Dune: open the darks")
    assert take().recipe.total == Values.of(dark_half=8), "set again, not added"

    _press(tray, "Take all tuning away")
    assert take().recipe.is_neutral
    _press(tray, "Habits…")
    assert window.boards.name == "habits"
    _press(tray, "Habits…")
    assert window.boards.name == ""


def _seen(window: Window, tray: QWidget) -> str:
    """What stands there once all has been laid."""
    wait_until_settled(window)
    return _texts(tray)


def test_sheet_settings_and_cautions(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go(6)
    tray = window.stack.sheet
    _choose(_field(tray, "Route", QComboBox), "a file: working-space")
    assert take().hand_over.route == "space" and _field(tray, "Working space", QComboBox).isEnabled()
    _choose(_field(tray, "Working space", QComboBox), "Display P3")
    assert take().hand_over.space == "P3"
    _choose(_field(tray, "Who converts", QComboBox), "nobody")
    assert "Nobody converts" in _seen(window, tray)
    _choose(_field(tray, "Intent there", QComboBox), "perceptual")
    assert "was judged" in _seen(window, tray)
    _field(tray, "Scale").setValue(97)
    assert "97 %" in _seen(window, tray)
    _choose(_field(tray, "Format", QComboBox), "8 bit")
    assert take().hand_over.format == "tiff8"
    _choose(_field(tray, "Format", QComboBox), "JPEG")
    assert take().hand_over.format == "jpeg" and window.session.printing.proposed_file().suffix == ".jpg"
    _choose(_field(tray, "Sheet", QComboBox), "A4")
    size = take().frame.size
    assert take().sheet.name == "A4" and size is not None and max(size.width_cm, size.height_cm) < 29.7, "it finds room"
    tray.findChild(QCheckBox).click()
    assert take().sheet.borderless and "must not be printed borderless" in _seen(window, tray)
    assert window.ribbon.buttons[6].state.ring == "look"


def test_the_ticket_on_the_screen(window: Window) -> None:
    text = read_page(window.stack.sheet.show_ticket)
    assert "Media setting" in text and "Fine art, smooth" in text and "100 %, not scaled to fit" in text


def test_the_list_of_keys(window: Window) -> None:
    text = read_page(lambda: window.actions_of_keys.act("keys"))
    assert "as last time" in text and "hold to see" in text and "Ctrl+Shift+Z" in text


def test_the_file_can_be_written_beside_an_upright_picture(window: Window) -> None:
    window.stack.go(6)
    tray = window.stack.trays[6]
    assert isinstance(tray, SheetTray)
    order = [c.title for c in tray._columns]
    tray.stand(True)
    standing = [c.title for c in tray._columns]
    assert standing.index("Hand over") == 1 < standing.index("Needs a look"), "no other page hides it"
    tray.stand(False)
    assert [c.title for c in tray._columns] == order


def test_sharpening_for_the_paper_by_hand(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go(6)
    wait_until_settled(window)
    tray, session = window.stack.trays[6], window.session
    assert isinstance(tray, SheetTray)
    before = pixels(tray.contrasts).astype(int)
    assert "→" not in tray.contrasts.accessibleDescription() and "53 %" in tray.contrasts.accessibleDescription()
    tray._sharpen.setValue(100)
    wait_until_settled(window)
    assert (take().hand_over.sharpen, take().hand_over.sigma_um) == (100.0, 60.0)
    assert as_printed(take().hand_over) == "what was judged, sharpened for the paper, is what will be printed"
    assert "53 → " in tray.contrasts.accessibleDescription() and "60 µm" in tray._surface.text()
    assert np.abs(pixels(tray.contrasts).astype(int) - before).max() > 60
    window.actions_of_keys.act("undo")
    assert not take().hand_over.sharpens and tray._sharpen.value() == 0
    assert as_printed(take().hand_over) == "what was judged is what will be printed"
    condition = session.now.condition
    assert condition is not None
    session.shelf.change(replace(condition, surface="", texture=""))
    wait_until_settled(window)
    assert tray._sharpen.isEnabled() and tray.contrasts.isVisible()
    assert "taken for matte by its black: tell it on the card" in tray._surface.text()


def test_rack_opens_takes_and_makes_new_ones(window: Window, take: Callable[[], Take]) -> None:
    window.actions_of_keys.act("fold_rack")
    assert not window.rack.is_folded
    tree = window.rack._tree
    tops = [tree.topLevelItem(i) for i in range(tree.topLevelItemCount())]
    assert len(tops) == 8
    second = next(t for t in tops if t.text(0) == "Stoneware")
    tree.setCurrentItem(second.child(0))
    wait_until_settled(window)
    assert window.session.now.master is not None and window.session.now.master.name == "Stoneware"
    before = len(window.session.book.all(Take))
    _press(window.rack, "New take")
    assert len(window.session.book.all(Take)) == before + 1 and window.session.takes.name_of(take()).endswith(" 2")
    _press(window.rack, "Take this take off")
    wait_until_settled(window)
    assert len(window.session.book.all(Take)) == before
    window.actions_of_keys.act("fold_rack")
    assert window.rack.is_folded and "8 pictures" in window.rack.edge.text()


def test_logbook_shows_what_was_kept(window: Window) -> None:
    window.stack.go(7)
    tray = window.stack.trays[7]
    tray.as_table.click()
    table = tray.findChild(QTableWidget)
    assert table is not None and table.rowCount() == len(window.session.logbook.entries)
    newest = window.session.past.shown[-1]
    assert table.item(0, 1).text() == newest.picture and table.item(0, 5).text() == f"{-newest.darker / 6 + 0.0:.2f}"
    count = table.rowCount()
    keep_verdict(window.session, 0.0, -2.0, 0.0, "usable", "")
    assert table.rowCount() == count + 1 and table.item(0, 6).text() == "10"


def test_folding_the_tray(window: Window) -> None:
    tall = window.pair.height()
    window.actions_of_keys.act("fold_tray")
    QTest.qWait(50)
    assert window.pair.height() > tall + 150
    window.actions_of_keys.act("fold_tray")
    QTest.qWait(50)
    assert window.pair.height() == tall
    window.actions_of_keys.act("large")
    QTest.qWait(50)
    assert window.pair.height() > tall + 150
    window.actions_of_keys.act("large")


def test_messages_stay_until_the_next_change(window: Window) -> None:
    window.session.bus.say("A message.")
    assert window.message.text == "A message." and "beyond this paper" in window.verdict.text, (
        "the verdict is never covered"
    )
    window.session.takes.change_hand_over(ppi=240.0)
    assert window.message.text == ""


def test_a_tuning_of_an_earlier_arithmetic_is_looked_at_before_it_counts(
    window: Window, take: Callable[[], Take]
) -> None:
    session = window.session
    session.takes.change("recipe", recipe=replace(by_hand(contrast=9), maths=1))
    window.stack.go(4)
    wait_until_settled(window)
    tray = window.stack.trays[4]
    assert isinstance(tray, TuneTray)
    assert tray._old.isVisible() and "earlier arithmetic" in tray._old.text()
    states = {s.key: s.state(session) for s in STATIONS}
    assert states["judge"].ring == states["tune"].ring == "look"
    assert "earlier arithmetic" in header_texts(session, 1, "pair")[1]
    QTest.mouseClick(tray._keep, Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    assert take().recipe == by_hand(contrast=9) and not tray._keep.isVisible()
    assert {s.key: s.state(session) for s in STATIONS}["judge"].ring == "full"


def test_any_resolution_can_be_typed_and_both_schools_of_distance_are_shown(
    window: Window, take: Callable[[], Take]
) -> None:
    window.stack.go(1)
    tray = window.stack.trays[1]
    field = next(f for f in tray.findChildren(QDoubleSpinBox) if f.suffix() == " ppi")
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "275")
    QTest.keyClick(field, Qt.Key.Key_Return)
    wait_until_settled(window)
    assert take().hand_over.ppi == 275
    text = next(w.text() for w in tray.findChildren(QLabel) if "all the eye can use from" in w.text())
    assert "1.5 diagonals (" in text and "as near as people step (60 cm)" in text and "enlarged" in text


def test_room_for_colour_is_not_told_while_papers_are_measured(window: Window) -> None:
    window.stack.go(2)
    tray, shelf, condition = window.stack.trays[2], window.session.shelf, window.session.now.condition
    assert condition is not None and "room for colour" in tray.room_bar.accessibleDescription()
    largest = next(c for c in shelf.conditions if c.paper == "Windmill Baryta")
    kept = shelf.facts.pop(largest.id)
    tray.refresh()
    assert not tray.room_bar.accessibleDescription() and "greys stay grey" in tray.said.accessibleDescription()
    shelf.facts[largest.id] = kept


def test_a_print_larger_than_every_sheet_lies_on_one_of_its_own(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go(1)
    _choose(_field(window.stack.trays[1], "When proportions differ", QComboBox), "keep the whole")
    _field(window.stack.trays[1], "Width").setValue(150)
    assert take().sheet.name == ""
    for station in (1, 6):
        window.stack.go(station)
        sheet = _field(window.stack.trays[station], "Sheet", QComboBox)
        assert sheet.currentText().startswith("a sheet of its own"), "never the name of another sheet"
    assert "a sheet of its own" in read_page(window.stack.sheet.show_ticket)


def test_words_of_a_list_that_have_room_leave_its_own_tip(window: Window) -> None:
    window.stack.go(3)
    others = window.stack.judge._others
    assert "Alt+4" in others.toolTip()
    others.resize(20, others.height())
    assert others.toolTip() == others.currentText()
