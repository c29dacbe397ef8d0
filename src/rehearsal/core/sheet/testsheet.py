"""A test sheet: labelled variants of a picture and a solid black patch on one sheet."""

from __future__ import annotations

from dataclasses import dataclass
from importlib import resources

import numpy as np

from rehearsal.core.picture.file import Picture
from rehearsal.core.picture.space import master_space
from rehearsal.core.sheet.export import resize_linear, tunable
from rehearsal.core.sheet.layout import Crop, PrintSize
from rehearsal.core.tuning.apply import TuningMap
from rehearsal.core.tuning.values import RANGES, Tuning, in_words

#: What can be stepped, its name and its usual step (common practice, no source).
STEPS = {
    "dark_half": ("dark half", 10.0),
    "lightness": ("lightness", 2.0),
    "contrast": ("contrast", 8.0),
    "strength": ("colour strength", 6.0),
    "warmth": ("warmth", 6.0),
}
_GAP_CM = 0.5
_LABEL_CM = 0.55


@dataclass(frozen=True)
class Variant:
    """One patch of the sheet: its number and tuning."""

    number: int
    tuning: Tuning

    @property
    def label(self) -> str:
        """Number and what is different."""
        return f"{self.number}   {'; '.join(in_words(self.tuning)) or 'as the master'}"


def variants(base: Tuning, name: str, step: float, count: int = 6) -> list[Variant]:
    """Variants that step one adjustment; the dark half only upwards, the rest both ways about the base."""
    first = 0 if name == "dark_half" else -((count - 1) // 2)
    low, high = RANGES[name]
    made = []
    for i in range(count):
        value = min(max(getattr(base, name) + (first + i) * step, low), high)
        made.append(Variant(i + 1, base.with_value(name, value)))
    return made


def _text(words: str, height: int, width: int) -> np.ndarray:
    """Coverage of a line of text (height, width), 0 to 1, in the shipped type."""
    import pyvips

    font = resources.files("rehearsal") / "data" / "fonts" / "Inter-Regular.otf"
    image = pyvips.Image.text(words, font="Inter", fontfile=str(font), height=height, width=width * 4).numpy()
    ink = (image if image.ndim == 2 else image[..., 0])[:height, :width] / 255.0
    out = np.zeros((height, width))
    out[: ink.shape[0], : ink.shape[1]] = ink
    return out


def compose(
    picture: Picture, crop: Crop, sheet: PrintSize, ppi: float, patches: list[Variant]
) -> tuple[np.ndarray, object]:
    """Pixels (h, w, 3) uint16 of the sheet in the working space, and that space.

    Three columns; under each variant its label; a solid black patch for reference at the foot.
    """
    pixels, space = tunable(picture.pixels, master_space(picture.profile))
    x, y, w, h = crop.pixels(pixels.shape[1], pixels.shape[0])
    width, height = sheet.pixels(ppi)
    out = np.full((height, width, 3), 65535, dtype=np.uint16)
    gap, label = round(_GAP_CM / 2.54 * ppi), round(_LABEL_CM / 2.54 * ppi)
    columns = 3
    rows = -(-len(patches) // columns)
    cell_w = (width - gap * (columns + 1)) // columns
    room_h = (height - gap * (rows + 2) - 3 * label) // rows - label
    factor = min(cell_w / w, room_h / h)
    small = resize_linear(pixels[y : y + h, x : x + w], space, max(1, int(w * factor)), max(1, int(h * factor)))
    for i, variant in enumerate(patches):
        top = gap + (i // columns) * (small.shape[0] + label + gap)
        left = gap + (i % columns) * (cell_w + gap)
        out[top : top + small.shape[0], left : left + small.shape[1]] = TuningMap(variant.tuning, space).pixels(small)
        _label(out, variant.label, top + small.shape[0] + label // 4, left, round(label * 0.55), cell_w)
    foot = height - gap - 2 * label
    out[foot : foot + 2 * label, gap : gap + cell_w] = 0
    _label(out, "solid black, for reference", foot + label // 2, 2 * gap + cell_w, round(label * 0.55), cell_w)
    return out, space


def _label(out: np.ndarray, words: str, top: int, left: int, height: int, width: int) -> None:
    height, width = min(height, out.shape[0] - top), min(width, out.shape[1] - left)
    if height < 4 or width < 10:
        return
    ink = _text(words, height, width)[..., None]
    place = out[top : top + height, left : left + width]
    out[top : top + height, left : left + width] = np.round(place * (1 - 0.85 * ink)).astype(np.uint16)
