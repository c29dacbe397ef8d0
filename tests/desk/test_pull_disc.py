"""A colour pulled on the disc: the paper's edge stops it, Shift pushes, and the picture is moved by what was dragged."""

from collections.abc import Callable

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot
from tests.desk.conftest import hover, pixels, wait_until_settled

from rehearsal.core.icc import Profile
from rehearsal.core.tuning.pulling import ends, inside, lab_of, polar, pull_at, towards
from rehearsal.core.values.recipe import AREA
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.pulldisc import PullDisc
from rehearsal.desk.trays.tune import TuneTray
from rehearsal.tasks.scouting import Body, body_of
from rehearsal.workbook.values import Take

ORANGE = np.array([55.0, 60.0, 70.0])
INSIDE = np.array([60.0, 15.0, 20.0])


@pytest.fixture(scope="module")
def body(dune: Profile) -> Body:
    """The smooth matte cotton's body."""
    return body_of(dune)


def test_ways_between_the_spaces() -> None:
    np.testing.assert_allclose(lab_of(*polar(ORANGE)), ORANGE, atol=1e-4)
    pull = pull_at(ORANGE)
    assert not pull.acts and "orange" in pull.name
    np.testing.assert_allclose(ends(towards(pull, INSIDE))[1], INSIDE, atol=0.05)
    turned = towards(pull_at(lab_of(0.6, 0.1, 350.0)), lab_of(0.6, 0.1, 10.0)).turned
    assert turned == pytest.approx(20, abs=0.05), "the short way round"


def test_strength_gives_way_first(body: Body) -> None:
    held = towards(pull_at(INSIDE), INSIDE + np.array([2, 3, 3]))
    assert inside(held, body.solid) == held, "what the paper holds is left alone"
    wanted = towards(pull_at(INSIDE), np.array([60.0, 70.0, 80.0]))
    stopped = inside(wanted, body.solid)
    assert stopped.stronger < wanted.stronger and (stopped.lighter, stopped.turned) == (wanted.lighter, wanted.turned)
    assert body.solid.contains(ends(stopped)[1])
    further = towards(stopped, ends(stopped)[1] * [1, 1.06, 1.06])
    assert not body.solid.contains(ends(further)[1]), "no further in than the edge"


def test_then_lightness_gives_way(body: Body) -> None:
    black = towards(pull_at(INSIDE), np.array([5.0, 4.0, 4.0]))
    stopped = inside(black, body.solid)
    light = ends(stopped)[1]
    assert body.solid.contains(light) and light[0] == pytest.approx(18, abs=3) and stopped.lighter > black.lighter


@pytest.fixture
def disc(qtbot: QtBot, body: Body) -> PullDisc:
    """A disc with a colour inside the paper."""
    made = PullDisc()
    qtbot.addWidget(made)
    made.resize(240, 190)
    made.show_pull(pull_at(INSIDE), body, np.array([INSIDE, ORANGE]))
    made.show()
    return made


def _pull(disc: PullDisc, to: QPointF, push: bool = False) -> None:
    assert disc.pull is not None
    start = disc.place(ends(disc.pull)[1]).toPoint()
    QTest.mousePress(disc, Qt.MouseButton.LeftButton, pos=start)
    way = to.toPoint() - start
    for i in range(1, 5):
        if push:
            from PyQt6.QtCore import QEvent
            from PyQt6.QtGui import QMouseEvent
            from PyQt6.QtWidgets import QApplication

            at = QPointF(start + way * (i / 4))
            left, none = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
            shift = Qt.KeyboardModifier.ShiftModifier
            QApplication.sendEvent(disc, QMouseEvent(QEvent.Type.MouseMove, at, at, none, left, shift))
        else:
            hover(disc, start + way * (i / 4), Qt.MouseButton.LeftButton)
    QTest.mouseRelease(disc, Qt.MouseButton.LeftButton, pos=start + way)


def test_the_dot_follows_and_stops_at_the_papers_edge(disc: PullDisc, body: Body) -> None:
    told: list = []
    disc.set_to.connect(told.append)
    target = INSIDE + np.array([0, 6, -5])
    _pull(disc, disc.place(target))
    np.testing.assert_allclose(ends(told[-1])[1], target, atol=1.5)
    spot = disc.place(ends(told[-1])[1])
    shown = pixels(disc)[round(spot.y()), round(spot.x())].astype(int)
    assert shown[0] > shown[2] + 15, "the dot has its colour"
    _pull(disc, disc.place(np.array([60.0, 90.0, 90.0])))
    assert body.solid.contains(ends(told[-1])[1]) and np.hypot(*ends(told[-1])[1][1:]) < 90
    _pull(disc, disc.place(np.array([60.0, 70.0, 60.0])), push=True)
    assert not body.solid.contains(ends(told[-1])[1]), "pushed past it"
    count = len(told)
    QTest.mouseClick(disc, Qt.MouseButton.LeftButton, pos=disc.place(ends(told[-1])[1]).toPoint())
    assert len(told) == count, "no change without a move"


def test_the_rail_and_the_keys(disc: PullDisc) -> None:
    told: list = []
    disc.set_to.connect(told.append)
    rail = disc.level(70.0).toPoint()
    QTest.mousePress(disc, Qt.MouseButton.LeftButton, pos=disc.level(60.0).toPoint())
    hover(disc, rail, Qt.MouseButton.LeftButton)
    QTest.mouseRelease(disc, Qt.MouseButton.LeftButton, pos=rail)
    assert ends(told[-1])[1][0] == pytest.approx(70, abs=1)
    disc.setFocus()
    before = ends(told[-1])[1]
    QTest.keyClick(disc, Qt.Key.Key_Right)
    np.testing.assert_allclose(ends(told[-1])[1] - before, [0, 1, 0], atol=0.06)
    QTest.keyClick(disc, Qt.Key.Key_Backspace)
    assert not told[-1].acts
    assert disc.accessibleDescription().startswith("picture L* 60, a* +15, b* +20; becomes L* 60")


def test_pointed_at_in_the_picture_and_pulled(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go_to("tune")
    wait_until_settled(window)
    tray = window.stack.trays[4]
    assert isinstance(tray, TuneTray)
    tray.bring_forward(next(c for c in tray._columns if c.title == "A colour pulled"))
    tray.pulls._point.click()
    seen = window.pair.placing.placed(0).visible
    at = QPoint(round(seen.x() + seen.width() * 0.31), round(seen.y() + seen.height() * 0.5))
    QTest.mouseClick(window.pair, Qt.MouseButton.LeftButton, pos=at)
    wait_until_settled(window)
    pull = tray.pulls.disc.pull
    assert pull is not None and take().recipe.total.pulled == (), "pointed at it is no change yet"
    assert "orange" in pull.name and not pull.acts and not window.pair.state.picking
    before = pixels(window.pair).astype(int)
    two = ends(pull)[1]
    _pull(tray.pulls.disc, tray.pulls.disc.place(two + np.array([0, -25, 10])))
    wait_until_settled(window)
    assert take().recipe.total.pulled[0].acts
    change = np.abs(pixels(window.pair).astype(int) - before).max(axis=2)
    right = window.pair.placing.placed(1).visible
    cloth = change[round(right.y() + right.height() * 0.5), round(right.x() + right.width() * 0.31)]
    blue = change[round(right.y() + right.height() * 0.5), round(right.x() + right.width() * 0.13)]
    assert cloth > 8 and blue == 0, "outside its window the picture does not move at all"
    window.actions_of_keys.act("undo")
    assert take().recipe.total.pulled == ()
    wait_until_settled(window)
    _choose_area(tray)
    wait_until_settled(window)
    assert take().recipe.steps == () and tray.pulls.disc.pull is not None
    two = ends(tray.pulls.disc.pull)[1]
    _pull(tray.pulls.disc, tray.pulls.disc.place(two + np.array([0, -12, -12])))
    (step,) = take().recipe.steps
    assert step.origin == AREA and len(step.values.pulled) == 1, "taken from an area it is a step of its own"
    assert step.values.pulled[0].acts and tray.ledger.rows[0].step == step
    tray.pulls._point.click()
    sky = QPoint(round(seen.x() + seen.width() * 0.9), round(seen.y() + seen.height() * 0.4))
    QTest.mouseClick(window.pair, Qt.MouseButton.LeftButton, pos=sky)
    assert len(take().recipe.total.pulled) == 1 and "grey" in window.message.text


def _choose_area(tray: TuneTray) -> None:
    assert tray.pulls._from_area.count() > 1
    tray.pulls._from_area.setCurrentIndex(1)
    tray.pulls._from_area.activated.emit(1)
