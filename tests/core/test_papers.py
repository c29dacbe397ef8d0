"""Facts of papers: published gamut volumes, a press profile against its own measured patches."""

import subprocess

import numpy as np
import pytest
from scipy.optimize import minimize
from tests.conftest import PRESS, table

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.errors import ProfileError
from rehearsal.core.icc import Profile, open_profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.facts import compensation_blacks, measure
from rehearsal.core.papers.health import health_warnings
from rehearsal.core.papers.model import PaperModel, check_destination, paper_model
from rehearsal.core.papers.solid import build_solid
from rehearsal.devices import cgats
from rehearsal.tasks.inspecting import profile_facts


@pytest.mark.parametrize(("name", "row"), [("sRGB", 0), ("opRGB", 1), ("ROMM", 2)])
def test_published_gamut_volumes(name: str, row: int) -> None:
    # table of working-space volumes, from memory, checked there by two other methods
    published = float(table("gamut_volumes.csv")[row]["volume_cubic_lab_d50"])
    assert paper_model(working_space(name)).solid.volume == pytest.approx(published, rel=0.001)


def test_press_volumes_are_of_the_usual_size(press: Profile, press_with_readings: Profile) -> None:
    # common practice, no source: press on coated paper about 400,000 to 450,000 cubic Lab
    assert 380_000 < paper_model(press).solid.volume < 460_000
    assert 380_000 < paper_model(press_with_readings).solid.volume < 460_000


def test_press_profile_predicts_its_own_patches(press_with_readings: Profile) -> None:
    # the profile carries the readings it was made from (2,376 patches)
    tables = cgats.parse(press_with_readings.target_text)
    readings = next(t for t in tables if t.has("CMYK_C", "LAB_L") or t.has("CMYK_C", "XYZ_X"))
    device = readings.columns(["CMYK_C", "CMYK_M", "CMYK_Y", "CMYK_K"]) / 100
    if readings.has("LAB_L"):
        measured = readings.columns(["LAB_L", "LAB_A", "LAB_B"])
    else:
        from rehearsal.core.colour.lab import xyz_to_lab

        measured = xyz_to_lab(readings.columns(["XYZ_X", "XYZ_Y", "XYZ_Z"]) / 100)
    assert len(device) > 1000
    predicted = paper_model(press_with_readings).to_absolute.apply(device)
    gap = delta_e_2000(measured, predicted)
    assert np.mean(gap) < 1.0 and np.percentile(gap, 95) < 2.5


def test_white_and_black(dune: Profile, gloss: Profile) -> None:
    matte, shiny = measure(dune), measure(gloss)
    # usual whites and blacks (common practice, no source): matte L* 95-98 and 14-19, gloss 95-97 and 3-7
    assert 95 < matte.media_white[0] < 98 and 14 < matte.black[0] < 19
    assert 95 < shiny.media_white[0] < 98 and 3 < shiny.black[0] < 7
    assert shiny.media_white[2] < -3
    assert matte.contrast == pytest.approx(10**matte.dmax * _y(matte.media_white[0]), rel=1e-6)


def _y(lightness: float) -> float:
    return ((lightness + 16) / 116) ** 3


def test_nearest_colour_against_a_general_minimiser(dune: Profile, press: Profile, rng: np.random.Generator) -> None:
    # scipy's bounded minimiser from several starts is the outside road; far beyond the paper CIEDE2000 has
    # false valleys between opposite hues, so the comparison ends at ΔE₀₀ 8
    for profile, colours in ((dune, 8), (press, 3)):
        model = paper_model(profile)
        want = rng.uniform([8, -60, -60], [96, 60, 60], (colours, 3))
        _device, best, _ = model.nearest(want)
        ours = delta_e_2000(want, best)
        for i in range(len(want)):
            theirs = min(_minimised(model, want[i], start) for start in (0.15, 0.5, 0.85))
            assert ours[i] <= theirs + 0.25


def _minimised(model: PaperModel, want: np.ndarray, start: float) -> float:
    def cost(device: np.ndarray) -> float:
        over = max(0.0, float(device.sum()) - model.ink_limit)
        return float(delta_e_2000(want, model.to_lab.apply(device[None])[0])) + 50 * over

    found = minimize(
        cost, np.full(model.channels, start), bounds=[(0, 1)] * model.channels, method="L-BFGS-B", options={"eps": 1e-4}
    )
    return float(found.fun)


def test_colours_of_the_solid_are_printable(gloss: Profile) -> None:
    model = paper_model(gloss)
    inside = model.solid.nodes(depth=3.0)[::400]
    _device, best, _ = model.nearest(inside)
    assert np.percentile(delta_e_2000(inside, best), 99) < 0.4
    assert model.solid.contains(inside).all()
    assert not model.solid.contains(np.array([[50.0, 130.0, 0.0], [2.0, 0.0, 0.0]])).any()


def test_ink_limit_is_kept(press: Profile, rng: np.random.Generator) -> None:
    model = paper_model(press)
    assert 2.5 < model.ink_limit < 3.4
    device, _lab, _ = model.nearest(rng.uniform([0, -40, -40], [30, 40, 40], (300, 3)))
    assert device.sum(axis=1).max() <= model.ink_limit + 1e-6


def test_compensation_blacks_come_from_the_engine(press: Profile, baryta: Profile) -> None:
    assert 14 < compensation_blacks(press)["relative"][0] < 18
    # ICC.1:2022: the perceptual black of a version 4 profile is fixed at L* 3.137
    assert compensation_blacks(baryta)["perceptual"][0] == pytest.approx(3.137, abs=0.01)


def test_health_names_the_odd(press: Profile, dune: Profile) -> None:
    assert any("same table" in w for w in health_warnings(press, measure(press)))
    assert health_warnings(dune, measure(dune)) == []


def test_white_and_black_against_the_engines_own_program(press: Profile) -> None:
    # transicc of liblcms2-utils, absolute colorimetric from the press to Lab: bare paper, and the printed black
    facts = measure(press)
    device = paper_model(press).black_device * 100
    for ink, ours in (([0, 0, 0, 0], facts.media_white), (device, facts.black)):
        command = ["transicc", "-n", f"-i{PRESS}", "-o*Lab", "-t3", "-c0", "-d1"]
        text = " ".join(f"{v:.6f}" for v in ink)
        out = subprocess.run(command, input=text, capture_output=True, text=True, check=True).stdout
        np.testing.assert_allclose([float(v) for v in out.split()], ours, atol=0.01)


def test_what_cannot_be_a_paper() -> None:
    gray = working_space("gray")
    with pytest.raises(ProfileError, match="Gray profile"):
        check_destination(gray)
    facts = profile_facts(gray)
    assert facts["media_white"] is None and "nothing can be measured" in facts["warnings"][0]
    crayons = open_profile("/usr/share/color/icc/colord/Crayons.icc")
    with pytest.raises(ProfileError, match="not a paper"):
        check_destination(crayons)


@pytest.mark.parametrize("channels", [3, 4])
def test_a_table_of_random_numbers_is_work_with_an_end(channels: int, rng: np.random.Generator) -> None:
    # every cell spans the whole of Lab: at step 1 this would take hours
    n = {3: 21, 4: 11}[channels]
    table = rng.uniform([0, -128, -128], [100, 128, 128], (n**channels, 3))
    solid = build_solid(table, channels, 3.0)
    assert solid.step >= 4 and 1e6 < solid.volume < 7e6


def test_real_tables_are_cut_at_one_lab(dune: Profile, press: Profile) -> None:
    assert paper_model(dune).solid.step == 1 and paper_model(press).solid.step == 1
