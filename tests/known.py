"""What the demo's pictures are judged as and its papers measured as, made once for all tests that only need it to be there."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import fields
from typing import Any

import numpy as np
import pytest

from rehearsal.core.icc import Profile
from rehearsal.core.proof.beyond import LIMIT, Lost
from rehearsal.core.proof.chain import Look
from rehearsal.core.proof.judging import Judgement
from rehearsal.core.proof.near import Near, NearArea
from rehearsal.core.proof.screenroad import ScreenRoad
from rehearsal.core.testsheets.verdictrows import offsets_of
from rehearsal.core.tuning.damage import Damage
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.work.progress import Progress
from rehearsal.session import costs as session_costs
from rehearsal.session import inquiries as session_inquiries
from rehearsal.session import judging as session_judging
from rehearsal.session import nearness as session_nearness
from rehearsal.session import roads as session_roads
from rehearsal.session import shelf as session_shelf
from rehearsal.session.session import Session
from rehearsal.session.shelf import measured
from rehearsal.tasks.conditions import Facts, NoFacts
from rehearsal.tasks.judging import judge_rendition, losses
from rehearsal.tasks.nearness import Ladder, Where, damage_of, ladder_of, near_areas, nearness
from rehearsal.tasks.proofing import intent_pictures
from rehearsal.tasks.tables import KeptTables

#: Judgements that windows were opened with, by what they are of: the same in nearly all tests.
_judged: dict[object, Judgement] = {}


def _judge_once(
    opened: OpenRendition, screen: Profile, default: Rendering, prescribed: bool, progress: Progress
) -> Judgement:
    key = (opened.rendition, screen.digest, default, prescribed)
    if key not in _judged:
        _judged[key] = judge_rendition(opened, screen, default, prescribed, progress=progress)
    return _judged[key]


#: Facts of the demo's papers, by their conditions.
_facts: dict[PrintCondition, Facts | NoFacts] = {}


def _measure_once(condition: PrintCondition, kept: dict[str, Any]) -> Facts | NoFacts:
    if condition not in _facts:
        _facts[condition] = measured(condition, kept)
    return _facts[condition]


#: Tables of roads to the screen, by what they depend on, and little pictures of renderings.
_roads: dict[object, ScreenRoad] = {}
_pictures: dict[object, list[np.ndarray]] = {}
_bake = session_roads._bake


def _of(look: Look) -> tuple[object, ...]:
    """What a look is, its screen by its content."""
    return tuple(getattr(value, "digest", value) for value in (getattr(look, each.name) for each in fields(look)))


def _bake_once(opened: OpenRendition, look: Look, nodes: int | None = None) -> ScreenRoad:
    key = (session_roads._key(opened, look)[:-1], _of(look), nodes)
    if key not in _roads:
        _roads[key] = _bake(opened, look, nodes)
    return _roads[key]


def _proof_once(opened: OpenRendition, look: Look, renderings: Sequence[Rendering], *size: int) -> list[np.ndarray]:
    key = (opened.rendition, _of(look), tuple(renderings), size)
    if key not in _pictures:
        _pictures[key] = intent_pictures(opened, look, renderings, *size)
    return _pictures[key]


#: What papers cost colours, how near prints come, what ladders are drawn from: by what they are of.
_lost: dict[object, Lost] = {}
_near: dict[object, Near] = {}
_near_areas: dict[object, tuple[NearArea, ...]] = {}
_damage: dict[object, tuple[Damage, ...]] = {}
_ladders: dict[object, Ladder] = {}


def _lose_once(colours: np.ndarray, paper: Profile, limit: float = LIMIT) -> Lost:
    key = (hashlib.blake2b(np.ascontiguousarray(colours).tobytes()).digest(), paper.digest, limit)
    if key not in _lost:
        _lost[key] = losses(colours, paper, limit)
    return _lost[key]


def _near_once(opened: OpenRendition, on_paper: bool) -> Near:
    key = (opened.rendition, on_paper)
    if key not in _near:
        _near[key] = nearness(opened, on_paper)
    return _near[key]


def _ladder_once(opened: OpenRendition) -> Ladder:
    if opened.rendition not in _ladders:
        _ladders[opened.rendition] = ladder_of(opened)
    return _ladders[opened.rendition]


def _areas_once(opened: OpenRendition, on_paper: bool, where: Where) -> tuple[NearArea, ...]:
    key = (opened.rendition, on_paper, where.groups)
    if key not in _near_areas:
        _near_areas[key] = near_areas(opened, on_paper, where)
    return _near_areas[key]


def _damage_once(opened: OpenRendition) -> tuple[Damage, ...]:
    if opened.rendition not in _damage:
        _damage[opened.rendition] = damage_of(opened)
    return _damage[opened.rendition]


def known_figures() -> pytest.MonkeyPatch:
    """Until this is undone, no figure is made twice of one thing: judgements, facts, losses, tables, little pictures."""
    swap = pytest.MonkeyPatch()
    swap.setattr(session_judging, "judge_rendition", _judge_once)
    swap.setattr(session_shelf, "measured", _measure_once)
    swap.setattr(session_roads, "_bake", _bake_once)
    swap.setattr(session_inquiries, "intent_pictures", _proof_once)
    swap.setattr(session_costs, "losses", _lose_once)
    swap.setattr(session_nearness, "nearness", _near_once)
    swap.setattr(session_nearness, "near_areas", _areas_once)
    swap.setattr(session_nearness, "damage_of", _damage_once)
    swap.setattr(session_nearness, "ladder_of", _ladder_once)
    return swap


def known_already() -> pytest.MonkeyPatch:
    """The same, and no tables are written or read meanwhile."""
    swap = known_figures()
    swap.setattr(KeptTables, "keep", lambda *_: None)
    swap.setattr(KeptTables, "fetch", lambda *_: None)
    return swap


def keep_verdict(session: Session, darker: float, cooler: float, flatter: float, verdict: str, words: str = ""):  # type: ignore[no-untyped-def]
    """Keep a verdict about the open take's print, told in steps."""
    for name, offset in offsets_of(darker, cooler, flatter).items():
        session.verdicts.choose(name, offset)
    return session.verdicts.keep(verdict, words)
