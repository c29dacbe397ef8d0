"""What is asked about the open picture beside its judgement: first figures, what arrived, what the screen can show of it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from rehearsal.core.errors import RehearsalError
from rehearsal.core.papers.comparing import overlap
from rehearsal.core.papers.model import paper_model
from rehearsal.core.picture.file import Picture
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.judging import FirstFigures, first_figures
from rehearsal.core.proof.screenroad import ScreenSetup
from rehearsal.core.tuning.apply import TuningMap
from rehearsal.desk.jobs import Progress
from rehearsal.desk.shelf import Shelf
from rehearsal.tasks.arrival import Arrival, look_at_picture
from rehearsal.tasks.desk_work import LoadedPicture
from rehearsal.tasks.scouting import OpenPicture
from rehearsal.workbook.store import Workbook

_FIRST_PIXELS = 4000


@dataclass(frozen=True)
class ScreenCover:
    """How much of a paper's gamut a screen holds, per cent, for one pair of profiles."""

    paper: str
    screen: str
    share: float


class Inquiries(Shelf):
    """Answers that belong to the open picture; each is asked for in the background and kept until the picture changes."""

    first_changed = pyqtSignal()
    arrival_changed = pyqtSignal()

    def __init__(self, workbook: Workbook, parent: QObject | None = None) -> None:
        super().__init__(workbook, parent)
        self.loaded: LoadedPicture | None = None
        self.first: FirstFigures | None = None
        self.arrival: Arrival | None = None
        self.cover: ScreenCover | None = None

    def setup(self) -> ScreenSetup | None:
        """What the screen road depends on; known by the model that builds on this."""
        return None

    def open_picture(self) -> OpenPicture | None:
        """The open take's picture as the scout and the reach take it."""
        if self.take is None or self.loaded is None:
            return None
        return OpenPicture(self.loaded.pyramid, self.take.crop, self.take.tuning, self.take.size)

    def say_error(self, error: RehearsalError) -> None:
        """Show an error of the user's world as a sentence."""
        text = error.sentence()
        self.said.emit(text[:1].upper() + text[1:] + ".")

    def ask_first(self) -> None:
        """First figures of the open take from a sample, while the judgement is being made."""
        picture, setup, take = self.open_picture(), self.setup(), self.take
        if picture is None or setup is None or take is None:
            return
        self.first = None

        def work(_progress: Progress) -> FirstFigures:
            area = picture.crop.pixels(*picture.pyramid.size)
            values = picture.tuned(picture.pyramid.sample(*area, _FIRST_PIXELS)[None])[0]
            return first_figures(values, picture.master, setup.paper, take.rendering)

        self.jobs.run("first", work, self._on_first, quick=True)

    def ask_first_of(self, picture: Picture, paper_path: str) -> None:
        """First figures of a picture that was read this moment, while the screen's reductions are still being made."""
        take = self.take
        if take is None or not picture.profile.is_matrix:
            return

        def work(_progress: Progress) -> FirstFigures:
            x, y, w, h = take.crop.pixels(picture.info.width, picture.info.height)
            rng = np.random.default_rng(8)
            rows, columns = rng.integers(y, y + h, _FIRST_PIXELS), rng.integers(x, x + w, _FIRST_PIXELS)
            values = picture.pixels[rows, columns]
            if not take.tuning.is_neutral:
                values = TuningMap(take.tuning, master_space(picture.profile)).pixels(values[None])[0]
            return first_figures(values, picture.profile, self.profile(paper_path), take.rendering)

        self.jobs.run("first", work, self._on_first)

    def _on_first(self, found: FirstFigures) -> None:
        self.first = found
        self.first_changed.emit()

    def ask_arrival(self) -> None:
        """Clipping, sharpening and wide colours inside the crop."""
        loaded, take, setup = self.loaded, self.take, self.setup()
        if loaded is None or take is None:
            return
        picture, crop = loaded.picture, take.crop
        screen = setup.screen if setup else None
        opened = self.open_picture()
        assert opened is not None

        def answer(found: Arrival) -> None:
            self.arrival = found
            self.arrival_changed.emit()

        self.jobs.run("arrival", lambda p: look_at_picture(picture, crop, opened, screen, p), answer)

    def ask_cover(self) -> None:
        """How much of the paper's gamut this screen can show."""
        setup = self.setup()
        if setup is None:
            return
        key = (setup.paper.digest, setup.screen.digest)
        if self.cover is not None and (self.cover.paper, self.cover.screen) == key:
            return
        self.cover = None

        def work(_progress: Progress) -> ScreenCover:
            share = overlap(paper_model(setup.screen).solid, paper_model(setup.paper).solid)[0]
            return ScreenCover(*key, share)

        def answer(found: ScreenCover) -> None:
            self.cover = found
            self.arrival_changed.emit()

        self.jobs.run("cover", work, answer)
