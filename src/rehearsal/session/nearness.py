"""How near the open take is to its picture, what its ladder is drawn from, and what each of its steps does to it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from rehearsal.core.proof.near import Near
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.rendition import Rendition
from rehearsal.session.bus import Bus, Change
from rehearsal.session.jobs import Job, Jobs
from rehearsal.session.now import Now
from rehearsal.session.roads import Roads
from rehearsal.tasks.nearness import Ladder, ladder_of, nearness
from rehearsal.tasks.proofing import intent_pictures

#: Long side in pixels of the little pictures without and with a step.
_LITTLE = 44
#: Little pictures of a step: 8-bit screen RGB (h, w, 3) without it and with it.
Without = tuple[np.ndarray, np.ndarray]


class Nearness:
    """Owner of the figures of the Tune station; ``near`` tells of new ones. They are of the rendition they were asked for."""

    def __init__(self, bus: Bus, jobs: Jobs, now: Now, roads: Roads) -> None:
        self._bus, self._jobs, self._now, self._roads = bus, jobs, now, roads
        self._near: tuple[object, Near] | None = None
        self._ladder: tuple[object, Ladder] | None = None
        self._steps: tuple[object, list[Without]] | None = None
        bus.changed.connect(self._follow)

    def _follow(self, change: Change) -> None:
        if "picture" in change.topics and self._now.picture is None:
            for kind in ("near", "ladder", "steps"):
                self._jobs.stop(kind)

    @staticmethod
    def _under(rendition: Rendition) -> object:
        """What a ladder depends on: all but the tuning."""
        return replace(rendition, recipe=Recipe())

    def _seen(self) -> tuple[Rendition, str] | None:
        take, rendition = self._now.take, self._now.rendition
        return None if take is None or rendition is None else (rendition, take.view)

    @property
    def near(self) -> Near | None:
        """Of the open take as it is now; None before it is known."""
        return self._near[1] if self._near is not None and self._near[0] == self._seen() else None

    @property
    def ladder(self) -> Ladder | None:
        """Of the open take's paper and rendering; None before it is known."""
        rendition = self._now.rendition
        known = self._ladder is not None and rendition is not None and self._ladder[0] == self._under(rendition)
        return self._ladder[1] if known and self._ladder is not None else None

    @property
    def steps(self) -> list[Without] | None:
        """What each step does, in little pictures; None before they are known."""
        return self._steps[1] if self._steps is not None and self._steps[0] == self._seen() else None

    def ask(self) -> None:
        """Everything that is not known of the open take as it is kept."""
        opened, seen, look = self._now.opened, self._seen(), self._roads.look
        if opened is None or seen is None or look is None or self._roads.previews:
            return

        on_screen = opened.having(self._roads.seen_recipe(opened.rendition.recipe))

        def tell() -> None:
            self._bus.tell("near")

        def on_near(found: Near) -> None:
            self._near = (seen, found)
            tell()

        def on_ladder(found: Ladder) -> None:
            self._ladder = (self._under(opened.rendition), found)
            tell()

        def on_steps(found: list[Without]) -> None:
            self._steps = (seen, found)
            tell()

        def pictures() -> list[Without]:
            made = []
            recipe, rendering = opened.rendition.recipe, (opened.rendition.rendering,)
            for i in range(len(recipe.steps)):
                without = replace(recipe, steps=(*recipe.steps[:i], *recipe.steps[i + 1 :]))
                with_it = replace(
                    recipe, steps=(*recipe.steps[:i], replace(recipe.steps[i], on=True), *recipe.steps[i + 1 :])
                )
                one, two = (intent_pictures(opened.having(r), look, rendering, _LITTLE)[0] for r in (without, with_it))
                made.append((one, two))
            return made

        if self.ladder is None:
            self._run(Job("ladder", self._under(opened.rendition)), lambda: ladder_of(opened), on_ladder)
        if self.near is None:
            self._run(Job("near", seen), lambda: nearness(on_screen, look.shows_paper), on_near)
        if self.steps is None:
            self._run(Job("steps", seen), pictures, on_steps)

    def _run(self, job: Job, work, answer) -> None:  # type: ignore[no-untyped-def]
        if job not in self._jobs.running:
            self._jobs.run(job, lambda _p: work(), answer)
