"""The closed loops of tools/closed_loops.py with a few photographers: the full count is the tool's."""

from __future__ import annotations

import importlib.util
import sys
from dataclasses import replace
from pathlib import Path
from types import ModuleType

import numpy as np
import pytest

from rehearsal.core.icc import Profile
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.reduce import reduce_to
from rehearsal.core.picture.space import master_space
from rehearsal.core.values.recipe import Recipe


@pytest.fixture(scope="module")
def loops() -> ModuleType:
    path = Path(__file__).parents[2] / "tools" / "closed_loops.py"
    spec = importlib.util.spec_from_file_location("closed_loops", path)
    assert spec is not None and spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    sys.modules["closed_loops"] = module
    spec.loader.exec_module(module)
    return module


def test_what_is_learnt_and_tested_saves_sheets(
    loops: ModuleType, little_cloths: Path, dune: Profile, gloss: Profile
) -> None:
    picture = read_picture(little_cloths)
    small = replace(picture, pixels=reduce_to(picture.pixels, master_space(picture.profile), 240, 160))
    found = loops.count(2, {1: dune, 2: gloss}, small, season=4)
    assert found["fourth_mean"] < 0.08 and found["within_a_visible_step"] == 1.0 and found["test_sheets_mean"] <= 2
    assert 1 <= found["sheets_per_good_aided"] < found["sheets_per_good_unaided"]


def test_the_eye_is_off_by_what_screen_and_press_do(loops: ModuleType, little_cloths: Path, dune: Profile) -> None:
    picture = read_picture(little_cloths)
    small = replace(picture, pixels=reduce_to(picture.pixels, master_space(picture.profile), 240, 160))
    world = loops.make_world(2, {1: dune}, small)
    before = world.off(1, Recipe())
    world.screen += 0.2
    assert world.off(1, Recipe()) == pytest.approx(before - 0.2 / world.slope(1)), (
        "a brighter screen: the print looks darker"
    )
    lesson = [loops._entry(world, 1, Recipe(), -6 * world.off(1, Recipe()), 1)]
    assert abs(world.off(1, loops.with_lesson(lesson, 1, Recipe()))) < abs(world.off(1, Recipe()))
    said = [world.verdict(-0.3) for _ in range(40)]
    assert all(v == int(v) for v in said) and abs(float(np.mean(said)) - 1.8) < 0.3
