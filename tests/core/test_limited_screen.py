"""A screen that is limited to a paper's contrast is not limited twice: what leaves the glass, worked out by hand."""

import numpy as np
import pytest

from rehearsal.core.icc import Profile, Step, Transform, xyz_profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.model import paper_model
from rehearsal.core.proof.chain import ScreenLeg


def _leaves_the_glass(rgb: np.ndarray, contrast: float) -> np.ndarray:
    """Y (m,) of a screen whose black was lifted: its own black and what the profile says of the codes above it."""
    y = Transform([Step(working_space("sRGB")), Step(xyz_profile(), "relative")]).apply(rgb)[:, 1]
    return 1 / contrast + (1 - 1 / contrast) * y


@pytest.mark.parametrize("view", ["true-black", "on-paper"])
def test_the_black_of_the_print_is_shown_once(dune: Profile, view: str) -> None:
    model = paper_model(dune)
    wanted = Transform([Step(dune), Step(xyz_profile(), "relative" if view == "true-black" else "absolute")])
    device = np.array([model.black_device, [0.35, 0.35, 0.35], [0.8, 0.8, 0.8]])
    contrast = 1 / float(wanted.apply(model.black_device[None])[0, 1])
    leg = ScreenLeg(dune, working_space("sRGB"), view, limited=contrast)
    seen = _leaves_the_glass(leg.rgb(device), contrast)
    assert seen == pytest.approx(wanted.apply(device)[:, 1], rel=0.015)
    plain = ScreenLeg(dune, working_space("sRGB"), view)
    twice = _leaves_the_glass(plain.rgb(device), contrast)
    assert twice[0] > 1.8 * seen[0], "without it the black is lifted twice"
    assert leg.rgb(device[:1]).max() < 0.02 and plain.rgb(device[:1]).min() > 0.1


def test_nothing_is_taken_from_fitted_views_whites_and_screens_that_are_not_limited(dune: Profile) -> None:
    ramp = np.repeat(np.linspace(0, 1, 9)[:, None], 3, axis=1)
    for view in ("fitted", "true-black", "on-paper"):
        plain = ScreenLeg(dune, working_space("sRGB"), view).rgb(ramp)
        np.testing.assert_allclose(ScreenLeg(dune, working_space("sRGB"), view, limited=0.0).rgb(ramp), plain)
        limited = ScreenLeg(dune, working_space("sRGB"), view, limited=39.0)
        assert np.abs(limited.paper_rgb - ScreenLeg(dune, working_space("sRGB"), view).paper_rgb).max() < 0.004
        if view == "fitted":
            np.testing.assert_allclose(limited.rgb(ramp), plain)


def test_a_profile_that_knows_the_lift_is_left_to_itself(dune: Profile) -> None:
    # a paper as a screen: its profile's black is that of its own contrast
    leg = ScreenLeg(dune, dune, "true-black", limited=60.0)
    known = Transform([Step(dune), Step(xyz_profile(), "relative")]).apply(np.zeros((1, 3)))[0, 1]
    assert known > 1 / 60 and leg.lifts_already == 0.0
    assert ScreenLeg(dune, working_space("sRGB"), "true-black", limited=60.0).lifts_already == pytest.approx(1 / 60)
