"""Boards and marks driven by clicks and keys; the pixels of walls, slices and lines are read back."""

import zipfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QComboBox, QMenu, QPushButton, QWidget
from tests.desk.conftest import hover, pixels, press, wait_until_settled

from rehearsal.core.icc.standard import space_bytes
from rehearsal.core.papers.model import paper_model
from rehearsal.core.papers.reach import cell_of
from rehearsal.core.papers.surface import RULES
from rehearsal.core.proof.chain import PrintChain, ScreenLeg
from rehearsal.core.proof.scout import CARES
from rehearsal.core.values.recipe import by_hand
from rehearsal.demo.make import demo_folder
from rehearsal.demo.screens import simulated_display
from rehearsal.desk.boards.intents import IntentsBoard
from rehearsal.desk.boards.reach import ReachBoard
from rehearsal.desk.boards.realsize import RealSizeBoard
from rehearsal.desk.boards.scout import ScoutBoard
from rehearsal.desk.boards.screencheck import ScreenCheckBoard
from rehearsal.desk.boards.shelf import ShelfBoard
from rehearsal.desk.boards.twoprofiles import TwoProfilesBoard
from rehearsal.desk.boards.wall import Card
from rehearsal.desk.frame.window import Window
from rehearsal.devices.screenfile import screen_file_text
from rehearsal.workbook.values import Take


def _open(window: Window, key: Qt.Key, kind: type):  # type: ignore[no-untyped-def]
    press(window, key)
    wait_until_settled(window)
    board = window.boards.shown
    assert isinstance(board, kind) and board.isVisible()
    return board


def _click(widget: QWidget, at: QPoint | None = None) -> None:
    QTest.mouseClick(widget, Qt.MouseButton.LeftButton, pos=at or widget.rect().center())


def _choose(box: QComboBox, value: object) -> None:
    index = box.findData(value)
    box.setCurrentIndex(index)
    box.activated.emit(index)


def _card_pixels(card: Card) -> np.ndarray:
    """Pixels of the picture on a card, without its paper."""
    painted, image = pixels(card), card._picture
    assert image is not None
    box = card.picture_rect()
    margin = 0.05 * min(box.width(), box.height())
    factor = min((box.width() - 2 * margin) / image.width(), (box.height() - 2 * margin) / image.height())
    w, h = image.width() * factor, image.height() * factor
    x, y = box.center().x() - w / 2, box.center().y() - h / 2
    return painted[round(y) + 2 : round(y + h) - 2, round(x) + 2 : round(x + w) - 2].astype(float)


def test_every_board_opens_by_its_key_and_closes_by_escape(window: Window) -> None:
    keys = {
        Qt.Key.Key_I: 3,
        Qt.Key.Key_O: 2,
        Qt.Key.Key_Q: 2,
        Qt.Key.Key_C: 2,
        Qt.Key.Key_X: 2,
        Qt.Key.Key_F2: 0,
        Qt.Key.Key_F3: 0,
    }
    for key, station in keys.items():
        press(window, key)
        assert window.boards.shown is not None and window.boards.isVisible() and window.stack.station == station
        assert window.pair.isVisible() == window.boards.shown.beside
        assert window.minimumSizeHint().width() <= 1280 and window.minimumSizeHint().height() <= 800
        grey = pixels(window.boards)[-2, 2]
        assert grey[0] == grey[1] == grey[2]
        press(window, Qt.Key.Key_Escape)
        assert window.boards.shown is None and window.pair.isVisible() and window.pair.state.mode == "pair"
    wait_until_settled(window)


def test_leaving_the_station_closes_its_board(window: Window) -> None:
    press(window, Qt.Key.Key_O)
    press(window, Qt.Key.Key_5, Qt.KeyboardModifier.ControlModifier)
    assert window.boards.shown is None and window.pair.isVisible() and window.stack.station == 4


def test_intents_side_by_side(window: Window, take: Callable[[], Take]) -> None:
    board = _open(window, Qt.Key.Key_I, IntentsBoard)
    cards = board._wall.cards
    assert len(cards) == 3 and [c.isChecked() for c in cards] == [True, False, False]
    rows = [[label for label, _v in card.figures.rows] for card in cards]
    assert rows[0] == rows[1] == rows[2] and len(rows[0]) == 7
    pictures = [_card_pixels(card) for card in cards]
    h, w = (min(p.shape[i] for p in pictures) for i in (0, 1))
    gap = np.abs(pictures[0][:h, :w] - pictures[1][:h, :w])
    assert gap.mean() > 1.0, "without compensation the darks look different"
    _click(cards[2])
    wait_until_settled(window)
    assert take().rendering.intent == "perceptual" and cards[2].isChecked()
    cards[2].setFocus()
    press(window, Qt.Key.Key_Left)
    assert cards[1].hasFocus()
    press(window, Qt.Key.Key_Return)
    assert (take().rendering.intent, take().rendering.compensate) == ("relative", False)
    _choose(board._count, 5)
    wait_until_settled(window)
    assert len(board._wall.cards) == 5 and all(c._picture is not None for c in board._wall.cards)


def test_live_intents_follow_the_view(window: Window) -> None:
    board = _open(window, Qt.Key.Key_I, IntentsBoard)
    before = _card_pixels(board._wall.cards[0])
    press(window, Qt.Key.Key_8, Qt.KeyboardModifier.AltModifier)
    wait_until_settled(window)
    assert (
        _card_pixels(board._wall.cards[0]).max() <= before.max()
        and np.abs(_card_pixels(board._wall.cards[0]) - before).mean() > 1
    )


def test_scout_wall(window: Window, take: Callable[[], Take]) -> None:
    board = _open(window, Qt.Key.Key_O, ScoutBoard)
    assert len(board.wall.cards) == 5 and all(c is not None for c in board.costs)
    for care in CARES:
        _choose(board._care, care)
        says = "loses least of this picture" if care == "what is lost" else f"best for {care}"
        assert says in board.sentence.text()
        assert ("The trade's rule" in board.sentence.text()) == (care in RULES)
        first = board.wall._grid.itemAtPosition(0, 0).widget()
        place = board.wall.cards.index(first)
        values = [cost.value(care) for cost in board.costs]
        assert values[place] <= min(values) + 0.06
    # what is painted on a card is the exact road's proof of that paper
    card, condition = board.wall.cards[2], board._conditions[2]
    profile = window.session.shelf.profile(condition.profile_path)
    assert card.title.startswith("Sluice Gloss")
    opened = window.session.now.opened
    assert opened is not None and card._picture is not None
    image = card._picture
    block = opened.tuned.region((0, 0, *opened.open.size), image.width(), image.height())
    screen = window.session.screen.profile
    papers = [window.session.shelf.profile(c.profile_path) for c in board._conditions]
    scale = min(ScreenLeg(paper, screen, "on-paper").paper_scale for paper in papers)
    leg = ScreenLeg(profile, screen, "on-paper", None, scale)
    exact = leg.rgb(PrintChain(opened.source, profile, condition.default).device(block.reshape(-1, 3) / 65535.0)) * 255
    assert np.abs(exact.mean(axis=0) - _card_pixels(card).mean(axis=(0, 1))).max() < 2.5
    before = take()
    _click(card)
    assert take() == before and window.session.now.looked == condition and card.is_looked, "looking is not choosing"
    assert "Choose Sluice Gloss" in [b.text() for b in board.findChildren(QPushButton) if b.isVisibleTo(board)]
    card.setFocus()
    press(window, Qt.Key.Key_Return)
    assert take().condition == condition.id and card.isChecked() and not card.is_looked


def test_two_other_papers_head_to_head_leave_a_tuned_take_alone(window: Window, take: Callable[[], Take]) -> None:
    session = window.session
    session.takes.change_recipe(by_hand(lightness=0.5))
    wait_until_settled(window)
    before, all_before = take(), session.book.all(Take)
    heads = window.pair.header_texts(0), window.pair.header_texts(1)
    board = _open(window, Qt.Key.Key_O, ScoutBoard)
    papers = [c.paper for c in board._conditions]
    for name in ("Sluice Gloss", "Old Quay"):
        board.pick(papers.index(name))
    next(b for b in board.findChildren(QPushButton) if b.text() == "Head to head").click()
    wait_until_settled(window)
    assert take() == before and session.book.all(Take) == all_before
    texts = window.pair.header_texts(0)[0] + window.pair.header_texts(1)[0]
    assert "Sluice Gloss" in texts and "Old Quay" in texts and "White Dune" not in texts
    press(window, Qt.Key.Key_Escape)
    wait_until_settled(window)
    assert session.roads.rival is None and session.now.looked is None
    assert (window.pair.header_texts(0), window.pair.header_texts(1)) == heads and take() == before


def test_two_papers_head_to_head(window: Window, take: Callable[[], Take]) -> None:
    board = _open(window, Qt.Key.Key_O, ScoutBoard)
    names = [c.paper for c in board._conditions]
    for name in ("Sluice Gloss", "Old Quay", "White Dune"):
        board.pick(names.index(name))
    assert [c.paper for c in board.picked()] == ["Old Quay", "White Dune"], "the older of two picked ones gives way"
    next(b for b in board.findChildren(QPushButton) if b.text() == "Head to head").click()
    wait_until_settled(window)
    assert window.boards.shown is None and take().condition == board._conditions[0].id
    assert "Old Quay" in window.pair.header_texts(0)[0] and "White Dune" in window.pair.header_texts(1)[0]
    window.session.takes.change("view", view="on-paper")
    wait_until_settled(window)
    road, rival = window.session.roads.road, window.session.roads.rival_road
    assert road is not None and rival is not None and road.look.scale == rival.look.scale != None  # noqa: E711
    placed = window.pair.placing.placed(0)
    assert placed is not None
    painted = pixels(window.pair)
    mount = painted[int(placed.mount.y()) + 4, int(placed.mount.x()) + 6]
    np.testing.assert_allclose(mount, rival.paper_rgb * 255, atol=1.5)
    assert rival.paper_rgb[2] < road.paper_rgb[2] - 0.02, "natural white is yellower"
    press(window, Qt.Key.Key_Escape)
    assert window.session.roads.rival is None and window.pair.header_texts(0)[0] == "Drying line"


def test_picking_with_keys_and_taking_back(window: Window) -> None:
    board = _open(window, Qt.Key.Key_O, ScoutBoard)
    for at in (0, 1, 2):
        board.wall.cards[at].setFocus()
        press(window, Qt.Key.Key_Return, Qt.KeyboardModifier.ShiftModifier)
    assert [c.picked for c in board.wall.cards] == [False, True, True, False, False]
    board.pick(2)
    board.pick(3)
    assert board.picked() == [board._conditions[1], board._conditions[3]]


def test_open_boards_follow_the_take(window: Window) -> None:
    board = _open(window, Qt.Key.Key_C, ReachBoard)
    before = board.sentence.text()
    gloss = next(c for c in window.session.shelf.conditions if c.paper == "Sluice Gloss")
    window.session.takes.choose_condition(gloss)
    wait_until_settled(window)
    paper = window.session.now.paper
    assert paper is not None and paper.description.startswith("Skarn 24 Sluice Gloss")
    assert board.sentence.text() != before and board._bodies[0].solid is paper_model(paper).solid
    board = _open(window, Qt.Key.Key_O, ScoutBoard)
    costs = list(board.costs)
    window.session.takes.change_recipe(by_hand(strength=-30))
    wait_until_settled(window)
    assert all(
        now is not None and now.strong_miss < then.strong_miss for now, then in zip(board.costs, costs, strict=True)
    )


def test_reach_is_tied_to_the_picture_both_ways(window: Window) -> None:
    board = _open(window, Qt.Key.Key_C, ReachBoard)
    assert board.beside and "covers" in board.sentence.text()
    pair, session = window.pair, window.session
    placed = pair.placing.placed(1)
    assert placed is not None and session.now.picture is not None
    at = placed.picture.topLeft() + QPointF(0.36 * placed.picture.width(), 0.4 * placed.picture.height())
    hover(pair, at.toPoint())
    place = pair.placing.picture_point(QPointF(at.toPoint()))
    assert place is not None and board.plot.pointed is not None
    lab = session.now.picture.pyramid.space.to_lab(
        session.now.picture.picture.pixels[place[1], place[0]].reshape(1, 1, 3)
    )[0, 0]
    assert board.slider.value() == round(float(lab[0]))
    np.testing.assert_allclose(board.plot.pointed, lab)
    # a click on that place in the slice shows the pixel and veils others
    before = pixels(pair)
    _click(board.plot, board.plot.place(float(lab[1]), float(lab[2])).toPoint())
    assert board.plot.cell == tuple(int(v) for v in cell_of(lab[1:])) and pair.marks.has_mask
    after = pixels(pair)
    x, y = at.toPoint().x(), at.toPoint().y()
    near = slice(y - 1, y + 2), slice(x - 1, x + 2)  # a picture pixel is a little larger than a widget pixel here
    assert np.abs(after[near].astype(int) - before[near]).max(axis=2).min() < 6
    sky = int(placed.picture.y() + 8), int(placed.picture.x() + 8)
    assert np.abs(after[sky].astype(int) - before[sky]).max() > 20
    press(window, Qt.Key.Key_Escape)
    assert not pair.marks.has_mask and pair.state.mode == "pair"


def test_slice_is_painted_where_the_colours_are(window: Window) -> None:
    board = _open(window, Qt.Key.Key_C, ReachBoard)
    board.slider.setValue(50)
    piece = board.plot.slice
    assert piece is not None and piece.counts.sum() > 100
    i, j = np.unravel_index(int(piece.counts.argmax()), piece.counts.shape)
    at = board.plot.place((i - 35 + 0.5) * 4, (j - 35 + 0.5) * 4)
    painted = pixels(board.plot)
    inside = painted[int(at.y()), int(at.x())].astype(int)
    empty = painted[int(board.plot.place(-100, -100).y()), int(board.plot.place(-100, -100).x())]
    assert np.abs(inside - empty).max() > 40 and empty[0] == empty[1] == empty[2]
    # the outline of the paper passes where the solid ends: white on the way from grey to a far red
    line = board.plot.outlines[0]
    assert line and np.concatenate(line)[:, 0].max() > 40
    edge = max((p for part in line for p in part), key=lambda p: p[0])
    spot = board.plot.place(float(edge[0]), float(edge[1]))
    around = painted[int(spot.y()) - 2 : int(spot.y()) + 3, int(spot.x()) - 2 : int(spot.x()) + 3]
    assert around.min(axis=2).max() > 200
    wide = len(board.plot.outlines[2])
    board._screen.setChecked(False)
    wait_until_settled(window)
    assert wide and not board.plot.outlines[2]
    other = next(c for c in window.session.shelf.conditions if c.paper == "Sluice Gloss")
    _choose(board._other, other.id)
    wait_until_settled(window)
    assert board.plot.outlines[1]
    value = board.slider.value()
    board.plot.setFocus()
    press(window, Qt.Key.Key_Up)
    assert board.slider.value() == value + 2


def test_two_profiles(window: Window) -> None:
    board = _open(window, Qt.Key.Key_X, TwoProfilesBoard)
    names = [b.currentText() for b in board._choices]
    assert board.pair is not None and names == ["White Dune on Skarn 24", "White Dune on Skarn 24, own profile"]
    text = board.note.text()
    assert "holds more" in text and "out of date" in text
    painted = pixels(board.map)
    assert (np.ptp(painted.astype(int), axis=2) > 30).any(), "bars carry their hue"
    gloss = next(c for c in window.session.shelf.conditions if c.paper == "Sluice Gloss")
    _choose(board._choices[1], gloss.id)
    wait_until_settled(window)
    assert board.pair.volumes[1] > board.pair.volumes[0]


def test_check_of_the_screen(window: Window) -> None:
    count = len(window.session.screen.record.readings)
    board = _open(window, Qt.Key.Key_F2, ScreenCheckBoard)
    next(b for b in board.findChildren(QPushButton) if "simulated colorimeter" in b.text()).click()
    shown = pixels(board.view)
    assert shown.min() == 255, "the first patch is full white, nothing else"
    QTest.qWait(2600)
    assert len(window.session.screen.record.readings) == count + 1 and board.view.result is not None
    last = window.session.screen.record.readings[-1]
    assert (
        last.state == "good"
        and last.luminance == pytest.approx(90, rel=0.05)
        and "tells the truth" in board.verdict.text()
    )
    assert window.verdict.text
    next(b for b in board.findChildren(QPushButton) if "Use this white" in b.text()).click()
    assert window.session.screen.record.white == pytest.approx(last.luminance, abs=0.06)
    next(b for b in board.findChildren(QPushButton) if "Forget" in b.text()).click()
    assert len(window.session.screen.record.readings) == count


def test_readings_from_a_file(window: Window, tmp_path: Path) -> None:
    board = _open(window, Qt.Key.Key_F2, ScreenCheckBoard)
    patches = board._patches
    tired = simulated_display("desk-screen-wide.icc").light(patches, 2500)
    (tmp_path / "tired.txt").write_text(screen_file_text(patches, tired, "tired"))
    board.load(tmp_path / "tired.txt")
    assert window.session.screen.record.readings[-1].state != "good" and "darker than" in board.verdict.text()
    count = len(window.session.screen.record.readings)
    (tmp_path / "none.txt").write_text("nothing")
    board.load(tmp_path / "none.txt")
    assert "none.txt" in window.message.text and len(window.session.screen.record.readings) == count


def test_real_size_with_a_ruler(window: Window) -> None:
    board = _open(window, Qt.Key.Key_F3, RealSizeBoard)
    board.view.ppi = 100.0
    board.ruler.setValue(80)
    assert board.view.ppi == pytest.approx(125)
    next(b for b in board.findChildren(QPushButton) if b.text() == "Keep this size").click()
    assert window.session.screen.record.ppi == pytest.approx(125) and "125.0 ppi" in board.sentence.text()
    bar = pixels(board.view)
    assert (bar.min(axis=2) > 200).any()
    press(window, Qt.Key.Key_Escape)
    press(window, Qt.Key.Key_P)
    placed = window.pair.placing.placed(1)
    assert placed is not None and window.session.now.take is not None
    width = placed.picture.width() / window.pair.devicePixelRatioF() / 125 * 2.54
    assert width == pytest.approx(window.session.now.take.frame.size.width_cm, rel=0.01)


def test_shelf_lists_adds_and_removes(window: Window, tmp_path: Path, qtbot) -> None:  # type: ignore[no-untyped-def]
    gloss_bytes = (demo_folder() / "profiles" / "SK24_SluiceGloss_Hi.icc").read_bytes()
    folder = tmp_path / "found"
    folder.mkdir()
    (folder / "SK24_BrineLustre260_PK_1440.icc").write_bytes(gloss_bytes + b"\0" * 4)
    (folder / "space.icc").write_bytes(space_bytes("P3"))
    board = _open(window, Qt.Key.Key_Q, ShelfBoard)
    assert len(board.cards) == len(window.session.shelf.conditions) == 6
    window.session.library.add_folder(folder)
    wait_until_settled(window)
    board._search.setText("desk nowhere")
    assert board.tree.topLevelItemCount() == 0
    board._search.setText("sluice")
    found = next(f for f in window.session.library.found if f.path.startswith(str(folder)) and not f.reason)
    texts = [board.tree.topLevelItem(i).text(0) for i in range(board.tree.topLevelItemCount())]
    assert any(text.startswith("Skarn 24") for text in texts)
    before = len(window.session.shelf.conditions)
    board.add(found)
    wait_until_settled(window)
    assert window.boards.name == "card", "what was read is looked at on its card"
    window.boards.open_board("shelf")
    # bytes behind the profile's own size do not make it another one: it is on the shelf already
    assert len(window.session.shelf.conditions) == before and window.session.now.looked.paper == "Sluice Gloss"
    assert found.digest == window.session.now.looked.profile_digest and "already on the shelf" in window.message.text
    choose = next(b for b in board.findChildren(QPushButton) if b.text() == "Choose Sluice Gloss")
    choose.click()
    wait_until_settled(window)
    assert window.session.now.condition.paper == "Sluice Gloss" and not choose.isVisibleTo(board)
    spare = next(c for c in window.session.shelf.conditions if c.paper == "sRGB file for a lab")
    assert "off the shelf" in window.session.shelf.remove(spare)
    assert spare not in window.session.shelf.conditions and board._back.text() == "Put sRGB file for a lab back"
    board._back.click()
    assert spare in window.session.shelf.conditions and not board._back.isVisibleTo(board)
    used = window.session.now.condition
    assert used is not None and "stays" in window.session.shelf.remove(used)
    # a file that appears while the program runs is seen
    (folder / "late.icc").write_bytes(space_bytes("ROMM"))
    qtbot.waitUntil(lambda: any(f.path.endswith("late.icc") for f in window.session.library.found), timeout=8000)
    board._leave.click()
    board.findChild(QMenu).actions()[0].trigger()
    wait_until_settled(window)
    assert not any(f.path.startswith(str(folder)) for f in window.session.library.found)


def test_archive_dropped_on_the_window(window: Window, tmp_path: Path) -> None:
    path = tmp_path / "Harbour Rag.zip"
    with zipfile.ZipFile(path, "w") as pack:
        pack.write(demo_folder() / "profiles" / "SK24_WhiteDune_own.icc", "x/OS17_HarbourRag310_MK_2880.icc")
        pack.writestr("x/Read me.txt", "Media: cotton")
    known = next(c for c in window.session.shelf.conditions if c.made_by == "own")
    window.session.book.do("remove-condition", removes=[known])
    window.session.incoming.open_files([str(path)])
    wait_until_settled(window)
    added = window.session.shelf.conditions[-1]
    assert added.instructions.endswith("Read me.txt") and added.resolution == "2880 dpi" and added.ink == "matte black"
    assert window.stack.current_key == "paper" and window.session.now.looked == added
    assert "is new on the shelf and not chosen yet" in window.message.text


def test_two_profiles_of_different_papers_are_not_paired_by_themselves(window: Window) -> None:
    gloss = next(c for c in window.session.shelf.conditions if c.paper == "Sluice Gloss")
    window.session.takes.choose_condition(gloss)
    wait_until_settled(window)
    board = _open(window, Qt.Key.Key_X, TwoProfilesBoard)
    assert board.pair is None and "no other profile of Sluice Gloss" in board.note.text()
