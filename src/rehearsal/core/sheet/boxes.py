"""Rectangles on a sheet, in mm from its upper left corner as it is seen."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Box:
    """A rectangle."""

    left: float
    top: float
    width: float
    height: float

    @property
    def right(self) -> float:
        """Its right side."""
        return self.left + self.width

    @property
    def foot(self) -> float:
        """Its lower side."""
        return self.top + self.height

    def moved(self, right: float, down: float) -> Box:
        """At another place."""
        return Box(self.left + right, self.top + down, self.width, self.height)

    def grown(self, by: float) -> Box:
        """Larger (or smaller) by so much at each side."""
        return Box(self.left - by, self.top - by, self.width + 2 * by, self.height + 2 * by)

    def holds(self, other: Box, slack: float = 0.02) -> bool:
        """True when another one lies within it."""
        return (
            other.left >= self.left - slack and other.top >= self.top - slack
            and other.right <= self.right + slack and other.foot <= self.foot + slack
        )  # fmt: skip

    def meets(self, other: Box, slack: float = 1e-6) -> bool:
        """True when the two share more than an edge."""
        return (
            self.left < other.right - slack and other.left < self.right - slack
            and self.top < other.foot - slack and other.top < self.foot - slack
        )  # fmt: skip


def around(boxes: list[Box]) -> Box:
    """The smallest one that holds them all; raises ValueError for none."""
    left, top = min(b.left for b in boxes), min(b.top for b in boxes)
    return Box(left, top, max(b.right for b in boxes) - left, max(b.foot for b in boxes) - top)
