"""Areas of one name and cause as one row; which figures of candidates are worth a bar."""

from __future__ import annotations

from dataclasses import replace

import pytest

from rehearsal.core.proof.advice import CandidateFigures
from rehearsal.core.proof.areas import Area
from rehearsal.core.proof.grouping import TELLINGS, grouped, telling
from rehearsal.core.values.rendering import Rendering

_BROWN = Area(
    share=3.0, cause="too_dark", mixed=False, at_edge=False, hue="brown", median=4.0, p99=6.0, modelling=0.9,
    contrast_kept=None, box=(0, 0, 0.1, 0.1),
)  # fmt: skip
_ONE = CandidateFigures(
    rendering=Rendering(), score=2.0, felt_change=2.0, fitted_change=1.0, modelling=0.9, flat=0.2, flat_depths=0.0,
    flat_areas=0.0, change_outside=1.0, black_depth=17.0, shadow_separation=8, lightness=50.0, contrast=1.0,
)  # fmt: skip


def test_areas_of_one_name_and_cause_are_one_row_with_merged_figures() -> None:
    areas = [
        _BROWN, replace(_BROWN, share=1.0, median=8.0, p99=9.0, modelling=0.5), replace(_BROWN, hue="blue", share=3.5),
        replace(_BROWN, cause="too_saturated", share=0.5), replace(_BROWN, share=0.2, modelling=None, p99=2.0),
    ]  # fmt: skip
    rows = grouped(areas)
    assert [(r.hue, r.cause, r.count) for r in rows] == [
        ("brown", "too_dark", 3), ("blue", "too_dark", 1), ("brown", "too_saturated", 1),
    ]  # fmt: skip
    brown = rows[0]
    assert brown.members == (0, 1, 4) and brown.share == pytest.approx(4.2)
    assert brown.median == pytest.approx((3 * 4 + 1 * 8 + 0.2 * 4) / 4.2) and brown.worst == 9.0
    assert brown.modelling == pytest.approx((3 * 0.9 + 1 * 0.5) / 4), "only those that have anything to show"
    assert sum(r.share for r in rows) == pytest.approx(sum(a.share for a in areas))


def test_what_differs_in_cause_stays_apart() -> None:
    rows = grouped([_BROWN, replace(_BROWN, mixed=True), replace(_BROWN, at_edge=True)])
    assert [r.count for r in rows] == [1, 1, 1]
    assert grouped([replace(_BROWN, modelling=None)])[0].modelling is None and grouped([]) == []


@pytest.mark.parametrize(
    ("change", "keys"),
    [
        ({}, []),
        ({"felt_change": 2.29}, []), ({"felt_change": 2.31}, ["differs_by"]), ({"flat": 1.1}, []), ({"flat": 1.21}, ["detail_lost"]),
        ({"shadow_separation": 7}, ["steps_merge"]), ({"felt_change": 2.31, "flat": 9.0}, ["detail_lost", "differs_by"]),
    ],
)  # fmt: skip
def test_only_figures_that_differ_to_the_eye_get_a_bar(change: dict[str, float], keys: list[str]) -> None:
    assert [t.key for t in telling([_ONE, replace(_ONE, **change)])] == keys


def test_shorter_is_better_in_every_row() -> None:
    worse = replace(_ONE, felt_change=3.0, flat=5.0, shadow_separation=3)
    assert all(t.value(worse) > t.value(_ONE) for t in TELLINGS)
