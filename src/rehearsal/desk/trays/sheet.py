"""Station 7: hand over once."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from PyQt6.QtCore import QSignalBlocker, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout

from rehearsal.core.picture.reduce import viewing_distance
from rehearsal.core.sheet.atprinter import hand_steps
from rehearsal.core.sheet.caution import Caution
from rehearsal.core.sheet.cautions import print_question
from rehearsal.core.sheet.putright import MENDS
from rehearsal.core.sheet.sharpen import print_contrasts
from rehearsal.core.sheet.ticket import Ticket
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.handover import PAGE_FORMATS
from rehearsal.core.values.words import capital, counted, moment_words, word
from rehearsal.desk import theme
from rehearsal.desk.parts.bars import Bar, Bars
from rehearsal.desk.parts.cautionlist import CautionList
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.sharpencrops import SharpenCrops
from rehearsal.desk.parts.ticketpage import show_ticket
from rehearsal.desk.parts.widgets import button, choice, link, quiet, scrolled
from rehearsal.desk.trays.base import Tray
from rehearsal.desk.trays.sheetdriver import DriverColumn
from rehearsal.desk.trays.sheetroute import FILES, RouteColumn
from rehearsal.desk.words import as_printed
from rehearsal.session.session import Session
from rehearsal.workbook.values import Take

#: Pixels to the inch of a screen nobody has measured.
_SCREEN_PPI = 96.0
#: Where a caution's button leads that is no change of the print.
_STATIONS = {"go-judge": "judge", "go-tune": "tune", "go-paper": "paper", "go-picture": "picture"}


class SheetTray(Tray):
    """Chain and route, settings as they really are, what needs a look, sharpening, the hand-over."""

    #: A page is on its way, or will be: nothing is asked any more.
    printed = pyqtSignal()
    follows = (
        "take", "picture", "judgement", "conditions", "facts", "arrival", "queues", "prints", "log", "test_sheets", "takes",
    )  # fmt: skip

    def build(self) -> None:
        """Columns in the order of use."""
        column = self.column("Turned into printer colours once", 276, about=("sheet", "as-last"))
        self.route = RouteColumn(self.session, column, lambda: self.board_wanted.emit("page"))
        self.driver = DriverColumn(
            self.session, self.column("As set when printing", 250, about=("hand-over", "mend", "queue-word"))
        )
        look = self.column("Needs a look", 240, 1, about=("tick",))
        self.list = CautionList(self._mend, self.session.sheets.tick)
        look.add(scrolled(self.list))
        self.mend_all = button("Put all of it right", self._mend_all, "As one change, which can be undone")
        look.add(self.mend_all)
        self._build_sharpening()
        do = self.column("Hand over", 178, about=("write", "say-printed"))
        self.go = button("Write the file…", self.write)
        self.go.setProperty("advice", True)
        do.add(self.go)
        self.copies = NumberField(1, 99, 0, "copies", 1)
        self.copies.setAccessibleName("Copies")
        self.copies.valueChanged.connect(lambda v: self.session.takes.change_hand_over(copies=int(v)))
        do.add(self.copies)
        self.page = button("Write the page…", self.write_page, "The whole sheet as one file, as it is laid out (F11)")
        do.add(self.page)
        do.add(button("Prints on their way…", lambda: self.board_wanted.emit("prints"), "Ctrl+P"))
        self._show, self._save = button("", self.show_ticket), button("As PDF…", self._save_ticket)
        do.pair(self._show, self._save)
        self._done = quiet(wrap=True)
        do.add(self._done)
        self.anew = button("Write it anew", self._write_anew, "The same file, with the take as it is now")
        self.was_printed = button(
            "Printed",
            self.session.handed.say_printed,
            "Somebody has printed the file: it dries, and the log asks how it came out",
        )
        do.pair(self.anew, self.was_printed)
        for part in (self.copies, self.anew, self.was_printed):  # columns are measured before anything is known
            part.hide()
        do.end()

    def on_stand(self, upright: bool) -> None:
        """Beside an upright picture some columns fold into pages: the button that finishes is none of them."""
        titles = [c.title for c in self._columns]
        do = self._columns.pop(titles.index("Hand over"))
        self._columns.insert(1 if upright else len(self._columns), do)

    def _build_sharpening(self) -> None:
        column = self.column("Sharpen for the paper", 168)
        self._sharpen = NumberField(0, 150, 0, "%", 10)
        self._sharpen.setAccessibleName("Sharpen for the paper")
        self._sharpen.valueChanged.connect(self.session.takes.sharpen)
        self._sharpen.setFixedWidth(theme.px(64))
        self.zoom = choice([("1 : 1", True), ("as on paper", False)])
        self.zoom.setAccessibleName("How large the pieces of the print are")
        self.zoom.activated.connect(lambda _i: self._ask_crops(anew=True))
        row = QHBoxLayout()
        row.addWidget(self._sharpen)
        row.addWidget(self.zoom, 1)
        row.addStretch(0)
        column.rows.addLayout(row)
        self.contrasts = Bars("Contrast in the print by the size of detail", 1.0, in_line=True)
        column.add(self.contrasts)
        self.crops = SharpenCrops()
        column.add(self.crops)
        self._surface = quiet(wrap=True)
        self._measure = link("Measure…", self._choose_scan, "Measure the surface at a slanted edge in a scan")
        foot = QHBoxLayout()
        foot.addWidget(self._surface, 1)
        foot.addWidget(self._measure)
        column.rows.addLayout(foot)
        column.end()
        self._crops_of: object = None
        #: Key of the rendition that was asked about.
        self._asked_for = ""

    def _choose_scan(self) -> None:
        path, _ = QFileDialog.getOpenFileName(
            self,
            "A scan of a slanted edge, 600 ppi or more",
            str(Path.home()),
            "Pictures (*.tif *.tiff *.png *.jpg *.jpeg)",
        )
        if path:
            self.session.sheets.measure_surface(Path(path))

    def _ask_crops(self, anew: bool = False) -> None:
        """The two pieces, of the take as it is now."""
        rendition, take = self.session.now.rendition, self.session.now.take
        if rendition is None or take is None or not take.hand_over.sharpens or not self.isVisible():
            self.crops.setVisible(take is not None and take.hand_over.sharpens)
            self.zoom.setVisible(self.crops.isVisibleTo(self))
            return
        self.crops.setVisible(True)
        self.zoom.setVisible(True)
        key = (rendition, self.zoom.currentData())
        if key == self._crops_of and not anew:
            return
        self._crops_of = key
        side, ppi = self.crops.side, self.session.screen.record.ppi or _SCREEN_PPI
        file_side = side if self.zoom.currentData() else round(side * take.hand_over.ppi / ppi)
        self.crops.show_looks(None)

        def answer(looks: tuple[np.ndarray, np.ndarray]) -> None:
            if self._crops_of == key:
                self.crops.show_looks(looks)

        self.session.inquiries.ask_sharpening(side, file_side, answer)

    def opened(self) -> None:
        """Look which queues there are."""
        self.session.queues.look()

    def refresh(self) -> None:
        """Follow the session."""
        take, condition = self.session.now.take, self.session.now.condition
        if take is None or condition is None:
            return
        self.route.refresh(take, condition)
        self.driver.refresh(take, condition)
        self._show_sharpening(take, condition)
        self._show_cautions(take, condition)
        self._show_finishing(take)
        name = "order" if condition.lab else "ticket"
        self._show.setText(capital(name))
        self._show.setAccessibleName(f"Show the {name}")
        self._save.setAccessibleName(f"Save the {name} as PDF")

    def _show_cautions(self, take: Take, condition: PrintCondition) -> None:
        found = self.session.sheets.cautions
        known = self.session.printing.ticket_request() is not None
        nothing = f"Nothing: {as_printed(take.hand_over)}." if known else "The picture is not there yet."
        self.list.show_cautions(found, hand_steps(condition, take.sheet.name), take.ticked, nothing)
        mends = [c.mend for c in found if c.mend in MENDS or c.mend == "queue-unscaled"]
        self.mend_all.setVisible(len(mends) > 1)
        self.mend_all.setText(f"Put {'both' if len(mends) == 2 else f'all {len(mends)}'} right")

    def _show_finishing(self, take: Take) -> None:
        queue, rendition = take.hand_over.queue, self.session.now.rendition
        if self._asked_for and (rendition is None or rendition.key != self._asked_for):
            self._asked_for = ""  # what was asked about is another print now
            self.printed.emit()
        count = len(self.session.sheets.cautions)
        more = f", {counted(count, 'thing')} to look at" if count else ""
        self.go.setText(f"Print{more}" if queue else "Write the file…")
        self.go.setAccessibleName(self.go.text())
        self.copies.setVisible(bool(queue))
        self.copies.show_value(take.hand_over.copies)
        self.go.setToolTip("Ctrl+Return")
        with QSignalBlocker(self.go):
            self.go.setProperty("advice", not count)
        self.go.style().unpolish(self.go)
        self.go.style().polish(self.go)
        mine = [j for j in self.session.prints.all if j.take == take.id and not j.is_over]
        if mine:
            self._done.setText(f"{counted(len(mine), 'print')} on the way.")
        else:
            self._done.setText(handed_words(self.session))
        file = self.session.handed.last_file
        self.anew.setVisible(file is not None and not self.session.handed.is_of_now(file) and not queue)
        self.was_printed.setVisible(file is not None and file.state == "written")

    def _show_sharpening(self, take: Take, condition: PrintCondition) -> None:
        """How much, and what of fine detail the print will show; of a paper whose surface nobody has told, nothing is known."""
        sigma, hand_over = self.session.shelf.spread_of(condition), take.hand_over
        kind, assumed = self.session.shelf.family_of(condition)
        self._sharpen.setEnabled(sigma > 0)
        self._sharpen.show_value(hand_over.sharpen)
        self.contrasts.setVisible(sigma > 0)
        arrival = self.session.inquiries.arrival
        known = arrival is not None and arrival.crop == take.frame.crop
        if sigma and not known:
            self.session.inquiries.ask_arrival()
        already = known and arrival is not None and bool(arrival.sharpened)
        size = take.frame.size
        if sigma and size is not None:
            strength = hand_over.sharpen / 100 * (0.5 if already else 1.0)
            rows = print_contrasts(sigma, strength, hand_over.ppi, viewing_distance(size.width_cm, size.height_cm))
            self.contrasts.show_bars(tuple(_contrast_bar(*row, known or not hand_over.sharpen) for row in rows))
        by = kind if assumed and not condition.sigma_um else ""
        self._surface.setText(surface_words(sigma, size is not None, already, condition.sigma_um > 0, by))
        self._ask_crops()

    def set_room(self, room: theme.Room) -> None:
        """Drawn parts follow the room."""
        self.contrasts.room = room
        self.contrasts.update()
        self.crops.room = room
        self.crops.update()
        self.list.set_room(room)
        self.route.chain.room = room
        self.route.chain.update()

    # ---- putting right

    def _mend(self, caution: Caution) -> None:
        if caution.mend in _STATIONS:
            self.station_wanted.emit(_STATIONS[caution.mend])
        elif caution.mend == "open-card":
            self.board_wanted.emit("card")
        elif caution.mend == "judge-changed":
            self.session.now.accept_changed_master()
        else:
            self.session.sheets.mend([caution.mend])

    def _mend_all(self) -> None:
        self.session.sheets.mend([c.mend for c in self.session.sheets.cautions])

    # ---- ticket, file, print

    def ticket(self) -> Ticket | None:
        """Ticket of the open take."""
        return self.session.printing.ticket()

    def show_ticket(self) -> None:
        """The ticket as a page on the screen."""
        ticket = self.ticket()
        if ticket is not None:
            show_ticket(self, ticket)

    def write(self) -> None:
        """Print, where a queue is chosen; else ask where the file shall go, and write it."""
        take = self.session.now.take
        if take is not None and take.hand_over.queue:
            self.print()
            return
        self._ask_file()

    def _ask_file(self) -> None:
        start = self.session.printing.proposed_file()
        if start is None:
            return
        kinds = "TIFF, PNG, JPEG or PDF (*.tif *.png *.jpg *.pdf)"
        path, _ = QFileDialog.getSaveFileName(self, "Write the print file", str(start), kinds)
        if path:
            self.write_to(Path(path))

    def write_page(self) -> None:
        """Ask where the whole page shall go, and write it."""
        take = self.session.now.take
        if take is None:
            return
        if not take.hand_over.whole:
            formats = {} if take.hand_over.format in PAGE_FORMATS else {"format": PAGE_FORMATS[0]}
            self.session.takes.change_hand_over(**FILES["page"], queue="", converter="", **formats)
        self._ask_file()

    def _write_anew(self) -> None:
        file = self.session.handed.last_file
        if file is not None:
            self.write_to(Path(file.file))

    def print(self) -> None:
        """Send the open take to its queue; what cannot be right is named and not sent."""
        take = self.session.now.take
        wrong = next((c for c in self.session.sheets.cautions if c.key in _CANNOT), None)
        if take is None:
            return
        if wrong is not None:
            self.session.bus.say(f"Not sent: {wrong.text}")
            return
        if self._asks_first():
            return
        self.printed.emit()
        if self.session.prints.order([take]):
            self.board_wanted.emit("prints")

    def _asks_first(self) -> bool:
        """Paper is used up: each print asks once, naming what would waste it; the second press prints it."""
        rendition, request = self.session.now.rendition, self.session.printing.ticket_request()
        if rendition is None or request is None or self._asked_for == rendition.key:
            self._asked_for = ""
            return False
        self._asked_for = rendition.key
        self.session.bus.ask(print_question(request, self.session.sheets.cautions), "print")
        return True

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


#: With these a page cannot be made or sent at all.
_CANNOT = ("profile-missing", "no-size", "unknown-media", "unknown-feed", "queue-size", "over-edge", "left-out", "page")


def handed_words(session: Session) -> str:
    """What was handed over of the open take last, and whether that is still what it is now."""
    last = session.handed.last
    if last is None:
        return ""
    when = moment_words(last.when)
    if not session.handed.is_of_now(last):
        holds = f"The file {Path(last.file).name} holds" if last.file else "What was printed is"
        return f"{holds} the take of {when or 'an earlier state'}, not as it is now."
    at = f" {when}" if when else ""
    return f"{capital(word('handed', last.state))}{at}{f': {Path(last.file).name}' if last.file else ''}"


def _contrast_bar(f: float, before: float, after: float, known: bool) -> Bar:
    """Contrast at f line pairs per mm, without and with sharpening."""
    words = (
        f"{before * 100:.0f} %" if round(before, 2) == round(after, 2) else f"{before * 100:.0f} → {after * 100:.0f} %"
    )
    return Bar(
        f"{round(f)} per mm",
        after if known else 0.0,
        words if known else "…",
        before if known else 0.0,
    )


def surface_words(sigma: float, sized: bool, already: bool, measured: bool = False, assumed: str = "") -> str:
    """What is sharpened for, as a sentence."""
    if not sigma:
        return "The paper's card does not tell its surface."
    if not sized:
        return f"For a spread of {sigma:.0f} µm. Set a print size to see what it does."
    how = ", as measured" if measured else f", taken for {assumed} by its black: tell it on the card" if assumed else ""
    return f"For a spread of {sigma:.0f} µm{how}{'; half as strong, it is sharpened already' if already else ''}."
