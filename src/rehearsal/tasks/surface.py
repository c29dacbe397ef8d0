"""A paper's surface: measured at an edge, and what sharpening for it does in the print."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from rehearsal.core.colour.lab import lightness_to_y
from rehearsal.core.errors import PictureError
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.chain import Look
from rehearsal.core.sheet.sharpenlook import detailed_place, sharpen_looks
from rehearsal.core.sheet.slantededge import edge_spread_um
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.tasks.proofing import proof_rgb

#: A scan of an edge is small: more pixels are cut to the middle.
_MOST = 1200


def measure_edge(scan: Path) -> float:
    """Spread of light and ink in a paper, µm, at a slanted edge in a scan.

    Raises:
        PictureError: it cannot be read, or does not tell its resolution.
        RehearsalError: no spread can be found in it.
    """
    picture = read_picture(str(scan))
    if not picture.info.ppi or picture.info.ppi < 100:
        raise PictureError(
            "the scan does not tell a resolution that could show an edge",
            scan,
            "scan it at 600 ppi or more, and keep that in the file",
        )
    h, w = picture.pixels.shape[:2]
    top, left = max((h - _MOST) // 2, 0), max((w - _MOST) // 2, 0)
    part = picture.pixels[top : top + _MOST, left : left + _MOST]
    lab = master_space(picture.profile).to_lab(part)
    return edge_spread_um(np.asarray(lightness_to_y(np.asarray(lab[..., 0], dtype=np.float64))), picture.info.ppi)


def sharpened_looks(opened: OpenRendition, look: Look, side: int, file_side: int) -> tuple[np.ndarray, np.ndarray]:
    """A piece of a print without and with sharpening: two of 8-bit screen RGB (side, side, 3).

    Args:
        file_side: pixels of the file along it; more than ``side`` are brought to it as the eye would see them from afar.
    """
    import pyvips

    leg, chain, made = look.leg(opened.paper), opened.chain(), []
    for piece in sharpen_looks(opened, detailed_place(opened), file_side):
        rgb = proof_rgb(np.ascontiguousarray(piece), chain, leg)
        if len(rgb) > side:
            image = pyvips.Image.new_from_array(rgb)
            rgb = np.asarray(image.resize(side / image.width, vscale=side / image.height, kernel="linear").numpy())
        made.append(rgb)
    return made[0], made[1]
