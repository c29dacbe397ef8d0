"""Drift of a white: medians by hand, days by the calendar."""

from datetime import date

import pytest

from rehearsal.core.screen.drift import drift

READ = [("2026-10-21", 90.0), ("2026-10-31", 89.0), ("2026-11-10", 88.2), ("2026-11-18", 90.1), ("2026-11-25", 89.5)]


def test_the_expected_line_goes_on_as_was_read_between_calibrations() -> None:
    # by hand: −0.1, −0.08, (a rise of 2 %: set anew), −0.0857 a day; the median is −0.0857
    made = drift(list(reversed(READ)), "2026-11-18", 21)
    assert made.a_day == pytest.approx(-0.6 / 7)
    assert made.expected(date(2026, 12, 9)) == pytest.approx(89.5 - 14 * 0.6 / 7)
    assert made.expected(date(2026, 11, 24)) is None, "what was read is not expected"
    assert [len(p) for p in made.periods()] == [3, 2]


def test_due_days_and_hours_that_no_calendar_knows() -> None:
    assert drift(READ, "2026-11-18", 21).due == date(2026, 12, 9)
    assert drift(READ, "2026-11-18", 200, by_hours=True).due is None
    assert drift(READ, "", 21).due is None and drift(READ, "", 21).calibrated is None


def test_nothing_is_expected_of_one_check_or_none() -> None:
    assert drift(READ[:1], "", 21).a_day is None and drift(READ[:1], "", 21).expected(date(2026, 12, 1)) is None
    assert drift([], "", 21).expected(date(2026, 12, 1)) is None and drift([], "", 21).periods() == []
    assert drift([READ[2], READ[3]], "", 21).a_day is None, "a calibration is no drift"
