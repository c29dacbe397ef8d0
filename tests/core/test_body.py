"""The turning body: rings against the solid they surround, the view against plain geometry, bins against the pixels."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from rehearsal.core.icc import Profile
from rehearsal.core.papers.body import BIN, LEVELS, picture_bins, pixels_near, rings, seen_from
from rehearsal.core.papers.model import paper_model
from rehearsal.core.papers.reach import slice_outline
from rehearsal.core.papers.solid import Solid


def _ball(radius: float = 30.0) -> Solid:
    """A ball around L* 50 on the neutral axis, step 1."""
    axis = np.arange(-45, 46)
    inside = np.sqrt(sum(g.astype(float) ** 2 for g in np.meshgrid(axis, axis, axis, indexing="ij"))) <= radius
    return Solid(inside, np.array([5.0, -45.0, -45.0]), 1.0)


def test_rings_of_a_ball_are_circles() -> None:
    made = rings(_ball())
    assert [ring[0, 0] for ring in made] == [level for level in LEVELS if abs(level - 50) < 30]
    for ring in made:
        assert np.ptp(ring[:, 0]) == 0
        wanted = np.sqrt(30.0**2 - (ring[0, 0] - 50) ** 2)
        np.testing.assert_allclose(np.hypot(ring[:, 1], ring[:, 2]), wanted, atol=1.0)
        np.testing.assert_allclose(ring[0], ring[-1], atol=1e-9), "closed"


def test_rings_follow_the_slices(dune: Profile) -> None:
    solid = paper_model(dune).solid
    made = {float(ring[0, 0]): ring for ring in rings(solid)}
    outline = slice_outline(solid, 50.0)[0]
    gap = np.linalg.norm(outline[:, None] - made[50.0][None, :, 1:], axis=-1).min(axis=1)
    assert gap.max() < 6.0 and len(made[50.0]) <= 72
    assert min(made) > 5 and max(made) <= 95, "nothing below the paper's black"


def test_from_above_it_is_the_slice() -> None:
    lab = np.array([[20.0, 40, -30], [80, 40, -30], [50, 0, 0]])
    seen = seen_from(lab, 0, 90)
    np.testing.assert_allclose(seen[:, :2], lab[:, 1:], atol=1e-9)
    assert seen[0, 2] > seen[1, 2], "the lighter one is nearer to the eye"


def test_level_it_stands_upright() -> None:
    seen = seen_from(np.array([[90.0, 10, 20], [10, 10, 20]]), 0, 0)
    np.testing.assert_allclose(seen, [[10, 40, 20], [10, -40, 20]], atol=1e-9)
    np.testing.assert_allclose(seen_from(np.array([50.0, 10, 20]), 90, 0), [20, 0, -10], atol=1e-9)


@given(st.floats(-360, 360), st.floats(-90, 90))
def test_the_view_is_a_rotation(turn: float, tilt: float) -> None:
    # SciPy as the outside road: about the axis of lightness, then about the axis to the right
    lab = np.array([[50.0, 1, 0], [50, 0, 1], [51, 0, 0], [73, -31, 12]])
    as_xyz = np.column_stack([lab[:, 1], lab[:, 0] - 50, lab[:, 2]])  # right, up, away
    spun = Rotation.from_euler("y", turn, degrees=True).apply(as_xyz)
    nodded = Rotation.from_euler("x", -tilt, degrees=True).apply(spun)
    np.testing.assert_allclose(seen_from(lab, turn, tilt), nodded, atol=1e-9)


def test_bins_hold_all_pixels(rng: np.random.Generator) -> None:
    lab = rng.uniform([0, -50, -50], [100, 50, 50], (40, 50, 3)).astype(np.float32)
    beyond = lab[..., 1] > 20
    bins = picture_bins(lab, beyond)
    assert bins.count.sum() == 2000
    assert (bins.count * bins.beyond).sum() == pytest.approx(np.count_nonzero(beyond))
    np.testing.assert_allclose(
        (bins.centre * bins.count[:, None]).sum(axis=0) / 2000, lab.reshape(-1, 3).mean(axis=0), atol=1e-3
    )
    cells = np.floor(bins.centre / BIN)
    assert len(np.unique(cells, axis=0)) == len(cells), "each bin's mean lies in its own bin"


def test_pixels_near_a_colour() -> None:
    lab = np.zeros((4, 5, 3), dtype=np.float32)
    lab[1, 2] = (50, 30, 40)
    lab[3, 3] = (50, 33, 44)
    mask = pixels_near(lab, np.array([50.0, 30, 40]), 5.0)
    assert [tuple(p) for p in np.argwhere(mask)] == [(1, 2), (3, 3)]
    assert not pixels_near(lab, np.array([50.0, 30, 40]), 4.9)[3, 3]
