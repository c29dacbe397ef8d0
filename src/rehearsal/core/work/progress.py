"""What long work is told by, and how it is stopped."""

from __future__ import annotations

from collections.abc import Callable

#: Called with the share done, 0 to 1, and words; raises :class:`rehearsal.core.errors.Stopped` when nobody wants the work any more.
Progress = Callable[[float, str], None]


def silent(_share: float, _text: str) -> None:
    """Progress that nobody follows."""


def part_of(progress: Progress, first: float, last: float) -> Progress:
    """Progress of a part of the work, from one share of the whole to another."""

    def told(share: float, text: str) -> None:
        progress(first + (last - first) * share, text)

    return told
