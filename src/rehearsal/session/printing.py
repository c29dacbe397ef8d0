"""Handing over: print files with their tickets."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date, datetime
from pathlib import Path
from typing import Any

from rehearsal.core.errors import RehearsalError
from rehearsal.core.picture.write import put_in_place
from rehearsal.core.proof.chain import switch_is_fixed
from rehearsal.core.sheet.composing import compose
from rehearsal.core.sheet.crosssheet import draw_crosses
from rehearsal.core.sheet.pdffile import write_pdf
from rehearsal.core.sheet.request import TicketRequest
from rehearsal.core.sheet.ticket import Ticket, make_ticket
from rehearsal.core.sheet.ticketpage import write_ticket_pdf
from rehearsal.core.sheet.trueplace import crosses
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.frame import PrintSize
from rehearsal.core.values.handover import PAGE_FORMATS, HandOver, format_by
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.sheet import Sheet
from rehearsal.core.work.files import same_file
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus
from rehearsal.session.jobs import Job, JobProgress, Jobs
from rehearsal.session.judging import Judging
from rehearsal.session.now import Now
from rehearsal.session.orders import order_of, page_parts
from rehearsal.session.queues import Queues
from rehearsal.session.takes import Takes
from rehearsal.tasks.printing import write_page_with_ticket
from rehearsal.tasks.writing import Target, WrittenTicket, file_name, write_with_ticket
from rehearsal.workbook.masters import state
from rehearsal.workbook.values import LogEntry, Master, PrintJob, Take, TestSheet, Written

#: Pixels that are enough for every size: what nobody looks at is not spoken of.
_ENOUGH = (10**6, 10**6)


class Printing:
    """Writes what goes to the printer; each answer is kept with the take it was asked for."""

    def __init__(
        self, book: Book, bus: Bus, jobs: Jobs, now: Now, takes: Takes, judging: Judging, queues: Queues
    ) -> None:
        self._book, self._bus, self._jobs = book, bus, jobs
        self._now, self._takes, self._judging, self._queues = now, takes, judging, queues

    # ---- the ticket

    def ticket_request(self) -> TicketRequest | None:
        """What the ticket of the open take is made from."""
        take, condition, master = self._now.take, self._now.condition, self._now.master
        rendition, picture = self._now.rendition, self._now.picture
        if take is None or condition is None or master is None or rendition is None or picture is None:
            return None
        _x, _y, w, h = rendition.frame.crop.pixels(*picture.size)
        paper, judged = self._now.paper, self._judging.judgement
        name = f"{condition.paper} (profile missing)" if paper is None else paper.description
        return TicketRequest(
            rendition=rendition,
            condition=condition,
            picture=master.name,
            pixels=(w, h),
            profile_name=name,
            judged=None if judged is None else judged.rendition,
            cut=None if judged is None or judged.rendition.look != rendition.look else judged.cut,
            fixed="" if paper is None else switch_is_fixed(rendition.rendering.intent, paper),
            file=take.file if take.written is not None and is_of(take.written.rendition, rendition) else "",
            file_state=self._now.file_state,
            profile_missing=paper is None,
            **self._about(take, condition, master.name),
        )

    def request_of(self, take: Take) -> TicketRequest | None:
        """What cautions about any take are made from; of one that is not open nobody judges pixels and figures here."""
        here = self._now.take
        if here is not None and here.id == take.id:
            return self.ticket_request()
        condition, master = self._book.get(PrintCondition, take.condition), self._book.get(Master, take.master)
        if condition is None or master is None:
            return None
        rendition = take.rendition(master, Destination(condition.profile_digest, condition.profile_path))
        return TicketRequest(
            rendition=rendition,
            condition=condition,
            picture=master.name,
            pixels=_ENOUGH,
            profile_name=condition.paper,
            judged=rendition,
            file_state="there" if state(master) == "there" else "changed",
            **self._about(take, condition, master.name),
        )

    def _about(self, take: Take, condition: PrintCondition, picture: str) -> dict[str, Any]:
        """What a request tells of take, queue and printer, whichever take is open."""
        return {
            "ticked": take.ticked,
            "queue": self._queues.offers(take.hand_over.queue),
            "others": self._others(take),
            "idle_days": self._idle_days(condition),
            "tested": self._is_tested(take, picture),
            "inks": tuple(
                c.ink_set
                for c in self._book.all(PrintCondition)
                if c.id == condition.id or (c.printer and c.printer == condition.printer)
            ),
        }

    def _others(self, take: Take) -> tuple[PrintSize, ...]:
        """Sizes of the other prints on a packed sheet."""
        if take.sheet.several.way != "packed":
            return ()
        found = (self._book.get(Take, n) for n in take.sheet.several.takes)
        return tuple(t.frame.size for t in found if t is not None and t.frame.size is not None)

    def _idle_days(self, condition: PrintCondition) -> int | None:
        """Days since the last print of this printer that is known of; None for none."""
        if not condition.printer:
            return None
        mine = {c.id for c in self._book.all(PrintCondition) if c.printer == condition.printer}
        days = [e.when for e in self._book.all(LogEntry) if e.condition in mine]
        days += [j.printed for j in self._book.all(PrintJob) if j.condition in mine and j.printed]
        days += [t.written.print_when for t in self._book.all(Take) if t.condition in mine and t.written is not None]
        found = [day for text in days if (day := _day(text)) is not None]
        return None if not found else max(0, (date.today() - max(found)).days)

    def _is_tested(self, take: Take, picture: str) -> bool:
        """True when a test sheet or a print of this picture on this paper is known of."""
        same = {t.id for t in self._book.all(Take) if (t.master, t.condition) == (take.master, take.condition)}
        return (
            any(t.take in same for t in self._book.all(TestSheet))
            or any(j.take in same and j.state == "done" for j in self._book.all(PrintJob))
            or any((e.condition, e.picture) == (take.condition, picture) for e in self._book.all(LogEntry))
            or any(t.id in same and t.written is not None and t.written.print_when for t in self._book.all(Take))
        )

    @property
    def is_on_the_way(self) -> bool:
        """True while a page of the open take is on its way to a queue."""
        take = self._now.take
        return take is not None and any(j.take == take.id and not j.is_over for j in self._book.all(PrintJob))

    def ticket(self) -> Ticket | None:
        """The ticket of the open take."""
        request = self.ticket_request()
        return None if request is None else make_ticket(request)

    # ---- the print file

    def proposed_file(self) -> Path | None:
        """Where the print file could go: the last folder, with a name that says what it is."""
        rendition, condition, picture = self._now.rendition, self._now.condition, self._now.picture
        if rendition is None or condition is None or picture is None:
            return None
        folder = self._book.recall("print folder") or str(Path.home())
        return Path(folder) / file_name(rendition, condition, picture.picture.info.path)

    def write(self, path: Path) -> None:
        """Write the open rendition's print file and its ticket in the background; several takes can be written at once."""
        take, opened, request = self._now.take, self._now.opened, self.ticket_request()
        if take is None or opened is None or request is None:
            return
        if not path.suffix:
            path = path.with_suffix(opened.rendition.hand_over.file.suffix)
        if self.is_master(path):
            return
        if self._takes_ending(path.suffix, take.hand_over):  # the file is of the take with its new format
            self.write(path)
            return
        if format_by(path.suffix, take.hand_over.format) != take.hand_over.format:
            return
        target = Target(path, self.protected())

        def answer(made: WrittenTicket) -> None:
            self._book.remember("print folder", str(path.parent))
            now = datetime.now().isoformat(timespec="minutes")
            kept = replace(made.written, rendition=as_made_now(made.written.rendition), when=now)
            self._keep_written(take, kept)
            self._book.keep_profile(opened.paper.digest, opened.paper.data)  # so that it can be printed again in a year
            if made.ticket_error:
                self._bus.say_wrong(made.ticket_error)
            else:
                file = made.written.file
                depth = ", 8 bits a channel" if opened.rendition.hand_over.format == "pdf" else ""
                self._bus.say(f"Written with its ticket: {Path(file).name}{depth}", "folder", file)

        self._jobs.run(
            Job("write", (take.id, opened.rendition)), self._writing(take, opened, request, target), answer, alone=False
        )

    def _takes_ending(self, ending: str, hand_over: HandOver) -> bool:
        """The name decides the format where it can; True when the take was changed for it. What cannot be is said."""
        wanted = format_by(ending, hand_over.format)
        if wanted == hand_over.format:
            return False
        whole = hand_over.whole or wanted == "pdf"
        if not wanted or (whole and wanted not in PAGE_FORMATS):
            kinds = ".tif, .png or .pdf" if whole else ".tif, .png, .jpg or .pdf"
            what = "whole page" if whole else "print file"
            self._bus.say_wrong(f"No {what} can be written as {ending}: end its name with {kinds}.")
            return False
        self._takes.change_hand_over(format=wanted, whole=whole, route="printer" if whole else hand_over.route)
        return True

    def _writing(
        self, take: Take, opened: OpenRendition, request: TicketRequest, target: Target
    ) -> Callable[[JobProgress], WrittenTicket]:
        """The work of writing a take's file: the print alone, or the whole page."""
        if not take.hand_over.whole:
            return lambda p: write_with_ticket(opened, request, target, p)
        pairs = page_parts(self._book, take, request.condition)
        order = order_of(
            self._book, tuple(r for _m, r in pairs), [m for m, _r in pairs], request.condition, request.picture
        )
        return lambda p: write_page_with_ticket(order, opened, request, target, p)

    def is_master(self, path: Path) -> bool:
        """True, and said, when a file of that name is a master of this workbook, whichever take is open."""
        found = next((m for m in self._book.all(Master) if same_file(m.path, path)), None)
        if found is not None:
            self._bus.say(
                f"{path.name} is the picture {found.name} itself and is never written to; choose another file name."
            )
        return found is not None

    def protected(self) -> tuple[str, ...]:
        """Files that are never written to."""
        profiles = [c.profile_path for c in self._book.all(PrintCondition) if c.profile_path and not c.space]
        return tuple([*(m.path for m in self._book.all(Master)), *profiles])

    def _keep_written(self, take: Take, written: Written) -> None:
        """The file belongs to the take it was asked for, whichever is open now."""
        kept = self._book.get(Take, take.id)
        if kept is None:
            return
        if self._now.take is not None and self._now.take.id == take.id:
            self._takes.change("write", written=written)
        else:
            self._book.do("write", [replace(kept, written=written)])
            self._bus.tell("takes")

    def save_ticket(self, path: Path) -> None:
        """Save the ticket of the open take where the user said, and nowhere a master or a profile in use lies."""
        ticket = self.ticket()
        if ticket is None:
            return
        try:
            Target(path, self.protected()).check()
            write_ticket_pdf(ticket, path)
        except RehearsalError as error:
            self._bus.say_error(error)

    def write_crosses(self, path: Path, sheet: str) -> None:
        """Write the sheet of crosses, by which the open take's printer is measured, in the background."""
        condition = self._now.condition
        if condition is None or self.is_master(path):
            return
        page = compose(Sheet(sheet), [PrintSize(2, 3)])
        at, target = crosses(page.width, page.height, condition.margins_mm), Target(path, self.protected())

        def work(_progress: object) -> None:
            target.check()
            drawn = draw_crosses(page.width, page.height, at, f"{condition.name}, {condition.feed or 'its feed'}")
            put_in_place(path, lambda name: write_pdf(drawn, name), True)

        said = f"Written: {path.name}. Print it unscaled."
        job = Job("write", ("crosses", str(path)))
        self._jobs.run(job, work, lambda _r: self._bus.say(said, "folder", str(path)), alone=False)


def _day(text: str) -> date | None:
    try:
        return datetime.fromisoformat(text).date()
    except ValueError:
        return None


def is_of(written: Rendition, rendition: Rendition) -> bool:
    """True when what was handed over is what a rendition is now; how many are printed is no part of it."""
    then, now = (replace(r, hand_over=replace(r.hand_over, copies=1)) for r in (written, rendition))
    return then == as_made_now(now)


def as_made_now(rendition: Rendition) -> Rendition:
    """What was written: by the present arithmetic, whatever the take's recipe was made by."""
    return replace(rendition, recipe=rendition.recipe.renewed)
