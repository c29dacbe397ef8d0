"""What earlier verdicts taught: what all prints judged on this screen in this light share, and what is a paper's own."""

from __future__ import annotations

from dataclasses import dataclass

from rehearsal.core.screen.lessons import Estimate, estimate
from rehearsal.core.values.adjustments import ADJUSTMENTS, Values
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.recipe import LEARNT, LIGHT, Recipe
from rehearsal.core.values.words import counted, in_row, learnt_words
from rehearsal.workbook.values import LogEntry

_SAME_LIGHT = 0.25
_SAME_KELVIN = 300.0
#: Less than half a step of a verdict is no lesson: nobody would see it.
_LEAST_STEPS = 0.5
#: An offer is told so finely: a hundredth of a stop, half a mired, half a step of contrast.
_GRAINS = {"lightness": 0.01, "warmth": 0.5, "contrast": 0.5}
#: The line of a lesson has no more points than these.
_MOST_POINTS = 40
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


def paper_key(entry: LogEntry) -> tuple[int, str, str]:
    """What a paper's own part is of: the paper with its profile and inks; another one of them starts afresh."""
    card = entry.condition_card
    return (entry.condition, "", "") if card is None else (entry.condition, card.profile_digest, card.ink_set)


def key_of(log: list[LogEntry], condition: int, card: PrintCondition | None) -> tuple[int, str, str]:
    """The key of a paper as it is now, or as its last print knew it."""
    if card is not None:
        return card.id, card.profile_digest, card.ink_set
    return next((paper_key(e) for e in reversed(log) if e.condition == condition), (condition, "", ""))


def teaches(entry: LogEntry) -> bool:
    """False for a print that went wrong at the printer: it says nothing about light and paper."""
    return not entry.cause


@dataclass(frozen=True)
class LeftOut:
    """Prints that do not count any more, by the reason: another light or screen white, other inks or profile, a fault at the printer."""

    light: int = 0
    profile: int = 0
    cause: int = 0

    @property
    def words(self) -> str:
        """Sentences; empty when all count."""
        said = []
        if self.light:
            said.append(f"{counted(self.light, 'print')} in another light, or beside a screen set otherwise")
        if self.profile:
            said.append(f"{counted(self.profile, 'print')} of this paper with another profile or other inks")
        afresh = [f"Begun afresh without {in_row(said)}."] if said else []
        wrong = [f"Left out: {counted(self.cause, 'print')} that went wrong at the printer."] if self.cause else []
        return " ".join((*afresh, *wrong))


def left_out(
    log: list[LogEntry], card: PrintCondition, lux: float, screen_white: float, kelvin: float = 0.0
) -> LeftOut:
    """What of the logbook does not count for a paper as it is now."""
    key = key_of(log, card.id, card)
    wrong = [e for e in log if not teaches(e)]
    right = [e for e in log if teaches(e)]
    same = [e for e in right if same_light(e, lux, kelvin, screen_white)]
    other = sum(1 for e in same if e.condition == card.id and not _same_paper(paper_key(e), key))
    return LeftOut(len(right) - len(same), other, len(wrong))


def _same_paper(one: tuple[int, str, str], two: tuple[int, str, str]) -> bool:
    """True for one paper with one profile and one set of inks; what is not known counts as the same."""
    return one[0] == two[0] and all(not a or not b or a == b for a, b in zip(one[1:], two[1:], strict=True))


def estimates(
    log: list[LogEntry], condition: int, lux: float, screen_white: float, kelvin: float = 0.0, card: PrintCondition | None = None
) -> dict[str, Estimate]:  # fmt: skip
    """What was learnt of each quantity for a condition, in steps of a verdict; nothing when no print was seen in this light.

    Each verdict says how much was missing on top of what that print's steps for the light and learnt already gave.

    Args:
        log: all entries.
        lux, kelvin, screen_white: light on the print and screen white in cd/m²; entries of :func:`same_light` count.
        card: the paper as it is now; None for as its last print knew it.
    """
    same = [e for e in log if teaches(e) and same_light(e, lux, kelvin, screen_white)]
    if not same:
        return {}
    mine = key_of(log, condition, card)
    papers = [mine if _same_paper(paper_key(e), mine) else paper_key(e) for e in same]
    return {name: estimate([missing_of(e, name) for e in same], papers, mine) for name, field in JUDGED.items()}


@dataclass(frozen=True)
class LessonPoint:
    """What had been learnt when a print was judged: of the lightness, in stops, with its doubt."""

    entry: LogEntry
    stops: float
    doubt: float


def lesson_line(
    log: list[LogEntry], condition: int, lux: float, screen_white: float, kelvin: float = 0.0, card: PrintCondition | None = None
) -> list[LessonPoint]:  # fmt: skip
    """The lesson of lightness for a paper after each print that taught it, oldest first.

    Args:
        log: oldest first; all else as :func:`estimates` has it.
    """
    step = ADJUSTMENTS["lightness"].verdict_step
    same = [e for e in log if teaches(e) and same_light(e, lux, kelvin, screen_white)]
    mine = key_of(log, condition, card)
    papers = [mine if _same_paper(paper_key(e), mine) else paper_key(e) for e in same]
    lacked = [missing_of(e, "lightness") for e in same]
    every = -(-len(same) // _MOST_POINTS) if same else 1
    made = []
    for count in sorted({*range(1, len(same) + 1, every), len(same)} - {0}):
        found = estimate(lacked[:count], papers[:count], mine)
        made.append(LessonPoint(same[count - 1], found.value * step, found.doubt * step))
    return made


def learnt(
    log: list[LogEntry],
    condition: int,
    lux: float,
    screen_white: float,
    recipe: Recipe | None = None,
    kelvin: float = 0.0,
    card: PrintCondition | None = None,
) -> Lesson | None:
    """The learnt correction for a condition, or None when nothing was learnt or it is nothing.

    What the recipe at hand already does for the light is taken off the offer.

    Args:
        recipe: of the take the correction is offered to; all else as :func:`estimates` has it.
    """
    found = estimates(log, condition, lux, screen_white, kelvin, card)
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


def missing_of(entry: LogEntry, name: str) -> float:
    """How much a print lacked of a quantity, in steps of a verdict, its own steps for the light and learnt counted in."""
    return float(getattr(entry, JUDGED[name])) + _had(entry, name) / ADJUSTMENTS[name].verdict_step


def _had(entry: LogEntry, name: str) -> float:
    """What the printed recipe's steps for the light and learnt gave."""
    if entry.rendition is None:
        return 0.0
    steps = [entry.rendition.recipe.step(origin) for origin in (LIGHT, LEARNT)]
    return sum(s.values[name] * s.strength for s in steps if s is not None and s.acts)
