"""A place of the picture, as a value; what it weighs at each pixel stands in ``core/tuning/places.py``."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any

from rehearsal.core.errors import RehearsalError


@dataclass(frozen=True)
class Ellipse:
    """An ellipse with a soft edge, in fractions of the uncropped master's long side.

    Attributes:
        centre: x and y from the upper left corner.
        radii: half axes.
        angle: by which the first axis is turned, in degrees clockwise as seen.
        fade: share of the radius over which it fades from its inside to its outline, 0 to 1.
        invert: everything but this place.
    """

    centre: tuple[float, float]
    radii: tuple[float, float]
    angle: float = 0.0
    fade: float = 0.5
    invert: bool = False

    def __post_init__(self) -> None:
        if min(self.radii) <= 0 or not 0 <= self.fade <= 1:
            raise RehearsalError("a place needs radii above 0 and a fade from 0 to 1", str(self), "correct the recipe")

    def to_json(self) -> dict[str, Any]:
        """Plain values, with the kind of the place."""
        data = asdict(self)
        return {"kind": "ellipse", **data, "centre": list(self.centre), "radii": list(self.radii)}

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> Ellipse:
        """From plain values; an unknown key is refused by name."""
        known = {"kind", "centre", "radii", "angle", "fade", "invert"}
        unknown = sorted(set(data) - known)
        if unknown:
            raise RehearsalError(
                "a place of the recipe holds something unknown", ", ".join(unknown), "use a newer Rehearsal"
            )
        (x, y), (a, b) = data["centre"], data["radii"]
        return cls(
            (float(x), float(y)), (float(a), float(b)), float(data.get("angle", 0.0)), float(data.get("fade", 0.5)),
            bool(data.get("invert", False)),
        )  # fmt: skip


#: Another kind of place joins here, and in ``weight``.
Place = Ellipse
_KINDS = {"ellipse": Ellipse}


def place_from_json(data: Mapping[str, Any]) -> Place:
    """A place from plain values; another kind is refused by name."""
    kind = str(data.get("kind"))
    if kind not in _KINDS:
        raise RehearsalError("the recipe has a place of an unknown kind", kind, "use a newer Rehearsal")
    return _KINDS[kind].from_json(data)
