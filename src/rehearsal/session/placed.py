"""Visible pixels of a recipe that treats places of the picture otherwise: exact at rest, between weights while it moves."""

from __future__ import annotations

from collections.abc import Hashable
from typing import Protocol

import numpy as np

from rehearsal.core.proof.movingroad import Paints
from rehearsal.core.proof.screenroad import ScreenRoad
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.tuning.places import levels, weight
from rehearsal.core.tuning.tuner import Where
from rehearsal.core.values.place import Place
from rehearsal.core.work.once import LastUsed
from rehearsal.session.bus import Bus
from rehearsal.session.jobs import Job, Jobs

#: Steps of a place's weight at which it is tuned while it moves.
_BETWEEN = 4


class Painted(Protocol):
    """Who knows what is painted on each side."""

    @property
    def previews(self) -> bool:
        """True while a tuning is shown that is not kept."""
        ...

    def of_side(self, content: int) -> OpenRendition | None:
        """What is painted of the take (1), or beside it (0) in a comparison."""
        ...


class PlacedPixels:
    """Owner of the last blocks with their places."""

    def __init__(self, bus: Bus, jobs: Jobs, sides: Painted) -> None:
        self._bus, self._jobs, self._sides = bus, jobs, sides
        #: The last two blocks, by what they are of.
        self._placed: dict[Hashable, np.ndarray] = {}
        self._between: dict[int, tuple[Hashable, ScreenRoad, Paints]] = {}
        self._levels: LastUsed[np.ndarray] = LastUsed(2)

    def block(self, block: np.ndarray, box: tuple[float, float, float, float], content: int = 1) -> np.ndarray | None:
        """Tuned pixels of a visible block when the recipe has places; None until they are made (``road`` tells of it)."""
        shown = self._sides.of_side(content)
        if shown is None or shown.rendition.recipe.is_global:
            return None
        key = (shown.rendition.recipe, box, block.shape, id(shown.open), shown.source.digest)
        if key in self._placed:
            return self._placed[key]
        if self._sides.previews and len(shown.rendition.recipe.placed) == 1:
            return None  # while it moves, :meth:`between` paints it

        def answer(made: np.ndarray) -> None:
            kept = [*self._placed.items()][-1:]
            self._placed = {**dict(kept), key: made}
            self._bus.tell("road")

        job = Job("placed", key)
        if job not in self._jobs.running:
            self._jobs.run(job, lambda _p: shown.tuned.tuned(block, box), answer, quick=True)
        return None

    def between(
        self, road: ScreenRoad, block: np.ndarray, box: tuple[float, float, float, float], content: int = 1
    ) -> Paints | None:
        """Painter of a visible block whose recipe has one place, until its exact pixels are made; None for any other."""
        shown = self._sides.of_side(content)
        if shown is None or len(shown.rendition.recipe.placed) != 1:
            return None
        recipe, size = shown.rendition.recipe, shown.tuned.size
        key = (recipe, box, block.shape, id(shown.open))
        known = self._between.get(id(road))
        if known is None or known[0] != key or known[1] is not road:
            place = recipe.placed[0].place
            assert place is not None
            h, w = block.shape[:2]
            made = self._levels.get(
                (place, box, h, w, size), lambda: _levels(place, Where.grid(box, w, h), (h, w), max(size))
            )
            pictures = [shown.having(recipe.everywhere_at(i / _BETWEEN)).tuned for i in range(_BETWEEN + 1)]
            known = (key, road, road.between(pictures, made))
            others = {number: each for number, each in self._between.items() if each[0] == key}
            self._between = {**others, id(road): known}
        return known[2]


def _levels(place: Place, where: Where, shape: tuple[int, int], long: int) -> np.ndarray:
    """Steps (h, w) of a place's weight at pixels of a master whose long side has so many."""
    return levels(weight(place, where.x / long, where.y / long), _BETWEEN).reshape(shape)
