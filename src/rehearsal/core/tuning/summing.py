"""What the steps of a recipe add up to, in words: how light, from which origins."""

from __future__ import annotations

from rehearsal.core.values.recipe import HAND, LEARNT, LIGHT, PICTURE, Recipe, Step, habit_of
from rehearsal.core.values.words import stops_words, values_words, word

#: A sum further from the total than this, in stops, was limited.
_NEAR = 1e-4


def origin_words(step: Step) -> str:
    """Where a step came from."""
    return word("origin", "habit") if habit_of(step.origin) else word("origin", step.origin)


def step_words(step: Step) -> str:
    """What a step does, each amount in words; a habit's own name first."""
    said = "; ".join(values_words(step.values)) or word("origin", "nothing")
    named = habit_of(step.origin) or step.name
    return f"{named}: {said}" if named else said


def lightness_words(recipe: Recipe) -> str:
    """``⅓ for the light + ⅙ learnt − ⅙ by hand = ⅓ stop``; empty where fewer than two steps lighten or darken.

    Amounts are shares of a stop, each times its strength, of the steps that are on and act everywhere.
    """
    parts = [
        (step.values["lightness"] * step.strength, _short(step)) for step in recipe.steps
        if step.place is None and step.acts and step.values["lightness"]
    ]  # fmt: skip
    if len(parts) < 2:
        return ""
    text = ""
    for amount, who in parts:
        size = stops_words(amount).removesuffix(" stops").removesuffix(" stop")
        sign = "−" if amount < 0 else "+"
        text += f" {sign} {size} {who}" if text else f"{'−' if amount < 0 else ''}{size} {who}"
    total = recipe.total["lightness"]
    if abs(sum(amount for amount, _who in parts) - total) > _NEAR:
        size = f"{'−' if total < 0 else ''}{stops_words(total)}"
        return f"{text}, {word('origin', 'limited').format(size=size)}"
    if abs(total) < 1e-6:
        return f"{text} = {word('origin', 'as_it_is')}"
    return f"{text} = {'−' if total < 0 else ''}{stops_words(total)}"


def _short(step: Step) -> str:
    if step.origin in (LIGHT, LEARNT, PICTURE, HAND):
        return word("origin_short", step.origin)
    return word("origin_short", "habit" if habit_of(step.origin) else "other")
