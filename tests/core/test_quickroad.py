"""Converting by a profile's own table: the same as the colour engine's floating-point road, or not used at all."""

import struct

import numpy as np
import pytest

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile, Step, Transform
from rehearsal.core.icc.outputtable import output_table
from rehearsal.core.icc.standard import SPACES, working_space
from rehearsal.core.icc.write import assemble
from rehearsal.core.papers.model import paper_model
from rehearsal.core.picture.file import read_picture
from rehearsal.core.proof import quickroad
from rehearsal.core.proof.chain import effective
from rehearsal.core.proof.convert import Converter
from rehearsal.core.proof.quickroad import SAME, QuickRoad, greatest_difference, quick_road
from rehearsal.core.values.rendering import Rendering

PAPERS = ("dune", "gloss", "baryta", "press", "press_with_readings")
RENDERINGS = (Rendering(), Rendering("relative", False), Rendering("perceptual", False), Rendering("saturation"))


def _engine(source: Profile, paper: Profile, real: Rendering, kind: type = np.uint16) -> Transform:
    return Transform(
        [Step(source, real.intent), Step(paper, real.intent, real.compensate)],
        np.float64 if kind is np.float64 else np.uint16,
        kind,
    )


@pytest.mark.parametrize("name", PAPERS)
@pytest.mark.parametrize("rendering", RENDERINGS, ids=lambda r: f"{r.intent}-{r.compensate}")
def test_prints_as_the_engine_does_in_floating_point(
    name: str, rendering: Rendering, request: pytest.FixtureRequest, rng: np.random.Generator
) -> None:
    """Tables of 16 bits (demo, a real press) and of 8 (libgs-common's), RGB and CMYK; pixels no road was tried on."""
    paper = request.getfixturevalue(name)
    real = effective(rendering, paper)
    random = rng.integers(0, 65536, (4000, 3)).astype(np.uint16)
    pixels = np.concatenate([random, random // 40, 65535 - random // 40, random // 3 + 20000])
    to_lab = paper_model(paper).to_lab
    for space in ("sRGB", "ROMM"):
        source = working_space(space)
        road = quick_road(source, paper, real, np.uint16)
        assert road is not None
        exact = to_lab.apply(np.clip(_engine(source, paper, real, np.float64).apply(pixels / 65535.0), 0, 1))
        assert delta_e_2000(to_lab.apply(road.apply(pixels) / 65535.0), exact).max() <= SAME


def test_print_file_takes_it_and_keeps_its_promise(dune: Profile, small_cloths) -> None:  # type: ignore[no-untyped-def]
    picture = read_picture(small_cloths)
    converter = Converter(picture.profile, dune, Rendering(), 16)
    assert isinstance(converter._road, QuickRoad)
    out = np.empty(picture.pixels.shape, np.uint16)
    converter.rows(picture.pixels, out)
    to_lab, exact = paper_model(dune).to_lab, _engine(picture.profile, dune, Rendering(), np.float64)
    there = to_lab.apply(np.clip(exact.apply(picture.pixels / 65535.0), 0, 1))
    assert delta_e_2000(to_lab.apply(out / 65535.0), there).max() <= SAME


def test_eight_bits_are_rounded_as_the_engine_rounds(dune: Profile, rng: np.random.Generator) -> None:
    source, pixels = working_space("sRGB"), rng.integers(0, 65536, (20_000, 3)).astype(np.uint16)
    engine = _engine(source, dune, Rendering(), np.uint8)
    road = quick_road(source, dune, Rendering(), np.uint8)
    assert road is not None
    ours, theirs = road.apply(pixels), engine.apply(pixels)
    assert np.abs(ours.astype(int) - theirs).max() <= 1
    assert (ours != theirs).mean() < 0.02  # where a value lies half-way between two codes


def test_ends_are_the_engines(dune: Profile) -> None:
    """White and black to a few of 65,535 codes: bare paper gets no speck of ink."""
    source, ends = working_space("sRGB"), np.array([[65535] * 3, [0] * 3], np.uint16)
    road = quick_road(source, dune, Rendering(), np.uint16)
    assert road is not None
    assert np.abs(road.apply(ends).astype(int) - _engine(source, dune, Rendering()).apply(ends)).max() <= 4


@pytest.mark.parametrize("wrong", [Rendering("relative", False), Rendering("perceptual", False)], ids=str)
def test_a_road_that_differs_from_the_engine_is_not_taken(
    dune: Profile, wrong: Rendering, monkeypatch: pytest.MonkeyPatch
) -> None:
    source, table = working_space("sRGB"), output_table(dune, "relative")
    assert table is not None
    road = QuickRoad(source, dune, table, Rendering(), np.uint16)
    assert greatest_difference(road, _engine(source, dune, Rendering(), np.float64)) <= SAME
    assert greatest_difference(road, _engine(source, dune, wrong, np.float64)) > 1
    monkeypatch.setattr(quickroad, "output_table", lambda profile, _intent: output_table(profile, "perceptual"))
    assert quick_road(source, dune, Rendering(), np.uint16) is None


def test_what_it_cannot_do_stays_with_the_engine(dune: Profile, press: Profile) -> None:
    srgb, grey = working_space("sRGB"), working_space("sRGB")
    assert quick_road(srgb, dune, Rendering("absolute", False), np.uint16) is None
    for source, target in ((press, dune), (dune, press), (srgb, grey), (srgb, working_space("opRGB"))):
        assert not isinstance(Converter(source, target, Rendering(), 16)._road, QuickRoad)


@pytest.mark.parametrize("space", SPACES)
def test_every_working_space_has_the_quick_road(gloss: Profile, space: str) -> None:
    assert isinstance(Converter(working_space(space), gloss, Rendering("perceptual", False), 8)._road, QuickRoad)


def test_tables_are_read_as_the_standard_has_them(dune: Profile, press: Profile) -> None:
    """Encodings of Lab: ICC.1:2022, tables 11 and 12 and 10.10 (L* 100 is FF00h in lut16 of version 2, FFh in lut8)."""
    for profile, white in ((dune, 0xFF00 / 0xFFFF), (press, 1.0)):
        table = output_table(profile, "relative")
        assert table is not None
        codes = np.array([[100, 0, 0], [0, 0, 0], [50, 127, -128]]) * table.gain + table.shift
        middle = 0x8000 / 0xFFFF if profile is dune else 128 / 255
        np.testing.assert_allclose(codes[0], [white, middle, middle], atol=1e-9)
        np.testing.assert_allclose(codes[2, [0, 2]], [white / 2, 0], atol=1e-9)
        assert table.nodes.shape[-1] == len(table.last) == profile.channels


def _with_table(paper: Profile, raw: bytes) -> Profile:
    tags = {**paper.tags, "B2A1": raw}
    return Profile(assemble(tags, "prtr", "RGB ", "Lab ", paper.header.version), "changed")


def test_a_table_cut_short_is_not_read(dune: Profile) -> None:
    raw = dune.tags["B2A1"]
    assert output_table(_with_table(dune, raw), "relative") is not None
    entries = struct.unpack(">HH", raw[48:52])
    for damaged in (
        raw[:48] + struct.pack(">HH", 1, entries[1]) + raw[52:],
        raw[:48] + struct.pack(">HH", entries[0] + 4000, entries[1]) + raw[52:],
    ):
        changed = dune.__class__.__new__(dune.__class__)
        changed.__dict__.update({**dune.__dict__, "tags": {**dune.tags, "B2A1": damaged}})
        assert output_table(changed, "relative") is None
