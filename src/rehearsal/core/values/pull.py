"""Free points of the tone, and colours pulled: what they are, how shares of them add up, their plain values."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass, fields, replace
from typing import Any

from rehearsal.core.errors import RehearsalError

#: So many colours of a picture may be pulled.
MOST_PULLED = 8
#: A window is at least so many times as wide as its shift, or colours would fold over each other.
_WIDER = 1.8
_DECIMALS = 6


@dataclass(frozen=True)
class Point:
    """A free point of the tone: L* ``at`` becomes ``to``, both 0 to 100."""

    at: float
    to: float

    def shared(self, share: float) -> Point:
        """A share of it."""
        return Point(self.at, round(self.at + share * (self.to - self.at), _DECIMALS))


@dataclass(frozen=True)
class Pull:
    """A colour pulled, in Oklab.

    Attributes:
        lightness, chroma, hue: of the colour, hue in degrees.
        lighter, stronger, turned: what is added to lightness, chroma and hue in the middle of its window.
        lightness_width, chroma_width, hue_width: how far from the middle on each axis the window ends.
        name: key of its everyday name.
    """

    lightness: float
    chroma: float
    hue: float
    lighter: float = 0.0
    stronger: float = 0.0
    turned: float = 0.0
    lightness_width: float = 0.25
    chroma_width: float = 0.12
    hue_width: float = 35.0
    name: str = ""

    @property
    def acts(self) -> bool:
        """True when it changes anything."""
        return bool(self.lighter or self.stronger or self.turned)

    @property
    def widths(self) -> tuple[float, float, float]:
        """Half the window on lightness, chroma and hue: as it is set, and never so narrow that it folds."""
        pairs = (
            (self.lightness_width, self.lighter),
            (self.chroma_width, self.stronger),
            (self.hue_width, self.turned),
        )
        first, second, third = (max(width, _WIDER * abs(shift)) for width, shift in pairs)
        return first, second, third

    def shared(self, share: float) -> Pull:
        """A share of its shift, in the same window."""
        made = (round(share * v, _DECIMALS) for v in (self.lighter, self.stronger, self.turned))
        lighter, stronger, turned = made
        return replace(self, lighter=lighter, stronger=stronger, turned=turned)

    def to_json(self) -> dict[str, Any]:
        """Plain values."""
        return asdict(self)

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> Pull:
        """From plain values; an unknown key is refused by name, and so is what is no number or lies beyond what can be.

        Raises:
            RehearsalError: which key, and what to do.
        """
        known = {each.name: each for each in fields(cls)}
        for name, value in data.items():
            if name not in known:
                raise RehearsalError("a pulled colour holds something unknown", name, "use a newer Rehearsal")
            if name == "name":
                continue
            if not isinstance(value, (int, float)) or isinstance(value, bool) or not -1000 < value < 1000:
                raise RehearsalError("a pulled colour is no number there", name, "correct the recipe")
        missing = [name for name in ("lightness", "chroma", "hue") if name not in data]
        if missing:
            raise RehearsalError("a pulled colour lacks what it is", ", ".join(missing), "correct the recipe")
        figures = {name: float(value) for name, value in data.items() if name != "name"}
        made = cls(**figures, name=str(data.get("name", "")))
        if min(made.lightness_width, made.chroma_width, made.hue_width) <= 0:
            raise RehearsalError("the window of a pulled colour has no width", str(made.hue), "correct the recipe")
        return made


def point_from_json(data: Iterable[float]) -> Point:
    """A point from ``[at, to]``; raises RehearsalError for anything else."""
    try:
        at, to = (float(v) for v in data)
    except (TypeError, ValueError):
        raise RehearsalError("a free point is not [L* in, L* out]", str(data), "correct the recipe") from None
    if not (0 < at < 100 and 0 <= to <= 100):
        raise RehearsalError("a free point lies outside 0 to 100", f"{at:g}, {to:g}", "correct the recipe")
    return Point(at, to)


def points_together(one: Iterable[Point], two: Iterable[Point]) -> tuple[Point, ...]:
    """Points of two steps: those at the same L* add up what they do."""
    moved: dict[float, float] = {}
    for point in (*one, *two):
        moved[point.at] = moved.get(point.at, 0.0) + point.to - point.at
    made = (Point(at, round(min(max(at + by, 0.0), 100.0), _DECIMALS)) for at, by in sorted(moved.items()))
    return tuple(made)
