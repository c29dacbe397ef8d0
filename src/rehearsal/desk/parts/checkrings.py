"""A check of a screen as rings: greys from white to black, then the full colours, then the others."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PyQt6.QtGui import QColor

from rehearsal.core.screen.check import GOOD_MEAN, USABLE_MEAN, patch_name
from rehearsal.desk.parts.rings import Ring
from rehearsal.workbook.values import PatchOff


def in_order(rgb: np.ndarray) -> list[int]:
    """Numbers of patches (m, 3) in that order."""
    grey, full = np.ptp(rgb, axis=1) < 1e-6, (rgb.max(axis=1) > 0.999) & (rgb.min(axis=1) < 1e-3)
    greys = sorted(np.flatnonzero(grey).tolist(), key=lambda i: -float(rgb[i, 0]))
    return [*greys, *np.flatnonzero(~grey & full).tolist(), *np.flatnonzero(~grey & ~full).tolist()]


def check_rings(patches: Sequence[PatchOff]) -> tuple[Ring, ...]:
    """A ring each: full while it is good, half while it is usable, hatched above."""
    if not patches:
        return ()
    rgb = np.array([(p.red, p.green, p.blue) for p in patches])
    return tuple(_ring(rgb[i], patches[i].off) for i in in_order(rgb))


def _ring(rgb: np.ndarray, off: float) -> Ring:
    filling = "full" if off <= GOOD_MEAN else "half" if off <= USABLE_MEAN else "look"
    return Ring(patch_name(rgb), off, filling, QColor.fromRgbF(*[float(v) for v in rgb]))


def check_groups(rings: Sequence[Ring]) -> tuple[tuple[int, str], ...]:
    """Where greys, full and other colours begin."""
    names = [ring.name for ring in rings]
    greys = [i for i, name in enumerate(names) if name in ("white", "black") or name.startswith("grey")]
    soft = [i for i, name in enumerate(names) if name.startswith("soft")]
    full = [i for i in range(len(names)) if i not in greys and i not in soft]
    groups = ((greys, "white to black"), (full, "full colours"), (soft, "soft colours, skin, sky"))
    return tuple((indices[0], name) for indices, name in groups if indices)
