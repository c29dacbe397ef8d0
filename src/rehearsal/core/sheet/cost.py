"""What a print costs: its sheet, by area where another sheet's price is known, and its ink by how much of it is covered."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from rehearsal.core.sheet.layout import SHEETS, sheet_size
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import PrintSize


@dataclass(frozen=True)
class PrintCost:
    """In the user's money; None for what nobody told the price of.

    Attributes:
        paper, ink: parts; ink_ml: millilitres, None while nobody told what the deepest black takes.
    """

    paper: float | None
    ink: float | None
    ink_ml: float | None = None

    @property
    def total(self) -> float | None:
        """Of what is known; None when nothing is."""
        known = [part for part in (self.paper, self.ink) if part is not None]
        return sum(known) if known else None


def coverage(device: np.ndarray, channels: int) -> float:
    """Share of the deepest black's ink that a picture takes, 0 to 1: the mean of what is taken from bare paper.

    Args:
        device: the printer's values (m, channels), 0 to 1; of RGB printers 1 is no ink, of ink amounts 0.

    An estimate in proportion: a driver's own inking curve is not known to anybody but its maker.
    """
    inked = 1.0 - device if channels == 3 else device
    return float(np.clip(inked, 0.0, 1.0).mean())


def cost_of(card: PrintCondition, sheet: str, size: PrintSize, covered: float) -> PrintCost:
    """Cost of a print.

    Args:
        sheet: its name; one that is not known takes as much as its print with 2 cm round it.
        covered: :func:`coverage` of it.
    """
    wide, high = sheet_size(sheet, size, card.margins_mm)
    paper = None
    if card.sheet_price > 0:
        sold = SHEETS.get(card.sheet_sold, SHEETS["A4"])
        paper = card.sheet_price * (wide * high) / (sold[0] * sold[1])
    ml = card.ink_ml * covered * size.width_cm * size.height_cm / 10_000 if card.ink_ml > 0 else None
    ink = ml * card.ink_price if ml is not None and card.ink_price > 0 else None
    return PrintCost(paper, ink, ml)


@dataclass(frozen=True)
class PaperAccount:
    """What a paper took so far.

    Attributes:
        sheets: used for prints and tests; good: prints that were signed.
        cost: of the prints whose cost is known, and how many those are.
    """

    sheets: int
    good: int
    cost: float
    counted: int

    @property
    def per_print(self) -> float | None:
        """Mean cost of a print; None while none is known."""
        return self.cost / self.counted if self.counted else None

    @property
    def per_good(self) -> float | None:
        """All that was spent over the prints that were signed; None before one was."""
        return self.cost / self.good if self.counted and self.good else None

    @property
    def needed(self) -> int | None:
        """Sheets the next good print will take, at the rate so far; None before one was signed."""
        return -(-self.sheets // self.good) if self.good else None


def stock_words(needed: int | None, left: int) -> str:
    """Whether the sheets in the drawer are enough; empty while nobody counts them, or nothing is known."""
    if needed is None or left < 0:
        return ""
    return f"needs {_number(needed)}, {_number(left)} left"


def _number(count: int) -> str:
    words: Sequence[str] = ("none", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")
    return words[count] if count < len(words) else str(count)
