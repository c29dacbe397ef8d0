"""Each figure's definition held to its numbers (docs/numbers.md): a constant shifted by a third is noticed here.

Expected values are worked out from the definitions, by NumPy and SciPy where they have the operation, or by hand.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy import ndimage
from skimage import data as photographs
from tests.conftest import demo_profile, request_for

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile, Step, Transform, xyz_profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.comparing import _warning
from rehearsal.core.papers.facts import measure, table_noise
from rehearsal.core.papers.health import health
from rehearsal.core.papers.model import paper_model
from rehearsal.core.papers.reach import near_slice
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.advice import Rehearsed, candidate_figures
from rehearsal.core.proof.areas import _describe
from rehearsal.core.proof.beyond import Lost, causes, find_beyond, near_whites
from rehearsal.core.proof.chain import Look, ScreenLeg, master_scale
from rehearsal.core.proof.judging import judge
from rehearsal.core.proof.lattice import DeltaLattice, delta_lattice
from rehearsal.core.proof.modelling import MasterWindows
from rehearsal.core.proof.scout import PaperCost, scout_sentence
from rehearsal.core.proof.screenroad import ScreenRoad
from rehearsal.core.screen.brightness import advise_brightness
from rehearsal.core.screen.check import check_patches, check_screen
from rehearsal.core.values.rendering import Rendering

# ---- modelling and advice


def _texture(lightness: float, seed: int = 1) -> np.ndarray:
    """A grey texture (60, 80, 3) about a lightness, smooth enough to keep its contrast."""
    lab = np.zeros((60, 80, 3), np.float32)
    field = ndimage.gaussian_filter(np.random.default_rng(seed).normal(size=(60, 80)), 2.5)
    lab[..., 0] = lightness + 3 * field / field.std()
    return lab


def test_modelling_looks_at_windows_of_nine_pixels() -> None:
    lab = _texture(50)
    windows = MasterWindows(lab)
    smooth = ndimage.gaussian_filter(lab[..., 0], 1.0)
    for y, x in ((20, 30), (40, 60)):
        window = smooth[y - 4 : y + 5, x - 4 : x + 5]
        assert windows.variance[y, x] == pytest.approx(window.var(), rel=1e-3)
    other = lab * 0.5
    soft = ndimage.gaussian_filter(other[..., 0], 1.0)
    one, two = smooth[16:25, 26:35], soft[16:25, 26:35]
    covariance = ((one - one.mean()) * (two - two.mean())).mean()
    assert windows.against(other).contrast[20, 30] == pytest.approx(covariance / one.var(), rel=1e-3)


def test_the_score_is_felt_change_and_a_fifth_of_what_goes_flat(dune: Profile) -> None:
    lab = np.concatenate([_texture(10), _texture(25)])
    printed = lab.copy()
    printed[60:, :, 0] = 25.0  # the lighter half goes flat
    raw, fitted = delta_e_2000(lab, printed), delta_e_2000(lab, printed) * 0.5
    modelling = MasterWindows(lab).against(printed)
    none = np.zeros(lab.shape[:2], bool)
    made = candidate_figures(
        paper_model(dune), Rehearsed(Rendering(), printed, modelling, raw, fitted), lab, none, none
    )
    assert made.felt_change == pytest.approx((raw.mean() + fitted.mean()) / 2, rel=1e-5)
    assert 30 < made.flat < 60 and made.score == pytest.approx(made.felt_change + 0.2 * made.flat, rel=1e-5)
    # depths are what lies under L* 20: the half at L* 25 does not count among them
    assert made.flat_depths < 8


def test_depths_of_a_judgement_lie_under_l_20(dune: Profile) -> None:
    space = master_space(working_space("ROMM"))
    lab = np.concatenate([_texture(8), _texture(26)]).astype(np.float64)
    grey = np.interp(lab[..., 0], space.to_lab(np.arange(0, 65536, 16).astype(np.uint16)[None, :, None].repeat(3, 2))[0, :, 0],
                     np.arange(0, 65536, 16))  # fmt: skip
    pixels = np.round(grey)[..., None].repeat(3, 2).astype(np.uint16)
    result = judge(request_for(pixels, working_space("ROMM"), dune, Rendering("relative", False)))
    assert result.shadow_share == pytest.approx(50, abs=2)
    # without compensation the deep half runs together on matte paper, the other one is kept
    assert result.flat_depths > 85 and result.flat_all == pytest.approx(result.flat_depths / 2, abs=6)


def test_advice_is_the_same_whatever_limit_is_looked_at(dune: Profile) -> None:
    # open photograph (CC0) with depths that close without compensation: by a limit of 30 nothing would lose depth
    pixels = photographs.rocket()[::3, ::3].astype(np.uint16) * 257
    usual, wide = (judge(request_for(pixels, working_space("sRGB"), dune, limit=limit)) for limit in (1.5, 30.0))
    assert usual.beyond.lost.depth > 2 > wide.beyond.lost.depth
    assert any("depths" in reason for reason in usual.advice.reasons) and wide.advice == usual.advice


def test_a_prescription_stands_and_says_so(small_cloths, dune: Profile) -> None:  # type: ignore[no-untyped-def]
    from rehearsal.core.picture.file import read_picture

    picture, wish = read_picture(small_cloths), Rendering("relative", False)
    result = judge(request_for(picture.pixels, picture.profile, dune, wish, default=wish, prescribed=True))
    plain = judge(request_for(picture.pixels, picture.profile, dune, wish, default=wish))
    assert result.advice.verdict == "clear" and result.advice.rendering == wish
    assert result.advice.reasons[0] == "The lab prescribes this."
    assert "The lab prescribes this." not in plain.advice.reasons


# ---- beyond the paper


@pytest.mark.parametrize(("share", "mixed"), [(0.25, True), (0.29, True), (0.33, False), (0.45, False)])
def test_causes_are_mixed_within_three_tenths(share: float, mixed: bool) -> None:
    # at a mean L* of 50 CIEDE2000 has S_L = 1: the lightness part is ΔL², the colour part ΔE² at equal lightness
    want = np.array([[50.0, 40.0, 30.0]])
    best = np.array([[50.0, 34.0, 25.5]])
    colour = float(delta_e_2000(want, best)[0]) ** 2
    for sign in (-1, 1):
        ratio = (1 + sign * share) / (1 - sign * share)  # |l − c| = share · (l + c)
        half = np.sqrt(ratio * colour) / 2
        shift = np.array([[half, 0, 0]])
        kind, both = causes(want - shift, best + shift)
        assert bool(both[0]) is mixed and int(kind[0]) == (0 if sign > 0 else 2)


def test_near_white_begins_at_l_85() -> None:
    white = np.array([95.0, 0.0, 4.0])
    for lightness, share in ((84.0, 0.0), (81.0, 0.0), (86.0, 100.0)):
        assert near_whites(np.array([[[lightness, 0.0, -3.0]]]), white).share == share
    # nearer than 2 ΔE₀₀ on the far side does not count
    assert near_whites(np.array([[[90.0, 0.0, 2.6]]]), white).share == 0.0


def _colour_with_delta(paper: Profile, wanted: float) -> np.ndarray:
    """An orange (3,) that lies so far beyond the paper, by bisection on the exact search."""
    field, low, high = delta_lattice(paper), 40.0, 110.0
    for _ in range(30):
        middle = (low + high) / 2
        lab = np.array([[60.0, middle * 0.7, middle * 0.7]])
        low, high = (middle, high) if field.exact(lab)[0] < wanted else (low, middle)
    return np.array([60.0, high * 0.7, high * 0.7])


def test_small_differences_beyond_the_paper_are_kept(dune: Profile) -> None:
    lab = _colour_with_delta(dune, 0.35)
    assert delta_lattice(dune).exact(lab[None])[0] == pytest.approx(0.35, abs=0.02)
    assert DeltaLattice(dune).delta(lab[None])[0] > 0.15


def test_delta_of_colours_far_outside_is_not_cut_short(dune: Profile) -> None:
    # the corners of ROMM RGB reach a* −187 and b* ±172; the search itself is the exact road
    corners = np.stack(
        np.meshgrid([0.0, 0.35, 0.7, 1.0], [0.0, 0.5, 1.0], [0.0, 0.5, 1.0], indexing="ij"), axis=-1
    ).reshape(-1, 3)
    lab = master_space(working_space("ROMM")).to_lab(np.round(corners * 65535).astype(np.uint16)).astype(np.float64)
    far = lab[(np.abs(lab[:, 1:]) > 129).any(axis=1)]
    assert len(far) > 5
    field = DeltaLattice(dune)
    found, exact = field.delta(far), field.exact(far)
    assert np.median(np.abs(found - exact)) < 0.15 and np.percentile(np.abs(found - exact), 90) < 0.6


def test_a_lattice_grows_and_forgets_nothing(dune: Profile, rng: np.random.Generator) -> None:
    field = DeltaLattice(dune)
    lab = rng.uniform([5, -60, -60], [95, 60, 60], (300, 3))
    first = field.look_up(lab)
    field.look_up(rng.uniform([0, -180, -170], [100, 140, 170], (1500, 3)))
    np.testing.assert_array_equal(field.look_up(lab), first)
    assert np.abs(first[:, 0] - field.exact(lab)).mean() < 0.1


def test_values_that_are_no_numbers_do_no_harm(dune: Profile) -> None:
    lab = np.array([[np.nan, np.inf, -np.inf], [1e30, -1e30, np.nan], [50.0, 0.0, 0.0]])
    assert np.isfinite(delta_lattice(dune).look_up(lab)).all()


def test_at_the_edge_is_within_four_tenths_of_the_limit(dune: Profile) -> None:
    field, labels = delta_lattice(dune), np.ones((40, 50), np.int32)
    lab = np.zeros((40, 50, 3), np.float32)
    for delta, edge in ((1.75, True), (2.1, False), (2.6, False)):
        lab[:] = _colour_with_delta(dune, delta)
        beyond = find_beyond(lab, field, 1.5)
        modelling = MasterWindows(lab).against(lab)
        area = _describe(lab, beyond, labels, field, 1.5, modelling, 1.0)[0]
        assert area.median == pytest.approx(delta, abs=0.15) and area.at_edge is edge


# ---- screen and light


def test_the_master_is_held_at_the_papers_luminance(screen: Profile) -> None:
    quay = demo_profile("OS17_OldQuay_Fine.icc")
    leg = ScreenLeg(quay, screen, "on-paper")
    xyz = Transform([Step(screen), Step(xyz_profile(), "relative")]).apply(leg.paper_rgb[None])[0]
    assert abs(xyz[0] / 0.9642 - xyz[1]) > 0.003, "a warm white: X and Y differ"
    assert master_scale(leg) == pytest.approx(xyz[1], abs=1e-9)


def test_holding_can_be_switched_off(small_cloths, screen: Profile) -> None:  # type: ignore[no-untyped-def]
    quay, master = demo_profile("OS17_OldQuay_Fine.icc"), working_space("ROMM")
    held, free = (ScreenRoad(master, quay, Rendering(), Look(screen, "on-paper", hold=h), 17) for h in (True, False))
    assert held.master_scale < 0.95 and free.master_scale == 1.0
    assert free.mount_rgb.min() > 0.99 > held.mount_rgb.max()


def test_screens_are_set_between_60_and_160() -> None:
    # 60 to 160 cd/m² (docs/numbers.md); E ρ / π by hand
    assert advise_brightness(250, 0.88, 100).set_screen_to == pytest.approx(70.03, abs=0.01)
    assert advise_brightness(100, 0.88, 100).set_screen_to == 60
    assert advise_brightness(550, 0.88, 100).set_screen_to == pytest.approx(154.06, abs=0.01)
    assert advise_brightness(2000, 0.88, 100).set_screen_to == 160


def _readings(profile: Profile, luminance: float, worst: float = 0.0) -> str:
    """State of a screen that keeps its profile's promise at a luminance, but for one patch."""
    rgb = check_patches()
    xyz = Transform([Step(profile), Step(xyz_profile(), "relative")]).apply(rgb)
    white = np.array([0.9642, 1.0, 0.8249])
    if worst:
        from rehearsal.core.colour.lab import lab_to_xyz, xyz_to_lab

        lab = xyz_to_lab(xyz)
        at = 6  # a middle grey, where a step of L* is about a ΔE₀₀
        steps = np.linspace(0, 12, 2401)
        off = np.repeat(lab[at][None], len(steps), axis=0)
        off[:, 0] += steps
        lab[at, 0] += steps[int(np.argmin(np.abs(delta_e_2000(off, lab[at][None].repeat(len(steps), 0)) - worst)))]
        xyz = lab_to_xyz(lab)
    # the screen's own white is D50 here, so that nothing is adapted
    return check_screen(rgb, xyz / white * white * luminance, profile, 100.0, "D50").state


def test_limits_of_a_checked_screen(screen: Profile) -> None:
    # good: mean up to 1.5 and worst up to 4; usable up to 6; luminance within 10 % (docs/numbers.md)
    states = [_readings(screen, 100.0, worst) for worst in (0.0, 3.8, 4.3, 5.8, 6.3)]
    assert states == ["good", "good", "usable", "usable", "calibrate"]
    assert [_readings(screen, v) for v in (91.0, 109.0, 88.0, 112.0)] == ["good", "good", "usable", "usable"]


# ---- papers


def test_suspected_profiles_begin_at_their_limits() -> None:
    # the same ink 3.5 on average, white 2, black 4 (docs/numbers.md)
    assert _warning((3.4, 5.0), 1.9, 3.9) == ""
    for same, white, black in (
        ((3.6, 5.0), 1.0, 1.0),
        ((1.0, 2.0), 2.2, 1.0),
        ((1.0, 2.0), 1.0, 4.2),
    ):
        assert _warning(same, white, black) != ""


def test_a_cast_is_named_from_a_chroma_of_three(dune: Profile) -> None:
    facts = measure(dune)
    for chroma, named in ((2.8, False), (3.3, True), (4.4, True)):
        kinds = [note.kind for note in health(dune, replace(facts, drift_chroma=chroma))]
        assert ("cast" in kinds) is named


def test_tables_that_differ_are_not_called_alike(dune: Profile) -> None:
    from tests.core.test_health_and_names import _bend, _notes, _with_tags

    for factor, alike in ((1.0008, True), (1.02, False)):
        bent = _bend(dune, "B2A1", lambda v, f=factor: np.clip(v * f, 0, 1))
        found = _notes(_with_tags(dune, B2A0=bent), "alike-tables")
        assert bool(found) is alike
        assert [0 < note.figures[0] < 0.4 for note in found] == [True] * alike  # type: ignore[operator]


def test_noise_is_measured_well_inside_the_solid(dune: Profile) -> None:
    model = paper_model(dune)
    deep = model.solid.nodes(depth=4.0, most=8000)
    skin = model.solid.nodes(most=8000)

    def noise(nodes: np.ndarray) -> float:
        back = model.to_lab.apply(np.clip(model.from_lab.apply(nodes), 0, 1))
        return float(np.percentile(delta_e_2000(nodes, back), 95))

    assert table_noise(model)[1] == pytest.approx(noise(deep)) != pytest.approx(noise(skin), rel=0.02)
    around = np.random.default_rng(2).normal(size=(40, 3))
    around *= 2.9 / np.linalg.norm(around, axis=1)[:, None]
    assert all(model.solid.contains(deep + step).mean() > 0.999 for step in around)


def test_a_slice_holds_what_lies_within_four_l() -> None:
    lab = np.zeros((1, 5, 3))
    lab[0, :, 0] = (44.5, 46.5, 50, 53.5, 55.5)
    np.testing.assert_array_equal(near_slice(lab, 50.0)[0], [False, True, True, True, False])


# ---- the scout's sentence


def _cost(**changes: object) -> PaperCost:
    given = {
        "lost": Lost(8.0, 3.0, 5.0, 0.4, (5.0, 0.0, 3.0)), "fitted_change": 1.0, "black": 18.0,
        "white": (96.0, 0.0, 0.0), "modelling": 0.95,
        "strong": 0.9, "strong_miss": 3.0, "neutrals": 1.0, "nearness": 2.0,
    } | changes  # fmt: skip
    return PaperCost(**given)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("field", "little", "enough", "words"),
    [
        ("strong_miss", 2.87, 2.83, "holds the strong parts better"), ("black", 17.4, 17.2, "has the deeper black"),
        ("neutrals", 0.75, 0.65, "has the quieter greys"), ("white", (96.6, 0.0, 0.0), (96.8, 0.0, 0.0), "has the lighter white"),
        ("nearness", 1.85, 1.75, "stays nearer to the picture"), ("strong", 0.915, 0.925, "keeps the strong parts' modelling better"),
    ],
)  # fmt: skip
def test_what_the_second_paper_does_better(field: str, little: object, enough: object, words: str) -> None:
    care = "deep black" if field != "black" else "nearness"
    first = _cost(black=10.0) if care == "deep black" else _cost(nearness=0.5)
    for value, said in ((little, False), (enough, True)):
        text = scout_sentence(("a", "b"), [first, _cost(**{field: value})], care)
        assert (words in text) is said and ("does nothing clearly better" in text) is not said


def test_a_neutral_white_is_named_when_the_others_is_tinted() -> None:
    for tint, said in ((1.4, False), (1.6, True)):
        text = scout_sentence(("a", "b"), [_cost(black=10.0, white=(96.0, 0.0, tint)), _cost()], "deep black")
        assert ("more neutral white" in text) is said
