"""``rehearsal sheet``: the page in a file is the print at its place and bare paper around it, to the pixel."""

from pathlib import Path

import numpy as np
import pytest
from tests.conftest import opened_for
from tests.poppler import pdf_drawn, pdf_images, pdf_size_mm

from rehearsal.commands.cli import run
from rehearsal.core.icc import Profile
from rehearsal.core.picture.file import read_picture
from rehearsal.core.sheet.printfile import make_pixels
from rehearsal.core.values.frame import Frame, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.recipe import by_hand
from rehearsal.demo.make import demo_folder

PAPER = str(demo_folder() / "profiles" / "SK24_WhiteDune_Hi.icc")


def _wanted(path: Path, paper: Profile, **hand_over: object) -> np.ndarray:
    frame = Frame(size=PrintSize(9.0, 6.0))
    return make_pixels(opened_for(read_picture(path), paper, frame=frame, hand_over=HandOver(ppi=127.0, **hand_over)))  # type: ignore[arg-type]


def _sheet(picture: Path, out: Path, *more: str) -> int:
    return run(
        [
            "sheet",
            str(picture),
            "--paper",
            PAPER,
            "--size",
            "9x6cm",
            "--sheet",
            "15x10cm",
            "--ppi",
            "127",
            "--out",
            str(out),
            *more,
        ]
    )


def test_a_page_as_tiff(small_cloths: Path, dune: Profile, tmp_path: Path) -> None:
    out = tmp_path / "page.tif"
    assert _sheet(small_cloths, out, "--place", "20,12") == 0
    page = read_picture(out)
    assert page.info.depth == 16 and page.pixels.shape == (500, 750, 3) and page.info.ppi == pytest.approx(127, abs=0.1)
    assert page.profile.digest == dune.digest
    left, top = 100, 60  # 5 pixels to the mm
    print_ = page.pixels[top : top + 300, left : left + 450]
    np.testing.assert_array_equal(print_, _wanted(small_cloths, dune))
    bare = page.pixels.copy()
    bare[top : top + 300, left : left + 450] = 65535
    assert (bare == 65535).all(), "bare paper is device white"


def test_a_page_as_pdf_holds_every_pixel_at_its_place(small_cloths: Path, dune: Profile, tmp_path: Path) -> None:
    out = tmp_path / "page.pdf"
    assert _sheet(small_cloths, out, "--place", "foot:15") == 0
    # decoded by poppler's tools
    (pixels,) = pdf_images(out, tmp_path)
    np.testing.assert_array_equal(pixels, _wanted(small_cloths, dune, format="tiff8"))
    data = out.read_bytes()
    assert b"/DeviceRGB" in data and b"ICCBased" not in data and b"DCTDecode" not in data
    assert pdf_size_mm(out) == pytest.approx([150, 100], abs=0.05)
    seen = pdf_drawn(out, tmp_path, 127)
    assert seen.shape[0] in (500, 501) and seen.shape[1] in (750, 751)
    rows, columns = (np.flatnonzero((seen < 250).any(axis=(2, axis))) for axis in (1, 0))
    top, left = 40 / 2.15 * 5, 30 * 5  # 5 pixels to the mm
    assert rows[0] == pytest.approx(top, abs=0.5) and columns[0] == pytest.approx(left, abs=0.5), "within 0.1 mm"
    assert rows[-1] - rows[0] == pytest.approx(299, abs=1) and columns[-1] - columns[0] == pytest.approx(449, abs=1)


def test_the_sheet_turns_and_a_recipe_and_sharpening_count(small_cloths: Path, dune: Profile, tmp_path: Path) -> None:
    recipe = tmp_path / "r.json"
    recipe.write_text('{"lightness": 0.3}')
    out = tmp_path / "page.tif"
    more = ("--recipe", str(recipe), "--sharpen", "80", "--surface", "smooth matte", "--depth", "8")
    assert (
        run(
            [
                "sheet",
                str(small_cloths),
                "--paper",
                PAPER,
                "--size",
                "6x9cm",  # it turns with the picture
                "--sheet",
                "10x15cm",
                "--ppi",
                "127",
                "--out",
                str(out),
                *more,
            ]
        )
        == 0
    )
    page = read_picture(out)
    assert page.info.depth == 8 and page.pixels.shape[:2] == (500, 750)
    frame = Frame(size=PrintSize(9.0, 6.0))
    hand_over = HandOver(ppi=127.0, format="tiff8", sharpen=80.0, sigma_um=60.0)
    wanted = make_pixels(
        opened_for(read_picture(small_cloths), dune, frame=frame, hand_over=hand_over, recipe=by_hand(lightness=0.3))
    )
    shown = np.round(page.pixels[100:400, 150:600] / 257.0).astype(np.uint8)
    np.testing.assert_array_equal(shown, wanted)


@pytest.mark.parametrize(
    ("more", "says"),
    [
        (("--margins", "30,5,5,5"), "bare paper at the top"), (("--margins", "5,5"), "margins are not understood"),
        (("--margins", "5,5,x,5"), "margins are not understood"), (("--margins=-5,5,5,5",), "margins are not possible"),
        (("--place", "there"), "place on the sheet"), (("--sharpen", "80"), "needs the paper's surface"),
        (("--sharpen", "80", "--surface", "shiny"), "needs the paper's surface"), (("--sharpen", "200"), "0 to 150"),
        (("--sheet", "huge"), "sheet is not understood"), (("--size", "20x20cm"), "larger than its sheet"),
        (("--ppi", "0"), "1 to 4800"), (("--depth", "16", "--out", "page.pdf"), "8 bits"), (("--out", "page.jpg"), "TIFF, PNG or PDF"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_one_sentence(
    more: tuple[str, ...],
    says: str,
    small_cloths: Path,
    tmp_path: Path,
    capsys: pytest.CaptureFixture[str],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.chdir(tmp_path)
    before = sorted(p.name for p in tmp_path.iterdir())
    assert _sheet(small_cloths, Path("page.tif"), *more) == 2
    said = capsys.readouterr().err
    assert said.count("\n") == 1 and says in said
    assert sorted(p.name for p in tmp_path.iterdir()) == before


def test_files_are_replaced_only_when_asked_and_masters_never(
    small_cloths: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    out = tmp_path / "page.pdf"
    assert _sheet(small_cloths, out) == 0 and _sheet(small_cloths, out) == 2
    assert "file of that name" in capsys.readouterr().err
    assert _sheet(small_cloths, out, "--force") == 0
    before = small_cloths.read_bytes()
    assert _sheet(small_cloths, small_cloths, "--force") == 2 and small_cloths.read_bytes() == before
