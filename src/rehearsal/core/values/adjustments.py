"""The adjustments of a picture, each declared once.

Ranges, sliders, words, JSON, the steps of test sheets and learning read these declarations; what an adjustment does to
pixels stands under its name in ``core/tuning/apply.py``, its words in ``core/values/words``.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any

from rehearsal.core.errors import RehearsalError
from rehearsal.core.values.pull import MOST_PULLED, Point, Pull, point_from_json, points_together

#: Values are kept to this many decimals, so that sixths that were added and taken away again leave nothing behind.
_DECIMALS = 6
_NEAR_STEP = 1e-5


@dataclass(frozen=True)
class Adjustment:
    """One adjustment.

    Attributes:
        name: its key.
        group: ``light`` or ``colour``.
        unit: ``stop``, ``percent``, ``mired``, ``lightness`` (L*), or empty for a plain scale.
        low, high: range of the sum over all steps.
        step: the smallest change by hand.
        test_step: usual step of a test sheet (common practice, no source); 0 when it is not stepped there.
        test_upward: a test sheet steps it only upwards from what it is.
        verdict_step: what one step of a verdict in the logbook means; 0 when prints do not teach it.
        test_unit: what one unit of a test sheet's field means.
    """

    name: str
    group: str
    unit: str
    low: float
    high: float
    step: float
    test_step: float = 0.0
    test_upward: bool = False
    verdict_step: float = 0.0
    test_unit: float = 1.0

    def snapped(self, value: float) -> float:
        """A value rounded, and exactly a whole number of steps where it all but is one."""
        steps = round(value / self.step)
        near = abs(value - steps * self.step) < _NEAR_STEP
        return round(steps * self.step if near else value, _DECIMALS)

    def clamp(self, value: float) -> float:
        """A value limited to the range."""
        return min(max(value, self.low), self.high)


#: In the order of use.
ADJUSTMENTS = {
    each.name: each
    for each in (
        Adjustment("lightness", "light", "stop", -2, 2, 1 / 6, 1 / 3, False, 1 / 6, 1 / 6),
        Adjustment("deepest", "light", "lightness", -20, 20, 1, 2),
        Adjustment("dark_half", "light", "", -50, 50, 1, 10, True),
        Adjustment("contrast", "light", "", -50, 50, 1, 8, False, 5),
        Adjustment("light_half", "light", "", -50, 50, 1),
        Adjustment("lightest", "light", "lightness", -20, 20, 1),
        Adjustment("strength", "colour", "percent", -50, 50, 1, 6),
        Adjustment("quiet", "colour", "percent", -50, 50, 1, 10),
        Adjustment("warmth", "colour", "mired", -50, 50, 1, 6, False, 5),
        Adjustment("tint", "colour", "mired", -50, 50, 1, 6),
    )
}


def declared(name: str) -> Adjustment:
    """The declaration of an adjustment; an unknown name is refused by name."""
    if name not in ADJUSTMENTS:
        raise RehearsalError(
            "there is no such adjustment", name, f"use one of {', '.join(ADJUSTMENTS)}, or a newer Rehearsal"
        )
    return ADJUSTMENTS[name]


@dataclass(frozen=True)
class Values:
    """Amounts of adjustments by name; those that are not there are zero. Made by :meth:`of`.

    Attributes:
        items: name and amount, in the order of ADJUSTMENTS, none of them zero.
        points: free points of the tone, dark to light.
        pulled: colours pulled.
    """

    items: tuple[tuple[str, float], ...] = ()
    points: tuple[Point, ...] = ()
    pulled: tuple[Pull, ...] = ()

    @classmethod
    def of(cls, given: Mapping[str, float] | None = None, **amounts: float) -> Values:
        """Values by name; an amount may lie as far out as from one end of the range to the other."""
        wanted = {**(given or {}), **amounts}
        for name in wanted:
            declared(name)
        kept = []
        for name, each in ADJUSTMENTS.items():
            most = each.high - each.low
            value = each.snapped(min(max(float(wanted.get(name, 0.0)), -most), most))
            if value:
                kept.append((name, value))
        return cls(tuple(kept))

    def __getitem__(self, name: str) -> float:
        return dict(self.items).get(declared(name).name, 0.0)

    def __iter__(self) -> Iterator[tuple[str, float]]:
        return iter(self.items)

    def __bool__(self) -> bool:
        return bool(self.items or self.points or self.pulled)

    @property
    def count(self) -> int:
        """How many things are changed."""
        return len(self.items) + len(self.points) + len(self.pulled)

    def having(self, name: str, value: float) -> Values:
        """A copy with one amount set."""
        return replace(self, items=Values.of({**dict(self.items), name: value}).items)

    def plus(self, other: Values, share: float = 1.0) -> Values:
        """The sum with a share of others."""
        items = Values.of({name: self[name] + share * other[name] for name in ADJUSTMENTS}).items
        points = points_together(self.points, (p.shared(share) for p in other.points))
        return Values(items, points, (*self.pulled, *(p.shared(share) for p in other.pulled)))

    def clamped(self) -> Values:
        """Each limited to its range."""
        return replace(self, items=Values.of({name: ADJUSTMENTS[name].clamp(v) for name, v in self.items}).items)

    def to_json(self) -> dict[str, Any]:
        """Plain values."""
        made: dict[str, Any] = dict(self.items)
        if self.points:
            made["points"] = [[p.at, p.to] for p in self.points]
        if self.pulled:
            made["pulled"] = [p.to_json() for p in self.pulled]
        return made

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> Values:
        """From plain values; an unknown name is refused by name."""
        amounts = {name: value for name, value in data.items() if name not in ("points", "pulled")}
        points = points_together((point_from_json(p) for p in data.get("points", ())), ())
        pulled = tuple(Pull.from_json(p) for p in data.get("pulled", ()))
        if len(pulled) > MOST_PULLED:
            raise RehearsalError("too many colours are pulled", str(len(pulled)), f"pull at most {MOST_PULLED}")
        return replace(cls.of(amounts), points=points, pulled=pulled)
