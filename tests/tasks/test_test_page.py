"""The written test sheet, read back: fields as their prints, bare paper bare, wedges, lettering; live proofs as the screen has them."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from tests.conftest import opened_for

from rehearsal.core.errors import PictureError, Stopped
from rehearsal.core.icc import Profile, Step, Transform, lab_profile
from rehearsal.core.picture.file import Picture, read_picture
from rehearsal.core.proof.chain import Look
from rehearsal.core.sheet.boxes import Box
from rehearsal.core.sheet.printfile import make_pixels
from rehearsal.core.testsheets.laying import Field
from rehearsal.core.testsheets.variants import Others, plan_variants
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.frame import Crop, Frame, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.recipe import LIGHT, Recipe, by_hand
from rehearsal.core.values.recipe import Step as RecipeStep
from rehearsal.core.values.testplan import TestPlan
from rehearsal.tasks.proofing import proof_rgb
from rehearsal.tasks.testsheets import (
    SheetAsked,
    WorkedOut,
    look_at_sheet,
    look_at_variant,
    make_test_page,
    shown_recipe,
    work_out,
    write_test_page,
)
from rehearsal.tasks.writing import Target

PPI = 100.0
ASKED = SheetAsked(
    ("A5", "A4"), (4.0, 4.0, 12.0, 4.0), "Dune; medium Fine; relative; 28 Nov 2026; cloths, take 2; test sheet 1"
)


@pytest.fixture(scope="module")
def cloths(small_cloths: Path) -> Picture:
    return read_picture(small_cloths)


def _opened(cloths: Picture, paper: Profile, **parts: object) -> OpenRendition:
    frame = Frame(Crop(0.05, 0.0, 0.9, 1.0), PrintSize(27.0, 20.0))
    hand_over = HandOver(ppi=PPI, format="tiff8")
    return opened_for(cloths, paper, **{"frame": frame, "hand_over": hand_over, "recipe": by_hand(contrast=6), **parts})


def _worked(opened: OpenRendition, plan: TestPlan, areas: np.ndarray | None = None, **asked: object) -> WorkedOut:
    return work_out(
        opened, plan, replace(ASKED, **{"titles": ((1, "one"), (2, "two")), **asked}), _others(opened), areas
    )


def _others(opened: OpenRendition) -> Others:
    return Others(
        takes=((1, opened.rendition), (2, replace(opened.rendition, recipe=by_hand(warmth=30)))), sigma_um=60.0
    )


def _px(box: Box) -> tuple[slice, slice]:
    top, foot, left, right = (round(v / 25.4 * PPI) for v in (box.top, box.foot, box.left, box.right))
    return slice(top, foot), slice(left, right)


def _within(page: np.ndarray, field: Field) -> np.ndarray:
    """The pixels of a field's first piece, without its edge."""
    rows, columns = _px(field.pieces[0])
    return page[rows.start + 2 : rows.stop - 2, columns.start + 2 : columns.stop - 2]


@pytest.mark.parametrize("kind", ["bracket", "two", "mixed", "renderings", "sharpening", "takes"])
def test_each_field_holds_the_pixels_of_its_print_at_the_prints_own_size(
    cloths: Picture, dune: Profile, kind: str
) -> None:
    opened = _opened(cloths, dune)
    made = _worked(opened, TestPlan(kind))
    assert made.page is not None and len(made.pieces) == 1 and made.scale == 1.0
    page = make_test_page(opened, made)
    assert page.pixels.shape[:2] == (
        round(made.page.page.height / 25.4 * PPI),
        round(made.page.page.width / 25.4 * PPI),
    )
    wide, high = made.page.piece
    piece = made.pieces[0]
    assert piece.width / opened.rendition.frame.crop.width * 270 == pytest.approx(wide, abs=0.3), (
        "the print's own scale"
    )
    assert piece.height * 200 == pytest.approx(high, abs=0.3)
    both = list(zip(made.page.fields, made.planned.variants, strict=True))
    blacks = [_within(page.pixels, field) for field, variant in both if variant.black]
    assert len(blacks) == (kind == "mixed")
    assert all((black == black[0, 0]).all() and black.mean() < 90 for black in blacks)
    for field, variant in ((f, v) for f, v in both if not v.black):
        there = _within(page.pixels, field)
        frame = Frame(piece, PrintSize(wide / 10, high / 10))
        hand_over = replace(
            opened.rendition.hand_over,
            sharpen=variant.rendition.hand_over.sharpen,
            sigma_um=variant.rendition.hand_over.sigma_um,
        )
        one = OpenRendition(replace(variant.rendition, frame=frame, hand_over=hand_over), opened.open, opened.paper)
        own = make_pixels(one, whole=OpenRendition(variant.rendition, opened.open, opened.paper))
        own = own[2 : 2 + there.shape[0], 2 : 2 + there.shape[1]]
        assert np.abs(own.astype(int) - there[: own.shape[0], : own.shape[1]]).max() == 0, variant.number


def test_sharpening_on_a_sheet_is_that_of_the_print_not_of_the_piece(cloths: Picture, dune: Profile) -> None:
    opened = _opened(cloths, dune, hand_over=HandOver(ppi=300.0))
    variant = replace(opened.rendition, hand_over=replace(opened.rendition.hand_over, sharpen=100.0, sigma_um=90.0))
    whole = OpenRendition(variant, opened.open, opened.paper)
    tiny = replace(variant, frame=Frame(Crop(0.4, 0.4, 0.09, 0.1), PrintSize(2.7, 2.0)))
    piece = OpenRendition(tiny, opened.open, opened.paper)
    # a print of 2.7 cm is looked at from much nearer than one of 27 cm: its own sharpening would be another
    assert np.abs(make_pixels(piece).astype(int) - make_pixels(piece, whole=whole)).max() > 2
    made = _worked(opened, TestPlan("sharpening"))
    assert made.page is not None
    page, field, last = make_test_page(opened, made), made.page.fields[-1], made.planned.variants[-1]
    frame = Frame(made.pieces[0], PrintSize(field.pieces[0].width / 10, field.pieces[0].height / 10))
    one = OpenRendition(replace(last.rendition, frame=frame), opened.open, opened.paper)
    own = make_pixels(one, whole=OpenRendition(last.rendition, opened.open, opened.paper))
    top, left = (round(v / 25.4 * 300) for v in (field.pieces[0].top, field.pieces[0].left))
    there = page.pixels[top : top + own.shape[0], left : left + own.shape[1]]
    assert np.array_equal(there[3:-3, 3:-3], own[3:-3, 3:-3]) and not np.array_equal(own, make_pixels(one))


def test_bare_paper_gets_no_ink_and_the_wedges_read_back(cloths: Picture, dune: Profile) -> None:
    opened = _opened(cloths, dune)
    made = _worked(opened, TestPlan("bracket", count=4))
    assert made.page is not None
    page = make_test_page(opened, made)
    inked = np.zeros(page.pixels.shape[:2], dtype=bool)
    boxes = [b for f in made.page.fields for b in (*f.pieces, f.black)] + [
        *made.page.black_wedge,
        *made.page.white_wedge,
    ]
    for box in boxes:
        rows, columns = _px(box.grown(0.3))
        inked[rows, columns] = True
    for line in made.page.page.lettering:
        rows, columns = _px(Box(line.x - 1, line.y - line.capital - 1, line.room + 2, line.capital + 3))
        inked[rows, columns] = True
    assert (page.pixels[~inked] == 255).all(), "bare paper stays bare"
    assert not inked.all() and (~inked).mean() > 0.15
    read = Transform([Step(dune), Step(lab_profile(), "relative")])
    black = [page.pixels[_px(b)[0], _px(b)[1]].reshape(-1, 3) for b in made.page.black_wedge]
    white = [page.pixels[_px(b)[0], _px(b)[1]].reshape(-1, 3) for b in made.page.white_wedge]
    dark = [read.apply(np.median(p, axis=0)[None] / 255)[0, 0] for p in black]
    light = [read.apply(np.median(p, axis=0)[None] / 255)[0, 0] for p in white]
    # 8 bits round what is printed by up to half a level
    assert np.allclose(np.array(dark) - dark[0], np.arange(12), atol=0.7) and (np.diff(dark) > 0.3).all()
    assert np.allclose(100 - np.array(light), np.arange(12), atol=0.5) and (np.diff(light) < -0.5).all()
    for field in made.page.fields:
        rows, columns = _px(field.black.grown(-0.5))
        patch = page.pixels[rows, columns].reshape(-1, 3)
        assert np.array_equal(np.unique(patch, axis=0), np.unique(black[0], axis=0)), "black beside each field"
        rows, columns = _px(field.bare.grown(-0.5))
        assert (page.pixels[rows, columns] == 255).all(), "and bare paper"
    plain = len(made.page.fields) + len(made.page.black_wedge) + len(made.page.white_wedge) - 1
    assert len(page.parts) == len(made.page.page.laid) + plain + len(made.page.page.lettering), "a PDF holds all of it"
    foot = made.page.page.lettering[-1]
    rows, columns = _px(Box(foot.x, foot.y - foot.capital, 40, foot.capital))
    assert page.pixels[rows, columns].min() < 120, "the line at the foot is there"


def test_what_a_file_for_another_program_holds(cloths: Picture, dune: Profile) -> None:
    opened = _opened(cloths, dune, hand_over=HandOver("space", "opRGB", ppi=PPI))
    made = _worked(opened, TestPlan("bracket", count=3))
    page = make_test_page(opened, made)
    assert made.page is not None and page.pixels.dtype == np.uint16
    rows, columns = _px(made.page.fields[0].black.grown(-0.5))
    assert (page.pixels[rows, columns] == 0).all() and (page.pixels[:4] == 65535).all()


def test_steps_are_told_of_the_pieces_that_are_printed(cloths: Picture, dune: Profile) -> None:
    opened = _opened(cloths, dune)
    for plan in (TestPlan("bracket", first="contrast", count=6), TestPlan("takes"), TestPlan("two", first="contrast")):
        made = _worked(opened, plan, titles=((1, "a very long name of a take, told whole"), (2, "another as long")))
        boxes = [c.pixels(*opened.open.size) for c in made.pieces]
        told = plan_variants(opened, plan, boxes, _others(opened))
        assert [b.differences for b in made.planned.brackets] == [b.differences for b in told.brackets]
        assert [v.values for v in made.planned.variants] == [v.values for v in told.variants]


def test_several_pieces_and_the_whole_picture(cloths: Picture, dune: Profile) -> None:
    opened = _opened(cloths, dune)
    areas = np.zeros((40, 60), dtype=int)
    areas[5:12, 40:50] = 1
    two = _worked(opened, TestPlan("bracket", count=3, many=2), areas)
    assert len(two.pieces) == 2 and two.page is not None and len(two.page.page.laid) == 2 * len(two.planned.variants)
    assert two.covered is not None and two.covered.of_areas == 1
    whole = _worked(opened, TestPlan("bracket", count=3, whole=True))
    assert whole.pieces == () and whole.covered is None and whole.page is not None
    assert whole.scale == pytest.approx(whole.page.piece[0] / 270) and 0 < whole.scale < 1
    assert whole.page.piece[0] / whole.page.piece[1] == pytest.approx(1.35, abs=0.01)
    # a piece chosen by hand lies about the chosen place, inside the crop
    chosen = _worked(opened, TestPlan("bracket", count=3, pieces=(Crop(0.9, 0.9, 0.05, 0.05),)))
    (piece,) = chosen.pieces
    assert piece.x + piece.width == pytest.approx(0.95, abs=1e-6) and piece.y + piece.height == pytest.approx(
        1.0, abs=1e-6
    )
    assert chosen.pieces != two.pieces[:1]


def test_an_upright_print_has_an_upright_sheet(cloths: Picture, dune: Profile) -> None:
    upright = _opened(cloths, dune, frame=Frame(Crop(0.3, 0.0, 0.4, 1.0), PrintSize(12.0, 20.0)))
    made = _worked(upright, TestPlan("bracket", count=3))
    assert made.page is not None and made.page.page.height > made.page.page.width
    lying = _worked(_opened(cloths, dune), TestPlan("bracket", count=3))
    assert lying.page is not None and lying.page.page.height < lying.page.page.width


def test_live_proofs_are_what_the_exact_road_shows(cloths: Picture, dune: Profile, screen: Profile) -> None:
    recipe = by_hand(contrast=6).having(RecipeStep(LIGHT, Values.of(lightness=0.5)))
    opened, look = _opened(cloths, dune, recipe=recipe), Look(screen, "on-paper")
    made = _worked(opened, TestPlan("two"))
    seen = look_at_sheet(opened, made, look, 1.0, False)
    assert made.page is not None and len(seen.pieces) == 9
    leg = look.leg(dune)
    for rgb, variant, field in zip(seen.pieces, made.planned.variants, made.page.fields, strict=True):
        size = round(field.pieces[0].width), round(field.pieces[0].height)
        one = opened.having(variant.rendition.recipe.on_screen)
        block = one.tuned.region(made.pieces[0].pixels(*opened.open.size), *size)
        assert np.array_equal(rgb, proof_rgb(block, one.chain(), leg)), "what the light does is not done twice"
    assert len({rgb.tobytes() for rgb in seen.pieces}) == 9, "each its own"
    assert not np.array_equal(look_at_sheet(opened, made, look, 1.0, True).pieces[0], seen.pieces[0])
    other = look_at_sheet(opened, made, Look(screen, "true-black"), 1.0, False)
    assert not np.array_equal(other.pieces[4], seen.pieces[4]) and not np.array_equal(other.paper, seen.paper)
    assert np.array_equal(seen.paper, np.round(leg.paper_rgb * 255)) and np.array_equal(seen.black, seen.black_wedge[0])
    assert (np.diff(seen.black_wedge.astype(int).mean(axis=1)) >= 0).all() and len(
        np.unique(seen.black_wedge, axis=0)
    ) > 6
    assert np.array_equal(seen.white_wedge[0], seen.paper)
    assert shown_recipe(recipe, True) is recipe and shown_recipe(recipe, False).step(LIGHT) is None


def test_sharpening_is_looked_at_pixel_for_pixel(cloths: Picture, dune: Profile, screen: Profile) -> None:
    opened, look = _opened(cloths, dune, hand_over=HandOver(ppi=300.0)), Look(screen)
    made = _worked(opened, TestPlan("sharpening"))
    seen = [
        look_at_variant(opened, v, made.pieces[0], (60, 40), look, False).astype(float) for v in made.planned.variants
    ]
    edges = [np.abs(np.diff(rgb, axis=1)).mean() for rgb in seen[1:]]
    assert edges == sorted(edges) and edges[-1] > edges[0] * 1.01 and seen[0].shape == (40, 60, 3)
    black = replace(made.planned.variants[0], black=True)
    assert (
        len(np.unique(look_at_variant(opened, black, made.pieces[0], (9, 8), look, False).reshape(-1, 3), axis=0)) == 1
    )


def test_a_test_sheet_is_written_whole_or_not_at_all(cloths: Picture, dune: Profile, tmp_path: Path) -> None:
    opened = _opened(cloths, dune)
    made = _worked(opened, TestPlan("bracket", count=3))
    path = tmp_path / "sheet.tif"
    written = write_test_page(opened, made, Target(path))
    assert written.rendition == opened.rendition
    back = read_picture(path)
    assert np.array_equal(back.pixels >> 8, make_test_page(opened, made).pixels) and back.profile.digest == dune.digest
    assert made.page is not None and back.info.ppi == pytest.approx(PPI, abs=0.1)
    pdf = tmp_path / "sheet.pdf"
    write_test_page(opened, made, Target(pdf))
    assert pdf.read_bytes().startswith(b"%PDF")
    with pytest.raises(PictureError, match="folder is missing"):
        write_test_page(opened, made, Target(tmp_path / "no" / "a.tif"))

    def stop(share: float, _text: str) -> None:
        if share > 0.3:
            raise Stopped

    with pytest.raises(Stopped):
        write_test_page(opened, made, Target(tmp_path / "late.tif"), progress=stop)
    assert sorted(p.name for p in tmp_path.iterdir()) == ["sheet.pdf", "sheet.tif"]


def test_a_plan_that_cannot_be_has_no_page(cloths: Picture, dune: Profile) -> None:
    opened = _opened(cloths, dune, recipe=Recipe())
    made = _worked(opened, TestPlan("strength"))
    assert made.page is None and made.planned.problem == "no-steps"
    papers = _worked(opened, TestPlan("papers"))
    assert papers.page is None and papers.planned.problem == "one-paper"
