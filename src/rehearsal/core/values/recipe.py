"""The recipe of a take: an ordered tuple of steps, each with its origin, its values and perhaps a place.

The values of the steps that are on add up, each times its strength (and, pixel by pixel, times the weight of its place);
the sum is limited to the ranges and applied once.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from rehearsal.core.errors import RehearsalError
from rehearsal.core.values.adjustments import ADJUSTMENTS, Values
from rehearsal.core.values.place import Place, place_from_json
from rehearsal.core.values.pull import Point, Pull

#: The arithmetic this program applies. Recipes of an older one keep its number, and are shown by the present one.
MATHS = 2
LIGHT, LEARNT, PICTURE, HAND, AREA, PLACE, MATCH = "light", "learnt", "picture", "hand", "area", "place", "match"
_HABIT = "habit:"
#: A free point that moves its L* by less stays where it is.
_STILL = 0.01
_PLAIN = (LIGHT, LEARNT, PICTURE, HAND, AREA, PLACE, MATCH)


def habit_origin(name: str) -> str:
    """Origin of a step that came from a habit."""
    return _HABIT + name


def habit_of(origin: str) -> str:
    """Name of the habit a step came from; empty for other origins."""
    return origin.removeprefix(_HABIT) if origin.startswith(_HABIT) else ""


@dataclass(frozen=True)
class Step:
    """One step.

    Attributes:
        origin: ``light`` (for the light the print is seen in), ``learnt``, ``picture`` (kept with the picture), ``habit:NAME``,
            ``hand``, ``area``, ``place`` or ``match``.
        values: what it adds.
        strength: share of the values that counts, 0 to 1.
        place: where it acts; None is everywhere.
    """

    origin: str = HAND
    values: Values = field(default_factory=Values)
    name: str = ""
    strength: float = 1.0
    on: bool = True
    place: Place | None = None

    def __post_init__(self) -> None:
        if self.origin not in _PLAIN and not habit_of(self.origin):
            raise RehearsalError("the recipe has a step of an unknown origin", self.origin, "use a newer Rehearsal")
        if not 0 <= self.strength <= 1:
            raise RehearsalError(
                "the strength of a step lies between 0 and 1", str(self.strength), "correct the recipe"
            )

    @property
    def acts(self) -> bool:
        """True when it changes anything."""
        return self.on and self.strength > 0 and bool(self.values)

    @property
    def is_single(self) -> bool:
        """True for an origin of which a recipe holds one step at most."""
        return self.origin in (LIGHT, LEARNT, PICTURE) or bool(habit_of(self.origin))

    def to_json(self) -> dict[str, Any]:
        """Plain values."""
        return {
            "name": self.name, "origin": self.origin, "on": self.on, "strength": self.strength,
            "values": self.values.to_json(), "place": None if self.place is None else self.place.to_json(),
        }  # fmt: skip

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> Step:
        """From plain values; an unknown key is refused by name."""
        _refuse_unknown(data, {"name", "origin", "on", "strength", "values", "place"})
        place = data.get("place")
        return cls(
            str(data["origin"]), Values.from_json(data.get("values") or {}), str(data.get("name", "")),
            float(data.get("strength", 1.0)), bool(data.get("on", True)), None if place is None else place_from_json(place),
        )  # fmt: skip


def _refuse_unknown(data: Mapping[str, Any], known: set[str]) -> None:
    unknown = sorted(set(data) - known)
    if unknown:
        raise RehearsalError("the recipe holds something unknown", ", ".join(unknown), "use a newer Rehearsal")


@dataclass(frozen=True)
class Recipe:
    """Steps in their order; none means the master as it is."""

    steps: tuple[Step, ...] = ()
    maths: int = MATHS

    @property
    def is_old(self) -> bool:
        """True when it was tuned by an earlier arithmetic, so that the same numbers give another print now."""
        return self.maths < MATHS and not self.is_neutral

    @property
    def on_screen(self) -> Recipe:
        """Without the steps for the light and those that were learnt.

        They act on the print and stand for what the screen and the light do to it: a screen that is looked at has done it already.
        """
        kept = tuple(s for s in self.steps if s.origin not in (LIGHT, LEARNT))
        return self if len(kept) == len(self.steps) else replace(self, steps=kept)

    @property
    def renewed(self) -> Recipe:
        """The same numbers, looked at as the present arithmetic has them."""
        return self if self.maths == MATHS else replace(self, maths=MATHS)

    # ---- what it adds up to

    @property
    def total(self) -> Values:
        """What the steps that act everywhere add up to, limited to the ranges."""
        return self._sum([s for s in self.steps if s.place is None]).clamped()

    @property
    def placed(self) -> tuple[Step, ...]:
        """Steps that act at a place."""
        return tuple(s for s in self.steps if s.place is not None and s.acts)

    def everywhere_at(self, share: float) -> Recipe:
        """As its places are treated where they weigh so much, everywhere."""
        steps = (s if s.place is None else replace(s, place=None, strength=s.strength * share) for s in self.steps)
        return replace(self, steps=tuple(steps))

    @property
    def is_neutral(self) -> bool:
        """True when nothing is changed."""
        return not self.total and not self.placed

    @property
    def is_global(self) -> bool:
        """True when every pixel is treated alike."""
        return not self.placed

    @property
    def changes(self) -> int:
        """How many adjustments are changed, everywhere or at places."""
        return self.total.count + sum(s.values.count for s in self.placed)

    @staticmethod
    def _sum(steps: list[Step]) -> Values:
        made = Values()
        for step in steps:
            if step.acts:
                made = made.plus(step.values, step.strength)
        return made

    # ---- steps

    def step(self, origin: str) -> Step | None:
        """The first step of an origin that acts everywhere."""
        return next((s for s in self.steps if s.origin == origin and s.place is None), None)

    def having(self, step: Step) -> Recipe:
        """With a step; one for the light, a learnt one, one of a habit and one by hand is set again, never added.

        Whoever changes a recipe looks at it: it is renewed.
        """
        at = next((i for i, s in enumerate(self.steps) if self._same(s, step)), None)
        if at is None:
            return replace(self, steps=(*self.steps, step) if step.values else self.steps, maths=MATHS)
        rest = [*self.steps]
        rest[at : at + 1] = [step] if step.values else []
        return replace(self, steps=tuple(rest), maths=MATHS)

    @staticmethod
    def _same(one: Step, two: Step) -> bool:
        if one.origin != two.origin:
            return False
        return one.is_single or (one.origin == HAND and one.place is None and two.place is None)

    def without(self, origin: str) -> Recipe:
        """Without the steps of an origin."""
        return replace(self, steps=tuple(s for s in self.steps if s.origin != origin), maths=MATHS)

    def with_total(self, name: str, value: float) -> Recipe:
        """The step by hand set so that an adjustment adds up to a value over all steps that act everywhere."""
        hand = self.step(HAND) or Step(HAND)
        others = self._sum([s for s in self.steps if s.place is None and s is not hand])[name]
        own = (ADJUSTMENTS[name].clamp(value) - others) / (hand.strength or 1.0)
        return self.having(replace(hand, values=hand.values.having(name, own), on=True, strength=hand.strength or 1.0))

    def with_tone(self, wanted: Values) -> Recipe:
        """The step by hand set so that amounts and free points add up to these; colours that are pulled stay."""
        made = self
        for name in ADJUSTMENTS:
            if made.total[name] != wanted[name]:
                made = made.with_total(name, wanted[name])
        hand = made.step(HAND) or Step(HAND)
        others = {
            p.at: p.to - p.at for p in made._sum([s for s in made.steps if s.place is None and s is not hand]).points
        }
        by_hand = {p.at: p.to - p.at - others.get(p.at, 0.0) for p in wanted.points}
        gone = {at: -by for at, by in others.items() if at not in by_hand}
        share = hand.strength or 1.0
        points = tuple(Point(at, at + by / share) for at, by in sorted({**by_hand, **gone}.items()) if abs(by) > _STILL)
        return made.having(replace(hand, values=replace(hand.values, points=points), on=True, strength=share))

    def with_pulled(self, pulled: tuple[Pull, ...]) -> Recipe:
        """The step by hand with these colours pulled."""
        hand = self.step(HAND) or Step(HAND)
        return self.having(
            replace(hand, values=replace(hand.values, pulled=pulled), on=True, strength=hand.strength or 1.0)
        )

    @property
    def pulls(self) -> tuple[tuple[int, Pull], ...]:
        """Colours pulled by hand or taken from areas, in their order, each with the number of its step."""
        steps = enumerate(self.steps)
        return tuple((i, p) for i, s in steps if s.origin in (HAND, AREA) and s.place is None for p in s.values.pulled)

    def with_pull(self, at: int, pull: Pull | None) -> Recipe:
        """One of :attr:`pulls` as another one, None for gone; a step that holds nothing any more goes with it."""
        number = self.pulls[at][0]
        within = at - next(i for i, (step, _p) in enumerate(self.pulls) if step == number)
        step = self.steps[number]
        made = [*step.values.pulled]
        made[within : within + 1] = [] if pull is None else [pull]
        values = replace(step.values, pulled=tuple(made))
        return self.put(number, replace(step, values=values) if values else None)

    def pulling(self, pull: Pull, origin: str = HAND) -> Recipe:
        """With one more colour pulled: by hand, or taken from an area, which makes a step of its own."""
        if origin == AREA:
            return replace(self, steps=(*self.steps, Step(AREA, Values(pulled=(pull,)))), maths=MATHS)
        hand = self.step(HAND)
        return self.with_pulled((*(() if hand is None else hand.values.pulled), pull))

    @property
    def unpulled(self) -> Recipe:
        """Without the colours that are pulled: what they are pulled from."""
        steps = tuple(replace(s, values=replace(s.values, pulled=())) for s in self.steps)
        return replace(self, steps=tuple(s for s in steps if s.values))

    def put(self, at: int, step: Step | None) -> Recipe:
        """The step at a place of the order as another one; None takes it away."""
        steps = (*self.steps[:at], *(() if step is None else (step,)), *self.steps[at + 1 :])
        return replace(self, steps=steps, maths=MATHS)

    # ---- plain values

    def to_json(self) -> dict[str, Any]:
        """Plain values."""
        return {"maths": self.maths, "steps": [s.to_json() for s in self.steps]}

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> Recipe:
        """From plain values; unknown keys and a newer arithmetic are refused by name.

        Raises:
            RehearsalError: which key, and what to do.
        """
        _refuse_unknown(data, {"maths", "steps"})
        maths = int(data.get("maths", MATHS))
        if maths > MATHS:
            raise RehearsalError(
                "the recipe was made with a newer arithmetic", f"maths {maths}", "use a newer Rehearsal"
            )
        made = cls((), maths)
        for row in data.get("steps", []):
            made = replace(made, steps=(*made.steps, Step.from_json(row)))
        singles = [s.origin for s in made.steps if s.is_single]
        if len(singles) != len(set(singles)):
            raise RehearsalError(
                "the recipe has two steps of one origin", ", ".join(singles), "keep one of each in the recipe"
            )
        return made


def by_hand(given: Mapping[str, float] | None = None, **amounts: float) -> Recipe:
    """A recipe of one step by hand."""
    return Recipe().having(Step(HAND, Values.of(given, **amounts)))
