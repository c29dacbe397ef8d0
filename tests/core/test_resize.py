"""Resizing: never past an edge, the mean of light kept, everything where it belongs, strips that join."""

import numpy as np
import pytest
from PIL import Image
from scipy import ndimage
from skimage import data as photographs

from rehearsal.core.colour.lab import xyz_to_lab
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import WHITE_D50, working_space
from rehearsal.core.picture.resize import Resizer
from rehearsal.core.picture.space import MasterSpace, master_space

SRGB = master_space(working_space("sRGB"))


def resize_linear(pixels: np.ndarray, space: MasterSpace, width: int, height: int) -> np.ndarray:
    """All rows of a resizer."""
    return Resizer(pixels, space, width, height).rows(slice(0, height))


def _light(codes: np.ndarray) -> np.ndarray:
    return SRGB.linear[:, 0][codes].astype(np.float64)


def _codes(light: np.ndarray) -> np.ndarray:
    found = np.round(np.interp(light, SRGB.linear[:, 0], np.arange(65536))).astype(np.uint16)
    return np.repeat(found[..., None], 3, axis=-1)


def _lightness(codes: np.ndarray) -> np.ndarray:
    return np.asarray(xyz_to_lab(_light(codes)[..., None] * WHITE_D50)[..., 0])


@pytest.mark.parametrize("size", [13, 17, 31, 39, 41, 64, 97, 160])
@pytest.mark.parametrize("turned", [False, True])
def test_nothing_goes_past_an_edge(size: int, turned: bool) -> None:
    # an edge of codes 0.2 and 0.8: Lanczos in linear light alone takes its dark side to 0, 21 L* too dark
    edge = np.full((40, 40, 3), round(0.2 * 65535), np.uint16)
    edge[:, 20:] = round(0.8 * 65535)
    edge = np.ascontiguousarray(edge.swapaxes(0, 1)) if turned else edge
    made, ends = _lightness(resize_linear(edge, SRGB, size, size)[..., 0]), _lightness(edge[..., 0])
    assert made.min() > ends.min() - 2 and made.max() < ends.max() + 2
    assert made.min() == pytest.approx(ends.min(), abs=0.02) and made.max() == pytest.approx(ends.max(), abs=0.02)


@pytest.mark.parametrize("size", [60, 97, 130, 31])
def test_stairs_stay_stairs(size: int) -> None:
    # held by its own neighbours and not by what lies further off: what only rises, or only falls, still does
    stairs = np.repeat(np.repeat([0.1, 0.3, 0.55, 0.8], 12)[None], 5, axis=0)
    for light in (stairs, stairs[:, ::-1]):
        made = resize_linear(_codes(light), SRGB, size, 5)[2, :, 0].astype(int)
        steps = np.diff(made) if light is stairs else -np.diff(made)
        assert steps.min() >= 0


@pytest.mark.parametrize("size", [(20, 20), (30, 45), (59, 61), (90, 33), (150, 150)])
def test_the_mean_of_light_is_kept(size: tuple[int, int]) -> None:
    board = np.repeat((np.indices((60, 60)).sum(axis=0) % 2 * 65535).astype(np.uint16)[..., None], 3, axis=-1)
    assert _light(resize_linear(board, SRGB, *size)).mean() == pytest.approx(0.5, abs=1e-3)
    noise = np.random.default_rng(2).integers(0, 65536, (60, 60, 3)).astype(np.uint16)
    assert _light(resize_linear(noise, SRGB, *size)).mean() == pytest.approx(_light(noise).mean(), abs=0.01)


@pytest.mark.parametrize("size", [(300, 200), (240, 160), (121, 81), (61, 41), (50, 77)])
def test_smooth_light_as_the_general_imaging_library_has_it(size: tuple[int, int]) -> None:
    # where nothing has an edge, the plain filter of the same name in floating point is the other road
    y, x = np.mgrid[0:80, 0:120]
    light = 0.2 + 0.6 * np.exp(-((x - 50) ** 2 + (y - 33) ** 2) / 200)
    codes = _codes(light)
    theirs = np.asarray(
        Image.fromarray(_light(codes[..., 0]).astype(np.float32)).resize(size, Image.Resampling.LANCZOS)
    )
    made = _light(resize_linear(codes, SRGB, *size)[..., 0])
    assert np.abs(made - theirs).max() < 4e-4
    # the middle of the spot lies where it lay: not half a pixel off
    centre = ndimage.center_of_mass(made - 0.2)
    scale = (size[1] / 80, size[0] / 120)
    assert centre[0] == pytest.approx(33.5 * scale[0] - 0.5, abs=0.1) and centre[1] == pytest.approx(
        50.5 * scale[1] - 0.5, abs=0.1
    )


def _there_and_back(light: np.ndarray, kind: Image.Resampling) -> np.ndarray:
    image = Image.fromarray(light.astype(np.float32)).resize((600, 400), kind).resize((300, 200), kind)
    return np.asarray(image).clip(0, 1)


def test_a_photograph_keeps_its_detail() -> None:
    # an open photograph (CC0) enlarged and reduced again: holding edges costs little against the plain filter of the general
    # imaging library, and much less than its linear one
    cat = photographs.chelsea()[:200, :300].astype(np.uint16) * 257
    back = _light(resize_linear(resize_linear(cat, SRGB, 600, 400), SRGB, 300, 200)[..., 1])
    light = _light(cat[..., 1])
    ours = np.abs(back - light).mean()
    plain, linear = (
        np.abs(_there_and_back(light, k) - light).mean() for k in (Image.Resampling.LANCZOS, Image.Resampling.BILINEAR)
    )
    assert ours < 1.3 * plain and ours < 0.5 * linear


def test_tiny_pictures_and_tiny_results() -> None:
    dot = np.full((1, 1, 3), 13107, np.uint16)
    assert (resize_linear(dot, SRGB, 7, 5) == 13107).all()
    edge = np.zeros((40, 30, 3), np.uint16)
    edge[:, 15:] = 65535
    assert _light(resize_linear(edge, SRGB, 1, 1)).mean() == pytest.approx(0.5, abs=0.02)
    assert resize_linear(edge[:1], SRGB, 9, 4).shape == (4, 9, 3)
    assert resize_linear(edge[:, :2], SRGB, 1, 400).shape == (400, 1, 3)
    assert (resize_linear(edge, SRGB, 30, 40) == edge).all()


@pytest.mark.parametrize("space", ["grey", "rgb", "inks"])
def test_strips_join_without_a_seam(space: str, press: Profile, rng: np.random.Generator) -> None:
    own: MasterSpace = {"grey": master_space(working_space("gray")), "rgb": SRGB, "inks": master_space(press)}[space]
    pixels = rng.integers(0, 65536, (70, 50, own.channels)).astype(np.uint16)
    for size in ((90, 131), (23, 37)):
        resizer = Resizer(pixels, own, *size)
        parts = [resizer.rows(slice(a, min(a + 13, size[1]))) for a in range(0, size[1], 13)]
        np.testing.assert_array_equal(np.concatenate(parts), resize_linear(pixels, own, *size))
