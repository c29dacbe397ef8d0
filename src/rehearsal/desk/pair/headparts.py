"""What is pressed in the take's head: the little sheet, undo and redo."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QSizePolicy, QWidget

from rehearsal.core.sheet.layout import sheet_size, sheet_words
from rehearsal.core.values.words import word
from rehearsal.desk import theme
from rehearsal.desk.pair.state import PairState
from rehearsal.desk.parts.widgets import button
from rehearsal.session.session import Session

_SHEET = QSize(34, 24)


class LittleSheet(QAbstractButton):
    """The print on its sheet, to scale; pressed, the pair shows the real sheet or the plain mount."""

    def __init__(self, session: Session, state: PairState) -> None:
        super().__init__()
        self._session, self._state, self.room = session, state, theme.ROOMS["mid"]
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The real sheet, or a plain mount")
        self.clicked.connect(state.turn_sheet)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        """A target large enough to press."""
        return QSize(theme.px(_SHEET.width()), theme.px(_SHEET.height()))

    def follow(self) -> None:
        """Show the open take's print."""
        take = self._session.now.take
        self.setVisible(take is not None and take.frame.size is not None)
        if take is not None and take.frame.size is not None:
            self.setToolTip(
                f"{take.frame.size.in_words} on {sheet_words(take.sheet.name)}: the real sheet, or a plain mount (F4)"
            )
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Sheet and picture as two rectangles."""
        take = self._session.now.take
        if take is None or take.frame.size is None:
            return
        size = take.frame.size
        card = None if take.sheet.borderless else self._session.now.condition
        wide, high = sheet_size(take.sheet.name, size, *(() if card is None else (card.margins_mm,)))
        scale = min((self.width() - 6) / wide, (self.height() - 6) / high)
        painter = QPainter(self)
        text = self.room.colour("on_surround")
        sheet = QRectF(0, 0, wide * scale, high * scale)
        sheet.moveCenter(QRectF(self.rect()).center())
        picture = QRectF(0, 0, size.width_cm * scale, size.height_cm * scale)
        picture.moveCenter(sheet.center())
        picture = picture.intersected(sheet)
        light = self.room.lightest
        painter.fillRect(sheet, QColor(light, light, light))
        painter.fillRect(picture, self.room.colour("line" if self.room.is_light else "mark"))
        painter.setPen(QPen(text, 1, Qt.PenStyle.SolidLine if self._state.shows_sheet else Qt.PenStyle.DashLine))
        painter.drawRect(sheet)
        if self.hasFocus():
            painter.setPen(QPen(text, 1, Qt.PenStyle.DotLine))
            painter.drawRect(QRectF(0.5, 0.5, self.width() - 1, self.height() - 1))


class HeadParts(QWidget):
    """Lies in the head of the take's pane. ``undo`` and ``redo`` ask for that."""

    undo = pyqtSignal()
    redo = pyqtSignal()

    def __init__(self, session: Session, state: PairState, parent: QWidget) -> None:
        super().__init__(parent)
        self._session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.px(6))
        self.sheet = LittleSheet(session, state)
        self.undo_button = button("Undo", self.undo.emit)
        self.redo_button = button("Redo", self.redo.emit)
        self.back_button = button("", self._end)
        for part in (self.back_button, self.sheet, self.undo_button, self.redo_button):
            row.addWidget(part)
        self.follow()

    def follow(self) -> None:
        """Say what undo and redo would do."""
        book = self._session.book
        for item, verb, name, keys in (
            (self.undo_button, "Undo", book.undoes, "Ctrl+Z"), (self.redo_button, "Redo", book.redoes, "Ctrl+Shift+Z"),
        ):  # fmt: skip
            item.setVisible(bool(name))
            words = f"{verb} {word('operation_short', name)}"
            item.setText(words)
            item.setAccessibleName(words)
            item.setToolTip(keys)
        roads = self._session.roads
        words = "End the comparison" if roads.rival is not None else "Back to the proof" if roads.unmanaged else ""
        self.back_button.setVisible(bool(words))
        self.back_button.setText(words)
        self.back_button.setAccessibleName(words)
        self.back_button.setToolTip("Esc")
        self.sheet.follow()
        self.adjustSize()

    def _end(self) -> None:
        """Back from what is only compared or warned of."""
        roads = self._session.roads
        if roads.rival is not None:
            self._session.end_comparison()
        elif roads.unmanaged:
            roads.set_unmanaged(False)

    def lie_in(self, head: QRectF) -> None:
        """At the right end of a pane's head."""
        self.adjustSize()
        self.move(round(head.right() - self.width()), round(head.center().y() - self.height() / 2))

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        self.sheet.room = room
        self.sheet.update()
