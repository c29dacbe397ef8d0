"""What is said of a test sheet: the labels of its fields, what is wrong with a plan, what was chosen."""

from __future__ import annotations

from collections.abc import Mapping

from rehearsal.core.proof.advice import rendering_name
from rehearsal.core.testsheets.families import CURVE, STRENGTH
from rehearsal.core.testsheets.variants import Planned
from rehearsal.core.testsheets.visiblestep import bracket_words, family_words
from rehearsal.core.values.adjustments import ADJUSTMENTS, Values
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.testplan import Variant
from rehearsal.core.values.words import in_row, values_words, word

UNTOUCHED = "untouched"


def label_of(kind: str, names: tuple[str, ...], variant: Variant, base: Rendition, titles: Mapping[int, str]) -> str:
    """What stands beside a field's number: what is different there from the untouched print.

    Args:
        titles: of takes and papers, by their numbers.
    """
    if variant.black:
        return "black"
    if kind == "takes":
        return titles.get(variant.take, "")
    if kind == "papers":
        return titles.get(variant.condition, "")
    if kind == "renderings":
        return rendering_name(variant.rendition.rendering)
    if kind == "sharpening":
        return f"sharpened by {variant.values[0]:.0f} %" if variant.values[0] else "not sharpened"
    return difference_words(names, variant.values, base, short=True)


def units_words(names: tuple[str, ...]) -> str:
    """What the short labels leave out, for the line at the foot; empty for nothing."""
    units = {"lightness": "light in stops", "warmth": "warmth in mired", "tint": "tint in mired"}
    return ", ".join(units[n] for n in names if n in units)


def _short(name: str, value: float) -> str:
    return word("field_more" if value > 0 else "field_less", name).format(size=abs(value))


def difference_words(names: tuple[str, ...], values: tuple[float, ...], base: Rendition, short: bool = False) -> str:
    """What values change of the untouched print; ``short`` for the label of a field, whose units stand at the foot."""
    total, said = base.recipe.total, []
    for name, value in zip(names, values, strict=True):
        if name == STRENGTH:
            said.append(f"the step at {value * 100:.0f} %")
        elif name == CURVE:
            said += [f"curve at {value * 100:.0f} %"] if value else []
        elif name in ADJUSTMENTS:
            made = Values.of({name: value - total[name]})
            said += [_short(n, v) for n, v in made] if short else values_words(made)
    return ", ".join(said) or UNTOUCHED


def plan_words(planned: Planned) -> str:
    """What is to be said of a plan before it is printed: what cannot be shown, what prints alike, how far neighbours lie apart."""
    if planned.problem in ("cannot-show", "no-step"):
        bad = next((b for b in planned.brackets if not b.shows or len(b.values) < 3), planned.brackets[0])
        if bad.shows and len(planned.brackets) > 1:
            return (
                f"No visible step of {family_words(bad.name)} lies on each side here: step the two one after the other."
            )
        return bracket_words(bad, planned.plan.count)
    if planned.problem:
        return word("test_problem", planned.problem)
    said = [bracket_words(b, 3 if len(planned.brackets) > 1 else planned.plan.count) for b in planned.brackets]
    if planned.alike and not any("alike" in text for text in said):
        pairs = in_row([f"{i} and {j}" for i, j in planned.alike])
        said.insert(0, f"These print alike, a waste: {pairs}.")
    return " ".join(text for text in said if text)
