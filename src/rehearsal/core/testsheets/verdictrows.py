"""Which looks like the print in the hand: rows of one print in visible steps of light, cast and contrast."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from rehearsal.core.testsheets.families import control_family
from rehearsal.core.testsheets.visiblestep import Prints, grained
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.adjustments import ADJUSTMENTS
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.words import stops_words

_SIDES = {
    "lightness": ("darker", "lighter", ""), "warmth": ("cooler", "warmer", " mired"), "contrast": ("flatter", "harder", ""),
}  # fmt: skip
#: What is judged, in the order of the rows; so many pictures on each side of the take's own.
JUDGED, EACH_SIDE = ("lightness", "warmth", "contrast"), 3


@dataclass(frozen=True)
class VerdictRow:
    """One row.

    Attributes:
        name: of the control.
        offsets: from the take as it is looked at, rising, 0 among them: each a visible step from the next.
    """

    name: str
    offsets: tuple[float, ...]

    @property
    def middle(self) -> int:
        """Place of the take itself."""
        return self.offsets.index(0.0)

    def between(self, place: float) -> float:
        """The offset at a place: 2.5 lies in the middle of the third and the fourth."""
        low = min(max(int(place), 0), len(self.offsets) - 1)
        high = min(low + 1, len(self.offsets) - 1)
        return self.offsets[low] + (place - low) * (self.offsets[high] - self.offsets[low])


def compared(opened: OpenRendition) -> OpenRendition:
    """What a print is compared with: its rendition without its learnt and for-the-light steps.

    Those act on the print and stand for what screen and light do; a screen that is looked at has done it already.
    """
    recipe = opened.rendition.recipe.on_screen
    return opened if recipe is opened.rendition.recipe else opened.having(recipe)


def verdict_rows(opened: OpenRendition, each: int = EACH_SIDE) -> tuple[VerdictRow, ...]:
    """Rows of a print; a quantity the picture cannot show has the take alone.

    Args:
        opened: what was printed.
    """
    base, rows = compared(opened), []
    for name in JUDGED:
        family = control_family(base.rendition.recipe, name)
        prints = Prints(base, family)
        below = prints.outward(family.middle, family.low, each)
        above = prints.outward(family.middle, family.high, each)
        values = grained((*reversed(below), family.middle, *above), family)
        rows.append(VerdictRow(name, tuple(0.0 if v == family.middle else round(v - family.middle, 6) for v in values)))
    return tuple(rows)


def looking_like(recipe: Recipe, offsets: Mapping[str, float]) -> Recipe:
    """The recipe a print looks as if it had been made by: the take's, with these offsets."""
    made = recipe.on_screen
    for name, offset in offsets.items():
        if offset:
            made = made.with_total(name, ADJUSTMENTS[name].clamp(made.total[name] + offset))
    return replace(made, maths=recipe.maths)


def steps_of(offsets: Mapping[str, float]) -> dict[str, float]:
    """A verdict as the logbook counts it: how much darker, cooler and flatter, in its steps."""
    fields = {"lightness": "darker", "warmth": "cooler", "contrast": "flatter"}
    return {
        field: round(-offsets.get(name, 0.0) / ADJUSTMENTS[name].verdict_step, 4) + 0.0
        for name, field in fields.items()
    }


def offsets_of(darker: float, cooler: float, flatter: float) -> dict[str, float]:
    """The other way."""
    steps = {"lightness": darker, "warmth": cooler, "contrast": flatter}
    return {name: -value * ADJUSTMENTS[name].verdict_step + 0.0 for name, value in steps.items()}


def offset_words(offsets: Mapping[str, float]) -> str:
    """A verdict in words; empty for as the take."""
    said = []
    for name, (less, more, unit) in _SIDES.items():
        value = offsets.get(name, 0.0)
        if value:
            size = stops_words(value) if name == "lightness" else f"{abs(value):.0f}{unit}"
            said.append(f"{size} {more if value > 0 else less}")
    return ", ".join(said)
