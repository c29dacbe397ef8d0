"""Recipes from files: the tune command, and the same recipe for judge, proof and convert."""

import json
from dataclasses import fields
from pathlib import Path

import numpy as np
import pytest
from tests.conftest import PRESS, demo_folder

from rehearsal.commands.cli import run
from rehearsal.core.icc import open_profile
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.write import write_picture
from rehearsal.core.tuning.opened import OpenPicture, OpenRendition
from rehearsal.core.values.adjustments import ADJUSTMENTS, Values
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.pull import Pull
from rehearsal.core.values.recipe import by_hand
from rehearsal.core.values.rendition import Rendition
from rehearsal.tasks.judging import judge_rendition
from rehearsal.tasks.recipes import read_recipe

PAPER = str(demo_folder() / "profiles" / "SK24_WhiteDune_Hi.icc")
PLAIN = {
    "lightness": 0.5,
    "contrast": 6,
    "points": [[30, 34]],
    "pulled": [{"lightness": 0.6, "chroma": 0.15, "hue": 40, "turned": 5}],
}


@pytest.fixture
def recipe(tmp_path: Path) -> Path:
    """A recipe of amounts alone."""
    path = tmp_path / "r.json"
    path.write_text(json.dumps(PLAIN))
    return path


def test_tune_writes_the_tuned_pixels_in_the_pictures_own_space(
    small_cloths: Path, recipe: Path, tmp_path: Path
) -> None:
    out = tmp_path / "out.tif"
    assert run(["tune", str(small_cloths), "--recipe", str(recipe), "--out", str(out)]) == 0
    before, after = read_picture(small_cloths), read_picture(out)
    assert after.profile.digest == before.profile.digest and after.pixels.shape == before.pixels.shape
    opened = OpenRendition(Rendition("x", recipe=read_recipe(recipe)), OpenPicture(before, "x"), before.profile)
    wanted = opened.wanted.tuned(opened.open.pyramid.whole, (0.0, 0.0, 450.0, 300.0))
    np.testing.assert_array_equal(after.pixels, wanted)
    assert (after.pixels != before.pixels).any()
    recipe.write_text("{}")
    assert (
        run(["tune", str(small_cloths), "--recipe", str(recipe), "--out", str(tmp_path / "same.tif"), "--depth", "8"])
        == 0
    )
    same = read_picture(tmp_path / "same.tif")
    assert same.info.depth == 8
    assert np.abs(same.pixels.astype(int) - before.pixels.astype(int)).max() <= 129, "nothing but eight bits"


def test_what_cannot_be_tuned_says_what_to_do(
    small_cloths: Path, recipe: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    press = tmp_path / "press.tif"
    write_picture(np.full((20, 30, 4), 9000, np.uint16), open_profile(PRESS), 300, press)
    assert run(["tune", str(press), "--recipe", str(recipe), "--out", str(tmp_path / "o.tif")]) == 2
    said = capsys.readouterr().err
    assert "press.tif" in said and "convert it to a working space first" in said and said.count("\n") == 1
    for text, word in (("{", "no JSON"), ("[1]", "no object"), ('{"glow": 3}', "glow"), ('{"lightness": "much"}', "no amount"),
                       ('{"maths": 9, "steps": []}', "newer"), ('{"points": [[0, 3]]}', "free point"),
                       ('{"steps": 7}', "no amount"), ('{"steps": [{"values": {}}]}', "no amount"),
                       ('{"pulled": 4}', "no amount"), ('{"lightness": NaN}', "")):  # fmt: skip
        recipe.write_text(text)
        assert run(["tune", str(small_cloths), "--recipe", str(recipe), "--out", str(tmp_path / "o.tif")]) == 2, text
        said = capsys.readouterr().err
        assert word in said and said.startswith("rehearsal: ") and "unexpected" not in said and said.count("\n") == 1, (
            text
        )
    missing = ["tune", str(small_cloths), "--recipe", str(tmp_path / "none.json"), "--out", str(tmp_path / "o.tif")]
    assert run(missing) == 2 and "none.json" in capsys.readouterr().err
    assert not (tmp_path / "o.tif").exists()


def test_one_recipe_is_the_same_to_judge_and_to_the_window(
    small_cloths: Path, recipe: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert run(["judge", str(small_cloths), "--paper", PAPER, "--recipe", str(recipe), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    paper = open_profile(PAPER)
    made = Rendition("x", recipe=read_recipe(recipe), destination=Destination(paper.digest, paper.where))
    judged = judge_rendition(OpenRendition(made, OpenPicture(read_picture(small_cloths), "x"), paper))
    assert told["beyond_paper"]["share"] == pytest.approx(judged.beyond.lost.share)
    assert told["change"]["mean"] == pytest.approx(judged.change.mean)


def test_amounts_and_steps_are_read_alike(recipe: Path) -> None:
    plain = read_recipe(recipe)
    recipe.write_text(json.dumps(plain.to_json()))
    assert read_recipe(recipe) == plain and plain.total == Values.from_json(PLAIN)
    recipe.write_text(json.dumps(by_hand(contrast=3).to_json()))
    assert read_recipe(recipe) == by_hand(contrast=3)


def test_the_schema_names_everything_a_recipe_may_hold() -> None:
    schema = json.loads((Path(__file__).parents[2] / "docs" / "recipe.schema.json").read_text())["$defs"]
    assert set(schema["values"]["properties"]) == {*ADJUSTMENTS, "points", "pulled"}
    pull = schema["values"]["properties"]["pulled"]["items"]["properties"]
    assert set(pull) == {each.name for each in fields(Pull)}
    assert set(schema["step"]["properties"]) == set(by_hand(contrast=1).steps[0].to_json())
    assert set(schema["recipe"]["properties"]) == set(by_hand(contrast=1).to_json())
