"""The window driven by clicks and keys; what it paints is read back."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QLineEdit,
    QPushButton,
    QSlider,
    QTableWidget,
    QWidget,
)
from tests.desk.conftest import hover, pixels, press, read_page, wait_until_settled

from rehearsal.core.proof.chain import PrintChain, ScreenLeg
from rehearsal.core.values.frame import Crop, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.recipe import by_hand
from rehearsal.core.values.rendering import Rendering
from rehearsal.desk.boards.verdict import VerdictBoard
from rehearsal.desk.frame.keys import KEYS, MAP_KEYS
from rehearsal.desk.frame.pages import lesson_html
from rehearsal.desk.frame.why import WhyPage
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.valuefield import ValueField
from rehearsal.desk.theme import ROOMS
from rehearsal.workbook.values import LogEntry, Take


def _inside(window: Window, index: int) -> np.ndarray:
    """Painted pixels of the picture (0) or the take (1)."""
    placed = window.pair.placing.placed(index)
    assert placed is not None
    r = placed.picture.toRect()
    return pixels(window.pair)[r.top() + 2 : r.bottom() - 2, r.left() + 2 : r.right() - 2].astype(float)


def _click(widget: QWidget) -> None:
    QTest.mouseClick(widget, Qt.MouseButton.LeftButton)


def _button(window: QWidget, text: str) -> QPushButton:
    return next(b for b in window.findChildren(QPushButton) if b.text() == text)


def test_fits_a_small_screen(window: Window) -> None:
    assert window.minimumSizeHint().width() <= 1280 and window.minimumSizeHint().height() <= 800
    placed = window.pair.placing.placed(0)
    assert placed is not None and placed.pane.height() >= 0.45 * 800 * 0.98


def test_what_is_painted_is_the_proof(window: Window) -> None:
    # the take as painted against the exact road through the engine
    opened, look = window.session.now.opened, window.session.roads.look
    assert opened is not None and look is not None
    painted = _inside(window, 1)
    placed = window.pair.placing.placed(1)
    assert placed is not None
    block = window.pair.sides.block(window.pair.placing.patch(placed))
    chain = PrintChain(opened.source, opened.paper, opened.rendition.rendering)
    leg = ScreenLeg(opened.paper, look.screen, look.view, look.light)
    exact = leg.rgb(chain.device(block.reshape(-1, 3) / 65535.0)).reshape(block.shape) * 255
    gap = np.abs(painted - exact[2 : 2 + painted.shape[0], 2 : 2 + painted.shape[1]])
    assert gap.mean() < 0.8 and np.percentile(gap, 99) < 4


def test_all_stations_by_key_and_by_click(window: Window) -> None:
    for i in range(8):
        press(window, Qt.Key(Qt.Key.Key_1 + i), Qt.KeyboardModifier.ControlModifier)
        assert window.stack.station == i and window.stack.trays[i].isVisible()
        assert window.ribbon.buttons[i].isChecked() and window.ribbon.buttons[i].state.words
    for button in window.ribbon.buttons:
        _click(button)
        assert window.stack.station == button.index


def test_views_and_intents_by_key(window: Window, take: Callable[[], Take]) -> None:
    before = _inside(window, 1)
    press(window, Qt.Key.Key_8, Qt.KeyboardModifier.AltModifier)
    wait_until_settled(window)
    assert take().view == "on-paper"
    assert _inside(window, 1).max() < before.max() + 1e-6
    head = window.pair.header_texts(0)[1]
    assert "held" in head
    # nothing on the screen is whiter than the simulated paper
    mounts = pixels(window.pair)
    road = window.session.roads.road
    assert road is not None and mounts.min(axis=2).max() <= round(float(road.paper_rgb.max()) * 255) + 1
    press(window, Qt.Key.Key_H)
    wait_until_settled(window)
    assert pixels(window.pair).min(axis=2).max() == 255
    press(window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    wait_until_settled(window)
    assert (take().rendering.intent, take().rendering.compensate) == ("perceptual", True)
    press(window, Qt.Key.Key_2, Qt.KeyboardModifier.AltModifier)
    assert (take().rendering.intent, take().rendering.compensate) == ("relative", False)


def test_undo_and_redo_over_everything(window: Window, take: Callable[[], Take]) -> None:
    first = take()
    press(window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    window.session.takes.change(recipe=by_hand(strength=5))
    window.session.takes.change_frame(size=PrintSize(30.0, 26.0))
    last = take()
    for _ in range(3):
        press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert take() == first
    shift = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    for _ in range(3):
        press(window, Qt.Key.Key_Z, shift)
    assert take() == last


def _amount(window: Window, name: str) -> ValueField:
    return next(f for f in window.stack.trays[4].findChildren(ValueField) if f.accessibleName() == name)


def test_tuning_is_seen_and_kept_once(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go(4)
    before, picture = _inside(window, 1), _inside(window, 0)
    _amount(window, "How light overall").setFocus()
    for _ in range(6):
        press(window, Qt.Key.Key_Up)
    assert take().recipe.total["lightness"] == 1
    assert _inside(window, 1).mean() > before.mean() + 8
    np.testing.assert_array_equal(_inside(window, 0), picture)
    window.session.roads.preview(by_hand(lightness=-1))
    assert _inside(window, 1).mean() < before.mean() - 5
    assert take().recipe.total["lightness"] == 1
    wait_until_settled(window)
    assert window.ribbon.buttons[4].state.words == "1 change"


def test_hold_space_for_the_other_picture(window: Window) -> None:
    press(window, Qt.Key.Key_L)
    wait_until_settled(window)
    assert window.pair.state.mode == "large"
    proof = _inside(window, 1)
    window.pair.setFocus()
    QTest.keyPress(window.pair, Qt.Key.Key_Space)
    master = _inside(window, 1)
    QTest.keyRelease(window.pair, Qt.Key.Key_Space)
    assert np.abs(master - proof).mean() > 2
    np.testing.assert_array_equal(_inside(window, 1), proof)


@pytest.mark.own_window
def test_enter_presses_the_button_with_the_focus(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go(4)
    _amount(window, "Contrast").setFocus()
    for _ in range(3):
        press(window, Qt.Key.Key_Up)
    assert take().recipe.total["contrast"] == 3
    for _ in range(40):
        focus = QApplication.focusWidget()
        if focus is not None and focus.accessibleName() == "Take all tuning away":
            break
        press(window, Qt.Key.Key_Tab)
    press(window, Qt.Key.Key_Return)
    assert take().recipe.is_neutral
    window.ribbon.buttons[6].setFocus()
    press(window, Qt.Key.Key_Enter)
    assert window.stack.current_key == "sheet"
    wait_until_settled(window)


def test_curtain_shows_both(window: Window) -> None:
    press(window, Qt.Key.Key_L)
    wait_until_settled(window)
    proof = _inside(window, 1)
    QTest.keyPress(window.pair, Qt.Key.Key_Space)
    master = _inside(window, 1)
    QTest.keyRelease(window.pair, Qt.Key.Key_Space)
    press(window, Qt.Key.Key_K)
    assert window.pair.state.mode == "curtain"
    half = _inside(window, 1)
    w = half.shape[1]
    np.testing.assert_array_equal(half[:, : w // 2 - 8], master[:, : w // 2 - 8])
    np.testing.assert_array_equal(half[:, w // 2 + 8 :], proof[:, w // 2 + 8 :])
    x = round(window.pair.hands.curtain_x())
    QTest.mousePress(window.pair, Qt.MouseButton.LeftButton, pos=QPoint(x, 200))
    hover(window.pair, QPoint(x + 150, 200))
    QTest.mouseRelease(window.pair, Qt.MouseButton.LeftButton, pos=QPoint(x + 150, 200))
    assert window.pair.state.curtain > 0.55


def test_zoom_and_pan_are_locked_together(window: Window) -> None:
    press(window, Qt.Key.Key_G)
    left, right = window.pair.placing.placed(0), window.pair.placing.placed(1)
    assert left is not None and right is not None
    assert left.visible_fraction == right.visible_fraction and window.pair.placing.current_scale() == pytest.approx(
        1, abs=0.01
    )
    for _ in range(9):
        press(window, Qt.Key.Key_Plus)
    before = window.pair.state.zoom
    window.pair.setFocus()
    press(window, Qt.Key.Key_Right)
    assert window.pair.state.zoom.x > before.x
    press(window, Qt.Key.Key_F)
    assert window.pair.state.zoom.scale == 0
    press(window, Qt.Key.Key_P)
    assert window.pair.state.zoom.scale > 0
    press(window, Qt.Key.Key_Escape)
    assert window.pair.state.zoom.scale == 0


def test_lines_lie_where_the_exact_road_says(window: Window) -> None:
    press(window, Qt.Key.Key_8, Qt.KeyboardModifier.AltModifier)
    wait_until_settled(window)
    plain = _inside(window, 1)
    press(window, Qt.Key.Key_B)
    wait_until_settled(window)
    assert window.pair.state.maps == {"beyond"}
    lined = np.abs(_inside(window, 1) - plain).max(axis=2) > 30
    assert 0.01 < lined.mean() < 0.4
    # the orange cloth is framed, the blue of the sky is not (its near-white at the horizon is colder than this paper)
    h, w = lined.shape
    assert lined[int(0.25 * h) : int(0.55 * h), int(0.27 * w) : int(0.45 * w)].mean() > 0.05
    assert lined[: int(0.05 * h), : int(0.5 * w)].mean() < 0.01
    press(window, Qt.Key.Key_B)
    wait_until_settled(window)
    np.testing.assert_array_equal(_inside(window, 1), plain)


def test_a_map_is_shown_while_its_key_is_held(window: Window) -> None:
    plain = _inside(window, 1)
    QTest.keyPress(window.pair, Qt.Key.Key_M)
    wait_until_settled(window)
    QTest.qWait(400)
    assert np.abs(_inside(window, 1) - plain).max() > 60
    QTest.keyRelease(window.pair, Qt.Key.Key_M)
    assert window.pair.state.maps == set()
    np.testing.assert_array_equal(_inside(window, 1), plain)


def test_soft_look(window: Window) -> None:
    sharp = _inside(window, 1)
    press(window, Qt.Key.Key_W)
    soft = _inside(window, 1)
    assert np.abs(np.diff(soft, axis=1)).mean() < 0.5 * np.abs(np.diff(sharp, axis=1)).mean()
    assert soft.mean() == pytest.approx(sharp.mean(), abs=4)


def test_areas_list_frames_the_picture(window: Window) -> None:
    table = window.stack.judge.areas.table
    assert table.rowCount() >= 3
    item = table.item(0, 0)
    _click(table.viewport())
    QTest.mouseClick(table.viewport(), Qt.MouseButton.LeftButton, pos=table.visualItemRect(item).center())
    assert window.pair.state.zoom.scale > 0 and window.pair.marks.frame is not None


def test_verdict_and_why(window: Window) -> None:
    assert "lies beyond this paper (mean loss ΔE₀₀" in window.verdict.text and "loses colour" in window.verdict.text
    _click(_button(window, "Why?"))
    page = window.stack.page
    assert isinstance(page, WhyPage) and page.isVisible() and window.pair.isVisible(), (
        "in the tray's place: the pair stays"
    )
    text = read_page(lambda: _click(_button(page, "All figures…")))
    assert "as felt" in text and "of 20" in text
    window.actions_of_keys.act("escape")
    assert window.stack.page is None and window.stack.judge.isVisible()


def test_nothing_old_looks_true_while_new_figures_are_made(window: Window) -> None:
    old = window.verdict.text
    window.session.takes.change_recipe(by_hand(contrast=6))
    assert window.verdict.text.startswith("Judging again. Before the last change: ")
    wait_until_settled(window)
    assert "Judging" not in window.verdict.text
    window.session.takes.render(Rendering("perceptual"))
    assert window.verdict.text == "Judging White Dune, perceptual…"
    wait_until_settled(window)
    assert "Perceptual" in window.verdict.text and window.verdict.text != old
    gloss = next(c for c in window.session.shelf.conditions if c.paper == "Sluice Gloss")
    window.session.takes.choose_condition(gloss)
    assert window.verdict.text.startswith("Judging Sluice Gloss")
    assert window.ribbon.buttons[3].state.words == "judging…"
    while window.session.judging.first is None:
        QTest.qWait(5)
    assert "lies beyond Sluice Gloss: about" in window.verdict.text and window.verdict.text.endswith("Judging…")
    wait_until_settled(window)
    # stopped on the way, it does not go on saying that it judges
    window.session.takes.change_recipe(by_hand(contrast=9))
    window.session.judging.judge()
    window.session.jobs.stop("judge")
    QTest.qWait(50)
    assert "Not judged since the last change" in window.verdict.text
    assert window.ribbon.buttons[3].state.words == "not judged since"
    window.session.judging.judge()
    wait_until_settled(window)


def test_readout_under_the_pointer(window: Window) -> None:
    placed = window.pair.placing.placed(1)
    assert placed is not None
    p = placed.picture
    hover(window.pair, QPoint(round(p.x() + 0.36 * p.width()), round(p.y() + 0.4 * p.height())))
    text = window.verdict._readout.text
    assert "picture" in text and "ΔE₀₀" in text and "too saturated" in text


@pytest.mark.own_window
def test_rooms_are_neutral(window: Window) -> None:
    for name in ROOMS:
        window.rooms.set(name)
        QTest.qWait(10)
        for part in (window.ribbon, window.verdict, window.stack.trays[4]):
            shown = pixels(part).astype(int)
            assert np.abs(shown[..., 0] - shown[..., 1]).max() == 0 and np.abs(shown[..., 1] - shown[..., 2]).max() == 0


@pytest.mark.parametrize("room", list(ROOMS.values()), ids=lambda r: r.name)
def test_text_contrast(room) -> None:  # type: ignore[no-untyped-def]
    # WCAG 2.1, 1.4.3: at least 4.5 : 1
    def light(level: int) -> float:
        v = level / 255
        return v / 12.92 if v <= 0.03928 else ((v + 0.055) / 1.055) ** 2.4

    for text in (room.text, room.quiet):
        for ground in (room.ribbon, room.rack, room.chrome, room.field):
            bright, dark = max(light(text), light(ground)), min(light(text), light(ground))
            assert (bright + 0.05) / (dark + 0.05) >= 4.5


def test_every_control_has_a_name(window: Window) -> None:
    seen, unnamed = 0, []
    for i in range(8):
        window.stack.go(i)
        for kind in (QAbstractButton, QComboBox, QSlider, QLineEdit, QTableWidget):
            for control in window.findChildren(kind):
                if (
                    control.isVisible()
                    and control.focusPolicy() != Qt.FocusPolicy.NoFocus
                    and not control.objectName().startswith("qt_")
                ):
                    named = (
                        control.accessibleName()
                        or getattr(control, "text", lambda: "")()
                        or getattr(control, "placeholderText", lambda: "")()
                    )
                    seen += 1
                    if not named and not isinstance(control.parent(), QComboBox):
                        unnamed.append((i, control))
    assert unnamed == [] and seen > 150


def test_keys_are_listed_once_and_do_something(window: Window) -> None:
    names = [k.key for k in KEYS] + list(MAP_KEYS)
    assert len(names) == len(set(names))
    assert not {"S", "Y", "J", "\\", "Ctrl+Y"} & set(names)
    assert {k.action for k in KEYS} == window.actions_of_keys.names


def test_crop_size_and_resolution(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go(1)
    tray = window.stack.trays[1]
    common = next(c for c in tray.findChildren(QComboBox) if c.accessibleName() == "Common sizes")
    index = common.findText("10 × 8 in")
    common.setCurrentIndex(index)
    common.activated.emit(index)
    assert (take().frame.size.width_cm, take().frame.size.height_cm) == pytest.approx((25.4, 20.32))
    assert take().frame.crop.width * 450 / (take().frame.crop.height * 300) == pytest.approx(1.25)
    wait_until_settled(window)
    placed = window.pair.placing.placed(0)
    assert placed is not None
    middle = placed.picture.center().toPoint()
    QTest.mousePress(window.pair, Qt.MouseButton.LeftButton, pos=middle)
    hover(window.pair, middle + QPoint(-30, 0))
    QTest.mouseRelease(window.pair, Qt.MouseButton.LeftButton, pos=middle + QPoint(-30, 0))
    moved = take().frame.crop
    assert moved.x < 0.08 and moved.width == pytest.approx(1.25 * 300 / 450)
    window.pair.setFocus()
    press(window, Qt.Key.Key_Right)
    assert take().frame.crop.x == pytest.approx(moved.x + 0.02)
    press(window, Qt.Key.Key_Left, Qt.KeyboardModifier.ControlModifier)
    assert take().frame.crop.width == pytest.approx(moved.width * 0.95) and take().frame.crop.height == pytest.approx(
        0.95
    )
    press(window, Qt.Key.Key_Up, Qt.KeyboardModifier.ControlModifier)
    assert take().frame.crop.height <= 1 and take().frame.crop.width / take().frame.crop.height == pytest.approx(
        moved.width
    )
    _click(_button(tray, "Turn"))
    assert take().frame.size.height_cm == pytest.approx(25.4)
    _click(_button(tray, "Whole picture"))
    assert take().frame.crop == Crop()


def test_choosing_a_paper(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go(2)
    tray = window.stack.trays[2]
    tile = next(t for t in tray.tiles if t.paper.name == "Old Quay")
    assert tile.paper.contrast == "contrast 30 : 1"
    before = take()
    tray._area.ensureWidgetVisible(tile)
    _click(tile)
    wait_until_settled(window)
    assert take() == before and window.session.now.looked.paper == "Old Quay", "looking is not choosing"
    assert "Old Quay" in window.pair.header_texts(1)[0] and "only looked at" in window.pair.header_texts(1)[1]
    assert (
        "lies beyond Old Quay" in window.verdict.text and "White Dune on Skarn 24 stays chosen" in window.verdict.text
    )
    press(window, Qt.Key.Key_Return)
    wait_until_settled(window)
    assert window.session.now.condition is not None and window.session.now.condition.paper == "Old Quay"
    assert take().rendering.intent == "perceptual" and "Old Quay" in window.pair.header_texts(1)[0]


def test_learnt_is_offered_never_applied(window: Window, take: Callable[[], Take]) -> None:
    assert take().recipe.is_neutral
    lesson = window.session.logbook.lesson
    assert lesson is not None and "lightness" in dict(lesson.values) and lesson.mine > 0
    window.stack.go(4)
    assert f"Learnt from {lesson.origin} in this light: {lesson.words}." in window.verdict.text
    _click(
        next(
            b for b in window.findChildren(QPushButton) if b.text() == "Take what was learnt" and b.isVisibleTo(window)
        )
    )
    learnt = take().recipe.step("learnt")
    assert learnt is not None and learnt.values == lesson.values == take().recipe.total
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert take().recipe.is_neutral
    page = lesson_html(window.session)
    assert page.count("<tr>") == lesson.prints == len(window.session.logbook.teachers)
    window.session.screen.set(lux=5000.0)
    assert window.session.logbook.lesson is None and "<tr>" not in lesson_html(window.session)


def test_from_verdict_to_the_next_take(window: Window, take: Callable[[], Take]) -> None:
    window.session.takes.choose_condition(next(c for c in window.session.shelf.conditions if c.paper == "Sluice Gloss"))
    wait_until_settled(window)
    before = window.session.logbook.lesson
    assert before is not None and before.mine == 0, "other papers alone teach it"
    window.stack.go(7)
    board = window.boards.shown
    assert isinstance(board, VerdictBoard)
    window.session.verdicts.choose("lightness", -4 / 6)
    board.words.setText("too dark in the hall")
    _click(board.verdicts["usable"])
    entry = window.session.book.all(LogEntry)[-1]
    assert (round(entry.darker, 6), entry.words, entry.picture) == (4.0, "too dark in the hall", "Drying line")
    after = window.session.logbook.lesson
    assert (
        after is not None and after.mine == 1 and 0 < after.values["lightness"] < 2 / 3
    )  # one print is not the whole of it
    assert after.values["lightness"] > before.values["lightness"]
    assert window.ribbon.buttons[7].state.ring == "full"


def test_writing_the_file_and_its_ticket(window: Window, take: Callable[[], Take], tmp_path: Path) -> None:
    window.stack.go(6)
    window.session.takes.change_frame(size=PrintSize(12.0, 8.0))
    window.session.takes.change_hand_over(ppi=240.0)
    wait_until_settled(window)
    out = tmp_path / "out" / "print.tif"
    out.parent.mkdir()
    window.stack.sheet.write_to(out)
    wait_until_settled(window)
    QTest.qWait(100)
    with Image.open(out) as image:
        assert image.size == (1134, 756) and image.info["dpi"] == pytest.approx((240, 240), abs=0.1)
    assert (tmp_path / "out" / "print.ticket.pdf").read_bytes().startswith(b"%PDF")
    assert take().file == str(out) and window.ribbon.buttons[6].state.ring in ("full", "look")


def test_a_folder_that_cannot_be_written(window: Window, tmp_path: Path) -> None:
    window.stack.sheet.write_to(tmp_path / "nowhere" / "print.tif")
    wait_until_settled(window)
    assert "folder is missing" in window.message.text


def test_as_last_time_goes_to_the_ticket(window: Window, take: Callable[[], Take]) -> None:
    last = window.session.logbook.entries[-1]
    assert last.rendition is not None
    printed = replace(last.rendition, rendering=Rendering("perceptual"), hand_over=HandOver(ppi=360.0))
    window.session.book.do("log", [replace(last, id=0, rendition=printed)])
    window.session.takes.change_frame(size=PrintSize(10.0, 6.7))
    window.session.takes.change_hand_over(ppi=240.0)
    press(window, Qt.Key.Key_A)
    assert window.stack.station == 6 and (
        take().rendering.intent,
        take().hand_over.ppi,
        take().frame.size.width_cm,
    ) == ("perceptual", 360.0, 39.0)


def test_stations_can_be_left_out(window: Window, take: Callable[[], Take]) -> None:
    window.ribbon.asked_to_skip.emit(5)
    assert take().not_wanted == ("test",) and window.ribbon.buttons[5].state.words == "not for this print"
