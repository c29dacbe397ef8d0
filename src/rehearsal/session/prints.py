"""Pages on their way to a queue: one after the other, each stopped without the rest, kept over a restart."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import datetime

from rehearsal.core.errors import RehearsalError
from rehearsal.core.proof.chain import Look
from rehearsal.core.sheet.composing import page_size
from rehearsal.core.sheet.layout import roll_width_cm
from rehearsal.core.sheet.queueing import wanted_word
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.queue import SentState
from rehearsal.devices.simulated.press import SimulatedPress
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus
from rehearsal.session.home import Home
from rehearsal.session.jobs import Job, JobProgress, Jobs
from rehearsal.session.now import Now
from rehearsal.session.orders import order_of, page_parts
from rehearsal.session.queues import Queues
from rehearsal.session.shelf import Shelf
from rehearsal.session.takes import Takes
from rehearsal.tasks.printing import PrintOrder, SeenPair, Sent, look_at_print, print_page
from rehearsal.workbook.values import Master, PrintJob, Take, Written

#: How often a queue is asked about what was sent.
_ASK_MS = 1500
#: States in which a queue has a page.
_AT_QUEUE = ("sent", "held")


class Prints:
    """Owner of the pages on their way. After a start what waited goes on only when somebody says so: paper is used by it."""

    def __init__(
        self, book: Book, bus: Bus, jobs: Jobs, home: Home, shelf: Shelf, now: Now, takes: Takes, queues: Queues
    ) -> None:
        self._book, self._bus, self._jobs = book, bus, jobs
        self._shelf, self._now, self._takes, self._queues = shelf, now, takes, queues
        self._clock = home.timer(_ASK_MS, self._ask)
        for job in self.all:  # what was being made when the program ended is made anew
            if job.state == "making":
                book.note(replace(job, state="waiting"))
        #: Nothing waiting is begun.
        self.is_paused = any(j.state == "waiting" for j in self.all)
        jobs.failed.connect(self._on_failed)
        # what was stopped where all work is stopped ends without an answer; what has one has got it by then
        jobs.ended.connect(lambda job: home.post(lambda: self._check(job)) if job.kind == "print" else None)
        if any(j.state in _AT_QUEUE for j in self.all):
            self._clock.start()

    @property
    def all(self) -> list[PrintJob]:
        """All pages that were asked for, oldest first."""
        return self._book.all(PrintJob)

    @property
    def waiting(self) -> list[PrintJob]:
        """Those that wait for their turn."""
        return [j for j in self.all if j.state == "waiting"]

    def done_of(self, take: Take) -> list[PrintJob]:
        """Prints of a take that came out."""
        return [j for j in self.all if j.take == take.id and j.state == "done"]

    def take_of(self, job: PrintJob) -> Take | None:
        """The take a page is of, while it is there."""
        return self._book.get(Take, job.take)

    def master(self, number: int) -> Master | None:
        """A picture that is printed."""
        return self._book.get(Master, number)

    def of_this_paper(self) -> list[Take]:
        """Takes of the open one's paper that go to the same queue."""
        here = self._now.take
        if here is None:
            return []
        same = (here.condition, here.hand_over.queue)
        return [
            t for t in self._book.all(Take) if (t.condition, t.hand_over.queue) == same and t.frame.size is not None
        ]

    # ---- asking for prints

    def order(self, takes: Sequence[Take]) -> list[PrintJob]:
        """Print takes, each at the queue of its own hand-over; answers with the pages as they are kept."""
        made = [job for job in (self._job_of(take) for take in takes) if job is not None]
        if not made:
            return []
        for job in made:
            self._keep_profile(job)
        if self._book.is_read_only:
            self._bus.say_wrong("This workbook is open in another window: print from there.")
            return []
        kept = [self._book.note(job) for job in made]  # paper cannot be taken back: a page is stopped, never undone
        self._bus.tell("prints")
        self._begin()
        return kept

    def order_kept(self, job: PrintJob) -> PrintJob | None:
        """Print what was printed before, as it is kept."""
        if self._book.is_read_only:
            self._bus.say_wrong("This workbook is open in another window: print from there.")
            return None
        kept = self._book.note(job)
        self._bus.tell("prints")
        self._begin()
        return kept

    def _job_of(self, take: Take) -> PrintJob | None:
        condition = self._shelf.get(take.condition)
        if condition is None or not take.hand_over.queue:
            return None
        pairs = page_parts(self._book, take, condition)
        if not pairs:
            return None
        return PrintJob(
            take=take.id, condition=condition.id, picture=pairs[0][0].name, queue=take.hand_over.queue,
            renditions=tuple(r for _m, r in pairs), masters=tuple(m.id for m, _r in pairs), card=condition, asked=_moment(),
        )  # fmt: skip

    def _keep_profile(self, job: PrintJob) -> None:
        """The profile's bytes are kept with the print: its file may be another in a year."""
        try:
            profile = self._shelf.profile(job.card.profile_path)
        except RehearsalError:
            return  # the page will say so
        self._book.keep_profile(profile.digest, profile.data)

    # ---- one after the other

    def go_on(self) -> None:
        """Begin what waits."""
        self.is_paused = False
        self._begin()

    def pause(self) -> None:
        """Begin nothing more; what is on its way goes on."""
        self.is_paused = True
        self._bus.tell("prints")

    def _begin(self) -> None:
        if self.is_paused or self._jobs.is_running("print"):
            return
        job = next(iter(self.waiting), None)
        if job is None:
            return
        self._note(replace(job, state="making", words=""))
        order = self._order_of(job)
        queue = self._queues.open(job.queue)

        def work(progress: JobProgress) -> Sent:
            progress(0.0, "asking the queue")
            return print_page(order, queue, queue.offers(), progress)

        self._jobs.run(Job("print", job.id), work, lambda sent: self._on_sent(job.id, sent))

    def _order_of(self, job: PrintJob) -> PrintOrder:
        masters = [self._book.get(Master, n) or Master(path="", name=job.picture) for n in job.masters]
        return order_of(self._book, job.renditions, masters, job.card, job.picture)

    def _on_sent(self, number: int, sent: Sent) -> None:
        job = self._book.get(PrintJob, number)
        if job is not None:
            self._note(replace(job, state="sent", number=sent.number, options=sent.options))
            self._clock.start()
            self._queues.ask(job.queue)
        self._begin()

    def _on_failed(self, failure: tuple[Job, BaseException]) -> None:
        job, error = failure
        found = self._book.get(PrintJob, job.what) if job.kind == "print" and isinstance(job.what, int) else None
        if found is None:
            return
        words = error.words() if isinstance(error, RehearsalError) else f"{type(error).__name__}: {error}"
        self._note(replace(found, state="failed", words=words))
        self._begin()

    def _check(self, job: Job) -> None:
        """A page whose making was stopped somewhere else is stopped."""
        found = self._book.get(PrintJob, job.what) if isinstance(job.what, int) else None
        if found is not None and found.state == "making" and job not in self._jobs.running:
            self._note(replace(found, state="stopped", words=""))
            self._begin()

    # ---- what becomes of them

    def _ask(self) -> None:
        there = [j for j in self.all if j.state in _AT_QUEUE]
        if not there:
            return
        if not self._jobs.is_running("asking"):
            pairs = [(j.id, self._queues.open(j.queue), j.number) for j in there]

            def work(_progress: object) -> list[tuple[int, SentState]]:
                return [(number, queue.state(at)) for number, queue, at in pairs]

            self._jobs.run(Job("asking"), work, self._on_states, alone=False)
        self._clock.start()

    def _on_states(self, found: list[tuple[int, SentState]]) -> None:
        for number, state in found:
            job = self._book.get(PrintJob, number)
            if job is None or job.state not in _AT_QUEUE:
                continue
            if state.key == "done":
                self._on_printed(replace(job, state="done", words=state.words, printed=_moment()))
            else:
                key = state.key if state.key in ("held", "stopped", "failed") else "sent"
                self._note(replace(job, state=key, words=state.words))

    def _on_printed(self, job: PrintJob) -> None:
        """It is on paper: the take knows it, its ticks are used up, and a sheet is gone."""
        self._note(job)
        take, condition = self._book.get(Take, job.take), self._shelf.get(job.condition)
        if take is not None:
            file = (
                take.written is not None and take.written.file
            )  # what was written stays known beside what was printed
            written = take.written if file else Written("", job.rendition, job.printed)
            made = replace(take, written=written, ticked=())
            self._book.note(made)
            if self._now.take is not None and self._now.take.id == take.id:
                self._now.become(made)
        if condition is not None and (left := _after(condition, job)) != condition:
            self._book.note(left)
            self._bus.tell("conditions")
        self._bus.tell("takes")
        self._bus.say(f"{job.picture} on {job.card.paper} is printed. Let it dry, flat and apart, before it is judged.")

    def _note(self, job: PrintJob) -> None:
        if self._book.get(PrintJob, job.id) != job:
            self._book.note(job)
            self._bus.tell("prints")

    # ---- looking at them

    def minutes_since(self, job: PrintJob, now: datetime) -> float:
        """Minutes since a page came out; 0 when nobody knows."""
        try:
            return max(0.0, (now - datetime.fromisoformat(job.printed)).total_seconds() / 60)
        except ValueError:
            return 0.0

    def look_at(self, job: PrintJob, look: Look, kelvin: float, answer: Callable[[SeenPair], None]) -> None:
        """The take beside its print, as it is now or once it is dry; only a simulated printer's print can be looked at here."""
        order = self._order_of(job)
        offers = self._queues.offers(job.queue)
        press = (
            SimulatedPress(job.card.printer or "press")
            if job.state == "done" and offers is not None and offers.simulated
            else None
        )
        right = "" if offers is None else wanted_word("media", job.card, offers)
        roles = {} if offers is None else {o.role: dict(job.options).get(o.key, "") for o in offers.options if o.role}
        wet = self.minutes_since(job, datetime.now())

        def work(progress: JobProgress) -> SeenPair:
            return look_at_print(order, look, press, roles, wet, right, kelvin, progress)

        self._jobs.run(Job("seen", (job.id, job.state, look.screen.digest, round(wet / 5))), work, answer)

    # ---- hands

    def stop(self, job: PrintJob) -> None:
        """Stop one page; the rest goes on."""
        job = self._book.get(PrintJob, job.id) or job
        if job.state == "waiting":
            self._note(replace(job, state="stopped", words=""))
        elif job.state == "making":
            self._jobs.stop(Job("print", job.id))
            self._note(replace(job, state="stopped", words=""))
            self._begin()
        elif job.state in _AT_QUEUE:
            queue = self._queues.open(job.queue)

            def work(_progress: object) -> SentState:
                queue.stop(job.number)
                return queue.state(job.number)

            self._jobs.run(Job("stop-print", job.id), work, lambda s: self._on_states([(job.id, s)]), alone=False)

    def again(self, job: PrintJob) -> None:
        """Print a stopped or failed page after all, as it was asked for."""
        job = self._book.get(PrintJob, job.id) or job
        if job.state in ("stopped", "failed"):
            self._note(replace(job, state="waiting", words="", number=""))
            self.go_on()

    def forget(self, job: PrintJob) -> None:
        """Take a page that is over off the list; a print that came out stays for the logbook."""
        if job.state in ("stopped", "failed"):
            self._book.do("forget-print", removes=[job])
            self._bus.tell("prints")


def _after(card: PrintCondition, job: PrintJob) -> PrintCondition:
    """A paper after a page: a sheet is gone, or so much of the roll."""
    rendition = job.rendition
    if roll_width_cm(rendition.sheet.name):
        size = rendition.frame.size
        if card.roll_m < 0 or size is None:
            return card
        sides = [mm / 10 for mm in page_size(rendition.sheet, [size], card.margins_mm)]
        used = max(sides) if abs(min(sides) - roll_width_cm(rendition.sheet.name)) < 0.1 else min(sides)
        return replace(card, roll_m=round(max(card.roll_m - used * rendition.hand_over.copies / 100, 0.0), 2))
    copies = job.rendition.hand_over.copies
    return replace(card, stock=max(card.stock - copies, 0)) if card.stock > 0 else card


def _moment() -> str:
    return datetime.now().isoformat(timespec="minutes")
