"""Curves and matrices of profiles: decoded as the engine does, refused when nothing can be computed with them."""

import struct
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.conftest import opened_for

from rehearsal.core.errors import ProfileError
from rehearsal.core.icc import Profile, Step, Transform, open_profile, xyz_profile
from rehearsal.core.icc.curves import decode_curve, odd_curves
from rehearsal.core.icc.standard import colorants, working_space
from rehearsal.core.icc.write import curve_tag, gamma_tag, gray_profile, matrix_profile, parametric_tag
from rehearsal.core.papers.facts import measure
from rehearsal.core.papers.health import health
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.space import master_space
from rehearsal.core.picture.write import write_picture
from rehearsal.core.proof.chain import PrintChain
from rehearsal.core.sheet.printfile import make_pixels
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.rendering import INTENTS, Rendering

SRGB = colorants(((0.64, 0.33), (0.30, 0.60), (0.15, 0.06)), (0.3127, 0.3290))


def _rgb(curve: bytes, matrix: np.ndarray = SRGB) -> bytes:
    return matrix_profile("made", matrix, curve)


@pytest.mark.parametrize(
    "raw",
    [gamma_tag(1.8), curve_tag(np.linspace(0, 1, 40) ** 2), parametric_tag(0, 2.2), parametric_tag(1, 2.0, 0.9, 0.1),
     parametric_tag(2, 2.0, 0.8, 0.1, 0.05), parametric_tag(3, 2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045),
     parametric_tag(4, 2.4, 0.9, 0.05, 0.1, 0.05, 0.02, 0.0)],
)  # fmt: skip
def test_curves_are_read_as_the_engine_reads_them(raw: bytes) -> None:
    # a grey profile made of the curve: the engine's Y is the other road
    grey = Profile(gray_profile("made", raw), "made")
    ramp = np.linspace(0, 1, 1025)
    y = Transform([Step(grey), Step(xyz_profile(), "relative")]).apply(ramp[:, None])[:, 1]
    np.testing.assert_allclose(decode_curve(raw), y, atol=2e-4)


@pytest.mark.parametrize(
    ("data", "why"),
    [(_rgb(curve_tag(np.full(256, 0.4))), "does not rise"), (_rgb(curve_tag(np.linspace(1, 0, 64))), "does not rise"),
     (_rgb(parametric_tag(3, 2.0, 0.0, 0.0, 0.0, 0.5)), "does not rise"), (_rgb(gamma_tag(0.0)), "does not rise"),
     (gray_profile("made", curve_tag(np.zeros(16))), "does not rise"),
     (_rgb(b"curv\0\0\0\0" + struct.pack(">I", 40) + b"\0" * 80), "does not rise"),
     (_rgb(parametric_tag(0, 2.2)[:-2] + b"\0\0", SRGB * [1, 1, 0]), "in one plane"),
     (_rgb(gamma_tag(2.2), np.ones((3, 3)) / 3), "in one plane"),
     (_rgb(gamma_tag(2.2)).replace(b"XYZ \0\0\0\0", b"xyz \0\0\0\0"), "in one plane"),
     (_rgb(b"para\0\0\0\0\0\x09\0\0"), "is damaged"), (_rgb(b"text\0\0\0\0abcd"), "is damaged")],
)  # fmt: skip
def test_what_cannot_be_computed_with_is_refused(data: bytes, why: str, tmp_path: Path) -> None:
    (tmp_path / "bad.icc").write_bytes(data)
    with pytest.raises(ProfileError, match=why) as caught:
        open_profile(tmp_path / "bad.icc")
    assert str(tmp_path / "bad.icc") in caught.value.sentence() and caught.value.do


@given(st.lists(st.integers(0, 65535), min_size=2, max_size=40))
def test_any_curve_that_is_taken_gives_finite_light(words: list[int]) -> None:
    try:
        profile = Profile(_rgb(curve_tag(np.array(words) / 65535)), "made")
    except ProfileError:
        return
    space = master_space(profile)
    assert np.isfinite(space.linear).all() and np.isfinite(space.matrix).all()
    assert np.isfinite(space.to_lab(np.array([[[0, 30000, 65535]]], np.uint16))).all()
    positions = space.index_curve.positions(33)
    assert positions.min() >= 0 and positions.max() <= 32 * 256


def test_a_curve_that_falls_somewhere_is_named() -> None:
    bump = np.linspace(0, 1, 64) + 0.1 * np.sin(np.linspace(0, 20, 64))
    odd = Profile(_rgb(curve_tag(bump)), "made")
    assert [n.kind for n in health(odd, measure(odd))] == ["space", "odd-curve"]
    assert [n.kind for n in health(working_space("sRGB"), measure(working_space("sRGB")))] == ["space"]


def test_impossible_papers_are_named(dune: Profile) -> None:
    facts = measure(dune)
    from dataclasses import replace

    for changes, kind in (({"dmax": 3.4}, "impossible-black"), ({"contrast": 0.8}, "no-contrast")):
        notes = health(dune, replace(facts, **changes))
        assert notes[0].kind == kind and notes[0].words
    assert not {"impossible-black", "no-contrast", "odd-curve"} & {
        n.kind for n in health(dune, replace(facts, dmax=2.9))
    }
    tags = dict(dune.tags)
    raw = bytearray(tags["B2A1"])
    entries = struct.unpack(">H", raw[48:50])[0]
    raw[52 : 52 + 2 * entries] = b"\x40\0" * entries  # the curve of L* stands still
    assert odd_curves({**tags, "B2A1": bytes(raw)}) == ["B2A1"] and odd_curves(tags) == []


@pytest.mark.parametrize("intent", INTENTS)
def test_a_profile_to_itself_keeps_its_numbers(
    intent: str, press: Profile, rng: np.random.Generator, tmp_path: Path
) -> None:
    inks = np.round(rng.random((12, 16, 4)) * 60000).astype(np.uint16)
    write_picture(inks, press, 300, tmp_path / "inks.tif")
    picture = read_picture(tmp_path / "inks.tif")
    for compensate in (True, False):
        opened = opened_for(picture, press, rendering=Rendering(intent, compensate))
        np.testing.assert_array_equal(make_pixels(opened), inks)
        chain = PrintChain(press, press, Rendering(intent, compensate))
        np.testing.assert_array_equal(chain.device(inks.reshape(-1, 4) / 65535.0), inks.reshape(-1, 4) / 65535.0)
        np.testing.assert_allclose(
            chain.print_lab(inks.reshape(-1, 4) / 65535.0), master_space(press).to_lab(inks).reshape(-1, 3), atol=0.02
        )


def test_a_working_space_to_itself_is_the_identity(rng: np.random.Generator, dune: Profile, tmp_path: Path) -> None:
    pixels = rng.integers(0, 65536, (20, 30, 3)).astype(np.uint16)
    write_picture(pixels, working_space("opRGB"), 300, tmp_path / "own.tif")
    opened = opened_for(read_picture(tmp_path / "own.tif"), dune, hand_over=HandOver("space", "opRGB"))
    np.testing.assert_array_equal(make_pixels(opened), pixels)
    eight = opened_for(read_picture(tmp_path / "own.tif"), dune, hand_over=HandOver("space", "opRGB", format="tiff8"))
    np.testing.assert_array_equal(make_pixels(eight), np.round(pixels / 257).astype(np.uint8))
