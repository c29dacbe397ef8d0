"""What lies beyond the paper: share, causes, colder whites, and the correction by exact answers."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numba import njit

from rehearsal.core.colour.difference import ciede_split, delta_e_2000
from rehearsal.core.papers.model import PaperModel
from rehearsal.core.proof.lattice import DeltaLattice
from rehearsal.core.work.pool import in_slices

LIMIT = 1.5
CAUSES = ("too_dark", "too_light", "too_saturated")
_BAND = 0.7
_EXACT_PIXELS = 6000


@njit(cache=True, nogil=True)
def _cause_rows(lab, printable, delta, limit, cause, mixed):  # type: ignore[no-untyped-def]
    for i in range(lab.shape[0]):
        if delta[i] <= limit:
            cause[i], mixed[i] = -1, False
            continue
        L1, a1, b1 = np.float64(lab[i, 0]), np.float64(lab[i, 1]), np.float64(lab[i, 2])
        L2, a2, b2 = np.float64(printable[i, 0]), np.float64(printable[i, 1]), np.float64(printable[i, 2])
        light, colour = ciede_split(L1, a1, b1, L2, a2, b2)
        cause[i] = 2 if light < colour else 0 if L2 >= L1 else 1
        mixed[i] = abs(light - colour) < 0.3 * (light + colour)


def causes(
    lab: np.ndarray, printable: np.ndarray, delta: np.ndarray | None = None, limit: float = LIMIT
) -> tuple[np.ndarray, np.ndarray]:
    """Why colours are beyond.

    Args:
        lab: M (m, 3).
        printable: P* (m, 3).
        delta: δ (m,); colours up to the limit have no cause then.

    Returns:
        index into CAUSES (m,) int8, -1 for none, and True (m,) where lightness and colour weigh about the same
        (both are named then: "dark and saturated").
    """
    if delta is None:
        delta, limit = np.ones(len(lab), dtype=np.float32), 0.0
    lab, printable, delta = (np.ascontiguousarray(v) for v in (lab, printable, delta))
    index, mixed = np.empty(len(lab), dtype=np.int8), np.empty(len(lab), dtype=bool)
    in_slices(len(lab), lambda s: _cause_rows(lab[s], printable[s], delta[s], limit, index[s], mixed[s]))
    return index, mixed


@dataclass(frozen=True)
class Beyond:
    """Result over one image.

    Attributes:
        delta: δ (h, w) from the lattice.
        printable: P* (h, w, 3).
        mask: δ > limit (h, w).
        cause: index into CAUSES (h, w) int8, -1 where not beyond.
        mixed: where lightness and colour weigh about the same (h, w).
        share: corrected share in per cent.
        by_cause: corrected shares in per cent, in the order of CAUSES; they add up to ``share``.
    """

    delta: np.ndarray
    printable: np.ndarray
    mask: np.ndarray
    cause: np.ndarray
    mixed: np.ndarray
    share: float
    by_cause: tuple[float, float, float]

    @property
    def colour(self) -> float:
        """Share beyond in colour: too saturated or too light."""
        return self.by_cause[1] + self.by_cause[2]


def find_beyond(lab: np.ndarray, field: DeltaLattice, limit: float = LIMIT, seed: int = 1) -> Beyond:
    """Test an image (h, w, 3) of M against a paper.

    Pixels whose lattice δ is close to the limit, and some of those further beyond, are answered exactly on random
    samples, and the shares are corrected by what the samples say.
    """
    flat = lab.reshape(-1, 3)
    found = field.look_up(flat)
    delta, printable = np.ascontiguousarray(found[:, 0]), np.ascontiguousarray(found[:, 1:])
    mask = delta > limit
    cause, mixed = causes(flat, printable, delta, limit)
    by_cause = _corrected(flat, delta, cause, field, limit, seed)
    shape = lab.shape[:2]
    return Beyond(
        delta=delta.reshape(shape), printable=printable.reshape(lab.shape), mask=mask.reshape(shape), cause=cause.reshape(shape),
        mixed=mixed.reshape(shape),
        share=float(by_cause.sum()), by_cause=(float(by_cause[0]), float(by_cause[1]), float(by_cause[2])),
    )  # fmt: skip


def _corrected(
    flat: np.ndarray, delta: np.ndarray, cause: np.ndarray, field: DeltaLattice, limit: float, seed: int
) -> np.ndarray:
    """Shares by cause; strata are the pixels near the limit, and the others by the cause the lattice gives them."""
    near = np.abs(delta - limit) < _BAND
    shares = np.zeros(3)
    for places, most in ((near, _EXACT_PIXELS), *((~near & (cause == c), _EXACT_PIXELS // 3) for c in range(3))):
        at = np.flatnonzero(places)
        if len(at):
            shares += _exact_causes(flat, at, field, limit, seed, most) * len(at)
    return shares / len(flat) * 100


def exact_shares(model: PaperModel, lab: np.ndarray, limit: float = LIMIT) -> tuple[np.ndarray, np.ndarray]:
    """Exact answers for Lab colours (m, 3): shares beyond in per cent (3,), in the order of CAUSES, and δ (m,)."""
    best = model.nearest(lab)[1]
    delta = delta_e_2000(lab, best)
    kind = causes(lab, best)[0]
    return np.array([np.mean((delta > limit) & (kind == c)) * 100 for c in range(3)]), delta


def _exact_causes(
    flat: np.ndarray, places: np.ndarray, field: DeltaLattice, limit: float, seed: int, most: int
) -> np.ndarray:
    """Shares (3,) of some pixels that are beyond, by cause; exact on a random sample of them."""
    rng = np.random.default_rng(seed)
    sample = places if len(places) <= most else rng.choice(places, most, replace=False)
    return exact_shares(field.model, flat[sample].astype(np.float64), limit)[0] / 100


def refine_near(lab: np.ndarray, found: np.ndarray, where: np.ndarray, field: DeltaLattice, most: int) -> np.ndarray:
    """Answers of the lattice with some of them made exact.

    Args:
        lab: (h, w, 3); found: δ and P* (h, w, 4) of the lattice.
        where: how much each pixel matters (h, w), smaller first; infinite where it does not.
        most: so many pixels at the most, about 4 µs each on two cores.
    """
    places = np.flatnonzero(np.isfinite(where))
    if len(places) > most:
        places = places[np.argpartition(where.ravel()[places], most)[:most]]
    if not len(places):
        return found
    want = lab.reshape(-1, 3)[places].astype(np.float64)
    best = field.model.nearest(want)[1]
    delta = delta_e_2000(want, best)
    made = found.reshape(-1, 4).copy()
    made[places, 0] = np.where(delta < 0.06, 0.0, delta)
    made[places, 1:] = best
    return made.reshape(found.shape)


def full_share(
    pixels: np.ndarray,
    to_lab: Callable[[np.ndarray], np.ndarray],
    field: DeltaLattice,
    limit: float = LIMIT,
    least: int = 600_000,
    seed: int = 2,
) -> float:
    """Share beyond at full resolution in per cent.

    One pixel at a random place of every block of equal size stands for its block, as far as
    at least ``least`` pixels are left: with 0.6 million pixels the standard error is at most 0.07 points.
    """
    h, w = pixels.shape[:2]
    block = max(1, int(np.sqrt(h * w / least)))
    if block > 1:
        rng = np.random.default_rng(seed)
        rows, columns = max(1, h // block), max(1, w // block)
        y = np.minimum(np.arange(rows)[:, None] * block + rng.integers(0, block, (rows, columns)), h - 1)
        x = np.minimum(np.arange(columns) * block + rng.integers(0, block, (rows, columns)), w - 1)
        pixels = pixels[y, x]
    return find_beyond(to_lab(pixels), field, limit).share


def colder_than_paper(lab: np.ndarray, white: np.ndarray) -> float:
    """Per cent of pixels that are near-white (L* over 85) and colder or lighter than the bare paper.

    Args:
        lab: M (h, w, 3), taken as absolute colours.
        white: absolute Lab of the paper.
    """
    flat = lab.reshape(-1, 3)
    near = flat[flat[:, 0] > 85].astype(np.float64)
    if not len(near):
        return 0.0
    bluer, lighter = np.tile(white, (len(near), 1)), np.tile(white, (len(near), 1))
    bluer[:, 2] = np.minimum(near[:, 2], white[2])
    lighter[:, 0] = np.maximum(near[:, 0], white[0])
    paper = np.broadcast_to(white, near.shape)
    far = (delta_e_2000(paper, bluer) > 2) | (delta_e_2000(paper, lighter) > 2)
    return float(np.count_nonzero(far) / len(flat) * 100)
