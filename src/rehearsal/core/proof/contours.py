"""Fields of difference as calm lines: generalised to what a screen can carry, as map makers do.

Fields are (h, w) in ΔE₀₀ over the pixels that are shown; lines are (n, 2) arrays of x, y, pixel centres at whole numbers,
with the larger values at their left as they are walked (x to the right, y downward: at their right as they are seen).
"""

from __future__ import annotations

import numpy as np

from rehearsal.core.work.kernels import ndimage

#: A line whose outline box is smaller than this (width + height, px) is a crumb.
CRUMB = 60
_SMOOTH_PX = 3.0
#: Lines are made calm on every second pixel, of a field too smooth to need more.
_STEP = 2
#: Folds narrower than 25 px run together; tongues narrower than 13 px are cut off; then corners are rounded (in steps).
_FOLD, _TONGUE, _ROUND = 6, 3, 1.2
#: What falls under this is no fold but a gap between two things, and stays open (ΔE₀₀).
_GAP = 0.4
#: An inner line that runs this near to the outer one says nothing more: a steep edge.
_STEEP_PX = 7.0
_DARK, _DARK_PX = 38.0, 6.0

Lines = tuple[np.ndarray, ...]


def smooth_field(field: np.ndarray) -> np.ndarray:
    """Generalised to what a screen pixel can carry: a Gaussian of 3 px."""
    return np.asarray(ndimage.gaussian_filter(field.astype(np.float32), _SMOOTH_PX))


def calm_field(smooth: np.ndarray, fold: int = _FOLD, tongue: int = _TONGUE, gap: float = _GAP) -> np.ndarray:
    """A smooth field closed over folds and freed of tongues, by discs of such radii in pixels; corners rounded.

    Where the field falls under ``gap`` nothing is closed: that is no fold but a gap between two things.

    A flat closing and opening move no level's line but at folds and tongues (Serra, Image Analysis and Mathematical
    Morphology, 1982, from memory: flat operators commute with thresholds).
    """
    closed = ndimage.grey_closing(smooth, footprint=_disc(fold), mode="nearest")
    share = np.clip((smooth - gap) / _GAP + 0.5, 0.0, 1.0)  # by degrees, so that little doubt moves no line much
    closed = smooth + share * (closed - smooth)
    opened = ndimage.grey_opening(closed, footprint=_disc(tongue), mode="nearest")
    return np.asarray(ndimage.gaussian_filter(opened, _ROUND))


def _disc(radius: int) -> np.ndarray:
    y, x = np.mgrid[-radius : radius + 1, -radius : radius + 1]
    return np.asarray(np.hypot(x, y) <= radius + 0.3)


def isolines(field: np.ndarray, levels: tuple[float, ...], crumb: float = CRUMB) -> tuple[tuple[float, Lines], ...]:
    """Contour lines of a field at each level, freed of crumbs; closed along the picture's edge."""
    import contourpy

    padded = np.pad(field, 1, constant_values=0)
    generator = contourpy.contour_generator(z=padded)
    made = []
    for level in levels:
        lines = [np.asarray(line) - 1 for line in generator.lines(level)]
        made.append((level, tuple(line for line in lines if _extent(line) >= crumb)))
    return tuple(made)


def calm_lines(smooth: np.ndarray, levels: tuple[float, ...]) -> tuple[tuple[float, Lines], ...]:
    """Lines of a smooth field as :func:`calm_field` has them; an inner line is left out where it runs along the outer one."""
    made = isolines(calm_field(smooth[::_STEP, ::_STEP]), levels, CRUMB / _STEP)
    (outer, first), *inner = [(level, tuple(line * _STEP for line in lines)) for level, lines in made]
    return ((outer, first), *((level, _apart(lines, first, smooth.shape)) for level, lines in inner))


def _apart(lines: Lines, outer: Lines, shape: tuple[int, ...]) -> Lines:
    """The runs of lines that keep away from the outer ones."""
    if not outer or not lines:
        return lines
    free = np.ones(shape, dtype=bool)
    for line in outer:
        free[_pixels(line, shape)] = False
    away = ndimage.distance_transform_edt(free)
    made: list[np.ndarray] = []
    for line in lines:
        made += [run for run, far in runs(line, away[_pixels(line, shape)] > _STEEP_PX) if far]
    return tuple(line for line in made if _extent(line) >= CRUMB)


def runs(line: np.ndarray, holds: np.ndarray, least: int = 15) -> list[tuple[np.ndarray, bool]]:
    """A line (n, 2) cut where something begins or ends to hold (n,); changes shorter than about ``least`` points do not cut."""
    if len(line) < 2:
        return []
    share = ndimage.uniform_filter1d(holds.astype(np.float32), min(least, len(line)), mode="nearest")
    kept = share > 0.5
    cuts = np.flatnonzero(kept[1:] != kept[:-1]) + 1
    starts, ends = np.concatenate([[0], cuts]), np.concatenate([cuts + 1, [len(line)]])
    return [(line[a:b], bool(kept[a])) for a, b in zip(starts, ends, strict=True)]


def is_dark(lightness: np.ndarray) -> np.ndarray:
    """Where a ground of L* (h, w) is so dark that a dark line does not show on it."""
    return np.asarray(ndimage.gaussian_filter(lightness.astype(np.float32), _DARK_PX) < _DARK)


def dark_runs(line: np.ndarray, dark: np.ndarray) -> list[tuple[np.ndarray, bool]]:
    """A line cut into runs on light ground and runs on dark ground (h, w), as :func:`is_dark` has it."""
    return runs(line, dark[_pixels(line, dark.shape)], 25)


def without_crumbs(mask: np.ndarray) -> np.ndarray:
    """The mask without pieces too small to carry a line."""
    pieces, count = ndimage.label(mask)
    boxes = ndimage.find_objects(pieces)
    keep = np.zeros(count + 1, dtype=bool)
    for i, (rows, columns) in enumerate(boxes, start=1):
        keep[i] = (rows.stop - rows.start) + (columns.stop - columns.start) >= CRUMB
    return np.asarray(keep[pieces])


def _pixels(line: np.ndarray, shape: tuple[int, ...]) -> tuple[np.ndarray, np.ndarray]:
    """Rows and columns of the pixels under the points of a line."""
    at = np.rint(line).astype(int)
    return np.clip(at[:, 1], 0, shape[0] - 1), np.clip(at[:, 0], 0, shape[1] - 1)


def _extent(line: np.ndarray) -> float:
    """Width and height of a line's outline box in pixels, added."""
    return float(np.ptp(line[:, 0]) + np.ptp(line[:, 1]))
