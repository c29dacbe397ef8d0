"""Maintainer's tool: take rendered pictures into the demo at a size fit for shipping.

python tools/adopt_pictures.py FOLDER_OF_RENDERINGS

Masters are softened by half a pixel and keep 9 significant bits in 16-bit TIFF (their grain is several steps wide, so nothing bands); the
grey one is made from the red channel and a little green, the JPEG is 8-bit sRGB.
"""

import sys
from pathlib import Path

import numpy as np
import pyvips
from scipy import ndimage

from rehearsal.core.icc import Step, Transform
from rehearsal.core.icc.standard import space_bytes, working_space
from rehearsal.core.picture.file import read_picture

OUT = Path(__file__).parents[1] / "src" / "rehearsal" / "data" / "demo" / "pictures"
MASTERS = ("cloths", "dye_jars", "salt_pans", "boiling_house", "stoneware", "earthenware")
BITS = 9


def shortened(pixels: np.ndarray) -> np.ndarray:
    """Round to the significant bits and spread them over 16."""
    top = (1 << BITS) - 1
    pixels = ndimage.gaussian_filter(pixels.astype(np.float32), (0.5, 0.5, 0)[: pixels.ndim])
    return np.round(np.round(pixels / 65535 * top) * (65535 / top)).astype(np.uint16)


def save(pixels: np.ndarray, profile: bytes, path: Path, kind: str) -> None:
    """Write TIFF or JPEG with its profile."""
    image = pyvips.Image.new_from_array(np.ascontiguousarray(pixels)).copy(
        interpretation=kind, xres=11.811, yres=11.811
    )
    image.set_type(pyvips.GValue.blob_type, "icc-profile-data", profile)
    if path.suffix == ".jpg":
        image.jpegsave(str(path), Q=92, subsample_mode="off")
    else:
        image.tiffsave(str(path), compression="deflate", predictor="horizontal", level=9, resunit="inch")


def main() -> None:
    """Take in every rendering found."""
    folder = Path(sys.argv[1])
    OUT.mkdir(parents=True, exist_ok=True)
    for name in MASTERS:
        if (folder / f"{name}.tif").exists():
            picture = read_picture(folder / f"{name}.tif")
            save(shortened(picture.pixels), picture.profile.data, OUT / f"{name}.tif", "rgb16")
    if (folder / "cloths_close.tif").exists():
        picture = read_picture(folder / "cloths_close.tif")
        to_srgb = Transform([Step(picture.profile), Step(working_space("sRGB"), "relative")], np.uint16, np.uint8)
        save(to_srgb.apply(picture.pixels), space_bytes("sRGB"), OUT / "dyed_cloths.jpg", "srgb")
    if (folder / "salt_banks.tif").exists():
        picture = read_picture(folder / "salt_banks.tif")
        linear = (picture.pixels / 65535.0) ** 1.8 @ np.array([0.55, 0.4, 0.05])
        grey = np.clip(linear * 1.05, 0, 1) ** (1 / 2.2) * 65535
        save(shortened(grey)[..., None], space_bytes("gray"), OUT / "salt_banks.tif", "grey16")


if __name__ == "__main__":
    main()
