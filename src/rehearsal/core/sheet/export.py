"""The print file: crop, resize in linear light, tune, convert once, write beside and rename.

Two routes: pixels in the printer's space, or in a working space for a program that will convert.
"""

from __future__ import annotations

import contextlib
import os
import re
import tempfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from rehearsal.core.errors import PictureError
from rehearsal.core.icc import Profile, Step, Transform, source_black
from rehearsal.core.icc.shared import per_profile
from rehearsal.core.icc.standard import wide_space_bytes
from rehearsal.core.picture.file import Picture
from rehearsal.core.picture.reduce import encode_linear
from rehearsal.core.picture.space import MasterSpace, master_space
from rehearsal.core.proof.chain import Rendering, effective
from rehearsal.core.sheet.layout import Crop, PrintSize, crop_to, fit_size, same_proportion
from rehearsal.core.tuning.apply import TuningMap
from rehearsal.core.tuning.values import Tuning
from rehearsal.core.work.pool import in_slices
from rehearsal.core.work.progress import Progress, silent

_STRIP_PIXELS = 1 << 20
_UNSAFE = re.compile(r"[^\w\-.+]+")


@dataclass(frozen=True)
class ExportPlan:
    """How the file is to be made.

    Attributes:
        target: the profile to convert to (printer or working space); it is embedded.
        rendering: intent and compensation of the one conversion.
        size: printed size, or None to keep the pixels.
        fit: ``crop`` or ``inside`` when proportions differ.
        ppi: resolution; also written into the file.
        depth: 8 or 16; JPEG is always 8.
    """

    target: Profile
    rendering: Rendering
    size: PrintSize | None = None
    fit: str = "crop"
    ppi: float = 300.0
    depth: int = 16
    crop: Crop = Crop()  # noqa: RUF009
    tuning: Tuning = Tuning()  # noqa: RUF009


def plan_pixels(plan: ExportPlan, width: int, height: int) -> tuple[tuple[int, int, int, int], tuple[int, int]]:
    """Crop box in master pixels, and size of the file in pixels."""
    crop, size = plan.crop, plan.size
    _x, _y, w, h = crop.pixels(width, height)
    if size is None:
        return crop.pixels(width, height), (w, h)
    if not same_proportion(w, h, size.width_cm, size.height_cm):
        if plan.fit == "inside":
            size = fit_size(size, w, h)
        else:
            crop = crop_to(size.width_cm / size.height_cm, width, height, crop)
    return crop.pixels(width, height), size.pixels(plan.ppi)


def resize_linear(pixels: np.ndarray, space: MasterSpace, width: int, height: int) -> np.ndarray:
    """Resize 16-bit pixels with a three-lobed Lanczos filter in linear light; both ways."""
    h, w = pixels.shape[:2]
    if (w, h) == (width, height):
        return pixels
    import pyvips

    out = np.empty((height, width, pixels.shape[2]), dtype=np.uint16)
    for c in range(pixels.shape[2]):
        linear = space.linear[:, c][pixels[..., c]]
        image = pyvips.Image.new_from_array(np.ascontiguousarray(linear))
        made = image.resize(width / w, vscale=height / h, kernel="lanczos3").numpy()
        made = made[:height, :width]
        made = np.pad(made, ((0, height - made.shape[0]), (0, width - made.shape[1])), mode="edge")
        out[..., c] = encode_linear(made[..., None], space.linear[:, c : c + 1])[..., 0]
    return out


def convert_pixels(
    pixels: np.ndarray, source: Profile, target: Profile, rendering: Rendering, depth: int, progress: Progress = silent
) -> np.ndarray:
    """Convert 16-bit pixels to the target space at 8 or 16 bit, in strips, by the unoptimised 16-bit road."""
    real = effective(rendering, target)
    kind = np.uint8 if depth == 8 else np.uint16
    step = Step(target, real.intent, real.compensate)
    transform = Transform([Step(source), step], np.uint16, kind)
    rows = max(1, _STRIP_PIXELS // max(1, pixels.shape[1]))
    out = np.empty((*pixels.shape[:2], target.channels), dtype=kind)
    for start in range(0, len(pixels), rows):
        progress(start / len(pixels), "converting")
        part, made = pixels[start : start + rows], out[start : start + rows]

        def work(s: slice, part: np.ndarray = part, made: np.ndarray = made) -> None:
            made[s] = transform.apply(part[s])

        in_slices(len(part), work, small=8)
    return out


def make_pixels(picture: Picture, plan: ExportPlan, progress: Progress = silent) -> np.ndarray:
    """The finished pixels of the print file."""
    space = master_space(picture.profile)
    h, w = picture.pixels.shape[:2]
    (x, y, cw, ch), (width, height) = plan_pixels(plan, w, h)
    progress(0.05, "resizing")
    pixels = resize_linear(picture.pixels[y : y + ch, x : x + cw], space, width, height)
    source = picture.profile
    if not plan.tuning.is_neutral:
        progress(0.3, "tuning")
        pixels, space = tunable(pixels, space)
        pixels, source = TuningMap(plan.tuning, space).pixels(pixels), space.profile

    def later(share: float, text: str) -> None:
        progress(0.4 + 0.5 * share, text)

    return convert_pixels(pixels, source, plan.target, plan.rendering, plan.depth, later)


def tunable(pixels: np.ndarray, space: MasterSpace) -> tuple[np.ndarray, MasterSpace]:
    """Pixels in a space that can be tuned: the same when it is matrix RGB, else a wide RGB with the same black."""
    if space.profile.is_matrix:
        return pixels, space
    wide = working_copy_space(space.profile)
    return convert_pixels(pixels, space.profile, wide.profile, Rendering("relative", False), 16), wide


def _working_copy_space(profile: Profile) -> MasterSpace:
    black = 0.0 if profile.channels == 1 else float(np.clip(source_black(profile, "relative")[1], 0, 0.2))
    return master_space(Profile(wide_space_bytes(black), f"working copy of {profile.where}"))


#: The space of the working copy of a picture in a grey, CMYK or table profile.
working_copy_space = per_profile(_working_copy_space, keep=8)


def suggest_name(picture: str, printer: str, paper: str, rendering: Rendering, suffix: str) -> str:
    """File name that carries picture, printer, paper and intent."""
    intent = rendering.intent + ("-bpc" if rendering.compensate and rendering.intent == "relative" else "")
    parts = [Path(picture).stem, printer, paper, intent]
    return "_".join(_UNSAFE.sub("-", p).strip("-") for p in parts if p) + suffix


def write_picture(pixels: np.ndarray, profile: Profile, ppi: float, path: Path) -> None:
    """Write TIFF, PNG or JPEG with profile and resolution: beside, flushed, then renamed into place.

    Raises:
        PictureError: no permission, disk full, unknown ending; nothing half-written stays.
    """
    suffix = path.suffix.lower()
    if suffix not in (".tif", ".tiff", ".jpg", ".jpeg", ".png"):
        raise PictureError("the ending of the file name is not known", path, "end it in .tif, .jpg or .png")
    if suffix in (".jpg", ".jpeg") and pixels.dtype != np.uint8:
        pixels = np.round(pixels / 257.0).astype(np.uint8)
    if suffix == ".png" and pixels.shape[2] == 4:
        raise PictureError("PNG cannot hold printer values of four inks", path, "end the name in .tif or .jpg")
    temporary = ""
    try:
        handle, temporary = tempfile.mkstemp(suffix=suffix, prefix=".rehearsal-", dir=path.parent)
        os.close(handle)
        _save(pixels, profile, ppi, temporary, suffix)
        with Path(temporary).open("rb+") as stream:
            os.fsync(stream.fileno())
        mask = os.umask(0)
        os.umask(mask)
        Path(temporary).chmod(0o666 & ~mask)
        Path(temporary).replace(path)
    except OSError as error:
        _discard(temporary)
        raise PictureError(
            f"the file cannot be written ({error.strerror or error})", path, "choose a folder you can write to"
        ) from error
    except Exception as error:
        _discard(temporary)
        if type(error).__module__.startswith("pyvips"):
            text = str(error)
            why = "the disk is full" if "space" in text.lower() else " ".join(text.split())[:120]
            raise PictureError(
                f"the file cannot be written ({why})", path, "free some space or choose another folder"
            ) from error
        raise


def _discard(temporary: str) -> None:
    if temporary:
        with contextlib.suppress(OSError):
            Path(temporary).unlink()


def _save(pixels: np.ndarray, profile: Profile, ppi: float, path: str, suffix: str) -> None:
    import pyvips

    image: Any = pyvips.Image.new_from_array(np.ascontiguousarray(pixels))
    wide = pixels.dtype == np.uint16
    channels = pixels.shape[2]
    kind = {1: "grey16" if wide else "b-w", 3: "rgb16" if wide else "srgb", 4: "cmyk"}[channels]
    per_mm = ppi / 25.4
    image = image.copy(interpretation=kind, xres=per_mm, yres=per_mm)
    image.set_type(pyvips.GValue.blob_type, "icc-profile-data", profile.data)
    if suffix in (".tif", ".tiff"):
        image.tiffsave(path, compression="deflate", predictor="horizontal", resunit="inch")
    elif suffix == ".png":
        image.pngsave(path)
    else:
        image.jpegsave(path, Q=95, subsample_mode="off", optimize_coding=True)
