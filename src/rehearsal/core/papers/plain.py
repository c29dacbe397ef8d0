"""What the measured facts of a paper mean, in plain words: greys, steps, room for colour.

Limits are common practice, no source, except the cast's, which is that of the health note.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rehearsal.core.papers.health import DRIFT_CHROMA, HealthNote

#: Chroma of the printed greys that hardly anybody sees without a neighbour; median ΔE₀₀ of tables that draw no steps.
GREY_CHROMA, SMOOTH_NOISE = 1.5, 0.5
_ROUGH = ("noise", "reversal", "kink", "coarse-table", "8-bit-tables")


@dataclass(frozen=True)
class Plain:
    """One statement: its words, whether it is good to hear, and its share of the best in per cent where it is one of a row."""

    words: str
    good: bool
    share: float = 0.0


def greys(drift_chroma: float, drift_lightness: float) -> Plain:
    """Whether the printed neutral ramp stays neutral, from its largest chroma C* and the L* where it is."""
    if drift_chroma <= GREY_CHROMA:
        return Plain("greys stay grey", True)
    much = "lean a little" if drift_chroma <= DRIFT_CHROMA else "have a cast"
    return Plain(f"greys {much} near L* {drift_lightness:.0f}, by chroma {drift_chroma:.1f}", False)


def steps(noise: float, notes: Sequence[HealthNote]) -> Plain:
    """Whether the tables are smooth: their own error (median ΔE₀₀), and no finding that speaks of steps."""
    rough = [note for note in notes if note.kind in _ROUGH]
    if rough or noise > SMOOTH_NOISE:
        return Plain("steps may show in smooth places", False)
    return Plain("steps are smooth", True)


def room_for_colour(volume: float, others: Sequence[tuple[str, float]]) -> Plain | None:
    """Room against the largest of some papers (name, cubic Lab); None when there is no other to compare with."""
    if not others or volume <= 0:
        return None
    name, most = max(others, key=lambda other: other[1])
    if volume >= most:
        return Plain("the most room for colour of the shelf", True, 100.0)
    share = volume / most * 100
    if share > 97:
        return Plain(f"about as much room for colour as {name}", True, share)
    return Plain(f"{share:.0f} % of the room for colour of {name}", share > 80, share)
