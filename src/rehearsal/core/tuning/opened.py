"""A rendition with everything it names opened: the picture in memory, the profile of the destination."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.file import Picture
from rehearsal.core.picture.pyramid import Pyramid
from rehearsal.core.picture.reduce import fit_within, judging_size
from rehearsal.core.picture.space import MasterSpace
from rehearsal.core.proof.chain import PrintChain
from rehearsal.core.tuning.picture import TunedPicture
from rehearsal.core.tuning.tone import cut_shares, pulled
from rehearsal.core.tuning.workingcopy import reading_intent, tunable, working_copy_space
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.work.once import LastUsed, once

_CUT_SAMPLE = 20_000


class OpenPicture:
    """A master in memory: as it is in the file, and as a pyramid of working RGB that can be tuned.

    Args:
        digest: of the file's bytes.
    """

    def __init__(self, picture: Picture, digest: str = "") -> None:
        self.picture, self.digest = picture, digest
        self._readings: LastUsed[Pyramid] = LastUsed(2)

    @once
    def pyramid(self) -> Pyramid:
        """M: the working copy, read relative colorimetric, with its reductions."""
        profile = self.picture.profile
        return Pyramid(tunable(self.picture.pixels, profile), working_copy_space(profile))

    def space_for(self, intent: str) -> MasterSpace:
        """Space of :meth:`reading`."""
        return working_copy_space(self.picture.profile, intent)

    def reading(self, intent: str) -> Pyramid:
        """The working copy as an intent reads the file's pixels; the same as :attr:`pyramid` but for tables of their own."""
        profile, read = self.picture.profile, reading_intent(self.picture.profile, intent)
        if read == "relative":
            return self.pyramid
        return self._readings.get(
            read, lambda: Pyramid(tunable(self.picture.pixels, profile, read), self.space_for(read))
        )

    def has_reading(self, intent: str) -> bool:
        """True when :meth:`reading` is there at once."""
        read = reading_intent(self.picture.profile, intent)
        return read == "relative" or self._readings.peek(read) is not None

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

    @property
    def reading(self) -> Pyramid:
        """The picture as the rendition's intent reads it."""
        return self.open.reading(self.rendition.read_intent)

    @once
    def tuned(self) -> TunedPicture:
        """What is printed: the picture, read by the rendition's intent, with its recipe."""
        return TunedPicture(self.reading, self.rendition.recipe)

    @once
    def wanted(self) -> TunedPicture:
        """What is wanted: M with the recipe. Other pixels than :attr:`tuned` only where the master has tables of its own."""
        pyramid = self.open.pyramid
        return self.tuned if self.reading is pyramid else TunedPicture(pyramid, self.rendition.recipe)

    @property
    def space(self) -> MasterSpace:
        """Space of M and of what is wanted."""
        return self.open.space_for("relative")

    @property
    def source(self) -> Profile:
        """Profile of what is printed, before it is converted."""
        return self.open.space_for(self.rendition.read_intent).profile

    @property
    def via(self) -> Profile | None:
        """Working space the pixels go through on their way to the printer, or None."""
        name = self.rendition.hand_over.via
        return working_space(name) if name else None

    def chain(self, source: Profile | None = None) -> PrintChain:
        """From what is printed to the print; ``source`` is the file's own profile where its very pixels are sent."""
        return PrintChain(source or self.source, self.paper, self.rendition.rendering, self.via)

    @once
    def cut(self) -> tuple[float, float]:
        """Per cent of the crop that ends pulled in make plain black and plain white, from a sample of 20,000 pixels."""
        values = self.rendition.recipe.total
        if pulled(values) == (0.0, 100.0):
            return 0.0, 0.0
        pixels, _places = self.open.pyramid.sample(*self.box, _CUT_SAMPLE)
        return cut_shares(self.space.to_lab(pixels[None])[0, :, 0].astype(np.float64), values)

    @property
    def box(self) -> tuple[int, int, int, int]:
        """x, y, width, height of the crop in pixels of the master."""
        return self.rendition.frame.crop.pixels(*self.open.size)

    def judging_pixels(self) -> tuple[int, int]:
        """Width and height of the judging image."""
        _x, _y, w, h = self.box
        size = self.rendition.frame.size
        return judging_size(w, h, None if size is None else (size.width_cm, size.height_cm))

    def block(self, most: float, of: TunedPicture | None = None) -> np.ndarray:
        """Wanted pixels of the crop (or those ``of`` :attr:`tuned`) at the judging image's resolution or less, at most so many."""
        width, height = self.judging_pixels()
        if width * height > most:
            width, height = fit_within(width, height, most)
        return (of or self.wanted).region(self.box, width, height)

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
