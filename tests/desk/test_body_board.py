"""The turning body in the window: turned by mouse and keys, read back by its pixels, tied both ways to the picture."""

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox
from tests.desk.conftest import hover, pixels, press, wait_until_settled

from rehearsal.core.papers.body import Bins, pixels_near, seen_from
from rehearsal.desk.boards.reach import ReachBoard
from rehearsal.desk.boards.terraces import Terrace
from rehearsal.desk.frame.window import Window
from rehearsal.desk.words import lab_colour


@pytest.fixture
def board(window: Window) -> ReachBoard:
    """The reach with the body chosen from its list."""
    press(window, Qt.Key.Key_C)
    wait_until_settled(window)
    shown = window.boards.shown
    assert isinstance(shown, ReachBoard) and not shown.shows_body
    box = next(c for c in shown.findChildren(QComboBox) if c.accessibleName() == "Show the reach as")
    index = box.findText("turning body")
    box.setCurrentIndex(index)
    box.activated.emit(index)
    wait_until_settled(window)
    assert shown.shows_body and shown.body.isVisible() and not shown.plot.isVisible()
    return shown


def _front(board: ReachBoard) -> int:
    """A colour of the picture with nothing of it in front, well apart from the others, and not behind a terrace."""
    bins, shown = board.body.bins, board.body.shown_bins()
    assert bins is not None and 10 < len(shown) < len(bins.count)
    seen = seen_from(bins.centre, board.body.turn, board.body.tilt)
    gap = np.linalg.norm(seen[:, None, :2] - seen[None, :, :2], axis=-1)
    np.fill_diagonal(gap, np.inf)
    return int(shown[np.argmax((gap.min(axis=1) + 0.01 * bins.count)[shown])])


def test_the_mouse_turns_it(board: ReachBoard) -> None:
    before, (turn, tilt) = pixels(board.body), (board.body.turn, board.body.tilt)
    middle = board.body.rect().center()
    QTest.mousePress(board.body, Qt.MouseButton.LeftButton, pos=middle)
    hover(board.body, middle + QPoint(-60, 20), Qt.MouseButton.LeftButton)
    QTest.mouseRelease(board.body, Qt.MouseButton.LeftButton, pos=middle + QPoint(-60, 20))
    assert board.body.turn == pytest.approx((turn + 30) % 360) and board.body.tilt == pytest.approx(tilt + 8)
    assert board.body.chosen is None, "turning chooses nothing"
    assert np.abs(pixels(board.body).astype(int) - before).mean() > 2
    assert "turned by" in board.body.accessibleDescription()


def test_keys_turn_and_tilt_it_back(board: ReachBoard, window: Window) -> None:
    board.body.setFocus()
    assert QApplication.focusWidget() is board.body
    before, start = pixels(board.body), (board.body.turn, board.body.tilt)
    for key in (Qt.Key.Key_Left, Qt.Key.Key_Up):
        press(window, key)
    assert (board.body.turn, board.body.tilt) == (start[0] + 6, start[1] + 6)
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Down):
        press(window, key)
    np.testing.assert_array_equal(pixels(board.body), before)
    for _ in range(40):
        press(window, Qt.Key.Key_Up)
    assert board.body.tilt == 90, "no further than from above"


def test_shift_and_arrows_walk_from_colour_to_colour(board: ReachBoard, window: Window) -> None:
    board.body.setFocus()
    shift, bins = Qt.KeyboardModifier.ShiftModifier, board.body.bins
    assert bins is not None
    press(window, Qt.Key.Key_Right, shift)
    first = board.body.chosen
    assert first is not None and window.pair.marks.has_mask
    for key, axis, sign in ((Qt.Key.Key_Right, 0, 1), (Qt.Key.Key_Up, 1, 1), (Qt.Key.Key_Left, 0, -1)):
        before = seen_from(bins.centre[board.body.chosen], board.body.turn, board.body.tilt)
        press(window, key, shift)
        after = seen_from(bins.centre[board.body.chosen], board.body.turn, board.body.tilt)
        assert sign * (after[axis] - before[axis]) > 0 and "of the picture" in board.note.text()
    for _ in range(200):
        press(window, Qt.Key.Key_Down, shift)
    last = board.body.chosen
    press(window, Qt.Key.Key_Down, shift)
    assert board.body.chosen == last, "it stays at the end"


def test_colours_are_painted_where_they_are(board: ReachBoard) -> None:
    which = _front(board)
    bins = board.body.bins
    assert bins is not None
    at = board.body.place(bins.centre[which])
    painted = pixels(board.body)
    x, y = round(at.x()), round(at.y())
    found = (
        painted[y - 1 : y + 2, x - 1 : x + 2].reshape(-1, 3).astype(int)
    )  # a dot may be so small that its rim tints its middle
    assert np.abs(found - lab_colour(tuple(bins.centre[which]))).max(axis=1).min() < 25
    # the ground is neutral, and the body stays inside it
    assert (painted[2, 2] == painted[-3, -3]).all() and np.ptp(painted[2, 2]) == 0
    board.body.look_from(0, 90)
    inside = board.body.rect()
    assert all(inside.contains(board.body.place(lab).toPoint()) for lab in bins.centre)


def test_a_click_shows_the_pixels(board: ReachBoard, window: Window) -> None:
    which = _front(board)
    bins, reach = board.body.bins, board._reach
    assert bins is not None and reach is not None
    before = pixels(window.pair)
    QTest.mouseClick(board.body, Qt.MouseButton.LeftButton, pos=board.body.place(bins.centre[which]).toPoint())
    assert board.body.chosen == which and window.pair.marks.has_mask
    mask = pixels_near(reach.lab, bins.centre[which])
    assert f"{mask.mean() * 100:.2f} % of the picture" in board.note.text()
    assert ("beyond by" in board.note.text()) == (float(np.median(reach.delta[mask])) > 1.5)
    assert np.abs(pixels(window.pair).astype(int) - before).mean() > 3, "the others are veiled"
    said = board.note.text()
    board.slider.setValue(board.slider.value() - 10)
    assert board.note.text() == said, "another slice does not end the choice"
    QTest.mouseClick(board.body, Qt.MouseButton.LeftButton, pos=QPoint(4, 4))
    assert board.body.chosen is None and not window.pair.marks.has_mask
    np.testing.assert_array_equal(pixels(window.pair), before)


def test_pointing_at_the_picture_marks_its_place(board: ReachBoard, window: Window) -> None:
    placed = window.pair.placing.placed(1)
    assert placed is not None
    at = placed.picture.topLeft() + QPointF(0.36 * placed.picture.width(), 0.4 * placed.picture.height())
    before = pixels(board.body)
    hover(window.pair, at.toPoint())
    lab = board.body.pointed
    assert lab is not None and board.body.level == round(float(lab[0]))
    place, painted = board.body.place(lab), pixels(board.body)
    ring = [
        max(painted[round(place.y() + r * np.sin(t)), round(place.x() + r * np.cos(t))].min() for r in (6.5, 7.0, 7.5))
        for t in np.linspace(0, 2 * np.pi, 24)
    ]
    assert np.mean(np.array(ring) > 150) > 0.6, "a white circle around the place"
    assert (painted != before).any()


def test_the_slider_marks_a_ring_and_papers_are_laid_over(board: ReachBoard, window: Window) -> None:
    board.slider.setValue(70)
    high = pixels(board.body)
    board.slider.setValue(30)
    low = pixels(board.body)
    changed = np.argwhere(np.abs(high.astype(int) - low).max(axis=2) > 60)
    assert len(changed) > 100, "another ring is white"
    alone = len(board.body._others)
    other = next(c for c in window.session.shelf.conditions if c.paper == "Sluice Gloss")
    board.choose_other(other.id)
    wait_until_settled(window)
    assert len(board.body._others) > alone > 0
    board._screen.setChecked(False)
    board.choose_other(0)
    wait_until_settled(window)
    assert not board.body._others


def test_back_to_slices_and_another_paper(board: ReachBoard, window: Window) -> None:
    gloss = next(c for c in window.session.shelf.conditions if c.paper == "Sluice Gloss")
    before = board.body.bins
    assert before is not None
    window.session.takes.choose_condition(gloss)
    wait_until_settled(window)
    assert board.shows_body and board.body.bins is not None
    assert (board.body.bins.count * board.body.bins.beyond).sum() != (before.count * before.beyond).sum()
    board.show_body(False)
    assert board.plot.isVisible() and "Click a square" in board.note.text()


def test_the_paper_is_built_up_to_the_slice_and_hides_what_lies_behind(board: ReachBoard) -> None:
    board.slider.setValue(60)
    body = board.body
    assert body.bins is not None
    light, shown = body.bins.centre[:, 0], set(body.shown_bins().tolist())
    assert not [i for i in shown if light[i] >= 60] and [i for i in shown if light[i] < 40]
    plate = pixels(body)[
        round(body.place(np.array([60.0, 0, 0])).y()) + 6, round(body.place(np.array([60.0, 0, 0])).x()) + 9
    ]
    ground = pixels(body)[2, 2]
    assert plate.min() > ground.max() + 8 and np.ptp(plate.astype(int)) == 0, "the plate covers the middle"
    body.look_from(30, 90)
    inside = [
        i
        for i in range(len(light))
        if light[i] < 30 and body.bins.beyond[i] == 0 and np.hypot(*body.bins.centre[i, 1:]) < 20
    ]
    assert inside and not set(inside) & set(body.shown_bins().tolist()), "from above the plate hides the darks"


def test_a_terrace_faces_the_eye_whichever_way_its_ring_runs() -> None:
    turn = np.linspace(0, 2 * np.pi, 37)
    ring = np.column_stack([np.full(37, 50.0), 40 * np.cos(turn), 40 * np.sin(turn)])

    def seen(lab: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        made = seen_from(lab, 0, 20)
        return made[:, :2] * (1, -1), made[:, 2]

    for walked in (ring, ring[::-1]):
        terrace = Terrace.of(walked)
        _quads, facing, near = terrace._sides(seen, 52.5)
        assert len(near) == 18 and (0.5 * (walked[:-1, 2] + walked[1:, 2])[near] < 0).all(), "b* points away at turn 0"
        assert facing[near].max() == pytest.approx(1, abs=0.01)
    assert not terrace.outline(seen, 52.5).contains(QPointF(0, -60)) and terrace.outline(seen, 52.5).contains(
        QPointF(0, 0)
    )


def test_what_is_darker_than_the_papers_black_is_seen_beside_the_terraces(board: ReachBoard) -> None:
    body = board.body
    assert body.bins is not None
    first = min(t.level for t in body._terraces)
    dark = Bins(
        np.array([[first - 8.0, 30.0, -60.0], [first - 8.0, 0.0, 0.0]]), np.array([50, 50]), np.array([1.0, 1.0])
    )
    body.show_bins(dark)
    assert body.shown_bins().tolist() == [0], "the other lies under the lowest terrace"
    at = body.place(dark.centre[0])
    found = pixels(body)[round(at.y()), round(at.x())].astype(int)
    assert np.abs(found - lab_colour(tuple(dark.centre[0]))).max() < 30 and body.bin_at(at) == 0
