"""Simulated printer and instrument, measurement files, profile building on simulated and on real readings."""

from pathlib import Path

import colour
import numpy as np
import pytest
from tests.conftest import demo_profile

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.colour.lab import xyz_to_lab
from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile, Step, Transform, lab_profile
from rehearsal.core.making import builder
from rehearsal.core.making.builder import build, fit
from rehearsal.core.papers.facts import measure, neutral_ramp
from rehearsal.core.papers.model import paper_model
from rehearsal.demo.stocks import PROFILES, make_profile, printer_of
from rehearsal.devices import cgats
from rehearsal.devices.simulated.instrument import chart_patches, measure_chart
from rehearsal.devices.simulated.printer import SimulatedPrinter
from rehearsal.devices.spectra import D50_POWER, WAVELENGTHS, X_BAR, Y_BAR, Z_BAR, to_xyz

READINGS = Path("/usr/share/color/icc")


def test_cie_tables_against_colour_science() -> None:
    shape = colour.SpectralShape(380, 730, 10)
    observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(shape).values
    np.testing.assert_allclose(np.stack([X_BAR, Y_BAR, Z_BAR], axis=1), observer, atol=1e-6)
    np.testing.assert_allclose(D50_POWER, colour.SDS_ILLUMINANTS["D50"].copy().align(shape).values, atol=0.01)


def test_tristimulus_values_against_colour_science() -> None:
    wavelengths = WAVELENGTHS.astype(float)
    green = 0.1 + 0.6 * np.exp(-0.5 * ((wavelengths - 540) / 40) ** 2)
    distribution = colour.SpectralDistribution(green, WAVELENGTHS)
    shape = colour.SpectralShape(380, 730, 10)
    observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(shape)
    light = colour.SDS_ILLUMINANTS["D50"].copy().align(shape)
    theirs = colour.sd_to_XYZ(distribution, observer, light, method="Integration") / 100
    np.testing.assert_allclose(to_xyz(green), theirs, atol=0.004)
    np.testing.assert_allclose(to_xyz(np.ones(36)), [0.9642, 1.0, 0.8249], atol=1e-9)


@pytest.mark.parametrize("entry", PROFILES, ids=lambda e: e.file)
def test_demo_papers_have_usual_contrasts(entry) -> None:  # type: ignore[no-untyped-def]
    # common practice, no source: 25:1 to 200:1
    printer = printer_of(entry)
    white, black = printer.xyz(np.array([[1.0, 1, 1], [0, 0, 0]]))
    assert 25 < white[1] / black[1] < 200
    ramp = printer.xyz(np.repeat(np.linspace(0, 1, 64)[:, None], 3, axis=1))
    assert (np.diff(ramp[:, 1]) > 0).all()


def test_machines_differ_a_little_and_repeat_themselves() -> None:
    stock = PROFILES[2].stock
    patches = chart_patches(4, 5)
    average, one, again = SimulatedPrinter(stock), SimulatedPrinter(stock, 7), SimulatedPrinter(stock, 7)
    np.testing.assert_array_equal(one.xyz(patches), again.xyz(patches))
    gap = delta_e_2000(xyz_to_lab(average.xyz(patches)), xyz_to_lab(one.xyz(patches)))
    assert 0.3 < gap.mean() < 4


@pytest.mark.parametrize("entry", PROFILES, ids=lambda e: e.file)
def test_shipped_profile_against_the_printer(entry, rng: np.random.Generator) -> None:  # type: ignore[no-untyped-def]
    model, printer = paper_model(demo_profile(entry.file)), printer_of(entry)
    device = rng.random((3000, 3))
    gap = delta_e_2000(xyz_to_lab(printer.xyz(device)), model.to_absolute.apply(device))
    assert gap.mean() <= 0.6 and np.percentile(gap, 95) <= 1.5
    asked = model.to_lab.apply(device)
    back = model.to_lab.apply(np.clip(model.from_lab.apply(asked), 0, 1))
    there_and_back = delta_e_2000(asked, back)
    assert np.median(there_and_back) <= 0.6 and np.percentile(there_and_back, 95) <= 1.8
    assert np.abs(model.from_lab.apply(np.array([[100.0, 0, 0]])) - 1).max() < 0.001
    lightness, ramp = neutral_ramp(model)
    assert (np.diff(ramp[:, 0]) > 0).all()
    assert np.hypot(ramp[:, 1], ramp[:, 2]).max() <= 2
    assert len(lightness) > 60


@pytest.mark.parametrize("entry", PROFILES[:4], ids=lambda e: e.file)
def test_perceptual_table_is_smooth_and_keeps_shading(entry) -> None:  # type: ignore[no-untyped-def]
    profile = demo_profile(entry.file)
    model = paper_model(profile)
    to_device = Transform([Step(lab_profile()), Step(profile, "perceptual")])
    # from grey to far outside the paper along eight hues: chroma keeps rising, in small steps
    chroma = np.linspace(0, 95, 96)
    for hue in np.radians(np.arange(0, 360, 45) + 20):
        line = np.stack([np.full(96, 55.0), chroma * np.cos(hue), chroma * np.sin(hue)], axis=1)
        printed = model.to_lab.apply(np.clip(to_device.apply(line), 0, 1))
        got = np.hypot(printed[:, 1], printed[:, 2])
        assert got[60] > got[40] - 0.5 > got[20] - 1.0
        assert np.abs(np.diff(printed, axis=0)).max() < 4.5
    ramp = np.zeros((101, 3))
    ramp[:, 0] = np.arange(101)
    printed = model.to_lab.apply(np.clip(to_device.apply(ramp), 0, 1))
    assert (np.diff(printed[:, 0]) > 0).all()


def test_making_a_demo_profile_again_gives_the_shipped_one(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(builder, "_BACK_NODES", 9)  # the way back is not what is compared
    entry = PROFILES[0]
    again, shipped = Profile(make_profile(entry)), demo_profile(entry.file)
    values = np.random.default_rng(4).random((500, 3))
    gap = delta_e_2000(paper_model(again).to_lab.apply(values), paper_model(shipped).to_lab.apply(values))
    assert gap.max() < 0.05
    assert shipped.target_text.startswith("CGATS.17")


def _press_as_rgb(name: str) -> tuple[np.ndarray, np.ndarray]:
    """Patches without black ink of a real press, as an RGB printer: RGB = 1 - CMY."""
    found = cgats.read(READINGS / name)[0]
    device = found.columns(["CMYK_C", "CMYK_M", "CMYK_Y", "CMYK_K"]) / 100
    xyz = found.columns(["XYZ_X", "XYZ_Y", "XYZ_Z"]) / 100
    plain = device[:, 3] < 1e-6
    return 1 - device[plain, :3], xyz[plain]


@pytest.mark.parametrize("name", ["FOGRA39L.ti3", "FOGRA28L.ti3", "TR003.ti3"])
def test_forward_model_on_real_readings(name: str) -> None:
    # characterisation data of icc-profiles-free; every eighth patch is held out
    rgb, xyz = _press_as_rgb(name)
    held = np.zeros(len(rgb), dtype=bool)
    held[3::8] = True
    held[np.all(rgb > 0.999, axis=1)] = False
    model = fit(rgb[~held], xyz[~held])
    measured = xyz_to_lab(xyz[held] / model.white * [0.9642, 1.0, 0.8249])
    gap = delta_e_2000(measured, model.lab(rgb[held]))
    assert held.sum() > 40
    assert gap.mean() <= 0.5


def test_profile_from_real_readings(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(builder, "_BACK_NODES", 17)  # the way back is not what is looked at
    rgb, xyz = _press_as_rgb("FOGRA39L.ti3")
    profile = Profile(build(rgb, xyz, "a real press without black"))
    model = paper_model(profile)
    gap = delta_e_2000(xyz_to_lab(xyz), model.to_absolute.apply(rgb))
    assert gap.mean() < 0.6
    assert measure(profile).noise_median < 0.3


def test_reading_a_chart_and_its_file() -> None:
    text = measure_chart(SimulatedPrinter(PROFILES[0].stock), "chart", seed=3, patches=chart_patches(5, 9))
    readings = cgats.parse(text.replace("\n", "\r\n"))[0]
    assert len(readings.rows) == 125 + 9 + 138 + 6
    lab, xyz = readings.columns(["LAB_L", "LAB_A", "LAB_B"]), readings.columns(["XYZ_X", "XYZ_Y", "XYZ_Z"])
    np.testing.assert_allclose(xyz_to_lab(xyz / 100), lab, atol=0.02)


def test_comments_of_measurement_files_are_left_out_and_what_is_quoted_is_not() -> None:
    # CGATS.17, 4.2: a comment begins with # and ends with its line; within quotation marks it is a sign like any other
    text = '# made by hand\nCTI3\nDESCRIPTOR "paper #3 # of the hall" # not this\n#KEYWORD "no"\nBEGIN_DATA_FORMAT # what follows\n'
    text += 'SAMPLE_ID XYZ_X # in per cent\nXYZ_Y\nEND_DATA_FORMAT\nBEGIN_DATA\n"#1" 2 3 # the first\n# "9" 9 9\nA#2 5 6#7\n'
    text = text.replace("6#7", "6") + "END_DATA # done\n"
    (found,) = cgats.parse(text)
    assert found.keywords == {"CTI3": "", "DESCRIPTOR": "paper #3 # of the hall"}
    assert found.rows == (("#1", "2", "3"), ("A#2", "5", "6"))
    np.testing.assert_array_equal(found.columns(["XYZ_X", "XYZ_Y"]), [[2, 3], [5, 6]])


def test_measurement_files_are_read_forgivingly() -> None:
    odd = 'CTI3\n\nDESCRIPTOR "a  b"\nBEGIN_DATA_FORMAT\nXYZ_X XYZ_Y\tXYZ_Z\n\nRGB_R RGB_G RGB_B\nEND_DATA_FORMAT\n'
    odd += "BEGIN_DATA\n1 2 3 4 5 6\n\n7 8 9\n10 11 12\nEND_DATA\n"
    found = cgats.parse(odd)[0]
    np.testing.assert_array_equal(found.columns(["RGB_R", "XYZ_Z"]), [[4, 3], [10, 9]])
    with pytest.raises(RehearsalError, match="no column"):
        found.columns(["LAB_L"])
    with pytest.raises(RehearsalError, match="no table"):
        cgats.parse("hello")
    with pytest.raises(RehearsalError, match="incomplete"):
        cgats.parse("BEGIN_DATA_FORMAT\nA B\nEND_DATA_FORMAT\nBEGIN_DATA\n1 2 3\nEND_DATA\n")


def test_every_installed_measurement_file_is_read() -> None:
    files = sorted(READINGS.glob("*.ti3"))
    assert len(files) >= 8
    for path in files:
        assert len(cgats.read(path)[0].rows) > 100
