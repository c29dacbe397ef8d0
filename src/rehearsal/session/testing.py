"""What a test sheet would hold: worked out while it is planned, before paper is used, with live proofs of its fields."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass, replace
from datetime import date
from pathlib import Path
from typing import Any

import numpy as np

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import open_profile
from rehearsal.core.proof.advice import rendering_name
from rehearsal.core.proof.chain import Look
from rehearsal.core.testsheets.judged import BETWEEN, chosen_values, field_of, recipe_with
from rehearsal.core.testsheets.laying import TestPage
from rehearsal.core.testsheets.variants import Others, Planned
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.frame import Crop
from rehearsal.core.values.recipe import LEARNT, LIGHT, Recipe
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.testplan import TestPlan, Variant
from rehearsal.core.values.words import capital, date_words
from rehearsal.core.work.once import LastUsed
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus
from rehearsal.session.jobs import Job, Jobs
from rehearsal.session.judging import Judging
from rehearsal.session.now import Now
from rehearsal.session.roads import Roads
from rehearsal.session.shelf import Shelf, readable
from rehearsal.session.takes import Takes
from rehearsal.tasks.testsheets import (
    SheetAsked,
    SheetLook,
    WorkedOut,
    as_kept,
    look_at_sheet,
    look_at_variant,
    work_out,
)
from rehearsal.workbook.values import Take, TestSheet


@dataclass(frozen=True)
class _Asked:
    """What a plan is worked out from: all of it, so that an answer is about what it was asked for."""

    plan: TestPlan
    rendition: object
    sheet: SheetAsked
    others: Others
    areas: bool


class Testing:
    """Owner of the plan of the next test sheet. A topic of its own, ``test_plan``, tells that it, or its look, is another one."""

    __test__ = False

    def __init__(
        self, book: Book, bus: Bus, jobs: Jobs, shelf: Shelf, now: Now, takes: Takes, judging: Judging, roads: Roads
    ) -> None:
        self._book, self._bus, self._jobs, self._shelf = book, bus, jobs, shelf
        self._now, self._takes, self._judging, self._roads = now, takes, judging, roads
        self.plan = TestPlan()
        #: The printed sheet that is looked at instead of the plan; None for the plan.
        self.looked_at: int | None = None
        #: What is pointed at: a field's number, or the two on both sides of a gap.
        self.pointed: tuple[int, ...] = ()
        self._made: LastUsed[WorkedOut | RehearsalError] = LastUsed(16, None)
        self._laid: LastUsed[WorkedOut] = LastUsed(6, None)
        self._looks: LastUsed[SheetLook] = LastUsed(6)
        self._large: LastUsed[np.ndarray] = LastUsed(24)
        self._of = 0
        bus.on(("take",), self._on_take)

    def _on_take(self) -> None:
        """Another take begins a plan of its own; a change of the same one leaves what is looked at and placed by hand."""
        take = 0 if self._now.take is None else self._now.take.id
        if take == self._of:
            return
        self._of, self.looked_at, self.pointed = take, None, ()
        self.plan = replace(self.plan, pieces=(), members=(), beyond=0.0, side=0)

    # ---- wishes

    def wish(self, **fields: Any) -> None:
        """Plan another sheet; what is not named stays. What was printed is left for the plan."""
        before = self.plan
        if {"kind", "first"} & set(fields):
            fields = {"beyond": 0.0, "side": 0, "step": 0.0, **fields}
        self.plan = replace(self.plan, **fields)
        if self.plan != before or self.looked_at is not None:
            self.looked_at, self.pointed = None, ()
            self._bus.tell("test_plan")

    def look_at(self, sheet: TestSheet | None) -> None:
        """Show a printed sheet as it was, or the plan again."""
        number = None if sheet is None else sheet.id
        if number != self.looked_at:
            self.looked_at, self.pointed = number, ()
            self._bus.tell("test_plan")

    def point(self, numbers: tuple[int, ...]) -> None:
        """Point at a field, or at the gap between two; none ends it."""
        if numbers != self.pointed:
            self.pointed = numbers
            self._bus.tell("test_point")

    # ---- what is planned

    @property
    def sheet(self) -> TestSheet | None:
        """The printed sheet that is looked at."""
        return None if self.looked_at is None else self._book.get(TestSheet, self.looked_at)

    @property
    def opened(self) -> OpenRendition | None:
        """What the shown sheet is of: the open take's print, or what a printed sheet was printed of."""
        opened, sheet = self._now.opened, self.sheet
        if opened is None or sheet is None:
            return opened
        if sheet.rendition == opened.rendition:
            return opened
        paper = opened.paper
        if sheet.rendition.destination.digest not in ("", paper.digest):
            kept = self._book.profile_bytes(sheet.rendition.destination.digest)
            if kept is None:
                return None
            paper = open_profile(kept, sheet.rendition.destination.path)
        return OpenRendition(sheet.rendition, opened.open, paper)

    @property
    def made(self) -> WorkedOut | None:
        """The plan worked out of what the open take prints now, or the printed sheet; None while it is coming, or impossible."""
        asked = self._asked()
        opened = self.opened
        if asked is None or opened is None:
            return None
        sheet = self.sheet
        if sheet is not None:
            return self._kept(sheet, opened, asked.sheet)
        found = self._made.peek(asked)
        if found is None and Job("test-plan", asked) not in self._jobs.running:
            self._work_out(opened, asked)
        return None if found is None or isinstance(found, RehearsalError) else found

    def page_of(self, sheet: TestSheet) -> TestPage | None:
        """How a printed sheet lies, whichever is shown."""
        asked, opened = self._asked(), self._now.opened
        made = (
            None if asked is None or opened is None else self._kept(sheet, self._printed_of(sheet, opened), asked.sheet)
        )
        return None if made is None else made.page

    def _kept(self, sheet: TestSheet, opened: OpenRendition, asked: SheetAsked) -> WorkedOut | None:
        """A printed sheet as it was, laid once."""
        titles = asked.titles if sheet.plan.kind in ("takes", "papers") else ()
        key = sheet.id, sheet.file, sheet.when, asked.margins_mm, titles
        if self._laid.peek(key) is None:
            made = as_kept(sheet, opened, asked)
            if made is None:
                return None
            self._laid.put(key, made)
        return self._laid.peek(key)

    @staticmethod
    def _printed_of(sheet: TestSheet, opened: OpenRendition) -> OpenRendition:
        return OpenRendition(sheet.rendition, opened.open, opened.paper)

    @property
    def trouble(self) -> RehearsalError | None:
        """Why the plan cannot be laid."""
        asked = self._asked()
        found = None if asked is None or self.looked_at is not None else self._made.peek(asked)
        return found if isinstance(found, RehearsalError) else None

    @property
    def planned(self) -> Planned | None:
        """The variants; None while they are worked out."""
        made = self.made
        return None if made is None else made.planned

    def _asked(self) -> _Asked | None:
        opened, take, condition = self._now.opened, self._now.take, self._now.condition
        if opened is None or take is None or condition is None:
            return None
        names = condition.sheets or ("A4",)
        sheet = SheetAsked(tuple(names), condition.margins_mm, self.caption(take, condition), self._titles())
        of = (opened.rendition.look, opened.rendition.hand_over)
        return _Asked(self.plan, of, sheet, self._others(take, condition), self._areas() is not None)

    def _areas(self) -> np.ndarray | None:
        """Areas beyond the paper, where they are those of the open paper, crop and tuning."""
        judged = self._judging.standing
        return None if judged is None else judged.labels

    def caption(self, take: Take, condition: PrintCondition) -> str:
        """The line at the foot: paper, medium, intent, date, take, number of the sheet."""
        master = self._now.master
        number = 1 + sum(1 for s in self._book.all(TestSheet) if s.take == take.id)
        name = self._takes.name_of(take)
        picture = master.name if master is not None else ""
        medium = condition.media_setting and f"medium {condition.media_setting}"
        of = f"{picture}, take {name}" if name != condition.paper else picture
        parts = (
            condition.paper, medium, rendering_name(take.rendering), date_words(date.today().isoformat(), date.min), of,
            f"test sheet {number}",
        )  # fmt: skip
        return "; ".join(part for part in parts if part)

    @property
    def candidates(self) -> tuple[tuple[int, str], ...]:
        """Takes of this picture, or papers, that may be on the sheet, by number and name; none for other kinds."""
        return self._titles()

    def _titles(self) -> tuple[tuple[int, str], ...]:
        take = self._now.take
        if self.plan.kind == "papers":
            papers = self._papers()
            plain = [c.paper for c in papers]
            return tuple((c.id, c.paper if plain.count(c.paper) == 1 else c.name) for c in papers)
        if self.plan.kind == "takes" and take is not None:
            return tuple((t.id, self._takes.name_of(t)) for t in self._takes.of(take.master))
        return ()

    def _papers(self) -> list[PrintCondition]:
        """Papers on the shelf whose profiles can be opened, the take's own first; no working spaces."""
        here = self._now.condition
        found = [c for c in self._shelf.conditions if not c.space and readable(self._shelf, c) is not None]
        return sorted(found, key=lambda c: (here is None or c.id != here.id, not c.shortlist))

    def _others(self, take: Take, condition: PrintCondition) -> Others:
        master = self._now.master
        if master is None:
            return Others()
        sigma = self._shelf.spread_of(condition)
        if self.plan.kind == "takes":
            mine = sorted(self._takes.of(master.id), key=lambda t: t.id != take.id)
            destination = Destination(condition.profile_digest, condition.profile_path)
            return Others(takes=tuple((t.id, t.rendition(master, destination)) for t in mine), sigma_um=sigma)
        if self.plan.kind == "papers":
            return Others(papers=tuple((c.id, self.on_paper(take, c)) for c in self._papers()), sigma_um=sigma)
        return Others(sigma_um=sigma)

    def on_paper(self, take: Take, condition: PrintCondition) -> Rendition:
        """The take's rendition on a paper, in that paper's own rendering."""
        master = self._now.master
        assert master is not None
        made = take.rendition(master, Destination(condition.profile_digest, condition.profile_path))
        return replace(made, rendering=self._now.rendering_on(condition))

    def _work_out(self, opened: OpenRendition, asked: _Asked) -> None:
        areas = self._areas()

        def work(progress: Any) -> WorkedOut | RehearsalError:
            try:
                return work_out(opened, asked.plan, asked.sheet, asked.others, areas, progress)
            except RehearsalError as error:  # said beside the plan, which may be mended there
                return error

        def answer(made: WorkedOut | RehearsalError) -> None:
            self._made.put(asked, made)
            self._bus.tell("test_plan")

        self._jobs.run(Job("test-plan", asked), work, answer)

    # ---- live proofs

    def _view(self) -> tuple[Look, bool] | None:
        """How proofs are looked at, and whether the print's own steps are seen in them."""
        look, take = self._roads.look, self._now.take
        if look is None or take is None:
            return None
        sheet = self.sheet
        plan, recipe = (self.plan, take.recipe) if sheet is None else (sheet.plan, sheet.rendition.recipe)
        step = plan.kind == "strength" and _varies_addition(plan, recipe)
        return look, take.view == "in-its-light" or self._roads.with_additions or step

    def look(self, per_mm: float) -> SheetLook | None:
        """Proofs of all fields in the take's view, so many pixels to the mm; None while they are coming."""
        made, opened, view = self.made, self.opened, self._view()
        if made is None or made.page is None or opened is None or view is None:
            return None
        key = (made, opened.rendition, look_key(view[0]), view[1], round(per_mm, 2))
        found = self._looks.peek(key)
        job = Job("test-look", key)
        if found is None and job not in self._jobs.running:

            def answer(look: SheetLook) -> None:
                self._looks.put(key, look)
                self._bus.tell("test_look")

            self._jobs.run(job, lambda p: look_at_sheet(opened, made, view[0], per_mm, view[1], p), answer)
        return found

    def variant_at(self, numbers: tuple[int, ...]) -> Variant | None:
        """What a field is printed with, or what lies between two; None where nothing does."""
        made = self.made
        if made is None or not numbers:
            return None
        variants = made.planned.variants
        if len(numbers) == 1:
            return next((v for v in variants if v.number == numbers[0]), None)
        plan, base = made.planned.plan, made.planned.base
        values = chosen_values(plan.kind, variants, numbers)
        first = field_of(variants, numbers[0])
        if values is None or first is None or plan.kind not in BETWEEN:
            return None
        recipe = recipe_with(base.recipe, base.recipe, plan, made.planned.names, values)
        hand_over = base.hand_over
        if plan.kind == "sharpening":
            hand_over = replace(first.rendition.hand_over, sharpen=values[0])
        return Variant(0, replace(base, recipe=recipe, hand_over=hand_over), values)

    def large(self, numbers: tuple[int, ...], crop: Crop, size: tuple[int, int]) -> np.ndarray | None:
        """A piece of a field, or of what lies between two, in a size (width, height): 8-bit screen RGB; None while it is coming."""
        opened, view, variant = self._opened_for(numbers), self._view(), self.variant_at(numbers)
        if opened is None or view is None or min(size) < 8 or (numbers and variant is None):
            return None
        rendition = opened.rendition if variant is None else variant.rendition
        shown = variant or Variant(0, opened.rendition)
        key = (rendition, shown.black, crop, size, look_key(view[0]), view[1])
        found = self._large.peek(key)
        job = Job("test-large", key)
        if found is None and job not in self._jobs.running:

            def answer(rgb: np.ndarray) -> None:
                self._large.put(key, rgb)
                self._bus.tell("test_look")

            self._jobs.run(
                job, lambda _p: look_at_variant(opened, shown, crop, size, view[0], view[1]), answer, quick=True
            )
        return found

    def _opened_for(self, numbers: tuple[int, ...]) -> OpenRendition | None:
        """What a field is printed of: of a sheet for each paper, that paper's."""
        opened, variant = self.opened, self.variant_at(numbers)
        if opened is None or variant is None or not variant.condition:
            return opened
        condition = self._shelf.get(variant.condition)
        paper = None if condition is None else readable(self._shelf, condition)
        return None if paper is None else OpenRendition(variant.rendition, opened.open, paper)

    def paper_rgb(self, number: int) -> tuple[int, int, int] | None:
        """Bare paper of a field on the screen, 8-bit RGB; None where it cannot be known."""
        opened, view = self._opened_for((number,)), self._view()
        if opened is None or view is None:
            return None
        red, green, blue = (round(float(v) * 255) for v in np.clip(view[0].leg(opened.paper).paper_rgb, 0, 1))
        return red, green, blue

    def suggested_name(self) -> str:
        """A file name that says what the sheet is."""
        condition, picture = self._now.condition, self._now.picture
        if condition is None or picture is None:
            return "test.tif"
        stem = Path(picture.picture.info.path).stem
        return f"{stem}_test_{condition.paper}.tif".replace(" ", "-")

    @property
    def title(self) -> str:
        """What the shown sheet is, for its head."""
        sheet, made = self.sheet, self.made
        if sheet is not None:
            return f"Test sheet {self.number_of(sheet)}, {sheet.sheet}, as printed"
        name = "" if made is None or made.page is None else f", {made.page.name}"
        return capital(f"the next test sheet{name}, as planned")

    def number_of(self, sheet: TestSheet) -> int:
        """Number of a sheet among its take's, from 1."""
        mine = [s.id for s in self._book.all(TestSheet) if s.take == sheet.take]
        return mine.index(sheet.id) + 1 if sheet.id in mine else 0


def _varies_addition(plan: TestPlan, recipe: Recipe) -> bool:
    """True when the step whose strength is varied stands for a light, or was learnt."""
    at, steps = plan.step_number, recipe.steps
    return -len(steps) <= at < len(steps) and steps[at].origin in (LIGHT, LEARNT)


def look_key(look: Look) -> Hashable:
    return look.screen.digest, look.view, look.light, look.hold, look.scale, look.limited
