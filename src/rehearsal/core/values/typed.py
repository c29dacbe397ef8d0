"""Numbers as people type them: point or comma, fractions, and a unit of their own.

A comma is a decimal mark, as it is written in half the world; where a number with three digits behind its only mark may as well be
thousands, it is asked rather than guessed.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from types import MappingProxyType

from rehearsal.core.values.adjustments import ADJUSTMENTS
from rehearsal.core.values.words import amount, word

#: What each unit measures and how many of the first of its kind it is. Inch: 25.4 mm (ISO 80000-3, from memory).
_KINDS: Mapping[str, Mapping[str, float]] = MappingProxyType(
    {
        "length": {"mm": 1.0, "cm": 10.0, "in": 25.4, "m": 1000.0},
        "resolution": {"ppi": 1.0},
        "share": {"%": 1.0},
        "stops": {"stop": 1.0},
        "mired": {"mired": 1.0},
        "temperature": {"K": 1.0},
        "illuminance": {"lx": 1.0},
        "luminance": {"cd/m²": 1.0},
        "lightness": {"L*": 1.0},
        "ratio": {": 1": 1.0},
        "time": {"minutes": 1.0, "hours": 60.0, "days": 1440.0},
        "ink": {"ml/m²": 1.0},
        "a ml": {"a ml": 1.0},
        "left": {"left": 1.0},
    }
)
#: Other ways to write a unit.
_ALSO = {
    '"': "in", "″": "in", "”": "in", "''": "in", "inch": "in", "inches": "in", "stops": "stop", "mireds": "mired",
    "lux": "lx", "k": "K", "kelvin": "K", "cd/m2": "cd/m²", "cd/m^2": "cd/m²", "cd": "cd/m²", "dpi": "ppi", "percent": "%",
    ":1": ": 1", "to 1": ": 1", "h": "hours", "hour": "hours", "d": "days", "day": "days", "min": "minutes",
    "minute": "minutes", "ml": "ml/m²", "l*": "L*", "l": "L*", "m of roll": "m",
}  # fmt: skip
#: The units of adjustments.
_AMOUNTS = {"stop": "stop", "percent": "%", "mired": "mired", "lightness": "L*", "": ""}
_SIGNS = {"½": "1/2", "⅓": "1/3", "⅔": "2/3", "⅙": "1/6", "⅚": "5/6", "¼": "1/4", "¾": "3/4"}
_SPACES = "\u00a0\u2009\u202f"
#: A fraction; a whole number and a fraction; digits in groups of three; a number with a mark or none.
_NUMBER = re.compile(
    r"\d+\s+\d+/\d+|\d+/\d+|\d{1,3}(?:[ '’]\d{3})+(?:[.,]\d+)?|\d{1,3}(?:\.\d{3})+,\d+|\d{1,3}(?:,\d{3})+\.\d+|\d*[.,]\d+|\d+"
)
_EITHER = re.compile(r"\d{1,3}[.,]\d{3}")


class NotRead(ValueError):
    """What was typed is no such number; its words say why."""


@dataclass(frozen=True)
class Numbers:
    """What a field takes.

    Attributes:
        unit: what a number without a unit is in; empty for a plain number.
        low, high: the least and most, in that unit.
        decimals: how many are shown; a field without any may be asked in thousands.
        adjustment: whose amount it is, if it is one.
    """

    unit: str
    low: float
    high: float
    decimals: int = 0
    adjustment: str = ""

    @classmethod
    def of_adjustment(cls, name: str) -> Numbers:
        """What the field of an adjustment takes."""
        each = ADJUSTMENTS[name]
        return cls(_AMOUNTS[each.unit], each.low, each.high, 6, name)

    def read(self, text: str) -> float:
        """The number that was typed, in the field's unit.

        Raises:
            NotRead: no number, a unit of something else, thousands or a decimal mark, or out of range.
        """
        number, unit = _parts(text)
        if number is None:
            raise NotRead(word("typed", "no_number").format(text=text.strip()))
        if not self.decimals and self.high >= 1000 and _EITHER.fullmatch(number.lstrip("+-")):
            raise NotRead(_either_words(number))
        value = _value(number) * self._factor(unit, text)
        if not self.low - 1e-9 <= value <= self.high + 1e-9:
            raise NotRead(self._range_words(text))
        return value

    def written(self, value: float) -> str:
        """A number as it is shown, with its unit: a point, as in every sentence."""
        if self.adjustment:
            return amount(self.adjustment, value)
        number = f"{value:.{self.decimals}f}".replace("-", "−")
        return f"{number} {self.unit}".strip()

    def _factor(self, unit: str, text: str) -> float:
        own = _known(self.unit)
        meant = _known(unit) if unit else own
        if meant == own:
            return 1.0
        for units in _KINDS.values():
            if own in units and meant in units:
                return units[meant] / units[own]
        key = "unit" if own else "no_unit"
        raise NotRead(word("typed", key).format(text=text.strip(), unit=unit, own=self._own_units()))

    def _own_units(self) -> str:
        """The units that would do, in words."""
        for kind, units in _KINDS.items():
            if _known(self.unit) in units:
                return {"length": "mm, cm or in", "stops": "stops"}.get(kind, self.unit)
        return self.unit

    def _range_words(self, text: str) -> str:
        low, high = self.written(self.low), self.written(self.high)
        return word("typed", "range").format(text=text.strip(), low=low, high=high)


def _parts(text: str) -> tuple[str | None, str]:
    """The number at the start of a text, with its sign, and what stands behind it."""
    plain = text.strip().replace("−", "-").replace("–", "-")
    for space in _SPACES:
        plain = plain.replace(space, " ")
    for sign, fraction in _SIGNS.items():
        plain = plain.replace(sign, f" {fraction} ")
    sign, rest = ("-" if plain.lstrip().startswith("-") else ""), plain.strip().lstrip("+-").strip()
    found = _NUMBER.match(rest)
    return (None, "") if found is None else (sign + found.group(0), rest[found.end() :].strip())


def _value(number: str) -> float:
    """A number in digits: the last mark is the decimal one."""
    way, plain = (-1 if number.startswith("-") else 1), number.lstrip("-")
    if "/" in plain:
        try:
            return way * float(sum((Fraction(each) for each in plain.split()), Fraction(0)))
        except ZeroDivisionError:
            raise NotRead(word("typed", "no_number").format(text=number)) from None
    plain = re.sub(r"[ '’]", "", plain)
    if "," in plain and "." in plain:
        plain = plain.replace(min(",", ".", key=plain.rfind), "")
    return way * float(plain.replace(",", "."))


def _known(unit: str) -> str:
    """A unit by the name it goes by here; what is no unit as it was typed."""
    plain = " ".join(unit.split())
    return _ALSO.get(plain, _ALSO.get(plain.lower(), plain.lower() if plain.lower() in _plain_units() else plain))


def _plain_units() -> set[str]:
    return {unit for units in _KINDS.values() for unit in units}


def _either_words(number: str) -> str:
    plain = number.lstrip("-")
    whole = plain.replace(",", "").replace(".", "")
    return word("typed", "either").format(text=plain, whole=whole, part=plain.replace(",", "."))
