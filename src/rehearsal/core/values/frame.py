"""What part of the master is printed, and how large."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

CM_PER_INCH = 2.54


@dataclass(frozen=True)
class Crop:
    """Part of the upright master that is printed, in fractions of its width and height."""

    x: float = 0.0
    y: float = 0.0
    width: float = 1.0
    height: float = 1.0

    def pixels(self, width: int, height: int) -> tuple[int, int, int, int]:
        """x, y, width, height in pixels of a picture; at least one pixel."""
        x, y = round(self.x * width), round(self.y * height)
        w, h = max(1, round(self.width * width)), max(1, round(self.height * height))
        x, y = min(max(x, 0), width - 1), min(max(y, 0), height - 1)
        return x, y, min(w, width - x), min(h, height - y)


@dataclass(frozen=True)
class PrintSize:
    """Printed width and height in centimetres."""

    width_cm: float
    height_cm: float

    def pixels(self, ppi: float) -> tuple[int, int]:
        """Width and height in pixels at a resolution, rounded to whole pixels."""
        return max(1, round(self.width_cm / CM_PER_INCH * ppi)), max(1, round(self.height_cm / CM_PER_INCH * ppi))

    @property
    def turned(self) -> PrintSize:
        """The same print lying on its other side."""
        return PrintSize(self.height_cm, self.width_cm)

    @property
    def in_words(self) -> str:
        """For example ``40 × 26.7 cm``: to the millimetre, which is what a sheet can be trimmed to."""
        width, height = (f"{round(v, 1):g}" for v in (self.width_cm, self.height_cm))
        return f"{width} × {height} cm"


@dataclass(frozen=True)
class Frame:
    """Crop and print size; ``fit`` says what happens when their proportions differ: ``crop`` or ``inside``.

    ``before`` is what it was before it was lent to a way of laying, to go back to; it is no part of what is printed.
    """

    crop: Crop = Crop()
    size: PrintSize | None = None
    fit: str = "crop"
    before: Before | None = field(default=None, compare=False)

    def lent(self, why: str, to: Frame) -> Frame:
        """Another frame, which knows this one to go back to."""
        return replace(to, before=Before(why, self))

    def before_any(self, why: str) -> Frame:
        """The frame as it was before that; itself when nothing of the kind was done to it."""
        at: Frame = self
        while at.before is not None:
            if at.before.why == why:
                return at.before.frame
            at = at.before.frame
        return self

    @property
    def alone(self) -> Frame:
        """Without what it was before: what is printed."""
        return replace(self, before=None)


@dataclass(frozen=True)
class Before:
    """The frame before a way of laying (``way``) or keeping the whole picture (``fit``) gave the print another size."""

    why: str
    frame: Frame
