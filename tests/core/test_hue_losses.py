"""What loses colour is named pixel by pixel."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from skimage import data as photographs
from tests.conftest import demo_profile, request_for

from rehearsal.core.icc.standard import working_space
from rehearsal.core.proof.beyond import COLOUR, DEPTH, Beyond, Lost
from rehearsal.core.proof.huelosses import HueLoss, HueLosses
from rehearsal.core.proof.hues import PLAIN, hue_key, plain_hue, plain_hues
from rehearsal.core.proof.judging import judge
from rehearsal.core.proof.saying import leading_hue

ORANGE, BLUE, DARK_BLUE, BLACK, GREY = (
    (60.0, 50.0, 60.0), (50.0, -10.0, -40.0), (24.0, -5.0, -30.0), (6.0, 14.0, 10.0), (50.0, 3.0, 1.0)
)  # fmt: skip


def _losses(rows: list[tuple[tuple[float, float, float], float, int]]) -> HueLosses:
    """Of rows of colour, δ and bits; one pixel each."""
    lab = np.array([[colour for colour, _d, _b in rows]], dtype=np.float32)
    delta = np.array([[d for _c, d, _b in rows]], dtype=np.float32)
    bits = np.array([[b for _c, _d, b in rows]], dtype=np.uint8)
    some = np.zeros(delta.shape, bool)
    return HueLosses(lab, Beyond(delta, some, bits.astype(np.int8), some, bits, Lost(1, 1, 1, 1, (1, 0, 0))))


def test_each_pixel_has_the_name_a_single_colour_has() -> None:
    rng = np.random.default_rng(3)
    lab = np.column_stack([rng.uniform(0, 100, 4000), rng.uniform(-110, 110, (4000, 2))])
    lab[:300, 1:] *= 0.06  # greys and what is nearly
    names = [PLAIN[i] for i in plain_hues(lab)]
    for colour, name in zip(lab, names, strict=True):
        key = hue_key(colour)
        own = "near-black" if key.startswith("near-black.") else plain_hue(key)
        assert name == {"near-black": name, "near-white": "grey", "cream": "amber"}.get(own, own), (colour, key)
        assert own != "near-black" or name in ("near-black", "grey")
    assert len(set(names)) == len(PLAIN)


def test_shades_are_summed_and_the_median_is_over_exactly_those() -> None:
    rows = [
        (BLUE, 2.0, COLOUR),
        (DARK_BLUE, 4.0, COLOUR),
        (BLUE, 9.0, COLOUR | DEPTH),
        (ORANGE, 30.0, COLOUR),
        (BLUE, 50.0, DEPTH),
    ]
    found = _losses(rows)
    assert found.leading() == HueLoss("blue", pytest.approx(60.0), 4.0) and found.total == pytest.approx(80.0)


def test_near_black_and_grey_are_no_hue_that_loses_colour() -> None:
    assert _losses([(BLACK, 5.0, COLOUR), (BLACK, 5.0, COLOUR), (ORANGE, 5.0, COLOUR)]).leading() is None
    assert _losses([(GREY, 5.0, COLOUR)]).leading() is None and _losses([(BLUE, 5.0, DEPTH)]).leading() is None


def test_what_is_left_out_is_not_named_and_nothing_less_instead() -> None:
    found = _losses([(BLUE, 2.0, COLOUR)] * 3 + [(ORANGE, 7.0, COLOUR)] * 2)
    blue = np.array([[True] * 3 + [False] * 2])
    assert found.leading(blue) is None  # orange is not what loses most
    assert found.leading(~blue) == HueLoss("blue", pytest.approx(60.0), 2.0)


def test_most_is_said_above_half() -> None:
    pixels = photographs.coffee()[::4, ::4].astype(np.uint16) * 257
    result = judge(request_for(pixels, working_space("ROMM"), demo_profile("SK24_WhiteDune_Hi.icc")))
    rows = [(ORANGE, 3.0, COLOUR)] * 5 + [(BLUE, 9.0, COLOUR)] * 3
    for more, words in ((1, "most of it orange by ΔE₀₀ 3"), (2, "the largest part orange by ΔE₀₀ 3")):
        hues = _losses([*rows, *[((60.0, 0.0, 40.0), 9.0, COLOUR)] * more])
        assert leading_hue(replace(result, hues=hues), {}) == words
    loses = (result.beyond.bits & COLOUR) > 0
    named = result.hues.leading()
    assert named is not None and result.hues.total == pytest.approx(loses.mean() * 100)
    accepted = {(a.hue, a.cause): "velvet" for a in result.areas}
    assert leading_hue(result, accepted) in ("", leading_hue(result, {}))
