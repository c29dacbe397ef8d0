"""Through a working space: what a file in it has lost before the printer's profile sees it is lost in the proof as well."""

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from tests.conftest import demo_profile, opened_for

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.file import Picture, read_picture
from rehearsal.core.picture.write import write_picture
from rehearsal.core.proof.beyond import LIMIT
from rehearsal.core.proof.chain import Look, PrintChain
from rehearsal.core.proof.judging import Judgement
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.recipe import Recipe, by_hand
from rehearsal.core.values.rendering import Rendering
from rehearsal.tasks.judging import first_figures_of, judge_rendition, judgement_json
from rehearsal.tasks.proofing import proof_file
from rehearsal.tasks.writing import write_print_file


@pytest.fixture(scope="module")
def wide(tmp_path_factory: pytest.TempPathFactory) -> Picture:
    """Greens and cyans that opRGB holds and sRGB does not, beside quiet colours both hold."""
    y, x = np.mgrid[0:90, 0:120] / [[[90]], [[120]]]
    values = np.stack([0.15 + 0.5 * x * y, 0.35 + 0.6 * x, 0.2 + 0.5 * y], axis=-1)
    path = tmp_path_factory.mktemp("wide") / "wide.tif"
    write_picture(np.round(values * 65535).astype(np.uint16), working_space("opRGB"), 300, path)
    return read_picture(path)


def _through(opened: OpenRendition, space: str) -> OpenRendition:
    made = replace(opened.rendition, hand_over=HandOver(route="space", space=space))
    return OpenRendition(made, opened.open, opened.paper)


@pytest.mark.parametrize("recipe", [Recipe(), by_hand(strength=20, contrast=10)])
@pytest.mark.parametrize("rendering", [Rendering(), Rendering("relative", False), Rendering("perceptual")])
def test_the_proof_is_that_of_the_file_that_is_handed_over(
    wide: Picture, gloss: Profile, tmp_path: Path, rendering: Rendering, recipe: Recipe
) -> None:
    screen = demo_profile("desk-screen-wide.icc")
    taken = _through(opened_for(wide, gloss, rendering=rendering, recipe=recipe), "sRGB")
    write_print_file(taken, tmp_path / "handed.tif")
    handed = read_picture(tmp_path / "handed.tif")
    assert handed.profile.digest == working_space("sRGB").digest
    # what the printing program makes of the file: straight from it to the paper
    there = opened_for(handed, gloss, rendering=rendering)
    look = Look(screen, "on-paper")
    for name, opened in (("here", taken), ("there", there)):
        proof_file(opened, look, tmp_path / f"{name}.tif")
    here, program = (read_picture(tmp_path / f"{n}.tif").pixels.astype(float) for n in ("here", "there"))
    assert np.abs(here - program).max() <= 65535 * 0.002, "16 bits on the way"


def test_what_a_space_cuts_is_measured_and_what_it_holds_is_not(wide: Picture, gloss: Profile) -> None:
    plain = opened_for(wide, gloss)
    straight, small, large = (judge_rendition(o) for o in (plain, _through(plain, "sRGB"), _through(plain, "ROMM")))
    assert straight.cut is None and small.cut is not None and large.cut is not None
    assert large.cut.share == 0 and large.cut.p99 < 0.3
    # against the two prints themselves
    pixels = wide.pixels.reshape(-1, 3) / 65535.0
    one = PrintChain(wide.profile, gloss, Rendering()).printed(pixels)
    two = PrintChain(wide.profile, gloss, Rendering(), working_space("sRGB")).printed(pixels)
    change = delta_e_2000(one, two)
    assert small.cut.share == pytest.approx((change > LIMIT).mean() * 100, abs=1.0) and small.cut.share > 5
    assert small.cut.p99 == pytest.approx(np.percentile(change, 99), abs=0.4)
    # what is printed is what is judged: the change of the print is larger for it
    assert _change(small) > _change(straight) and _change(large) == pytest.approx(_change(straight), abs=0.05)
    assert first_figures_of(_through(plain, "sRGB")).change > first_figures_of(plain).change
    data = judgement_json(small, _through(plain, "sRGB"), False)
    assert data["cut_by_space"] == {"space": "sRGB", "share": small.cut.share, "p99": small.cut.p99}
    assert "cut_by_space" not in judgement_json(straight, plain, False)


def _change(judged: Judgement) -> float:
    return judged.change.mean


def test_the_space_belongs_to_what_figures_depend_on_and_the_rest_of_the_hand_over_does_not(
    wide: Picture, gloss: Profile
) -> None:
    taken = _through(opened_for(wide, gloss), "sRGB").rendition
    other = replace(taken, hand_over=replace(taken.hand_over, space="P3"))
    file = replace(taken, hand_over=replace(taken.hand_over, format="jpeg", ppi=240.0, media="Plain"))
    assert taken.look != other.look and taken.look == file.look
    straight = replace(taken, hand_over=HandOver(space="sRGB"))
    assert straight.look != taken.look and straight.look == replace(taken, hand_over=HandOver(space="P3")).look


def test_a_picture_already_in_the_space_goes_straight(gloss: Profile) -> None:
    chain = PrintChain(working_space("sRGB"), gloss, Rendering(), working_space("sRGB"))
    assert chain.via is None and chain.key == PrintChain(working_space("sRGB"), gloss, Rendering()).key
