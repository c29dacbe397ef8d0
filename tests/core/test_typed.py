"""Numbers as people type them."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rehearsal.core.values.typed import NotRead, Numbers

CM = Numbers("cm", 0, 500, 1)
LUX = Numbers("lx", 5, 20_000)


@pytest.mark.parametrize(
    ("text", "cm"),
    [("24,5", 24.5), ("24.5", 24.5), ("24.5 cm", 24.5), ("250 mm", 25.0), ("250mm", 25.0), ("10 in", 25.4), ('10"', 25.4), ("10″", 25.4),
     ("9 1/2 inches", 24.13), ("9½ in", 24.13), ("1.2 m", 120.0), ("24,5 CM", 24.5), (",5", 0.5), (" 30 ", 30.0), ("30\u00a0cm", 30.0)],
)  # fmt: skip
def test_lengths_in_their_own_units(text: str, cm: float) -> None:
    # an inch is 25.4 mm: ISO 80000-3, from memory
    assert CM.read(text) == pytest.approx(cm)


@pytest.mark.parametrize(
    ("unit", "text", "value"),
    [("in", "25,4 cm", 10.0), ("in", "10", 10.0), ("mm", "1 in", 25.4), ("lx", "1 200 lux", 1200.0), ("lx", "1.234,5", 1234.5),
     ("lx", "1,234.5", 1234.5), ("lx", "1'200", 1200.0), ("K", "5500K", 5500.0), ("K", "5 500 k", 5500.0), ("cd/m²", "100 cd/m2", 100.0),
     ("cd/m²", "60,5", 60.5), (": 1", "700:1", 700.0), ("%", "50%", 50.0), ("days", "48 hours", 2.0), ("hours", "1 day", 24.0),
     ("m of roll", "300 cm", 3.0), ("", "3", 3.0), ("", "−1", -1.0)],
)  # fmt: skip
def test_each_unit(unit: str, text: str, value: float) -> None:
    assert Numbers(unit, -1, 100_000, 1).read(text) == pytest.approx(value)


@pytest.mark.parametrize(
    ("name", "text", "value"),
    [("lightness", "+0.5", 0.5), ("lightness", "-1/3", -1 / 3), ("lightness", "−⅓ stop", -1 / 3), ("lightness", "1⅙ stops", 7 / 6),
     ("lightness", "+½", 0.5), ("strength", "12 %", 12), ("lightness", "1,5", 1.5), ("warmth", "-6 mired", -6), ("deepest", "3 L*", 3)],
)  # fmt: skip
def test_amounts(name: str, text: str, value: float) -> None:
    assert Numbers.of_adjustment(name).read(text) == pytest.approx(value)


@pytest.mark.parametrize(
    ("numbers", "text", "said"),
    [(CM, "", "no number"), (CM, "much", "no number"), (CM, "1/0", "no number"), (CM, "10 kg", "mm, cm or in"),
     (CM, "10 K", "mm, cm or in"),
     (CM, "245 in", "0.0 cm to 500.0 cm"), (CM, "-3", "0.0 cm to 500.0 cm"),
     (LUX, "50 cm", "this is in lx"), (LUX, "1.200", "1200 or 1.200"),
     (LUX, "1,200", "1200 or 1.200"), (Numbers("", 1, 9), "2 cm", "plain number"),
     (Numbers.of_adjustment("lightness"), "5", "−2 stops to +2 stops"),
     (Numbers.of_adjustment("lightness"), "20 %", "this is in stop")],
)  # fmt: skip
def test_what_cannot_be_read_says_why(numbers: Numbers, text: str, said: str) -> None:
    with pytest.raises(NotRead) as why:
        numbers.read(text)
    assert said in str(why.value) and f"“{text.strip() if 'number' not in said else ''}" in str(why.value)


def test_thousands_are_asked_only_where_they_may_be_meant() -> None:
    assert CM.read("1,250") == pytest.approx(1.25)  # no print has 1250 cm beside it that is shown in tenths
    assert Numbers("%", 0, 100).read("1,250") == pytest.approx(1.25)  # there are no thousands here
    assert Numbers("mm", 0, 2000, 1).read("1,250") == pytest.approx(1.25)  # tenths are shown: a comma is theirs
    assert LUX.read("12,5") == pytest.approx(12.5)


@given(
    st.floats(0, 500),
    st.sampled_from([".", ","]),
    st.sampled_from([("", 1.0), (" mm", 10.0), ("cm", 1.0), (" in", 1 / 2.54)]),
)
def test_what_is_written_is_read_again(value: float, mark: str, unit: tuple[str, float]) -> None:
    text = f"{value * unit[1]:.4f}".replace(".", mark) + unit[0]
    assert CM.read(text) == pytest.approx(value, abs=2e-4)


@given(st.text(max_size=20))
def test_any_text_is_a_number_or_a_sentence(text: str) -> None:
    try:
        assert 0 <= CM.read(text) <= 500
    except NotRead as why:
        assert str(why).endswith(".")


def test_numbers_are_written_with_a_point_and_a_true_minus() -> None:
    assert CM.written(24.5) == "24.5 cm" and Numbers("", -5, 5).written(-1) == "−1" and LUX.written(500.4) == "500 lx"
