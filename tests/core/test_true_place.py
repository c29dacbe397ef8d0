"""Where a printer really puts a page: recovered from a simulated skew, taken out again. The map is worked out here by complex numbers."""

import numpy as np
import pytest

from rehearsal.core.errors import RehearsalError
from rehearsal.core.sheet.boxes import Box
from rehearsal.core.sheet.crosssheet import draw_crosses
from rehearsal.core.sheet.trueplace import (
    ASKED,
    NEEDED,
    Asked,
    Mending,
    crosses,
    find_true_place,
    planned,
    true_place_words,
)
from rehearsal.core.values.trueplace import TruePlace

W, H = 329.0, 483.0
AT = crosses(W, H, (30, 5, 30, 5))


def printed(x: float, y: float, shift: complex, across: float, along: float, degrees: float) -> tuple[float, float]:
    """An independent printer: scaled, then turned clockwise about the middle, then shifted."""
    z = complex((x - W / 2) * across, (y - H / 2) * along) * np.exp(1j * np.radians(degrees)) + shift
    return z.real + W / 2, z.imag + H / 2


def measured(count: int = 8, noise: float = 0.0, **printer: float) -> dict[Asked, float]:
    """What a ruler reads on the sheet of crosses."""
    rng = np.random.default_rng(4)
    found = {}
    for corner, edge in ASKED[:count]:
        x, y = printed(
            *AT[corner],
            complex(printer["right"], printer["down"]),
            printer["across"],
            printer["along"],
            printer["degrees"],
        )
        found[(corner, edge)] = {"left": x, "top": y, "right": W - x, "foot": H - y}[edge] + float(rng.normal(0, noise))
    return found


SKEW = {"right": 1.3, "down": -0.7, "across": 1.0015, "along": 0.997, "degrees": 0.12}


def test_shift_scale_and_skew_are_found_and_taken_out() -> None:
    found = find_true_place(W, H, AT, measured(**SKEW), "2026-11-28")
    assert found.right == pytest.approx(1.3, abs=0.02) and found.down == pytest.approx(-0.7, abs=0.02)
    assert found.across == pytest.approx(0.15, abs=0.01) and found.along == pytest.approx(-0.3, abs=0.01)
    assert found.turned == pytest.approx(np.radians(0.12) * 1000, abs=0.02) and found.doubt < 0.02
    mending, wanted = Mending(W, H, found), Box(30, 40, 260, 390)
    sent, turn = mending.box(wanted), mending.turn
    corners = (
        (sent.left, sent.top, 30, 40),
        (sent.right, sent.top, 290, 40),
        (sent.left, sent.foot, 30, 430),
        (sent.right, sent.foot, 290, 430),
    )
    for x, y, right, down in corners:
        z = complex(x - W / 2, y - H / 2) * np.exp(1j * turn)  # the page is turned before it is sent
        made = printed(z.real + W / 2, z.imag + H / 2, complex(1.3, -0.7), 1.0015, 0.997, 0.12)
        assert made == pytest.approx((right, down), abs=0.05)


def test_four_distances_are_enough_for_shift_feed_and_skew() -> None:
    printer = {**SKEW, "across": 1.0}
    found = find_true_place(W, H, AT, measured(NEEDED, **printer))
    assert (found.right, found.down, found.along) == pytest.approx((1.3, -0.7, -0.3), abs=0.05)
    assert found.across == 0 and found.turned == pytest.approx(2.094, abs=0.05) and found.doubt == 0


def test_a_ruler_that_wavers_is_told_as_doubt() -> None:
    found = find_true_place(W, H, AT, measured(noise=0.2, **SKEW))
    assert 0.05 < found.doubt < 0.6 and found.right == pytest.approx(1.3, abs=0.4)


def test_what_is_sent_comes_out_where_it_was_planned() -> None:
    mending = Mending(W, H, TruePlace(1.0, 2.0, 0.3, -0.4, 1.5))
    for place in ((10.0, 20.0), (300.0, 450.0)):
        made = printed(*mending.sent(*place), complex(1.0, 2.0), 1.003, 0.996, np.degrees(0.0015))
        assert made == pytest.approx(place, abs=0.01), "the small angle of the model is good to a hundredth of a mm"
    nobody = Mending(W, H)
    assert nobody.sent(3, 4) == (3, 4) and nobody.scales == (1, 1) and nobody.turn == 0
    assert nobody.box(Box(1, 2, 3, 4)) == Box(1, 2, 3, 4)


def test_a_printer_without_fault_reads_as_planned() -> None:
    assert find_true_place(W, H, AT, planned(W, H, AT)) == TruePlace()
    assert planned(W, H, AT)[("upper left", "left")] == 45
    small = crosses(100, 150, (30, 5, 30, 5))
    assert all(20 < x < 80 and 20 < y < 130 for x, y in small.values())


def test_what_cannot_be_is_asked_again() -> None:
    few = measured(3, **SKEW)
    with pytest.raises(RehearsalError, match="a distance is missing"):
        find_true_place(W, H, AT, few)
    wrong = {**measured(**SKEW), ("upper left", "left"): 4.5}
    with pytest.raises(RehearsalError, match="cannot be"):
        find_true_place(W, H, AT, wrong)


def test_the_sentence_names_ways() -> None:
    words = true_place_words(TruePlace(1.2, -0.8, 0.1, -0.3, -2.0))
    assert "1.2 mm to the right and 0.8 mm up" in words and "to the left" in words and "−" not in words


def test_the_sheet_of_crosses_has_each_cross_at_its_place() -> None:
    drawn = draw_crosses(210.0, 297.0, crosses(210.0, 297.0, (5, 5, 5, 5)), "White Dune, rear")
    assert drawn.pixels.shape == (3508, 2480, 3) and len(drawn.lines) == 8 and len(drawn.parts) >= 10
    scale = 300 / 25.4
    for x, y in crosses(210.0, 297.0, (5, 5, 5, 5)).values():
        row, column = round(y * scale), round(x * scale)
        arm = round(8 * scale)
        assert (drawn.pixels[row, column - arm : column + arm + 1] == 0).all() and (
            drawn.pixels[row - arm : row + arm + 1, column] == 0
        ).all()
        assert (drawn.pixels[row, column + arm + 3 : column + arm + 40] == 255).all()
    assert not (drawn.pixels[:400] < 255).any(), "nothing near the edges"
