"""What comes inside with one paper: against masks that are known, and against a count by hand."""

import numpy as np
import pytest

from rehearsal.core.proof.inside import Inside, by_hue, come_inside

LIMIT = 1.5


def _picture() -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """An orange and a blue patch on grey; both beyond there, the orange one inside here."""
    lab = np.tile(np.array([60.0, 0.0, 0.0], np.float32), (200, 300, 1))
    lab[40:100, 30:90] = (62, 60, 70)
    lab[120:180, 200:280] = (35, 30, -70)
    there = np.zeros((200, 300), np.float32)
    there[40:100, 30:90] = 4.0
    there[120:180, 200:280] = 6.0
    here = there.copy()
    here[40:100, 30:90] = 1.0
    return lab, here, there


def test_an_area_is_named_and_framed_where_it_lies() -> None:
    lab, here, there = _picture()
    (found,) = come_inside(lab, here, there, LIMIT)
    assert found.hue.endswith("orange") and found.share == pytest.approx(60 * 60 / (200 * 300) * 100)
    assert found.box == pytest.approx((30 / 300, 40 / 200, 60 / 300, 60 / 200))
    assert come_inside(lab, there, here, LIMIT) == () and come_inside(lab, there, there, LIMIT) == ()
    at_limit = np.where(here == 1.0, LIMIT, here)
    assert len(come_inside(lab, at_limit, there, LIMIT)) == 1, "what is just at the limit is inside"


def test_only_pixels_that_come_inside_are_counted() -> None:
    lab, here, there = _picture()
    there[40:100, 60] = 0.0  # a line that was never beyond: closed over, not counted
    (found,) = come_inside(lab, here, there, LIMIT)
    assert found.share == pytest.approx(60 * 59 / (200 * 300) * 100)


def test_hues_are_parted_and_crumbs_are_no_area() -> None:
    lab, here, there = _picture()
    here[120:180, 200:280] = 0.0
    blue, orange = come_inside(lab, here, there, LIMIT)
    assert "blue" in blue.hue and orange.hue.endswith("orange") and blue.share > orange.share
    there[:] = 0
    there[10:13, 10:13] = 5.0
    assert come_inside(lab, np.zeros_like(there), there, LIMIT) == (), "9 of 60 000 pixels are under 0.05 %"


def test_areas_of_a_hue_add_up() -> None:
    box = (0.0, 0.0, 0.1, 0.1)
    areas = (Inside("blue", 3.0, box), Inside("orange", 2.5, box), Inside("orange", 2.0, box))
    assert by_hue(areas) == [("orange", 4.5), ("blue", 3.0)] and by_hue(()) == []
