"""What earlier verdicts taught: the middle of the last few prints under the same condition and light."""

from __future__ import annotations

import statistics
from dataclasses import dataclass

from rehearsal.core.values.adjustments import ADJUSTMENTS, Values
from rehearsal.core.values.recipe import LEARNT, LIGHT, Recipe
from rehearsal.core.values.words import learnt_words
from rehearsal.workbook.values import LogEntry

_SAME_LIGHT = 0.25
_SAME_KELVIN = 300.0
LAST = 5
#: The field of a log entry that judges an adjustment.
_JUDGED = {"lightness": "darker", "warmth": "cooler", "contrast": "flatter"}


@dataclass(frozen=True)
class Lesson:
    """A correction to offer as the learnt step, and from how many prints."""

    values: Values
    prints: int

    @property
    def words(self) -> str:
        """The correction within a sentence."""
        return learnt_words(self.values)


def _close(one: float, two: float) -> bool:
    return one <= 0 or two <= 0 or abs(one / two - 1) <= _SAME_LIGHT


def same_light(entry: LogEntry, lux: float, kelvin: float, screen_white: float) -> bool:
    """True when a print was seen in this light beside this screen: lux and screen white within 25 %, 300 K; 0 counts always."""
    colour = entry.kelvin <= 0 or kelvin <= 0 or abs(entry.kelvin - kelvin) <= _SAME_KELVIN
    return colour and _close(entry.lux, lux) and _close(entry.screen_white, screen_white)


def learnt(
    log: list[LogEntry],
    condition: int,
    lux: float,
    screen_white: float,
    recipe: Recipe | None = None,
    kelvin: float = 0.0,
) -> Lesson | None:
    """The learnt correction for a condition, or None when nothing was learnt or it is nothing.

    Each verdict says how much was missing on top of what that print's steps for the light and learnt already gave; what the
    recipe at hand already does for the light is taken off the offer.

    Args:
        log: all entries, oldest first; the last five count.
        lux, kelvin, screen_white: light on the print and screen white in cd/m²; entries of :func:`same_light` count.
        recipe: of the take the correction is offered to.
    """
    same = [e for e in log if e.condition == condition and same_light(e, lux, kelvin, screen_white)]
    last = same[-LAST:]
    if not last:
        return None
    missing = {
        name: statistics.median([getattr(e, field) * ADJUSTMENTS[name].verdict_step + _had(e, name) for e in last])
        for name, field in _JUDGED.items()
    }
    present = (recipe or Recipe()).step(LIGHT)
    values = Values.of({n: v - (present.values[n] if present else 0.0) for n, v in missing.items()}).clamped()
    return Lesson(values, len(last)) if values else None


def _had(entry: LogEntry, name: str) -> float:
    """What the printed recipe's steps for the light and learnt gave."""
    if entry.rendition is None:
        return 0.0
    steps = [entry.rendition.recipe.step(origin) for origin in (LIGHT, LEARNT)]
    return sum(s.values[name] * s.strength for s in steps if s is not None and s.acts)
