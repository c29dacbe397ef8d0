"""The patches of a chart."""

from __future__ import annotations

import numpy as np


def chart_patches(steps: int = 11, greys: int = 61) -> np.ndarray:
    """RGB patches (m, 3), 0 to 1: a regular cube, a fine grey ramp, near-greys and a few repeats of white."""
    axis = np.linspace(0, 1, steps)
    cube = np.stack(np.meshgrid(axis, axis, axis, indexing="ij"), axis=-1).reshape(-1, 3)
    grey = np.repeat(np.linspace(0, 1, greys)[:, None], 3, axis=1)
    tints = np.array([[0.04, 0, 0], [0, 0.04, 0], [0, 0, 0.04], [-0.04, 0, 0], [0, -0.04, 0], [0, 0, -0.04]])
    near = np.clip(np.linspace(0.06, 0.94, 23)[:, None, None] + tints, 0, 1).reshape(-1, 3)
    return np.concatenate([cube, grey, near, np.ones((6, 3))])
