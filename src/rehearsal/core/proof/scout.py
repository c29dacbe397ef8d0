"""What several papers cost one picture, side by side: the paper scout."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.colour.lab import chroma
from rehearsal.core.icc import Profile
from rehearsal.core.papers.facts import neutral_ramp
from rehearsal.core.papers.model import PaperModel, paper_model
from rehearsal.core.proof.advice import strong_parts
from rehearsal.core.proof.beyond import LIMIT, Lost, exact_losses
from rehearsal.core.proof.chain import PrintChain, fitted_master
from rehearsal.core.proof.modelling import MasterWindows
from rehearsal.core.proof.printmap import print_image
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.words import share_words

#: What papers are sorted by; the first is the start.
CARES = ("what is lost", "strong colour", "deep black", "quiet neutrals", "nearness")
_NEUTRAL = 6.0
#: Of the table for modelling: within 0.001 of the exact road on the demo's pictures, 0.003 in the strong parts.
_NODES = 33


@dataclass(frozen=True)
class PaperCost:
    """What one paper costs a picture.

    Attributes:
        lost: what it costs.
        fitted_change: mean ΔE₀₀ from M′ (blacks fitted).
        black: absolute L* of the paper's black, as the Paper station has it.
        white: absolute Lab of the bare paper (3,).
        modelling, strong: kept modelling of all, and of the most colourful tenth; None when there is nothing to show.
        strong_miss: mean ΔE₀₀ by which the most colourful tenth is beyond; None in a picture without colours.
        neutrals: mean shift in a*b* (absolute) of the picture's near-neutral pixels; of a grey ramp when it has none.
        nearness: mean ΔE₀₀ between the print, as the wall shows it, and the target half-way between M and M′.
    """

    lost: Lost
    fitted_change: float
    black: float
    white: tuple[float, float, float]
    modelling: float | None
    strong: float | None
    strong_miss: float | None
    neutrals: float
    nearness: float

    def value(self, care: str) -> float:
        """The figure a care sorts by; smaller is better."""
        return {
            "what is lost": self.lost.mean, "strong colour": self.strong_miss or 0.0,
            "deep black": self.black, "quiet neutrals": self.neutrals,
            "nearness": self.nearness,
        }[care]  # fmt: skip


@dataclass(frozen=True)
class ScoutSample:
    """A picture as the scout sees it, the same for all papers.

    Attributes:
        master, source: profiles of M, and of the pixels that are printed.
        values: a random sample of the judging image as it is printed (m, channels), 0 to 1; ``lab`` what is wanted there (m, 3).
        image: the modelling-size image as it is printed, 16-bit; ``image_lab`` and ``windows`` of what is wanted there.
        via: a working space the pixels go through.
    """

    master: Profile
    source: Profile
    values: np.ndarray
    lab: np.ndarray
    image: np.ndarray
    image_lab: np.ndarray
    windows: MasterWindows
    via: Profile | None = None


def paper_cost(
    sample: ScoutSample, paper: Profile, rendering: Rendering, limit: float = LIMIT, on_paper: bool = True
) -> PaperCost:
    """Figures of one paper; all but the modelling are exact for the sample's pixels.

    Args:
        on_paper: the wall shows the papers' own whites and blacks, so nearness is measured in absolute colours.
    """
    model = paper_model(paper)
    chain = PrintChain(sample.source, paper, rendering, sample.via)
    lost, delta = exact_losses(model, sample.lab, limit)
    relative = chain.print_lab(sample.values)
    absolute, fitted = model.absolute(relative), fitted_master(sample.lab, sample.master, paper)
    printed = absolute if chain.rendering.intent == "absolute" else relative
    modelling = sample.windows.against(print_image(chain, sample.image, _NODES))
    strong = strong_parts(sample.lab)
    seen = absolute if on_paper else printed
    return PaperCost(
        lost=lost, fitted_change=float(delta_e_2000(fitted, printed).mean()),
        black=float(model.black[0]), white=(float(model.white[0]), float(model.white[1]), float(model.white[2])),
        modelling=modelling.mean(), strong=modelling.mean(strong_parts(sample.image_lab)),
        strong_miss=float(delta[strong].mean()) if strong.any() else None, neutrals=_neutrals(sample, model, absolute),
        nearness=float(delta_e_2000((sample.lab + fitted) / 2, seen).mean()),
    )  # fmt: skip


def _neutrals(sample: ScoutSample, model: PaperModel, absolute: np.ndarray) -> float:
    near = chroma(sample.lab) < _NEUTRAL
    if np.count_nonzero(near) < 0.01 * len(near):
        return float(chroma(model.absolute(neutral_ramp(model, 4.0)[1])).mean())
    return float(chroma(absolute[near] - sample.lab[near]).mean())


def ranked(costs: Sequence[PaperCost | None], care: str) -> list[int]:
    """Places of the papers, best first; unknown ones last in their order."""
    known = [i for i, c in enumerate(costs) if c is not None]
    known.sort(key=lambda i: (_told(costs[i], care), costs[i].nearness))  # type: ignore[arg-type, union-attr]
    return known + [i for i, c in enumerate(costs) if c is None]


def _told(cost: PaperCost, care: str) -> float:
    """The figure as it is told; what is lost is not rounded, since one paper is said to lose least."""
    return cost.value(care) if care == "what is lost" else round(cost.value(care), 1)


def best_ones(costs: Sequence[PaperCost | None], care: str) -> list[int]:
    """Places of all papers that tie for the best told figure; none while one of them is not known."""
    known = [c for c in costs if c is not None]
    if not known or len(known) < len(costs):
        return []
    least = min(_told(c, care) for c in known)
    return [i for i, c in enumerate(known) if _told(c, care) == least]


def scout_sentence(names: Sequence[str], costs: Sequence[PaperCost | None], care: str) -> str:
    """The best paper for what is cared about, and what the runner-up does better."""
    order = [i for i in ranked(costs, care) if costs[i] is not None]
    if not order:
        return ""
    best = costs[order[0]]
    assert best is not None
    does = "loses least of this picture" if care == "what is lost" else f"carries this picture best for {care}"
    text = f"{names[order[0]]} {does}: {_reason(best, care)}."
    if len(order) < 2:
        return text
    second = costs[order[1]]
    assert second is not None
    better = _better(second, best)
    rival = names[order[1]]
    if not better:
        return f"{text} {rival} comes next and does nothing clearly better."
    return f"{text} {rival} comes next; it {better}."


def _reason(cost: PaperCost, care: str) -> str:
    miss = f"its strong parts are beyond by ΔE₀₀ {cost.value('strong colour'):.1f} on average"
    if cost.strong_miss is None:
        miss = "the picture has no strong colours, nearness decides"
    elif cost.strong_miss < 0.05:
        miss = "it holds its strong parts"
    return {
        "what is lost": f"{share_words(cost.lost.share)} of it is beyond, by ΔE₀₀ {cost.lost.mean:.1f} over the whole picture",
        "strong colour": miss,
        "deep black": f"its black is L* {cost.black:.1f}",
        "quiet neutrals": f"its greys shift by {cost.neutrals:.1f} in a*b*",
        "nearness": f"ΔE₀₀ {cost.nearness:.1f} from the picture on average",
    }[care]


def _better(one: PaperCost, two: PaperCost) -> str:
    """What the first does better than the second, as verbs."""
    parts = []
    if two.lost.mean - one.lost.mean > 0.1:
        parts.append(f"loses less (ΔE₀₀ {one.lost.mean:.1f} against {two.lost.mean:.1f})")
    mine, theirs = one.value("strong colour"), two.value("strong colour")
    if theirs - mine > 0.15:
        parts.append(f"holds the strong parts better (beyond by {mine:.1f} against {theirs:.1f})")
    if two.black - one.black > 0.7:
        parts.append(f"has the deeper black (L* {one.black:.1f} against {two.black:.1f})")
    if two.neutrals - one.neutrals > 0.3:
        parts.append(f"has the quieter greys (a shift of {one.neutrals:.1f} against {two.neutrals:.1f})")
    if one.white[0] - two.white[0] > 0.7:
        parts.append(f"has the lighter white (L* {one.white[0]:.1f})")
    if abs(one.white[2]) + 1.5 < abs(two.white[2]):
        parts.append(f"has the more neutral white (b* {one.white[2]:+.1f} against {two.white[2]:+.1f})")
    if two.nearness - one.nearness > 0.2:
        parts.append(f"stays nearer to the picture (ΔE₀₀ {one.nearness:.1f} against {two.nearness:.1f})")
    if one.strong is not None and two.strong is not None and one.strong - two.strong > 0.02:
        parts.append(f"keeps the strong parts' modelling better ({one.strong:.2f} against {two.strong:.2f})")
    return " and ".join(parts[:2])


def white_words(white: tuple[float, float, float]) -> str:
    """A paper's white as people say it."""
    tint = "cool" if white[2] < -2.5 else "warm" if white[2] > 2.5 else "neutral"
    return f"{tint} white, L* {white[0]:.0f}, b* {white[2]:+.1f}"
