"""The visible step: how far one control goes until the print of this piece is seen to differ."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.tuning.picture import TunedPicture
from rehearsal.core.values.adjustments import declared
from rehearsal.core.values.words import counted, in_row, word

#: Median ΔE₀₀ of neighbours that an eye tells apart on two prints side by side, and under which they print alike
#: (common practice, no source).
VISIBLE, ALIKE = 1.5, 0.5
#: A pixel counts when the ends of the range differ by more than this there, ΔE₀₀.
_MOVES = 0.5
#: With less of the piece moving it cannot show the control.
_LEAST_SHARE = 0.02
_MOST_PIXELS = 4_000
_HALVINGS = 12
#: A bracket's visible steps are told and printed so finely, by unit; others in whole units.
_GRAINS = {"stop": 0.01}

#: Predicted prints (m, 3), Lab D50, of a value of the control.
Printed = Callable[[float], np.ndarray]


@dataclass(frozen=True)
class VisibleSteps:
    """Values of one control whose prints are a visible step apart.

    Attributes:
        name: of the control.
        middle: the untouched value.
        below, above: values outward from the middle, nearest first, each a median of 1.5 ΔE₀₀ from the one before; empty
            where the range ends before.
        share: of the piece's pixels that the control moves, 0 to 1.
    """

    name: str
    middle: float
    below: tuple[float, ...]
    above: tuple[float, ...]
    share: float

    @property
    def shows(self) -> bool:
        """False when the piece cannot show this control: it moves less than 2 % of it."""
        return self.share >= _LEAST_SHARE

    def bracket(self, count: int) -> tuple[float, ...]:
        """At most so many values, rising, the middle among them: alternately from above and below, what one side lacks from the other.

        Raises:
            ValueError: count is under 1.
        """
        if count < 1:
            raise ValueError("a bracket has at least one value")
        up = min(len(self.above), count // 2)
        down = min(len(self.below), count - 1 - up)
        up = min(len(self.above), count - 1 - down)
        return (*reversed(self.below[:down]), self.middle, *self.above[:up])


def difference(one: np.ndarray, two: np.ndarray) -> float:
    """Median ΔE₀₀ of two predicted prints (m, 3) of the same pixels, Lab D50."""
    return float(np.median(delta_e_2000(one, two)))


def next_value(printed: Printed, start: float, end: float) -> float | None:
    """First value from start towards end whose print differs by the visible step, by 12 halvings; None when the end does not.

    Args:
        printed: prints of the pixels that count.
    """
    here = printed(start)
    if start == end or difference(here, printed(end)) < VISIBLE:
        return None
    near, far = start, end
    for _ in range(_HALVINGS):
        middle = (near + far) / 2
        near, far = (near, middle) if difference(here, printed(middle)) >= VISIBLE else (middle, far)
    return far


def outward(printed: Printed, start: float, end: float, count: int) -> tuple[float, ...]:
    """At most so many values, each a visible step further from start towards end than the one before."""
    found: list[float] = []
    while len(found) < count:
        following = next_value(printed, found[-1] if found else start, end)
        if following is None:
            break
        found.append(following)
    return tuple(found)


@dataclass(frozen=True)
class Bracket:
    """Values of one control for a test sheet, and how far their prints lie apart.

    Attributes:
        values: rising, the untouched one among them.
        untouched: what the recipe does now.
        differences: median ΔE₀₀ of each print and the next one, over what the control moves in this piece.
        share: of the piece that the control moves, 0 to 1.
        by_eye: True when the values are visible steps, False when a step was given.
    """

    name: str
    values: tuple[float, ...]
    untouched: float
    differences: tuple[float, ...]
    share: float
    by_eye: bool

    @property
    def shows(self) -> bool:
        """False when the piece cannot show this control: it moves less than 2 % of it."""
        return self.share >= _LEAST_SHARE

    @property
    def alike(self) -> tuple[int, ...]:
        """Numbers, from 1, of the variants that print like the next one: a waste of paper."""
        return tuple(i for i, d in enumerate(self.differences, 1) if d < ALIKE)


def bracket_words(made: Bracket, count: int) -> str:
    """What is to be said of a bracket before it is printed; ``count`` variants were asked for."""
    name = word("adjustment_short", made.name)
    if not made.shows:
        return f"This picture cannot show {name}: it moves {made.share * 100:.1f} % of it."
    if made.by_eye and len(made.values) == 1 < count:
        return f"However far {name} goes from here, no step of it is visible in this picture: try another control."
    said = []
    if made.alike:
        which = in_row([f"{i} and {i + 1}" for i in made.alike])
        said.append(f"These print alike ({_about([made.differences[i - 1] for i in made.alike])}), a waste: {which}.")
    if made.differences and not said:
        said.append(f"Each differs from the next by {_about(made.differences)}, the median over what {name} moves.")
    if made.by_eye and len(made.values) < count:
        said.append(f"No further visible step lies within its range: {counted(len(made.values), 'variant')}.")
    return " ".join(said)


def _about(differences: Sequence[float]) -> str:
    low, high = (f"{each(differences):.1f}" for each in (min, max))
    return f"ΔE₀₀ {low}" if low == high else f"ΔE₀₀ {low} to {high}"


def visible_steps(
    opened: OpenRendition, name: str, count: int = 8, box: tuple[int, int, int, int] | None = None
) -> VisibleSteps:
    """Visible steps of one control on a piece of a picture, from what the recipe does now, by the rendition's own chain.

    Args:
        count: at most so many values on each side.
        box: the piece as x, y, width, height in pixels of the master; the crop when None.

    Raises:
        RehearsalError: no control has this name.
    """
    return _Piece(opened, name, box).steps(count)


def bracket(opened: OpenRendition, name: str, count: int, values: Sequence[float] | None = None) -> Bracket:
    """A bracket of one control over the crop: of visible steps, or of given values.

    Args:
        count: at most so many variants, at least 1, of visible steps.
        values: rising, in the control's own unit; None for visible steps.

    Raises:
        RehearsalError: no control has this name.
    """
    piece = _Piece(opened, name, None)
    chosen = tuple(values) if values is not None else piece.steps(count).bracket(count)
    if values is None:
        grain = _GRAINS.get(declared(name).unit, 1.0)
        chosen = tuple(dict.fromkeys(v if v == piece.middle else round(round(v / grain) * grain, 6) for v in chosen))
    return Bracket(name, chosen, piece.middle, piece.differences(chosen), piece.share, values is None)


class _Piece:
    """Up to 4,000 pixels of a piece, printed with one control set to any value and all else as the recipe has it."""

    def __init__(self, opened: OpenRendition, name: str, box: tuple[int, int, int, int] | None) -> None:
        self._each, self._chain = declared(name), opened.chain()
        self._recipe, self._pyramid = opened.rendition.recipe, opened.reading
        self.middle = self._each.clamp(self._recipe.total[name])
        _plain, self._places = self._pyramid.sample(*(opened.box if box is None else box), _MOST_PIXELS)
        ends = (self.printed(end) for end in (self._each.low, self._each.high))
        moves = delta_e_2000(*ends) > _MOVES
        self.share, self._places = float(moves.mean()), self._places[moves]

    def printed(self, value: float) -> np.ndarray:
        """Predicted prints (m, 3), Lab D50, of the pixels that count."""
        recipe = self._recipe.with_total(self._each.name, value)
        return self._chain.printed(TunedPicture(self._pyramid, recipe).points(self._places) / 65535.0)

    def steps(self, count: int) -> VisibleSteps:
        """Outward on both sides, at most so many each; none where the piece cannot show the control."""
        each = self._each
        if self.share < _LEAST_SHARE:
            return VisibleSteps(each.name, self.middle, (), (), self.share)
        below, above = (outward(self.printed, self.middle, end, count) for end in (each.low, each.high))
        return VisibleSteps(each.name, self.middle, below, above, self.share)

    def differences(self, values: Sequence[float]) -> tuple[float, ...]:
        """Median ΔE₀₀ of each value's print and the next one's; 0 where the control moves nothing."""
        if not len(self._places):
            return (0.0,) * (len(values) - 1)
        prints = [self.printed(v) for v in values]
        return tuple(difference(one, two) for one, two in pairwise(prints))
