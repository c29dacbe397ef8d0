"""Output sharpening by arithmetic: what light and ink will spread in this paper is given back beforehand, as far as an eye can see it.

On L* of the luminance as one gain in linear light, last, after resizing and before the conversion. A Gaussian spread of σ mm passes a
share exp(−2π²σ²f²) of the contrast at f cycles per mm (Fourier transform of a Gaussian); the gain is its inverse, at most 2.
"""

from __future__ import annotations

import functools
import math
from collections.abc import Iterator

import numpy as np

from rehearsal.core.colour.lab import y_to_lightness
from rehearsal.core.icc.standard import WHITE_D50
from rehearsal.core.picture.space import MasterSpace, code_of
from rehearsal.core.work.kernels import kernel
from rehearsal.core.work.pool import in_slices

#: No frequency is given back more than this often, also above a strength of 1.
MOST = 2.0
#: Cycles per degree that an eye resolves, and the share of the file's own limit from which the gain falls.
EYE_CYCLES, _FALLS = 30.0, 0.8
#: Beyond the lightest and the darkest neighbour no pixel goes further than this, L*.
OVERSHOOT = 6.0
#: The filter reaches so many pixels to each side; it is worked out on a grid of so many.
RADIUS, _GRID = 9, 96
_TINY = 1e-6
#: Steps of the table of lightness.
_STEPS = 4096


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
        wide = np.pad(np.asarray(light, dtype=np.float32), ((0, 0), (RADIUS, RADIUS)), mode="edge")
        out = np.empty((len(wide) - 2 * RADIUS, wide.shape[1] - 2 * RADIUS), dtype=np.float32)
        in_slices(
            len(out),
            lambda part: _sharpen_rows(wide[part.start : part.stop + 2 * RADIUS], self.taps, out[part]),
            small=16,
        )
        return out

    def pixels(self, pixels: np.ndarray, space: MasterSpace) -> np.ndarray:
        """Sharpened 16-bit RGB (h, w, 3) of 16-bit RGB (h + 2 · RADIUS, w, 3) of a working space."""
        weights, table = (space.matrix[1] * WHITE_D50[1]).astype(np.float64), _light_table()
        light = np.empty(pixels.shape[:2], dtype=np.float32)
        in_slices(
            len(light), lambda part: _light_rows(pixels[part], *space.curves, weights, table, light[part]), small=16
        )
        wanted, inside = self.lightness(light), pixels[RADIUS:-RADIUS]
        out = np.empty(inside.shape, dtype=np.uint16)
        rows = light[RADIUS:-RADIUS]
        in_slices(
            len(out),
            lambda part: _gain_rows(inside[part], rows[part], wanted[part], *space.curves, *space.inverses, out[part]),
            small=16,
        )
        return out


@functools.cache
def _light_table() -> np.ndarray:
    """L* over the root of Y, in equal steps from 0 to 1."""
    return np.ascontiguousarray(y_to_lightness(np.linspace(0, 1, _STEPS + 1) ** 2), dtype=np.float32)


@kernel
def _light_rows(pixels, red, green, blue, weights, table, out):  # type: ignore[no-untyped-def]
    """L* (h, w) of 16-bit RGB (h, w, 3)."""
    for y in range(out.shape[0]):
        for x in range(out.shape[1]):
            light = (
                weights[0] * red[pixels[y, x, 0]]
                + weights[1] * green[pixels[y, x, 1]]
                + weights[2] * blue[pixels[y, x, 2]]
            )
            at = math.sqrt(min(max(light, 0.0), 1.0)) * _STEPS
            step = min(int(at), _STEPS - 1)
            out[y, x] = table[step] + (table[step + 1] - table[step]) * (at - step)


@kernel
def _sharpen_rows(light, taps, out):  # type: ignore[no-untyped-def]
    """Rows and columns of the filter are the same from both ends: they are added up before they are weighed."""
    height, width = out.shape
    pair = np.empty(light.shape[1], np.float32)
    line = np.empty(width, np.float32)
    for y in range(height):
        line[:] = 0.0
        for k in range(RADIUS + 1):
            one, two = light[y + k], light[y + 2 * RADIUS - k]
            half = np.float32(0.5) if k == RADIUS else np.float32(1.0)
            for x in range(pair.shape[0]):
                pair[x] = (one[x] + two[x]) * half
            for m in range(RADIUS):
                weight = taps[k, m]
                far = 2 * RADIUS - m
                for x in range(width):
                    line[x] += weight * (pair[x + m] + pair[x + far])
            weight = taps[k, RADIUS]
            for x in range(width):
                line[x] += weight * pair[x + RADIUS]
        _hold_line(light[y + RADIUS - 1], light[y + RADIUS], light[y + RADIUS + 1], line, out[y])


@kernel
def _hold_line(above, here, below, line, out):  # type: ignore[no-untyped-def]
    """No further than OVERSHOOT beyond the lightest and darkest of the nine neighbours, and from black to white."""
    for x in range(out.shape[0]):
        a, b, c = x + RADIUS - 1, x + RADIUS, x + RADIUS + 1
        low = min(
            min(min(above[a], above[b]), min(above[c], here[a])),
            min(min(here[b], here[c]), min(min(below[a], below[b]), below[c])),
        )
        high = max(
            max(max(above[a], above[b]), max(above[c], here[a])),
            max(max(here[b], here[c]), max(max(below[a], below[b]), below[c])),
        )
        out[x] = min(max(min(max(line[x], low - OVERSHOOT), high + OVERSHOOT), 0.0), 100.0)


@kernel
def _y_of(light):  # type: ignore[no-untyped-def]
    """Y of L* (CIE 15)."""
    return ((light + 16.0) / 116.0) ** 3 if light > 8.0 else light * 27.0 / 24389.0


@kernel
def _gain_rows(pixels, light, wanted, red, green, blue, back_red, back_green, back_blue, out):  # type: ignore[no-untyped-def]
    """One gain for all channels of a pixel, so that it has the wanted L*; inside the space."""
    for y in range(out.shape[0]):
        for x in range(out.shape[1]):
            r, g, b = red[pixels[y, x, 0]], green[pixels[y, x, 1]], blue[pixels[y, x, 2]]
            most = max(max(r, max(g, b)), _TINY)
            ratio = min(_y_of(wanted[y, x]) / max(_y_of(light[y, x]), _TINY), 1.0 / most)
            out[y, x, 0] = code_of(r * ratio, back_red)
            out[y, x, 1] = code_of(g * ratio, back_green)
            out[y, x, 2] = code_of(b * ratio, back_blue)


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
