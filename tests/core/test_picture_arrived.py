"""What arrived: clipping, sharpening on open photographs, sizes at distances, samples of a pyramid."""

import numpy as np
import pytest
from PIL import Image, ImageFilter
from scipy import ndimage
from skimage import data as photographs
from tests.conftest import table

from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.arrived import (
    PLAIN,
    SHARPENED,
    clipping,
    edge_overshoot,
    good_for,
    is_sharpened,
    overshoot_of,
)
from rehearsal.core.picture.pyramid import Pyramid
from rehearsal.core.picture.space import master_space
from rehearsal.core.sheet.layout import DIVISIONS, PROPORTIONS


def test_clipping_counts_what_is_clipped() -> None:
    pixels = np.full((10, 10, 3), 30_000, np.uint16)
    pixels[0] = 65535
    pixels[1, :, 0] = 65535
    pixels[2, :5] = 0
    pixels[3, :5, 2] = 0
    found = clipping(pixels)
    assert (found.white, found.lights, found.black, found.darks) == (10, 20, 5, 10)
    assert clipping(np.full((4, 4, 1), 65535, np.uint16)).white == 100
    # the last step of an 8-bit file, widened to 16 bits, counts; the one before does not
    assert clipping(np.full((2, 2, 3), 255 * 257, np.uint16)).white == 100
    assert clipping(np.full((2, 2, 3), 254 * 257, np.uint16)).lights == 0


def _sharpened(image: Image.Image) -> Image.Image:
    return image.filter(ImageFilter.UnsharpMask(1.5, 150, 0))


def _photograph(name: str) -> Image.Image:
    return Image.fromarray(getattr(photographs, name)()).convert("RGB")


def _told(image: Image.Image) -> bool | None:
    pixels = np.asarray(image).astype(np.uint16) * np.uint16(257)
    return is_sharpened(overshoot_of(pixels, master_space(working_space("sRGB"))))


# open photographs of scikit-image; Pillow's unsharp mask (amount 1.5, radius 1.5) and its enlarging as the other programs


@pytest.mark.parametrize("name", ["astronaut", "camera", "coffee", "chelsea", "rocket", "retina", "brick", "gravel"])
def test_nothing_false_is_said_of_sharpening(name: str) -> None:
    plain = _photograph(name)
    assert _told(plain) is not True, "as published"
    assert _told(_sharpened(plain)) is not False


@pytest.mark.parametrize("name", ["astronaut", "coffee", "camera"])
def test_sharpening_is_found_where_there_are_edges(name: str) -> None:
    assert _told(_sharpened(_photograph(name))) is True


def test_without_halos_it_is_said_too() -> None:
    assert _told(_photograph("camera")) is False


@pytest.mark.parametrize("filtered", [Image.Resampling.BICUBIC, Image.Resampling.LANCZOS, Image.Resampling.BILINEAR])
@pytest.mark.parametrize("name", ["astronaut", "coffee", "rocket", "camera"])
def test_an_enlarged_picture_cannot_tell(name: str, filtered: Image.Resampling) -> None:
    plain = _photograph(name)
    middle = plain.crop((plain.width // 4, plain.height // 4, 3 * plain.width // 4, 3 * plain.height // 4))
    assert _told(middle.resize(plain.size, filtered)) is None


def test_clipped_edges_have_lost_their_halos() -> None:
    light = np.full((120, 400), 0.0)
    for x in range(0, 400, 40):
        light[:, x : x + 20] = 100.0
    sharp = np.clip(light + 1.5 * (light - ndimage.gaussian_filter(light, 1.5)), 0, 100)
    assert edge_overshoot(sharp) is None
    grey = 20 + light * 0.6
    told = edge_overshoot(grey + 1.5 * (grey - ndimage.gaussian_filter(grey, 1.5)))
    assert told is not None and is_sharpened(told)


@pytest.mark.parametrize(("low", "high"), [(0.0, 70.0), (30.0, 100.0)])
def test_edges_that_are_clipped_on_one_side_cannot_tell(low: float, high: float) -> None:
    assert edge_overshoot(_bars(low, high, 0.0, 1.0)) is None


def _bars(low: float, high: float, halo: float, share: float) -> np.ndarray:
    """Bars whose edges overshoot by a part of their height, in so many of their rows."""
    light = np.full((100, 400), low)
    for x in range(20, 400, 40):
        light[:, x : x + 20] = high
    rows = slice(0, round(100 * share))
    for x in range(20, 400, 20):
        up = 1 if light[0, x] > light[0, x - 1] else -1
        light[rows, x] += up * halo * (high - low)
        light[rows, x - 1] -= up * halo * (high - low)
    return light


def test_where_nearly_half_of_the_edges_have_halos_nobody_can_tell() -> None:
    told = [edge_overshoot(_bars(30.0, 70.0, 0.1, share)) for share in (0.2, 0.47, 1.0)]
    assert told[0] == pytest.approx(0, abs=1e-6) and told[1] is None and told[2] == pytest.approx(0.1, abs=0.005)


@pytest.mark.parametrize(
    ("overshoot", "told"), [(None, None), (PLAIN, False), (0.031, None), (0.069, None), (SHARPENED, True)]
)
def test_between_the_two_limits_nobody_can_tell(overshoot: float | None, told: bool | None) -> None:
    assert is_sharpened(overshoot) is told


def test_a_halo_is_measured_as_large_as_it_is() -> None:
    lightness = np.full((80, 200), 30.0)
    for x in range(20, 200, 40):
        lightness[:, x : x + 20] = 70.0
    assert edge_overshoot(lightness) == pytest.approx(0, abs=1e-6)
    halo = lightness.copy()
    for x in range(20, 180, 20):
        up = lightness[0, x] > lightness[0, x - 1]
        halo[:, x] += 4 if up else -4
        halo[:, x - 1] -= 4 if up else -4
    assert edge_overshoot(halo) == pytest.approx(0.1, abs=0.005)
    assert edge_overshoot(np.full((50, 50), 40.0)) is None and edge_overshoot(np.zeros((3, 9))) is None


def test_overshoot_of_a_whole_picture() -> None:
    rng = np.random.default_rng(1)
    pixels = rng.integers(0, 65535, (60, 60, 3)).astype(np.uint16)
    assert overshoot_of(pixels, master_space(working_space("sRGB"))) is None


def test_sizes_at_distances() -> None:
    # resolution the eye uses, 1 minute of arc: table computed elsewhere from ppi = 2.54 / (d tan 1′)
    rows = {float(r["distance_cm"]): float(r["ppi_1arcmin"]) for r in table("viewing_distance_ppi.csv")}
    for found in good_for(6000, 4000, tuple(rows)):
        assert found.width_cm == pytest.approx(6000 / rows[found.distance_cm] * 2.54, rel=1e-3)
        assert found.width_cm / found.height_cm == pytest.approx(1.5)


def test_samples_of_a_pyramid_come_from_their_place() -> None:
    space = master_space(working_space("sRGB"))
    pixels = np.zeros((600, 800, 3), np.uint16)
    pixels[300:, 400:] = 50_000
    pyramid = Pyramid(pixels, space)
    assert (pyramid.sample(400, 300, 400, 300, 500)[0] == 50_000).all()
    assert (pyramid.sample(0, 0, 400, 300, 500)[0] == 0).all()
    found, places = pyramid.sample(0, 0, 800, 600, 4000)
    share = (found[:, 0] > 0).mean()
    # each place is where its pixel came from
    np.testing.assert_array_equal(found[:, 0] > 0, (places[:, 0] >= 400) & (places[:, 1] >= 300))
    assert share == pytest.approx(0.25, abs=0.03)
    np.testing.assert_array_equal(pyramid.pixels_at(np.array([[799.9, 599.9], [-5, -5]]))[:, 0], [50_000, 0])


def test_proportions_and_divisions_are_those_of_the_trade() -> None:
    values = dict(PROPORTIONS)
    # ISO 216 sheets are √2 : 1; 10 × 8 in is 5 : 4 (common practice)
    assert values["A sheets, √2 : 1"] == pytest.approx(2**0.5) and values["5 : 4"] == pytest.approx(10 / 8)
    golden = DIVISIONS["golden section"]
    assert golden[1] / golden[0] == pytest.approx((1 + 5**0.5) / 2, abs=1e-4) and golden[0] + golden[
        1
    ] == pytest.approx(1)
