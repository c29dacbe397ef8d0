"""Painters for a tuning that is being moved: only the nodes that the visible pixels lie between are ever worked out."""

from __future__ import annotations

import weakref
from collections.abc import Callable, Sequence
from typing import Protocol

import numpy as np

from rehearsal.core.colour.table import nodes_needed, paint, paint_between

#: A node's packed screen colours (m,) of its numbers (m,).
Colours = Callable[[np.ndarray], np.ndarray]


class Paints(Protocol):
    """What makes screen pixels of a master's."""

    def paint(self, pixels: np.ndarray, out: np.ndarray | None = None) -> np.ndarray:
        """(h, w) uint32 screen pixels of (h, w, 3) uint16."""
        ...


class Needed:
    """The nodes that pixels lie between; the last pixels asked for are remembered, not kept.

    Args:
        positions: of the 16-bit values among the nodes (65536,).
        nodes: on each side of the table.
    """

    def __init__(self, positions: np.ndarray, nodes: int) -> None:
        self.positions, self.nodes = positions, nodes
        self._last: tuple[weakref.ref[np.ndarray], np.ndarray] | None = None
        self._within: tuple[weakref.ref[np.ndarray], weakref.ref[np.ndarray], np.ndarray] | None = None

    def of(self, pixels: np.ndarray) -> np.ndarray:
        """Numbers (m,) of the nodes for 16-bit pixels (h, w, 3), which nobody changes afterwards."""
        last = self._last
        if last is None or last[0]() is not pixels:
            last = self._last = (weakref.ref(pixels), nodes_needed(pixels, self.positions, self.nodes))
        return last[1]

    def within(self, pixels: np.ndarray, levels: np.ndarray) -> np.ndarray:
        """The same for those of the pixels whose level (h, w) is above nought."""
        last = self._within
        if last is None or last[0]() is not pixels or last[1]() is not levels:
            found = nodes_needed(pixels[levels > 0], self.positions, self.nodes)
            last = self._within = (weakref.ref(pixels), weakref.ref(levels), found)
        return last[2]


class MovingPainter:
    """A table that fills as pixels ask for its nodes."""

    def __init__(self, needed: Needed, colours: Colours) -> None:
        self.needed, self._colours = needed, colours
        n = needed.nodes
        self.table = np.zeros((n, n, n), dtype=np.uint64)
        self._made = np.zeros(n**3, dtype=np.bool_)

    def fill(self, wanted: np.ndarray) -> None:
        """Work out what is not there yet of these nodes (m,)."""
        fresh = wanted[~self._made[wanted]]
        if len(fresh):
            self.table.reshape(-1)[fresh] = self._colours(fresh)
            self._made[fresh] = True

    def paint(self, pixels: np.ndarray, out: np.ndarray | None = None) -> np.ndarray:
        """(h, w) uint32 screen pixels of (h, w, 3) uint16."""
        self.fill(self.needed.of(pixels))
        return paint(pixels, self.needed.positions, self.table, out)


class BetweenPainter:
    """A step that acts at a place: the same tuning at several weights of it, and each pixel between two of them.

    Args:
        needed: for the nodes of its tables.
        colours: of each weight, at equal steps from 0 to 1; at least two.
        levels: (h, w) uint16 of the pixels that will be painted: number of the lower weight times 256 plus the fraction.
    """

    def __init__(self, needed: Needed, colours: Sequence[Colours], levels: np.ndarray) -> None:
        n = needed.nodes
        self._needed, self.levels = needed, levels
        self._tables = np.zeros((len(colours), n, n, n), dtype=np.uint64)
        self._colours = colours

    def paint(self, pixels: np.ndarray, out: np.ndarray | None = None) -> np.ndarray:
        """(h, w) uint32 screen pixels of (h, w, 3) uint16, those whose levels are known."""
        inside = self._needed.within(pixels, self.levels)
        for i, colours in enumerate(self._colours):
            wanted = self._needed.of(pixels) if i == 0 else inside
            self._tables[i].reshape(-1)[wanted] = colours(wanted)
        return paint_between(pixels, self.levels, self._needed.positions, self._tables, out)
