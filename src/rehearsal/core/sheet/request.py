"""What a ticket is made from."""

from __future__ import annotations

from dataclasses import dataclass

from rehearsal.core.proof.judging import Cut
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.rendition import Rendition


@dataclass(frozen=True)
class TicketRequest:
    """What a ticket is made from.

    Attributes:
        rendition: what is printed.
        condition: as it stands on the shelf.
        picture: name of the picture.
        pixels: width and height of the master inside the crop.
        profile_name: description of the condition's profile.
        judged: the rendition the figures on screen belong to, or None when nothing was judged.
        cut: what the working space on the way takes from the print, of the same figures.
        fixed: why the compensation switch has no say with this profile, as a sentence; empty when it has one.
        file: the written file, or empty.
    """

    rendition: Rendition
    condition: PrintCondition
    picture: str
    pixels: tuple[int, int]
    profile_name: str
    judged: Rendition | None = None
    cut: Cut | None = None
    fixed: str = ""
    file: str = ""
