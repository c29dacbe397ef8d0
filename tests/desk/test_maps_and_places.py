"""Map lines and places on the screen: known gradients, known pictures, known geometry."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QImage, QPainter
from scipy import ndimage
from scipy.spatial import cKDTree
from tests.conftest import demo_profile, opened_for

from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.file import Picture, PictureInfo, read_picture
from rehearsal.core.picture.reduce import reduce_to
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.advice import CANDIDATES
from rehearsal.core.proof.chain import Look
from rehearsal.core.proof.contours import calm_lines, isolines, smooth_field
from rehearsal.core.proof.lattice import delta_lattice
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.frame import Crop, Frame
from rehearsal.core.values.recipe import by_hand
from rehearsal.core.values.rendering import Rendering
from rehearsal.demo.pictures import demo_picture
from rehearsal.desk.pair.geometry import Zoom, panes, place
from rehearsal.desk.pair.maplines import HANDS, NEAR_WHITE, Hand, draw_line, strokes
from rehearsal.tasks.maps import LEVELS, Patch, beyond_map, moved_map, read_point, screen_map
from rehearsal.tasks.proofing import intent_pictures


def test_isolines_of_a_known_gradient() -> None:
    # a plane rising by 0.1 a pixel crosses 1.5 at x = 15 and 4 at x = 40
    field = np.tile(np.arange(120) * 0.1, (80, 1))
    for (level, lines), x in zip(isolines(field, LEVELS["beyond"]), (15, 40), strict=True):
        assert len(lines) == 1, level
        inner = lines[0][(lines[0][:, 1] > 2) & (lines[0][:, 1] < 77) & (lines[0][:, 0] < 110)]
        np.testing.assert_allclose(inner[:, 0], x, atol=0.01)


def test_isolines_of_a_known_cone() -> None:
    # a cone of height 10 and slope 0.2: the line at 4 is a circle of radius 30
    y, x = np.mgrid[0:160, 0:200]
    field = 10 - 0.2 * np.hypot(x - 90, y - 80)
    _level, lines = isolines(field, (4.0,))[0]
    np.testing.assert_allclose(np.hypot(lines[0][:, 0] - 90, lines[0][:, 1] - 80), 30, atol=0.05)


def test_specks_are_left_out() -> None:
    field = np.zeros((100, 100))
    field[10:14, 10:14] = 9
    assert isolines(field, (1.5,))[0][1] == ()


def _opened(pixels: np.ndarray, paper: Profile, **parts: object) -> tuple[OpenRendition, Patch]:
    """Pixels in ROMM RGB on a paper, and all of them as a visible part."""
    h, w = pixels.shape[:2]
    info = PictureInfo("fields", w, h, 16, "RGB", "ROMM", False, (), 300.0)
    return opened_for(Picture(pixels, working_space("ROMM"), info), paper, **parts), Patch((0, 0, w, h), w, h)


def _two_fields() -> np.ndarray:
    """Left half a dye far beyond matte paper, right half a middle grey."""
    pixels = np.full((120, 240, 3), 28000, np.uint16)
    pixels[:, :120] = (60000, 14000, 1500)
    return pixels


def test_the_line_stands_where_the_exact_road_says(dune: Profile) -> None:
    pixels = _two_fields()
    lines = beyond_map(*_opened(pixels, dune))
    exact = delta_lattice(dune).exact(master_space(working_space("ROMM")).to_lab(pixels[:1, [10, 200]]).reshape(-1, 3))
    assert exact[0] > 4 and exact[1] < 1.5
    (_level, found), (_inner, steep) = lines.lines
    assert steep == ()  # one line says all of a steep edge
    x = np.concatenate([line[:, 0] for line in found])
    y = np.concatenate([line[:, 1] for line in found])
    edge = x[(x > 60) & (y > 20) & (y < 100)]
    assert len(edge) and np.abs(edge - 119.5).max() < 8
    assert lines.cause is not None
    assert (lines.cause[20:100, 10:100] == 2).all() and (lines.cause[:, 140:] == -1).all()


def test_near_whites_the_paper_cannot_show_get_a_line_of_their_own() -> None:
    quay = demo_profile("OS17_OldQuay_Fine.icc")
    space = master_space(working_space("ROMM"))
    pixels = np.full((120, 240, 3), 45000, np.uint16)
    pixels[:, :120] = (57000, 60000, 65000)  # a bluish cloud
    assert (space.to_lab(pixels)[:, :120, 0] > 85).all()
    lines = beyond_map(*_opened(pixels, quay))
    points = np.concatenate(lines.near_white)
    edge = points[(points[:, 1] > 20) & (points[:, 1] < 100) & (points[:, 0] > 20), 0]
    assert len(edge) and np.abs(edge - 119.5).max() < 3
    assert not beyond_map(*_opened(np.full((80, 80, 3), 30000, np.uint16), quay)).near_white


def test_every_point_of_a_line_is_within_a_screen_pixel_of_the_exact_road(dune: Profile) -> None:
    # the demo's darkest picture as it fits a pane: a shallow field, full of colours near the limit
    picture = read_picture(demo_picture("boiling_house.tif"))
    space = master_space(picture.profile)
    pixels = reduce_to(picture.pixels, space, 489, 326)
    fast = beyond_map(*_opened(pixels, dune)).lines[0][1]
    soft = np.stack([ndimage.gaussian_filter(space.to_lab(pixels)[..., c], 1.0) for c in range(3)], axis=-1)
    exact = delta_lattice(dune).exact(soft.reshape(-1, 3)).reshape(soft.shape[:2])
    there = cKDTree(np.concatenate(calm_lines(smooth_field(exact), (1.5,))[0][1]))
    here = np.concatenate(fast)
    assert len(here) > 1000
    assert there.query(here)[0].max() < 1.0


def test_tuning_moves_the_lines(dune: Profile) -> None:
    pixels = _two_fields()
    pixels[:, :120] = (50000, 22000, 8000)
    plain = beyond_map(*_opened(pixels, dune))
    weaker = beyond_map(*_opened(pixels, dune, recipe=by_hand(strength=-50)))
    assert plain.lines[0][1] and not weaker.lines[0][1]


def test_moved_is_not_beyond(gloss: Profile, dune: Profile) -> None:
    # black without compensation moves much on matte paper, though nothing is too saturated
    pixels = np.full((100, 100, 3), 300, np.uint16)
    pixels[:, :50] = 40000
    lines = moved_map(*_opened(pixels, dune, rendering=Rendering("relative", False)))
    assert lines.cause is None and lines.lines[0][1]


def test_what_the_screen_cannot_show(dune: Profile) -> None:
    screen = working_space("sRGB")
    of_master = screen_map(*_opened(_two_fields(), dune), screen, False)
    of_print = screen_map(*_opened(_two_fields(), dune), screen, True)
    assert of_master.lines[0][1] and not of_print.lines[0][1]


def test_readings_of_one_pixel(dune: Profile) -> None:
    plain, _patch = _opened(_two_fields(), dune)
    vivid, grey = read_point(plain, 20, 60), read_point(plain, 200, 60)
    assert vivid.cause == "too_saturated" and vivid.delta > 4 and grey.cause == "" and grey.delta < 0.5
    lighter = read_point(plain.having(by_hand(lightness=1)), 200, 60)
    assert lighter.printed[0] > grey.printed[0] + 10 and lighter.master[0] == grey.master[0]


def test_smoothing_keeps_the_mean(rng: np.random.Generator) -> None:
    field = rng.random((90, 90))
    assert smooth_field(field).mean() == pytest.approx(field.mean(), abs=0.005)


def test_small_pictures_of_the_intents(dune: Profile, screen: Profile) -> None:
    made = intent_pictures(_opened(_two_fields(), dune)[0], Look(screen), CANDIDATES)
    assert len(made) == 3 and all(m.shape == (114, 228, 3) and m.dtype == np.uint8 for m in made)
    assert np.abs(made[0].astype(int) - made[2]).mean() > 0.5
    narrow, _patch = _opened(_two_fields(), dune, frame=Frame(Crop(0, 0, 0.25, 1)))
    cut = intent_pictures(narrow, Look(screen), CANDIDATES[:1])[0]
    assert cut.shape[:2] == (120, 60), "no more than the crop has"
    assert np.ptp(cut.reshape(-1, 3), axis=0).max() <= 1


AREA = QRectF(0, 0, 1280, 480)


def test_two_panes_are_equal_and_apart() -> None:
    left, right = panes(AREA, True)
    assert left.width() == right.width() and left.right() < right.left()
    assert panes(AREA, False)[0].width() > 2 * left.width()


@given(st.integers(1, 20000), st.integers(1, 20000))
def test_a_fitted_picture_lies_inside_its_pane(width: int, height: int) -> None:
    pane = panes(AREA, True)[0]
    placed = place(pane, width, height, Zoom())
    assert pane.adjusted(-1, -1, 1, 1).contains(placed.picture) and pane.adjusted(-1, -1, 1, 1).contains(placed.mount)
    assert placed.visible_fraction.width() == pytest.approx(1.0)


def test_the_sheet_is_to_scale() -> None:
    pane = panes(AREA, True)[0]
    placed = place(pane, 3000, 2000, Zoom(), (48.3 / 39, 32.9 / 26))
    assert placed.mount.width() / placed.picture.width() == pytest.approx(48.3 / 39, abs=0.01)
    assert placed.mount.height() / placed.picture.height() == pytest.approx(32.9 / 26, abs=0.01)


@given(st.floats(0.6, 8), st.floats(0, 1), st.floats(0, 1))
def test_zoomed_places_keep_their_centre(scale: float, x: float, y: float) -> None:
    pane = panes(AREA, False)[0]
    assert 3000 * scale > pane.width()
    placed = place(pane, 3000, 2000, Zoom(scale, x, y))
    assert placed.picture.width() == pytest.approx(3000 * scale, abs=1)
    assert placed.picture.x() + x * placed.picture.width() == pytest.approx(pane.center().x(), abs=1.5)
    assert Zoom(scale, x, y).moved(9, -9) == Zoom(scale, 1.0, 0.0)


def _drawn(hand: Hand, line: np.ndarray, ground: int, on_dark: bool = False) -> np.ndarray:
    """Grey values (60, 300) of a line drawn on an even ground."""
    image = QImage(300, 60, QImage.Format.Format_RGB32)
    image.fill(QColor(ground, ground, ground))
    painter = QPainter(image)
    draw_line(painter, strokes(line, hand), hand, 235, on_dark)
    painter.end()
    return (
        np.frombuffer(image.constBits().asstring(image.sizeInBytes()), np.uint8).reshape(60, 300, 4)[..., 0].astype(int)
    )


def test_on_dark_ground_there_is_one_light_line_and_on_light_ground_a_dark_one() -> None:
    level = np.array([(10.0, 30.0), (290.0, 30.0)])
    across = _drawn(Hand(), level, 20, on_dark=True)[:, 150]
    assert across.max() > 180 and np.count_nonzero(np.diff((across > 100).astype(int)) == 1) == 1
    across = _drawn(Hand(), level, 120)[:, 150]
    assert across.min() < 60 and across[27:34].max() > 180


def test_the_lines_of_the_maps_are_told_apart_by_their_form() -> None:
    level = np.array([(290.0, 30.0), (10.0, 30.0)])  # walked to the left: the larger values are upward as seen
    dark = {(kind, i): _drawn(hand, level, 120) < 60 for kind, hands in HANDS.items() for i, hand in enumerate(hands)}
    dark["white", 0] = _drawn(NEAR_WHITE, level, 120) < 60
    along = {key: m[29:32, 20:280].any(axis=0).mean() for key, m in dark.items()}
    ticks = {key: np.count_nonzero(np.diff(m[26, 20:280].astype(int)) == 1) for key, m in dark.items()}
    assert along["beyond", 0] == 1 and ticks["beyond", 0] == 0
    assert 0.4 < along["beyond", 1] < 0.8 and ticks["beyond", 1] == 0
    assert ticks["moved", 0] == pytest.approx(260 / 14, abs=2) and ticks["moved", 1] > 2 * ticks["moved", 0]
    assert not dark["moved", 0][34:, 20:280].any()  # towards what lies further only
    assert along["screen", 0] < 0.75 and not dark["screen", 0][30, 20:280].all()
    assert 0.15 < along["white", 0] < 0.5
