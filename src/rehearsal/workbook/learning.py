"""What earlier verdicts taught: the middle of the last few prints under the same condition and light."""

from __future__ import annotations

import statistics
from dataclasses import dataclass

from rehearsal.core.tuning.values import Tuning
from rehearsal.workbook.values import LogEntry

_SAME_LIGHT = 0.25
STEP_MIRED = 5.0
STEP_CONTRAST = 5.0


@dataclass(frozen=True)
class Lesson:
    """A correction to offer: the tuning, from how many prints, and the words for it."""

    tuning: Tuning
    prints: int
    words: str


def _close(one: float, two: float) -> bool:
    return one <= 0 or two <= 0 or abs(one / two - 1) <= _SAME_LIGHT


def learnt(log: list[LogEntry], condition: int, lux: float, screen_white: float, last: int = 5) -> Lesson | None:
    """The learnt correction for a condition, or None when nothing was learnt or it is nothing.

    Args:
        log: all entries, oldest first.
        lux, screen_white: light on the print and screen white in cd/m²; entries within 25 % count, 0 counts always.
    """
    same = [e for e in log if e.condition == condition and _close(e.lux, lux) and _close(e.screen_white, screen_white)][
        -last:
    ]
    if not same:
        return None
    # each verdict says how much was missing on top of what that take already carried
    dark = statistics.median([e.darker + _had(e, "lightness") for e in same])
    cool = statistics.median([e.cooler * STEP_MIRED + _had(e, "warmth") for e in same])
    flat = statistics.median([e.flatter * STEP_CONTRAST + _had(e, "contrast") for e in same])
    tuning = Tuning().with_value("lightness", dark).with_value("warmth", cool).with_value("contrast", flat)
    return None if tuning.is_neutral else Lesson(tuning, len(same), _words(dark, cool, flat))


def _had(entry: LogEntry, name: str) -> float:
    learnt_part = (entry.take or {}).get("learnt") or {}
    return float(learnt_part.get(name, 0.0))


def _words(dark: float, cool: float, flat: float) -> str:
    parts = []
    if dark:
        parts.append(f"{abs(dark) / 6:.2f} of a stop {'lighter' if dark > 0 else 'darker'}")
    if cool:
        parts.append("warmer" if cool > 0 else "cooler")
    if flat:
        parts.append("more contrast" if flat > 0 else "less contrast")
    return ", ".join(parts)
