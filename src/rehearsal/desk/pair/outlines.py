"""Calm outlines of areas: closed over folds, one line each."""

from __future__ import annotations

import numpy as np

from rehearsal.core.proof.contours import calm_field, isolines
from rehearsal.core.proof.judging import Judgement

#: Pixels of the reduced labels that a line is drawn from, and the least size of a piece there.
_LONG, _CRUMB = 420, 10


def area_outlines(result: Judgement | None, numbers: tuple[int, ...]) -> tuple[np.ndarray, ...]:
    """Lines (n, 2) round some areas (by their numbers from 1), x and y in fractions of the crop."""
    if result is None or not numbers:
        return ()
    h, w = result.labels.shape
    step = max(1, max(h, w) // _LONG)
    inside = np.isin(result.labels[step // 2 :: step, step // 2 :: step], numbers).astype(np.float32)
    ((_level, lines),) = isolines(calm_field(inside, 5, 1, gap=-1.0), (0.5,), crumb=_CRUMB)
    size = np.array([inside.shape[1], inside.shape[0]], dtype=float)
    return tuple((line + 0.5) / size for line in lines)
