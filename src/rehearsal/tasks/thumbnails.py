"""Little pictures of a take in several renderings, by the exact road."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from rehearsal.core.picture.pyramid import Pyramid
from rehearsal.core.proof.chain import PrintChain, Rendering, ScreenLeg
from rehearsal.core.proof.screenroad import ScreenSetup
from rehearsal.core.sheet.layout import Crop
from rehearsal.core.tuning.apply import TuningMap
from rehearsal.core.tuning.values import Tuning

_LONG = 228


def thumbnail_block(pyramid: Pyramid, crop: Crop, long_side: int = _LONG) -> np.ndarray:
    """16-bit working pixels of the crop at thumbnail size."""
    x, y, w, h = crop.pixels(*pyramid.size)
    factor = long_side / max(w, h)
    return pyramid.block(x, y, w, h, max(1, round(w * factor)), max(1, round(h * factor)))


def proof_rgb(block: np.ndarray, chain: PrintChain, leg: ScreenLeg) -> np.ndarray:
    """8-bit screen RGB (h, w, 3) of 16-bit pixels (h, w, 3), by the exact road."""
    rgb = leg.rgb(chain.device(block.reshape(-1, 3) / 65535.0))
    return np.ascontiguousarray(np.round(rgb * 255).astype(np.uint8).reshape(block.shape))


def intent_pictures(
    pyramid: Pyramid, crop: Crop, tuning: Tuning, setup: ScreenSetup, renderings: Sequence[Rendering],
    long_side: int = _LONG,
) -> list[np.ndarray]:  # fmt: skip
    """8-bit screen RGB (h, w, 3) of the take in each rendering, in the setup's paper view."""
    block = thumbnail_block(pyramid, crop, long_side)
    if not tuning.is_neutral:
        block = TuningMap(tuning, pyramid.space).pixels(block)
    leg = ScreenLeg(setup.paper, setup.screen, setup.view, setup.light)
    return [proof_rgb(block, PrintChain(setup.master, setup.paper, r), leg) for r in renderings]
