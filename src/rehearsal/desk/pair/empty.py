"""The first start: three buttons in the places of what is missing."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from rehearsal.desk import theme
from rehearsal.desk.parts.widgets import button, quiet
from rehearsal.session.session import Session

_WIDTH = 340


class EmptyStart(QWidget):
    """Lies over the pair while there is no picture. Its signals ask for what the buttons say."""

    pictures_wanted = pyqtSignal()
    profiles_wanted = pyqtSignal()
    demo_wanted = pyqtSignal()

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self._session = session
        self._left = self._place(
            "Open pictures…", self.pictures_wanted.emit, "TIFF, JPEG or PNG. They are only read, never written to. Or drop them here.",
        )  # fmt: skip
        self._right = self._place(
            "Add a paper’s profile…", self.profiles_wanted.emit, "The ICC profile of your printer on a paper. Or drop it here.",
        )  # fmt: skip
        self._foot = self._place(
            "Look at the demo", self.demo_wanted.emit, "Made-up papers and pictures in a window of their own. "
            "Nothing of it comes into your workbook.",
        )  # fmt: skip

    def _place(self, text: str, wanted, words: str) -> QWidget:  # type: ignore[no-untyped-def]
        place = QWidget(self)
        rows = QVBoxLayout(place)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(theme.px(6))
        press = button(text, wanted)
        press.setProperty("large", True)
        said = quiet(words, wrap=True)
        said.setProperty("surround", True)
        rows.addWidget(press)
        rows.addWidget(said)
        place.setFixedWidth(theme.px(_WIDTH))
        return place

    def follow(self) -> None:
        """There while nothing is open; the profile's button while the shelf is empty too."""
        now = self._session.now
        self.setVisible(now.take is None)
        own = [c for c in self._session.shelf.conditions if not c.space]
        self._right.setVisible(not own)

    def lie_over(self, area: QRectF) -> None:
        """Pictures at the left, the profile at the right, the demo below."""
        self.setGeometry(area.toRect())
        half, middle = area.width() / 2, area.height() * 0.4
        for place, x, y in (
            (self._left, half / 2, middle),
            (self._right, half * 1.5, middle),
            (self._foot, half, area.height() * 0.75),
        ):
            place.adjustSize()
            place.move(round(x - place.width() / 2), round(y - place.height() / 2))
