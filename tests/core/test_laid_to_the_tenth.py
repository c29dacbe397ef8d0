"""Distances on a page, by hand: cut marks, gaps of test sheets, several prints in the middle, marks and their room."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
import pyvips

from rehearsal.core.icc import Profile
from rehearsal.core.picture.file import read_picture
from rehearsal.core.sheet.boxes import Box
from rehearsal.core.sheet.several import Laid, cut_marks, lay_grid, lay_most
from rehearsal.core.testsheets.laying import GAPS, Wanted, lay_test
from rehearsal.core.tuning.places import weight
from rehearsal.core.values.frame import PrintSize
from rehearsal.core.values.place import Ellipse


def test_cut_marks_begin_a_millimetre_off_and_are_four_long() -> None:
    laid = Laid(0, Box(100.0, 80.0, 50.0, 40.0))
    found = {tuple(round(v, 6) for v in line) for line in cut_marks([laid], Box(0, 0, 300, 300))}
    across = {(x, y, x + d, y) for x, d in ((99.0, -4.0), (151.0, 4.0)) for y in (80.0, 120.0)}
    upright = {(x, y, x, y + d) for y, d in ((79.0, -4.0), (121.0, 4.0)) for x in (100.0, 150.0)}
    assert found == across | upright


@pytest.mark.parametrize(("layout", "gap"), [("2x2", 1.0), ("3x3", 3.0), ("strips", 2.0)])
def test_fields_lie_as_far_apart_as_their_layout_says(layout: str, gap: float) -> None:
    count = {"2x2": 4, "3x3": 9, "strips": 5}[layout]
    page = lay_test(
        Wanted(tuple(f"{i}" for i in range(count)), print_mm=(390.0, 260.0)), "A3", layout, (5.0, 5.0, 5.0, 5.0)
    )
    one, two = page.fields[0].cell, page.fields[1].cell
    apart = two.left - one.right if layout != "strips" else two.top - one.foot
    assert apart == pytest.approx(gap) and GAPS[layout] == gap
    boxes = [field.cell for field in page.fields]
    assert not any(a.meets(b) for i, a in enumerate(boxes) for b in boxes[i + 1 :])


def test_several_prints_lie_in_the_middle_of_the_room_there_is() -> None:
    room = Box(20.0, 30.0, 400.0, 250.0)
    for laid in (lay_most(PrintSize(10.0, 8.0), room, 5.0), lay_grid(PrintSize(9.0, 6.0), room, 3, 2, 5.0)):
        left, right = min(one.box.left for one in laid), max(one.box.right for one in laid)
        top, foot = min(one.box.top for one in laid), max(one.box.foot for one in laid)
        assert left - room.left == pytest.approx(room.right - right) and top - room.top == pytest.approx(
            room.foot - foot
        )
        assert left >= room.left and foot <= room.foot


def test_an_inverted_place_weighs_where_the_plain_one_does_not() -> None:
    place = Ellipse((0.5, 0.3), (0.2, 0.1), 30.0, 0.4, False)
    x, y = np.array([0.5, 0.9, 0.1, 0.62]), np.array([0.3, 0.6, 0.0, 0.36])
    plain, turned = weight(place, x, y), weight(replace(place, invert=True), x, y)
    np.testing.assert_allclose(plain[:3], [1, 0, 0], atol=1e-12)
    np.testing.assert_allclose(turned[:3], [0, 1, 1], atol=1e-12)
    np.testing.assert_allclose(plain + turned, 1.0)


# ---- samples of every width


def test_samples_of_32_bits_keep_their_upper_sixteen(tmp_path: Path) -> None:
    # TIFF 6.0: 32-bit unsigned samples go from 0 to 2³² − 1
    values = np.array([[[0, 2**32 - 1, 2**31]], [[2**16 * 1234, 2**16 * 1234 + 65535, 1]]], np.uint32)
    pyvips.Image.new_from_array(values).copy(interpretation="rgb").tiffsave(str(tmp_path / "wide.tif"))
    found = read_picture(tmp_path / "wide.tif").pixels
    np.testing.assert_array_equal(found, [[[0, 65535, 32768]], [[1234, 1234, 0]]])


def test_inks_that_are_half_there_are_half_the_ink(tmp_path: Path, press: Profile) -> None:
    # no ink is paper: what is transparent in a picture of four inks is bare, and not covered with all of them
    pixels = np.zeros((2, 2, 5), np.uint8)
    pixels[..., :4] = (200, 100, 50, 10)
    pixels[..., 4] = [[255, 0], [128, 255]]
    image = pyvips.Image.new_from_array(pixels).copy(interpretation="cmyk")
    image.tiffsave(str(tmp_path / "inks.tif"))
    found = read_picture(tmp_path / "inks.tif", press).pixels
    assert found.shape == (2, 2, 4)
    np.testing.assert_allclose(found[0, 0] / 257, (200, 100, 50, 10), atol=0.5)
    np.testing.assert_array_equal(found[0, 1], 0)
    np.testing.assert_allclose(found[1, 0] / 257, np.array((200, 100, 50, 10)) * 128 / 255, atol=0.5)
