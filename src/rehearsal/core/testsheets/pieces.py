"""The piece of a picture that shows most: its tones in ten parts alike, and its areas beyond the paper, by integral images."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rehearsal.core.values.frame import Crop

#: So many parts of the picture's tones, each of as many pixels.
TONES = 10
#: Something is in a piece when it fills so much of it.
_LEAST = 0.02
#: No more areas than these, the largest, count.
MOST_AREAS = 5


@dataclass(frozen=True)
class Covered:
    """What pieces show together.

    Attributes:
        tones, of_tones: of the picture's tenths of lightness (a flat picture has fewer); areas, of_areas: beyond the paper.
    """

    tones: int
    of_tones: int
    areas: int
    of_areas: int


class PieceFinder:
    """Finds pieces of one crop.

    Args:
        lightness: L* (h, w) of what is printed inside the crop.
        labels: integers of the same crop in any size, areas beyond the paper from 1, the largest first; None while they are not known.
    """

    def __init__(self, lightness: np.ndarray, labels: np.ndarray | None = None) -> None:
        edges = np.unique(np.quantile(lightness, np.arange(1, TONES) / TONES))
        tenth = np.searchsorted(edges, lightness, side="right")
        masks = [tenth == i for i in np.unique(tenth)]
        self._tones = len(masks)
        if labels is not None and labels.max() > 0:
            here = _nearest(labels, lightness.shape)
            masks += [here == i for i in range(1, min(int(labels.max()), MOST_AREAS) + 1)]
        self._areas = len(masks) - self._tones
        padded = np.pad(np.stack(masks).astype(np.float64), ((0, 0), (1, 0), (1, 0)))
        self._sums = padded.cumsum(axis=1).cumsum(axis=2)
        self._shape = lightness.shape

    def offered(self, width: float, height: float, many: int = 1) -> list[Crop]:
        """The best pieces of a size, in fractions of the crop, the most telling first; fewer when no more find room beside them.

        Args:
            width, height: of a piece, in fractions of the crop; what is larger is the whole of it.
        """
        h, w = self._shape
        wide, high = (min(max(round(f * n), 1), n) for f, n in ((width, w), (height, h)))
        shares = self._shares(wide, high)
        free = np.ones(shares.shape[1:], dtype=bool)
        seen = np.zeros(len(shares), dtype=bool)
        found: list[Crop] = []
        while len(found) < many and free.any():
            score = self._score(shares, seen)
            score[~free] = -1.0
            y, x = (int(v) for v in np.unravel_index(int(score.argmax()), score.shape))
            seen |= shares[:, y, x] >= _LEAST
            free[max(0, y - high + 1) : y + high, max(0, x - wide + 1) : x + wide] = False
            found.append(Crop(x / w, y / h, wide / w, high / h))
        return found

    @staticmethod
    def _score(shares: np.ndarray, seen: np.ndarray) -> np.ndarray:
        """How many new things each place shows, and among equals how evenly the tones are spread."""
        new = ((shares >= _LEAST) & ~seen[:, None, None]).sum(axis=0)
        even: np.ndarray = np.minimum(shares, 1.0 / len(shares)).sum(axis=0)
        return np.asarray(new + 0.99 * even)

    def _shares(self, wide: int, high: int) -> np.ndarray:
        """Share of each thing in the rectangle at every place (things, h - high + 1, w - wide + 1)."""
        s = self._sums
        inside = s[:, high:, wide:] - s[:, :-high, wide:] - s[:, high:, :-wide] + s[:, :-high, :-wide]
        return np.asarray(inside / (wide * high))

    def covered(self, pieces: list[Crop]) -> Covered:
        """What pieces, in fractions of the crop, show together."""
        seen = np.zeros(len(self._sums), dtype=bool)
        h, w = self._shape
        for piece in pieces:
            x, y, wide, high = piece.pixels(w, h)
            s = self._sums
            inside = s[:, y + high, x + wide] - s[:, y, x + wide] - s[:, y + high, x] + s[:, y, x]
            seen |= inside / (wide * high) >= _LEAST
        tones = int(seen[: self._tones].sum())
        return Covered(tones, self._tones, int(seen[self._tones :].sum()), self._areas)


def _nearest(labels: np.ndarray, shape: tuple[int, ...]) -> np.ndarray:
    """Labels in another size: the nearest of each place."""
    rows, columns = ((np.arange(n) * m // n) for n, m in zip(shape, labels.shape, strict=True))
    return np.asarray(labels[rows[:, None], columns])


def within(piece: Crop, crop: Crop) -> Crop:
    """A piece in fractions of a crop, as fractions of the master."""
    return Crop(
        crop.x + piece.x * crop.width, crop.y + piece.y * crop.height, piece.width * crop.width, piece.height * crop.height
    )  # fmt: skip


def of_crop(piece: Crop, crop: Crop) -> Crop:
    """A piece in fractions of the master, as fractions of a crop."""
    return Crop(
        (piece.x - crop.x) / crop.width, (piece.y - crop.y) / crop.height, piece.width / crop.width, piece.height / crop.height
    )  # fmt: skip
