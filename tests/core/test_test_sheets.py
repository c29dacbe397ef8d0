"""Test sheets: their fields, the piece, where they lie, wedges, and what follows from a look."""

from __future__ import annotations

import itertools
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.conftest import opened_for

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile, Step, Transform, lab_profile
from rehearsal.core.picture.file import Picture, read_picture
from rehearsal.core.sheet.boxes import Box
from rehearsal.core.sheet.layout import SHEETS
from rehearsal.core.sheet.lettering import line_width_mm
from rehearsal.core.testsheets.families import CURVE, STRENGTH, curve_family, strength_family
from rehearsal.core.testsheets.judged import chosen_values, next_plan, quantities_between, recipe_with
from rehearsal.core.testsheets.laying import EDGE, Wanted, lay_test, serves, smallest_sheet, wrapped
from rehearsal.core.testsheets.pieces import PieceFinder, of_crop, within
from rehearsal.core.testsheets.variants import Others, Planned, alike_pairs, plan_variants
from rehearsal.core.testsheets.visiblestep import Bracket, stepped_values
from rehearsal.core.testsheets.wedges import STEPS, black_values, one_black_words, seen_of, wedges_for
from rehearsal.core.testsheets.words import difference_words, label_of, plan_words, units_words
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.frame import Crop
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.pull import Point
from rehearsal.core.values.recipe import HAND, LEARNT, Recipe, by_hand
from rehearsal.core.values.recipe import Step as RecipeStep
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.testplan import Looked, TestPlan, Variant
from rehearsal.core.values.wedge import WedgeSeen

MARGINS = (3.0, 5.0, 12.0, 4.0)


@pytest.fixture(scope="module")
def cloths(little_cloths: Path) -> Picture:
    return read_picture(little_cloths)


# ---- fields


def test_a_bracket_has_the_untouched_one_among_its_fields(cloths: Picture, dune: Profile) -> None:
    opened = opened_for(cloths, dune, recipe=by_hand(contrast=10))
    made = plan_variants(opened, TestPlan("bracket", "lightness", count=5))
    assert made.is_ready and [v.number for v in made.variants] == list(range(1, len(made.variants) + 1))
    lights = [v.rendition.recipe.total["lightness"] for v in made.variants]
    assert lights == [v.values[0] for v in made.variants] == sorted(lights) and 0.0 in lights
    assert {v.rendition.recipe.total["contrast"] for v in made.variants} == {10.0}, "all else stays"
    assert made.names == ("lightness",) and made.alike == () and made.base == opened.rendition
    wide = plan_variants(opened, TestPlan("bracket", "lightness", count=5, apart=2.0))
    assert wide.variants[-1].values[0] > 1.5 * lights[-1], "twice as far apart"
    assert all(2.6 <= d <= 3.4 for d in wide.brackets[0].differences)


def test_two_at_once_are_three_by_three_about_the_untouched_one(cloths: Picture, dune: Profile) -> None:
    made = plan_variants(opened_for(cloths, dune), TestPlan("two", "warmth", "tint"))
    assert made.names == ("warmth", "tint") and made.columns == 3 and len(made.variants) == 9
    across = [v.values[0] for v in made.variants]
    down = [v.values[1] for v in made.variants]
    assert across[:3] == across[3:6] == across[6:] and down[0] == down[2] < down[3] == down[5] < down[8]
    assert made.variants[4].values == (0.0, 0.0) and made.variants[4].rendition.recipe.is_neutral
    total = made.variants[0].rendition.recipe.total
    assert (total["warmth"], total["tint"]) == made.variants[0].values


def test_a_mixed_nine(cloths: Picture, dune: Profile) -> None:
    # common practice, no source: untouched, a curve in three strengths, contrast and a stop each way, black
    made = plan_variants(opened_for(cloths, dune), TestPlan("mixed"))
    assert len(made.variants) == 9 and made.variants[0].rendition.recipe.is_neutral
    light, medium, heavy = (v.values[0] for v in made.variants[1:4])
    assert 0 < light < medium < heavy and heavy == pytest.approx(3 * light, abs=0.002)
    for v in made.variants[1:4]:
        dark, middle, high = v.rendition.recipe.total.points
        assert dark.to < dark.at and middle.to > middle.at and high.to > high.at + 2, "darks held, lights raised"
    assert made.variants[4].values[1] < 0 < made.variants[5].values[1]
    assert [v.values[2] for v in made.variants[6:8]] == [-1.0, 1.0], "a stop is a stop"
    assert made.variants[8].black and not any(v.black for v in made.variants[:8])
    # between 0 and -1 lies a half: common practice, no source
    assert chosen_values("mixed", made.variants, (1, 7)) == (0.0, 0.0, -0.5)


def test_other_kinds(cloths: Picture, dune: Profile) -> None:
    opened = opened_for(cloths, dune)
    found = plan_variants(opened, TestPlan("renderings"))
    assert found.variants[0].rendition.rendering == opened.rendition.rendering
    assert len({v.rendition.rendering for v in found.variants}) == len(found.variants) >= 2
    assert plan_variants(opened, TestPlan("sharpening")).problem == "no-surface"
    sharp = plan_variants(opened, TestPlan("sharpening"), (), Others(sigma_um=60.0))
    assert [v.rendition.hand_over.sharpen for v in sharp.variants] == [0, 50, 100, 150]
    assert {v.rendition.hand_over.sigma_um for v in sharp.variants} == {60.0}
    other = replace(opened.rendition, recipe=by_hand(contrast=30))
    both = Others(takes=((4, opened.rendition), (7, other)))
    takes = plan_variants(opened, TestPlan("takes"), (), both)
    assert [(v.take, v.rendition.recipe) for v in takes.variants] == [(4, Recipe()), (7, by_hand(contrast=30))]
    assert plan_variants(opened, TestPlan("takes", members=(4,)), (), both).problem == "one-take"
    papers = plan_variants(opened, TestPlan("papers"), (), Others(papers=((1, opened.rendition), (2, other))))
    assert [v.condition for v in papers.variants] == [1, 2] and papers.is_ready
    assert plan_variants(opened, TestPlan("strength")).problem == "no-steps"
    with pytest.raises(RehearsalError, match="no such kind"):
        plan_variants(opened, TestPlan("nine"))


def test_one_step_in_several_strengths(cloths: Picture, dune: Profile) -> None:
    steps = (RecipeStep(LEARNT, Values.of(lightness=1 / 6)), RecipeStep(HAND, Values.of(contrast=50)))
    opened = opened_for(cloths, dune, recipe=Recipe(steps))
    made = plan_variants(opened, TestPlan("strength", count=5))
    shares = [v.values[0] for v in made.variants]
    assert made.names == (STRENGTH,) and shares[-1] == 1.0 and all(0 <= s < 1 for s in shares[:-1])
    assert [v.rendition.recipe.steps[1].strength for v in made.variants] == shares
    assert {v.rendition.recipe.steps[0] for v in made.variants} == {steps[0]}
    with pytest.raises(RehearsalError, match="no such step"):
        strength_family(Recipe(steps), 2)
    assert strength_family(Recipe(steps), -2).recipe(0.5).steps[0].strength == 0.5
    off = Recipe((replace(steps[1], on=False),))
    assert strength_family(off, 0).middle == 0.0 and strength_family(off, 0).recipe(0.3).steps[0].on


def test_a_curve_goes_on_top_of_the_points_there_are() -> None:
    own = Recipe((RecipeStep(HAND, Values(points=(Point(35.0, 40.0),))),))
    assert curve_family(own).recipe(0.0) is own
    half = curve_family(own).recipe(0.5).total.points
    assert next(p for p in half if p.at == 35.0).to == pytest.approx(40 + 0.5 * 3)
    # given to a take twice it is the same curve: set, never added
    base = Recipe()
    once = recipe_with(base, base, TestPlan("mixed"), (CURVE,), (0.6,))
    assert recipe_with(once, base, TestPlan("mixed"), (CURVE,), (0.6,)) == once != base
    assert recipe_with(once, base, TestPlan("mixed"), (CURVE,), (0.0,)).total.points == ()


def test_fields_that_print_alike_are_a_waste(cloths: Picture, dune: Profile) -> None:
    opened = opened_for(cloths, dune)
    rows = [by_hand(), by_hand(contrast=1), by_hand(contrast=30)]
    variants = [Variant(i, replace(opened.rendition, recipe=r)) for i, r in enumerate(rows, 1)]
    assert alike_pairs(opened, variants, []) == ((1, 2),)
    assert alike_pairs(opened, [*variants[1:], Variant(4, opened.rendition, black=True)], []) == ()
    made = Planned(TestPlan("takes"), opened.rendition, ("take",), tuple(variants), (), ((1, 2),))
    assert plan_words(made) == "These print alike, a waste: 1 and 2."
    assert plan_words(replace(made, alike=())) == ""


def test_steps_by_hand() -> None:
    base = by_hand(contrast=4).having(RecipeStep(LEARNT, Values.of(contrast=3)))
    assert stepped_values(base, "contrast", 8, 6) == (-9, -1, 7, 15, 23, 31)
    assert stepped_values(by_hand(contrast=48), "contrast", 8, 6) == (32, 40, 48, 50), "none twice"
    assert stepped_values(Recipe(), "dark_half", 10, 6) == (0, 10, 20, 30, 40, 50), "darks only upwards"
    # the learnt part stays what it is; the hand makes up the rest
    printed = recipe_with(base, base, TestPlan(), ("contrast",), (-9.0,))
    learnt = printed.step(LEARNT)
    assert learnt is not None and learnt.values["contrast"] == 3 and printed.total["contrast"] == -9


# ---- the piece


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 10_000), st.integers(3, 14), st.integers(3, 9))
def test_the_piece_is_the_best_of_all_places(seed: int, wide: int, high: int) -> None:
    # against the plain search over all places
    rng = np.random.default_rng(seed)
    light = np.round(rng.normal(50, 20, (14, 22)).clip(0, 100))
    labels = rng.integers(0, 4, light.shape)
    finder = PieceFinder(light, labels)
    (offered,) = finder.offered(wide / 22, high / 14)
    here = finder.covered([offered])
    edges = np.unique(np.quantile(light, np.arange(1, 10) / 10))
    tenth = np.searchsorted(edges, light, side="right")

    def things(y: int, x: int) -> int:
        one, two = tenth[y : y + high, x : x + wide], labels[y : y + high, x : x + wide]
        shares = [(one == i).mean() for i in np.unique(tenth)] + [(two == i).mean() for i in (1, 2, 3)]
        return sum(s >= 0.02 for s in shares)

    best = max(things(y, x) for y in range(14 - high + 1) for x in range(22 - wide + 1))
    assert here.tones + here.areas == best and (here.of_tones, here.of_areas) == (len(np.unique(tenth)), 3)
    assert things(round(offered.y * 14), round(offered.x * 22)) == best


def test_more_pieces_show_what_the_first_does_not() -> None:
    light = np.zeros((20, 40))
    light[:, :20] = np.arange(20)[None, :]
    light[:, 20:] = 50 + np.arange(20)[None, :]
    labels = np.zeros((10, 20), dtype=int)  # areas of a coarser map
    labels[:, 18:] = 1
    finder = PieceFinder(light, labels)
    one = finder.offered(0.25, 1.0)
    three = finder.offered(0.25, 1.0, 3)
    assert one[0] == three[0] and len(three) == 3
    for a, b in itertools.combinations(three, 2):
        assert max(b.x - (a.x + a.width), a.x - (b.x + b.width)) >= -1e-9, "they share nothing"
    assert finder.covered(three).tones > finder.covered(one).tones
    assert finder.covered(three).areas == 1
    assert len(finder.offered(0.7, 1.0, 3)) == 1, "there is no room for more"
    whole = finder.offered(4.0, 4.0)
    assert whole == [Crop()] and finder.covered(whole).tones == 10
    flat = PieceFinder(np.full((8, 8), 40.0))
    assert flat.covered(flat.offered(0.5, 0.5)).of_tones == 1, "a flat picture has one tone"


def test_the_second_piece_is_the_one_with_something_new_and_equals_are_told_apart_by_evenness() -> None:
    # three places of four pixels: the first two show the same four tones, the third one has two of its own
    light = np.array([[10.0, 20, 30, 40, 10, 20, 30, 40, 80, 80, 90, 90]])
    finder = PieceFinder(light)
    first, second = finder.offered(4 / 12, 1.0, 2)
    both = finder.covered([first, second])
    assert both.tones == both.of_tones, "what the first shows is not shown again"
    # two places with the same two tones: the one that has half of each
    tones = np.array([[10.0, 10, 10, 10, 10, 10, 10, 90, 10, 10, 10, 10, 90, 90, 90, 90]])
    (even,) = PieceFinder(tones).offered(8 / 16, 1.0)
    at = round(even.x * 16)
    assert (tones[0, at : at + 8] == 90).sum() == 4


def test_pieces_go_into_the_picture_and_back() -> None:
    crop, piece = Crop(0.2, 0.1, 0.5, 0.8), Crop(0.1, 0.25, 0.3, 0.4)
    made = within(piece, crop)
    assert (made.x, made.y, made.width, made.height) == pytest.approx((0.25, 0.3, 0.15, 0.32))
    back = of_crop(made, crop)
    assert (back.x, back.y, back.width, back.height) == pytest.approx((0.1, 0.25, 0.3, 0.4))


# ---- the sheet


@pytest.mark.parametrize("layout", ["2x2", "3x3", "strips"])
@pytest.mark.parametrize("upright", [False, True])
def test_nothing_on_a_sheet_meets_anything_or_leaves_its_margins(layout: str, upright: bool) -> None:
    count = {"2x2": 4, "3x3": 9, "strips": 5}[layout]
    labels = tuple(f"lighter 0.{i}, contrast −19 and some more words to be wrapped" for i in range(count))
    caption = "Paper; medium Fine; relative colorimetric with compensation; 28 Nov 2026; a picture, take two; sheet 1"
    made = lay_test(Wanted(labels, 2, 0.0, (390.0, 260.0), caption, upright), "A3", layout, MARGINS)
    page = made.page
    assert page.width == pytest.approx(297 if upright else 420) and len(page.laid) == 2 * count
    boxes: list[Box] = [
        *(b for f in made.fields for b in (*f.pieces, f.black, f.bare)),
        *made.black_wedge,
        *made.white_wedge,
    ]
    lines = []
    for line in page.lettering:
        width = line_width_mm(line)
        lines.append(Box(line.x, line.y - line.capital, width, line.capital * 1.3))
    inked = page.inked
    for box in (*boxes, *lines):
        assert inked.holds(box) and box.left >= EDGE - 1e-6 and box.right <= page.width - EDGE + 1e-6
    for a, b in itertools.combinations((*boxes, *lines), 2):
        assert not a.meets(b, 1e-3), (a, b)
    words = " ".join(line.text for line in page.lettering)
    assert caption in words and all(f"{i} {label}" in words for i, label in enumerate(labels, 1)), "type is never cut"


def test_a_piece_is_never_larger_than_the_print_and_a_whole_picture_keeps_its_proportion() -> None:
    small = lay_test(Wanted(("a", "b"), 1, 0.0, (50.0, 30.0)), "A4", "2x2", MARGINS)
    assert small.piece == pytest.approx((50.0, 30.0))
    whole = lay_test(Wanted(("a", "b", "c"), 1, 1.5), "A4", "3x3", MARGINS)
    assert whole.piece[0] / whole.piece[1] == pytest.approx(1.5)
    with pytest.raises(RehearsalError, match="2x2 holds 4 fields"):
        lay_test(Wanted(("a",) * 5), "A4", "2x2", MARGINS)
    with pytest.raises(RehearsalError, match="too small"):
        lay_test(Wanted(("a " * 90,) * 9), "A5", "strips", MARGINS)


def test_the_smallest_sheet_that_serves() -> None:
    wanted = Wanted(("x",) * 9, 1, 0.0, (390.0, 260.0), "caption")
    made = smallest_sheet(wanted, "3x3", (3.0, 3.0, 3.0, 3.0), ("A3", "A4", "A5", "A2", "no such sheet"))
    assert made.name == "A5" or not serves(lay_test(wanted, "A5", "3x3", (3.0, 3.0, 3.0, 3.0)), wanted)
    assert serves(made, wanted)
    for name in (n for n in ("A5", "A4", "A3") if SHEETS[n][0] < SHEETS[made.name][0]):
        assert not serves(lay_test(wanted, name, "3x3", (3.0, 3.0, 3.0, 3.0)), wanted)
    tiny = smallest_sheet(replace(wanted, print_mm=(20.0, 12.0)), "3x3", (3.0, 3.0, 3.0, 3.0), ("A3", "A5", "A4"))
    assert tiny.name == "A5" and tiny.piece == pytest.approx((20.0, 12.0)), "a small print needs no large sheet"
    four = smallest_sheet(replace(wanted, pieces=4), "3x3", (3.0, 3.0, 3.0, 3.0), ("A5", "A4"))
    assert four.name == "A4" and not serves(four, replace(wanted, pieces=4)), "the largest there is, when none serves"
    assert smallest_sheet(wanted, "3x3", MARGINS, ()).name == "A4"


def test_a_place_on_the_sheet_is_a_field_or_a_gap() -> None:
    made = lay_test(Wanted(("x",) * 5), "A4", "3x3", MARGINS)
    one, two, four = made.fields[0].pieces[0], made.fields[1].pieces[0], made.fields[3].pieces[0]
    assert made.at(one.left + 5, one.top + 5) == (1,) and made.at(four.right - 1, four.foot - 1) == (4,)
    assert made.at((one.right + two.left) / 2, one.top + 5) == (1, 2)
    assert made.at(one.left + 9, (one.foot + four.top) / 2) == (1, 4)
    assert made.at(1.0, 1.0) == () and made.at(one.left + 1, made.page.height - 6) == ()
    assert made.neighbours() == [(1, 2), (2, 3), (4, 5), (1, 4), (2, 5)]
    assert made.columns == 3 and lay_test(Wanted(("x", "y")), "A4", "3x3", MARGINS).columns == 2


def test_lines_are_broken_and_never_cut() -> None:
    lines = wrapped(
        "some words that need more than one line and averyveryverylongwordthatdoesnotfitanywhere", 30.0, 2.6
    )
    assert (
        "".join(lines).replace(" ", "")
        == "somewordsthatneedmorethanonelineandaveryveryverylongwordthatdoesnotfitanywhere"
    )
    from rehearsal.core.sheet.lettering import text_width_mm

    assert len(lines) > 3 and all(text_width_mm(line, 2.6) <= 30.0 for line in lines)
    assert wrapped("", 30, 2.6) == []


# ---- wedges


@pytest.mark.parametrize("route", ["printer", "space"])
def test_wedges_rise_by_one_from_the_deepest_black_and_fall_by_one_from_bare_paper(
    cloths: Picture, dune: Profile, route: str
) -> None:
    opened = opened_for(cloths, dune, hand_over=HandOver(route, "opRGB"))
    made = wedges_for(opened)
    assert len(made.black) == len(made.white) == STEPS
    device = [opened.chain(opened.via).device(v) if opened.via else v for v in (made.black, made.white)]
    # read back by the engine itself, media-relative
    read = Transform([Step(dune), Step(lab_profile(), "relative")])
    dark, light = (read.apply(v) for v in device)
    assert np.allclose(dark[:, 0] - dark[0, 0], np.arange(STEPS), atol=0.35)
    assert np.allclose(100 - light[:, 0], np.arange(STEPS), atol=0.35)
    assert (np.diff(dark[:, 0]) > 0.5).all() and (np.diff(light[:, 0]) < -0.5).all()
    assert np.abs(light[:, 1:]).max() < 0.6
    assert np.array_equal(made.white[0], np.ones(3)), "bare paper is bare"
    assert np.array_equal(made.black[0], black_values(opened))
    if route == "printer":
        assert np.hypot(*dark[-1, 1:]) < 0.5 < np.hypot(*dark[0, 1:]) or np.hypot(*dark[0, 1:]) < 0.6


def test_what_the_wedges_said() -> None:
    seen = seen_of(4, 2, 500.0, 4000.0)
    assert seen == WedgeSeen(4.0, 2.0, 500.0, 4000.0)
    said = one_black_words(seen, "Dune")
    assert said == (
        "On Dune, as seen at 500 lux, 4000 K, depths within 3 L* of the deepest black are one black and tones within 1 L* of bare "
        "paper are one white."
    )
    assert one_black_words(seen_of(1, 1, 500.0, 0.0), "Dune") == "", "each step was told apart"
    assert one_black_words(seen_of(-1, -1, 500.0, 0.0), "Dune") == "" and seen_of(-1, 0, 1, 0).black == -1
    dark = one_black_words(seen_of(3, 1, 80.0, 0.0), "Dune")
    assert "white" not in dark and " K" not in dark


# ---- what a look means


def _row(*values: float) -> tuple[Variant, ...]:
    return tuple(Variant(i, Rendition(), (v,)) for i, v in enumerate(values, 1))


def test_a_gap_is_the_mean_of_its_two_fields() -> None:
    row = _row(-0.4, 0.0, 0.3)
    assert chosen_values("bracket", row, (3,)) == (0.3,) and chosen_values("bracket", row, (2, 3)) == (0.15,)
    assert chosen_values("bracket", row, (4,)) is None and chosen_values("bracket", row, ()) is None
    assert chosen_values("renderings", row, (1, 2)) is None, "nothing lies between two intents"
    black = (*row, Variant(4, Rendition(), (0.0,), black=True))
    assert chosen_values("mixed", black, (3, 4)) is None


def test_the_next_sheet_is_narrower_until_below_the_visible_step() -> None:
    row, plan = _row(-2.0, -1.0, 0.0, 1.0, 2.0), TestPlan("bracket", apart=4.0, step=1.0)
    first = next_plan(plan, row, (6.0, 6.0, 6.0, 6.0), Looked("chosen", (2,)))
    assert (first.why, first.apart) == ("narrower", 4.0) and first.plan is not None
    assert (first.plan.apart, first.plan.step) == (2.0, 0.0)
    second = next_plan(first.plan, row, (3.0, 3.1, 2.9, 3.0), Looked("chosen", (2, 3)))
    assert second.why == "narrower" and second.plan is not None and second.plan.apart == 1.0
    done = next_plan(second.plan, row, (1.5, 1.5, 1.5, 1.6), Looked("chosen", (3, 4)))
    assert done.why == "below" and done.plan is None and done.apart == pytest.approx(1.02, abs=0.01)
    # a little over a step is no reason for another sheet, two steps are
    assert next_plan(plan, row, (2.8,), Looked("chosen", (3,))).why == "below"
    assert next_plan(plan, row, (3.0,), Looked("chosen", (3,))).why == "narrower"
    edge = next_plan(second.plan, row, (1.5,), Looked("chosen", (5,)))
    assert edge.why == "edge" and edge.plan is not None and edge.plan.apart == 1.0
    assert next_plan(TestPlan("two", apart=1.0), row, (1.5,), Looked("chosen", (5,))).why == "below"
    assert next_plan(plan, row, (), Looked("chosen", (3,))).apart == 4.0


def test_none_of_them_is_a_result_too() -> None:
    row, plan = _row(-2.0, -1.0, 0.0, 1.0), TestPlan("bracket", step=0.5)
    up, down = (next_plan(plan, row, (), Looked(f"further-{way}")).plan for way in ("up", "down"))
    assert up is not None and (up.beyond, up.side, up.step) == (1.0, 1, 0.0)
    assert down is not None and (down.beyond, down.side) == (-2.0, -1)
    best = next_plan(plan, row, (), Looked("none-better"))
    assert best.plan is None and best.why == "none-better"
    assert next_plan(TestPlan("renderings"), row, (), Looked("chosen", (1,))).why == "settled"


def test_a_sheet_further_on_begins_where_the_last_one_ended(cloths: Picture, dune: Profile) -> None:
    opened = opened_for(cloths, dune)
    first = plan_variants(opened, TestPlan("bracket", count=5))
    following = next_plan(first.plan, first.variants, first.brackets[0].differences, Looked("further-up")).plan
    assert following is not None
    made = plan_variants(opened, following)
    values = [v.values[0] for v in made.variants]
    highest = max(v.values[0] for v in first.variants)
    assert values[0] == 0.0 and min(values[1:]) > highest, "the untouched one among them, none printed before"
    assert all(1.2 <= d <= 1.8 for d in made.brackets[0].differences[1:])


# ---- words


def test_labels() -> None:
    base = Rendition(recipe=by_hand(contrast=5))
    assert label_of("bracket", ("contrast",), Variant(1, base, (5.0,)), base, {}) == "untouched"
    assert (
        label_of("two", ("lightness", "contrast"), Variant(1, base, (-0.18, 24.0)), base, {})
        == "darker 0.18, contrast +19"
    )
    assert label_of("mixed", (CURVE, "contrast"), Variant(1, base, (0.5, 5.0)), base, {}) == "curve at 50 %"
    assert label_of("mixed", (CURVE,), Variant(9, base, (0.0,), black=True), base, {}) == "black"
    assert label_of("strength", (STRENGTH,), Variant(1, base, (0.6,)), base, {}) == "the step at 60 %"
    assert label_of("sharpening", ("sharpening",), Variant(1, base, (0.0,)), base, {}) == "not sharpened"
    assert label_of("sharpening", ("sharpening",), Variant(1, base, (50.0,)), base, {}) == "sharpened by 50 %"
    assert label_of("takes", ("take",), Variant(1, base, take=4), base, {4: "Warm"}) == "Warm"
    other = replace(base, rendering=Rendering("perceptual"))
    assert label_of("renderings", ("rendering",), Variant(1, other), base, {}) == "perceptual"
    assert difference_words(("lightness",), (1 / 3,), Rendition()) == "lighter by ⅓ stop"
    assert units_words(("lightness", "contrast")) == "light in stops" and units_words(("contrast",)) == ""


def test_between_any_two_fields_lies_half_of_each() -> None:
    fields = tuple(
        Variant(i, Rendition(), values) for i, values in enumerate(((0.0, 0.0), (8.0, 0.0), (0.0, -1.0), (8.0, 0.0)), 1)
    )
    assert chosen_values("mixed", fields, (1, 3)) == (0.0, -0.5), "between untouched and a stop darker"
    assert quantities_between(fields, (1, 3)) == 1
    assert chosen_values("mixed", fields, (2, 3)) == (4.0, -0.5) and quantities_between(fields, (2, 3)) == 2
    assert quantities_between(fields, (2, 4)) == 0 == quantities_between(fields, (2,))


def test_what_is_said_of_plans_that_cannot_be() -> None:
    nothing = Planned(TestPlan("strength"), Rendition(), problem="no-steps")
    assert "has no steps yet" in plan_words(nothing) and not nothing.is_ready
    blind = Bracket("strength", (0.0,), 0.0, (), 0.001, True)
    made = Planned(TestPlan("bracket", "strength"), Rendition(), ("strength",), _row(0.0), (blind,), (), "cannot-show")
    assert plan_words(made).startswith("This picture cannot show colour strength")
    sided = Bracket("lightness", (0.0, 1.0), 0.0, (1.5,), 0.9, True)
    two = Planned(TestPlan("two"), Rendition(), ("lightness", "contrast"), (), (sided, blind), (), "no-step")
    assert "step the two one after the other" in plan_words(two)
    three = replace(sided, values=(-1.0, 0.0, 1.0))
    assert "cannot show" in plan_words(replace(two, brackets=(three, blind))), "three steps are enough for two at once"


def test_neighbours_of_a_planned_bracket_differ_as_it_says(cloths: Picture, dune: Profile) -> None:
    # by the colour library (ISO/CIE 11664-6), over all pixels the control moves
    import colour

    opened = opened_for(cloths, dune)
    made = plan_variants(opened, TestPlan("bracket", "contrast", count=4))
    prints = []
    for variant in made.variants:
        one = opened.having(variant.rendition.recipe)
        prints.append(one.chain().printed(one.tuned.region(one.box, 90, 60).reshape(-1, 3) / 65535.0))
    ends = [opened.having(by_hand(contrast=v)) for v in (-50, 50)]
    low, high = (o.chain().printed(o.tuned.region(o.box, 90, 60).reshape(-1, 3) / 65535.0) for o in ends)
    moves = delta_e_2000(low, high) > 0.5
    for (a, b), said in zip(itertools.pairwise(prints), made.brackets[0].differences, strict=True):
        assert np.median(colour.delta_E(a[moves], b[moves], method="CIE 2000")) == pytest.approx(said, abs=0.15)
