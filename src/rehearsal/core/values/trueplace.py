"""Where a printer really puts what it is told to print, with one tray and paper."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class TruePlace:
    """What this printer, tray and paper do to a page, of the sheet as it is fed: short side across, the edge that goes in first above.

    Attributes:
        right, down: how far it is shifted, mm.
        across, along: how much too large it comes out, per cent, across the feed and along it.
        turned: how far it is turned clockwise, mm in a metre.
        doubt: mean distance of the measured places from those that these figures give, mm; 0 when nothing is left over to tell it.
        when: day it was measured (ISO 8601).
    """

    right: float = 0.0
    down: float = 0.0
    across: float = 0.0
    along: float = 0.0
    turned: float = 0.0
    doubt: float = 0.0
    when: str = ""
