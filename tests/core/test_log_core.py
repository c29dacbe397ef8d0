"""The log's arithmetic: rows of a verdict, whose fault a lesson is, causes held against a ticket, what a print costs."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from tests.conftest import opened_for

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.icc import Profile
from rehearsal.core.picture.file import Picture, read_picture
from rehearsal.core.proof.chain import Look
from rehearsal.core.screen.lessons import Estimate, Reason, estimate, reason_of, reason_words
from rehearsal.core.sheet.causes import LOOKS, _drawn, causes, look_pixels
from rehearsal.core.sheet.cost import PaperAccount, cost_of, coverage, stock_words
from rehearsal.core.testsheets.verdictrows import (
    VerdictRow,
    compared,
    looking_like,
    offset_words,
    offsets_of,
    steps_of,
    verdict_rows,
)
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.frame import PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.recipe import LEARNT, LIGHT, Step, by_hand
from rehearsal.workbook.learning import LeftOut, estimates, left_out, lesson_line
from rehearsal.workbook.values import LogEntry


@pytest.fixture(scope="module")
def cloths(small_cloths: Path) -> Picture:
    return read_picture(small_cloths)


# ---- verdict by looking


def test_rows_are_visible_steps_of_the_print_without_what_stands_for_its_light(cloths: Picture, dune: Profile) -> None:
    recipe = (
        by_hand(contrast=5)
        .having(Step(LIGHT, Values.of(lightness=0.5)))
        .having(Step(LEARNT, Values.of(lightness=1 / 3)))
    )
    printed = opened_for(cloths, dune, recipe=recipe)
    plain = opened_for(cloths, dune, recipe=by_hand(contrast=5))
    assert compared(printed).rendition.recipe.total == plain.rendition.recipe.total
    rows = verdict_rows(printed)
    assert rows == verdict_rows(plain) and [r.name for r in rows] == ["lightness", "warmth", "contrast"]
    base = compared(printed)
    for row in rows:
        assert row.offsets[row.middle] == 0.0 and list(row.offsets) == sorted(row.offsets) and len(row.offsets) >= 5
        one = base.having(looking_like(recipe, {row.name: row.offsets[row.middle + 1]}))
        a, b = (o.chain().printed(o.tuned.region(o.box, 90, 60).reshape(-1, 3) / 65535.0) for o in (base, one))
        moved = delta_e_2000(a, b)
        assert 0.9 < np.median(moved[moved > 0.2]) < 2.1, row.name
    light = looking_like(recipe, {"lightness": -1 / 6, "warmth": 10.0})
    assert (
        light.step(LIGHT) is None
        and light.total["lightness"] == pytest.approx(-1 / 6, abs=1e-5)
        and light.total["warmth"] == 10
    )
    assert light.total["contrast"] == 5 and looking_like(recipe, {"lightness": 9.0}).total["lightness"] == 2.0


def test_a_verdict_is_a_value_and_comes_back() -> None:
    assert steps_of({"lightness": -1 / 6, "warmth": 10.0}) == {"darker": 1.0, "cooler": -2.0, "flatter": 0.0}
    assert str(steps_of({})["darker"]) == "0.0", "no negative nought"
    assert offsets_of(1.0, -2.0, 0.0) == pytest.approx({"lightness": -1 / 6, "warmth": 10.0, "contrast": 0.0})
    assert (
        offset_words({"lightness": -1 / 6, "warmth": 12.0, "contrast": -9.0})
        == "⅙ stop darker, 12 mired warmer, 9 flatter"
    )
    assert offset_words({"lightness": 0.0}) == ""
    row = VerdictRow("contrast", (-20.0, 0.0, 30.0))
    assert row.between(1.5) == 15.0 and row.between(0) == -20.0 and row.between(2) == 30.0 and row.middle == 1


# ---- whose fault it is


def _estimate(**fields: float) -> Estimate:
    return replace(Estimate(0.0, 0.5, 0.0, 0.5, 0.0, 0.5, 5, 3), **fields)  # type: ignore[arg-type]


def test_the_reason_names_the_screen_only_when_all_papers_say_so() -> None:
    dark = _estimate(value=1.6, shared=1.6, shared_doubt=0.4)
    other = _estimate(value=1.2, shared=1.6, shared_doubt=0.4)
    found = reason_of(dark, [dark, other], 100.0)
    # the screen is 1.6 sixths of a stop too bright: 100 / 2^(1.6/6)
    assert found.kind == "screen" and found.set_to == round(100 / 2 ** (1.6 / 6)) == 83
    assert reason_of(dark, [dark], 100.0).kind == "unsure", "one paper cannot tell"
    doubtful = replace(dark, shared_doubt=1.1)
    assert reason_of(doubtful, [doubtful, other], 100.0).kind == "unsure", "its doubt is too large"
    assert reason_of(dark, [dark, replace(other, value=0.4)], 100.0).kind == "unsure", "not all come out so"
    assert reason_of(dark, [dark, replace(other, value=-1.2)], 100.0).kind == "unsure"
    little = _estimate(value=0.4, shared=0.4, shared_doubt=0.1)
    assert reason_of(little, [little, little], 100.0).kind == "right", "under half a step"
    paper = _estimate(value=1.5, own=1.4, own_doubt=0.5)
    right = _estimate(value=0.1)
    assert reason_of(paper, [paper, right], 100.0) == Reason("paper", pytest.approx(1.4 / 6), 0.0)  # type: ignore[arg-type]
    assert reason_of(paper, [paper, right, other], 100.0).kind == "unsure", (
        "another paper comes out dark too: not this one alone"
    )
    both = _estimate(value=3.0, shared=1.6, shared_doubt=0.4, own=1.4, own_doubt=0.5)
    assert reason_of(both, [both, other], 100.0).kind == "both"
    far = _estimate(value=6.0, shared=6.0, shared_doubt=0.4)
    assert reason_of(far, [far, far], 90.0) == Reason("screen", 1.0, 0.0), "45 cd/m² is no usual white"
    light = _estimate(value=-1.5, shared=-1.5, shared_doubt=0.3)
    found = reason_of(light, [light, light], 100.0)
    assert found.set_to == 119 and found.stops < 0


def test_the_reason_in_words() -> None:
    assert reason_words(Reason("screen", 1 / 3, 84.0), "Old Quay") == (
        "All papers printed on come out dark by ⅓ stop: set the screen to 84 cd/m²; the papers are not to blame."
    )
    assert "Old Quay has a part of its own besides" in reason_words(Reason("both", 1 / 3, 84.0), "Old Quay")
    assert "usual range" in reason_words(Reason("screen", 1.0), "Old Quay")
    assert (
        reason_words(Reason("paper", -1 / 6), "Old Quay")
        == "Old Quay alone comes out light by ⅙ stop; the screen is not to blame."
    )
    for kind, banned in (("unsure", "All papers"), ("right", "dark")):
        assert banned not in reason_words(Reason(kind, 1 / 3), "Old Quay")


def _entry(day: int, condition: int, darker: float, **fields: object) -> LogEntry:
    card = PrintCondition(id=condition, paper=f"P{condition}", profile_digest=f"d{condition}", ink_set="ten")
    base = LogEntry(id=day, when=f"2026-09-{day:02}", picture=f"a{day}", condition=condition, lux=300.0, screen_white=100.0, darker=darker,
                    verdict="usable", condition_card=card)  # fmt: skip
    return replace(base, **fields)  # type: ignore[arg-type]


def test_another_profile_other_inks_or_a_fault_start_afresh_and_say_so() -> None:
    log = [_entry(i, 1, 3.0) for i in (1, 2, 3)] + [_entry(4, 2, 0.0)]
    card = log[0].condition_card
    assert card is not None
    same = estimates(log, 1, 300, 100, 0, card)["lightness"]
    assert same.mine == 3 and same.own > 0.5
    assert left_out(log, card, 300, 100) == LeftOut() and left_out(log, card, 300, 100).words == ""
    fresh = replace(card, profile_digest="new")
    other = estimates(log, 1, 300, 100, 0, fresh)["lightness"]
    assert other.mine == 0 and other.own == pytest.approx(0.0) and other.prints == 4, "what is shared stays"
    assert (
        left_out(log, fresh, 300, 100).words
        == "Begun afresh without 3 prints of this paper with another profile or other inks."
    )
    assert estimates(log, 1, 300, 100, 0, replace(card, ink_set="four"))["lightness"].mine == 0
    assert estimates(log, 1, 300, 100, 0, replace(card, ink_set=""))["lightness"].mine == 3, "nobody said: the same"
    assert left_out(log, card, 900, 100).words.startswith("Begun afresh without 4 prints in another light")
    wrong = [*log, _entry(5, 1, 12.0, cause="program-converts")]
    assert estimates(wrong, 1, 300, 100, 0, card)["lightness"] == same, "a fault at the printer teaches nothing"
    assert left_out(wrong, card, 300, 100) == LeftOut(cause=1)
    assert LeftOut(cause=1).words == "Left out: 1 print that went wrong at the printer.", "nothing began afresh"


def test_the_line_of_the_lesson_is_what_was_known_at_each_print() -> None:
    log = [_entry(1, 1, 2.0), _entry(2, 2, 2.0), _entry(3, 1, 2.0, lux=2000.0), _entry(4, 1, 1.5)]
    line = lesson_line(log, 1, 300, 100)
    assert [p.entry.id for p in line] == [1, 2, 4], "another light has a line of its own"
    step = 1 / 6
    for count, point in enumerate(line, 1):
        same = [log[0], log[1], log[3]][:count]
        found = estimate([e.darker for e in same], [e.condition for e in same], 1)
        assert point.stops == pytest.approx(found.value * step) and point.doubt == pytest.approx(found.doubt * step)
    assert line[0].doubt > line[1].doubt > line[2].doubt


def test_a_long_logbook_has_a_line_of_so_many_points() -> None:
    log = [replace(_entry(1 + i % 28, 1, 1.0), id=i, picture=f"p{i}") for i in range(130)]
    line = lesson_line(log, 1, 300, 100)
    assert len(line) <= 41 and line[-1].entry is log[-1] and line[0].entry is log[0]
    assert lesson_line([], 1, 300, 100) == []


# ---- causes


def test_looks_are_computed_from_picture_and_profiles(cloths: Picture, dune: Profile, screen: Profile) -> None:
    opened, look = opened_for(cloths, dune), Look(screen, "on-paper")
    seen = {kind: look_pixels(opened, kind, (60, 40), look).astype(float) for kind in LOOKS}
    block = opened.tuned.region(opened.box, 60, 40).reshape(-1, 3) / 65535.0
    leg, chain = look.leg(dune), opened.chain()

    def shown(device: np.ndarray) -> np.ndarray:
        return np.round(leg.rgb(device) * 255).reshape(40, 60, 3)

    assert np.array_equal(seen["planned"], shown(chain.device(block)))
    assert np.array_equal(seen["never"], shown(block)), "the picture's own numbers at the printer"
    assert np.array_equal(seen["twice"], shown(chain.device(chain.device(block)))), (
        "the printer's numbers converted again"
    )
    others = [seen[k] for k in LOOKS if k != "planned"]
    assert all(np.abs(o - seen["planned"]).mean() > 1.5 for o in others), "each is seen"
    assert np.abs(np.diff(seen["grey"], axis=2)).max() <= 14 < np.abs(np.diff(seen["planned"], axis=2)).max()
    assert seen["dark"].mean() < seen["planned"].mean() - 15 and seen["faded"].mean() > seen["planned"].mean() + 5
    assert np.abs(np.diff(seen["soft"], axis=1)).mean() < np.abs(np.diff(seen["planned"], axis=1)).mean()
    tuned = opened_for(cloths, dune, recipe=by_hand(lightness=-0.5))
    assert np.abs(look_pixels(tuned, "twice", (60, 40), look) - seen["twice"]).mean() > 3, "of this print, not of any"


def test_a_soft_print_is_blurred_by_a_share_of_its_width() -> None:
    # how far an edge is spread: its slope's standard deviation, by the blur's definition 1/160 of the width
    edge = np.zeros((5, 320, 3))
    edge[:, 160:] = 200.0
    slope = np.diff(_drawn(edge, "soft", np.full(3, 255.0))[2, :, 1])
    places = np.arange(len(slope))
    middle = (slope * places).sum() / slope.sum()
    assert np.sqrt((slope * (places - middle) ** 2).sum() / slope.sum()) == pytest.approx(2.0, rel=0.03)


CARD = PrintCondition(id=1, printer="Press", paper="Paper", media_setting="Fine", ink="matte", profile_digest="d")


def _likely(look: str, hand_over: HandOver, **fields: object) -> dict[str, tuple[float, str]]:
    kept = bool(fields.pop("kept", True))
    white = float(fields.pop("white", 100.0))  # type: ignore[arg-type]
    found = causes(look, hand_over, replace(CARD, **fields), kept, white)  # type: ignore[arg-type]
    assert [c.likely for c in found] == sorted((c.likely for c in found), reverse=True)
    assert sum(c.likely for c in found) == pytest.approx(1.0)
    return {c.key: (c.likely, c.known) for c in found}


def test_causes_are_held_against_the_ticket() -> None:
    # common practice, no source: magenta or wrong after a conversion too many, odd colours after none
    file = _likely("twice", HandOver("printer"))
    assert next(iter(file)) == "program-converts" and file["program-converts"][1] == "open"
    assert file["lab-converts"][1] == "out" and file["other-profile"][1] == "out"
    sent = _likely("twice", HandOver("printer", queue="hall"))
    assert (
        sent["program-converts"] == (pytest.approx(sent["program-converts"][0]), "out")
        and sent["driver-corrects"][1] == "read"
    )
    assert sent["program-converts"][0] < file["program-converts"][0] / 3, (
        "sent by the program itself: nothing converts after it"
    )
    lab = _likely("twice", HandOver("printer"), lab=True)
    assert lab["lab-converts"][1] == "open" and lab["lab-converts"][0] > file["lab-converts"][0] * 5
    never = _likely("never", HandOver("space", "opRGB"))
    assert next(iter(never)) == "never-converted" and never["never-converted"][1] == "open"
    assert _likely("never", HandOver("printer"))["never-converted"][1] == "out"
    assert _likely("never", HandOver("printer"), kept=False)["other-profile"][1] == "open"
    assert next(iter(_likely("grey", HandOver(mode="grey")))) == "grey-mode"
    assert next(iter(_likely("dark", HandOver(media="Plain")))) == "other-medium"
    assert next(iter(_likely("dark", HandOver(), white=160.0))) == "screen-bright"
    assert (
        _likely("dark", HandOver(), white=160.0)["screen-bright"][0] > _likely("dark", HandOver())["screen-bright"][0]
    )
    assert next(iter(_likely("soft", HandOver(scale_percent=97.0)))) == "scaled"
    assert _likely("soft", HandOver(queue="hall"))["scaled"][1] == "out"
    assert next(iter(_likely("faded", HandOver(ink="photo")))) == "wrong-black"
    assert next(iter(_likely("banded", HandOver()))) == "nozzles"
    assert causes("planned", HandOver(), CARD, True) == []


# ---- cost


def test_what_a_print_costs() -> None:
    card = replace(CARD, sheet_price=2.0, sheet_sold="A4", ink_price=0.5, ink_ml=20.0)
    made = cost_of(card, "A3", PrintSize(40.0, 25.0), 0.5)
    # A3 is two A4 (ISO 216), a tenth of a square metre half inked takes 1 ml of 20 a square metre
    assert (
        made.paper == pytest.approx(4.0, rel=0.01)
        and made.ink_ml == pytest.approx(1.0)
        and made.ink == pytest.approx(0.5)
    )
    assert made.total == pytest.approx(4.5, rel=0.01)
    assert cost_of(CARD, "A3", PrintSize(40, 25), 0.5).total is None
    assert cost_of(replace(CARD, sheet_price=1.0), "A4", PrintSize(20, 15), 0.9).total == pytest.approx(1.0)
    assert coverage(np.array([[1.0, 1.0, 1.0], [0.0, 0.0, 0.0]]), 3) == 0.5
    assert coverage(np.array([[0.0, 0.0, 0.0, 1.0]]), 4) == 0.25


def test_what_a_paper_took() -> None:
    account = PaperAccount(sheets=10, good=3, cost=18.0, counted=9)
    assert account.per_print == 2.0 and account.per_good == 6.0 and account.needed == 4
    assert stock_words(account.needed, 3) == "needs four, three left"
    assert stock_words(None, 3) == "" and stock_words(4, -1) == "" and stock_words(12, 0) == "needs 12, none left"
    nothing = PaperAccount(2, 0, 0.0, 0)
    assert nothing.per_print is None and nothing.per_good is None and nothing.needed is None
