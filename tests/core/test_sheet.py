"""Sizes, crops, brightness, tuning, the print file and the ticket."""

import subprocess
import sys
from dataclasses import replace
from datetime import date
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from reportlab.lib import pagesizes
from tests.conftest import table

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.errors import PictureError, RehearsalError
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.chain import PrintChain, Rendering
from rehearsal.core.screen.brightness import advise_brightness, paper_luminance, screen_offset, trust
from rehearsal.core.sheet.export import ExportPlan, make_pixels, plan_pixels, resize_linear, suggest_name, write_picture
from rehearsal.core.sheet.layout import (
    COMMON_SIZES,
    SHEETS,
    Crop,
    PrintSize,
    crop_to,
    effective_ppi,
    fit_size,
    fits_sheet,
    parse_size,
    sheet_size,
)  # fmt: skip
from rehearsal.core.sheet.testsheet import compose, variants
from rehearsal.core.tuning.apply import TuningMap, tone_curve
from rehearsal.core.tuning.values import RANGES, Tuning
from rehearsal.tasks.ticketing import TicketRequest, make_ticket, ticket_html, write_ticket_pdf
from rehearsal.workbook.values import PrintCondition, Take


def test_pixels_of_common_papers() -> None:
    for row in table("paper_sizes.csv"):
        size = PrintSize(float(row["width_mm"]) / 10, float(row["height_mm"]) / 10)
        for ppi in (240, 300, 360):
            wanted = tuple(int(v) for v in row[f"px{ppi}"].split("x"))
            assert np.abs(np.subtract(size.pixels(ppi), wanted)).max() <= 1, row["name"]


def test_sheets_against_reportlab() -> None:
    for name in ("A5", "A4", "A3", "A2", "A1"):
        points = getattr(pagesizes, name)
        np.testing.assert_allclose(np.array(SHEETS[name]) / 2.54 * 72, points, atol=0.2)
    for option in COMMON_SIZES:
        if option.name in SHEETS:
            assert (option.height_cm, option.width_cm) == SHEETS[option.name]


def test_trade_facts_about_size() -> None:
    # common practice, no source
    assert PrintSize(25.4, 20.32).pixels(300)[0] == 3000
    assert round(25.4 / 20.32, 2) == 1.25
    width, height = sheet_size("A2", PrintSize(32.0, 49.4))
    assert (width - 10, height - 10) == pytest.approx((32.0, 49.4))
    assert effective_ppi(3000, 25.4) == pytest.approx(300)


@pytest.mark.parametrize(
    ("text", "size"), [("30x20cm", (30, 20)), ("12 x 8 in", (30.48, 20.32)), ("297×210mm", (29.7, 21.0))]
)
def test_sizes_are_read(text: str, size: tuple[float, float]) -> None:
    found = parse_size(text)
    assert (found.width_cm, found.height_cm) == pytest.approx(size)


@pytest.mark.parametrize("text", ["", "30", "0x20cm", "axbcm", "30x20", "99999x2cm"])
def test_sizes_that_are_none(text: str) -> None:
    with pytest.raises(RehearsalError, match="30x20cm"):
        parse_size(text)


@given(st.floats(0.2, 5), st.integers(10, 9000), st.integers(10, 9000))
def test_crops_keep_the_proportion_and_stay_inside(proportion: float, width: int, height: int) -> None:
    crop = crop_to(proportion, width, height)
    assert crop.x >= -1e-9 and crop.y >= -1e-9 and crop.x + crop.width <= 1 + 1e-9 and crop.y + crop.height <= 1 + 1e-9
    assert crop.width * width / (crop.height * height) == pytest.approx(proportion)
    assert crop.width > 1 - 1e-9 or crop.height > 1 - 1e-9


def test_margins_of_a_sheet() -> None:
    assert fits_sheet(PrintSize(39, 26), "A3+", (30, 5, 30, 5), False) == ""
    assert "unprintable" in fits_sheet(PrintSize(45, 30), "A3+", (30, 5, 30, 5), False)
    assert "larger" in fits_sheet(PrintSize(60, 40), "A3+", (3, 3, 3, 3), True)
    assert fit_size(PrintSize(40, 30), 300, 200).in_words == "40 × 26.67 cm"


def test_brightness_arithmetic() -> None:
    # Lambert: 500 lux on paper of reflectance 0.88 gives 140 cd/m²; one stop is a factor of two
    assert paper_luminance(500, 0.88) == pytest.approx(140.06, abs=0.01)
    assert screen_offset(280, 140) == pytest.approx(1.0)
    dim = advise_brightness(300, 0.88, 240)
    assert dim.offset == pytest.approx(1.515, abs=0.01) and dim.set_screen_to == pytest.approx(84.0, abs=0.1)
    assert dim.rest == pytest.approx(0.0) and "darker" in dim.words
    evening = advise_brightness(100, 0.88, 240)
    assert evening.set_screen_to == 60 and evening.rest == pytest.approx(1.1, abs=0.01)
    assert "agree" in advise_brightness(500, 0.88, 138).words
    assert "lighter" in advise_brightness(1000, 0.88, 90).words


def test_trust_in_the_screen() -> None:
    # common practice, no source: 14 to 30 days
    today = date(2026, 3, 30)
    assert trust("", 21, today).state == "unknown"
    assert trust("2026-03-21", 21, today).words == "calibrated 9 days ago"
    assert trust("2026-03-01", 21, today).state == "old"


NAMES = list(RANGES)


@given(st.sampled_from(NAMES), st.floats(-1, 1))
def test_tuning_maps_the_space_into_itself(name: str, part: float) -> None:
    space = master_space(working_space("ROMM"))
    low, high = RANGES[name]
    tuning = Tuning().with_value(name, part * (high if part > 0 else -low))
    axis = np.linspace(0, 1, 5)
    cube = np.stack(np.meshgrid(axis, axis, axis, indexing="ij"), axis=-1).reshape(-1, 3)
    tuned = TuningMap(tuning, space).linear(cube)
    assert tuned.min() >= 0 and tuned.max() <= 1 and np.isfinite(tuned).all()
    np.testing.assert_allclose(tuned[0], 0, atol=1e-6)


@given(st.floats(-12, 12), st.floats(-50, 50), st.floats(-50, 50), st.floats(-50, 50))
def test_tone_always_rises(lightness: float, contrast: float, dark: float, light: float) -> None:
    curve = tone_curve(Tuning(lightness, contrast, dark, light))
    assert (np.diff(curve) >= 0).all() and curve[0] == 0 and curve[-1] == pytest.approx(100)


def test_a_stop_is_a_stop() -> None:
    # six sixths double the light of middle grey, 18 %; white stays
    space = master_space(working_space("sRGB"))
    grey, white = np.full((1, 3), 0.18), np.ones((1, 3))
    mapping = TuningMap(Tuning(lightness=6), space)
    np.testing.assert_allclose(mapping.linear(grey), 0.36, atol=0.002)
    np.testing.assert_allclose(mapping.linear(white), 1.0, atol=1e-6)


def test_tone_leaves_hue_alone_and_strength_leaves_lightness() -> None:
    space = master_space(working_space("sRGB"))
    colour = np.array([[0.10, 0.22, 0.16]])
    lighter = TuningMap(Tuning(lightness=3), space).linear(colour)[0]
    np.testing.assert_allclose(lighter / lighter[1], colour[0] / colour[0][1], atol=1e-6)
    warm = TuningMap(Tuning(warmth=10), space).linear(np.full((1, 3), 0.3))[0]
    assert warm[0] > 0.3 > warm[2]
    stronger = TuningMap(Tuning(strength=20), space).linear(colour)[0]
    assert np.ptp(stronger) > np.ptp(colour) * 1.1


def test_exact_pixels_and_table_values_agree() -> None:
    space = master_space(working_space("ROMM"))
    mapping = TuningMap(Tuning(lightness=2, contrast=12, strength=10, warmth=-8), space)
    pixels = np.random.default_rng(2).integers(0, 65536, (30, 30, 3)).astype(np.uint16)
    values = mapping.values(pixels.reshape(-1, 3) / 65535.0) * 65535
    assert np.abs(values.reshape(pixels.shape) - mapping.pixels(pixels)).max() <= 1
    assert Tuning.from_json(Tuning(strength=4).to_json()) == Tuning(strength=4)


def test_print_file_pixels_against_the_exact_chain(small_cloths: Path, dune: Profile) -> None:
    picture = read_picture(small_cloths)
    plan = ExportPlan(dune, Rendering("perceptual"))
    made = make_pixels(picture, plan)
    exact = PrintChain(picture.profile, dune, plan.rendering).device(picture.pixels.reshape(-1, 3) / 65535.0)
    assert np.abs(made.reshape(-1, 3) / 65535.0 - exact).max() < 0.004


def test_crop_inside_and_resolution(small_cloths: Path, dune: Profile, tmp_path: Path) -> None:
    picture = read_picture(small_cloths)
    square = ExportPlan(dune, Rendering(), PrintSize(10, 10), "crop", 254)
    assert plan_pixels(square, 450, 300) == ((75, 0, 300, 300), (1000, 1000))
    inside = ExportPlan(dune, Rendering(), PrintSize(10, 10), "inside", 254)
    assert plan_pixels(inside, 450, 300) == ((0, 0, 450, 300), (1000, 667))
    write_picture(make_pixels(picture, square), dune, 254, tmp_path / "out.tif")
    with Image.open(tmp_path / "out.tif") as image:
        assert image.size == (1000, 1000) and image.info["dpi"] == pytest.approx((254, 254), abs=0.1)
        assert image.info["icc_profile"] == dune.data


def test_resizing_keeps_light_and_colour() -> None:
    # a grating finer than the new pixels becomes half the light; a flat field stays to the bit
    space = master_space(working_space("sRGB"))
    grating = np.zeros((120, 120, 3), np.uint16)
    grating[:, ::2] = 65535
    small = resize_linear(grating, space, 30, 30)[10:20, 10:20]
    light = space.linear[:, 0][small[..., 0]].mean()
    assert light == pytest.approx(0.5, abs=0.01)
    flat = np.full((50, 50, 3), 12345, np.uint16)
    assert np.abs(resize_linear(flat, space, 77, 31).astype(int) - 12345).max() <= 1


def test_names_carry_printer_paper_and_intent() -> None:
    name = suggest_name("/x/drying line.tif", "Skarn 24", "White Dune", Rendering("relative", True), ".tif")
    assert name == "drying-line_Skarn-24_White-Dune_relative-bpc.tif"


def test_nothing_half_written(tmp_path: Path, dune: Profile) -> None:
    pixels = np.zeros((4, 4, 3), np.uint16)
    with pytest.raises(PictureError, match="cannot be written"):
        write_picture(pixels, dune, 300, tmp_path / "none" / "a.tif")
    with pytest.raises(PictureError, match="ending"):
        write_picture(pixels, dune, 300, tmp_path / "a.xyz")
    assert list(tmp_path.iterdir()) == []


_FULL_DISK = """
import resource, signal, sys
from pathlib import Path
import numpy as np
from rehearsal.core.errors import PictureError
from rehearsal.core.icc.standard import working_space
from rehearsal.core.sheet.export import write_picture
signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
resource.setrlimit(resource.RLIMIT_FSIZE, (200_000, 200_000))
noise = np.random.default_rng(1).integers(0, 65535, (600, 600, 3)).astype(np.uint16)
try:
    write_picture(noise, working_space("sRGB"), 300, Path(sys.argv[1]) / "big.tif")
except PictureError as error:
    print(error.sentence())
"""


def test_a_full_disk_leaves_nothing_behind(tmp_path: Path) -> None:
    # a limit on the file size stands for the full disk: writing fails part-way in the same manner
    done = subprocess.run([sys.executable, "-c", _FULL_DISK, str(tmp_path)], capture_output=True, text=True, check=True)
    assert "cannot be written" in done.stdout, done.stderr
    assert list(tmp_path.iterdir()) == []


def test_test_sheet_has_its_variants_and_a_black_patch(small_cloths: Path) -> None:
    picture = read_picture(small_cloths)
    patches = variants(Tuning(), "dark_half", 10)
    assert [v.tuning.dark_half for v in patches] == [0, 10, 20, 30, 40, 50]
    assert [v.tuning.lightness for v in variants(Tuning(), "lightness", 2)] == [-4, -2, 0, 2, 4, 6]
    pixels, _space = compose(picture, Crop(), PrintSize(20, 28), 72, patches)
    h, w = pixels.shape[:2]
    assert (w, h) == PrintSize(20, 28).pixels(72)
    assert (pixels[h - 40, 40] == 0).all() and (pixels[5, 5] == 65535).all()
    lab = master_space(working_space("ROMM")).to_lab(pixels)
    first, last = lab[20:90, 20:150], lab[20:90, 20 + (w - 56) // 3 + 14 : 150 + (w - 56) // 3 + 14]
    assert last[..., 0].mean() > first[..., 0].mean()


CONDITION = PrintCondition(
    1,
    "Skarn 24",
    "White Dune",
    media_setting="Fine art",
    feed="rear",
    margins_mm=(30, 5, 30, 5),
    default_intent="perceptual",
)
TAKE = Take(1, 1, 1, "x", print_width_cm=39, print_height_cm=26, intent="perceptual", sheet="A3+")


def _cautions(**fields: object) -> str:
    take = replace(TAKE, **fields)  # type: ignore[arg-type]
    return " ".join(make_ticket(TicketRequest(take, CONDITION, "Drying line", (3000, 2000), "profile", TAKE)).cautions)


def test_a_right_ticket_is_silent() -> None:
    assert _cautions() == ""


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"converter": "program"}, "Two converters"),
        ({"converter": "driver"}, "driver is left"),
        ({"route": "space", "converter": "none"}, "Nobody converts"),
        ({"condition": 2}, "another profile"),
        ({"intent": "relative"}, "another rendering intent"),
        ({"route": "space", "program_intent": "relative"}, "was judged"),
        ({"tuning": Tuning(strength=5)}, "changed after judging"),
        ({"driver_media": "Plain"}, "media setting"),
        ({"driver_feed": "top"}, "fed from"),
        ({"borderless": True}, "borderless"),
        ({"scale_percent": 97.0}, "97 %"),
        ({"print_width_cm": 118.0, "print_height_cm": 79.0}, "larger than"),
        ({"print_width_cm": 0.0}, "No print size"),
    ],
)
def test_what_the_ticket_is_not_silent_about(fields: dict[str, object], words: str) -> None:
    assert words in _cautions(**fields)


def test_too_few_pixels_are_named() -> None:
    request = TicketRequest(TAKE, CONDITION, "x", (800, 533), "profile", TAKE)
    assert "only 52 ppi" in " ".join(make_ticket(request).cautions)


def test_each_setting_stands_once() -> None:
    ticket = make_ticket(TicketRequest(TAKE, CONDITION, "Drying line", (3000, 2000), "profile", TAKE))
    labels = [label for _name, rows in ticket.sections for label, _value in rows]
    assert len(labels) == len(set(labels)) and "Media setting" in labels
    assert "printer-ready" in ticket_html(ticket)
    there = make_ticket(TicketRequest(replace(TAKE, route="space"), CONDITION, "x", (3000, 2000), "profile", TAKE))
    assert ("Intent there", "perceptual") in [row for _n, rows in there.sections for row in rows]


def test_ticket_as_pdf(tmp_path: Path) -> None:
    ticket = make_ticket(TicketRequest(TAKE, CONDITION, "Drying line", (3000, 2000), "profile", None))
    write_ticket_pdf(ticket, tmp_path / "t.pdf")
    assert (tmp_path / "t.pdf").read_bytes().startswith(b"%PDF")
    assert [p.name for p in tmp_path.iterdir()] == ["t.pdf"]
    with pytest.raises(PictureError):
        write_ticket_pdf(ticket, tmp_path / "none" / "t.pdf")


def test_working_space_route_shows_what_the_space_cuts_off(small_cloths: Path) -> None:
    picture = read_picture(small_cloths)
    made = make_pixels(picture, ExportPlan(working_space("sRGB"), Rendering("relative", True)))
    back = master_space(working_space("sRGB")).to_lab(made)
    gap = delta_e_2000(back, master_space(picture.profile).to_lab(picture.pixels))
    assert np.median(gap) < 0.2 and gap.max() > 2
