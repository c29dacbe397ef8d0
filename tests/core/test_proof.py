"""The proof: exact road, the engine's own programs, beyond the paper, areas, modelling, advice."""

import subprocess
from pathlib import Path

import numpy as np
import pytest
from skimage import data as photographs
from tests.conftest import PRESS, opened_for, request_for

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.colour.lab import compensate_xyz, lab_to_xyz, xyz_to_lab
from rehearsal.core.icc import Profile, destination_black, open_profile, source_black
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.model import paper_model
from rehearsal.core.picture.file import Picture, read_picture
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof import judging
from rehearsal.core.proof.advice import CANDIDATES, count_levels, shadow_separation
from rehearsal.core.proof.beyond import CAUSES, causes, find_beyond, full_share, near_whites
from rehearsal.core.proof.chain import VIEWS, Light, Look, MasterLeg, PrintChain, ScreenLeg, fitted_master, master_scale
from rehearsal.core.proof.judging import Judgement, judge
from rehearsal.core.proof.lattice import delta_lattice
from rehearsal.core.proof.modelling import MasterWindows
from rehearsal.core.proof.printmap import print_image
from rehearsal.core.proof.screenroad import ScreenRoad
from rehearsal.core.tuning.workingcopy import tunable, working_copy_space
from rehearsal.core.values.recipe import by_hand
from rehearsal.core.values.rendering import Rendering

SRGB_FILE = Path("/usr/share/color/icc/sRGB.icc")


@pytest.fixture(scope="module")
def coffee() -> np.ndarray:
    """An open photograph shipped with scikit-image (CC0), as 16-bit sRGB."""
    return photographs.coffee().astype(np.uint16) * 257


@pytest.fixture(scope="module")
def cloths(small_cloths: Path) -> Picture:
    return read_picture(small_cloths)


def _judged(picture: Picture, paper: Profile, **fields: object) -> Judgement:
    return judge(request_for(picture.pixels, picture.profile, paper, full=picture.pixels, **fields))  # type: ignore[arg-type]


@pytest.mark.parametrize("rendering", [*CANDIDATES, Rendering("absolute", False)])
def test_print_colours_against_the_engines_own_program(rendering: Rendering, coffee: np.ndarray) -> None:
    # transicc twice: picture to press, press to Lab; a separate road through the same library
    values = coffee.reshape(-1, 3)[::6000] / 65535.0
    intent = ("perceptual", "relative", "saturation", "absolute").index(rendering.intent)
    there = ["transicc", "-n", f"-i{SRGB_FILE}", f"-o{PRESS}", f"-t{intent}", "-c0"]
    ink = _run([*there, "-b"] if rendering.compensate else there, values * 255)
    theirs = _run(["transicc", "-n", f"-i{PRESS}", "-o*Lab", "-t1", "-c0"], ink)
    ours = PrintChain(open_profile(SRGB_FILE), open_profile(PRESS), rendering).print_lab(values)
    assert delta_e_2000(ours, theirs).max() < 0.15


def _run(command: list[str], values: np.ndarray) -> np.ndarray:
    text = "".join(" ".join(f"{v:.7f}" for v in row) + "\n" for row in values)
    out = subprocess.run(command, input=text, capture_output=True, text=True, check=True).stdout
    return np.array([[float(v) for v in line.split()] for line in out.splitlines() if line.strip()])


def test_compensation_follows_the_published_formula(press: Profile) -> None:
    # ISO 18619 worked on the uncompensated chain: inside the gamut the two must agree
    chain = PrintChain(working_space("sRGB"), press, Rendering("relative", True))
    greys = np.repeat(np.linspace(0.25, 0.9, 12)[:, None], 3, axis=1)
    wanted = fitted_master(chain.space.to_lab(np.round(greys * 65535).astype(np.uint16)), chain.space.profile, press)
    # lightness only: this profile's own tables tint greys by up to 0.6
    assert np.abs(wanted[:, 0] - chain.print_lab(greys)[:, 0]).max() < 0.3
    white = np.array([[100.0, 0, 0]])
    source, target = source_black(chain.space.profile, "relative"), destination_black(press, "relative")
    np.testing.assert_allclose(xyz_to_lab(compensate_xyz(lab_to_xyz(white), source, target)), white, atol=1e-9)


@pytest.mark.parametrize("view", VIEWS)
def test_paper_views(view: str, dune: Profile, screen: Profile) -> None:
    leg = ScreenLeg(dune, screen, view, Light(lux=200, screen_white=120))
    white = leg.paper_rgb
    black = leg.rgb(paper_model(dune).black_device[None])[0]
    whiteness = {"fitted": 1.0, "true-black": 1.0, "on-paper": 0.95, "on-paper-bright": 1.0, "in-its-light": 0.7}[view]
    assert white.max() == pytest.approx(whiteness, abs=0.05)
    assert (black.max() < 0.05) == (view == "fitted")
    hold = master_scale(leg)
    assert (hold == 1.0) == (view in ("fitted", "true-black"))
    held = MasterLeg(working_space("sRGB"), screen, hold).rgb(np.ones((1, 3)))[0]
    assert held.max() <= white.max() + 0.02


def test_paper_outshines_a_dim_screen(dune: Profile, screen: Profile) -> None:
    assert ScreenLeg(dune, screen, "in-its-light", Light(2000, 80)).outshines
    assert not ScreenLeg(dune, screen, "in-its-light", Light(150, 120)).outshines


def test_beyond_is_a_fact_of_picture_and_paper(cloths: Picture, dune: Profile) -> None:
    # changing the intent leaves the flags where they are (common practice, no source)
    shares = {_judged(cloths, dune, rendering=r).beyond.share for r in CANDIDATES}
    assert len(shares) == 1


def test_share_against_the_exact_road(cloths: Picture, coffee: np.ndarray, dune: Profile, gloss: Profile) -> None:
    for pixels, profile in ((cloths.pixels, cloths.profile), (coffee[::2, ::2], working_space("sRGB"))):
        for paper in (dune, gloss):
            lab = master_space(profile).to_lab(pixels)
            field = delta_lattice(paper)
            found = find_beyond(lab, field)
            exact = float((field.exact(lab.reshape(-1, 3)) > 1.5).mean() * 100)
            assert found.share == pytest.approx(exact, abs=0.2)
            assert sum(found.by_cause) == pytest.approx(found.share)
            assert full_share(pixels, master_space(profile).to_lab, field) == pytest.approx(exact, abs=0.3)


def test_everything_fits_where_it_must(dune: Profile) -> None:
    # colours that the paper itself prints, 3 Lab inside its solid, are never beyond it
    inside = paper_model(dune).solid.nodes(depth=3.0)[::50].astype(np.float32)[None]
    assert find_beyond(inside, delta_lattice(dune)).share == 0.0


def test_causes_on_made_up_pairs() -> None:
    wanted = np.array([[5.0, 0, 0], [99.0, 2, 0], [50.0, 90, 0]])
    nearest = np.array([[15.0, 0, 0], [93.0, 2, 0], [50.0, 70, 0]])
    index, mixed = causes(wanted, nearest)
    assert [CAUSES[i] for i in index] == ["too_dark", "too_light", "too_saturated"]
    assert not mixed.any()


def test_bluish_white_is_colder_than_cream_paper() -> None:
    cream, cool = np.array([94.8, 0.6, 3.9]), np.array([97.0, 1.6, -4.0])
    sky = np.full((10, 10, 3), [92.0, -1.0, -5.0])
    assert near_whites(sky, cream).share == 100.0
    assert near_whites(sky, cool).share == 0.0
    assert near_whites(np.full((4, 4, 3), [60.0, 0, -30]), cream).share == 0.0


def test_areas_and_specks_add_up(cloths: Picture, dune: Profile) -> None:
    result = _judged(cloths, dune)
    assert len(result.areas) >= 3
    assert sum(a.share for a in result.areas) + result.specks == pytest.approx(result.beyond.share, abs=1e-9)
    assert [a.share for a in result.areas] == sorted((a.share for a in result.areas), reverse=True)
    assert all(a.median > 1.0 and a.p99 >= a.median for a in result.areas)
    strongest = next(a for a in result.areas if a.cause == "too_saturated")
    assert "orange" in strongest.hue


def test_an_area_is_where_it_was_put(gloss: Profile) -> None:
    pixels = np.full((200, 300, 3), 30000, np.uint16)
    pixels[40:100, 60:180] = (2000, 60000, 1500)
    result = judge(request_for(pixels, working_space("ROMM"), gloss))
    area = result.areas[0]
    assert area.cause == "too_saturated" and "green" in area.hue
    np.testing.assert_allclose(area.box, (60 / 300, 40 / 200, 120 / 300, 60 / 200), atol=0.02)
    assert area.share == pytest.approx(120 * 60 / (300 * 200) * 100, abs=0.3)


def test_modelling_of_known_prints(rng: np.random.Generator) -> None:
    y, x = np.mgrid[0:160, 0:160]
    lab = np.stack([50 + 12 * np.sin(x / 7.0), 20 * np.cos(y / 9.0), np.full(x.shape, 5.0)], axis=-1)
    windows = MasterWindows(lab)
    same, softer = windows.against(lab), windows.against(lab * [0.5, 0.5, 0.5] + 20)
    flat = windows.against(np.full_like(lab, 40.0))
    turned = windows.against(np.array([100.0, 0, 10]) - lab)
    assert same.mean() == pytest.approx(1.0, abs=1e-3) and same.flat_share() == 0.0
    assert softer.mean() == pytest.approx(1.0, abs=0.05)
    assert softer.by_label(np.zeros(x.shape, int), 1)[1] == pytest.approx([0.5], abs=0.03)
    halves = np.repeat([[0, 1]], 80, axis=1).repeat(160, axis=0)
    kept, contrasts = softer.by_label(halves, 3)
    assert kept[:2] == pytest.approx([softer.mean(halves == 0), softer.mean(halves == 1)], abs=1e-4) and kept[2] is None
    seen = [softer.contrast[(halves == i) & (softer.weight > 0)].mean() for i in (0, 1)]
    assert contrasts[:2] == pytest.approx(seen, abs=1e-4)
    assert flat.mean() < 1e-3 and flat.flat_share() > 95
    assert turned.mean() == 0.0 and turned.reversed_share > 99


def test_shadow_levels() -> None:
    assert count_levels(np.arange(81) * 0.25) == 20
    assert count_levels(np.full(81, 17.0)) == 0


def test_compensation_keeps_the_shadows_apart(dune: Profile, gloss: Profile) -> None:
    # common practice, no source: with relative colorimetric, compensation changes the shadows clearly
    for paper in (dune, gloss):
        model = paper_model(paper)
        assert shadow_separation(model, CANDIDATES[0]) > shadow_separation(model, CANDIDATES[1]) + 2


def test_advice_says_when_nothing_is_to_be_seen(dune: Profile) -> None:
    flat = np.full((60, 60, 3), 62000, np.uint16)
    flat[:30] += 900
    result = judge(request_for(flat, working_space("sRGB"), dune))
    assert result.advice.verdict == "no_visible_difference"
    assert result.advice.rendering == Rendering("relative", True)


def test_change_of_a_thinned_picture(dune: Profile, screen: Profile, monkeypatch: pytest.MonkeyPatch) -> None:
    # an open photograph (CC0) above half a megapixel; the road that leaves nothing out is the check
    picture = np.tile(photographs.astronaut().astype(np.uint16) * 257, (2, 1, 1))
    request = request_for(picture, working_space("sRGB"), dune, screen=screen)
    thin = judge(request)
    monkeypatch.setattr(judging, "_MANY", picture.size)
    full = judge(request)
    assert thin.change != full.change, "something was left out"
    for name in ("change", "fitted_change"):
        for figure in ("mean", "median", "p95", "p99"):
            assert getattr(getattr(thin, name), figure) == pytest.approx(getattr(getattr(full, name), figure), abs=0.05)
    for name in ("colder", "screen_print", "screen_master"):
        assert getattr(thin, name) == pytest.approx(getattr(full, name), abs=0.05)
    assert thin.beyond.share == full.beyond.share and thin.areas == full.areas


@pytest.mark.parametrize("asked", [Rendering("absolute", False), Rendering("saturation", True)])
def test_only_candidates_are_advised(asked: Rendering, press: Profile) -> None:
    # on a dark-white press the absolute intent scores best against the screen, and still is no candidate
    pixels = np.full((60, 60, 3), 52000, np.uint16)
    pixels[20:40] = (45000, 9000, 5000)
    result = judge(request_for(pixels, working_space("sRGB"), press, rendering=asked))
    assert asked in [c.rendering for c in result.candidates]
    assert result.advice.rendering in CANDIDATES
    plain = judge(request_for(pixels, working_space("sRGB"), press))
    mine, same = result.advice, plain.advice
    assert (mine.rendering, mine.verdict, mine.reasons) == (same.rendering, same.verdict, same.reasons)


def test_version_4_perceptual_is_always_compensated(baryta: Profile, cloths: Picture) -> None:
    on = PrintChain(cloths.profile, baryta, Rendering("perceptual", True))
    off = PrintChain(cloths.profile, baryta, Rendering("perceptual", False))
    values = cloths.pixels.reshape(-1, 3)[::400] / 65535.0
    np.testing.assert_array_equal(on.print_lab(values), off.print_lab(values))


def test_table_road_against_the_exact_road(cloths: Picture, dune: Profile) -> None:
    chain = PrintChain(cloths.profile, dune, Rendering())
    quick = print_image(chain, cloths.pixels)
    exact = chain.print_lab(cloths.pixels.reshape(-1, 3) / 65535.0).reshape(quick.shape)
    gap = delta_e_2000(quick.astype(np.float64), exact)
    assert gap.mean() < 0.15 and np.percentile(gap, 95) < 0.4


def test_grey_and_cmyk_masters(dune: Profile, press: Profile) -> None:
    grey = np.tile(np.linspace(0, 65535, 64).astype(np.uint16), (64, 1))[..., None]
    result = judge(request_for(grey, working_space("gray"), dune))
    assert result.beyond.by_cause[2] < 1.0
    ink = np.zeros((40, 40, 4), np.uint16)
    ink[:20, :, 3] = 65535
    black_text = judge(request_for(ink, press, dune))
    assert np.isfinite(black_text.change.mean)


def test_working_copy_of_a_cmyk_master_prints_like_the_master(
    press: Profile, gloss: Profile, rng: np.random.Generator
) -> None:
    # the direct chain, press to paper, is the outside road; the copy must keep the press's own black
    amount = rng.random((4000, 4)) * [1, 1, 1, 0.9]
    amount *= np.minimum(1, 2.6 / amount.sum(axis=1))[:, None]
    ink = np.round(np.concatenate([amount, [[0.6, 0.5, 0.5, 0.95]]]) * 65535).astype(np.uint16)[None]
    for rendering in CANDIDATES:
        copy, space = tunable(ink, press, rendering.intent), working_copy_space(press, rendering.intent)
        direct = PrintChain(press, gloss, rendering).print_lab(ink[0] / 65535.0)
        ours = PrintChain(space.profile, gloss, rendering).print_lab(copy[0] / 65535.0)
        gap = delta_e_2000(direct, ours)
        assert gap.mean() < 0.3 and np.percentile(gap, 99) < 2.0 and gap[-1] < 0.6, rendering
    assert (
        delta_e_2000(space.to_lab(copy[0]).astype(float), master_space(press).to_lab(ink[0]).astype(float)).mean() < 0.2
    )


def test_screen_road_against_the_exact_road(cloths: Picture, dune: Profile, screen: Profile) -> None:
    look = Look(screen)
    road = ScreenRoad(cloths.profile, dune, Rendering(), look)
    opened = opened_for(cloths, dune, recipe=by_hand(lightness=1 / 3, contrast=10, strength=8, warmth=6))
    quick = road.moving(opened.tuned).paint(cloths.pixels)
    h, w = cloths.pixels.shape[:2]
    tuned = opened.tuned.region((0, 0, w, h), w, h).reshape(-1, 3) / 65535.0
    chain = PrintChain(cloths.profile, dune, Rendering())
    exact = look.leg(dune).rgb(chain.device(tuned)).reshape(cloths.pixels.shape) * 255
    shown = np.stack([quick >> 16 & 255, quick >> 8 & 255, quick & 255], axis=-1).astype(float)
    assert np.abs(shown - exact).mean() < 1.0 and np.percentile(np.abs(shown - exact), 99) < 5
