"""Renditions along one number: a control, the strength of a step, of a curve, of sharpening."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from rehearsal.core.errors import RehearsalError
from rehearsal.core.values.adjustments import declared
from rehearsal.core.values.pull import Point, points_together
from rehearsal.core.values.recipe import Recipe

#: Names of families that are no control of the recipe.
STRENGTH, CURVE = "step-strength", "curve"
#: The curve of a mixed nine at full strength: the darks held by one point, the lights raised, the darks between opened (common
#: practice, no source).
FULL_CURVE = (Point(12.0, 11.0), Point(35.0, 38.0), Point(72.0, 81.0))


@dataclass(frozen=True)
class Family:
    """Recipes along one number.

    Attributes:
        name: of the control, or STRENGTH or CURVE.
        middle: of the recipe as it is; low, high: where it ends; unit: as the adjustments have it.
        recipe: of a number.
    """

    name: str
    middle: float
    low: float
    high: float
    unit: str
    recipe: Callable[[float], Recipe]


def control_family(recipe: Recipe, name: str) -> Family:
    """One control set to any value, all its steps together.

    Raises:
        RehearsalError: no control has this name.
    """
    each = declared(name)
    middle = each.clamp(recipe.total[name])
    return Family(name, middle, each.low, each.high, each.unit, lambda v: recipe.with_total(name, v))


def strength_family(recipe: Recipe, number: int) -> Family:
    """One step of the recipe at any strength, 0 to 1; a negative number counts from the end.

    Raises:
        RehearsalError: there is no such step.
    """
    if not -len(recipe.steps) <= number < len(recipe.steps):
        raise RehearsalError("there is no such step in the recipe", str(number), "make a step at Tune first")
    at = number % len(recipe.steps)
    step = recipe.steps[at]
    middle = step.strength if step.on else 0.0
    return Family(
        STRENGTH, middle, 0.0, 1.0, "share", lambda v: recipe.put(at, replace(step, strength=min(max(v, 0.0), 1.0), on=True))
    )  # fmt: skip


def curve_family(recipe: Recipe) -> Family:
    """A curve on top of the recipe, at any strength from none to twice its full one."""

    def made(strength: float) -> Recipe:
        total = recipe.total
        bent = (Point(p.at, p.at + strength * (p.to - p.at)) for p in FULL_CURVE)
        return recipe if not strength else recipe.with_tone(replace(total, points=points_together(total.points, bent)))

    return Family(CURVE, 0.0, 0.0, 2.0, "share", made)
