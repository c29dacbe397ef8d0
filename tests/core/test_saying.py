"""What a paper costs, and what is said of it: every claim has its condition, and a test for when it must not be said."""

from dataclasses import replace

import numpy as np
import pytest
from skimage import data as photographs
from tests.conftest import demo_profile, request_for

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.icc.write import assemble
from rehearsal.core.papers.model import paper_model
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.advice import CandidateFigures, candidates_for
from rehearsal.core.proof.areas import Area, near_white_area
from rehearsal.core.proof.beyond import COLOUR, DEPTH, Lost, exact_losses, find_beyond, near_whites
from rehearsal.core.proof.contest import Advice, Contest, Loss, advise, figure, losses
from rehearsal.core.proof.judging import FirstFigures, Judgement, is_grey, judge
from rehearsal.core.proof.lattice import delta_lattice
from rehearsal.core.proof.saying import (
    advice_sentence,
    area_lines,
    first_sentence,
    leading_hue,
    looked_sentence,
    short_loss,
    verdict_sentence,
)
from rehearsal.core.tuning.summing import lightness_words
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.destination import Destination, space_path
from rehearsal.core.values.place import Ellipse
from rehearsal.core.values.recipe import Recipe, Step
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.words import about_stops, amount

R, N, P = Rendering("relative", True), Rendering("relative", False), Rendering("perceptual", True)
PAPERS = ("SK24_WhiteDune_Hi.icc", "SK24_SluiceGloss_Hi.icc", "OS17_OldQuay_Fine.icc")


# ---- what is lost


def _by_definition(paper: Profile, lab: np.ndarray, limit: float = 1.5) -> tuple[float, float, float, float]:
    """Share, colour, depth in per cent and mean loss, straight from the definitions in docs/numbers.md."""
    best = paper_model(paper).nearest(lab)[1]
    delta = delta_e_2000(lab, best)
    # the lightness part of CIEDE2000 (ISO/CIE 11664-6): (ΔL' / S_L)²
    off = ((lab[:, 0] + best[:, 0]) / 2 - 50) ** 2
    lightness = np.abs(lab[:, 0] - best[:, 0]) / (1 + 0.015 * off / np.sqrt(20 + off))
    beyond = delta > limit
    coloured = np.hypot(lab[:, 1], lab[:, 2]) >= 2
    colour = beyond & (np.sqrt(np.maximum(delta**2 - lightness**2, 0)) > limit) & coloured
    depth = beyond & (lightness > limit) & (best[:, 0] > lab[:, 0])
    return (*(float(m.mean() * 100) for m in (beyond, colour, depth)), float(delta[beyond].sum() / len(lab)))


@pytest.mark.parametrize("name", PAPERS)
@pytest.mark.parametrize("picture", ["coffee", "astronaut"])
def test_losses_by_their_definition(picture: str, name: str) -> None:
    # open photographs shipped with scikit-image
    paper = demo_profile(name)
    pixels = getattr(photographs, picture)()[::2, ::2].astype(np.uint16) * 257
    lab = master_space(working_space("sRGB")).to_lab(pixels)
    share, colour, depth, mean = _by_definition(paper, lab.reshape(-1, 3).astype(np.float64))
    found = find_beyond(lab, delta_lattice(paper)).lost
    assert found.share == pytest.approx(share, abs=0.15)
    assert found.colour == pytest.approx(colour, abs=0.3) and found.depth == pytest.approx(depth, abs=0.3)
    assert found.mean == pytest.approx(mean, rel=0.02, abs=0.01)
    exact = exact_losses(paper_model(paper), lab.reshape(-1, 3)[:4000].astype(np.float64))[0]
    mine = _by_definition(paper, lab.reshape(-1, 3)[:4000].astype(np.float64))
    assert (exact.share, exact.colour, exact.depth, exact.mean) == pytest.approx(mine)
    assert sum(exact.by_cause) == pytest.approx(exact.share)


def test_both_can_be_lost_and_a_cast_is_no_colour(dune: Profile) -> None:
    lab = np.array([[6.0, 14.0, 10.0], [55.0, 85.0, 60.0], [4.0, 0.5, -1.0], [60.0, 0.0, 0.0]], dtype=np.float32)[None]
    bits = find_beyond(lab, delta_lattice(dune)).bits[0]
    assert list(bits) == [COLOUR | DEPTH, COLOUR, DEPTH, 0]


def test_matte_costs_more_than_gloss() -> None:
    # cotton holds less colour and less depth than gloss (common practice, no source); by exclusive causes it seemed otherwise
    pixels = photographs.coffee()[::2, ::2].astype(np.uint16) * 257
    lab = master_space(working_space("sRGB")).to_lab(pixels)
    cotton, gloss, quay = (find_beyond(lab, delta_lattice(demo_profile(p))).lost for p in PAPERS)
    for name in ("share", "colour", "depth", "mean"):
        assert getattr(quay, name) > getattr(cotton, name) > getattr(gloss, name)


# ---- what is said of it


def _area(hue: str, loses: float, share: float = 0.0, cause: str = "too_saturated", median: float = 4.0) -> Area:
    return Area(share or loses, cause, False, False, hue, median, 6.0, 0.9, 0.9, (0, 0, 1, 1), loses_colour=loses)


@pytest.fixture(scope="module")
def judged() -> Judgement:
    pixels = np.full((200, 300, 3), 34000, np.uint16)
    pixels[40:120, 60:200] = (62000, 15000, 1500)
    pixels[150:, :] = (700, 200, 200)
    request = request_for(pixels, working_space("ROMM"), demo_profile(PAPERS[0]))
    return judge(request)


def _with(judged: Judgement, lost: Lost, **fields: object) -> Judgement:
    return replace(judged, beyond=replace(judged.beyond, lost=lost), **fields)  # type: ignore[arg-type]


def test_what_is_lost_leads(judged: Judgement) -> None:
    lost = judged.beyond.lost
    text = verdict_sentence(judged)
    assert text.startswith(
        f"{lost.share:.0f} % of this picture lies beyond this paper (mean loss ΔE₀₀ {lost.mean:.1f}): "
    )
    assert f"{lost.colour:.0f} % loses colour" in text and f"{lost.depth:.0f} % loses depth" in text
    assert short_loss(lost) == f"{lost.share:.0f} % beyond, ΔE₀₀ {lost.mean:.1f}"


@pytest.mark.parametrize(
    ("lost", "start"),
    [(Lost(0, 0, 0, 0, (0, 0, 0)), "Everything in this picture can be printed on this paper."),
     (Lost(0.04, 0, 0.04, 0, (0.04, 0, 0)), "All but < 0.1 % of this picture can be printed on this paper."),
     (Lost(3.0, 0.0, 3.0, 0.6, (3.0, 0, 0)), "3.0 % of this picture lies beyond this paper (mean loss ΔE₀₀ 0.6): 3.0 % loses depth.")],
)  # fmt: skip
def test_everything_is_said_of_everything_alone(lost: Lost, start: str, judged: Judgement) -> None:
    assert verdict_sentence(_with(judged, lost, areas=(), colder=0.0, near_white=None)).startswith(start)


@pytest.mark.parametrize(
    ("neither", "light", "said"),
    [(2.6, 0.1, "1.0 % loses depth; the rest by a little of both."), (2.6, 2.0, "1.0 % loses depth; the rest is lighter than this paper."),
     (1.1, 0.0, "1.0 % loses depth; the rest by a little of both."), (0.9, 0.0, "1.0 % loses depth."), (0.0, 0.0, "1.0 % loses depth.")],
)  # fmt: skip
def test_what_the_rest_loses_is_said_where_it_is_much(
    neither: float, light: float, said: str, judged: Judgement
) -> None:
    lost = Lost(4.1, 0.4, 1.0, 0.6, (1.0, light, 3.1 - light), neither)
    text = verdict_sentence(_with(judged, lost, areas=(), colder=0.0, near_white=None))
    assert f"0.4 % loses colour, {leading_hue(judged, {})}, and {said}" in text
    alone = replace(lost, colour=0.0, depth=0.0)
    text = verdict_sentence(_with(judged, alone, areas=(), colder=0.0, near_white=None))
    assert (f": all of it {said.rpartition('the rest ')[2]}" in text) is ("the rest" in said)


def test_a_file_for_a_lab_is_no_paper(judged: Judgement) -> None:
    lab = replace(judged.rendition, destination=Destination("x", space_path("sRGB")))
    said = verdict_sentence(replace(judged, rendition=lab))
    assert "lies beyond sRGB (mean" in said and "paper" not in said.split(".")[0]
    plain = _with(judged, Lost(0, 0, 0, 0, (0, 0, 0)), areas=(), colder=0.0, near_white=None, rendition=lab)
    assert verdict_sentence(plain).startswith("Everything in this picture fits into sRGB.")


def test_what_loses_neither_is_counted(judged: Judgement) -> None:
    beyond = judged.beyond
    by_the_lattice = float((beyond.mask & (beyond.bits == 0)).mean() * 100)
    assert beyond.lost.neither == pytest.approx(by_the_lattice, abs=0.5)
    union = float((beyond.bits > 0).mean() * 100)
    assert beyond.lost.neither + union == pytest.approx(beyond.lost.share, abs=0.8)


def test_near_whites_colder_than_the_paper_get_half_a_sentence(judged: Judgement) -> None:
    plain = Lost(0, 0, 0, 0, (0, 0, 0))
    cold = _area("near-white", 0.0, 9.0, "colder")
    for cause in ("colder", "lighter"):
        text = verdict_sentence(_with(judged, plain, colder=9.0, near_white=replace(cold, cause=cause), areas=()))
        assert f"; 9.0 % is near-white and {cause} than this paper." in text
    assert "near-white" not in verdict_sentence(_with(judged, plain, colder=0.3, near_white=cold, areas=()))
    fine = {(cold.hue, cold.cause): "velvet"}
    assert "near-white" not in verdict_sentence(_with(judged, plain, colder=9.0, near_white=cold, areas=()), fine)


@pytest.mark.parametrize(("share", "said"), [(0.49, False), (0.51, True), (0.9, True)])
def test_near_whites_are_spoken_of_from_half_a_per_cent_on(judged: Judgement, share: float, said: bool) -> None:
    cold = _area("near-white", 0.0, 9.0, "colder")
    text = verdict_sentence(_with(judged, Lost(0, 0, 0, 0, (0, 0, 0)), colder=share, near_white=cold, areas=()))
    assert ("near-white" in text) is said


@pytest.mark.parametrize("share", [1.0, 3.0, 4.9, 30.0])
def test_what_was_accepted_is_told_however_little_it_is(judged: Judgement, share: float) -> None:
    mine, other = replace(judged.areas[0], share=share), replace(judged.areas[0], share=7.0, hue="blue")
    text = verdict_sentence(replace(judged, areas=(mine, other)), {(mine.hue, mine.cause): "velvet"})
    told = f"{share:.0f}" if share >= 10 else f"{share:.1f}"
    assert f"{told} % is fine as it is" in text


def test_smaller_areas_are_counted_without_those_that_have_a_line() -> None:
    areas = [replace(_area("orange", 1.0, 4.0), share=share) for share in (20.0, 10.0, 4.0, 2.0, 1.5)]
    assert len(area_lines(areas, 5)) == 5 and "together" not in " ".join(area_lines(areas, 5))
    assert area_lines(areas, 3)[3:] == ["2 smaller areas: 3.5 % together"]
    assert area_lines(areas, 4)[4:] == ["1 smaller area: 1.5 % together"]


def test_what_serves_as_well_is_never_said_to_look_the_same() -> None:
    rows = ((_figures(R, 1.0), 40), (_figures(N, 1.2), 60), (_figures(P, 1.25), 40.1))
    bound = advise(_contest(*rows, default=R, chosen=N, prescribed=True))
    assert "looks the same" in advice_sentence(bound, P) and "looks the same" not in advice_sentence(bound, N)
    free = advise(_contest(*rows, chosen=N))
    assert "looks the same" in advice_sentence(free, P) and "the same" not in advice_sentence(free, N)


def test_near_whites_are_an_area_with_a_line() -> None:
    # a bluish and a too light near-white on a cream paper, worked out from the paper's own white
    quay = demo_profile(PAPERS[2])
    white = paper_model(quay).white
    lab = np.tile(white - [0, 0, -0.5], (60, 90, 1))
    lab[10:30, 20:50] = white - [3.0, 0.0, 9.0]
    found = near_whites(lab, white)
    area = near_white_area(lab, found)
    assert found.colder and found.share == pytest.approx(100 * 20 * 30 / 5400)
    assert (
        area is not None and area.cause == "colder" and area.box == pytest.approx((20 / 90, 10 / 60, 30 / 90, 20 / 60))
    )
    assert area.median == pytest.approx(float(delta_e_2000(white, white - [0, 0, 9.0])), abs=0.01)
    light = near_whites(np.tile([99.9, 0.0, white[2]], (5, 5, 1)), np.array([93.0, 0.0, white[2]]))
    assert light.share == 100 and not light.colder
    assert near_white_area(lab[40:], near_whites(lab[40:], white)) is None


def test_what_is_fine_is_not_what_is_named(judged: Judgement) -> None:
    fine = {(a.hue, a.cause): "velvet" for a in judged.areas}
    text = verdict_sentence(judged, fine, "In its light it looks darker.")
    assert "fine as it is" in text and "most of it" not in text and "largest part" not in text
    assert text.endswith("In its light it looks darker.")


def test_a_grey_picture_is_spoken_of_in_tone(dune: Profile) -> None:
    ramp = np.repeat(np.linspace(0, 65535, 300).astype(np.uint16)[None], 200, axis=0)[..., None].repeat(3, axis=2)
    result = judge(request_for(ramp, working_space("sRGB"), dune))
    text = verdict_sentence(result)
    assert result.is_grey and "of this grey picture lies beyond" in text and "deeper than the paper's black" in text
    assert "colour" not in text.split(".")[0]
    coloured = ramp.copy()
    coloured[:60, :, 0] = 60000
    assert not is_grey(master_space(working_space("sRGB")).to_lab(coloured))


def test_the_first_look_speaks_of_the_same_figures() -> None:
    text = first_sentence(FirstFigures(Lost(30.2, 21.4, 24.3, 1.5, (20, 0, 10.2)), 2.0), "Sluice Gloss")
    assert text.startswith("About 30 % of this picture") and "about 21 % loses colour, 24 % depth" in text
    assert "Everything" not in first_sentence(FirstFigures(Lost(0, 0, 0, 0, (0, 0, 0)), 0.0), "Sluice Gloss")


def test_a_paper_that_is_looked_at_is_spoken_of_by_what_is_known_of_it() -> None:
    some, none = (FirstFigures(Lost(share, share, 0, 0, (share, 0, 0)), 0.0) for share in (30.2, 0.0))
    assert looked_sentence("Old Quay", "White Dune", None) == "Looking at Old Quay. White Dune stays chosen."
    assert "about 30 % of this picture lies beyond Old Quay" in looked_sentence("Old Quay", "White Dune", some)
    assert "hardly anything of this picture lies beyond Old Quay" in looked_sentence("Old Quay", "", none)
    assert looked_sentence("Old Quay", "", some).endswith("depth.")


@pytest.mark.parametrize(
    ("mean", "median", "share", "said"),
    [(0.49, 2.9, 5.0, True), (0.5, 2.9, 5.0, False), (0.49, 3.0, 5.0, False), (0.49, 3.0, 0.09, True)],
)
def test_nothing_is_noticed_only_where_it_is_little_everywhere(
    judged: Judgement, mean: float, median: float, share: float, said: bool
) -> None:
    lost = Lost(4.0, 3.0, 1.0, mean, (1.0, 0.0, 3.0))
    text = verdict_sentence(_with(judged, lost, areas=(_area("red", share, median=median),)))
    assert ("nothing you would notice" in text) == said and ("loses colour" in text) != said


@pytest.mark.parametrize(("depth", "said"), [(0.1, True), (0.09, False)])
def test_depth_is_spoken_of_from_a_tenth_of_a_per_cent_on(judged: Judgement, depth: float, said: bool) -> None:
    lost = Lost(10.0, 9.0, depth, 0.4, (9.0, depth, 1.0 - depth))
    text = verdict_sentence(replace(judged, beyond=replace(judged.beyond, lost=lost)))
    assert ("loses depth" in text) == said


@pytest.mark.parametrize(("depth", "where"), [(5.1, "deeper than the paper's black"), (5.0, "in its lightest tones")])
def test_a_grey_picture_is_deeper_when_more_than_half_of_it_is(judged: Judgement, depth: float, where: str) -> None:
    lost = Lost(10.0, 0.0, depth, 0.4, (0.0, depth, 10.0 - depth))
    assert where in verdict_sentence(replace(judged, is_grey=True, beyond=replace(judged.beyond, lost=lost)))


# ---- advice


def _figures(rendering: Rendering, score: float, **other: float) -> CandidateFigures:
    base = {"felt_change": score, "fitted_change": 1.0, "flat": 0.0, "flat_depths": 0.0, "flat_areas": 0.0, "change_outside": 1.0,
            "black_depth": 18.0, "lightness": 50.0, "contrast": 1.0}  # fmt: skip
    return CandidateFigures(rendering, score=score, modelling=0.9, shadow_separation=9, **{**base, **other})  # type: ignore[arg-type]


def _print(lightness: float) -> np.ndarray:
    return np.full((4, 4, 3), lightness)


def _contest(
    *rows: tuple[CandidateFigures, float], default: Rendering = R, chosen: Rendering = R, **fields: object
) -> Contest:
    prints = [_print(lightness) for _f, lightness in rows]
    parts = {"loses_depth": 10.0, "depths": 20.0, **fields}
    return Contest([f for f, _l in rows], prints, default, chosen, **parts)  # type: ignore[arg-type]


def test_as_well_and_the_same_are_said_of_those_alone() -> None:
    advice = advise(_contest((_figures(R, 1.0), 40), (_figures(N, 1.2), 60), (_figures(P, 1.25), 40.1)))
    assert (advice.rendering, advice.verdict, advice.same, advice.equal) == (R, "alike", (P,), (N,))
    assert advice_sentence(advice, R) == (
        "Keep relative with compensation; perceptual looks the same, relative without compensation serves it as well."
    )
    far = advise(_contest((_figures(R, 1.0), 40), (_figures(N, 1.2), 60), (_figures(P, 2.0), 70)))
    assert (far.verdict, far.equal) == ("clear", (N,)) and "perceptual" not in advice_sentence(far, R)
    clear = advise(_contest((_figures(R, 1.0), 40), (_figures(N, 1.6), 60), (_figures(P, 2.0), 70)))
    assert clear.verdict == "clear" and advice_sentence(clear, R) == "Relative with compensation is right here."


def test_no_visible_difference_needs_all_of_them() -> None:
    same = advise(_contest((_figures(R, 1.0), 40), (_figures(N, 1.2), 40.1), (_figures(P, 1.1), 40.2)))
    assert same.verdict == "no_visible_difference" and "look the same" in advice_sentence(same, R)
    one = advise(_contest((_figures(R, 1.0), 40), (_figures(N, 1.2), 40.1), (_figures(P, 1.1), 60)))
    assert one.verdict == "alike" and one.same == (N,)


@pytest.mark.parametrize(
    ("better", "at", "what"),
    [({"flat_depths": 46.0}, 10.0, "depths"), ({"flat_depths": 46.1}, 10.0, None), ({"flat_depths": 10.0}, 1.99, None),
     ({"flat_depths": 10.0}, 2.0, "depths"), ({"flat": 8.5}, 10.0, "detail"), ({"flat": 8.6}, 0.0, None),
     ({"felt_change": 4.5}, 10.0, "nearness"), ({"felt_change": 4.6}, 10.0, None)],
)  # fmt: skip
def test_what_is_visibly_lost(better: dict[str, float], at: float, what: str | None) -> None:
    mine = _figures(R, 5.0, flat_depths=50.0, flat=10.0, felt_change=5.0)
    other = _figures(N, 5.0, **{"flat_depths": 50.0, "flat": 10.0, "felt_change": 5.0, **better})
    assert [loss.what for loss in losses(mine, other, at)] == ([] if what is None else [what])
    assert losses(other, mine, at) == ()


@pytest.mark.parametrize(
    ("worse", "words"),
    [({"flat_depths": 57.0}, "closes 57 % of the depths instead of 0"), ({"flat": 4.0},
     "loses detail in 4.0 % of the picture instead of 0"),
     ({"felt_change": 3.0}, "differs by ΔE₀₀ 3.0 instead of 1.0")],
)  # fmt: skip
def test_a_chosen_rendering_that_visibly_loses_is_told(worse: dict[str, float], words: str) -> None:
    rows = ((_figures(R, 1.0), 40), (_figures(N, 1.0, **worse), 60), (_figures(P, 1.2), 70))
    advice = advise(_contest(*rows, chosen=N))
    assert (
        advice_sentence(advice, N)
        == f"Relative without compensation {words}; relative with compensation would serve it better."
    )
    assert advice.urges(N) and advice.named == R and not advise(_contest(*rows)).urges(R)


def test_where_everybody_loses_to_somebody_it_is_a_trade() -> None:
    # relative with compensation stays nearer, perceptual keeps the depths, without compensation both are lost
    rows = (
        (_figures(R, 8.0, felt_change=3.4, flat_depths=23.0), 40), (_figures(N, 9.0, felt_change=5.0, flat_depths=60.0), 45),
        (_figures(P, 4.5, felt_change=4.5, flat_depths=0.1), 50),
    )  # fmt: skip
    mine = advise(_contest(*rows))
    assert (mine.verdict, mine.rendering, mine.rival, mine.named) == ("trade", R, P, None)
    text = advice_sentence(mine, R)
    assert text == (
        "A trade: relative with compensation stays nearer (ΔE₀₀ 3.4 against 4.5); "
        "perceptual keeps the detail of the depths (0.1 % lost against 23)."
    )
    other = advise(_contest(*rows, chosen=P))
    assert other.verdict == "trade" and not other.urges(P) and other.won == mine.lost and other.lost == mine.won
    assert advice_sentence(other, P).startswith("A trade: perceptual keeps the detail")
    for advice, chosen in ((mine, R), (other, P)):
        assert "right" not in advice_sentence(advice, chosen)
    # what is beaten outright is told so, also in a trade
    plain = advice_sentence(advise(_contest(*rows, chosen=N)), N)
    assert plain.startswith("Relative without compensation stays; perceptual keeps the detail of the depths")


def test_a_trade_needs_the_depths_to_be_in_the_picture() -> None:
    rows = ((_figures(R, 3.4, flat_depths=23.0), 40), (_figures(P, 4.5, flat_depths=0.1), 50))
    assert advise(_contest(*rows)).verdict == "trade"
    assert advise(_contest(*rows, loses_depth=1.9)).verdict == "clear"


def test_the_default_is_advised_if_it_loses_to_nobody_else_the_lowest_score() -> None:
    rows = (
        (_figures(R, 2.0, felt_change=1.0), 40),
        (_figures(N, 3.0, felt_change=2.0), 60),
        (_figures(P, 1.0, felt_change=1.2), 70),
    )
    assert advise(_contest(*rows)).rendering == R and advise(_contest(*rows, default=P)).rendering == P
    assert advise(_contest(*rows, default=N)).rendering == P  # of the two that stand the lower score


def test_the_sentence_follows_what_is_chosen() -> None:
    rows = ((_figures(R, 1.0), 40), (_figures(N, 1.2), 60), (_figures(P, 1.25), 40.1))
    assert "look" in advice_sentence(advise(_contest(*rows, chosen=P)), P)
    assert advice_sentence(advise(_contest(*rows, chosen=N)), N).startswith(
        "Relative without compensation serves it as well as"
    )
    absolute = Rendering("absolute", False)
    shown = (*rows, (_figures(absolute, 1.0, flat=9.0), 80))
    loser = advise(_contest(*shown, chosen=absolute))
    assert advice_sentence(loser, absolute).startswith("Absolute loses detail in 9.0 %") and loser.urges(absolute)
    # the usual ones are alike; what was chosen beside them is not
    assert loser.verdict == "alike" and loser.named is None and not loser.urges(R)
    # what is no candidate is never said to serve worse, nor as well, when it is nearer
    better = advise(_contest(*rows, (_figures(absolute, 0.2), 80), chosen=absolute))
    assert better.rendering == R
    assert (
        advice_sentence(better, absolute)
        == "Absolute is chosen; among the usual ones it would be relative with compensation."
    )


def test_reasons_carry_only_what_differs_visibly_for_it_first() -> None:
    rows = (
        (_figures(R, 8.0, felt_change=3.4, flat_depths=23.0, black_depth=16.0), 40),
        (_figures(P, 4.5, felt_change=4.5, flat_depths=0.1, black_depth=18.0, flat=1.4), 50),
    )  # fmt: skip
    assert advise(_contest(*rows)).reasons == (
        "Mean difference, as felt: 3.4 ΔE₀₀ against 4.5 ΔE₀₀ with perceptual.",
        "Deepest print: L* 16.0 against 18.0 with perceptual.",
        "Detail lost in the depths: 23 % against 0.1 % with perceptual.",
    )
    assert not any("Deepest" in r for r in advise(_contest(*rows, depths=1.9)).reasons)  # a picture without depths
    # held against the one that loses, not against one that is as good and has the lower score
    three = advise(_contest((_figures(R, 1.1), 40), (_figures(P, 1.0), 50), (_figures(N, 2.0), 60)))
    assert three.reasons == (
        "Mean difference, as felt: 1.1 ΔE₀₀ against 2.0 ΔE₀₀ with relative colorimetric without compensation.",
    )
    like = advise(_contest((_figures(R, 1.1), 40), (_figures(P, 1.2), 50)))
    assert like.reasons == ("Nothing that would be seen speaks for or against perceptual.",)


def test_figures_of_a_pair_are_never_written_alike() -> None:
    told = {figure("depths", 23.4, 23.6), figure("depths", 23.6, 23.4)}
    assert told == {"23", "24"} and figure("depths", 0.1, 23.0) == "0.1" and figure("nearness", 12.0, 14.0) == "12.0"
    assert losses(_figures(R, 3.0), _figures(N, 1.0), 0.0) == (Loss("nearness", 3.0, 1.0),)


def test_a_labs_prescription_is_said_as_such() -> None:
    rows = ((_figures(R, 1.0), 40), (_figures(P, 2.0), 70))
    bound = advise(_contest(*rows, default=P, chosen=P, prescribed=True))
    assert (
        advice_sentence(bound, P)
        == "The lab prescribes perceptual; relative with compensation would serve this picture better."
    )
    assert advice_sentence(bound, R) == "The lab prescribes perceptual, but relative with compensation is chosen."
    assert bound.urges(R) and not bound.urges(P) and bound.named == P
    good = advise(_contest((_figures(R, 1.0), 40), (_figures(P, 1.1), 70), default=P, chosen=P, prescribed=True))
    assert advice_sentence(good, P) == "The lab prescribes perceptual, and it serves this picture."
    assert "lab" not in advice_sentence(advise(_contest(*rows, default=P, chosen=P)), P)


def test_perceptual_is_no_candidate_where_its_table_is_the_relative_one(dune: Profile) -> None:
    assert candidates_for(dune) == (R, N, P)
    tags = {**dune.tags, "B2A0": dune.tags["B2A1"]}
    twin = Profile(assemble(tags, "prtr", "RGB ", "Lab ", 2.4), "one table")
    assert candidates_for(twin) == (R, N) == candidates_for(working_space("sRGB"))
    worse = advise(_contest((_figures(R, 3.0), 40), (_figures(P, 1.0), 70), candidates=(R, N)))
    assert worse.rendering == R
    # as a condition's own default it stays one
    assert advise(_contest((_figures(R, 3.0), 40), (_figures(P, 1.0), 70), default=P, candidates=(R, N))).rendering == P


def test_advice_without_rivals() -> None:
    alone = advise(_contest((_figures(R, 1.0), 40)))
    assert alone == Advice(R, "no_visible_difference", ("Nothing else to compare with.",))


def test_a_working_space_has_no_paper_to_be_colder_than() -> None:
    bluish = np.tile([92.0, 0.0, -6.0], (8, 8, 1))
    space, paper = paper_model(working_space("sRGB")), paper_model(demo_profile("OS17_OldQuay_Fine.icc"))
    assert space.bare_paper is None and near_whites(bluish, space.bare_paper).share == 0.0
    assert near_white_area(bluish, near_whites(bluish, space.bare_paper)) is None
    assert near_whites(bluish, paper.bare_paper).share == 100.0


@pytest.mark.parametrize(
    ("stops", "said"),
    [
        (1 / 6, "⅙ stop"), (-1 / 3, "⅓ stop"), (0.5, "½ stop"), (0.25, "about ⅓ stop"), (0.45, "about ½ stop"),
        (0.13, "about ⅙ stop"), (0.08, "hardly anything"),
    ],
)  # fmt: skip
def test_sizes_in_stops_are_told_by_the_nearest_sixth(stops: float, said: str) -> None:
    assert about_stops(stops) == said


@pytest.mark.parametrize(("value", "said"), [(6.0, "+6"), (-6.0, "-6"), (0.0, "0")])
def test_an_amount_says_which_way_it_goes(value: float, said: str) -> None:
    assert amount("contrast", value).replace("−", "-").startswith(said)


def test_lightness_at_a_place_is_no_part_of_the_sum_for_all() -> None:
    light, hand = Step("light", Values.of(lightness=1 / 3)), Step("hand", Values.of(lightness=1 / 6))
    both = lightness_words(Recipe((light, hand)))
    assert both.endswith("= ½ stop")
    placed = replace(hand, place=Ellipse((0.5, 0.5), (0.2, 0.1)))
    assert lightness_words(Recipe((light, placed))) == "", "one that acts everywhere is left"
    assert lightness_words(Recipe((light, hand, replace(placed, name="sky")))) == both
