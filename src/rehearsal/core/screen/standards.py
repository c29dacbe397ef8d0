"""Viewing light, room and screen as the standards want them, beside what is usual at home.

The standards' values are written down from memory (ISO 3664:2009, ISO 12646:2008 and 2015); where a value decides
about money, look it up.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class ViewingValue:
    """One row: what, the standard's value, which standard, and what is usual at home (common practice, no source)."""

    what: str
    value: str
    standard: str
    at_home: str


VIEWING_VALUES = (
    ViewingValue("Light for comparing critically", "2000 lx, ± 500", "ISO 3664 P1", "hardly anyone: 500 lx is usual"),
    ViewingValue("Light for judging one print", "500 lx, ± 125", "ISO 3664 P2", "a daylight lamp at arm's length"),
    ViewingValue("Colour of that light", "D50, within 0.005 in u′v′ (10°)", "ISO 3664", "5000 to 5600 K"),
    ViewingValue("Colour rendering", "Ra 90 or more, each of the first eight 80 or more", "ISO 3664", "Ra 95 lamps are easy to get"),
    ViewingValue("Surround of the print", "neutral, matt, 10 to 60 % reflectance", "ISO 3664", "a grey wall or grey card"),
    ViewingValue("Evenness", "75 % or more across the print", "ISO 3664", "two lamps, or one further away"),
    ViewingValue("Room while the screen is judged alone", "64 lx or less, better 32 lx", "ISO 3664", "dim, no lamp in view"),
    ViewingValue("Luminance of a proofing screen", "80 cd/m² or more, near that of the lit paper", "ISO 12646", "80 to 120 cd/m²"),
    ViewingValue("White of the screen beside prints", "D50, within 0.01 in u′v′, better 0.005", "ISO 12646", "D50 to D55; some keep D65"),
    ViewingValue("Black of the screen", "1 % of white or less (100 : 1)", "ISO 12646", "about 1000 : 1"),
    ViewingValue("Evenness of the screen", "within 10 % of the middle, better 5 %", "ISO 12646", "judge in the middle third"),
)  # fmt: skip
#: Largest distance of a screen's white from its aim in u′v′ (ISO 12646, from memory).
WHITE_RADIUS = 0.01
