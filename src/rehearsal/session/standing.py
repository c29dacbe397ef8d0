"""How each take stands: how near it came and what is beyond its paper when it was last measured, and whether it was printed."""

from __future__ import annotations

import functools
import hashlib
import json
from dataclasses import dataclass
from typing import Any

from rehearsal.core.values.destination import Destination
from rehearsal.core.values.plain import to_plain
from rehearsal.core.values.rendition import Rendition
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus, Change
from rehearsal.session.judging import Judging
from rehearsal.session.nearness import Nearness
from rehearsal.session.now import Now
from rehearsal.session.shelf import Shelf
from rehearsal.workbook.values import LogEntry, Master, Take

_SETTING = "figures of takes"


@dataclass(frozen=True)
class TakeFigures:
    """Figures of a take as it is now; None for one that was not measured of it.

    Attributes:
        near: mean ΔE₀₀ from the target, in the take's view.
        beyond: per cent of the picture beyond the paper.
        printed: a print of this very rendition is in the logbook; written: its print file was written.
    """

    near: float | None = None
    beyond: float | None = None
    printed: bool = False
    written: bool = False


@functools.lru_cache(maxsize=256)
def mark_of(rendition: Rendition) -> str:
    """A short name of a rendition that any change of it changes."""
    text = json.dumps(to_plain(rendition), sort_keys=True, ensure_ascii=False)
    return hashlib.sha256(text.encode()).hexdigest()[:20]


class Standing:
    """Remembers figures as they are found; nothing is measured for it. ``standing`` tells of new ones."""

    def __init__(self, book: Book, bus: Bus, shelf: Shelf, now: Now, judging: Judging, nearness: Nearness) -> None:
        self._book, self._bus, self._shelf, self._now = book, bus, shelf, now
        self._judging, self._nearness = judging, nearness
        bus.changed.connect(self._follow)

    def of(self, take: Take) -> TakeFigures:
        """What is known of a take as it is now."""
        master, condition = self._book.get(Master, take.master), self._shelf.get(take.condition)
        if master is None or condition is None:
            return TakeFigures()
        rendition = take.rendition(master, Destination(condition.profile_digest, condition.profile_path))
        found = self._all.get(str(take.id), {})
        mark = mark_of(rendition)
        return TakeFigures(
            near=found.get("near") if found.get("near of") == f"{mark} {take.view}" else None,
            beyond=found.get("beyond") if found.get("beyond of") == mark else None,
            printed=any(entry.rendition == rendition for entry in self._book.all(LogEntry)),
            written=take.written is not None and take.written.rendition == rendition,
        )

    @property
    def _all(self) -> dict[str, dict[str, Any]]:
        found = self._book.recall(_SETTING)
        return found if isinstance(found, dict) else {}

    def _follow(self, change: Change) -> None:
        if not change.about("judgement", "near"):
            return
        take, rendition = self._now.take, self._now.rendition
        judgement, near = self._judging.judgement, self._nearness.near
        if take is None or rendition is None or self._book.is_read_only:
            return
        known = dict(self._all.get(str(take.id), {}))
        if judgement is not None and self._judging.is_current and judgement.rendition == rendition:
            known |= {"beyond": judgement.beyond.share, "beyond of": mark_of(rendition)}
        if near is not None:
            known |= {"near": near.now, "near of": f"{mark_of(rendition)} {take.view}"}
        if known != self._all.get(str(take.id), {}):
            there = {str(t.id) for t in self._book.all(Take)}
            self._book.remember(_SETTING, {**{k: v for k, v in self._all.items() if k in there}, str(take.id): known})
            self._bus.tell("standing")
