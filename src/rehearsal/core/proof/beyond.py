"""What lies beyond the paper: share, causes, colder whites, and the correction by exact answers."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from rehearsal.core.colour.difference import ciede_split, delta_e_2000
from rehearsal.core.papers.model import PaperModel
from rehearsal.core.proof.lattice import DeltaLattice
from rehearsal.core.work.kernels import kernel
from rehearsal.core.work.pool import in_slices

LIMIT = 1.5
CAUSES = ("too_dark", "too_light", "too_saturated")
_NEAR_WHITE, _FAR = 85.0, 2.0
#: Bits of what a colour loses.
COLOUR, DEPTH = 1, 2
#: A colour weaker than this chroma C* has none to lose; what it gets is a cast.
_NO_COLOUR = 2.0
_BAND = 0.7
_EXACT_PIXELS = 6000
_STRIP = 1 << 17


@kernel
def _lost(light, colour, chroma, lifted, limit):  # type: ignore[no-untyped-def]
    """Bits of what a colour beyond the limit loses, from the squared parts of its difference."""
    bits = 0
    if colour > limit * limit and chroma >= _NO_COLOUR:
        bits |= COLOUR
    if light > limit * limit and lifted:
        bits |= DEPTH
    return bits


@kernel
def _cause_rows(lab, printable, delta, limit, cause, mixed, lost):  # type: ignore[no-untyped-def]
    for i in range(lab.shape[0]):
        if delta[i] <= limit:
            cause[i], mixed[i], lost[i] = -1, False, 0
            continue
        L1, a1, b1 = np.float64(lab[i, 0]), np.float64(lab[i, 1]), np.float64(lab[i, 2])
        L2, a2, b2 = np.float64(printable[i, 0]), np.float64(printable[i, 1]), np.float64(printable[i, 2])
        light, colour = ciede_split(L1, a1, b1, L2, a2, b2)
        cause[i] = 2 if light < colour else 0 if L2 >= L1 else 1
        mixed[i] = abs(light - colour) < 0.3 * (light + colour)
        lost[i] = _lost(light, colour, math.hypot(a1, b1), L2 > L1, limit)


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
    index, mixed, _lost_bits = _kinds(lab, printable, delta, limit)
    return index, mixed


def _kinds(
    lab: np.ndarray, printable: np.ndarray, delta: np.ndarray, limit: float
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Cause (m,) int8, mixed (m,) bool, and bits of what is lost (m,) uint8, of colours whose δ is above the limit."""
    lab, printable, delta = (np.ascontiguousarray(v) for v in (lab, printable, delta))
    count = len(lab)
    index, mixed, lost = np.empty(count, np.int8), np.empty(count, bool), np.empty(count, np.uint8)

    def work(s: slice) -> None:
        _cause_rows(lab[s], printable[s], delta[s], limit, index[s], mixed[s], lost[s])

    in_slices(count, work)
    return index, mixed, lost


@dataclass(frozen=True)
class Lost:
    """What a paper costs a picture. Colour and depth may overlap; the exclusive causes are for areas and hatches.

    Attributes:
        share: per cent of the pixels beyond the paper.
        colour: per cent that lose colour: δ and the colour part √c of it above the limit, C*(M) at least 2.
        depth: per cent that lose depth: δ and its lightness part √l above the limit, printed lighter.
        mean: Σ δ of the pixels beyond over all pixels, ΔE₀₀.
        by_cause: per cent beyond, in the order of CAUSES; they add up to ``share``.
        neither: per cent beyond that lose neither colour nor depth by themselves.
    """

    share: float
    colour: float
    depth: float
    mean: float
    by_cause: tuple[float, float, float]
    neither: float = 0.0

    @classmethod
    def of(cls, sums: np.ndarray, count: int) -> Lost:
        """From sums (7,): the three causes, colour, depth, neither, δ."""
        dark, light, strong, colour, depth, neither = (float(v) / count * 100 for v in sums[:6])
        return cls(dark + light + strong, colour, depth, float(sums[6]) / count, (dark, light, strong), neither)


def _sums(cause: np.ndarray, lost: np.ndarray, delta: np.ndarray) -> np.ndarray:
    """Sums (7,) as :meth:`Lost.of` wants them."""
    beyond = cause >= 0
    counts = [np.count_nonzero(cause == c) for c in range(3)]
    counts += [np.count_nonzero(lost & bit) for bit in (COLOUR, DEPTH)]
    counts.append(np.count_nonzero(beyond & (lost == 0)))
    return np.array([*counts, float(delta[beyond].sum(dtype=np.float64))])


@dataclass(frozen=True)
class Beyond:
    """Result over one image.

    Attributes:
        delta: δ (h, w) from the lattice.
        mask: δ > limit (h, w).
        cause: index into CAUSES (h, w) int8, -1 where not beyond.
        mixed: where lightness and colour weigh about the same (h, w).
        bits: what each pixel loses (h, w) uint8, of COLOUR and DEPTH.
        lost: what all of them lose, corrected by exact answers.
    """

    delta: np.ndarray
    mask: np.ndarray
    cause: np.ndarray
    mixed: np.ndarray
    bits: np.ndarray
    lost: Lost

    @property
    def share(self) -> float:
        """Per cent beyond."""
        return self.lost.share

    @property
    def by_cause(self) -> tuple[float, float, float]:
        """Per cent beyond, in the order of CAUSES."""
        return self.lost.by_cause

    @property
    def colour(self) -> float:
        """Per cent whose larger cause is colour: too saturated or too light."""
        return self.by_cause[1] + self.by_cause[2]


def find_beyond(lab: np.ndarray, field: DeltaLattice, limit: float = LIMIT, seed: int = 1) -> Beyond:
    """Test an image (h, w, 3) of M against a paper.

    Pixels whose lattice δ is close to the limit, and some of those further beyond, are answered exactly on random
    samples, and the shares are corrected by what the samples say.
    """
    flat, shape = np.ascontiguousarray(lab, dtype=np.float32).reshape(-1, 3), lab.shape[:2]
    delta, cause, mixed, bits = _pixels_beyond(flat, field, limit)
    lost = _corrected(flat, delta, cause, bits, field, limit, seed)
    return Beyond(
        delta=delta.reshape(shape), mask=(delta > limit).reshape(shape),
        cause=cause.reshape(shape), mixed=mixed.reshape(shape), bits=bits.reshape(shape), lost=lost,
    )  # fmt: skip


def _pixels_beyond(
    flat: np.ndarray, field: DeltaLattice, limit: float
) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """δ, cause, mixed and bits (m,) of colours (m, 3) float32; P* is never there of more than a strip of them."""
    field.prepare(flat)
    count = len(flat)
    delta, cause = np.empty(count, np.float32), np.empty(count, np.int8)
    mixed, bits = np.empty(count, bool), np.empty(count, np.uint8)

    def work(s: slice) -> None:
        for at in range(s.start, s.stop, _STRIP):
            part = slice(at, min(at + _STRIP, s.stop))
            found = field.read(flat[part])
            delta[part], printable = found[:, 0], np.ascontiguousarray(found[:, 1:])
            _cause_rows(flat[part], printable, delta[part], limit, cause[part], mixed[part], bits[part])

    in_slices(count, work)
    return delta, cause, mixed, bits


def _corrected(
    flat: np.ndarray,
    delta: np.ndarray,
    cause: np.ndarray,
    bits: np.ndarray,
    field: DeltaLattice,
    limit: float,
    seed: int,
) -> Lost:
    """What is lost: the lattice's sums, and by how much exact answers differ from them on a sample of each stratum.

    Strata are the pixels near the limit, and the others by the cause the lattice gives them.
    """
    near = np.abs(delta - limit) < _BAND
    sums = _sums(cause, bits, delta)
    rng = np.random.default_rng(seed)
    for places, most in ((near, _EXACT_PIXELS), *((~near & (cause == c), _EXACT_PIXELS // 3) for c in range(3))):
        at = np.flatnonzero(places)
        if len(at):
            sample = at if len(at) <= most else rng.choice(at, most, replace=False)
            exact = _exact_sums(field.model, flat[sample].astype(np.float64), limit)[0]
            sums += (exact - _sums(cause[sample], bits[sample], delta[sample])) * (len(at) / len(sample))
    return Lost.of(np.maximum(sums, 0.0), len(flat))


def _exact_sums(model: PaperModel, lab: np.ndarray, limit: float) -> tuple[np.ndarray, np.ndarray]:
    """Sums (7,) of exact answers for Lab colours (m, 3), and their δ (m,)."""
    best = model.nearest(lab)[1]
    delta = delta_e_2000(lab, best)
    cause, _mixed, bits = _kinds(lab, best, delta, limit)
    return _sums(cause, bits, delta), delta


def exact_losses(model: PaperModel, lab: np.ndarray, limit: float = LIMIT) -> tuple[Lost, np.ndarray]:
    """What Lab colours (m, 3) lose, by exact answers, and their δ (m,)."""
    sums, delta = _exact_sums(model, lab, limit)
    return Lost.of(sums, len(lab)), delta


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


@dataclass(frozen=True)
class NearWhites:
    """Near-white pixels (L* over 85) that lie on the far side of the bare paper's white by more than 2 ΔE₀₀.

    Attributes:
        gap: by how much (h, w), the larger of b* and L*; 0 where they do not.
        share: per cent of all pixels.
        colder: True when most of them lie there in b*; the others are lighter than the paper.
    """

    gap: np.ndarray
    share: float
    colder: bool


def near_whites(lab: np.ndarray, white: np.ndarray | None) -> NearWhites:
    """What a relative test cannot see: a bluish near-white on a cream paper.

    Args:
        lab: M (h, w, 3), taken as absolute colours.
        white: absolute Lab of the paper; None where there is none, and so nothing on its far side.
    """
    if white is None:
        return NearWhites(np.zeros(lab.shape[:2], dtype=np.float32), 0.0, False)
    flat = lab.reshape(-1, 3)
    at = np.flatnonzero(flat[:, 0] > _NEAR_WHITE)
    near = flat[at].astype(np.float64)
    bluer, lighter, paper = (np.tile(white, (len(near), 1)).astype(np.float64) for _ in range(3))
    bluer[:, 2] = np.minimum(near[:, 2], white[2])
    lighter[:, 0] = np.maximum(near[:, 0], white[0])
    by_blue, by_light = delta_e_2000(paper, bluer), delta_e_2000(paper, lighter)
    far = np.maximum(by_blue, by_light)
    gap = np.zeros(len(flat), dtype=np.float32)
    gap[at] = np.where(far > _FAR, far, 0.0)
    count = np.count_nonzero(far > _FAR)
    colder = bool(count and np.count_nonzero(by_blue > _FAR) > 0.5 * count)
    return NearWhites(gap.reshape(lab.shape[:2]), float(count / len(flat) * 100), colder)
