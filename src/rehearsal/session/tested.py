"""Test sheets that were printed: written, dried, looked at, and what was chosen on them."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

from rehearsal.core.proof.advice import rendering_name
from rehearsal.core.sheet.drying import dry_at, wet_words
from rehearsal.core.sheet.layout import SHEETS, fit_size
from rehearsal.core.sheet.lettering import text_width_mm
from rehearsal.core.sheet.request import TicketRequest
from rehearsal.core.testsheets.judged import Next, chosen_values, field_of, next_plan, quantities_between, recipe_with
from rehearsal.core.testsheets.laying import STRIP_MM
from rehearsal.core.testsheets.variants import stepped
from rehearsal.core.testsheets.wedges import seen_of
from rehearsal.core.testsheets.words import difference_words
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.adjustments import ADJUSTMENTS
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import Frame, PrintSize
from rehearsal.core.values.recipe import MATHS
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.sheet import Caption, Sheet
from rehearsal.core.values.testplan import Looked, PatchSaid, TestPlan, Variant
from rehearsal.core.work.progress import part_of
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus
from rehearsal.session.home import Home
from rehearsal.session.jobs import Job, JobProgress, Jobs
from rehearsal.session.now import Now
from rehearsal.session.printing import Printing, as_made_now
from rehearsal.session.queues import Queues
from rehearsal.session.screen import Screen
from rehearsal.session.shelf import Shelf, readable
from rehearsal.session.takes import Takes
from rehearsal.session.testing import Testing
from rehearsal.tasks.paging import PageOrder, write_page
from rehearsal.tasks.printing import Sent
from rehearsal.tasks.testsheets import WorkedOut, full_caption, print_test_page, strip_on, write_test_page
from rehearsal.tasks.writing import Target, WrittenTicket, with_ticket
from rehearsal.workbook.values import Take, TestSheet, Written

#: Bare paper round a small proof, and round each of a sheet for each paper, cm; the largest sheet of a small proof.
_BORDER_CM, _PROOF_SHEET = 1.0, "A4"
#: Capitals of the line under a small proof, mm.
_CAPITAL_MM = 1.9
#: The line under a print with its distances, cm.
_LINE_CM = 0.9
#: How often the clock of drying is looked at.
_LOOK_MS = 20_000


class Tested:
    """Owner of the sheets that were printed. ``test_sheets`` tells that one is there, or that more is known of it."""

    def __init__(
        self, book: Book, bus: Bus, jobs: Jobs, home: Home, shelf: Shelf, screen: Screen, now: Now, takes: Takes,
        printing: Printing, testing: Testing, queues: Queues,
    ) -> None:  # fmt: skip
        self._book, self._bus, self._jobs, self._shelf, self._screen = book, bus, jobs, shelf, screen
        self._now, self._takes, self._printing, self._testing, self._queues = now, takes, printing, testing, queues
        self._offered_for = 0
        bus.on(("take",), self._offer)
        self._clock = home.timer(_LOOK_MS, self._look_at_clock)
        self._looked_at_clock = datetime.now()
        self._wind()

    def close(self) -> None:
        """No clock rings any more."""
        self._clock.stop()

    # ---- which there are

    @property
    def all(self) -> list[TestSheet]:
        """Test sheets of the open take, oldest first."""
        take = self._now.take
        return [t for t in self._book.all(TestSheet) if take is not None and t.take == take.id]

    @property
    def last(self) -> TestSheet | None:
        """The newest test sheet of the open take."""
        mine = self.all
        return mine[-1] if mine else None

    @property
    def subject(self) -> TestSheet | None:
        """The sheet a look is about: the one that is shown, else the newest that varies something."""
        shown = self._testing.sheet
        varied = [s for s in self.all if s.variants]
        return shown if shown is not None else varied[-1] if varied else None

    def wet_until(self, sheet: TestSheet, now: datetime) -> str:
        """Until when a sheet is wet by its paper's card; empty when it is dry, or nobody knows."""
        return wet_words(self._dry_at(sheet), now)

    def _dry_at(self, sheet: TestSheet) -> datetime | None:
        take = self._book.get(Take, sheet.take)
        condition = None if take is None else self._shelf.get(take.condition)
        return None if condition is None else dry_at(sheet.out, condition.dry_hours)

    def dries(self, sheet: TestSheet, now: datetime) -> float:
        """How far a sheet has dried, 0 to 1; 1 where nobody told how long it takes."""
        take = self._book.get(Take, sheet.take)
        condition = None if take is None else self._shelf.get(take.condition)
        dry = self._dry_at(sheet)
        if dry is None or condition is None or now >= dry:
            return 1.0
        return max(0.0, 1.0 - (dry - now) / timedelta(hours=condition.dry_hours))

    def _look_at_clock(self) -> None:
        """Say of each sheet, once, that it is dry."""
        now, before = datetime.now(), self._looked_at_clock
        self._looked_at_clock = now
        for sheet in self._book.all(TestSheet):
            dry = self._dry_at(sheet)
            if dry is not None and before < dry <= now and not sheet.looked.ending:
                self._bus.say(f"Test sheet {self._testing.number_of(sheet)} is dry: look at it away from the screen.")
                self._bus.tell("test_sheets")
        self._wind()

    def _wind(self) -> None:
        """The clock goes while a sheet dries that nobody has looked at."""
        now = datetime.now()
        wet = (dry for s in self._book.all(TestSheet) if not s.looked.ending and (dry := self._dry_at(s)) is not None)
        if any(dry > now for dry in wet):
            self._clock.start()

    # ---- writing

    def write(self, path: Path) -> None:
        """Write the planned sheet in the background; what is on it is kept as it was printed."""
        take, opened, made, condition = self._now.take, self._testing.opened, self._testing.made, self._now.condition
        if take is None or opened is None or made is None or made.page is None or condition is None:
            return
        if self._testing.sheet is not None or self._printing.is_master(path):
            return
        caption = full_caption(self._testing.caption(take, condition), made.planned)
        kept = _kept_of(take, opened, made, caption)
        target, place = Target(path, self._printing.protected()), condition.true_place

        def work(progress: JobProgress) -> Written:
            return write_test_page(opened, made, target, place, progress)

        def answer(written: Written) -> None:
            self._keep(replace(kept, file=written.file, when=_moment()), opened)
            self._bus.say(f"Test sheet written: {Path(written.file).name}", "folder", written.file)

        self._jobs.run(Job("test", (take.id, kept.rendition, kept.plan, str(path))), work, answer, alone=False)

    @property
    def queue(self) -> str:
        """Where the open take's pages go; empty for a file."""
        return "" if self._now.take is None else self._now.take.hand_over.queue

    def send(self) -> None:
        """Print the planned sheet at the take's queue; it is kept when the queue has taken it."""
        take, opened, made, condition = self._now.take, self._testing.opened, self._testing.made, self._now.condition
        if take is None or opened is None or made is None or made.page is None or condition is None or not self.queue:
            return
        caption = full_caption(self._testing.caption(take, condition), made.planned)
        kept, queue = _kept_of(take, opened, made, caption), self._queues.open(self.queue)

        def answer(_sent: Sent) -> None:
            self._keep(replace(kept, when=_moment()), opened)
            self._bus.say(f"The test sheet is sent to {queue.name}. Say when it has come out: from there it dries.")

        job = Job("test", (take.id, kept.rendition, kept.plan, queue.name))
        self._jobs.run(job, lambda p: print_test_page(opened, made, condition, queue, caption, p), answer, alone=False)

    def _keep(self, sheet: TestSheet, opened: OpenRendition) -> None:
        """The profile's bytes go with it: its file may be another when the sheet is dry."""
        self._book.keep_profile(opened.paper.digest, opened.paper.data)
        self._book.do("test-sheet", [sheet])
        self._bus.tell("test_sheets")
        self._wind()

    def write_papers(self, folder: Path) -> None:
        """Write the picture on each paper of the plan, small, a file and a ticket each; one record of them all."""
        take, opened, made = self._now.take, self._now.opened, self._testing.made
        if take is None or opened is None or made is None or made.planned.plan.kind != "papers":
            return
        orders = [o for v in made.planned.variants if (o := self._paper_order(take, opened, v, folder)) is not None]
        variants = tuple(v for v in made.planned.variants if any(v.number == n for n, _o, _r, _t in orders))
        if not orders or any(self._printing.is_master(t.path) for _n, _o, _r, t in orders):
            return

        def work(progress: JobProgress) -> list[WrittenTicket]:
            done = []
            for i, (_number, order, request, target) in enumerate(orders):
                here = part_of(progress, i / len(orders), (i + 1) / len(orders))
                done.append(with_ticket(write_page(order, target, here), request))
            return done

        def answer(done: list[WrittenTicket]) -> None:
            files = tuple(d.written.file for d in done)
            sheet = TestSheet(
                take=take.id, when=_moment(), rendition=as_made_now(opened.rendition), sheet=_PROOF_SHEET, plan=made.planned.plan,
                names=made.planned.names, variants=variants, files=files,
            )  # fmt: skip
            for _number, order, _request, _target in orders:
                paper = order.opened[0].paper
                self._book.keep_profile(paper.digest, paper.data)
            self._keep(sheet, opened)
            self._bus.say(f"Written, each with its ticket: {len(files)} papers", "folder", files[0])

        self._jobs.run(Job("test", (take.id, "papers", str(folder))), work, answer, alone=False)

    def _paper_order(
        self, take: Take, opened: OpenRendition, variant: Variant, folder: Path
    ) -> tuple[int, PageOrder, TicketRequest, Target] | None:
        condition = self._shelf.get(variant.condition)
        paper = None if condition is None else readable(self._shelf, condition)
        if condition is None or paper is None:
            return None
        line = self._testing.caption(replace(take, rendering=variant.rendition.rendering), condition)
        small = self._small(variant.rendition, condition, line, opened.open.size)
        request = self._request(take, condition, small)
        stem = Path(opened.open.picture.info.path).stem
        name = dict(self._testing.candidates).get(condition.id, condition.paper)
        path = folder / f"{stem}_{variant.number}_on_{name}.tif".replace(" ", "-").replace("/", "-")
        one = OpenRendition(small, opened.open, paper)
        order = PageOrder((one,), condition.margins_mm, condition.true_place, strip_on(one))
        return (variant.number, order, request, Target(path, self._printing.protected())) if request else None

    def _small(self, rendition: Rendition, condition: PrintCondition, words: str, pixels: tuple[int, int]) -> Rendition:
        """The whole picture on a sheet of A4 or less with a border all round, its line of type under it."""
        name = _small_sheet(condition)
        _x, _y, w, h = rendition.frame.crop.pixels(*pixels)
        short, long = SHEETS[name]
        room = PrintSize(long, short) if w >= h else PrintSize(short, long)
        # at the foot: the line of type, under it black and the wedges, above the edge no ink reaches
        edge = max(condition.margins_mm) / 10 if max(condition.margins_mm) > _BORDER_CM * 10 else _BORDER_CM
        below = edge + _LINE_CM + STRIP_MM / 10
        inner = PrintSize(room.width_cm - 2 * edge, room.height_cm - edge - below)
        size = fit_size(inner, w, h)
        wanted = rendition.frame.size
        if wanted is not None and wanted.width_cm < size.width_cm:
            size = wanted
        left, top = (room.width_cm - size.width_cm) / 2 * 10, edge * 10
        hand_over = replace(rendition.hand_over, route="printer", whole=True, format="tiff16")
        # the line of type is never cut: smaller where it is long
        capital = min(_CAPITAL_MM, (room.width_cm * 10 - 2 * edge * 10) / max(text_width_mm(words, 1.0), 1.0))
        sheet = Sheet(name, place=f"{left:.1f},{top:.1f}", caption=Caption(text=words, size_mm=round(capital, 2)))
        return replace(rendition, frame=Frame(rendition.frame.crop, size, "crop"), sheet=sheet, hand_over=hand_over)

    def _request(self, take: Take, condition: PrintCondition, small: Rendition) -> TicketRequest | None:
        temporary = replace(
            take, id=-1, condition=condition.id, frame=small.frame, rendering=small.rendering, sheet=small.sheet,
            hand_over=small.hand_over,
        )  # fmt: skip
        return self._printing.request_of(temporary)

    def small_proof(self, path: Path) -> None:
        """Write the whole picture small, marked as a proof, with its ticket; it counts as a test of the take."""
        take, opened, condition, master = self._now.take, self._now.opened, self._now.condition, self._now.master
        if take is None or opened is None or condition is None or master is None or self._printing.is_master(path):
            return
        caption = f"Proof, not for hanging; {self._testing.caption(take, condition)}"
        small = self._small(opened.rendition, condition, caption, opened.open.size)
        request = self._request(take, condition, small)
        if request is None:
            return
        one = OpenRendition(small, opened.open, opened.paper)
        order = PageOrder((one,), condition.margins_mm, condition.true_place, strip_on(one))
        target = Target(path, self._printing.protected())
        sheet = TestSheet(
            take=take.id, rendition=as_made_now(opened.rendition), sheet=small.sheet.name, plan=TestPlan("proof", whole=True),
            names=(), caption=caption, variants=(Variant(1, as_made_now(small)),),
        )  # fmt: skip

        def answer(done: WrittenTicket) -> None:
            self._keep(replace(sheet, file=done.written.file, when=_moment()), opened)
            if done.ticket_error:
                self._bus.say_wrong(done.ticket_error)
            else:
                self._bus.say(
                    f"Small proof written with its ticket: {Path(done.written.file).name}", "folder", done.written.file
                )

        job = Job("test", (take.id, "proof", opened.rendition, str(path)))
        self._jobs.run(job, lambda p: with_ticket(write_page(order, target, p), request), answer, alone=False)

    def mark_printed(self, sheet: TestSheet) -> None:
        """It came out of the printer now: from here it dries."""
        self._change("test-printed", replace(sheet, printed=_moment()))

    # ---- looking at the dry sheet

    def choose(self, sheet: TestSheet, numbers: tuple[int, ...]) -> None:
        """The best field, or the two on both sides of the gap the best lies in."""
        between = chosen_values(sheet.plan.kind, sheet.variants, numbers) is not None
        if not between and (len(numbers) > 1 or field_of(sheet.variants, numbers[0]) is None):
            return
        self._look(sheet, ending="chosen", chosen=numbers)

    def end(self, sheet: TestSheet, ending: str) -> None:
        """None of them: further one way, or the untouched one is best."""
        self._look(sheet, ending=ending, chosen=())

    def say(self, sheet: TestSheet, number: int, key: str) -> None:
        """A word about a field: said again it is taken back; answers to a paper exclude each other."""
        said = sheet.looked.of(number)
        if sheet.plan.kind == "papers":
            words: tuple[str, ...] = () if said.words == (key,) else (key,)
        else:
            words = tuple(w for w in said.words if w != key) if key in said.words else (*said.words, key)
        self._say(sheet, replace(said, words=words))

    def say_why(self, sheet: TestSheet, number: int, why: str) -> None:
        """The reason for an answer to a paper, in the user's own words."""
        self._say(sheet, replace(sheet.looked.of(number), why=why.strip()))

    def _say(self, sheet: TestSheet, said: PatchSaid) -> None:
        others = tuple(s for s in sheet.looked.said if s.number != said.number)
        kept = (*others, said) if said.words or said.why else others
        self._look(sheet, said=tuple(sorted(kept, key=lambda s: s.number)))

    def see_wedges(self, sheet: TestSheet, black: int, white: int) -> None:
        """Numbers, from 0, of the first steps told from black and from bare paper; below 0 for not looked at."""
        screen = self._screen.record
        seen = seen_of(black, white, screen.lux, screen.kelvin)
        take = self._book.get(Take, sheet.take)
        card = None if take is None else self._shelf.get(take.condition)
        looked = replace(sheet, looked=replace(sheet.looked, wedges=seen))
        if looked == sheet:
            return
        known = [] if card is None else [replace(card, wedges=seen)]
        self._book.do("test-looked", [looked, *known])
        self._bus.tell("test_sheets", *(["conditions"] if known else []))

    def _look(self, sheet: TestSheet, **fields: Any) -> None:
        looked: Looked = replace(sheet.looked, **fields)
        if looked != sheet.looked:
            self._change("test-looked", replace(sheet, looked=looked))

    def _change(self, operation: str, sheet: TestSheet) -> None:
        self._book.do(operation, [sheet])
        self._bus.tell("test_sheets")
        self._wind()

    # ---- what follows

    def next_of(self, sheet: TestSheet) -> Next:
        """What is worth doing after a look."""
        return next_plan(sheet.plan, sheet.variants, sheet.differences, sheet.looked)

    def take_next(self, sheet: TestSheet) -> None:
        """Plan the sheet that follows from a look."""
        following = self.next_of(sheet).plan
        if following is not None:
            fields = {
                name: getattr(following, name)
                for name in ("kind", "first", "second", "apart", "step", "beyond", "side")
            }
            self._testing.wish(**fields)

    def values_of(self, sheet: TestSheet) -> tuple[float, ...] | None:
        """What was chosen, as it was printed."""
        return chosen_values(sheet.plan.kind, sheet.variants, sheet.looked.chosen) if sheet.looked.chosen else None

    def choice_words(self, sheet: TestSheet) -> str:
        """What was chosen; empty for nothing."""
        values, chosen = self.values_of(sheet), sheet.looked.chosen
        if not chosen:
            return ""
        if values and sheet.plan.kind != "sharpening":
            both = "both, half each: " if quantities_between(sheet.variants, chosen) > 1 else ""
            return both + difference_words(sheet.names, values, sheet.rendition)
        if values:
            return f"sharpened by {values[0]:.0f} %"
        variant = field_of(sheet.variants, chosen[0])
        return "" if variant is None else self._name_of(sheet, variant)

    def _name_of(self, sheet: TestSheet, variant: Variant) -> str:
        """What a field is called by what its sheet varies: a paper, a take, or a rendering."""
        condition, take = self._shelf.get(variant.condition), self._book.get(Take, variant.take)
        rendering = rendering_name(variant.rendition.rendering)
        if sheet.plan.kind == "papers" and condition is not None:
            return f"{condition.paper}, {rendering}"
        return f"{self._takes.name_of(take)}, {rendering}" if take is not None else rendering

    def apply(self, sheet: TestSheet) -> bool:
        """Give the open take what was chosen, as it was printed; True when something was given."""
        take, chosen = self._now.take, sheet.looked.chosen
        if take is None or take.id != sheet.take or not chosen:
            return False
        kind, variant = sheet.plan.kind, field_of(sheet.variants, chosen[0])
        if variant is None:
            return False
        if kind == "papers":
            condition = self._shelf.get(variant.condition)
            if condition is not None:
                self._takes.take_on(condition)
            return condition is not None
        fields = self._given(take, sheet, variant)
        if not fields:
            return False
        self._takes.change("variant", **fields)
        self._say_given(take, sheet)
        return True

    def _given(self, take: Take, sheet: TestSheet, variant: Variant) -> dict[str, Any]:
        """Parts of the take as they were printed; none where nothing can be given."""
        kind, values, printed = sheet.plan.kind, self.values_of(sheet), variant.rendition
        if kind == "renderings":
            return {"rendering": printed.rendering}
        if kind == "takes":
            return {"recipe": printed.recipe, "rendering": printed.rendering}
        if values is None:
            return {}
        if kind == "sharpening":
            return {"hand_over": replace(take.hand_over, sharpen=values[0], sigma_um=printed.hand_over.sigma_um)}
        return {"recipe": recipe_with(take.recipe, sheet.rendition.recipe, sheet.plan, sheet.names, values)}

    def _say_given(self, take: Take, sheet: TestSheet) -> None:
        """What was given, and what else differs from the sheet."""
        said = f"Given to the take: {self.choice_words(sheet)}."
        if sheet.rendition.recipe.maths < MATHS:
            said += " This sheet was made by an earlier arithmetic: the same number looks different now. Look before you print."
        elif self.changed_since(take, sheet):
            said += " The take was changed in other ways since this sheet was printed: only what was tested was set."
        self._bus.say(said, "undo")

    def changed_since(self, take: Take, sheet: TestSheet) -> bool:
        """True when the take would print otherwise than the sheet's untouched field did, what was tested apart."""
        then, kind = sheet.rendition, sheet.plan.kind
        if kind != "renderings" and take.rendering != then.rendering:
            return True
        if kind in ("takes", "strength", "mixed"):
            return False
        same = take.recipe
        for name in sheet.names:
            if name in ADJUSTMENTS:
                same = same.with_total(name, then.recipe.total[name])
        return (same.total, same.placed) != (then.recipe.total, then.recipe.placed)

    def settled(self) -> set[str]:
        """Controls that need no sheet any more: the untouched one was best, or what is left lies below the visible step."""
        found = set()
        for sheet in self.all:
            if sheet.plan.kind != "bracket" or not sheet.names:
                continue
            if self.next_of(sheet).why in ("none-better", "below") and sheet.looked.ending:
                found.add(sheet.names[0])
            elif sheet.looked.ending:
                found.discard(sheet.names[0])
        return found

    def _offer(self) -> None:
        """A take begins with what is not settled yet."""
        take = 0 if self._now.take is None else self._now.take.id
        if take == self._offered_for:
            return
        self._offered_for = take
        if self._testing.plan.kind == "bracket" and self._testing.plan.first in self.settled():
            self._testing.wish(first=self.offered_control())

    def offered_control(self) -> str:
        """The control to test next: the first that is not settled yet."""
        settled = self.settled()
        order = ["lightness", "contrast", *(a.name for a in stepped())]
        return next((name for name in order if name not in settled), "lightness")


def _kept_of(take: Take, opened: OpenRendition, made: WorkedOut, caption: str) -> TestSheet:
    """What is kept of a sheet that is written now."""
    planned, page = made.planned, made.page
    differences = planned.brackets[0].differences if planned.brackets else ()
    variants = tuple(replace(v, rendition=as_made_now(v.rendition)) for v in planned.variants)
    return TestSheet(
        take=take.id, rendition=as_made_now(opened.rendition), sheet="" if page is None else page.name, plan=planned.plan,
        names=planned.names, variants=variants, pieces=made.pieces, layout="" if page is None else page.layout,
        differences=differences, caption=caption,
    )  # fmt: skip


def _small_sheet(condition: PrintCondition) -> str:
    """The largest sheet of the paper that is A4 or less; A4 where there is none."""
    most = SHEETS[_PROOF_SHEET][0] * SHEETS[_PROOF_SHEET][1]
    known = [n for n in condition.sheets if n in SHEETS and SHEETS[n][0] * SHEETS[n][1] <= most * 1.001]
    return max(known, key=lambda n: SHEETS[n][0] * SHEETS[n][1], default=_PROOF_SHEET)


def _moment() -> str:
    return datetime.now().isoformat(timespec="minutes")
