"""Rendering intents compared on this picture, and what to advise."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile, Step, Transform, lab_profile
from rehearsal.core.papers.model import PaperModel
from rehearsal.core.proof.chain import effective
from rehearsal.core.proof.modelling import Modelling
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.words import capital
from rehearsal.core.work.once import LastUsed

CANDIDATES = (Rendering("relative", True), Rendering("relative", False), Rendering("perceptual", True))
_CLOSE = 0.3
#: Two prints that differ by less than both are the same to the eye (ΔE₀₀, mean and 95th percentile).
SAME_MEAN, SAME_P95 = 0.5, 1.5
_DEPTHS = 20.0
_NAMES = {
    ("relative", True): "relative colorimetric with compensation",
    ("relative", False): "relative colorimetric without compensation",
    ("perceptual", True): "perceptual",
    ("perceptual", False): "perceptual without compensation",
    ("saturation", True): "saturation",
    ("saturation", False): "saturation without compensation",
    ("absolute", False): "absolute colorimetric",
    ("absolute", True): "absolute colorimetric",
}


def rendering_name(rendering: Rendering) -> str:
    """Standard name in words."""
    return _NAMES[rendering.intent, rendering.compensate]


def candidates_for(paper: Profile) -> tuple[Rendering, ...]:
    """What may be advised on a paper: perceptual only where it has a table of its own."""
    alike = paper.one_table("perceptual", "relative")
    return tuple(c for c in CANDIDATES if c.intent != "perceptual" or not alike)


@dataclass(frozen=True)
class CandidateFigures:
    """One way to render this picture.

    Attributes:
        score: mean felt change + 0.2 × detail gone flat.
        felt_change: mean of half raw, half fitted ΔE₀₀.
        fitted_change: mean ΔE₀₀ from M′.
        modelling: over the whole image; None when there is nothing to show.
        flat, flat_depths: per cent of all pixels, per cent of the pixels under L* 20.
        black_depth: absolute L* of the darkest neutral.
        shadow_separation: levels of 20 that stay apart in a neutral ramp from L* 0 to 20.
        lightness, contrast: mean L* of the print, and its standard deviation over the master's.
        strong: modelling in the strong parts, the most colourful tenth of the picture; None without any.
    """

    rendering: Rendering
    score: float
    felt_change: float
    fitted_change: float
    modelling: float | None
    flat: float
    flat_depths: float
    flat_areas: float
    change_outside: float
    black_depth: float
    shadow_separation: int
    lightness: float
    contrast: float
    strong: float | None = None


def strong_parts(lab: np.ndarray) -> np.ndarray:
    """The most colourful tenth of a picture: mask (...) of Lab (..., 3) with C* at or above its 90th percentile, and 10."""
    strength = np.hypot(lab[..., 1], lab[..., 2])
    return np.asarray(strength >= max(float(np.percentile(strength, 90)), 10.0))


@dataclass(frozen=True)
class Compensation:
    """What compensation does with one intent here: ΔE₀₀ mean and 95th percentile between with and without."""

    intent: str
    mean: float
    p95: float

    @property
    def visible(self) -> bool:
        """False when with and without look the same."""
        return self.mean >= SAME_MEAN or self.p95 >= SAME_P95

    @property
    def words(self) -> str:
        """A sentence."""
        name = "relative colorimetric" if self.intent == "relative" else self.intent
        if self.mean < 0.005:
            return f"Compensation changes nothing with {name}."
        if not self.visible:
            return f"Compensation makes no visible difference with {name} (ΔE₀₀ {self.mean:.1f}): either will do."
        return f"Compensation changes {name} by ΔE₀₀ {self.mean:.1f} on average."


@dataclass(frozen=True)
class Advice:
    """What to choose.

    Attributes:
        verdict: ``no_visible_difference`` when all other candidates look the same, ``close`` when some do or come close,
            else ``clear``.
        same: those whose prints look the same; close: those whose scores differ by no more than 0.3.
        warning: what the chosen rendering does worse, as verb and object, when it is neither advised, the same nor close.
        prescribed: a lab asks for the rendering; better: what would serve the picture better than that, if anything.
    """

    rendering: Rendering
    verdict: str
    reasons: tuple[str, ...]
    same: tuple[Rendering, ...] = ()
    close: tuple[Rendering, ...] = ()
    warning: str = ""
    prescribed: bool = False
    better: Rendering | None = None


_neutrals: LastUsed[np.ndarray] = LastUsed(60)


def neutral_print(model: PaperModel, rendering: Rendering) -> tuple[np.ndarray, np.ndarray]:
    """L* asked for, 0 to 20 in steps of 0.25, and the printed media-relative Lab (81, 3); the last papers' are kept."""
    real = effective(rendering, model.profile)
    asked = np.zeros((81, 3))
    asked[:, 0] = np.arange(81) * 0.25

    def make() -> np.ndarray:
        to_device = Transform([Step(lab_profile()), Step(model.profile, real.intent, real.compensate)])
        return model.to_lab.apply(np.clip(to_device.apply(asked), 0, 1))

    return asked[:, 0], _neutrals.get((model.profile.digest, real), make)


def count_levels(lightness: np.ndarray) -> int:
    """Levels at least 1 L* above the last one counted, greedily from the darkest."""
    count, last = 0, float(lightness[0])
    for value in lightness[1:]:
        if value >= last + 1 - 1e-9:
            count, last = count + 1, float(value)
    return count


def shadow_separation(model: PaperModel, rendering: Rendering) -> int:
    """Levels of 20 the paper and intent keep apart between L* 0 and 20."""
    return count_levels(neutral_print(model, rendering)[1][:, 0])


def black_depth(model: PaperModel, rendering: Rendering) -> float:
    """Absolute L* of the darkest neutral this rendering prints."""
    return float(model.absolute(neutral_print(model, rendering)[1])[:, 0].min())


@dataclass(frozen=True)
class Rehearsed:
    """One way to print the modelling-size image: P (h, w, 3), its modelling, and ΔE₀₀ (h, w) from M and from M′."""

    rendering: Rendering
    printed: np.ndarray
    modelling: Modelling
    raw: np.ndarray
    fitted: np.ndarray


def candidate_figures(
    model: PaperModel, made: Rehearsed, lab: np.ndarray, areas: np.ndarray, strong: np.ndarray
) -> CandidateFigures:
    """Figures of one candidate on the modelling-size image.

    Args:
        lab: M (h, w, 3).
        areas: True (h, w) inside areas beyond the paper; strong: in the picture's :func:`strong_parts`.
    """
    felt, modelling, lightness = (made.raw + made.fitted) / 2, made.modelling, made.printed[..., 0]
    flat = modelling.flat_share()
    spread = float(np.std(lab[..., 0]))
    outside = ~areas
    return CandidateFigures(
        rendering=made.rendering,
        score=float(felt.mean()) + 0.2 * flat,
        felt_change=float(felt.mean()),
        fitted_change=float(made.fitted.mean()),
        modelling=modelling.mean(),
        flat=flat,
        flat_depths=modelling.flat_share(lab[..., 0] < _DEPTHS),
        flat_areas=modelling.flat_share(areas),
        change_outside=float(felt[outside].mean()) if outside.any() else 0.0,
        black_depth=black_depth(model, made.rendering),
        shadow_separation=shadow_separation(model, made.rendering),
        lightness=float(lightness.mean()),
        contrast=float(np.std(lightness)) / spread if spread > 1e-6 else 1.0,
        strong=modelling.mean(strong),
    )


def same_to_the_eye(one: np.ndarray, two: np.ndarray) -> bool:
    """True when two prints differ by mean < 0.5 and 95th percentile < 1.5 ΔE₀₀."""
    gap = delta_e_2000(one, two)
    return bool(gap.mean() < SAME_MEAN and np.percentile(gap, 95) < SAME_P95)


def compensation_effect(intent: str, on: np.ndarray, off: np.ndarray) -> Compensation:
    """Effect of compensation between two prints (h, w, 3) of one intent."""
    gap = delta_e_2000(on, off)
    return Compensation(intent, float(gap.mean()), float(np.percentile(gap, 95)))


@dataclass(frozen=True)
class Contest:
    """What advice is made from.

    Attributes:
        figures, prints: of every rendering that was tried.
        default: the lab's prescription, the condition's own default, or relative with compensation; it was tried.
        chosen: what the take uses; it was tried.
        candidates: what may be advised besides the default.
        prescribed: a lab asks for the default; it stays whatever the figures say.
    """

    figures: list[CandidateFigures]
    prints: list[np.ndarray]
    default: Rendering
    chosen: Rendering
    candidates: tuple[Rendering, ...] = CANDIDATES
    prescribed: bool = False

    def of(self, rendering: Rendering) -> CandidateFigures:
        """Figures of one."""
        return next(f for f in self.figures if f.rendering == rendering)

    def same(self, one: Rendering, two: Rendering) -> bool:
        """True when the prints of two look the same."""
        at = {f.rendering: i for i, f in enumerate(self.figures)}
        return same_to_the_eye(self.prints[at[one]], self.prints[at[two]])


def advise(contest: Contest) -> Advice:
    """Compare the candidates, and say by name which of them look the same or come close to the one that is advised."""
    allowed = [f for f in contest.figures if f.rendering in contest.candidates or f.rendering == contest.default]
    mine, best = contest.of(contest.default), min(allowed, key=lambda f: f.score)
    clear = mine.score - best.score > _CLOSE
    winner = best if clear and not contest.prescribed else mine
    others = sorted((f for f in allowed if f is not winner), key=lambda f: f.score)
    same, close = _alike(contest, winner, others)
    verdict = "no_visible_difference" if len(same) == len(others) else "close" if same or close else "clear"
    reasons = (
        _reasons(winner, mine if winner is not mine else others[0]) if others else ("Nothing else to compare with.",)
    )
    if contest.prescribed:
        verdict = "clear" if verdict == "close" else verdict
        reasons = ("The lab prescribes this.", *reasons)
    chosen = contest.of(contest.chosen)
    if chosen is not winner and chosen not in others:  # shown beside the candidates, never advised
        more = _alike(contest, winner, [chosen])
        same, close = (*same, *more[0]), (*close, *more[1])
    fine = chosen is winner or contest.chosen in (*same, *close)
    return Advice(
        winner.rendering, verdict, reasons, same, close, "" if fine else _warning(chosen, winner), contest.prescribed,
        best.rendering if clear and contest.prescribed else None,
    )  # fmt: skip


def _alike(
    contest: Contest, winner: CandidateFigures, others: list[CandidateFigures]
) -> tuple[tuple[Rendering, ...], tuple[Rendering, ...]]:
    """Those that look the same as the winner, and those that only come close to its score."""
    same = tuple(f.rendering for f in others if contest.same(winner.rendering, f.rendering))
    close = tuple(f.rendering for f in others if f.rendering not in same and abs(f.score - winner.score) <= _CLOSE)
    return same, close


def _warning(mine: CandidateFigures, winner: CandidateFigures) -> str:
    """What a rendering does worse than the advised one; empty when its score is better."""
    if mine.score < winner.score:
        return ""
    if mine.flat_depths - winner.flat_depths >= 5:
        return f"closes {mine.flat_depths:.0f} % of the depths"
    if mine.black_depth - winner.black_depth >= 3:
        return f"prints no deeper than L* {mine.black_depth:.1f}"
    if mine.flat - winner.flat >= 1:
        return f"loses detail in {mine.flat:.1f} % of the picture"
    return f"differs by ΔE₀₀ {mine.felt_change:.1f} instead of {winner.felt_change:.1f}"


def _reasons(winner: CandidateFigures, loser: CandidateFigures) -> tuple[str, ...]:
    """The figures that differ, for and against, in words."""
    name = rendering_name(loser.rendering)
    rows = (
        ("detail lost in the depths", winner.flat_depths, loser.flat_depths, " %", 1.0),
        ("detail lost in the areas beyond the paper", winner.flat_areas, loser.flat_areas, " %", 1.0),
        ("difference, as felt, outside those areas", winner.change_outside, loser.change_outside, " ΔE₀₀", 0.15),
        ("deepest print, L*", winner.black_depth, loser.black_depth, "", 0.5),
    )
    texts = [
        f"{capital(what)}: {mine:.1f}{unit} against {theirs:.1f}{unit} with {name}."
        for what, mine, theirs, unit, step in rows
        if abs(mine - theirs) >= step
    ]
    if winner.modelling is not None and loser.modelling is not None and abs(winner.modelling - loser.modelling) > 0.02:
        texts.append(
            f"Folds and shading kept: {winner.modelling * 100:.0f} % against {loser.modelling * 100:.0f} % with {name}."
        )
    return tuple(texts) or (
        f"Differs, as felt, by ΔE₀₀ {winner.felt_change:.1f} against {loser.felt_change:.1f} with {name}.",
    )
