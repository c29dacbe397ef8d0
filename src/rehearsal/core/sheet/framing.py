"""What hands do to crop and print size: each change of one keeps the other right."""

from __future__ import annotations

from dataclasses import replace

from rehearsal.core.sheet.layout import SizeOption, crop_about, crop_to, fit_size, same_proportion
from rehearsal.core.values.frame import Crop, Frame, PrintSize


def _cropped(frame: Frame, width: int, height: int) -> tuple[float, float]:
    """Width and height of the crop in pixels of a picture of width × height pixels."""
    return frame.crop.width * width, frame.crop.height * height


def with_size(frame: Frame, size: PrintSize, width: int, height: int) -> Frame:
    """Another print size; the crop follows about its own middle when proportions differ and cropping is wanted, else the size does."""
    w, h = _cropped(frame, width, height)
    if frame.fit != "crop":
        return replace(frame, size=fit_size(size, round(w), round(h)))
    crop = frame.crop
    if not same_proportion(w, h, size.width_cm, size.height_cm):
        crop = crop_about(crop, size.width_cm / size.height_cm, width, height)
    return replace(frame, size=size, crop=crop)


def with_common_size(frame: Frame, option: SizeOption, width: int, height: int) -> Frame:
    """A common size, lying or standing as the crop does."""
    w, h = _cropped(frame, width, height)
    size = PrintSize(option.width_cm, option.height_cm)
    return with_size(frame, size.turned if h > w else size, width, height)


def with_side(frame: Frame, side: str, value_cm: float, width: int, height: int) -> Frame:
    """One side (``width`` or ``height``) typed in: the other follows, nothing is cut."""
    w, h = _cropped(frame, width, height)
    size = PrintSize(value_cm, value_cm * h / w) if side == "width" else PrintSize(value_cm * w / h, value_cm)
    return replace(frame, size=PrintSize(round(size.width_cm, 2), round(size.height_cm, 2)))


def with_proportion(frame: Frame, proportion: float, width: int, height: int) -> Frame:
    """Cut to a proportion (long side over short side); a print size follows along its longer side."""
    w, h = _cropped(frame, width, height)
    crop = crop_to(1 / proportion if h > w else proportion, width, height)
    if frame.size is None:
        return replace(frame, crop=crop)
    inside = fit_size(frame.size, round(crop.width * width), round(crop.height * height))
    return replace(frame, crop=crop, size=PrintSize(round(inside.width_cm, 2), round(inside.height_cm, 2)))


def whole(frame: Frame, width: int, height: int) -> Frame:
    """Print everything: the size takes the picture's proportions within what it was."""
    size = None if frame.size is None else fit_size(frame.size, width, height)
    return replace(frame, crop=Crop(), size=size)


def with_fit(frame: Frame, fit: str, width: int, height: int) -> Frame:
    """What happens when proportions differ: ``crop`` or ``inside``; going back is going back."""
    if fit == frame.fit:
        return frame
    made = replace(frame, fit=fit)
    if fit == "inside":
        return frame.lent("fit", whole(made, width, height))
    if frame.before is not None and frame.before.why == "fit":
        return frame.before.frame
    return made if made.size is None else with_size(made, made.size, width, height)


def by_hand(made: Frame, was: Frame) -> Frame:
    """A frame as a hand left it: what it was lent for before is over, unless that is what was done."""
    return made.alone if made.before is was.before else made
