"""The print in the hand: which of the rows looks like it, in which light; kept as one verdict for each light."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta

import numpy as np

from rehearsal.core.proof.chain import Look
from rehearsal.core.sheet.drying import dry_at, wet_words
from rehearsal.core.testsheets.verdictrows import VerdictRow, compared, looking_like, steps_of, verdict_rows
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import Crop
from rehearsal.core.values.recipe import LEARNT, LIGHT
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.testplan import Variant
from rehearsal.core.work.once import LastUsed
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus
from rehearsal.session.home import Home
from rehearsal.session.jobs import Job, JobProgress, Jobs
from rehearsal.session.now import Now
from rehearsal.session.roads import Roads
from rehearsal.session.screen import Screen
from rehearsal.session.shelf import Shelf
from rehearsal.session.testing import look_key
from rehearsal.tasks.testsheets import look_at_variant
from rehearsal.workbook.learning import same_light
from rehearsal.workbook.values import LogEntry, Master, PlaceSaid, PrintJob, Take

#: What a place of a print may be called.
PLACES = ("blocked", "burnt", "strong", "weak", "cast")
#: A print that nobody has judged for so long is not asked about any more.
_ASKED_DAYS = 60
_LOOK_MS = 20_000
_Rgb = tuple[np.ndarray, ...]


@dataclass(frozen=True)
class HeldPrint:
    """A print that can be judged.

    Attributes:
        take, condition: numbers in the workbook.
        printed: when it came out, or its file was written; empty for a take nothing is known to be printed of.
        print_id: number of its page, 0 for a file.
    """

    take: int
    condition: int
    picture: str
    rendition: Rendition
    printed: str = ""
    print_id: int = 0
    file: str = ""


def is_about(entry: LogEntry, held: HeldPrint) -> bool:
    """True when an entry is of this very print."""
    if entry.print_id or held.print_id:
        return entry.print_id == held.print_id
    return entry.rendition == held.rendition and entry.printed == held.printed and entry.condition == held.condition


class Verdicts:
    """Owner of the verdict that is being given. ``verdict`` tells that something of it is another one."""

    def __init__(
        self, book: Book, bus: Bus, jobs: Jobs, home: Home, shelf: Shelf, screen: Screen, now: Now, roads: Roads
    ) -> None:
        self._book, self._bus, self._jobs, self._shelf = book, bus, jobs, shelf
        self._screen, self._now, self._roads = screen, now, roads
        #: Offsets from the take, by quantity.
        self.offsets: dict[str, float] = {}
        #: What is pointed at: a quantity and its offset; None for nothing.
        self.pointed: tuple[str, float] | None = None
        self.places: tuple[PlaceSaid, ...] = ()
        #: What the next place that is pressed is called; empty for nothing.
        self.placing = ""
        self._light: tuple[str, float, float] | None = None
        self._rows: LastUsed[tuple[VerdictRow, ...]] = LastUsed(8, None)
        self._looks: LastUsed[_Rgb] = LastUsed(12)
        self._large: LastUsed[np.ndarray] = LastUsed(24)
        self._of: tuple[int, HeldPrint | None] = (0, None)
        bus.on(("take", "prints"), self._on_take)
        self._clock = home.timer(_LOOK_MS, self._look_at_clock)
        self._before = datetime.now()
        self._wind()
        bus.on(("takes", "prints", "take.written"), self._wind)
        home.post(self._ask_at_start)

    def close(self) -> None:
        """No clock rings any more."""
        self._clock.stop()

    def begin(self) -> None:
        """Another print: nothing is said of it yet."""
        self.offsets, self.pointed, self.places, self.placing = {}, None, (), ""
        self._bus.tell("verdict")

    def _on_take(self) -> None:
        """Another take is in the hand in the screen's own light until another is told; of another print nothing is said yet."""
        take, held = 0 if self._now.take is None else self._now.take.id, self.held
        before, self._of = self._of, (take, held)
        if take != before[0]:
            self._light = None
        if (take, held) != before:
            self.begin()

    # ---- which print

    @property
    def held(self) -> HeldPrint | None:
        """The print a verdict given now is about: the open take's last one, else the take as it is."""
        take, rendition, master = self._now.take, self._now.rendition, self._now.master
        if take is None or rendition is None or master is None:
            return None
        found = [h for h in self._printed() if h.take == take.id]
        if found:
            return max(found, key=lambda h: h.printed)
        return HeldPrint(take.id, take.condition, master.name, rendition)

    def _printed(self) -> list[HeldPrint]:
        """Everything that is known to be printed, oldest first."""
        jobs = [j for j in self._book.all(PrintJob) if j.state == "done"]
        found = [HeldPrint(j.take, j.condition, j.picture, j.rendition, j.printed, j.id) for j in jobs]
        known = {(h.take, h.rendition, h.printed) for h in found}
        for take in self._book.all(Take):
            written, master = take.written, self._book.get(Master, take.master)
            when = "" if written is None else written.print_when
            if written is None or master is None or not when or (take.id, written.rendition, when) in known:
                continue
            found.append(HeldPrint(take.id, take.condition, master.name, written.rendition, when, 0, written.file))
        return sorted(found, key=lambda h: h.printed)

    def waiting(self, now: datetime) -> list[HeldPrint]:
        """Prints of the last weeks that nobody has judged, oldest first."""
        log = self._book.all(LogEntry)
        since = (now - timedelta(days=_ASKED_DAYS)).isoformat()
        fresh = (h for h in self._printed() if h.printed and h.printed >= since)
        return [h for h in fresh if not any(is_about(e, h) for e in log)]

    def dry_at(self, held: HeldPrint) -> datetime | None:
        """From when it counts as dry by its paper's card; None where nobody knows."""
        card = self._shelf.get(held.condition)
        return None if card is None or not held.printed else dry_at(held.printed, card.dry_hours)

    def wet_until(self, held: HeldPrint, now: datetime) -> str:
        """Until when it is wet; empty when it is dry, or nobody knows."""
        return wet_words(self.dry_at(held), now)

    def _look_at_clock(self) -> None:
        """A print that waits asks once it is dry."""
        now, before = datetime.now(), self._before
        self._before = now
        for held in self.waiting(now):
            dry = self.dry_at(held)
            if dry is not None and before < dry <= now:
                self._bus.say(
                    f"{held.picture} is dry: take it to its light and say which picture looks like it.",
                    "log",
                    str(held.take),
                )
                self._bus.tell("verdict")
        self._wind()

    def _ask_at_start(self) -> None:
        """What dried while the program was away asks when it is started."""
        now = datetime.now()
        dry = [h for h in self.waiting(now) if (at := self.dry_at(h)) is not None and at <= now]
        if dry:
            more = f" {len(dry) - 1} more wait." if len(dry) > 1 else ""
            self._bus.say(
                f"{dry[-1].picture} is dry and nobody has said how it came out.{more}", "log", str(dry[-1].take)
            )

    def _wind(self) -> None:
        """The clock goes while a print dries."""
        now = datetime.now()
        if any((dry := self.dry_at(h)) is not None and dry > now for h in self.waiting(now)):
            self._clock.start()

    # ---- its light

    @property
    def light(self) -> tuple[str, float, float]:
        """Key, lux and kelvin of the light the print is held in; the screen's own light until another is told."""
        screen = self._screen.record
        return self._light or (screen.light, screen.lux, screen.kelvin)

    def hold_in(self, light: str, lux: float, kelvin: float) -> None:
        """The print is looked at in another light."""
        self._light = (light, lux, kelvin)
        self._bus.tell("verdict")

    @property
    def earlier(self) -> LogEntry | None:
        """What was kept of this print in this light."""
        held, (_key, lux, kelvin) = self.held, self.light
        if held is None or not held.printed:
            return None
        mine = (e for e in reversed(self._book.all(LogEntry)) if is_about(e, held))
        return next((e for e in mine if same_light(e, lux, kelvin, 0.0)), None)

    # ---- which looks like it

    @property
    def opened(self) -> OpenRendition | None:
        """The print's rendition on the open picture and paper; None while they are not there, or are others."""
        opened, held = self._now.opened, self.held
        if opened is None or held is None or held.rendition.master != opened.rendition.master:
            return None
        if held.rendition.destination.digest not in ("", opened.paper.digest):
            return None
        return (
            opened if held.rendition == opened.rendition else OpenRendition(held.rendition, opened.open, opened.paper)
        )

    @property
    def rows(self) -> tuple[VerdictRow, ...] | None:
        """The rows; None while they are worked out."""
        opened = self.opened
        if opened is None:
            return None
        key = compared(opened).rendition.look
        found, job = self._rows.peek(key), Job("verdict-rows", key)
        if found is None and job not in self._jobs.running:

            def answer(rows: tuple[VerdictRow, ...]) -> None:
                self._rows.put(key, rows)
                self._bus.tell("verdict")

            self._jobs.run(job, lambda _p: verdict_rows(opened), answer)
        return found

    def choose(self, name: str, offset: float) -> None:
        """This picture of a row looks like the print."""
        self.offsets = {**self.offsets, name: offset}
        self._bus.tell("verdict")

    def point(self, at: tuple[str, float] | None) -> None:
        """Look at a picture of a row large; None for what was chosen."""
        if at != self.pointed:
            self.pointed = at
            self._bus.tell("verdict_point")

    def recipe_offsets(self, at: tuple[str, float] | None) -> dict[str, float]:
        """What was chosen, with what is pointed at in its row."""
        return dict(self.offsets) if at is None else {**self.offsets, at[0]: at[1]}

    def _look(self) -> Look | None:
        return self._roads.look

    def small(self, size: tuple[int, int]) -> list[_Rgb] | None:
        """Pictures of all rows, each (h, w, 3) 8-bit screen RGB of a size (width, height); None while they are coming."""
        opened, rows, look = self.opened, self.rows, self._look()
        if opened is None or rows is None or look is None:
            return None
        chosen = tuple(sorted(self.offsets.items()))
        key = (opened.rendition, rows, chosen, size, look_key(look))
        found, job = self._looks.peek(key), Job("verdict-look", key)
        if found is None and job not in self._jobs.running:
            offsets = dict(self.offsets)

            def work(progress: JobProgress) -> _Rgb:
                made = []
                for row in rows:
                    for offset in row.offsets:
                        progress.check()
                        made.append(_seen(opened, {**offsets, row.name: offset}, size, look))
                return tuple(made)

            def answer(made: _Rgb) -> None:
                self._looks.put(key, made)
                self._bus.tell("verdict")

            self._jobs.run(job, work, answer)
        if found is None:
            return None
        ends = np.cumsum([0, *(len(row.offsets) for row in rows)])
        return [found[ends[i] : ends[i + 1]] for i in range(len(rows))]

    def large(self, size: tuple[int, int]) -> np.ndarray | None:
        """The pointed picture, or what was chosen, in a size (width, height); None while it is coming."""
        opened, look = self.opened, self._look()
        if opened is None or look is None or min(size) < 8:
            return None
        offsets = self.recipe_offsets(self.pointed)
        key = (opened.rendition, tuple(sorted(offsets.items())), size, look_key(look))
        found, job = self._large.peek(key), Job("verdict-large", key)
        if found is None and job not in self._jobs.running:

            def answer(rgb: np.ndarray) -> None:
                self._large.put(key, rgb)
                self._bus.tell("verdict_look")

            self._jobs.run(job, lambda _p: _seen(opened, offsets, size, look), answer, quick=True)
        return found

    # ---- places

    def call_place(self, what: str) -> None:
        """The next place that is pressed is called so; again: none is."""
        self.placing = "" if self.placing == what else what
        self._bus.tell("verdict")

    def mark(self, x: float, y: float) -> None:
        """A place of the print, fractions of the master, is called as was said."""
        if self.placing:
            self.places = (*self.places, PlaceSaid(round(x, 4), round(y, 4), self.placing))
            self._bus.tell("verdict")

    def unmark(self) -> None:
        """Take the last place back."""
        self.places = self.places[:-1]
        self._bus.tell("verdict")

    # ---- keeping it

    def keep(self, verdict: str, words: str = "", cost: float = -1.0) -> LogEntry | None:
        """Keep the verdict about the print in this light; one that was given in it before is put right.

        Args:
            verdict: key: good, usable, again or given-up.
        """
        held, take = self.held, self._now.take
        card = None if held is None else self._shelf.get(held.condition)
        if held is None or take is None or card is None:
            return None
        light, lux, kelvin = self.light
        before, screen = self.earlier, self._screen.record
        steps = steps_of(self.offsets)
        past = before or LogEntry()
        entry = LogEntry(
            id=past.id, when=date.today().isoformat(), picture=held.picture, condition=card.id,
            condition_name=card.name, light=light, lux=lux, kelvin=kelvin, screen_white=screen.white,
            darker=steps["darker"], cooler=steps["cooler"], flatter=steps["flatter"],
            verdict=verdict, words=words, file=held.file, rendition=held.rendition, view=take.view, condition_card=card,
            print_id=held.print_id, printed=held.printed, places=self.places, cost=cost if cost >= 0 else past.cost,
            cause=past.cause, photo=past.photo, screen_profile=self._screen.profile.digest,
        )  # fmt: skip
        kept = self._book.do("log", [entry])
        if not kept:
            return None
        self._bus.tell("log")
        self._say_kept(kept[0], card)
        self.begin()
        made: LogEntry = kept[0]
        return made

    def _say_kept(self, entry: LogEntry, card: PrintCondition) -> None:
        said = f"Kept: {entry.picture} on {card.paper}."
        recipe = None if entry.rendition is None else entry.rendition.recipe
        learnt = None if recipe is None else recipe.step(LEARNT)
        right = not (entry.darker or entry.cooler or entry.flatter)
        if right and learnt is not None and learnt.acts:
            said += " It is as the take: that confirms the learnt step."
        else:
            said += " It counts for what is offered to the next take seen in this light."
        self._bus.say(said, "undo")

    @property
    def leaves_out(self) -> bool:
        """True when the print carries steps it is compared without."""
        held = self.held
        steps = () if held is None else held.rendition.recipe.steps
        return any(s.origin in (LIGHT, LEARNT) and s.acts for s in steps)


def _seen(opened: OpenRendition, offsets: dict[str, float], size: tuple[int, int], look: Look) -> np.ndarray:
    """The print as it would look with offsets, without its learnt and for-the-light steps."""
    recipe = looking_like(opened.rendition.recipe, offsets)
    variant = Variant(0, replace(opened.rendition, recipe=recipe))
    crop: Crop = opened.rendition.frame.crop
    return look_at_variant(opened, variant, crop, size, look, True)
