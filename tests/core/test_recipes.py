"""Recipes and renditions as values: steps with origins, plain values and back, what is refused by name."""

from __future__ import annotations

import json
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rehearsal.core.errors import RehearsalError
from rehearsal.core.values.adjustments import ADJUSTMENTS, Values
from rehearsal.core.values.destination import Destination, space_of, space_path
from rehearsal.core.values.frame import Crop, Frame, PrintSize
from rehearsal.core.values.handover import FORMATS, HandOver
from rehearsal.core.values.place import Ellipse
from rehearsal.core.values.pull import Pull
from rehearsal.core.values.recipe import AREA, HAND, LEARNT, LIGHT, MATHS, Recipe, Step, by_hand, habit_of, habit_origin
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.sheet import Sheet

PLACE = Ellipse((0.5, 0.3), (0.2, 0.1), 30.0, 0.4, True)


def test_the_json_of_a_recipe_is_the_promised_one() -> None:
    recipe = (
        Recipe()
        .having(Step(LIGHT, Values.of(lightness=0.5)))
        .having(Step("place", Values.of(contrast=4), "sky", 0.5, place=PLACE))
    )
    assert recipe.to_json() == {
        "maths": 2,
        "steps": [
            {"name": "", "origin": "light", "on": True, "strength": 1.0, "values": {"lightness": 0.5}, "place": None},
            {"name": "sky", "origin": "place", "on": True, "strength": 0.5, "values": {"contrast": 4.0},
             "place": {"kind": "ellipse", "centre": [0.5, 0.3], "radii": [0.2, 0.1], "angle": 30.0, "fade": 0.4, "invert": True}},
        ],
    }  # fmt: skip
    assert Recipe.from_json(json.loads(json.dumps(recipe.to_json()))) == recipe


@pytest.mark.parametrize(
    ("data", "name"),
    [
        ({"maths": 1, "steps": [], "glow": 1}, "glow"),
        ({"steps": [{"origin": "hand", "curve": []}]}, "curve"),
        ({"steps": [{"origin": "hand", "values": {"brilliance": 1}}]}, "brilliance"),
        ({"steps": [{"origin": "the moon"}]}, "the moon"),
        ({"steps": [{"origin": "habit:"}]}, "habit:"),
        ({"steps": [{"origin": "hand", "strength": 1.5}]}, "1.5"),
        ({"steps": [{"origin": "hand", "place": {"kind": "brush"}}]}, "brush"),
        ({"steps": [{"origin": "hand", "place": {**PLACE.to_json(), "glow": 1}}]}, "glow"),
        ({"steps": [{"origin": "hand", "place": {**PLACE.to_json(), "radii": [0, 1]}}]}, "radii"),
        ({"steps": [{"origin": "hand", "place": {**PLACE.to_json(), "fade": 1.2}}]}, "fade"),
        ({"maths": 7, "steps": []}, "maths 7"),
        ({"steps": [{"origin": "learnt"}, {"origin": "learnt"}]}, "learnt"),
    ],
)
def test_what_a_recipe_does_not_know_is_refused_by_name(data: dict, name: str) -> None:
    with pytest.raises(RehearsalError, match=name):
        Recipe.from_json(data)


def test_one_step_for_the_light_one_learnt_one_of_each_habit() -> None:
    recipe = Recipe()
    for origin in (LIGHT, LEARNT, habit_origin("soft"), habit_origin("hard"), HAND):
        for amount in (2, 4, 6):
            recipe = recipe.having(Step(origin, Values.of(contrast=amount)))
    assert [s.origin for s in recipe.steps] == [LIGHT, LEARNT, "habit:soft", "habit:hard", HAND]
    assert recipe.total["contrast"] == 30 and habit_of("habit:soft") == "soft" and habit_of(HAND) == ""
    # areas and places may be many
    many = Recipe()
    for _ in range(3):
        many = many.having(Step("place", Values.of(contrast=2), place=PLACE))
    assert len(many.placed) == 3 and many.changes == 3 and not many.is_global and not many.is_neutral
    assert recipe.without(LEARNT).step(LEARNT) is None and len(recipe.without(LEARNT).steps) == 4


def test_steps_that_are_off_or_empty_do_nothing() -> None:
    on = by_hand(contrast=6)
    off = replace(on, steps=(replace(on.steps[0], on=False),))
    assert off.is_neutral and off.changes == 0 and off != on
    half = replace(on, steps=(replace(on.steps[0], strength=0.5),))
    assert half.total["contrast"] == 3
    assert by_hand() == Recipe() and on.having(Step(HAND)) == Recipe(), "an empty step by hand is none"
    assert replace(on, steps=(Step("place", Values.of(contrast=4), on=False, place=PLACE),)).is_global


@given(st.sampled_from(list(ADJUSTMENTS)), st.floats(-1.2, 1.2), st.floats(-1, 1))
def test_the_hand_makes_up_what_is_wanted_in_all(name: str, wanted: float, learnt: float) -> None:
    each = ADJUSTMENTS[name]
    recipe = Recipe().having(Step(LEARNT, Values.of({name: learnt * each.high})))
    made = recipe.with_total(name, wanted * each.high)
    assert made.total[name] == pytest.approx(each.clamp(wanted * each.high), abs=2e-5)
    assert made.step(LEARNT) == recipe.step(LEARNT)


def test_sixths_come_back_to_nothing() -> None:
    recipe = Recipe()
    for _ in range(5):
        recipe = recipe.with_total("lightness", recipe.total["lightness"] + 1 / 6)
    for _ in range(5):
        recipe = recipe.with_total("lightness", recipe.total["lightness"] - 1 / 6)
    assert recipe == Recipe()


def test_values_are_refused_and_limited() -> None:
    with pytest.raises(RehearsalError, match="glow"):
        Values.of(glow=1)
    with pytest.raises(RehearsalError, match="glow"):
        _ = Values()["glow"]
    assert Values.of(contrast=900)["contrast"] == 100, "from one end of the range to the other"
    assert Values.of(contrast=900).clamped()["contrast"] == 50


# ---- the rendition


FULL = Rendition(
    "digest", "opRGB", Frame(Crop(0.1, 0.2, 0.5, 0.6), PrintSize(30, 20), "inside"), by_hand(strength=4),
    Rendering("perceptual"), Destination("d" * 64, "/papers/one.icc"), Sheet("A3", True),
    HandOver("space", "P3", "jpeg", 240.0, "program", "relative", "m", "f", 97.0),
)  # fmt: skip


def test_a_rendition_is_its_value() -> None:
    assert Rendition.from_json(json.loads(json.dumps(FULL.to_json()))) == FULL
    moved = replace(FULL, destination=replace(FULL.destination, path="/elsewhere/one.icc"))
    assert moved == FULL and hash(moved) == hash(FULL) and moved.key == FULL.key
    for name, value in (
        ("master", "x"), ("assumed", ""), ("frame", Frame()), ("recipe", Recipe()), ("rendering", Rendering()),
        ("destination", Destination("e")), ("sheet", Sheet()), ("hand_over", HandOver()),
    ):  # fmt: skip
        other = replace(FULL, **{name: value})
        assert other != FULL and other.key != FULL.key, name
        through = FULL.hand_over.via  # the working space on the way belongs to the look
        assert (other.look == FULL.look) is (name == "sheet" or (name == "hand_over" and not through)), name


def test_destinations_by_file_and_by_space() -> None:
    assert space_of(space_path("P3")) == "P3" and space_of("/papers/space.icc") == ""


def test_formats_say_depth_and_ending() -> None:
    assert (
        HandOver().converts == "none"
        and HandOver("space").converts == "program"
        and FULL.hand_over.file.suffix == ".jpg"
    )


def test_the_sum_of_steps_is_limited_to_the_range() -> None:
    recipe = by_hand(contrast=40, lightness=-1.5).having(Step(LEARNT, Values.of(contrast=30, lightness=-1)))
    assert recipe.total["contrast"] == 50 and recipe.total["lightness"] == -2
    assert recipe.having(Step(LEARNT, Values.of(contrast=-30))).total["contrast"] == 10


def test_the_next_arithmetic_is_refused() -> None:
    assert Recipe.from_json({"maths": MATHS, "steps": []}) == Recipe()
    with pytest.raises(RehearsalError, match=f"maths {MATHS + 1}"):
        Recipe.from_json({"maths": MATHS + 1, "steps": []})


def test_formats_hold_what_their_standards_allow() -> None:
    # baseline JPEG has 8 bits a channel (ISO/IEC 10918-1), TIFF 8 or 16 (TIFF 6.0), PNG 8 or 16 (ISO/IEC 15948); PDF carries 8 here
    assert {key: (each.depth, each.suffix) for key, each in FORMATS.items()} == {
        "tiff16": (16, ".tif"),
        "tiff8": (8, ".tif"),
        "jpeg": (8, ".jpg"),
        "png16": (16, ".png"),
        "png8": (8, ".png"),
        "pdf": (8, ".pdf"),
    }


def test_a_recipe_of_an_earlier_arithmetic_is_renewed_by_whoever_changes_it() -> None:
    old = replace(by_hand(contrast=8), maths=1)
    assert old.is_old and not old.renewed.is_old and old.renewed.steps == old.steps
    assert not Recipe(maths=1).is_old, "without numbers nothing is different"
    assert Recipe.from_json(old.to_json()) == old
    changed = (
        old.with_total("contrast", 9), old.having(Step(LIGHT, Values.of(lightness=0.5))), old.without(HAND),
        old.having(Step("place", Values.of(contrast=4), place=PLACE)),
    )  # fmt: skip
    assert [r.maths for r in changed] == [2, 2, 2, 2]
    assert not by_hand(contrast=8).is_old


def test_colours_pulled_by_hand_and_from_areas_are_one_row_of_steps_of_their_own() -> None:
    one, two, three = (Pull(0.6, 0.1, hue, lighter=0.05) for hue in (20.0, 120.0, 240.0))
    recipe = by_hand(contrast=4).pulling(one).pulling(two, AREA).pulling(three)
    assert [s.origin for s in recipe.steps] == [HAND, AREA] and recipe.maths == MATHS
    assert recipe.pulls == ((0, one), (0, three), (1, two))
    moved = Pull(0.6, 0.1, 240.0, lighter=-0.05)
    made = recipe.with_pull(1, moved)
    assert made.pulls == ((0, one), (0, moved), (1, two)) and made.total["contrast"] == 4
    assert recipe.with_pull(2, moved).pulls == ((0, one), (0, three), (1, moved))
    assert recipe.with_pull(0, None).pulls == ((0, three), (1, two))
    gone = recipe.with_pull(2, None)
    assert [s.origin for s in gone.steps] == [HAND], "a step that holds nothing any more goes"
    assert Recipe().pulling(one).with_pull(0, None).steps == ()
    placed = Recipe((Step(AREA, Values(pulled=(one,)), place=Ellipse((0.5, 0.5), (0.1, 0.1))),))
    assert placed.pulls == (), "what acts at a place is not pulled on the disc"
