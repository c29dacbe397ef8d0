"""Details of the first four stations: what is said, what is remembered, what is offered."""

from collections.abc import Callable
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QDoubleSpinBox, QLabel, QPushButton, QWidget
from tests.desk.conftest import hover, pixels, press, read_page, wait_until_settled

from rehearsal.core.icc import open_profile
from rehearsal.core.papers.names import NameGuess
from rehearsal.core.proof.saying import short_loss, verdict_sentence
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.frame import Crop
from rehearsal.core.values.recipe import LIGHT, Recipe, Step
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.words import share_words
from rehearsal.demo.make import demo_folder
from rehearsal.desk.boards.intents import IntentsBoard
from rehearsal.desk.boards.screencheck import ScreenCheckBoard, TypedReading
from rehearsal.desk.boards.shelf import condition_rows
from rehearsal.desk.frame.stations import STATIONS
from rehearsal.desk.frame.why import show_figures
from rehearsal.desk.frame.window import Window
from rehearsal.desk.monitor import desktop_converts
from rehearsal.desk.parts.plots import Plot, Trace
from rehearsal.desk.trays.picture import arrival_words
from rehearsal.desk.trays.screen import standards_html
from rehearsal.desk.words import lab_colour
from rehearsal.tasks.conditions import NoFacts, condition_from
from rehearsal.tasks.finding import FoundProfile
from rehearsal.workbook.values import PrintCondition, ScreenReading, Take


def _texts(tray: QWidget) -> str:
    return " ".join(label.text() for label in tray.findChildren(QLabel) if label.isVisibleTo(tray))


def _box(tray: QWidget, name: str) -> QComboBox:
    return next(c for c in tray.findChildren(QComboBox) if c.accessibleName() == name)


def _choose(box: QComboBox, text: str) -> None:
    index = next(i for i in range(box.count()) if box.itemText(i).startswith(text))
    box.setCurrentIndex(index)
    box.activated.emit(index)


def _button(widget: QWidget, text: str) -> QPushButton:
    return next(b for b in widget.findChildren(QPushButton) if b.text().startswith(text))


# ---- Screen


def test_calibration_counted_in_hours(window: Window) -> None:
    window.stack.go(0)
    tray = window.stack.trays[0]
    window.session.screen.set(calibrated=(date.today() - timedelta(days=20)).isoformat())
    _choose(_box(tray, "Counted in"), "hours")
    assert window.session.screen.record.by_hours and "not told" in tray._trust.text()
    hours = next(f for f in tray.findChildren(QDoubleSpinBox) if f.accessibleName() == "Light since then")
    hours.setValue(160)
    assert "160 hours of light" in tray._trust.text() and window.ribbon.buttons[0].state.ring == "full"
    hours.setValue(240)
    assert window.ribbon.buttons[0].state.ring == "look" and "due" in window.ribbon.buttons[0].state.words
    again = next(f for f in tray.findChildren(QDoubleSpinBox) if f.accessibleName() == "Remind me after")
    again.setValue(400)
    assert window.session.screen.record.interval_hours == 400 and window.ribbon.buttons[0].state.ring == "full"
    _choose(_box(tray, "Counted in"), "days")
    assert not window.session.screen.record.by_hours
    _choose(_box(tray, "Counted in"), "hours")
    _button(tray, "Calibrated today").click()
    assert window.session.screen.record.hours == 0 and window.ribbon.buttons[0].state.ring == "full"


def test_the_reminder_does_not_nag(window: Window) -> None:
    session = window.session
    assert session.screen.reminder() == ""
    session.screen.set(calibrated=(date.today() - timedelta(days=60)).isoformat())
    assert session.screen.doubt == "", "the check of two days ago was good"
    old = session.screen.record.readings[0]
    session.screen.set(readings=(replace(old, when=(date.today() - timedelta(days=50)).isoformat()),))
    first = session.screen.reminder()
    assert "60 days ago" in first and "ΔE₀₀" in first, "a check of seven weeks ago says nothing any more"
    assert session.screen.reminder() == "", "once a day at the most"


def test_drift_is_plotted(window: Window) -> None:
    window.stack.go(0)
    plot = window.stack.trays[0]._drift
    assert "cd/m²" in plot.accessibleDescription()
    painted = pixels(plot)
    assert (painted.min(axis=2) > 220).sum() > 40
    window.session.screen.set(readings=())
    assert (pixels(plot).min(axis=2) > 220).sum() < (painted.min(axis=2) > 220).sum()


def test_what_this_screen_can_show(window: Window) -> None:
    window.stack.go(0)
    wait_until_settled(window)
    _button(window.stack.trays[0], "Screen").click()
    text = _texts(window.stack.trays[0])
    assert "of this paper's gamut" in text and "of the picture" in text and "bits a channel" in text
    window.session.screen.set(contrast=20)
    assert "cannot show how deep its black is" in _texts(window.stack.trays[0])


def test_prints_too_light_and_the_lamp(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go(0)
    window.session.screen.set(white=90.0, lux=4000.0)
    tray = window.stack.trays[0]
    text = _texts(tray)
    assert "lighter than the screen" in window.verdict.text and "lx on the print would meet this screen" in text
    _button(tray, "Darken this print").click()
    assert take().recipe.total["lightness"] < 0
    wait_until_settled(window)


def test_the_verdict_knows_the_light(window: Window) -> None:
    window.session.screen.set(white=120.0, lux=200.0)
    assert " darker than this screen" in window.verdict.text
    lit = window.session.logbook.brightness
    assert lit is not None
    window.session.takes.change_recipe(Recipe((Step(LIGHT, Values.of(lightness=lit.offset)),)))
    wait_until_settled(window)
    assert "than this screen" not in window.verdict.text


def test_a_long_verdict_is_not_cut_off(window: Window) -> None:
    label = window.verdict._sentence
    label.say("Short.")
    large = label.fontMetrics().height()
    label.say("one word and another, more of them than anybody wants to read in one go, " * 5)
    assert label.heightForWidth(label.width()) <= window.verdict.height() - 4
    assert label.fontMetrics().height() < large
    label.say("Short again.")
    assert label.fontMetrics().height() == large
    window.verdict.refresh()
    assert label.heightForWidth(label.width()) <= window.verdict.height() - 4


def test_standards_page(window: Window) -> None:
    window.stack.go(0)
    text = read_page(lambda: _button(window.stack.trays[0], "standards").click())
    assert "2000 lx" in text and "ISO 12646" in text and "from memory" in text
    assert standards_html().count("<tr>") >= 11


def test_a_reading_typed_in(window: Window) -> None:
    press(window, Qt.Key.Key_F2)
    board = window.boards.shown
    assert isinstance(board, ScreenCheckBoard)

    def type_in() -> None:
        dialog = QApplication.activeModalWidget()
        assert isinstance(dialog, TypedReading)
        dialog._luminance.setValue(111)
        dialog._black.setValue(0.111)
        dialog._mean.setValue(2.2)
        dialog.accept()

    QTimer.singleShot(150, type_in)
    _button(board, "Type in").click()
    last = window.session.screen.record.readings[-1]
    assert (last.luminance, last.mean, last.state, last.source) == (111, 2.2, "usable", "typed")
    assert "111 cd/m²" in board.verdict.text() and "ΔE₀₀ 2.2" in window.session.screen.doubt
    _button(board, "Use this white").click()
    assert window.session.screen.record.white == 111 and window.session.screen.record.contrast == 1000
    wait_until_settled(window)


def test_caution_where_the_desktop_may_convert(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delenv("WAYLAND_DISPLAY", raising=False)
    monkeypatch.setenv("XDG_SESSION_TYPE", "x11")
    assert desktop_converts() == ""
    monkeypatch.setenv("XDG_SESSION_TYPE", "wayland")
    assert "may convert" in desktop_converts()


def test_a_paper_view_says_that_the_eye_gets_used_to_it(window: Window) -> None:
    for view in ("on-paper", "on-paper-bright", "true-black", "fitted", "in-its-light"):
        window.session.takes.change("view", view=view)
        said = "looks better than this once the eye is used to it" in window.pair.header_texts(1)[1]
        assert said is view.startswith("on-paper"), view
    wait_until_settled(window)


# ---- Picture


def test_what_was_found_in_the_picture(window: Window) -> None:
    window.stack.go(1)
    wait_until_settled(window)
    text = _texts(window.stack.trays[1])
    assert "of it does not fit into sRGB, " in text and "clipped" in text and "from 30 cm" in window.verdict.text
    arrival = window.session.inquiries.arrival
    assert arrival is not None and arrival.beyond_spaces["sRGB"] > arrival.beyond_spaces["P3"]
    assert arrival.beyond_spaces["ROMM"] == 0, "the picture's own space"
    soft, hard = replace(arrival, overshoot=0.01), replace(arrival, overshoot=0.12)
    assert "not sharpened" in arrival_words(soft) and "12 % of their height: sharpened already" in arrival_words(hard)
    for unclear in (None, 0.05):
        assert "edges cannot tell" in arrival_words(replace(arrival, overshoot=unclear))
    assert arrival_words(None) == "Looking…"
    # what lies beyond the screen is one figure at both stations: the judgement's
    judged = window.session.judging.beyond_screen
    assert judged is not None and f"{share_words(judged)} lies beyond this screen" in text and "bout" not in text
    window.stack.go(0)
    _button(window.stack.trays[0], "Screen").click()
    assert f"Beyond it: {share_words(judged)} of the picture" in _texts(window.stack.trays[0])
    assert "About 4.0 % lies beyond this screen" in arrival_words(replace(arrival, beyond_screen=4.0))
    assert "Hardly any" in arrival_words(replace(arrival, beyond_screen=0.05)), "a sample never says that there is none"
    assert "Hardly any" in arrival_words(replace(arrival, beyond_screen=0.0))
    assert "No colour beyond" in arrival_words(arrival, 0.0)
    window.session.screen.set(profile_path="")
    assert window.session.judging.beyond_screen is None, "nobody knows what this screen cannot show"
    window.session.takes.undo()
    assert window.session.judging.beyond_screen == judged
    window.session.takes.change_frame(crop=Crop(0.1, 0.1, 0.3, 0.3))
    assert window.session.judging.beyond_screen is None, "judged was another crop"


def test_crop_by_proportion(window: Window, take: Callable[[], Take]) -> None:
    window.stack.go(1)
    tray = window.stack.trays[1]
    wait_until_settled(window)
    before = pixels(window.pair)
    _choose(_box(tray, "Proportions of the crop"), "1 : 1")
    crop = take().frame.crop
    assert crop.width * 450 == pytest.approx(crop.height * 300)
    assert take().frame.size.width_cm == pytest.approx(take().frame.size.height_cm)
    wait_until_settled(window)
    assert "arrival" not in window.session.jobs.running and window.session.inquiries.arrival.crop == crop, (
        "looked at again inside the crop"
    )
    placed = window.pair.placing.placed(0)
    assert placed is not None and before.shape == pixels(window.pair).shape
    # free: a corner dragged gives any proportion, and the print follows it
    _choose(_box(tray, "Proportions of the crop"), "free")
    corner = window.pair.crop_frame.rect(placed.picture, crop).bottomRight().toPoint()
    QTest.mousePress(window.pair, Qt.MouseButton.LeftButton, pos=corner - QPoint(3, 3))
    hover(window.pair, corner - QPoint(3, 63))
    QTest.mouseRelease(window.pair, Qt.MouseButton.LeftButton, pos=corner - QPoint(3, 63))
    crop = take().frame.crop
    wide = crop.width * 450 / (crop.height * 300)
    assert wide > 1.1 and take().frame.size.width_cm / take().frame.size.height_cm == pytest.approx(wide, rel=0.01)
    wait_until_settled(window)


# ---- Paper


def test_long_and_short_form_of_a_card(window: Window) -> None:
    condition = window.session.now.condition
    assert condition is not None
    facts = window.session.shelf.facts[condition.id]
    short, long = condition_rows(condition, facts), dict(condition_rows(condition, facts, short=False))
    assert len(short) == 10 and "gamut" in long and dict(short)["contrast"].startswith("39 : 1")
    for name in (
        "preset",
        "printer's panel",
        "high speed",
        "margins",
        "borderless",
        "sheets",
        "loading",
        "notes",
        "texture",
    ):
        assert long[name]
    assert condition_rows(condition, None)[0] == ("measured", "…")
    assert condition_rows(condition, NoFacts("x"))[0] == ("profile", "missing")


def test_suggestions_are_taken_over(tmp_path: Path) -> None:
    path = demo_folder() / "profiles" / "SK24_SluiceGloss_Hi.icc"
    guess = NameGuess(
        "SK24", "Brine Lustre", "Fine", "photo black", "Photo lustre", "lustre", "260 g/m²", True, "1440 dpi"
    )
    found = FoundProfile(str(path), "", "x", "RGB", 2.4, guess, instructions=str(tmp_path / "sheet.pdf"))
    made = condition_from(found)
    assert (made.paper, made.printer, made.weight) == ("Brine Lustre", "SK24", "260 g/m²")
    assert (made.quality, made.resolution, made.ink) == ("Fine", "1440 dpi", "photo black")
    assert made.made_by == "own" and made.instructions.endswith("sheet.pdf") and "media_setting" in made.read
    assert made.profile_digest == open_profile(path).digest


def test_own_sheets_come_first(window: Window) -> None:
    window.session.shelf.change(replace(window.session.now.condition, sheets=("A2", "A5")))
    window.stack.go(6)
    box = _box(window.stack.trays[6], "Sheet")
    assert [box.itemText(i) for i in range(2)] == ["A2", "A5"] and "not at hand" in box.itemText(2)


def test_papers_off_the_shortlist_stay_out_of_the_scout(window: Window) -> None:
    for condition in window.session.shelf.conditions:
        if condition.paper != "White Dune":
            window.session.shelf.change(replace(condition, shortlist=False))
    press(window, Qt.Key.Key_O)
    wait_until_settled(window)
    board = window.boards.shown
    assert board is not None and [c.paper for c in board._conditions] == ["White Dune", "White Dune"]  # type: ignore[attr-defined]
    for condition in window.session.shelf.conditions:
        window.session.shelf.change(replace(condition, shortlist=False))
    board.open()
    assert "No paper is compared" in board.sentence.text()
    wait_until_settled(window)


# ---- Judge


def test_five_intents_have_the_same_rows_of_figures(window: Window) -> None:
    press(window, Qt.Key.Key_I)
    board = window.boards.shown
    assert isinstance(board, IntentsBoard)
    _choose(board._count, "all five")
    wait_until_settled(window)
    rows = [card.figures.rows for card in board._wall.cards]
    assert len(rows) == 5 and all([label for label, _v in r] == [label for label, _v in rows[0]] for r in rows)
    absolute = dict(rows[4])
    assert (
        absolute["deepest"].startswith("L*")
        and absolute["difference without the black"] != dict(rows[0])["difference without the black"]
    )


def test_compensation_without_effect_is_said(window: Window) -> None:
    # version 4 perceptual: the switch does nothing
    baryta = next(c for c in window.session.shelf.conditions if c.paper == "Windmill Baryta")
    window.session.takes.choose_condition(baryta)
    press(window, Qt.Key.Key_I)
    wait_until_settled(window)
    board = window.boards.shown
    assert board is not None and "Compensation changes nothing with perceptual" in board.sentence.text()
    result = window.session.judging.judgement
    assert result is not None
    text = read_page(lambda: show_figures(window, result))
    assert "changes nothing with perceptual" in text and "strong parts" in text


def test_sentences_before_and_after(window: Window) -> None:
    result = window.session.judging.judgement
    assert result is not None
    window.verdict.refresh()
    assert window.verdict.text.startswith(verdict_sentence(result).split(":")[0])
    assert short_loss(result.beyond.lost) == {s.key: s.state(window.session) for s in STATIONS}["judge"].words


def test_contrast_of_paper_and_screen_stand_together(window: Window) -> None:
    head = window.pair.header_texts(1)[1]
    assert "paper 39 : 1" in head and "screen 1000 : 1" in head
    space = next(c for c in window.session.shelf.conditions if c.made_by == "standard")
    window.session.takes.choose_condition(space)
    wait_until_settled(window)
    assert "paper" not in window.pair.header_texts(1)[1]


def test_no_unconverted_look_on_four_inks(window: Window) -> None:
    from tests.conftest import PRESS

    from rehearsal.tasks.conditions import new_condition

    window.session.takes.choose_condition(window.session.shelf.add(new_condition(PRESS)))
    wait_until_settled(window)
    press(window, Qt.Key.Key_U)
    assert not window.session.roads.unmanaged and "CMYK printer" in window.message.text
    wait_until_settled(window)


@pytest.mark.own_window
def test_changing_the_intent_uses_what_was_baked_ahead(window: Window) -> None:
    wait_until_settled(window)
    before = window.session.roads.road
    window.session.takes.render(Rendering("perceptual"))
    road = window.session.roads.road
    assert road is not None and road is not before and not window.session.jobs.is_running("road"), "there at once"
    wait_until_settled(window)


# ---- small parts


def test_swatches_of_known_colours() -> None:
    # Lab under D50 of sRGB white, black and red (published tables)
    assert lab_colour((100, 0, 0)) == (255, 255, 255) and lab_colour((0, 0, 0)) == (0, 0, 0)
    assert np.abs(np.array(lab_colour((54.29, 80.81, 69.89))) - (255, 0, 0)).max() <= 3


def test_a_plot_tells_and_paints_its_traces(window: Window) -> None:
    plot = Plot("L*", "units")
    plot.resize(200, 100)
    x = np.arange(50.0)
    empty = pixels(plot)
    plot.show_traces(
        [Trace("one", x, x / 2), Trace("two", x, 25 - x / 2, (4.0, 2.0))], (10.0, "aim"), [(10, 20)], ("A", "B")
    )
    assert "one 0.0 to 24.5 units" in plot.accessibleDescription()
    full = pixels(plot)
    assert (full != empty).any(axis=2).mean() > 0.02
    gap = x.copy()
    gap[20:30] = np.nan
    plot.show_traces([Trace("one", x, gap)])
    held = pixels(plot)
    assert (held != full).any()
    plot.show_traces([Trace("dot", np.array([1.0]), np.array([5.0]), dots=True)])
    assert (pixels(plot).min(axis=2) > 200).sum() > 4
    plot.deleteLater()


def test_readings_are_kept_in_the_workbook(window: Window) -> None:
    window.session.screen.keep_reading(ScreenReading("2026-01-02", 88.0, 0.1, 5010.0, 0.002, 0.7, 2.0, "good", "test"))
    kept = window.session.book.recall(f"screen {window.session.screen.key}")
    assert kept["readings"][-1]["luminance"] == 88.0 and kept["readings"][-1]["state"] == "good"
    assert isinstance(window.session.now.condition, PrintCondition)
    wait_until_settled(window)
