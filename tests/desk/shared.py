"""One window for many tests: brought back to how it stood when it was made, and looked at whether it really is.

What our own objects hold is put back as it was; what is seen follows from that and is compared, part by part. A window that
does not come back as it was is given up, and the next test gets a new one.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import is_dataclass
from pathlib import Path
from typing import Any

from PyQt6 import sip
from PyQt6.QtCore import QEvent, QLocale, QObject
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QDateEdit,
    QDialog,
    QDoubleSpinBox,
    QLabel,
    QLayout,
    QLineEdit,
    QMenu,
    QPlainTextEdit,
    QSlider,
    QStackedWidget,
    QWidget,
)
from tests.desk.settling import wait_until_settled

from rehearsal.desk import theme
from rehearsal.desk.frame.stations import AT
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.columns import Column, Pages
from rehearsal.desk.parts.flash import Flash
from rehearsal.desk.trays.base import Tray
from rehearsal.session.bus import Change
from rehearsal.workbook.store import Workbook, _statements
from rehearsal.workbook.values import KINDS, Master, PrintCondition

#: Everything views follow.
_TOPICS = (
    "take", "picture", "judgement", "first", "arrival", "lost", "near", "standing", "history", "road", "look", "rival", "screen",
    "facts", "library", "jobs", "takes", "masters", "conditions", "log", "habits", "accepted", "tests", "queues", "prints",
    "test_plan", "verdict", "looked",
)  # fmt: skip
#: What a hand may have left in a part, whether it is seen or not, and how it is put back: the first of these that it is.
_LEFT = (
    (QAbstractButton, lambda w: w.isChecked() if w.isCheckable() else None, lambda w, left: w.setChecked(left)),
    (QLineEdit, lambda w: w.text(), lambda w, left: w.setText(left)),
    (QComboBox, lambda w: w.currentText(), lambda w, left: w.setCurrentIndex(w.findText(left))),
    (QDoubleSpinBox, lambda w: w.text(), lambda w, left: w.setValue(w.valueFromText(left))),
    (QDateEdit, lambda w: w.text(), lambda w, left: w.setDate(QLocale().toDate(left, w.displayFormat()))),
    (QPlainTextEdit, lambda w: w.toPlainText(), lambda w, left: w.setPlainText(left)),
    (QStackedWidget, lambda w: w.currentIndex(), lambda w, left: w.setCurrentIndex(left)),
    (QSlider, lambda w: (w.minimum(), w.value(), w.maximum()), lambda w, left: _slide(w, *left)),
)  # fmt: skip


def _slide(slider: QSlider, low: int, value: int, high: int) -> None:
    slider.setRange(low, high)
    slider.setValue(value)


def _left_in(widget: QWidget) -> object:
    """What a hand may have left in a part; None for nothing."""
    return next((look(widget) for kind, look, _set in _LEFT if isinstance(widget, kind)), None)


class _Hands:
    """What was left in each part, by the part; whoever put something else there is not told that it is put back."""

    def __init__(self, window: Window) -> None:
        self._left = [(w, left) for w in window.findChildren(QWidget) if (left := _left_in(w)) is not None]

    def put_back(self) -> None:
        """Everything as it was, in parts that are still there."""
        for widget, left in self._left:
            if sip.isdeleted(widget) or _left_in(widget) == left:
                continue
            blocked = widget.blockSignals(True)
            next(put for kind, _look, put in _LEFT if isinstance(widget, kind))(widget, left)
            widget.blockSignals(blocked)


def _held(of: object) -> list[object]:
    """What an object, or a container, holds."""
    if isinstance(of, dict):
        return list(of.values())
    return list(of) if isinstance(of, (list, tuple, set)) else list(vars(of).values())


def _objects(start: object) -> list[Any]:
    """Our own objects, and containers, that can be reached."""
    found: dict[int, Any] = {}
    ahead = [start]
    while ahead:
        one = ahead.pop()
        ours = type(one).__module__.startswith("rehearsal.") and hasattr(one, "__dict__")
        if isinstance(one, (QLayout, Pages, Column)):  # what lies in them follows from the room there is
            continue
        if id(one) in found or not (ours or isinstance(one, (dict, list, tuple, set))):
            continue
        found[id(one)] = one
        ahead.extend(_held(one))
        if isinstance(one, QObject) and not sip.isdeleted(one):
            ahead.extend(one.children())
    return list(found.values())


#: What a part knows of how its columns lie, and rooms of who is dressed how: that follows from what there is now.
_LAID = ("_alone", "stands", "_height", "_dressed", "_room")


def _kept(one: object) -> dict[str, Any]:
    return {name: value for name, value in vars(one).items() if name not in _LAID}


class _Memento:
    """What everything reachable held: references as they were, containers by what was in them."""

    def __init__(self, start: object) -> None:
        everything = _objects(start)
        self._objects = [(o, _kept(o)) for o in everything if not isinstance(o, (dict, list, tuple, set))]
        self._containers = [(c, type(c)(c)) for c in everything if type(c) in (dict, list, set)]

    def put_back(self) -> None:
        """Everything as it was, but for what holds parts that were made anew meanwhile."""
        for one, held in self._objects:
            if _is_same(_kept(one), held) or _is_gone(one):
                continue
            now = dict(vars(one))
            left = {n: now[n] for n, v in held.items() if n in now and _is_gone(v)}
            left |= {n: v for n, v in now.items() if n in _LAID}
            vars(one).clear()
            vars(one).update(held | left)
        for container, held in self._containers:
            if _is_same(container, held) or any(_is_gone(each) for each in _held(held)):
                continue
            if isinstance(container, list):
                container[:] = held
            else:
                container.clear()
                container.update(held)


def _is_same(now: Any, held: Any) -> bool:
    """True when a container holds the very same, in the same order."""
    if len(now) != len(held):
        return False
    if isinstance(held, set):
        return bool(now == held)
    if isinstance(held, dict):
        return all(a == c and b is d for (a, b), (c, d) in zip(now.items(), held.items(), strict=True))
    return all(a is b for a, b in zip(now, held, strict=True))


def _is_gone(value: object, deep: int = 3) -> bool:
    """True for a part that is no more, and for a row or a value that holds one."""
    if isinstance(value, sip.simplewrapper):
        return sip.isdeleted(value)
    if deep and isinstance(value, (tuple, list, dict, set)):
        return any(_is_gone(each, deep - 1) for each in _held(value))
    return bool(deep) and is_dataclass(value) and any(_is_gone(each, deep - 1) for each in vars(value).values())


def seen(window: Window) -> list[str]:
    """All that is to be seen of a window, and what it stands on: type, room, files of the workbook."""
    widgets = [w for w in [window, *window.findChildren(QWidget)] if w.isVisible() and not _is_passing(w)]
    parts = sorted(str(_of(widget)) for widget in widgets)
    book = window.session.book
    files = {m.path for m in book.all(Master)} | {c.profile_path for c in book.all(PrintCondition)}
    ground = [f"{theme.growth()} {window.rooms.name} {window.rooms.room}"]
    return [*parts, *ground, *(str(_stamp(path)) for path in sorted(files))]


def _is_passing(widget: QWidget) -> bool:
    """What goes by itself, is laid anew by the room there is, or is put away until something is there for it to show."""
    if isinstance(widget, (Flash, QDialog, QMenu)) or isinstance(widget.parent(), Pages) or widget.property("page"):
        return True
    above: QWidget | None = widget
    while above is not None and not isinstance(above, (Tray, Pages)):
        if above.isHidden():
            return True
        above = above.parentWidget()
    return False


def _of(widget: QWidget) -> tuple[object, ...]:
    """A part by its kind, what was left in it, its name, words and place."""
    left = _left_in(widget)
    words = widget.text() if isinstance(widget, (QLabel, QAbstractButton)) else ""
    place = widget.geometry().getRect() if widget.width() > 1 and not (isinstance(widget, QLabel) and not words) else ()
    return type(widget).__name__, left, widget.accessibleName(), words, widget.isEnabled(), place


def _stamp(path: str) -> object:
    try:
        known = Path(path).stat()
    except OSError:
        return path, None
    return path, known.st_size, known.st_mtime_ns


class SharedWindow:
    """A settled window, and how it stood then."""

    def __init__(self, window: Window, workbook: Workbook) -> None:
        self.window, self._workbook = window, workbook
        #: Why it could not be used again; for whoever looks into it.
        self.why = ""
        for tray in window.stack.trays:  # they are laid when they are first seen
            window.stack._stack.setCurrentWidget(tray)
            QTest.qWait(1)
        for _ in range(2):  # what a tray asks for is shown when it is asked again
            self._stand_at_judge()
        self._memento, self._hands, self._seen = _Memento(window), _Hands(window), seen(window)
        tables = ("settings", *KINDS.values())
        self._rows = [*((f"DELETE FROM {t}", ()) for t in tables), *_statements(workbook.export_json())]

    def _stand_at_judge(self) -> None:
        """As a test begins: everything shown as it is now, nothing under way."""
        self._close_boards()
        self.window.stack.go(AT["judge"])
        everything = Change(frozenset(_TOPICS))
        for view in (self.window, self.window.pair, self.window.stack):  # the session itself stands as it stood
            view._follow(everything)
        for tray in self.window.stack.trays:  # tests look into those that are not shown as well
            tray.refresh()
        wait_until_settled(self.window)
        self.window.verdict.refresh()
        self.window.pair.setFocus()

    def back(self) -> bool:
        """Stand as before; False when it does not, and must be given up."""
        window = self.window
        if sip.isdeleted(window) or not window.isVisible() or QApplication.activeModalWidget() is not None:
            self.why = "it is closed"
            return False
        try:
            return self._stand_again()
        except Exception as error:
            self.why = f"{type(error).__name__}: {error}"
            return False

    def _stand_again(self) -> bool:
        window, session = self.window, self.window.session
        for job in session.jobs.running:
            session.jobs.stop(job)
        self._close_boards()
        QApplication.sendEvent(window.pair, QEvent(QEvent.Type.Leave))
        window.stack.show_page(None)
        window.stack.fold(False)
        window.rack.fold(True)
        window.rooms.set("mid")
        window.resize(1280, 800)
        window.activateWindow()
        QTest.qWaitForWindowActive(window)
        QTest.qWait(1)  # what is laid by the room there is comes to lie as it did
        self._memento.put_back()
        self._hands.put_back()
        window.rooms._apply()
        self._write_back()
        self._stand_at_judge()
        found = seen(window)
        gone, come = Counter(self._seen) - Counter(found), Counter(found) - Counter(self._seen)
        self.why = f"gone: {list(gone)}; come: {list(come)}"
        return found == self._seen

    def _close_boards(self) -> None:
        """Boards go; each test makes its own."""
        boards, rooms = self.window.boards, self.window.rooms
        boards.close_board()
        rooms._parts = tuple(part for part in rooms._parts if part not in boards.boards.values())
        for board in boards.boards.values():
            boards.removeWidget(board)
            board.setParent(None)
            board.deleteLater()
        boards.boards.clear()

    def _write_back(self) -> None:
        """The file holds what the memory held."""
        self._workbook._commit(self._rows)
        self._workbook.flush()

    def drop(self) -> None:
        """Close it for good."""
        if not sip.isdeleted(self.window):
            self.window.close()
            self.window.deleteLater()
            QTest.qWait(10)
