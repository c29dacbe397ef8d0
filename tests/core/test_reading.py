"""By which table a master with several is read: the same intent as it is rendered with, everywhere but in M."""

import subprocess
from pathlib import Path

import numpy as np
import pytest
from tests.conftest import opened_for, request_for

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile, Step, Transform, lab_profile, xyz_profile
from rehearsal.core.icc.standard import space_bytes
from rehearsal.core.icc.write import assemble, encode_lab, table_tag
from rehearsal.core.picture.file import Picture, read_picture
from rehearsal.core.picture.pyramid import Pyramid
from rehearsal.core.picture.space import master_space
from rehearsal.core.picture.write import write_picture
from rehearsal.core.proof import judging
from rehearsal.core.proof.chain import Look, PrintChain
from rehearsal.core.proof.judging import judge
from rehearsal.core.proof.screenroad import ScreenRoad
from rehearsal.core.sheet.printfile import make_pixels
from rehearsal.core.tuning.opened import OpenPicture
from rehearsal.core.tuning.workingcopy import reading_intent, tunable, working_copy_space
from rehearsal.core.values.recipe import by_hand
from rehearsal.core.values.rendering import INTENTS, Rendering
from rehearsal.tasks.judging import judge_rendition
from rehearsal.tasks.maps import read_point
from rehearsal.tasks.proofing import proof_file
from rehearsal.tasks.scouting import scout_sample

_AXIS = np.linspace(0, 1, 9)
RENDERINGS = [Rendering(intent, c) for intent in INTENTS for c in (True, False) if intent != "absolute" or not c]


def _with_tables_of_its_own(profile: Profile) -> Profile:
    """The same profile with a perceptual table that opens the depths, and a saturation table that is stronger in colour."""
    n = profile.channels
    grid = np.stack(np.meshgrid(*[_AXIS] * n, indexing="ij"), axis=-1)
    lab = (
        Transform([Step(profile), Step(lab_profile(), "relative")])
        .apply(grid.reshape(-1, n))
        .reshape(*grid.shape[:-1], 3)
    )
    opened, strong = lab.copy(), lab * [1, 1.25, 1.25]
    opened[..., 0] = 100 - (100 - lab[..., 0]) * 0.82
    straight = np.linspace(0, 1, 2)
    made = {
        name: table_tag(encode_lab(values), np.tile(straight, (n, 1)), np.tile(straight, (3, 1)))
        for name, values in (("A2B0", opened), ("A2B1", lab), ("A2B2", strong))
    }
    kept = {name: raw for name, raw in profile.tags.items() if not name.startswith("A2B")}
    space = {"RGB": "RGB ", "CMYK": "CMYK"}[profile.space]
    return Profile(assemble({**kept, **made}, "prtr", space, "Lab ", 2.4), "press with tables of its own")


@pytest.fixture(scope="module", params=["cmyk", "table rgb"])
def master(request: pytest.FixtureRequest, press_with_readings: Profile, dune: Profile) -> Profile:
    return _with_tables_of_its_own(press_with_readings if request.param == "cmyk" else dune)


def _pixels(profile: Profile, h: int, w: int) -> np.ndarray:
    """A smooth picture of many colours within the ink limit."""
    y, x = np.mgrid[0:h, 0:w] / [[[h]], [[w]]]
    waves = [0.5 + 0.5 * np.sin(6 * x + 2 * y), 0.5 + 0.5 * np.cos(5 * y - x), 0.5 + 0.5 * np.sin(4 * x * y + 1), x * y]
    values = np.stack(waves[: profile.channels], axis=-1)
    if profile.channels == 4:
        values *= np.minimum(1, 2.4 / values.sum(axis=-1, keepdims=True))
    return np.round(values * 65535).astype(np.uint16)


def _picture(profile: Profile, tmp_path: Path, h: int = 90, w: int = 120) -> Picture:
    write_picture(_pixels(profile, h, w), profile, 300, tmp_path / "master.tif")
    return read_picture(tmp_path / "master.tif")


def _by_the_program(values: np.ndarray, one: Profile, two: Profile, rendering: Rendering, folder: Path) -> np.ndarray:
    """Printer values (m, 3) of the engine's own command-line program, which chains with one intent throughout."""
    for name, profile in (("one.icc", one), ("two.icc", two)):
        (folder / name).write_bytes(profile.data)
    scale = 100.0 if one.space == "CMYK" else 255.0
    command = [
        "transicc",
        "-n",
        f"-i{folder / 'one.icc'}",
        f"-o{folder / 'two.icc'}",
        f"-t{INTENTS.index(rendering.intent)}",
        "-c0",
    ]
    text = "".join(" ".join(f"{v * scale:.7f}" for v in row) + "\n" for row in values)
    command += ["-b"] if rendering.compensate else []
    out = subprocess.run(command, input=text, capture_output=True, text=True, check=True).stdout
    return np.array([[float(v) for v in line.split()] for line in out.splitlines() if line.strip()]) / 255


@pytest.mark.parametrize("rendering", RENDERINGS)
def test_chain_and_file_against_the_engines_own_program(
    master: Profile, gloss: Profile, rendering: Rendering, tmp_path: Path
) -> None:
    picture = _picture(master, tmp_path)
    values = picture.pixels[::9, ::11].reshape(-1, master.channels)
    theirs = np.clip(_by_the_program(values / 65535.0, master, gloss, rendering, tmp_path), 0, 1)
    ours = PrintChain(master, gloss, rendering).device(values / 65535.0)
    np.testing.assert_allclose(ours, theirs, atol=5e-4)
    file = make_pixels(opened_for(picture, gloss, rendering=rendering))[::9, ::11].reshape(-1, 3) / 65535.0
    np.testing.assert_allclose(file, theirs, atol=0.004)


def test_the_tables_really_differ(master: Profile, gloss: Profile) -> None:
    values = _pixels(master, 40, 40).reshape(-1, master.channels) / 65535.0
    real = PrintChain(master, gloss, Rendering("perceptual")).print_lab(values)
    crossed = Transform([Step(master, "relative"), Step(gloss, "perceptual", True)])
    other = PrintChain(gloss, gloss, Rendering()).model.to_lab.apply(np.clip(crossed.apply(values), 0, 1))
    assert delta_e_2000(real, other).mean() > 2


@pytest.mark.parametrize("intent", ["perceptual", "saturation", "relative"])
def test_the_working_copy_prints_like_the_file(master: Profile, gloss: Profile, intent: str) -> None:
    pixels = _pixels(master, 60, 60)
    copy, space = tunable(pixels, master, intent), working_copy_space(master, intent)
    for compensate in (True, False):
        direct = PrintChain(master, gloss, Rendering(intent, compensate)).print_lab(
            pixels.reshape(-1, master.channels) / 65535.0
        )
        ours = PrintChain(space.profile, gloss, Rendering(intent, compensate)).print_lab(copy.reshape(-1, 3) / 65535.0)
        assert delta_e_2000(direct, ours).mean() < 0.3


def test_m_stays_relative_and_beyond_does_not_follow_the_intent(master: Profile, dune: Profile, tmp_path: Path) -> None:
    picture = _picture(master, tmp_path)
    relative = Transform([Step(master, "relative"), Step(lab_profile(), "relative")])
    at = (70.0, 40.0)
    wanted = relative.apply(picture.pixels[40, 70][None] / 65535.0)[0]
    shares = []
    for intent in ("relative", "perceptual"):
        for recipe in ({}, {"contrast": 3}):
            opened = opened_for(picture, dune, rendering=Rendering(intent), recipe=by_hand(**recipe))
            assert delta_e_2000(read_point(opened, *at).master, wanted) < 0.3
            shares.append(judge_rendition(opened).beyond.share)
    assert abs(shares[0] - shares[2]) < 1e-6 and abs(shares[1] - shares[3]) < 1e-6
    assert scout_sample(opened).lab == pytest.approx(scout_sample(opened.rendered(Rendering())).lab)


def test_a_tuned_take_is_printed_by_the_table_of_its_intent(master: Profile, dune: Profile, tmp_path: Path) -> None:
    # nearly nothing is tuned, so the untuned master, which needs no working copy, is the other road
    picture = _picture(master, tmp_path)
    plain = opened_for(picture, dune, rendering=Rendering("perceptual"))
    tuned = opened_for(picture, dune, rendering=Rendering("perceptual"), recipe=by_hand(strength=0.2))
    one, two = (judge_rendition(o) for o in (plain, tuned))
    for a, b in zip(one.candidates, two.candidates, strict=True):
        assert (a.rendering, b.felt_change) == (b.rendering, pytest.approx(a.felt_change, abs=0.15))
    assert two.change.mean == pytest.approx(one.change.mean, abs=0.15)
    there = np.abs(make_pixels(plain).astype(float) - make_pixels(tuned).astype(float)) / 65535
    assert there.mean() < 0.004
    for o, name in ((plain, "plain.tif"), (tuned, "tuned.tif")):
        proof_file(o, Look(dune), tmp_path / name)
    shown = [read_picture(tmp_path / name).pixels.astype(float) / 65535 for name in ("plain.tif", "tuned.tif")]
    assert np.abs(shown[0] - shown[1]).mean() < 0.004


def test_a_thinned_picture_is_still_read_by_the_table_of_its_intent(
    master: Profile, dune: Profile, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    opened = opened_for(
        _picture(master, tmp_path), dune, rendering=Rendering("perceptual"), recipe=by_hand(strength=0.2)
    )
    all_pixels = judge_rendition(opened)
    monkeypatch.setattr(judging, "_MANY", 100)
    some = judge_rendition(opened)
    assert some.change.mean == pytest.approx(all_pixels.change.mean, abs=0.12) and some.change != all_pixels.change


def test_what_is_read_at_a_point_is_printed_by_the_table_of_the_intent(
    master: Profile, dune: Profile, tmp_path: Path
) -> None:
    picture, at = _picture(master, tmp_path), (70.0, 40.0)
    for recipe in ({}, {"strength": 0.2}):
        opened = opened_for(picture, dune, rendering=Rendering("perceptual"), recipe=by_hand(**recipe))
        values = picture.pixels[40, 70][None] / 65535.0
        there = PrintChain(master, dune, Rendering("perceptual")).print_lab(values)[0]
        crossed = Transform([Step(master, "relative"), Step(dune, "perceptual", True)]).apply(values)
        wrong = PrintChain(dune, dune, Rendering()).model.to_lab.apply(np.clip(crossed, 0, 1))[0]
        printed = read_point(opened, *at).printed
        assert delta_e_2000(printed, there) < 0.5
        assert delta_e_2000(wrong, there) > 1.5


def test_other_pixels_are_kept_only_where_the_tables_differ(master: Profile, dune: Profile, tmp_path: Path) -> None:
    assert reading_intent(dune, "perceptual") == "relative" and reading_intent(master, "perceptual") == "perceptual"
    opened = opened_for(_picture(master, tmp_path), dune, rendering=Rendering("perceptual"))
    assert not opened.open.has_reading("perceptual") and opened.open.has_reading("absolute")
    assert isinstance(opened.reading, Pyramid) and opened.reading is not opened.open.pyramid
    assert (
        opened.open.has_reading("perceptual")
        and opened.rendered(Rendering("absolute")).tuned.pyramid is opened.open.pyramid
    )


def test_the_screen_shows_both_by_their_own_tables(
    master: Profile, dune: Profile, screen: Profile, tmp_path: Path
) -> None:
    opened = opened_for(_picture(master, tmp_path), dune, rendering=Rendering("perceptual"))
    road = ScreenRoad(opened.source, dune, Rendering("perceptual"), Look(screen), master=opened.space.profile)
    flat = opened.open.picture.pixels.reshape(-1, master.channels) / 65535.0
    exact = Look(screen).leg(dune).rgb(PrintChain(master, dune, Rendering("perceptual")).device(flat))
    assert np.abs(_rgb(road.neutral.paint(opened.reading.whole)) - exact * 255).mean() < 1.0
    to_xyz = Transform([Step(master, "relative"), Step(xyz_profile(), "relative")])
    plain = np.clip(Transform([Step(xyz_profile()), Step(screen, "relative")]).apply(to_xyz.apply(flat)), 0, 1)
    assert np.abs(_rgb(road.master.paint(opened.open.pyramid.whole)) - plain * 255).mean() < 1.0


def _rgb(painted: np.ndarray) -> np.ndarray:
    return np.stack([painted >> 16 & 255, painted >> 8 & 255, painted & 255], axis=-1).reshape(-1, 3).astype(float)


def test_a_judged_request_reads_for_each_candidate(master: Profile, dune: Profile) -> None:
    pixels = _pixels(master, 90, 120)
    judged = judge(request_for(pixels, master, dune, Rendering("perceptual")))
    values = pixels.reshape(-1, master.channels) / 65535.0
    lab = master_space(master).to_lab(pixels).reshape(-1, 3).astype(float)
    printed = PrintChain(master, dune, Rendering("perceptual")).print_lab(values)
    assert judged.change.mean == pytest.approx(delta_e_2000(lab, printed).mean(), abs=0.15)


def test_a_second_picture_in_the_same_space_is_not_copied(rng: np.random.Generator) -> None:
    """Every file brings a profile object of its own: what counts are the bytes."""
    pixels = rng.integers(0, 65536, (40, 50, 3)).astype(np.uint16)
    for _ in range(2):
        profile = Profile(space_bytes("ROMM"), "embedded")
        assert tunable(pixels, profile) is pixels
        assert OpenPicture(Picture(pixels, profile, None), "x").pyramid.whole is pixels  # type: ignore[arg-type]
