"""A look at a dry sheet: what a choice, or a gap between two, means, and what is worth a next sheet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from rehearsal.core.testsheets.families import CURVE, STRENGTH, curve_family, strength_family
from rehearsal.core.testsheets.visiblestep import VISIBLE
from rehearsal.core.values.adjustments import ADJUSTMENTS
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.testplan import Looked, TestPlan, Variant

#: Kinds whose fields lie along numbers: the middle of two is one of them too.
BETWEEN = ("bracket", "two", "mixed", "strength", "sharpening")


def field_of(variants: Sequence[Variant], number: int) -> Variant | None:
    """A field by its number; None for black and for what is not there."""
    return next((v for v in variants if v.number == number and not v.black), None)


def chosen_values(kind: str, variants: Sequence[Variant], chosen: Sequence[int]) -> tuple[float, ...] | None:
    """Values of a field, or the mean of the values of two; None where nothing lies between them."""
    found = [field_of(variants, n) for n in chosen]
    fields = [v for v in found if v is not None]
    if len(fields) != len(chosen) or not fields or (len(fields) > 1 and kind not in BETWEEN):
        return None
    return tuple(sum(row) / len(row) for row in zip(*(v.values for v in fields), strict=True))


def quantities_between(variants: Sequence[Variant], chosen: Sequence[int]) -> int:
    """In how many quantities two chosen fields differ; their mean is half of each."""
    fields = [v for n in chosen if (v := field_of(variants, n)) is not None]
    if len(fields) != 2:
        return 0
    return sum(abs(a - b) > 1e-9 for a, b in zip(fields[0].values, fields[1].values, strict=True))


def recipe_with(recipe: Recipe, base: Recipe, plan: TestPlan, names: Sequence[str], values: Sequence[float]) -> Recipe:
    """A recipe with what was stepped set as it was printed; all else of it stays.

    Args:
        base: what the sheet's untouched field was printed with.
    """
    made = recipe
    for name, value in zip(names, values, strict=True):
        if name in ADJUSTMENTS:
            made = made.with_total(name, value)
        elif name == STRENGTH and recipe.steps:
            made = strength_family(made, plan.step_number).recipe(value)
        elif name == CURVE:
            made = made.with_tone(replace(made.total, points=curve_family(base).recipe(value).total.points))
    return made


@dataclass(frozen=True)
class Next:
    """What is worth doing after a look.

    Attributes:
        plan: of the next sheet; None when no sheet is worth its paper.
        why: key of the reason: ``narrower``, ``edge``, ``further``, ``below``, ``none-better`` or ``settled``.
        apart: visible steps that are left between the choice and its neighbours on the sheet.
    """

    plan: TestPlan | None
    why: str
    apart: float = 0.0


def next_plan(plan: TestPlan, variants: Sequence[Variant], differences: Sequence[float], looked: Looked) -> Next:
    """The next sheet: narrower about the choice, until that lies below the visible step.

    Args:
        differences: median ΔE₀₀ of neighbours of the sheet, empty when it was not measured.
    """
    if looked.ending == "none-better":
        return Next(None, "none-better")
    if looked.ending in ("further-up", "further-down"):
        side = 1 if looked.ending == "further-up" else -1
        outermost = max((v.values[0] for v in variants if v.values), key=lambda x: side * x, default=0.0)
        return Next(replace(plan, beyond=outermost, side=side, step=0.0), "further")
    if plan.kind not in ("bracket", "two", "strength") or not looked.chosen:
        return Next(None, "settled")
    apart = (sum(differences) / len(differences) / VISIBLE) if differences else plan.apart
    centred = replace(plan, beyond=0.0, side=0, step=0.0)
    if _at_edge(plan, variants, looked):
        return Next(centred, "edge", apart)
    if round(apart / 2, 1) >= 1:
        return Next(replace(centred, apart=round(apart / 2, 1)), "narrower", apart)
    return Next(None, "below", apart)


def _at_edge(plan: TestPlan, variants: Sequence[Variant], looked: Looked) -> bool:
    """True when an outermost field was the best: what is better may lie beyond it."""
    if len(looked.chosen) != 1 or plan.kind not in ("bracket", "strength"):
        return False
    values = [v.values[0] for v in variants if not v.black]
    chosen = field_of(variants, looked.chosen[0])
    return chosen is not None and chosen.values[0] in (min(values), max(values))
