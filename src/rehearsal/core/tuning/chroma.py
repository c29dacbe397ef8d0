"""What strength and quiet colours do to the strength of a colour, alone: for drawing."""

from __future__ import annotations

import numpy as np

from rehearsal.core.tuning.apply import QUIET


def chroma_out(chroma: np.ndarray, strength: float, quiet: float) -> np.ndarray:
    """Oklab chroma (...) out of Oklab chroma (...): C (1 + s), then C (1 + q exp(−(C / 0.12)²)).

    Args:
        strength, quiet: per cent.
    """
    stronger = np.asarray(chroma, dtype=float) * (1 + strength / 100)
    return np.asarray(stronger * (1 + quiet / 100 * np.exp(-((stronger / QUIET) ** 2))))
