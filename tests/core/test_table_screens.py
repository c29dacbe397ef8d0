"""A monitor profile made of tables shows paper as the matrix profile of the same monitor does."""

import numpy as np
import pytest
from tests.conftest import demo_profile

from rehearsal.core.icc import Profile, Step, Transform, lab_profile
from rehearsal.core.icc.write import D50, assemble, encode_lab, table_tag, text_tag, xyz_tag
from rehearsal.core.proof.chain import VIEWS, Light, ScreenLeg, linear_screen, master_scale

PAPERS = ("OS17_OldQuay_Fine.icc", "SK24_WhiteDune_Hi.icc", "SK24_WindmillBaryta_Hi.icc")


def as_tables(matrix: Profile, nodes: int = 33) -> Profile:
    """The same monitor as a version 2 profile of Lab tables."""
    axis = np.linspace(0, 1, nodes)
    cube = np.stack(np.meshgrid(axis, axis, axis, indexing="ij"), axis=-1)
    lab = Transform([Step(matrix), Step(lab_profile(), "relative")]).apply(cube.reshape(-1, 3)).reshape(cube.shape)
    # the encoding of tables read backwards (ICC.1:2022, 10.10): FF00h is L* 100, 8000h is a* or b* 0
    asked = (cube * 65535 - [0, 0x8000, 0x8000]) / [652.8, 256, 256]
    back = np.clip(Transform([Step(lab_profile()), Step(matrix, "relative")]).apply(asked.reshape(-1, 3)), 0, 1)
    straight = np.tile(np.linspace(0, 1, 2), (3, 1))
    tags = {
        "desc": text_tag("Tables of a screen", 2), "cprt": text_tag("CC0", 2, "cprt"), "wtpt": xyz_tag(D50),
        "A2B0": table_tag(encode_lab(lab), straight, straight), "B2A0": table_tag(back.reshape(cube.shape), straight, straight),
    }  # fmt: skip
    return Profile(assemble(tags, "mntr", "RGB ", "Lab ", 2.4), "table screen")


@pytest.fixture(scope="module")
def pair(request: pytest.FixtureRequest) -> tuple[Profile, Profile]:
    matrix = demo_profile("desk-screen-wide.icc")
    return matrix, as_tables(matrix)


@pytest.mark.parametrize("paper", PAPERS)
@pytest.mark.parametrize("view", VIEWS)
def test_the_papers_white_is_the_same(view: str, paper: str, pair: tuple[Profile, Profile]) -> None:
    one, two = (ScreenLeg(demo_profile(paper), screen, view, Light(300, 110)) for screen in pair)
    assert two.paper_scale == pytest.approx(one.paper_scale, rel=0.01)
    np.testing.assert_allclose(two.paper_rgb * 255, one.paper_rgb * 255, atol=2.5)
    assert master_scale(two) == pytest.approx(master_scale(one), abs=0.02)
    assert two.paper_rgb.max() * 255 > (252 if view == "on-paper-bright" else 0)


@pytest.mark.parametrize("lux", [150, 900, 2000])
def test_paper_outshines_a_table_screen_where_it_outshines_a_matrix_screen(
    lux: float, pair: tuple[Profile, Profile]
) -> None:
    # E ρ / π by hand: 900 lux on a paper of Y 0.88 give 252 cd/m², more than a screen of 110
    paper = demo_profile("SK24_WhiteDune_Hi.icc")
    for screen in pair:
        assert ScreenLeg(paper, screen, "in-its-light", Light(lux, 110)).outshines is (lux > 500)


def test_a_white_the_screen_cannot_hold_is_scaled_down(pair: tuple[Profile, Profile]) -> None:
    # a paper as white as D50 and bluer than the monitor's white asks for more blue than there is
    for screen in pair:
        cold = np.array([0.9642, 1.0, 0.95])
        assert linear_screen(screen, cold)[2] > 1.1
        assert linear_screen(screen, 0.5 * cold) == pytest.approx(0.5 * linear_screen(screen, cold), abs=0.01)
