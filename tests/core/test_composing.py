"""The page composed, against sizes of the trade (ISO 216 sheets; borders and inch sizes are common practice, no source)."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rehearsal.core.errors import RehearsalError
from rehearsal.core.sheet.boxes import Box, around
from rehearsal.core.sheet.composing import check_whole, compose, grid_cell, lettering_box
from rehearsal.core.sheet.evenborder import USUAL_MM, even_print, with_even_border
from rehearsal.core.sheet.layout import roll_width_cm, sheet_size
from rehearsal.core.sheet.several import cut_marks, lay_most, lay_packed
from rehearsal.core.values.frame import Crop, Frame, PrintSize
from rehearsal.core.values.sheet import Caption, Mat, Several, Sheet

SIZE = PrintSize(39.0, 26.0)
LEVEL = PrintSize(3, 2)


def test_a_print_with_a_heavier_foot_and_the_edge_no_ink_reaches() -> None:
    page = compose(Sheet("A3+", place="foot:15"), [SIZE], (30, 5, 25, 4))
    top, right, foot, left = page.borders
    assert (top, foot) == (
        pytest.approx(32.1, abs=0.05),
        pytest.approx(36.9, abs=0.05),
    ) and right == left == pytest.approx(46.5)
    assert page.feeds_left and page.margins == (5, 25, 4, 30), "the edge that goes in first is drawn at the left"
    assert page.inked == Box(30, 5, 483 - 55, 329 - 9) and page.fed == (329, 483)
    assert page.bare == pytest.approx(1 - 390 * 260 / (483 * 329))
    upright = compose(Sheet("A3+"), [PrintSize(26.0, 39.0)], (30, 5, 25, 4))
    assert (
        not upright.feeds_left
        and upright.margins == (30, 5, 25, 4)
        and (upright.width, upright.height) == (329, 483) == upright.fed
    )
    assert compose(Sheet("A3+", borderless=True), [SIZE], (30, 5, 25, 4)).margins == (0, 0, 0, 0)


def test_even_borders_of_the_trade() -> None:
    def mm(sheet: str, border: float) -> tuple[float, float]:
        made = even_print(sheet, LEVEL, border)
        return made.width_cm * 10, made.height_cm * 10

    assert mm("A4", 10) == pytest.approx((277, 190))
    assert mm("A2", 50.8) == pytest.approx((492.4, 318.4))
    quarter = even_print("Letter", LEVEL, USUAL_MM[1])
    assert (quarter.width_cm / 2.54, quarter.height_cm / 2.54) == pytest.approx((10.5, 8))
    assert 50.8 in USUAL_MM and 6.35 in USUAL_MM
    with pytest.raises(RehearsalError, match="leaves no print"):
        even_print("A4", LEVEL, 101)


def test_eighteen_by_twelve_on_nineteen_by_thirteen_leaves_half_an_inch() -> None:
    page = compose(Sheet("13 × 19 in"), [PrintSize(45.72, 30.48)])
    assert page.borders == pytest.approx((12.7,) * 4)


def test_an_even_border_cuts_the_picture_and_centres_it() -> None:
    frame, sheet = with_even_border(Frame(size=SIZE), Sheet("A3+", place="foot:15"), 34.0, 3000, 2000)
    assert frame.size == PrintSize(pytest.approx(48.3 - 6.8), pytest.approx(32.9 - 6.8)) and sheet.place == "centre"  # type: ignore[arg-type]
    cut = frame.crop
    assert cut.width * 3000 / (cut.height * 2000) == pytest.approx((483 - 68) / (329 - 68))
    assert not sheet.borderless
    filled, all_over = with_even_border(Frame(), Sheet("A4"), 0.0, 2000, 3000)
    assert all_over.borderless and filled.size == PrintSize(21.0, 29.7), "it fills the sheet, on purpose"


# ---- mats


def test_a_mat_covers_the_prints_edge_or_leaves_paper_round_it() -> None:
    over = compose(Sheet("A3+", mat=Mat("over", 500, 400, overlap=2.5)), [SIZE])
    assert over.mat is not None
    assert over.mat.outside == Box(pytest.approx(-8.5), pytest.approx(-35.5), 500, 400)  # type: ignore[arg-type]
    assert over.mat.opening.width == pytest.approx(385) and over.mat.opening.height == pytest.approx(255)
    floating = compose(Sheet("A3+", mat=Mat("float", show=12)), [SIZE])
    assert floating.mat is not None and floating.mat.opening.width == pytest.approx(414)
    assert floating.mat.outside == Box(0, 0, 483, 329), "as large as the sheet while nothing else is told"


def test_the_foot_of_a_mat_is_the_mats() -> None:
    page = compose(Sheet("A3+", place="foot:15", mat=Mat("over", 400, 500)), [SIZE])  # turned like the sheet
    assert page.mat is not None
    top = page.mat.opening.top - page.mat.outside.top - 2
    foot = page.mat.outside.foot - page.mat.opening.foot - 2
    assert page.mat.outside.width == 500 and foot / top == pytest.approx(1.15)


# ---- several


def test_grids_of_the_trade() -> None:
    cell = grid_cell(Sheet("A3", borderless=True, several=Several("grid", 2, 2, 1.0)), LEVEL)
    assert (cell.width_cm, cell.height_cm) == pytest.approx((20.95, 14.8))
    page = compose(Sheet("A3", borderless=True, several=Several("grid", 2, 2, 1.0)), [cell])
    boxes = [one.box for one in page.laid]
    assert len(boxes) == 4 and boxes[1].left - boxes[0].right == pytest.approx(1) == pytest.approx(
        boxes[2].top - boxes[0].foot
    )
    assert page.borders == pytest.approx((0, 0, 0, 0))
    tall = compose(Sheet("A4", several=Several("grid", 1, 2, 4.0)), [PrintSize(18.0, 12.0)])
    assert tall.width < tall.height, "two level prints over each other lie on an upright sheet"
    with pytest.raises(RehearsalError, match="gaps leave no room"):
        grid_cell(Sheet("A4", several=Several("grid", 9, 2, 40.0)), LEVEL)


def test_four_six_by_fours_and_prints_that_are_turned_where_more_fit() -> None:
    six_four = PrintSize(15.24, 10.16)
    page = compose(Sheet("A3", several=Several("most", gap=3.0)), [six_four], (5, 5, 5, 5))
    assert len(page.laid) == 4
    turned = lay_most(PrintSize(15.0, 10.0), Box(0, 0, 210, 297), 2.0)
    assert len(turned) == 2 and not turned[0].turned
    more = lay_most(PrintSize(10.0, 14.0), Box(0, 0, 297, 210), 2.0)
    assert len(more) == 4 and more[0].turned, "two find room as they are, four when they are turned"
    assert lay_most(PrintSize(40.0, 30.0), Box(0, 0, 297, 210), 2.0) == []


sizes = st.lists(
    st.builds(PrintSize, st.floats(2, 30).map(lambda v: round(v, 2)), st.floats(2, 30).map(lambda v: round(v, 2))), min_size=1, max_size=5
)  # fmt: skip


@given(sizes, st.floats(0, 12), st.floats(150, 900), st.floats(150, 900))
def test_packed_prints_never_overlap_and_stay_in_the_room(
    found: list[PrintSize], gap: float, wide: float, high: float
) -> None:
    room = Box(7, 9, wide, high)
    laid = lay_packed(found, room, gap)
    for one in laid:
        size, box = found[one.number], one.box
        sides = (size.height_cm, size.width_cm) if one.turned else (size.width_cm, size.height_cm)
        assert (box.width, box.height) == pytest.approx((sides[0] * 10, sides[1] * 10)) and room.holds(box, 0.06)
    for a, b in itertools.combinations(laid, 2):
        assert (
            not a.box.grown(gap / 2 - 1e-3).meets(b.box.grown(gap / 2 - 1e-3))
            if gap > 0.01
            else not a.box.meets(b.box, 0.001)
        )
    assert [one.number for one in laid] == list(range(len(laid)))


def test_packing_turns_prints_and_says_what_is_left_out() -> None:
    two = [PrintSize(28.0, 10.0), PrintSize(10.0, 28.0)]
    laid = lay_packed(two, Box(0, 0, 297, 210), 2.0)
    assert len(laid) == 2 and laid[0].turned != laid[1].turned, "side by side only when one of them is turned"
    loose = lay_packed([PrintSize(30.0, 20.0), PrintSize(20.0, 30.0)], Box(0, 0, 700, 700), 0.0)
    block = around([one.box for one in loose])
    assert block.width * block.height == pytest.approx(2 * 300 * 200), (
        "turned alike nothing is wasted, as they are a fifth"
    )
    page = compose(Sheet("A4", several=Several("packed", takes=(2, 3))), [*two, PrintSize(20, 15)])
    assert page.left_out == (2,)
    with pytest.raises(RehearsalError, match="not all prints find room"):
        check_whole(page)


def test_cut_marks_stay_on_the_paper_and_off_the_prints() -> None:
    laid = lay_most(PrintSize(10.0, 10.0), Box(10, 10, 400, 250), 12.0)
    lines = cut_marks(laid, Box(0, 0, 420, 270))
    assert len(laid) == 6 and len(lines) == 6 * 8
    for x0, y0, x1, y1 in lines:
        assert (x0 == x1) != (y0 == y1) and min(x0, x1, y0, y1) >= 0
        assert not any(
            one.box.meets(Box(min(x0, x1), min(y0, y1), abs(x1 - x0) + 0.01, abs(y1 - y0) + 0.01)) for one in laid
        )
    narrow = lay_most(PrintSize(10.0, 10.0), Box(10, 10, 400, 250), 2.0)
    inner = cut_marks(narrow, Box(0, 0, 420, 270))
    block = Box(
        narrow[0].box.left,
        narrow[0].box.top,
        narrow[-1].box.right - narrow[0].box.left,
        narrow[-1].box.foot - narrow[0].box.top,
    )
    assert inner and not any(
        block.meets(Box(min(a, c), min(b, d), abs(c - a) + 0.01, abs(d - b) + 0.01)) for a, b, c, d in inner
    )


def test_what_no_hand_can_have_laid_is_named() -> None:
    nan, tiny = float("nan"), PrintSize(0.05, 0.05)
    for sheet, size in (
        (Sheet("A4", mat=Mat("over", nan, 5)), SIZE), (Sheet("A4", mat=Mat("float", show=-3)), SIZE), (Sheet("A4"), PrintSize(nan, 3)),
        (Sheet("A4", caption=Caption("x", size_mm=0)), SIZE), (Sheet("A4", several=Several("most", gap=nan)), SIZE),
        (Sheet("A4"), PrintSize(0, 3)),
    ):  # fmt: skip
        with pytest.raises(RehearsalError, match="cannot be laid so"):
            compose(sheet, [size])
    with pytest.raises(RehearsalError, match="cannot be laid so"):
        compose(Sheet("A4"), [SIZE], (nan, 0, 0, 0))
    with pytest.raises(RehearsalError, match="so many prints"):
        compose(Sheet("A1", several=Several("most", gap=0)), [tiny])
    with pytest.raises(RehearsalError, match="gaps leave no room"):
        compose(Sheet("A1", several=Several("grid", 10**6, 10**6, gap=0)), [SIZE])
    many = compose(Sheet("A1", several=Several("packed", gap=1)), [PrintSize(2, 3)] * 60)
    assert len(many.laid) == 40 and len(many.left_out) == 20
    assert sheet_size("1e9x1e9cm", SIZE) == (43, 30), "a name nobody can read is a sheet of its own"


# ---- rolls, own sheets


@pytest.mark.parametrize("margins", [(3.0, 5.0, 3.0, 5.0), (30.0, 5.0, 5.0, 5.0), (5.0, 20.0, 45.0, 20.0)])
@pytest.mark.parametrize("size", [PrintSize(60, 40), PrintSize(40, 60), PrintSize(90, 55), PrintSize(20, 30)])
def test_a_rolls_length_counts_the_ends_no_ink_reaches(size: PrintSize, margins: tuple[float, ...]) -> None:
    page = compose(Sheet("roll 610mm"), [size], margins)  # type: ignore[arg-type]
    top, right, foot, left = margins
    lead = max(20.0, top, foot)
    along, across = sorted((page.width, page.height), key=lambda side: abs(side - 609.6))[::-1]
    assert across == pytest.approx(609.6) and page.inked.holds(page.laid[0].box)
    sides = (size.width_cm * 10, size.height_cm * 10)
    assert along - 2 * lead == pytest.approx(min(sides) if max(sides) <= 609.6 - right - left else max(sides))
    # without a border its ends are the usual ones
    bare = compose(Sheet("roll 610mm", borderless=True), [size], margins)  # type: ignore[arg-type]
    assert min(abs(s - 40 - side) for s in (bare.width, bare.height) for side in sides) < 1e-6


def test_a_roll_is_used_by_the_shorter_way() -> None:
    assert roll_width_cm("roll 610mm") == pytest.approx(60.96) and roll_width_cm("A4") == 0 == roll_width_cm("roll 5mm")
    assert sheet_size("roll 610mm", PrintSize(90, 60)) == pytest.approx((94, 60.96)), "90 cm do not go across"
    assert sheet_size("roll 610mm", PrintSize(50, 40)) == pytest.approx((60.96, 44)), "40 cm of length are less than 50"
    assert sheet_size("roll 610mm", PrintSize(40, 50)) == pytest.approx((44, 60.96))
    lying, across = compose(Sheet("roll 610mm"), [PrintSize(90, 60)]), compose(Sheet("roll 610mm"), [PrintSize(50, 40)])
    assert lying.feeds_left and not across.feeds_left
    assert sheet_size("30x40cm", SIZE) == pytest.approx((40, 30)) and sheet_size(
        "30x40cm", PrintSize(2, 3)
    ) == pytest.approx((30, 40))
    assert sheet_size("no such", PrintSize(10, 5)) == (14, 9)


# ---- lettering


def test_lettering_lies_under_the_print_or_where_the_mat_covers_it() -> None:
    caption = Caption("Drying line", 3, 12, "A. Lind")
    number, text, name = compose(Sheet("A3+", caption=caption), [SIZE]).lettering
    assert (number.text, text.text, name.text) == ("3/12", "Drying line", "A. Lind")
    assert number.x == pytest.approx(46.5) and name.x == pytest.approx(436.5) and text.x == pytest.approx(241.5)
    assert number.y == pytest.approx(294.5 + 3 + 2.5)
    hidden = Sheet("A3+", caption=Caption("x", hidden=True), mat=Mat("float", show=12))
    page = compose(hidden, [SIZE])
    assert page.mat is not None and page.lettering[0].y - 2.5 > page.mat.opening.foot, "under the mat"
    inside = compose(Sheet("A3+", caption=Caption(signature="A. Lind", inside=True, opacity=60)), [SIZE]).lettering[0]
    assert inside.opacity == 60 and SIZE.height_cm * 10 + 34.5 - inside.y == pytest.approx(4)
    assert compose(Sheet("A3+"), [SIZE]).lettering == ()
    assert Caption(edition=3).number == "3" and Caption(of=12).number == ""
    box = lettering_box(name, 30.0)
    assert box.right == pytest.approx(name.x) and box.top == pytest.approx(name.y - 2.5)


def test_what_hangs_over_the_sheet_is_not_written() -> None:
    page = compose(Sheet("A4"), [PrintSize(40.0, 20.0)])
    assert page.bare == pytest.approx(1 - 297 * 200 / (297 * 210)), "only what lies on it covers it"
    with pytest.raises(RehearsalError, match="over the edge"):
        check_whole(page)
    check_whole(compose(Sheet("A3+"), [SIZE]))
    with pytest.raises(RehearsalError, match="no print finds room"):
        check_whole(compose(Sheet("A4", several=Several("most")), [PrintSize(40.0, 30.0)]))


def test_the_same_crop_is_kept_where_it_fits_already() -> None:
    crop = Crop(0.1, 0.1, 0.8, 0.8)
    frame, _sheet = with_even_border(Frame(crop, SIZE), Sheet("A3"), 10, 3000, 2000)
    assert np.isclose(frame.crop.x + frame.crop.width / 2, 0.5) and frame.crop.width <= 0.8 + 1e-9
