"""P over a whole image: a table over the master's cube where the master has three channels, exact otherwise."""

from __future__ import annotations

import numpy as np

from rehearsal.core.colour.table import cube_nodes, look_up_pixels
from rehearsal.core.proof.chain import PrintChain
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.work.once import LastUsed

NODES = 49
#: Digests of master, working space on the way and paper, and the rendering: what a print over a cube depends on.
PrintKey = tuple[str, str | None, str, Rendering]

_tables: LastUsed[np.ndarray] = LastUsed(12)


def print_table(chain: PrintChain, nodes: int = NODES) -> np.ndarray:
    """Float32 table (n, n, n, 3) of P over the master's cube, at the nodes of its index curve; the last ones are kept."""

    def make() -> np.ndarray:
        values = cube_nodes(chain.space.index_curve, nodes)
        return chain.print_lab(values).astype(np.float32).reshape(nodes, nodes, nodes, 3)

    return _tables.get((chain.key, nodes), make)


def made_for(paper: str) -> list[tuple[PrintKey, np.ndarray]]:
    """Tables of the usual size that are at hand for a paper by its digest, the last used ones last."""
    return [(key, table) for (key, nodes), table in _tables.items() if nodes == NODES and key[2] == paper]


def adopt(key: PrintKey, table: np.ndarray) -> None:
    """Take over a table that was made before; raises ValueError when it cannot be one."""
    if table.shape != (NODES, NODES, NODES, 3) or table.dtype != np.float32 or not np.isfinite(table).all():
        raise ValueError("no table of a print")
    _tables.put((key, NODES), table)


def print_image(chain: PrintChain, pixels: np.ndarray, nodes: int = NODES) -> np.ndarray:
    """P (h, w, 3) float32 of 16-bit pixels (h, w, channels); Pa for the absolute intent."""
    lab = _relative_image(chain, pixels, nodes)
    if chain.rendering.intent == "absolute":
        return chain.model.absolute(lab).astype(np.float32)
    return lab


def _relative_image(chain: PrintChain, pixels: np.ndarray, nodes: int) -> np.ndarray:
    if chain.space.channels == 1:
        ramp = chain.print_lab(np.arange(65536)[:, None] / 65535.0).astype(np.float32)
        return ramp[pixels[..., 0]]
    if chain.space.channels == 3:
        return look_up_pixels(pixels, chain.space.index_curve.float_positions(nodes), print_table(chain, nodes))
    flat = pixels.reshape(-1, pixels.shape[-1]) / 65535.0
    return chain.print_lab(flat).astype(np.float32).reshape((*pixels.shape[:-1], 3))
