"""Proofs by the exact road: a file for a screen, little pictures of several renderings, a picture on a paper's wall."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

import numpy as np

from rehearsal.core.papers.model import check_destination
from rehearsal.core.picture.write import write_picture
from rehearsal.core.proof.chain import Look, PrintChain, ScreenLeg
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.work.progress import Progress, silent
from rehearsal.tasks.writing import Target

_LONG = 228
_PIXELS = 1 << 19


def proof_file(opened: OpenRendition, look: Look, out: Target | Path, progress: Progress = silent) -> None:
    """Write the proof of a rendition for a screen, tagged with the screen's profile, 16 bit (8 for JPEG)."""
    check_destination(opened.paper)
    check_destination(look.screen)
    target = out if isinstance(out, Target) else Target(out)
    target.check(opened)
    picture, leg = opened.open.picture, look.leg(opened.paper)
    x, y, w, h = opened.box
    neutral = opened.rendition.recipe.is_neutral
    chain = opened.chain(picture.profile if neutral else None)
    made, rows = np.empty((h, w, 3), dtype=np.uint16), max(1, _PIXELS // w)
    for top in range(0, h, rows):
        progress(top / h, "proofing")
        end = min(top + rows, h)
        source = picture.pixels if neutral else opened.reading.whole
        part = source[y + top : y + end, x : x + w]
        part = part if neutral else opened.tuned.tuned(part, (x, y + top, w, end - top))
        rgb = leg.rgb(chain.device(part.reshape(-1, part.shape[2]) / 65535.0))
        made[top:end] = np.round(rgb * 65535).reshape(end - top, w, 3)
    write_picture(made, look.screen, picture.info.ppi, target.path, target.replace)


def thumbnail_block(opened: OpenRendition, long_side: int = _LONG) -> np.ndarray:
    """What is printed of the crop, before it is converted, at thumbnail size: (h, w, 3) uint16."""
    _x, _y, w, h = opened.box
    factor = long_side / max(w, h)
    return opened.tuned.region(opened.box, max(1, round(w * factor)), max(1, round(h * factor)))


def proof_rgb(block: np.ndarray, chain: PrintChain, leg: ScreenLeg) -> np.ndarray:
    """8-bit screen RGB (h, w, 3) of 16-bit pixels (h, w, 3), by the exact road."""
    rgb = leg.rgb(chain.device(block.reshape(-1, 3) / 65535.0))
    return np.ascontiguousarray(np.round(rgb * 255).astype(np.uint8).reshape(block.shape))


def printed_colours(opened: OpenRendition, long_side: int) -> np.ndarray:
    """Absolute Lab (h, w, 3) of a rendition as it prints, by the exact road, at thumbnail size."""
    block, chain = thumbnail_block(opened, long_side), opened.chain()
    relative = chain.print_lab(block.reshape(-1, block.shape[2]) / 65535.0)
    absolute: np.ndarray = chain.model.absolute(relative)
    return absolute.reshape(*block.shape[:2], 3)


def intent_pictures(
    opened: OpenRendition, look: Look, renderings: Sequence[Rendering], long_side: int = _LONG
) -> list[np.ndarray]:
    """8-bit screen RGB (h, w, 3) of the rendition in each rendering; no more pixels than the crop has."""
    leg, made, long_side = look.leg(opened.paper), [], min(long_side, max(opened.box[2:]))
    for each in (opened.rendered(r) for r in renderings):
        made.append(proof_rgb(thumbnail_block(each, long_side), each.chain(), leg))
    return made
