"""Columns of trays, and pages that several things share."""

from __future__ import annotations

from PyQt6.QtWidgets import (
    QAbstractButton,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from rehearsal.desk import theme
from rehearsal.desk.parts.flow import FlowLayout, flow
from rehearsal.desk.parts.widgets import button, heading

#: Least height of a column that takes what is left, as in a list.
_LIST = 168
_FREE = 16_777_215


class Column(QWidget):
    """A heading with things under it.

    Args:
        width: in pixels at the usual type, the least when it stretches; 0 for as wide as what is in it.
        stretch: its share of the room that is left.
        about: operations whose undoing shows here.
    """

    def __init__(self, title: str, width: int = 0, stretch: int = 0, about: tuple[str, ...] = ()) -> None:
        super().__init__()
        self.title, self.width_at_rest, self.stretch, self.about = title, width, stretch, about
        #: Pixels (at the usual type) a drawing in it wants while the tray lies; 0 for what lists want.
        self.drawn_height = 0
        self.rows = QVBoxLayout(self)
        self.rows.setContentsMargins(0, 0, 0, 0)
        self.rows.setSpacing(5)
        self._heading = QWidget()
        self._head = QHBoxLayout(self._heading)
        self._head.setContentsMargins(0, 0, 0, 0)
        self._head.setSpacing(theme.px(10))
        self._head.addWidget(heading(title))
        self._head.addStretch(1)
        self.rows.addWidget(self._heading)
        self._has_title = bool(title)
        self._heading.setVisible(self._has_title)

    def add(self, widget: QWidget) -> QWidget:
        """One more row."""
        self.rows.addWidget(widget)
        return widget

    def pair(self, *widgets: QWidget) -> None:
        """Several widgets in one row, or in more where they find no room."""
        self.rows.addLayout(flow(*widgets))

    def end(self) -> None:
        """Push everything up."""
        self.rows.addStretch(1)

    def show_title(self, on: bool) -> None:
        """A page's name stands above the page."""
        self._heading.setVisible(on and self._has_title)

    def beside_title(self, widget: QWidget) -> None:
        """A few words after the title."""
        self._head.insertWidget(1, widget)

    # ---- room

    @property
    def least_width(self) -> int:
        """Pixels it needs while it lies beside others."""
        return max(theme.px(self.width_at_rest), self.rows.minimumSize().width())

    def keep_width(self) -> None:
        """As wide as it wants to be, or more where it stretches."""
        self.setMinimumWidth(self.least_width)
        self.setMaximumWidth(_FREE if self.stretch or not self.width_at_rest else self.least_width)

    def let_go(self) -> None:
        """As wide as its place."""
        self.setMinimumWidth(0)
        self.setMaximumWidth(_FREE)

    @property
    def is_list(self) -> bool:
        """True for a column that is as high as its place: a table or a drawing."""
        return any(not isinstance(w, (QLabel, QAbstractButton)) for w in self._tall())

    def _tall(self) -> list[QWidget]:
        """What in it takes all the height it gets."""
        items = [self.rows.itemAt(i) for i in range(self.rows.count())]
        widgets = [item.widget() for item in items if item is not None and item.widget() is not None]
        expanding = QSizePolicy.Policy.Expanding
        return [
            w
            for w in widgets
            if (w is not None and w.sizePolicy().verticalPolicy() == expanding) or isinstance(w, Pages)
        ]

    @property
    def hidden_title(self) -> int:
        """Pixels its title will want that is hidden now."""
        if not self._has_title or not self._heading.isHidden():
            return 0
        return self._heading.sizeHint().height() + self.rows.spacing()

    def height_within(self, width: int, least: bool = False) -> int:
        """Pixels it wants (or needs at least) in that width."""
        if least and self.is_list:
            return theme.px(_LIST)
        layout = self.rows
        if layout.hasHeightForWidth():
            return layout.minimumHeightForWidth(width) if least else layout.totalHeightForWidth(width)
        return layout.minimumSize().height() if least else layout.sizeHint().height()


class Pages(QWidget):
    """Several pages in one place, their names in a row above; or all of them side by side."""

    def __init__(self) -> None:
        super().__init__()
        rows = QVBoxLayout(self)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(5)
        self._names: FlowLayout = FlowLayout(16, 2)
        rows.addLayout(self._names)
        self._stack = QStackedWidget()
        rows.addWidget(self._stack, 1)
        self._side = QHBoxLayout()
        self._side.setSpacing(theme.px(24))
        rows.addLayout(self._side, 0)
        self._buttons: list[QPushButton] = []
        self._pages: list[tuple[str, QWidget]] = []
        self.is_spread = False

    def add(self, name: str, page: QWidget) -> None:
        """One more page."""
        at = len(self._buttons)
        made = button(name, lambda: self.show_page(at), name=f"Page: {name}")
        made.setProperty("page", True)
        made.setCheckable(True)
        self._names.addWidget(made)
        self._buttons.append(made)
        self._pages.append((name, page))
        self._stack.addWidget(page)
        self.show_page(0)

    def clear(self) -> None:
        """Give all pages back."""
        for _name, page in self._pages:
            self._stack.removeWidget(page)
        for made in self._buttons:
            self._names.removeWidget(made)
            made.hide()
            made.deleteLater()
        self._buttons.clear()
        self._pages.clear()

    def show_page(self, at: int) -> None:
        """Show one page."""
        self._stack.setCurrentIndex(at)
        for i, each in enumerate(self._buttons):
            each.setChecked(i == at)

    @property
    def current(self) -> int:
        """Number of the page shown."""
        return self._stack.currentIndex()

    def spread(self, on: bool) -> None:
        """All pages side by side under their names, or one at a time."""
        if on == self.is_spread:
            return
        self.is_spread = on
        for made in self._buttons:
            made.setVisible(not on)
        self._stack.setVisible(not on)
        while self._side.count():
            item = self._side.takeAt(0)
            holder = None if item is None else item.widget()
            if holder is not None:
                holder.setParent(None)
                holder.deleteLater()
        for name, page in self._pages:
            if on:
                holder = _under(name, page)
                self._side.addWidget(holder, 1)
                page.show()
                holder.show()
            else:
                self._stack.addWidget(page)
        if not on:
            self.show_page(0)
            self._pages[0][1].show()


def _under(name: str, page: QWidget) -> QWidget:
    holder = QWidget()
    rows = QVBoxLayout(holder)
    rows.setContentsMargins(0, 0, 0, 0)
    rows.setSpacing(5)
    rows.addWidget(heading(name))
    rows.addWidget(page, 1)
    return holder
