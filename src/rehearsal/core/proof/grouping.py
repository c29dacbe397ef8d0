"""Areas of one name and one cause as one row, and the figures of candidates that differ to the eye."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from rehearsal.core.proof.advice import CandidateFigures
from rehearsal.core.proof.areas import Area


@dataclass(frozen=True)
class AreaGroup:
    """Areas of one hue and cause.

    Attributes:
        members: places of the areas in the list they came from, largest first.
        share: per cent of the image, of all together.
        median: mean of the members' medians of δ, by their shares; worst: the largest of their 99th percentiles.
        modelling: inside them, by their shares; None when none has anything to show.
    """

    members: tuple[int, ...]
    hue: str
    cause: str
    share: float
    median: float
    worst: float
    modelling: float | None

    @property
    def count(self) -> int:
        """How many places it is in."""
        return len(self.members)


def grouped(areas: Sequence[Area]) -> list[AreaGroup]:
    """Rows for a list of areas, largest first; what differs in hue or cause stays apart."""
    found: dict[tuple[str, str, bool, bool], list[int]] = {}
    for i, area in enumerate(areas):
        found.setdefault((area.hue, area.cause, area.mixed, area.at_edge), []).append(i)
    groups = [_group(areas, members) for members in found.values()]
    return sorted(groups, key=lambda g: (-g.share, g.members))


def _group(areas: Sequence[Area], members: list[int]) -> AreaGroup:
    members = sorted(members, key=lambda i: -areas[i].share)
    these = [areas[i] for i in members]
    weights = np.array([max(a.share, 1e-9) for a in these])
    shown = [(a.modelling, w) for a, w in zip(these, weights, strict=True) if a.modelling is not None]
    return AreaGroup(
        members=tuple(members), hue=these[0].hue, cause=these[0].cause, share=float(sum(a.share for a in these)),
        median=float(np.average([a.median for a in these], weights=weights)), worst=max(a.p99 for a in these),
        modelling=float(np.average([m for m, _w in shown], weights=[w for _m, w in shown])) if shown else None,
    )  # fmt: skip


@dataclass(frozen=True)
class Telling:
    """A figure of candidates, shorter is better.

    Attributes:
        key: its words; value: read from a candidate.
        step: the least difference that tells the eye or a decision anything.
    """

    key: str
    value: Callable[[CandidateFigures], float]
    step: float


#: Detail in whole per cent, differences as the advice counts them, and levels of 20 in the darks that fall together.
TELLINGS = (
    Telling("detail_lost", lambda c: c.flat, 1.0),
    Telling("differs_by", lambda c: c.felt_change, 0.3),
    Telling("steps_merge", lambda c: float(20 - c.shadow_separation), 1.0),
)


def telling(candidates: Sequence[CandidateFigures]) -> list[Telling]:
    """The figures by which these candidates differ to the eye; none when they hardly differ."""
    rows = []
    for each in TELLINGS:
        values = [each.value(c) for c in candidates]
        if values and max(values) - min(values) >= each.step:
            rows.append(each)
    return rows


#: Shown when candidates hardly differ.
HARDLY = (TELLINGS[1],)
