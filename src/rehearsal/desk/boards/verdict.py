"""Which looks like the print in your hand: rows of small pictures; the pointed one fills the pane; places by pointing."""

from __future__ import annotations

from datetime import datetime
from functools import partial

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from rehearsal.core.screen.brightness import USUAL_KELVIN, USUAL_LIGHT
from rehearsal.core.testsheets.verdictrows import JUDGED, VerdictRow, offset_words
from rehearsal.core.values.words import all_words, date_words, word
from rehearsal.desk import theme
from rehearsal.desk.boards.base import ProofBoard
from rehearsal.desk.parts.flow import flow
from rehearsal.desk.parts.focus import dress
from rehearsal.desk.parts.images import paper_colour, rgb_image
from rehearsal.desk.parts.lookrows import LookRow
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.pieceview import PieceView
from rehearsal.desk.parts.widgets import button, choice, quiet, scrolled, show_choice
from rehearsal.session.verdicts import PLACES

_ROWS = {
    "lightness": ("How light, in stops", "darker", "lighter"), "warmth": ("How warm, in mired", "cooler", "warmer"),
    "contrast": ("Contrast", "flatter", "harder"),
}  # fmt: skip
VERDICTS = (("give-up", "given-up"), ("again", "again"), ("usable", "usable"), ("sign", "good"))


class PrintView(PieceView):
    """The print as it is pointed at; a press tells a place of it, in fractions of the crop."""

    pressed = pyqtSignal(float, float)

    def __init__(self) -> None:
        super().__init__()
        self.marks: list[tuple[float, float, str]] = []
        self.setAccessibleName("The print as it is pointed at")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """A place."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            place, at = self.place_for(self._proportion), event.position()
            if place.contains(at):
                self.pressed.emit((at.x() - place.x()) / place.width(), (at.y() - place.y()) / place.height())

    def mouseMoveEvent(self, _event: QMouseEvent | None) -> None:
        """Nothing is dragged here."""

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        """Nothing is dragged here."""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The print with the places that were named."""
        super().paintEvent(event)
        painter, place = QPainter(self), self.place_for(self._proportion)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font(theme.SMALL))
        for x, y, words in self.marks:
            at = QPointF(place.x() + x * place.width(), place.y() + y * place.height())
            for colour, width in ((QColor(15, 15, 15), 3), (self.paper, 1)):
                painter.setPen(QPen(colour, width))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(at, 7, 7)
            painter.setPen(QColor(15, 15, 15))
            painter.drawText(at + QPointF(12, 5), words)
            painter.setPen(self.paper)
            painter.drawText(at + QPointF(11, 4), words)


class VerdictBoard(ProofBoard):
    """At the left rows of pictures, at the right the pointed one as large as it can be."""

    title = "Which looks like the print in your hand?"
    with_tray = True
    follows = (
        "take",
        "picture",
        "conditions",
        "verdict",
        "verdict_point",
        "verdict_look",
        "log",
        "look",
        "road",
        "screen",
        "prints",
        "takes",
    )

    def build(self) -> None:
        """Rows, places, verdicts; the large picture."""
        self.sentence.hide()
        self._build_light()
        left = QVBoxLayout()
        left.setSpacing(theme.px(2))
        box = QWidget()
        box_rows = QVBoxLayout(box)
        box_rows.setContentsMargins(0, 0, 0, 0)
        box_rows.setSpacing(theme.px(2))
        self.rows_of: dict[str, LookRow] = {}
        verdicts = self.session.verdicts
        for name in JUDGED:
            row = self.rows_of[name] = LookRow(*_ROWS[name])
            row.pointed.connect(partial(self._point, name))
            row.chosen.connect(partial(verdicts.choose, name))
            box_rows.addWidget(row, 1)
        left.addWidget(scrolled(box), 1)  # in a low window the rows keep a height in which they can be told apart
        self.places = {key: button(word("place_said", key), partial(verdicts.call_place, key)) for key in PLACES}
        for each in self.places.values():
            each.setCheckable(True)
        self.unmark = button("Take the last one back", verdicts.unmark)
        left.addLayout(flow(quiet("or point at a place:"), *self.places.values(), self.unmark))
        left.addLayout(self._build_verdicts())
        self.view = PrintView()
        self.view.pressed.connect(self._mark)
        self.name, self.state = QLabel(), quiet()
        right = QVBoxLayout()
        right.setSpacing(theme.px(3))
        head = QHBoxLayout()
        head.addWidget(self.name)
        head.addStretch(1)
        head.addWidget(self.state)
        right.addLayout(head)
        right.addWidget(self.view, 1)
        both = QHBoxLayout()
        both.setSpacing(theme.px(14))
        both.addLayout(left, 1)
        both.addLayout(right, 1)
        self.rows.addLayout(both, 1)

    def _build_light(self) -> None:
        self.light = choice(all_words("light"))
        self.light.setAccessibleName("Light the print is held in")
        self.light.activated.connect(lambda _i: self._take_light())
        self.lux, self.kelvin = NumberField(1, 100_000, 0, "lux", 10), NumberField(0, 12_000, 0, "K", 100)
        self.lux.setAccessibleName("Lux on the print")
        self.kelvin.setAccessibleName("Kelvin of the light; 0 for not known")
        for field in (self.lux, self.kelvin):
            field.valueChanged.connect(lambda _v: self._told_light())
        self.head(self.light, self.lux, self.kelvin)

    def _build_verdicts(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.words = QLineEdit()
        self.words.setPlaceholderText("in words")
        self.words.setAccessibleName("Verdict in words")
        row.addWidget(self.words, 1)
        self.verdicts = {}
        for key, verdict in VERDICTS:
            made = self.verdicts[key] = button(word("verdict_button", key), partial(self.keep, verdict))
            row.addWidget(made)
        return row

    def set_room(self, room: theme.Room) -> None:
        """Painted parts follow the room."""
        super().set_room(room)
        dress(room, (self.view, *self.rows_of.values()))

    # ---- hands

    def _point(self, name: str, offset: float | None) -> None:
        self.session.verdicts.point(None if offset is None else (name, offset))

    def _take_light(self) -> None:
        key = self.light.currentData()
        self.session.verdicts.hold_in(key, dict(USUAL_LIGHT)[key], USUAL_KELVIN[key])

    def _told_light(self) -> None:
        self.session.verdicts.hold_in(self.light.currentData() or "", self.lux.value(), self.kelvin.value())

    def _mark(self, x: float, y: float) -> None:
        rendition = self.session.now.rendition
        if rendition is not None:
            crop = rendition.frame.crop
            self.session.verdicts.mark(crop.x + x * crop.width, crop.y + y * crop.height)

    def keep(self, verdict: str) -> None:
        """Keep the verdict, with its words."""
        verdicts = self.session.verdicts
        cost = self.session.past.cost(verdicts.held)
        total = -1.0 if cost is None or cost.total is None else round(cost.total, 2)
        if verdicts.keep(verdict, self.words.text().strip(), total) is not None:
            self.words.clear()

    # ---- following

    def refresh(self) -> None:
        """Rows, light, large picture."""
        verdicts, held, picture = self.session.verdicts, self.session.verdicts.held, self.session.now.picture
        if held is None:
            return
        self._show_light()
        self.session.past.cost(held)  # its ink is counted meanwhile
        crop = held.rendition.frame.crop
        w, h = (3, 2) if picture is None else picture.size
        proportion = crop.width * w / (crop.height * h)
        paper = paper_colour(self.session.roads.road)
        size = self.rows_of["lightness"].wanted_size(proportion)
        rows, small = verdicts.rows, verdicts.small(size)
        for i, (name, widget) in enumerate(self.rows_of.items()):
            widget.wanted_size(proportion)
            row = None if rows is None else rows[i]
            pictures = [] if small is None else [rgb_image(rgb) for rgb in small[i]]
            at = verdicts.pointed[1] if verdicts.pointed is not None and verdicts.pointed[0] == name else None
            widget.show_row(row, labels_of(row), pictures, paper, verdicts.offsets.get(name, 0.0), at)
        rgb = verdicts.large(self.view.wanted_size(proportion))
        self.view.marks = [
            ((p.x - crop.x) / crop.width, (p.y - crop.y) / crop.height, word("place_said", p.what).lower()) for p in verdicts.places
        ]  # fmt: skip
        self.view.show_print(self._meanwhile() if rgb is None else rgb_image(rgb), proportion, [], paper)
        self._show_words()

    def _meanwhile(self) -> QImage | None:
        """The pointed picture as small as it lies in its row, until it is there in full."""
        pointed = self.session.verdicts.pointed
        return None if pointed is None else self.rows_of[pointed[0]].picture_of(pointed[1])

    def _show_light(self) -> None:
        key, lux, kelvin = self.session.verdicts.light
        show_choice(self.light, key)
        self.lux.show_value(lux)
        self.kelvin.show_value(kelvin)

    def _show_words(self) -> None:
        verdicts, held = self.session.verdicts, self.session.verdicts.held
        assert held is not None
        offsets = verdicts.recipe_offsets(verdicts.pointed)
        self.name.setText(offset_words(offsets) or "as the take")
        said = []
        if held.printed:
            wet = verdicts.wet_until(held, datetime.now())
            said.append(f"printed {date_words(held.printed[:10])}{f', dries until {wet}' if wet else ''}")
        else:
            said.append("not known to be printed yet")
        if verdicts.leaves_out:
            said.append("compared without its learnt and for-the-light steps")
        self.state.setText("; ".join(said))
        for key, each in self.places.items():
            each.setChecked(key == verdicts.placing)
        self.unmark.setVisible(bool(verdicts.places))
        earlier = verdicts.earlier
        for key, verdict in VERDICTS:
            self.verdicts[key].setProperty("advice", earlier is None and key == "usable")
            self.verdicts[key].setCheckable(False)
            self.verdicts[key].setToolTip(
                "Puts right what was kept of it in this light" if earlier is not None else word("verdict", verdict)
            )
            self.verdicts[key].style().polish(self.verdicts[key])


def labels_of(row: VerdictRow | None) -> list[str]:
    """What stands under each picture of a row."""
    if row is None:
        return []
    form = "{:+.2f}" if row.name == "lightness" else "{:+.0f}"
    return ["as the take" if o == 0 else form.format(o).replace("-", "−") for o in row.offsets]
