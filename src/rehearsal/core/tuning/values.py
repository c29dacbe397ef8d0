"""The adjustments of a take as one frozen value."""

from __future__ import annotations

from dataclasses import asdict, dataclass, fields, replace
from typing import Any


@dataclass(frozen=True)
class Tuning:
    """Adjustments of a take; all zero means the master as it is.

    Attributes:
        lightness: sixths of a stop on the middle tones, white and black held; -12 to 12.
        contrast: -50 to 50, an S-curve on L* about the middle.
        dark_half, light_half: -50 to 50, lift or lower one half of the tones, ends held.
        strength: per cent on the strength of colours, -50 to 50.
        warmth: -50 cool to 50 warm; 50 is a shift of the white by 50 mired.
    """

    lightness: float = 0.0
    contrast: float = 0.0
    dark_half: float = 0.0
    light_half: float = 0.0
    strength: float = 0.0
    warmth: float = 0.0

    @property
    def changes(self) -> int:
        """How many adjustments are not zero."""
        return sum(1 for f in fields(self) if getattr(self, f.name) != 0)

    @property
    def is_neutral(self) -> bool:
        """True when nothing is changed."""
        return self.changes == 0

    def with_value(self, name: str, value: float) -> Tuning:
        """A copy with one adjustment set, limited to its range."""
        low, high = RANGES[name]
        return replace(self, **{name: float(min(max(value, low), high))})

    def plus(self, other: Tuning) -> Tuning:
        """Both adjustments one upon the other, each limited to its range."""
        made = self
        for name in RANGES:
            made = made.with_value(name, getattr(self, name) + getattr(other, name))
        return made

    def to_json(self) -> dict[str, float]:
        """Plain values."""
        return asdict(self)

    @classmethod
    def from_json(cls, data: dict[str, Any]) -> Tuning:
        """From plain values; unknown names are left out."""
        return cls(**{name: float(data[name]) for name in RANGES if name in data})


RANGES: dict[str, tuple[float, float]] = {
    "lightness": (-12, 12),
    "contrast": (-50, 50),
    "dark_half": (-50, 50),
    "light_half": (-50, 50),
    "strength": (-50, 50),
    "warmth": (-50, 50),
}


def in_words(tuning: Tuning) -> list[str]:
    """Each adjustment that is not zero, with its unit, for tickets and the log."""
    rows = (
        ("lightness", f"{tuning.lightness / 6:+.2f} stop on the middle tones"),
        ("contrast", f"contrast {tuning.contrast:+.0f}"),
        ("dark_half", f"dark half {tuning.dark_half:+.0f}"),
        ("light_half", f"light half {tuning.light_half:+.0f}"),
        ("strength", f"colour strength {tuning.strength:+.0f} %"),
        ("warmth", f"{'warmer' if tuning.warmth > 0 else 'cooler'} by {abs(tuning.warmth):.0f} mired"),
    )
    return [text for name, text in rows if getattr(tuning, name) != 0]
