"""The real window on small pictures; what it leaves behind fails the test."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from time import monotonic

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QImage, QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QLabel, QTextBrowser, QWidget
from pytestqt.qtbot import QtBot
from tests.known import known_already, known_figures

from rehearsal.desk import theme
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.ticketpage import TicketPage
from rehearsal.desk.start import make_window
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Master, Take

#: A busy machine is slow; only what never comes is given up.
PATIENCE_SECONDS = 240.0
#: Looks in a row that must find nothing to do; between them what waits for a pause gets it.
_CALM_LOOKS, _LOOK_MS = 4, 25


def until(ready: Callable[[], object]) -> None:
    """Let the window live until something is so."""
    end = monotonic() + PATIENCE_SECONDS
    while not ready():
        assert monotonic() < end, "it never came"
        QTest.qWait(_LOOK_MS)


def wait_until_settled(window: Window, judged: bool = True) -> None:
    """Wait until the picture is shown and judged (unless it cannot be) and nothing is being worked on."""
    session, calm, end = window.session, 0, monotonic() + PATIENCE_SECONDS
    while calm < _CALM_LOOKS:
        assert monotonic() < end, session.jobs.running
        QTest.qWait(_LOOK_MS)
        busy = session.jobs.running or session.roads.is_settling or (judged and not session.judging.is_current)
        calm = 0 if busy else calm + 1


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


def drag(widget: QWidget, start: QPoint, way: QPoint) -> None:
    """Press, move by a way in four steps, release."""
    QTest.mousePress(widget, Qt.MouseButton.LeftButton, pos=start)
    for i in range(1, 5):
        hover(widget, start + way * (i / 4), Qt.MouseButton.LeftButton)
    QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, pos=start + way)


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


@pytest.fixture(autouse=True)
def no_window_stays() -> Iterator[None]:
    """Windows that a test has opened and closed go: each change of the style sheet would dress them all again."""
    yield
    for widget in QApplication.topLevelWidgets() if QApplication.instance() else ():
        if isinstance(widget, Window) and not widget.isVisible():
            widget.deleteLater()
    if QApplication.instance():
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


@pytest.fixture
def window(qtbot: QtBot, demo_book: Workbook) -> Iterator[Window]:
    """The window, settled on the first take; closed and checked for leftovers afterwards."""
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    app.setStyle("Fusion")
    theme.load_fonts()
    before = threading.active_count()
    swap = known_already()
    made = make_window(demo_book, [])
    made._seen.update(m.id for m in demo_book.all(Master))  # no lines are shown by themselves
    made.resize(1280, 800)
    made.show()
    qtbot.waitExposed(made)
    made.activateWindow()
    QTest.qWaitForWindowActive(made)
    wait_until_settled(made)
    swap.undo()
    swap = known_figures()
    yield made
    made.close()
    swap.undo()
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
