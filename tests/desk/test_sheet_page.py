"""The page with hands on it: real drags and keys, the pixels of what is drawn, ways to lay it, what puts a print right."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QPushButton
from tests.desk.conftest import drag, hover, pixels, press, wait_until_settled

from rehearsal.core.sheet.boxes import Box
from rehearsal.core.sheet.composing import compose
from rehearsal.core.values.frame import PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.sheet import Several, Sheet
from rehearsal.desk.boards.page import PageBoard, way_of, way_words
from rehearsal.desk.boards.pageoptions import CaptionPanel, EvenPanel, FootPanel, MatPanel, SeveralPanel
from rehearsal.desk.boards.prints import PrintsBoard, print_words, reads, state_words
from rehearsal.desk.boards.trueplace import TruePlacePanel
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.chain import ChainDrawing, links
from rehearsal.desk.parts.pagedrawing import cut_box, side_dragged, slid
from rehearsal.tasks.queues import SIMULATED
from rehearsal.workbook.values import PrintJob, Take


@pytest.fixture
def board(window: Window) -> PageBoard:
    """The Sheet station, whose page opens by itself."""
    window.stack.go_to("sheet")
    wait_until_settled(window)
    made = window.boards.shown
    assert isinstance(made, PageBoard) and window.boards.name == "page"
    return made


def _at(board: PageBoard, x: float, y: float) -> QPoint:
    """A place of the page, mm, in pixels of the drawing."""
    scale = board.drawing.scale()
    assert scale is not None
    return scale.point(x, y).toPoint()


def _box(board: PageBoard) -> Box:
    assert board.drawing.page is not None
    return board.drawing.page.laid[0].box


def test_the_picture_is_dragged_and_snaps_to_the_middle(
    window: Window, board: PageBoard, take: Callable[[], Take]
) -> None:
    scale = board.drawing.scale()
    assert scale is not None
    before = pixels(board.drawing)
    middle = _at(board, _box(board).left + 100, _box(board).top + 100)
    drag(board.drawing, middle, QPoint(round(20 * scale.per_mm), round(-12 * scale.per_mm)))
    wait_until_settled(window)
    left, top = (float(v) for v in take().sheet.place.split(","))
    assert left == pytest.approx(46.5 + 20, abs=1.2) and top == pytest.approx(34.5 - 12, abs=1.2)
    assert np.abs(pixels(board.drawing).astype(int) - before).max() > 100
    assert board.drawing.fields["left"].value() == pytest.approx(left, abs=0.1)
    drag(board.drawing, _at(board, left + 100, top + 100), QPoint(round(-19 * scale.per_mm), round(11 * scale.per_mm)))
    wait_until_settled(window)
    assert take().sheet.place == "46.5,34.5", "near the middle it lies on it"
    window.actions_of_keys.act("undo")
    window.actions_of_keys.act("undo")
    assert take().sheet.place == "centre"


def test_a_side_is_dragged_about_the_middle(window: Window, board: PageBoard, take: Callable[[], Take]) -> None:
    scale, box = board.drawing.scale(), _box(board)
    assert scale is not None
    drag(board.drawing, _at(board, box.right, box.top + 130), QPoint(-round(30 * scale.per_mm), 0))
    wait_until_settled(window)
    size = take().frame.size
    assert (
        size is not None
        and size.width_cm == pytest.approx(39 - 6, abs=0.25)
        and size.width_cm / size.height_cm == pytest.approx(1.5, abs=0.01)
    )
    page = board.drawing.page
    assert page is not None and page.borders[1] == pytest.approx(page.borders[3], abs=0.1)


def test_while_it_is_dragged_the_page_follows_and_nothing_is_kept(
    window: Window, board: PageBoard, take: Callable[[], Take]
) -> None:
    start = _at(board, 200, 150)
    QTest.mousePress(board.drawing, Qt.MouseButton.LeftButton, pos=start)
    hover(board.drawing, start + QPoint(40, 0), Qt.MouseButton.LeftButton)
    assert board.drawing.fields["left"].value() > 50 and take().sheet.place == "centre"
    QTest.mouseRelease(board.drawing, Qt.MouseButton.LeftButton, pos=start + QPoint(40, 0))
    assert take().sheet.place != "centre"


def test_borders_are_typed_at_the_edges_in_any_unit(window: Window, board: PageBoard, take: Callable[[], Take]) -> None:
    board.drawing.fields["left"].setValue(60.0)
    wait_until_settled(window)
    page = board.drawing.page
    assert page is not None and page.borders[3] == pytest.approx(60, abs=0.1) == pytest.approx(page.borders[1], abs=0.1)
    index = board.unit.findData("in")
    board.unit.setCurrentIndex(index)
    board.unit.activated.emit(index)
    assert board.drawing.fields["left"].suffix() == " in" and board.drawing.fields["left"].value() == pytest.approx(
        60 / 25.4, abs=0.01
    )
    board.drawing.fields["left"].setValue(2.0)
    wait_until_settled(window)
    assert board.drawing.page is not None and board.drawing.page.borders[3] == pytest.approx(50.8, abs=0.1)


def test_keys_move_and_grow_the_print(window: Window, board: PageBoard, take: Callable[[], Take]) -> None:
    board.drawing.setFocus()
    press(window, Qt.Key.Key_Right)
    assert take().sheet.place == "47.5,34.5"
    press(window, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert take().sheet.place == "47.5,24.5"
    press(window, Qt.Key.Key_Down, Qt.KeyboardModifier.ControlModifier)
    size = take().frame.size
    assert size is not None and size.width_cm == pytest.approx(38.9)


def test_ways_to_lay_it_change_the_page_and_are_one_change_each(
    window: Window, board: PageBoard, take: Callable[[], Take]
) -> None:
    seen = [pixels(board.drawing)]
    for way in ("foot", "centre", "over", "float", "several", "even"):
        QTest.mouseClick(board.cards[way], Qt.MouseButton.LeftButton)
        wait_until_settled(window)
        assert board.cards[way].isChecked() and way_of(take().sheet, window.session.sheets.page) == way
        seen.append(pixels(board.drawing))
    for one, two in itertools.pairwise(seen):
        assert np.abs(one.astype(int) - two).max() > 60
    assert "15 %" in board.cards["foot"].accessibleDescription() and way_words("foot", None) == "not on this sheet"
    for _ in range(6):
        window.actions_of_keys.act("undo")
    assert take().sheet == Sheet("A3+") and take().frame.size == PrintSize(39.0, 26.0)


def test_each_way_starts_from_the_prints_own_size_and_crop(
    window: Window, board: PageBoard, take: Callable[[], Take]
) -> None:
    own = take().frame
    for way in ("several", "even", "over", "even", "several", "float", "even", "foot", "several", "centre"):
        shown = board._as(way)
        board.take_way(way)
        wait_until_settled(window)
        page = window.session.sheets.page
        assert page is not None and shown is not None and page.laid == shown.laid  # as its card showed it
        assert (take().frame == own) == (way not in ("several", "even"))
    assert take().frame.before is None
    board.take_way("several")
    window.session.sheets.resize(100.0)  # a hand on it: from now on that is the print's own
    mine = take().frame
    board.take_way("centre")
    assert take().frame == mine != own


def test_another_sheet_while_it_is_laid_otherwise_holds_the_print_when_it_comes_back(
    window: Window, board: PageBoard, take: Callable[[], Take]
) -> None:
    board.take_way("even")
    window.session.takes.choose_sheet("A5")
    board.take_way("centre")
    page = window.session.sheets.page
    assert page is not None and min(page.borders) >= -0.1


def test_what_can_be_set_of_each_way(window: Window, board: PageBoard, take: Callable[[], Take]) -> None:
    board.take_way("foot")
    panel = board.panels.currentWidget()
    assert isinstance(panel, FootPanel)
    panel.foot.setValue(30)
    assert take().sheet.place == "foot:30"
    board.take_way("even")
    panel = board.panels.currentWidget()
    assert isinstance(panel, EvenPanel)
    panel._usual.setCurrentIndex(4)
    panel._usual.activated.emit(4)
    assert window.session.sheets.page is not None and window.session.sheets.page.borders == pytest.approx(
        (50,) * 4, abs=0.1
    )
    board.take_way("over")
    panel = board.panels.currentWidget()
    assert isinstance(panel, MatPanel)
    panel.width_.setValue(600)
    panel.height_.setValue(500)
    panel.gap.setValue(3)
    assert (take().sheet.mat.width, take().sheet.mat.height, take().sheet.mat.overlap) == (600, 500, 3)
    board.take_way("several")
    panel = board.panels.currentWidget()
    assert isinstance(panel, SeveralPanel)
    panel.columns.setValue(3)
    panel.marks.click()
    assert take().sheet.several.columns == 3 and take().sheet.several.cut_marks
    panel.way.setCurrentIndex(panel.way.findData("packed"))
    panel.way.activated.emit(panel.way.currentIndex())
    wait_until_settled(window)
    action = panel._menu.actions()[0]
    action.setChecked(True)
    wait_until_settled(window)
    assert take().sheet.several.way == "packed" and len(take().sheet.several.takes) == 1


def test_what_is_written_on_the_sheet_is_drawn(window: Window, board: PageBoard, take: Callable[[], Take]) -> None:
    before = pixels(board.drawing)
    QTest.mouseClick(board.caption, Qt.MouseButton.LeftButton)
    panel = board.panels.currentWidget()
    assert isinstance(panel, CaptionPanel) and board.caption.isChecked()
    panel.signature.setFocus()
    QTest.keyClicks(panel.signature, "A. Lind")
    press(window, Qt.Key.Key_Return)
    panel.edition.setValue(3)
    panel.of.setValue(12)
    wait_until_settled(window)
    caption = take().sheet.caption
    assert (caption.signature, caption.number) == ("A. Lind", "3/12")
    scale, box = board.drawing.scale(), _box(board)
    assert scale is not None
    line = scale.rect(Box(box.right - 40, box.foot + 2, 40, 5)).toRect()
    ratio = board.drawing.devicePixelRatioF()
    part = np.s_[
        round(line.top() * ratio) : round(line.bottom() * ratio),
        round(line.left() * ratio) : round(line.right() * ratio),
    ]
    assert np.abs(pixels(board.drawing).astype(int) - before)[part].max() > 100
    QTest.mouseClick(board.caption, Qt.MouseButton.LeftButton)
    assert not board.caption.isChecked() and not isinstance(board.panels.currentWidget(), CaptionPanel)


def test_recropping_on_the_sheet_by_hand(window: Window, board: PageBoard, take: Callable[[], Take]) -> None:
    QTest.mouseClick(board.recrop, Qt.MouseButton.LeftButton)
    assert board.drawing.recrops
    scale, box = board.drawing.scale(), _box(board)
    assert scale is not None
    drag(board.drawing, _at(board, box.right, box.top + 130), QPoint(-round(60 * scale.per_mm), 0))
    wait_until_settled(window)
    crop, size = take().frame.crop, take().frame.size
    assert (
        size is not None
        and size.width_cm == pytest.approx(33, abs=0.3)
        and size.height_cm == pytest.approx(26, abs=0.05)
    )
    assert (
        crop.width == pytest.approx(330 / 390, abs=0.01)
        and crop.height == pytest.approx(1)
        and crop.x == pytest.approx(0, abs=1e-6)
    )
    drag(board.drawing, _at(board, _box(board).left + 100, _box(board).top + 100), QPoint(-round(30 * scale.per_mm), 0))
    wait_until_settled(window)
    assert take().frame.crop.x == pytest.approx(30 / 390, abs=0.01) and take().frame.size == size, (
        "the picture slides under the print"
    )


def test_boxes_that_are_dragged_stay_where_they_may() -> None:
    page = compose(Sheet("A3+"), [PrintSize(39, 26)])
    box, around, paper = page.laid[0].box, page.laid[0].box.grown(20), page.paper
    assert side_dragged(box, "right", 900, 0, page).width == pytest.approx(483)
    assert side_dragged(box, "top", 0, 900, page).width == 10
    assert cut_box(box, "left", -900, 0, around, paper).left == pytest.approx(around.left)
    assert cut_box(box, "top", 0, 900, around, paper).height == pytest.approx(10)
    assert cut_box(box, "foot", 0, 5, around, paper).foot == pytest.approx(box.foot + 5)
    assert slid(box, around, 900, -900) == (pytest.approx(20), pytest.approx(-20))


def test_sheets_and_rolls_are_chosen_or_typed(window: Window, board: PageBoard, take: Callable[[], Take]) -> None:
    board.sheet.setCurrentText("50x60cm")
    board.sheet.lineEdit().editingFinished.emit()
    assert (
        take().sheet.name == "50x60cm"
        and board.drawing.page is not None
        and board.drawing.page.width == pytest.approx(600)
    )
    board.sheet.setCurrentText("roll 610mm")
    board.sheet.lineEdit().editingFinished.emit()
    assert take().sheet.name == "roll 610mm" and "of the roll are used" in board.under.text()
    board.sheet.setCurrentText("huge")
    board.sheet.lineEdit().editingFinished.emit()
    assert take().sheet.name == "roll 610mm" and "is no sheet" in window.message.text


def test_the_true_place_is_typed_and_kept(window: Window, board: PageBoard) -> None:
    QTest.mouseClick(board.true, Qt.MouseButton.LeftButton)
    panel = board.panels.currentWidget()
    assert isinstance(panel, TruePlacePanel)
    for i, (ask, field) in enumerate(panel.fields.items()):
        if i < 4:
            mm = float(field.toolTip().split()[1])
            field.setValue(mm + (0.8 if ask[1] == "left" else 0.0))
    panel.keep()
    condition = window.session.now.condition
    assert (
        condition is not None
        and condition.true_place is not None
        and condition.true_place.right == pytest.approx(0.8, abs=0.02)
    )
    assert "0.8 mm to the right" in panel.known.text() and "0.8 mm to the right" in board.under.text()


def test_the_page_stays_closed_until_it_is_called_for(window: Window, board: PageBoard) -> None:
    press(window, Qt.Key.Key_Escape)
    assert window.boards.name == ""
    window.stack.go_to("tune")
    window.stack.go_to("sheet")
    assert window.boards.name == "", "closed by hand it does not open by itself"
    window.actions_of_keys.act("board", "page")
    window.stack.go_to("tune")
    window.stack.go_to("sheet")
    assert window.boards.name == "page"


# ---- the chain, cautions, queue


def test_exactly_one_box_of_the_chain_is_light(window: Window) -> None:
    assert [link.converts for link in links(HandOver())] == [True, False, False]
    assert [link.converts for link in links(HandOver(route="space"))] == [False, True, False]
    assert [link.converts for link in links(HandOver(converter="driver"))] == [True, False, True]
    assert links(HandOver(queue="hall"))[1].name == "print service"
    drawing = ChainDrawing()
    drawing.resize(280, 42)
    for hand_over, right in (
        (HandOver(), True),
        (HandOver(converter="program"), False),
        (HandOver(route="space", converter="none"), False),
    ):
        drawing.show_chain(hand_over)
        assert drawing.is_right is right
        light = [(pixels(drawing)[4, round(b.center().x())] > 200).all() for b in drawing.boxes()]
        assert sum(light) == (1 if right else 0)


def test_cautions_are_rows_whose_buttons_mend(window: Window, board: PageBoard, take: Callable[[], Take]) -> None:
    tray = window.stack.sheet
    window.session.takes.change_hand_over(scale_percent=97.0, media="Photo gloss")
    wait_until_settled(window)
    rows = {b.accessibleName(): b for b in tray.list.findChildren(QPushButton) if not b.isHidden()}
    scale = next(b for name, b in rows.items() if name.startswith("Set 100 %"))
    QTest.mouseClick(scale, Qt.MouseButton.LeftButton)
    assert take().hand_over.scale_percent == 100 and take().hand_over.media == "Photo gloss"
    window.session.takes.change_hand_over(scale_percent=97.0)
    wait_until_settled(window)
    assert tray.mend_all.text() == "Put both right"
    QTest.mouseClick(tray.mend_all, Qt.MouseButton.LeftButton)
    assert take().hand_over.scale_percent == 100 and take().hand_over.media == ""
    wait_until_settled(window)
    right = next(
        b
        for b in tray.list.findChildren(QPushButton)
        if b.accessibleName().startswith("It is right") and not b.isHidden()
    )
    QTest.mouseClick(right, Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    assert len(take().ticked) == 1
    few = next(
        b
        for b in tray.list.findChildren(QPushButton)
        if b.accessibleName().startswith("It is right") and not b.isHidden()
    )
    QTest.mouseClick(few, Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    assert set(take().ticked) == {"nozzles", "few-pixels"} and window.session.sheets.cautions == []
    assert "Nothing:" in tray.list.accessibleDescription()


def _wait(ready: Callable[[], bool], ms: int = 20_000) -> None:
    for _ in range(ms // 50):
        if ready():
            return
        QTest.qWait(50)
    raise AssertionError("it did not come")


def test_a_print_at_the_simulated_printer_from_the_first_click_to_the_dry_print(
    window: Window, board: PageBoard, take: Callable[[], Take], monkeypatch: pytest.MonkeyPatch
) -> None:
    from rehearsal.devices.simulated import queue

    monkeypatch.setattr(queue, "SECONDS_A4", 0.2)
    session, tray = window.session, window.stack.sheet
    session.takes.change("frame", frame=replace(take().frame, size=PrintSize(18.0, 12.0)))
    session.takes.choose_sheet("A4")
    session.takes.change_hand_over(ppi=100.0)
    route = tray.route.route
    index = route.findData(f"queue:{SIMULATED}")
    route.setCurrentIndex(index)
    route.activated.emit(index)
    _wait(lambda: session.queues.offers(SIMULATED) is not None)
    wait_until_settled(window)
    assert tray.driver.roles["media"].currentText() == "Fine art, smooth" and tray.go.text().startswith(
        "Print, 2 things"
    )
    QTest.mouseClick(tray.go, Qt.MouseButton.LeftButton)
    assert not isinstance(window.boards.shown, PrintsBoard) and session.prints.all == [], "each print asks once"
    assert window.message.text.endswith("2 things to look at. Print on A4 White Dune all the same?")
    QTest.mouseClick(tray.go, Qt.MouseButton.LeftButton)
    assert window.message.text == "" and window.message.waiting == []
    shown = window.boards.shown
    assert isinstance(shown, PrintsBoard) and len(shown._rows) == 1
    _wait(lambda: session.prints.all[0].state == "done")
    _wait(lambda: shown._seen is not None and shown._seen[2].printed is not None)
    assert shown.scales.accessibleDescription().count(":") == 4 and "nothing" not in shown.tones.accessibleDescription()
    assert shown._made[session.prints.all[0].id] == pytest.approx(0.9), "the ring filled while the page was made"
    # under another lamp it is looked at anew: what is written over it is what it shows
    session.screen.set(kelvin=2700.0)
    assert "2700" not in shown.pair.accessibleDescription()
    _wait(lambda: "under 2700 K" in shown.pair.accessibleDescription())
    wait_until_settled(window)
    shown.pair.setFocus()
    one = pixels(shown.pair)
    boxes = [b.toRect() for b in shown.pair.boxes()]
    left, right = (one[b.top() : b.bottom(), b.left() : b.right()] for b in boxes)
    assert np.abs(left.astype(int) - right[:, : left.shape[1]]).mean() > 1, "the print has its own truth"
    QTest.mousePress(shown.pair, Qt.MouseButton.LeftButton, pos=QPoint(40, 60))
    swapped = pixels(shown.pair)
    assert np.abs(swapped.astype(int) - one).mean() > 0.5
    QTest.mouseRelease(shown.pair, Qt.MouseButton.LeftButton, pos=QPoint(40, 60))
    np.testing.assert_array_equal(pixels(shown.pair), one)
    assert "dries until" in shown._rows[session.prints.all[0].id].shown.state
    QTest.mouseClick(shown.judge, Qt.MouseButton.LeftButton)
    assert window.stack.current_key == "log" and take().written is not None


def test_a_word_of_a_queue_is_chosen_once(window: Window, board: PageBoard, take: Callable[[], Take]) -> None:
    session = window.session
    condition = session.now.condition
    assert condition is not None
    session.shelf.change(replace(condition, media_setting="Cotton rag 300"))
    session.sheets.choose_queue(SIMULATED)
    _wait(lambda: session.queues.offers(SIMULATED) is not None)
    wait_until_settled(window)
    box = window.stack.sheet.driver.roles["media"]
    assert box.currentText().startswith("choose") and "unknown-media" in {c.key for c in session.sheets.cautions}
    window.stack.sheet.print()
    assert "Not sent" in window.message.text and session.prints.all == []
    index = box.findText("Cotton, textured")
    box.setCurrentIndex(index)
    box.activated.emit(index)
    wait_until_settled(window)
    assert session.now.condition is not None and session.now.condition.queue_words[0].word == "Cotton, textured"
    assert "unknown-media" not in {c.key for c in session.sheets.cautions}
    other = box.findText("Plain")
    box.setCurrentIndex(other)
    box.activated.emit(other)
    wait_until_settled(window)
    assert take().hand_over.media == "Plain" and "media" in {c.key for c in session.sheets.cautions}


def test_what_is_written_over_a_print_is_of_when_it_was_looked_at() -> None:
    from datetime import datetime

    card = replace(PrintJob().card, dry_hours=1.0)
    job = PrintJob(printed="2026-11-28T12:00", state="done", card=card)
    assert print_words(job, 4000.0, datetime(2026, 11, 28, 12, 30)) == "Its print, still wet, under 4000 K"
    assert print_words(job, 0.0, datetime(2026, 11, 28, 13, 30)) == "Its print"


def test_states_of_prints_in_words() -> None:
    from datetime import datetime

    now = datetime(2026, 11, 28, 12, 0)
    card = replace(PrintJob().card, dry_hours=24.0)
    done = PrintJob(state="done", printed="2026-11-28T10:00", card=card)
    assert state_words(done, now) == "printed, dries until tomorrow, 10:00"
    assert state_words(replace(done, printed="2026-11-20T10:00"), now) == "printed and dry"
    assert state_words(replace(done, card=PrintJob().card), now) == "printed", "nobody has told how long it dries"
    assert state_words(PrintJob(state="held", words="paper is out"), now) == "held: paper is out"


def test_figures_of_a_print_claim_no_more_than_they_show() -> None:
    from rehearsal.core.sheet.printed import PrintCompared

    calm = reads(PrintCompared(np.empty((0, 2)), 0.03, 0.5, 20.0, 20.0, 0.02, 0.05), None)
    assert [r.words for r in calm] == ["as planned", "as planned", "L* 20.0, planned 20.0", "in its place"]
    off = reads(PrintCompared(np.empty((0, 2)), -1 / 3, 6.0, 22.0, 20.0, 0.6, -0.8), 23.4)
    assert (
        off[0].words == "⅓ stop darker"
        and off[1].words == "6 mired warmer"
        and "23.4" in off[2].words
        and off[3].words == "1.0 mm"
    )
    assert off[0].at < 0 < off[1].at


def test_several_pictures_are_drawn_in_their_places(window: Window, board: PageBoard, take: Callable[[], Take]) -> None:
    window.session.sheets.lay_several(Several("grid", 2, 2, 6.0))
    wait_until_settled(window)
    scale, page = board.drawing.scale(), board.drawing.page
    assert scale is not None and page is not None and not board.recrop.isEnabled()
    seen, ratio = pixels(board.drawing), board.drawing.devicePixelRatioF()
    for one in page.laid:
        rect = scale.rect(one.box.grown(-5)).toRect()
        part = seen[
            round(rect.top() * ratio) : round(rect.bottom() * ratio),
            round(rect.left() * ratio) : round(rect.right() * ratio),
        ]
        assert part.std() > 20, "a picture"
    gap = scale.rect(Box(page.laid[0].box.right + 2, page.laid[0].box.top + 20, 2, 20)).center()
    assert (seen[round(gap.y() * ratio), round(gap.x() * ratio)] > 200).all(), "bare paper between them"
    assert QPointF(gap) and QApplication.instance() is not None


def test_sharpening_is_seen_in_a_piece_of_the_print(window: Window, board: PageBoard, take: Callable[[], Take]) -> None:
    tray = window.stack.sheet
    assert not tray.crops.isVisible(), "nothing is sharpened"
    window.session.takes.sharpen(150)
    _wait(lambda: tray.crops.accessibleDescription() != "")
    seen, side = pixels(tray.crops), tray.crops.side
    left = seen[:side, :side].astype(float)
    right = seen[:side, side + 6 : 2 * side + 6].astype(float)
    assert left.std() > 3 and np.abs(np.diff(right, axis=1)).mean() > np.abs(np.diff(left, axis=1)).mean()
    index = tray.zoom.findData(False)
    tray.zoom.setCurrentIndex(index)
    tray.zoom.activated.emit(index)
    _wait(lambda: np.abs(pixels(tray.crops).astype(int) - seen).max() > 20)


def test_a_large_untested_sheet_asks_once(window: Window, board: PageBoard, take: Callable[[], Take]) -> None:
    session = window.session
    stranger = next(t for t in session.book.all(Take) if session.takes.master_of(t).name == "Dyed cloths, close")  # type: ignore[union-attr]
    session.takes.open(stranger)
    session.sheets.choose_queue(SIMULATED)
    _wait(lambda: session.queues.offers(SIMULATED) is not None)
    wait_until_settled(window)
    session.prints.pause()
    assert "untested" in {c.key for c in session.sheets.cautions}
    tray = window.stack.sheet
    tray.print()
    assert session.prints.all == [] and "nothing of this take was tested on it" in window.message.text
    session.takes.change_hand_over(ppi=111.0)
    assert window.message.waiting == [] and "Print on" not in window.message.text, "that was another print"
    tray.print()
    assert session.prints.all == [] and "Print on" in window.message.text
    tray.print()
    assert len(session.prints.all) == 1
    session.prints.stop(session.prints.all[0])


def test_several_takes_are_asked_about_once_before_the_first(
    window: Window, board: PageBoard, take: Callable[[], Take]
) -> None:
    session = window.session
    session.sheets.choose_queue(SIMULATED)
    _wait(lambda: session.queues.offers(SIMULATED) is not None)
    session.prints.pause()
    same = (t for t in session.book.all(Take) if t.condition == take().condition and t.id != take().id)
    other = next(t for t in same if session.takes.master_of(t).name == "Dyed cloths, close")  # type: ignore[union-attr]
    session.book.note(replace(other, hand_over=take().hand_over))
    window.boards.open_board("prints")
    prints = window.boards.shown
    assert isinstance(prints, PrintsBoard) and not prints.asking.isVisible()
    QTest.mouseClick(prints.all, Qt.MouseButton.LeftButton)
    assert prints.asking.isVisible() and session.prints.all == [] and "Dyed cloths, close" in prints.asked.text()
    QTest.mouseClick(prints.yes, Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    assert len(session.prints.all) == 2 and not prints.asking.isVisible() and len(prints._rows) == 2
    assert prints.pause.text() == "Go on" and "2 pages wait" in prints.sentence.text()
    stops = [b for b in prints.findChildren(QPushButton) if b.text() == "Stop" and not b.isHidden()]
    QTest.mouseClick(stops[0], Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    assert sorted(j.state for j in session.prints.all) == ["stopped", "waiting"]
    for job in session.prints.all:
        session.prints.stop(job)


def test_steps_of_the_hands_are_ticked_off(window: Window, board: PageBoard, take: Callable[[], Take]) -> None:
    from PyQt6.QtWidgets import QCheckBox

    boxes = [b for b in window.stack.sheet.list.findChildren(QCheckBox) if not b.isHidden()]
    assert boxes and boxes[0].accessibleName().startswith("Brush off dust")
    boxes[0].click()
    assert take().ticked == (f"step:{boxes[0].accessibleName()}",)


def test_a_page_without_a_size_takes_a_way(window: Window, board: PageBoard, take: Callable[[], Take]) -> None:
    window.session.takes.change_frame(size=None)
    wait_until_settled(window)
    assert board.drawing.page is None and not any(card.isChecked() for card in board.cards.values())
    QTest.mouseClick(board.cards["foot"], Qt.MouseButton.LeftButton)
    wait_until_settled(window)
    assert take().frame.size is not None and board.cards["foot"].isChecked()
