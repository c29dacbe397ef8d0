"""Areas beyond the paper: connected, named, ranked; the rest are specks."""

from __future__ import annotations

import functools
from dataclasses import dataclass

import numpy as np

from rehearsal.core.proof.beyond import CAUSES, COLOUR, DEPTH, Beyond, NearWhites, causes, refine_near
from rehearsal.core.proof.hues import hue_key, sector
from rehearsal.core.proof.lattice import DeltaLattice
from rehearsal.core.proof.modelling import Modelling
from rehearsal.core.values.words import word
from rehearsal.core.work.kernels import ndimage
from rehearsal.core.work.pool import side_by_side

_LEAST = 0.0005
_EIGHT = np.ones((3, 3), dtype=bool)
_EDGE = 0.4
_FINE = 1_000_000
#: The lattice's answers this near to the limit are made exact, as far as there are not too many.
_DOUBT = 0.5
_EXACT_PIXELS = 24_000


@dataclass(frozen=True)
class Area:
    """One area beyond the paper.

    Attributes:
        share: per cent of the image, raw beyond pixels inside; loses_colour, loses_depth: per cent of the image that do, inside.
        cause: one of CAUSES (or ``colder``, ``lighter``: near-whites); ``mixed`` when lightness and colour weigh about the same.
        at_edge: most of it is within 0.4 of the limit.
        hue: key of the everyday name of its median colour.
        median, p99: of δ.
        modelling, contrast_kept: inside it; None when there is nothing to show.
        box: x, y, width, height in fractions of the image.
        place: x, y in fractions of the image of a pixel with its typical colour.
    """

    share: float
    cause: str
    mixed: bool
    at_edge: bool
    hue: str
    median: float
    p99: float
    modelling: float | None
    contrast_kept: float | None
    box: tuple[float, float, float, float]
    loses_colour: float = 0.0
    loses_depth: float = 0.0
    place: tuple[float, float] = (0.5, 0.5)


def smoothed(lab: np.ndarray, step: int = 1) -> np.ndarray:
    """M smoothed so that areas come out whole: Gaussian, σ 1.2 px at one megapixel, by the root of the size.

    With a step of 2 the result has half the width and height: means of 2 × 2 pixels (variance 1/4 px²), smoothed by the rest.
    """
    h, w = lab.shape[:2]
    sigma = 1.2 * np.sqrt(h * w / 1e6)
    if step == 2:
        sigma = np.sqrt(sigma**2 - 0.25) / 2

    def smooth(channel: np.ndarray) -> np.ndarray:
        return np.asarray(ndimage.gaussian_filter(_halved(channel) if step == 2 else channel, sigma))

    return np.stack(side_by_side([functools.partial(smooth, lab[..., c]) for c in range(3)]), axis=-1)


def _halved(channel: np.ndarray) -> np.ndarray:
    """Means of 2 × 2 pixels; an odd last row or column is repeated."""
    h, w = channel.shape
    whole = np.pad(channel, ((0, h % 2), (0, w % 2)), mode="edge")
    return np.asarray((whole[::2, ::2] + whole[1::2, ::2] + whole[::2, 1::2] + whole[1::2, 1::2]) / np.float32(4))


def disk(radius: int) -> np.ndarray:
    """Round structuring element."""
    y, x = np.mgrid[-radius : radius + 1, -radius : radius + 1]
    return x * x + y * y <= radius * radius + 0.5


def generalised_mask(delta: np.ndarray, limit: float) -> np.ndarray:
    """Mask of a smoothed δ (h, w): closed with a disk of 2 px, holes under 0.05 % filled."""
    mask = delta > limit
    padded = np.pad(mask, 3)
    mask = ndimage.binary_closing(padded, disk(2))[3:-3, 3:-3] | mask
    holes, count = ndimage.label(~mask)
    if count:
        sizes = np.bincount(holes.ravel())
        small = sizes < _LEAST * mask.size
        small[0] = False
        mask = mask | small[holes]
    return mask


def labelled(mask: np.ndarray, kind: np.ndarray) -> np.ndarray:
    """Areas from 1; 0 elsewhere.

    Connected pieces (8-connected) of at least 0.05 % of the image, then parted by kind; a part under that size joins the
    neighbour it touches most. (Parted before the test of size, much of an area falls to crumbs.)
    """
    least = _LEAST * mask.size
    whole, _count = ndimage.label(mask, _EIGHT)
    kept = np.bincount(whole.ravel()) >= least
    kept[0] = False
    whole = np.where(kept[whole], whole, 0)
    parts = _parts(whole > 0, kind)
    return _joined(parts, _large(parts, whole, least))


def _parts(mask: np.ndarray, kind: np.ndarray) -> np.ndarray:
    """Connected pieces of equal kind from 1, of any size."""
    parts = np.zeros(mask.shape, dtype=np.int32)
    last = 0
    for value, box in enumerate(ndimage.find_objects(np.where(mask, kind, 0)), start=1):
        if box is not None:
            pieces, count = ndimage.label(mask[box] & (kind[box] == value), _EIGHT)
            parts[box] += np.where(pieces > 0, pieces + last, 0)
            last += count
    return parts


def _large(parts: np.ndarray, whole: np.ndarray, least: float) -> np.ndarray:
    """True for each part that stays one (m + 1,): large enough, or the largest of a piece without a large one."""
    size = np.bincount(parts.ravel())
    owner = np.zeros(len(size), dtype=whole.dtype)
    owner[parts] = whole
    large = size >= least
    large[0] = False
    order = np.lexsort((size, owner))
    last = np.flatnonzero(np.append(np.diff(owner[order]) != 0, True))
    largest = order[last]
    with_large = np.zeros(int(owner.max()) + 1, dtype=bool)
    with_large[owner[large]] = True
    large[largest[~with_large[owner[largest]] & (largest > 0)]] = True
    return large


def _joined(parts: np.ndarray, large: np.ndarray) -> np.ndarray:
    """Every part that is not large joined to the neighbour it touches most, from the large ones outward; numbers from 1."""
    one, two, times = _contacts(parts)
    home = np.where(large, np.arange(len(large)), 0)
    while True:
        open_ = (home[one] == 0) & (home[two] > 0)
        if not open_.any():
            break
        part, neighbour = one[open_], home[two[open_]]
        pairs, place = np.unique(part.astype(np.int64) * len(home) + neighbour, return_inverse=True)
        touched = np.bincount(place, times[open_])
        order = np.lexsort((-touched, pairs // len(home)))
        names, first = np.unique(pairs[order] // len(home), return_index=True)
        home[names] = pairs[order][first] % len(home)
    number = np.zeros(len(large), dtype=np.int32)
    number[large] = np.arange(1, np.count_nonzero(large) + 1)
    return np.asarray(number[home[parts]])


def _contacts(parts: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Parts that touch, both ways round, and at how many places: three (k,)."""
    found, many = [], int(parts.max()) + 1
    for a, b in (
        (parts[:, 1:], parts[:, :-1]), (parts[1:], parts[:-1]), (parts[1:, 1:], parts[:-1, :-1]), (parts[1:, :-1], parts[:-1, 1:]),
    ):  # fmt: skip
        touch = (a != b) & (a > 0) & (b > 0)
        one, two = a[touch].astype(np.int64), b[touch].astype(np.int64)
        found += [one * many + two, two * many + one]
    pairs, times = np.unique(np.concatenate(found), return_counts=True)
    return pairs // many, pairs % many, times


def find_areas(
    lab: np.ndarray, beyond: Beyond, field: DeltaLattice, limit: float, modelling: Modelling
) -> tuple[list[Area], float, np.ndarray]:
    """Areas, largest first; share of specks in per cent; labels (h, w), where 1 is the first area.

    Shares of areas and specks add up to ``beyond.share``.
    """
    # above one megapixel the smoothing leaves nothing finer than two pixels
    coarse = 2 if lab.shape[0] * lab.shape[1] > _FINE else 1
    soft = smoothed(lab, coarse)
    found = field.look_up(soft)
    doubt = np.abs(found[..., 0] - limit)
    found = refine_near(soft, found, np.where(doubt < _DOUBT, doubt, np.inf), field, _EXACT_PIXELS)
    mask = generalised_mask(found[..., 0], limit)
    flat_soft, flat_best = soft.reshape(-1, 3), found[..., 1:].reshape(-1, 3)
    kind = np.zeros(mask.shape, dtype=np.int32)
    cause, _mixed = causes(flat_soft[mask.ravel()], flat_best[mask.ravel()])
    kind[mask] = cause.astype(np.int32) * 64 + sector(soft[mask]) + 2
    labels = labelled(mask, kind)
    if coarse > 1:
        labels = labels.repeat(2, axis=0).repeat(2, axis=1)[: lab.shape[0], : lab.shape[1]]
    raw = np.count_nonzero(beyond.mask) / beyond.mask.size * 100
    scale = beyond.share / raw if raw > 0 else 0.0
    areas = _describe(lab, beyond, labels, field, limit, modelling, scale)
    order = sorted(range(len(areas)), key=lambda i: -areas[i].share)
    number = np.zeros(len(areas) + 1, dtype=np.int32)
    for rank, i in enumerate(order):
        number[i + 1] = rank + 1
    specks = max(0.0, beyond.share - sum(a.share for a in areas))
    return [areas[i] for i in order], specks, number[labels]


def near_white_area(lab: np.ndarray, found: NearWhites) -> Area | None:
    """The near-whites that the paper's white cannot show, as one area; None when they are under 0.05 % of the image.

    Its box is that of the largest piece; nothing is known of modelling there. M is ``lab`` (h, w, 3).
    """
    mask = found.gap > 0
    pieces, count = ndimage.label(mask, _EIGHT)
    if not count or np.count_nonzero(mask) < _LEAST * mask.size:
        return None
    largest = int(np.bincount(pieces.ravel())[1:].argmax()) + 1
    p50, p99 = np.percentile(found.gap[mask], [50, 99])
    return Area(
        share=found.share, cause="colder" if found.colder else "lighter", mixed=False, at_edge=False,
        hue=hue_key(np.median(lab[mask], axis=0)), median=float(p50), p99=float(p99), modelling=None, contrast_kept=None,
        place=_typical(lab[mask], np.flatnonzero(mask), mask.shape),
        box=fractions(ndimage.find_objects((pieces == largest).astype(np.uint8))[0], mask.shape),
    )  # fmt: skip


def _describe(
    lab: np.ndarray,
    beyond: Beyond,
    labels: np.ndarray,
    field: DeltaLattice,
    limit: float,
    modelling: Modelling,
    scale: float,
) -> list[Area]:
    boxes = ndimage.find_objects(labels)
    kept, contrasts = modelling.by_label(_shrunk(labels, modelling.weight.shape), len(boxes) + 1)
    outside = contrasts[0] or 1.0
    inside, count = _members(labels, beyond.mask, len(boxes))
    all_colours, all_delta, all_cause, all_mixed = (
        lab.reshape(-1, 3),
        beyond.delta.ravel(),
        beyond.cause.ravel(),
        beyond.mixed.ravel(),
    )
    all_bits, unit = beyond.bits.ravel(), 100 * scale / labels.size
    areas = []
    for i, (box, members) in enumerate(zip(boxes, inside, strict=True), start=1):
        colours, delta = all_colours[members], all_delta[members]
        if count[i]:
            cause, mixed = all_cause[members], all_mixed[members]
        else:  # nothing of it is beyond before smoothing
            cause, mixed = causes(colours, field.look_up(colours)[:, 1:])
        p50, p99 = np.percentile(delta, [50, 99])
        contrast = contrasts[i]
        areas.append(
            Area(
                share=float(count[i] * unit),
                cause=CAUSES[int(np.bincount(cause, minlength=3).argmax())],
                mixed=bool(mixed.mean() > 0.5),
                at_edge=bool(np.mean(np.abs(delta - limit) < _EDGE) > 0.5),
                hue=hue_key(np.median(colours, axis=0)),
                median=float(p50),
                p99=float(p99),
                modelling=kept[i],
                contrast_kept=None if contrast is None else min(1.0, contrast / outside),
                box=fractions(box, labels.shape),
                loses_colour=float(np.count_nonzero(all_bits[members] & COLOUR) * unit),
                loses_depth=float(np.count_nonzero(all_bits[members] & DEPTH) * unit),
                place=_typical(colours, members, labels.shape),
            )
        )
    return areas


def _typical(colours: np.ndarray, members: np.ndarray, shape: tuple[int, ...]) -> tuple[float, float]:
    """Middle of the pixel, of a thousand at the most, that is nearest to the median of an area's colours (m, 3)."""
    step = max(1, len(members) // 1000)
    away = np.linalg.norm(colours[::step] - np.median(colours, axis=0), axis=1)
    at = int(members[::step][int(away.argmin())])
    return (at % shape[1] + 0.5) / shape[1], (at // shape[1] + 0.5) / shape[0]


def _members(labels: np.ndarray, mask: np.ndarray, most: int) -> tuple[list[np.ndarray], np.ndarray]:
    """Places (into the flat image) of the beyond pixels of each area from 1, and their counts (most + 1,).

    An area without any has all its pixels.
    """
    flat = labels.ravel()
    places = np.flatnonzero((flat > 0) & mask.ravel())
    names = flat[places]
    count = np.bincount(names, minlength=most + 1)
    places = places[np.argsort(names.astype(np.uint16), kind="stable")]
    pieces = np.split(places, np.cumsum(count[1:-1])) if most else []
    return [p if len(p) else np.flatnonzero(flat == i) for i, p in enumerate(pieces, start=1)], count


def fractions(box: tuple[slice, ...], shape: tuple[int, ...]) -> tuple[float, float, float, float]:
    """x, y, width, height of a box as fractions of the image."""
    (rows, columns), (h, w) = box, shape
    return columns.start / w, rows.start / h, (columns.stop - columns.start) / w, (rows.stop - rows.start) / h


def _shrunk(labels: np.ndarray, shape: tuple[int, ...]) -> np.ndarray:
    rows = np.minimum((np.arange(shape[0]) + 0.5) * labels.shape[0] / shape[0], labels.shape[0] - 1).astype(int)
    columns = np.minimum((np.arange(shape[1]) + 0.5) * labels.shape[1] / shape[1], labels.shape[1] - 1).astype(int)
    return np.asarray(labels[rows[:, None], columns])


def cause_key(area: Area) -> str:
    """Key of an area's cause for a person: at the edge, or both causes where they weigh about the same."""
    if area.at_edge:
        return "at_edge"
    if area.mixed:
        second = "saturated_and_dark" if "dark" in area.hue else "too_saturated"
        return {"too_dark": "dark_and_saturated", "too_light": "light_and_saturated"}.get(area.cause, second)
    return area.cause


def cause_in_words(area: Area) -> str:
    """Cause of an area for a person."""
    return word("cause", cause_key(area))
