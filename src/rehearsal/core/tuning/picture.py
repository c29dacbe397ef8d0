"""The only door to tuned pixels: by region, by points, by strips, or (without places) at the nodes of a table."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from rehearsal.core.picture.pyramid import Pyramid
from rehearsal.core.picture.resize import Resizer
from rehearsal.core.picture.space import MasterSpace
from rehearsal.core.tuning.tuner import Tuner, Where
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.work.once import once

Box = tuple[float, float, float, float]


class TunedPicture:
    """A picture with a recipe. Boxes are x, y, width, height in pixels of the uncropped master.

    Args:
        pyramid: the picture in its working space, as it is.
        recipe: what is done to it.
    """

    def __init__(self, pyramid: Pyramid, recipe: Recipe) -> None:
        self.pyramid, self.recipe = pyramid, recipe

    @once
    def _tuner(self) -> Tuner:
        return Tuner(self.recipe, self.space, self.size)

    @property
    def space(self) -> MasterSpace:
        """Space of plain and tuned pixels."""
        return self.pyramid.space

    @property
    def size(self) -> tuple[int, int]:
        """Width and height of the uncropped master."""
        return self.pyramid.size

    def region(self, box: Box, width: int, height: int) -> np.ndarray:
        """Tuned 16-bit pixels (height, width, 3) of a box, as the screen sees it."""
        return self.tuned(self.pyramid.block(*box, width, height), box)

    def tuned(self, block: np.ndarray, box: Box) -> np.ndarray:
        """Tuned 16-bit pixels (h, w, 3) of plain ones that were cut out of this very box of this picture."""
        if self.recipe.is_neutral:
            return block
        h, w = block.shape[:2]
        flat = np.ascontiguousarray(block).reshape(-1, 3)
        where = None if self.recipe.is_global else Where.grid(box, w, h)
        return self._tuner.pixels(flat, where).reshape(block.shape)

    def points(self, places: np.ndarray) -> np.ndarray:
        """Tuned 16-bit pixels (m, 3) at places (m, 2), x and y in pixels of the master; the nearest inside."""
        plain = self.pyramid.pixels_at(places)
        if self.recipe.is_neutral:
            return plain
        middles = np.floor(places) + 0.5
        return self._tuner.pixels(plain, Where(middles[:, 0], middles[:, 1]))

    def sample(self, box: tuple[int, int, int, int], count: int) -> np.ndarray:
        """Random tuned 16-bit pixels (count, 3) of a box."""
        plain, places = self.pyramid.sample(*box, count)
        return plain if self.recipe.is_neutral else self._tuner.pixels(plain, Where(places[:, 0], places[:, 1]))

    def strips(
        self, box: tuple[int, int, int, int], width: int, height: int, rows: int
    ) -> Iterator[tuple[slice, np.ndarray]]:
        """Tuned 16-bit pixels of a box at width × height, from the top in strips of so many rows."""
        x, y, w, h = box
        plain = Resizer(self.pyramid.whole[y : y + h, x : x + w], self.space, width, height)
        for top in range(0, height, rows):
            part = slice(top, min(top + rows, height))
            here = (float(x), y + h * part.start / height, float(w), h * (part.stop - part.start) / height)
            yield part, self.tuned(plain.rows(part), here)

    def nodes(self, codes: np.ndarray) -> np.ndarray:
        """Tuned 16-bit values (m, 3) at the nodes of a table; only for a recipe without places."""
        return codes if self.recipe.is_neutral else self._tuner.nodes(codes)
