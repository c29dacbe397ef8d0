"""Hue names against the colours the W3C names (CSS Color Module Level 4), as Pillow ships them."""

import colour
import numpy as np
import pytest
from PIL import ImageColor

from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.hues import NAMES, SECTORS, hue_key, sector
from rehearsal.core.values.words import hue_words


def _lab(css: str) -> np.ndarray:
    pixel = np.array(ImageColor.getrgb(css)[:3], dtype=np.uint16) * np.uint16(257)
    return master_space(working_space("sRGB")).to_lab(pixel[None, None])[0, 0]


@pytest.mark.parametrize(
    ("css", "name"),
    [
        ("red", "red"), ("orange", "orange"), ("yellow", "yellow"), ("lime", "green"), ("green", "green"), ("cyan", "cyan"),
        ("teal", "cyan"), ("blue", "deep blue"), ("navy", "near-black blue"), ("purple", "purple"), ("magenta", "magenta"),
        ("maroon", "dark red"), ("olive", "olive"), ("gray", "grey"), ("silver", "grey"), ("black", "near-black"),
        ("white", "near-white"), ("saddlebrown", "brown"), ("sienna", "brown"), ("turquoise", "sea green"), ("gold", "yellow"),
        ("indigo", "dark violet"), ("darkviolet", "violet"), ("blueviolet", "violet"), ("crimson", "red"), ("skyblue", "blue"),
        ("lightblue", "pale blue"), ("hotpink", "pink red"), ("wheat", "cream"), ("royalblue", "deep blue"),
    ],
)  # fmt: skip
def test_named_colours(css: str, name: str) -> None:
    assert hue_words(hue_key(_lab(css))) == name


#: Names that say two things, where the other one wins.
_OTHER_WORD = {
    "orangered": "orange", "powderblue": "cyan", "cadetblue": "cyan", "slateblue": "violet", "darkslateblue": "violet",
    "mediumslateblue": "violet", "lavenderblush": "near-white", "aliceblue": "near-white",
}  # fmt: skip


@pytest.mark.parametrize("word", ["green", "blue", "red", "orange", "grey"])
def test_all_colours_that_carry_a_word(word: str) -> None:
    carriers = [c for c in ImageColor.colormap if c.endswith(word) and "slategrey" not in c]
    assert len(carriers) >= 2
    for css in carriers:
        assert _OTHER_WORD.get(css, word) in hue_words(hue_key(_lab(css))), css


def test_sectors_are_those_of_oklab() -> None:
    # colour-science as the outside road: CIELAB (D50) to XYZ, adapted to D65 by Bradford, to Oklab
    rng = np.random.default_rng(5)
    lab = rng.uniform([5, -80, -80], [98, 80, 80], (4000, 3))
    d50, d65 = np.array([0.9642, 1.0, 0.8249]), colour.xy_to_XYZ([0.3127, 0.3290])
    xyz = colour.Lab_to_XYZ(lab, colour.XYZ_to_xy(d50))
    xyz = colour.chromatic_adaptation(xyz, d50, d65, method="Von Kries", transform="Bradford")
    oklab = colour.XYZ_to_Oklab(xyz)
    hue = np.degrees(np.arctan2(oklab[:, 2], oklab[:, 1])) % 360
    borders = np.array([border for border, _ in SECTORS])
    away = np.abs(hue[:, None] - borders).min(axis=1) > 0.3
    names = [SECTORS[int(np.searchsorted(borders, h, side="right"))][1] for h in hue]
    ours = sector(lab)
    strong = np.hypot(lab[:, 1], lab[:, 2]) > 6
    assert np.count_nonzero(away & strong) > 3000
    for i in np.flatnonzero(away & strong):
        assert NAMES[ours[i]] == names[i]
    assert (ours[np.hypot(lab[:, 1], lab[:, 2]) < 6] == -1).all()


def test_shapes_and_kinds() -> None:
    lab = np.zeros((2, 3, 3), dtype=np.float32)
    lab[0, :, :] = (50, 70, 55)
    assert sector(lab).shape == (2, 3) and [NAMES[i] for i in sector(lab)[0]] == ["red"] * 3
    assert (sector(lab)[1] == -1).all()


@pytest.mark.parametrize(
    ("lab", "name"),
    [([60, 50, 65], "orange"), ([50, 70, 30], "red"), ([85, 0, 80], "yellow"), ([60, -60, 30], "green"), ([50, 0, 0], "grey"),
     ([40, 20, 22], "brown"), ([45, 60, 60], "deep orange"), ([92, 4, -4], "near-white"), ([20, 12, -45], "dark blue"),
     ([26, 42, 6], "wine red"), ([10, 25, 2], "near-black red")],
)  # fmt: skip
def test_everyday_names(lab: list[float], name: str) -> None:
    # light, dark and weak colours: common practice, no source
    assert hue_words(hue_key(np.array(lab, dtype=float))) == name
