"""Tuning against the outside and against itself: published colours, levels kept, one recipe in file, proof, readout and judgement."""

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.conftest import opened_for

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.colour.lab import lab_to_xyz
from rehearsal.core.colour.oklab import xyz_to_oklab
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import D65_XY, WHITE_D50, bradford, working_space, xy_to_xyz
from rehearsal.core.papers.model import paper_model
from rehearsal.core.picture.file import Picture, read_picture
from rehearsal.core.picture.space import master_space
from rehearsal.core.picture.write import write_picture
from rehearsal.core.proof.chain import Look
from rehearsal.core.tuning.apply import Applied
from rehearsal.core.tuning.pulling import lab_of, pull_at
from rehearsal.core.tuning.tone import STEPS, tone
from rehearsal.core.tuning.tuner import Tuner
from rehearsal.core.values.adjustments import ADJUSTMENTS, Values
from rehearsal.core.values.pull import Point, Pull
from rehearsal.core.values.recipe import HAND, LEARNT, Recipe, Step, by_hand
from rehearsal.tasks.judging import judge_rendition
from rehearsal.tasks.maps import read_point
from rehearsal.tasks.proofing import proof_file
from rehearsal.tasks.writing import write_print_file

#: Pairs of XYZ (D65) and Oklab that the author of Oklab published with it (Ottosson 2020; from memory, to three decimals).
_PUBLISHED = (
    ((0.950, 1.000, 1.089), (1.000, 0.000, 0.000)),
    ((1.000, 0.000, 0.000), (0.450, 1.236, -0.019)),
    ((0.000, 1.000, 0.000), (0.922, -0.671, 0.263)),
    ((0.000, 0.000, 1.000), (0.153, -1.415, -0.449)),
)

AT = np.linspace(0, 100, STEPS + 1)


@pytest.mark.parametrize(("xyz", "wanted"), _PUBLISHED)
def test_oklab_of_the_published_colours(xyz: tuple[float, ...], wanted: tuple[float, ...]) -> None:
    adapted = bradford(xy_to_xyz(*D65_XY), WHITE_D50) @ np.array(xyz)
    np.testing.assert_allclose(xyz_to_oklab(adapted), wanted, atol=1.2e-3)


_HALVES = [(name, end / 2) for name, each in ADJUSTMENTS.items() for end in (each.low, each.high)]


@pytest.mark.parametrize(("name", "value"), _HALVES)
@pytest.mark.parametrize("space", ["sRGB", "ROMM"])
def test_a_gradient_keeps_its_levels(name: str, value: float, space: str) -> None:
    """4,096 levels of a 16-bit ramp, as many as a large print has pixels across: 95 % are still apart."""
    ramp = np.round(np.linspace(0, 65535, 4096)).astype(np.uint16)
    grey, colour = np.repeat(ramp[:, None], 3, axis=1), np.stack([ramp, ramp // 2, ramp // 3], axis=1)
    for codes in (grey, colour):
        tuned = Tuner(by_hand({name: value}), master_space(working_space(space)), (4096, 1)).nodes(codes)
        before, after = (len(np.unique(each, axis=0)) for each in (codes, tuned))
        if (name, np.sign(value)) in (("deepest", -1), ("lightest", 1)):  # what an end pulled in cuts off is cut off
            black_or_white = np.ptp(tuned, axis=1) == 0
            cut = black_or_white & np.isin(tuned[:, 0], (0, 65535))
            before -= int(cut.sum()) - 1
        assert after >= 0.95 * before, f"{after} of {before}"


@settings(max_examples=40, deadline=None)
@given(st.dictionaries(st.sampled_from(sorted(ADJUSTMENTS)), st.floats(-1, 1, allow_nan=False), max_size=6))
def test_off_is_absent_and_strength_nought_is_off(parts: dict[str, float]) -> None:
    values = Values.of({n: v * ADJUSTMENTS[n].high for n, v in parts.items()})
    values = replace(values, points=(Point(30.0, 36.0),), pulled=(Pull(0.6, 0.1, 40.0, lighter=0.05),))
    plain = by_hand(contrast=3)
    for step in (Step(LEARNT, values, on=False), Step(LEARNT, values, strength=0.0)):
        recipe = Recipe((*plain.steps, step))
        assert recipe.total == plain.total and Recipe((step,)).is_neutral
        assert (tone(AT, recipe.total) == tone(AT, plain.total)).all()


@settings(max_examples=40, deadline=None)
@given(st.lists(st.floats(-2, 2, allow_nan=False), min_size=1, max_size=5), st.floats(0, 1))
def test_sums_stay_in_their_ranges(stops: list[float], strength: float) -> None:
    steps = tuple(Step(HAND, Values.of(lightness=s, contrast=20 * s), strength=strength) for s in stops)
    total = Recipe(steps).total
    assert -2 <= total["lightness"] <= 2 and -50 <= total["contrast"] <= 50
    assert total["lightness"] == pytest.approx(min(max(sum(stops) * strength, -2), 2), abs=1e-4)


def test_a_neutral_recipe_is_the_identity_to_the_last_bit(rng: np.random.Generator) -> None:
    codes = rng.integers(0, 65536, (5000, 3)).astype(np.uint16)
    still = Values(points=(Point(40.0, 40.0),), pulled=(Pull(0.6, 0.1, 40.0),))
    for space in ("sRGB", "opRGB", "ROMM"):
        made = Applied([still], master_space(working_space(space))).codes(codes)
        np.testing.assert_array_equal(made, codes)
        np.testing.assert_array_equal(Tuner(Recipe(), master_space(working_space(space)), (1, 1)).nodes(codes), codes)


#: A recipe with something of everything: tone, a free point, white, strength, two colours pulled.
_ORANGE = replace(pull_at(lab_of(0.66, 0.13, 50.0)), lighter=0.03, stronger=-0.02, turned=5.0)
_BLUE = replace(pull_at(lab_of(0.45, 0.12, 262.0)), lighter=0.02, turned=-4.0)
_ALL = Recipe(
    (
        Step(LEARNT, Values.of(lightness=1 / 6, warmth=3)),
        Step(
            HAND,
            replace(
                Values.of(contrast=6, dark_half=4, deepest=-2, strength=5, quiet=8, tint=2),
                points=(Point(40.0, 43.0),), pulled=(_ORANGE, _BLUE),
            ),
        ),
    )
)  # fmt: skip


@pytest.mark.parametrize("oklab", [(0.66, 0.12, 50.0), (0.45, 0.1, 262.0), (0.6, 0.03, 120.0), (0.3, 0.02, 20.0)])
def test_file_proof_readout_and_judgement_of_one_recipe_agree(
    oklab: tuple[float, float, float], dune: Profile, screen: Profile, tmp_path: Path
) -> None:
    # a picture of one colour, so that each of the four says one colour; within 0.3 ΔE₀₀ of each other
    space = master_space(working_space("ROMM"))
    linear = np.linalg.solve(space.matrix * WHITE_D50[:, None], lab_to_xyz(lab_of(*oklab)))
    assert linear.min() > 0 and linear.max() < 1
    code = [int(np.searchsorted(space.curves[c], linear[c])) for c in range(3)]
    pixels = np.tile(np.array(code, dtype=np.uint16), (60, 90, 1))
    write_picture(pixels, working_space("ROMM"), 300, tmp_path / "one.tif")
    picture: Picture = read_picture(tmp_path / "one.tif")
    opened = opened_for(picture, dune, recipe=_ALL)
    untuned = opened_for(picture, dune)

    device = read_picture(write_print_file(opened, tmp_path / "print.tif").file).pixels[30, 45] / 65535.0
    in_file = paper_model(dune).to_lab.apply(device[None])[0]
    readout = read_point(opened, 45.5, 30.5)
    assert delta_e_2000(in_file, readout.printed) < 0.3
    assert delta_e_2000(in_file, read_point(untuned, 45.5, 30.5).printed) > 1.0, "the recipe does something here"

    proof_file(opened, Look(screen), tmp_path / "proof.tif")
    proof = read_picture(tmp_path / "proof.tif").pixels[30, 45] / 65535.0
    of_file = Look(screen).leg(dune).rgb(device[None])[0]
    shown = [
        master_space(screen).to_lab((np.round(c * 65535).astype(np.uint16))[None, None])[0, 0] for c in (proof, of_file)
    ]
    assert delta_e_2000(*(each.astype(float) for each in shown)) < 0.3

    judged = judge_rendition(opened)  # against the picture as it is
    picture_lab = untuned.space.to_lab(untuned.wanted.points(np.array([[45.5, 30.5]]))[None])[0, 0].astype(float)
    assert judged.change.mean == pytest.approx(float(delta_e_2000(picture_lab, in_file)), abs=0.3)
