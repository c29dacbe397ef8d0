"""Lettering on the page: set in the program's own open type, or a mark from a picture file, printed with the printer's own dark grey."""

from __future__ import annotations

from dataclasses import dataclass
from importlib import resources
from pathlib import Path
from typing import Any

import numpy as np

from rehearsal.core.errors import PictureError
from rehearsal.core.icc import Profile, Step, Transform
from rehearsal.core.icc.standard import working_space
from rehearsal.core.sheet.composing import Lettering, lettering_box

#: Height of a capital of the type, of its size (read from its own table).
_CAPITAL = 0.727
#: sRGB of lettering: a dark grey that stays open on matte paper too.
_GREY = 38
#: A mark's picture is not opened when it is larger, megapixels.
_MOST_MEGAPIXELS = 50.0


@dataclass(frozen=True, eq=False)
class Ink:
    """What lettering is printed with: device values (channels,)."""

    values: np.ndarray


def ink_for(profile: Profile, depth: int) -> Ink:
    """Dark grey of a printer or working space at 8 or 16 bit."""
    kind = np.uint8 if depth == 8 else np.uint16
    grey = np.full((1, 1, 3), _GREY * 257, dtype=np.uint16)
    road = Transform([Step(working_space("sRGB"), "relative"), Step(profile, "relative", True)], np.uint16, kind)
    return Ink(road.apply(grey)[0, 0])


def text_width_mm(text: str, capital: float) -> float:
    """Width of a line whose capitals are so many mm high."""
    return float(_font(100).getlength(text)) / (100 * _CAPITAL) * capital


def _font(size: float) -> Any:
    from PIL import ImageFont

    path = resources.files("rehearsal") / "data" / "fonts" / "Inter-Regular.otf"
    return ImageFont.truetype(str(path), size)


def line_width_mm(line: Lettering) -> float:
    """Width of a line of type or of a mark."""
    if not line.picture:
        return text_width_mm(line.text, line.capital)
    wide, high = _mark(line.picture).size
    box = lettering_box(line, 0.0)
    return box.height * wide / high


def _mark(path: str) -> Any:
    """A mark's picture.

    Raises:
        PictureError: it is missing, no picture, or too large.
    """
    from PIL import Image, UnidentifiedImageError

    try:
        image = Image.open(Path(path), formats=("PNG", "TIFF", "JPEG"))
        if image.width * image.height > _MOST_MEGAPIXELS * 1e6:
            raise PictureError("the mark is too large", path, "take a smaller picture of it")
        image.load()
    except (OSError, UnidentifiedImageError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise PictureError("the mark cannot be read", path, "choose a PNG, TIFF or JPEG of it") from error
    return image


def mark_cover(path: str, width: int, height: int) -> np.ndarray:
    """How far a mark covers each pixel (height, width), 0 to 1: by its own transparency, else by how dark it is."""
    from PIL import Image

    image = _mark(path)
    if "A" in image.getbands() or "transparency" in image.info:
        rgba = image.convert("RGBA")
        dark = 1 - np.asarray(rgba.convert("L"), dtype=np.float32) / 255
        alpha = np.asarray(rgba.getchannel("A"), dtype=np.float32) / 255
        cover = alpha * np.maximum(dark, 0.0) if dark[alpha > 0].size and dark[alpha > 0].max() > 0.2 else alpha
    else:
        cover = 1 - np.asarray(image.convert("L"), dtype=np.float32) / 255
    made = Image.fromarray((cover * 255).round().astype(np.uint8)).resize(
        (max(1, width), max(1, height)), Image.Resampling.LANCZOS
    )
    return np.asarray(made, dtype=np.float32) / 255


def draw_lettering(pixels: np.ndarray, line: Lettering, ppi: float, ink: Ink) -> tuple[slice, slice] | None:
    """Set a line into a page's pixels (h, w, channels); its rows and columns, or None when none of it lies on the page."""
    box = lettering_box(line, line_width_mm(line))
    scale = ppi / 25.4
    left, top = round(box.left * scale), round(box.top * scale)
    wide, high = max(1, round(box.width * scale) + 1), max(1, round(box.height * scale) + 1)
    cover = mark_cover(line.picture, wide, high) if line.picture else _text_cover(line, wide, high, scale)
    rows = slice(max(top, 0), min(top + high, pixels.shape[0]))
    columns = slice(max(left, 0), min(left + wide, pixels.shape[1]))
    if rows.start >= rows.stop or columns.start >= columns.stop:
        return None
    seen = cover[rows.start - top : rows.stop - top, columns.start - left : columns.stop - left, None] * (
        line.opacity / 100
    )
    under = pixels[rows, columns].astype(np.float32)
    pixels[rows, columns] = np.round(under * (1 - seen) + ink.values.astype(np.float32) * seen).astype(pixels.dtype)
    return rows, columns


def _text_cover(line: Lettering, wide: int, high: int, scale: float) -> np.ndarray:
    from PIL import Image, ImageDraw

    image = Image.new("L", (wide, high), 0)
    font = _font(line.capital * scale / _CAPITAL)
    ImageDraw.Draw(image).text((0, line.capital * scale), line.text, fill=255, font=font, anchor="ls")
    return np.asarray(image, dtype=np.float32) / 255
