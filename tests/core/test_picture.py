"""Reading pictures: every kind of file, every kind of damage, reductions in linear light."""

import os
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
import pyvips
from PIL import Image
from skimage import data as photographs
from skimage.transform import downscale_local_mean
from tests.conftest import table

from rehearsal.core.errors import PictureError
from rehearsal.core.icc.standard import space_bytes, working_space
from rehearsal.core.picture.file import content_digest, read_picture, upright
from rehearsal.core.picture.pyramid import Pyramid
from rehearsal.core.picture.reduce import judging_size, reduce_to, viewing_distance, wanted_ppi
from rehearsal.core.picture.space import master_space
from rehearsal.core.picture.write import write_picture

PIXELS = np.random.default_rng(3).integers(0, 65536, (30, 40, 3)).astype(np.uint16)


@pytest.mark.parametrize(
    "options", [{}, {"compression": "lzw"}, {"compression": "deflate", "tile": True}, {"bigtiff": True}]
)
def test_16_bit_tiff_is_kept_to_the_bit(options: dict[str, object], tmp_path: Path) -> None:
    image = pyvips.Image.new_from_array(PIXELS).copy(interpretation="rgb16")
    image.set_type(pyvips.GValue.blob_type, "icc-profile-data", space_bytes("ROMM"))
    image.tiffsave(str(tmp_path / "a.tif"), **options)
    picture = read_picture(tmp_path / "a.tif")
    np.testing.assert_array_equal(picture.pixels, PIXELS)
    assert (picture.info.depth, picture.info.assumed) == (16, False)
    assert picture.profile.data == space_bytes("ROMM")


def test_8_bit_jpeg_of_a_real_photograph(tmp_path: Path) -> None:
    # an open photograph from scikit-image (CC0)
    Image.fromarray(photographs.chelsea()).save(tmp_path / "cat.jpg", quality=97, icc_profile=space_bytes("P3"))
    picture = read_picture(tmp_path / "cat.jpg")
    assert picture.info.profile_name == "Display P3"
    assert picture.info.depth == 8 and any("8 bits" in c for c in picture.info.cautions)
    assert np.abs(picture.pixels / 257.0 - photographs.chelsea()).mean() < 2


def test_grey_cmyk_alpha_palette_and_float(tmp_path: Path) -> None:
    Image.fromarray(photographs.camera()).save(tmp_path / "grey.png")
    grey = read_picture(tmp_path / "grey.png")
    assert grey.info.space == "Gray" and grey.pixels.shape[2] == 1 and grey.info.assumed
    rgba = np.zeros((4, 4, 4), np.uint8)
    rgba[:2, :, 3] = 255
    Image.fromarray(rgba).save(tmp_path / "alpha.png")
    alpha = read_picture(tmp_path / "alpha.png")
    assert alpha.pixels[0, 0].tolist() == [0, 0, 0] and alpha.pixels[3, 0].tolist() == [65535] * 3
    assert any("transparency" in c for c in alpha.info.cautions)
    Image.fromarray(photographs.chelsea()).convert("P").save(tmp_path / "palette.png")
    assert read_picture(tmp_path / "palette.png").pixels.shape == (300, 451, 3)
    floats = np.array([[[-0.5, 0.0, 0.5], [1.0, 1.7, np.nan]]], np.float32)
    pyvips.Image.new_from_array(floats).tiffsave(str(tmp_path / "float.tif"))
    found = read_picture(tmp_path / "float.tif")
    np.testing.assert_allclose(found.pixels[0] / 65535, [[0, 0, 0.5], [1, 1, 0]], atol=1e-4)
    assert any("floating-point" in c for c in found.info.cautions)


def test_cmyk_needs_its_profile(tmp_path: Path) -> None:
    Image.new("CMYK", (5, 5)).save(tmp_path / "bare.tif")
    with pytest.raises(PictureError, match="CMYK picture without a profile"):
        read_picture(tmp_path / "bare.tif")
    press = Path("/usr/share/color/icc/ghostscript/default_cmyk.icc").read_bytes()
    Image.new("CMYK", (5, 5)).save(tmp_path / "tagged.tif", icc_profile=press)
    assert read_picture(tmp_path / "tagged.tif").info.space == "CMYK"


def test_untagged_is_taken_for_srgb_and_says_so(tmp_path: Path) -> None:
    Image.new("RGB", (5, 5)).save(tmp_path / "bare.png")
    picture = read_picture(tmp_path / "bare.png")
    assert picture.info.assumed and "no profile" in picture.info.cautions[0]
    assert picture.profile is working_space("sRGB")
    assert read_picture(tmp_path / "bare.png", working_space("P3")).profile.description == "Display P3"


def test_orientation_of_exif(tmp_path: Path) -> None:
    # EXIF 2.32, tag 0x0112; the general imaging library turns it as the other road
    from PIL import ImageOps

    pixels = photographs.chelsea()[:60, :90]
    for orientation in range(1, 9):
        path = tmp_path / f"{orientation}.png"
        exif = Image.Exif()
        exif[0x0112] = orientation
        Image.fromarray(pixels).save(path, exif=exif)
        turned = np.asarray(ImageOps.exif_transpose(Image.open(path)))
        np.testing.assert_array_equal(upright(pixels, orientation), turned)
        np.testing.assert_array_equal(read_picture(path).pixels // 257, turned)


def test_odd_shapes(tmp_path: Path) -> None:
    for size in ((1, 1), (1, 20000), (20000, 1)):
        Image.new("RGB", size, (10, 200, 30)).save(tmp_path / "odd.png")
        picture = read_picture(tmp_path / "odd.png")
        assert (picture.info.width, picture.info.height) == size
        space = master_space(picture.profile)
        reduced = reduce_to(picture.pixels, space, *judging_size(*size))
        assert reduced.size and Pyramid(picture.pixels, space).block(0, 0, *size, 10, 10).shape == (10, 10, 3)


def _damaged(tmp_path: Path, kind: str) -> Path:
    path = tmp_path / f"bad.{'jpg' if 'jpeg' in kind else 'tif'}"
    if kind == "text":
        path.write_text("not a picture")
    elif kind == "empty":
        path.touch()
    elif kind != "missing":
        big = np.random.default_rng(1).integers(0, 255, (300, 300, 3)).astype(np.uint8)
        Image.fromarray(big).save(path)
        path.write_bytes(path.read_bytes()[: path.stat().st_size // 2])
    return path


@pytest.mark.parametrize(
    ("kind", "words"),
    [("text", "not a TIFF, JPEG or PNG picture"), ("empty", "is empty"), ("missing", "cannot be opened"),
     ("cut tiff", "damaged|not a picture"),
     ("cut jpeg", "damaged|not a picture")],
)  # fmt: skip
def test_bad_files_get_one_sentence(kind: str, words: str, tmp_path: Path) -> None:
    path = _damaged(tmp_path, kind)
    with pytest.raises(PictureError, match=words) as caught:
        read_picture(path)
    assert str(path) in caught.value.sentence() and caught.value.do
    assert "\n" not in caught.value.sentence()


def test_damaged_profile_inside_a_picture(tmp_path: Path) -> None:
    Image.new("RGB", (5, 5)).save(tmp_path / "odd.tif", icc_profile=b"\0" * 200)
    picture = read_picture(tmp_path / "odd.tif")
    assert picture.info.assumed and any("cannot be used" in c for c in picture.info.cautions)


def test_reduction_averages_light(tmp_path: Path) -> None:
    # scikit-image's block mean on linear light is the outside road
    space = master_space(working_space("sRGB"))
    pixels = photographs.coffee().astype(np.uint16)[:400, :600] * 257
    linear = np.stack([space.linear[:, c][pixels[..., c]] for c in range(3)], axis=-1)
    mean = downscale_local_mean(linear, (4, 4, 1))
    reduced = reduce_to(pixels, space, 150, 100)
    ours = np.stack([space.linear[:, c][reduced[..., c]] for c in range(3)], axis=-1)
    np.testing.assert_allclose(ours, mean, atol=2e-4)
    # a fine checker of black and white becomes half the light, not half the code
    checker = (np.indices((64, 64)).sum(axis=0) % 2 * 65535).astype(np.uint16)[..., None].repeat(3, axis=2)
    grey = reduce_to(checker, space, 8, 8)[0, 0, 0]
    assert grey / 65535 == pytest.approx(0.7354, abs=0.001)


def test_fractional_reduction_keeps_the_mean() -> None:
    space = master_space(working_space("ROMM"))
    linear = space.linear[:, 0][PIXELS[..., 0]].mean()
    for size in ((7, 5), (39, 29), (1, 1)):
        reduced = reduce_to(PIXELS, space, *size)
        assert space.linear[:, 0][reduced[..., 0]].mean() == pytest.approx(linear, abs=2e-3)
    assert reduce_to(PIXELS, space, 400, 300).shape == PIXELS.shape


def test_resolution_of_the_eye() -> None:
    for row in table("viewing_distance_ppi.csv"):
        assert wanted_ppi(float(row["distance_cm"])) == pytest.approx(float(row["ppi_1arcmin"]), abs=0.1)
    assert viewing_distance(40, 30) == 75.0 and viewing_distance(10, 8) == 25.0
    assert judging_size(6000, 4000) == (1732, 1155)
    width, height = judging_size(6000, 4000, (40, 26.7))
    assert width / (40 / 2.54) == pytest.approx(wanted_ppi(viewing_distance(40, 26.7)), rel=0.002)
    assert width / height == pytest.approx(1.5, abs=0.002)


def test_pyramid_cuts_the_right_place(save: Callable[..., Path]) -> None:
    pixels = np.zeros((1600, 2400, 3), np.uint16)
    pixels[400:800, 600:1200] = 50000
    space = master_space(working_space("sRGB"))
    pyramid = Pyramid(pixels, space)
    assert (pyramid.block(600, 400, 600, 400, 150, 100) == 50000).all()
    assert (pyramid.block(0, 800, 2400, 800, 300, 100) == 0).all()
    assert (pyramid.block(599, 399, 2, 2, 8, 8)[4:, 4:] == 50000).all()


def test_digest_follows_the_content(tmp_path: Path) -> None:
    (tmp_path / "a").write_bytes(b"one")
    (tmp_path / "b").write_bytes(b"one")
    (tmp_path / "c").write_bytes(b"two")
    assert content_digest(tmp_path / "a") == content_digest(tmp_path / "b") != content_digest(tmp_path / "c")


def test_a_jpeg_is_written_in_quality_95_without_thinning_colours(tmp_path: Path) -> None:
    from PIL import Image

    rng = np.random.default_rng(3)
    pixels = rng.integers(0, 255, (48, 64, 3)).astype(np.uint8)
    write_picture(pixels, working_space("sRGB"), 300, tmp_path / "ours.jpg")
    Image.fromarray(pixels).save(tmp_path / "theirs.jpg", quality=95, subsampling=0)
    with Image.open(tmp_path / "ours.jpg") as ours, Image.open(tmp_path / "theirs.jpg") as theirs:
        assert ours.quantization == theirs.quantization and ours.layer == theirs.layer  # type: ignore[attr-defined]


def test_a_file_is_flushed_to_the_disk_before_it_takes_its_name(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    order = []
    flush, rename = os.fsync, Path.replace
    monkeypatch.setattr(os, "fsync", lambda f: order.append("flush") or flush(f))
    monkeypatch.setattr(Path, "replace", lambda a, b: order.append("rename") or rename(a, b))
    write_picture(np.zeros((8, 8, 3), np.uint8), working_space("sRGB"), 300, tmp_path / "a.tif")
    assert order == ["flush", "rename"]


@pytest.mark.parametrize("error", [OSError(28, "No space left on device"), RuntimeError("anything"), MemoryError()])
def test_nothing_half_written_stays_after_an_error(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, error: Exception
) -> None:
    path = tmp_path / "print.tif"
    path.write_bytes(b"an earlier file")

    def broken(_file: int) -> None:
        raise error

    monkeypatch.setattr(os, "fsync", broken)
    with pytest.raises((PictureError, RuntimeError, MemoryError)):
        write_picture(np.zeros((8, 8, 3), np.uint8), working_space("sRGB"), 300, path)
    assert [p.name for p in tmp_path.iterdir()] == ["print.tif"] and path.read_bytes() == b"an earlier file"


def test_a_large_tiff_is_not_packed_and_reads_alike(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    pixels = np.random.default_rng(5).integers(0, 65536, (40, 60, 3)).astype(np.uint16)
    for name, most in (("packed", 2400), ("plain", 2399)):
        monkeypatch.setattr("rehearsal.core.picture.write._PACKED_PIXELS", most)
        write_picture(pixels, working_space("opRGB"), 240, tmp_path / f"{name}.tif")
    read = {name: read_picture(tmp_path / f"{name}.tif") for name in ("packed", "plain")}
    with Image.open(tmp_path / "plain.tif") as plain, Image.open(tmp_path / "packed.tif") as packed:
        kinds = (plain.tag_v2[259], packed.tag_v2[259])  # TIFF 6.0: 1 is none, 8 deflate
    assert kinds == (1, 8)
    for each in read.values():
        assert np.array_equal(each.pixels, pixels) and each.profile.digest == working_space("opRGB").digest
        assert each.info.ppi == pytest.approx(240)
