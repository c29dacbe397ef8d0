"""What earlier verdicts taught: what all prints judged on this screen in this light share, and what is a paper's own."""

from __future__ import annotations

from dataclasses import dataclass

from rehearsal.core.screen.lessons import Estimate, estimate
from rehearsal.core.values.adjustments import ADJUSTMENTS, Values
from rehearsal.core.values.recipe import LEARNT, LIGHT, Recipe
from rehearsal.core.values.words import counted, learnt_words
from rehearsal.workbook.values import LogEntry

_SAME_LIGHT = 0.25
_SAME_KELVIN = 300.0
#: Less than half a step of a verdict is no lesson: nobody would see it.
_LEAST_STEPS = 0.5
#: An offer is told so finely: a hundredth of a stop, half a mired, half a step of contrast.
_GRAINS = {"lightness": 0.01, "warmth": 0.5, "contrast": 0.5}
#: The field of a log entry that judges an adjustment.
JUDGED = {"lightness": "darker", "warmth": "cooler", "contrast": "flatter"}


@dataclass(frozen=True)
class Lesson:
    """A correction to offer as the learnt step.

    Attributes:
        prints: verdicts it is made from; mine: those on the very paper.
        estimates: what it is made of, in steps, by adjustment.
    """

    values: Values
    prints: int
    mine: int
    estimates: tuple[tuple[str, Estimate], ...] = ()

    @property
    def words(self) -> str:
        """The correction within a sentence."""
        return learnt_words(self.values)

    @property
    def origin(self) -> str:
        """What it was learnt from, within a sentence: ``4 prints, 1 of them on this paper``."""
        if self.mine == self.prints:
            return f"{counted(self.prints, 'print')} on this paper"
        return f"{counted(self.prints, 'print')}, {self.mine or 'none'} of them on this paper"


def _close(one: float, two: float) -> bool:
    return one <= 0 or two <= 0 or abs(one / two - 1) <= _SAME_LIGHT


def same_light(entry: LogEntry, lux: float, kelvin: float, screen_white: float) -> bool:
    """True when a print was seen in this light beside this screen: lux and screen white within 25 %, 300 K; 0 counts always."""
    colour = entry.kelvin <= 0 or kelvin <= 0 or abs(entry.kelvin - kelvin) <= _SAME_KELVIN
    return colour and _close(entry.lux, lux) and _close(entry.screen_white, screen_white)


def estimates(
    log: list[LogEntry], condition: int, lux: float, screen_white: float, kelvin: float = 0.0
) -> dict[str, Estimate]:
    """What was learnt of each quantity for a condition, in steps of a verdict; nothing when no print was seen in this light.

    Each verdict says how much was missing on top of what that print's steps for the light and learnt already gave.

    Args:
        log: all entries.
        lux, kelvin, screen_white: light on the print and screen white in cd/m²; entries of :func:`same_light` count.
    """
    same = [e for e in log if same_light(e, lux, kelvin, screen_white)]
    if not same:
        return {}
    papers = [e.condition for e in same]
    return {
        name: estimate(
            [getattr(e, field) + _had(e, name) / ADJUSTMENTS[name].verdict_step for e in same], papers, condition
        )
        for name, field in JUDGED.items()
    }


def learnt(
    log: list[LogEntry],
    condition: int,
    lux: float,
    screen_white: float,
    recipe: Recipe | None = None,
    kelvin: float = 0.0,
) -> Lesson | None:
    """The learnt correction for a condition, or None when nothing was learnt or it is nothing.

    What the recipe at hand already does for the light is taken off the offer.

    Args:
        recipe: of the take the correction is offered to; all else as :func:`estimates` has it.
    """
    found = estimates(log, condition, lux, screen_white, kelvin)
    if not found:
        return None
    present = (recipe or Recipe()).step(LIGHT)
    values = {}
    for name, each in found.items():
        step = ADJUSTMENTS[name].verdict_step
        missing = each.value * step - (present.values[name] if present else 0.0)
        if abs(missing) >= _LEAST_STEPS * step:
            values[name] = round(missing / _GRAINS[name]) * _GRAINS[name]
    made, first = Values.of(values).clamped(), next(iter(found.values()))
    return Lesson(made, first.prints, first.mine, tuple(found.items())) if made else None


def _had(entry: LogEntry, name: str) -> float:
    """What the printed recipe's steps for the light and learnt gave."""
    if entry.rendition is None:
        return 0.0
    steps = [entry.rendition.recipe.step(origin) for origin in (LIGHT, LEARNT)]
    return sum(s.values[name] * s.strength for s in steps if s is not None and s.acts)
