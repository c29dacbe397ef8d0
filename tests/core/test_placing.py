"""Where a print lies on its sheet."""

import pytest

from rehearsal.core.errors import RehearsalError
from rehearsal.core.sheet.placing import parse_sheet, place_print
from rehearsal.core.values.frame import PrintSize

SIZE = PrintSize(39.0, 26.0)
A3_PLUS = (483.0, 329.0)


def test_in_the_middle_and_with_a_heavier_foot() -> None:
    assert place_print(SIZE, A3_PLUS).borders == pytest.approx((34.5, 46.5, 34.5, 46.5))
    made = place_print(SIZE, A3_PLUS, "foot:15")
    top, right, foot, left = made.borders
    assert (right, left) == (pytest.approx(46.5), pytest.approx(46.5)) and foot / top == pytest.approx(1.15)
    assert (top, foot) == (pytest.approx(32.1, abs=0.05), pytest.approx(36.9, abs=0.05))
    assert top + foot + 260 == pytest.approx(329)
    assert place_print(SIZE, A3_PLUS, "foot:0").borders == pytest.approx((34.5, 46.5, 34.5, 46.5))


def test_at_a_place_from_the_upper_left_corner() -> None:
    assert place_print(SIZE, A3_PLUS, "20,30.5").borders == pytest.approx((30.5, 73.0, 38.5, 20.0))


@pytest.mark.parametrize(
    ("margins", "side"),
    [((35, 0, 0, 0), "top"), ((0, 47, 0, 0), "right"), ((0, 0, 35, 0), "foot"), ((0, 0, 0, 47), "left")],
)
def test_what_bare_paper_is_wanted_is_left(margins: tuple[float, float, float, float], side: str) -> None:
    place_print(SIZE, A3_PLUS, margins_mm=(34, 46, 34, 46))
    with pytest.raises(RehearsalError, match=f"bare paper at the {side}"):
        place_print(SIZE, A3_PLUS, margins_mm=margins)


@pytest.mark.parametrize("place", ["middle", "foot:x", "foot", "10", "-3,4", "10;20", ""])
def test_places_that_are_none(place: str) -> None:
    with pytest.raises(RehearsalError, match="place on the sheet"):
        place_print(SIZE, A3_PLUS, place)


def test_a_print_larger_than_its_sheet_is_named_so() -> None:
    with pytest.raises(RehearsalError, match="larger than its sheet"):
        place_print(PrintSize(50.0, 20.0), A3_PLUS)


def test_sheets_turn_with_the_print() -> None:
    upright = PrintSize(26.0, 39.0)
    assert parse_sheet("a3+", SIZE) == pytest.approx((483, 329)) and parse_sheet("A3+", upright) == pytest.approx(
        (329, 483)
    )
    assert parse_sheet("30x40cm", SIZE) == pytest.approx((400, 300)) and parse_sheet(
        "12x16in", upright
    ) == pytest.approx((304.8, 406.4))
    assert parse_sheet("roll 610mm", PrintSize(90, 60)) == pytest.approx((940, 609.6))
    with pytest.raises(RehearsalError, match="sheet is not understood"):
        parse_sheet("large", SIZE)
