"""The greys of a paper, drawn: a neutral ramp stays neutral, a cast is seen five times as large."""

import numpy as np
import pytest
from pytestqt.qtbot import QtBot
from tests.desk.conftest import pixels, wait_until_settled

from rehearsal.core.papers.facts import RAMP
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.greys import GreysStrip
from rehearsal.desk.words import lab_colour


def _strip(qtbot: QtBot) -> GreysStrip:
    made = GreysStrip()
    qtbot.addWidget(made)
    made.resize(250, made.sizeHint().height())
    return made


def test_a_neutral_ramp_is_neutral_in_both_strips(qtbot: QtBot) -> None:
    strip = _strip(qtbot)
    strip.show_greys([(level, 0.0, 0.0) for level in np.linspace(17, 100, RAMP)])
    painted = pixels(strip).astype(int)
    for box in strip.strips():
        row = painted[round(box.center().y())]
        assert np.ptp(row, axis=1).max() <= 1 and (np.diff(row[:, 0]) >= -1).all()
        assert row[0, 0] < 60 and row[-1, 0] >= strip.room.lightest - 2, (
            "from the black to the paper, which is no lighter than the room's lightest"
        )
        assert row.max() <= strip.room.lightest


def test_a_cast_is_five_times_as_large(qtbot: QtBot) -> None:
    strip = _strip(qtbot)
    strip.show_greys([(50.0, 1.0, -2.0)] * RAMP)
    plain, strong = strip.colours()[:, 0]
    factor = strip.room.lightest / 255
    assert plain == pytest.approx(np.array(lab_colour((50.0, 1.0, -2.0))) * factor, abs=1)
    assert strong == pytest.approx(np.array(lab_colour((50.0, 5.0, -10.0))) * factor, abs=1)
    assert "2.2" in strip.accessibleDescription()
    strip.show_greys(())
    assert strip.accessibleDescription() == "not known yet"


def test_the_open_papers_ramp_is_shown_from_its_black(window: Window) -> None:
    window.stack.go_to("paper")
    wait_until_settled(window)
    tray, condition = window.stack.trays[2], window.session.now.condition
    assert condition is not None
    facts = window.session.shelf.facts_of(condition.id)
    assert facts is not None and len(facts.greys) == RAMP
    assert facts.black[0] < facts.greys[0][0] < facts.black[0] + 3, (
        "media-relative: a little lighter than the absolute black"
    )
    assert facts.greys[-1][0] == pytest.approx(100, abs=0.5)
    chroma = max(np.hypot(a, b) for _l, a, b in facts.greys)
    assert chroma == pytest.approx(facts.drift_chroma, abs=0.2)
    assert f"{chroma:.1f}" in tray.greys.accessibleDescription()
