"""A recipe ready for the pixels of one picture: what each pixel gets depends on its colour and on where it lies."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.picture.space import MasterSpace
from rehearsal.core.tuning.apply import Applied
from rehearsal.core.tuning.places import weight
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.work.once import once
from rehearsal.core.work.pool import in_slices

_ROWS = 1 << 18
#: Weights of places are kept to this many steps: finer than any screen or print can show.
_WEIGHTS = 255


@dataclass(frozen=True)
class Where:
    """Where pixels lie: x and y (m,) of their middles in pixels of the uncropped master."""

    x: np.ndarray
    y: np.ndarray

    @classmethod
    def grid(cls, box: tuple[float, float, float, float], width: int, height: int) -> Where:
        """A picture of width × height pixels made from a box (x, y, width, height) of the master, line by line."""
        x = box[0] + (np.arange(width) + 0.5) * box[2] / width
        y = box[1] + (np.arange(height) + 0.5) * box[3] / height
        return cls(np.tile(x, height), np.repeat(y, width))

    def part(self, piece: slice) -> Where:
        """Some of them."""
        return Where(self.x[piece], self.y[piece])


class Tuner:
    """A recipe in one RGB working space.

    Args:
        size: width and height of the uncropped master in pixels.
    """

    def __init__(self, recipe: Recipe, space: MasterSpace, size: tuple[int, int]) -> None:
        self.recipe, self.space = recipe, space
        self._long = max(size)

    @once
    def _everywhere(self) -> Applied:
        return Applied([self.recipe.total], self.space)

    def _rows_at(self, where: Where) -> tuple[list[Values], np.ndarray]:
        """The different sums of values that occur, and which of them each pixel takes (m,)."""
        x, y = where.x / self._long, where.y / self._long
        shares: list[tuple[int, ...]] = [()]
        which = np.zeros(len(x), dtype=np.int64)
        for step in self.recipe.placed:
            assert step.place is not None
            code = which * (_WEIGHTS + 1) + np.round(weight(step.place, x, y) * _WEIGHTS).astype(np.int64)
            found, which = np.unique(code, return_inverse=True)
            shares = [(*shares[c // (_WEIGHTS + 1)], c % (_WEIGHTS + 1)) for c in found.tolist()]
        return [self._sum(each) for each in shares], which

    def _sum(self, shares: tuple[int, ...]) -> Values:
        made = Values()
        for step in self.recipe.steps:
            if step.place is None and step.acts:
                made = made.plus(step.values, step.strength)
        for step, share in zip(self.recipe.placed, shares, strict=True):
            made = made.plus(step.values, step.strength * share / _WEIGHTS)
        return made.clamped()

    def _codes(self, codes: np.ndarray, where: Where | None) -> np.ndarray:
        if where is None or self.recipe.is_global:
            return self._everywhere.codes(codes)
        rows, which = self._rows_at(where)
        return Applied(rows, self.space).codes(codes, which)

    def pixels(self, flat: np.ndarray, where: Where | None) -> np.ndarray:
        """Tuned 16-bit pixels (m, 3) of 16-bit pixels (m, 3); where they lie matters to a recipe with places only."""
        out = np.empty_like(flat)

        def work(part: slice) -> None:
            for start in range(part.start, part.stop, _ROWS):
                piece = slice(start, min(start + _ROWS, part.stop))
                out[piece] = self._codes(flat[piece], None if where is None else where.part(piece))

        in_slices(len(flat), work)
        return out

    def nodes(self, codes: np.ndarray) -> np.ndarray:
        """Tuned 16-bit values (m, 3) at the nodes of a table; only for a recipe that treats every pixel alike."""
        if not self.recipe.is_global:
            raise ValueError("a recipe with places has no table")
        return self.pixels(codes, None)
