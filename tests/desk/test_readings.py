"""A master with tables of its own in the window: each pane shows it as its own intent reads it."""

from pathlib import Path

import numpy as np
from PyQt6.QtCore import QPoint
from tests.core.test_reading import _pixels, _with_tables_of_its_own
from tests.desk.conftest import wait_until_settled

from rehearsal.core.icc import Profile
from rehearsal.core.picture.write import write_picture
from rehearsal.core.proof.chain import PrintChain, ScreenLeg
from rehearsal.core.values.recipe import by_hand
from rehearsal.core.values.rendering import Rendering
from rehearsal.desk.frame.window import Window


def _painted(window: Window, content: int, x: float, y: float) -> np.ndarray:
    """Screen RGB at a place of a pane's picture, 0 to 1."""
    placed = window.pair.placing.placed(content)
    assert placed is not None
    at = QPoint(
        round(placed.picture.x() + x * placed.picture.width()), round(placed.picture.y() + y * placed.picture.height())
    )
    colour = window.pair.grab().toImage().pixelColor(at)
    return np.array([colour.red(), colour.green(), colour.blue()]) / 255


def test_the_take_is_read_by_its_intent_and_the_picture_is_not(
    window: Window, press_with_readings: Profile, tmp_path: Path
) -> None:
    master = _with_tables_of_its_own(press_with_readings)
    inks = np.repeat(np.repeat(_pixels(master, 6, 8), 40, axis=0), 40, axis=1)
    write_picture(inks, master, 300, tmp_path / "inks.tif")
    window.session.incoming.open_files([str(tmp_path / "inks.tif")])
    wait_until_settled(window)
    session = window.session
    shown = {}
    for rendering in (Rendering(), Rendering("perceptual")):
        session.takes.render(rendering)
        wait_until_settled(window)
        opened, look = session.now.opened, session.roads.look
        assert opened is not None and look is not None and session.roads.reading is opened.reading
        leg = ScreenLeg(opened.paper, look.screen, look.view, look.light)
        for x, y in ((0.19, 0.25), (0.56, 0.58), (0.81, 0.75)):
            value = inks[int(y * 240), int(x * 320)][None] / 65535.0
            exact = leg.rgb(PrintChain(master, opened.paper, rendering).device(value))[0]
            np.testing.assert_allclose(_painted(window, 1, x, y), exact, atol=0.03)
        shown[rendering.intent] = [_painted(window, side, 0.56, 0.58) for side in (0, 1)]
    np.testing.assert_allclose(shown["relative"][0], shown["perceptual"][0], atol=0.005)
    assert np.abs(shown["relative"][1] - shown["perceptual"][1]).max() > 0.02
    # undone while the other reading is still being made: what is shown belongs together
    session.takes.change_recipe(by_hand(contrast=10))
    session.takes.render(Rendering())
    session.takes.undo()
    wait_until_settled(window)
    assert session.roads.reading is session.now.opened.reading  # type: ignore[union-attr]
