"""What recipes do to pixels: adjustments, places, and the door to tuned pixels."""

from __future__ import annotations

import colour
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rehearsal.core.icc.standard import WHITE_D50, working_space
from rehearsal.core.picture.space import master_space
from rehearsal.core.tuning.apply import Applied, daylight_white, into_cube, tone_curve
from rehearsal.core.values.adjustments import ADJUSTMENTS, Values


def _one(space_name: str = "sRGB", **values: float) -> Applied:
    return Applied([Values.of(values)], master_space(working_space(space_name)))


NAMES = list(ADJUSTMENTS)


@given(st.sampled_from(NAMES), st.floats(-1, 1))
def test_tuning_maps_the_space_into_itself(name: str, part: float) -> None:
    each = ADJUSTMENTS[name]
    axis = np.linspace(0, 1, 5)
    cube = np.stack(np.meshgrid(axis, axis, axis, indexing="ij"), axis=-1).reshape(-1, 3)
    tuned = _one("ROMM", **{name: part * (each.high if part > 0 else -each.low)}).linear(cube)
    assert tuned.min() >= 0 and tuned.max() <= 1 and np.isfinite(tuned).all()
    np.testing.assert_allclose(tuned[0], 0, atol=1e-6)


@given(st.floats(-2, 2), st.floats(-50, 50), st.floats(-50, 50), st.floats(-50, 50))
def test_tone_always_rises(lightness: float, contrast: float, dark: float, light: float) -> None:
    curve = tone_curve(Values.of(lightness=lightness, contrast=contrast, dark_half=dark, light_half=light))
    assert (np.diff(curve) >= 0).all() and curve[0] == 0 and curve[-1] == pytest.approx(100)


def test_a_stop_is_a_stop() -> None:
    # one stop doubles the light of middle grey, 18 %; white and black stay
    grey, ends = np.full((1, 3), 0.18), np.array([[0.0, 0.0, 0.0], [1.0, 1.0, 1.0]])
    for stops in (-1.0, -1 / 3, 1 / 6, 1.0):
        tuned = _one(lightness=stops).linear(grey)
        np.testing.assert_allclose(tuned, 0.18 * 2**stops, atol=0.002)
        np.testing.assert_allclose(_one(lightness=stops).linear(ends), ends, atol=1e-6)


def _lightness(curve: np.ndarray, at: float) -> float:
    return float(np.interp(at, np.linspace(0, 100, len(curve)), curve))


@pytest.mark.parametrize(
    ("name", "at", "half", "full"),
    [("contrast", 25, 21.25, 17.5), ("contrast", 75, 78.75, 82.5), ("contrast", 50, 50, 50), ("dark_half", 25, 30.8, 36.6),
     ("dark_half", 75, 75.6, 76.3), ("light_half", 75, 80.8, 86.6), ("light_half", 25, 25.6, 26.3)],
)  # fmt: skip
def test_stated_amounts_of_contrast_and_halves(name: str, at: float, half: float, full: float) -> None:
    # the amounts of docs/numbers.md, worked out by hand from the formulas given there
    for value, wanted in ((25, half), (50, full), (0, at)):
        assert _lightness(tone_curve(Values.of({name: value})), at) == pytest.approx(wanted, abs=0.06)


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
        np.testing.assert_allclose(daylight_white(kelvin), [x / y, 1, (1 - x - y) / y], rtol=1e-4)


@pytest.mark.parametrize("mired", [-25.0, -8.0, 10.0, 40.0])
def test_warmth_is_bradford_along_daylight_at_constant_y(mired: float) -> None:
    space = master_space(working_space("sRGB"))
    to_xyz = space.matrix * WHITE_D50[:, None]
    shades = np.array([[0.3, 0.3, 0.3], [0.2, 0.25, 0.15], [0.05, 0.06, 0.04]])
    tuned = _one(warmth=mired).linear(shades) @ to_xyz.T
    whites = [colour.xy_to_XYZ(colour.temperature.CCT_to_xy_CIE_D(k)) for k in (5003, 1e6 / (1e6 / 5003 + mired))]
    wanted = colour.chromatic_adaptation(shades @ to_xyz.T, *whites, method="Von Kries", transform="Bradford")
    wanted *= ((shades @ to_xyz.T)[:, 1] / wanted[:, 1])[:, None]
    np.testing.assert_allclose(tuned, wanted, atol=3e-4)
    np.testing.assert_allclose(tuned[:, 1], (shades @ to_xyz.T)[:, 1], rtol=1e-6)


def test_what_leaves_the_cube_keeps_its_light() -> None:
    luminance = np.array([0.2225, 0.7169, 0.0606])
    wild = np.array([[1.4, 0.3, -0.2], [0.5, 1.2, 0.1], [-0.1, 0.2, 0.3]])
    tame = into_cube(wild, luminance)
    assert tame.min() >= 0 and tame.max() <= 1
    np.testing.assert_allclose(tame @ luminance, np.clip(wild @ luminance, 0, 1), atol=1e-9)
    inside = np.array([[0.2, 0.9, 0.4]])
    np.testing.assert_allclose(into_cube(inside, luminance), inside, atol=1e-12)


def test_rows_of_values_are_applied_pixel_by_pixel(rng: np.random.Generator) -> None:
    rows = [Values(), Values.of(lightness=0.5, warmth=10), Values.of(contrast=-20, strength=30)]
    shades, which = rng.random((90, 3)) * 0.8, rng.integers(0, 3, 90)
    space = master_space(working_space("sRGB"))
    together = Applied(rows, space).linear(shades, which)
    for i, row in enumerate(rows):
        np.testing.assert_allclose(together[which == i], Applied([row], space).linear(shades[which == i]), atol=2e-5)


def test_the_values_of_two_steps_are_added_and_applied_once() -> None:
    one = Values.of(lightness=1.5, strength=10)
    assert one.plus(Values.of(lightness=1.0)).clamped() == Values.of(lightness=2, strength=10)
    assert one.plus(Values.of(lightness=1.0), 0.5)["lightness"] == 2
    with pytest.raises(KeyError):
        _ = dict(one.items)["warmth"]
    assert one["warmth"] == 0 and bool(Values()) is False
