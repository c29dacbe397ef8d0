"""How near the open take is to its picture, what its ladder is drawn from, and what each of its steps does to it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from rehearsal.core.proof.chain import Look
from rehearsal.core.proof.judging import Judgement
from rehearsal.core.proof.near import Near, NearArea
from rehearsal.core.tuning.damage import Damage
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.recipe import Recipe
from rehearsal.session.bus import Bus, Change
from rehearsal.session.jobs import Job, Jobs
from rehearsal.session.now import Now
from rehearsal.session.roads import Roads
from rehearsal.tasks.nearness import Ladder, MovingNear, areas_of, damage_of, ladder_of, near_areas, nearness
from rehearsal.tasks.proofing import intent_pictures

#: Long side in pixels of the little pictures without and with a step.
_LITTLE = 44
#: Little pictures of a step: 8-bit screen RGB (h, w, 3) without it and with it.
Without = tuple[np.ndarray, np.ndarray]


#: Kinds of figures, each a job of its own.
_KINDS = ("near", "moving-near", "near-areas", "damage", "ladder", "steps")


class Nearness:
    """Owner of the figures of the Tune station; ``near`` tells of new ones. They are of the rendition they were asked for."""

    def __init__(self, bus: Bus, jobs: Jobs, now: Now, roads: Roads) -> None:
        self._bus, self._jobs, self._now, self._roads = bus, jobs, now, roads
        #: The last figures of each kind, with what they are of.
        self._known: dict[str, tuple[object, Any]] = {}
        bus.changed.connect(self._follow)

    def _follow(self, change: Change) -> None:
        if "picture" in change.topics and self._now.picture is None:
            for kind in _KINDS:
                self._jobs.stop(kind)

    def _subject(self, kind: str) -> object:
        """What figures of a kind are of now; None without a take."""
        take, rendition = self._now.take, self._now.rendition
        if take is None or rendition is None:
            return None
        if kind == "ladder":  # it depends on all but the tuning
            return replace(rendition, recipe=Recipe())
        return rendition if kind == "damage" else (rendition, take.view)

    def _get(self, kind: str) -> Any:
        known, subject = self._known.get(kind), self._subject(kind)
        return known[1] if known is not None and subject is not None and known[0] == subject else None

    @property
    def near(self) -> Near | None:
        """Of the open take as it is now; None before it is known."""
        found: Near | None = self._get("near")
        return found

    def moving(self, recipe: Recipe) -> Near | None:
        """How near a tuning that is only previewed comes, from a few pixels; None while nothing is known.

        Args:
            recipe: what the screen shows.
        """
        near, few = self.near, self._get("moving-near")
        if near is not None and recipe.is_neutral:
            return replace(near, now=near.before)
        return None if near is None or few is None else replace(near, now=max(near.now + few.differs(recipe), 0.0))

    @property
    def areas(self) -> tuple[NearArea, ...] | None:
        """How near its largest areas come; None before it is known."""
        found: tuple[NearArea, ...] | None = self._get("near-areas")
        return found

    @property
    def damage(self) -> tuple[Damage, ...] | None:
        """What the open take's tuning damages in the print; None before it is known."""
        found: tuple[Damage, ...] | None = self._get("damage")
        return found

    @property
    def ladder(self) -> Ladder | None:
        """Of the open take's paper and rendering; None before it is known."""
        found: Ladder | None = self._get("ladder")
        return found

    @property
    def steps(self) -> list[Without] | None:
        """What each step does, in little pictures; None before they are known."""
        found: list[Without] | None = self._get("steps")
        return found

    def ask(self, judged: Judgement) -> None:
        """Everything that is not known of the open take as it is kept.

        Args:
            judged: the judgement of it, whose areas are looked at.
        """
        opened, look = self._now.opened, self._roads.look
        if opened is None or look is None or self._roads.previews:
            return
        on_screen = opened.having(self._roads.seen_recipe(opened.rendition.recipe))
        self._ask("ladder", lambda: ladder_of(opened))
        self._ask("near", lambda: nearness(on_screen, look.shows_paper))
        self._ask("moving-near", lambda: MovingNear(on_screen, look.shows_paper))
        self._ask("near-areas", lambda: near_areas(on_screen, look.shows_paper, areas_of(judged)))
        self._ask("damage", lambda: damage_of(opened))
        self._ask("steps", lambda: _step_pictures(opened, look))

    def _ask(self, kind: str, work: Callable[[], object]) -> None:
        subject = self._subject(kind)
        job = Job(kind, subject)
        if self._get(kind) is not None or job in self._jobs.running:
            return

        def answer(found: object) -> None:
            self._known[kind] = (subject, found)
            self._bus.tell("near")

        self._jobs.run(job, lambda _progress: work(), answer)


def _step_pictures(opened: OpenRendition, look: Look) -> list[Without]:
    """What each step of a rendition does: little pictures without it, and with it."""
    made = []
    recipe, rendering = opened.rendition.recipe, (opened.rendition.rendering,)
    for i, step in enumerate(recipe.steps):
        without = replace(recipe, steps=(*recipe.steps[:i], *recipe.steps[i + 1 :]))
        with_it = replace(recipe, steps=(*recipe.steps[:i], replace(step, on=True), *recipe.steps[i + 1 :]))
        one, two = (intent_pictures(opened.having(r), look, rendering, _LITTLE)[0] for r in (without, with_it))
        made.append((one, two))
    return made
