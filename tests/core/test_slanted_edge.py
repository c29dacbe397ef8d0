"""A paper's spread measured at a slanted edge, against the error function; and what sharpening does to such an edge."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.ndimage import fourier_gaussian
from scipy.special import erf
from tests.conftest import opened_for

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.file import read_picture
from rehearsal.core.sheet.sharpen import RADIUS, Sharpener, gain, transfer
from rehearsal.core.sheet.sharpenlook import detailed_place, sharpen_looks
from rehearsal.core.sheet.slantededge import edge_spread_um
from rehearsal.core.values.frame import Frame, PrintSize
from rehearsal.core.values.handover import HandOver


def edge(
    ppi: float,
    sigma_um: float,
    degrees: float = 5.0,
    side: int = 160,
    noise: float = 0.003,
    low: float = 0.2,
    high: float = 0.5,
) -> np.ndarray:
    """A Gaussian edge (the integral of a Gaussian is the error function), seen through pixels that average: 8 × 8 samples each."""
    over, sigma = 8, sigma_um / 25400 * ppi
    y, x = (np.indices((side * over, side * over)) + 0.5) / over - side / 2
    far = x * np.cos(np.radians(degrees)) - y * np.sin(np.radians(degrees))
    fine = low + (high - low) * (1 + erf(far / (sigma * np.sqrt(2)))) / 2
    image = fine.reshape(side, over, side, over).mean(axis=(1, 3))
    return image + np.random.default_rng(3).normal(0, noise, image.shape)


@pytest.mark.parametrize("ppi", [600, 1200])
@pytest.mark.parametrize("sigma", [30.0, 60.0, 90.0])
def test_the_spread_is_found_again(ppi: int, sigma: float) -> None:
    image = edge(ppi, sigma)
    assert edge_spread_um(image, ppi) == pytest.approx(sigma, rel=0.04)
    assert edge_spread_um(image.T, ppi) == pytest.approx(sigma, rel=0.04), "an edge that lies level"
    assert edge_spread_um(image[:, ::-1], ppi) == pytest.approx(sigma, rel=0.04), "light at the left"
    assert edge_spread_um(edge(ppi, sigma, degrees=8.0), ppi) == pytest.approx(sigma, rel=0.05)


def test_what_is_no_slanted_edge_is_named() -> None:
    with pytest.raises(RehearsalError, match="too small"):
        edge_spread_um(np.ones((10, 10)), 600)
    with pytest.raises(RehearsalError, match="no edge"):
        edge_spread_um(np.random.default_rng(1).random((60, 60)), 600)
    with pytest.raises(RehearsalError, match="slanted by 0"):
        edge_spread_um(edge(600, 60, degrees=0.0, noise=0.0), 600)
    with pytest.raises(RehearsalError, match="cannot be a paper"):
        edge_spread_um(edge(600, 60), 40)


def spread(image: np.ndarray, sigma: float) -> np.ndarray:
    """Blurred by a Gaussian of σ pixels, exactly: in the frequency domain, mirrored at its edges."""
    mirrored = np.block([[image, image[:, ::-1]], [image[::-1], image[::-1, ::-1]]])
    made = np.fft.ifft2(fourier_gaussian(np.fft.fft2(mirrored), sigma)).real
    return np.asarray(made[: image.shape[0], : image.shape[1]])


def response(image: np.ndarray, degrees: float) -> tuple[np.ndarray, np.ndarray]:
    """Cycles per pixel, and the transfer of an edge: rows laid over each other by the known slant, differenced, transformed. By other means
    than the core's: a spline through all pixels' places."""
    side = image.shape[0]
    y, x = np.indices(image.shape) - (side - 1) / 2
    far = (x * np.cos(np.radians(degrees)) - y * np.sin(np.radians(degrees))).ravel()
    bins = np.arange(-20, 20, 0.25)
    which = np.digitize(far, bins)
    values = image.ravel()
    mean = np.array([values[which == k].mean() for k in range(1, len(bins))])
    spread = np.diff(mean) * np.hanning(len(mean) - 1)
    found = np.abs(np.fft.rfft(spread, 2048))
    return np.fft.rfftfreq(2048, 0.25), found / found[0]


@pytest.mark.parametrize("sigma", [30.0, 45.0, 60.0])
def test_sharpening_gives_an_edge_the_response_it_promises(sigma: float) -> None:
    """At an amplitude of 4 L*: the paper's spread and the file's gain together, against their product worked out from the two formulas."""
    ppi, distance = 300.0, 45.0
    light = 50 + edge(ppi, 55, side=180, noise=0.0, low=-2, high=2)
    wide = np.pad(light, ((RADIUS, RADIUS), (0, 0)), mode="edge")
    sharp = Sharpener(sigma, 1.0, ppi, distance).lightness(wide)
    pixels = sigma / 25400 * ppi
    plain_f, plain = response(light, 5.0)
    _f, made = response(spread(sharp, pixels), 5.0)
    per_mm = plain_f * ppi / 25.4
    seen = (per_mm > 0.3) & (per_mm < 4.0)
    promised = transfer(per_mm, sigma) * gain(per_mm, sigma, 1.0, ppi, distance)
    assert np.abs(made[seen] / plain[seen] - promised[seen]).max() < 0.06
    soft = response(spread(light, pixels), 5.0)[1]
    at = int(np.argmin(np.abs(per_mm - 3.0)))
    assert made[at] > soft[at] * 1.1, "without it the print is softer"


def test_the_pieces_shown_are_the_print_without_and_with(small_cloths: object, dune: Profile) -> None:
    hand_over = HandOver(ppi=150, sharpen=100, sigma_um=90.0)
    opened = opened_for(
        read_picture(str(small_cloths)), dune, frame=Frame(size=PrintSize(9.0, 6.0)), hand_over=hand_over
    )
    place = detailed_place(opened)
    assert 0 < place[0] < 1 and 0 < place[1] < 1
    before, after = sharpen_looks(opened, place, 48)
    assert before.shape == after.shape == (48, 48, 3) and before.dtype == np.uint16
    rough = [np.abs(np.diff(v[..., 1].astype(float), axis=1)).mean() for v in (before, after)]
    assert rough[1] > rough[0] * 1.03
    assert abs(before.mean() / after.mean() - 1) < 0.02, "as light as it was"
    huge = sharpen_looks(opened, (0.0, 1.0), 4000)
    assert huge[0].shape[0] <= 354 and huge[0].shape == huge[1].shape, "never more than there is"
    assert working_space("sRGB") is not None
