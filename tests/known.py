"""What the demo's pictures are judged as and its papers measured as, made once for all tests that only need it to be there."""

from __future__ import annotations

from typing import Any

import pytest

from rehearsal.core.icc import Profile
from rehearsal.core.proof.judging import Judgement
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.work.progress import Progress
from rehearsal.session import judging as session_judging
from rehearsal.session import shelf as session_shelf
from rehearsal.session.shelf import measured
from rehearsal.tasks.conditions import Facts, NoFacts
from rehearsal.tasks.judging import judge_rendition
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


def known_already() -> pytest.MonkeyPatch:
    """Until this is undone, what other tests' windows were opened with is neither judged nor measured nor written again."""
    swap = pytest.MonkeyPatch()
    swap.setattr(session_judging, "judge_rendition", _judge_once)
    swap.setattr(session_shelf, "measured", _measure_once)
    swap.setattr(KeptTables, "keep", lambda *_: None)
    swap.setattr(KeptTables, "fetch", lambda *_: None)
    return swap
