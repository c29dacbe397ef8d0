"""What recipes do to pixels: adjustments, places, and the door to tuned pixels."""

from __future__ import annotations

import itertools

import colour
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator

from rehearsal.core.colour.lab import cube_root
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import WHITE_D50, working_space
from rehearsal.core.icc.write import assemble, gamma_tag
from rehearsal.core.picture.reduce import encode_linear
from rehearsal.core.picture.space import master_space
from rehearsal.core.tuning.apply import Applied
from rehearsal.core.tuning.tone import STEPS, cut_shares, monotone, pulled, tone
from rehearsal.core.tuning.tuner import Tuner
from rehearsal.core.tuning.white import daylight_xy, shifted_white, white_shift
from rehearsal.core.values.adjustments import ADJUSTMENTS, Values
from rehearsal.core.values.recipe import by_hand

AT = np.linspace(0, 100, STEPS + 1)


def _one(space_name: str = "sRGB", **values: float) -> Applied:
    return Applied([Values.of(values)], master_space(working_space(space_name)))


NAMES = list(ADJUSTMENTS)


@given(st.dictionaries(st.sampled_from(NAMES), st.floats(-1, 1), max_size=4), st.sampled_from(["sRGB", "ROMM"]))
def test_tuning_maps_the_space_into_itself(parts: dict[str, float], space: str) -> None:
    axis = np.linspace(0, 1, 5)
    cube = np.stack(np.meshgrid(axis, axis, axis, indexing="ij"), axis=-1).reshape(-1, 3)
    amounts = {name: part * ADJUSTMENTS[name].high for name, part in parts.items()}
    tuned = _one(space, **amounts).linear(cube)
    assert tuned.min() >= 0 and tuned.max() <= 1 and np.isfinite(tuned).all()


@given(
    st.floats(-2, 2), st.floats(-50, 50), st.floats(-50, 50), st.floats(-50, 50), st.floats(-20, 20), st.floats(-20, 20)
)
def test_tone_always_rises(
    lightness: float, contrast: float, dark: float, light: float, deepest: float, lightest: float
) -> None:
    values = Values.of(
        lightness=lightness, contrast=contrast, dark_half=dark, light_half=light, deepest=deepest, lightest=lightest
    )
    curve = tone(AT, values)
    assert (np.diff(curve) >= 0).all() and curve.min() >= 0 and curve.max() <= 100
    ends_are_pulled = pulled(values) != (0, 100)
    assert ((np.diff(curve) > 0) | ends_are_pulled).all()


def test_no_extreme_has_a_flat_stretch() -> None:
    # all combinations of the ends of contrast, halves and ends let out: the slope on L* never falls under 0.16
    slopes = [
        np.diff(tone(AT, Values.of(contrast=c, dark_half=d, light_half=e, deepest=f, lightest=g))).min() * STEPS / 100
        for c, d, e, f, g in itertools.product((-50, 0, 50), (-50, 0, 50), (-50, 0, 50), (0, 10, 20), (0, -10, -20))
    ]
    assert 0.16 < min(slopes) < 0.18


def test_nothing_is_changed_by_nothing() -> None:
    np.testing.assert_array_equal(tone(AT, Values()), AT)
    shades = np.random.default_rng(3).random((500, 3))
    np.testing.assert_array_equal(_one().linear(shades), shades)
    # a curve through the knots of the straight line is the straight line
    knots = np.array([0.0, 25.0, 50.0, 75.0, 100.0])
    np.testing.assert_allclose(monotone(np.linspace(0, 100, 999), knots, knots), np.linspace(0, 100, 999), atol=1e-12)


def test_a_stop_is_a_stop() -> None:
    # one stop doubles the light of middle grey, 18 %; white and black stay
    grey, ends = np.full((1, 3), 0.18), np.array([[0.0, 0.0, 0.0], [1.0, 1.0, 1.0]])
    for stops in (-2.0, -1.0, -1 / 3, 1 / 6, 1.0, 2.0):
        tuned = _one(lightness=stops).linear(grey)
        np.testing.assert_allclose(tuned, 0.18 * 2**stops, rtol=1e-5)
        np.testing.assert_allclose(_one(lightness=stops).linear(ends), ends, atol=1e-6)


@pytest.mark.parametrize(
    ("stops", "at", "wanted"),
    [(1, 2, 5.11), (1, 5, 12.00), (1, 50, 67.01), (1, 90, 95.66), (1, 97, 98.79), (-1, 50, 36.43), (2, 2, 18.07)],
)
def test_lightness_opens_the_depths_without_throwing_them_up(stops: float, at: float, wanted: float) -> None:
    # g y / (1 + (g - 1) y) worked out by hand; a power of Y makes 18.5 of 2 at one stop
    y = at * 27 / 24389 if at <= 8 else ((at + 16) / 116) ** 3
    g = 2.0**stops * 0.82 / (1 - 0.18 * 2.0**stops)
    lit = g * y / (1 + (g - 1) * y)
    by_hand = lit * 24389 / 27 if lit <= 216 / 24389 else 116 * lit ** (1 / 3) - 16
    found = float(tone(np.array([float(at)]), Values.of(lightness=stops))[0])
    assert found == pytest.approx(by_hand, abs=1e-6) and found == pytest.approx(wanted, abs=0.01)


@pytest.mark.parametrize(
    ("values", "at", "wanted"),
    [({"contrast": 50}, 25, 17.5), ({"contrast": 50}, 75, 82.5), ({"contrast": 25}, 25, 21.25), ({"contrast": 50}, 50, 50),
     ({"dark_half": 50}, 25, 32.5), ({"dark_half": 50}, 75, 75), ({"light_half": -50}, 75, 67.5), ({"light_half": 50}, 25, 25),
     ({"deepest": 20}, 0, 20), ({"deepest": 20}, 25, 35), ({"deepest": 20}, 50, 50), ({"lightest": -20}, 100, 80),
     ({"lightest": -20}, 75, 65), ({"deepest": -20}, 20, 0), ({"deepest": -20}, 60, 50), ({"deepest": -20}, 10, 0),
     ({"lightest": 20}, 80, 100), ({"lightest": 20}, 40, 50), ({"deepest": -10, "lightest": 10}, 50, 50)],
)  # fmt: skip
def test_stated_amounts_of_ends_and_handles(values: dict[str, float], at: float, wanted: float) -> None:
    # the amounts of docs/numbers.md, worked out by hand from the formulas given there
    assert float(tone(np.array([float(at)]), Values.of(values))[0]) == pytest.approx(wanted, abs=1e-9)


def test_the_curve_is_as_scipy_has_it_where_its_ends_do_not_matter() -> None:
    # the same interior slopes as scipy's PCHIP (which makes its own end slopes): equal between the second and fourth knot
    knots, heights = np.array([0.0, 25.0, 50.0, 75.0, 100.0]), np.array([0.0, 17.5, 50.0, 88.0, 100.0])
    x = np.linspace(25, 75, 301)
    np.testing.assert_allclose(monotone(x, knots, heights), PchipInterpolator(knots, heights)(x), atol=1e-9)


def test_what_an_end_cuts_off_is_counted() -> None:
    ramp = np.linspace(0, 100, 1001)
    below, above = cut_shares(ramp, Values.of(deepest=-10, lightest=5))
    assert below == pytest.approx(10, abs=0.11) and above == pytest.approx(5, abs=0.11)
    assert cut_shares(ramp, Values.of(deepest=10, lightest=-5, contrast=50)) == (0.0, 0.0)
    # counted after the overall lightness: a stop more brings fewer under the black
    assert cut_shares(ramp, Values.of(deepest=-10, lightness=1))[0] == pytest.approx(4.1, abs=0.2)


def test_a_lifted_black_is_grey_and_finite() -> None:
    dark = np.array([[0.0, 0.0, 0.0], [1e-9, 0.0, 0.0], [0.0, 0.0, 1e-4]])
    tuned = _one(deepest=10).linear(dark)
    grey = ((10 + 16) / 116) ** 3
    np.testing.assert_allclose(tuned[:2], grey, atol=1e-6)
    assert np.abs(tuned[2] - grey).max() < 0.002


def test_tone_leaves_hue_alone() -> None:
    shade = np.array([[0.10, 0.22, 0.16]])
    lighter = _one(lightness=0.5, contrast=10, dark_half=5).linear(shade)[0]
    np.testing.assert_allclose(lighter / lighter[1], shade[0] / shade[0][1], atol=1e-6)


def _oklab(linear: np.ndarray) -> np.ndarray:
    """Oklab of linear sRGB (m, 3) by colour-science, straight from D65."""
    return np.asarray(colour.XYZ_to_Oklab(linear @ colour.RGB_COLOURSPACES["sRGB"].matrix_RGB_to_XYZ.T))


@pytest.mark.parametrize("percent", [-30.0, 10.0, 20.0])
def test_strength_scales_oklab_chroma_and_nothing_else(percent: float) -> None:
    # colour-science (and the published sRGB matrix) as the outside road
    shades = np.array([[0.30, 0.22, 0.16], [0.12, 0.2, 0.25], [0.4, 0.4, 0.33]])
    before, after = _oklab(shades), _oklab(_one(strength=percent).linear(shades))
    np.testing.assert_allclose(
        np.hypot(after[:, 1], after[:, 2]), np.hypot(before[:, 1], before[:, 2]) * (1 + percent / 100), rtol=0.01
    )
    np.testing.assert_allclose(after[:, 0], before[:, 0], atol=2e-3)
    hue = [np.degrees(np.arctan2(lab[:, 2], lab[:, 1])) for lab in (before, after)]
    np.testing.assert_allclose(hue[0], hue[1], atol=0.6)


def test_the_daylight_locus_is_that_of_the_standard() -> None:
    # CIE 15: daylight chromaticities by colour-science
    for kelvin in (4200, 5003, 6500, 7000, 7200, 9000, 20000):
        x, y = colour.temperature.CCT_to_xy_CIE_D(kelvin)
        np.testing.assert_allclose(daylight_xy(kelvin), [x, y], rtol=1e-4)


def test_cube_roots() -> None:
    for value in (0.0, 1e-12, 0.008, 0.18, 1.0, 7.5, -0.3):
        assert cube_root(value) == pytest.approx(np.cbrt(value), rel=1e-12, abs=1e-15)


@pytest.mark.parametrize("mired", [-25.0, -8.0, 10.0, 40.0])
def test_warmth_is_bradford_along_daylight(mired: float) -> None:
    space = master_space(working_space("sRGB"))
    to_xyz = space.matrix * WHITE_D50[:, None]
    shades = np.array([[0.3, 0.3, 0.3], [0.2, 0.25, 0.15], [0.05, 0.06, 0.04]])
    before, tuned = shades @ to_xyz.T, _one(warmth=mired).linear(shades) @ to_xyz.T
    whites = [colour.xy_to_XYZ(colour.temperature.CCT_to_xy_CIE_D(k)) for k in (5003, 1e6 / (1e6 / 5003 + mired))]
    wanted = colour.chromatic_adaptation(before, *whites, method="Von Kries", transform="Bradford")
    # the same chromaticity; the light of the picture but for what keeps neutrals inside
    np.testing.assert_allclose(tuned / tuned[:, 1:2], wanted / wanted[:, 1:2], atol=1e-3)
    white = np.linalg.solve(to_xyz, whites[1] / whites[1][1])
    held = 1 / (1 + (white.max() - 1) * before[:, 1] ** 2)
    np.testing.assert_allclose(tuned[:, 1], before[:, 1] * held, rtol=2e-3)


@pytest.mark.parametrize(
    "values", [{"warmth": -50}, {"warmth": 50}, {"tint": 50}, {"tint": -50}, {"warmth": -40, "tint": 30}]
)
@pytest.mark.parametrize("space", ["sRGB", "ROMM"])
def test_every_neutral_stays_inside_with_all_of_its_mired(values: dict[str, float], space: str) -> None:
    ramp = np.repeat(np.linspace(0.02, 1, 60)[:, None], 3, axis=1)
    tuned = _one(space, **values).linear(ramp)
    cast = tuned / tuned.max(axis=1, keepdims=True)
    np.testing.assert_allclose(cast, np.tile(cast[:1], (60, 1)), atol=1e-4)  # white shifts as far as grey does
    assert cast[0].min() < 0.97 and tuned.max() <= 1 and (np.diff(tuned, axis=0) > 0).all()
    assert tuned[-1].max() == pytest.approx(1, abs=1e-6)
    # 18 % loses no more than 0.3 to 0.5 L*
    middle = _one(space, **values).linear(np.full((1, 3), 0.18)) @ (
        master_space(working_space(space)).matrix[1] * WHITE_D50[1]
    )
    assert 116 * (0.18 ** (1 / 3) - middle[0] ** (1 / 3)) < 0.6


def test_tint_lies_across_daylight_and_is_as_long_as_warmth() -> None:
    # CIE 1960 u, v by colour-science
    def uv(white: np.ndarray) -> np.ndarray:
        return np.asarray(colour.xy_to_UCS_uv(colour.XYZ_to_xy(white)))

    here, warm, cool = (uv(shifted_white(m, 0)) for m in (0.0, 2.0, -2.0))
    magenta = uv(shifted_white(0, 4))
    assert np.hypot(*(magenta - here)) == pytest.approx(np.hypot(*(warm - cool)), rel=0.02)
    assert abs(np.dot(magenta - here, warm - cool)) < 1e-7
    tuned = _one(tint=20).linear(np.full((1, 3), 0.4))[0]
    assert tuned[1] < min(tuned[0], tuned[2])


def test_a_tint_too_strong_for_the_space_is_limited() -> None:
    # a narrow made-up space whose blue runs out at once
    narrow = np.array([[0.60, 0.30, 0.0642], [0.31, 0.66, 0.03], [0.02, 0.105, 0.70]])
    narrow *= (WHITE_D50 / narrow.sum(axis=1))[:, None]
    narrow /= narrow[1].sum()
    for values in (Values.of(tint=50, warmth=-50), Values.of(tint=-50)):
        _matrix, most = white_shift(values, narrow)
        assert most <= 1.9
    # channels X, Y and 3 Z − 2 Y: a strong tint takes the third far up
    steep = np.linalg.inv(np.array([[1 / WHITE_D50[0], 0, 0], [0, 1, 0], [0, -2, 3 / WHITE_D50[2]]]))
    full, held = (white_shift(Values.of(tint=t, warmth=-20), steep)[1] for t in (0.0, 100.0))
    assert full < 1.8 < held <= 1.9


def test_a_colour_lighter_than_white_becomes_white() -> None:
    # two stops on a bright, strong colour: its Oklab lightness is held at 1
    tuned = _one("ROMM", lightness=2, strength=50, light_half=50).linear(np.array([[0.98, 0.9, 0.99], [1.0, 0.2, 1.0]]))
    assert tuned.max() <= 1 and tuned[0].min() > 0.9


def _oklab_hue(lab: np.ndarray) -> np.ndarray:
    return np.degrees(np.arctan2(lab[:, 2], lab[:, 1]))


@pytest.mark.parametrize(
    "values", [{"lightness": 1.5}, {"strength": 50}, {"contrast": 50, "strength": 30}, {"light_half": 50}]
)
def test_what_leaves_the_cube_keeps_its_hue(values: dict[str, float]) -> None:
    # colour-science's Oklab as the outside road; a mix with grey in linear light turned by up to 58 degrees
    axis = np.linspace(0, 1, 9)
    cube = np.stack(np.meshgrid(axis, axis, axis, indexing="ij"), axis=-1).reshape(-1, 3)
    before, after = _oklab(cube), _oklab(_one(**values).linear(cube))
    seen = (np.hypot(before[:, 1], before[:, 2]) > 0.02) & (np.hypot(after[:, 1], after[:, 2]) > 0.02)
    turned = (_oklab_hue(after) - _oklab_hue(before) + 180) % 360 - 180
    assert np.count_nonzero(seen) > 400 and np.abs(turned[seen]).max() < 0.5


def test_the_largest_chroma_that_fits_is_kept() -> None:
    # pushed out of the cube, a colour ends on its surface and not inside
    strong = np.array([[0.9, 0.1, 0.05], [0.05, 0.7, 0.1], [0.1, 0.1, 0.9], [0.9, 0.85, 0.1]])
    tuned = _one(strength=50).linear(strong)
    gap = np.minimum(tuned, 1 - tuned).min(axis=1)
    assert gap.max() < 1e-4
    lightness = _oklab(tuned)[:, 0] - _oklab(strong)[:, 0]
    assert np.abs(lightness).max() < 2e-3


@pytest.mark.parametrize("q", [-50.0, 30.0, 50.0])
def test_quiet_colours_move_and_strong_ones_stay(q: float) -> None:
    shades = np.array([[0.22, 0.20, 0.18], [0.30, 0.28, 0.30], [0.55, 0.08, 0.35]])
    before, after = _oklab(shades), _oklab(_one(quiet=q).linear(shades))
    one, two = (np.hypot(lab[:, 1], lab[:, 2]) for lab in (before, after))
    # C (1 + q exp(−(C / 0.12)²)) by hand
    np.testing.assert_allclose(two, one * (1 + q / 100 * np.exp(-((one / 0.12) ** 2))), atol=4e-4)
    assert two[0] != pytest.approx(one[0], rel=0.1) and one[2] > 0.15
    # it rises everywhere: no strong colour becomes quieter than a less strong one
    ramp = np.linspace(0.001, 0.3, 400)
    assert (np.diff(ramp * (1 + q / 100 * np.exp(-((ramp / 0.12) ** 2)))) > 0).all()


def test_rows_of_values_are_applied_pixel_by_pixel(rng: np.random.Generator) -> None:
    rows = [Values(), Values.of(lightness=0.5, warmth=10), Values.of(contrast=-20, strength=30)]
    shades, which = rng.random((90, 3)) * 0.8, rng.integers(0, 3, 90)
    space = master_space(working_space("sRGB"))
    together = Applied(rows, space).linear(shades, which)
    for i, row in enumerate(rows):
        np.testing.assert_allclose(together[which == i], Applied([row], space).linear(shades[which == i]), atol=2e-5)


def test_codes_are_tuned_as_their_light_is(rng: np.random.Generator) -> None:
    """Every channel has a curve of its own here; more pixels than are worked on at a time, each with its row of values."""
    tags = {**working_space("sRGB").tags, "rTRC": gamma_tag(1.8), "gTRC": gamma_tag(2.0), "bTRC": gamma_tag(2.4)}
    space = master_space(Profile(assemble(tags, "mntr", "RGB ", "XYZ "), "three curves"))
    applied = Applied([Values.of(lightness=0.3, warmth=8), Values.of(contrast=-12, strength=20)], space)
    codes, which = rng.integers(0, 65536, (900, 3)).astype(np.uint16), rng.integers(0, 2, 900)
    light = np.stack([space.linear[codes[:, c], c] for c in range(3)], axis=1)
    wanted = encode_linear(applied.linear(light, which), space)
    np.testing.assert_array_equal(applied.codes(codes, which), wanted)


def test_nodes_are_tuned_as_pixels_are() -> None:
    tuner = Tuner(by_hand(contrast=10), master_space(working_space("sRGB")), (30, 20))
    codes = np.array([[900, 20_000, 61_000], [30_001, 3, 40_000]], np.uint16)
    np.testing.assert_array_equal(tuner.nodes(codes), tuner.pixels(codes, None))
    assert (tuner.nodes(codes) != codes).any()


def test_the_values_of_two_steps_are_added_and_applied_once() -> None:
    one = Values.of(lightness=1.5, strength=10)
    assert one.plus(Values.of(lightness=1.0)).clamped() == Values.of(lightness=2, strength=10)
    assert one.plus(Values.of(lightness=1.0), 0.5)["lightness"] == 2
    with pytest.raises(KeyError):
        _ = dict(one.items)["warmth"]
    assert one["warmth"] == 0 and bool(Values()) is False
