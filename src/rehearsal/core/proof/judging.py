"""The whole judgement of one picture for one paper: every figure of the judge command and the Judge station."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile
from rehearsal.core.papers.model import paper_model
from rehearsal.core.picture.reduce import fit_within, reduce_to
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.advice import (
    CANDIDATES,
    Advice,
    CandidateFigures,
    Compensation,
    advise,
    candidate_figures,
    compensation_effect,
)
from rehearsal.core.proof.areas import Area, _shrunk, find_areas
from rehearsal.core.proof.beyond import LIMIT, Beyond, colder_than_paper, exact_shares, find_beyond, full_share
from rehearsal.core.proof.chain import PrintChain, Rendering, effective
from rehearsal.core.proof.field import delta_field
from rehearsal.core.proof.modelling import MODELLING_PIXELS, MasterWindows, Modelling
from rehearsal.core.proof.printmap import print_image

Progress = Callable[[float, str], None]
_SAMPLE = 12_000
_MANY = 500_000


def _silent(_share: float, _text: str) -> None:
    return None


@dataclass(frozen=True)
class Spread:
    """Mean, median, 95th and 99th percentile of a difference."""

    mean: float
    median: float
    p95: float
    p99: float

    @classmethod
    def of(cls, values: np.ndarray) -> Spread:
        """Summary of an array."""
        p50, p95, p99 = np.percentile(values, [50, 95, 99])
        return cls(float(values.mean()), float(p50), float(p95), float(p99))


@dataclass(frozen=True)
class Judgement:
    """Everything known about a picture on a paper; shares are per cent of the judging image.

    ``labels`` (h, w) number the areas from 1; ``beyond`` holds δ and causes per pixel.
    """

    rendering: Rendering
    limit: float
    beyond: Beyond
    share_full: float | None
    colder: float
    screen_print: float | None
    screen_master: float | None
    change: Spread
    fitted_change: Spread
    areas: tuple[Area, ...]
    specks: float
    labels: np.ndarray
    flat_all: float
    flat_depths: float
    candidates: tuple[CandidateFigures, ...]
    advice: Advice
    shadow_share: float
    modelling: float | None
    compensation: tuple[Compensation, ...] = ()


@dataclass(frozen=True)
class JudgeRequest:
    """What to judge.

    Attributes:
        pixels: judging image (h, w, channels) uint16 in the master's space.
        master, paper: profiles; screen: monitor profile or None.
        full: all pixels inside the crop for the full-resolution share, or None to leave it out.
        tuned: judging image after tuning, when the take has any.
        prescribed: the rendering is a lab's wish.
        default: the rendering that stays when candidates are close.
    """

    pixels: np.ndarray
    master: Profile
    paper: Profile
    rendering: Rendering = Rendering()  # noqa: RUF009
    screen: Profile | None = None
    limit: float = LIMIT
    full: np.ndarray | None = None
    tuned: np.ndarray | None = None
    default: Rendering = Rendering()  # noqa: RUF009
    prescribed: bool = False


def _candidate_list(request: JudgeRequest) -> list[Rendering]:
    wanted = [*CANDIDATES]
    for extra in (request.default, effective(request.rendering, request.paper)):
        if extra not in wanted:
            wanted.append(extra)
    return wanted


class _Small:
    """The modelling-size image and its prints."""

    def __init__(self, request: JudgeRequest) -> None:
        space = master_space(request.master)
        h, w = request.pixels.shape[:2]
        size = fit_within(w, h, MODELLING_PIXELS)
        self.pixels = reduce_to(request.pixels, space, *size)
        self.tuned = self.pixels if request.tuned is None else reduce_to(request.tuned, space, *size)
        self.lab = space.to_lab(self.pixels)
        self.windows = MasterWindows(self.lab)

        self._made: dict[Rendering, tuple[np.ndarray, Modelling]] = {}

    def printed(self, chain: PrintChain) -> tuple[np.ndarray, Modelling]:
        """The print and how it keeps the master's modelling; each rendering is made once."""
        if chain.rendering not in self._made:
            lab = print_image(chain, self.tuned)
            self._made[chain.rendering] = lab, self.windows.against(lab)
        return self._made[chain.rendering]


def judge(request: JudgeRequest, progress: Progress = _silent) -> Judgement:
    """Compute every figure; progress is told the share done (0 to 1) and may raise to stop."""
    space, model = master_space(request.master), paper_model(request.paper)
    field = delta_field(request.paper)
    tuned = request.pixels if request.tuned is None else request.tuned
    progress(0.02, "reading colours")
    lab = space.to_lab(request.pixels)
    wanted = lab if request.tuned is None else space.to_lab(tuned)
    progress(0.1, "what lies beyond the paper")
    beyond = find_beyond(wanted, field, request.limit)
    chain = PrintChain(request.master, request.paper, request.rendering)
    progress(0.3, "what the print changes")
    printed = print_image(chain, tuned)
    change = delta_e_2000(lab, printed)
    fitted = delta_e_2000(chain.fitted_master(lab), printed)
    progress(0.5, "modelling")
    small = _Small(request)
    modelling = small.printed(chain)[1]
    progress(0.6, "areas")
    areas, specks, labels = find_areas(wanted, beyond, field, request.limit, modelling)
    progress(0.75, "rendering intents")
    figures, advice = _compare(request, small, _shrunk(labels, modelling.weight.shape) > 0)
    progress(0.9, "the screen")
    screen = _beyond_screen(request, lab, printed)
    full = None if request.full is None else full_share(request.full, space.to_lab, field, request.limit)
    depths = small.lab[..., 0] < 20
    return Judgement(
        chain.rendering, request.limit, beyond, full, colder_than_paper(wanted, model.white), *screen,
        Spread.of(change), Spread.of(fitted), tuple(areas), specks, labels, modelling.flat_share(),
        modelling.flat_share(depths), tuple(figures), advice, float((lab[..., 0] < 20).mean() * 100), modelling.mean(),
        _compensation(request, small),
    )  # fmt: skip


def more_candidates(request: JudgeRequest, labels: np.ndarray, renderings: list[Rendering]) -> list[CandidateFigures]:
    """The same figures for other renderings, for the curious; ``labels`` are the judgement's areas (h, w)."""
    small, model = _Small(request), paper_model(request.paper)
    areas = _shrunk(labels, small.lab.shape[:2]) > 0
    made = []
    for rendering in renderings:
        chain = PrintChain(request.master, request.paper, effective(rendering, request.paper))
        printed, modelling = small.printed(chain)
        fitted = chain.fitted_master(small.lab)
        made.append(candidate_figures(model, chain.rendering, small.lab, fitted, printed, modelling, areas))
    return made


def _compensation(request: JudgeRequest, small: _Small) -> tuple[Compensation, ...]:
    """What compensation does with the two intents that are advised, on a sample of the small image."""
    flat = small.tuned.reshape(-1, small.tuned.shape[-1])
    sample = flat[:: max(1, len(flat) // _SAMPLE)] / 65535.0
    made = []
    for intent in ("relative", "perceptual"):
        on, off = (
            PrintChain(request.master, request.paper, Rendering(intent, c)).print_lab(sample) for c in (True, False)
        )
        made.append(compensation_effect(intent, on, off))
    return tuple(made)


@dataclass(frozen=True)
class FirstFigures:
    """A first estimate from a sample: shares in per cent, in the order of CAUSES, and the mean raw change."""

    by_cause: tuple[float, float, float]
    change: float

    @property
    def colour(self) -> float:
        """Share beyond in colour."""
        return self.by_cause[1] + self.by_cause[2]


def first_figures(
    values: np.ndarray, master: Profile, paper: Profile, rendering: Rendering, limit: float = LIMIT
) -> FirstFigures:
    """First figures of a sample of pixels (m, channels) uint16, exact for these pixels.

    With 6,000 pixels the standard error of a share of 10 % is 0.4 points.
    """
    lab = master_space(master).to_lab(values[None])[0].astype(np.float64)
    dark, light, strong = (float(v) for v in exact_shares(paper_model(paper), lab, limit)[0])
    printed = PrintChain(master, paper, rendering).printed(values / 65535.0)
    return FirstFigures((dark, light, strong), float(delta_e_2000(lab, printed).mean()))


def _compare(request: JudgeRequest, small: _Small, areas: np.ndarray) -> tuple[list[CandidateFigures], Advice]:
    model = paper_model(request.paper)
    figures, prints = [], []
    for rendering in _candidate_list(request):
        chain = PrintChain(request.master, request.paper, rendering)
        printed, modelling = small.printed(chain)
        fitted = chain.fitted_master(small.lab)
        figures.append(candidate_figures(model, rendering, small.lab, fitted, printed, modelling, areas))
        prints.append(printed)
    # what was only asked for (saturation, absolute) is shown beside the candidates, never advised
    at = [i for i, f in enumerate(figures) if f.rendering in (*CANDIDATES, request.default)]
    return figures, advise([figures[i] for i in at], [prints[i] for i in at], request.default, request.prescribed)


def _beyond_screen(request: JudgeRequest, lab: np.ndarray, printed: np.ndarray) -> tuple[float | None, float | None]:
    if request.screen is None:
        return None, None
    field = delta_field(request.screen)
    if lab.shape[0] * lab.shape[1] > _MANY:  # every second row and column: within 0.05 points on all demo pictures
        lab, printed = np.ascontiguousarray(lab[::2, ::2]), np.ascontiguousarray(printed[::2, ::2])
    return (
        find_beyond(printed, field, request.limit).share,
        find_beyond(lab, field, request.limit).share,
    )
