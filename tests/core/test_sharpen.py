"""Output sharpening: against the formula, and in the print against a Gaussian spread by SciPy."""

import numpy as np
import pytest
from scipy.ndimage import fourier_gaussian, gaussian_filter1d

from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.surface import SIGMA_UM
from rehearsal.core.picture.space import master_space
from rehearsal.core.sheet.sharpen import MOST, RADIUS, Sharpener, gain, print_contrasts, sharpened, transfer

PPI, NEAR = 300.0, 45.0
PIXELS_PER_MM = PPI / 25.4


def _wave(cycles_per_mm: float, rows: int = 2 * RADIUS + 5, size: int = 600, high: float = 2.0) -> np.ndarray:
    """L* of upright lines."""
    x = np.arange(size) / PIXELS_PER_MM
    return np.tile(50 + high * np.sin(2 * np.pi * cycles_per_mm * x), (rows, 1))


def _swing(light: np.ndarray, cycles_per_mm: float) -> float:
    """Amplitude at a frequency in the middle of a row (by its two quadratures)."""
    row = light[len(light) // 2, 100:-100]
    x = (np.arange(len(row)) + 100) / PIXELS_PER_MM
    row = row - row.mean()
    return float(
        2
        * np.hypot(
            (row * np.sin(2 * np.pi * cycles_per_mm * x)).mean(), (row * np.cos(2 * np.pi * cycles_per_mm * x)).mean()
        )
    )


def _printed(light: np.ndarray, sigma_um: float) -> np.ndarray:
    """Rows as they print: SciPy's Gaussian in the frequency domain, exact for spreads below a pixel too."""
    both = np.concatenate([light, light[:, ::-1]], axis=1)
    there = fourier_gaussian(np.fft.fft(both, axis=1), (0, sigma_um / 1000 * PIXELS_PER_MM), n=-1)
    return np.fft.ifft(there, axis=1).real[:, : light.shape[1]]


@pytest.mark.parametrize(
    ("surface", "before", "after"),
    [("gloss", 0.85, 1.0), ("lustre", 0.70, 1.0), ("matte", 0.53, 1.0), ("textured", 0.24, 0.47)],
)
def test_contrast_in_the_print_at_three_lines_a_millimetre(surface: str, before: float, after: float) -> None:
    sigma = SIGMA_UM[surface]
    assert transfer(np.array(3.0), sigma) == pytest.approx(before, abs=0.006)
    file = Sharpener(sigma, 1.0, PPI, NEAR).lightness(_wave(3.0))
    printed, plain = (_printed(each, sigma) for each in (file, _wave(3.0)))
    assert _swing(plain, 3.0) / 2.0 == pytest.approx(before, abs=0.02)
    assert _swing(printed, 3.0) / 2.0 == pytest.approx(after, abs=0.03)


@pytest.mark.parametrize("strength", [0.5, 1.0, 1.5])
@pytest.mark.parametrize("f", [0.5, 1.5, 3.0, 4.5, 5.5])
def test_the_filter_has_the_gain_of_the_formula(strength: float, f: float) -> None:
    made = _swing(Sharpener(60.0, strength, PPI, NEAR).lightness(_wave(f)), f) / 2.0
    assert made == pytest.approx(float(gain(np.array(f), 60.0, strength, PPI, NEAR)), abs=0.04)


def test_the_gain_ends_where_eye_or_file_end() -> None:
    f = np.linspace(0, PIXELS_PER_MM / 2, 400)
    for strength in (0.5, 1.0, 1.5):
        g = gain(f, 90.0, strength, PPI, NEAR)
        assert g[0] == 1 and g[-1] == pytest.approx(1) and g.max() <= MOST + 1e-9 and g.min() >= 1
    eye = 30 / (450 * np.tan(np.radians(1.0)))  # 3.8 cycles per mm at 45 cm
    below, above = (float(gain(np.array(eye * k), 90.0, 1.0, PPI, NEAR)) for k in (0.99, 1.3))
    assert below == pytest.approx(MOST) and above < MOST - 0.3
    far = float(gain(np.array(3.0), 90.0, 1.0, PPI, 200.0))
    assert far < float(gain(np.array(3.0), 90.0, 1.0, PPI, NEAR)), "from further away less can be seen"
    assert float(gain(np.array(4.6), 30.0, 1.0, PPI, 20.0)) == pytest.approx(
        min(1 / float(transfer(np.array(4.6), 30.0)), MOST)
    )


def test_what_is_even_stays_and_strength_nought_is_the_identity(rng: np.random.Generator) -> None:
    even = np.full((2 * RADIUS + 6, 40), 63.0)
    np.testing.assert_allclose(Sharpener(90.0, 1.5, PPI, NEAR).lightness(even), 63.0, atol=1e-3)
    noise = rng.uniform(20, 80, (2 * RADIUS + 6, 40))
    np.testing.assert_allclose(Sharpener(90.0, 0.0, PPI, NEAR).lightness(noise), noise[RADIUS:-RADIUS], atol=1e-3)


@pytest.mark.parametrize("surface", SIGMA_UM)
def test_overshoot_of_a_step(surface: str) -> None:
    hard = np.full((2 * RADIUS + 5, 240), 40.0)
    hard[:, 120:] = 60.0
    step = gaussian_filter1d(hard, 0.7, axis=1)  # as an edge is in a picture that was resized
    file = Sharpener(SIGMA_UM[surface], 1.0, PPI, NEAR).lightness(step)
    printed, plain = (_printed(each, SIGMA_UM[surface]) for each in (file, step))
    assert 0.1 <= file.max() - 60 <= 4.5 and printed.max() - 60 <= 1.0
    assert np.diff(printed[2]).max() > np.diff(plain[2]).max() * 1.05, "the print's edge is steeper than without"
    made = Sharpener(SIGMA_UM[surface], 1.5, PPI, NEAR).lightness(np.where(hard > 50, 95.0, 10.0))
    assert made.max() <= 100 and made.min() >= 10 - 6 - 1e-9
    much = Sharpener(SIGMA_UM[surface], 1.5, PPI, NEAR).lightness(np.where(hard > 50, 85.0, 10.0))
    assert much.max() <= 85 + 6 + 1e-9


def test_pixels_keep_their_hue_and_stay_inside(rng: np.random.Generator) -> None:
    space = master_space(working_space("opRGB"))
    pixels = rng.integers(0, 65536, (2 * RADIUS + 30, 50, 3)).astype(np.uint16)
    made = Sharpener(90.0, 1.5, PPI, NEAR).pixels(pixels, space)
    before, after = (
        np.stack([space.curves[c][p[..., c]] for c in range(3)], axis=-1) for p in (pixels[RADIUS:-RADIUS], made)
    )
    ratio = after / np.maximum(before, 1e-6)
    lit = before.min(axis=-1) > 0.05  # also where the lightest channel comes to its end
    assert np.ptp(ratio[lit], axis=-1).max() < 0.01, "one gain for all channels"
    assert np.abs(made.astype(int) - pixels[RADIUS:-RADIUS]).mean() > 500


@pytest.mark.parametrize("rows", [3, 16, 41, 200])
def test_strips_are_sharpened_as_the_whole(rows: int, rng: np.random.Generator) -> None:
    space = master_space(working_space("sRGB"))
    pixels = rng.integers(9000, 50000, (123, 40, 3)).astype(np.uint16)
    sharpener = Sharpener(60.0, 1.0, PPI, NEAR)
    parts = [(slice(t, min(t + rows, 123)), pixels[t : t + rows]) for t in range(0, 123, rows)]
    made = list(sharpened(iter(parts), 123, sharpener, space))
    assert [p for p, _m in made] == [p for p, _m in parts]
    padded = pixels[np.clip(np.arange(-RADIUS, 123 + RADIUS), 0, 122)]
    whole = sharpener.pixels(padded, space)
    np.testing.assert_allclose(np.concatenate([m for _p, m in made]).astype(int), whole, atol=2)


def test_contrasts_that_are_told() -> None:
    told = print_contrasts(60.0, 1.0, PPI, NEAR)
    assert [f for f, _b, _a in told] == [1.0, 3.0, 5.0]
    for f, before, after in told:
        assert before == pytest.approx(float(np.exp(-2 * (np.pi * 0.06 * f) ** 2))) and before <= after <= 1 + 1e-9
    assert told[1][2] == pytest.approx(1.0)
    assert [f for f, _b, _a in print_contrasts(60.0, 1.0, 180.0, NEAR)] == [1.0, 3.0], "a file of 180 ppi holds 3.5"
    assert all(before == after for _f, before, after in print_contrasts(60.0, 0.0, PPI, NEAR))
