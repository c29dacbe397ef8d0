"""The whole judgement of one picture for one paper: every figure of the judge command and the Judge station."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile
from rehearsal.core.papers.model import paper_model
from rehearsal.core.picture.reduce import fit_within, reduce_to
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.advice import (
    CANDIDATES,
    CandidateFigures,
    Compensation,
    Rehearsed,
    candidate_figures,
    candidates_for,
    compensation_effect,
    strong_parts,
)
from rehearsal.core.proof.areas import Area, _shrunk, find_areas, near_white_area
from rehearsal.core.proof.beyond import LIMIT, Beyond, Lost, exact_losses, find_beyond, full_share, near_whites
from rehearsal.core.proof.chain import PrintChain, effective, fitted_master
from rehearsal.core.proof.contest import Advice, Contest, advise
from rehearsal.core.proof.huelosses import HueLosses
from rehearsal.core.proof.lattice import DeltaLattice, delta_lattice
from rehearsal.core.proof.modelling import MODELLING_PIXELS, MasterWindows
from rehearsal.core.proof.printmap import print_image
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.work.once import once
from rehearsal.core.work.pool import side_by_side
from rehearsal.core.work.progress import Progress, silent

#: Chroma C* from which something has a colour.
GREY = 2.0
_SAMPLE = 12_000
_MANY = 500_000


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
class Cut:
    """What going through a working space changes of the print: per cent above the limit, and the 99th percentile of ΔE₀₀."""

    share: float
    p99: float


@dataclass(frozen=True)
class Judgement:
    """Everything known about a rendition; shares are per cent of the judging image.

    ``rendering`` is what the engine really did of the rendition's.
    ``cut``: what a working space on the way takes from the print; None without one.
    ``labels`` (h, w) number the areas from 1; ``beyond`` holds δ and causes per pixel, ``hues`` what they lose by name.
    """

    rendition: Rendition
    rendering: Rendering
    limit: float
    beyond: Beyond
    share_full: float | None
    colder: float
    near_white: Area | None
    screen_print: float | None
    screen_master: float | None
    change: Spread
    fitted_change: Spread
    areas: tuple[Area, ...]
    specks: float
    labels: np.ndarray
    hues: HueLosses
    flat_all: float
    flat_depths: float
    candidates: tuple[CandidateFigures, ...]
    advice: Advice
    shadow_share: float
    modelling: float | None
    is_grey: bool = False
    compensation: tuple[Compensation, ...] = ()
    cut: Cut | None = None


@dataclass(frozen=True)
class Sent:
    """Pixels (h, w, channels) uint16 that are printed, before they are converted, and their profile."""

    pixels: np.ndarray
    profile: Profile


@dataclass(frozen=True)
class JudgeRequest:
    """The pixels of a rendition that is to be judged, as the task that reads them hands them over.

    Attributes:
        rendition: what is judged; the judgement answers with it.
        pixels: judging image (h, w, channels) uint16 in the master's space.
        master, paper: profiles; screen: monitor profile or None.
        full: all pixels inside the crop for the full-resolution share, or None to leave it out.
        tuned: judging image after tuning, when the take has any.
        read: by intent, what is printed where the intent reads the master by a table of its own; else it is ``tuned``.
        prescribed: the rendering is a lab's wish.
        default: the rendering that stays when nothing visibly speaks against it.
        via: a working space the pixels go through on their way to the printer.
    """

    rendition: Rendition
    pixels: np.ndarray
    master: Profile
    paper: Profile
    screen: Profile | None = None
    limit: float = LIMIT
    full: np.ndarray | None = None
    tuned: np.ndarray | None = None
    read: Mapping[str, Sent] = field(default_factory=dict)
    default: Rendering = Rendering()  # noqa: RUF009
    prescribed: bool = False
    via: Profile | None = None

    def sent(self, intent: str) -> Sent:
        """What is printed with an intent."""
        return self.read.get(intent) or Sent(self.pixels if self.tuned is None else self.tuned, self.master)

    def chain(self, rendering: Rendering) -> PrintChain:
        """From what is printed to the print."""
        return PrintChain(self.sent(rendering.intent).profile, self.paper, rendering, self.via)


def _candidate_list(request: JudgeRequest) -> list[Rendering]:
    wanted = [*CANDIDATES]
    for extra in (request.default, effective(request.rendition.rendering, request.paper)):
        if extra not in wanted:
            wanted.append(extra)
    return wanted


class _Small:
    """The modelling-size image and its prints."""

    def __init__(self, request: JudgeRequest) -> None:
        self._request, space = request, master_space(request.master)
        h, w = request.pixels.shape[:2]
        self._size = fit_within(w, h, MODELLING_PIXELS)
        pixels = reduce_to(request.pixels, space, *self._size)
        self._sent = {id(request.pixels): pixels}
        self.lab = space.to_lab(pixels)
        self.windows = MasterWindows(self.lab)
        self.strong = strong_parts(self.lab)
        self._made: dict[Rendering, Rehearsed] = {}

    @once
    def _fitted(self) -> np.ndarray:
        return fitted_master(self.lab, self._request.master, self._request.paper)

    def sent(self, intent: str) -> np.ndarray:
        """What is printed with an intent, at modelling size."""
        whole = self._request.sent(intent)
        if id(whole.pixels) not in self._sent:
            self._sent[id(whole.pixels)] = reduce_to(whole.pixels, master_space(whole.profile), *self._size)
        return self._sent[id(whole.pixels)]

    def sample(self, intent: str) -> np.ndarray:
        """Some of it (m, channels), 0 to 1."""
        return _some(self.sent(intent)) / 65535.0

    def print_all(self) -> None:
        """Make the prints of all candidates."""
        for rendering in _candidate_list(self._request):
            self.printed(self._request.chain(rendering))

    def printed(self, chain: PrintChain) -> Rehearsed:
        """The print and what it changes; each rendering is made once."""
        if chain.rendering not in self._made:
            lab = print_image(chain, self.sent(chain.rendering.intent))
            raw, fitted = delta_e_2000(self.lab, lab), delta_e_2000(self._fitted, lab)
            self._made[chain.rendering] = Rehearsed(chain.rendering, lab, self.windows.against(lab), raw, fitted)
        return self._made[chain.rendering]


def judge(request: JudgeRequest, progress: Progress = silent) -> Judgement:
    """Compute every figure; progress is told the share done (0 to 1) and may raise to stop."""
    progress(0.02, "what lies beyond the paper")
    chain = request.chain(request.rendition.rendering)
    lattice = delta_lattice(request.paper)
    # each pair of works takes about as long as the other, so that no core waits
    colours, (small, full) = side_by_side([lambda: _Colours(request, lattice), lambda: _begun(request, chain, lattice)])
    modelling = small.printed(chain).modelling
    progress(0.4, "areas and what the print changes")
    (areas, specks, labels), (change, compensation) = side_by_side([
        lambda: find_areas(colours.wanted, colours.beyond, lattice, request.limit, modelling),
        lambda: _changed(request, small, chain, lattice.model.bare_paper),
    ])  # fmt: skip
    progress(0.8, "rendering intents")
    figures, advice = _compare(request, small, colours, _shrunk(labels, modelling.weight.shape) > 0)
    depths = small.lab[..., 0] < 20
    return Judgement(
        rendition=request.rendition,
        rendering=chain.rendering,
        limit=request.limit,
        beyond=colours.beyond,
        share_full=full,
        colder=change.near_whites.share,
        near_white=change.near_white,
        screen_print=change.screen_print,
        screen_master=change.screen_master,
        change=change.raw,
        fitted_change=change.fitted,
        areas=tuple(areas),
        specks=specks,
        labels=labels,
        hues=colours.hues,
        flat_all=modelling.flat_share(),
        flat_depths=modelling.flat_share(depths),
        candidates=tuple(figures),
        advice=advice,
        shadow_share=colours.shadows,
        modelling=modelling.mean(),
        is_grey=colours.is_grey,
        compensation=compensation,
        cut=_cut(request, small),
    )


def is_grey(lab: np.ndarray) -> bool:
    """True for a picture (h, w, 3) in which fewer than 1 pixel in 200 has a chroma of 2 or more."""
    return bool(np.mean(np.hypot(lab[..., 1], lab[..., 2]) >= GREY) < 0.005)


class _Colours:
    """What the judging image (h, w, 3) is, M as it is wanted, and what of that lies beyond."""

    def __init__(self, request: JudgeRequest, lattice: DeltaLattice) -> None:
        to_lab = master_space(request.master).to_lab
        lab = to_lab(request.pixels)
        self.is_grey, self.shadows = is_grey(lab), float((lab[..., 0] < 20).mean() * 100)
        if request.tuned is not None:
            del lab  # large: it goes before the next one comes
            lab = to_lab(request.tuned)
        self.wanted = lab
        self.beyond = find_beyond(self.wanted, lattice, request.limit)
        self.hues = HueLosses(self.wanted, self.beyond)
        # advice is not given by the limit somebody likes to look at
        usual = self.beyond if request.limit == LIMIT else find_beyond(self.wanted, lattice, LIMIT)
        self.loses_depth = usual.lost.depth


class _Change:
    """What the print changes of the thinned picture, and the shares of print and master beyond the screen, per cent."""

    def __init__(self, thin: JudgeRequest, chain: PrintChain, white: np.ndarray | None) -> None:
        to_lab = master_space(thin.master).to_lab
        lab, printed = to_lab(thin.pixels), print_image(chain, thin.sent(chain.rendering.intent).pixels)
        self.raw = Spread.of(delta_e_2000(lab, printed))
        self.fitted = Spread.of(delta_e_2000(fitted_master(lab, thin.master, thin.paper), printed))
        wanted = lab if thin.tuned is None else to_lab(thin.tuned)
        self.near_whites = near_whites(wanted, white)
        self.near_white = near_white_area(wanted, self.near_whites)
        lattice = None if thin.screen is None else delta_lattice(thin.screen)
        self.screen_print, self.screen_master = (
            None if lattice is None else find_beyond(each, lattice, thin.limit).share for each in (printed, lab)
        )


def _thinned(request: JudgeRequest) -> JudgeRequest:
    """Every second row and column above half a megapixel: means, percentiles and shares stay within 0.05 (tested)."""
    if request.pixels.shape[0] * request.pixels.shape[1] <= _MANY:
        return request
    pixels, tuned = (None if v is None else np.ascontiguousarray(v[::2, ::2]) for v in (request.pixels, request.tuned))
    assert pixels is not None
    read = {k: Sent(np.ascontiguousarray(s.pixels[::2, ::2]), s.profile) for k, s in request.read.items()}
    return replace(request, pixels=pixels, tuned=tuned, read=read)


def _begun(request: JudgeRequest, chain: PrintChain, lattice: DeltaLattice) -> tuple[_Small, float | None]:
    """The small image with the print that was chosen; the share of all pixels in per cent, or instead of it the other prints."""
    small = _Small(request)
    small.printed(chain)
    if request.full is None:
        small.print_all()
        return small, None
    return small, full_share(request.full, master_space(request.master).to_lab, lattice, request.limit)


def _changed(
    request: JudgeRequest, small: _Small, chain: PrintChain, white: np.ndarray | None
) -> tuple[_Change, tuple[Compensation, ...]]:
    """What the print changes, and what compensation does; the other candidates' prints of the small image are made."""
    small.print_all()
    return _Change(_thinned(request), chain, white), _compensation(request, small)


def more_candidates(request: JudgeRequest, labels: np.ndarray, renderings: list[Rendering]) -> list[CandidateFigures]:
    """The same figures for other renderings, for the curious; ``labels`` are the judgement's areas (h, w)."""
    small, model = _Small(request), paper_model(request.paper)
    areas = _shrunk(labels, small.lab.shape[:2]) > 0
    made = []
    for rendering in renderings:
        chain = request.chain(effective(rendering, request.paper))
        made.append(candidate_figures(model, small.printed(chain), small.lab, areas, small.strong))
    return made


def _some(image: np.ndarray) -> np.ndarray:
    """A sample (m, channels) of an image (h, w, channels)."""
    flat = image.reshape(-1, image.shape[-1])
    return flat[:: max(1, len(flat) // _SAMPLE)]


def _compensation(request: JudgeRequest, small: _Small) -> tuple[Compensation, ...]:
    """What compensation does with the two intents that are advised, on a sample of the small image."""
    relative = (_some(small.printed(request.chain(Rendering("relative", c))).printed) for c in (True, False))
    by_relative = compensation_effect("relative", *relative)
    on, off = (request.chain(Rendering("perceptual", c)) for c in (True, False))
    if on.rendering == off.rendering:
        return by_relative, Compensation("perceptual", 0.0, 0.0)
    sample = small.sample("perceptual")
    return by_relative, compensation_effect("perceptual", on.print_lab(sample), off.print_lab(sample))


def _cut(request: JudgeRequest, small: _Small) -> Cut | None:
    """The print as it is handed over against the one converted straight, on a sample of the small image."""
    if request.via is None:
        return None
    through = request.chain(request.rendition.rendering)
    ways = (through, PrintChain(through.space.profile, request.paper, through.rendering))
    sample = small.sample(through.rendering.intent)
    change = delta_e_2000(*(way.printed(sample) for way in ways))
    return Cut(float(np.mean(change > request.limit) * 100), float(np.percentile(change, 99)))


@dataclass(frozen=True)
class FirstFigures:
    """A first estimate from a sample: what is lost, and the mean raw change."""

    lost: Lost
    change: float


def first_figures(wanted: Sent, sent: Sent, chain: PrintChain, limit: float = LIMIT) -> FirstFigures:
    """First figures of a sample of pixels, (m, channels) as they are wanted and as they are sent, exact for these pixels.

    With 4,000 pixels the standard error of a share of 10 % is 0.5 points.
    """
    lab = master_space(wanted.profile).to_lab(wanted.pixels[None])[0].astype(np.float64)
    lost = exact_losses(chain.model, lab, limit)[0]
    printed = chain.printed(sent.pixels / 65535.0)
    return FirstFigures(lost, float(delta_e_2000(lab, printed).mean()))


def _compare(
    request: JudgeRequest, small: _Small, colours: _Colours, areas: np.ndarray
) -> tuple[list[CandidateFigures], Advice]:
    model = paper_model(request.paper)
    figures, prints = [], []
    for rendering in _candidate_list(request):
        made = small.printed(request.chain(rendering))
        figures.append(replace(candidate_figures(model, made, small.lab, areas, small.strong), rendering=rendering))
        prints.append(made.printed)
    # what was only asked for (saturation, absolute) is shown beside the candidates, never advised
    chosen = effective(request.rendition.rendering, request.paper)
    may = candidates_for(request.paper)
    depths = (colours.loses_depth, colours.shadows)
    return figures, advise(Contest(figures, prints, request.default, chosen, *depths, may, request.prescribed))
