"""Which hues lose colour, pixel by pixel: each pixel beyond counts by its own name, whatever area it lies in."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.proof.beyond import COLOUR, Beyond
from rehearsal.core.proof.hues import PLAIN, plain_hues

#: Of pixels that lose no colour.
_NONE = 255
#: What loses colour and has no hue to name: greys, and what is near black.
_UNNAMED = ("grey", "near-black")


@dataclass(frozen=True)
class HueLoss:
    """Pixels of one name that lose colour: their share of the picture, per cent, and the median of their δ, ΔE₀₀."""

    hue: str
    share: float
    median: float


class HueLosses:
    """What loses colour in a picture, by the names of its pixels."""

    def __init__(self, wanted: np.ndarray, beyond: Beyond) -> None:
        self._beyond = beyond
        loses = (beyond.bits & COLOUR) > 0
        self._names = np.full(loses.shape, _NONE, np.uint8)
        self._names[loses] = plain_hues(np.ascontiguousarray(wanted[loses], dtype=np.float64))
        #: Per cent of the picture that lose colour, as these pixels do.
        self.total = float(loses.mean() * 100)
        self._whole = self._leading(self._names)

    def leading(self, left_out: np.ndarray | None = None) -> HueLoss | None:
        """The hue that loses most, without the pixels (h, w) that are left out.

        None where that has no name, or where as many of one name are left out: it would not be what loses most.
        """
        if left_out is None:
            return self._whole
        found = self._leading(np.where(left_out, np.uint8(_NONE), self._names))
        away = self._counts(self._names[left_out]).max(initial=0) / self._names.size * 100
        return found if found is not None and found.share > away else None

    @staticmethod
    def _counts(names: np.ndarray) -> np.ndarray:
        return np.bincount(names.ravel(), minlength=_NONE + 1)[: len(PLAIN)]

    def _leading(self, names: np.ndarray) -> HueLoss | None:
        counts = self._counts(names)
        most = int(np.argmax(counts))
        if not counts[most] or PLAIN[most] in _UNNAMED:
            return None
        median = float(np.median(self._beyond.delta[names == most]))
        return HueLoss(PLAIN[most], float(counts[most] / names.size * 100), median)
