"""The greys of a paper: its printed neutral ramp, and under it the same with its cast enlarged."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QLinearGradient, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rehearsal.desk import theme
from rehearsal.desk.words import lab_colours

#: By how much the cast is enlarged in the second strip.
ENLARGED = 5
_STRIP, _WORDS = 19, 16


class GreysStrip(QWidget):
    """Two strips from black to paper: as printed, and with a* and b* five times as large."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._lab = np.empty((0, 3))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Printed greys")

    def sizeHint(self) -> QSize:
        """Two strips and the words between."""
        return QSize(theme.px(200), theme.px(2 * _STRIP + _WORDS + 4))

    def show_greys(self, lab: Sequence[tuple[float, float, float]]) -> None:
        """Show a printed neutral ramp, media-relative Lab from black to paper; nothing while it is not known."""
        self._lab = np.array(lab, dtype=float).reshape(-1, 3)
        most = float(np.hypot(self._lab[:, 1], self._lab[:, 2]).max(initial=0.0))
        self.setAccessibleDescription(f"largest cast: chroma {most:.1f}" if len(self._lab) else "not known yet")
        self.update()

    def strips(self) -> tuple[QRectF, QRectF]:
        """Where the two strips lie."""
        high = theme.px(_STRIP)
        return QRectF(0, 0, self.width(), high), QRectF(0, high + theme.px(_WORDS + 2), self.width(), high)

    def colours(self) -> np.ndarray:
        """8-bit sRGB (2, n, 3) of both strips, with the paper no lighter than the lightest grey of the room."""
        strong = self._lab * (1, ENLARGED, ENLARGED)
        made = lab_colours(np.stack([self._lab, strong]))
        return np.asarray(np.round(made * (self.room.lightest / 255.0)).astype(int))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The strips in their own colours, the words between them."""
        if len(self._lab) < 2:
            return
        painter = QPainter(self)
        painter.setFont(theme.font(theme.SMALL))
        for strip, colours in zip(self.strips(), self.colours(), strict=True):
            ramp = QLinearGradient(strip.topLeft(), strip.topRight())
            for i, rgb in enumerate(colours.tolist()):
                ramp.setColorAt(i / (len(colours) - 1), QColor(*rgb))
            painter.fillRect(strip, ramp)
        painter.setPen(self.room.colour("quiet"))
        words = QRectF(0, theme.px(_STRIP), self.width(), theme.px(_WORDS))
        painter.drawText(words, Qt.AlignmentFlag.AlignVCenter, f"the same, its cast {_times(ENLARGED)}")


def _times(count: int) -> str:
    return {5: "five times as large"}.get(count, f"{count} times as large")
