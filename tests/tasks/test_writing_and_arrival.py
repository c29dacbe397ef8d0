"""What arrived, what is written, and readings, without a window; checked by Pillow and by the exact road."""

import os
from pathlib import Path

import numpy as np
import pytest
from PIL import Image, ImageFilter
from skimage import data as photographs
from tests.conftest import opened_for

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.errors import PictureError, Stopped
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import SPACES, working_space
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.write import write_picture
from rehearsal.core.proof.chain import PrintChain, ScreenLeg
from rehearsal.core.sheet.printfile import file_profile
from rehearsal.core.tuning.opened import OpenPicture
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import Crop, Frame
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.recipe import Recipe, by_hand
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.tasks import arrival
from rehearsal.tasks.arrival import Arrival, look_at_picture
from rehearsal.tasks.judging import judge_rendition
from rehearsal.tasks.maps import line_reading, read_point
from rehearsal.tasks.proofing import proof_rgb, thumbnail_block
from rehearsal.tasks.scouting import compare_two
from rehearsal.tasks.writing import file_name, write_print_file
from rehearsal.workbook.values import Written


def _quiet(_share: float, _text: str) -> None:
    return None


def _loaded(pixels: np.ndarray, space: str, path: Path) -> OpenPicture:
    write_picture(pixels, working_space(space), 300, path)
    return OpenPicture(read_picture(path), str(path))


@pytest.fixture
def coffee(tmp_path: Path) -> OpenPicture:
    """An open photograph shipped with scikit-image (CC0), as 16-bit sRGB."""
    return _loaded(photographs.coffee().astype(np.uint16) * 257, "sRGB", tmp_path / "coffee.tif")


def _looked(loaded: OpenPicture, crop: Crop, screen: Profile | None = None) -> Arrival:
    return look_at_picture(opened_for(loaded, working_space("sRGB"), frame=Frame(crop)), screen, _quiet)


# ---- what arrived


def test_a_picture_lies_within_its_own_space(coffee: OpenPicture, screen: Profile) -> None:
    found = _looked(coffee, Crop(), screen)
    assert set(found.beyond_spaces) == set(SPACES)
    # sRGB lies within the three others (their published primaries), and a picture within its own space
    assert all(share < 0.2 for share in found.beyond_spaces.values())
    assert found.beyond_screen is not None and found.beyond_screen < 1
    assert not found.sharpened and found.clipped is not None


def test_wide_colours_are_found_only_inside_the_crop(tmp_path: Path) -> None:
    pixels = np.full((200, 300, 3), 30000, np.uint16)
    pixels[:, 150:] = (10000, 60000, 5000)  # a ROMM green that no screen has
    loaded = _loaded(pixels, "ROMM", tmp_path / "half.tif")
    whole, left = _looked(loaded, Crop()), _looked(loaded, Crop(0, 0, 0.4, 1))
    assert whole.beyond_spaces["sRGB"] == pytest.approx(50, abs=3) == whole.beyond_spaces["opRGB"]
    assert whole.beyond_spaces["ROMM"] == 0 and set(left.beyond_spaces.values()) == {0.0}
    assert whole.beyond_screen is None, "no screen is known"


def test_clipping_inside_the_crop(tmp_path: Path) -> None:
    pixels = np.full((100, 200, 3), 30000, np.uint16)
    pixels[:50] = 65535
    pixels[50:, 100:] = 0
    loaded = _loaded(pixels, "sRGB", tmp_path / "ends.tif")
    whole, lower = _looked(loaded, Crop()).clipped, _looked(loaded, Crop(0, 0.5, 1, 0.5)).clipped
    assert whole is not None and (whole.white, whole.black) == (50, 25)
    assert lower is not None and (lower.white, lower.black) == (0, 50)


def test_sharpening_by_another_program_is_noticed(tmp_path: Path) -> None:
    # Pillow's unsharp mask as the other program, on an open photograph
    plain = Image.fromarray(photographs.camera()).convert("RGB")
    sharp = plain.filter(ImageFilter.UnsharpMask(radius=1.5, percent=150, threshold=0))
    before, after = (
        _looked(_loaded(np.asarray(image).astype(np.uint16) * 257, "sRGB", tmp_path / f"{i}.tif"), Crop())
        for i, image in enumerate((plain, sharp))
    )
    assert before.overshoot is not None and after.overshoot is not None
    assert (before.sharpened, after.sharpened) == (False, True) and after.overshoot > before.overshoot + 0.03


def test_looking_can_be_stopped(coffee: OpenPicture) -> None:
    def stop(share: float, _text: str) -> None:
        if share > 0.2:
            raise Stopped

    with pytest.raises(Stopped):
        look_at_picture(opened_for(coffee, working_space("sRGB")), None, stop)


# ---- what is written


def test_the_two_routes(coffee: OpenPicture, dune: Profile) -> None:
    perceptual = Rendering("perceptual", True)
    assert file_profile(opened_for(coffee, dune, rendering=perceptual)) == (dune, perceptual)
    space, rendering = file_profile(opened_for(coffee, dune, rendering=perceptual, hand_over=HandOver("space", "P3")))
    assert space.description == working_space("P3").description
    assert rendering == Rendering("relative", True), "the print is converted later, once"


def test_names_carry_what_the_file_is_for() -> None:
    condition = PrintCondition(paper="White Dune", printer="Skarn 24")
    direct = file_name(Rendition(rendering=Rendering("perceptual")), condition, "/pictures/salt pans.tif")
    other = file_name(Rendition(hand_over=HandOver("space", "opRGB", "jpeg")), condition, "/pictures/salt pans.tif")
    assert "salt" in direct and "White" in direct and "Skarn" in direct and "perceptual" in direct
    assert "opRGB" in other and direct.endswith(".tif") and other.endswith(".jpg")


def test_the_print_file_holds_the_printers_values(coffee: OpenPicture, dune: Profile, tmp_path: Path) -> None:
    steps: list[float] = []
    opened = opened_for(coffee, dune)
    written = write_print_file(opened, tmp_path / "print.tif", lambda share, _text: steps.append(share))
    assert written == Written(str(tmp_path / "print.tif"), opened.rendition)
    made = read_picture(written.file)
    assert made.profile.digest == dune.digest and steps == sorted(steps) and steps[-1] == 0.95
    wanted = PrintChain(coffee.picture.profile, dune, Rendering()).device(
        coffee.picture.pixels[::37, ::41].reshape(-1, 3) / 65535.0
    )
    np.testing.assert_allclose(made.pixels[::37, ::41].reshape(-1, 3) / 65535.0, wanted, atol=3e-3)


def test_the_master_is_never_written_to(coffee: OpenPicture, dune: Profile) -> None:
    path = Path(coffee.picture.info.path)
    before = path.read_bytes()
    with pytest.raises(PictureError, match="never written to"):
        write_print_file(opened_for(coffee, dune), path)
    assert path.read_bytes() == before


def test_folders_that_cannot_be_written_to(
    coffee: OpenPicture, dune: Profile, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    with pytest.raises(PictureError, match="folder is missing"):
        write_print_file(opened_for(coffee, dune), tmp_path / "nowhere" / "a.tif")
    # a folder without the right to write, told by the system (the superuser may write everywhere)
    monkeypatch.setattr(os, "access", lambda _folder, mode: mode != os.W_OK)
    with pytest.raises(PictureError, match="cannot be written to"):
        write_print_file(opened_for(coffee, dune), tmp_path / "a.tif")
    assert not (tmp_path / "a.tif").exists()


# ---- readings


def test_a_reading_of_a_pixel_is_the_exact_road(coffee: OpenPicture, dune: Profile) -> None:
    space, chain = coffee.pyramid.space, PrintChain(coffee.picture.profile, dune, Rendering())
    for place in ((30, 40), (300, 200), (420, 310)):
        value = coffee.picture.pixels[place[1], place[0]]
        found = read_point(opened_for(coffee, dune), *place)
        printed = chain.print_lab(value[None] / 65535.0)[0]
        np.testing.assert_allclose(found.master, space.to_lab(value[None, None])[0, 0], atol=1e-4)
        np.testing.assert_allclose(found.printed, printed, atol=1e-6)
        assert found.change == pytest.approx(float(delta_e_2000(found.master, printed)), abs=1e-6)
        assert bool(found.cause) == (found.delta > 1.5)


def test_tuning_changes_what_is_printed_not_the_master(coffee: OpenPicture, dune: Profile) -> None:
    plain, lighter = (read_point(opened_for(coffee, dune, recipe=r), 30, 40) for r in (Recipe(), by_hand(lightness=1)))
    np.testing.assert_array_equal(plain.master, lighter.master)
    assert lighter.printed[0] > plain.printed[0] + 3


def test_a_line_over_a_ramp(tmp_path: Path, dune: Profile) -> None:
    ramp = np.linspace(0, 65535, 400).astype(np.uint16)[None, :, None].repeat(60, axis=0).repeat(3, axis=2)
    loaded = _loaded(ramp, "sRGB", tmp_path / "ramp.tif")
    found = line_reading(opened_for(loaded, dune, rendering=Rendering("relative", False)), (0.02, 0.5, 0.98, 0.5))
    master, printed = found.master[:, 0], found.printed[:, 0]
    assert (np.diff(master) > 0).all() and master[0] < 3 and master[-1] > 97
    # without compensation the darks run together on the paper's black (common practice, no source)
    flat = np.asarray(found.flat)
    assert flat[:10].any() and not flat[master > 40].any()
    assert np.ptp(printed[master < 8]) < 2


def test_two_equal_profiles_do_not_differ(coffee: OpenPicture, dune: Profile, gloss: Profile) -> None:
    mine, theirs = opened_for(coffee, dune), opened_for(coffee, gloss)
    same = compare_two(mine, mine, _quiet)
    assert (
        same.pair.proofs[0] == 0
        and same.lost[0] == same.lost[1]
        and same.pair.common == (100, 100)
        and same.inside == ((), ())
    )
    other = compare_two(mine, theirs, _quiet)
    assert other.pair.proofs[0] > 1 and other.lost[0].share > other.lost[1].share, (
        "matte holds less of a picture with deep blacks"
    )
    assert other.inside[1] and other.inside[1][0].share > 0.3


def test_small_pictures_are_the_exact_road(coffee: OpenPicture, dune: Profile, screen: Profile) -> None:
    block = thumbnail_block(opened_for(coffee, dune, frame=Frame(Crop(0.25, 0.25, 0.5, 0.5))), 60)
    assert max(block.shape[:2]) == 60
    chain, leg = PrintChain(coffee.picture.profile, dune, Rendering()), ScreenLeg(dune, screen, "on-paper")
    rgb = proof_rgb(block, chain, leg)
    exact = leg.rgb(chain.device(block[7, 9][None] / 65535.0))[0] * 255
    np.testing.assert_allclose(rgb[7, 9], exact, atol=0.51)
    assert rgb.shape == block.shape


def test_clipping_is_counted_on_about_as_many_pixels_as_are_meant(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    loaded, counted = _loaded(np.full((400, 600, 3), 30000, np.uint16), "sRGB", tmp_path / "large.tif"), []
    real = arrival.clipping
    monkeypatch.setattr(arrival, "_CLIP_STEP_PIXELS", 15_000)
    monkeypatch.setattr(arrival, "clipping", lambda p, step: counted.append(p[::step, ::step, 0].size) or real(p, step))
    _looked(loaded, Crop())
    assert counted == [15_000]


def test_a_lab_that_prescribes_is_followed(coffee: OpenPicture, dune: Profile) -> None:
    opened, wish = opened_for(coffee, dune), Rendering("saturation")
    free, bound = (judge_rendition(opened, default=wish, prescribed=p).advice for p in (False, True))
    assert bound.rendering == wish != free.rendering and "The lab prescribes this." in bound.reasons
