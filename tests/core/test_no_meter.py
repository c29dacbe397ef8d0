"""The light told without a meter: a camera's exposure, and a sheet of paper beside a field of the screen."""

import itertools
import math

import pytest

from rehearsal.core.icc import open_profile
from rehearsal.core.icc.standard import space_bytes, working_space
from rehearsal.core.screen.brightness import advise_beside, light_sentence
from rehearsal.core.screen.nometer import APERTURES, GREY_CARD, SPEEDS, TIMES, Exposure, field_y, offset_of, time_words


def test_a_cameras_exposure_tells_luminance_and_lux() -> None:
    seen = Exposure(4.0, 1 / 30, 100.0)
    assert seen.luminance == pytest.approx(60.0)  # ISO 2720: L = K N^2 / (t S) with K = 12.5
    assert seen.lux(GREY_CARD) == pytest.approx(1047.2, abs=0.1)  # E = pi L / rho
    assert Exposure(5.6, 1 / 60, 400.0).lux(GREY_CARD) == pytest.approx(218.2 * 5.6**2 / (400 / 60), rel=1e-3)
    assert seen.lux(0.9) == pytest.approx(math.pi * 12.5 / 0.9 * 4.8, rel=1e-3)  # on paper: pi K / rho


@pytest.mark.parametrize("scale", [APERTURES, TIMES, SPEEDS])
def test_scales_of_cameras_rise_by_thirds_of_a_stop(scale: tuple[float, ...]) -> None:
    per_stop = 2.0 if scale is APERTURES else 1.0  # a stop is the square of the aperture
    steps = [per_stop * math.log2(b / a) for a, b in itertools.pairwise(scale)]
    assert all(0.18 < s < 0.5 for s in steps)  # ISO 2720 and common practice: rounded names


def test_times_are_written_as_on_cameras() -> None:
    assert [time_words(t) for t in (1 / 2000, 1 / 30, 0.3, 1.0, 2.5)] == ["1/2000 s", "1/30 s", "0.3 s", "1 s", "2.5 s"]


def test_a_field_shines_as_the_profile_has_it() -> None:
    screen = working_space("sRGB")
    assert field_y(255, screen) == 1.0
    value = 128 / 255
    assert field_y(128, screen) == pytest.approx(((value + 0.055) / 1.055) ** 2.4, abs=1e-4)  # IEC 61966-2-1
    other = open_profile(space_bytes("opRGB"))
    assert field_y(128, other) == pytest.approx(value ** (563 / 256), abs=1e-3)  # IEC 61966-2-5


def test_the_offset_is_minus_the_logarithm_of_paper_to_screen() -> None:
    assert offset_of(0.5 / 0.9, 0.9) == pytest.approx(1.0)  # a field of half of full white: the screen is a stop above
    assert offset_of(0.5 / 0.9, 0.45) == pytest.approx(2.0)  # a darker paper in the same light


def test_what_was_matched_says_no_figure_of_light() -> None:
    above, below, alike = (advise_beside(b, 0.9) for b in (0.4, 2.0, 1.1))
    assert above.offset == offset_of(0.4, 0.9) and above.rest == above.set_screen_to == above.paper == 0.0
    assert (
        "darker than the screen. Make the screen darker" in above.words and "brighter than the lit paper" in above.words
    )
    assert (
        "lighter than the screen. Make the screen brighter" in below.words
        and "darker than the lit paper" in below.words
    )
    assert alike.words == "Screen and lit paper agree, matched by eye."
    assert not any("cd/m" in a.words or "lx" in a.words for a in (above, below, alike))


def test_the_verdict_of_what_was_matched_names_the_screen_and_no_light() -> None:
    said = light_sentence(advise_beside(0.4, 0.9), "", 0.0, 120.0)
    assert said.startswith("In its light it will look ") and said.endswith("; make the screen darker by as much first.")
    assert light_sentence(advise_beside(2.0, 0.9), "").endswith("; make the screen brighter by as much first.")
    assert light_sentence(advise_beside(1.1, 0.9), "") == ""
