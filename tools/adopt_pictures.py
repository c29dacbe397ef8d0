"""Maintainer's tool: take rendered pictures into the demo at a size fit for shipping.

python tools/adopt_pictures.py FOLDER_OF_RENDERINGS

Masters are softened by half a pixel and shipped as JPEG in their own space; the program makes masters of 16 bits of them at first use
(``rehearsal.demo.pictures``). The grey one is made from the red channel and a little green, the close one is 8-bit sRGB.
"""

import sys
from pathlib import Path

import numpy as np
from scipy import ndimage

from rehearsal.core.icc import Profile, Step, Transform
from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.write import write_picture
from rehearsal.demo.pictures import OPENED

OUT = Path(__file__).parents[1] / "src" / "rehearsal" / "data" / "demo" / "pictures"
MASTERS = ("cloths", "dye_jars", "salt_pans", "boiling_house", "stoneware", "earthenware")
_PPI = 300.0


def save(pixels: np.ndarray, profile: Profile, name: str) -> None:
    """Soften a little, open the darks, and write as JPEG with its profile."""
    soft = ndimage.gaussian_filter(pixels.astype(np.float32), (0.5, 0.5, 0))
    opened = (soft / 65535) ** OPENED * 65535
    write_picture(np.round(opened).astype(np.uint16), profile, _PPI, OUT / f"{name}.jpg")


def main() -> None:
    """Take in every rendering found."""
    folder = Path(sys.argv[1])
    OUT.mkdir(parents=True, exist_ok=True)
    for name in MASTERS:
        if (folder / f"{name}.tif").exists():
            picture = read_picture(folder / f"{name}.tif")
            save(picture.pixels, picture.profile, name)
    if (folder / "cloths_close.tif").exists():
        picture = read_picture(folder / "cloths_close.tif")
        to_srgb = Transform([Step(picture.profile), Step(working_space("sRGB"), "relative")], np.uint16, np.uint8)
        write_picture(to_srgb.apply(picture.pixels), working_space("sRGB"), _PPI, OUT / "dyed_cloths.jpg")
    if (folder / "salt_banks.tif").exists():
        picture = read_picture(folder / "salt_banks.tif")
        linear = (picture.pixels / 65535.0) ** 1.8 @ np.array([0.55, 0.4, 0.05])
        grey = np.clip(linear * 1.05, 0, 1) ** (1 / 2.2) * 65535
        save(grey[..., None], working_space("gray"), "salt_banks")


if __name__ == "__main__":
    main()
