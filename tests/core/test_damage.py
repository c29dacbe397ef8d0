"""What tuning damages: each caution at what it is about, and silent beside it."""

import numpy as np
import pytest

from rehearsal.core.colour.table import srgb_decode
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.icc.write import assemble, gamma_tag
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.lattice import delta_lattice
from rehearsal.core.tuning.apply import Applied
from rehearsal.core.tuning.chroma import chroma_out
from rehearsal.core.tuning.damage import Damage, banding, fallen_modelling, lost_tones, pushed, undoing
from rehearsal.core.tuning.pulling import lab_of, pull_at
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.recipe import HAND, LEARNT, Recipe, Step, by_hand, habit_origin
from rehearsal.core.values.words import word


def _keys(found: list[Damage]) -> list[str]:
    return [each.key for each in found]


def test_lights_are_newly_burnt_only_where_there_was_a_tone() -> None:
    plain = np.full(1000, 90.0)
    plain[:100] = 99.8  # bare paper as it is: nothing new
    tuned = np.where(np.arange(1000) < 100, 99.8, plain)
    assert lost_tones(plain, tuned, 20.0) == []
    tuned[100:106] = 99.7  # 0.6 %
    (found,) = lost_tones(plain, tuned, 20.0)
    assert found.key == "burnt" and found.words == "0.6 % of the picture is newly burnt out: bare paper."
    tuned[100:106] = 99.2  # still to be told from paper
    assert lost_tones(plain, tuned, 20.0) == []
    plain[100:106], tuned[100:106] = 98.8, 99.7  # hardly a tone before
    assert lost_tones(plain, tuned, 20.0) == []


def test_depths_are_newly_blocked_at_this_papers_black() -> None:
    plain = np.full(1000, 40.0)
    plain[:8] = 25.0
    tuned = plain.copy()
    tuned[:8] = 20.3
    assert _keys(lost_tones(plain, tuned, 20.0)) == ["blocked"]
    assert lost_tones(plain, tuned, 12.0) == [], "another paper still holds them apart"
    tuned[5:8] = 25.0
    assert _keys(lost_tones(plain, tuned, 20.0)) == ["blocked"], "from half a per cent on"
    tuned[4] = 25.0
    assert lost_tones(plain, tuned, 20.0) == [], "0.4 % are few"


@pytest.mark.parametrize(("columns", "said"), [(2, False), (6, True)])
def test_modelling_is_spoken_of_when_more_than_three_per_cent_of_it_go(columns: int, said: bool) -> None:
    rng = np.random.default_rng(2)
    master = np.zeros((120, 120, 3))
    master[..., 0] = 50 + rng.normal(0, 6, (120, 120))
    flat = master.copy()
    flat[:, :columns, 0] = 50  # two columns of 120 are 1.7 %, six are 5 %; the windows at their edge keep a part
    assert bool(fallen_modelling(master, master, flat)) is said


def test_modelling_that_falls_is_said_with_both_figures(rng: np.random.Generator) -> None:
    light = 50 + 12 * np.sin(np.arange(120) / 4)[None, :] + np.zeros((120, 1))
    master = np.stack([light, np.zeros_like(light), np.zeros_like(light)], axis=-1)
    flat = master.copy()
    flat[:60, :, 0] = 50 + rng.normal(0, 0.05, (60, 120))
    (found,) = fallen_modelling(master, master, flat)
    assert found.key == "modelling" and found.about[0] == "100" and 40 < float(found.about[1]) < 70
    assert fallen_modelling(master, master, master) == []
    assert fallen_modelling(master, flat, master) == [], "it rose"
    softer = master.copy()
    softer[..., 0] = 50 + (master[..., 0] - 50) * 0.8  # less contrast is no lost modelling
    assert fallen_modelling(master, master, softer) == []


def test_steps_that_undo_each_other_are_named() -> None:
    habit = Step(habit_origin("Matte"), Values.of(contrast=-6), name="Matte")
    (found,) = undoing(by_hand(contrast=9).having(habit))
    assert found.words == "Contrast: +9 by hand and -6 by “Matte” undo each other."
    assert undoing(by_hand(contrast=9).having(Step(habit.origin, Values.of(contrast=6), name="Matte"))) == []
    assert undoing(by_hand(contrast=9).having(Step(habit.origin, Values.of(contrast=-3), name="Matte"))) == [], "little"
    off = Step(habit.origin, Values.of(contrast=-6), name="Matte", on=False)
    assert undoing(by_hand(contrast=9).having(off)) == []
    # what was learnt stands for the light and the screen: the hand may well go the other way
    assert undoing(by_hand(lightness=-0.5).having(Step(LEARNT, Values.of(lightness=0.5)))) == []
    stops = by_hand(lightness=-0.5).having(Step(habit.origin, Values.of(lightness=1 / 3), name="Matte"))
    assert _keys(undoing(stops)) == ["undoing"]


@pytest.mark.parametrize(
    ("name", "least"),
    [("lightness", 1 / 6), ("warmth", 5.0), ("dark_half", 4.0), ("strength", 4.0), ("contrast", 4.0), ("deepest", 2.0)],
)
def test_what_two_steps_take_from_each_other_is_said_from_its_least_on(name: str, least: float) -> None:
    # the least that is worth a word: a sixth of a stop, 5 mired, 2 L*, 4 of all else (common practice, no source)
    for size, said in ((least * 1.05, [name]), (least * 0.95, [])):
        recipe = by_hand({name: size}).having(Step(habit_origin("Back"), Values.of({name: -size}), name="Back"))
        assert [d.about[0] for d in undoing(recipe)] == [word("adjustment", n) for n in said]


def test_a_colour_pushed_past_the_paper_is_named(dune: Profile) -> None:
    field = delta_lattice(dune)
    inside = pull_at(lab_of(0.6, 0.06, 50.0))
    out = type(inside)(inside.lightness, inside.chroma, inside.hue, stronger=0.14, name=inside.name)
    (found,) = pushed([inside, out], field)
    assert found.key == "pushed" and float(found.about[1]) > 1.5 and "past what this paper can show" in found.words
    far = pull_at(lab_of(0.6, 0.2, 50.0))  # it lies beyond as it is, and is brought nearer
    nearer = type(far)(far.lightness, far.chroma, far.hue, stronger=-0.03, name=far.name)
    assert pushed([nearer], field) == []
    assert pushed([], field) == []


def test_an_8_bit_picture_bands_where_it_is_stretched() -> None:
    space = master_space(working_space("sRGB"))
    dark = np.zeros(101)
    dark[2:8] = 1.0
    assert _keys(banding(Values.of(lightness=2.0, dark_half=40), space, dark)) == ["banding"]
    assert banding(Values.of(lightness=0.3), space, dark) == []
    bright = np.zeros(101)
    bright[70:90] = 1.0
    assert banding(Values.of(lightness=2.0, dark_half=40), space, bright) == [], "its tones lie elsewhere"
    even = {f"{c}TRC": gamma_tag(1.0) for c in "rgb"}  # codes that stand apart in the depths as they are
    steep = master_space(
        Profile(assemble({**working_space("sRGB").tags, **even}, "mntr", "RGB ", "XYZ "), "even light")
    )
    assert banding(Values(), steep, dark) == [], "it bands as it is: the tuning has not done it"
    # the published curve: a code of 8-bit sRGB at L* 3 is about 0.3 L* wide (IEC 61966-2-1, CIE 15:2018)
    y = srgb_decode(np.arange(256) / 255)
    step = np.diff(np.where(y > 216 / 24389, 116 * np.cbrt(y) - 16, y * 24389 / 27))
    assert step.max() < 0.6, "no code of a picture as it is stands further apart than bands are seen"


@pytest.mark.parametrize(("strength", "quiet"), [(0.0, 0.0), (20.0, 0.0), (-20.0, 30.0), (0.0, -50.0)])
def test_the_drawn_ladder_of_strength_is_what_the_pixels_get(strength: float, quiet: float) -> None:
    from rehearsal.core.colour.oklab import oklab_to_xyz, xyz_to_oklab
    from rehearsal.core.icc.standard import WHITE_D50

    space = master_space(working_space("ROMM"))
    to_xyz = space.matrix * WHITE_D50[:, None]
    chroma = np.linspace(0.01, 0.12, 12)
    angle = np.radians(140.0)
    lab = np.stack([np.full(12, 0.6), chroma * np.cos(angle), chroma * np.sin(angle)], axis=-1)
    linear = oklab_to_xyz(lab) @ np.linalg.inv(to_xyz).T
    assert linear.min() > 0 and linear.max() < 1
    out = Applied([Values.of(strength=strength, quiet=quiet)], space).linear(linear)
    found = xyz_to_oklab(out @ to_xyz.T)
    np.testing.assert_allclose(np.hypot(found[:, 1], found[:, 2]), chroma_out(chroma, strength, quiet), atol=1e-6)
    assert Recipe().having(Step(HAND, Values.of(strength=strength, quiet=quiet))).total["strength"] == strength
