"""What each paper of the shelf costs the open picture, and how its print lies on a sheet of the paper that is shown."""

from __future__ import annotations

import numpy as np

from rehearsal.core.errors import RehearsalError
from rehearsal.core.proof.beyond import Lost
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.rendition import Rendition
from rehearsal.session.bus import Bus, Change
from rehearsal.session.inquiries import Inquiries
from rehearsal.session.jobs import Job, JobProgress, Jobs
from rehearsal.session.judging import Judging
from rehearsal.session.now import Now
from rehearsal.session.shelf import Shelf, readable
from rehearsal.tasks.judging import judged_colours, losses
from rehearsal.tasks.proofing import printed_colours

#: Long side in pixels of the print on the drawn sheet.
_LONG = 320


def _subject(rendition: Rendition) -> object:
    """What a loss depends on beside the paper."""
    return rendition.master, rendition.assumed, rendition.frame, rendition.recipe


class Costs:
    """Owner of the losses of the open picture, by paper; ``lost`` tells of new ones, ``printed`` of the drawn print."""

    def __init__(self, bus: Bus, jobs: Jobs, shelf: Shelf, now: Now, judging: Judging, inquiries: Inquiries) -> None:
        self._bus, self._jobs, self._shelf, self._now = bus, jobs, shelf, now
        self._judging, self._inquiries = judging, inquiries
        self._of: object = None
        #: By digest of the paper's profile.
        self._lost: dict[str, Lost] = {}
        #: Papers that cannot be counted, by digest.
        self._without: set[str] = set()
        self._printed: tuple[Rendition, np.ndarray] | None = None
        bus.changed.connect(self._follow)

    def _follow(self, change: Change) -> None:
        if "picture" in change.topics and self._now.picture is None:
            self._jobs.stop("lost")
            self._jobs.stop("printed")

    # ---- losses

    def lost_on(self, condition: PrintCondition) -> Lost | None:
        """What a paper costs the open picture as it is tuned and cropped now; None before it is known."""
        rendition, judged = self._now.rendition, self._judging.judgement
        if rendition is None:
            return None
        paper = readable(self._shelf, condition)
        if paper is None:
            return None
        same = judged is not None and _subject(judged.rendition) == _subject(rendition)
        if same and judged is not None and judged.rendition.destination.digest == paper.digest:
            return judged.beyond.lost
        return self._lost.get(paper.digest) if self._of == _subject(rendition) else None

    def ask_lost(self) -> None:
        """Count what all papers cost, by the very figures of a judgement; those that are known are not counted again."""
        opened = self._now.opened
        if opened is None:
            return
        subject = _subject(opened.rendition)
        if self._of != subject:
            self._of, self._lost, self._without = subject, {}, set()
        job = Job("lost", subject)
        if job in self._jobs.running:
            return
        wanted = [self._inquiries.on_paper(c) for c in self._shelf.conditions if self.lost_on(c) is None]
        papers = {o.paper.digest: o for o in wanted if o is not None and o.paper.digest not in self._without}
        if not papers:
            return

        def work(progress: JobProgress) -> None:
            colours = judged_colours(opened)
            for i, (digest, each) in enumerate(papers.items()):
                progress(i / len(papers), "what each paper costs")
                try:
                    progress.tell((digest, losses(colours, each.paper)))
                except RehearsalError:
                    progress.tell((digest, None))

        def came(told: tuple[str, Lost | None]) -> None:
            if self._of != subject:
                return
            if told[1] is None:
                self._without.add(told[0])
            else:
                self._lost[told[0]] = told[1]
                self._bus.tell("lost")

        # a paper may have come onto the shelf meanwhile
        self._jobs.run(job, work, lambda _r: self.ask_lost() if self._of == subject else None, part=came)

    # ---- the print on its sheet

    @property
    def printed(self) -> np.ndarray | None:
        """Absolute Lab (h, w, 3) of the rendition that is seen, small, as it prints; None before it is known."""
        seen = self._now.seen
        known = self._printed is not None and seen is not None and self._printed[0] == seen.rendition
        return self._printed[1] if known and self._printed is not None else None

    def ask_printed(self) -> None:
        """The print for the drawn sheet."""
        seen = self._now.seen
        if seen is None or self.printed is not None:
            return
        job = Job("printed", seen.rendition)
        if job not in self._jobs.running:
            self._jobs.run(job, lambda _p: printed_colours(seen, _LONG), lambda lab: self._on_printed(seen, lab))

    def _on_printed(self, seen: OpenRendition, lab: np.ndarray) -> None:
        self._printed = (seen.rendition, lab)
        self._bus.tell("lost")
