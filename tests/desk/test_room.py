"""Room for the pictures, and rooms under a paper: pure arithmetic."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QRectF

from rehearsal.desk.pair.geometry import Zoom, panes, place
from rehearsal.desk.theme import ROOMS, Room, contrast, luminance

_GROUNDS = ("ribbon", "rack", "chrome", "raised", "field")


def test_contrast_is_that_of_the_standard() -> None:
    """WCAG 2.1: black on white 21 : 1; #767676 is the lightest grey with 4.5 : 1 on white (common knowledge of the standard)."""
    assert contrast(0, 255) == pytest.approx(21.0) and luminance(255) == 1.0
    assert contrast(0x76, 255) >= 4.5 > contrast(0x77, 255)


@pytest.mark.parametrize("name", list(ROOMS))
@pytest.mark.parametrize("paper", [255, 243, 236, 225, 200, 170, 140, 120, 117])
def test_nothing_is_lighter_than_the_paper_and_all_can_be_read(name: str, paper: int) -> None:
    room = ROOMS[name].under(paper)
    assert _lightest(room) <= paper
    assert all(contrast(getattr(room, t), getattr(room, g)) >= 4.5 for t in ("text", "quiet") for g in _GROUNDS)
    assert contrast(room.on_surround, room.surround) >= 4.5 and contrast(room.light, room.on_light) >= 4.5
    assert all(contrast(getattr(room, m), getattr(room, g)) >= 3 for m in ("border", "mark") for g in _GROUNDS)


@pytest.mark.parametrize("name", list(ROOMS))
@pytest.mark.parametrize("paper", [116, 100, 60])
def test_under_a_paper_too_dark_for_contrast_all_is_its_grey_on_black(name: str, paper: int) -> None:
    room = ROOMS[name].under(paper)
    assert _lightest(room) <= paper and room.text == paper and room.chrome == 0


def _lightest(room: Room) -> int:
    return max(getattr(room, f) for f in room.__dataclass_fields__ if f != "name")


def test_a_paper_as_light_as_the_screen_changes_nothing() -> None:
    assert all(room.under(255) is room for room in ROOMS.values())


@pytest.mark.parametrize(
    ("width", "height", "area", "aim"),
    [(3, 2, (1254, 452), 0.40), (2, 3, (924, 668), 0.44), (3, 1, (1254, 642), 0.32)],
)
def test_the_pictures_share_of_a_window(width: int, height: int, area: tuple[int, int], aim: float) -> None:
    """The places of the pair in a window of 1280 × 800 with the tray open, standing at the right, and folded."""
    rects = panes(QRectF(0, 0, *area), True, width / height)
    placed = [place(r, width * 1000, height * 1000, Zoom()) for r in rects]
    share = sum(p.picture.width() * p.picture.height() for p in placed) / (1280 * 800)
    assert share >= aim
    assert not placed[0].mount.intersects(placed[1].mount) and not placed[0].mount.intersects(placed[1].head)
    assert all(p.pane.adjusted(-1, -1, 1, 1).contains(p.mount) for p in placed)


def test_a_wide_picture_lies_one_above_the_other_only_where_that_shows_more() -> None:
    wide = panes(QRectF(0, 0, 1254, 642), True, 3.0)
    assert wide[0].x() == wide[1].x() and wide[1].y() > wide[0].bottom()
    usual = panes(QRectF(0, 0, 1254, 642), True, 1.5)
    assert usual[0].y() == usual[1].y() and usual[1].x() > usual[0].right()
