"""The fields of a test sheet: what each of them is printed with."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.errors import RehearsalError
from rehearsal.core.proof.advice import candidates_for
from rehearsal.core.testsheets.families import Family, control_family, curve_family, strength_family
from rehearsal.core.testsheets.visiblestep import (
    Bracket,
    Prints,
    beyond_bracket,
    family_bracket,
    grained,
    stepped_values,
)
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.adjustments import ADJUSTMENTS, Adjustment
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.testplan import TestPlan, Variant

#: What is stepped first: every picture shows it (common practice, no source).
FIRST = "lightness"
#: A bracket has so many variants.
LEAST, MOST = 3, 9
#: Per cent of what a paper's spread takes that a row of sharpening gives back.
SHARPENINGS = (0.0, 50.0, 100.0, 150.0)
#: Of a mixed nine: visible steps of contrast each way, and of the heavy curve; shares of the light, medium and heavy one; a stop each way.
_MIXED_CONTRAST, _MIXED_HEAVY, _MIXED_SHARES, _MIXED_STOP = 1.0, 3.0, (1 / 3, 2 / 3, 1.0), 1.0
_SAMPLE, _DIFFERS, _LEAST_SHARE = 3_000, 0.5, 0.02

Box = tuple[int, int, int, int]


@dataclass(frozen=True)
class Others:
    """What a plan may take besides the open take.

    Attributes:
        takes, papers: number and rendition of each; sigma_um: spread of the paper, 0 while nobody has told its surface.
    """

    takes: tuple[tuple[int, Rendition], ...] = ()
    papers: tuple[tuple[int, Rendition], ...] = ()
    sigma_um: float = 0.0


@dataclass(frozen=True)
class Planned:
    """A plan worked out for one rendition.

    Attributes:
        base: what is printed without a test: the untouched one.
        names: of what is varied, as each variant's values are ordered.
        variants: in the order of their numbers.
        brackets: steps of each control and how far their prints lie apart, where that was measured.
        alike: pairs of numbers that print alike in these pieces: a waste of paper.
        problem: key of why there is nothing to print; empty when there is.
    """

    plan: TestPlan
    base: Rendition
    names: tuple[str, ...] = ()
    variants: tuple[Variant, ...] = ()
    brackets: tuple[Bracket, ...] = ()
    alike: tuple[tuple[int, int], ...] = ()
    problem: str = ""

    @property
    def columns(self) -> int:
        """Fields beside each other that belong together: three of two controls at once and of a mixed nine, else all."""
        return 3 if self.plan.kind in ("two", "mixed") else max(len(self.variants), 1)

    @property
    def is_ready(self) -> bool:
        """True when there is something to compare on paper."""
        return not self.problem and len(self.variants) > 1


def stepped() -> list[Adjustment]:
    """Controls a test sheet can step; those that are only stepped upwards first."""
    return sorted((a for a in ADJUSTMENTS.values() if a.test_step), key=lambda a: not a.test_upward)


def plan_variants(
    opened: OpenRendition, plan: TestPlan, boxes: Sequence[Box] = (), others: Others | None = None
) -> Planned:
    """Work a plan out.

    Args:
        boxes: the pieces, x, y, width, height in pixels of the master; none for the crop.

    Raises:
        RehearsalError: the plan names what is not there.
    """
    makers: dict[str, Callable[[OpenRendition, TestPlan, Sequence[Box], Others], Planned]] = {
        "bracket": _bracket, "two": _two, "mixed": _mixed, "renderings": _renderings, "strength": _strength,
        "sharpening": _sharpening, "takes": _takes, "papers": _papers,
    }  # fmt: skip
    if plan.kind not in makers:
        raise RehearsalError("there is no such kind of test sheet", plan.kind, "use a newer Rehearsal")
    return makers[plan.kind](opened, plan, boxes, others or Others())


def _of_recipes(opened: OpenRendition, rows: Sequence[tuple[Recipe, tuple[float, ...]]]) -> tuple[Variant, ...]:
    base = opened.rendition
    return tuple(Variant(i, replace(base, recipe=recipe), values) for i, (recipe, values) in enumerate(rows, 1))


def _along(opened: OpenRendition, plan: TestPlan, family: Family, made: Bracket) -> Planned:
    rows = [(family.recipe(v), (v,)) for v in made.values]
    alike = tuple((i, i + 1) for i in made.alike)
    problem = "" if made.shows else "cannot-show"
    if not problem and len(made.values) < 2:
        problem = "no-step"
    return Planned(plan, opened.rendition, (family.name,), _of_recipes(opened, rows), (made,), alike, problem)


def _bracket(opened: OpenRendition, plan: TestPlan, boxes: Sequence[Box], _others: Others) -> Planned:
    family = control_family(opened.rendition.recipe, plan.first)
    if plan.side:
        return _along(
            opened, plan, family, beyond_bracket(opened, family, plan.count, plan.beyond, plan.side, boxes, plan.apart)
        )
    values = stepped_values(opened.rendition.recipe, plan.first, plan.step, plan.count) if plan.step else None
    return _along(opened, plan, family, family_bracket(opened, family, plan.count, values, boxes, plan.apart))


def _strength(opened: OpenRendition, plan: TestPlan, boxes: Sequence[Box], _others: Others) -> Planned:
    if not opened.rendition.recipe.steps:
        return Planned(plan, opened.rendition, problem="no-steps")
    family = strength_family(opened.rendition.recipe, plan.step_number)
    return _along(opened, plan, family, family_bracket(opened, family, plan.count, None, boxes, plan.apart))


def _three(opened: OpenRendition, name: str, plan: TestPlan, boxes: Sequence[Box]) -> Bracket:
    """The untouched value with one on each side, or two on the side that has them."""
    return family_bracket(opened, control_family(opened.rendition.recipe, name), 3, None, boxes, plan.apart)


def _two(opened: OpenRendition, plan: TestPlan, boxes: Sequence[Box], _others: Others) -> Planned:
    across, down = (_three(opened, name, plan, boxes) for name in (plan.first, plan.second))
    names = (plan.first, plan.second)
    if len(across.values) < 3 or len(down.values) < 3:
        return Planned(
            plan,
            opened.rendition,
            names,
            (),
            (across, down),
            (),
            "no-step" if across.shows and down.shows else "cannot-show",
        )
    recipe = opened.rendition.recipe
    rows = [
        (recipe.with_total(plan.first, x).with_total(plan.second, y), (x, y))
        for y in down.values
        for x in across.values
    ]
    variants = _of_recipes(opened, rows)
    return Planned(plan, opened.rendition, names, variants, (across, down), alike_pairs(opened, variants, boxes))


def _mixed(opened: OpenRendition, plan: TestPlan, boxes: Sequence[Box], _others: Others) -> Planned:
    """Untouched, three strengths of a curve, contrast less and more, a stop less and more, black."""
    recipe = opened.rendition.recipe
    curve, contrast, light = curve_family(recipe), control_family(recipe, "contrast"), control_family(recipe, FIRST)
    heavy = _at_steps(opened, curve, boxes, _MIXED_HEAVY, 1)
    curves = [round(share * heavy, 3) for share in _MIXED_SHARES]
    contrasts = [_at_steps(opened, contrast, boxes, _MIXED_CONTRAST, side) for side in (-1, 1)]
    stops = [min(max(light.middle + s * _MIXED_STOP, light.low), light.high) for s in (-1, 1)]
    middle = (0.0, contrast.middle, light.middle)
    rows: list[tuple[Recipe, tuple[float, ...]]] = [(recipe, middle)]
    rows += [(curve.recipe(v), (v, *middle[1:])) for v in curves]
    rows += [(contrast.recipe(v), (0.0, v, light.middle)) for v in contrasts]
    rows += [(light.recipe(v), (0.0, contrast.middle, v)) for v in stops]
    variants = _of_recipes(opened, rows)
    black = Variant(len(variants) + 1, opened.rendition, middle, black=True)
    names = (curve.name, contrast.name, light.name)
    return Planned(plan, opened.rendition, names, (*variants, black), (), alike_pairs(opened, variants, boxes))


def _at_steps(opened: OpenRendition, family: Family, boxes: Sequence[Box], apart: float, side: int) -> float:
    """The value so many visible steps from the untouched one; the end of the range where that comes before."""
    end = family.high if side > 0 else family.low
    found = Prints(opened, family, boxes).outward(family.middle, end, 1, apart)
    return grained(found or (end,), family)[0]


def _renderings(opened: OpenRendition, plan: TestPlan, boxes: Sequence[Box], _others: Others) -> Planned:
    base = opened.rendition
    found = [base.rendering, *(r for r in candidates_for(opened.paper) if r != base.rendering)]
    variants = tuple(Variant(i, replace(base, rendering=r)) for i, r in enumerate(found, 1))
    return Planned(plan, base, ("rendering",), variants, (), alike_pairs(opened, variants, boxes))


def _sharpening(opened: OpenRendition, plan: TestPlan, _boxes: Sequence[Box], others: Others) -> Planned:
    base = opened.rendition
    if others.sigma_um <= 0:
        return Planned(plan, base, ("sharpening",), problem="no-surface")
    strengths = sorted({*SHARPENINGS, base.hand_over.sharpen if base.hand_over.sharpens else 0.0})
    variants = tuple(
        Variant(i, replace(base, hand_over=replace(base.hand_over, sharpen=s, sigma_um=others.sigma_um)), (s,))
        for i, s in enumerate(strengths, 1)
    )
    return Planned(plan, base, ("sharpening",), variants)


def _takes(opened: OpenRendition, plan: TestPlan, boxes: Sequence[Box], others: Others) -> Planned:
    """The open take and others of its picture, each as it is on this sheet's paper."""
    base = opened.rendition
    wanted = [(n, r) for n, r in others.takes if not plan.members or n in plan.members][:MOST]
    variants = tuple(
        Variant(
            i,
            replace(base, recipe=r.recipe, rendering=r.rendering, frame=replace(base.frame, crop=base.frame.crop)),
            take=n,
        )
        for i, (n, r) in enumerate(wanted, 1)
    )
    problem = "" if len(variants) > 1 else "one-take"
    return Planned(
        plan, base, ("take",), variants, (), () if problem else alike_pairs(opened, variants, boxes), problem
    )


def _papers(opened: OpenRendition, plan: TestPlan, _boxes: Sequence[Box], others: Others) -> Planned:
    """The picture on several papers, a sheet each."""
    wanted = [(n, r) for n, r in others.papers if not plan.members or n in plan.members][:MOST]
    variants = tuple(Variant(i, r, condition=n) for i, (n, r) in enumerate(wanted, 1))
    return Planned(plan, opened.rendition, ("paper",), variants, (), (), "" if len(variants) > 1 else "one-paper")


def opened_as(opened: OpenRendition, rendition: Rendition) -> OpenRendition:
    """What is needed to print a variant of an open rendition: the same picture and paper."""
    return opened if rendition == opened.rendition else OpenRendition(rendition, opened.open, opened.paper)


def alike_pairs(
    opened: OpenRendition, variants: Sequence[Variant], boxes: Sequence[Box]
) -> tuple[tuple[int, int], ...]:
    """Pairs of numbers whose predicted prints differ by more than 0.5 ΔE₀₀ on less than 2 per cent of the pieces."""
    pyramid, wanted = opened.reading, list(boxes) or [opened.box]
    places = np.concatenate([pyramid.sample(*box, _SAMPLE // len(wanted))[1] for box in wanted])
    prints = []
    for each in (v for v in variants if not v.black):
        one = opened_as(opened, each.rendition)
        prints.append((each.number, one.chain().printed(one.tuned.points(places) / 65535.0)))
    found = []
    for (i, one_print), (j, other) in itertools.combinations(prints, 2):
        if float((delta_e_2000(one_print, other) > _DIFFERS).mean()) < _LEAST_SHARE:
            found.append((i, j))
    return tuple(found)
