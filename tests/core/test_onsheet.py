"""The print on its sheet, against sizes of the trade (ISO 216 sheets; the borders are common practice, no source)."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rehearsal.core.sheet.layout import SHEETS, sheet_size
from rehearsal.core.sheet.onsheet import borders_mm, holds, on_sheet, sheet_for, with_border
from rehearsal.core.values.frame import Crop, Frame, PrintSize


def test_borders_of_known_prints() -> None:
    # 39 × 26 cm on A3+ (483 × 329 mm): 46.5 mm at the sides, 34.5 at top and foot
    assert borders_mm(PrintSize(39.0, 26.0), "A3+") == pytest.approx((46.5, 34.5))
    # 1 cm on A4 leaves 277 × 190 mm, 2 in on A2 leaves 492.4 × 318.4 mm
    assert borders_mm(PrintSize(27.7, 19.0), "A4") == pytest.approx((10, 10))
    assert borders_mm(PrintSize(49.24, 31.84), "A2") == pytest.approx((50.8, 50.8))
    assert borders_mm(PrintSize(19.0, 27.7), "A4") == pytest.approx((10, 10)), "the sheet turns like the print"


def test_a_print_picks_the_smallest_sheet_that_holds_it() -> None:
    assert sheet_for(PrintSize(27.7, 19.0), "A5") == "A4"
    assert sheet_for(PrintSize(59.0, 40.0), "A3+") == "A2", "a border that leaves the sheet cannot exist"
    assert sheet_for(PrintSize(18.0, 13.0), "A2") == "A2", "the sheet at hand is kept while it holds the print"
    assert sheet_for(PrintSize(29.7, 21.0), "A4") == "A4", "borderless"
    assert sheet_for(PrintSize(120.0, 80.0), "A4") == ""
    assert (
        sheet_for(PrintSize(45.0, 30.0), "Letter") == "13 × 19 in" and sheet_for(PrintSize(45.0, 30.0), "A4") == "A3+"
    )
    assert holds("A4", PrintSize(21.0, 29.7)) and not holds("A4", PrintSize(22.0, 29.7))


def test_a_border_leaves_the_largest_print_of_the_crops_proportions() -> None:
    frame = with_border(Frame(), 10, "A4", 3000, 2000)
    assert (
        frame.size is not None
        and frame.size.width_cm == pytest.approx(27.7)
        and frame.size.height_cm == pytest.approx(18.45)
    )
    sides, foot = borders_mm(frame.size, "A4")
    assert min(sides, foot) == pytest.approx(10, abs=0.3)
    upright = with_border(Frame(Crop(0, 0, 0.4, 1)), 10, "A4", 3000, 2000)
    assert upright.size is not None and upright.size.width_cm < upright.size.height_cm == pytest.approx(27.7)


def test_a_smaller_sheet_makes_the_print_smaller_and_a_larger_one_leaves_it() -> None:
    frame = Frame(size=PrintSize(39.0, 26.0))
    assert on_sheet(frame, "A3+", "A2", 3000, 2000) == frame
    small = on_sheet(frame, "A3+", "A4", 3000, 2000)
    assert small.size is not None and holds("A4", small.size)
    assert small.size.width_cm / small.size.height_cm == pytest.approx(1.5, abs=0.01)
    # 34.5 mm on 329 are 22.0 mm on 210
    assert min(borders_mm(small.size, "A4")) == pytest.approx(22.0, abs=0.4)
    assert on_sheet(Frame(), "A3+", "A4", 3000, 2000).size is None


@given(st.floats(-50, 400), st.sampled_from(sorted(SHEETS)), st.integers(200, 6000), st.integers(200, 6000))
def test_a_border_never_leaves_the_sheet(border: float, sheet: str, width: int, height: int) -> None:
    frame = with_border(Frame(), border, sheet, width, height)
    assert frame.size is not None and holds(sheet, frame.size) and min(frame.size.width_cm, frame.size.height_cm) > 0
    wide, high = sheet_size(sheet, frame.size)
    wanted = border if 0 <= border < min(wide, high) * 4 else 0.0
    assert min(borders_mm(frame.size, sheet)) >= wanted - 0.51
