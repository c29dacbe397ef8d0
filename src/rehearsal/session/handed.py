"""What was handed over: written as a file, sent to a queue, printed; each said of the rendition it is of."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from rehearsal.core.values.rendition import Rendition
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus
from rehearsal.session.now import Now
from rehearsal.session.printing import is_of
from rehearsal.session.takes import Takes
from rehearsal.workbook.values import Master, PrintCondition, PrintJob, Take

#: States of a page that went over to its queue; one that waits or is being made is still here.
_OVER = ("sent", "held", "done")


@dataclass(frozen=True)
class Handed:
    """One hand-over.

    Attributes:
        state: ``written`` (a file: no print yet), ``sent`` (to a queue) or ``printed`` (said by a person or by the queue).
        when: ISO 8601, local time; empty where nobody knows.
        take: its number; picture and paper by their names.
        rendition: what went over.
        file: of a written one; job: number of a page at a queue.
    """

    state: str
    when: str
    take: int
    picture: str
    paper: str
    rendition: Rendition
    file: str = ""
    job: int = 0


class HandedOver:
    """Everything that was handed over, as the workbook knows it."""

    def __init__(self, book: Book, bus: Bus, now: Now, takes: Takes) -> None:
        self._book, self._bus, self._now, self._takes = book, bus, now, takes

    @property
    def all(self) -> list[Handed]:
        """All of them, oldest first."""
        return sorted([*self._files(), *self._pages()], key=lambda h: h.when)

    def _files(self) -> list[Handed]:
        made = []
        for take in self._book.all(Take):
            master, card = self._book.get(Master, take.master), self._book.get(PrintCondition, take.condition)
            written = take.written
            if written is None or not written.file or master is None:
                continue
            state, when = ("printed", written.printed) if written.printed else ("written", written.when)
            paper = "" if card is None else card.paper
            made.append(Handed(state, when, take.id, master.name, paper, written.rendition, written.file))
        return made

    def _pages(self) -> list[Handed]:
        jobs = (j for j in self._book.all(PrintJob) if j.state in _OVER)
        return [
            Handed(
                "printed" if j.state == "done" else "sent",
                j.printed or j.asked,
                j.take,
                j.picture,
                j.card.paper,
                j.rendition,
                job=j.id,
            )
            for j in jobs
        ]

    @property
    def last(self) -> Handed | None:
        """The open take's last one; None before any."""
        take = self._now.take
        mine = [h for h in self.all if take is not None and h.take == take.id]
        return mine[-1] if mine else None

    @property
    def last_file(self) -> Handed | None:
        """The open take's last file; None before any."""
        take = self._now.take
        mine = [h for h in self.all if take is not None and h.take == take.id and h.file]
        return mine[-1] if mine else None

    def is_of_now(self, handed: Handed) -> bool:
        """True while the open take is what was handed over then."""
        here = self._now.rendition
        return here is not None and is_of(handed.rendition, here)

    def say_printed(self) -> None:
        """A person says that the open take's file was printed, now."""
        take = self._now.take
        if take is None or take.written is None or not take.written.file or take.written.printed:
            return
        moment = datetime.now().isoformat(timespec="minutes")
        self._takes.change("say-printed", written=replace(take.written, printed=moment), ticked=())
        self._bus.tell("prints")
