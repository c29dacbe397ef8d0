"""The page in pixels: each print at its place, bare paper without ink, lettering, marks, and what the printer does taken out."""

from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from tests.poppler import pdf_drawn, pdf_images, pdf_size_mm

from rehearsal.core.errors import PictureError
from rehearsal.core.icc.standard import working_space
from rehearsal.core.sheet.composing import Lettering, Page, compose
from rehearsal.core.sheet.lettering import Ink, draw_lettering, ink_for, line_width_mm, mark_cover, text_width_mm
from rehearsal.core.sheet.page import DrawnPage, as_fed, bare_value, draw_page, sent_size
from rehearsal.core.sheet.pdffile import write_pdf
from rehearsal.core.sheet.trueplace import Mending
from rehearsal.core.values.frame import PrintSize
from rehearsal.core.values.sheet import Caption, Several, Sheet
from rehearsal.core.values.trueplace import TruePlace

PPI = 25.4  # a pixel is a millimetre
SIZE = PrintSize(39.0, 26.0)
DARK = Ink(np.array([10, 10, 10]))


def drawn(
    page: Page,
    rng: np.random.Generator,
    channels: int = 3,
    kind: type = np.uint8,
    mending: Mending | None = None,
    ppi: float = PPI,
    smooth: bool = False,
) -> tuple[DrawnPage, dict[int, np.ndarray]]:
    """A page of random prints, and the prints."""
    prints: dict[int, np.ndarray] = {}

    def make(number: int, size: PrintSize, room: object) -> None:
        w, h = size.pixels(ppi)
        noise = rng.integers(0, 200, (h, w, channels))
        prints[number] = (np.linspace(0, 190, w)[None, :, None] + noise * 0.05 if smooth else noise).astype(kind)
        place = room((w, h))  # type: ignore[operator]
        place[...] = prints[number][: place.shape[0], : place.shape[1]]

    wide, high = (page.height, page.width) if page.feeds_left else (page.width, page.height)
    made = draw_page(page, ppi, channels, kind, make, Ink(np.full(channels, 10)), mending or Mending(wide, high))
    return made, prints


@pytest.mark.parametrize(
    ("channels", "kind", "bare"), [(3, np.uint8, 255), (3, np.uint16, 65535), (4, np.uint16, 0), (1, np.uint8, 255)]
)
def test_bare_paper_gets_no_ink(channels: int, kind: type, bare: int, rng: np.random.Generator) -> None:
    made, prints = drawn(compose(Sheet("A3+", place="20,30.4"), [SIZE]), rng, channels, kind)
    page = made.pixels
    assert page.shape == (329, 483, channels) and page.dtype == kind and bare_value(channels, kind) == bare
    np.testing.assert_array_equal(page[30:290, 20:410], prints[0])
    page[30:290, 20:410] = bare
    assert (page == bare).all()


def test_a_print_as_large_as_its_page_covers_it(rng: np.random.Generator) -> None:
    page = compose(Sheet("A3+"), [PrintSize(48.34, 32.94)])
    made, prints = drawn(page, rng, ppi=60)
    np.testing.assert_array_equal(made.pixels, prints[0][: len(made.pixels), : made.pixels.shape[1]])


def test_several_are_the_same_print_each_turned_alike(rng: np.random.Generator) -> None:
    page = compose(Sheet("A4", several=Several("most", gap=2.0)), [PrintSize(10.4, 7.0)])
    made, prints = drawn(page, rng)
    assert len(made.parts) == 8 and page.laid[0].turned
    for part in made.parts:
        np.testing.assert_array_equal(made.pixels[part.rows, part.columns], np.rot90(prints[0], -1))


def test_packed_prints_lie_where_the_page_says(rng: np.random.Generator) -> None:
    page = compose(Sheet("A4", several=Several("packed", gap=2.0)), [PrintSize(28.0, 10.0), PrintSize(10.0, 28.0)])
    made, prints = drawn(page, rng)
    for one, part in zip(page.laid, made.parts, strict=True):
        print_ = np.rot90(prints[one.number], -1) if one.turned else prints[one.number]
        np.testing.assert_array_equal(made.pixels[part.rows, part.columns], print_)
        assert part.left == pytest.approx(one.box.left) and part.rows.start == pytest.approx(one.box.top, abs=0.5)


def test_cut_marks_are_dark_lines_on_bare_paper(rng: np.random.Generator) -> None:
    page = compose(Sheet("A4", several=Several("most", gap=12.0, cut_marks=True)), [PrintSize(8.0, 8.0)])
    made, _prints = drawn(page, rng)
    for part in made.parts:
        made.pixels[part.rows, part.columns] = 255
    dark = (made.pixels == 10).all(axis=2)
    assert len(page.marks) == len(made.lines) == 8 * len(page.laid) and 3 * len(page.marks) <= dark.sum() <= 6 * len(
        page.marks
    )
    assert ((made.pixels == 255) | (made.pixels == 10)).all()


def test_as_fed_the_left_edge_goes_in_first(rng: np.random.Generator) -> None:
    page = compose(Sheet("A3+", place="20,30"), [SIZE])
    made, prints = drawn(page, rng)
    fed = as_fed(made, page.feeds_left)
    assert fed.pixels.shape == (483, 329, 3) and (fed.width, fed.height) == (329, 483)
    (part,) = fed.parts
    np.testing.assert_array_equal(fed.pixels[part.rows, part.columns], np.rot90(prints[0], -1))
    assert part.top == pytest.approx(20) and part.left == pytest.approx(329 - 30 - 260)
    assert as_fed(made, False) is made


# ---- what the printer does, taken out


def test_a_shift_and_a_scale_are_taken_out_in_the_way_the_sheet_is_fed(rng: np.random.Generator) -> None:
    page = compose(Sheet("A3+"), [SIZE])
    mending = Mending(329, 483, TruePlace(right=2.0, down=5.0, along=1.0))
    made, _prints = drawn(page, rng, mending=mending)
    (part,) = made.parts
    # fed clockwise: right of the feed is up as it is seen, down the feed is to the right; about the sheet's middle the feed is scaled
    assert part.columns.stop - part.columns.start == round(390 / 1.01)
    assert part.columns.start == pytest.approx(
        241.5 - 5 / 1.01 - 195 / 1.01, abs=1
    ) and part.rows.start == pytest.approx(34.5 + 2, abs=1)
    assert sent_size(page, page.laid[0], mending).width_cm == pytest.approx(39 / 1.01)
    upright = compose(Sheet("A3+"), [PrintSize(26.0, 39.0)])
    assert sent_size(upright, upright.laid[0], mending).height_cm == pytest.approx(39 / 1.01)


@pytest.mark.parametrize("size", [PrintSize(12.0, 9.0), PrintSize(9.0, 12.0)])
def test_cut_marks_and_lettering_go_where_their_prints_go(size: PrintSize, rng: np.random.Generator) -> None:
    # a mark that does not move with its print shows a wrong place to cut
    several = Sheet("A3+", several=Several("grid", 2, 1, gap=30.0, cut_marks=True))
    page = compose(several, [size])
    wide, high = (page.height, page.width) if page.feeds_left else (page.width, page.height)
    mending = Mending(wide, high, TruePlace(right=2.0, down=5.0, across=0.5, along=1.0))
    made, _prints = drawn(page, rng, mending=mending)
    assert len(made.lines) == len(page.marks) > 0
    for line, planned in zip(made.lines, page.marks, strict=True):
        for x, y, px, py in ((line[0], line[1], planned[0], planned[1]), (line[2], line[3], planned[2], planned[3])):
            # what is sent there comes out where it was planned, as the sheet is fed
            fed, want = ((page.height - y, x), (page.height - py, px)) if page.feeds_left else ((x, y), (px, py))
            made = (wide / 2 + (fed[0] - wide / 2) * 1.005 + 2.0, high / 2 + (fed[1] - high / 2) * 1.01 + 5.0)
            assert made == pytest.approx(want, abs=0.01)
    still, _prints = drawn(page, rng)
    assert still.lines == page.marks
    written = compose(Sheet("A3+", caption=Caption("Line")), [SIZE])
    shift = Mending(329, 483, TruePlace(right=2.0, down=5.0))
    (_print, plain), (_moved, moved) = (drawn(written, rng, mending=m)[0].parts for m in (None, shift))
    # fed clockwise: down the feed is to the right as it is seen, right of the feed is up
    assert moved.columns.start - plain.columns.start == pytest.approx(-5, abs=1)
    assert moved.rows.start - plain.rows.start == pytest.approx(2, abs=1)


def test_a_skew_is_taken_out_finer_than_a_pixel() -> None:
    page = compose(Sheet("A4"), [PrintSize(20.0, 10.0)])
    mending = Mending(210, 297, TruePlace(turned=8.0))

    def make(_number: int, size: PrintSize, room: object) -> None:
        room(size.pixels(50))[...] = 0  # type: ignore[operator]

    made = draw_page(page, 50, 3, np.uint8, make, DARK, mending)
    assert len(made.parts) == 1 and made.parts[0].rows == slice(0, len(made.pixels))
    ink = 255 - made.pixels[..., 0].astype(float)
    columns = np.arange(ink.shape[1])[100:480:20]
    tops = [len(ink) / 2 - ink[: len(ink) // 2, x].sum() / 255 for x in columns]
    slope = np.polyfit(columns, tops, 1)[0]
    assert slope == pytest.approx(-0.008, abs=0.0005), "turned against the printer's own turn"
    assert ink.sum() / 255 == pytest.approx(200 * 100 * (50 / 25.4) ** 2, rel=0.005)


def test_a_skew_nobody_can_see_leaves_the_pixels_alone(rng: np.random.Generator) -> None:
    made, prints = drawn(compose(Sheet("A3+"), [SIZE]), rng, mending=Mending(329, 483, TruePlace(turned=0.1)))
    np.testing.assert_array_equal(made.pixels[made.parts[0].rows, made.parts[0].columns], prints[0])


# ---- lettering


def test_lettering_is_as_high_as_it_says_and_ends_where_it_should() -> None:
    pixels = np.full((300, 900, 3), 255, dtype=np.uint8)
    line = Lettering("H. LIND", 60.0, 15.0, "right", 3.0)
    found = draw_lettering(pixels, line, 254, DARK)  # ten pixels to the mm
    assert found is not None
    dark = np.flatnonzero((pixels < 128).any(axis=(1, 2)))
    assert dark[-1] - dark[0] == pytest.approx(30, abs=2) and dark[-1] == pytest.approx(150, abs=2)
    across = np.flatnonzero((pixels < 128).any(axis=(0, 2)))
    assert across[-1] == pytest.approx(600, abs=6)
    assert across[-1] - across[0] == pytest.approx(10 * text_width_mm("H. LIND", 3.0), rel=0.05)
    assert draw_lettering(pixels, Lettering("x", 500.0, 15.0, "left", 3.0), 254, DARK) is None


def test_a_name_in_the_print_lets_it_shine_through() -> None:
    pixels = np.full((200, 400, 3), 200, dtype=np.uint16)
    draw_lettering(pixels, Lettering("III", 5.0, 15.0, "left", 8.0, 50.0), 254, Ink(np.array([0, 0, 0])))
    assert pixels.min() == 100


def test_a_mark_covers_by_its_transparency_or_by_its_darkness(tmp_path: Path) -> None:
    dark = np.full((10, 20), 255, np.uint8)
    dark[:, :10] = 0
    Image.fromarray(dark).save(tmp_path / "dark.png")
    assert mark_cover(str(tmp_path / "dark.png"), 20, 10)[5, [2, 17]] == pytest.approx([1, 0], abs=0.02)
    clear = np.zeros((10, 20, 4), np.uint8)
    clear[:, :10, 3] = 128
    Image.fromarray(clear).save(tmp_path / "clear.png")
    assert mark_cover(str(tmp_path / "clear.png"), 20, 10)[5, [2, 17]] == pytest.approx([0.5, 0], abs=0.02)
    line = Lettering("", 50.0, 20.0, "right", 2.5, 100.0, str(tmp_path / "dark.png"))
    assert line_width_mm(line) == pytest.approx(20.0), "four capitals high, twice as wide"
    (tmp_path / "no.png").write_bytes(b"no picture")
    with pytest.raises(PictureError, match="mark cannot be read"):
        mark_cover(str(tmp_path / "no.png"), 4, 4)
    with pytest.raises(PictureError, match="mark cannot be read"):
        mark_cover(str(tmp_path / "missing.png"), 4, 4)


def test_lettering_is_printed_in_the_printers_own_dark_grey() -> None:
    eight, sixteen = ink_for(working_space("sRGB"), 8).values, ink_for(working_space("sRGB"), 16).values
    assert eight.tolist() == [38, 38, 38] and np.abs(sixteen.astype(int) - 38 * 257).max() <= 40


# ---- PDF


def test_pdf_holds_each_part_as_it_is(tmp_path: Path, rng: np.random.Generator) -> None:
    page = compose(Sheet("A4", caption=Caption("Line", 1, 9), place="20,30"), [PrintSize(20.0, 12.0)])
    made, prints = drawn(page, rng, ppi=100, smooth=True)
    write_pdf(made, str(tmp_path / "p.pdf"))
    images = pdf_images(tmp_path / "p.pdf", tmp_path)
    assert len(images) == 3
    np.testing.assert_array_equal(images[0], prints[0])
    assert pdf_size_mm(tmp_path / "p.pdf") == pytest.approx((297, 210), abs=0.05)
    seen = pdf_drawn(tmp_path / "p.pdf", tmp_path, 100)[: len(made.pixels), : made.pixels.shape[1]].astype(int)
    assert np.abs(seen - made.pixels).mean() < 2.5, "drawn as the pixels are: half a pixel of place at most"
    with pytest.raises(ValueError, match="8 bits"):
        write_pdf(DrawnPage(made.pixels.astype(np.uint16), [], (), 1, 1, 1), str(tmp_path / "q.pdf"))


@pytest.mark.parametrize("channels", [1, 4])
def test_pdf_of_grey_and_of_four_inks(channels: int, tmp_path: Path, rng: np.random.Generator) -> None:
    page = compose(Sheet("A4", several=Several("most", gap=12, cut_marks=True)), [PrintSize(8.0, 8.0)])
    made, _prints = drawn(page, rng, channels)
    write_pdf(made, str(tmp_path / "p.pdf"))
    seen = pdf_drawn(tmp_path / "p.pdf", tmp_path, 100)
    assert (seen[:5] > 250).all(), "bare paper stays bare"
    assert (seen.min(axis=2) < 120).any()
