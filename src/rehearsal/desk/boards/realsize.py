"""Real size on this screen: a card or a ruler laid on the glass says how many pixels an inch has."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QSlider, QWidget

from rehearsal.core.errors import RehearsalError
from rehearsal.core.screen.realsize import CARD_MM, pixels_of, ppi_from_length
from rehearsal.desk import theme
from rehearsal.desk.boards.base import Board
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.widgets import button, quiet
from rehearsal.session.session import Session

_BAR_MM = 100.0


class RealSizeView(QWidget):
    """A card and a bar of 100 mm, as large as the resolution says."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self.ppi = 96.0
        self.setMinimumSize(400, 240)
        self.setAccessibleName("Card and bar in real size")

    @property
    def bar_pixels(self) -> float:
        """Device pixels of the bar."""
        return pixels_of(_BAR_MM, self.ppi)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Outline of a card, and a bar with millimetre marks."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        unit = self.ppi / 25.4 / self.devicePixelRatioF()
        card = QRectF(24, 14, CARD_MM[0] * unit, CARD_MM[1] * unit)
        painter.setPen(QPen(self.room.colour("text"), 1.4))
        painter.setBrush(self.room.colour("ribbon"))
        painter.drawRoundedRect(card, 3.18 * unit, 3.18 * unit)
        painter.setFont(theme.font())
        painter.drawText(card, Qt.AlignmentFlag.AlignCenter, "Lay a bank or identity card here\n85.6 × 54.0 mm")
        y = min(card.bottom() + 40, self.height() - 30)
        painter.drawLine(QPointF(24, y), QPointF(24 + _BAR_MM * unit, y))
        painter.setFont(theme.font(theme.SMALL))
        for mm in range(101):
            x, size = 24 + mm * unit, 14 if mm % 10 == 0 else 9 if mm % 5 == 0 else 5
            painter.drawLine(QPointF(x, y), QPointF(x, y - size))
            if mm % 20 == 0:
                painter.drawText(QRectF(x - 20, y + 3, 40, 14), Qt.AlignmentFlag.AlignHCenter, f"{mm} mm")


class RealSizeBoard(Board):
    """Make the card fit, or type what a ruler reads for the bar."""

    title = "Real size on this screen"
    beside = True

    def __init__(self, session: Session) -> None:
        super().__init__(session)

    def build(self) -> None:
        """Card, slider, ruler."""
        self.view = RealSizeView()
        self.rows.addWidget(self.view, 1)
        row = QHBoxLayout()
        row.addWidget(quiet("Make the card fit"))
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(500, 4000)
        self.slider.setSingleStep(1)
        self.slider.setPageStep(20)
        self.slider.setAccessibleName("Pixels per inch of this screen")
        self.slider.valueChanged.connect(self._on_slider)
        row.addWidget(self.slider, 1)
        self.value = quiet()
        self.value.setMinimumWidth(70)
        row.addWidget(self.value)
        self.rows.addLayout(row)
        row = QHBoxLayout()
        row.addWidget(quiet("or: a ruler reads for the bar"))
        self.ruler = NumberField(20, 400, 1, "mm", 0.5)
        self.ruler.setAccessibleName("Length of the bar on a ruler")
        self.ruler.setValue(_BAR_MM)
        self.ruler.valueChanged.connect(self.measured)
        row.addWidget(self.ruler)
        row.addWidget(button("Keep this size", self.keep))
        row.addWidget(button("As the screen reports", self.report))
        row.addStretch(1)
        self.rows.addLayout(row)

    def reported(self) -> float:
        """What the screen says of itself."""
        screen = self.screen()
        return float(screen.physicalDotsPerInch() * self.devicePixelRatioF()) if screen else 96.0

    def open(self) -> None:
        """Start from what is known."""
        self._set(self.session.screen.record.ppi or self.reported())
        self.refresh()

    def _set(self, ppi: float) -> None:
        self.view.ppi = ppi
        self.slider.blockSignals(True)
        self.slider.setValue(round(ppi * 10))
        self.slider.blockSignals(False)
        self.value.setText(f"{ppi:.1f} ppi")
        self.view.update()

    def _on_slider(self, value: int) -> None:
        self._set(value / 10)

    def measured(self, millimetres: float) -> None:
        """A ruler reads so many millimetres for the bar."""
        try:
            self._set(ppi_from_length(self.view.bar_pixels, millimetres))
        except RehearsalError as error:
            self.session.bus.say_error(error)
            return
        self.ruler.blockSignals(True)
        self.ruler.setValue(_BAR_MM)
        self.ruler.blockSignals(False)

    def keep(self) -> None:
        """Use this resolution for the print size view."""
        self.session.screen.set(ppi=self.view.ppi)
        self.refresh()

    def report(self) -> None:
        """Trust the screen's own report again."""
        self.session.screen.set(ppi=0.0)
        self.open()

    def refresh(self) -> None:
        """Say which resolution is used."""
        kept = self.session.screen.record.ppi
        told = f"checked: {kept:.1f} ppi" if kept else "not checked yet"
        self.sentence.setText(f"The screen reports {self.reported():.0f} ppi; {told}. The print-size view (P) uses it.")

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        super().set_room(room)
        self.view.room = room
