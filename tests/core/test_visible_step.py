"""Visible steps: found against an independent formula and search, and no sentence about them that is not so."""

from dataclasses import replace

import colour
import numpy as np
import pytest
from scipy.optimize import brentq
from tests.conftest import opened_for

from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.file import Picture, read_picture
from rehearsal.core.picture.write import write_picture
from rehearsal.core.testsheets.families import control_family
from rehearsal.core.testsheets.visiblestep import (
    Box,
    Bracket,
    Prints,
    both_ways,
    bracket,
    bracket_words,
    next_value,
    outward,
)
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.frame import Crop, Frame
from rehearsal.core.values.recipe import by_hand


def _grey(value: float) -> np.ndarray:
    """Five greys whose L* follows the value."""
    return np.stack([[level + value, 0.0, 0.0] for level in (30.0, 40.0, 50.0, 60.0, 70.0)])


def _far(one: np.ndarray, two: np.ndarray) -> float:
    """Median ΔE₀₀ by the colour library (ISO/CIE 11664-6)."""
    return float(np.median(colour.delta_E(one, two, method="CIE 2000")))


def test_a_step_is_where_another_librarys_difference_reaches_one_and_a_half() -> None:
    for start, end in ((0.0, 20.0), (0.0, -20.0), (4.0, 30.0)):
        wanted = brentq(lambda v, s=start: _far(_grey(s), _grey(v)) - 1.5, start + np.sign(end - start) * 1e-6, end)
        found = next_value(_grey, start, end)
        assert found is not None and found == pytest.approx(wanted, abs=abs(end - start) / 2**12)
        assert abs(found - start) >= abs(wanted - start), "never less than visible"
    steps = outward(_grey, 0.0, 9.0, 8)
    assert len(steps) > 2 and all(
        _far(_grey(a), _grey(b)) == pytest.approx(1.5, abs=0.01) for a, b in zip((0.0, *steps), steps, strict=False)
    )
    assert _far(_grey(steps[-1]), _grey(9.0)) < 1.5 and len(outward(_grey, 0.0, 9.0, 2)) == 2
    assert next_value(_grey, 0.0, 1.0) is None and next_value(_grey, 2.0, 2.0) is None


def test_a_bracket_takes_from_one_side_what_the_other_lacks() -> None:
    below, above = (-1.0, -2.0), (1.0, 2.0, 3.0, 4.0)
    assert both_ways(below, 0.0, above, 1) == (0.0,) and both_ways(below, 0.0, above, 3) == (-1.0, 0.0, 1.0)
    assert both_ways(below, 0.0, above, 4) == (-1.0, 0.0, 1.0, 2.0)
    assert both_ways(below, 0.0, above, 6) == (-2.0, -1.0, 0.0, 1.0, 2.0, 3.0)
    assert both_ways(below, 0.0, above, 9) == (-2.0, -1.0, 0.0, 1.0, 2.0, 3.0, 4.0)
    assert both_ways((), 0.0, above, 3) == (0.0, 1.0, 2.0)
    assert both_ways((-1.0, -2.0, -3.0), 0.0, (), 4) == (-3.0, -2.0, -1.0, 0.0)
    with pytest.raises(ValueError, match="at least one"):
        both_ways(below, 0.0, above, 0)


@pytest.fixture(scope="module")
def cloths(little_cloths) -> Picture:  # type: ignore[no-untyped-def]
    return read_picture(little_cloths)


def _ways(opened: OpenRendition, name: str, *boxes: Box) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Eight visible steps downward and upward from what the recipe does."""
    family = control_family(opened.rendition.recipe, name)
    prints = Prints(opened, family, boxes)
    return prints.outward(family.middle, family.low, 8), prints.outward(family.middle, family.high, 8)


@pytest.mark.parametrize("name", ["lightness", "contrast", "warmth", "strength", "dark_half"])
def test_brackets_of_a_picture_print_a_visible_step_apart(cloths: Picture, dune: Profile, name: str) -> None:
    made = bracket(opened_for(cloths, dune), name, 6)
    assert made.by_eye and made.shows and made.untouched == 0.0 and 0.0 in made.values
    assert 3 <= len(made.values) <= 6 and list(made.values) == sorted(made.values)
    # told in whole units (a stop in hundredths), so about the visible step: 1.2 to 1.8
    assert all(1.2 <= d <= 1.8 for d in made.differences) and len(made.differences) == len(made.values) - 1
    assert made.alike == ()
    assert bracket(opened_for(cloths, dune), name, 3).values[1] == 0.0


def test_a_bracket_goes_out_from_what_the_recipe_does_by_its_own_print(
    cloths: Picture, dune: Profile, gloss: Profile
) -> None:
    tuned = bracket(opened_for(cloths, dune, recipe=by_hand(lightness=0.5, contrast=10)), "lightness", 5)
    assert tuned.untouched == 0.5 and 0.5 in tuned.values
    plain = _ways(opened_for(cloths, dune), "deepest")
    assert plain[0] != _ways(opened_for(cloths, gloss), "deepest")[0], "another paper, other steps"
    part = opened_for(cloths, dune, frame=Frame(Crop(0.0, 0.0, 0.3, 0.3)))
    assert plain[0] != _ways(part, "deepest")[0], "another piece, other steps"
    w, h = part.box[2:]
    assert _ways(opened_for(cloths, dune), "deepest", (0, 0, w, h)) == _ways(part, "deepest")


def test_no_more_is_looked_for_than_a_bracket_takes(cloths: Picture, dune: Profile) -> None:
    for name, start in (("lightness", 0.0), ("contrast", 45.0), ("warmth", -44.0)):
        opened = opened_for(cloths, dune, recipe=by_hand({name: start}) if start else by_hand())
        prints = Prints(opened, control_family(opened.rendition.recipe, name))
        below, above = _ways(opened, name)
        for count in (1, 4):
            assert prints.bracket(count) == both_ways(below, start, above, count), (name, count)


def test_given_steps_that_print_alike_are_called_a_waste(cloths: Picture, dune: Profile) -> None:
    made = bracket(opened_for(cloths, dune), "contrast", 6, (0.0, 2.0, 30.0))
    assert not made.by_eye and made.values == (0.0, 2.0, 30.0) and made.alike == (1,)
    assert bracket_words(made, 6).startswith("These print alike (ΔE₀₀ 0.") and "), a waste: 1 and 2." in bracket_words(
        made, 6
    )
    assert "2 and 3" not in bracket_words(made, 6) and "range" not in bracket_words(made, 6)


def test_a_grey_picture_cannot_show_stronger_colours(dune: Profile, tmp_path) -> None:  # type: ignore[no-untyped-def]
    ramp = np.linspace(0, 65535, 120)[None, :, None] * np.ones((80, 1, 3))
    write_picture(np.round(ramp).astype(np.uint16), working_space("sRGB"), 300, tmp_path / "grey.tif")
    grey = opened_for(read_picture(tmp_path / "grey.tif"), dune)
    made = bracket(grey, "strength", 6)
    assert not made.shows and made.values == (0.0,) and made.differences == ()
    assert bracket_words(made, 6) == "This picture cannot show colour strength: it moves 0.0 % of it."
    given = bracket(grey, "strength", 6, (0.0, 10.0))
    assert given.differences == (0.0,) and "cannot show" in bracket_words(given, 6)
    assert "cannot show" not in bracket_words(bracket(grey, "lightness", 6), 6)


def test_what_is_said_of_a_bracket() -> None:
    made = Bracket("contrast", (-8.0, 0.0, 9.0), 0.0, (1.46, 1.51), 0.4, True)
    said = bracket_words(made, 3)
    assert said == "Each differs from the next by ΔE₀₀ 1.5, the median over what contrast moves."
    assert bracket_words(made, 4).endswith("No further visible step lies within its range: 3 variants.")
    other = Bracket("contrast", (-8.0, 0.0, 9.0), 0.0, (1.2, 0.5), 0.02, True)
    assert "ΔE₀₀ 0.5 to 1.2" in bracket_words(other, 3) and other.shows and other.alike == ()
    nothing = Bracket("contrast", (0.0,), 0.0, (), 0.5, True)
    assert bracket_words(nothing, 6).startswith("However far contrast goes from here, no step of it is visible")
    assert "However" not in bracket_words(nothing, 1) and "However" not in bracket_words(
        replace(nothing, by_eye=False), 6
    )
    assert not Bracket("contrast", (0.0,), 0.0, (), 0.0199, True).shows
    assert Bracket("contrast", (0.0, 1.0, 2.0), 0.0, (0.49, 0.51), 1.0, False).alike == (1,)


@pytest.mark.parametrize("name", ["coffee", "astronaut", "chelsea"])
@pytest.mark.parametrize("control", ["lightness", "contrast"])
def test_brackets_of_open_photographs(name: str, control: str, dune: Profile, tmp_path) -> None:  # type: ignore[no-untyped-def]
    # photographs that scikit-image ships (public domain and CC0)
    from skimage import data

    write_picture(getattr(data, name)().astype(np.uint16) * 257, working_space("sRGB"), 300, tmp_path / "photo.tif")
    made = bracket(opened_for(read_picture(tmp_path / "photo.tif"), dune), control, 5)
    assert made.shows and len(made.values) >= 3 and all(1.2 <= d <= 1.8 for d in made.differences)
