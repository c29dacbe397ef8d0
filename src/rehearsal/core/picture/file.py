"""Reading picture files through libvips, at full depth and with their profile.

Everything comes back as 16-bit samples in the picture's own colour space; 8-bit values are
multiplied by 257, float values are clipped to 0 to 1. The file is only ever opened for reading.
"""

from __future__ import annotations

import errno
import hashlib
import os
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any, BinaryIO

import numpy as np

from rehearsal.core.errors import PictureError, system_words
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.embedded import embedded_profile
from rehearsal.core.work.files import open_regular

os.environ.setdefault("VIPS_WARNING", "0")

EXTENSIONS = (".tif", ".tiff", ".jpg", ".jpeg", ".png")
_DO = "choose a TIFF, JPEG or PNG picture"
_AGAIN = "export it again from the program it came from"
_SPACE_BY_BANDS = {1: "Gray", 3: "RGB", 4: "CMYK"}
MAX_PIXELS = 400_000_000
#: More pixels than any camera takes at once (common practice, no source): whoever opens them is asked before they take memory.
LARGE_PIXELS = 155_000_000
#: Bytes of a pixel's channel in memory, with its reductions and the working copy beside it.
_BYTES = 2 * 4 / 3


@dataclass(frozen=True)
class PictureInfo:
    """What a picture file says about itself.

    ``depth`` is bits per sample in the file; ``assumed`` is True when the file carries no usable profile,
    ``useless_profile`` says why the one it carries is of no use; ``cautions`` are sentences for the user.
    """

    path: str
    width: int
    height: int
    depth: int
    space: str
    profile_name: str
    assumed: bool
    cautions: tuple[str, ...]
    ppi: float
    useless_profile: str = ""


@dataclass(frozen=True)
class Picture:
    """Pixels (h, w, channels) uint16, upright, with their profile."""

    pixels: np.ndarray
    profile: Profile
    info: PictureInfo


def _vips() -> Any:
    import pyvips

    pyvips.cache_set_max(0)
    return pyvips


#: First bytes of the promised formats, and the loader of each; nothing else is opened, whatever it is called.
_LOADERS = (
    (b"II*\0", "tiffload_source"), (b"MM\0*", "tiffload_source"), (b"II+\0", "tiffload_source"),
    (b"MM\0+", "tiffload_source"), (b"\x89PNG\r\n\x1a\n", "pngload_source"), (b"\xff\xd8\xff", "jpegload_source"),
)  # fmt: skip


_COPY = "save a TIFF copy of it in its own program"
#: What is often tried and not read: first bytes, or the brand of an ISO base media file (ISO 14496-12), and what it is.
_FOREIGN = (
    (b"8BPS", "a file with layers"), (b"RIFF", "a web picture"), (b"GIF8", "a web picture"),
    (b"<svg", "a drawing, not a picture of pixels"),
    (b"<?xml", "a drawing, not a picture of pixels"), (b"%PDF", "a document, not a picture"), (b"BM", "a bitmap without a profile"),
    (b"FUJI", "a camera's raw file"),
)  # fmt: skip
_BRANDS = {b"crx ": "a camera's raw file", b"heic": "a phone's picture", b"heix": "a phone's picture", b"mif1": "a phone's picture",
           b"avif": "a web picture"}  # fmt: skip


def _foreign(head: bytes, path: Path) -> PictureError:
    """Why a file is not read, and what helps."""
    what = _BRANDS.get(head[8:12], "") if head[4:8] == b"ftyp" else ""
    what = what or next((words for start, words in _FOREIGN if head.startswith(start)), "")
    if not what:
        return PictureError("this is not a TIFF, JPEG or PNG picture", path, _COPY)
    return PictureError(f"this is {what}, which is not read", path, _COPY)


def _is_raw(head: bytes, path: Path) -> bool:
    """Cameras' raw files begin as TIFF files do, and hold a small picture or what no program shows as it is."""
    return head[:2] in (b"II", b"MM") and path.suffix.lower() not in ("", ".tif", ".tiff", ".jpg", ".jpeg", ".png")


def _stream(path: Path) -> BinaryIO:
    try:
        return open_regular(path)
    except OSError as error:
        do = "check that the file is still there" if error.errno == errno.ENOENT else _DO
        raise PictureError(f"the picture cannot be opened ({system_words(error)})", path, do) from error


def _open(stream: BinaryIO, path: Path) -> Any:
    """The picture of an open file, its pixels not read yet."""
    pyvips = _vips()
    head = stream.read(12)
    if not head:
        raise PictureError("the file is empty", path, _AGAIN)
    loader = next((name for start, name in _LOADERS if head.startswith(start)), None)
    if loader is None:
        raise _foreign(head, path)
    if _is_raw(head, path):
        raise PictureError("this is a camera's raw file, which is not read", path, _COPY)
    stream.seek(0)
    try:
        source = pyvips.Source.new_from_descriptor(stream.fileno())
        image = getattr(pyvips.Image, loader)(source, access="sequential", fail_on="error")
    except pyvips.Error as error:
        if "lab" in str(error).lower():  # some Lab pictures are named so and refused by the reader
            raise _lab(path) from error
        raise PictureError("this is not a picture that can be read", path, _DO) from error
    if image.width * image.height > MAX_PIXELS:
        raise PictureError(f"the picture has {image.width} × {image.height} pixels, too many", path, "reduce it first")
    if image.interpretation in ("lab", "labs", "labq", "xyz"):
        raise _lab(path)
    return image


def _lab(path: Path) -> PictureError:
    return PictureError("the picture is in Lab, which is not read", path, "export it in an RGB working space")


def check_picture(path: Path) -> None:
    """Raise PictureError when a file cannot be a picture; only its header is read."""
    with _stream(path) as stream:
        _open(stream, path)


def _depth(image: Any) -> int:
    return {"uchar": 8, "char": 8, "ushort": 16, "short": 16, "uint": 32, "int": 32}.get(image.format, 32)


def _samples(image: Any, path: Path) -> np.ndarray:
    """All pixels as uint16."""
    pyvips = _vips()
    try:
        raw = np.asarray(image.numpy())
    except pyvips.Error as error:
        raise PictureError("the picture is damaged or cut short", path, _AGAIN) from error
    raw = raw.reshape(image.height, image.width, image.bands)  # the library drops axes of length one
    if raw.dtype == np.uint16:
        return raw
    if raw.dtype == np.uint8:
        return raw.astype(np.uint16) * np.uint16(257)
    if raw.dtype.kind == "f":
        clean = np.nan_to_num(raw, nan=0.0, posinf=1.0, neginf=0.0)
        return np.round(np.clip(clean, 0, 1) * 65535).astype(np.uint16)
    if raw.dtype == np.uint32:
        return (raw >> 16).astype(np.uint16)
    raise PictureError(f"samples of type {raw.dtype} are not supported", path, _AGAIN)


def _flatten(samples: np.ndarray, colours: int) -> np.ndarray:
    """Lay a picture with transparency on white (on no ink for CMYK)."""
    alpha = samples[..., colours : colours + 1].astype(np.float32) / 65535
    ground = 0.0 if colours == 4 else 65535.0
    return np.round(samples[..., :colours] * alpha + ground * (1 - alpha)).astype(np.uint16)


def _colour_bands(image: Any) -> int:
    """How many bands are colour, the rest being transparency."""
    if image.interpretation == "cmyk":
        return 4
    bands = int(image.bands)
    return {1: 1, 2: 1, 3: 3, 4: 3}.get(bands, 4 if bands == 5 else 3)


def default_profile(colours: int) -> Profile:
    """What an untagged picture is taken for: sRGB, or grey with gamma 2.2."""
    return working_space("gray" if colours == 1 else "sRGB")


def _cautions(image: Any, depth: int, colours: int) -> list[str]:
    notes = []
    if image.bands > colours:
        notes.append("The picture has transparency; it is laid on white.")
    if image.format in ("float", "double"):
        notes.append("The picture has floating-point samples; values outside 0 to 1 are cut off.")
    if depth == 8:
        notes.append("Only 8 bits per sample: strong adjustments may show steps in smooth tones.")
    if image.get_typeof("n-pages") and int(image.get("n-pages")) > 1:
        notes.append(f"The file holds {int(image.get('n-pages'))} pictures; the first one is read.")
    return notes


class LargePicture(PictureError):
    """A picture so large that it is only opened when the user says so."""

    def __init__(self, image: Any, path: Path) -> None:
        megapixels = image.width * image.height / 1e6
        gigabytes = image.width * image.height * image.bands * _BYTES / 1e9
        super().__init__(
            f"the picture has {megapixels:.0f} megapixels and takes {gigabytes:.1f} GB of memory", path,
            "open it all the same, or reduce it first",
        )  # fmt: skip


def read_picture(path: str | Path, assume: Profile | None = None, large: bool = False) -> Picture:
    """Read a whole picture, upright.

    Args:
        path: TIFF, JPEG or PNG file.
        assume: profile for an untagged picture; by default sRGB, or grey with gamma 2.2.
        large: also one of more than LARGE_PIXELS.

    Raises:
        LargePicture: it is that large, and nobody has said that it shall be opened; nothing of it was read.
        PictureError: the file is missing, empty, damaged, or no picture.
    """
    path = Path(path)
    with _stream(path) as stream:
        return _read(stream, path, assume, large)


def _read(stream: BinaryIO, path: Path, assume: Profile | None, large: bool) -> Picture:
    image = _open(stream, path)
    if image.width * image.height > LARGE_PIXELS and not large:
        raise LargePicture(image, path)
    orientation = int(image.get("orientation")) if image.get_typeof("orientation") else 1
    colours, depth = _colour_bands(image), _depth(image)
    ppi = float(image.xres) * 25.4
    notes = _cautions(image, depth, colours)
    samples = _samples(image, path)
    profile, useless = embedded_profile(image, stream, colours, path.name)
    samples = _flatten(samples, colours) if samples.shape[2] > colours else samples
    samples = np.ascontiguousarray(upright(samples, orientation))
    assumed = profile is None
    if profile is None:
        profile = assume if assume is not None and assume.channels == colours else default_profile(colours)
        if profile.channels != colours:
            raise PictureError("a CMYK picture without a profile cannot be judged", path, "embed its profile first")
        why = f"Its own profile cannot be used ({useless})" if useless else "The picture carries no profile"
        notes.insert(0, f"{why}; it is taken for {profile.description}.")
    h, w = samples.shape[:2]
    info = PictureInfo(
        path=str(path),
        width=w,
        height=h,
        depth=depth,
        space=_SPACE_BY_BANDS[colours],
        profile_name=profile.description,
        assumed=assumed,
        cautions=tuple(notes),
        ppi=ppi,
        useless_profile=useless,
    )
    return Picture(samples, profile, info)


def little_picture(path: str | Path, width: int, height: int) -> np.ndarray:
    """sRGB (h, w, 3) uint8 of a picture within a size, read strip by strip; for lists, not for judging.

    Raises:
        PictureError: as :func:`read_picture`, or its colours cannot be brought to sRGB.
    """
    path = Path(path)
    pyvips = _vips()
    with _stream(path) as stream:
        image = _open(stream, path)
        try:
            small = image.thumbnail_image(width, height=height, size="down", output_profile="srgb").colourspace("srgb")
            flat = small.flatten() if small.hasalpha() else small
            data = np.asarray(flat.cast("uchar").numpy())
        except pyvips.Error as error:
            raise PictureError("this is not a picture that can be read", path, _DO) from error
    if data.ndim != 3 or data.shape[2] != 3:
        raise PictureError("this is not a picture that can be read", path, _DO)
    return np.ascontiguousarray(data)


def upright(samples: np.ndarray, orientation: int) -> np.ndarray:
    """Undo the EXIF orientation (1 to 8; EXIF 2.32, tag 0x0112)."""
    if orientation in (5, 6, 7, 8):
        samples = np.swapaxes(samples, 0, 1)
    flip_rows = orientation in (3, 4, 7, 8)
    flip_columns = orientation in (2, 3, 6, 7)
    samples = samples[::-1] if flip_rows else samples
    return samples[:, ::-1] if flip_columns else samples


def assume_profile(picture: Picture, profile: Profile) -> Picture:
    """The same pixels read with another profile (for an untagged picture the user has decided about)."""
    if profile.channels != picture.pixels.shape[2]:
        raise PictureError("that profile is for another kind of picture", picture.info.path, "choose another profile")
    return replace(picture, profile=profile, info=replace(picture.info, profile_name=profile.description))


def content_digest(path: str | Path) -> str:
    """SHA-256 of the file's bytes, by which a moved picture is found again."""
    digest = hashlib.sha256()
    with _stream(Path(path)) as stream:
        while block := stream.read(1 << 20):
            digest.update(block)
    return digest.hexdigest()
