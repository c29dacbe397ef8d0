"""What a place weighs at each point of the master."""

from __future__ import annotations

import numpy as np

from rehearsal.core.values.place import Place

_LEAST_FADE = 1e-6


def weight(place: Place, x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """Weight (...), 0 to 1, at points of the uncropped master, x and y (...) in fractions of its long side.

    With ρ = 1 on the outline: 1 − smoothstep((ρ − 1 + fade) / fade), smoothstep(t) = t²(3 − 2t) on 0 to 1.
    """
    turn = np.radians(place.angle)
    dx, dy = x - place.centre[0], y - place.centre[1]
    along = dx * np.cos(turn) + dy * np.sin(turn)
    across = dy * np.cos(turn) - dx * np.sin(turn)
    rho = np.hypot(along / place.radii[0], across / place.radii[1])
    fade = max(place.fade, _LEAST_FADE)
    t = np.clip((rho - 1 + fade) / fade, 0, 1)
    inside = 1 - t * t * (3 - 2 * t)
    return 1 - inside if place.invert else inside


def levels(found: np.ndarray, steps: int) -> np.ndarray:
    """Weights (...), 0 to 1, as uint16: number of the lower of so many equal steps times 256, plus the fraction."""
    return np.round(found * (steps * 256)).astype(np.uint16)
