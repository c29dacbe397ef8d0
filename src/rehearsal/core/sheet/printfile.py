"""The print file: crop, resize in linear light, tune, sharpen for the paper, convert once.

Two routes: pixels in the printer's space, or in a working space for a program that will convert.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np

from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.model import check_destination
from rehearsal.core.picture.arrived import is_sharpened, overshoot_of
from rehearsal.core.picture.reduce import viewing_distance
from rehearsal.core.picture.resize import Resizer
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.convert import Converter, strip_rows
from rehearsal.core.sheet.layout import crop_to, fit_size, same_proportion
from rehearsal.core.sheet.sharpen import Sharpener, sharpened
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.frame import CM_PER_INCH, Frame, PrintSize
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.work.progress import Progress, silent

_UNSAFE = re.compile(r"[^\w\-.+]+")
#: Into a working space nothing is rendered for a paper yet.
_INTO_SPACE = Rendering("relative", True)


def plan_pixels(frame: Frame, ppi: float, width: int, height: int) -> tuple[tuple[int, int, int, int], tuple[int, int]]:
    """Crop box in master pixels, and size of the file in pixels, for a master of width × height pixels."""
    crop, size = frame.crop, frame.size
    _x, _y, w, h = crop.pixels(width, height)
    if size is None:
        return crop.pixels(width, height), (w, h)
    if not same_proportion(w, h, size.width_cm, size.height_cm):
        if frame.fit == "inside":
            size = fit_size(size, w, h)
        else:
            crop = crop_to(size.width_cm / size.height_cm, width, height, crop)
    return crop.pixels(width, height), size.pixels(ppi)


def file_profile(opened: OpenRendition) -> tuple[Profile, Rendering]:
    """The profile the file's pixels are in, which is embedded, and the rendering of the one conversion made here."""
    hand_over = opened.rendition.hand_over
    if hand_over.route == "printer":
        return opened.paper, opened.rendition.rendering
    return working_space(hand_over.space), _INTO_SPACE


def printed_size(frame: Frame, width: int, height: int) -> PrintSize | None:
    """Size of the print of a picture of width × height pixels: inside the frame's size where it is not cut to it; None for none."""
    _x, _y, w, h = frame.crop.pixels(width, height)
    size = frame.size
    if size is None or frame.fit != "inside" or same_proportion(w, h, size.width_cm, size.height_cm):
        return size
    return fit_size(size, w, h)


#: Gives an array of (height, width, channels) for so many pixels (width, height); one that is smaller gets what fits.
Room = Callable[[tuple[int, int]], np.ndarray]


def make_pixels(
    opened: OpenRendition, progress: Progress = silent, room: Room | None = None, whole: OpenRendition | None = None
) -> np.ndarray:
    """The finished pixels of a rendition's print file.

    Args:
        room: where they go; an array of their own when it is not given.
        whole: the print this one is a piece of, sharpened as that is.

    Raises:
        ProfileError: nothing can be printed with its profile.
    """
    check_destination(opened.paper)
    rendition = opened.rendition
    box, (width, height) = plan_pixels(rendition.frame, rendition.hand_over.ppi, *opened.open.size)
    target, rendering = file_profile(opened)
    source, strips = _strips(opened, box, width, height)
    if rendition.hand_over.sharpens:
        strips = sharpened(strips, height, sharpener_of(whole or opened), opened.tuned.space)
    converter = Converter(source, target, rendering, rendition.hand_over.file.depth)
    place = None if room is None else room((width, height))
    fits = place is not None and place.shape == (height, width, converter.channels) and place.dtype == converter.kind
    out = place if fits and place is not None else np.empty((height, width, converter.channels), dtype=converter.kind)
    for part, pixels in strips:
        progress(0.05 + 0.85 * part.start / height, "resizing, tuning and converting")
        converter.rows(pixels, out[part])
    if place is not None and not fits:
        place[...] = out[: place.shape[0], : place.shape[1]]
    return out


def _strips(
    opened: OpenRendition, box: tuple[int, int, int, int], width: int, height: int
) -> tuple[Profile, Iterator[tuple[slice, np.ndarray]]]:
    """Profile and strips of the resized pixels: tuned ones, or straight from the master when nothing is tuned."""
    rows = strip_rows(width)
    if not opened.rendition.recipe.is_neutral or opened.rendition.hand_over.sharpens:
        return opened.source, opened.tuned.strips(box, width, height, rows)
    picture = opened.open.picture
    x, y, w, h = box
    plain = Resizer(picture.pixels[y : y + h, x : x + w], master_space(picture.profile), width, height)
    parts = (slice(top, min(top + rows, height)) for top in range(0, height, rows))
    return picture.profile, ((part, plain.rows(part)) for part in parts)


def sharpener_of(opened: OpenRendition) -> Sharpener:
    """The filter of a rendition's print; half as strong for a picture that is sharpened already."""
    hand_over, frame = opened.rendition.hand_over, opened.rendition.frame
    x, y, w, h = opened.box
    picture = opened.open.picture
    halos = overshoot_of(picture.pixels[y : y + h, x : x + w], master_space(picture.profile))
    half = 0.5 if is_sharpened(halos) else 1.0
    size = frame.size or PrintSize(w / hand_over.ppi * CM_PER_INCH, h / hand_over.ppi * CM_PER_INCH)
    distance = viewing_distance(size.width_cm, size.height_cm)
    return Sharpener(hand_over.sigma_um, hand_over.sharpen / 100 * half, hand_over.ppi, distance)


def suggest_name(picture: str, printer: str, paper: str, rendering: Rendering, suffix: str) -> str:
    """File name that carries picture, printer, paper and intent."""
    intent = rendering.intent + ("-bpc" if rendering.compensate and rendering.intent == "relative" else "")
    parts = [Path(picture).stem, printer, paper, intent]
    return "_".join(_UNSAFE.sub("-", p).strip("-") for p in parts if p) + suffix
