"""The print file sharpened for its paper: what is in it, and that nothing else changes."""

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from tests.conftest import opened_for
from tests.session.conftest import Desk, book, desk

from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.model import paper_model
from rehearsal.core.papers.surface import SIGMA_UM, assumed_family
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.write import write_picture
from rehearsal.core.sheet.printfile import make_pixels, sharpener_of
from rehearsal.core.sheet.sharpen import Sharpener
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.frame import Frame, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.recipe import by_hand
from rehearsal.desk.trays.sheet import surface_words
from rehearsal.session.takes import sharpened_for
from rehearsal.workbook.values import PrintCondition

__all__ = ["book", "desk"]
FILE = HandOver(ppi=300.0, sharpen=100.0, sigma_um=60.0)
#: Three lines a millimetre at 300 ppi.
_CYCLE = 300 / 25.4 / 3


@pytest.fixture
def lines(tmp_path: Path) -> Path:
    """Fine grey lines, soft as a camera has them."""
    x = np.arange(472)
    row = 28000 + 5000 * np.sin(2 * np.pi * x / _CYCLE)
    pixels = np.repeat(np.tile(row, (236, 1))[..., None], 3, axis=2).astype(np.uint16)
    write_picture(pixels, working_space("opRGB"), 300, tmp_path / "lines.tif")
    return tmp_path / "lines.tif"


def _opened(lines: Path, paper: Profile, hand_over: HandOver, **parts: object) -> OpenRendition:
    frame = Frame(size=PrintSize(472 / 300 * 2.54, 236 / 300 * 2.54))
    return opened_for(read_picture(lines), paper, hand_over=hand_over, frame=frame, **parts)


def _swing(opened: OpenRendition) -> float:
    """Amplitude of the printed L* in the middle."""
    pixels = make_pixels(opened)
    row = pixels[len(pixels) // 2, 60:-60].astype(float) / np.iinfo(pixels.dtype).max
    light = paper_model(opened.paper).to_lab.apply(row)[:, 0]
    return float(np.percentile(light, 99) - np.percentile(light, 1))


@pytest.mark.parametrize("recipe", [by_hand(), by_hand(lightness=0.3)])
def test_the_file_carries_what_the_paper_will_take(lines: Path, dune: Profile, recipe: object) -> None:
    plain = _swing(_opened(lines, dune, replace(FILE, sharpen=0.0), recipe=recipe))
    made = _swing(_opened(lines, dune, FILE, recipe=recipe))
    taken = float(np.exp(-2 * (np.pi * 0.060 * 3) ** 2))
    assert made / plain == pytest.approx(1 / taken, rel=0.12), "the inverse of what 60 µm pass at 3 lines per mm"


def test_without_a_strength_or_a_surface_the_file_is_the_same(lines: Path, dune: Profile) -> None:
    plain = make_pixels(_opened(lines, dune, HandOver()))
    for none in (HandOver(sharpen=100.0), HandOver(sigma_um=60.0)):
        np.testing.assert_array_equal(make_pixels(_opened(lines, dune, none)), plain)


def test_a_picture_that_is_sharpened_already_gets_half(
    lines: Path, dune: Profile, monkeypatch: pytest.MonkeyPatch
) -> None:
    opened = _opened(lines, dune, FILE)
    monkeypatch.setattr("rehearsal.core.sheet.printfile.overshoot_of", lambda *_: 0.0)
    whole = sharpener_of(opened)
    monkeypatch.setattr("rehearsal.core.sheet.printfile.overshoot_of", lambda *_: 0.5)
    half = sharpener_of(opened)
    distance = 25.0  # of so small a print
    np.testing.assert_allclose(whole.taps, Sharpener(60.0, 1.0, 300.0, distance).taps)
    np.testing.assert_allclose(half.taps, Sharpener(60.0, 0.5, 300.0, distance).taps)


def test_the_surface_decides_and_goes_along_with_the_paper(desk: Desk) -> None:
    s, here = desk.session, desk.session.now.condition
    assert here is not None and s.shelf.spread_of(here) == SIGMA_UM["matte"]
    s.takes.sharpen(80.0)
    assert (desk.take.hand_over.sharpen, desk.take.hand_over.sigma_um) == (80.0, 60.0)
    assert s.judging.is_current, "figures do not depend on it"
    s.takes.sharpen(900.0)
    assert desk.take.hand_over.sharpen == 150.0
    gloss = next(c for c in s.shelf.conditions if "gloss" in c.surface)
    s.takes.choose_condition(gloss)
    assert desk.take.hand_over.sigma_um == SIGMA_UM["gloss"] and desk.take.hand_over.sharpen == 150.0
    unknown = PrintCondition(paper="Unknown")
    assert sharpened_for(desk.take.hand_over, s.shelf.spread_of(unknown)) == replace(
        desk.take.hand_over, sharpen=0.0, sigma_um=0.0
    )
    assert sharpened_for(HandOver(), s.shelf.spread_of(gloss)) == HandOver()
    ticket = s.printing.ticket()
    assert ticket is not None
    rows = {row.label: row.value for _title, section in ticket.sections for row in section}
    assert rows["Sharpened"].startswith("150 % for a spread of 30 µm")
    s.takes.sharpen(0.0)
    assert not desk.take.hand_over.sharpens and desk.take.hand_over.sigma_um == 0.0
    desk.settle()


def test_a_surface_nobody_told_is_assumed_by_its_black_and_said_so(desk: Desk) -> None:
    s, here = desk.session, desk.session.now.condition
    assert here is not None
    gloss = next(c for c in s.shelf.conditions if "gloss" in c.surface)
    for card, kind in ((here, "matte"), (gloss, "gloss")):
        assert s.shelf.family_of(card)[1] is False
        s.shelf.change(replace(card, surface="", texture=""))
        bare = s.shelf.get(card.id)
        assert (
            bare is not None and s.shelf.family_of(bare) == (kind, True) and s.shelf.spread_of(bare) == SIGMA_UM[kind]
        )
    assert "taken for matte by its black" in surface_words(60.0, True, False, False, "matte")
    measured = replace(here, surface="", sigma_um=71.0)
    assert s.shelf.spread_of(measured) == 71.0
    s.takes.sharpen(80.0)
    assert desk.take.hand_over.sigma_um == SIGMA_UM["matte"]
    desk.settle()


@pytest.mark.parametrize(("dmax", "kind"), [(0.0, ""), (1.5, "matte"), (1.89, "matte"), (1.9, "gloss"), (2.4, "gloss")])
def test_which_family_a_black_speaks_for(dmax: float, kind: str) -> None:
    assert assumed_family(dmax) == kind  # common practice, no source
