"""The real window on small pictures; what it leaves behind fails the test."""

# ruff: noqa: F401 (until, wait_until_settled: taken from here by the tests)

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QImage, QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QLabel, QTextBrowser, QWidget
from pytestqt.qtbot import QtBot
from tests.desk.settling import until, wait_until_settled
from tests.desk.shared import SharedWindow
from tests.known import known_already, known_figures

from rehearsal.desk import theme
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.ticketpage import TicketPage
from rehearsal.desk.start import make_window
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Master, Take


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


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Tests that share a window come one after the other: it goes as soon as a test has its own."""
    items.sort(key=lambda item: "desk" in item.path.parts and not _keeps_shared(item))


def _keeps_shared(item: pytest.Item) -> bool:
    return isinstance(item, pytest.Function) and _shares(item)


#: The window that tests share; none before the first of them and after one that did not come back.
_shared: list[SharedWindow] = []


def drop_shared() -> None:
    """Close the shared window."""
    while _shared:
        _shared.pop().drop()


def _shares(test: pytest.Function) -> bool:
    """A test that holds the workbook itself, or starts windows of its own, has a window of its own."""
    names = set(test.fixturenames)
    return "window" in names and "demo_book" not in names and not test.get_closest_marker("own_window")


@pytest.fixture(scope="session", autouse=True)
def _no_window_is_left() -> Iterator[None]:
    yield
    drop_shared()


@pytest.fixture(autouse=True)
def no_window_stays(request: pytest.FixtureRequest) -> Iterator[None]:
    """Windows that a test has opened and closed go: each change of the style sheet would dress them all again."""
    if not _shares(request.node):
        drop_shared()
    yield
    for widget in QApplication.topLevelWidgets() if QApplication.instance() else ():
        if isinstance(widget, Window) and not widget.isVisible():
            widget.deleteLater()
    if QApplication.instance():
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def open_window(book: Workbook, qtbot: QtBot) -> Window:
    """A window on a workbook, settled on the first take."""
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    app.setStyle("Fusion")
    theme.load_fonts()
    swap = known_already()
    made = make_window(book, [])
    made._seen.update(m.id for m in book.all(Master))  # no lines are shown by themselves
    made.resize(1280, 800)
    made.show()
    qtbot.waitExposed(made)
    made.activateWindow()
    QTest.qWaitForWindowActive(made)
    wait_until_settled(made)
    swap.undo()
    return made


@pytest.fixture
def window(request: pytest.FixtureRequest, qtbot: QtBot, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Window]:
    """The window, settled on the first take: shared with other tests, or the test's own, checked for leftovers afterwards."""
    swap = known_figures()
    if _shares(request.node):
        if _shared and not _shared[0].back():
            print(f"another window than before: {_shared[0].why[:1500]}")
            drop_shared()
        if not _shared:
            book = request.getfixturevalue("make_book")(tmp_path_factory.mktemp("shared"))
            _shared.append(SharedWindow(open_window(book, qtbot), book))
        yield _shared[0].window
        swap.undo()
        return
    before = threading.active_count()
    made = open_window(request.getfixturevalue("demo_book"), qtbot)
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
