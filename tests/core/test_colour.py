"""Colour arithmetic against published tables and against colour-science and scikit-image."""

import threading

import colour
import numpy as np
import pytest
from skimage.color import deltaE_ciede2000
from tests.conftest import table

from rehearsal.core.colour.difference import ciede_split, delta_e_2000
from rehearsal.core.colour.lab import compensate_xyz, density, lab_to_xyz, lightness_to_y, xyz_to_lab, y_to_lightness
from rehearsal.core.colour.oklab import oklab_to_xyz, xyz_to_oklab
from rehearsal.core.colour.table import IndexCurve, cube_nodes, look_up_pixels, pack_screen_table, paint, srgb_decode
from rehearsal.core.icc.standard import WHITE_D50
from rehearsal.core.work.pool import in_slices, side_by_side

WHITE_XY = colour.XYZ_to_xy([0.9642, 1.0, 0.8249])


def test_ciede2000_published_pairs() -> None:
    # Sharma, Wu, Dalal 2005, table 1; the table is rounded to four decimals
    rows = table("ciede2000_sharma34.csv")
    one = np.array([[float(r[k]) for k in ("L1", "a1", "b1")] for r in rows])
    two = np.array([[float(r[k]) for k in ("L2", "a2", "b2")] for r in rows])
    published = np.array([float(r["dE00"]) for r in rows])
    assert len(rows) == 34
    np.testing.assert_allclose(delta_e_2000(one, two), published, atol=5e-5)
    np.testing.assert_allclose(delta_e_2000(two, one), published, atol=5e-5)


def test_ciede2000_against_two_libraries(rng: np.random.Generator) -> None:
    one = rng.uniform([0, -100, -100], [100, 100, 100], (50_000, 3))
    two = one + rng.normal(0, 12, one.shape)
    ours = delta_e_2000(one, two)
    np.testing.assert_allclose(ours, colour.delta_E(one, two, method="CIE 2000"), atol=1e-9)
    np.testing.assert_allclose(ours, deltaE_ciede2000(one, two), atol=1e-9)


def test_split_adds_up_to_the_square(rng: np.random.Generator) -> None:
    one = rng.uniform([0, -80, -80], [100, 80, 80], (2000, 3))
    two = one + rng.normal(0, 8, one.shape)
    split = np.array([ciede_split(*a, *b) for a, b in zip(one, two, strict=True)])
    np.testing.assert_allclose(split.sum(axis=1), delta_e_2000(one, two) ** 2, atol=1e-9)


def test_lab_against_colour_science(rng: np.random.Generator) -> None:
    xyz = rng.uniform(0, 1, (5000, 3)) * [0.9642, 1.0, 0.8249]
    np.testing.assert_allclose(xyz_to_lab(xyz), colour.XYZ_to_Lab(xyz, WHITE_XY), atol=2e-4)
    np.testing.assert_allclose(lab_to_xyz(xyz_to_lab(xyz)), xyz, atol=1e-12)


@pytest.mark.parametrize(
    ("lightness", "y", "dmax"), [(16.0, 0.02099, 1.678), (5.0, 0.00554, 2.26), (96.0, 0.900, 0.046)]
)
def test_lightness_and_density(lightness: float, y: float, dmax: float) -> None:
    # CIE 15:2018: Y = ((L* + 16) / 116)^3, worked by hand
    assert lightness_to_y(lightness) == pytest.approx(y, rel=0.01)
    assert y_to_lightness(lightness_to_y(lightness)) == pytest.approx(lightness)
    assert density(float(lightness_to_y(lightness))) == pytest.approx(dmax, abs=0.01)


def test_compensation_against_the_published_formula() -> None:
    # ISO 18619: XYZ' = a XYZ + b with a = (bp_out - wp) / (bp_in - wp); black goes to black, white stays
    white = np.array([0.9642, 1.0, 0.8249])
    source, target = white * 0.004, white * 0.02
    moved = compensate_xyz(np.stack([source, white, white * 0.3]), source, target)
    np.testing.assert_allclose(moved[0], target, atol=1e-12)
    np.testing.assert_allclose(moved[1], white, atol=1e-12)
    scale = (0.02 - 1) / (0.004 - 1)
    np.testing.assert_allclose(moved[2], white * (0.3 * scale + (1 - scale)), atol=1e-12)


def test_oklab_against_colour_science(rng: np.random.Generator) -> None:
    xyz = rng.uniform(0.02, 0.9, (2000, 3))
    from rehearsal.core.colour import oklab

    d65 = xyz @ oklab._TO_D65.T
    np.testing.assert_allclose(xyz_to_oklab(xyz), colour.XYZ_to_Oklab(d65), atol=2e-4)
    # the published matrices are rounded; here neutrals are without chroma to the last bit that matters
    greys = np.linspace(0.001, 1, 50)[:, None] * WHITE_D50
    assert np.abs(xyz_to_oklab(greys)[:, 1:]).max() < 1e-7
    np.testing.assert_allclose(oklab_to_xyz(xyz_to_oklab(xyz)), xyz, atol=1e-9)


def _curve() -> IndexCurve:
    return IndexCurve(srgb_decode(np.arange(65536) / 65535.0))


def test_float_table_is_exact_for_a_linear_function(rng: np.random.Generator) -> None:
    # tetrahedral interpolation reproduces every function that is linear over the cube
    curve = IndexCurve(srgb_decode(np.arange(65536) / 65535.0))
    n = 9
    place = np.linspace(0, 1, n)
    cube = np.stack(np.meshgrid(place, place, place, indexing="ij"), axis=-1)
    slope = np.array([[2.0, -1.0], [0.5, 3.0], [-4.0, 1.5]])
    values = (cube @ slope + 7).astype(np.float32)
    pixels = rng.integers(0, 65536, (4000, 3)).astype(np.uint16)
    expected = curve.encoded[pixels] @ slope + 7
    found = look_up_pixels(pixels, curve.float_positions(n), values)
    np.testing.assert_allclose(found, expected, atol=2e-4)


def test_painting_an_identity_table_keeps_the_pixels(rng: np.random.Generator) -> None:
    curve = _curve()
    n = 33
    nodes = cube_nodes(curve, n)
    pixels = rng.integers(0, 65536, (40, 50, 3)).astype(np.uint16)
    shown = paint(pixels, curve.positions(n), pack_screen_table(nodes, n))
    channels = np.stack([shown >> 16 & 255, shown >> 8 & 255, shown & 255], axis=-1).astype(int)
    assert (shown >> 24 == 255).all()
    assert np.abs(channels - pixels / 257.0).max() <= 1.0
    white = paint(np.full((1, 1, 3), 65535, np.uint16), curve.positions(n), pack_screen_table(nodes, n))
    assert white[0, 0] == 0xFFFFFFFF


def test_shared_work_inside_shared_work_comes_to_an_end() -> None:
    # more pieces of work than threads, each sharing its own work again: they would wait for each other for ever
    def inner(number: int) -> int:
        found = np.zeros(50_000)
        in_slices(len(found), lambda part: found.__setitem__(part, number))
        return int(found.sum())

    everything: list[list[int]] = []
    outer = [
        threading.Thread(
            target=lambda: everything.append(side_by_side([lambda n=n: inner(n) for n in range(9)])), daemon=True
        )
        for _ in range(4)
    ]
    for thread in outer:
        thread.start()
    for thread in outer:
        thread.join(timeout=30)
    assert everything == [[50_000 * n for n in range(9)]] * 4


def test_shared_work_tells_what_went_wrong_on_either_side() -> None:
    for bad in (0, 1):
        with pytest.raises(ZeroDivisionError):
            side_by_side([lambda n=n, bad=bad: 1 / (n != bad) for n in range(2)])
    assert side_by_side([lambda: 1, lambda: 2, lambda: 3]) == [1, 2, 3]


@pytest.mark.parametrize(
    ("one", "two"), [((50, 20, 0), (50, -20, 0)), ((50, 0, 0), (50, 0, 0)), ((50, 0, 0), (40, 0, -30))]
)
def test_differences_of_opposite_hues_and_greys(one: tuple[float, ...], two: tuple[float, ...]) -> None:
    # exactly opposite hues have two means; greys have none; colour-science as the check
    a, b = np.array([one], dtype=float), np.array([two], dtype=float)
    assert delta_e_2000(a, b)[0] == pytest.approx(float(colour.delta_E(a, b, method="CIE 2000")[0]), abs=1e-9)
