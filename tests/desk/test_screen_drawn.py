"""The Screen station drawn: bars, silhouette, rails and drift against their figures, by real drags and keys."""

from datetime import date, timedelta

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLabel, QPushButton, QWidget
from pytestqt.qtbot import QtBot
from tests.desk.conftest import hover, pixels, press, wait_until_settled

from rehearsal.core.screen.drift import drift
from rehearsal.core.screen.held import Held
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.driftplot import DriftPlot
from rehearsal.desk.parts.lightscale import LightScale
from rehearsal.desk.parts.rail import Rail
from rehearsal.desk.trays.screen import KELVIN, LUX, ScreenTray


@pytest.fixture
def tray(window: Window) -> ScreenTray:
    """The Screen station, its tones known."""
    window.stack.go_to("screen")
    wait_until_settled(window)
    shown = window.stack.trays[0]
    assert isinstance(shown, ScreenTray) and window.session.inquiries.tones is not None
    return shown


def _drag(widget: QWidget, start: QPoint, end: QPoint) -> None:
    QTest.mousePress(widget, Qt.MouseButton.LeftButton, pos=start)
    for i in range(1, 5):
        hover(widget, start + (end - start) * (i / 4), Qt.MouseButton.LeftButton)
    QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, pos=end)


def test_bars_stand_in_one_scale_of_decades(tray: ScreenTray) -> None:
    scale, held = tray.scale, tray.scale.held
    assert held is not None and held.paper_contrast == pytest.approx(39, abs=1)
    decade = scale.y_of(1.0) - scale.y_of(10.0)
    assert scale.y_of(10.0) - scale.y_of(100.0) == pytest.approx(decade)
    for value in (0.3, held.paper_black, held.screen_white):
        assert scale.luminance_at(scale.y_of(value)) == pytest.approx(value, rel=1e-6)
    painted = pixels(scale)[..., 0].astype(int)
    middle = round(scale._bar(1).center().x())
    inside = painted[round(scale.y_of(held.paper_white)) + 12 : round(scale.y_of(held.paper_black)) - 2, middle]
    assert (np.diff(inside) <= 1).all() and inside[0] > inside[-1] + 60, "from white to black"
    under = painted[round(scale.y_of(held.paper_black)) + 3 : round(scale._bar(1).bottom()) - 2, middle]
    assert under.min() < under.max() - 40, "hatched where the paper holds nothing"


def test_dragging_the_papers_white_sets_the_light_and_one_undo_takes_it_back(tray: ScreenTray, window: Window) -> None:
    before, grip = window.session.screen.record, tray.scale.paper_grip
    held = tray.scale.held
    assert held is not None
    middle = grip.rect().center()
    _drag(grip, middle, middle + QPoint(0, 8))
    after = window.session.screen.record
    assert after.lux < before.lux * 0.9 and after.white == before.white
    seen = tray.scale.held
    assert seen is not None and seen.paper_white == pytest.approx(held.paper_white * after.lux / before.lux, rel=0.01)
    assert f"{seen.paper_white:.0f}" in tray._told[0][0].text()
    assert abs(grip.geometry().center().y() - tray.scale.y_of(seen.paper_white)) <= 1.5, (
        "the handle stands on its white"
    )
    window.actions_of_keys.act("undo")
    assert window.session.screen.record == before


def test_dragging_the_screens_white_and_keys(tray: ScreenTray, window: Window) -> None:
    before, grip = window.session.screen.record, tray.scale.screen_grip
    _drag(grip, grip.rect().center(), grip.rect().center() - QPoint(0, 8))
    brighter = window.session.screen.record.white
    assert brighter > before.white * 1.1 and window.session.screen.record.lux == before.lux
    grip.setFocus()
    press(window, Qt.Key.Key_Down)
    assert window.session.screen.record.white == pytest.approx(brighter / 1.01, abs=1)
    press(window, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    assert window.session.screen.record.white == pytest.approx(brighter / 1.01 / 1.08, abs=1.5)
    assert grip.accessibleName() and "cd/m²" in grip.accessibleDescription()


def test_the_silhouette_is_that_of_the_picture(tray: ScreenTray, window: Window) -> None:
    tones, scale, held = window.session.inquiries.tones, tray.scale, tray.scale.held
    assert tones is not None and held is not None and held.deeper == pytest.approx(tones.below(1 / held.paper_contrast))
    outline = tones.silhouette()
    widest = int(outline.argmax())
    y = round(scale.y_of(held.screen_white * 10 ** ((widest + 0.5) / 100 - 4)))
    middle = round((scale._bar(0).right() + scale._bar(1).left()) / 2)
    row = pixels(scale)[y, middle - 70 : middle + 70, 0].astype(int)
    grey = tray.scale.room.border
    wide = np.count_nonzero(np.abs(row - grey) < 6)
    assert wide == pytest.approx(2 * 56, abs=8), "full width where most of the picture is"


def test_rails_set_light_and_colour(tray: ScreenTray, window: Window) -> None:
    rail = tray.lux_rail
    assert LUX.at(LUX.share(320.0)) == pytest.approx(320) and KELVIN.share(2700) < KELVIN.share(6500)
    start = rail.place_of(window.session.screen.record.lux).toPoint()
    end = rail.place_of(1000.0).toPoint()
    _drag(rail, start, end)
    assert window.session.screen.record.lux == pytest.approx(1000, rel=0.03)
    rail.setFocus()
    press(window, Qt.Key.Key_Left)
    assert window.session.screen.record.lux == pytest.approx(1000 / 2 ** (1 / 6), rel=0.04), "a sixth of a doubling"
    warm = tray.kelvin_rail
    warm.setFocus()
    before = window.session.screen.record.kelvin
    press(window, Qt.Key.Key_Right)
    assert 1e6 / before - 1e6 / window.session.screen.record.kelvin == pytest.approx(5, abs=0.7), "5 mired"
    handle = pixels(warm)[round(warm.place_of(4000).y()), :, 0]
    handle[[0, 1, -2, -1]] = 0  # the frame of the focus
    shown = warm.place_of(window.session.screen.record.kelvin).x()
    assert abs(float(np.flatnonzero(handle > 220).mean()) - shown) < 1.5


def test_what_is_dragged_is_seen_before_it_is_let_go(qtbot: QtBot) -> None:
    asked: list[tuple[float, float]] = []
    scale = LightScale(lambda screen, paper: asked.append((screen, paper)))
    qtbot.addWidget(scale)
    scale.resize(380, 190)
    scale.show_held(Held(90.0, 0.09, 94.0, 2.4, 20.0), None)
    scale.show()
    told: list[float] = []
    scale.screen_set.connect(told.append)
    middle = scale.screen_grip.rect().center()
    QTest.mousePress(scale.screen_grip, Qt.MouseButton.LeftButton, pos=middle)
    hover(scale.screen_grip, middle + QPoint(0, 12), Qt.MouseButton.LeftButton)
    assert asked and asked[-1][0] < 90 and asked[-1][1] == 94.0 and told == []
    QTest.mouseRelease(scale.screen_grip, Qt.MouseButton.LeftButton, pos=middle + QPoint(0, 12))
    assert len(told) == 1


def test_a_light_whose_colour_is_not_known_has_no_handle(qtbot: QtBot) -> None:
    rail = Rail("warm", KELVIN, lambda v: f"{v:.0f} K", ((2700.0, "lamp"),))
    qtbot.addWidget(rail)
    rail.resize(200, 40)
    rail.show_value(0.0)
    empty = pixels(rail)
    rail.show_value(4000.0)
    assert (pixels(rail) != empty).any() and rail.accessibleDescription() == "4000 K"


def test_the_drift_and_the_day_it_is_due(qtbot: QtBot) -> None:
    plot, today = DriftPlot(), date(2026, 11, 27)
    qtbot.addWidget(plot)
    plot.resize(220, 150)
    read = [
        ((today - timedelta(days=d)).isoformat(), white)
        for d, white in ((37, 90.4), (30, 89.6), (23, 88.5), (14, 87.4), (9, 90.0), (2, 89.3))
    ]
    plot.show_drift(drift(read, (today - timedelta(days=9)).isoformat(), 21), 90.0, today)
    painted = pixels(plot)[..., 0]
    for day, white in ((14, 87.4), (2, 89.3)):
        at = plot.place(today - timedelta(days=day), white).toPoint()
        assert painted[at.y(), at.x()] > 200, "a ring where it was read"
    due = plot.place(today + timedelta(days=12), 90.0)
    column = painted[30:130, round(due.x()) - 1 : round(due.x()) + 2].max(axis=1)
    assert (column > 150).mean() > 0.8, "an upright at the interval's end"
    last, end = plot.place(today - timedelta(days=2), 89.3), plot.place(today + timedelta(days=12), 88.0)
    assert end.y() > last.y() and "9 Dec" in plot.accessibleDescription()
    plot.show_drift(drift(read, (today - timedelta(days=9)).isoformat(), 200, by_hours=True), 90.0, today)
    assert "again" not in plot.accessibleDescription(), "hours of light have no day"
    assert QPointF(plot.place(today, 90.0)).x() > 0


def test_a_limited_screen_is_not_limited_twice(window: Window, tray: ScreenTray) -> None:
    before = pixels(window.pair).astype(int)[40:]
    half = before.shape[1] // 2
    window.session.screen.set(limited=39.0)
    wait_until_settled(window)
    after = pixels(window.pair).astype(int)[40:]
    assert after[:, half + 20 :].mean() < before[:, half + 20 :].mean() - 1, "the print's depths are left to the screen"
    assert np.array_equal(after[:, : half - 20], before[:, : half - 20]), "the picture is shown as it was"
    assert "contrast 39 : 1" in tray._limit_words.text()
    window.actions_of_keys.act("undo")
    wait_until_settled(window)
    assert np.abs(pixels(window.pair).astype(int)[40:] - before).mean() < 0.05


def test_an_own_workbook_is_not_offered_the_simulated_meter(window: Window) -> None:
    press(window, Qt.Key.Key_F2)
    board = window.boards.shown
    assert board is not None
    simulated = next(b for b in board.findChildren(QPushButton) if "simulated" in b.text())
    assert simulated.isVisible(), "the demo's own screen"
    window.session.screen.set(source="chosen", profile_path="")
    assert not simulated.isVisible()


def test_a_press_without_a_move_changes_nothing(tray: ScreenTray, window: Window) -> None:
    window.session.screen.set(white=89.2, lux=5000.0, kelvin=4030.0)
    before = window.session.screen.record
    for grip in (tray.scale.screen_grip, tray.scale.paper_grip):
        QTest.mouseClick(grip, Qt.MouseButton.LeftButton, pos=grip.rect().center())
    for rail in (tray.lux_rail, tray.kelvin_rail):
        at = rail.place_of(rail.value)
        QTest.mouseClick(rail, Qt.MouseButton.LeftButton, pos=QPoint(round(at.x()) + 3, round(at.y())))
    assert window.session.screen.record == before
    tray.lux_rail.setFocus()
    press(window, Qt.Key.Key_Right)
    assert window.session.screen.record.lux == 5000, "beyond the rail's end a step outward never turns back"
    press(window, Qt.Key.Key_Left)
    assert window.session.screen.record.lux == pytest.approx(5000 / 2 ** (1 / 6), rel=0.01)


def test_the_caution_about_lamps_is_on_the_screen(tray: ScreenTray) -> None:
    words = [label for label in tray.findChildren(QLabel) if "Lamps get hot" in label.text()]
    assert words and words[0].isVisible()
    assert words[0].height() >= words[0].heightForWidth(words[0].width())
