"""A printer's true place from end to end: crosses printed by the simulated press, measured in the print, taken out of the next page."""

from __future__ import annotations

import numpy as np
import pytest

from rehearsal.core.icc import Profile
from rehearsal.core.sheet.composing import compose
from rehearsal.core.sheet.crosssheet import draw_crosses
from rehearsal.core.sheet.lettering import Ink
from rehearsal.core.sheet.page import DrawnPage, as_fed, draw_page
from rehearsal.core.sheet.trueplace import ASKED, Mending, crosses, find_true_place
from rehearsal.core.values.frame import PrintSize
from rehearsal.core.values.sheet import Sheet
from rehearsal.devices.simulated.press import LoadedSheet, SeenPrint, SimulatedPress

W, H = 210.0, 297.0


def _printed(press: SimulatedPress, page: DrawnPage, profile: Profile) -> SeenPrint:
    return press.print_page(page.pixels, page.ppi / 25.4, LoadedSheet(profile, W, H, "gloss"), feed="rear")


def _dark(seen: SeenPrint) -> np.ndarray:
    """How much of the paper's light is taken, 0 to 1."""
    return np.clip(1 - seen.xyz[..., 1] / seen.white[1], 0, 1)


def _cross(dark: np.ndarray, scale: float, x: float, y: float) -> tuple[float, float]:
    """The middle of a cross near a place, mm: the centroid of ink across each of its arms, away from where they meet."""
    reach = 3.0

    def middle(part: np.ndarray, first: float) -> float:
        return (first + (part * np.arange(len(part))).sum() / part.sum() + 0.5) / scale

    def arm(along: float) -> slice:
        return slice(round(along * scale) - 6, round(along * scale) + 6)

    rows = slice(round((y - reach) * scale), round((y + reach) * scale))
    columns = slice(round((x - reach) * scale), round((x + reach) * scale))
    level = [middle(dark[rows, arm(x + away)].sum(axis=1), rows.start) for away in (-5, 5)]
    upright = [middle(dark[arm(y + away), columns].sum(axis=0), columns.start) for away in (-5, 5)]
    return sum(upright) / 2, sum(level) / 2


@pytest.mark.parametrize("machine", ["Skarn 24"])
def test_a_skew_is_measured_and_the_next_page_lies_where_it_was_planned(machine: str, gloss: Profile) -> None:
    press, at = SimulatedPress(machine), crosses(W, H, (5, 5, 5, 5))
    seen = _printed(press, draw_crosses(W, H, at, "x"), gloss)
    measured, dark = {}, _dark(seen)
    dark[dark < 0.05] = 0
    for corner, edge in ASKED:
        x, y = _cross(dark, seen.per_mm, *at[corner])
        measured[corner, edge] = {"left": x, "top": y, "right": W - x, "foot": H - y}[edge]
    found, truth = find_true_place(W, H, at, measured), press._place("rear")
    assert (found.right, found.down) == pytest.approx((truth.right, truth.down), abs=0.05)
    assert found.along / 100 * H / 2 == pytest.approx(truth.along / 100 * H / 2, abs=0.05)
    assert found.turned / 1000 * H / 2 == pytest.approx(truth.turned / 1000 * H / 2, abs=0.05) and found.doubt < 0.05

    page = compose(Sheet("A4", place="40,60"), [PrintSize(10.0, 15.0)])

    def make(_number: int, size: PrintSize, room: object) -> None:
        room(size.pixels(200))[...] = 0  # type: ignore[operator]

    drawn = as_fed(draw_page(page, 200, 3, np.uint8, make, Ink(np.zeros(3)), Mending(W, H, found)), page.feeds_left)
    plain = as_fed(draw_page(page, 200, 3, np.uint8, make, Ink(np.zeros(3)), Mending(W, H)), page.feeds_left)
    corners = []
    for each in (drawn, plain):
        print_ = _printed(press, each, gloss)
        dark = _dark(print_)
        dark /= dark.max()
        scale = print_.per_mm
        middle_row, middle_column = round((60 + 75) * scale), round((40 + 50) * scale)
        left = (middle_column - dark[middle_row, :middle_column].sum()) / scale
        top = (middle_row - dark[:middle_row, middle_column].sum()) / scale
        corners.append((left, top, dark[middle_row].sum() / scale, dark[:, middle_column].sum() / scale))
    assert corners[0] == pytest.approx((40, 60, 100, 150), abs=0.07)
    assert max(abs(a - b) for a, b in zip(corners[1], (40, 60, 100, 150), strict=True)) > 0.15, (
        "without it the page is off"
    )
