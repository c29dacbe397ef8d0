"""What the program wants of each kind of device. ``simulated/`` ships a stand-in for each."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

import numpy as np

from rehearsal.core.sheet.page import DrawnPage
from rehearsal.core.values.queue import QueueOffers, SentState


class Printer(Protocol):
    """A printer loaded with one paper."""

    def print_chart(self, rgb: np.ndarray, seed: int = 1) -> np.ndarray:
        """Print patches of RGB (m, 3), 0 to 1, unconverted; what lies on the paper, as an instrument sees it (m, bands)."""
        ...


class Spectrophotometer(Protocol):
    """An instrument that reads a printed chart."""

    def read(self, spectra: np.ndarray) -> np.ndarray:
        """XYZ (m, 3), D50, perfect diffuser Y = 1, of printed patches (m, bands)."""
        ...


class Colorimeter(Protocol):
    """An instrument on the glass: one patch is shown, one reading taken."""

    name: str

    def read(self, rgb: np.ndarray) -> np.ndarray:
        """XYZ (3,) in cd/m² of the patch of screen RGB (3,), 0 to 1, that is shown now."""
        ...


class PrintQueue(Protocol):
    """Where a page is sent."""

    name: str

    def offers(self) -> QueueOffers:
        """What can be set there, and how it stands now; raises QueueError when it cannot be asked."""
        ...

    def send(self, page: DrawnPage, title: str, options: Sequence[tuple[str, str]]) -> str:
        """Send a page as it is fed, unscaled, every setting named; the number it got; raises QueueError when it is not taken."""
        ...

    def state(self, job: str) -> SentState:
        """How far a page has come; raises QueueError when the queue cannot be asked."""
        ...

    def stop(self, job: str) -> None:
        """Take a page back; raises QueueError when that is too late."""
        ...

    def unscale(self) -> None:
        """Take scaling out of what the queue has saved; raises QueueError when it cannot be asked."""
        ...
