"""Where the keyboard is: at the pictures, in a field, or after one."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QObject, QTimer
from PyQt6.QtWidgets import QAbstractSpinBox, QApplication, QComboBox, QLineEdit, QPlainTextEdit, QWidget


def is_field(widget: QWidget | None) -> bool:
    """True for what words or figures are typed into."""
    if isinstance(widget, QComboBox):
        return widget.isEditable()
    return isinstance(widget, (QLineEdit, QPlainTextEdit, QAbstractSpinBox))


def is_typing() -> bool:
    """True while keys belong to a field, a dialog or a menu."""
    other = QApplication.activeModalWidget() is not None or QApplication.activePopupWidget() is not None
    return other or is_field(QApplication.focusWidget())


class KeyPlace(QObject):
    """Knows whether a letter is meant for the pictures.

    Who leaves a field by a key may still be typing: until Esc, or a press of the mouse anywhere, letters mean nothing.

    Args:
        pictures: the parts of the window that are the pictures, with all that lies in their place.
    """

    def __init__(self, window: QWidget, pictures: Sequence[QWidget]) -> None:
        super().__init__(window)
        self._window, self._pictures = window, tuple(pictures)
        self._is_pressed = self._is_after = False
        QApplication.instance().focusChanged.connect(self._on_focus)  # type: ignore[union-attr]

    def on_press(self) -> None:
        """The mouse was pressed somewhere: what was typed is done."""
        self._is_after, self._is_pressed = False, True
        QTimer.singleShot(0, self._on_released)

    def on_escape(self) -> None:
        """Esc was pressed: what was typed is done."""
        self._is_after = False

    def _on_released(self) -> None:
        self._is_pressed = False

    def _on_focus(self, old: QWidget | None, new: QWidget | None) -> None:
        if new is None or self._is_picture(new):
            self._is_after = False
        elif is_field(old) and not is_field(new) and not self._is_pressed:
            self._is_after = _is_seen(old)

    def allows(self, place: str) -> bool:
        """Whether a key acts now, by its place in ``keys.place_of``."""
        if place == "anywhere":
            return True
        if is_typing() or self._is_after:
            return False
        return place == "looking" or self._is_at_pictures()

    def _is_at_pictures(self) -> bool:
        focus = QApplication.focusWidget()
        return focus is None or focus is self._window or self._is_picture(focus)

    def _is_picture(self, widget: QWidget) -> bool:
        return any(p is widget or p.isAncestorOf(widget) for p in self._pictures)


def _is_seen(widget: QWidget | None) -> bool:
    """True while it is shown: a field that was taken away with its station was not left by typing."""
    try:
        return widget is not None and widget.isVisible()
    except RuntimeError:  # it is gone
        return False
