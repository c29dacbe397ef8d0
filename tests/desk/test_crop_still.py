"""The crop whose frame stays, and prints larger than their sheets."""

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QRectF, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot
from tests.desk.conftest import hover, pixels

from rehearsal.core.proof.inside import Inside
from rehearsal.core.values.frame import Crop, PrintSize
from rehearsal.desk.boards.twoprofiles import inside_frames
from rehearsal.desk.pair.geometry import Zoom, place
from rehearsal.desk.parts.framedpicture import Frame, FramedPicture
from rehearsal.desk.parts.goodfor import distance_words
from rehearsal.desk.parts.images import rgb_image
from rehearsal.desk.parts.sheetdrawing import SheetDrawing
from rehearsal.desk.parts.stillcrop import StillCrop


def _gradient(width: int = 300, height: int = 200) -> QImage:
    """Red tells x, green tells y."""
    rgb = np.zeros((height, width, 3), np.uint8)
    rgb[..., 0] = np.linspace(0, 255, width).astype(np.uint8)
    rgb[..., 1] = np.linspace(0, 255, height).astype(np.uint8)[:, None]
    return rgb_image(rgb)


def test_the_frame_stays_and_the_picture_moves(qtbot: QtBot) -> None:
    made, told, moving = StillCrop(), [], []
    qtbot.addWidget(made)
    made.resize(320, 220)
    made.crop_set.connect(told.append)
    made.moving.connect(moving.append)
    made.show_crop(_gradient(), (3000, 2000), Crop(0.2, 0.3, 0.5, 0.5))
    made.show()
    frame, middle = made.frame_rect(), made.rect().center()
    assert frame.width() / frame.height() == pytest.approx(1.5) and frame.center().x() == pytest.approx(160, abs=1)
    seen = pixels(made)[middle.y(), middle.x()].astype(int)
    assert abs(seen[0] - 255 * 0.45) < 5 and abs(seen[1] - 255 * 0.55) < 5, "the middle of the crop lies in the middle"
    wide = made.picture_rect().width()
    QTest.mousePress(made, Qt.MouseButton.LeftButton, pos=middle)
    for i in range(1, 5):
        hover(made, middle + QPoint(15 * i, 0), Qt.MouseButton.LeftButton)
    assert made.frame_rect() == frame and moving, "only the picture moves"
    QTest.mouseRelease(made, Qt.MouseButton.LeftButton, pos=middle + QPoint(60, 0))
    assert len(told) == 1 and told[0].x == pytest.approx(0.2 - 60 / wide, abs=0.01) and told[0].y == 0.3
    assert (told[0].width, told[0].height) == (0.5, 0.5)
    QTest.mouseClick(made, Qt.MouseButton.LeftButton, pos=middle)
    assert len(told) == 1, "no change without a move"
    made.setFocus()
    QTest.keyClick(made, Qt.Key.Key_Right)
    assert told[-1].x == pytest.approx(told[0].x - 0.02, abs=1e-6), "the picture goes to the right"
    QTest.keyClick(made, Qt.Key.Key_Plus)
    assert told[-1].width < 0.5 and told[-1].width / told[-1].height == pytest.approx(1)
    row = pixels(made)[middle.y(), :, 2]
    assert row[round(frame.left()) - 6] > 20 and row[round(frame.left()) + 6] == 0, "what is cut off is veiled"


def test_a_print_larger_than_its_sheet_has_no_border(qtbot: QtBot) -> None:
    drawing = SheetDrawing()
    qtbot.addWidget(drawing)
    drawing.resize(260, 170)
    drawing.show_print(PrintSize(59, 39.3), "A3+", _gradient())
    sheet = drawing.sheet_rect()
    assert "54 mm cut off" in drawing.accessibleDescription() and "32 mm cut off" in drawing.accessibleDescription()
    row = pixels(drawing)[round(sheet.center().y()), round(sheet.left()) + 2 : round(sheet.right()) - 2]
    assert (row[:, 2] < 60).all(), "no white of a paper is left to be seen"
    left_of_it = pixels(drawing)[round(sheet.center().y()) - 20, 2 : round(sheet.left()) - 2]
    assert (np.ptp(left_of_it, axis=1) == 0).all(), "and nothing of it lies beside the sheet"
    drawing.show_print(PrintSize(39, 26), "A3+", _gradient())
    assert "46 mm" in drawing.accessibleDescription() and "cut" not in drawing.accessibleDescription()


def test_the_pair_draws_no_border_that_cannot_exist() -> None:
    pane = QRectF(0, 0, 600, 400)
    larger = place(pane, 3000, 2000, Zoom(), (0.8, 0.84))
    assert larger.mount.width() == pytest.approx(larger.picture.width(), abs=1)
    assert larger.mount.height() == pytest.approx(larger.picture.height(), abs=1)
    only_high = place(pane, 3000, 2000, Zoom(), (1.2, 0.9))
    assert only_high.mount.width() == pytest.approx(1.2 * only_high.picture.width(), abs=1)
    assert only_high.mount.height() == pytest.approx(only_high.picture.height(), abs=1)
    assert place(pane, 3000, 2000, Zoom()).mount.width() > place(pane, 3000, 2000, Zoom()).picture.width()


def test_areas_that_come_inside_are_named_once(qtbot: QtBot) -> None:
    areas = (
        Inside("blue", 3.0, (0.1, 0.1, 0.3, 0.2)), Inside("blue", 1.0, (0.5, 0.1, 0.2, 0.2)),
        Inside("orange", 0.5, (0.2, 0.6, 0.01, 0.01)),
    )  # fmt: skip
    frames = inside_frames(areas, "dashed")
    assert [f.words for f in frames] == ["blue 4.0 %", "", "orange 0.5 %"]
    made = FramedPicture("areas")
    qtbot.addWidget(made)
    made.resize(300, 200)
    made.show_frames(np.full((200, 300, 3), 90, np.uint8), frames)
    assert made.accessibleDescription() == "blue 4.0 %; orange 0.5 %"
    box = made.frame_rect(frames[0])
    assert (box.x(), box.y(), box.width(), box.height()) == pytest.approx((30, 20, 90, 40))
    assert made.frame_rect(frames[2]).width() == 12, "none is too small to be seen"
    painted = pixels(made)[..., 0].astype(int)
    foot = painted[round(box.bottom()), round(box.left()) : round(box.right())]
    assert (foot > 180).mean() > 0.4 and (foot < 60).any(), "dashes"
    one, two = made.label_rects()
    assert not one.intersects(two)
    twice = (Frame(areas[0].box, "a", "solid"), Frame(areas[0].box, "b", "solid"))
    made.show_frames(np.full((200, 300, 3), 90, np.uint8), twice)
    one, two = made.label_rects()
    assert not one.intersects(two), "words lie beside each other"


def test_distances_are_rounded() -> None:
    assert [distance_words(cm) for cm in (60, 99.6, 112.682, 200)] == ["60 cm", "1 m", "1.1 m", "2 m"]
