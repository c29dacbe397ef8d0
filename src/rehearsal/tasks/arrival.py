"""What arrived: everything the Picture station says about an open picture inside its crop."""

from __future__ import annotations

from dataclasses import dataclass

from rehearsal.core.colour.lab import lab_to_xyz
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import SPACES, working_space
from rehearsal.core.papers.comparing import share_beyond
from rehearsal.core.papers.model import paper_model
from rehearsal.core.picture.arrived import Clipping, clipping, is_sharpened, overshoot_of
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.beyond import LIMIT
from rehearsal.core.screen.held import Tones
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.frame import Crop
from rehearsal.core.work.progress import Progress, silent

_COLOURS = 6_000
_TONES = 40_000
_CLIP_STEP_PIXELS = 3_000_000


@dataclass(frozen=True)
class Arrival:
    """Findings inside the crop.

    Attributes:
        crop: what was looked at.
        overshoot: at edges, as a share of the edge; None where it cannot be told.
        beyond_spaces: per cent of the colours beyond each working space by more than the limit.
        beyond_screen: the same for this screen; None when no profile is known.
    """

    crop: Crop
    clipped: Clipping | None
    overshoot: float | None
    beyond_spaces: dict[str, float]
    beyond_screen: float | None

    @property
    def sharpened(self) -> bool | None:
        """True when edges carry halos; None where it cannot be told."""
        return is_sharpened(self.overshoot)


def tones_of(opened: OpenRendition) -> Tones:
    """The tones of an open picture inside its crop, from a fair sample; nothing of it depends on the recipe."""
    pixels, _places = opened.open.pyramid.sample(*opened.box, _TONES)
    lab = opened.space.to_lab(pixels[None])[0].astype("float64")
    return Tones.of(lab_to_xyz(lab)[:, 1])


def look_at_picture(opened: OpenRendition, screen: Profile | None, progress: Progress = silent) -> Arrival:
    """Look at what arrived; nothing of it depends on the recipe."""
    picture, crop = opened.open.picture, opened.rendition.frame.crop
    x, y, cw, ch = opened.box
    inside = picture.pixels[y : y + ch, x : x + cw]
    progress(0.1, "clipped lights and darks")
    step = max(1, round((cw * ch / _CLIP_STEP_PIXELS) ** 0.5))
    clipped = None if picture.profile.space == "CMYK" else clipping(inside, step)
    progress(0.3, "sharpening")
    overshoot = overshoot_of(inside, master_space(picture.profile))
    pixels, _places = opened.open.pyramid.sample(*opened.box, _COLOURS)
    lab = opened.space.to_lab(pixels[None])[0].astype("float64")
    shares = {}
    for i, name in enumerate(SPACES):
        progress(0.4 + 0.1 * i, f"colours beyond {name}")
        shares[name] = share_beyond(paper_model(working_space(name)), lab, LIMIT)
    beyond_screen = None if screen is None else share_beyond(paper_model(screen), lab, LIMIT)
    return Arrival(crop, clipped, overshoot, shares, beyond_screen)
