"""The visible step: how far one control goes until the print of this piece is seen to differ."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.testsheets.families import Family, control_family
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.tuning.picture import TunedPicture
from rehearsal.core.values.adjustments import declared
from rehearsal.core.values.recipe import Recipe
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
_GRAINS = {"stop": 0.01, "share": 0.01}
Box = tuple[int, int, int, int]

#: Predicted prints (m, 3), Lab D50, of a value of the control.
Printed = Callable[[float], np.ndarray]


def both_ways(below: Sequence[float], middle: float, above: Sequence[float], count: int) -> tuple[float, ...]:
    """At most so many values, rising, the middle among them: alternately from above and below, what one side lacks from the other.

    Args:
        below, above: values outward from the middle, nearest first.

    Raises:
        ValueError: count is under 1.
    """
    if count < 1:
        raise ValueError("a bracket has at least one value")
    up = min(len(above), count // 2)
    down = min(len(below), count - 1 - up)
    up = min(len(above), count - 1 - down)
    return (*reversed(below[:down]), middle, *above[:up])


def difference(one: np.ndarray, two: np.ndarray) -> float:
    """Median ΔE₀₀ of two predicted prints (m, 3) of the same pixels, Lab D50."""
    return float(np.median(delta_e_2000(one, two)))


def next_value(printed: Printed, start: float, end: float, apart: float = 1.0) -> float | None:
    """First value from start towards end whose print differs by the visible step, by 12 halvings; None when the end does not.

    Args:
        printed: prints of the pixels that count.
        apart: so many visible steps.
    """
    here, wanted = printed(start), VISIBLE * apart
    if start == end or difference(here, printed(end)) < wanted:
        return None
    near, far = start, end
    for _ in range(_HALVINGS):
        middle = (near + far) / 2
        near, far = (near, middle) if difference(here, printed(middle)) >= wanted else (middle, far)
    return far


def outward(printed: Printed, start: float, end: float, count: int, apart: float = 1.0) -> tuple[float, ...]:
    """At most so many values, each a visible step (or ``apart`` of them) further from start towards end than the one before."""
    found: list[float] = []
    while len(found) < count:
        following = next_value(printed, found[-1] if found else start, end, apart)
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


def family_words(name: str) -> str:
    """What is varied, within a sentence."""
    return word("family", word("adjustment_short", name))


def bracket_words(made: Bracket, count: int) -> str:
    """What is to be said of a bracket before it is printed; ``count`` variants were asked for."""
    name = family_words(made.name)
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


def bracket(
    opened: OpenRendition, name: str, count: int, values: Sequence[float] | None = None, boxes: Sequence[Box] = (), apart: float = 1.0
) -> Bracket:  # fmt: skip
    """A bracket of one control: of visible steps, or of given values.

    Args:
        count: at most so many variants, at least 1, of visible steps.
        values: rising, in the control's own unit; None for visible steps.
        boxes: pieces of the picture; none for the crop. apart: visible steps between neighbours.

    Raises:
        RehearsalError: no control has this name.
    """
    return family_bracket(opened, control_family(opened.rendition.recipe, name), count, values, boxes, apart)


def family_bracket(
    opened: OpenRendition, family: Family, count: int, values: Sequence[float] | None = None, boxes: Sequence[Box] = (),
    apart: float = 1.0,
) -> Bracket:  # fmt: skip
    """A bracket of any family, as :func:`bracket` makes one of a control."""
    piece = Prints(opened, family, boxes)
    chosen = tuple(values) if values is not None else piece.bracket(count, apart)
    if values is None:
        chosen = grained(chosen, family)
    return Bracket(family.name, chosen, family.middle, piece.differences(chosen), piece.share, values is None)


def beyond_bracket(
    opened: OpenRendition, family: Family, count: int, start: float, side: int, boxes: Sequence[Box] = (), apart: float = 1.0
) -> Bracket:  # fmt: skip
    """The untouched one, and values outward from one that was not enough.

    Args:
        start: the outermost value that was printed; side: above 0 upward, below 0 downward.
    """
    piece = Prints(opened, family, boxes)
    further = piece.outward(start, family.high if side > 0 else family.low, count - 1, apart)
    chosen = grained(tuple(sorted({family.middle, *further})), family)
    return Bracket(family.name, chosen, family.middle, piece.differences(chosen), piece.share, True)


def stepped_values(base: Recipe, name: str, step: float, count: int) -> tuple[float, ...]:
    """Values that step one control by hand: only upwards where that is declared, the rest both ways about the base; none twice.

    Args:
        step: in the control's own unit.
    """
    each = declared(name)
    first = 0 if each.test_upward else -((count - 1) // 2)
    total = base.total[name]
    return tuple(dict.fromkeys(each.clamp(total + (first + i) * step) for i in range(count)))


def grained(values: Sequence[float], family: Family) -> tuple[float, ...]:
    """Values as they are told and printed, none twice; the untouched one as it is."""
    grain = _GRAINS.get(family.unit, 1.0)
    rounded = (v if v == family.middle else round(round(v / grain) * grain, 6) for v in values)
    return tuple(dict.fromkeys(rounded))


class Prints:
    """Up to 4,000 pixels of pieces of a picture, printed along a family and all else as the recipe has it.

    Args:
        boxes: pieces, x, y, width, height in pixels of the master; none for the crop.
    """

    def __init__(self, opened: OpenRendition, family: Family, boxes: Sequence[Box] = ()) -> None:
        self._family, self._chain, self._pyramid = family, opened.chain(), opened.reading
        wanted = list(boxes) or [opened.box]
        each = _MOST_PIXELS // len(wanted)
        self._places = np.concatenate([self._pyramid.sample(*box, each)[1] for box in wanted])
        ends = (self.printed(end) for end in (family.low, family.high))
        moves = delta_e_2000(*ends) > _MOVES
        self.share, self._places = float(moves.mean()), self._places[moves]

    def printed(self, value: float) -> np.ndarray:
        """Predicted prints (m, 3), Lab D50, of the pixels that count."""
        recipe = self._family.recipe(value)
        return self._chain.printed(TunedPicture(self._pyramid, recipe).points(self._places) / 65535.0)

    def outward(self, start: float, end: float, count: int, apart: float = 1.0) -> tuple[float, ...]:
        """Values further and further towards an end; none where the pieces cannot show the control."""
        return () if self.share < _LEAST_SHARE else outward(self.printed, start, end, count, apart)

    def bracket(self, count: int, apart: float = 1.0) -> tuple[float, ...]:
        """:func:`both_ways`, with no more looked for than is taken."""
        family = self._family
        above = self.outward(family.middle, family.high, count // 2, apart)
        below = self.outward(family.middle, family.low, count - 1 - len(above), apart)
        lacking = count - 1 - len(above) - len(below)
        if lacking > 0 and len(above) == count // 2:
            above += self.outward(above[-1] if above else family.middle, family.high, lacking, apart)
        return both_ways(below, family.middle, above, count)

    def differences(self, values: Sequence[float]) -> tuple[float, ...]:
        """Median ΔE₀₀ of each value's print and the next one's; 0 where the control moves nothing."""
        if not len(self._places):
            return (0.0,) * (len(values) - 1)
        prints = [self.printed(v) for v in values]
        return tuple(difference(one, two) for one, two in pairwise(prints))
