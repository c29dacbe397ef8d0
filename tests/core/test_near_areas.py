"""How near by area: each area by its own pixels, against the whole and against a picture whose areas are known."""

from pathlib import Path

import numpy as np
import pytest
from tests.conftest import opened_for

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.write import write_picture
from rehearsal.core.proof.chain import fitted_master
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.recipe import Recipe, by_hand
from rehearsal.tasks.judging import judge_rendition
from rehearsal.tasks.maps import read_point
from rehearsal.tasks.nearness import MovingNear, Where, areas_of, damage_of, near_areas, nearness

#: A picture of three fields, side by side: a strong orange, a strong blue, a grey.
_FIELDS = ((60000, 22000, 2000), (3000, 9000, 52000), (30000, 30000, 30000))


@pytest.fixture
def opened(tmp_path: Path, dune: Profile) -> OpenRendition:
    """The three fields on matte cotton."""
    pixels = np.repeat(np.array(_FIELDS, dtype=np.uint16)[None], 90, axis=1)
    pixels = np.repeat(pixels, 120, axis=0).reshape(120, 270, 3)
    write_picture(pixels, working_space("opRGB"), 300, tmp_path / "fields.tif")
    return opened_for(read_picture(tmp_path / "fields.tif"), dune)


def _away(opened: OpenRendition, x: float, recipe: Recipe) -> float:
    """ΔE₀₀ of one field's print from its target, by the readout."""
    reading = read_point(opened.having(recipe), x, 60.5)
    lab = opened.space.to_lab(opened.having(Recipe()).wanted.points(np.array([[x, 60.5]]))[None])[0].astype(float)
    target = (lab + fitted_master(lab, opened.space.profile, opened.paper)) / 2
    return float(delta_e_2000(target[0], np.asarray(reading.printed)))


def test_each_area_is_measured_by_its_own_pixels(opened: OpenRendition) -> None:
    labels = np.zeros((120, 270), dtype=np.int32)
    labels[:, :90], labels[:, 90:180] = 1, 2
    tuned = opened.having(by_hand(strength=-20, lightness=0.3))
    orange, blue = near_areas(tuned, False, Where(labels, (("orange", 33.0, (1,)), ("blue", 33.0, (2,)))))
    assert (orange.hue, blue.hue, orange.share) == ("orange", "blue", 33.0)
    for area, x in ((orange, 45.5), (blue, 135.5)):
        assert area.near.before == pytest.approx(_away(opened, x, Recipe()), abs=0.05)
        assert area.near.now == pytest.approx(_away(opened, x, tuned.rendition.recipe), abs=0.05)
        assert area.near.floor <= min(area.near.before, area.near.now) + 0.05
    (both,) = near_areas(tuned, False, Where(labels, (("two", 66.0, (1, 2)),)))
    assert both.near.now == pytest.approx((orange.near.now + blue.near.now) / 2, abs=0.25)
    assert (
        near_areas(tuned, False, Where(labels, ())) == ()
        and near_areas(tuned, False, Where(labels, (("no", 1.0, (7,)),))) == ()
    )


def test_areas_are_those_of_the_judgement(opened: OpenRendition) -> None:
    judged = judge_rendition(opened)
    where = areas_of(judged)
    h, w = where.labels.shape
    assert len(where.groups) >= 2 and where.groups[0][1] >= where.groups[-1][1]
    columns = {}
    for hue, share, numbers in where.groups:
        inside = np.isin(where.labels, numbers)
        assert inside.mean() * 100 == pytest.approx(share, abs=3.0), hue
        columns[hue] = int(np.median(np.nonzero(inside)[1]) / w * 3)
    assert sorted(set(columns.values())) == [0, 1] and h > 1


def test_the_quick_figure_is_that_of_the_same_few_pixels(opened: OpenRendition) -> None:
    recipe = by_hand(strength=-20, lightness=0.3)
    moving = MovingNear(opened, False)
    assert moving.differs(opened.rendition.recipe) == 0.0
    plain, tuned = nearness(opened, False), nearness(opened.having(recipe), False)
    assert moving.differs(recipe) == pytest.approx(tuned.now - plain.now, abs=0.3)
    back = MovingNear(opened.having(recipe), False)
    assert back.differs(Recipe()) == pytest.approx(plain.now - tuned.now, abs=0.3)
    paper = MovingNear(opened, True)
    assert abs(paper.differs(recipe) - moving.differs(recipe)) > 0.01, "on paper its own white counts"


def test_damage_of_a_print(opened: OpenRendition) -> None:
    assert damage_of(opened) == () and damage_of(opened.having(by_hand(contrast=4))) == ()
    light = damage_of(opened.having(by_hand(lightest=20, lightness=2.0, light_half=50)))
    assert "burnt" in [each.key for each in light]
    dark = damage_of(opened.having(by_hand(deepest=-20, lightness=-2.0, dark_half=-50)))
    assert "blocked" in [each.key for each in dark]
