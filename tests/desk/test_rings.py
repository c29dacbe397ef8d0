"""Rings along a line: heights, fillings, what is told by pointing and by keys; the check of a screen drawn with them."""

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QColor
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot
from tests.desk.conftest import hover, pixels, press, wait_until_settled

from rehearsal.core.screen.check import check_patches, patch_name
from rehearsal.desk.boards.screencheck import ScreenCheckBoard
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.checkrings import in_order
from rehearsal.desk.parts.rings import Ring, RingLine


@pytest.fixture
def line(qtbot: QtBot) -> RingLine:
    """A shown line 400 × 120 with three rings: 1 full, 2 half, 4 hatched."""
    made = RingLine("off by", "ΔE₀₀")
    qtbot.addWidget(made)
    made.resize(400, 120)
    made.show()
    red = QColor(200, 0, 0)
    made.show_rings((Ring("one", 1.0, "full"), Ring("two", 2.0, "half", red), Ring("four", 4.0, "look")), 1.0)
    return made


def test_heights_are_in_proportion_and_fillings_differ(line: RingLine) -> None:
    floor = line._line_y()
    heights = [floor - line.place(i).y() for i in range(3)]
    assert heights[1] == pytest.approx(2 * heights[0]) and heights[2] == pytest.approx(4 * heights[0])
    painted, centres = pixels(line)[..., 0], [line.place(i).toPoint() for i in range(3)]
    share = [float((painted[c.y() - 3 : c.y() + 4, c.x() - 3 : c.x() + 4] > 150).mean()) for c in centres]
    assert share[0] > 0.95 and 0.3 < share[1] < 0.8 and 0.2 < share[2] < 0.8
    swatch = pixels(line).reshape(-1, 3)
    assert ((swatch[:, 0] > 180) & (swatch[:, 1] < 20)).any(), "the thing's own colour lies under its ring"


def test_little_does_not_look_like_much(line: RingLine) -> None:
    line.show_rings((Ring("one", 0.1),), 3.0)
    assert line._line_y() - line.place(0).y() < 0.05 * line.height()


def test_what_is_told(line: RingLine) -> None:
    assert line.told() == "furthest: four, ΔE₀₀ 4.0"
    line.setFocus()
    for key, words in (
        (Qt.Key.Key_Right, "one: ΔE₀₀ 1.0"),
        (Qt.Key.Key_Right, "two: ΔE₀₀ 2.0"),
        (Qt.Key.Key_Left, "one: ΔE₀₀ 1.0"),
    ):
        QTest.keyClick(line, key)
        assert line.told() == words == line.accessibleDescription()
    line.show_rings((), 1.0)
    assert line.told() == "nothing yet"
    line.show_rings((Ring("one", float("nan")), Ring("two", 0.4)), 1.0)
    line.point_at(0)
    assert line.told() == "one: not read"


def test_deviations_lie_on_both_sides_and_dates_at_their_places(qtbot: QtBot) -> None:
    line = RingLine("white", "cd/m²", signed=True)
    qtbot.addWidget(line)
    line.resize(400, 120)
    line.show_rings((Ring("1 Nov", -2, at=1.0), Ring("4 Nov", 2, at=4.0), Ring("7 Nov", 0, at=7.0)), 2.0)
    low, high, level = (line.place(i) for i in range(3))
    assert low.y() - level.y() == pytest.approx(level.y() - high.y()) and low.y() > level.y()
    assert high.x() - low.x() == pytest.approx(level.x() - high.x())
    line.point_at(1)
    assert line.told() == "4 Nov: +2.0 cd/m²"
    line.point_at(0)
    assert line.told() == "1 Nov: −2.0 cd/m²"


def test_the_check_is_drawn_as_rings(window: Window) -> None:
    press(window, Qt.Key.Key_F2)
    board = window.boards.shown
    assert isinstance(board, ScreenCheckBoard)
    rgb, rings = check_patches(), board.view.rings
    order = in_order(rgb)
    names = [patch_name(rgb[i]) for i in order]
    assert (
        names[:3] == ["white", "grey 90 %", "grey 80 %"] and names[10:12] == ["black", "red"] and len(set(order)) == 26
    )
    assert not rings.isVisible()
    read = np.array([board.instrument().read(patch) for patch in rgb])
    at = names.index("red")
    read[order[at]] *= (0.5, 0.8, 1)
    board.take(rgb, read, "a file")
    wait_until_settled(window)
    assert rings.isVisible() and rings.told().startswith("furthest: red, ΔE₀₀")
    heights = [rings.place(i).y() for i in range(26)]
    assert int(np.argmin(heights)) == at and max(heights) - heights[at] > 30
    assert rings._rings[at].ring == "look" and rings._rings[0].ring == "full"
    hover(rings, rings.place(0).toPoint() + QPoint(3, 20))
    assert rings.told().startswith("white: ")
    assert "cd/m²" in board.history[0].told() and " K" in board.history[1].told()
    window.session.screen.forget_reading()
