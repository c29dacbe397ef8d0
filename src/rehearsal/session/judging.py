"""The judgement of the open rendition, and the first figures before it is there."""

from __future__ import annotations

from dataclasses import replace

from rehearsal.core.proof.beyond import Lost
from rehearsal.core.proof.judging import FirstFigures, Judgement
from rehearsal.core.tuning.opened import OpenPicture, OpenRendition
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.session.bus import Bus, Change
from rehearsal.session.home import Home
from rehearsal.session.jobs import Job, JobProgress, Jobs
from rehearsal.session.now import Now
from rehearsal.session.screen import Screen
from rehearsal.session.shelf import Shelf
from rehearsal.tasks.judging import first_figures_of, judge_rendition
from rehearsal.tasks.tables import KeptTables

_LATER_MS = 350
#: Changes that may ask for other figures.
_DECIDES = (
    "take.condition", "take.rendering", "take.recipe", "take.frame", "take.sheet", "take.hand_over", "figures", "conditions",
)  # fmt: skip


class Judging:
    """Owner of the judgement. Every judgement carries the rendition it is of; it is current for that very one alone."""

    def __init__(
        self, bus: Bus, jobs: Jobs, home: Home, shelf: Shelf, screen: Screen, now: Now, tables: KeptTables
    ) -> None:
        self._bus, self._jobs, self._shelf, self._screen, self._now = bus, jobs, shelf, screen, now
        self._tables = tables
        self.judgement: Judgement | None = None
        #: First figures, and the look of the rendition they are of.
        self._first: tuple[Rendition, FirstFigures] | None = None
        #: The same of the paper that is only looked at.
        self.first_looked: FirstFigures | None = None
        #: What besides the rendition the judgement depends on: screen, default rendering, prescription.
        self._judged_by: tuple[str, Rendering, bool] | None = None
        #: The same of the judgement that is under way.
        self._asked_by: tuple[str, Rendering, bool] | None = None
        self._later = home.timer(_LATER_MS, self.judge)
        now.early.connect(self._ask_first_early)
        bus.changed.connect(self._follow)
        jobs.ended.connect(self._on_end)
        #: True while what is not judged is so because a person has stopped it.
        self.was_stopped = False
        jobs.stopped.connect(self._on_stopped)

    def _on_end(self, job: Job) -> None:
        """Also when it was stopped: nobody goes on saying that it is coming."""
        if job.kind == "judge":
            self._bus.tell("first")

    def _on_stopped(self, job: Job) -> None:
        if job.kind == "judge":
            self.was_stopped = True
            self._bus.tell("first")

    def _follow(self, change: Change) -> None:
        if "take" in change.topics:
            self.judgement, self._first = None, None
        if change.about("looked", "take", "picture"):
            self._ask_looked()
        if "picture" in change.topics and self._now.picture is not None:
            self.judge()
        trouble = self._now.trouble
        if trouble is not None and trouble.kind != "untagged":
            self._forget()
        elif change.about(*_DECIDES):
            self._judge_later()

    def _judge_later(self) -> None:
        """Soon, unless the figures at hand are of what is wanted now."""
        if self._carry_over():
            self._later.stop()
            self._jobs.stop("judge")
        else:
            self._later.start()
            opened = self._now.opened
            if opened is not None:
                self._ask_first_elsewhere(opened)

    def _ask_first_elsewhere(self, opened: OpenRendition) -> None:
        """First figures, unless they or a judgement of this paper are at hand or being made."""
        judged = self.judgement
        known = self.first is not None or Job("first", opened.rendition) in self._jobs.running
        if not known and (judged is None or judged.rendition.destination != opened.rendition.destination):
            self._ask_first(opened)

    @property
    def first(self) -> FirstFigures | None:
        """First figures of the open rendition; None before they are there."""
        now = self._now.rendition
        return self._first[1] if self._first is not None and now is not None and now.look == self._first[0] else None

    @property
    def is_current(self) -> bool:
        """True when the figures are of this very rendition and nothing newer is on its way."""
        mine = self.judgement is not None and self.judgement.rendition == self._now.rendition
        return mine and not self._jobs.is_running("judge") and not self._later.is_active

    @property
    def beyond_screen(self) -> float | None:
        """Per cent of the picture beyond this screen, as it was judged.

        None while that is of another crop or screen, and while nobody knows the screen's profile: what it cannot show is not known.
        """
        judged, now = self.judgement, self._now.rendition
        if (
            judged is None
            or not self._screen.record.profile_path
            or now is None
            or self._judged_by is None
            or self._judged_by[0] != self._screen.profile.digest
        ):
            return None
        same = (judged.rendition.master, judged.rendition.assumed, judged.rendition.frame) == (
            now.master,
            now.assumed,
            now.frame,
        )
        return judged.screen_master if same else None

    @property
    def standing(self) -> Judgement | None:
        """The judgement while it is of the open paper, crop and tuning; what rendering is chosen has no part in areas and candidates."""
        judged, now = self.judgement, self._now.rendition
        if judged is None or now is None:
            return None
        return judged if replace(judged.rendition.look, rendering=now.rendering) == now.look else None

    @property
    def lost(self) -> Lost | None:
        """What the open rendition loses, as it was judged; None while the judgement is of another."""
        judged = self.standing
        return None if judged is None else judged.beyond.lost

    @property
    def is_coming(self) -> bool:
        """True while new figures are being made, or are about to be."""
        return self._jobs.is_running("judge") or self._later.is_active

    def _by(self) -> tuple[str, Rendering, bool] | None:
        condition = self._now.condition
        return None if condition is None else (self._screen.profile.digest, condition.default, condition.prescribed)

    def _carry_over(self) -> bool:
        """Answer with the figures at hand when nothing they depend on has changed; False when they must be made anew."""
        judged, wanted = self.judgement, self._now.rendition
        if judged is None or wanted is None or judged.rendition.look != wanted.look or self._judged_by != self._by():
            return False
        if judged.rendition != wanted:
            self.judgement = replace(judged, rendition=wanted)
            self._bus.tell("judgement")
        return True

    def judge(self, anew: bool = False) -> None:
        """Judge the open rendition; ``judgement`` is told when its figures are there.

        Args:
            anew: even when the figures at hand are of this rendition.
        """
        opened, by = self._now.opened, self._by()
        self._later.stop()
        self.was_stopped = False
        if opened is None or by is None:
            self._forget()
            if not self._jobs.is_running("load"):  # the picture comes first, then its judgement, then the other papers
                self._shelf.measure()
            return
        if not anew and self._carry_over():
            self._jobs.stop("judge")
            return
        job = Job("judge", opened.rendition)
        if not anew and job in self._jobs.running and self._asked_by == by:
            return  # it is being made
        self._ask_first_elsewhere(opened)

        def work(progress: JobProgress) -> Judgement:
            for profile in (opened.paper, screen):
                self._tables.fetch(profile)
            return judge_rendition(opened, screen, by[1], by[2], progress=progress)

        def keep(_progress: JobProgress) -> None:
            for profile in (opened.paper, screen):
                self._tables.keep(profile)

        def answer(result: Judgement) -> None:
            if result.rendition != self._now.rendition:
                return  # the take has gone on meanwhile; what is wanted now is on its way
            self.judgement, self._judged_by = result, by
            self._bus.tell("judgement")
            self._shelf.measure()
            self._jobs.run(Job("tables", (opened.paper.digest, screen.digest)), keep, lambda _r: None)

        screen = self._screen.profile
        self._asked_by = by
        self._jobs.run(job, work, answer)

    def _forget(self) -> None:
        """There is nothing that could be judged: no old figure stands as if it were of it."""
        if self.judgement is not None or self._first is not None:
            self.judgement, self._first, self._judged_by = None, None, None
            self._jobs.stop("judge")
            self._bus.tell("judgement", "first")

    def close(self) -> None:
        """Nothing is judged any more."""
        self._later.stop()

    # ---- first figures

    def _ask_first_early(self, picture: OpenPicture) -> None:
        opened = self._now.opened_with(picture)
        plain = picture.picture.profile.is_matrix or (opened is not None and opened.rendition.recipe.is_neutral)
        if opened is not None and plain:
            self._ask_first(opened)

    def _ask_first(self, opened: OpenRendition) -> None:
        look = opened.rendition.look

        def answer(found: FirstFigures) -> None:
            self._first = (look, found)
            if self.first is not None:
                self._bus.tell("first")

        self._first = None
        self._jobs.run(Job("first", opened.rendition), lambda _p: first_figures_of(opened), answer)

    def _ask_looked(self) -> None:
        """First figures of the paper that is only looked at."""
        seen = None if self._now.looked is None else self._now.seen
        if seen is None or seen is self._now.opened:
            self.first_looked = None
            self._jobs.stop("looked")
            return

        def answer(found: FirstFigures) -> None:
            self.first_looked = found
            self._bus.tell("first")

        job = Job("looked", seen.rendition)
        if job not in self._jobs.running:
            self.first_looked = None
            self._jobs.run(job, lambda _p: first_figures_of(seen), answer)
