"""The logbook looked through: which prints are shown, one or two of them chosen; held against now, printed again, what they cost."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from pathlib import Path
from typing import Any

import numpy as np

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile
from rehearsal.core.sheet.causes import Cause, causes
from rehearsal.core.sheet.cost import PaperAccount, PrintCost, cost_of
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.words import word
from rehearsal.core.work.once import LastUsed
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus
from rehearsal.session.jobs import Job, JobProgress, Jobs
from rehearsal.session.now import Now
from rehearsal.session.orders import order_of
from rehearsal.session.prints import Prints
from rehearsal.session.roads import Roads
from rehearsal.session.screen import Screen
from rehearsal.session.shelf import Shelf, readable
from rehearsal.session.takes import Takes
from rehearsal.session.testing import look_key
from rehearsal.session.verdicts import HeldPrint
from rehearsal.tasks.learning import read_log
from rehearsal.tasks.logfiles import write_log
from rehearsal.tasks.pastprints import (
    ThenAndNow,
    cause_looks,
    coverage_of,
    look_at_print_again,
    then_and_now,
    write_again,
)
from rehearsal.tasks.printing import PrintOrder
from rehearsal.tasks.writing import Target
from rehearsal.workbook.learning import same_light
from rehearsal.workbook.values import LogEntry, Master, PrintJob, Take, TestSheet

Seen = tuple[np.ndarray, np.ndarray]


class Past:
    """Owner of what is chosen in the logbook. ``past`` tells that another print is shown or chosen, ``past_look`` of its look."""

    def __init__(
        self, book: Book, bus: Bus, jobs: Jobs, shelf: Shelf, screen: Screen, now: Now, takes: Takes, roads: Roads, prints: Prints
    ) -> None:  # fmt: skip
        self._book, self._bus, self._jobs, self._shelf, self._screen = book, bus, jobs, shelf, screen
        self._now, self._takes, self._roads, self._prints = now, takes, roads, prints
        self.search, self.paper, self.picture, self.light, self.verdict = "", 0, "", False, ""
        #: Numbers of the entries that are chosen: none, one, or two to be compared.
        self.chosen: tuple[int, ...] = ()
        self._looks: LastUsed[Seen] = LastUsed(12)
        self._causes: LastUsed[dict[str, np.ndarray]] = LastUsed(2)
        self._thens: LastUsed[ThenAndNow] = LastUsed(24, None)
        self._covered: LastUsed[float] = LastUsed(24, None)
        self._failed: set[object] = set()
        bus.on(("picture", "masters", "conditions", "screen"), self._failed.clear)

    # ---- which are shown

    def show_only(self, **fields: Any) -> None:
        """Search and filter: ``search`` words, ``paper`` a number, ``picture`` a name, ``light`` only this one, ``verdict`` a key."""
        for name, value in fields.items():
            setattr(self, name, value)
        self._bus.tell("past")

    @property
    def shown(self) -> list[LogEntry]:
        """Entries that pass search and filters, oldest first."""
        return [e for e in sorted(self._book.all(LogEntry), key=lambda e: (e.when, e.id)) if self._passes(e)]

    def _passes(self, e: LogEntry) -> bool:
        screen = self._screen.record
        words = f"{e.picture} {e.condition_name} {e.words} {word('verdict', e.verdict)} {word('light', e.light)} {e.when}".lower()
        return (
            all(part in words for part in self.search.lower().split())
            and (not self.paper or e.condition == self.paper) and (not self.picture or e.picture == self.picture)
            and (not self.verdict or e.verdict == self.verdict)
            and (not self.light or same_light(e, screen.lux, screen.kelvin, screen.white))
        )  # fmt: skip

    def choose(self, entry: LogEntry | None, too: bool = False) -> None:
        """Choose a print, or one more to be compared with the first; None for none."""
        if entry is None:
            numbers: tuple[int, ...] = ()
        elif too and self.chosen and self.chosen[0] != entry.id:
            numbers = (self.chosen[0], entry.id)
        else:
            numbers = (entry.id,)
        if numbers != self.chosen:
            self.chosen = numbers
            self._bus.tell("past")

    @property
    def entries(self) -> list[LogEntry]:
        """The chosen ones."""
        return [e for n in self.chosen if (e := self._book.get(LogEntry, n)) is not None]

    @property
    def entry(self) -> LogEntry | None:
        """The chosen one, else the newest that is shown."""
        shown = self.shown
        return self.entries[0] if self.entries else shown[-1] if shown else None

    # ---- what is kept of a print

    def order(self, entry: LogEntry) -> PrintOrder | None:
        """All that is kept of a print; None for an entry that does not know what was printed."""
        rendition, card = entry.rendition, entry.condition_card
        if rendition is None or card is None:
            return None
        job = self._book.get(PrintJob, entry.print_id) if entry.print_id else None
        renditions = (rendition,) if job is None else job.renditions or (rendition,)
        masters = [self._master(r.master, entry.picture) for r in renditions]
        return order_of(self._book, renditions, masters, card, entry.picture)

    def _master(self, digest: str, name: str) -> Master:
        found = next((m for m in self._book.all(Master) if m.digest == digest), None)
        return found or Master(path="", name=name)

    def look(self, entry: LogEntry, long_side: int) -> Seen | None:
        """A print as its light and screen show it, and its bare paper; None while it is coming or cannot be."""
        order, look = self.order(entry), self._roads.look
        if order is None or look is None:
            return None
        key = (entry.rendition, long_side, look_key(look))
        found: Seen | None = self._ask(
            self._looks, Job("past-look", key), lambda p: look_at_print_again(order, look, long_side, p), alone=False
        )
        return found

    def _ask(self, kept: LastUsed[Any], job: Job, work: Callable[[JobProgress], Any], alone: bool = True) -> Any:
        """What is known of a question; asked once where it is not."""
        found = kept.peek(job.what)
        if found is None and job not in self._jobs.running and job.what not in self._failed:

            def answer(made: Any) -> None:
                kept.put(job.what, made)
                self._bus.tell("past_look")

            def safe(progress: JobProgress) -> Any:
                try:
                    return work(progress)
                except RehearsalError:
                    self._failed.add(job.what)
                    return None

            self._jobs.run(
                job, safe, lambda made: answer(made) if made is not None else self._bus.tell("past_look"), alone=alone
            )
        return found

    def cannot_show(self, entry: LogEntry, long_side: int) -> bool:
        """True when the picture or the profile of a print is not there any more."""
        look = self._roads.look
        return look is not None and (entry.rendition, long_side, look_key(look)) in self._failed

    def then(self, entry: LogEntry) -> ThenAndNow | None:
        """A print held against now; None while it is worked out, or where nobody knows what was printed."""
        order = self.order(entry)
        if order is None:
            return None
        card = self._shelf.get(entry.condition)
        paper: Profile | None = None if card is None else readable(self._shelf, card)
        key = (entry.rendition, None if paper is None else paper.digest, len(order.profile))
        found: ThenAndNow | None = self._ask(
            self._thens, Job("past-then", key), lambda p: then_and_now(order, paper, p)
        )
        return found

    # ---- printing again

    def print_again(self, entry: LogEntry) -> bool:
        """Print the same pixels at the queue they went to; False where there was none."""
        rendition, order = entry.rendition, self.order(entry)
        if rendition is None or order is None or not rendition.hand_over.queue:
            return False
        take = next(
            (t for t in self._book.all(Take) if self._is_of(t, rendition.master) and t.condition == entry.condition),
            None,
        )
        masters = tuple(m.id for m in order.masters)
        made = PrintJob(
            take=0 if take is None else take.id, condition=entry.condition, picture=entry.picture, queue=rendition.hand_over.queue,
            renditions=order.renditions, masters=masters, card=order.card, asked=datetime.now().isoformat(timespec="minutes"),
        )  # fmt: skip
        self._prints.order_kept(made)
        return True

    def _is_of(self, take: Take, digest: str) -> bool:
        master = self._book.get(Master, take.master)
        return master is not None and master.digest == digest

    def write_again(self, entry: LogEntry, path: Path, protected: tuple[str, ...]) -> None:
        """Write the file of a print once more, in the background: the same rendition, the profile it was made with."""
        order = self.order(entry)
        if order is None:
            return
        target = Target(path, protected)

        def work(progress: JobProgress) -> Any:
            return write_again(order, target, progress)

        said = f"Written again as on {entry.when}: {path.name}"
        self._jobs.run(
            Job("write", ("again", entry.id, str(path))),
            work,
            lambda _w: self._bus.say(said, "folder", str(path)),
            alone=False,
        )

    # ---- causes

    def cause_looks(self, entry: LogEntry, size: int) -> dict[str, np.ndarray] | None:
        """Looks of a print gone wrong; None while they are coming."""
        order, look = self.order(entry), self._roads.look
        if order is None or look is None:
            return None
        key = (entry.rendition, size, look_key(look), "causes")
        found: dict[str, np.ndarray] | None = self._ask(
            self._causes, Job("past-causes", key), lambda p: cause_looks(order, look, size, p)
        )
        return found

    def cannot_look(self, entry: LogEntry, size: int) -> bool:
        """True when there can be no looks of a print: its picture or profile is gone, or nobody knows what was printed."""
        look = self._roads.look
        return entry.rendition is None or (
            look is not None and (entry.rendition, size, look_key(look), "causes") in self._failed
        )

    def causes(self, entry: LogEntry, look: str) -> list[Cause]:
        """Likely causes of a look, held against the ticket of that print."""
        card = entry.condition_card or PrintCondition()
        rendition = entry.rendition
        hand_over = HandOver() if rendition is None else rendition.hand_over
        digest = "" if rendition is None else rendition.destination.digest
        kept = bool(digest) and (digest == card.profile_digest or self._book.profile_bytes(digest) is not None)
        return causes(look, hand_over, card, kept, entry.screen_white)

    def set_cause(self, entry: LogEntry, cause: str) -> None:
        """It was this: the print teaches nothing about light any more; an empty key takes it back."""
        self.change(entry, cause=cause)

    # ---- hands

    def change(self, entry: LogEntry, **fields: Any) -> None:
        """Put an entry right; can be undone."""
        fresh = self._book.get(LogEntry, entry.id)
        made = None if fresh is None else replace(fresh, **fields)
        if made is not None and made != fresh and self._book.do("change-log", [made]):
            self._bus.tell("log", "past")

    def remove(self, entry: LogEntry) -> None:
        """Take an entry out of the logbook; can be undone."""
        fresh = self._book.get(LogEntry, entry.id)
        if fresh is not None:
            self._book.do("remove-log", removes=[fresh])
            self.chosen = tuple(n for n in self.chosen if n != entry.id)
            self._bus.tell("log", "past")
            self._bus.say(f"{entry.picture} of {entry.when} is out of the logbook.", "undo")

    def write(self, path: Path, protected: tuple[str, ...]) -> None:
        """Write what is shown: .csv, .json or .pdf; never over a protected file."""
        try:
            Target(path, protected).check()
            write_log(self.shown, path)
        except RehearsalError as error:
            self._bus.say_error(error)
        else:
            self._bus.say(f"Written: {path.name}", "folder", str(path))

    def take_in(self, path: Path) -> int:
        """Take the entries of a logbook's export in, those that are there already left out; answers with how many came."""
        try:
            found = read_log(path)
        except RehearsalError as error:
            self._bus.say_error(error)
            return 0
        there = {replace(e, id=0) for e in self._book.all(LogEntry)}
        fresh = [made for e in found if (made := replace(e, id=0)) not in there]
        if fresh:
            self._book.do("take-in-log", fresh)
            self._bus.tell("log", "past")
        self._bus.say(f"{len(fresh)} of {len(found)} entries of {path.name} were new.", "undo" if fresh else "")
        return len(fresh)

    # ---- cost

    def cost(self, held: HeldPrint | None) -> PrintCost | None:
        """What a print costs; None while nobody told a price, or its ink is being counted."""
        card = None if held is None else self._shelf.get(held.condition)
        opened = self._now.opened
        if held is None or card is None or opened is None or not (card.sheet_price or card.ink_ml):
            return None
        size = held.rendition.frame.size or PrintSize(20.0, 30.0)
        if card.ink_ml <= 0:
            return cost_of(card, held.rendition.sheet.name, size, 0.0)
        if held.rendition.master != opened.rendition.master:
            return None
        if held.rendition.destination.digest not in ("", opened.paper.digest):
            return None
        one = opened if held.rendition == opened.rendition else type(opened)(held.rendition, opened.open, opened.paper)
        covered = self._ask(self._covered, Job("past-ink", held.rendition), lambda _p: coverage_of(one))
        return None if covered is None else cost_of(card, held.rendition.sheet.name, size, covered)

    def account(self, condition: int) -> PaperAccount:
        """What a paper took so far: sheets of prints and tests, those that were signed, and the cost of what is known."""
        mine = [e for e in self._book.all(LogEntry) if e.condition == condition]
        takes = {t.id for t in self._book.all(Take) if t.condition == condition}
        tests = sum(1 for s in self._book.all(TestSheet) if s.take in takes and s.variants and s.plan.kind != "papers")
        prints = {
            (e.print_id, e.printed, e.rendition, e.picture, "" if e.printed or e.print_id else e.when): e for e in mine
        }
        known = [e.cost for e in prints.values() if e.cost >= 0]
        good = sum(1 for e in prints.values() if e.verdict == "good")
        return PaperAccount(len(prints) + tests, good, sum(known), len(known))
