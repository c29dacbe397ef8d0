"""The picture small on each paper: a card each, with yes, maybe or no and the reason."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QSizePolicy, QVBoxLayout, QWidget

from rehearsal.core.values.testplan import PAPER_WORDS, PatchSaid
from rehearsal.core.values.words import word
from rehearsal.desk import theme
from rehearsal.desk.parts.widgets import button


class _Proof(QWidget):
    """The picture on its own paper."""

    def __init__(self) -> None:
        super().__init__()
        self.image: QImage | None = None
        self.paper = QColor(0xEC, 0xEC, 0xEC)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(theme.px(90), theme.px(60))

    def sizeHint(self) -> QSize:
        """With the type."""
        return QSize(theme.px(170), theme.px(120))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paper and picture."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), self.paper)
        if self.image is not None:
            room = QRectF(self.rect()).adjusted(8, 8, -8, -8)
            size = self.image.size().scaled(room.size().toSize(), Qt.AspectRatioMode.KeepAspectRatio)
            place = QRectF(0, 0, size.width(), size.height())
            place.moveCenter(room.center())
            painter.drawImage(place, self.image)


class PaperAnswer(QWidget):
    """``said`` tells the key of an answer, ``why_said`` the reason."""

    said = pyqtSignal(str)
    why_said = pyqtSignal(str)

    def __init__(self, number: int, paper: str) -> None:
        super().__init__()
        self.number = number
        rows = QVBoxLayout(self)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(theme.px(4))
        self.proof = _Proof()
        rows.addWidget(self.proof, 1)
        name = QLabel(f"{number}  {paper}")
        rows.addWidget(name)
        row = QHBoxLayout()
        row.setSpacing(theme.px(4))
        self.buttons = {}
        for key in PAPER_WORDS:
            made = button(
                word("paper_answer", key), partial(self.said.emit, key), name=f"{paper}: {word('paper_answer', key)}"
            )
            made.setCheckable(True)
            self.buttons[key] = made
            row.addWidget(made, 1)
        rows.addLayout(row)
        self.why = QLineEdit()
        self.why.setPlaceholderText("why?")
        self.why.setAccessibleName(f"{paper}: why")
        self.why.editingFinished.connect(lambda: self.why_said.emit(self.why.text()))
        rows.addWidget(self.why)

    def show_answer(self, image: QImage | None, paper: QColor, said: PatchSaid, can_say: bool) -> None:
        """Its proof, and what was said of it; before it is printed nothing can be said."""
        self.proof.image, self.proof.paper = image, paper
        self.proof.update()
        for key, each in self.buttons.items():
            each.setChecked(key in said.words)
            each.setEnabled(can_say)
        self.why.setEnabled(can_say)
        if not self.why.hasFocus():
            self.why.setText(said.why)
