"""What needs a look, a row each with the button that mends it; then the steps of the hands, to be ticked off."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QPointF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from rehearsal.core.sheet.caution import Caution
from rehearsal.core.values.words import word
from rehearsal.desk import theme
from rehearsal.desk.parts.rings import paint_ring
from rehearsal.desk.parts.widgets import button, quiet

_RING = 5.5


class Ring(QWidget):
    """A ring as in the running order."""

    def __init__(self, ring: str) -> None:
        super().__init__()
        self.room, self._ring = theme.ROOMS["mid"], ring
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setFixedSize(QSize(theme.px(16), theme.px(16)))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The ring."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_ring(painter, QPointF(self.width() / 2, self.height() / 2), _RING, self._ring, self.room)


class CautionList(QWidget):
    """Rows that are made anew when what needs a look changes."""

    def __init__(self, mend: Callable[[Caution], object], tick: Callable[[str, bool], object]) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._mend, self._tick = mend, tick
        self._shown: object = None
        self._rings: list[Ring] = []
        self._rows = QVBoxLayout(self)
        self._rows.setContentsMargins(0, 0, theme.px(4), 0)
        self._rows.setSpacing(theme.px(4))

    def show_cautions(
        self, cautions: Sequence[Caution], steps: Sequence[str], ticked: Sequence[str], nothing: str
    ) -> None:
        """All rows.

        Args:
            steps: of the hands, in their order; ticked: keys that are ticked off.
            nothing: said when nothing needs a look.
        """
        shown = (tuple(cautions), tuple(steps), tuple(ticked), nothing, self.room.name)
        if shown == self._shown:
            return
        self._shown = shown
        self._clear()
        for caution in cautions:
            self._rows.addLayout(self._caution_row(caution))
        if not cautions:
            self._rows.addWidget(quiet(nothing, wrap=True))
        if steps:
            self._rows.addWidget(quiet("For the hands:"))
        for step in steps:
            self._rows.addLayout(self._step_row(step, f"step:{step}" in ticked))
        self._rows.addStretch(1)
        self.setAccessibleDescription(" ".join(c.text for c in cautions) or nothing)

    def _caution_row(self, caution: Caution) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(theme.px(7))
        ring = Ring("look" if not caution.can_be_ticked else "half")
        ring.room = self.room
        self._rings.append(ring)
        row.addWidget(ring, 0, Qt.AlignmentFlag.AlignTop)
        row.addWidget(quiet(caution.text, wrap=True), 1)
        if caution.mend:
            row.addWidget(
                self._button(word("mend", caution.mend), caution, lambda: self._mend(caution)),
                0,
                Qt.AlignmentFlag.AlignTop,
            )
        if caution.can_be_ticked:
            tick = self._button(word("mend", "tick"), caution, lambda: self._tick(caution.key, True))
            row.addWidget(tick, 0, Qt.AlignmentFlag.AlignTop)
        return row

    @staticmethod
    def _button(words: str, caution: Caution, slot: Callable[[], object]) -> QWidget:
        return button(words, slot, caution.text, f"{words}: {caution.text}")

    def _step_row(self, step: str, on: bool) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(theme.px(4))
        box = QCheckBox()
        box.setMinimumWidth(theme.px(26))
        box.setAccessibleName(step)
        box.setChecked(on)
        box.clicked.connect(lambda done: self._tick(f"step:{step}", done))
        words = quiet(step, wrap=True)
        words.setAlignment(Qt.AlignmentFlag.AlignVCenter)
        row.addWidget(box)
        row.addWidget(words, 1)
        return row

    def _clear(self) -> None:
        self._rings = []
        while self._rows.count():
            item = self._rows.takeAt(0)
            if item is None:
                continue
            inner = item.layout()
            if inner is not None:
                while inner.count():
                    _gone(inner.takeAt(0).widget())
            _gone(item.widget())

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        self.room = room
        for ring in self._rings:
            ring.room = room
            ring.update()


def _gone(widget: QWidget | None) -> None:
    if widget is not None:
        widget.hide()
        widget.deleteLater()
