"""What is asked about the open rendition beside its judgement; each answer comes home with what it was asked for."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile
from rehearsal.core.papers.comparing import overlap
from rehearsal.core.papers.model import paper_model
from rehearsal.core.proof.advice import CANDIDATES, CandidateFigures
from rehearsal.core.proof.chain import Look
from rehearsal.core.proof.line import LineReading
from rehearsal.core.proof.scout import PaperCost
from rehearsal.core.screen.held import Tones
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.session.bus import Bus, Change
from rehearsal.session.jobs import Job, JobProgress, Jobs
from rehearsal.session.judging import Judging
from rehearsal.session.now import Now
from rehearsal.session.roads import Roads
from rehearsal.session.screen import Screen
from rehearsal.session.shelf import Shelf
from rehearsal.tasks.arrival import Arrival, look_at_picture, tones_of
from rehearsal.tasks.judging import compare_renderings
from rehearsal.tasks.maps import (
    MapLines,
    Patch,
    PixelReading,
    beyond_map,
    line_reading,
    moved_map,
    read_point,
    screen_map,
)
from rehearsal.tasks.opening import little_pictures
from rehearsal.tasks.proofing import intent_pictures
from rehearsal.tasks.scouting import Body, PairOverPicture, Reach, body_of, compare_two, picture_reach, scout
from rehearsal.tasks.surface import sharpened_looks
from rehearsal.workbook.values import Master

Maps = list[tuple[int, MapLines]]


@dataclass(frozen=True)
class ScreenCover:
    """How much of a paper's gamut a screen holds, per cent, for one pair of profiles."""

    paper: str
    screen: str
    share: float


@dataclass(frozen=True)
class ScoutNews:
    """Something of the scout: a paper's place, and its picture with its bare paper, or its figures."""

    at: int
    picture: tuple[np.ndarray, np.ndarray] | None = None
    cost: PaperCost | None = None


def _same_costs(one: Rendition, two: Rendition) -> bool:
    """True when the same lies beyond the same paper: of the rendering it does not depend."""
    parts = ("master", "assumed", "frame", "recipe")
    return one.destination.digest == two.destination.digest and all(getattr(one, p) == getattr(two, p) for p in parts)


#: Longer side of a print on its page, pixels.
_PAGE_LONG = 720
_OF_THE_PICTURE = ("page", "arrival", "tones", "cards", "candidates", "maps")


def _tones_key(rendition: Rendition) -> object:
    """What a picture's tones depend on."""
    return rendition.master, rendition.assumed, rendition.frame.crop


class Inquiries:
    """Asks the tasks about the rendition on the screen. Answers go to whoever asked; the newest question of a kind wins."""

    def __init__(
        self, bus: Bus, jobs: Jobs, shelf: Shelf, screen: Screen, now: Now, roads: Roads, judging: Judging
    ) -> None:
        self._bus, self._jobs, self._shelf, self._screen = bus, jobs, shelf, screen
        self._now, self._roads, self._judging = now, roads, judging
        self.arrival: Arrival | None = None
        self.cover: ScreenCover | None = None
        self._tones: tuple[object, Tones] | None = None
        #: sRGB (h, w, 3) uint8 of masters, by their digests.
        self.littles: dict[str, np.ndarray] = {}
        self._asked: set[str] = set()
        bus.changed.connect(self._follow)

    def _follow(self, change: Change) -> None:
        if "picture" in change.topics and self._now.picture is None:
            self.arrival = None
            for kind in _OF_THE_PICTURE:  # what was asked of the picture that has gone
                self._jobs.stop(kind)

    # ---- what arrived, what the screen can show of it

    def ask_arrival(self) -> None:
        """Clipping, sharpening and wide colours inside the crop."""
        opened = self._now.opened
        if opened is None:
            return
        screen, asked = self._screen.profile, opened.rendition
        job = Job("arrival", (asked.master, asked.assumed, asked.frame.crop, self._screen.profile.digest))
        if job in self._jobs.running:
            return

        def answer(found: Arrival) -> None:
            self.arrival = found
            self._bus.tell("arrival")

        self._jobs.run(job, lambda p: look_at_picture(opened, screen, p), answer)

    def ask_tones(self) -> None:
        """The picture's tones inside the crop."""
        opened = self._now.opened
        if opened is None or self.tones is not None:
            return
        key = _tones_key(opened.rendition)

        def answer(found: Tones) -> None:
            self._tones = (key, found)
            self._bus.tell("arrival")

        job = Job("tones", key)
        if job not in self._jobs.running:
            self._jobs.run(job, lambda _p: tones_of(opened), answer)

    @property
    def tones(self) -> Tones | None:
        """Tones of the open picture inside its crop; None before they are known."""
        now = self._now.rendition
        return (
            self._tones[1]
            if self._tones is not None and now is not None and self._tones[0] == _tones_key(now)
            else None
        )

    def ask_cover(self) -> None:
        """How much of the paper's gamut this screen can show."""
        paper, screen = self._now.paper, self._screen.profile
        if paper is None:
            return
        key = (paper.digest, screen.digest)
        if self.cover is not None and (self.cover.paper, self.cover.screen) == key:
            return
        self.cover = None

        def work(_progress: JobProgress) -> ScreenCover:
            return ScreenCover(*key, overlap(paper_model(screen).solid, paper_model(paper).solid)[0])

        def answer(found: ScreenCover) -> None:
            self.cover = found
            self._bus.tell("arrival")

        self._jobs.run(Job("cover", key), work, answer)

    # ---- the rack

    def ask_littles(self, masters: Sequence[Master], width: int, height: int) -> None:
        """Little pictures of masters that were not asked for yet, each once; ``littles`` tells of them."""
        wanted = [m for m in masters if m.digest not in self._asked]
        job = Job("littles", tuple(m.digest for m in wanted))
        if not wanted:
            return
        self._asked.update(m.digest for m in wanted)

        def came(told: tuple[str, np.ndarray]) -> None:
            self.littles[told[0]] = told[1]
            self._bus.tell("littles")

        def work(progress: JobProgress) -> None:
            little_pictures(wanted, width, height, lambda digest, rgb: progress.tell((digest, rgb)), progress)

        self._jobs.run(job, work, lambda _r: None, part=came, alone=False)

    # ---- maps, lines, points

    def ask_maps(self, wanted: frozenset[str], patch: Patch, answer: Callable[[Maps], None]) -> None:
        """Lines of some maps over a visible part; the answer may come twice, first quickly, then exactly."""
        shown, screen = self._roads.shown, self._screen.profile
        if shown is None:
            return

        def work(progress: JobProgress) -> Maps:
            made: Maps = []
            if "beyond" in wanted:
                progress.tell([(1, beyond_map(shown, patch, refined=False))])
                made.append((1, beyond_map(shown, patch)))
            if "moved" in wanted:
                made.append((1, moved_map(shown, patch)))
            if "screen" in wanted:
                made += [(int(of_print), screen_map(shown, patch, screen, of_print)) for of_print in (False, True)]
            return made

        self._jobs.run(Job("maps", (shown.rendition, wanted, patch)), work, answer, part=answer)

    def ask_line(self, answer: Callable[[LineReading], None]) -> bool:
        """Readings along the open take's line; False when there is none."""
        take, shown = self._now.take, self._roads.shown
        if take is None or shown is None or not take.marks.line:
            return False
        line = take.marks.line
        job = Job("line", (shown.rendition, line))
        self._jobs.run(job, lambda _p: line_reading(shown, line), answer, quick=True)
        return True

    def read(self, x: float, y: float) -> PixelReading | None:
        """The picture and the print at a pixel of the master."""
        shown = self._roads.shown
        return None if shown is None else read_point(shown, x, y)

    def tuned_lab(self, x: float, y: float) -> np.ndarray | None:
        """Lab (3,) of the tuned picture at a pixel of the master."""
        opened = self._now.opened
        if opened is None:
            return None
        lab: np.ndarray = opened.space.to_lab(opened.wanted.points(np.array([[x, y]]))[None])[0, 0]
        return lab

    def unpulled_lab(self, x: float, y: float) -> np.ndarray | None:
        """Lab (3,) of the tuned picture at a pixel of the master, before colours are pulled."""
        opened = self._now.opened
        if opened is None:
            return None
        plain = opened.having(opened.rendition.recipe.unpulled)
        lab: np.ndarray = plain.space.to_lab(plain.wanted.points(np.array([[x, y]]))[None])[0, 0]
        return lab

    # ---- renderings side by side

    def ask_cards(self, answer: Callable[[list[np.ndarray]], None]) -> None:
        """Little pictures of the usual renderings."""
        self._ask_pictures("cards", CANDIDATES, None, answer)

    def ask_intents(
        self, renderings: Sequence[Rendering], long_side: int, answer: Callable[[list[np.ndarray]], None]
    ) -> None:
        """Large pictures of some renderings."""
        self._ask_pictures("intents", renderings, long_side, answer)

    def _ask_pictures(
        self, kind: str, renderings: Sequence[Rendering], long_side: int | None,
        answer: Callable[[list[np.ndarray]], None],
    ) -> None:  # fmt: skip
        opened, look = self._now.opened, self._roads.look
        if opened is None or look is None:
            return
        size = () if long_side is None else (long_side,)
        self._jobs.run(Job(kind, opened.rendition), lambda _p: intent_pictures(opened, look, renderings, *size), answer)

    def ask_page_picture(self, answer: Callable[[tuple[np.ndarray, np.ndarray]], None]) -> None:
        """The open take as it prints, for the page: 8-bit screen RGB (h, w, 3), and screen RGB (3,) of its bare paper, 0 to 1."""
        opened, look = self._now.opened, self._roads.look
        if opened is None or look is None:
            return

        def work(_progress: JobProgress) -> tuple[np.ndarray, np.ndarray]:
            (rgb,) = intent_pictures(opened, look, [opened.rendition.rendering], _PAGE_LONG)
            return rgb, look.leg(opened.paper).paper_rgb

        self._jobs.run(Job("page", (opened.rendition.look, look.view)), work, answer)

    def ask_sharpening(
        self, side: int, file_side: int, answer: Callable[[tuple[np.ndarray, np.ndarray]], None]
    ) -> None:
        """A piece of the open take's print without and with sharpening, as its paper shows it: 8-bit screen RGB.

        Args:
            side: pixels of the screen along it; file_side: pixels of the file.
        """
        opened, look = self._now.opened, self._roads.look
        if (
            opened is None
            or look is None
            or opened.rendition.frame.size is None
            or not opened.rendition.hand_over.sigma_um
        ):
            return
        job = Job("sharpened", (opened.rendition, look.view, side, file_side))
        if job not in self._jobs.running:
            self._jobs.run(job, lambda _p: sharpened_looks(opened, look, side, file_side), answer)

    def ask_candidates(self, renderings: list[Rendering], answer: Callable[[list[CandidateFigures]], None]) -> None:
        """Figures of more renderings, once the rendition is judged."""
        opened, judged = self._now.opened, self._judging.judgement
        if opened is None or judged is None or judged.rendition.look != opened.rendition.look:
            return
        labels = judged.labels
        self._jobs.run(
            Job("candidates", opened.rendition), lambda p: compare_renderings(opened, labels, renderings, p), answer
        )

    # ---- papers

    def on_paper(self, condition: PrintCondition) -> OpenRendition | None:
        """The open rendition on another paper, with that paper's own default rendering; None when it cannot be opened."""
        opened = self._now.opened
        try:
            paper = self._shelf.profile(condition.profile_path)
        except RehearsalError:
            return None
        return None if opened is None else opened.on(paper, condition.profile_path).rendered(condition.default)

    def ask_scout(
        self, papers: list[OpenRendition], view: str, long_side: int, news: Callable[[ScoutNews], None],
        ended: Callable[[], None],
    ) -> None:  # fmt: skip
        """Rehearse on several papers at once."""
        look, judged = (
            Look(self._screen.profile, view, self._screen.light, limited=self._screen.record.limited),
            self._judging.judgement,
        )

        def told(at: int, cost: PaperCost) -> ScoutNews:
            # what a paper costs is a figure of the judgement where there is one: never two figures for one thing
            known = judged is not None and _same_costs(judged.rendition, papers[at].rendition)
            return ScoutNews(at, cost=replace(cost, lost=judged.beyond.lost) if known and judged is not None else cost)

        def work(progress: JobProgress) -> None:
            scout(
                papers, look, long_side, lambda i, rgb, paper: progress.tell(ScoutNews(i, picture=(rgb, paper))),
                lambda i, cost: progress.tell(told(i, cost)), progress,
            )  # fmt: skip

        job = Job("scout", tuple(p.rendition for p in papers))
        self._jobs.run(job, work, lambda _r: ended(), part=news)

    def ask_compare(self, one: OpenRendition, two: OpenRendition, answer: Callable[[PairOverPicture], None]) -> None:
        """Two profiles of one paper over the picture."""
        self._jobs.run(Job("compare", (one.rendition, two.rendition)), lambda p: compare_two(one, two, p), answer)

    def ask_reach(self, answer: Callable[[Reach], None]) -> None:
        """The picture's colours and how far each is beyond the paper."""
        opened = self._now.opened
        if opened is not None:
            self._jobs.run(Job("reach", opened.rendition), lambda p: picture_reach(opened, p), answer)

    def ask_bodies(self, profiles: Sequence[Profile | None], answer: Callable[[list[Body | None]], None]) -> None:
        """The gamuts of some devices, in their order; None for those that are None."""

        def work(_progress: JobProgress) -> list[Body | None]:
            return [None if p is None else body_of(p) for p in profiles]

        self._jobs.run(Job("solids", tuple(p.digest for p in profiles if p is not None)), work, answer)
