"""What arrived, what is written, and readings, without a window; checked by Pillow and by the exact road."""

import os
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PIL import Image, ImageFilter
from skimage import data as photographs

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.errors import PictureError, Stopped
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.pyramid import Pyramid
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.chain import PrintChain, Rendering, ScreenLeg
from rehearsal.core.sheet.export import tunable, write_picture
from rehearsal.core.sheet.layout import SHEETS, Crop
from rehearsal.core.sheet.testsheet import variants
from rehearsal.core.tuning.values import Tuning
from rehearsal.tasks.arrival import SPACES, Arrival, look_at_picture
from rehearsal.tasks.desk_work import LoadedPicture
from rehearsal.tasks.maps import line_reading, read_pixel
from rehearsal.tasks.printing import export_plan, file_name, write_print_file, write_test_sheet
from rehearsal.tasks.scouting import OpenPicture, PaperChoice, compare_two
from rehearsal.tasks.thumbnails import proof_rgb, thumbnail_block
from rehearsal.workbook.values import PrintCondition, Take


def _quiet(_share: float, _text: str) -> None:
    return None


def _loaded(pixels: np.ndarray, space: str, path: Path) -> LoadedPicture:
    write_picture(pixels, working_space(space), 300, path)
    picture = read_picture(path)
    return LoadedPicture(picture, Pyramid(*tunable(picture.pixels, master_space(picture.profile))))


@pytest.fixture
def coffee(tmp_path: Path) -> LoadedPicture:
    """An open photograph shipped with scikit-image (CC0), as 16-bit sRGB."""
    return _loaded(photographs.coffee().astype(np.uint16) * 257, "sRGB", tmp_path / "coffee.tif")


def _looked(loaded: LoadedPicture, crop: Crop, screen: Profile | None = None) -> Arrival:
    return look_at_picture(loaded.picture, crop, OpenPicture(loaded.pyramid, crop, Tuning(), None), screen, _quiet)


# ---- what arrived


def test_a_picture_lies_within_its_own_space(coffee: LoadedPicture, screen: Profile) -> None:
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
    plain = Image.fromarray(photographs.coffee())
    sharp = plain.filter(ImageFilter.UnsharpMask(radius=1.5, percent=150, threshold=0))
    before, after = (
        _looked(_loaded(np.asarray(image).astype(np.uint16) * 257, "sRGB", tmp_path / f"{i}.tif"), Crop())
        for i, image in enumerate((plain, sharp))
    )
    assert before.overshoot is not None and after.overshoot is not None
    assert (before.sharpened, after.sharpened) == (False, True) and after.overshoot > before.overshoot + 0.03


def test_looking_can_be_stopped(coffee: LoadedPicture) -> None:
    def stop(share: float, _text: str) -> None:
        if share > 0.2:
            raise Stopped

    with pytest.raises(Stopped):
        look_at_picture(coffee.picture, Crop(), OpenPicture(coffee.pyramid, Crop(), Tuning(), None), None, stop)


# ---- what is written


def test_the_two_routes(dune: Profile) -> None:
    take = Take(intent="perceptual", ppi=240, depth=8)
    direct = export_plan(take, dune)
    assert direct.target is dune and direct.rendering == Rendering("perceptual", True) and direct.ppi == 240
    space = export_plan(replace(take, route="space", space="P3"), dune)
    assert space.target.description == working_space("P3").description
    assert space.rendering == Rendering("relative", True), "the print is converted later, once"


def test_names_carry_what_the_file_is_for() -> None:
    condition = PrintCondition(paper="White Dune", printer="Skarn 24")
    direct = file_name(Take(intent="perceptual"), condition, "/pictures/salt pans.tif", ".tif")
    other = file_name(Take(route="space", space="opRGB"), condition, "/pictures/salt pans.tif", ".tif")
    assert "salt" in direct and "White" in direct and "Skarn" in direct and "perceptual" in direct
    assert "opRGB" in other and direct != other


def test_the_print_file_holds_the_printers_values(coffee: LoadedPicture, dune: Profile, tmp_path: Path) -> None:
    steps: list[float] = []
    path = write_print_file(
        coffee, Take(depth=16), dune, tmp_path / "print.tif", lambda share, _text: steps.append(share)
    )
    made = read_picture(path)
    assert made.profile.digest == dune.digest and steps == sorted(steps) and steps[-1] == 0.95
    wanted = PrintChain(coffee.picture.profile, dune, Rendering()).device(
        coffee.picture.pixels[::37, ::41].reshape(-1, 3) / 65535.0
    )
    np.testing.assert_allclose(made.pixels[::37, ::41].reshape(-1, 3) / 65535.0, wanted, atol=3e-3)


def test_the_master_is_never_written_to(coffee: LoadedPicture, dune: Profile) -> None:
    path = Path(coffee.picture.info.path)
    before = path.read_bytes()
    with pytest.raises(PictureError, match="never written to"):
        write_print_file(coffee, Take(), dune, path, _quiet)
    assert path.read_bytes() == before


def test_folders_that_cannot_be_written_to(
    coffee: LoadedPicture, dune: Profile, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    with pytest.raises(PictureError, match="folder is missing"):
        write_print_file(coffee, Take(), dune, tmp_path / "nowhere" / "a.tif", _quiet)
    # a folder without the right to write, told by the system (the superuser may write everywhere)
    monkeypatch.setattr(os, "access", lambda _folder, mode: mode != os.W_OK)
    with pytest.raises(PictureError, match="cannot be written to"):
        write_test_sheet(coffee, Take(), dune, "A4", variants(Tuning(), "lightness", 2), tmp_path / "a.tif", _quiet)
    assert not (tmp_path / "a.tif").exists()


def test_a_test_sheet_lies_as_the_picture_does(coffee: LoadedPicture, dune: Profile, tmp_path: Path) -> None:
    short, long = SHEETS["A5"]
    take = Take(ppi=72)
    patches = variants(Tuning(), "lightness", 3)
    lying = read_picture(write_test_sheet(coffee, take, dune, "A5", patches, tmp_path / "one.tif", _quiet))
    upright_take = replace(take, crop=Crop(0, 0, 0.4, 1))
    upright = read_picture(write_test_sheet(coffee, upright_take, dune, "A5", patches, tmp_path / "two.tif", _quiet))
    for made, (width, height) in ((lying, (long, short)), (upright, (short, long))):
        assert made.info.width == pytest.approx((width - 2) / 2.54 * 72, abs=2)
        assert made.info.height == pytest.approx((height - 2) / 2.54 * 72, abs=2)
        assert made.profile.digest == dune.digest


# ---- readings


def test_a_reading_of_a_pixel_is_the_exact_road(coffee: LoadedPicture, dune: Profile) -> None:
    space, chain = coffee.pyramid.space, PrintChain(coffee.picture.profile, dune, Rendering())
    for place in ((30, 40), (300, 200), (420, 310)):
        value = coffee.pyramid.pixel(*place)
        found = read_pixel(value, space.profile, dune, Tuning(), Rendering())
        printed = chain.print_lab(value[None] / 65535.0)[0]
        np.testing.assert_allclose(found.printed, printed, atol=1e-6)
        assert found.change == pytest.approx(float(delta_e_2000(found.master, printed)), abs=1e-6)
        assert bool(found.cause) == (found.delta > 1.5)


def test_tuning_changes_what_is_printed_not_the_master(coffee: LoadedPicture, dune: Profile) -> None:
    value, profile = np.array([26000, 22000, 18000], dtype=np.uint16), coffee.pyramid.space.profile
    plain, lighter = (read_pixel(value, profile, dune, t, Rendering()) for t in (Tuning(), Tuning(lightness=6)))
    np.testing.assert_array_equal(plain.master, lighter.master)
    assert lighter.printed[0] > plain.printed[0] + 3


def test_a_line_over_a_ramp(tmp_path: Path, dune: Profile) -> None:
    ramp = np.linspace(0, 65535, 400).astype(np.uint16)[None, :, None].repeat(60, axis=0).repeat(3, axis=2)
    loaded = _loaded(ramp, "sRGB", tmp_path / "ramp.tif")
    found = line_reading(loaded.pyramid, (0.02, 0.5, 0.98, 0.5), dune, Tuning(), Rendering("relative", False))
    master, printed = found.master[:, 0], found.printed[:, 0]
    assert (np.diff(master) > 0).all() and master[0] < 3 and master[-1] > 97
    # without compensation the darks run together on the paper's black (common practice, no source)
    flat = np.asarray(found.flat)
    assert flat[:10].any() and not flat[master > 40].any()
    assert np.ptp(printed[master < 8]) < 2


def test_two_equal_profiles_do_not_differ(coffee: LoadedPicture, dune: Profile, gloss: Profile) -> None:
    opened = OpenPicture(coffee.pyramid, Crop(), Tuning(), None)
    same = compare_two(opened, PaperChoice(dune, Rendering()), PaperChoice(dune, Rendering()), _quiet)
    assert same.proofs[0] == 0 and same.beyond[0] == same.beyond[1] and same.common == (100, 100)
    other = compare_two(opened, PaperChoice(dune, Rendering()), PaperChoice(gloss, Rendering()), _quiet)
    assert other.proofs[0] > 1 and other.beyond[0] > other.beyond[1], "matte holds less of a picture with deep blacks"


def test_small_pictures_are_the_exact_road(coffee: LoadedPicture, dune: Profile, screen: Profile) -> None:
    block = thumbnail_block(coffee.pyramid, Crop(0.25, 0.25, 0.5, 0.5), 60)
    assert max(block.shape[:2]) == 60
    chain, leg = PrintChain(coffee.picture.profile, dune, Rendering()), ScreenLeg(dune, screen, "on-paper")
    rgb = proof_rgb(block, chain, leg)
    exact = leg.rgb(chain.device(block[7, 9][None] / 65535.0))[0] * 255
    np.testing.assert_allclose(rgb[7, 9], exact, atol=0.51)
    assert rgb.shape == block.shape
