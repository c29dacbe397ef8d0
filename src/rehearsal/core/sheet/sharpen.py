"""Output sharpening by arithmetic: what light and ink will spread in this paper is given back beforehand, as far as an eye can see it.

On L* of the luminance as one gain in linear light, last, after resizing and before the conversion. A Gaussian spread of σ mm passes a
share exp(−2π²σ²f²) of the contrast at f cycles per mm (Fourier transform of a Gaussian); the gain is its inverse, at most 2.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from rehearsal.core.colour.lab import lightness_to_y, y_to_lightness
from rehearsal.core.icc.standard import WHITE_D50
from rehearsal.core.picture.reduce import encode_linear
from rehearsal.core.picture.space import MasterSpace
from rehearsal.core.work.kernels import Later, ndimage

#: No frequency is given back more than this often, also above a strength of 1.
MOST = 2.0
#: Cycles per degree that an eye resolves, and the share of the file's own limit from which the gain falls.
EYE_CYCLES, _FALLS = 30.0, 0.8
#: Beyond the lightest and the darkest neighbour no pixel goes further than this, L*.
OVERSHOOT = 6.0
#: The filter reaches so many pixels to each side; it is worked out on a grid of so many.
RADIUS, _GRID = 9, 96
_TINY = 1e-6
_signal = Later("scipy.signal")


def transfer(f: np.ndarray, sigma_um: float) -> np.ndarray:
    """Share of the contrast at f cycles per mm (...) that a paper with a spread of σ µm keeps."""
    return np.asarray(np.exp(-2 * (math.pi * sigma_um / 1000 * np.asarray(f, dtype=float)) ** 2))


def gain(f: np.ndarray, sigma_um: float, strength: float, ppi: float, distance_cm: float) -> np.ndarray:
    """Gain at f cycles per mm (...) along any direction.

    1 + s (min(1 / transfer, 2) − 1), at most 2; falling in a straight line to 1 from the eye's limit, or 0.8 of the file's, to the file's.

    Args:
        strength: s, 0 to 1.5.
        ppi: of the file; its limit is half of it.
        distance_cm: from which the print is seen.
    """
    f = np.asarray(f, dtype=float)
    nyquist = ppi / 25.4 / 2
    begin = min(EYE_CYCLES / (distance_cm * 10 * math.tan(math.radians(1.0))), _FALLS * nyquist)
    full = np.minimum(1 + strength * (np.minimum(1 / transfer(f, sigma_um), MOST) - 1), MOST)
    fade = np.clip((nyquist - f) / (nyquist - begin), 0, 1)
    return np.asarray(1 + (full - 1) * fade)


#: Line pairs per mm at which a print's contrast is told.
TOLD = (1.0, 3.0, 5.0)


def print_contrasts(
    sigma_um: float, strength: float, ppi: float, distance_cm: float
) -> list[tuple[float, float, float]]:
    """Line pairs per mm, and which share of the picture's contrast the print has there without and with sharpening.

    Only as far as the file can hold them.
    """
    told = [f for f in TOLD if f <= ppi / 25.4 / 2]
    before = [float(transfer(np.array(f), sigma_um)) for f in told]
    after = [
        b * float(gain(np.array(f), sigma_um, strength, ppi, distance_cm)) for f, b in zip(told, before, strict=True)
    ]
    return list(zip(told, before, after, strict=True))


class Sharpener:
    """The filter for one print.

    Args:
        sigma_um: spread of light and ink in the paper, µm.
        strength: 0 to 1.5.
        ppi: of the file.
        distance_cm: from which the print is seen.
    """

    def __init__(self, sigma_um: float, strength: float, ppi: float, distance_cm: float) -> None:
        across = np.fft.fftfreq(_GRID, 25.4 / ppi)
        f = np.hypot(across[:, None], across[None])
        whole = np.fft.fftshift(np.fft.ifft2(gain(f, sigma_um, strength, ppi, distance_cm)).real)
        middle, reach = _GRID // 2, slice(_GRID // 2 - RADIUS, _GRID // 2 + RADIUS + 1)
        window = np.hanning(2 * RADIUS + 3)[1:-1]
        part = whole[reach, reach] * np.outer(window, window) ** 0.25
        part[RADIUS, RADIUS] = whole[middle, middle]
        part[RADIUS, RADIUS] += 1 - part.sum()  # what is even stays as light as it is
        self.taps = part.astype(np.float32)

    def lightness(self, light: np.ndarray) -> np.ndarray:
        """Sharpened L* (h, w) of L* (h + 2 · RADIUS, w): rows above and below are neighbours, columns end as they are."""
        wide = np.pad(light, ((0, 0), (RADIUS, RADIUS)), mode="edge")
        made = _signal.oaconvolve(wide, self.taps, mode="valid")  # it is the same both ways round
        low = ndimage.minimum_filter(light, 3, mode="nearest")[RADIUS:-RADIUS]
        high = ndimage.maximum_filter(light, 3, mode="nearest")[RADIUS:-RADIUS]
        return np.asarray(np.clip(np.clip(made, low - OVERSHOOT, high + OVERSHOOT), 0.0, 100.0))

    def pixels(self, pixels: np.ndarray, space: MasterSpace) -> np.ndarray:
        """Sharpened 16-bit RGB (h, w, 3) of 16-bit RGB (h + 2 · RADIUS, w, 3) of a working space."""
        linear = np.stack([space.curves[c][pixels[..., c]] for c in range(3)], axis=-1)
        y = np.clip(linear @ (space.matrix[1] * WHITE_D50[1]), 0.0, 1.0)
        wanted = lightness_to_y(self.lightness(y_to_lightness(y)))
        inside = linear[RADIUS:-RADIUS]
        ratio = wanted / np.maximum(y[RADIUS:-RADIUS], _TINY)
        ratio = np.minimum(
            ratio, 1 / np.maximum(inside.max(axis=-1), _TINY)
        )  # one gain for all channels, inside the space
        return encode_linear(inside * ratio[..., None], space)


def sharpened(
    strips: Iterator[tuple[slice, np.ndarray]], height: int, sharpener: Sharpener, space: MasterSpace
) -> Iterator[tuple[slice, np.ndarray]]:
    """Strips of a picture of so many rows, from the top, sharpened; each waits for the rows below that it needs."""
    held, first, waiting = np.empty((0, 0, 3), dtype=np.uint16), 0, list[slice]()
    for part, pixels in strips:
        held = pixels if not len(held) else np.concatenate([held, pixels])
        waiting.append(part)
        while waiting and first + len(held) >= min(waiting[0].stop + RADIUS, height):
            done = waiting.pop(0)
            rows = np.clip(np.arange(done.start - RADIUS, done.stop + RADIUS), 0, height - 1) - first
            yield done, sharpener.pixels(held[rows], space)
            keep = max(done.stop - RADIUS - first, 0)
            held, first = held[keep:], first + keep
