"""Areas, masks and labels against scikit-image and SciPy, and against what the pixels themselves say."""

import numpy as np
import pytest
from scipy import ndimage
from skimage import data as photographs
from skimage.measure import label
from skimage.morphology import closing
from skimage.morphology import disk as round_disk
from tests.conftest import request_for

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.facts import measure, table_noise
from rehearsal.core.papers.model import paper_model
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.areas import Area, _members, cause_in_words, disk, generalised_mask, labelled, smoothed
from rehearsal.core.proof.beyond import CAUSES, causes, find_beyond
from rehearsal.core.proof.hues import hue_key
from rehearsal.core.proof.judging import judge
from rehearsal.core.proof.lattice import delta_lattice


def _area(**fields: object) -> Area:
    base = {
        "share": 1.0, "cause": "too_dark", "mixed": False, "at_edge": False, "hue": "blue", "median": 3.0, "p99": 5.0, "modelling": 0.9,
        "contrast_kept": 0.8, "box": (0.0, 0.0, 1.0, 1.0),
    }  # fmt: skip
    return Area(**{**base, **fields})  # type: ignore[arg-type]


@pytest.fixture(scope="module")
def noise() -> np.ndarray:
    """Blots of three kinds on nothing (0), as they come out of a smoothed random field."""
    field = ndimage.gaussian_filter(np.random.default_rng(3).normal(size=(160, 200)), 6)
    return np.digitize(field, np.quantile(field, [0.45, 0.6, 0.8])).astype(np.int32)


def test_areas_are_whole_pieces_parted_by_kind_without_crumbs(noise: np.ndarray) -> None:
    # scikit-image as the other road: pieces of the mask, and parts of neighbours of equal kind; corners count in both
    noise = noise.copy()
    noise[::7, ::9] = np.where(noise[::7, ::9] > 0, 4, 0)  # crumbs of a kind of their own
    ours = labelled(noise > 0, noise)
    least = 0.0005 * noise.size
    whole, parts = label(noise > 0, connectivity=2), label(noise, background=0, connectivity=2)
    for piece in range(1, whole.max() + 1):
        here = whole == piece
        assert (ours[here] > 0).all() if np.count_nonzero(here) >= least else not ours[here].any()
    owners: dict[int, list[int]] = {}
    for part in range(1, parts.max() + 1):
        here = parts == part
        names = np.unique(ours[here])
        assert len(names) == 1, "a part is not torn"
        if np.count_nonzero(here) >= least:
            owners.setdefault(names[0], []).append(part)
    assert len(owners) > 5 and {len(large) for large in owners.values()} == {1}, "large parts stay apart"
    small = [
        p for p in range(1, parts.max() + 1) if ours[parts == p].min() > 0 and np.count_nonzero(parts == p) < least
    ]
    assert len(small) > 5
    for part in small:
        here = parts == part
        around = ndimage.binary_dilation(here, np.ones((3, 3))) & ~here
        assert ours[here].min() in ours[around], "it joined something it touches"
    assert set(np.unique(ours)) == set(range(ours.max() + 1)), "numbered without gaps"


def test_a_crumb_joins_the_neighbour_it_touches_most() -> None:
    kind = np.zeros((100, 120), dtype=np.int32)  # a part of six pixels is large enough
    kind[10:50, 10:40], kind[10:50, 40:70] = 1, 2
    kind[20, 38:41] = 3  # two of its three pixels lie in the left one
    kind[30, 39:42] = 4  # two of its three pixels lie in the right one
    ours = labelled(kind > 0, kind)
    left, right = ours[15, 20], ours[15, 60]
    assert ours.max() == 2 and (ours[20, 38:41] == left).all() and (ours[30, 39:42] == right).all() and left != right


def test_a_piece_of_nothing_but_crumbs_is_one_area() -> None:
    # a chequered patch: no part of it reaches the size, all of it does
    kind = np.zeros((100, 100), dtype=np.int32)
    kind[20:50, 20:50] = np.arange(30)[:, None] // 2 % 5 + np.arange(30)[None] // 2 % 5 * 5 + 1
    ours = labelled(kind > 0, kind)
    assert ours.max() == 1 and (ours[20:50, 20:50] == 1).all() and np.count_nonzero(ours) == 900


def test_what_is_masked_out_has_no_label(noise: np.ndarray) -> None:
    mask = noise > 0
    mask[:, 90:110] = False
    ours = labelled(mask, noise)
    assert not ours[~mask].any() and ours[mask].any()
    left, right = np.unique(ours[:, :90]), np.unique(ours[:, 110:])
    assert set(left) & set(right) == {0}, "a gap keeps pieces apart"


def test_closing_and_holes_against_scikit_image() -> None:
    delta = np.zeros((400, 400))
    delta[40:220, 40:220] = 3.0
    delta[60:68, 60:68] = 0.0  # a hole of 64 pixels, under 0.05 % of 160,000
    delta[80:100, 80:100] = 0.0  # one of 400
    delta[150, 40:220] = 0.0  # a cut one pixel wide
    mask = generalised_mask(delta, 1.5)
    np.testing.assert_array_equal(disk(2), round_disk(2).astype(bool))
    closed = closing(np.pad(delta > 1.5, 8), round_disk(2))[8:-8, 8:-8]
    assert mask[62, 62] and mask[150, 50] and not mask[90, 90] and not mask[10, 10]
    filled = mask & ~closed
    assert filled[62:66, 62:66].all() and not filled[:60].any() and not filled[68:].any()
    assert not (closed & ~mask).any(), "nothing that scikit-image closes stays open"


def test_smoothing_at_half_size_is_the_same_blur() -> None:
    rng = np.random.default_rng(4)
    lab = ndimage.gaussian_filter(rng.normal(50, 20, (1100, 1000, 3)), (2, 2, 0)).astype(np.float32)
    whole, half = smoothed(lab), smoothed(lab, 2)
    assert half.shape == (550, 500, 3)
    centres = (whole[::2, ::2] + whole[1::2, ::2] + whole[::2, 1::2] + whole[1::2, 1::2]) / 4
    assert np.std(half - centres) < 0.05 * whole.std() < 0.05 * lab.std()
    assert half.mean() == pytest.approx(whole.mean(), abs=0.01)


def test_members_are_the_beyond_pixels_of_each_area() -> None:
    labels = np.array([[1, 1, 0, 2], [1, 0, 2, 2], [3, 3, 3, 0]])
    mask = np.array([[1, 0, 1, 1], [1, 1, 0, 1], [0, 0, 0, 1]], dtype=bool)
    members, count = _members(labels, mask, 3)
    assert [list(m) for m in members[:2]] == [[0, 4], [3, 7]] and list(count[1:]) == [2, 2, 0]
    assert list(members[2]) == [8, 9, 10], "an area with nothing beyond has all its pixels"
    assert _members(np.zeros((3, 3), dtype=int), mask[:, :3], 0)[0] == []


@pytest.mark.parametrize("name", ["coffee", "astronaut", "rocket"])
def test_areas_say_what_their_pixels_say(name: str, dune: Profile) -> None:
    # open photographs shipped with scikit-image
    pixels = getattr(photographs, name)().astype(np.uint16) * 257
    result = judge(request_for(pixels, working_space("sRGB"), dune))
    lab = master_space(working_space("sRGB")).to_lab(pixels)
    field = delta_lattice(dune)
    assert result.areas and sum(a.share for a in result.areas) + result.specks == pytest.approx(result.beyond.share)
    assert [a.share for a in result.areas] == sorted((a.share for a in result.areas), reverse=True)
    for number, area in list(enumerate(result.areas, start=1))[:6]:
        inside = (result.labels == number) & result.beyond.mask
        best = field.model.nearest(lab[inside].astype(np.float64))[1]
        delta = delta_e_2000(lab[inside].astype(np.float64), best)
        assert area.median == pytest.approx(float(np.median(delta)), abs=0.15, rel=0.02)
        assert area.p99 == pytest.approx(float(np.percentile(delta, 99)), abs=0.3)
        assert area.hue == hue_key(np.median(lab[inside], axis=0))
        counts = np.bincount(causes(lab[inside], best)[0], minlength=3)
        assert counts[CAUSES.index(area.cause)] >= 0.9 * counts.max()
        x, y = area.place
        there = lab[int(y * lab.shape[0]), int(x * lab.shape[1])]
        away = np.linalg.norm(lab[inside] - np.median(lab[inside], axis=0), axis=-1)
        mine = np.linalg.norm(there - np.median(lab[inside], axis=0))
        assert mine <= np.percentile(away, 20), "a pixel of its typical colour"
        rows, columns = np.nonzero(result.labels == number)
        h, w = result.labels.shape
        assert area.box == pytest.approx(
            (columns.min() / w, rows.min() / h, (np.ptp(columns) + 1) / w, (np.ptp(rows) + 1) / h)
        )


def test_causes_know_where_there_is_none(dune: Profile) -> None:
    lab = np.array([[50, 0, 0], [5, 0, 0], [60, 90, 60]], dtype=np.float32)[None]
    field = delta_lattice(dune)
    found = find_beyond(lab, field)
    assert list(found.cause[0]) == [-1, 0, 2] and not found.mixed[0, 0]
    index, mixed = causes(lab[0], field.look_up(lab[0])[:, 1:])
    assert list(index[found.mask[0]]) == list(found.cause[0][found.mask[0]])
    assert list(mixed[found.mask[0]]) == list(found.mixed[0][found.mask[0]])


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"at_edge": True}, "at the edge"), ({}, "too dark"), ({"mixed": True}, "dark and saturated"),
        ({"cause": "too_light", "mixed": True}, "light and saturated"), ({"cause": "too_saturated"}, "too saturated"),
        ({"cause": "too_saturated", "mixed": True, "hue": "dark violet"}, "saturated and dark"),
    ],
)  # fmt: skip
def test_causes_in_words(fields: dict, words: str) -> None:
    assert cause_in_words(_area(**fields)) == words


# ---- the solid


def test_nodes_well_inside_are_those_scipy_finds(gloss: Profile) -> None:
    solid = paper_model(gloss).solid
    box = ndimage.find_objects(solid.inside.astype(np.uint8))[0]  # around it nothing is inside
    far = np.zeros_like(solid.inside)
    far[box] = (
        ndimage.distance_transform_edt(np.pad(solid.inside[box], 1), sampling=solid.step)[1:-1, 1:-1, 1:-1] >= 4.0
    )
    np.testing.assert_array_equal(solid.nodes(4.0), np.argwhere(far) * solid.step + solid.low)
    some = solid.nodes(4.0, most=3000)
    assert 1500 < len(some) <= 3600 and solid.contains(some).all()


def test_noise_of_a_sample_is_the_noise_of_all(dune: Profile) -> None:
    assert table_noise(dune_model := paper_model(dune)) == pytest.approx(table_noise(dune_model, 10**7), abs=0.01)
    assert measure(dune).noise_median == table_noise(dune_model)[0]
