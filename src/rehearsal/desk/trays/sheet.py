"""Station 7: hand over once."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QCheckBox, QComboBox, QFileDialog

from rehearsal.core.errors import RehearsalError
from rehearsal.core.sheet.layout import SHEETS
from rehearsal.desk.parts import Form, button, choice, number, quiet, show_choice, show_number, show_page
from rehearsal.desk.stations import ticket_request
from rehearsal.desk.trays.base import Tray
from rehearsal.tasks.printing import file_name, write_print_file
from rehearsal.tasks.ticketing import Ticket, cautions, converter_of, make_ticket, ticket_html, write_ticket_pdf

_ROUTES = (("printer-ready pixels", "printer"), ("working-space file", "space"))
_WHO = (("nobody, the file is ready", "none"), ("the printing program", "program"), ("left to the driver", "driver"))
_INTENTS = (("as judged", ""), ("perceptual", "perceptual"), ("relative", "relative"), ("saturation", "saturation"))


class SheetTray(Tray):
    """Route, file, driver settings as they really are, cautions, ticket."""

    def build(self) -> None:
        """Columns in the order of use."""
        self._build_file()
        self._build_driver()
        look = self.column("Needs a look", 340)
        self._cautions = quiet(wrap=True)
        look.add(self._cautions)
        look.end()
        do = self.column("Hand over", 190)
        do.add(button("Write the file…", self._write))
        do.add(button("Show the ticket", self.show_ticket))
        do.add(button("Save the ticket as PDF…", self._save_ticket))
        self._done = quiet(wrap=True)
        do.add(self._done)
        do.end()

    def _build_file(self) -> None:
        column = self.column("File", 305)
        form = Form()
        self._route = choice(list(_ROUTES))
        self._route.activated.connect(lambda _i: self._set_route(self._route.currentData()))
        form.row("Route", self._route)
        self._space = choice(
            [
                ("sRGB IEC 61966-2-1", "sRGB"),
                ("opRGB IEC 61966-2-5", "opRGB"),
                ("Display P3", "P3"),
                ("ROMM RGB", "ROMM"),
            ]
        )
        self._space.activated.connect(lambda _i: self.model.change(space=self._space.currentData()))
        form.row("Working space", self._space)
        self._depth = choice([("16 bit TIFF", 16), ("8 bit TIFF", 8), ("JPEG, 8 bit", 0)])
        self._depth.activated.connect(lambda _i: self.model.change(depth=self._depth.currentData() or 8))
        form.row("Format", self._depth)
        self._sheet = choice([(name, name) for name in SHEETS])
        self._sheet.activated.connect(lambda _i: self.model.change(sheet=self._sheet.currentData()))
        form.row("Sheet", self._sheet)
        column.rows.addLayout(form)
        self._borderless = QCheckBox("borderless")
        self._borderless.clicked.connect(lambda on: self.model.change(borderless=on))
        column.add(self._borderless)
        column.end()

    def _build_driver(self) -> None:
        column = self.column("As set when printing", 290)
        form = Form()
        self._who = choice(list(_WHO))
        self._who.activated.connect(lambda _i: self.model.change(converter=self._who.currentData()))
        form.row("Who converts", self._who)
        self._intent = choice(list(_INTENTS))
        self._intent.activated.connect(lambda _i: self.model.change(program_intent=self._intent.currentData()))
        form.row("Intent there", self._intent)
        self._media, self._feed = QComboBox(), QComboBox()
        for box, field in ((self._media, "driver_media"), (self._feed, "driver_feed")):
            box.setEditable(True)
            box.setMinimumWidth(190)
            box.lineEdit().editingFinished.connect(
                lambda b=box, f=field: self.model.change(**{f: b.currentText().strip()})
            )
            box.activated.connect(lambda _i, b=box, f=field: self.model.change(**{f: b.currentText().strip()}))
        form.row("Media setting", self._media)
        form.row("Feed", self._feed)
        self._scale = number(10, 400, 0, " %")
        self._scale.valueChanged.connect(lambda v: self.model.change(scale_percent=v))
        form.row("Scale", self._scale)
        column.rows.addLayout(form)
        column.end()

    def _set_route(self, route: str) -> None:
        self.model.change(route=route, converter="")

    def _fill_sheets(self, chosen: str) -> None:
        """The condition's own sheets first, the others after them."""
        condition = self.model.condition
        own = [name for name in (condition.sheets if condition else ()) if name in SHEETS]
        names = [*own, *(name for name in SHEETS if name not in own)]
        if [self._sheet.itemData(i) for i in range(self._sheet.count())] != names:
            with QSignalBlocker(self._sheet):
                self._sheet.clear()
                for name in names:
                    self._sheet.addItem(name if name in own or not own else f"{name} (not at hand)", name)
        show_choice(self._sheet, chosen)

    def refresh(self) -> None:
        """Follow the model."""
        take, condition = self.model.take, self.model.condition
        if take is None or condition is None:
            return
        show_choice(self._route, take.route)
        show_choice(self._space, take.space)
        self._space.setEnabled(take.route == "space")
        self._intent.setEnabled(take.route == "space")
        jpeg = self._depth.currentData() == 0 and take.depth == 8
        show_choice(self._depth, 0 if jpeg else take.depth)
        self._fill_sheets(take.sheet)
        self._borderless.setChecked(take.borderless)
        show_choice(self._who, converter_of(take))
        show_choice(self._intent, take.program_intent)
        media = [c.media_setting for c in self.model.conditions if c.printer == condition.printer and c.media_setting]
        feeds = [c.feed for c in self.model.conditions if c.printer == condition.printer and c.feed]
        _fill(self._media, media, take.driver_media or condition.media_setting)
        _fill(self._feed, feeds, take.driver_feed or condition.feed)
        show_number(self._scale, take.scale_percent)
        request = ticket_request(self.model)
        notes = cautions(request) if request else []
        self._cautions.setText("\n".join(notes) or "Nothing: what was judged is what will be printed.")
        self._done.setText(f"Written: {Path(take.file).name}" if take.file else "")

    def ticket(self) -> Ticket | None:
        """Ticket of the open take."""
        request = ticket_request(self.model)
        return make_ticket(request) if request else None

    def show_ticket(self) -> None:
        """The ticket as a page on the screen."""
        ticket = self.ticket()
        if ticket is None:
            return
        show_page(self, f"Ticket: {ticket.title}", ticket_html(ticket), "Ticket", 620, 640)

    def _suffix(self) -> str:
        return ".jpg" if self._depth.currentData() == 0 else ".tif"

    def _write(self) -> None:
        take, condition, loaded = self.model.take, self.model.condition, self.model.loaded
        if take is None or condition is None or loaded is None:
            return
        folder = self.model.workbook.setting("print folder") or str(Path.home())
        start = Path(folder) / file_name(take, condition, loaded.picture.info.path, self._suffix())
        path, _ = QFileDialog.getSaveFileName(self, "Write the print file", str(start), "TIFF or JPEG (*.tif *.jpg)")
        if path:
            self.write_to(Path(path))

    def write_to(self, path: Path) -> None:
        """Write the print file in the background, and the ticket beside it."""
        take, loaded, setup = self.model.take, self.model.loaded, self.model.setup()
        if take is None or loaded is None or setup is None:
            return
        if not path.suffix:
            path = path.with_suffix(self._suffix())

        def done(written: Path) -> None:
            self.model.workbook.set_setting("print folder", str(written.parent))
            if self.model.take is not None and self.model.take.id == take.id:
                self.model.change(file=str(written))
            else:
                self.model.workbook.put(replace(take, file=str(written)))
            self._ticket_beside(written)

        self.model.jobs.run("write", lambda p: write_print_file(loaded, take, setup.paper, path, p), done)

    def _ticket_beside(self, written: Path) -> None:
        ticket = self.ticket()
        try:
            if ticket is not None:
                write_ticket_pdf(ticket, written.with_suffix(".ticket.pdf"))
        except RehearsalError as error:
            self.model.said.emit(error.sentence())
            return
        self.model.said.emit(f"Written with its ticket: {written}")

    def _save_ticket(self) -> None:
        ticket = self.ticket()
        if ticket is None:
            return
        path, _ = QFileDialog.getSaveFileName(self, "Save the ticket", str(Path.home() / "ticket.pdf"), "PDF (*.pdf)")
        if path:
            try:
                write_ticket_pdf(ticket, Path(path))
            except RehearsalError as error:
                self.model.said.emit(error.sentence())


def _fill(box: QComboBox, items: list[str], current: str) -> None:
    if box.lineEdit().hasFocus():
        return
    box.blockSignals(True)
    box.clear()
    box.addItems(list(dict.fromkeys([current, *items])) if current else list(dict.fromkeys(items)))
    box.setCurrentText(current)
    box.blockSignals(False)
