"""Changes of a recipe in words."""

from dataclasses import replace

from rehearsal.core.tuning.changed import recipe_change
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.pull import Point, Pull
from rehearsal.core.values.recipe import HAND, LEARNT, Recipe, Step, by_hand, habit_origin


def test_amounts_are_said_as_they_became() -> None:
    assert recipe_change(by_hand(contrast=4), by_hand(contrast=9)) == "contrast +9"
    assert recipe_change(Recipe(), by_hand(contrast=9)) == "contrast +9"
    said = recipe_change(by_hand(contrast=4, warmth=5), by_hand(contrast=6, warmth=-5))
    assert said == "contrast +6 and warmth -5 mired"
    assert recipe_change(by_hand(contrast=4, warmth=5), by_hand(contrast=4)) == "warmth 0 mired"
    assert recipe_change(by_hand(contrast=4), by_hand(contrast=4)) == ""
    assert recipe_change(by_hand(contrast=4), Recipe()) == "as the picture is"


def test_steps_are_said_by_their_origin() -> None:
    learnt = Step(LEARNT, Values.of(lightness=1 / 3))
    both = by_hand(contrast=4).having(learnt)
    assert recipe_change(by_hand(contrast=4), both) == "learnt here: lighter by ⅓ stop"
    assert recipe_change(both, by_hand(contrast=4)) == "taken away: learnt here"
    assert recipe_change(both, both.put(1, replace(learnt, on=False))) == "learnt here off"
    assert recipe_change(both.put(1, replace(learnt, on=False)), both) == "learnt here on"
    assert recipe_change(both, both.put(1, replace(learnt, strength=0.5))) == "learnt here at 50 %"
    habit = Step(habit_origin("Matte"), Values.of(contrast=6), name="Matte")
    assert recipe_change(Recipe(), Recipe((habit,))) == "habit, Matte: contrast +6"


def test_points_and_pulls_are_said() -> None:
    one = Values(points=(Point(30.0, 34.0),))
    assert recipe_change(Recipe(), Recipe((Step(HAND, one),))) == "L* 30 lifted to 34"
    moved = Values(points=(Point(30.0, 27.0),))
    assert recipe_change(Recipe((Step(HAND, one),)), Recipe((Step(HAND, moved),))) == "L* 30 lowered to 27"
    both = replace(one, points=(*one.points, Point(60.0, 62.0)))
    assert recipe_change(Recipe((Step(HAND, both),)), Recipe((Step(HAND, one),))) == "taken away: L* 60 lifted to 62"
    pull = Values(pulled=(Pull(0.6, 0.1, 40.0, lighter=0.05, name="orange"),))
    assert recipe_change(Recipe(), Recipe((Step(HAND, pull),))) == "orange pulled: lighter by 5 %"
