"""What keeps a pane empty or in doubt, said in the pane itself, with the button that mends it."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtWidgets import QBoxLayout, QFileDialog, QFrame, QHBoxLayout, QVBoxLayout, QWidget

from rehearsal.core.errors import RehearsalError
from rehearsal.desk.parts.widgets import button, quiet
from rehearsal.session.session import Session
from rehearsal.tasks.conditions import with_profile

_WIDTH = 380


class Mending(QFrame):
    """A card over the pair. ``station_wanted`` names the station where it can be mended."""

    station_wanted = pyqtSignal(str)

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("mending")
        self.setAccessibleName("What is missing")
        self._rows = rows = QVBoxLayout(self)
        rows.setSpacing(8)
        self._words = quiet(wrap=True)
        rows.addWidget(self._words, 1)
        line = QHBoxLayout()
        self._mend = button("", self._on_mend)
        self._other = button("Take this picture off the rack", self._take_off)
        line.addWidget(self._mend)
        line.addWidget(self._other)
        line.addStretch(1)
        rows.addLayout(line)
        self._work: Callable[[], object] = lambda: None
        self.kind = ""
        self.hide()

    @property
    def text(self) -> str:
        """What is said; empty while nothing is missing."""
        return self._words.text() if self.kind else ""

    def follow(self) -> None:
        """Say what is missing now."""
        trouble = self._session.now.trouble
        self.kind = "" if trouble is None else trouble.kind
        self.setVisible(trouble is not None)
        if trouble is None:
            return
        self._words.setText(trouble.words)
        words, self._work = {
            "picture": ("Choose its file…", self._choose_picture),
            "large": ("Open it", self._session.now.open_large),
            "profile": ("Choose the profile again…", self._choose_profile),
            "untagged": ("Say what it is…", lambda: self.station_wanted.emit("picture")),
        }[trouble.kind]
        self._mend.setText(words)
        self._mend.setAccessibleName(words)
        self._other.setVisible(trouble.kind in ("picture", "large"))
        slim = trouble.kind == "untagged"  # the picture is there and should be seen
        self._rows.setDirection(QBoxLayout.Direction.LeftToRight if slim else QBoxLayout.Direction.TopToBottom)
        self._rows.setContentsMargins(10, 4, 6, 4) if slim else self._rows.setContentsMargins(14, 12, 14, 12)
        self._words.setAlignment(Qt.AlignmentFlag.AlignVCenter if slim else Qt.AlignmentFlag.AlignTop)

    def place(self, pane: QRectF) -> None:
        """In the middle of a pane, or at its foot while its picture can be seen."""
        slim = self.kind == "untagged"
        width = max(round(pane.width()) - 16 if slim else min(_WIDTH, round(pane.width()) - 16), 160)
        self.setFixedWidth(width)
        self.setFixedHeight(max(self._rows.heightForWidth(width) + 4, 34))
        x = pane.center().x() - self.width() / 2
        y = pane.bottom() - self.height() - 4 if slim else pane.center().y() - self.height() / 2
        self.move(round(x), round(y))
        self.raise_()

    def _on_mend(self) -> None:
        self._work()

    def _choose_picture(self) -> None:
        master = self._session.now.master
        if master is None:
            return
        start = str(Path(master.path).parent)
        name, _ = QFileDialog.getOpenFileName(
            self, f"Where is {master.name}?", start, "Pictures (*.tif *.tiff *.jpg *.jpeg *.png)"
        )
        if name:
            self._session.incoming.found_again(master, Path(name))

    def _choose_profile(self) -> None:
        condition = self._session.now.condition
        if condition is None:
            return
        name, _ = QFileDialog.getOpenFileName(self, f"The profile of {condition.name}", "", "Profiles (*.icc *.icm)")
        if not name:
            return
        try:
            self._session.shelf.change(with_profile(condition, Path(name)))
        except RehearsalError as error:
            self._session.bus.say_error(error)

    def _take_off(self) -> None:
        master = self._session.now.master
        if master is not None:
            self._session.takes.remove_picture(master)
