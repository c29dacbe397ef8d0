"""What the demo's pictures are judged as and its papers measured as, made once for all tests that only need it to be there."""

from __future__ import annotations

import functools
import hashlib
from collections.abc import Callable, Mapping
from dataclasses import fields, is_dataclass
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from rehearsal.core.icc import Profile
from rehearsal.core.picture.file import little_picture
from rehearsal.core.proof.chain import Look
from rehearsal.core.testsheets.verdictrows import offsets_of
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.session import costs as session_costs
from rehearsal.session import inquiries as session_inquiries
from rehearsal.session import judging as session_judging
from rehearsal.session import nearness as session_nearness
from rehearsal.session import roads as session_roads
from rehearsal.session import shelf as session_shelf
from rehearsal.session import testing as session_testing
from rehearsal.session import verdicts as session_verdicts
from rehearsal.session.jobs import JobProgress
from rehearsal.session.session import Session
from rehearsal.session.shelf import measured
from rehearsal.tasks import opening as tasks_opening
from rehearsal.tasks.tables import KeptTables

Once = dict[object, Any]


@functools.singledispatch
def _key(value: Any) -> object:
    """What a value is, whoever made it. Whoever only hears of the work does not change it.

    Raises:
        TypeError: nobody can tell.
    """
    if callable(value):
        return None
    if is_dataclass(value):
        return type(value), tuple(_key(getattr(value, each.name)) for each in fields(value))
    hash(value)
    return value


_key.register(OpenRendition, lambda value: (value.rendition, value.paper.digest))
_key.register(Profile, lambda value: value.digest)
_key.register(JobProgress, lambda _value: None)
_key.register(Path, lambda value: hashlib.blake2b(value.read_bytes()).digest())
_key.register(np.ndarray, lambda v: (v.shape, v.dtype.str, hashlib.blake2b(np.ascontiguousarray(v).tobytes()).digest()))
_key.register(Mapping, lambda value: tuple((_key(name), _key(each)) for name, each in sorted(value.items())))
_key.register(list, lambda value: ("list", *map(_key, value)))
_key.register(tuple, lambda value: ("tuple", *map(_key, value)))


def once(function: Callable[..., Any]) -> Callable[..., Any]:
    """A function of its values alone that works out each of its answers once in a run of tests; what it raises is not kept."""
    known: Once = {}

    @functools.wraps(function)
    def made(*given: Any, **named: Any) -> Any:
        try:
            key = (_key(given), _key(named))
        except TypeError:
            return function(*given, **named)
        if key not in known:
            known[key] = function(*given, **named)
        return known[key]

    return made


def _bake_key(opened: OpenRendition, look: Look, nodes: int | None = None) -> object:
    return session_roads._key(opened, look)[:-1], _key(look), nodes


_bake, _roads = session_roads._bake, Once()


def _bake_once(opened: OpenRendition, look: Look, nodes: int | None = None) -> Any:
    key = _bake_key(opened, look, nodes)
    if key not in _roads:
        _roads[key] = _bake(opened, look, nodes)
    return _roads[key]


_facts = Once()


def _measured_once(condition: PrintCondition, kept: dict[str, Any]) -> Any:
    if condition not in _facts:
        _facts[condition] = measured(condition, kept)
    return _facts[condition]


_little = once(little_picture)


def _little_once(path: str | Path, width: int, height: int) -> Any:
    return _little(Path(path), width, height)


#: Functions of values alone, where the session finds them: judgements, facts, losses, proofs, plans, rows of verdicts, little pictures.
_ONCE = [
    (module, name, once(getattr(module, name)))
    for module, names in (
        (session_judging, "judge_rendition"), (session_costs, "losses"),
        (session_inquiries, "intent_pictures look_at_picture tones_of body_of picture_reach compare_renderings paper_model overlap"),
        (session_nearness, "nearness near_areas damage_of ladder_of"), (session_testing, "work_out look_at_sheet look_at_variant"),
        (session_verdicts, "verdict_rows look_at_variant"),
    )
    for name in names.split()
]  # fmt: skip


def known_figures() -> pytest.MonkeyPatch:
    """Until this is undone, no figure is made twice of one thing."""
    swap = pytest.MonkeyPatch()
    for module, name, made in _ONCE:
        swap.setattr(module, name, made)
    swap.setattr(session_roads, "_bake", _bake_once)
    swap.setattr(session_shelf, "measured", _measured_once)
    swap.setattr(tasks_opening, "little_picture", _little_once)
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
