"""Keys that are held: space for the other picture while the pair has the focus, letters for lines over the take.

Everywhere else space presses what has the focus, as Return and Enter do.
"""

from __future__ import annotations

from collections.abc import Callable
from time import monotonic

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QAbstractButton, QApplication, QComboBox, QWidget

from rehearsal.desk.frame.keys import HOLD_KEYS, MAP_KEYS
from rehearsal.desk.frame.where import KeyPlace, is_typing
from rehearsal.desk.pair.state import PairState

_HOLD_SECONDS = 0.35
_ENTER = (Qt.Key.Key_Return, Qt.Key.Key_Enter)
_PLAIN = (Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.KeypadModifier)


class HeldKeys(QObject):
    """Work wherever the focus is, except while typing. Pressed short a map's key keeps it, pressed long it only shows it."""

    def __init__(
        self, window: QWidget, pair: QWidget, state: PairState, hold: Callable[[str, bool], bool], place: KeyPlace
    ) -> None:
        super().__init__(window)
        #: Takes a key that is pressed or let go; False for one that means nothing to it.
        self._hold = hold
        #: The key that is held.
        self._holding = ""
        self._window, self._pair, self._state = window, pair, state
        self._pressed: dict[str, float] = {}
        self._place = place

    def eventFilter(self, _watched: QObject | None, event: QEvent | None) -> bool:
        """Take held keys out of the stream of events."""
        # every event of the program comes by here: what is cheap to ask is asked first
        if self._holding and event is not None and event.type() == QEvent.Type.WindowDeactivate:
            self._let_go(self._holding)  # its release is another window's
        if event is not None and event.type() == QEvent.Type.MouseButtonPress:
            self._place.on_press()
        if isinstance(event, QKeyEvent) and event.type() in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
            if event.key() == Qt.Key.Key_Escape:
                self._place.on_escape()
            if QKeySequence(event.key()).toString() in HOLD_KEYS:
                return self._window.isActiveWindow() and self._holds(event)
            return self._window.isActiveWindow() and not is_typing() and self._key(event)
        return False

    def _holds(self, event: QKeyEvent) -> bool:
        """A key that shows something while it is held: in a field too, since it writes nothing there."""
        name, pressed = QKeySequence(event.key()).toString(), event.type() == QEvent.Type.KeyPress
        if event.isAutoRepeat() or QApplication.activeModalWidget() is not None:
            return bool(self._holding)
        if not pressed:
            return self._let_go(name)
        taken = self._hold(name, True)
        self._holding = name if taken else self._holding
        return taken

    def _let_go(self, name: str) -> bool:
        held, self._holding = self._holding, ""
        return bool(held) and self._hold(name, False)

    def _key(self, event: QKeyEvent) -> bool:
        pressed = event.type() == QEvent.Type.KeyPress
        if event.key() in _ENTER and event.modifiers() in _PLAIN:
            return self._enter(pressed and not event.isAutoRepeat())
        if event.modifiers() & ~Qt.KeyboardModifier.ShiftModifier:
            return False
        if event.key() == Qt.Key.Key_Space:
            return self._space(pressed, event.isAutoRepeat())
        name = event.text().upper() or QKeySequence(event.key()).toString()
        if name not in MAP_KEYS or (pressed and not self._place.allows("looking")):
            return False
        if not event.isAutoRepeat():
            self._map(name, pressed)
        return True

    def _space(self, pressed: bool, again: bool) -> bool:
        """The other picture while the pair has the focus, or nothing has."""
        focus = QApplication.focusWidget()
        if self._state.swapped and not pressed and not again:
            self._state.set_swapped(False)  # wherever the focus has gone meanwhile
        if not (focus is None or focus is self._window or focus is self._pair):
            return False
        if not again:
            self._state.set_swapped(pressed)
        return True

    def _enter(self, pressed: bool) -> bool:
        """Press the button or open the list with the focus, unless Enter means something else to it than a press."""
        focus = QApplication.focusWidget()
        if isinstance(focus, QComboBox):
            if pressed:
                focus.showPopup()
            return True
        if not isinstance(focus, QAbstractButton) or focus.property("ownEnter"):
            return False
        if pressed:
            focus.click()
        return True

    def _map(self, name: str, pressed: bool) -> None:
        kind = MAP_KEYS[name][0]
        if pressed:
            self._pressed[name] = monotonic()
            self._state.hold_map(kind)
            return
        began = self._pressed.pop(name, None)
        self._state.hold_map("")
        if began is not None and monotonic() - began < _HOLD_SECONDS:
            self._state.toggle_map(kind)
