"""Station 7: hand over once."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QCheckBox, QComboBox, QFileDialog

from rehearsal.core.icc.standard import SPACES
from rehearsal.core.picture.reduce import viewing_distance
from rehearsal.core.sheet.cautions import cautions
from rehearsal.core.sheet.layout import SHEETS, sheet_words
from rehearsal.core.sheet.sharpen import print_contrasts
from rehearsal.core.sheet.ticket import Ticket
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.words import all_words, counted
from rehearsal.desk import theme
from rehearsal.desk.parts.bars import Bar, Bars
from rehearsal.desk.parts.ticketpage import show_ticket
from rehearsal.desk.parts.widgets import Form, button, choice, number, quiet, scrolled, show_choice, show_number
from rehearsal.desk.trays.base import Tray
from rehearsal.desk.words import as_printed
from rehearsal.session.takes import spread_of
from rehearsal.workbook.values import Take

_INTENTS = (("as judged", ""), ("perceptual", "perceptual"), ("relative", "relative"), ("saturation", "saturation"))
_COMPENSATION = (("as judged", ""), ("on", "on"), ("off", "off"))


class SheetTray(Tray):
    """Route, file, driver settings as they really are, cautions, ticket."""

    follows = ("take", "picture", "judgement", "conditions", "facts", "arrival")

    def build(self) -> None:
        """Columns in the order of use."""
        self._build_file()
        self._build_driver()
        self._build_sharpening()
        look = self.column("Needs a look", 210, 1)
        self._cautions = quiet(wrap=True)
        look.add(scrolled(self._cautions))
        do = self.column("Hand over", 176, about=("write",))
        do.add(button("Write the file…", self.write))
        do.add(button("Show the ticket", self.show_ticket))
        do.add(button("Save the ticket as PDF…", self._save_ticket))
        self._done = quiet(wrap=True)
        do.add(self._done)
        do.end()

    def on_stand(self, upright: bool) -> None:
        """Beside an upright picture some columns fold into pages: the button that finishes is none of them."""
        titles = [c.title for c in self._columns]
        do = self._columns.pop(titles.index("Hand over"))
        self._columns.insert(2 if upright else len(self._columns), do)

    def _build_file(self) -> None:
        column = self.column("File", 276, about=("sheet", "as-last"))
        form = Form()
        change, change_sheet = self.session.takes.change_hand_over, self.session.takes.change_sheet
        self._route = choice(all_words("route"))
        self._route.activated.connect(lambda _i: change(route=self._route.currentData(), converter=""))
        form.row("Route", self._route)
        self._space = choice([(title.replace(" ISO 22028-2", ""), key) for key, title in SPACES.items()])
        self._space.activated.connect(lambda _i: change(space=self._space.currentData()))
        form.row("Working space", self._space)
        self._format = choice(all_words("format"))
        self._format.activated.connect(lambda _i: change(format=self._format.currentData()))
        form.row("Format", self._format)
        self._sheet = choice([(name, name) for name in SHEETS])
        self._sheet.activated.connect(lambda _i: self.session.takes.choose_sheet(self._sheet.currentData()))
        form.row("Sheet", self._sheet)
        column.rows.addLayout(form)
        self._borderless = QCheckBox("borderless")
        self._borderless.clicked.connect(lambda on: change_sheet(borderless=on))
        column.add(self._borderless)
        column.end()

    def _build_sharpening(self) -> None:
        column = self.column("Sharpen for the paper", 164)
        self._sharpen = number(0, 150, 0, " %", 10)
        self._sharpen.setAccessibleName("Sharpen for the paper")
        self._sharpen.valueChanged.connect(self.session.takes.sharpen)
        column.add(self._sharpen)
        self.contrasts = Bars("Contrast in the print by the size of detail", 1.0)
        column.add(self.contrasts)
        self._surface = quiet(wrap=True)
        column.add(self._surface)
        column.end()

    def _build_driver(self) -> None:
        column = self.column("As set when printing", 304, about=("hand-over",))
        form = Form()
        change = self.session.takes.change_hand_over
        self._who = choice(all_words("converter"))
        self._who.activated.connect(lambda _i: change(converter=self._who.currentData()))
        form.row("Who converts", self._who)
        self._intent = choice(list(_INTENTS))
        self._intent.activated.connect(lambda _i: change(program_intent=self._intent.currentData()))
        form.row("Intent there", self._intent)
        self._compensation = choice(list(_COMPENSATION))
        self._compensation.activated.connect(lambda _i: change(program_compensation=self._compensation.currentData()))
        form.row("Compensation there", self._compensation)
        self._media, self._feed = QComboBox(), QComboBox()
        for box, field in ((self._media, "media"), (self._feed, "feed")):
            box.setEditable(True)
            box.setMinimumWidth(theme.px(120))
            box.lineEdit().editingFinished.connect(lambda b=box, f=field: change(**{f: b.currentText().strip()}))
            box.activated.connect(lambda _i, b=box, f=field: change(**{f: b.currentText().strip()}))
        form.row("Media setting", self._media)
        form.row("Feed", self._feed)
        self._scale = number(10, 400, 0, " %")
        self._scale.valueChanged.connect(lambda v: change(scale_percent=v))
        form.row("Scale", self._scale)
        column.rows.addLayout(form)
        column.end()

    def _fill_sheets(self, chosen: str) -> None:
        """The condition's own sheets first, the others after them."""
        condition = self.session.now.condition
        own = [name for name in (condition.sheets if condition else ()) if name in SHEETS]
        names = [*own, *(name for name in SHEETS if name not in own), *([] if chosen else [""])]
        if [self._sheet.itemData(i) for i in range(self._sheet.count())] != names:
            with QSignalBlocker(self._sheet):
                self._sheet.clear()
                for name in names:
                    self._sheet.addItem(
                        sheet_words(name) if name in own or not own else f"{sheet_words(name)} (not at hand)", name
                    )
        show_choice(self._sheet, chosen)

    def refresh(self) -> None:
        """Follow the session."""
        take, condition = self.session.now.take, self.session.now.condition
        if take is None or condition is None:
            return
        hand_over = take.hand_over
        show_choice(self._route, hand_over.route)
        show_choice(self._space, hand_over.space)
        self._space.setEnabled(hand_over.route == "space")
        self._intent.setEnabled(hand_over.route == "space")
        self._compensation.setEnabled(hand_over.route == "space")
        show_choice(self._format, hand_over.format)
        self._fill_sheets(take.sheet.name)
        self._borderless.setChecked(take.sheet.borderless)
        self._show_sharpening(take, condition)
        show_choice(self._who, hand_over.converts)
        show_choice(self._intent, hand_over.program_intent)
        show_choice(self._compensation, hand_over.program_compensation)
        same = [c for c in self.session.shelf.conditions if c.printer == condition.printer]
        _fill(
            self._media, [c.media_setting for c in same if c.media_setting], hand_over.media or condition.media_setting
        )
        _fill(self._feed, [c.feed for c in same if c.feed], hand_over.feed or condition.feed)
        show_number(self._scale, hand_over.scale_percent)
        request = self.session.printing.ticket_request()
        notes = cautions(request) if request else ["The picture is not there yet."]
        self._cautions.setText("\n".join(notes) or f"Nothing: {as_printed(hand_over)}.")
        self._done.setText(f"Written: {Path(take.file).name}" if take.file else "")

    def _show_sharpening(self, take: Take, condition: PrintCondition) -> None:
        """How much, and what of fine detail the print will show; of a paper whose surface nobody has told, nothing is known."""
        sigma, hand_over = spread_of(condition), take.hand_over
        self._sharpen.setEnabled(sigma > 0)
        show_number(self._sharpen, hand_over.sharpen)
        self.contrasts.setVisible(sigma > 0)
        arrival = self.session.inquiries.arrival
        known = arrival is not None and arrival.crop == take.frame.crop
        if sigma and not known:
            self.session.inquiries.ask_arrival()
        already = known and arrival is not None and arrival.sharpened
        size = take.frame.size
        if sigma and size is not None:
            strength = hand_over.sharpen / 100 * (0.5 if already else 1.0)
            rows = print_contrasts(sigma, strength, hand_over.ppi, viewing_distance(size.width_cm, size.height_cm))
            self.contrasts.show_bars(tuple(_contrast_bar(*row, known or not hand_over.sharpen) for row in rows))
        self._surface.setText(surface_words(sigma, size is not None, already))

    def ticket(self) -> Ticket | None:
        """Ticket of the open take."""
        return self.session.printing.ticket()

    def set_room(self, room: theme.Room) -> None:
        """Drawn parts follow the room."""
        self.contrasts.room = room
        self.contrasts.update()

    def show_ticket(self) -> None:
        """The ticket as a page on the screen."""
        ticket = self.ticket()
        if ticket is not None:
            show_ticket(self, ticket)

    def write(self) -> None:
        """Ask where the print file shall go, and write it."""
        start = self.session.printing.proposed_file()
        if start is None:
            return
        path, _ = QFileDialog.getSaveFileName(self, "Write the print file", str(start), "TIFF or JPEG (*.tif *.jpg)")
        if path:
            self.write_to(Path(path))

    def write_to(self, path: Path) -> None:
        """Write the print file in the background, and its ticket beside it."""
        self.session.printing.write(path)

    def _save_ticket(self) -> None:
        ticket = self.ticket()
        if ticket is None:
            return
        path, _ = QFileDialog.getSaveFileName(self, "Save the ticket", str(Path.home() / "ticket.pdf"), "PDF (*.pdf)")
        if path:
            self.session.printing.save_ticket(Path(path))


def _fill(box: QComboBox, items: list[str], current: str) -> None:
    if box.lineEdit().hasFocus():
        return
    box.blockSignals(True)
    box.clear()
    box.addItems(list(dict.fromkeys([current, *items])) if current else list(dict.fromkeys(items)))
    box.setCurrentText(current)
    box.setToolTip(current)
    box.lineEdit().setCursorPosition(0)
    box.blockSignals(False)


def _contrast_bar(f: float, before: float, after: float, known: bool) -> Bar:
    """Contrast at f line pairs per mm, without and with sharpening."""
    words = (
        f"{before * 100:.0f} %" if round(before, 2) == round(after, 2) else f"{before * 100:.0f} → {after * 100:.0f} %"
    )
    return Bar(f"{counted(round(f), 'line')} per mm", after if known else 0.0, words if known else "…")


def surface_words(sigma: float, sized: bool, already: bool) -> str:
    """What is sharpened for, as a sentence."""
    if not sigma:
        return "The paper's card does not tell its surface."
    if not sized:
        return f"For a spread of {sigma:.0f} µm. Set a print size to see what it does."
    return f"For a spread of {sigma:.0f} µm{'; half as strong, it is sharpened already' if already else ''}."
