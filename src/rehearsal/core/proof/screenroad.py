"""The screen road: the whole chain baked into tables and applied to the visible pixels only.

Two stages. The exact chain master, print, screen is baked once per paper, rendering and view at 65³ nodes. A
tuning then moves the nodes of a smaller table through that one, those that the visible pixels need; a moment
after the last move the tuned table is baked again by the exact road. For figures and files use the exact
road itself.
"""

from __future__ import annotations

import functools
from collections.abc import Sequence
from typing import Protocol

import numpy as np

from rehearsal.core.colour.table import IndexCurve, cube_nodes, look_up_pixels, pack_colours, pack_screen_table, paint
from rehearsal.core.icc import Profile
from rehearsal.core.picture.space import MasterSpace, master_space
from rehearsal.core.proof.chain import Look, MasterLeg, PrintChain, master_scale
from rehearsal.core.proof.movingroad import BetweenPainter, Colours, MovingPainter, Needed
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.work.once import LastUsed, once

BASE_NODES = 65
MOVING_NODES = 33
EXACT_NODES = 49


class TunedNodes(Protocol):
    """A tuned picture that treats every pixel alike, asked at the nodes of a table."""

    def nodes(self, codes: np.ndarray) -> np.ndarray:
        """Tuned 16-bit values (m, 3) of the master's (m, 3)."""
        ...


class Painter:
    """A packed table and its positions, ready for 16-bit pixels."""

    def __init__(self, curve: IndexCurve, rgb: np.ndarray, nodes: int) -> None:
        self.table = pack_screen_table(rgb, nodes)
        self.positions = curve.positions(nodes)

    def paint(self, pixels: np.ndarray, out: np.ndarray | None = None) -> np.ndarray:
        """(h, w) uint32 screen pixels of (h, w, 3) uint16."""
        return paint(pixels, self.positions, self.table, out)


@functools.lru_cache(maxsize=4)
def _nodes(digest: str, curve_owner: MasterSpace, n: int) -> np.ndarray:
    del digest
    return cube_nodes(curve_owner.index_curve, n)


def node_values(space: MasterSpace, n: int) -> np.ndarray:
    """Master values (n³, 3) at the nodes."""
    return _nodes(space.profile.digest, space, n)


@functools.lru_cache(maxsize=4)
def _node_codes(digest: str, curve_owner: MasterSpace, n: int) -> np.ndarray:
    return np.round(_nodes(digest, curve_owner, n) * 65535).astype(np.uint16)


#: The master's own tables do not depend on the paper: kept for the last screens and brightnesses.
_masters: LastUsed[tuple[Painter, np.ndarray]] = LastUsed(6)


def master_painter(space: MasterSpace, master: Profile, screen: Profile, scale: float) -> tuple[Painter, np.ndarray]:
    """Painter of the master on a screen, and the screen RGB (3,) of its white."""

    def make() -> tuple[Painter, np.ndarray]:
        held = MasterLeg(master, screen, scale)
        painter = Painter(space.index_curve, held.rgb(node_values(space, EXACT_NODES)), EXACT_NODES)
        return painter, held.rgb(np.ones((1, 3)))[0]

    return _masters.get((master.digest, screen.digest, round(scale, 6)), make)


class ScreenRoad:
    """Tables for one master, paper, rendering and look; the exact base table is baked when the object is made.

    Args:
        source: profile of the pixels that are printed.
        master: profile of M's pixels, when it is another.
        via: a working space the pixels go through on their way to the printer.
        nodes: of the base table; MOVING_NODES for a first look, a few times as fast.
    """

    def __init__(
        self, source: Profile, paper: Profile, rendering: Rendering, look: Look, nodes: int = BASE_NODES,
        master: Profile | None = None, via: Profile | None = None,
    ) -> None:  # fmt: skip
        self.look, self._paper = look, paper
        self.space = master_space(source)
        self._chain = PrintChain(source, paper, rendering, via)
        self._leg = look.leg(paper)
        self.paper_rgb = self._leg.paper_rgb
        self.outshines = self._leg.outshines
        self.master_scale = master_scale(self._leg) if look.hold else 1.0
        exact = self._exact(node_values(self.space, nodes))
        self._base = exact.astype(np.float32).reshape(nodes, nodes, nodes, 3)
        self.neutral = Painter(self.space.index_curve, exact, nodes)
        shown = master or source
        self.master, self.mount_rgb = master_painter(master_space(shown), shown, look.screen, self.master_scale)

    def _exact(self, values: np.ndarray) -> np.ndarray:
        device = values if self.look.unmanaged and self._paper.space == "RGB" else self._chain.device(values)
        return self._leg.rgb(device)

    @once
    def _places(self) -> np.ndarray:
        """Where each 16-bit value of the master lies among the nodes of the base table (65536,)."""
        return self.space.index_curve.float_positions(len(self._base))

    @once
    def _needed(self) -> Needed:
        return Needed(self.space.index_curve.positions(MOVING_NODES), MOVING_NODES)

    def _through_base(self, picture: TunedNodes) -> Colours:
        """Screen colours of a tuned picture at nodes, by way of the base table."""
        codes = _node_codes(self.space.profile.digest, self.space, MOVING_NODES)

        def colours(nodes: np.ndarray) -> np.ndarray:
            return pack_colours(look_up_pixels(picture.nodes(codes[nodes]), self._places, self._base))

        return colours

    def moving(self, picture: TunedNodes) -> MovingPainter:
        """Painter of a tuned picture, by way of the base table; a few milliseconds."""
        return MovingPainter(self._needed, self._through_base(picture))

    def between(self, pictures: Sequence[TunedNodes], levels: np.ndarray) -> BetweenPainter:
        """Painter of a picture tuned at equal steps of a place's weight, for pixels of these levels (h, w)."""
        return BetweenPainter(self._needed, [self._through_base(each) for each in pictures], levels)

    def exact(self, picture: TunedNodes) -> Painter:
        """Painter of a tuned picture, by the exact road; tens of milliseconds."""
        tuned = picture.nodes(_node_codes(self.space.profile.digest, self.space, EXACT_NODES))
        rgb = self._exact(tuned / 65535.0)
        return Painter(self.space.index_curve, rgb, EXACT_NODES)
