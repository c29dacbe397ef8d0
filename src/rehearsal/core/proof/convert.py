"""Converting pixels once: by the engine's unoptimised 16-bit road, or one that was found to be the same."""

from __future__ import annotations

import numpy as np

from rehearsal.core.icc import Profile, Step, Transform
from rehearsal.core.proof.chain import effective
from rehearsal.core.proof.quickroad import quick_road
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.work.pool import in_slices

_STRIP_PIXELS = 1 << 20


class Converter:
    """A prepared conversion of 16-bit pixels to a profile at 8 or 16 bit; they are read by the table of the rendering's intent."""

    def __init__(self, source: Profile, target: Profile, rendering: Rendering, depth: int) -> None:
        real = effective(rendering, target)
        self.kind = np.uint8 if depth == 8 else np.uint16
        self.channels = target.channels
        self._keeps = source.digest == target.digest
        step = Step(target, real.intent, real.compensate)
        quick = None if self._keeps else quick_road(source, target, real, self.kind)
        self._road = quick or Transform([Step(source, real.intent), step], np.uint16, self.kind)

    def rows(self, pixels: np.ndarray, out: np.ndarray) -> None:
        """Convert (h, w, channels) into ``out``."""

        def work(part: slice) -> None:
            out[part] = _depth(pixels[part], self.kind) if self._keeps else self._road.apply(pixels[part])

        in_slices(len(pixels), work, small=8)


def _depth(pixels: np.ndarray, kind: type) -> np.ndarray:
    """The same numbers at 8 or 16 bit."""
    return pixels if kind == np.uint16 else np.round(pixels / 257.0).astype(np.uint8)


def strip_rows(width: int) -> int:
    """Rows of a strip of about a megapixel."""
    return max(1, _STRIP_PIXELS // max(1, width))
