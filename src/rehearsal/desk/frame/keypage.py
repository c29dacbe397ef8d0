"""The page of keys: three columns by station, keys as boxes, searched by typing."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QLabel, QLineEdit, QScrollArea, QVBoxLayout, QWidget

from rehearsal.desk import theme
from rehearsal.desk.frame.keys import key_groups
from rehearsal.desk.parts.widgets import button, heading, quiet

_COLUMNS, _KEYS = 3, 96


class KeyPage(QDialog):
    """All keys. What is typed leaves only the keys whose words or letters have it."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Keys")
        self.resize(min(theme.px(1040), parent.width() - 20), min(theme.px(600), parent.height() - 20))
        rows = QVBoxLayout(self)
        self.search = QLineEdit()
        self.search.setPlaceholderText("type to search")
        self.search.setAccessibleName("Search the keys")
        self.search.textChanged.connect(self.show_matching)
        rows.addWidget(self.search)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inner = QWidget()
        self._columns = QHBoxLayout(inner)
        self._columns.setSpacing(theme.px(22))
        area.setWidget(inner)
        rows.addWidget(area, 1)
        foot = QHBoxLayout()
        foot.addStretch(1)
        foot.addWidget(button("Close", self.accept, "Esc"))
        rows.addLayout(foot)
        #: Each key's words with the widgets that show them; titles with the keys under them.
        self._rows: list[tuple[str, tuple[QWidget, ...]]] = []
        self._titles: list[tuple[QWidget, list[int]]] = []
        self._fill()

    def _fill(self) -> None:
        """Groups go into the column that is shortest so far."""
        columns = [QVBoxLayout() for _ in range(_COLUMNS)]
        filled = [0] * _COLUMNS
        for title, keys in key_groups():
            at = filled.index(min(filled))
            filled[at] += len(keys) + 2
            self._add_group(columns[at], title, keys)
        for column in columns:
            column.addStretch(1)
            self._columns.addLayout(column, 1)

    def _add_group(self, column: QVBoxLayout, title: str, keys: list[tuple[str, str]]) -> None:
        head = heading(title)
        column.addWidget(head)
        grid = QGridLayout()
        grid.setColumnStretch(1, 1)
        grid.setColumnMinimumWidth(0, theme.px(_KEYS))
        grid.setVerticalSpacing(theme.px(3))
        numbers = []
        for row, (key, words) in enumerate(keys):
            box, text = QLabel(key), quiet(words, wrap=True)
            box.setProperty("key", True)
            grid.addWidget(box, row, 0, Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft)
            grid.addWidget(text, row, 1)
            numbers.append(len(self._rows))
            self._rows.append((f"{key} {words} {title}".lower(), (box, text)))
        column.addLayout(grid)
        self._titles.append((head, numbers))

    def show_matching(self, typed: str) -> None:
        """Leave the keys that have all typed words."""
        wanted = typed.lower().split()
        shown = [all(word in text for word in wanted) for text, _widgets in self._rows]
        for on, (_text, widgets) in zip(shown, self._rows, strict=True):
            for widget in widgets:
                widget.setVisible(on)
        for head, numbers in self._titles:
            head.setVisible(any(shown[i] for i in numbers))

    @property
    def shown(self) -> list[str]:
        """Words of the keys that are left."""
        return [text for text, widgets in self._rows if not widgets[0].isHidden()]
