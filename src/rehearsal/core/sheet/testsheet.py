"""A test sheet: labelled variants of a picture and a solid black patch on one sheet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from importlib import resources

import numpy as np

from rehearsal.core.picture.resize import resize_linear
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.adjustments import ADJUSTMENTS, Adjustment, declared
from rehearsal.core.values.frame import CM_PER_INCH, PrintSize
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.words import values_words

_GAP_CM = 0.5
_LABEL_CM = 0.55
_COLUMNS = 3
COUNT = 6
#: What is stepped first: every picture shows it (common practice, no source).
FIRST = "lightness"
#: A bracket has so many variants.
LEAST, MOST = 3, 9


def stepped() -> list[Adjustment]:
    """Adjustments a test sheet can step; those that are only stepped upwards first."""
    return sorted((a for a in ADJUSTMENTS.values() if a.test_step), key=lambda a: not a.test_upward)


@dataclass(frozen=True)
class Variant:
    """One patch of the sheet: its number and recipe."""

    number: int
    recipe: Recipe

    @property
    def label(self) -> str:
        """Number and what is different."""
        return f"{self.number}   {'; '.join(values_words(self.recipe.total)) or 'untouched'}"


def stepped_values(base: Recipe, name: str, step: float, count: int = COUNT) -> tuple[float, ...]:
    """Values that step one adjustment: only upwards where that is declared, the rest both ways about the base; none twice.

    Args:
        step: in the adjustment's own unit.
    """
    each = declared(name)
    first = 0 if each.test_upward else -((count - 1) // 2)
    total = base.total[name]
    return tuple(dict.fromkeys(each.clamp(total + (first + i) * step) for i in range(count)))


def variants(base: Recipe, name: str, values: Sequence[float]) -> list[Variant]:
    """The recipe with one adjustment set to each of the values, all its steps together."""
    return [Variant(i, base.with_total(name, value)) for i, value in enumerate(values, 1)]


def between(values: Sequence[float], number: float) -> float:
    """Value of a variant by its number from 1; 3.5 lies in the middle of the third and the fourth."""
    place = min(max(number - 1, 0.0), len(values) - 1.0)
    low = int(place)
    high = min(low + 1, len(values) - 1)
    return values[low] + (place - low) * (values[high] - values[low])


def _text(words: str, height: int, width: int) -> np.ndarray:
    """Coverage of a line of text (height, width), 0 to 1, in the shipped type."""
    import pyvips

    font = resources.files("rehearsal") / "data" / "fonts" / "Inter-Regular.otf"
    image = pyvips.Image.text(words, font="Inter", fontfile=str(font), height=height, width=width * 4).numpy()
    ink = (image if image.ndim == 2 else image[..., 0])[:height, :width] / 255.0
    out = np.zeros((height, width))
    out[: ink.shape[0], : ink.shape[1]] = ink
    return out


def compose(opened: OpenRendition, sheet: PrintSize, patches: Sequence[Variant]) -> np.ndarray:
    """Pixels (h, w, 3) uint16 of the sheet in the rendition's working space.

    Three columns; under each variant its label; a solid black patch for reference at the foot.
    """
    ppi, space = opened.rendition.hand_over.ppi, opened.reading.space
    x, y, w, h = opened.box
    width, height = sheet.pixels(ppi)
    out = np.full((height, width, 3), 65535, dtype=np.uint16)
    gap, label = round(_GAP_CM / CM_PER_INCH * ppi), round(_LABEL_CM / CM_PER_INCH * ppi)
    rows = -(-len(patches) // _COLUMNS)
    cell_w = (width - gap * (_COLUMNS + 1)) // _COLUMNS
    room_h = (height - gap * (rows + 2) - 3 * label) // rows - label
    factor = min(cell_w / w, room_h / h)
    plain = opened.reading.whole[y : y + h, x : x + w]
    small = resize_linear(plain, space, max(1, int(w * factor)), max(1, int(h * factor)))
    for i, variant in enumerate(patches):
        top = gap + (i // _COLUMNS) * (small.shape[0] + label + gap)
        left = gap + (i % _COLUMNS) * (cell_w + gap)
        place = out[top : top + small.shape[0], left : left + small.shape[1]]
        place[:] = opened.having(variant.recipe).tuned.tuned(small, (x, y, w, h))
        _label(out, variant.label, top + small.shape[0] + label // 4, left, round(label * 0.55), cell_w)
    foot = height - gap - 2 * label
    out[foot : foot + 2 * label, gap : gap + cell_w] = 0
    _label(out, "solid black, for reference", foot + label // 2, 2 * gap + cell_w, round(label * 0.55), cell_w)
    return out


def _label(out: np.ndarray, words: str, top: int, left: int, height: int, width: int) -> None:
    height, width = min(height, out.shape[0] - top), min(width, out.shape[1] - left)
    if height < 4 or width < 10:
        return
    ink = _text(words, height, width)[..., None]
    place = out[top : top + height, left : left + width]
    out[top : top + height, left : left + width] = np.round(place * (1 - 0.85 * ink)).astype(np.uint16)
