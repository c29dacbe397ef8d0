"""The paper scout's figures against the judgement, the line's flat places, compensation in words, unconverted numbers."""

import numpy as np
import pytest
from tests.conftest import demo_profile, opened_for, request_for

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.facts import measure
from rehearsal.core.picture.file import Picture, PictureInfo, read_picture
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.advice import Compensation, compensation_effect, strong_parts
from rehearsal.core.proof.beyond import Lost
from rehearsal.core.proof.chain import Look, PrintChain, ScreenLeg, fitted_master
from rehearsal.core.proof.judging import FirstFigures, Sent, first_figures, judge
from rehearsal.core.proof.line import line_places, read_line
from rehearsal.core.proof.scout import CARES, PaperCost, paper_cost, ranked, scout_sentence, white_words
from rehearsal.core.proof.screenroad import ScreenRoad
from rehearsal.core.tuning.opened import OpenPicture
from rehearsal.core.values.rendering import Rendering
from rehearsal.tasks.judging import judge_rendition
from rehearsal.tasks.maps import line_reading
from rehearsal.tasks.scouting import common_look, compare_two, picture_reach, scout, scout_sample

PAPERS = ("SK24_WhiteDune_Hi.icc", "SK24_SluiceGloss_Hi.icc", "OS17_OldQuay_Fine.icc")


def _first(values: np.ndarray, master: Profile, paper: Profile, rendering: Rendering) -> FirstFigures:
    sent = Sent(values, master)
    return first_figures(sent, sent, PrintChain(master, paper, rendering))


@pytest.fixture(scope="module")
def cloths(small_cloths) -> tuple[Picture, OpenPicture]:  # type: ignore[no-untyped-def]
    picture = read_picture(small_cloths)
    return picture, OpenPicture(picture)


@pytest.fixture(scope="module")
def costs(cloths: tuple[Picture, OpenPicture]) -> tuple[list[PaperCost], list[np.ndarray], list[np.ndarray]]:
    papers = [opened_for(cloths[1], demo_profile(name)) for name in PAPERS]
    found: dict[int, PaperCost] = {}
    shown: dict[int, tuple[np.ndarray, np.ndarray]] = {}
    scout(
        papers, Look(demo_profile("desk-screen-wide.icc"), "on-paper"), 200,
        lambda i, rgb, paper: shown.__setitem__(i, (rgb, paper)), found.__setitem__, lambda _s, _t: None,
    )  # fmt: skip
    return [found[i] for i in range(3)], [shown[i][0] for i in range(3)], [shown[i][1] for i in range(3)]


def test_scout_agrees_with_the_judgement(cloths, costs) -> None:  # type: ignore[no-untyped-def]
    picture, _opened = cloths
    for name, cost in zip(PAPERS, costs[0], strict=True):
        full = judge(request_for(picture.pixels, picture.profile, demo_profile(name)))
        assert cost.lost == full.beyond.lost, "one name, one figure"
        mine = next(f for f in full.candidates if f.rendering == Rendering())
        assert cost.fitted_change == pytest.approx(mine.fitted_change, abs=0.1)
        assert cost.black == pytest.approx(measure(demo_profile(name)).black[0])
        assert cost.modelling == pytest.approx(mine.modelling, abs=0.01)
        assert cost.strong == pytest.approx(mine.strong, abs=0.02)


def test_the_wall_is_in_one_light(costs) -> None:  # type: ignore[no-untyped-def]
    _costs, pictures, papers = costs
    assert all(p.shape == pictures[0].shape and p.shape[1] == 200 for p in pictures)
    white, cool, warm = (paper.astype(int) for paper in papers)
    # cool paper is bluer than white, warm paper yellower and darker; none clips in more than one channel
    assert cool[2] - cool[0] > white[2] - white[0] > warm[2] - warm[0] and warm.max() < white.max()
    assert max(int(np.count_nonzero(paper == 255)) for paper in papers) <= 1


def test_one_brightness_for_several_papers() -> None:
    screen, papers = demo_profile("desk-screen-wide.icc"), [demo_profile(name) for name in PAPERS]
    assert common_look(papers, Look(screen, "true-black")).scale is None
    # as bright as the screen allows, each paper alone has a factor of its own: the wall takes the smallest
    alone = [ScreenLeg(p, screen, "on-paper-bright").paper_scale for p in papers]
    assert max(alone) > 1.02 * min(alone)
    look = common_look(papers, Look(screen, "on-paper-bright"))
    assert look.scale == pytest.approx(min(alone))
    lit = [look.leg(p).paper_rgb for p in papers]
    assert max(rgb.max() for rgb in lit) == pytest.approx(1.0, abs=2e-3)
    assert lit[0].max() > lit[2].max() + 0.02


def _cost(**changes: object) -> PaperCost:
    given = {
        "lost": Lost(8.0, 3.0, 5.0, 0.4, (5.0, 0.0, 3.0)), "fitted_change": 1.0, "black": 18.0,
        "white": (97.0, 0.0, -1.0), "modelling": 0.95,
        "strong": 0.9, "strong_miss": 3.0, "neutrals": 1.0, "nearness": 2.0,
    } | changes  # fmt: skip
    return PaperCost(**given)  # type: ignore[arg-type]


def test_order_and_sentence() -> None:
    names = ("cotton", "gloss", "late")
    cotton, gloss = (
        _cost(),
        _cost(strong_miss=1.0, black=5.0, neutrals=2.0, nearness=1.0, white=(96.0, 1.5, -5.0)),
    )
    for care, best in zip(CARES, (1, 1, 1, 0, 1), strict=True):
        assert ranked([cotton, gloss, None], care)[0] == best and ranked([cotton, gloss, None], care)[2] == 2
    text = scout_sentence(names, [cotton, gloss, None], "strong colour")
    assert (
        text.startswith("gloss carries this picture best for strong colour")
        and "cotton comes next; it has the quieter greys" in text
    )
    assert "does nothing clearly better" in scout_sentence(
        names, [_cost(black=20.0, nearness=3.0), _cost(nearness=1.0)], "nearness"
    )
    assert scout_sentence(names, [None, None, None], "nearness") == ""
    assert white_words((97.0, 0.0, -4.0)).startswith("cool") and white_words((95.0, 0.0, 4.0)).startswith("warm")


def test_a_picture_without_colours_can_be_scouted() -> None:
    space = working_space("sRGB")
    grey = np.repeat(np.linspace(0, 65535, 120 * 90).astype(np.uint16).reshape(90, 120, 1), 3, axis=2)
    info = PictureInfo("grey", 120, 90, 16, "RGB", "sRGB", False, (), 300.0)
    sample = scout_sample(opened_for(Picture(grey, space, info), demo_profile(PAPERS[0])))
    found = [paper_cost(sample, demo_profile(name), Rendering()) for name in PAPERS]
    assert all(c.strong_miss is None and c.value("strong colour") == 0 for c in found)
    assert "no strong colours" in scout_sentence(PAPERS, found, "strong colour")
    assert ranked(found, "deep black")[0] == 1


def test_nearness_follows_what_the_wall_shows(cloths, dune: Profile, gloss: Profile) -> None:  # type: ignore[no-untyped-def]
    sample = scout_sample(opened_for(cloths[1], gloss))
    chain = PrintChain(sample.master, gloss, Rendering())
    target = (sample.lab + fitted_master(sample.lab, sample.master, gloss)) / 2
    relative = chain.print_lab(sample.values)
    for on_paper, printed in ((False, relative), (True, chain.model.absolute(relative))):
        cost = paper_cost(sample, gloss, Rendering(), on_paper=on_paper)
        assert cost.nearness == pytest.approx(float(delta_e_2000(target, printed).mean()))


def test_the_absolute_intent_is_compared_in_absolute_colours(cloths, gloss: Profile) -> None:  # type: ignore[no-untyped-def]
    picture = cloths[0]
    rendering = Rendering("absolute", False)
    full = judge(request_for(picture.pixels, picture.profile, gloss, rendering))
    first = _first(picture.pixels.reshape(-1, 3)[::23], picture.profile, gloss, rendering)
    assert first.change == pytest.approx(full.change.mean, abs=0.1)
    cost = paper_cost(scout_sample(opened_for(cloths[1], gloss)), gloss, rendering)
    assert cost.fitted_change == pytest.approx(full.fitted_change.mean, abs=0.1)


def test_gloss_beats_cotton_for_deep_black(costs) -> None:  # type: ignore[no-untyped-def]
    # common practice, no source: gloss for saturated colour and deep black
    found = costs[0]
    assert ranked(found, "deep black")[0] == 1 and ranked(found, "strong colour")[0] == 1
    assert ranked(found, "deep black")[-1] == 2


def test_two_profiles_over_the_open_picture(cloths) -> None:  # type: ignore[no-untyped-def]
    names = ("SK24_WhiteDune_Hi.icc", "SK24_WhiteDune_own.icc")
    one, two = (opened_for(cloths[1], demo_profile(n)) for n in names)
    found = compare_two(one, two, lambda _s, _t: None)
    pair = found.pair
    assert found.lost == (judge_rendition(one).beyond.lost, judge_rendition(two).beyond.lost)
    assert 0.01 < pair.proofs[0] < 1.5 and pair.warning == "" and abs(found.lost[0].share - found.lost[1].share) < 4
    # the custom profile brings hues inside; the very pixels are the check: what is gained less what is lost
    gained = [sum(area.share for area in side) for side in found.inside]
    assert 240 < max(found.picture.shape) <= 480, "small, for its frames"
    assert gained[1] > gained[0] and gained[1] - gained[0] == pytest.approx(
        found.lost[0].share - found.lost[1].share, abs=1.5
    )
    assert pair.same_ink is not None and pair.same_ink[0] > pair.proofs[0]


def test_reach_of_the_picture(cloths, dune: Profile) -> None:  # type: ignore[no-untyped-def]
    found = picture_reach(opened_for(cloths[1], dune), lambda _s, _t: None, 40_000)
    share = (found.delta > 1.5).mean() * 100
    full = judge(request_for(cloths[0].pixels, cloths[0].profile, dune))
    assert share == pytest.approx(full.beyond.share, abs=2.5)


def test_first_figures_are_near_the_last(cloths, dune: Profile) -> None:  # type: ignore[no-untyped-def]
    picture = cloths[0]
    flat = picture.pixels.reshape(-1, 3)
    values = flat[np.random.default_rng(3).choice(len(flat), 6000, replace=False)]
    first = _first(values, picture.profile, dune, Rendering())
    full = judge(request_for(picture.pixels, picture.profile, dune))
    assert first.lost.colour == pytest.approx(full.beyond.lost.colour, abs=1.6) and first.change == pytest.approx(
        full.change.mean, abs=0.15
    )


def test_strong_parts_are_the_most_colourful_tenth(rng: np.random.Generator) -> None:
    lab = np.zeros((50, 40, 3))
    lab[..., 1] = np.arange(2000).reshape(50, 40) / 20
    found = strong_parts(lab)
    assert found.mean() == pytest.approx(0.1, abs=0.005) and lab[found][:, 1].min() > lab[~found][:, 1].max()
    assert not strong_parts(np.zeros((5, 5, 3))).any()


def test_compensation_in_words(dune: Profile, baryta: Profile, cloths) -> None:  # type: ignore[no-untyped-def]
    same = np.zeros((3, 3, 3))
    assert "changes nothing" in compensation_effect("perceptual", same, same).words
    assert (
        "either will do" in Compensation("relative", 0.3, 1.0).words and not Compensation("relative", 0.3, 1.0).visible
    )
    assert Compensation("relative", 0.3, 1.6).visible
    # common practice: relative colorimetric changes clearly, perceptual with a table profile little;
    # version 4 perceptual always compensates (ICC.1:2022), so there the switch does nothing at all
    picture = cloths[0]
    for paper, nothing in ((dune, False), (baryta, True)):
        effects = {c.intent: c for c in judge(request_for(picture.pixels, picture.profile, paper)).compensation}
        assert effects["relative"].visible and effects["relative"].mean > effects["perceptual"].mean
        assert (effects["perceptual"].mean < 0.005) == nothing


def _ramp(kind: str) -> np.ndarray:
    lab = np.zeros((200, 3))
    lab[:, 0], lab[:, 1], lab[:, 2] = np.linspace(30, 60, 200), 60, 40
    if kind == "flat":
        lab[80:140, 0] = lab[80, 0]
        lab[140:, 0] -= lab[140, 0] - lab[80, 0]
    return lab


def test_flat_places_of_a_line_are_found() -> None:
    master = _ramp("")
    assert read_line(master, master).flat_share == 0
    found = read_line(master, _ramp("flat"))
    assert found.flat[90:130].all() and not found.flat[:70].any() and not found.flat[150:].any()
    lightness = found.rows("L")
    assert lightness[0][0] == 30 and found.rows("C")[0][0] == pytest.approx(np.hypot(60, 40))
    assert np.isfinite(found.rows("h")[0]).all()


def test_hues_of_a_line_do_not_jump() -> None:
    angle = np.radians(np.linspace(340, 400, 100))
    lab = np.stack([np.full(100, 50.0), 30 * np.cos(angle), 30 * np.sin(angle)], axis=1)
    hue = read_line(lab, lab).rows("h")[0]
    assert np.abs(np.diff(hue)).max() < 1 and np.ptp(hue) == pytest.approx(60)
    grey = np.zeros((10, 3))
    assert np.isnan(read_line(grey, grey).rows("h")[0]).all()


def test_a_line_reads_what_lies_under_it(dune: Profile) -> None:
    space = working_space("sRGB")
    pixels = np.zeros((100, 200, 3), np.uint16)
    pixels[..., :] = np.linspace(5_000, 60_000, 200).astype(np.uint16)[None, :, None]
    info = PictureInfo("ramp", 200, 100, 16, "RGB", "sRGB", False, (), 300.0)
    found = line_reading(opened_for(Picture(pixels, space, info), dune), (0.0, 0.5, 1.0, 0.5), 100)
    exact = master_space(space).to_lab(pixels[50:51])[0]
    np.testing.assert_allclose(
        found.master[:, 0], np.interp(np.linspace(0, 199, 100), np.arange(200), exact[:, 0]), atol=0.4
    )
    assert found.printed[0, 0] > found.master[0, 0] + 2, "a matte paper's black is lighter"
    places = line_places((0, 0), (10, 5), 11)
    np.testing.assert_allclose(places[3], (3, 1.5))


def test_unconverted_numbers_are_the_printers(dune: Profile, screen: Profile) -> None:
    road = ScreenRoad(working_space("opRGB"), dune, Rendering(), Look(screen, unmanaged=True), 17)
    values = np.random.default_rng(0).random((50, 3))
    wanted = ScreenLeg(dune, screen, "true-black").rgb(values)
    np.testing.assert_allclose(road._exact(values), wanted)
    managed = ScreenRoad(working_space("opRGB"), dune, Rendering(), Look(screen), 17)
    assert np.abs(managed._exact(values) - wanted).mean() > 0.02
