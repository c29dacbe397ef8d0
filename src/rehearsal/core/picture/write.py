"""Writing picture files: beside, flushed, then renamed into place."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from rehearsal.core.errors import PictureError, system_words
from rehearsal.core.icc import Profile
from rehearsal.core.work.files import write_beside

#: Larger TIFFs are not packed: 16-bit photographs hardly shrink, and packing takes fifteen times as long as writing.
_PACKED_PIXELS = 24_000_000
#: A plain TIFF's places are 32-bit numbers.
_BIG_BYTES = 4_000_000_000


def write_picture(
    pixels: np.ndarray, profile: Profile, ppi: float, path: Path, replace: bool = True, packing: str = "deflate"
) -> None:
    """Write TIFF, PNG or JPEG with profile and resolution: beside, flushed, then renamed into place.

    Args:
        replace: take the place of a file of that name.
        packing: of TIFF, without loss: ``deflate``, or ``lzw``, which takes a quarter of the time where few of the bits are noise.

    Raises:
        PictureError: no permission, disk full, unknown ending, a file is there; nothing half-written stays.
    """
    suffix = path.suffix.lower()
    if suffix not in (".tif", ".tiff", ".jpg", ".jpeg", ".png"):
        raise PictureError("the ending of the file name is not known", path, "end it in .tif, .jpg or .png")
    if suffix in (".jpg", ".jpeg") and pixels.dtype != np.uint8:
        pixels = np.round(pixels / 257.0).astype(np.uint8)
    if suffix == ".png" and pixels.shape[2] == 4:
        raise PictureError("PNG cannot hold printer values of four inks", path, "end the name in .tif or .jpg")
    try:
        put_in_place(path, lambda name: _save(pixels, profile, ppi, name, suffix, packing), replace)
    except Exception as error:
        if type(error).__module__.startswith("pyvips"):
            text = str(error)
            why = "the disk is full" if "space" in text.lower() else " ".join(text.split())[:120]
            raise PictureError(
                f"the file cannot be written ({why})", path, "free some space or choose another folder"
            ) from error
        raise


def put_in_place(path: Path, write: Callable[[str], None], replace: bool, what: str = "file") -> None:
    """:func:`write_beside`, with its errors in words.

    Raises:
        PictureError: it cannot be written, or is there; nothing half-written stays.
    """
    try:
        write_beside(path, write, replace)
    except FileExistsError as error:
        raise exists(path) from error
    except OSError as error:
        raise PictureError(
            f"the {what} cannot be written ({system_words(error)})", path, "choose a folder you can write to"
        ) from error


def exists(path: Path) -> PictureError:
    """There is a file already."""
    return PictureError(
        "there is a file of that name", path, "choose another name, or ask for it to be replaced (--force)"
    )


def _save(pixels: np.ndarray, profile: Profile, ppi: float, path: str, suffix: str, packing: str) -> None:
    import pyvips

    image: Any = pyvips.Image.new_from_array(np.ascontiguousarray(pixels))
    wide = pixels.dtype == np.uint16
    channels = pixels.shape[2]
    kind = {1: "grey16" if wide else "b-w", 3: "rgb16" if wide else "srgb", 4: "cmyk"}[channels]
    per_mm = ppi / 25.4
    image = image.copy(interpretation=kind, xres=per_mm, yres=per_mm)
    image.set_type(pyvips.GValue.blob_type, "icc-profile-data", profile.data)
    if suffix in (".tif", ".tiff"):
        small = image.width * image.height <= _PACKED_PIXELS
        packed = {"compression": packing, "predictor": "horizontal"} if small else {}
        image.tiffsave(path, resunit="inch", bigtiff=pixels.nbytes > _BIG_BYTES, **packed)
    elif suffix == ".png":
        image.pngsave(path)
    else:
        image.jpegsave(path, Q=95, subsample_mode="off", optimize_coding=True)
