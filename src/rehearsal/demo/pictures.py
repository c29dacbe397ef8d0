"""The demo's pictures: shipped small, made at first use into masters of 16 bits as a camera's work would be."""

from __future__ import annotations

import functools
import zlib
from importlib import resources
from pathlib import Path

import numpy as np

from rehearsal.core.errors import PictureError
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.write import write_picture
from rehearsal.core.work.pool import side_by_side
from rehearsal.workbook.home import data_home

#: Its number rises when the shipped pictures, or what is made of them, change.
DEMO_FOLDER = "demo-pictures-3"
#: Significant bits of a made master: its grain is several steps wide, so that nothing bands, and it packs well.
_BITS = 9
_PPI = 300.0
#: Shipped values are raised to this power: 8 bits are too few for the darks of a wide space, and so there are more of them.
OPENED = 0.6
#: The one that is shown as it is shipped: a JPEG as a telephone or a lab would hand it over.
_AS_SHIPPED = ("dyed_cloths.jpg",)
NAMES = (
    "cloths.tif", "dye_jars.tif", "salt_pans.tif", "boiling_house.tif", "stoneware.tif", "earthenware.tif", *_AS_SHIPPED,
    "salt_banks.tif",
)  # fmt: skip


def _shipped(name: str) -> Path:
    return Path(str(resources.files("rehearsal") / "data" / "demo" / "pictures" / name)).with_suffix(".jpg")


def demo_picture(name: str) -> Path:
    """A picture of the demo by its file name, made in the program's folder of the user's data when it is not there yet.

    Raises:
        PictureError: it cannot be written.
    """
    if name in _AS_SHIPPED:
        return _shipped(name)
    folder = data_home() / DEMO_FOLDER
    path = folder / name
    if not path.exists():
        try:
            folder.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise PictureError(
                "the demo's pictures cannot be made here", folder, "choose a folder you can write to"
            ) from error
        _make(_shipped(name), path)
    return path


def demo_pictures() -> list[Path]:
    """All pictures of the demo, in the order of its rack."""
    return side_by_side([functools.partial(demo_picture, name) for name in NAMES])


def _make(shipped: Path, path: Path) -> None:
    """16-bit TIFF with the grain between the 8-bit steps that the shipped JPEG has lost; its chance begins with the name."""
    picture = read_picture(shipped)
    chance = np.random.default_rng(zlib.crc32(shipped.name.encode()))
    grain = chance.random(picture.pixels.shape, np.float32) - np.float32(0.5)
    steps = picture.pixels * np.float32(255 / np.iinfo(picture.pixels.dtype).max)
    values = (np.clip(steps + grain, 0, 255) / np.float32(255)) ** np.float32(1 / OPENED)
    top = (1 << _BITS) - 1
    codes = np.rint(np.rint(values * top) * np.float32(65535 / top)).astype(np.uint16)
    write_picture(codes, picture.profile, _PPI, path, packing="lzw")
