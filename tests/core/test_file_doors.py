"""What a file may be: regular, of a promised format, of a sensible size; and which profile it carries."""

import io
import os
import resource
import struct
import zlib
from pathlib import Path

import numpy as np
import pytest
import pyvips
import skimage
from PIL import Image, ImageCms

from rehearsal.core.errors import PictureError, ProfileError
from rehearsal.core.icc import Step, Transform, lab_profile, open_profile
from rehearsal.core.icc.standard import space_bytes, working_space
from rehearsal.core.picture.file import LargePicture, check_picture, content_digest, read_picture
from rehearsal.core.picture.space import master_space
from rehearsal.core.work.files import read_regular

#: A photograph of a page, open data, tagged with a grey profile whose curve is a dot gain of 20 %.
PAGE = Path(skimage.__file__).parent / "data" / "page.png"


def test_the_grey_profile_of_a_png_is_read() -> None:
    # the other road: the general imaging library hands out the same chunk
    with Image.open(PAGE) as page:
        theirs = page.info["icc_profile"]
    picture = read_picture(PAGE)
    assert picture.profile.data == theirs
    name = ImageCms.getProfileDescription(ImageCms.ImageCmsProfile(io.BytesIO(theirs))).strip()
    assert (picture.info.profile_name, picture.info.assumed) == (name, False)
    assert "20%" in name.replace(" ", "") and not any("profile" in c for c in picture.info.cautions)
    # a dot gain of 20 % prints half a tone as 70 % ink: Y 0.30 of the paper (Murray-Davies, solid black taken as 0)
    half = master_space(picture.profile).linear[32768, 0]
    assert half == pytest.approx(0.30, abs=0.02)


def _png(*chunks: tuple[bytes, bytes], grey: bool = False) -> bytes:
    """A 1×1 PNG with more chunks before its pixels (ISO/IEC 15948:2004)."""
    head = struct.pack(">IIBBBBB", 1, 1, 8, 0 if grey else 2, 0, 0, 0)
    pixels = zlib.compress(b"\0" + b"\x80" * (1 if grey else 3))
    made = b"\x89PNG\r\n\x1a\n"
    for kind, data in ((b"IHDR", head), *chunks, (b"IDAT", pixels), (b"IEND", b"")):
        made += struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))
    return made


def _written(tmp_path: Path, data: bytes) -> Path:
    (tmp_path / "made.png").write_bytes(data)
    return tmp_path / "made.png"


@pytest.mark.parametrize(
    ("chunk", "why"),
    [
        (b"name\0\0" + zlib.compress(b"nonsense" * 40), "cannot be used"),
        (b"name\0\0" + b"not deflate at all", "cannot be used"),
        (b"no end of the name" * 9, "cannot be used"),
        (b"name\0\0" + zlib.compress(space_bytes("sRGB")), "it is for RGB"),
    ],
)
def test_a_profile_of_no_use_is_said_and_never_called_missing(chunk: bytes, why: str, tmp_path: Path) -> None:
    picture = read_picture(_written(tmp_path, _png((b"iCCP", chunk), grey=True)))
    assert picture.info.assumed and picture.info.useless_profile
    assert why in picture.info.cautions[0] and "carries no profile" not in picture.info.cautions[0]


def test_a_profile_that_swells_without_end_is_stopped(tmp_path: Path) -> None:
    bomb = b"name\0\0" + zlib.compress(bytes(80 << 20), 9)
    picture = read_picture(_written(tmp_path, _png((b"iCCP", bomb), grey=True)))
    assert "larger than 60 MB" in picture.info.useless_profile


def test_a_png_that_declares_srgb_is_not_untagged(tmp_path: Path) -> None:
    # ISO/IEC 15948:2004, 11.3.3.5
    declared = read_picture(_written(tmp_path, _png((b"sRGB", b"\0"))))
    assert (declared.info.assumed, declared.info.profile_name) == (False, "sRGB IEC 61966-2-1")
    assert read_picture(_written(tmp_path, _png())).info.assumed


def _other(kind: str, path: Path) -> Path:
    image = Image.fromarray(np.full((20, 20, 3), 90, np.uint8))
    image.save(path.with_suffix("." + kind))
    return path.with_suffix("." + kind).rename(path)


@pytest.mark.parametrize("kind", ["webp", "gif", "bmp", "ppm"])
def test_only_promised_formats_are_opened_whatever_the_name_says(kind: str, tmp_path: Path) -> None:
    path = _other(kind, tmp_path / "picture.tif")
    with pytest.raises(PictureError, match=r"(not a TIFF, JPEG or PNG picture|which is not read).*picture\.tif"):
        read_picture(path)
    pyvips.Image.black(4, 4).write_to_file(str(tmp_path / "own.v"))
    with pytest.raises(PictureError, match="not a TIFF, JPEG or PNG"):
        check_picture((tmp_path / "own.v").rename(tmp_path / "own.png"))


def test_the_content_counts_and_not_the_ending(tmp_path: Path) -> None:
    Image.new("RGB", (3, 2)).save(tmp_path / "a.png")
    assert read_picture((tmp_path / "a.png").rename(tmp_path / "a.jpg")).info.width == 3


def test_lab_is_refused_and_more_pictures_in_one_file_are_said(tmp_path: Path) -> None:
    Image.new("LAB", (4, 4)).save(tmp_path / "lab.tif")
    floats = pyvips.Image.black(4, 4, bands=3).copy(interpretation="lab")
    floats.tiffsave(str(tmp_path / "float lab.tif"))
    for name in ("lab.tif", "float lab.tif"):
        with pytest.raises(PictureError, match=r"in Lab.*lab\.tif.*RGB working space"):
            read_picture(tmp_path / name)
    pages = [Image.new("RGB", (4, 4), (i, 0, 0)) for i in (200, 3)]
    pages[0].save(tmp_path / "pages.tif", save_all=True, append_images=pages[1:])
    read = read_picture(tmp_path / "pages.tif")
    assert read.pixels[0, 0, 0] == 200 * 257 and any("holds 2 pictures" in c for c in read.info.cautions)


def test_pipes_devices_and_folders_are_refused_at_once(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe.tif")
    for path in (tmp_path / "pipe.tif", Path("/dev/zero"), tmp_path):
        with pytest.raises(PictureError, match="cannot be opened"):
            read_picture(path)
        with pytest.raises(PictureError, match="cannot be opened"):
            content_digest(path)
        with pytest.raises(ProfileError, match="cannot be read"):
            open_profile(path)


def test_no_more_is_read_than_is_allowed(tmp_path: Path) -> None:
    (tmp_path / "long").write_bytes(bytes(1 << 20))
    assert len(read_regular(tmp_path / "long", 1 << 20)) == 1 << 20
    (tmp_path / "long").write_bytes(bytes((1 << 20) + 1))
    with pytest.raises(OSError, match="larger than 1 MB"):
        read_regular(tmp_path / "long", 1 << 20)


def test_a_name_that_is_not_utf_8_is_read(tmp_path: Path) -> None:
    path = Path(os.fsdecode(os.fsencode(tmp_path) + b"/caf\xe9.png"))
    Image.new("RGB", (3, 2)).save(tmp_path / "a.png")
    (tmp_path / "a.png").rename(path)
    assert read_picture(path).info.width == 3 and len(content_digest(path)) == 64


def test_dot_gain_of_20_per_cent_reads_as_the_profile_that_says_so() -> None:
    with Image.open(PAGE) as page:
        theirs = open_profile(page.info["icc_profile"])
    codes = np.linspace(0, 1, 21)[:, None]
    own, ours, plain = (
        Transform([Step(p), Step(lab_profile(), "relative")]).apply(codes)[:, 0]
        for p in (theirs, working_space("graydot20"), working_space("gray"))
    )
    # a parabola against that maker's own curve, which is steeper in the last fifth of the darks
    assert np.abs(own - ours)[4:].max() < 3 and np.abs(own - ours).mean() < 2
    assert np.abs(own - plain).max() > 6 and np.abs(own - plain).mean() > 3


def _bomb(path: Path, width: int = 19_990, height: int = 20_000) -> Path:
    """A grey PNG of one bit a pixel: 400 megapixels in some 50 KB."""
    row = bytes(1 + -(-width // 8))
    packer, packed = zlib.compressobj(9), b""
    for _ in range(height):
        packed += packer.compress(row)
    packed += packer.flush()
    parts = (b"IHDR", struct.pack(">IIBBBBB", width, height, 1, 0, 0, 0, 0)), (b"IDAT", packed), (b"IEND", b"")
    with path.open("wb") as stream:
        stream.write(b"\x89PNG\r\n\x1a\n")
        for name, body in parts:
            stream.write(struct.pack(">I", len(body)) + name + body + struct.pack(">I", zlib.crc32(name + body)))
    return path


def test_a_very_large_picture_is_asked_about_before_it_takes_memory(tmp_path: Path) -> None:
    path = _bomb(tmp_path / "bomb.png")
    assert path.stat().st_size < 100_000
    check_picture(path)
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    with pytest.raises(LargePicture, match="400 megapixels") as told:
        read_picture(path)
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before < 60_000, "kilobytes"
    assert "1.1 GB" in told.value.words() and "bomb.png" in told.value.words()
    small = _bomb(tmp_path / "large.png", 155_000, 1001)
    with pytest.raises(LargePicture):
        read_picture(small)
    assert read_picture(small, large=True).pixels.shape == (1001, 155_000, 1)
    assert read_picture(_bomb(tmp_path / "fits.png", 155_000, 1000)).pixels.shape[0] == 1000


@pytest.mark.parametrize(
    ("name", "head", "what"),
    [
        ("a.layered", b"8BPS\0\1", "a file with layers, which is not read"),
        ("a.webp", b"RIFF\x24\0\0\0WEBPVP8 ", "a web picture, which is not read"),
        ("a.gif", b"GIF89a", "a web picture"),
        ("a.avif", b"\0\0\0\x18ftypavif", "a web picture"),
        ("a.heic", b"\0\0\0\x18ftypheic", "a phone's picture"),
        ("a.raw", b"\0\0\0\x18ftypcrx ", "a camera's raw file"),
        ("a.raw", b"II*\0\x08\0\0\0", "a camera's raw file"),
        ("a.xyz", b"something else", "not a TIFF, JPEG or PNG picture"),
    ],
)
def test_what_is_not_read_names_what_helps(name: str, head: bytes, what: str, tmp_path: Path) -> None:
    path = tmp_path / name
    path.write_bytes(head + bytes(200))
    with pytest.raises(PictureError) as refused:
        check_picture(path)
    assert what in refused.value.words() and refused.value.words().endswith(
        "Save a TIFF copy of it in its own program."
    )
    assert name in refused.value.words()


def test_a_tiff_without_an_ending_is_no_raw_file(tmp_path: Path) -> None:
    for name in ("plain", "plain.TIFF"):
        Image.fromarray(np.zeros((8, 8, 3), np.uint8)).save(tmp_path / name, format="TIFF")
        check_picture(tmp_path / name)
