"""Pages on their way to the printer, one stopped without the rest; and a print that came out beside its take."""

from __future__ import annotations

import functools
from datetime import datetime

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from rehearsal.core.errors import RehearsalError
from rehearsal.core.sheet.composing import Page, compose
from rehearsal.core.sheet.drying import dry_at, wet_words
from rehearsal.core.sheet.layout import sheet_words
from rehearsal.core.sheet.printed import PrintCompared
from rehearsal.core.values.words import counted, stops_words, word
from rehearsal.desk import theme
from rehearsal.desk.boards.base import Board
from rehearsal.desk.parts.images import rgb_image
from rehearsal.desk.parts.printparts import PrintPair, PrintRow, Read, ReadScales, RowShown, TonePlot
from rehearsal.desk.parts.widgets import button, heading, quiet, scrolled
from rehearsal.session.jobs import Job
from rehearsal.tasks.printing import SeenPair
from rehearsal.workbook.values import PrintJob

#: Rings of the states of a page.
_RINGS = {
    "waiting": "empty",
    "making": "work",
    "sent": "half",
    "held": "look",
    "done": "full",
    "stopped": "skip",
    "failed": "look",
}
_LIST = 340
#: So many cautions of several takes are told one by one.
_MOST_ASKED = 5
#: A drying print is looked at anew after so many minutes, so many times; then it looks dry.
DRY_STEP_MINUTES, DRY_STEPS = 5.0, 6
#: How often drying prints are told anew.
_DRYING_MS = 20_000
#: What fills a scale to its end: stops, mired, L*, mm.
_ENDS = (0.5, 12.0, 6.0, 2.0)


def state_words(job: PrintJob, now: datetime) -> str:
    """How a page stands."""
    if job.state == "done":
        if not job.printed:
            return "printed"
        wet = wet_words(dry_at(job.printed, job.card.dry_hours), now)
        return f"printed, dries until {wet}" if wet else "printed and dry" if job.card.dry_hours else "printed"
    words = word("print_state", job.state)
    return f"{words}: {job.words}" if job.words else words


def page_of_job(job: PrintJob) -> Page | None:
    """The page of a job, for its little sheet; None when it cannot be composed."""
    sizes = [r.frame.size for r in job.renditions if r.frame.size is not None]
    try:
        return (
            compose(job.rendition.sheet, sizes, job.card.margins_mm)
            if len(sizes) == len(job.renditions) and sizes
            else None
        )
    except RehearsalError:
        return None


class PrintsBoard(Board):
    """Rows at the left; at the right the take and its print, and what the one is beside the other."""

    title = "Prints on their way"
    follows = ("take", "prints", "queues", "littles", "screen", "jobs")

    def build(self) -> None:
        """List and comparison."""
        self.add = button("Print the open take", self._add)
        self.all = button(
            "All takes of this paper", self._add_all, "Each take of this paper that goes to the same queue"
        )
        self.pause = button("Wait", self._pause)
        self.head(self.add, self.all, self.pause)
        self.rows.addWidget(self._build_asking())
        row = QHBoxLayout()
        row.setSpacing(theme.px(14))
        row.addWidget(self._build_list())
        row.addLayout(self._build_pair(), 1)
        self.rows.addLayout(row, 1)
        self.chosen = 0
        self._shown: object = None
        self._rows: dict[int, PrintRow] = {}
        self._seen: tuple[int, str, SeenPair] | None = None
        self._asked: object = None
        #: How far pages are made, 0 to 1, by the number of their job.
        self._made: dict[int, float] = {}
        self.session.jobs.progressed.connect(self._on_progress)
        self._drying = QTimer(self)
        self._drying.setInterval(_DRYING_MS)
        self._drying.timeout.connect(self.refresh)

    def _build_asking(self) -> QWidget:
        """What needs a look at several takes, asked once."""
        self.asking = QWidget()
        line = QHBoxLayout(self.asking)
        line.setContentsMargins(0, 0, 0, 0)
        self.asked = quiet("", wrap=True)
        line.addWidget(self.asked, 1)
        self.yes = button("Print all the same", self._order_all)
        line.addWidget(self.yes)
        line.addWidget(button("Not now", lambda: self.asking.setVisible(False)))
        self.asking.hide()
        return self.asking

    def _build_list(self) -> QWidget:
        inner = QWidget()
        self._list = QVBoxLayout(inner)
        self._list.setContentsMargins(0, 0, theme.px(6), 0)
        self._list.setSpacing(theme.px(4))
        area = scrolled(inner)
        area.setFixedWidth(theme.px(_LIST))
        return area

    def _build_pair(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(theme.px(6))
        self.pair = PrintPair()
        column.addWidget(self.pair, 1)
        grid = QGridLayout()
        grid.setHorizontalSpacing(theme.px(18))
        self.tones, self.scales = TonePlot(), ReadScales()
        self.judge = button("Judge it", self._judge, "Go to the logbook with the take of this print")
        self.hold = QPushButton("Hold: change places")
        self.hold.setAccessibleName("Hold: take and print change places")
        self.hold.setToolTip("Or hold Space on the pictures")
        self.hold.pressed.connect(lambda: self.pair.swap(True))
        self.hold.released.connect(lambda: self.pair.swap(False))
        grid.addWidget(heading("Print less take, L* by tone"), 0, 0)
        grid.addWidget(self.tones, 1, 0)
        grid.addWidget(heading("As measured, black by the simulated meter"), 0, 1)
        grid.addWidget(self.scales, 1, 1)
        buttons = QVBoxLayout()
        buttons.addWidget(self.hold)
        buttons.addWidget(self.judge)
        buttons.addStretch(1)
        grid.addLayout(buttons, 1, 2)
        grid.setColumnStretch(0, 1)
        grid.setColumnStretch(1, 1)
        self._figures = QWidget()
        self._figures.setLayout(grid)
        grid.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self._figures)
        return column

    # ---- hands

    def _add(self) -> None:
        take = self.session.now.take
        if take is not None:
            self.session.prints.order([take])

    def _add_all(self) -> None:
        """All cautions once, before the first; nothing is asked when there are none."""
        takes = self.session.prints.of_this_paper()
        cautions = self.session.sheets.cautions_of(takes)
        if not cautions:
            self._order_all()
            return
        rows = [f"{picture}: {caution.text}" for picture, caution in cautions[:_MOST_ASKED]]
        more = len(cautions) - len(rows)
        rows += [f"And {counted(more, 'more thing')}."] if more else []
        self.asked.setText("\n".join(rows))
        self.yes.setText(f"Print all {len(takes)} all the same")
        self.yes.setAccessibleName(self.yes.text())
        self.asking.setVisible(True)

    def _order_all(self) -> None:
        self.asking.setVisible(False)
        self.session.prints.order(self.session.prints.of_this_paper())

    def _pause(self) -> None:
        prints = self.session.prints
        prints.go_on() if prints.is_paused else prints.pause()

    def _judge(self) -> None:
        job = next((j for j in self.session.prints.all if j.id == self.chosen), None)
        take = None if job is None else self.session.prints.take_of(job)
        if take is not None:
            self.session.takes.open(take)
        self.station_wanted.emit("log")

    # ---- following

    def open(self) -> None:
        """The newest page, unless one is chosen."""
        self._drying.start()
        self._shown = None
        jobs = self.session.prints.all
        if not any(j.id == self.chosen for j in jobs):
            self.chosen = jobs[-1].id if jobs else 0
        self.refresh()

    def hideEvent(self, event: object) -> None:
        """Nothing is told while nobody looks."""
        self._drying.stop()

    def refresh(self) -> None:
        """Follow the session."""
        prints, take, now = self.session.prints, self.session.now.take, datetime.now()
        queue = "" if take is None else take.hand_over.queue
        self.add.setEnabled(bool(queue))
        self.add.setToolTip(f"At {queue}" if queue else "Choose a queue as its route at Sheet first")
        self.all.setEnabled(bool(queue))
        self.pause.setText("Go on" if prints.is_paused else "Wait")
        self.pause.setAccessibleName("Go on with what waits" if prints.is_paused else "Begin nothing more")
        self.pause.setVisible(bool(prints.waiting))
        jobs = list(reversed(prints.all))
        rows = tuple((j.id, j.state) for j in jobs)
        if rows != self._shown:
            self._shown = rows
            self._fill(jobs)
        for job in jobs:
            self._show_row(job, now)
        self._say(jobs)
        self._show_chosen()

    def _on_progress(self, step: tuple[Job, float, str]) -> None:
        """A page is made a little further: its ring fills."""
        job, share, _words = step
        if job.kind != "print" or not isinstance(job.what, int):
            return
        self._made[job.what] = share
        found = next((j for j in self.session.prints.all if j.id == job.what), None)
        if found is not None and found.id in self._rows and self.isVisible():
            self._show_row(found, datetime.now())

    def _say(self, jobs: list[PrintJob]) -> None:
        waiting = len(self.session.prints.waiting)
        if not jobs:
            words = "Nothing is on its way. Choose a queue as the route at Sheet, then print: each page is listed here, and stays."
        elif self.session.prints.is_paused and waiting:
            words = f"{counted(waiting, 'page')} {'waits' if waiting == 1 else 'wait'}: load paper, then go on."
        else:
            words = "One stopped does not stop the rest. Prints dry flat and apart; nothing is stacked or framed wet."
        self.sentence.setText(words)

    def _fill(self, jobs: list[PrintJob]) -> None:
        while self._list.count():
            item = self._list.takeAt(0)
            widget = None if item is None else item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self._rows = {}
        for job in jobs:
            self._list.addWidget(self._make_row(job))
        self._list.addStretch(1)

    def _make_row(self, job: PrintJob) -> QWidget:
        made = QWidget()
        line = QHBoxLayout(made)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(theme.px(4))
        row = self._rows[job.id] = PrintRow()
        row.room = self.room
        row.clicked.connect(functools.partial(self._choose, job.id))
        line.addWidget(row, 1)
        prints = self.session.prints
        if job.state in ("waiting", "making", "sent", "held"):
            line.addWidget(button("Stop", functools.partial(prints.stop, job), name=f"Stop {job.picture}"))
        elif job.state in ("stopped", "failed"):
            line.addWidget(button("Again", functools.partial(prints.again, job), name=f"Print {job.picture} after all"))
            line.addWidget(
                button("Off", functools.partial(prints.forget, job), name=f"Take {job.picture} off the list")
            )
        return made

    def _show_row(self, job: PrintJob, now: datetime) -> None:
        size = job.rendition.frame.size
        large = "" if size is None else f", {size.in_words}"
        under = f"{job.card.paper}, {sheet_words(job.rendition.sheet.name)}{large}"
        rgb = self.session.inquiries.littles.get(job.rendition.master)
        picture = QImage() if rgb is None else rgb_image(rgb)
        row = self._rows[job.id]
        row.setChecked(job.id == self.chosen)
        row.show_row(
            RowShown(job.picture, under, _RINGS[job.state], state_words(job, now), self._made.get(job.id, 0.0)),
            page_of_job(job),
            picture,
        )

    def _choose(self, number: int) -> None:
        self.chosen = number
        self._asked = None
        self.refresh()

    # ---- the print beside its take

    def _show_chosen(self) -> None:
        job = next((j for j in self.session.prints.all if j.id == self.chosen), None)
        if job is None:
            self.pair.show_pair(None, None, ("", ""))
            self._figures.setVisible(False)
            return
        self.session.inquiries.ask_littles(
            [m for n in job.masters if (m := self.session.prints.master(n)) is not None], 240, 240
        )
        look = self.session.roads.look
        kelvin, minutes = self.session.screen.record.kelvin, self.session.prints.minutes_since(job, datetime.now())
        dried = min(int(minutes / DRY_STEP_MINUTES), DRY_STEPS)
        key = (job.id, job.state, None if look is None else (look.screen.digest, look.light), kelvin, dried)
        if look is not None and key != self._asked:
            self._asked = key
            words = print_words(job, kelvin, datetime.now())
            self.session.prints.look_at(job, look, kelvin, functools.partial(self._on_seen, job.id, words))
        self._show_seen(job)

    def _on_seen(self, number: int, words: str, seen: SeenPair) -> None:
        self._seen = (number, words, seen)
        job = next((j for j in self.session.prints.all if j.id == self.chosen), None)
        if job is not None:
            self._show_seen(job)

    def _show_seen(self, job: PrintJob) -> None:
        _number, printed, seen = self._seen if self._seen is not None and self._seen[0] == job.id else (0, "", None)
        if seen is None:
            self.pair.show_pair(None, None, ("Looking…", ""))
        else:
            there = seen.printed is not None
            self.pair.show_pair(
                seen.planned, seen.printed, ("The take, as planned", printed if there else no_print_words(job))
            )
        compared = None if seen is None else seen.compared
        self._figures.setVisible(compared is not None)
        if compared is not None and seen is not None:
            self.tones.show_tones(compared.tones)
            self.scales.show_reads(reads(compared, seen.meter))
        self.judge.setVisible(job.state == "done")

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        super().set_room(room)
        for part in (self.pair, self.tones, self.scales, *self._rows.values()):
            part.room = room  # type: ignore[attr-defined]
            part.update()


def print_words(job: PrintJob, kelvin: float, now: datetime) -> str:
    """What a picture of a print shows, as it was made then: still wet or not, and under which lamp."""
    wet = wet_words(dry_at(job.printed, job.card.dry_hours), now) if job.printed else ""
    return f"Its print{', still wet' if wet else ''}{f', under {kelvin:.0f} K' if kelvin > 0 else ''}"


def no_print_words(job: PrintJob) -> str:
    """Why no print is shown beside the take."""
    return "Lay the print beside the screen" if job.state == "done" else "No print yet"


def reads(compared: PrintCompared, meter: float | None) -> tuple[Read, ...]:
    """What a print is beside its plan, as dots on lines."""
    stops, mired = compared.stops, compared.mired
    black = compared.black if meter is None else meter
    far = float((compared.right**2 + compared.down**2) ** 0.5)
    return (
        Read("lighter, darker", stops / _ENDS[0], _more(stops, 0.04, f"{stops_words(abs(stops))} ", "lighter", "darker")),
        Read("warmer, cooler", mired / _ENDS[1], _more(mired, 1.0, f"{abs(mired):.0f} mired ", "warmer", "cooler")),
        Read("blackest", (black - compared.planned_black) / _ENDS[2], f"L* {black:.1f}, planned {compared.planned_black:.1f}"),
        Read("moved", far / _ENDS[3], "in its place" if far < 0.1 else f"{far:.1f} mm"),
    )  # fmt: skip


def _more(value: float, least: float, size: str, more: str, less: str) -> str:
    return "as planned" if abs(value) < least else f"{size}{more if value > 0 else less}"
