"""What hands do to crop and size: nothing is cut that was not asked for, and going back is going back."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rehearsal.core.sheet.evenborder import with_even_border
from rehearsal.core.sheet.framing import by_hand, with_fit, with_side, with_size
from rehearsal.core.sheet.layout import crop_about, crop_to, turned_like
from rehearsal.core.values.frame import Crop, Frame, PrintSize
from rehearsal.core.values.plain import from_plain, to_plain
from rehearsal.core.values.sheet import Sheet

PICTURE = (3000, 2000)
PLACED = Crop(0.1, 0.05, 0.3, 0.3)
sides = st.floats(0.05, 0.9)


def test_one_side_typed_keeps_proportions_and_crop() -> None:
    frame = with_side(Frame(size=PrintSize(39, 26)), "width", 60, *PICTURE)
    assert frame == Frame(size=PrintSize(60, 40))
    assert with_side(Frame(PLACED, PrintSize(30, 20)), "height", 30, *PICTURE) == Frame(PLACED, PrintSize(45, 30))


def test_a_placed_crop_stays_where_it_is_when_the_size_changes_a_little() -> None:
    frame = Frame(PLACED, PrintSize(30, 20))
    for size in (PrintSize(30.1, 20), PrintSize(30.4, 20), PrintSize(30, 20.3)):
        crop = with_size(frame, size, *PICTURE).crop
        for mine, now in zip((crop.x, crop.y, crop.width, crop.height), (0.1, 0.05, 0.3, 0.3), strict=True):
            assert now == pytest.approx(mine, abs=0.004)


@given(sides, sides, sides, sides, st.floats(0.4, 2.5))
def test_another_proportion_keeps_middle_and_area_within_the_picture(
    x: float, y: float, w: float, h: float, p: float
) -> None:
    crop = Crop(x * (1 - w), y * (1 - h), w, h)
    made = crop_about(crop, p, *PICTURE)
    wide, high = made.width * 3000, made.height * 2000
    assert wide / high == pytest.approx(p)
    assert min(made.x, made.y) >= -1e-9 and max(made.x + made.width, made.y + made.height) <= 1 + 1e-9
    inside = made.width < 1 - 1e-6 and made.height < 1 - 1e-6
    if inside:
        assert made.width * made.height == pytest.approx(w * h)
    for place, size, middle in ((made.x, made.width, crop.x + w / 2), (made.y, made.height, crop.y + h / 2)):
        away = abs(place + size / 2 - middle)
        assert away < 1e-9 or place < 1e-9 or place + size > 1 - 1e-9  # moved only where it would lie over the edge


def test_what_spans_the_picture_goes_on_doing_so_and_comes_back() -> None:
    square = crop_about(Crop(), 1.0, *PICTURE)
    assert square == crop_to(1.0, *PICTURE) and crop_about(square, 1.5, *PICTURE) == Crop()
    left = crop_about(Crop(0.0, 0.0, 2 / 3, 1.0), 0.5, *PICTURE)
    assert left == Crop(pytest.approx(1 / 6), 0, pytest.approx(1 / 3), 1)


def test_keeping_it_whole_and_back_keeps_size_and_crop() -> None:
    frame = Frame(PLACED, PrintSize(30, 30))
    whole = with_fit(frame, "inside", *PICTURE)
    assert whole == Frame(Crop(), PrintSize(30, 20), "inside")
    back = with_fit(whole, "crop", *PICTURE)
    assert back == frame and back.before is None
    assert with_fit(whole, "inside", *PICTURE) is whole
    larger = by_hand(replace(whole, size=PrintSize(45, 30)), whole)  # another size by hand is the print's own
    assert with_fit(larger, "crop", *PICTURE) == Frame(Crop(), PrintSize(45, 30))


def test_each_border_starts_from_the_prints_own_crop() -> None:
    own = Frame(PLACED, PrintSize(20, 20 * 0.6 / 0.9))
    once, _sheet = with_even_border(own, Sheet("A4"), 50, *PICTURE)
    again, _sheet = with_even_border(once, Sheet("A4"), 10, *PICTURE)
    assert again == with_even_border(own, Sheet("A4"), 10, *PICTURE)[0] != once
    assert again.before_any("way") == own and own.before_any("way") is own


def test_what_was_before_is_no_part_of_the_print_and_is_kept() -> None:
    own = Frame(PLACED, PrintSize(30, 20))
    lent = own.lent("way", Frame(size=PrintSize(15, 10)))
    deep = lent.lent("fit", Frame(size=PrintSize(10, 10), fit="inside"))
    assert lent == lent.alone and lent.alone.before is None and deep.before_any("way") == own
    kept = from_plain(Frame, to_plain(deep))
    assert kept.before_any("fit") == lent and kept.before_any("way") == own
    assert from_plain(Frame, {"crop": to_plain(Crop()), "size": None, "fit": "crop"}) == Frame()  # an older workbook's


def test_a_size_turns_with_the_picture() -> None:
    ten = PrintSize(10, 15)
    assert turned_like(ten, *PICTURE) == PrintSize(15, 10) and turned_like(ten, 2000, 3000) == ten
    assert turned_like(PrintSize(15, 10), *PICTURE) == PrintSize(15, 10) and turned_like(ten, 500, 500) == ten
