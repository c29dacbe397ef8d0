"""What all trays share: columns in the order of use, lying under the pictures or standing beside them."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent, QShowEvent
from PyQt6.QtWidgets import QBoxLayout, QWidget

from rehearsal.desk import theme
from rehearsal.desk.pair.view import PairView
from rehearsal.desk.parts.columns import Column, Pages
from rehearsal.session.bus import Change
from rehearsal.session.session import Session

_SIDE, _TOP, _GAP, _GAP_STANDING = 16, 8, 20, 12
#: So often a tray looks whether its columns still fit once they lie.
_LOOKS = 3
#: A drawing takes no more of the window's height than this.
_MOST_DRAWN = 0.34
#: The row of the pages' names.
_NAMES, _NAMES_STANDING = 24, 54
_LYING, _STANDING = QBoxLayout.Direction.LeftToRight, QBoxLayout.Direction.TopToBottom


class Tray(QWidget):
    """Columns in the order of use. ``board_wanted`` names a board to be shown or closed.

    Columns that find no room fold into named pages, the last ones first. ``follows`` names what the tray shows, as a
    change record has it.
    """

    board_wanted = pyqtSignal(str)
    #: Another station is wanted, by its key.
    station_wanted = pyqtSignal(str)
    follows: tuple[str, ...] = ("take", "picture")

    def __init__(self, session: Session, pair: PairView) -> None:
        super().__init__()
        self.session, self.pair = session, pair
        self.setObjectName("tray")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        #: The room its painted parts are dressed for; it may be asked to show something before it is dressed.
        self.room = theme.ROOMS["mid"]
        #: True while the tray stands at the right of the pictures.
        self.stands = False
        self._columns: list[Column] = []
        self._alone = -1
        self._is_arranging = False
        self._row = QBoxLayout(_LYING, self)
        self._pages = Pages()
        self._pages.setParent(self)  # without one it would be a window of its own for a moment
        self.build()

    def build(self) -> None:
        """Make the columns."""
        raise NotImplementedError(type(self).__name__)

    def refresh(self) -> None:
        """Show what the session holds now."""

    def follow(self, change: Change) -> None:
        """Something changed while this tray is open."""
        if change.about(*self.follows):
            self.refresh()

    def opened(self) -> None:
        """The station was gone to."""

    def show_board(self, name: str) -> None:
        """Mark the board that is shown."""

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone of painted parts."""
        self.room = room

    # ---- columns

    def column(self, title: str, width: int = 0, stretch: int = 0, about: tuple[str, ...] = ()) -> Column:
        """A new column at the end.

        Args:
            width: in pixels at the usual type, the least when it stretches; 0 for as wide as what is in it.
            stretch: its share of the room that is left.
            about: operations whose undoing shows here.
        """
        made = Column(title, width, stretch, about)
        made.setParent(self)
        self._columns.append(made)
        return made

    def bring_forward(self, column: Column) -> None:
        """Show a column that may be folded into a page."""
        if column in self._columns[self._alone :]:
            self._pages.show_page(self._columns.index(column) - self._alone)

    def column_about(self, operation: str) -> Column | None:
        """The column that shows what an operation changes."""
        column = next((c for c in self._columns if operation in c.about), None)
        if column is not None:
            self.bring_forward(column)
        return column

    def stand(self, upright: bool) -> None:
        """Stand at the right of the pictures, or lie under them."""
        if upright != self.stands:
            self.stands = upright
            self._alone = -1
            self.on_stand(upright)
            self.arrange()

    def on_stand(self, upright: bool) -> None:
        """Parts that lie differently follow."""

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """As many columns as there is room for."""
        super().resizeEvent(event)
        if self.isVisible():
            self.arrange()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Columns are laid when they are first seen: most trays are not, at a start."""
        super().showEvent(event)
        self.arrange()

    def arrange(self) -> None:
        """Let as many columns stand by themselves as there is room for; the rest are pages."""
        if self._is_arranging:  # parts that are laid resize the tray: it looks again when all of them lie
            return
        self._is_arranging = True
        for _ in range(_LOOKS):
            alone = self._fitting()
            if alone == self._alone:
                break
            self._alone = alone
            self._lay(alone)
        self._is_arranging = False

    def _lay(self, alone: int) -> None:
        """So many columns under their own titles, the others as pages."""
        self._empty()
        self._row.setDirection(_STANDING if self.stands else _LYING)
        side = theme.px(_SIDE)
        self._row.setContentsMargins(side, theme.px(_TOP), side, theme.px(_TOP))
        self._row.setSpacing(theme.px(_GAP_STANDING if self.stands else _GAP))
        for column in self._columns[:alone]:
            self._stand_alone(column)
        self._fold(self._columns[alone:])
        if alone == len(self._columns) and not any(c.stretch for c in self._columns):
            self._row.addStretch(1)

    def _stand_alone(self, column: Column) -> None:
        """A column under its own title."""
        column.show_title(True)
        column.let_go() if self.stands else column.keep_width()
        self._row.addWidget(column, column.stretch)
        column.show()

    def _fold(self, folded: list[Column]) -> None:
        """The last columns as pages, as wide as the widest of them needs."""
        self._pages.setVisible(bool(folded))
        for column in folded:
            column.show_title(False)
            column.let_go()
            self._pages.add(column.title, column)
        if folded:
            self._pages.setMinimumWidth(0 if self.stands else max(c.least_width for c in folded))
            self._row.addWidget(self._pages, 1)

    def _empty(self) -> None:
        self._pages.clear()
        while self._row.count():
            item = self._row.takeAt(0)
            widget = None if item is None else item.widget()
            if widget is not None:
                widget.setParent(self)

    def _fitting(self) -> int:
        """How many columns stand by themselves."""
        gap = theme.px(_GAP_STANDING if self.stands else _GAP)
        room = (self.height() - 2 * theme.px(_TOP)) if self.stands else (self.width() - 2 * theme.px(_SIDE))
        inner = self.width() - 2 * theme.px(_SIDE)
        needs = [
            c.height_within(inner, least=True) + c.hidden_title if self.stands else c.least_width for c in self._columns
        ]
        for alone in range(len(needs), 0, -1):
            if len(needs) - alone == 1:
                continue  # one page by itself would be a column
            rest = (
                [max(needs[alone:]) + (theme.px(_NAMES_STANDING) if self.stands else 0)] if alone < len(needs) else []
            )
            parts = [*needs[:alone], *rest]
            if sum(parts) + gap * (len(parts) - 1) <= room:
                return alone
        return 0 if len(needs) > 1 else len(needs)

    def wanted_height(self) -> int:
        """Height of the lying tray in its present width."""
        if self._alone < 0:
            self.arrange()
        alone = max(self._alone, 0)
        heights = [c.height_within(max(c.width(), c.least_width), c.is_list) for c in self._columns[:alone]]
        most = round(self.window().height() * _MOST_DRAWN)
        heights += [min(theme.px(c.drawn_height), most) for c in self._columns]
        folded = self._columns[alone:]
        if folded:
            width = max(self._pages.width(), *(c.least_width for c in folded))
            heights.append(max(c.height_within(width, c.is_list) for c in folded) + theme.px(_NAMES))
        return max(heights, default=0) + 2 * theme.px(_TOP)

    def minimumSizeHint(self) -> QSize:
        """Whatever the window has: columns fold."""
        return QSize(0, 0)
