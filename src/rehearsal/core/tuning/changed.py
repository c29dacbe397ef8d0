"""What a change of a recipe was, in words."""

from __future__ import annotations

from rehearsal.core.tuning.summing import origin_words
from rehearsal.core.values.adjustments import ADJUSTMENTS, Values
from rehearsal.core.values.recipe import HAND, Recipe, Step
from rehearsal.core.values.words import amount, in_row, values_words, word


def recipe_change(before: Recipe, after: Recipe) -> str:
    """What leads from one recipe to the other; empty where their steps are the same."""
    if before.steps == after.steps:
        return ""
    if not after.steps:
        return word("change", "same")
    one, two = list(before.steps), list(after.steps)
    while one and two and one[0] == two[0]:
        del one[0], two[0]
    while one and two and one[-1] == two[-1]:
        del one[-1], two[-1]
    said = [_step_change(a, b) for a, b in zip(one, two, strict=False)]
    said += [word("change", "gone").format(_named(step)) for step in one[len(two) :]]
    said += [_begun(step) for step in two[len(one) :]]
    return "; ".join(part for part in said if part)


def _named(step: Step) -> str:
    """A step within a sentence, by its origin."""
    return f"{origin_words(step)}, {step.name}" if step.name else origin_words(step)


def _begun(step: Step) -> str:
    said = ", ".join(values_words(step.values))
    return said if step.origin == HAND and not step.name else f"{_named(step)}: {said}"


def _step_change(before: Step, after: Step) -> str:
    if before.origin != after.origin or before.name != after.name:
        return _begun(after)
    if before.on != after.on:
        return word("change", "on" if after.on else "off").format(_named(after))
    if before.strength != after.strength:
        return word("change", "strength").format(_named(after), after.strength * 100)
    return values_change(before.values, after.values)


def values_change(before: Values, after: Values) -> str:
    """What is another amount, another free point or another pull."""
    names = [name for name in ADJUSTMENTS if before[name] != after[name]]
    said = [f"{word('adjustment_short', name)} {amount(name, after[name])}" for name in names]
    points = Values(points=tuple(p for p in after.points if p not in before.points))
    pulled = Values(pulled=tuple(p for p in after.pulled if p not in before.pulled))
    said += values_words(points) + values_words(pulled)
    if not said and (len(after.points) < len(before.points) or len(after.pulled) < len(before.pulled)):
        gone = Values(
            points=tuple(p for p in before.points if p not in after.points),
            pulled=tuple(p for p in before.pulled if p not in after.pulled),
        )
        said = [word("change", "gone").format(text) for text in values_words(gone)]
    return in_row(said) if said else word("change", "same")
