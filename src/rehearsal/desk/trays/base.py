"""What all trays share."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from rehearsal.desk.model import DeskModel
from rehearsal.desk.parts import Column


class Tray(QWidget):
    """Columns laid out left to right in the order of use. ``board_wanted`` names a board to be shown or closed."""

    board_wanted = pyqtSignal(str)

    def __init__(self, model: DeskModel) -> None:
        super().__init__()
        self.model = model
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(16, 10, 16, 10)
        self.row.setSpacing(26)
        self.build()
        self.row.addStretch(1)

    def build(self) -> None:
        """Make the columns."""
        raise NotImplementedError(type(self).__name__)

    def refresh(self) -> None:
        """Show what the model holds now."""

    def column(self, title: str, width: int = 0) -> Column:
        """A new column at the right."""
        made = Column(title, width)
        self.row.addWidget(made)
        return made
