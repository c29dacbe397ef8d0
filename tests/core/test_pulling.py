"""Free points and pulled colours: against SciPy, by properties, and outside of their windows to the last bit."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rehearsal.core.colour.oklab import oklab_to_xyz, xyz_to_oklab
from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.model import paper_model
from rehearsal.core.picture.space import MasterSpace, master_space
from rehearsal.core.proof.lattice import delta_lattice
from rehearsal.core.tuning.apply import Applied
from rehearsal.core.tuning.damage import pushed
from rehearsal.core.tuning.pulling import ends, inside, lab_of
from rehearsal.core.tuning.tone import STEPS, free_curve, tone
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.pull import MOST_PULLED, Point, Pull, point_from_json, points_together
from rehearsal.core.values.recipe import HAND, Recipe, Step
from rehearsal.core.values.words import values_words

AT = np.linspace(0, 100, STEPS + 1)

ORANGE = Pull(0.65, 0.18, 50.0, lighter=0.03, stronger=-0.02, turned=5.0, name="orange")


def _space() -> MasterSpace:
    return master_space(working_space("ROMM"))


def _linear(oklab: np.ndarray, space: MasterSpace) -> np.ndarray:
    from rehearsal.core.icc.standard import WHITE_D50

    return oklab_to_xyz(oklab) @ np.linalg.inv(space.matrix * WHITE_D50[:, None]).T


def _oklab(linear: np.ndarray, space: MasterSpace) -> np.ndarray:
    from rehearsal.core.icc.standard import WHITE_D50

    return xyz_to_oklab(linear @ (space.matrix * WHITE_D50[:, None]).T)


def _polar(light: float, chroma: float, hue: float) -> np.ndarray:
    return np.array([[light, chroma * np.cos(np.radians(hue)), chroma * np.sin(np.radians(hue))]])


def _pulled(colour: np.ndarray, *pulls: Pull) -> np.ndarray:
    space = _space()
    out = Applied([Values(pulled=pulls)], space).linear(_linear(colour, space))
    return _oklab(out, space)


def test_in_the_middle_of_its_window_a_colour_moves_by_all_of_it() -> None:
    light, a, b = _pulled(_polar(0.65, 0.18, 50.0), ORANGE)[0]
    assert light == pytest.approx(0.68, abs=1e-4) and np.hypot(a, b) == pytest.approx(0.16, abs=1e-4)
    assert np.degrees(np.arctan2(b, a)) == pytest.approx(55.0, abs=0.05)


@pytest.mark.parametrize("axis", [0, 1, 2])
@pytest.mark.parametrize("share", [0.25, 0.5, 0.75])
def test_the_window_is_a_cosine_on_each_axis(axis: int, share: float) -> None:
    centre = np.array([ORANGE.lightness, ORANGE.chroma, ORANGE.hue])
    centre[axis] -= share * ORANGE.widths[axis]
    light = _pulled(_polar(*centre), ORANGE)[0, 0]
    assert light - centre[0] == pytest.approx(0.03 * (1 + np.cos(np.pi * share)) / 2, abs=2e-4)


def test_outside_the_window_nothing_moves_at_all() -> None:
    space = _space()
    rng = np.random.default_rng(3)
    cloud = np.clip(rng.random((20_000, 3)), 0, 1)
    lab = _oklab(cloud, space)
    turn = (np.degrees(np.arctan2(lab[:, 2], lab[:, 1])) - ORANGE.hue + 540) % 360 - 180
    outside = np.abs(turn) > ORANGE.widths[2]
    outside |= np.abs(np.hypot(lab[:, 1], lab[:, 2]) - ORANGE.chroma) > ORANGE.widths[1]
    outside |= np.abs(lab[:, 0] - ORANGE.lightness) > ORANGE.widths[0]
    made = Applied([Values(pulled=(ORANGE,))], space).linear(cloud)
    assert outside.sum() > 5000 and (~outside).sum() > 50
    np.testing.assert_array_equal(made[outside], cloud[outside])
    assert (made[~outside] != cloud[~outside]).any(axis=1).mean() > 0.95
    codes = np.arange(65536, dtype=np.uint16).repeat(3).reshape(-1, 3)
    np.testing.assert_array_equal(Applied([Values(pulled=(ORANGE,))], space).codes(codes), codes)


def test_hue_goes_round() -> None:
    red = Pull(0.6, 0.15, 358.0, turned=6.0, hue_width=20)
    _light, a, b = _pulled(_polar(0.6, 0.15, 4.0), red)[0]
    weight = (1 + np.cos(np.pi * 6 / 20)) / 2
    assert np.degrees(np.arctan2(b, a)) == pytest.approx(4 + 6 * weight, abs=0.05)


def test_two_pulls_of_one_colour_count_as_one_at_most() -> None:
    once, twice = _pulled(_polar(0.65, 0.18, 50.0), ORANGE), _pulled(_polar(0.65, 0.18, 50.0), ORANGE, ORANGE)
    np.testing.assert_allclose(once, twice, atol=1e-6)
    beside = Pull(0.65, 0.18, 120.0, lighter=0.2)
    np.testing.assert_allclose(once, _pulled(_polar(0.65, 0.18, 50.0), ORANGE, beside), atol=1e-6)


@given(
    st.floats(-0.15, 0.15), st.floats(-0.1, 0.1), st.floats(-60, 60), st.floats(0.05, 0.3), st.floats(0.03, 0.2),
    st.floats(5, 90),
)  # fmt: skip
def test_pulls_never_fold(
    lighter: float, stronger: float, turned: float, wide: float, deep: float, round_: float
) -> None:
    """Along each axis the order of colours stays: the shift's slope is under π / 2 / 1.8 < 1."""
    pull = Pull(0.55, 0.12, 40.0, lighter, stronger, turned, wide, deep, round_)
    steps = np.linspace(-1, 1, 101)
    for axis, width in enumerate(pull.widths):
        centre = np.tile([0.55, 0.12, 40.0], (101, 1))
        centre[:, axis] += steps * width * 0.999
        shift = (lighter, stronger, turned)[axis]
        moved = centre[:, axis] + shift * (1 + np.cos(np.pi * steps * 0.999)) / 2
        assert (np.diff(moved) > 0).all()
    seen = _pulled(np.vstack([_polar(0.55, 0.12, 40 + t * pull.widths[2]) for t in np.linspace(-0.9, 0.9, 40)]), pull)
    hues = np.unwrap(np.arctan2(seen[:, 2], seen[:, 1]))
    assert (np.diff(hues) > -1e-9).all()


@pytest.mark.parametrize(("chroma", "share"), [(0.01, 0.15625), (0.02, 0.5), (0.03, 0.84375), (0.04, 1.0), (0.05, 1.0)])
def test_a_pull_rises_from_grey_to_where_a_colour_is_one(chroma: float, share: float) -> None:
    # smoothstep of C / 0.04, worked out by hand: 3t² − 2t³ at ¼, ½, ¾; the colour lies in the middle of its window
    pull = Pull(0.65, chroma, 50.0, lighter=0.05)
    light = _pulled(_polar(0.65, chroma, 50.0), pull)[0][0]
    assert (light - 0.65) / 0.05 == pytest.approx(share, abs=2e-3)


def test_the_least_that_a_paper_holds_is_found_to_a_hair(dune: Profile) -> None:
    # the edge against SciPy's own root finder: how much strength a red must give up to lie just inside
    from scipy.optimize import brentq

    solid = paper_model(dune).solid
    pull = Pull(0.62, 0.20, 35.0, stronger=0.05)
    assert not solid.contains(ends(pull)[1])
    found = inside(pull, solid)

    def held(chroma: float) -> float:
        return 0.5 if solid.contains(lab_of(0.62, chroma, 35.0)) else -0.5

    edge = brentq(held, 0.0, 0.25, xtol=1e-7)
    assert found.lighter == 0 and found.turned == 0
    assert found.chroma + found.stronger == pytest.approx(edge, abs=1e-4), "and not a step short of it"
    assert solid.contains(ends(found)[1])


@pytest.mark.parametrize(
    ("chroma", "stronger", "named"), [(0.22, 0.05, True), (0.22, 0.0, False), (0.08, 0.02, False), (0.22, -0.06, False)]
)
def test_pushed_is_said_only_of_what_goes_on_beyond_the_paper(
    dune: Profile, chroma: float, stronger: float, named: bool
) -> None:
    pull = Pull(0.65, chroma, 50.0, stronger=stronger, name="orange")
    assert bool(pushed([pull], delta_lattice(dune))) is named


def test_greys_are_not_coloured() -> None:
    grey = Pull(0.6, 0.02, 50.0, stronger=0.1)
    np.testing.assert_allclose(_pulled(_polar(0.6, 0.0, 0.0), grey), _polar(0.6, 0.0, 0.0), atol=1e-6)
    assert np.hypot(*_pulled(_polar(0.6, 0.005, 50.0), grey)[0, 1:]) < 0.012


def test_free_points_are_met_and_rest_is_the_identity() -> None:
    np.testing.assert_array_equal(tone(AT, Values(points=(Point(40.0, 40.0),))), AT)
    curve = tone(AT, Values(points=(Point(25.0, 30.0), Point(60.0, 50.0))))
    assert np.interp(25, AT, curve) == pytest.approx(30, abs=0.01) and np.interp(60, AT, curve) == pytest.approx(
        50, abs=0.01
    )
    assert curve[0] == 0 and curve[-1] == 100


@given(st.lists(st.tuples(st.floats(0.5, 99.5), st.floats(0, 100)), max_size=6))
def test_random_points_rise(points: list[tuple[float, float]]) -> None:
    values = Values(points=points_together((Point(round(a, 2), b) for a, b in dict(points).items()), ()))
    curve = tone(AT, values)
    assert (np.diff(curve) >= 0).all() and curve[0] == 0 and curve[-1] == 100
    knots, heights = free_curve(values)
    secants = np.diff(heights) / np.diff(knots)
    assert secants.min() >= 0.1 - 1e-9


def test_shares_add_up_and_strength_nought_is_off() -> None:
    values = Values(points=(Point(30.0, 40.0),), pulled=(ORANGE,))
    half = Values().plus(values, 0.5)
    assert half.points == (Point(30.0, 35.0),) and half.pulled[0].lighter == pytest.approx(0.015)
    assert half.plus(values, 0.5).points == (Point(30.0, 40.0),)
    off = Recipe((Step(HAND, values, strength=0.0),))
    assert off.is_neutral and off.changes == 0 and not off.total
    on = Recipe((Step(HAND, values),))
    assert on.changes == 2 and not on.is_neutral and on.total == values


def test_plain_values_come_back_and_what_is_wrong_is_named() -> None:
    recipe = Recipe((Step(HAND, Values.of(contrast=4).plus(Values(points=(Point(30.0, 34.0),), pulled=(ORANGE,)))),))
    assert Recipe.from_json(recipe.to_json()) == recipe
    for bad in ({"glow": 1}, {"lightness": 0.5}, {**ORANGE.to_json(), "hue": "red"}, {**ORANGE.to_json(), "hue_width": 0},
                {**ORANGE.to_json(), "chroma": float("nan")}):  # fmt: skip
        with pytest.raises(RehearsalError):
            Pull.from_json(bad)
    for bad_point in ([0, 3], [30], [30, 101], "ab", [100, 50], [None, 3]):
        with pytest.raises(RehearsalError):
            point_from_json(bad_point)  # type: ignore[arg-type]
    with pytest.raises(RehearsalError, match="too many"):
        Values.from_json({"pulled": [ORANGE.to_json()] * (MOST_PULLED + 1)})


def test_words() -> None:
    words = values_words(Values(points=(Point(30.0, 34.0), Point(60.0, 55.0)), pulled=(ORANGE,)))
    assert words == [
        "L* 30 lifted to 34",
        "L* 60 lowered to 55",
        "orange pulled: lighter by 3 %, quieter by 11 % and hue +5°",
    ]
