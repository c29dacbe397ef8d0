"""What verdicts teach: one correction shared by all prints judged on a screen in a light, and one of each paper's own.

A print's verdict y, with the steps it was printed with, is y = s + p + e: s shared by all prints, p the condition's own, e the noise of a
verdict; all three normal about 0 with the deviations below, in steps (⅙ stop, 5 mired, 5 of contrast). The estimate is the best linear
unbiased prediction (Henderson 1975; Robinson 1991), made robust by Huber's weights w = min(1, k / |r|) on the verdicts' noise.
"""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass

import numpy as np

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
