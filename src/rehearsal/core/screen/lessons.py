"""What verdicts teach: one correction shared by all prints judged on a screen in a light, and one of each paper's own.

A print's verdict y, with the steps it was printed with, is y = s + p + e: s shared by all prints, p the condition's own, e the noise of a
verdict; all three normal about 0 with the deviations below, in steps (⅙ stop, 5 mired, 5 of contrast). The estimate is the best linear
unbiased prediction (Henderson 1975; Robinson 1991), made robust by Huber's weights w = min(1, k / |r|) on the verdicts' noise.
"""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass

import numpy as np

from rehearsal.core.values.words import stops_words

#: Standard deviations of what is shared, of what is a paper's own, and of a verdict, in steps.
SHARED, OWN, NOISE = 2.0, 1.2, 0.6
_BEND, _ROUNDS = 1.2, 8


@dataclass(frozen=True)
class Estimate:
    """What was learnt of one quantity for one condition, in steps.

    Attributes:
        value: s + p; doubt: its standard deviation.
        shared, own: its two parts, with their doubts.
        prints: verdicts it is made from; mine: those of the condition itself.
    """

    value: float
    doubt: float
    shared: float
    shared_doubt: float
    own: float
    own_doubt: float
    prints: int
    mine: int


def estimate(missing: Sequence[float], conditions: Sequence[Hashable], condition: Hashable) -> Estimate:
    """Learn from verdicts.

    Args:
        missing: how much each print lacked, its own steps counted in, in steps.
        conditions: what each was printed on; condition: what is asked about, which may be none of them.
    """
    y = np.asarray(missing, dtype=np.float64)
    same = np.array([[a == b for b in conditions] for a in conditions], dtype=np.float64).reshape(len(y), len(y))
    mine = np.array([c == condition for c in conditions], dtype=np.float64)
    structure = SHARED**2 + OWN**2 * same
    weights = np.ones(len(y))
    for _ in range(_ROUNDS):
        fitted = structure @ _solved(structure, weights, y)
        far = np.abs(y - fitted)
        weights = np.minimum(1.0, _BEND / np.maximum(far, 1e-9))
    solve = _inverse(structure, weights)
    shared, own = np.full(len(y), SHARED**2), OWN**2 * mine
    both = shared + own
    return Estimate(
        float(both @ solve @ y), _left(SHARED**2 + OWN**2, both, solve), float(shared @ solve @ y), _left(SHARED**2, shared, solve),
        float(own @ solve @ y), _left(OWN**2, own, solve), len(y), int(mine.sum()),
    )  # fmt: skip


def _inverse(structure: np.ndarray, weights: np.ndarray) -> np.ndarray:
    return np.linalg.inv(structure + np.diag(NOISE**2 / weights)) if len(weights) else np.empty((0, 0))


def _solved(structure: np.ndarray, weights: np.ndarray, y: np.ndarray) -> np.ndarray:
    return _inverse(structure, weights) @ y


def _left(before: float, known: np.ndarray, solve: np.ndarray) -> float:
    """Standard deviation that is left of what had so much variance before anything was known."""
    return float(np.sqrt(max(before - known @ solve @ known, 0.0)))


#: Whites a screen may be set to, cd/m² (common practice, no source).
_LEAST_WHITE, _MOST_WHITE = 60.0, 160.0
#: A part of a lesson is named when it is at least half a step, and at least one and a half times its own doubt.
_LEAST_STEP, _SURE = 0.5, 1.5


@dataclass(frozen=True)
class Reason:
    """Which part of a lesson of lightness is to blame.

    Attributes:
        kind: ``screen`` (all papers come out so), ``paper`` (this one alone), ``both``, ``unsure`` (too little is known) or ``right``
            (nothing is missing).
        stops: of the part that is named: above 0 prints come out dark.
        set_to: cd/m² the screen's white should have; 0 where the screen is not named, or is not set within its usual range.
    """

    kind: str
    stops: float = 0.0
    set_to: float = 0.0


def reason_of(found: Estimate, papers: Sequence[Estimate], screen_white: float, step: float = 1 / 6) -> Reason:
    """Name the reason of what was learnt of lightness.

    Args:
        found: for the paper that is asked about; papers: for each paper that was printed on, that one among them: of one alone nobody can
            tell paper from screen, and the screen is named only when all of them come out on the same side.
        screen_white: cd/m².
        step: stops to a step.
    """

    def sure(value: float, doubt: float) -> bool:
        return abs(value) >= _LEAST_STEP and abs(value) >= _SURE * doubt

    own = sure(found.own, found.own_doubt)
    if len(papers) < 2:
        return Reason("unsure" if abs(found.value) >= _LEAST_STEP else "right", found.value * step)
    alike = all(each.value * found.shared > 0 and abs(each.value) >= _LEAST_STEP for each in papers)
    if alike and sure(found.shared, found.shared_doubt):
        wanted = screen_white * 2.0 ** (-found.shared * step)
        inside = screen_white > 0 and _LEAST_WHITE <= wanted <= _MOST_WHITE
        return Reason("both" if own else "screen", found.shared * step, round(wanted) if inside else 0.0)
    others_right = all(abs(each.value) < _LEAST_STEP for each in papers if each != found)
    if own and others_right:
        return Reason("paper", found.own * step)
    return Reason("unsure" if abs(found.value) >= _LEAST_STEP else "right", found.value * step)


def reason_words(reason: Reason, paper: str) -> str:
    """The reason as a sentence.

    Args:
        paper: name of the paper that was asked about.
    """
    side, size = ("dark" if reason.stops > 0 else "light"), stops_words(reason.stops)
    if reason.kind in ("screen", "both"):
        set_to = (
            f"set the screen to {reason.set_to:.0f} cd/m²"
            if reason.set_to
            else "the screen is set too far off for its usual range"
        )
        blame = f"{paper} has a part of its own besides" if reason.kind == "both" else "the papers are not to blame"
        return f"All papers printed on come out {side} by {size}: {set_to}; {blame}."
    if reason.kind == "paper":
        return f"{paper} alone comes out {side} by {size}; the screen is not to blame."
    if reason.kind == "unsure":
        return f"Prints come out {side} by {size}; nobody can tell yet whether by the screen or by the paper."
    return "Prints come out as the take."
