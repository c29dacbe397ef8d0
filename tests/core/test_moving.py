"""Painters for what is being moved, against the same tables worked out whole."""

from pathlib import Path

import numpy as np
import pytest

from rehearsal.core.colour.table import (
    IndexCurve,
    cube_nodes,
    nodes_needed,
    pack_colours,
    pack_screen_table,
    paint,
    paint_between,
    srgb_decode,
)
from rehearsal.core.icc import Profile
from rehearsal.core.picture.file import Picture, read_picture
from rehearsal.core.picture.pyramid import Pyramid
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.chain import Look
from rehearsal.core.proof.movingroad import Needed
from rehearsal.core.proof.screenroad import ScreenRoad
from rehearsal.core.tuning.picture import TunedPicture
from rehearsal.core.tuning.places import levels, weight
from rehearsal.core.tuning.tuner import Where
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.place import Ellipse
from rehearsal.core.values.recipe import PLACE, Recipe, Step, by_hand
from rehearsal.core.values.rendering import Rendering

N = 9


def _curve() -> IndexCurve:
    return IndexCurve(srgb_decode(np.arange(65536) / 65535.0))


def _channels(shown: np.ndarray) -> np.ndarray:
    return np.stack([shown >> 16 & 255, shown >> 8 & 255, shown & 255], axis=-1).astype(int)


@pytest.fixture(scope="module")
def cloths(small_cloths: Path) -> Picture:
    """Many saturated colours."""
    return read_picture(small_cloths)


@pytest.fixture(scope="module")
def road(dune: Profile, screen: Profile, cloths: Picture) -> ScreenRoad:
    """The cloths on a matte paper."""
    return ScreenRoad(cloths.profile, dune, Rendering(), Look(screen))


@pytest.fixture(scope="module")
def small(cloths: Picture) -> Pyramid:
    """The cloths, a part of them."""
    return Pyramid(np.ascontiguousarray(cloths.pixels[::2, ::2]), master_space(cloths.profile))


def test_painting_is_plain_tetrahedral_interpolation(rng: np.random.Generator) -> None:
    # the textbook's form: the fractions in falling order lead from the lower corner to the upper one
    curve, table = _curve(), rng.random((N, N, N, 3))
    pixels = rng.integers(0, 65536, (30, 40, 3)).astype(np.uint16)
    pixels[0] = rng.choice(np.array([0, 65535, 30000], dtype=np.uint16), (40, 3))  # ends, and equal fractions
    place = curve.positions(N)[pixels] / 256.0
    low = np.minimum(place.astype(int), N - 2)
    share = place - low
    wanted = np.zeros((30, 40, 3))
    for at in np.ndindex(30, 40):
        here, before = low[at].copy(), 1.0
        for axis in np.argsort(-share[at], kind="stable"):
            wanted[at] += (before - share[at][axis]) * table[tuple(here)]
            before = share[at][axis]
            here[axis] += 1
        wanted[at] += before * table[tuple(here)]
    shown = paint(pixels, curve.positions(N), pack_screen_table(table.reshape(-1, 3), N))
    assert np.abs(_channels(shown) - wanted * 255).max() < 0.56, "half a step, and what packing rounds"


def test_only_the_nodes_between_which_pixels_lie_are_needed(rng: np.random.Generator) -> None:
    curve = _curve()
    nodes = cube_nodes(curve, N)
    pixels = rng.integers(20_000, 33_000, (20, 20, 3)).astype(np.uint16)
    pixels[0, 0] = (65535, 0, 65535)
    wanted = nodes_needed(pixels, curve.positions(N), N)
    assert len(wanted) < N**3 / 3
    table = np.zeros((N, N, N), dtype=np.uint64)
    table.reshape(-1)[wanted] = pack_colours(nodes[wanted])
    whole = paint(pixels, curve.positions(N), pack_screen_table(nodes, N))
    np.testing.assert_array_equal(paint(pixels, curve.positions(N), table), whole)
    for node in wanted:  # none of them is one too many: each is a corner of a cell with a pixel in it
        corner = np.array(np.unravel_index(node, (N, N, N)))
        cells = np.minimum(curve.positions(N)[pixels] // 256, N - 2)
        assert ((corner - cells >= 0) & (corner - cells <= 1)).all(axis=-1).any()


def test_what_is_needed_is_known_of_the_pixels_it_was_asked_for(rng: np.random.Generator) -> None:
    curve = _curve()
    needed = Needed(curve.positions(N), N)
    one, two = (rng.integers(0, 65536, (6, 5, 3)).astype(np.uint16) for _ in range(2))
    assert needed.of(one) is needed.of(one)
    np.testing.assert_array_equal(needed.of(two), nodes_needed(two, curve.positions(N), N))
    levels = np.zeros((6, 5), dtype=np.uint16)
    assert len(needed.within(two, levels)) == 0
    other = levels + np.uint16(3)
    np.testing.assert_array_equal(needed.within(two, other), needed.of(two))
    np.testing.assert_array_equal(needed.within(one, other), needed.of(one))


def test_between_two_tables_is_their_mean_by_the_level(rng: np.random.Generator) -> None:
    curve = _curve()
    tables = np.stack([pack_screen_table(rng.random((N**3, 3)), N) for _ in range(3)])
    pixels = rng.integers(0, 65536, (8, 70, 3)).astype(np.uint16)
    each = [_channels(paint(pixels, curve.positions(N), t)) for t in tables]
    for level, mix in (
        (0, (1, 0, 0)),
        (64, (0.75, 0.25, 0)),
        (256, (0, 1, 0)),
        (448, (0, 0.25, 0.75)),
        (512, (0, 0, 1)),
    ):
        shown = paint_between(pixels, np.full((8, 70), level, np.uint16), curve.positions(N), tables)
        wanted = sum(m * e for m, e in zip(mix, each, strict=True))
        assert np.abs(_channels(shown) - wanted).max() <= 1.0, level
        assert (shown >> 24 == 255).all()


def test_moving_looks_as_the_exact_road(road: ScreenRoad, small: Pyramid) -> None:
    picture = TunedPicture(small, by_hand(lightness=0.4, contrast=8, strength=10, warmth=12))
    pixels = small.whole
    moving, exact = (_channels(p.paint(pixels)) for p in (road.moving(picture), road.exact(picture)))
    assert np.abs(moving - exact).mean() < 0.6 and np.percentile(np.abs(moving - exact), 99) <= 4
    untuned = _channels(road.neutral.paint(pixels))
    assert np.abs(moving - untuned).mean() > 4, "it does show the tuning"
    other = np.ascontiguousarray(pixels[::-1, :, ::-1])  # colours it was not asked for before
    painter = road.moving(picture)
    painter.paint(pixels)
    assert np.abs(_channels(painter.paint(other)) - _channels(road.exact(picture).paint(other))).mean() < 0.6


def test_a_place_that_moves_looks_as_its_exact_pixels(road: ScreenRoad, small: Pyramid) -> None:
    h, w = small.whole.shape[:2]
    step = Step(PLACE, Values.of(lightness=0.8, strength=15), place=Ellipse((0.5, 0.3), (0.3, 0.2), fade=1.0))
    recipe = Recipe((*by_hand(contrast=6).steps, step))
    picture = TunedPicture(small, recipe)
    box = (0.0, 0.0, float(w), float(h))
    exact = _channels(road.neutral.paint(picture.tuned(small.whole, box)))
    where, long = Where.grid(box, w, h), max(small.size)
    level = levels(weight(step.place, where.x / long, where.y / long), 4).reshape(h, w)
    pictures = [TunedPicture(small, recipe.everywhere_at(i / 4)) for i in range(5)]
    shown = _channels(road.between(pictures, level).paint(small.whole))
    assert np.abs(shown - exact).mean() < 0.6 and np.percentile(np.abs(shown - exact), 99) <= 4
    outside = level == 0
    assert 0.2 < outside.mean() < 0.9 and level.max() == 4 * 256
    plain = _channels(road.moving(TunedPicture(small, by_hand(contrast=6))).paint(small.whole))
    np.testing.assert_array_equal(shown[outside], plain[outside])
    assert np.abs(shown - plain)[level > 512].mean() > 3


def test_a_recipe_at_a_weight_of_its_places() -> None:
    step = Step(PLACE, Values.of(lightness=0.8), strength=0.5, place=Ellipse((0.5, 0.3), (0.3, 0.2)))
    recipe = Recipe((*by_hand(lightness=0.1).steps, step))
    for share, lightness in ((0.0, 0.1), (0.25, 0.2), (1.0, 0.5)):
        made = recipe.everywhere_at(share)
        assert made.is_global and made.total["lightness"] == pytest.approx(lightness)
