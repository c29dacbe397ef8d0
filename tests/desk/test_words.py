"""What the program says: verdicts, shares, tickets' words, made from figures."""

import ast
import errno
import os
from dataclasses import replace
from datetime import date
from html import escape
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel
from tests.conftest import demo_profile, request_for

import rehearsal
from rehearsal.core.errors import ProfileError, RehearsalError, system_words
from rehearsal.core.icc.standard import working_space
from rehearsal.core.proof.advice import rendering_name
from rehearsal.core.proof.areas import cause_in_words
from rehearsal.core.proof.chain import VIEWS as VIEW_ORDER
from rehearsal.core.proof.chain import switch_is_fixed
from rehearsal.core.proof.grouping import TELLINGS, telling
from rehearsal.core.proof.hues import NAMES
from rehearsal.core.proof.judging import Judgement, judge
from rehearsal.core.proof.modelling import in_words
from rehearsal.core.values.adjustments import ADJUSTMENTS, Values
from rehearsal.core.values.frame import PrintSize
from rehearsal.core.values.words import (
    LANGUAGES,
    amount,
    capital,
    date_words,
    hue_words,
    share_words,
    stops_words,
    values_words,
    word,
)
from rehearsal.desk.frame.keys import KEYS, key_groups
from rehearsal.desk.frame.verdict import readout_rows
from rehearsal.desk.frame.why import scales_of, why_html
from rehearsal.desk.parts.cards import IntentCard, figure_words
from rehearsal.desk.parts.widgets import Words
from rehearsal.desk.words import INTENT_KEYS, VIEWS, rendering_words
from rehearsal.tasks.maps import PixelReading


@pytest.fixture(scope="module")
def judged() -> Judgement:
    pixels = np.full((200, 300, 3), 34000, np.uint16)
    pixels[40:120, 60:200] = (62000, 15000, 1500)
    pixels[150:, :] = 200
    request = request_for(
        pixels, working_space("ROMM"), demo_profile("SK24_WhiteDune_Hi.icc"), screen=working_space("sRGB")
    )
    return judge(request)


@pytest.mark.parametrize(
    ("share", "words"),
    [
        (0, "0 %"),
        (0.04, "< 0.1 %"),
        (0.12, "0.1 %"),
        (0.7, "0.7 %"),
        (4.06, "4.1 %"),
        (6.2, "6.2 %"),
        (9.4, "9.4 %"),
        (9.6, "10 %"),
        (25.2, "25 %"),
        (100, "100 %"),
    ],
)
def test_shares(share: float, words: str) -> None:
    assert share_words(share) == words


def test_why_shows_the_figures(judged: Judgement) -> None:
    html = why_html(judged)
    for candidate in judged.candidates:
        assert rendering_name(candidate.rendering) in html and f"{candidate.score:.2f}" in html
    assert f"mean {judged.change.mean:.1f}" in html and "This screen cannot show" in html
    assert all(escape(reason) in html for reason in judged.advice.reasons)


def test_small_shares_are_not_swallowed_as_markup(judged: Judgement) -> None:
    html = why_html(replace(judged, shadow_share=0.04, colder=0.03))
    assert "&lt; 0.1 % of the picture is darker" in html and "&lt; 0.1 % is near-white" in html


def test_areas_in_words(judged: Judgement) -> None:
    area = judged.areas[0]
    assert cause_in_words(replace(area, at_edge=True)) == "at the edge"
    assert cause_in_words(replace(area, at_edge=False, mixed=False, cause="too_light")) == "too light"
    assert cause_in_words(replace(area, at_edge=False, mixed=True, cause="too_dark")) == "dark and saturated"


def test_modelling_in_words() -> None:
    assert [in_words(v) for v in (0.95, 0.9, 0.8, 0.69, None)] == [
        "kept",
        "kept",
        "softened",
        "going flat",
        "nothing to show",
    ]


def test_tuning_in_words() -> None:
    words = values_words(Values.of(lightness=1 / 3, contrast=-5, strength=4, warmth=-10))
    assert words == ["lighter by ⅓ stop", "contrast -5", "colour strength +4 %", "cooler by 10 mired"]
    assert values_words(Values()) == [] and values_words(Values.of(warmth=10)) == ["warmer by 10 mired"]
    assert [amount("lightness", v) for v in (0.5, 0)] == ["+½ stop", "0 stop"]
    assert [amount("contrast", -3), amount("strength", 4), amount("warmth", 0)] == ["-3", "+4 %", "0 mired"]


def test_every_key_has_its_word_in_every_language() -> None:
    for language, groups in LANGUAGES.items():
        for group in ("adjustment", "adjustment_short", "adjustment_does", "amount", "amount_less", "zero"):
            assert set(groups[group]) == set(ADJUSTMENTS), (language, group)
        for group in ("learnt_more", "learnt_less"):
            assert set(groups[group]) == {a.name for a in ADJUSTMENTS.values() if a.verdict_step}
        assert {a.unit for a in ADJUSTMENTS.values()} == set(groups["unit_short"])
        assert set(NAMES) <= set(groups["hue"]) and all("{}" in text for text in groups["shade"].values())
        assert set(groups["health"]) == set(groups["health_follows"])
        assert groups.keys() == LANGUAGES["en"].keys()
        for group, words in groups.items():
            assert words.keys() == LANGUAGES["en"][group].keys(), (language, group)
    assert hue_words("dark.sea-green") == "dark sea green" and hue_words("wine-red") == "wine red"
    assert word("verdict", "given-up") == "given up" and word("verdict", "my own words") == "my own words"


def test_readout_has_units_and_cause() -> None:
    reading = PixelReading(np.array([50.0, 30, 40]), np.array([52.0, 20, 30]), 6.3, 5.1, "too_saturated")
    (name, colour, change), (other, _printed, beyond) = readout_rows(reading)
    assert (name, other) == ("picture", "print") and colour == "L* 50  C* 50  h 53°"
    assert change == "ΔE₀₀ 6.3" and beyond == "too saturated by 5.1"
    assert readout_rows(replace(reading, cause=""))[1][2] == ""


def test_every_view_and_intent_has_its_key() -> None:
    assert set(VIEWS) == set(VIEW_ORDER)
    keys = {k.key: k for k in KEYS}
    for view, (_name, key, _tip) in VIEWS.items():
        assert keys[key].argument == view
    for rendering, _name, key in INTENT_KEYS:
        assert keys[key].argument == (rendering.intent, rendering.compensate)
        assert rendering_words(rendering).split(",")[0] in keys[key].words
    listed = [words for _title, keys in key_groups() for _key, words in keys]
    assert all(listed.count(k.words) == 1 for k in KEYS)


def test_a_fixed_switch_says_why() -> None:
    four, two = demo_profile("SK24_WindmillBaryta_Hi.icc"), demo_profile("SK24_WhiteDune_Hi.icc")
    assert "Version 4" in switch_is_fixed("perceptual", four) and switch_is_fixed("perceptual", two) == ""
    assert switch_is_fixed("absolute", two) and switch_is_fixed("relative", four) == ""


def test_cards_carry_the_same_rows(judged: Judgement, qapp: object) -> None:
    among, rows = list(judged.candidates), telling(judged.candidates)
    shown = []
    for figures in among:
        card = IntentCard(figures.rendering, "x", "Alt+1")
        card.show_figures(figures, False, rows, among)
        shown.append(card._rows)
        card.deleteLater()
    assert all([r[0].key for r in row] == [r.key for r in rows] for row in shown)
    for column in zip(*shown, strict=True):
        best = min(value for _t, value, _most, _b in column)
        assert all(b == (value <= best + t.step / 2) for t, value, _most, b in column) and any(r[3] for r in column)


def test_a_figure_and_its_unit_stay_in_one_line(qtbot) -> None:  # type: ignore[no-untyped-def]
    label = Words("2.3 % of the print differs by ΔE₀₀ 1.5, < 0.1 % at 39 × 26 cm")
    qtbot.addWidget(label)
    assert label.text() == "2.3 % of the print differs by ΔE₀₀ 1.5, < 0.1 % at 39 × 26 cm"
    shown = QLabel.text(label)
    for part in ("2.3\u00a0%", "ΔE₀₀\u00a01.5", "<\u00a00.1\u00a0%", "26\u00a0cm"):
        assert part in shown
    assert "% of" in shown and label.textFormat() == Qt.TextFormat.PlainText, "nothing is taken for markup"


def test_stops_as_photographers_say_them() -> None:
    wanted = {
        1 / 3: "⅓ stop",
        -1 / 6: "⅙ stop",
        0.5: "½ stop",
        1: "1 stop",
        4 / 3: "1⅓ stops",
        2: "2 stops",
    }
    assert {v: stops_words(v) for v in wanted} == wanted
    assert stops_words(0.6) == "0.6 stops" and stops_words(1.04) == "1 stop" and stops_words(2.27) == "2.3 stops"
    assert stops_words(0.0) == "0 stops" and stops_words(0.02) == "0.02 stops" and stops_words(0.15) == "0.15 stops"
    assert stops_words(10.0) == "10 stops" and stops_words(1.44) == "1.4 stops"


def test_dates_as_people_write_them() -> None:
    today = date(2026, 11, 27)
    assert date_words("2026-11-05", today) == "5 Nov" and date_words("2025-01-31", today) == "31 Jan 2025"
    assert date_words("", today) == "" and date_words("soon", today) == "soon"


def test_sizes_to_the_millimetre() -> None:
    assert PrintSize(25.4, 20.32).in_words == "25.4 × 20.3 cm" and PrintSize(39, 26).in_words == "39 × 26 cm"


def test_errors_are_sentences_for_a_person_and_one_line_for_programs() -> None:
    error = ProfileError("the profile cannot be read (it is not there any more)", "/a/b/x.icc", "choose it again")
    assert error.words() == "The profile cannot be read (x.icc, it is not there any more). Choose it again."
    assert error.sentence().count(": ") == 2 and "/a/b/x.icc" in error.sentence()
    assert RehearsalError("the size is not understood", "30xx").words() == "The size is not understood (30xx)."
    for code in (errno.ENOENT, errno.ENOSPC, errno.EACCES, errno.EISDIR):
        said = system_words(OSError(code, os.strerror(code)))
        assert said.islower() and os.strerror(code).lower() not in said, "no raw words of the system"
    assert system_words(OSError(9999, "Strange Thing")) == "strange thing" and system_words(OSError())


def test_scales_do_not_make_much_of_little(judged: Judgement) -> None:
    """What hardly differs lies close together; the best is at the right end of every line."""
    base = judged.candidates[0]
    near = (
        base,
        replace(
            base, felt_change=base.felt_change + 0.1, flat=base.flat + 0.5, shadow_separation=base.shadow_separation - 1
        ),
    )
    for scale in scales_of(near):
        places = [p for p in scale.places() if p is not None]
        assert max(places) == 1.0 and min(places) >= 0.89, scale.name
    far = (base, replace(base, felt_change=base.felt_change + 3, flat=base.flat + 20))
    assert [round(min(s.places()), 3) for s in scales_of(far)[:2]] == [0.0, 0.0]
    assert [s.places()[0] for s in scales_of(far)[:2]] == [1.0, 1.0]


def test_a_share_on_a_card_is_never_told_as_none() -> None:
    lost, differs = TELLINGS[0], TELLINGS[1]
    assert (
        figure_words(lost, 0.04) == "< 0.1 %"
        and figure_words(lost, 0.0) == "0 %"
        and figure_words(differs, 2.04) == "2.0"
    )


def test_a_name_that_begins_small_keeps_its_letters() -> None:
    assert capital("white Dune stays chosen") == "White Dune stays chosen"
    assert capital("sRGB file for a lab") == "sRGB file for a lab" and capital("") == "" and capital("a") == "A"


def test_every_job_has_a_word_for_the_message_line() -> None:
    source = Path(rehearsal.__file__).parent
    kinds = set()
    for path in source.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "Job":
                first = node.args[0]
                kinds |= {n.value for n in ast.walk(first) if isinstance(n, ast.Constant) and isinstance(n.value, str)}
    assert len(kinds) > 40 and kinds <= set(LANGUAGES["en"]["job"])
