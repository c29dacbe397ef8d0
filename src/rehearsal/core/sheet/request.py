"""What a ticket is made from."""

from __future__ import annotations

from dataclasses import dataclass

from rehearsal.core.proof.judging import Cut
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import PrintSize
from rehearsal.core.values.queue import QueueOffers
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
        file_state: ``changed`` when the picture's file is another than the one that is open; profile_missing: it cannot be opened.
        ticked: keys of cautions and steps that were ticked off for this print.
        queue: the queue it is sent to, as it stands; None for a file, or while it was not asked.
        others: sizes of the other prints on a packed sheet, and of how many takes that were wanted.
        idle_days: since the last print of this printer that is known of; None for none.
        tested: a test sheet or a smaller print of this take was made on this paper.
        inks: ink sets that other cards of the same printer tell.
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
    file_state: str = "there"
    profile_missing: bool = False
    ticked: tuple[str, ...] = ()
    queue: QueueOffers | None = None
    others: tuple[PrintSize, ...] = ()
    idle_days: int | None = None
    tested: bool = True
    inks: tuple[str, ...] = ()
