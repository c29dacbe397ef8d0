"""How a screen's white drifts: read points, the line it is expected to go on, and the day it is to be calibrated again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import pairwise

import numpy as np

#: A white that rises by more than this share between two checks was set anew.
_SET_ANEW = 0.01


@dataclass(frozen=True)
class Point:
    """A check: its day and the white that was read, cd/m²."""

    day: date
    white: float


@dataclass(frozen=True)
class Drift:
    """Drift of a white.

    Attributes:
        points: checks, oldest first.
        a_day: expected change in cd/m² a day: the median of what was read between checks; None without two of them.
        calibrated: the day of the last calibration; None when never.
        due: the day of the next one; None when it is counted in hours of light, which no calendar knows.
    """

    points: tuple[Point, ...]
    a_day: float | None
    calibrated: date | None
    due: date | None

    def expected(self, day: date) -> float | None:
        """The white expected on a day after the last check; None where nothing is known."""
        if not self.points or self.a_day is None or day < self.points[-1].day:
            return None
        return self.points[-1].white + self.a_day * (day - self.points[-1].day).days

    def periods(self) -> list[tuple[Point, ...]]:
        """The points cut wherever the white was set anew."""
        made: list[list[Point]] = []
        for point in self.points:
            if made and not _set_anew(made[-1][-1], point):
                made[-1].append(point)
            else:
                made.append([point])
        return [tuple(period) for period in made]


def _set_anew(one: Point, two: Point) -> bool:
    return two.white > one.white * (1 + _SET_ANEW)


def drift(
    readings: Sequence[tuple[str, float]], calibrated: str, interval_days: float, by_hours: bool = False
) -> Drift:
    """Drift from checks.

    Args:
        readings: ISO day and white in cd/m² of each check, in any order.
        calibrated: ISO day, empty when never.
        interval_days: between calibrations; ``by_hours``: they are counted in hours of light instead.
    """
    points = tuple(sorted((Point(date.fromisoformat(day), white) for day, white in readings), key=lambda p: p.day))
    slopes = [
        (two.white - one.white) / (two.day - one.day).days
        for one, two in pairwise(points)
        if two.day > one.day and not _set_anew(one, two)
    ]
    last = date.fromisoformat(calibrated) if calibrated else None
    due = None if last is None or by_hours else last + timedelta(days=round(interval_days))
    return Drift(points, float(np.median(slopes)) if slopes else None, last, due)
