"""Calm lines: known combs, edges, crumbs and grounds. The geometry of each field is its own check."""

import numpy as np
import pytest

from rehearsal.core.proof.contours import (
    CRUMB,
    calm_lines,
    dark_runs,
    is_dark,
    isolines,
    runs,
    smooth_field,
    without_crumbs,
)


def _comb(pitch: int, width: int) -> np.ndarray:
    """Strips of 4 in a field of 0, 200 × 240, between x 40 and 200."""
    field = np.zeros((200, 240))
    for x in range(40, 200, pitch):
        field[40:160, x : x + width] = 4
    return field


def test_folds_become_one_outline_and_wide_strips_stay_apart() -> None:
    assert len(isolines(smooth_field(_comb(16, 9)), (1.5,))[0][1]) > 5  # what a plain contour makes of it: a zebra
    ((_level, lines),) = calm_lines(smooth_field(_comb(16, 9)), (1.5,))
    assert len(lines) == 1
    assert lines[0][:, 0].min() == pytest.approx(40, abs=3) and lines[0][:, 1].max() == pytest.approx(160, abs=3)
    ((_level, wide),) = calm_lines(smooth_field(_comb(80, 40)), (1.5,))
    assert len(wide) == 2


def test_a_gap_between_two_things_stays_open_and_a_fold_as_wide_does_not() -> None:
    field = np.zeros((200, 240))
    field[40:160, 40:110] = 6
    field[40:160, 126:200] = 6
    assert len(calm_lines(smooth_field(field), (1.5,))[0][1]) == 2
    field[40:160, 110:126] = 0.9  # a fold: less, but not nothing
    assert len(calm_lines(smooth_field(field), (1.5,))[0][1]) == 1


def test_a_thin_tongue_is_cut_off_and_a_broad_piece_is_not_moved() -> None:
    field = np.zeros((200, 240))
    field[50:150, 50:150] = 4
    field[98:103, 150:230] = 4
    ((_level, lines),) = calm_lines(smooth_field(field), (2.0,))
    assert len(lines) == 1 and lines[0][:, 0].max() < 160
    straight = lines[0][(lines[0][:, 0] > 75) & (lines[0][:, 0] < 125) & (lines[0][:, 1] < 100), 1]
    assert np.abs(straight - 49.5).max() < 0.5


def test_of_a_steep_edge_one_line_is_drawn_and_of_a_slope_two() -> None:
    steep = np.zeros((200, 240))
    steep[40:160, 40:200] = 9
    assert calm_lines(smooth_field(steep), (1.5, 4.0))[1][1] == ()
    y, x = np.mgrid[0:200, 0:240]
    slope = np.clip(8 - 0.08 * np.hypot(x - 120, y - 100), 0, None)
    (_outer, first), (_inner, second) = calm_lines(slope, (1.5, 4.0))
    assert len(first) == 1 and len(second) == 1
    assert np.hypot(second[0][:, 0] - 120, second[0][:, 1] - 100) == pytest.approx(50, abs=1.5)


def test_a_line_has_the_larger_values_at_its_left_as_it_is_walked() -> None:
    y, x = np.mgrid[0:120, 0:120]
    line = isolines(40 - np.hypot(x - 60.0, y - 60.0), (20.0,))[0][1][0]
    ahead, inward = np.diff(line, axis=0)[3], np.array([60, 60]) - line[3]
    assert np.dot(np.array([-ahead[1], ahead[0]]), inward) > 0


def test_crumbs_carry_no_line_and_no_hatch() -> None:
    mask = np.zeros((200, 200), bool)
    mask[10:39, 10:39] = True  # 29 + 29 px
    mask[80:111, 80:111] = True  # 31 + 31 px
    assert CRUMB == 60
    kept = without_crumbs(mask)
    assert not kept[:60].any() and kept[80:111, 80:111].all()


def test_a_line_is_cut_where_its_ground_becomes_dark_but_not_at_specks() -> None:
    light = np.full((100, 300), 70.0)
    light[:, 150:] = 12
    light[48:53, 60:64] = 5
    line = np.stack([np.arange(5, 295.0), np.full(290, 50.0)], axis=1)
    made = dark_runs(line, is_dark(light))
    assert [dark for _run, dark in made] == [False, True]
    assert made[0][0][-1, 0] == pytest.approx(150, abs=4)
    assert made[1][0][0, 0] == made[0][0][-1, 0]  # no gap between the runs


def test_runs_of_a_line_that_is_too_short_to_cut() -> None:
    assert runs(np.zeros((1, 2)), np.ones(1, bool)) == []
    ((whole, holds),) = runs(np.arange(12.0).reshape(6, 2), np.ones(6, bool))
    assert len(whole) == 6 and holds
