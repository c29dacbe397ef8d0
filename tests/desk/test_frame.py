"""The frame driven as a user does: keys and clicks on the real window, what it says, where things lie."""

from __future__ import annotations

import importlib.util
import sys
from collections.abc import Callable
from dataclasses import replace
from itertools import chain, repeat
from pathlib import Path
from time import monotonic, sleep
from types import ModuleType

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QPushButton, QWidget
from tests.desk.conftest import press, read_page, until, wait_until_settled

from rehearsal.core.values.frame import Crop
from rehearsal.core.values.recipe import by_hand
from rehearsal.core.values.rendering import Rendering
from rehearsal.desk import theme
from rehearsal.desk.frame.keypage import KeyPage
from rehearsal.desk.frame.keys import KEYS
from rehearsal.desk.frame.stations import AT, STATIONS
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.flash import Flash
from rehearsal.desk.start import make_window
from rehearsal.desk.theme import ROOMS
from rehearsal.session import judging
from rehearsal.session.bus import Said
from rehearsal.session.jobs import JobProgress
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Take


def _walker() -> ModuleType:
    path = Path(__file__).parents[2] / "tools" / "walk_frame.py"
    spec = importlib.util.spec_from_file_location("walk_frame", path)
    assert spec is not None and spec.loader is not None
    made = importlib.util.module_from_spec(spec)
    sys.modules["walk_frame"] = made
    spec.loader.exec_module(made)
    return made


walker = _walker()


def _button(root: QWidget, text: str) -> QPushButton:
    return next(b for b in root.findChildren(QPushButton) if b.text() == text and b.isVisible())


@pytest.mark.parametrize("size", [(1000, 640), (1280, 800), (1920, 1080)])
def test_nothing_is_cut_overlaid_unnamed_or_small_at_any_station(window: Window, size: tuple[int, int]) -> None:
    window.resize(*size)
    found = []
    for station in STATIONS:
        window.stack.go(AT[station.key])
        for _ in range(30):  # parts that come and go are laid out anew: what stays wrong counts
            QTest.qWait(60)
            faults = walker.all_faults(window) + walker.colour_and_light(window)
            if not faults:
                break
        found += [f"{station.key}: {fault}" for fault in faults]
    assert (window.width(), window.height()) == size
    assert found == []


def test_the_walk_finds_faults_that_are_there(window: Window) -> None:
    label = window.verdict._why
    label.setText("far more words than this button has room for")
    label.setFixedSize(40, 12)
    label.setAccessibleName("")
    stray = QPushButton("", window.verdict)
    stray.setGeometry(label.geometry())
    stray.setStyleSheet("background: rgb(90, 0, 0)")
    stray.show()
    QTest.qWait(30)
    found = " ".join(walker.all_faults(window) + walker.colour_and_light(window))
    assert all(word in found for word in ("cut:", "overlaid:", "unnamed:", "small:", "chroma:"))
    window.session.takes.change("view", view="on-paper")
    window.session.screen.set(lux=60.0)
    window.session.takes.change("view", view="in-its-light")
    wait_until_settled(window)
    stray.setStyleSheet("background: rgb(230, 230, 230)")
    assert "lighter than the paper" in " ".join(walker.colour_and_light(window))


@pytest.mark.parametrize("room", list(ROOMS))
def test_nothing_is_lighter_than_a_dim_paper_in_any_room(window: Window, room: str) -> None:
    window.rooms.set(room)
    window.session.screen.set(lux=60.0)
    window.session.takes.change("view", view="in-its-light")
    wait_until_settled(window)
    level = window.session.roads.paper_level
    assert 60 < level < 180
    for key in ("judge", "sheet", "log"):
        window.stack.go_to(key)
        QTest.qWait(30)
        assert walker.colour_and_light(window) == []
    window.session.takes.change("view", view="true-black")
    wait_until_settled(window)
    assert window.rooms.room == ROOMS[room], "and it comes back"


# ---- keys


@pytest.mark.parametrize("key", [Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter])
def test_space_return_and_enter_press_what_has_the_focus(window: Window, take: Callable[[], Take], key: Qt.Key) -> None:
    card = window.stack.judge._cards[2]
    card.setFocus()
    press(window, key)
    assert take().rendering == Rendering("perceptual") and not window.pair.state.swapped
    window.ribbon.buttons[AT["tune"]].setFocus()
    press(window, key)
    assert window.stack.current_key == "tune"
    window.rack.edge.setFocus()
    press(window, key)
    assert not window.rack.is_folded
    box = next(b for b in window.stack.trays[AT["tune"]].findChildren(QComboBox))
    box.setFocus()
    press(window, key)
    assert box.view().isVisible()
    box.hidePopup()


def test_space_shows_the_other_picture_only_while_the_pair_has_the_focus(window: Window) -> None:
    window.pair.setFocus()
    QTest.keyPress(window.pair, Qt.Key.Key_Space)
    assert window.pair.state.swapped
    window.verdict._why.setFocus()
    QTest.keyRelease(window.verdict._why, Qt.Key.Key_Space)
    assert not window.pair.state.swapped, "let go of somewhere else it ends all the same"


def test_bare_digits_change_nothing(window: Window, take: Callable[[], Take]) -> None:
    before = take()
    for widget in (window.pair, window.stack.judge._cards[0]):
        widget.setFocus()
        for i in range(10):
            press(window, Qt.Key(Qt.Key.Key_0 + i))
    assert take() == before and window.stack.current_key == "judge"
    press(window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    assert take().rendering == Rendering("perceptual")


def test_tab_leaves_every_table(window: Window) -> None:
    for key, table in (("judge", window.stack.judge.areas.table), ("log", window.stack.trays[AT["log"]].table)):  # fmt: skip
        window.stack.go_to(key)
        if key == "log":
            window.stack.trays[AT["log"]].as_table.click()
        for forward in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab):
            table.setFocus()
            press(window, forward)
            assert QApplication.focusWidget() is not table


def test_the_page_of_keys_is_searched_by_typing(window: Window) -> None:
    page = KeyPage(window)
    page.show()
    assert all(any(k.words.lower() in text for text in page.shown) for k in KEYS)
    page.search.setText("log ctrl")
    assert page.shown and all("log" in text and "ctrl" in text for text in page.shown)
    page.search.setText("log ctrl zzz")
    assert page.shown == []
    page.close()


# ---- what is said


def test_the_newest_is_shown_and_an_error_waits_with_its_number_until_it_was_seen(window: Window) -> None:
    line = window.message
    window.session.bus.say_wrong("The file cannot be written.")
    assert line.text == "The file cannot be written." and not line._timer.isActive() and not line._more.isVisible()
    window.session.bus.say("Something else.")
    assert line.text == "Something else." and line._timer.isActive()
    line.go_on()  # gone on: what was merely said is over, the error still waits
    assert line.text == ""
    _button(line, "1 not read yet").click()
    assert line.text == "The file cannot be written." and not line._timer.isActive() and not line._more.isVisible()
    line.go_on()
    assert line.text == "The file cannot be written."
    _button(line, "Seen").click()
    assert line.text == "" and line.waiting == [] and not line._more.isVisible()


def test_errors_wait_for_each_other_and_long_ones_can_be_read(window: Window) -> None:
    long = "The file cannot be written to the folder that was chosen for it. " * 8
    window.session.bus.say_wrong("The first one.")
    window.session.bus.say_wrong(long)
    window.session.bus.say_wrong(long)  # the same again is one that waits
    QTest.qWait(20)
    line = window.message
    assert line.text == long and line._words.toolTip() == long and line._all.isVisible()
    ends = line._at_work.mapTo(window, line._at_work.rect().bottomRight()).x()
    assert ends <= window.width() and line._more.geometry().right() < line._at_work.x(), "progress keeps its place"
    assert long.strip() in read_page(line._all.click).replace("\n", " ")
    _button(line, "1 not read yet").click()  # looked at, not seen: the long one waits on
    assert line.text == "The first one." and [s.text for s in line.waiting] == [long]
    _button(line, "Seen").click()
    assert line.text == long
    _button(line, "Seen").click()
    assert line.text == ""


def test_a_question_waits_like_an_error_until_it_was_answered_anywhere(window: Window) -> None:
    line, bus = window.message, window.session.bus
    bus.ask("How bright is it?", "tell-light")
    assert line.text == "How bright is it?" and not line._timer.isActive() and line._away.text() == "Not now"
    line.go_on()
    assert line.text == "How bright is it?"
    bus.say("Done.")
    assert line.text == "Done." and line._more.text() == "1 not read yet"
    line.answered("tell-light")
    assert line.text == "Done." and not line._more.isVisible()


def test_what_was_taken_off_comes_back_from_the_message(window: Window, take: Callable[[], Take]) -> None:
    count, here = len(window.session.book.all(Take)), take()
    window.session.takes.remove(here)
    assert "is off the rack" in window.message.text
    _button(window.message, "Undo").click()
    wait_until_settled(window)
    assert len(window.session.book.all(Take)) == count
    window.session.takes.choose_condition(next(c for c in window.session.shelf.conditions if c.paper == "Sluice Gloss"))
    assert "to Sluice Gloss" in window.message.text
    window.session.takes.change_hand_over(ppi=240.0)
    assert window.message.text == "", "what undo would take back now is something else"
    wait_until_settled(window)


def test_a_changed_picture_is_judged_again_only_while_it_is_open(
    window: Window, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked: list[int] = []
    monkeypatch.setattr(window.session.now, "accept_changed_master", lambda: asked.append(1))
    for about, times in (("0", 0), (str(window.session.now.master.id if window.session.now.master else 0), 1)):
        window.session.bus.say("It has changed.", "accept", about)
        _button(window.message, "Judge it again").click()
        assert len(asked) == times


def test_nothing_old_stands_in_the_tray_while_new_figures_are_made(window: Window) -> None:
    judge = window.stack.judge
    assert judge.areas.table.rowCount() > 0 and judge._cards[0]._rows
    window.verdict._why.click()
    assert window.stack.page is not None
    window.session.takes.choose_condition(next(c for c in window.session.shelf.conditions if c.paper == "Sluice Gloss"))
    assert window.stack.page is None, "reasons of another paper go"
    assert judge.areas.table.rowCount() == 0 and not any(card._rows for card in judge._cards)
    wait_until_settled(window)
    assert judge._cards[0]._rows
    rows = judge.areas.table.rowCount()
    window.session.takes.render(Rendering("perceptual"))
    assert judge.areas.table.rowCount() == rows > 0, "what lies beyond a paper has nothing to do with the intent"
    wait_until_settled(window)


def test_swatches_follow_the_view_and_the_chosen_row_stays(window: Window) -> None:
    table = window.stack.judge.areas.table
    table.selectRow(1)
    before = walker.pixels(table.viewport())
    window.session.takes.change("view", view="in-its-light")
    window.session.screen.set(lux=60.0)
    wait_until_settled(window)
    left = slice(0, 50)
    assert np.abs(walker.pixels(table.viewport())[:, left].astype(int) - before[:, left]).max() > 20
    window.session.takes.change("view", view="true-black")
    wait_until_settled(window)


def test_larger_type_comes_with_the_next_start(window: Window, tmp_path: Path, qtbot: object) -> None:
    press(window, Qt.Key.Key_F6)
    assert window.session.book.recall("type") == 1.15 and "115 %" in window.message.text
    book = Workbook(tmp_path / "large.sqlite")
    book.set_setting("type", 1.3)
    large = make_window(book, [])
    try:
        large.resize(1280, 800)
        large.show()
        QTest.qWait(60)
        assert large.ribbon.height() > 1.2 * 58
        assert walker.all_faults(large) == []
    finally:
        large.close()
        theme.set_type_size(QApplication.instance(), 1.0)  # type: ignore[arg-type]


def test_a_message_has_its_next_step(window: Window, take: Callable[[], Take]) -> None:
    window.session.takes.render(Rendering("perceptual"))
    window.message.say(Said("Paper changed.", action="undo"))
    _button(window.message, "Undo").click()
    assert take().rendering == Rendering()


def test_undo_and_redo_stand_on_the_screen_and_say_what_they_do(window: Window, take: Callable[[], Take]) -> None:
    parts = window.pair.head_parts
    window.session.takes.render(Rendering("perceptual"))
    assert parts.undo_button.text() == "Undo intent" and not parts.redo_button.isVisible()
    _button(parts, "Undo intent").click()
    assert take().rendering == Rendering() and parts.redo_button.text() == "Redo intent"
    flashes = window.stack.judge.findChildren(Flash)
    assert len(flashes) == 1, "what has changed is framed"
    until(lambda: window.stack.judge.findChildren(Flash) == [])
    _button(parts, "Redo intent").click()
    assert take().rendering == Rendering("perceptual")


def test_undo_of_another_stations_work_frames_that_station(window: Window, take: Callable[[], Take]) -> None:
    window.session.takes.change_recipe(by_hand(contrast=3))
    window.actions_of_keys.act("undo")
    flash = window.ribbon.findChildren(Flash)
    assert len(flash) == 1 and flash[0].geometry().intersects(window.ribbon.buttons[AT["tune"]].geometry())
    window.stack.go_to("tune")
    window.actions_of_keys.act("redo")
    assert len(window.stack.trays[AT["tune"]].findChildren(Flash)) == 1
    assert all(
        window.stack.station_about(name) is not None
        for name in (
            "frame",
            "rendering",
            "recipe",
            "condition",
            "view",
            "hand-over",
            "sheet",
            "screen",
            "log",
            "learnt",
        )
    )


def test_progress_is_told_in_words_with_a_stop(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    def endless(*_given: object, progress: JobProgress) -> None:
        while True:  # until it is stopped
            progress(0.02, "what lies beyond the paper")
            sleep(0.005)

    window.session.takes.change_recipe(by_hand(contrast=6))
    monkeypatch.setattr(judging, "judge_rendition", endless)
    window.session.judging.judge(anew=True)
    until(window.message._stop.isVisible)
    assert window.message._doing.text().startswith("Judging, ") and window.ribbon.buttons[3].state.ring == "work"
    window.message._stop.click()
    assert not window.session.jobs.is_running("judge") and not window.message._stop.isVisible()
    assert window.ribbon.buttons[3].state.ring != "work"


def test_advice_is_taken_from_the_sentence(window: Window, take: Callable[[], Take]) -> None:
    window.session.takes.render(Rendering("perceptual", True))
    wait_until_settled(window)
    result = window.session.judging.judgement
    assert result is not None and result.advice.urges(take().rendering)
    window.verdict._take.click()
    assert take().rendering == result.advice.rendering
    wait_until_settled(window)
    assert not window.verdict._take.isVisible(), "nothing is advised that is chosen"


def test_every_station_has_a_sentence_of_its_own(window: Window) -> None:
    said = []
    for station in STATIONS:
        window.stack.go_to(station.key)
        said.append(window.verdict.text)
    assert len(set(said)) == len(STATIONS) and all(said)


# ---- room


def test_for_an_upright_picture_the_tray_stands_at_its_right(window: Window, take: Callable[[], Take]) -> None:
    window.session.takes.change("frame", frame=replace(take().frame, crop=Crop(0.3, 0.0, 0.4, 1.0), size=None))
    wait_until_settled(window)
    assert window.stack.stands and window.stack.x() > window.pair.x() + window.pair.width() - 2
    assert window.stack.width() == 330 and window.stack.y() < window.message.y()
    window.session.takes.undo()
    wait_until_settled(window)
    assert not window.stack.stands and window.stack.y() > window.verdict.y()


def test_a_folded_tray_leaves_a_line_to_press(window: Window) -> None:
    window.actions_of_keys.act("fold_tray")
    QTest.qWait(30)
    assert window.stack.edge.isVisible() and window.stack.height() < 40 and "Judge" in window.stack.edge.text()
    QTest.mouseClick(window.stack.edge, Qt.MouseButton.LeftButton)
    assert not window.stack.is_folded and window.stack.judge.isVisible()


def test_the_rack_lies_over_the_pair_instead_of_pushing_it(window: Window) -> None:
    before = window.pair.geometry()
    window.actions_of_keys.act("fold_rack")
    QTest.qWait(30)
    assert window.rack.isVisible() and window.pair.geometry() == before
    assert window.rack.geometry().left() == before.left() and window.rack.height() == before.height()
    window.resize(1280, 900)
    QTest.qWait(30)
    assert window.rack.height() == window.pair.height()
    end = monotonic() + 20
    while not window.session.inquiries.littles and monotonic() < end:
        QTest.qWait(20)
    pictures = window.rack._tree.topLevelItem(0)
    assert pictures is not None and pictures.sizeHint(0).height() >= 44 and len(window.session.inquiries.littles) > 0


def test_the_real_sheet_stands_at_picture_and_sheet_or_by_a_key(window: Window) -> None:
    def mount() -> float:
        placed = window.pair.placing.placed(1)
        assert placed is not None
        return placed.mount.width() / placed.picture.width()

    assert mount() == pytest.approx(1.09, abs=0.01)
    press(window, Qt.Key.Key_F4)
    assert mount() > 1.15
    press(window, Qt.Key.Key_F4)
    window.stack.go_to("sheet")
    assert mount() > 1.15
    window.stack.go_to("tune")
    assert mount() == pytest.approx(1.09, abs=0.01)


def test_the_last_columns_fold_into_named_pages(window: Window) -> None:
    window.resize(1000, 640)
    window.stack.go_to("screen")
    QTest.qWait(60)
    tray = window.stack.trays[AT["screen"]]
    names = [b.text() for b in tray._pages._buttons]
    assert names and names[-1] == "Limit" and tray._pages.isVisible()
    tray._pages._buttons[-1].click()
    assert tray._limit_words.isVisible()
    window.resize(2200, 900)
    QTest.qWait(60)
    assert not tray._pages.isVisible() and tray._limit_words.isVisible()


def test_no_station_opens_a_window_of_its_own(window: Window) -> None:
    shown: list[QWidget] = []

    class Watch(QObject):
        def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
            if (
                event is not None
                and event.type() == QEvent.Type.Show
                and isinstance(watched, QWidget)
                and watched.isWindow()
            ):
                shown.append(watched)
            return False

    watch, app = Watch(), QApplication.instance()
    assert app is not None
    app.installEventFilter(watch)
    for station in STATIONS:
        window.stack.go_to(station.key)
        QTest.qWait(30)
    app.removeEventFilter(watch)
    assert shown == [] and window.isActiveWindow()


def test_a_tray_that_is_resized_while_it_is_laid_ends_as_it_says(
    window: Window, monkeypatch: pytest.MonkeyPatch
) -> None:
    window.stack.go_to("tune")
    tray = window.stack.trays[AT["tune"]]
    fits, lay_one = chain([1], repeat(5)), tray._stand_alone
    monkeypatch.setattr(tray, "_fitting", lambda: next(fits))
    monkeypatch.setattr(tray, "_stand_alone", lambda column: (lay_one(column), tray.arrange()))
    tray._alone = -1
    tray.arrange()
    shown = [c for c in tray._columns if tray._row.indexOf(c) >= 0]
    assert tray._alone == len(shown) == 5 and tray._row.indexOf(tray._pages) < 0


def test_line_and_pins_stand_beside_the_areas_where_there_is_room(window: Window) -> None:
    judge = window.stack.judge
    assert not judge.pages.is_spread and not judge.pins.isVisible()
    window.resize(1760, 900)
    QTest.qWait(60)
    assert judge.areas.isVisible() and judge.line.isVisible() and judge.pins.isVisible()
    window.resize(1280, 800)
    QTest.qWait(60)
    assert judge.areas.isVisible() and not judge.pins.isVisible()


# ---- what ends


def test_a_comparison_and_a_warning_end_when_their_station_is_left(window: Window) -> None:
    roads, parts = window.session.roads, window.pair.head_parts
    window.stack.go_to("paper")
    gloss = next(c for c in window.session.shelf.conditions if c.paper == "Sluice Gloss")
    roads.set_rival(gloss)
    wait_until_settled(window)
    assert parts.back_button.text() == "End the comparison" and parts.back_button.isVisible()
    window.stack.go_to("judge")
    assert roads.rival is None and not parts.back_button.isVisible()
    roads.set_unmanaged(True)
    wait_until_settled(window)
    assert "a warning, not a proof" in window.verdict.text and parts.back_button.text() == "Back to the proof"
    window.session.takes.choose_condition(gloss)
    assert not roads.unmanaged, "another paper ends it too"
    wait_until_settled(window)


# ---- the first sight


def test_the_first_judgement_draws_its_lines_once(window: Window) -> None:
    here = window.session.now.master
    other = next(m for m in window.session.takes.masters if here is not None and m.id != here.id)
    window._seen.clear()
    window.session.takes.open_master(other)
    while other.id not in window._seen:
        QTest.qWait(10)
    assert window.pair.state.shown_maps == {"beyond"} and "shown once" in window.message.text
    end = monotonic() + 20
    while window.pair.state.shown_maps and monotonic() < end:
        QTest.qWait(20)
    assert window.pair.state.shown_maps == set()
    window.session.judging.judge(anew=True)
    wait_until_settled(window)
    assert window.pair.state.shown_maps == set(), "and never again for this picture"
    assert "shown once" in window.message.text
    window.stack.go(AT["paper"])
    assert window.message.text == "", "what was said of the lines ends with the station that shows them"


def test_an_empty_start_has_three_buttons_and_no_live_tools(tmp_path: Path, qtbot: object) -> None:
    QApplication.setStyle("Fusion")
    theme.load_fonts()
    window = make_window(Workbook(tmp_path / "book.sqlite"), [])
    window.show()
    QTest.qWait(60)
    asked: list[str] = []
    window.pair.empty.pictures_wanted.disconnect()
    window.pair.empty.pictures_wanted.connect(lambda: asked.append("pictures"))
    for text in ("Open pictures…", "Add a paper’s profile…", "Look at the demo"):
        assert _button(window.pair, text).height() >= 36
    _button(window.pair, "Open pictures…").click()
    assert asked == ["pictures"]
    assert not window.stack.judge.isVisible() and not window.stack.sheet.isVisible()
    window.stack.go_to("screen")
    assert window.stack.trays[0].isVisible(), "the screen can be set up before there is a picture"
    for name in ("one.tif", "two.tif"):
        (tmp_path / name).write_bytes(b"no picture")
        window.session.incoming.open_files([str(tmp_path / name)])
        until(lambda: name in window.message.text)  # noqa: B023  what is told last is shown
    until(lambda: any(b.text() == "1 not read yet" and b.isVisible() for b in window.message.findChildren(QPushButton)))
    until(lambda: walker.overlaid(window) == [] == walker.cut_texts(window))
    _button(window.message, "1 not read yet").click()
    assert "one.tif" in window.message.text and _button(window.message, "Seen").isVisible()
    window.close()


def test_pointing_at_a_row_outlines_its_areas_in_both_panes(window: Window) -> None:
    table = window.stack.judge.areas.table
    before = walker.pixels(window.pair).astype(int)
    table.pointed.emit(0)
    QTest.qWait(30)
    changed = np.abs(walker.pixels(window.pair).astype(int) - before).max(axis=2) > 30
    half = changed.shape[1] // 2
    assert window.pair.marks.outlines and changed[:, :half].any() and changed[:, half:].any()
    table.pointed.emit(-1)
    QTest.qWait(30)
    assert window.pair.marks.outlines == () and np.array_equal(walker.pixels(window.pair), before)
