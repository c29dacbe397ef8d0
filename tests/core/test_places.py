"""A place: its weight as defined, and that file, judgement, screen and readout agree about it."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from tests.conftest import opened_for

from rehearsal.core.icc import Profile
from rehearsal.core.papers.model import paper_model
from rehearsal.core.picture.file import Picture, read_picture
from rehearsal.core.proof.chain import Look, PrintChain
from rehearsal.core.proof.screenroad import ScreenRoad
from rehearsal.core.tuning.places import weight
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.frame import Crop, Frame
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.place import Ellipse
from rehearsal.core.values.recipe import Recipe, Step, by_hand
from rehearsal.core.values.rendering import Rendering
from rehearsal.tasks.judging import first_figures_of, judge_rendition
from rehearsal.tasks.maps import line_reading, read_point
from rehearsal.tasks.proofing import proof_file
from rehearsal.tasks.writing import write_print_file

#: On the orange cloth of the small drying line (450 × 300).
CLOTH = Ellipse((0.36, 0.30), (0.12, 0.20), 0.0, 0.5)
TUNED = by_hand(lightness=1 / 6, warmth=4).having(
    Step("place", Values.of(lightness=0.5, strength=-30, contrast=10, warmth=-6), place=CLOTH)
)


@pytest.fixture(scope="module")
def cloths(small_cloths: Path) -> Picture:
    return read_picture(small_cloths)


def _at(place: Ellipse, x: float, y: float) -> float:
    return float(weight(place, np.array([x]), np.array([y]))[0])


def test_the_weight_is_the_defined_one() -> None:
    # 1 − smoothstep((ρ − 1 + fade) / fade), smoothstep(t) = 3t² − 2t³, worked out by hand along one axis
    place = Ellipse((0.5, 0.4), (0.2, 0.1), 0.0, 0.5)
    assert _at(place, 0.5, 0.4) == 1 and _at(place, 0.7, 0.4) == pytest.approx(0) and _at(place, 0.9, 0.4) == 0
    assert _at(place, 0.6, 0.4) == pytest.approx(1), "the fade begins at half the radius"
    assert _at(place, 0.65, 0.4) == pytest.approx(0.5) and _at(place, 0.5, 0.475) == pytest.approx(0.5)
    assert _at(place, 0.625, 0.4) == pytest.approx(1 - (3 * 0.25**2 - 2 * 0.25**3))
    turned = Ellipse((0.5, 0.4), (0.2, 0.1), 90.0, 0.5)
    assert _at(turned, 0.5, 0.55) == pytest.approx(0.5) and _at(turned, 0.575, 0.4) == pytest.approx(0.5)
    slanted = Ellipse((0.5, 0.4), (0.2, 0.05), 45.0, 0.0)
    assert _at(slanted, 0.6, 0.5) == 1 and _at(slanted, 0.6, 0.3) == 0, "clockwise as seen, y points down"
    # along the first axis, at three quarters of the radius: half, whatever the angle
    for angle in (20.0, 60.0, 130.0):
        x, y = 0.15 * np.cos(np.radians(angle)), 0.15 * np.sin(np.radians(angle))
        assert _at(Ellipse((0.5, 0.4), (0.2, 0.05), angle, 0.5), 0.5 + x, 0.4 + y) == pytest.approx(0.5)
    assert _at(Ellipse((0.5, 0.4), (0.2, 0.1), 0.0, 0.5, True), 0.65, 0.4) == pytest.approx(0.5)
    assert _at(Ellipse((0.5, 0.4), (0.2, 0.1), 0.0, 0.5, True), 0.9, 0.4) == 1
    hard = Ellipse((0.5, 0.4), (0.2, 0.1), 0.0, 0.0)
    assert _at(hard, 0.699, 0.4) == 1 and _at(hard, 0.701, 0.4) == 0


def test_where_the_weight_is_one_the_values_are_those_of_everywhere(cloths: Picture, dune: Profile) -> None:
    everywhere = Ellipse((0.5, 0.3), (50.0, 50.0), 0.0, 0.1)
    values = {"lightness": 0.5, "strength": -30.0, "contrast": 10.0, "warmth": -6.0}
    placed = opened_for(cloths, dune, recipe=Recipe((Step("place", Values.of(values), place=everywhere),)))
    plain = opened_for(cloths, dune, recipe=by_hand(values))
    one, two = (o.tuned.region((0, 0, 450, 300), 450, 300).astype(int) for o in (placed, plain))
    assert np.abs(one - two).max() <= 3


def test_region_points_and_strips_are_one_picture(cloths: Picture, dune: Profile) -> None:
    tuned = opened_for(cloths, dune, recipe=TUNED).tuned
    region = tuned.region((40, 30, 300, 200), 300, 200)
    places = np.stack(np.meshgrid(np.arange(40, 340), np.arange(30, 230)), axis=-1).reshape(-1, 2)
    np.testing.assert_array_equal(tuned.points(places).reshape(region.shape), region)
    strips = list(tuned.strips((40, 30, 300, 200), 300, 200, 37))
    np.testing.assert_array_equal(np.concatenate([pixels for _part, pixels in strips]), region)
    assert [part.start for part, _ in strips] == list(range(0, 200, 37)) and strips[-1][0].stop == 200
    # outside the place only what acts everywhere is done
    outside = opened_for(cloths, dune, recipe=by_hand(lightness=1 / 6, warmth=4)).tuned.points(
        np.array([[440, 20], [10, 290]])
    )
    np.testing.assert_array_equal(tuned.points(np.array([[440, 20], [10, 290]])), outside)
    with pytest.raises(ValueError, match="places"):
        tuned.nodes(np.zeros((2, 3)))


def test_two_places_add_up_before_they_are_applied(cloths: Picture, dune: Profile) -> None:
    half = Step("place", Values.of(contrast=10), place=CLOTH)
    twice = opened_for(cloths, dune, recipe=Recipe((half, half))).tuned
    once = opened_for(cloths, dune, recipe=Recipe((Step("place", Values.of(contrast=20), place=CLOTH),))).tuned
    box = (100, 40, 150, 150)
    assert np.abs(twice.region(box, 150, 150).astype(int) - once.region(box, 150, 150)).max() <= 3


def test_a_reduced_place_lies_where_it_lies(cloths: Picture, dune: Profile) -> None:
    # the change by the place, seen at a third of the size, against the full one averaged
    plain = opened_for(cloths, dune)
    tuned = opened_for(cloths, dune, recipe=Recipe((Step("place", Values.of(lightness=1), place=CLOTH),)))
    full = (
        tuned.tuned.region((0, 0, 450, 300), 450, 300).astype(float) - plain.tuned.region((0, 0, 450, 300), 450, 300)
    ).mean(axis=2)
    small = (
        tuned.tuned.region((0, 0, 450, 300), 150, 100).astype(float) - plain.tuned.region((0, 0, 450, 300), 150, 100)
    ).mean(axis=2)
    averaged = full.reshape(100, 3, 150, 3).mean(axis=(1, 3))
    assert np.abs(small - averaged).mean() < 0.02 * averaged.max()
    rows, columns = np.indices(averaged.shape)
    for index in (rows, columns):
        assert (index * small).sum() / small.sum() == pytest.approx((index * averaged).sum() / averaged.sum(), abs=0.3)


def test_file_readout_and_proof_agree_pixel_by_pixel(
    cloths: Picture, dune: Profile, screen: Profile, tmp_path: Path
) -> None:
    frame = Frame(Crop(0.2, 0.1, 0.5, 0.6))
    opened = opened_for(cloths, dune, recipe=TUNED, frame=frame, rendering=Rendering("perceptual"))
    made = read_picture(write_print_file(opened, tmp_path / "print.tif").file)
    x0, y0, w, h = opened.box
    assert (made.info.width, made.info.height) == (w, h)
    printed = paper_model(dune).to_lab.apply(made.pixels.reshape(-1, 3) / 65535.0).reshape(h, w, 3)
    for x, y in (
        (0, 0),
        (w - 1, h - 1),
        *(
            (int(450 * cx - x0), int(450 * cy - y0))
            for cx, cy in ((0.36, 0.30), (0.40, 0.34), (0.44, 0.30), (0.36, 0.42))
        ),
    ):
        np.testing.assert_allclose(printed[y, x], read_point(opened, x0 + x, y0 + y).printed, atol=0.1)
    # the proof written for a screen, and what the window's road paints, are of the same pixels
    proof_file(opened, Look(screen), tmp_path / "proof.tif")
    proof = read_picture(tmp_path / "proof.tif").pixels / 257.0
    road = ScreenRoad(opened.source, dune, Rendering("perceptual"), Look(screen))
    painted = road.neutral.paint(opened.tuned.region(opened.box, w, h))
    shown = np.stack([painted >> 16 & 255, painted >> 8 & 255, painted & 255], axis=-1)
    assert np.abs(shown - proof).mean() < 0.8
    # and all of them differ from the picture without the place, there and only there
    plain = opened_for(
        cloths, dune, recipe=by_hand(lightness=1 / 6, warmth=4), frame=frame, rendering=Rendering("perceptual")
    )
    other = read_picture(write_print_file(plain, tmp_path / "plain.tif").file)
    gap = np.abs(other.pixels.astype(int) - made.pixels).max(axis=2)
    x, y = np.meshgrid((x0 + np.arange(w) + 0.5) / 450, (y0 + np.arange(h) + 0.5) / 450)
    there = weight(CLOTH, x, y)
    assert (gap[there == 0] == 0).all() and np.median(gap[there > 0.9]) > 1000


def test_judgement_and_first_figures_know_the_place(cloths: Picture, dune: Profile) -> None:
    # in the orange cloth strength is taken away until it lies within the paper's reach
    weaker = Recipe((Step("place", Values.of(strength=-50), place=Ellipse((0.36, 0.30), (0.2, 0.3), 0.0, 0.2)),))
    frame = Frame(Crop(0.29, 0.23, 0.13, 0.4))
    before, after = (judge_rendition(opened_for(cloths, dune, frame=frame, recipe=r)) for r in (Recipe(), weaker))
    assert before.beyond.colour > 30 and after.beyond.colour < 0.5 * before.beyond.colour
    first = first_figures_of(opened_for(cloths, dune, frame=frame, recipe=weaker))
    assert first.lost.colour == pytest.approx(after.beyond.lost.colour, abs=3)


def test_a_line_crosses_the_place(cloths: Picture, dune: Profile) -> None:
    lift = Recipe((Step("place", Values.of(lightness=1.5), place=Ellipse((0.5, 0.33), (0.1, 0.3), 0.0, 0.3)),))
    plain, lifted = (line_reading(opened_for(cloths, dune, recipe=r), (0.05, 0.5, 0.95, 0.5)) for r in (Recipe(), lift))
    gain = lifted.printed[:, 0] - plain.printed[:, 0]
    assert gain[140:160].min() > 4 and np.abs(gain[:80]).max() < 1e-6 and np.abs(gain[-80:]).max() < 1e-6
    np.testing.assert_array_equal(lifted.master, plain.master)


def test_a_cmyk_master_is_tuned_in_its_working_copy(
    press: Profile, dune: Profile, tmp_path: Path, rng: np.random.Generator
) -> None:
    from rehearsal.core.picture.write import write_picture

    ink = (rng.random((6, 8, 4)) * [40000, 40000, 40000, 9000]).astype(np.uint16).repeat(20, axis=0).repeat(20, axis=1)
    write_picture(ink, press, 300, tmp_path / "press.tif")
    opened = opened_for(read_picture(tmp_path / "press.tif"), dune, recipe=TUNED, hand_over=HandOver(ppi=300))
    made = read_picture(write_print_file(opened, tmp_path / "print.tif").file)
    printed = paper_model(dune).to_lab.apply(made.pixels[30, 50][None] / 65535.0)[0]
    np.testing.assert_allclose(printed, read_point(opened, 50, 30).printed, atol=0.15)
    chain = PrintChain(opened.source, dune, Rendering())
    np.testing.assert_allclose(
        chain.print_lab(opened.tuned.points(np.array([[50, 30]])) / 65535.0)[0], printed, atol=0.15
    )


def test_many_places_add_up(cloths: Picture, dune: Profile) -> None:
    everywhere = Ellipse((0.5, 0.3), (50.0, 50.0), 0.0, 0.1)
    steps = tuple(Step("place", Values.of(lightness=0.1), str(i), place=everywhere) for i in range(9))
    nine = opened_for(cloths, dune, recipe=Recipe(steps)).tuned.region((0, 0, 450, 300), 45, 30).astype(int)
    one = opened_for(cloths, dune, recipe=by_hand(lightness=0.9)).tuned.region((0, 0, 450, 300), 45, 30).astype(int)
    assert np.abs(nine - one).max() <= 3


def test_half_the_strength_of_a_step_is_half_its_values(cloths: Picture, dune: Profile) -> None:
    everywhere = Ellipse((0.5, 0.3), (50.0, 50.0), 0.0, 0.1)
    made = []
    for amount, share in ((0.6, 0.5), (0.3, 1.0)):
        step = Step("place", Values.of(lightness=amount), strength=share, place=everywhere)
        made.append(opened_for(cloths, dune, recipe=Recipe((step,))).tuned.region((0, 0, 450, 300), 45, 30).astype(int))
    assert np.abs(made[0] - made[1]).max() <= 3


def test_what_an_end_pulled_in_cuts_is_counted_inside_the_crop(cloths: Picture, dune: Profile) -> None:
    recipe, frame = by_hand(deepest=-15), Frame(Crop(0.5, 0.5, 0.5, 0.5))
    opened = opened_for(cloths, dune, recipe=recipe, frame=frame)
    x, y, w, h = opened.box
    lab = opened.space.to_lab(cloths.pixels[y : y + h, x : x + w])
    assert opened.cut[0] == pytest.approx((lab[..., 0] <= 15).mean() * 100, abs=1.0) and opened.cut[1] == 0
    assert opened_for(cloths, dune, recipe=by_hand(deepest=15)).cut == (0.0, 0.0)
