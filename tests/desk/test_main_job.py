"""From files dropped on the window to the print file: the main job on an own photograph, and files that are none."""

from collections.abc import Callable
from pathlib import Path

import pytest
from PIL import Image
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtTest import QTest
from skimage import data as photographs
from tests.conftest import PRESS
from tests.desk.conftest import press, wait_until_settled
from tests.desk.test_window import _amount, _click

from rehearsal.core.values.frame import PrintSize
from rehearsal.desk.boards.verdict import VerdictBoard
from rehearsal.desk.frame.window import Window
from rehearsal.workbook.values import Take


def _drop(window: Window, *paths: Path) -> None:
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(p)) for p in paths])
    event = QDropEvent(
        QPointF(300, 300), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    window.dropEvent(event)


def test_a_real_photograph_through_the_main_job(window: Window, take: Callable[[], Take], tmp_path: Path) -> None:
    # an open photograph from scikit-image (CC0), dropped on the window, on a real press profile (libgs-common)
    path = tmp_path / "coffee.jpg"
    Image.fromarray(photographs.coffee()).reduce(2).save(path, quality=95)
    _drop(window, path)
    wait_until_settled(window)
    assert window.session.now.master is not None and window.session.now.master.name == "coffee"
    assert window.session.now.picture is not None and window.session.now.picture.picture.info.assumed
    assert window.ribbon.buttons[1].state.ring in ("half", "look")
    _drop(window, PRESS)
    wait_until_settled(window)
    condition = window.session.shelf.conditions[-1]
    window.session.takes.choose_condition(condition)
    wait_until_settled(window)
    assert window.session.judging.judgement is not None and 0 < window.session.judging.judgement.beyond.share < 60
    window.session.takes.change_frame(size=PrintSize(15.0, 10.0))
    window.session.takes.change_sheet(name="A4")
    window.stack.go(4)
    _amount(window, "Strength").setFocus()
    press(window, Qt.Key.Key_Up)
    wait_until_settled(window)
    out = tmp_path / "coffee-print.tif"
    window.stack.go(6)
    window.stack.sheet.write_to(out)
    wait_until_settled(window)
    QTest.qWait(100)
    with Image.open(out) as image:
        assert image.mode == "CMYK" and image.size == (1772, 1181)
    window.stack.go(7)
    board = window.boards.shown
    assert isinstance(board, VerdictBoard)
    _click(board.verdicts["usable"])
    assert window.session.logbook.entries[-1].picture == "coffee"


@pytest.mark.parametrize(
    ("name", "content", "words"),
    [("a.tif", b"text", "not a TIFF, JPEG or PNG picture"), ("b.jpg", b"", "empty"), ("c.icc", b"x" * 300, "profile")],
)
def test_bad_files_dropped(name: str, content: bytes, words: str, window: Window, tmp_path: Path) -> None:
    before = window.session.now.take
    (tmp_path / name).write_bytes(content)
    _drop(window, tmp_path / name)
    wait_until_settled(window)
    assert words in window.message.text and window.session.now.take == before
