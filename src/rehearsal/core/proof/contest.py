"""Which rendering to advise for a picture: the one that visibly loses to nobody.

One way to print *visibly loses* to another on its depths, its detail or its nearness, each by a step that is seen. Where nobody loses
either will do, where some lose to nobody one of them is advised, and where everybody loses to somebody it is a trade: what each wins is
told, and the user's own stays.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.proof.advice import CANDIDATES, SAME_MEAN, SAME_P95, CandidateFigures, rendering_name
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.words import capital

#: Points of detail lost in the depths that are seen, where so many per cent of the picture lose depth.
_DEPTHS, _LOSES_DEPTH = 4.0, 2.0
#: Points of detail lost in the whole picture, and of mean felt change (ΔE₀₀), that are seen.
_DETAIL, _NEARNESS = 1.5, 0.5
#: Deepest prints further apart than this (L*) are told, of pictures with depths.
_BLACK = 1.0
_BELOW = 1e-9
#: Shares under this are told as none, from that on without decimals, per cent.
_NOTHING, _WHOLE = 0.05, 9.5


@dataclass(frozen=True)
class Loss:
    """What one way to print visibly loses against another.

    Attributes:
        what: ``depths`` or ``detail`` (per cent lost) or ``nearness`` (mean felt change, ΔE₀₀).
        mine, theirs: the figures of the loser and of the other, which is smaller.
    """

    what: str
    mine: float
    theirs: float


def losses(mine: CandidateFigures, other: CandidateFigures, loses_depth: float) -> tuple[Loss, ...]:
    """What one visibly loses to another: depths, detail, nearness, in this order.

    Args:
        loses_depth: per cent of the picture that lose depth on this paper, at ΔE₀₀ 1.5.
    """
    rows = (
        ("depths", mine.flat_depths, other.flat_depths, _DEPTHS if loses_depth >= _LOSES_DEPTH else np.inf),
        ("detail", mine.flat, other.flat, _DETAIL),
        ("nearness", mine.felt_change, other.felt_change, _NEARNESS),
    )
    return tuple(Loss(what, a, b) for what, a, b, step in rows if a - b >= step - _BELOW)


@dataclass(frozen=True)
class Advice:
    """What to choose.

    Attributes:
        rendering: what is advised; in a trade and where all are alike the default.
        verdict: ``clear``, ``trade``, ``alike``, or ``no_visible_difference`` where all others look the same besides.
        same: those whose prints look the same as the advised one's.
        equal: others that visibly lose nothing to it and win nothing of it.
        rival: in a trade, whom the chosen one is held against; lost: what the chosen one visibly loses to it, else to the advised
            one; won: what it wins of it.
        prescribed: a lab asks for the rendering; better: what it visibly loses to, if it is clear.
    """

    rendering: Rendering
    verdict: str
    reasons: tuple[str, ...]
    same: tuple[Rendering, ...] = ()
    equal: tuple[Rendering, ...] = ()
    rival: Rendering | None = None
    lost: tuple[Loss, ...] = ()
    won: tuple[Loss, ...] = ()
    prescribed: bool = False
    better: Rendering | None = None

    @property
    def named(self) -> Rendering | None:
        """Whom it may be said of that it is advised: nobody in a trade, nor where all are alike and nobody prescribes."""
        return self.rendering if self.prescribed or self.verdict == "clear" else None

    def urges(self, chosen: Rendering) -> bool:
        """True when what is chosen is to be changed: the lab asks for another, or it visibly loses to the advised one."""
        loses = self.verdict != "trade" and self.rival == self.rendering and bool(self.lost)
        return chosen != self.rendering and (self.prescribed or loses)


@dataclass(frozen=True)
class Contest:
    """What advice is made from.

    Attributes:
        figures, prints: of every rendering that was tried.
        default: the lab's prescription, the condition's own default, or relative with compensation; it was tried.
        chosen: what the take uses; it was tried.
        loses_depth: per cent of the picture that lose depth on this paper, at ΔE₀₀ 1.5; depths: per cent under L* 20.
        candidates: what may be advised besides the default.
        prescribed: a lab asks for the default; it stays whatever the figures say.
    """

    figures: list[CandidateFigures]
    prints: list[np.ndarray]
    default: Rendering
    chosen: Rendering
    loses_depth: float
    depths: float
    candidates: tuple[Rendering, ...] = CANDIDATES
    prescribed: bool = False

    def of(self, rendering: Rendering) -> CandidateFigures:
        """Figures of one."""
        return next(f for f in self.figures if f.rendering == rendering)

    @property
    def allowed(self) -> list[CandidateFigures]:
        """What may be advised, the lowest score first."""
        found = [f for f in self.figures if f.rendering in self.candidates or f.rendering == self.default]
        return sorted(found, key=lambda f: f.score)

    def losses(self, mine: Rendering, other: Rendering) -> tuple[Loss, ...]:
        """What one visibly loses to another."""
        return losses(self.of(mine), self.of(other), self.loses_depth)

    def beaten_by(self, mine: Rendering) -> list[Rendering]:
        """Those of the candidates that one visibly loses to, the lowest score first."""
        return [f.rendering for f in self.allowed if self.losses(mine, f.rendering)]

    def same(self, one: Rendering, two: Rendering) -> bool:
        """True when the prints of two look the same."""
        at = {f.rendering: i for i, f in enumerate(self.figures)}
        return same_to_the_eye(self.prints[at[one]], self.prints[at[two]])


def same_to_the_eye(one: np.ndarray, two: np.ndarray) -> bool:
    """True when two prints differ by mean < 0.5 and 95th percentile < 1.5 ΔE₀₀."""
    gap = delta_e_2000(one, two)
    return bool(gap.mean() < SAME_MEAN and np.percentile(gap, 95) < SAME_P95)


def advise(contest: Contest) -> Advice:
    """Hold all candidates against each other; a prescribed default stays under every verdict."""
    allowed = [f.rendering for f in contest.allowed]
    beaten = {r: contest.beaten_by(r) for r in allowed}
    standing = [r for r in allowed if not beaten[r]]
    kind = "alike" if len(standing) == len(allowed) else "clear" if standing else "trade"
    free = contest.default if kind != "clear" or contest.default in standing else standing[0]
    advised = contest.default if contest.prescribed else free
    shown = [*allowed, *([contest.chosen] if contest.chosen not in allowed else [])]
    others = [r for r in shown if r != advised]
    same = tuple(r for r in others if contest.same(advised, r))
    equal = tuple(
        r for r in others if r not in same and not contest.losses(r, advised) and not contest.losses(advised, r)
    )
    if kind == "alike" and all(r in same for r in allowed if r != advised):
        kind = "no_visible_difference"
    rival = _rival(contest, advised, kind)
    reasons = _reasons(contest, advised, [r for r in allowed if r != advised])
    return Advice(
        advised, kind, ("The lab prescribes this.", *reasons) if contest.prescribed else reasons, same, equal, rival,
        () if rival is None else contest.losses(contest.chosen, rival),
        () if rival is None else contest.losses(rival, contest.chosen),
        contest.prescribed, free if contest.prescribed and kind == "clear" and free != advised else None,
    )  # fmt: skip


def _rival(contest: Contest, advised: Rendering, kind: str) -> Rendering | None:
    """Whom the chosen one is held against: the advised one if it loses to that, else the best it loses to; in a trade the
    best that it also wins something of.
    """
    beating = contest.beaten_by(contest.chosen)
    if kind == "trade":
        both = [r for r in beating if contest.losses(r, contest.chosen)]
        return (both or beating or [None])[0]  # type: ignore[list-item]
    return advised if advised in beating else (beating or [None])[0]  # type: ignore[list-item]


# ---- in words

_UNITS = {"depths": " %", "detail": " %", "nearness": " ΔE₀₀"}
_WHAT = {
    "depths": "detail lost in the depths", "detail": "detail lost in the picture", "nearness": "mean difference, as felt",
}  # fmt: skip


def _reasons(contest: Contest, advised: Rendering, others: Sequence[Rendering]) -> tuple[str, ...]:
    """What differs visibly between the advised one and the best of those that lose to it, else of all: for it first, then against."""
    if not others:
        return ("Nothing else to compare with.",)
    against = sorted(others, key=lambda r: (not contest.losses(r, advised), contest.of(r).score))[0]
    mine, other = contest.of(advised), contest.of(against)
    name = rendering_name(against)
    rows = [(loss.what, loss.theirs, loss.mine) for loss in contest.losses(against, advised)]
    rows += [(loss.what, loss.mine, loss.theirs) for loss in contest.losses(advised, against)]
    texts = [
        f"{capital(_WHAT[w])}: {figure(w, a, b)}{_UNITS[w]} against {figure(w, b, a)}{_UNITS[w]} with {name}."
        for w, a, b in rows
    ]
    gap = other.black_depth - mine.black_depth
    if texts and contest.depths >= _LOSES_DEPTH and abs(gap) >= _BLACK:
        deepest = f"Deepest print: L* {mine.black_depth:.1f} against {other.black_depth:.1f} with {name}."
        texts.insert(len(contest.losses(against, advised)) if gap > 0 else len(texts), deepest)
    return tuple(texts) or (f"Nothing that would be seen speaks for or against {name}.",)


def figure(what: str, value: float, beside: float) -> str:
    """A figure of a loss as it is told: shares as whole numbers from 9.5 % on, where that tells them apart from the other one."""
    if what == "nearness":
        return f"{value:.1f}"
    if value < _NOTHING:
        return "0"
    return f"{value:.0f}" if value >= _WHOLE and round(value) != round(beside) else f"{value:.1f}"
