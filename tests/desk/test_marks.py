"""Marks on the pair and what is remembered about areas and screens, driven by clicks and keys."""

from collections.abc import Callable

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMenu, QPushButton
from tests.desk.conftest import hover, pixels, press, wait_until_settled

from rehearsal.core.picture.file import Picture, PictureInfo
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.chain import Look, PrintChain, Rendering, ScreenLeg
from rehearsal.core.values.recipe import by_hand
from rehearsal.core.values.words import hue_words
from rehearsal.desk.frame.window import Window
from rehearsal.tasks.scouting import wall_picture
from rehearsal.workbook.values import Take


def test_a_line_shows_where_it_goes_flat(window: Window, take: Callable[[], Take]) -> None:
    press(window, Qt.Key.Key_V)
    assert window.pair.state.drawing_line and window.stack.station == 3
    placed = window.pair.placing.placed(0)
    assert placed is not None
    p = placed.picture
    start, end = (QPoint(round(p.x() + fx * p.width()), round(p.y() + 0.45 * p.height())) for fx in (0.26, 0.46))
    QTest.mousePress(window.pair, Qt.MouseButton.LeftButton, pos=start)
    for step in (0.3, 0.6, 1.0):
        hover(window.pair, start + (end - start) * step)
    QTest.mouseRelease(window.pair, Qt.MouseButton.LeftButton, pos=end)
    wait_until_settled(window)
    line = take().marks.line
    assert (
        line[0] == pytest.approx(0.26, abs=0.01)
        and line[2] == pytest.approx(0.46, abs=0.01)
        and not window.pair.state.drawing_line
    )
    page = window.stack.judge.line
    assert page.reading is not None and window.stack.judge.pages.current == 1
    page.choose("C")
    bright = (pixels(page.plot).min(axis=2) > 220).sum()
    assert bright > 60, "two traces are painted"
    assert page.reading.rows("C")[0].max() > page.reading.rows("C")[1].max() + 5, "the print is weaker"
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert take().marks.line == (), "the whole drag is one change"


def test_pins_keep_readings(window: Window, take: Callable[[], Take]) -> None:
    placed = window.pair.placing.placed(1)
    assert placed is not None
    p = placed.picture
    spot = QPoint(round(p.x() + 0.36 * p.width()), round(p.y() + 0.4 * p.height()))
    hover(window.pair, spot)
    window.pair.setFocus()
    press(window, Qt.Key.Key_D)
    QTest.mouseClick(window.pair, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, spot + QPoint(90, 0))
    wait_until_settled(window)
    assert len(take().marks.pins) == 2
    table = window.stack.judge.pins.table
    assert window.stack.judge.pages.current == 2 and table.rowCount() == 2
    readout = window.verdict._readout.text
    assert (
        f"L* {float(table.item(0, 1).text().split()[0]):.0f}" in readout and "too saturated" in table.item(0, 4).text()
    )
    painted = pixels(window.pair)[spot.y() - 18 : spot.y(), spot.x() + 6 : spot.x() + 22]
    assert painted.min() < 60 and painted.max() > 230, "a numbered badge"
    table.setCurrentCell(0, 0)
    next(b for b in window.stack.judge.pins.findChildren(QPushButton)).click()
    assert len(take().marks.pins) == 1


def test_fine_as_it_is_is_remembered_for_the_paper(window: Window) -> None:
    page = window.stack.judge.areas
    first = page.table.item(0, 0).data(Qt.ItemDataRole.AccessibleTextRole)
    page.table.selectRow(0)
    area = page.chosen()
    assert area is not None
    page._fine.click()
    menu = page.findChild(QMenu)
    assert menu is not None
    next(a for a in menu.actions() if "velvet" in a.text()).trigger()
    menu.close()
    rows = page.table.rowCount()
    texts = [page.table.item(row, 5).text() for row in range(rows)]
    assert texts.count("fine") == 1 and texts[0] != "fine"
    assert "fine: velvet may be dark" in page.table.item(texts.index("fine"), 5).toolTip()
    assert "fine as it is" in window.verdict.text
    # another picture on the same paper knows it too, another paper does not
    dune = window.session.now.condition.id
    other = next(m for m in window.session.takes.masters if m.name != window.session.now.master.name)
    window.session.takes.open_master(other)
    wait_until_settled(window)
    window.session.takes.choose_condition(next(c for c in window.session.shelf.conditions if c.id == dune))
    assert window.session.shelf.accepted_on(dune) == {(area.hue, area.cause): "velvet"}
    gloss = next(c for c in window.session.shelf.conditions if c.paper == "Sluice Gloss")
    window.session.takes.choose_condition(gloss)
    assert window.session.shelf.accepted_on(gloss.id) == {}
    assert first.split(",")[0] == hue_words(area.hue)
    wait_until_settled(window)


def test_unconverted_numbers_are_a_warning(window: Window, take: Callable[[], Take]) -> None:
    kept = take()
    before = pixels(window.pair)
    press(window, Qt.Key.Key_U)
    wait_until_settled(window)
    assert "Unconverted numbers" in window.pair.header_texts(1)[0] and "warning" in window.pair.header_texts(1)[1]
    placed = window.pair.placing.placed(1)
    assert placed is not None
    r = placed.picture.toRect()
    part = slice(r.top(), r.bottom()), slice(r.left(), r.right())
    gap = np.abs(pixels(window.pair)[part].astype(int) - before[part])
    assert gap.mean() > 4 and take() == kept
    press(window, Qt.Key.Key_Escape)
    wait_until_settled(window)
    assert not window.session.roads.unmanaged
    np.testing.assert_array_equal(pixels(window.pair)[part], before[part])


def test_the_window_on_another_screen(window: Window) -> None:
    session = window.session
    session.screen.set(lux=777.0)
    own = session.screen.record
    session.screen.use("second, unheard of", 1)
    assert (
        session.screen.record.profile_path == ""
        and session.screen.record.lux == 777
        and session.screen.record.readings == ()
    )
    session.screen.set(white=140.0)
    first = next(k for k in session.book.recall("screens seen") if k != "second, unheard of")
    session.screen.use(first)
    assert session.screen.record == own
    session.screen.use("second, unheard of")
    assert session.screen.record.white == 140
    wait_until_settled(window)


def test_wall_picture_is_the_exact_road() -> None:
    from tests.conftest import demo_profile, opened_for

    from rehearsal.core.icc.standard import working_space

    paper, screen = demo_profile("SK24_WhiteDune_Hi.icc"), demo_profile("desk-screen-wide.icc")
    block = np.random.default_rng(5).integers(0, 65535, (6, 7, 3)).astype(np.uint16)
    picture = Picture(block, working_space("opRGB"), PictureInfo("block", 7, 6, 16, "RGB", "opRGB", False, (), 300.0))
    rgb, white = wall_picture(block, opened_for(picture, paper), Look(screen, "on-paper"))
    leg = ScreenLeg(paper, screen, "on-paper")
    wanted = leg.rgb(PrintChain(working_space("opRGB"), paper, Rendering()).device(block.reshape(-1, 3) / 65535.0))
    np.testing.assert_allclose(rgb.reshape(-1, 3), wanted * 255, atol=0.51)
    np.testing.assert_allclose(white, leg.paper_rgb * 255, atol=0.51)
    assert master_space(working_space("opRGB")).channels == 3


def test_a_drag_paints_the_takes_half_alone(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    """And all of it when the drag is over, or the halves have changed places."""
    painted: list[int] = []
    paint = window.pair._paint_side
    monkeypatch.setattr(
        window.pair, "_paint_side", lambda p, pane, content: (painted.append(content), paint(p, pane, content))
    )
    for swapped in (False, True):
        window.pair.state.set_swapped(swapped)
        QApplication.processEvents()
        painted.clear()
        before = pixels(window.pair)
        painted.clear()
        window.session.roads.preview(by_hand(lightness=1.0 if not swapped else -1.0))
        QApplication.processEvents()
        assert painted == [1]
        change = np.abs(pixels(window.pair).astype(int) - before).max(axis=(0, 2))
        half = len(change) // 2
        changed, same = (change[:half], change[half:]) if swapped else (change[half:], change[:half])
        assert changed.max() > 20 and same.max() == 0
    painted.clear()
    window.session.takes.change_recipe(by_hand(lightness=0.5))
    QApplication.processEvents()
    assert set(painted) == {0, 1}
