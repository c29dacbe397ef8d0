"""The real window on small pictures; what it leaves behind fails the test."""

from __future__ import annotations

import shutil
import threading
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QImage, QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QLabel, QTextBrowser, QWidget
from pytestqt.qtbot import QtBot

from rehearsal.core.icc import Profile
from rehearsal.core.proof.judging import Judgement
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.work.progress import Progress
from rehearsal.demo.make import make_demo
from rehearsal.desk import theme
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.ticketpage import TicketPage
from rehearsal.desk.start import make_window
from rehearsal.session import judging as session_judging
from rehearsal.session import shelf as session_shelf
from rehearsal.session.shelf import measured
from rehearsal.tasks.conditions import Facts, NoFacts
from rehearsal.tasks.judging import judge_rendition
from rehearsal.tasks.tables import KeptTables
from rehearsal.workbook.masters import make_master
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Master, Take


def wait_until_settled(window: Window, most: int = 60_000, judged: bool = True) -> None:
    """Wait until the picture is shown and judged (unless it cannot be) and nothing is being worked on."""
    waited = 0
    calm = 0
    while waited < most and calm < 4:
        QTest.qWait(25)
        waited += 25
        busy = window.session.jobs.running or window.session.roads.is_settling
        busy = busy or (judged and not window.session.judging.is_current)
        calm = 0 if busy else calm + 1
    assert calm >= 4, window.session.jobs.running


def pixels(widget) -> np.ndarray:  # type: ignore[no-untyped-def]
    """What a widget paints: (h, w, 3) uint8."""
    image = widget.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
    buffer = image.constBits().asarray(image.sizeInBytes())
    found = np.array(buffer, dtype=np.uint8).reshape(image.height(), image.bytesPerLine() // 4, 4)
    return found[:, : image.width(), 2::-1].copy()


def hover(widget: QWidget, at: QPoint, held: Qt.MouseButton = Qt.MouseButton.NoButton) -> None:
    """Move the pointer over a widget, without the desktop's own cursor (which may leave it again at any moment)."""
    where = QPointF(at)
    everywhere = QPointF(widget.mapToGlobal(at))
    event = QMouseEvent(
        QEvent.Type.MouseMove, where, everywhere, Qt.MouseButton.NoButton, held, Qt.KeyboardModifier.NoModifier
    )
    QApplication.sendEvent(widget, event)


def press(window: Window, key: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    """Press and release a key on whatever has the focus."""
    QTest.keyClick(QApplication.focusWidget() or window, key, modifier)


def read_page(opener: Callable[[], object]) -> str:
    """Open a page over the window, read its text, close it."""
    seen: list[str] = []

    def read() -> None:
        page = QApplication.activeModalWidget()
        assert isinstance(page, QDialog)
        text, ticket = page.findChild(QTextBrowser), page.findChild(TicketPage)
        labels = " ".join(label.text() for label in page.findChildren(QLabel))
        seen.append(text.toPlainText() if text else ticket.accessibleDescription() if ticket else labels)
        page.accept()

    QTimer.singleShot(150, read)
    opener()
    return seen[0]


@pytest.fixture(scope="session")
def fresh_demo(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A demo workbook as it is made: its pictures are read once, every test has a copy."""
    path = tmp_path_factory.mktemp("demo") / "book.sqlite"
    make_demo(path).close()
    return path


@pytest.fixture
def demo_book(tmp_path: Path, small_cloths: Path, fresh_demo: Path) -> Workbook:
    """The demo workbook with its pictures exchanged for small ones."""
    shutil.copy(fresh_demo, tmp_path / "book.sqlite")
    book = Workbook(tmp_path / "book.sqlite")
    for master in book.all(Master):
        path = tmp_path / "pictures" / f"{master.name}.tif"
        path.parent.mkdir(exist_ok=True)
        shutil.copy(small_cloths, path)
        with path.open("ab") as stream:
            stream.write(master.name.encode())
        book.put(replace(make_master(path), id=master.id, name=master.name))
    return book


#: Judgements that windows were opened with, by what they are of: the same in nearly all tests.
_judged: dict[object, Judgement] = {}


def _judge_once(
    opened: OpenRendition, screen: Profile, default: Rendering, prescribed: bool, progress: Progress
) -> Judgement:
    key = (opened.rendition, screen.digest, default, prescribed)
    if key not in _judged:
        _judged[key] = judge_rendition(opened, screen, default, prescribed, progress=progress)
    return _judged[key]


#: Facts of the demo's papers, by their conditions.
_facts: dict[PrintCondition, Facts | NoFacts] = {}


def _measure_once(condition: PrintCondition, kept: dict[str, Any]) -> Facts | NoFacts:
    if condition not in _facts:
        _facts[condition] = measured(condition, kept)
    return _facts[condition]


def _known_already() -> pytest.MonkeyPatch:
    """Until this is undone, what other tests' windows were opened with is neither judged nor measured nor written again."""
    swap = pytest.MonkeyPatch()
    swap.setattr(session_judging, "judge_rendition", _judge_once)
    swap.setattr(session_shelf, "measured", _measure_once)
    swap.setattr(KeptTables, "keep", lambda *_: None)
    swap.setattr(KeptTables, "fetch", lambda *_: None)
    return swap


@pytest.fixture
def window(qtbot: QtBot, demo_book: Workbook) -> Iterator[Window]:
    """The window, settled on the first take; closed and checked for leftovers afterwards."""
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    app.setStyle("Fusion")
    theme.load_fonts()
    before = threading.active_count()
    swap = _known_already()
    made = make_window(demo_book, [])
    made._seen.update(m.id for m in demo_book.all(Master))  # no lines are shown by themselves
    made.resize(1280, 800)
    made.show()
    qtbot.waitExposed(made)
    made.activateWindow()
    QTest.qWaitForWindowActive(made)
    wait_until_settled(made)
    swap.undo()
    yield made
    made.close()
    assert made.session.jobs.running == []
    assert threading.active_count() <= before + 2
    made.deleteLater()
    QTest.qWait(10)


@pytest.fixture
def take(window: Window) -> Callable[[], Take]:
    """The open take as it is kept."""

    def now() -> Take:
        assert window.session.now.take is not None
        kept = window.session.book.get(Take, window.session.now.take.id)
        assert kept is not None
        return kept

    return now
