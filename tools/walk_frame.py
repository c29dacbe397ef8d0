"""Walk every station, board and dialog of the window and name what is cut, overlaid, unnamed, too small, coloured or too light.

    .venv/bin/python tools/walk_frame.py            all sizes, rooms, types and pictures
    .venv/bin/python tools/walk_frame.py --fast     one size

Ends with the number of faults as its status (0: none).
"""

from __future__ import annotations

import argparse
import os
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PyQt6.QtCore import QRect, Qt, QTimer
from PyQt6.QtGui import QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QSlider,
    QTableWidget,
    QTreeWidget,
    QWidget,
)

from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import Crop
from rehearsal.demo.make import make_demo
from rehearsal.desk import theme
from rehearsal.desk.boards.holder import BOARDS
from rehearsal.desk.boards.screencheck import TypedReading
from rehearsal.desk.frame.stations import AT, STATIONS
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.areatable import AreaTable
from rehearsal.desk.parts.columns import Pages
from rehearsal.desk.parts.ladder import Ladder
from rehearsal.desk.parts.lightscale import Grip
from rehearsal.desk.parts.pulldisc import PullDisc
from rehearsal.desk.parts.rail import Rail
from rehearsal.desk.parts.rings import RingLine
from rehearsal.desk.parts.sheetdrawing import SheetDrawing
from rehearsal.desk.parts.stillcrop import StillCrop
from rehearsal.desk.parts.ticketpage import TicketPage
from rehearsal.desk.parts.whitepad import WhitePad
from rehearsal.desk.start import make_window
from rehearsal.workbook.masters import make_master
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Master

SIZES = ((1000, 640), (1280, 800), (1920, 1080))
AIMS = {"usual": 0.40, "upright": 0.44, "wide": 0.32, "grey": 0.40}
#: What each kind of picture is called in the demo; the grey one has a long name here.
_NAMES = {"usual": "Drying", "upright": "Earthenware", "wide": "Salt banks", "grey": "Boiling house behind"}
LONG = "Boiling house behind the old salt works, second version for the spring exhibition, larger print"
LONG_PAPER = "Tidewater Velvet Museum Etching Rag, extra smooth, 350 g/m², by the second profile"
_TARGET, _MOST_SECONDS = 24, 20.0
#: Words longer than this width may be cut when the pointer tells them whole.
_LEGIBLE = 140
_PRESSED = (
    QAbstractButton, QComboBox, QAbstractSpinBox, QSlider, QLineEdit, QTableWidget, QTreeWidget,
    Rail, Grip, RingLine, SheetDrawing, StillCrop, Ladder, WhitePad, PullDisc,
)  # fmt: skip
#: What shows pictures, swatches or plots, and may have colour.
_COLOURED = (
    "PairView",
    "IntentCard",
    "AreaTable",
    "Readout",
    "Plot",
    "Board",
    "RingLine",
    "SheetDrawing",
    "PaperDrawing",
    "PaperTile",
    "Swatch",
    "StillCrop",
    "StepPicture",
    "PullDisc",
    "FramedPicture",
    "Timeline",
    "LookRow",
    "PrintView",
    "PieceView",
    "TestDrawing",
    "LookCard",
    "SplitPicture",
    "_Proof",
    "GoodForFrames",
    "GreysStrip",
)


def settle(window: Window, most: float = _MOST_SECONDS) -> None:
    """Wait until nothing is under way."""
    end = time.monotonic() + most
    QTest.qWait(80)
    while time.monotonic() < end and (window.session.jobs.running or window.session.roads.is_settling):
        QTest.qWait(20)
    QTest.qWait(60)


def seen(widget: QWidget, root: QWidget) -> bool:
    """True for what can be seen of a window (not what another page hides)."""
    return widget.isVisibleTo(root) and not widget.visibleRegion().isEmpty() and widget.window() is root.window()


def inner(root: QWidget) -> Iterator[QWidget]:
    """All widgets that can be seen, but the parts that widgets are made of."""
    for widget in root.findChildren(QWidget):
        parent = widget.parentWidget()
        if (
            seen(widget, root)
            and not isinstance(parent, (QComboBox, QAbstractSpinBox))
            and not widget.objectName().startswith("qt_")
        ):
            yield widget


def name_of(widget: QWidget) -> str:
    """A few words to find a widget by."""
    text = widget.accessibleName() or getattr(widget, "text", lambda: "")()
    return f"{type(widget).__name__} “{str(text)[:40]}”"


def cut_texts(root: QWidget) -> list[str]:
    """Words that have not the room they need."""
    found = []
    for widget in inner(root):
        short = ""
        if isinstance(widget, QLabel) and widget.text() and widget.pixmap().isNull():
            if widget.wordWrap():
                need = widget.heightForWidth(widget.width())
                short = f"{need - widget.height()} px too low" if need > widget.height() + 1 else ""
            else:
                need = widget.fontMetrics().horizontalAdvance(widget.text().split("\n")[0])
                short = f"{need - widget.width()} px too narrow" if need > widget.width() + 1 else ""
        elif isinstance(widget, QPushButton) and widget.text():
            need = widget.fontMetrics().horizontalAdvance(widget.text()) + 2
            short = f"{need - widget.width()} px too narrow" if need > widget.width() else ""
        elif isinstance(widget, QComboBox):
            need = widget.fontMetrics().horizontalAdvance(widget.currentText()) + 24
            told = widget.toolTip() == widget.currentText() and widget.width() > theme.px(_LEGIBLE)
            short = f"{need - widget.width()} px too narrow" if need > widget.width() + 1 and not told else ""
        elif isinstance(widget, QTableWidget) and not isinstance(widget, AreaTable):
            short = cut_cells(widget)
        if (
            not short
            and widget.rect() != widget.visibleRegion().boundingRect()
            and isinstance(widget, (QPushButton, QComboBox))
            and not scrolls(widget)
        ):
            short = "partly hidden"
        if short:
            found.append(f"cut: {name_of(widget)}: {short}")
    return found


def scrolls(widget: QWidget) -> bool:
    """True for a part of something that is scrolled, which ends where its place ends."""
    parent = widget.parentWidget()
    while parent is not None and not isinstance(parent, QScrollArea):
        parent = parent.parentWidget()
    return parent is not None


def cut_cells(table: QTableWidget) -> str:
    """Names that are not shown whole; a very long one is told whole by the pointer, and much of it is shown."""
    for row in range(table.rowCount()):
        item = table.item(row, 0)
        told = item is not None and item.text() in item.toolTip() and table.columnWidth(0) > theme.px(_LEGIBLE)
        if (
            item is not None
            and table.fontMetrics().horizontalAdvance(item.text()) + 8 > table.columnWidth(0)
            and not told
        ):
            return f"“{item.text()}” in {table.columnWidth(0)} px"
    return ""


def overlaid(root: QWidget) -> list[str]:
    """Controls or words of one parent that lie over each other."""
    by_parent: dict[QWidget, list[QWidget]] = {}
    for widget in inner(root):
        if isinstance(widget, (QLabel, *_PRESSED)) and widget.parentWidget() is not None:
            by_parent.setdefault(widget.parentWidget(), []).append(widget)
    found = []
    for group in by_parent.values():
        for i, one in enumerate(group):
            for two in group[i + 1 :]:
                if one.geometry().adjusted(1, 1, -1, -1).intersects(two.geometry()):
                    found.append(f"overlaid: {name_of(one)} and {name_of(two)}")
    return found


def unnamed_or_small(root: QWidget) -> list[str]:
    """Controls without a name, and targets under 24 px."""
    found = []
    for widget in inner(root):
        if not isinstance(widget, _PRESSED) or not widget.isEnabled() or widget.focusPolicy() == Qt.FocusPolicy.NoFocus:
            continue
        if not (widget.accessibleName() or (isinstance(widget, QAbstractButton) and widget.text())):
            found.append(f"unnamed: {name_of(widget)} in {type(widget.parentWidget()).__name__}")
        if min(widget.width(), widget.height()) < _TARGET:
            found.append(f"small: {name_of(widget)} is {widget.width()} × {widget.height()}")
    return found


def takes_tab(widget: QWidget) -> bool:
    """True for what Tab should come to: not the parts of a table, and of an exclusive group the chosen one alone."""
    group = widget.group() if isinstance(widget, QAbstractButton) else None
    if group is not None and group.exclusive() and not widget.isChecked():  # type: ignore[attr-defined]
        return False
    return bool(widget.focusPolicy() & Qt.FocusPolicy.TabFocus) and not isinstance(widget.parentWidget(), QTableWidget)


def tab_does_not_come_round(window: QWidget) -> list[str]:
    """Controls that Tab never reaches."""
    wanted = {w for w in inner(window) if isinstance(w, _PRESSED) and w.isEnabled() and takes_tab(w)}
    start = window.focusWidget() or window
    reached: set[QWidget] = set()
    for _ in range(4 * len(wanted) + 40):
        window.focusNextPrevChild(True)
        here = window.focusWidget()
        if here is None or here in reached:
            if here is start:
                break
            continue
        reached.add(here)
    return [f"Tab never comes to: {name_of(w)}" for w in wanted - reached]


def pixels(widget: QWidget) -> np.ndarray:
    """RGB (h, w, 3) of a widget as it is painted."""
    image = widget.grab().toImage().convertToFormat(QImage.Format.Format_RGB888)
    data = np.frombuffer(image.constBits().asstring(image.sizeInBytes()), np.uint8)  # type: ignore[union-attr]
    return data.reshape(image.height(), image.bytesPerLine())[:, : image.width() * 3].reshape(
        image.height(), image.width(), 3
    )


def colour_and_light(window: Window) -> list[str]:
    """Stray chroma in the chrome, and anything lighter than the paper in a paper view."""
    channels = list(np.moveaxis(pixels(window), -1, 0))
    chrome = np.ones(channels[0].shape, bool)
    for widget in inner(window):
        kinds = {c.__name__ for c in type(widget).__mro__}
        icon = isinstance(widget, QPushButton) and not widget.icon().isNull()
        if isinstance(widget, QComboBox):
            icon = not widget.itemIcon(widget.currentIndex()).isNull()
        if kinds & set(_COLOURED) or icon:
            box = QRect(widget.mapTo(window, widget.rect().topLeft()), widget.size()).intersected(window.rect())
            chrome[box.top() : box.bottom() + 1, box.left() : box.right() + 1] = False
    found = []
    stray = (np.maximum.reduce(channels) - np.minimum.reduce(channels))[chrome].max(initial=0)
    if stray > 0:
        found.append(f"chroma: {stray} of 255 in the chrome")
    level = window.session.roads.paper_level
    light = np.minimum.reduce(channels)[chrome].max(initial=0)
    if light > level:
        found.append(f"lighter than the paper: {light} over {level}")
    return found


def share_of(window: Window) -> float:
    """Picture pixels over window pixels."""
    placed = [window.pair.placing.placed(i) for i in range(2)]
    area = sum(p.visible.width() * p.visible.height() for p in placed if p is not None)
    return float(area / (window.width() * window.height()))


def all_faults(root: QWidget) -> list[str]:
    """What can be said of any window or dialog."""
    return cut_texts(root) + overlaid(root) + unnamed_or_small(root) + tab_does_not_come_round(root)


# ---- the walk


def faults_of_pages(window: Window) -> list[str]:
    """What is cut or overlaid on the pages that columns have folded into, each shown in turn."""
    found: list[str] = []
    for pages in window.stack.findChildren(Pages):
        if not seen(pages, window) or pages.is_spread:
            continue
        before = pages.current
        for at, (name, _page) in enumerate(pages._pages):
            pages.show_page(at)
            QTest.qWait(30)
            found += [
                f"page {name}: {fault}" for fault in cut_texts(window) + overlaid(window) + unnamed_or_small(window)
            ]
        pages.show_page(max(before, 0))
    return found


def open_picture(window: Window, kind: str) -> None:
    """A picture of the demo: usual (3:2), upright (2:3), wide (3:1), grey (with long names)."""
    master = next(m for m in window.session.takes.masters if _NAMES[kind] in m.name)
    window.session.takes.open_master(master)
    settle(window)
    take = window.session.now.take
    assert take is not None and window.session.now.picture is not None
    if kind == "wide":
        crop = Crop(0, 0.25, 1, 0.5)
        window.session.takes.change("frame", frame=replace(take.frame, crop=crop, size=None))
    elif kind == "grey":
        long = next(c for c in window.session.shelf.conditions if c.paper == LONG_PAPER)
        window.session.takes.choose_condition(long)
        window.session.takes.change("name", name=LONG)
    elif kind == "usual":
        window.session.takes.change("frame", frame=replace(take.frame, crop=Crop(), size=take.frame.size))
    settle(window)


def walk(window: Window, where: str, kind: str, boards: bool) -> list[str]:
    """All stations (and boards) as they are."""
    found = []
    for station in STATIONS:
        window.stack.go(AT[station.key])
        settle(window)
        here = f"{where}, {station.key}"
        found += [f"{here}: {fault}" for fault in all_faults(window) + colour_and_light(window)]
        found += [f"{here}, {fault}" for fault in faults_of_pages(window)]
        if (
            station.key in ("judge", "tune")
            and (window.width(), window.height()) == (1280, 800)
            and theme.type_size() == 1
        ):
            window.stack.fold(kind == "wide")
            settle(window, 2)
            share = share_of(window)
            if share < AIMS[kind] - 0.002:
                found.append(f"{here}: the pair has {share * 100:.1f} % of the window")
            window.stack.fold(False)
    for name in BOARDS if boards else ():
        window.boards.toggle(name)
        settle(window)
        found += [f"{where}, board {name}: {fault}" for fault in all_faults(window) + colour_and_light(window)]
        window.boards.close_board()
    for name, opener in dialogs(window) if boards else ():
        found += [f"{where}, dialog {name}: {fault}" for fault in faults_of_dialog(opener)]
    return found


def dialogs(window: Window) -> list[tuple[str, Callable[[], object]]]:
    """What opens each dialog and page over the window, with a name for it."""
    act = window.actions_of_keys
    return [
        ("keys", lambda: act.act("keys")),
        ("ticket", window.stack.sheet.show_ticket),
        ("typed reading", lambda: TypedReading(90.0, window).exec()),
        *((f"page {page}", lambda page=page: act.show_why(page)) for page in ("standards", "sizes", "lesson")),
    ]


def faults_of_dialog(opener: Callable[[], object]) -> list[str]:
    """Open a dialog, look at it, close it."""
    found: list[str] = []

    def look() -> None:
        page = QApplication.activeModalWidget()
        if page is None:
            found.append("no dialog came")
            return
        painted = pixels(page).astype(int)
        found.extend(cut_texts(page) + overlaid(page) + unnamed_or_small(page) + tab_does_not_come_round(page))
        if not page.findChildren(TicketPage) and np.ptp(painted, axis=2).max() > 0:
            found.append("chroma in a dialog")
        screen = page.parentWidget().window().size() if page.parentWidget() else page.size()
        if page.width() > screen.width() or page.height() > screen.height():
            found.append(f"larger than the window: {page.width()} × {page.height()}")
        page.close()

    QTimer.singleShot(200, look)
    opener()
    return found


def _with_long_names(book: Workbook) -> Workbook:
    """The demo with a grey picture of a long name, and a paper of a long name."""
    master = next(m for m in book.all(Master) if "Boiling" in m.name)
    grey = Path(book.path).parent / f"grey-{Path(book.path).stem}.png"
    shade = np.repeat(np.linspace(0, 255, 600).astype(np.uint8)[None], 400, axis=0)
    QImage(shade.tobytes(), 600, 400, 600, QImage.Format.Format_Grayscale8).save(str(grey))
    book.put(replace(make_master(grey), id=master.id, name=LONG))
    paper = next(c for c in book.all(PrintCondition) if c.paper == "Old Quay")
    book.put(replace(paper, id=None, paper=LONG_PAPER, printer="Ostrel 17 of the back room"))
    return book


def _window(book: Workbook, size: tuple[int, int]) -> Window:
    window = make_window(book, [])
    window.resize(*size)
    window.show()
    settle(window)
    return window


def main() -> int:
    """Walk and report."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--fast", action="store_true", help="one size, one room")
    given = parser.parse_args()
    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    app.setStyle("Fusion")
    theme.load_fonts()
    found: list[str] = []
    with tempfile.TemporaryDirectory() as folder:
        os.environ["XDG_DATA_HOME"] = os.environ["XDG_CACHE_HOME"] = folder
        plan = [((1280, 800), 1.0, "mid")] if given.fast else [
            *((size, 1.0, "mid") for size in SIZES), ((1280, 800), 1.3, "mid"), ((1280, 800), 1.0, "dark"), ((1280, 800), 1.0, "light"),
        ]  # fmt: skip
        for number, (size, type_size, room) in enumerate(plan):
            book = _with_long_names(make_demo(Path(folder) / f"demo{number}.sqlite"))
            book.set_setting("type", type_size)
            window = _window(book, size)
            window.rooms.set(room)
            for kind in AIMS:
                open_picture(window, kind)
                where = f"{size[0]}×{size[1]}, type {type_size}, {room}, {kind}"
                window.session.takes.change("view", view="on-paper" if kind == "upright" else "true-black")
                settle(window)
                found += walk(window, where, kind, boards=kind in ("usual", "grey"))
            window.close()
        window = _window(Workbook(Path(folder) / "empty.sqlite"), (1280, 800))
        for station in STATIONS:
            window.stack.go(AT[station.key])
            settle(window, 2)
            found += [
                f"empty workbook, {station.key}: {fault}" for fault in all_faults(window) + colour_and_light(window)
            ]
        window.close()
    print("\n".join(dict.fromkeys(found)) or "nothing found")
    return min(len(found), 100)


if __name__ == "__main__":
    sys.stdout.reconfigure(line_buffering=True)  # type: ignore[union-attr]
    status = main()
    os._exit(status)
