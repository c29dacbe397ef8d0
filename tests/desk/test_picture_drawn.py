"""The Picture station drawn: the print on its sheet, frames by distance, bars; read back by pixels and kept values."""

from collections.abc import Callable

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QComboBox, QDoubleSpinBox, QWidget
from pytestqt.qtbot import QtBot
from tests.desk.conftest import hover, pixels, press, wait_until_settled

from rehearsal.core.picture.arrived import good_for
from rehearsal.core.picture.reduce import sharp_from, wanted_ppi
from rehearsal.core.sheet.onsheet import borders_mm, holds
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.bars import Bar, Bars
from rehearsal.desk.trays.picture import PictureTray
from rehearsal.workbook.values import Take


@pytest.fixture
def tray(window: Window) -> PictureTray:
    """The Picture station, settled."""
    window.stack.go_to("picture")
    wait_until_settled(window)
    shown = window.stack.trays[1]
    assert isinstance(shown, PictureTray)
    return shown


def _field(tray: QWidget, name: str) -> QDoubleSpinBox:
    return next(f for f in tray.findChildren(QDoubleSpinBox) if f.accessibleName() == name)


def _choose(tray: QWidget, name: str, words: str) -> None:
    box = next(b for b in tray.findChildren(QComboBox) if b.accessibleName() == name)
    index = box.findText(words)
    box.setCurrentIndex(index)
    box.activated.emit(index)


def test_the_drawing_is_to_scale(tray: PictureTray, take: Callable[[], Take]) -> None:
    size, drawing = take().frame.size, tray.drawing
    assert size is not None and (size.width_cm, size.height_cm) == (39.0, 26.0) and take().sheet.name == "A3+"
    sheet, box = drawing.sheet_rect(), drawing.print_rect()
    assert box.width() / sheet.width() == pytest.approx(39 / 48.3, abs=0.005)
    assert box.height() / sheet.height() == pytest.approx(26 / 32.9, abs=0.005)
    assert box.center() == sheet.center()
    painted = pixels(drawing).astype(int)
    white = painted[round(sheet.center().y()), round(sheet.left()) + 4]
    inside = painted[round(box.top()) + 4 : round(box.bottom()) - 4, round(box.left()) + 4 : round(box.right()) - 4]
    assert np.ptp(white) == 0 and white[0] > 200 and np.ptp(inside, axis=2).max() > 60, "paper round a coloured picture"
    assert "46" in drawing.accessibleDescription() and "34" in drawing.accessibleDescription()


def test_dragging_the_prints_edge_sets_the_border_in_one_step(
    tray: PictureTray, window: Window, take: Callable[[], Take]
) -> None:
    before, drawing = take(), tray.drawing
    box = drawing.print_rect()
    start = QPointF(box.left(), box.center().y()).toPoint()
    QTest.mousePress(drawing, Qt.MouseButton.LeftButton, pos=start)
    hover(drawing, start + QPoint(8, 0), Qt.MouseButton.LeftButton)
    assert take() == before and drawing.print_rect().width() < box.width() - 10, "seen, not yet kept"
    hover(drawing, start + QPoint(12, 0), Qt.MouseButton.LeftButton)
    QTest.mouseRelease(drawing, Qt.MouseButton.LeftButton, pos=start + QPoint(12, 0))
    size = take().frame.size
    assert size is not None and size.width_cm < 36 and size.width_cm / size.height_cm == pytest.approx(1.5, abs=0.01)
    assert take().frame.crop == before.frame.crop, "the border never crops"
    window.actions_of_keys.act("undo")
    assert take().frame == before.frame and take().sheet == before.sheet
    drawing.setFocus()
    press(window, Qt.Key.Key_Down)
    smaller = take().frame.size
    assert smaller is not None and min(borders_mm(smaller, "A3+")) == pytest.approx(35.5, abs=0.6)


def test_a_common_size_picks_its_sheet_and_a_border_never_leaves_it(
    tray: PictureTray, take: Callable[[], Take]
) -> None:
    _choose(tray, "When proportions differ", "keep the whole picture")
    _field(tray, "Width").setValue(59)
    size = take().frame.size
    assert size is not None and size.width_cm == pytest.approx(59) and take().sheet.name == "A2" and holds("A2", size)
    _choose(tray, "Sheet", "A4")
    size = take().frame.size
    assert size is not None and take().sheet.name == "A4" and holds("A4", size)
    _field(tray, "Border").setValue(15)
    size = take().frame.size
    assert size is not None and min(borders_mm(size, "A4")) == pytest.approx(15, abs=0.3)
    _field(tray, "Border").setValue(400)
    size = take().frame.size
    assert size is not None and holds("A4", size) and min(size.width_cm, size.height_cm) > 0
    _choose(tray, "Common sizes", "40 × 30 cm")
    assert take().sheet.name == "A3" and take().frame.size is not None


def test_frames_by_distance_are_to_one_scale_and_the_print_is_among_them(
    tray: PictureTray, take: Callable[[], Take]
) -> None:
    frames, size = tray.frames, take().frame.size
    assert size is not None
    sizes = good_for(210, 140, (60.0, 100.0, 200.0))
    assert [g.distance_cm for g in frames._sizes] == [60, 100, 200]
    assert frames._sizes[0].width_cm == pytest.approx(sizes[0].width_cm)
    boxes = [frames.frame(g.width_cm, g.height_cm) for g in frames._sizes]
    mine = frames.frame(size.width_cm, size.height_cm)
    assert {(round(b.left()), round(b.bottom())) for b in (*boxes, mine)} == {
        (round(mine.left()), round(mine.bottom()))
    }
    assert boxes[2].width() / boxes[1].width() == pytest.approx(2, abs=0.02)
    assert mine.width() / boxes[2].width() == pytest.approx(size.width_cm / sizes[2].width_cm, abs=0.02)
    painted = pixels(frames)
    edge = painted[round(mine.top()) + 6 : round(mine.bottom()) - 6, round(mine.right())]
    assert edge.min() > 200, "the print is the strong frame"
    assert "all the eye can use from" in tray._good.text() and "enlarged" in tray._good.text()


def test_from_where_a_print_is_sharp() -> None:
    # at one minute of arc 195 ppi are all an eye can use from 45 cm (195 · 45 · tan 1′ = 2.55 cm)
    assert sharp_from(195.0) == pytest.approx(44.8, abs=0.1)
    assert wanted_ppi(sharp_from(240.0)) == pytest.approx(240)


def test_bars_are_as_long_as_their_figures(qtbot: QtBot) -> None:
    bars = Bars("found", 10.0)
    qtbot.addWidget(bars)
    bars.show_bars((Bar("one", 5.0, "5.0 %"), Bar("none", 0.0, "0 %"), Bar("more", 40.0, "40 %")))
    bars.resize(200, bars.sizeHint().height())
    painted = pixels(bars)[..., 0].astype(int)
    light = bars.room.text
    lengths = [int((painted[round(bars.track(i).center().y())] == light).sum()) for i in range(3)]
    assert lengths[0] == pytest.approx(100, abs=1) and lengths[1] == 0 and lengths[2] == 200
    assert bars.accessibleDescription() == "one: 5.0 %; none: 0 %; more: 40 %"


def test_what_was_found_stands_in_the_bars(tray: PictureTray, window: Window) -> None:
    arrival, judged = window.session.inquiries.arrival, window.session.judging.beyond_screen
    assert arrival is not None and judged is not None
    shown = {bar.name: bar.value for bar in tray.bars._bars}
    assert (
        shown["does not fit into sRGB"] == arrival.beyond_spaces["sRGB"] and shown["lies beyond this screen"] == judged
    )
