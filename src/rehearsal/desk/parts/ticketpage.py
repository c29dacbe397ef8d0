"""The ticket's page on the screen: the very page the PDF has."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPainter, QPaintEvent
from PyQt6.QtWidgets import QDialog, QScrollArea, QVBoxLayout, QWidget

from rehearsal.core.sheet.ticket import Ticket
from rehearsal.core.sheet.ticketpage import HEIGHT, WIDTH, Words, font_file, lay_out, plain_text
from rehearsal.desk.parts.widgets import button

_SCALE = 1.25
_PAPER, _INK = QColor(244, 244, 244), QColor(16, 16, 16)


class TicketPage(QWidget):
    """Paints the laid-out words of a ticket, page under page."""

    def __init__(self, ticket: Ticket) -> None:
        super().__init__()
        self._words: list[Words] = lay_out(ticket)
        self._pages = self._words[-1].page + 1
        families = [_family(name) for name in ("plain", "strong")]
        self._families = {False: families[0], True: families[1]}
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Ticket")
        self.setAccessibleDescription(plain_text(ticket))
        self.setFixedSize(self.sizeHint())

    def sizeHint(self) -> QSize:
        """The pages at screen size."""
        return QSize(round(WIDTH * _SCALE), round(HEIGHT * _SCALE * self._pages))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """All words at their places."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(self.rect(), _PAPER)
        painter.scale(_SCALE, _SCALE)
        painter.setPen(_INK)
        for words in self._words:
            font = QFont(self._families[words.strong])
            font.setBold(words.strong)
            font.setPixelSize(100)
            painter.save()
            painter.translate(QPointF(words.x, words.y + words.page * HEIGHT))
            painter.scale(words.size / 100, words.size / 100)  # one design size, so that widths are the page's own
            painter.setFont(font)
            painter.drawText(QPointF(0, 0), words.text)
            painter.restore()


def _family(name: str) -> str:
    number = QFontDatabase.addApplicationFont(str(font_file(name)))
    found = QFontDatabase.applicationFontFamilies(number)
    return found[0] if found else ""


def show_ticket(parent: QWidget, ticket: Ticket) -> None:
    """The ticket over the window, until it is closed."""
    dialog = QDialog(parent)
    dialog.setWindowTitle(f"Ticket: {ticket.title}")
    most = parent.window().size()
    dialog.resize(min(round(WIDTH * _SCALE) + 50, most.width() - 20), min(760, most.height() - 20))
    rows = QVBoxLayout(dialog)
    area = QScrollArea()
    area.setWidget(TicketPage(ticket))
    area.setAccessibleName("Ticket, scrolled")
    rows.addWidget(area)
    rows.addWidget(button("Close", dialog.accept), alignment=Qt.AlignmentFlag.AlignRight)
    dialog.exec()
    dialog.deleteLater()
