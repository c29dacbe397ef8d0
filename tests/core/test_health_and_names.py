"""Profiles that are odd in one way each; cryptic names; two profiles; the reach."""

import re

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from tests.conftest import demo_profile

from rehearsal.core.icc import Profile, write
from rehearsal.core.icc.standard import working_space
from rehearsal.core.making import builder
from rehearsal.core.making.builder import build
from rehearsal.core.papers.comparing import band_edges, compare_profiles, hue_words, overlap, share_beyond, volume_map
from rehearsal.core.papers.facts import measure
from rehearsal.core.papers.health import HealthNote, health, ramp_faults
from rehearsal.core.papers.model import paper_model
from rehearsal.core.papers.names import decode_name, pieces
from rehearsal.core.papers.reach import (
    CELL,
    cell_centre,
    cell_of,
    picture_slice,
    pixels_of_cell,
    slice_outline,
)
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.chain import PrintChain, Rendering
from rehearsal.demo.stocks import DUNE
from rehearsal.devices.cgats import parse
from rehearsal.devices.simulated.instrument import chart_patches, measure_chart
from rehearsal.devices.simulated.printer import SimulatedPrinter


def _kinds(profile: Profile) -> set[str]:
    return {note.kind for note in health(profile, measure(profile))}


def _notes(profile: Profile, kind: str) -> list[HealthNote]:
    return [note for note in health(profile, measure(profile)) if note.kind == kind]


def _with_tags(profile: Profile, **changes: bytes | None) -> Profile:
    tags = {k: v for k, v in {**profile.tags, **changes}.items() if v is not None}
    return Profile(write.assemble(tags, "prtr", "RGB ", "Lab ", 2.4), "changed")


def _bend(profile: Profile, tag: str, bend) -> bytes:  # type: ignore[no-untyped-def]
    """A B2A table whose output curves are bent (16 bit)."""
    raw = profile.tags[tag]
    inputs, outputs, grid = raw[8], raw[9], raw[10]
    n_in, n_out = int.from_bytes(raw[48:50], "big"), int.from_bytes(raw[50:52], "big")
    data = np.frombuffer(raw[52:], dtype=">u2").astype(float) / 65535
    clut_end = inputs * n_in + grid**inputs * outputs
    curves_in = data[: inputs * n_in].reshape(inputs, n_in)
    clut = data[inputs * n_in : clut_end].reshape(*[grid] * inputs, outputs)
    axis = np.linspace(0, 1, 4096)
    old = data[clut_end : clut_end + outputs * n_out].reshape(outputs, n_out)
    curves = np.stack([bend(np.interp(axis, np.linspace(0, 1, n_out), row)) for row in old])
    return write.table_tag(clut, curves_in, curves)


def test_demo_profiles_are_healthy(dune: Profile) -> None:
    assert health(dune, measure(dune)) == []
    assert _kinds(demo_profile("SK24_WindmillBaryta_Hi.icc")) == {"version-4"}


def test_a_real_press_profile_says_what_it_is(press: Profile) -> None:
    # libgs-common: three intents that share one 8-bit table (measured facts of that file)
    kinds = _kinds(press)
    assert {"identical-tables", "8-bit-tables"} <= kinds


def test_missing_and_identical_tables(dune: Profile) -> None:
    assert "missing-table" in _kinds(_with_tags(dune, B2A0=None))
    same = _kinds(_with_tags(dune, B2A0=dune.tags["B2A1"]))
    assert "identical-tables" in same and "missing-table" not in same


def test_nearly_identical_tables_are_found(dune: Profile) -> None:
    nearly = _bend(dune, "B2A1", lambda v: np.clip(v * 1.0008, 0, 1))
    found = _notes(_with_tags(dune, B2A0=nearly), "alike-tables")
    assert len(found) == 1 and "decides nothing" in found[0].words


def test_disagreeing_media_white(dune: Profile) -> None:
    odd = _with_tags(dune, A2B1=_bend(dune, "A2B1", lambda v: v * 0.985))
    notes = _notes(odd, "media-white")
    assert len(notes) == 1 and "the table's white is used" in notes[0].words


def test_white_that_asks_for_ink(dune: Profile) -> None:
    inked = _bend(dune, "B2A1", lambda v: v * 0.985)
    notes = _notes(_with_tags(dune, B2A1=inked), "ink-in-white")
    assert len(notes) == 1 and "tone" in notes[0].words


def test_kinks_and_reversals_in_the_grey_ramp(dune: Profile) -> None:
    def notch(v: np.ndarray) -> np.ndarray:
        return np.where(v > 0.5, np.maximum(v - 0.035, 0.5 - 0.035), v)

    assert "reversal" in _kinds(_with_tags(dune, B2A1=_bend(dune, "B2A1", notch)))

    def step(v: np.ndarray) -> np.ndarray:
        return np.clip(np.where(v > 0.5, v + 0.012, v), 0, 1)

    stepped_kinds = _kinds(_with_tags(dune, B2A1=_bend(dune, "B2A1", step)))
    assert "kink" in stepped_kinds and "reversal" not in stepped_kinds
    asked = np.arange(10.0, 100.0)
    smooth = asked * 0.9 + 8
    assert ramp_faults(asked, smooth) == (None, None)
    stepped = smooth + np.where(asked > 60, 1.4, 0)
    assert ramp_faults(asked, stepped)[0] is None and ramp_faults(asked, stepped)[1][0] == pytest.approx(60, abs=1)  # type: ignore[index]
    back = smooth - np.where(asked > 60, 1.4, 0)
    assert ramp_faults(asked, back)[0] == pytest.approx((60, 0.5), abs=1)


def test_a_noisy_profile_is_called_noisy(dune: Profile, rng: np.random.Generator) -> None:
    def shake(v: np.ndarray) -> np.ndarray:
        return np.clip(v + np.interp(np.arange(4096), np.arange(0, 4097, 64), rng.normal(0, 0.02, 65)), 0, 1)

    assert "noise" in _kinds(_with_tags(dune, B2A1=_bend(dune, "B2A1", shake)))


@pytest.mark.parametrize(
    ("name", "stem", "wanted"),
    [
        ("Skarn 24 White Dune High", "SK24_WhiteDune_Hi", ("Skarn 24", "White Dune", "High", "")),
        ("Skarn 24 White Dune High", "WhiteDune_Hi", ("", "White Dune", "High", "")),
        ("SK24_SluiceGloss_Hi", "", ("", "Sluice Gloss", "High", "photo black")),
        ("White Dune High on Skarn 24", "", ("Skarn 24", "White Dune", "High", "")),
    ],
)
def test_cryptic_names(name: str, stem: str, wanted: tuple[str, ...]) -> None:
    # invented names in the shapes that makers use (common practice, no source)
    guess = decode_name(name, stem)
    assert (guess.printer, guess.paper, guess.quality, guess.ink) == wanted


def test_what_names_say_besides() -> None:
    assert decode_name("White Dune, our Skarn 24").own
    assert decode_name("SK24_BrineLustre260").weight == "260 g/m²"
    assert decode_name("BrineLustre260").media == "Photo lustre"
    assert decode_name("OS17 OQ310 MK 2880").resolution == "2880 dpi"
    assert decode_name("SK24_WhiteDune_Hi").resolution == ""
    # the profile's own tag about its device goes before what a name looks like
    assert decode_name("SK24_BrineLustre", maker_model="Skarn 24").printer == "Skarn 24"
    assert pieces("SK24_WhiteDune-Hi") == ["SK24", "White", "Dune", "Hi"]


@pytest.mark.parametrize(
    ("name", "stem", "rest"),
    [
        ("White Dune on Skarn 24", "SK24_WhiteDune_WCRW_v2", "WCRW"), ("White Dune on Skarn 24", "SK24_WhiteDune_Hi_MK_2880", ""),
        ("", "SK24_WhiteDune_Hi", "SK24"), ("White Dune on Skarn 24", "WD310_EFA", "WD310 EFA"), ("x", "", ""),
    ],
)  # fmt: skip
def test_the_unread_rest_of_a_files_name_is_quoted(name: str, stem: str, rest: str) -> None:
    assert decode_name(name, stem).rest == rest


@given(st.text(max_size=60), st.text(max_size=30))
@example("", "²")  # a digit that is no number
def test_any_name_can_be_read(name: str, stem: str) -> None:
    guess = decode_name(name, stem)
    assert guess == decode_name(name, stem), "the same name is always read alike"
    # nothing is invented: a weight's figure stands in one of the names, surfaces and inks are the trade's own words
    assert guess.weight.removesuffix(" g/m²") in f"{name} {stem}"
    assert guess.ink in ("", "matte black", "photo black", "light black")
    assert not re.search(r"[^a-z\- ]", guess.surface)
    assert guess.paper == guess.paper.strip()


def test_volume_map_adds_up(dune: Profile) -> None:
    solid = paper_model(dune).solid
    assert volume_map(solid).sum() == pytest.approx(solid.volume)
    assert volume_map(solid).shape == (5, 12)
    # the darkest band begins at the paper's own black: on matte paper too it holds something
    black = float(paper_model(dune).relative_black[0])
    assert black > 15 and volume_map(solid, black)[0].sum() > 0.02 * solid.volume
    assert volume_map(solid, black).sum() == pytest.approx(solid.volume)
    np.testing.assert_allclose(band_edges(black)[[0, -1]], [black, 100])


def test_the_demos_own_profile_gains_in_the_darks() -> None:
    # a custom profile gains mostly in the darks (common practice, no source)
    own, canned = (demo_profile(f"SK24_WhiteDune_{n}.icc") for n in ("own", "Hi"))
    values = np.ones((1, 3))
    pair = compare_profiles(own, canned, (values, values))
    gain = (pair.maps[0] - pair.maps[1]).sum(axis=1)
    assert pair.volumes[0] > pair.volumes[1] and gain[:2].sum() > gain[2:].sum() and gain[0] > 0
    assert paper_model(own).black[0] < paper_model(canned).black[0] and pair.warning == ""


def test_known_spaces_overlap_as_they_must() -> None:
    # the primaries of sRGB lie inside those of Display P3 and of ROMM RGB (their standards)
    srgb, p3 = paper_model(working_space("sRGB")).solid, paper_model(working_space("P3")).solid
    in_p3, in_srgb = overlap(p3, srgb)
    assert in_p3 > 99 and in_srgb == pytest.approx(832_870 / 1_233_270 * 100, abs=2)


def _compare(one: Profile, two: Profile, rng: np.random.Generator):  # type: ignore[no-untyped-def]
    master = working_space("opRGB")
    values = rng.random((1500, 3))
    lab = master_space(master).to_lab(np.round(values * 65535).astype(np.uint16)[None])[0].astype(float)
    device = [PrintChain(master, p, Rendering()).device(values) for p in (one, two)]
    return compare_profiles(one, two, (device[0], device[1])), lab


def test_a_profile_against_itself(dune: Profile, rng: np.random.Generator) -> None:
    pair, _lab = _compare(dune, dune, rng)
    assert pair.proofs == (0, 0) and pair.same_ink == (0, 0) and pair.warning == "" and pair.common == (100, 100)
    assert "nearly the same" in hue_words(pair, ("one", "two"))


def test_gloss_against_cotton(gloss: Profile, dune: Profile, rng: np.random.Generator) -> None:
    # resin-coated gloss holds more than cotton, above all in the darks (common practice, no source)
    pair, lab = _compare(gloss, dune, rng)
    assert pair.volumes[0] > pair.volumes[1]
    assert share_beyond(paper_model(gloss), lab, 1.5) < share_beyond(paper_model(dune), lab, 1.5)
    dark = pair.maps[0][:2].sum() - pair.maps[1][:2].sum()
    assert dark > pair.maps[0][3:].sum() - pair.maps[1][3:].sum()
    assert "gloss holds more" in hue_words(pair, ("gloss", "cotton"))


def test_a_profile_that_is_out_of_date_is_suspected(
    dune: Profile, rng: np.random.Generator, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(builder, "_BACK_NODES", 17)  # what is asked lies in the way there
    worn = SimulatedPrinter(DUNE, machine=3, spread=7.0)
    table = parse(measure_chart(worn, "worn", 3, chart_patches(6, 20)))[0]
    rgb, xyz = table.columns(["RGB_R", "RGB_G", "RGB_B"]) / 100, table.columns(["XYZ_X", "XYZ_Y", "XYZ_Z"]) / 100
    pair, _lab = _compare(dune, Profile(build(rgb, xyz, "worn", 2.4, ""), "worn"), rng)
    assert "out of date" in pair.warning and pair.same_ink is not None and pair.same_ink[0] > 3.5


def test_slices_against_the_solid_itself(gloss: Profile) -> None:
    solid = paper_model(gloss).solid
    for lightness in (20.0, 50.0, 80.0):
        lines = slice_outline(solid, lightness)
        area = sum(abs(_shoelace(line)) for line in lines)
        nodes = solid.nodes()
        inside = np.count_nonzero(nodes[:, 0] == lightness)
        assert area == pytest.approx(inside, rel=0.02)
    assert slice_outline(solid, 101.5) == []


def _shoelace(line: np.ndarray) -> float:
    x, y = line.T
    return float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y) / 2)


def test_outline_of_srgb_passes_its_primaries() -> None:
    # Lab of the sRGB primaries under D50 (published tables): red 54.3, 80.8, 69.9; blue 29.6, 68.3, -112.0
    solid = paper_model(working_space("sRGB")).solid
    for lightness, a, b in ((54.3, 80.8, 69.9), (29.6, 68.3, -112.0)):
        points = np.concatenate(slice_outline(solid, lightness))
        assert np.hypot(points[:, 0] - a, points[:, 1] - b).min() < 3


def test_cells_and_pixels_are_tied_both_ways() -> None:
    lab = np.zeros((4, 5, 3))
    lab[..., 0] = 50
    lab[1, 2] = (51, 30, -42)
    lab[2, 2] = (70, 30, -42)
    cell = tuple(int(v) for v in cell_of(lab[1, 2, 1:]))
    assert np.allclose(cell_centre(cell), (30, -42), atol=CELL / 2)
    mask = pixels_of_cell(lab, 50, cell, around=0)
    assert mask[1, 2] and mask.sum() == 1
    beyond = np.zeros((4, 5), dtype=bool)
    beyond[1, 2] = True
    piece = picture_slice(lab, beyond, 50)
    assert piece.counts.sum() == 19 and piece.counts[cell] == 1 and piece.beyond.sum() == 1
    assert piece.covered == pytest.approx(100 - 100 / 19)
    assert picture_slice(lab, beyond, 10).covered is None
