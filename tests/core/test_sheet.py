"""Sizes, crops, brightness, the print file and the test sheet."""

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
from tests.conftest import opened_for, table

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.errors import PictureError, RehearsalError
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.space import master_space
from rehearsal.core.picture.write import write_picture
from rehearsal.core.proof.chain import PrintChain
from rehearsal.core.screen.brightness import advise_brightness, paper_luminance, screen_offset, trust
from rehearsal.core.sheet.layout import (
    COMMON_SIZES,
    SHEETS,
    crop_to,
    effective_ppi,
    enlarged_words,
    enlargement,
    fit_size,
    fits_sheet,
    parse_size,
    sheet_size,
)  # fmt: skip
from rehearsal.core.sheet.printfile import make_pixels, plan_pixels, suggest_name
from rehearsal.core.values.frame import Crop, Frame, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.rendering import Rendering


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
    named = [option for option in COMMON_SIZES if option.name in SHEETS]
    assert [option.name for option in named] == ["A5", "A4", "A3", "A3+", "A2", "A1"]
    for option in named:
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
    assert max(crop.width, crop.height) > 1 - 1e-9


def test_margins_of_a_sheet() -> None:
    assert fits_sheet(PrintSize(39, 26), "A3+", (30, 5, 30, 5), False) == ""
    assert "unprintable" in fits_sheet(PrintSize(45, 30), "A3+", (30, 5, 30, 5), False)
    # each margin counts for itself; A4 is 21 × 29.7 cm (ISO 216), the first and third lie along its length
    for i, (width, height) in enumerate(((26.7, 21.0), (29.7, 18.0), (26.7, 21.0), (29.7, 18.0))):
        margins = tuple(30.0 if k == i else 0.0 for k in range(4))
        assert fits_sheet(PrintSize(width, height), "A4", margins, False) == ""  # type: ignore[arg-type]
        more = PrintSize(width + 0.1 * (i % 2 == 0), height + 0.1 * (i % 2))
        assert "unprintable" in fits_sheet(more, "A4", margins, False)  # type: ignore[arg-type]
    assert "larger" in fits_sheet(PrintSize(60, 40), "A3+", (3, 3, 3, 3), True)
    assert fit_size(PrintSize(40, 30), 300, 200).in_words == "40 × 26.7 cm"


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


def test_an_enlargement_is_said_as_a_factor() -> None:
    # 3000 pixels at 300 ppi make 25.4 cm; 50.8 cm are twice as much
    assert enlargement(3000, 50.8, 300) == pytest.approx(2.0) and enlargement(3000, 25.4, 240) == pytest.approx(0.8)
    assert [enlarged_words(f) for f in (0.8, 1.0, 1.002, 1.03, 2.04)] == [
        "",
        "",
        "",
        "enlarged 1.03 times",
        "enlarged 2.0 times",
    ]


def test_print_file_pixels_against_the_exact_chain(small_cloths: Path, dune: Profile) -> None:
    picture = read_picture(small_cloths)
    rendering = Rendering("perceptual")
    made = make_pixels(opened_for(picture, dune, rendering=rendering))
    exact = PrintChain(picture.profile, dune, rendering).device(picture.pixels.reshape(-1, 3) / 65535.0)
    assert np.abs(made.reshape(-1, 3) / 65535.0 - exact).max() < 0.004


def test_crop_inside_and_resolution(small_cloths: Path, dune: Profile, tmp_path: Path) -> None:
    picture = read_picture(small_cloths)
    square = Frame(Crop(), PrintSize(10, 10))
    assert plan_pixels(square, 254, 450, 300) == ((75, 0, 300, 300), (1000, 1000))
    inside = replace(square, fit="inside")
    assert plan_pixels(inside, 254, 450, 300) == ((0, 0, 450, 300), (1000, 667))
    made = make_pixels(opened_for(picture, dune, frame=square, hand_over=HandOver(ppi=254)))
    write_picture(made, dune, 254, tmp_path / "out.tif")
    with Image.open(tmp_path / "out.tif") as image:
        assert image.size == (1000, 1000) and image.info["dpi"] == pytest.approx((254, 254), abs=0.1)
        assert image.info["icc_profile"] == dune.data


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
from rehearsal.core.picture.write import write_picture
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


def test_working_space_route_shows_what_the_space_cuts_off(small_cloths: Path, dune: Profile) -> None:
    picture = read_picture(small_cloths)
    made = make_pixels(opened_for(picture, dune, hand_over=HandOver("space", "sRGB")))
    back = master_space(working_space("sRGB")).to_lab(made)
    gap = delta_e_2000(back, master_space(picture.profile).to_lab(picture.pixels))
    assert np.median(gap) < 0.2 and gap.max() > 2
