"""Where a printer really puts a page: measured on a sheet of crosses, found by least squares, taken out of what is sent.

All in mm of the sheet as it is fed: short side across, the edge that goes in first above. About the sheet's middle c a place p comes
out at c + M (p − c) + (right, down), with M = [[1 + across, −turned], [turned, 1 + along]] (an affine map whose turning is small: its
cosine differs from 1 by under 10⁻⁵ for a degree's fifth).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from rehearsal.core.errors import RehearsalError
from rehearsal.core.sheet.boxes import Box
from rehearsal.core.values.trueplace import TruePlace

#: Crosses lie so far inside the sheet's edges, mm, where its margins allow that.
INSET_MM = 45.0
#: The corners, and from each the two edges it is measured to. The first four must be told, the others tell the doubt.
ASKED = (
    ("upper left", "left"), ("upper left", "top"), ("upper right", "top"), ("lower right", "foot"),
    ("lower right", "right"), ("upper right", "right"), ("lower left", "left"), ("lower left", "foot"),
)  # fmt: skip
NEEDED = 4
#: No printer is as far off: a distance was misread.
_MOST_MM = 15.0
Asked = tuple[str, str]


def crosses(width: float, height: float, margins: tuple[float, float, float, float]) -> dict[str, tuple[float, float]]:
    """Where the crosses are printed on a sheet, as it is fed, by the corner they are near to."""
    top, right, foot, left = (max(side + 12.0, INSET_MM) for side in margins)
    if width - left - right < 40 or height - top - foot < 40:
        top = right = foot = left = min(width, height) / 4
    return {
        "upper left": (left, top), "upper right": (width - right, top), "lower right": (width - right, height - foot),
        "lower left": (left, height - foot),
    }  # fmt: skip


def planned(width: float, height: float, at: Mapping[str, tuple[float, float]]) -> dict[Asked, float]:
    """What each asked distance would be on a printer without fault."""
    return {(corner, edge): _distance(at[corner], edge, width, height) for corner, edge in ASKED}


def _distance(place: tuple[float, float], edge: str, width: float, height: float) -> float:
    return {"left": place[0], "top": place[1], "right": width - place[0], "foot": height - place[1]}[edge]


def find_true_place(
    width: float, height: float, at: Mapping[str, tuple[float, float]], measured: Mapping[Asked, float], when: str = ""
) -> TruePlace:
    """Shift, scale and turn of a printer from measured distances, by least squares.

    Args:
        measured: mm from the cross near a corner to an edge; the first four of ASKED at least. Of four only the feed's scale is found
            (the way across is held by the carriage's ruler; common practice, no source), of more that can tell it the other one too.

    Raises:
        RehearsalError: too few were measured, or one is too far from what was planned.
    """
    missing = [ask for ask in ASKED[:NEEDED] if ask not in measured]
    if missing:
        raise RehearsalError(
            "a distance is missing", f"{missing[0][0]} cross to the {missing[0][1]}", "measure it, in mm"
        )
    wanted = planned(width, height, at)
    for ask, value in measured.items():
        if abs(value - wanted[ask]) > _MOST_MM:
            raise RehearsalError(
                f"{value:g} mm from the {ask[0]} cross to the {ask[1]} cannot be", f"{wanted[ask]:.1f} mm were planned",
                "measure again, in mm",
            )  # fmt: skip
    rows, off = _equations(width, height, at, measured, wanted)
    apart = np.linalg.matrix_rank(rows) == rows.shape[1] and len(measured) > NEEDED + 1
    used = rows if apart else np.delete(rows, 2, axis=1)
    found, *_rest = np.linalg.lstsq(used, off, rcond=None)
    if not apart:
        found = np.insert(found, 2, 0.0)
    left = off - rows @ found
    free = len(measured) - used.shape[1]
    doubt = float(np.sqrt(np.sum(left**2) / free)) if free > 0 else 0.0
    right, down, across, along, turned = (float(v) for v in found)
    return TruePlace(right, down, across * 100, along * 100, turned * 1000, doubt, when)


def _equations(
    width: float,
    height: float,
    at: Mapping[str, tuple[float, float]],
    measured: Mapping[Asked, float],
    wanted: Mapping[Asked, float],
) -> tuple[np.ndarray, np.ndarray]:
    """Rows of right, down, across, along, turned, and how far each cross is off, to the right or down."""
    rows, off = [], []
    for ask, value in measured.items():
        corner, edge = ask
        x, y = at[corner][0] - width / 2, at[corner][1] - height / 2
        rows.append((1.0, 0.0, x, 0.0, -y) if edge in ("left", "right") else (0.0, 1.0, 0.0, y, x))
        more = value - wanted[ask]
        off.append(more if edge in ("left", "top") else -more)
    return np.array(rows), np.array(off)


@dataclass(frozen=True)
class Mending:
    """What must be sent so that a page comes out as it was planned, of a sheet as it is fed.

    Attributes:
        place: what the printer does; None for a printer nobody has measured.
    """

    width: float
    height: float
    place: TruePlace | None = None

    @property
    def scales(self) -> tuple[float, float]:
        """By what a print's width and height are multiplied before it is sent."""
        if self.place is None:
            return 1.0, 1.0
        return 1 / (1 + self.place.across / 100), 1 / (1 + self.place.along / 100)

    @property
    def turn(self) -> float:
        """By what the page is turned before it is sent, radians clockwise."""
        return 0.0 if self.place is None else -self.place.turned / 1000

    def sent(self, x: float, y: float) -> tuple[float, float]:
        """Where a place of the sheet must be sent so that it comes out there."""
        if self.place is None:
            return x, y
        made = np.linalg.solve(
            _matrix(self.place), np.array([x - self._middle[0], y - self._middle[1]]) - _shift(self.place)
        )
        return float(made[0]) + self._middle[0], float(made[1]) + self._middle[1]

    def box(self, box: Box) -> Box:
        """A print's box as it is sent, before the page is turned about its middle."""
        if self.place is None:
            return box
        wide, high = (side * scale for side, scale in zip((box.width, box.height), self.scales, strict=True))
        x, y = self.sent(box.left + box.width / 2, box.top + box.height / 2)
        x, y = _turned(x - self._middle[0], y - self._middle[1], -self.turn)
        return Box(x + self._middle[0] - wide / 2, y + self._middle[1] - high / 2, wide, high)

    @property
    def _middle(self) -> tuple[float, float]:
        return self.width / 2, self.height / 2


def _matrix(place: TruePlace) -> np.ndarray:
    turned = place.turned / 1000
    return np.array([[1 + place.across / 100, -turned], [turned, 1 + place.along / 100]])


def _shift(place: TruePlace) -> np.ndarray:
    return np.array([place.right, place.down])


def _turned(x: float, y: float, by: float) -> tuple[float, float]:
    """A place turned clockwise (y goes down) about the middle."""
    return x * float(np.cos(by)) - y * float(np.sin(by)), x * float(np.sin(by)) + y * float(np.cos(by))


def true_place_words(place: TruePlace) -> str:
    """What a printer does to a page, as a sentence."""
    side = f"{abs(place.right):.1f} mm to the {'right' if place.right > 0 else 'left'}"
    updown = f"{abs(place.down):.1f} mm {'down' if place.down > 0 else 'up'}"
    size = f"{place.across:+.2f} % across and {place.along:+.2f} % along"
    turned = f"turned by {abs(place.turned):.1f} mm in a metre {'clockwise' if place.turned > 0 else 'to the left'}"
    return f"It puts a page {side} and {updown}, {size}, {turned}; that is taken out of every page."
