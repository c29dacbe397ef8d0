"""From a bad print to its cause: which look is in the hand, its likely causes held against the ticket, the two looks side by side."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QGridLayout, QHBoxLayout, QLabel, QSizePolicy, QVBoxLayout, QWidget

from rehearsal.core.sheet.causes import LOOKS, Cause
from rehearsal.core.values.words import date_words, word
from rehearsal.desk import theme
from rehearsal.desk.boards.base import Board
from rehearsal.desk.parts.focus import dress, paint_focus
from rehearsal.desk.parts.images import paper_colour, rgb_image
from rehearsal.desk.parts.rings import paint_ring
from rehearsal.desk.parts.widgets import button, heading, quiet
from rehearsal.workbook.values import LogEntry

_SIZE = 320
_RINGS = {"open": "look", "read": "half", "out": "full"}


class LookCard(QAbstractButton):
    """A look of the print with its name; checked while it is the one in the hand."""

    def __init__(self, key: str) -> None:
        super().__init__()
        self.key, self._image = key, None
        self.room = theme.ROOMS["mid"]
        self.paper = QColor(0xEC, 0xEC, 0xEC)
        self.setCheckable(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(word("print_look", key))

    _image: QImage | None

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(150), theme.px(116))

    def minimumSizeHint(self) -> QSize:
        """A picture that can still be seen."""
        return QSize(theme.px(86), theme.px(70))

    def show_look(self, image: QImage | None, paper: QColor) -> None:
        """The look on its paper."""
        self._image, self.paper = image, paper
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paper, picture, name."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        foot = theme.px(20)
        room = QRectF(0, 0, self.width(), self.height() - foot)
        if self._image is not None:
            size = self._image.size().scaled(
                room.adjusted(9, 9, -9, -9).size().toSize(), Qt.AspectRatioMode.KeepAspectRatio
            )
            place = QRectF(0, 0, size.width(), size.height())
            place.moveCenter(room.center())
            painter.fillRect(place.adjusted(-6, -6, 6, 6), self.paper)
            painter.drawImage(place, self._image)
        painter.setPen(self.room.colour("text"))
        painter.setFont(theme.font(theme.SMALL, strong=self.isChecked()))
        painter.drawText(
            QRectF(0, room.bottom(), self.width(), foot), Qt.AlignmentFlag.AlignCenter, self.accessibleName()
        )
        if self.isChecked():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(self.room.colour("text"), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        paint_focus(painter, self, self.room)


class CauseList(QWidget):
    """Rows of causes: ring, name, how likely as a bar, what the ticket says; ``chosen`` tells the number of a row."""

    chosen = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.causes: list[Cause] = []
        self.at = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Likely causes")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)

    def sizeHint(self) -> QSize:
        """A row each."""
        return QSize(theme.px(460), theme.px(38) * max(len(self.causes), 4))

    def minimumSizeHint(self) -> QSize:
        """It may be narrower."""
        return QSize(theme.px(300), theme.px(38) * max(len(self.causes), 1))

    def show_causes(self, causes: list[Cause], at: int) -> None:
        """Likely causes, the likeliest first, and which is chosen."""
        self.causes, self.at = causes, min(at, max(len(causes) - 1, 0))
        self.setAccessibleDescription(
            "; ".join(
                f"{word('print_cause', c.key)}: {c.likely * 100:.0f} %, {word('cause_ticket', c.ticket)}"
                for c in causes
            )
        )
        self.updateGeometry()
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The rows."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        row, text, px = theme.px(38), self.room.colour("text"), theme.px
        name = self.width() * 0.52
        for i, cause in enumerate(self.causes):
            box = QRectF(0, i * row, self.width(), row - 2)
            if i == self.at:
                painter.fillRect(box, self.room.colour("raised"))
                painter.fillRect(QRectF(0, box.y(), 4, box.height()), text)
            paint_ring(painter, QPointF(px(17), box.center().y()), px(6), _RINGS[cause.known], self.room)
            painter.setPen(text)
            painter.setFont(theme.font(theme.SMALL, strong=i == self.at))
            painter.drawText(
                QRectF(px(32), box.y(), name - px(34), row),
                Qt.AlignmentFlag.AlignVCenter,
                word("print_cause", cause.key),
            )
            track = QRectF(name, box.center().y() - px(4), px(54), px(8))
            painter.fillRect(track, self.room.colour("field"))
            painter.fillRect(
                QRectF(track.x(), track.y(), track.width() * cause.likely, track.height()),
                text if i == self.at else self.room.colour("mark"),
            )
            painter.setFont(theme.font(theme.SMALL))
            painter.setPen(self.room.colour("quiet"))
            flags = Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(
                QRectF(name + px(64), box.y(), self.width() - name - px(66), row),
                flags,
                word("cause_ticket", cause.ticket),
            )
        paint_focus(painter, self, self.room)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose a row."""
        if event is not None and 0 <= (at := int(event.position().y() // theme.px(38))) < len(self.causes):
            self.chosen.emit(at)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down."""
        by = 0 if event is None else {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
        if by and self.causes:
            self.chosen.emit(min(max(self.at + by, 0), len(self.causes) - 1))
        else:
            super().keyPressEvent(event)


class SplitPicture(QWidget):
    """The left half of a look beside the right half of the print as planned."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._images: tuple[QImage | None, QImage | None] = (None, None)
        self.paper = QColor(0xEC, 0xEC, 0xEC)
        self.setMinimumSize(theme.px(160), theme.px(110))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Left: the look, right: as planned")

    def show_two(self, wrong: QImage | None, planned: QImage | None, paper: QColor) -> None:
        """Both looks."""
        self._images, self.paper = (wrong, planned), paper
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Two halves on one paper."""
        painter, (wrong, planned) = QPainter(self), self._images
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        if wrong is None or planned is None:
            return
        size = planned.size().scaled(self.size() - QSize(24, 24), Qt.AspectRatioMode.KeepAspectRatio)
        place = QRectF(0, 0, size.width(), size.height())
        place.moveCenter(QRectF(self.rect()).center())
        painter.fillRect(place.adjusted(-10, -10, 10, 10), self.paper)
        painter.drawImage(place, planned)
        half = QRectF(place.x(), place.y(), place.width() / 2, place.height())
        painter.drawImage(half, wrong, QRectF(0, 0, wrong.width() / 2, wrong.height()))
        painter.setPen(QPen(self.paper, 2))
        painter.drawLine(half.topRight(), half.bottomRight())


class CausesBoard(Board):
    """Looks at the left, causes in the middle, what to be sure of at the right."""

    title = "What went wrong?"
    with_tray = True
    follows = ("take", "past", "past_look", "log", "look", "road")

    def build(self) -> None:
        """Three parts."""
        self.sentence.hide()
        self.which = quiet("")
        self._head.insertWidget(1, self.which)
        self.look = "twice"
        self.row = 0
        grid = QGridLayout()
        grid.setSpacing(theme.px(8))
        self.cards = {key: LookCard(key) for key in LOOKS}
        for i, (key, card) in enumerate(self.cards.items()):
            card.clicked.connect(lambda _on=False, k=key: self.choose(k))
            grid.addWidget(card, i // 3, i % 3)
        middle = QVBoxLayout()
        middle.addWidget(heading("Likely cause"))
        middle.addWidget(
            quiet(
                "held against the ticket of that print; hatched: left open, half: only read, full: ruled out", wrap=True
            )
        )
        self.list = CauseList()
        self.list.chosen.connect(self._choose_row)
        middle.addWidget(self.list)
        middle.addStretch(1)
        right = QVBoxLayout()
        right.addWidget(heading("To be sure"))
        self.do = quiet("", wrap=True)
        right.addWidget(self.do)
        self.split = SplitPicture()
        right.addWidget(self.split, 1)
        self.caption = QLabel()
        right.addWidget(self.caption)
        self.was, self.not_this = button("It was this", self._was), button("Not this one", self._not_this)
        self.was.setProperty("advice", True)
        row = QHBoxLayout()
        row.addWidget(self.was, 1)
        row.addWidget(self.not_this, 1)
        right.addLayout(row)
        both = QHBoxLayout()
        both.setSpacing(theme.px(18))
        for layout, stretch in ((grid, 5), (middle, 5), (right, 3)):
            both.addLayout(layout, stretch)
        self.rows.addLayout(both, 1)
        self._not: set[str] = set()

    @property
    def entry(self) -> LogEntry | None:
        """The print that went wrong."""
        return self.session.past.entry

    def subject(self) -> object:
        """The chosen print."""
        return None if self.entry is None else self.entry.id

    def open(self) -> None:
        """Another print begins anew."""
        self.row, self._not = 0, set()
        self.refresh()

    def refresh_pictures(self) -> None:
        """The view has changed."""
        self.refresh()

    def set_room(self, room: theme.Room) -> None:
        """Painted parts follow the room."""
        super().set_room(room)
        dress(room, (*self.cards.values(), self.list, self.split))

    # ---- hands

    def choose(self, look: str) -> None:
        """This look is in the hand."""
        self.look, self.row = look, 0
        self.refresh()

    def _choose_row(self, row: int) -> None:
        self.row = row
        self.refresh()

    def _was(self) -> None:
        causes, entry = self._causes(), self.entry
        if entry is not None and causes:
            self.session.past.set_cause(entry, causes[self.list.at].key)
            self.session.bus.say(
                f"Kept: {word('print_cause', causes[self.list.at].key)}. This print teaches nothing about light any more.",
                "undo",
            )

    def _not_this(self) -> None:
        causes = self._causes()
        if causes:
            self._not.add(causes[self.list.at].key)
            self.refresh()

    def _causes(self) -> list[Cause]:
        entry = self.entry
        return (
            [] if entry is None else [c for c in self.session.past.causes(entry, self.look) if c.key not in self._not]
        )

    # ---- following

    def refresh(self) -> None:
        """Looks, causes, the split picture."""
        entry = self.entry
        if entry is None:
            self.which.setText("No print is in the logbook yet.")
            return
        self.which.setText(
            f"Which one is in your hand? {entry.picture} on {entry.condition_name}, {date_words(entry.when)}"
        )
        looks = self.session.past.cause_looks(entry, _SIZE)
        if looks is None and self.session.past.cannot_look(entry, _SIZE):
            self.which.setText(
                f"The picture or the profile of {entry.picture}, {date_words(entry.when)}, is not there any more: no looks."
            )
        paper = paper_colour(self.session.roads.road)
        images = {} if looks is None else {key: rgb_image(rgb) for key, rgb in looks.items()}
        for key, card in self.cards.items():
            card.setChecked(key == self.look)
            card.show_look(images.get(key), paper)
        causes = self._causes()
        self.list.show_causes(causes, self.row)
        self.split.show_two(images.get(self.look), images.get("planned"), paper)
        self.caption.setText(f"left: {word('print_look', self.look).lower()}; right: as planned")
        chosen = causes[self.list.at] if causes else None
        if self.look == "planned":
            self.do.setText("It looks as planned: judge it by the rows.")
        elif chosen is None:
            self.do.setText("None of them: keep it in words, and print a small proof with every setting looked at.")
        else:
            done = "It was this. " if entry.cause == chosen.key else ""
            self.do.setText(done + word("cause_do", chosen.key))
        self.was.setEnabled(chosen is not None)
        self.not_this.setEnabled(chosen is not None)
