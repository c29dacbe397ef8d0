"""The spread of light and ink in a paper, measured at a printed edge that lies a little slanted in a scan.

The method is ISO 12233's (slanted edge): the edge's place in each row is the centroid of the row's derivative, a line is laid through
them, every pixel is put at its distance from that line, the response is averaged in quarters of a pixel. Its derivative is the line
spread; σ is that of the Gaussian whose transfer fits the spread's own best, up to where the contrast has fallen to a fifth.
"""

from __future__ import annotations

import math

import numpy as np

from rehearsal.core.errors import RehearsalError

#: Quarters of a pixel; least rows and columns; the edge's slant that tells more than one phase and is still an edge, degrees.
_FINE, _LEAST, _SLANT = 4, 24, (1.0, 15.0)
_FALLEN = 0.2
#: No paper's spread lies outside of this, µm.
_RANGE_UM = (5.0, 400.0)


def edge_spread_um(light: np.ndarray, ppi: float) -> float:
    """σ of the spread at an edge, µm.

    Args:
        light: linear light (h, w) of a scan that holds one edge, dark on one side, nearly upright or nearly level.
        ppi: of the scan.

    Raises:
        RehearsalError: there is no edge, it is not slanted, or what is found cannot be.
    """
    image = _upright(np.asarray(light, dtype=np.float64))
    places = _edge_places(image)
    slope, first = np.polyfit(np.arange(len(places)), places, 1)
    slant = abs(math.degrees(math.atan(slope)))
    if not _SLANT[0] <= slant <= _SLANT[1]:
        raise RehearsalError(
            f"the edge is slanted by {slant:.1f}°",
            "the scan",
            "lay it slanted by about 5°, so that each row meets it elsewhere",
        )
    rows, columns = np.indices(image.shape)
    far = (columns - (first + slope * rows)) * math.cos(math.atan(slope))
    pixels = _sigma_pixels(_profile(far, image))
    sigma = pixels / ppi * 25400
    if not _RANGE_UM[0] <= sigma <= _RANGE_UM[1]:
        raise RehearsalError(
            f"a spread of {sigma:.0f} µm cannot be a paper's",
            "the scan",
            "check its resolution, and cut it to the edge alone",
        )
    return sigma


def _upright(image: np.ndarray) -> np.ndarray:
    """With its edge running down, dark at the left.

    Raises:
        RehearsalError: too small, or without an edge.
    """
    if image.ndim != 2 or min(image.shape) < _LEAST:
        raise RehearsalError(
            "the scan is too small to measure an edge", f"{image.shape}", f"cut it to {_LEAST} pixels a side or more"
        )
    across, down = (np.abs(np.diff(image.mean(axis=axis))).sum() for axis in (0, 1))
    made = image if across >= down else image.T
    quarter = made.shape[1] // 4
    left, right = made[:, :quarter].mean(), made[:, -quarter:].mean()
    if abs(left - right) < 0.02 * max(image.max(), 1e-9) or abs(left - right) < 4 * made[:, : quarter // 2].std():
        raise RehearsalError("no edge is found in the scan", "the scan", "cut it to one dark and one light side")
    return made if left < right else made[:, ::-1]


def _edge_places(image: np.ndarray) -> np.ndarray:
    """Column of the edge in each row: the centroid of the derivative, windowed about its highest place the second time."""
    rise = np.diff(image, axis=1)
    columns = np.arange(rise.shape[1]) + 0.5
    places = (rise * columns).sum(axis=1) / rise.sum(axis=1)
    for _ in range(3):
        slope, first = np.polyfit(np.arange(len(places)), places, 1)
        far = columns[None] - (first + slope * np.arange(len(places)))[:, None]
        window = np.where(np.abs(far) < image.shape[1] / 4, 0.5 + 0.5 * np.cos(np.pi * far / (image.shape[1] / 4)), 0.0)
        total = (rise * window).sum(axis=1)
        good = np.abs(total) > 1e-9
        places = np.where(
            good,
            (rise * window * columns).sum(axis=1) / np.where(good, total, 1.0),
            first + slope * np.arange(len(places)),
        )
    return places


def _profile(far: np.ndarray, image: np.ndarray) -> np.ndarray:
    """The edge's response in quarters of a pixel, as far as pixels lie at both sides."""
    reach = min(-far.min(), far.max())
    at = np.floor((far + reach) * _FINE).astype(int)
    inside = (at >= 0) & (at < int(2 * reach * _FINE))
    counts = np.bincount(at[inside])
    sums = np.bincount(at[inside], weights=image[inside])
    filled = counts > 0
    return np.interp(np.arange(len(counts)), np.flatnonzero(filled), sums[filled] / counts[filled])


def _sigma_pixels(profile: np.ndarray) -> float:
    """σ in pixels by the transfer: ln of it against f² is −2π²σ², weighted by how sure it is; a pixel's own width is taken out."""
    spread = np.diff(profile)
    middle = int(np.argmax(np.abs(np.convolve(spread, np.ones(_FINE), mode="same"))))
    reach = min(middle, len(spread) - 1 - middle)
    part = spread[middle - reach : middle + reach + 1] * np.hanning(2 * reach + 3)[1:-1]
    transfer = np.abs(np.fft.rfft(part, 1024))
    transfer /= max(transfer[0], 1e-12)
    f = np.fft.rfftfreq(1024, 1 / _FINE)  # cycles per pixel
    last = int(np.argmax(transfer < _FALLEN)) or len(f)
    seen = slice(1, max(last, 4))
    # an averaged quarter, its difference, and the pixel itself each have a width of their own
    own = np.sinc(f[seen] / _FINE) ** 2 * np.sinc(f[seen])
    log = np.log(np.clip(transfer[seen] / own, 1e-3, 1.0))
    weight = transfer[seen] ** 2
    square = f[seen] ** 2
    return float(math.sqrt(max(-(weight * square * log).sum() / (weight * square**2).sum(), 0.0) / (2 * math.pi**2)))
