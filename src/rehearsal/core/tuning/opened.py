"""A rendition with everything it names opened: the picture in memory, the profile of the destination."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from rehearsal.core.icc import Profile
from rehearsal.core.picture.file import Picture
from rehearsal.core.picture.pyramid import Pyramid
from rehearsal.core.picture.reduce import fit_within, judging_size
from rehearsal.core.picture.space import MasterSpace, master_space
from rehearsal.core.tuning.picture import TunedPicture
from rehearsal.core.tuning.workingcopy import tunable
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.work.once import once


class OpenPicture:
    """A master in memory: as it is in the file, and as a pyramid of working RGB that can be tuned.

    Args:
        digest: of the file's bytes.
    """

    def __init__(self, picture: Picture, digest: str = "") -> None:
        self.picture, self.digest = picture, digest

    @once
    def pyramid(self) -> Pyramid:
        """The working copy with its reductions."""
        return Pyramid(*tunable(self.picture.pixels, master_space(self.picture.profile)))

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in pixels."""
        h, w = self.picture.pixels.shape[:2]
        return w, h


@dataclass(frozen=True, eq=False)
class OpenRendition:
    """What all work on a print is given: the rendition, and what it names."""

    rendition: Rendition
    open: OpenPicture
    paper: Profile

    @once
    def tuned(self) -> TunedPicture:
        """The picture with the rendition's recipe."""
        return TunedPicture(self.open.pyramid, self.rendition.recipe)

    @property
    def space(self) -> MasterSpace:
        """Space of the working pixels."""
        return self.open.pyramid.space

    @property
    def master(self) -> Profile:
        """Profile of the working pixels."""
        return self.space.profile

    @property
    def box(self) -> tuple[int, int, int, int]:
        """x, y, width, height of the crop in pixels of the master."""
        return self.rendition.frame.crop.pixels(*self.open.size)

    def judging_pixels(self) -> tuple[int, int]:
        """Width and height of the judging image."""
        _x, _y, w, h = self.box
        size = self.rendition.frame.size
        return judging_size(w, h, None if size is None else (size.width_cm, size.height_cm))

    def block(self, most: float) -> np.ndarray:
        """Tuned pixels of the crop at the judging image's resolution or less, at most so many."""
        width, height = self.judging_pixels()
        if width * height > most:
            width, height = fit_within(width, height, most)
        return self.tuned.region(self.box, width, height)

    def on(self, paper: Profile, path: str = "") -> OpenRendition:
        """The same for another destination."""
        made = replace(self.rendition, destination=Destination(paper.digest, path))
        return OpenRendition(made, self.open, paper)

    def having(self, recipe: Recipe) -> OpenRendition:
        """The same with another recipe."""
        return OpenRendition(replace(self.rendition, recipe=recipe), self.open, self.paper)

    def rendered(self, rendering: Rendering) -> OpenRendition:
        """The same with another rendering."""
        return OpenRendition(replace(self.rendition, rendering=rendering), self.open, self.paper)
