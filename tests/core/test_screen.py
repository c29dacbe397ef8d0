"""The screen: published whites and temperatures, the standards' values, the brightness arithmetic, checks of a display."""

import math
from datetime import date, timedelta

import colour
import numpy as np
import pytest
from tests.conftest import demo_profile

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc.standard import working_space
from rehearsal.core.screen.brightness import (
    USUAL_LIGHT,
    advise_brightness,
    doubt,
    light_sentence,
    lighten_words,
    lux_for_screen,
    paper_luminance,
    screen_offset,
    trust,
)
from rehearsal.core.screen.check import check_patches, check_screen, patch_name, relative_lab
from rehearsal.core.screen.realsize import CARD_MM, pixels_of, ppi_from_length
from rehearsal.core.screen.standards import VIEWING_VALUES
from rehearsal.core.screen.whites import AIMS, chromaticity, colour_temperature, uv_prime, white_distance
from rehearsal.core.values.words import stops_words, word
from rehearsal.demo.screens import SCREENS, simulated_display
from rehearsal.devices.simulated.display import SimulatedColorimeter


@pytest.mark.parametrize(("name", "kelvin"), [("D50", 5000), ("D55", 5500), ("D65", 6500)])
def test_temperatures_of_the_daylights(name: str, kelvin: int) -> None:
    # CIE 15: the daylight illuminants are named for their (rounded, old-scale) correlated temperatures
    assert colour_temperature(np.array(AIMS[name])) == pytest.approx(kelvin, abs=12)


def test_whites_against_a_reference_library() -> None:
    # colour-science: CIE 1976 u′v′ and McCamy 1992
    rng = np.random.default_rng(2)
    xy = rng.uniform([0.28, 0.29], [0.40, 0.40], (50, 2))
    np.testing.assert_allclose(uv_prime(xy), colour.xy_to_Luv_uv(xy), atol=1e-12)
    mine = [colour_temperature(v) for v in xy]
    np.testing.assert_allclose(mine, colour.temperature.xy_to_CCT_McCamy1992(xy), rtol=1e-9)
    assert white_distance(np.array(AIMS["D65"]), "D65") == 0
    published = colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]
    for name, white in AIMS.items():
        np.testing.assert_allclose(white, published[name], atol=1.5e-4)
    assert chromaticity(np.zeros(3)) == pytest.approx([1 / 3, 1 / 3])


def test_standards_values_are_those_of_the_standards() -> None:
    # ISO 3664:2009 and ISO 12646, from memory
    table = {(v.standard, v.what): v.value for v in VIEWING_VALUES}
    text = " ".join(table.values())
    assert "2000 lx" in text and "500 lx" in text and "Ra 90" in text and "64 lx" in text and "80 cd/m²" in text
    booth = dict(USUAL_LIGHT)
    assert booth["booth"] == 500 and booth["booth-critical"] == 2000
    assert (
        word("light", "booth") == "viewing booth, ISO 3664 P2" and word("light", "under the moon") == "under the moon"
    )


def test_brightness_both_ways() -> None:
    # Lambert: a perfect diffuser under π lux has 1 cd/m²
    assert paper_luminance(math.pi, 1.0) == pytest.approx(1.0)
    assert screen_offset(200, 100) == 1.0
    dark = advise_brightness(lux=300, white_y=0.9, screen_white=300)
    assert dark.offset == pytest.approx(math.log2(300 / (300 * 0.9 / math.pi))) and "darker" in dark.words
    light = advise_brightness(lux=2000, white_y=0.9, screen_white=80)
    assert light.offset < -2 and "lighter" in light.words and light.rest < 0
    lux = lux_for_screen(120, 0.9)
    assert advise_brightness(lux, 0.9, 120).offset == pytest.approx(0, abs=1e-9)


def test_the_verdicts_light_sentence() -> None:
    advice = advise_brightness(lux=150, white_y=0.9, screen_white=120)
    assert f"{stops_words(advice.offset)} darker" in light_sentence(advice, "hall")
    # a take that already carries the lightness is right
    assert light_sentence(advice, "hall", tuned_stops=advice.offset) == ""
    assert "lighter" in light_sentence(advice, "hall", tuned_stops=advice.offset + 1)
    # the remedy comes first: the screen, as long as it is not where it should be
    assert light_sentence(advice, "hall", 0.0, 120).endswith("; set the screen to 60 cd/m² first.")
    assert "set the screen" not in light_sentence(advice, "hall", 0.0, 62)


def test_age_in_days_and_in_hours() -> None:
    today = date(2026, 5, 30)
    ago = (today - timedelta(days=20)).isoformat()
    assert trust(ago, 21, today).state == "soon" and trust(ago, 14, today).state == "old"
    assert trust(ago, 30, today).state == "fresh"
    # 200 hours of use (common practice, no source): twenty days of eight hours are not yet there, of twelve they are
    assert trust(ago, 200, today, hours=160).state == "fresh"
    assert trust(ago, 200, today, hours=240).state == "old"
    assert (
        trust(ago, 200, today, hours=190).state == "soon"
        and "190 hours of light" in trust(ago, 200, today, hours=190).words
    )
    assert "not told" in trust(ago, 200, today, hours=0).words, "days are never turned into hours"
    assert trust(today.isoformat(), 200, today, hours=0).state == "fresh"
    assert trust("", 21, today).state == "unknown"
    assert doubt("unknown", 0.4) == "" and "unverified" in doubt("unknown", None), (
        "a good check counts more than a date"
    )
    assert doubt("fresh", None) == "" and "ΔE₀₀ 2.4" in doubt("fresh", 2.4) and doubt("old", None)


def test_card_and_ruler() -> None:
    # ISO/IEC 7810 ID-1 is 85.60 × 53.98 mm, from memory
    assert CARD_MM == (85.60, 53.98)
    assert ppi_from_length(pixels_of(100, 109.0), 100) == pytest.approx(109.0)
    # a bar drawn for 96 ppi that measures 88 mm instead of 100 stands on a finer screen
    assert ppi_from_length(pixels_of(100, 96.0), 88) == pytest.approx(96 * 100 / 88)
    for wrong in ((300, 0), (300, 4000), (10, 0.1)):
        with pytest.raises(RehearsalError):
            ppi_from_length(*wrong)


def _read(file: str, hours: float, seed: int = 1) -> tuple[np.ndarray, np.ndarray]:
    instrument = SimulatedColorimeter(simulated_display(file), hours, seed)
    patches = check_patches()
    return patches, np.array([instrument.read(rgb) for rgb in patches])


@pytest.mark.parametrize("file", list(SCREENS))
def test_a_fresh_display_agrees_with_its_profile(file: str) -> None:
    found = check_screen(*_read(file, 0), demo_profile(file), 90, "D50")
    assert found.state == "good" and found.mean < 0.5 and found.luminance == pytest.approx(90, rel=0.01)
    assert found.contrast == pytest.approx(1000, rel=0.1) and found.temperature == pytest.approx(5000, abs=60)


def test_drift_is_seen_and_said() -> None:
    profile = demo_profile("desk-screen-wide.icc")
    checks = [check_screen(*_read("desk-screen-wide.icc", h), profile, 90, "D50") for h in (0, 400, 1500)]
    light = [c.luminance for c in checks]
    assert light[0] > light[1] > light[2] and checks[2].temperature < checks[0].temperature - 100
    assert checks[2].mean > checks[0].mean
    assert checks[0].state == "good" and checks[2].state != "good"
    assert "darker than the 90 cd/m²" in checks[2].words


def test_a_few_readings_do_not_vouch_for_a_profile() -> None:
    rgb, xyz = _read("desk-screen-wide.icc", 0)
    profile = demo_profile("desk-screen-wide.icc")
    grey = np.ptp(rgb, axis=1) < 1e-9
    greys, colours = np.flatnonzero(grey), np.flatnonzero(~grey)
    for g, c, good in ((3, 6, True), (2, 6, False), (3, 5, False), (3, 0, False)):
        some = np.concatenate([greys[:g], colours[:c]])
        found = check_screen(rgb[some], xyz[some], profile, 90, "D50")
        assert (found.state == "good") == good and ("tells the truth" in found.words) == good
        assert f"{g} greys and {c} colours read" in found.words
    twice = np.concatenate([greys[:2], greys[:2], colours[:6]])  # the same patch again is no other one
    assert "2 greys" in check_screen(rgb[twice], xyz[twice], profile, 90, "D50").words


def test_the_wrong_profile_is_found_out() -> None:
    # a wide-gamut display with the profile of a standard one
    found = check_screen(*_read("desk-screen-wide.icc", 0), demo_profile("desk-screen-standard.icc"), 90, "D50")
    assert found.state == "calibrate" and found.worst > 4
    name = patch_name(found.rgb[int(found.delta.argmax())])
    assert name in found.words
    wrong_white = check_screen(*_read("desk-screen-wide.icc", 0), demo_profile("desk-screen-wide.icc"), 90, "D65")
    assert wrong_white.state == "usable" and "D65" in wrong_white.words


def test_readings_relative_to_their_white() -> None:
    # Bradford adaptation of the screen's white to D50, against colour-science
    white, xyz = np.array([95.0, 100.0, 109.0]) * 0.9, np.array([[30.0, 25.0, 60.0]])
    adapted = colour.adaptation.chromatic_adaptation_VonKries(
        xyz / white[1], white / white[1], np.array([0.9642, 1.0, 0.8249]), transform="Bradford"
    )
    wanted = colour.XYZ_to_Lab(adapted, colour.XYZ_to_xy(np.array([0.9642, 1.0, 0.8249])))
    np.testing.assert_allclose(relative_lab(xyz, white), wanted, atol=0.02)


def test_readings_without_white_are_refused() -> None:
    with pytest.raises(RehearsalError, match="white"):
        check_screen(np.zeros((1, 3)), np.zeros((1, 3)), working_space("sRGB"), 90, "D50")
    with pytest.raises(RehearsalError, match="white"):
        check_screen(np.ones((1, 3)), np.zeros((1, 3)), working_space("sRGB"), 90, "D50")


def test_patches_have_names() -> None:
    names = [patch_name(rgb) for rgb in check_patches()]
    assert names[:2] == ["white", "black"] and {"red", "green", "blue", "cyan", "magenta", "yellow"} <= set(names)


@pytest.mark.parametrize(("lux", "one_press"), [(150.0, True), (119.0, True), (117.0, False), (60.0, False)])
def test_more_than_a_stop_of_lift_is_never_one_press(lux: float, one_press: bool) -> None:
    # at 118 lux a white of 0.8 shines with 30 cd/m²: a stop under the 60 a screen goes down to (Lambert's law)
    advice = advise_brightness(lux, 0.8, 100.0)
    assert (lighten_words(advice) != "") == one_press and ("washed out" in advice.words) != one_press
    bright = advise_brightness(3000.0, 0.8, 100.0)  # the other way nothing is washed out
    assert bright.rest < -1 and lighten_words(bright).startswith("Darken") and "washed out" not in bright.words
