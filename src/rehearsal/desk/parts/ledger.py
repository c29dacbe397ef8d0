"""The ledger of a take's steps: each with what it does in a little picture and in words, its switch and its strength."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QEvent, QObject, QRectF, QSignalBlocker, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QImage, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from rehearsal.core.tuning.summing import origin_words, step_words
from rehearsal.core.values.recipe import LEARNT, LIGHT, Step
from rehearsal.desk import theme
from rehearsal.desk.parts.images import rgb_image
from rehearsal.desk.parts.numberfield import NumberField

_ROW, _CROP, _STRENGTH = 34, 36, 54


class StepPicture(QWidget):
    """Two little pictures: without a step, and with it."""

    def __init__(self) -> None:
        super().__init__()
        self._images: tuple[QImage, ...] = ()
        self.setFixedSize(QSize(theme.px(2 * _CROP + 2), theme.px(_ROW - 4)))

    def show_pair(self, pair: tuple[np.ndarray, np.ndarray] | None) -> None:
        """8-bit RGB (h, w, 3) without and with it."""
        self._images = () if pair is None else tuple(rgb_image(each) for each in pair)
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Both, cut to fill their places."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        wide, high = theme.px(_CROP), self.height()
        for i, image in enumerate(self._images):
            scale = max(wide / image.width(), high / image.height())
            part = QRectF(0, 0, wide / scale, high / scale)
            part.moveCenter(QRectF(image.rect()).center())
            painter.drawImage(QRectF(i * (wide + 2), 0, wide, high), image, part)


class StepRow(QWidget):
    """One step. ``changed`` tells it with another switch or strength, ``chosen`` that it was pressed."""

    changed = pyqtSignal(object)
    chosen = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.room, self.step, self.is_chosen = theme.ROOMS["mid"], Step(), False
        row = QHBoxLayout(self)
        row.setContentsMargins(theme.px(8), 0, 0, 0)
        row.setSpacing(theme.px(6))
        self.switch = QCheckBox()
        self.switch.setFixedWidth(theme.px(theme.TARGET))
        self.switch.toggled.connect(lambda on: self._tell(on=on))
        self.picture = StepPicture()
        self.words = _Words()
        self.strength: NumberField = NumberField(0, 100, 0, "%", 5)
        self.strength.setFixedWidth(theme.px(_STRENGTH))
        self.strength.valueChanged.connect(lambda value: self._tell(strength=value / 100))
        for part, stretch in ((self.switch, 0), (self.picture, 0), (self.words, 1), (self.strength, 0)):
            row.addWidget(part, stretch)
        for part in (self.switch, self.strength):
            part.installEventFilter(self)
        self.setFixedHeight(theme.px(_ROW))

    def _tell(self, **fields: object) -> None:
        self.changed.emit(replace(self.step, **fields))  # type: ignore[arg-type]

    def show_step(self, step: Step, pair: tuple[np.ndarray, np.ndarray] | None) -> None:
        """Show a step and its little pictures."""
        self.step = step
        origin, does = origin_words(step), step_words(step)
        self.words.show_words(origin, does, step.acts)
        self.switch.setAccessibleName(f"{origin}: {does}")
        self.strength.setAccessibleName(f"Strength of {origin}: {does}")
        with QSignalBlocker(self.switch), QSignalBlocker(self.strength):
            self.switch.setChecked(step.on)
            if not self.strength.hasFocus():
                self.strength.setValue(round(step.strength * 100))
        self.picture.show_pair(pair)
        self.setToolTip(f"{origin}: {does}")
        self.update()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Who comes to it by keys means it."""
        if event is not None and event.type() == QEvent.Type.FocusIn:
            self.chosen.emit()
        return super().eventFilter(watched, event)

    def mousePressEvent(self, _event: QMouseEvent | None) -> None:
        """It is the one that is meant."""
        self.chosen.emit()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """A bar when it is chosen, dashes when it acts on the print only."""
        painter = QPainter(self)
        if self.is_chosen:
            painter.fillRect(self.rect(), self.room.colour("raised"))
            painter.fillRect(QRectF(0, 0, 4, self.height()), self.room.colour("text"))
        elif self.step.origin in (LIGHT, LEARNT):
            for y in range(2, self.height() - 2, 6):
                painter.fillRect(QRectF(0, y, 2, 3), self.room.colour("text"))


class _Words(QWidget):
    """Where it came from, and below it what it does, cut where there is no room."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._origin, self._does, self._acts = "", "", True
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumWidth(theme.px(90))

    def show_words(self, origin: str, does: str, acts: bool) -> None:
        """What to say; quietly of a step that does nothing now."""
        self._origin, self._does, self._acts = origin, does, acts
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """One line each."""
        painter = QPainter(self)
        font = theme.font(theme.SMALL)
        painter.setFont(font)
        half, metrics = self.height() / 2, QFontMetricsF(font)
        painter.setPen(self.room.colour("quiet"))
        painter.drawText(QRectF(0, 1, self.width(), half), Qt.AlignmentFlag.AlignVCenter, self._origin)
        painter.setPen(self.room.colour("text" if self._acts else "quiet"))
        cut = metrics.elidedText(self._does, Qt.TextElideMode.ElideRight, self.width())
        painter.drawText(QRectF(0, half - 1, self.width(), half), Qt.AlignmentFlag.AlignVCenter, cut)


class Ledger(QWidget):
    """All steps. ``changed`` tells a step's number and the step as it was changed."""

    changed = pyqtSignal(int, object)

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.rows: list[StepRow] = []
        self.chosen = 0
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._layout.setSpacing(1)
        self._layout.addStretch(1)
        self.setAccessibleName("Steps of this take")

    def show_steps(self, steps: tuple[Step, ...], pairs: list[tuple[np.ndarray, np.ndarray]] | None) -> None:
        """Rows for the steps; their little pictures come later."""
        while len(self.rows) > len(steps):
            gone = self.rows.pop()
            self._layout.removeWidget(gone)
            gone.hide()
            gone.deleteLater()
        while len(self.rows) < len(steps):
            at, made = len(self.rows), StepRow()
            made.changed.connect(lambda step, n=at: self.changed.emit(n, step))
            made.chosen.connect(lambda n=at: self.choose(n))
            self._layout.insertWidget(at, made)
            self.rows.append(made)
        for i, (row, step) in enumerate(zip(self.rows, steps, strict=True)):
            row.show_step(step, pairs[i] if pairs is not None and i < len(pairs) else None)
        self.choose(min(self.chosen, max(len(steps) - 1, 0)))
        self.set_room(self.room)

    def choose(self, at: int) -> None:
        """The step that is meant."""
        self.chosen = at
        for i, row in enumerate(self.rows):
            row.is_chosen = i == at
            row.update()

    def set_room(self, room: theme.Room) -> None:
        """Follow the room."""
        self.room = room
        for row in self.rows:
            row.room = row.words.room = room
            row.update()
            row.words.update()
