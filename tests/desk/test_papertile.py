"""The shelf as small sheets: own white and black in one light, bars against their figures."""

import numpy as np
import pytest
from pytestqt.qtbot import QtBot
from tests.desk.conftest import pixels, wait_until_settled

from rehearsal.core.colour.lab import lab_to_xyz
from rehearsal.desk import theme
from rehearsal.desk.frame.window import Window
from rehearsal.desk.parts.papertile import BAR_END, PaperShown, PaperTile, ShelfLight

WHITE, CREAM, BLACK = (97.0, 0.0, 0.0), (88.0, 0.0, 0.0), (20.0, 0.0, 0.0)


def _tile(qtbot: QtBot, lost: float | None, light: ShelfLight, white: tuple[float, float, float] = WHITE) -> PaperTile:
    made = PaperTile()
    qtbot.addWidget(made)
    made.resize(made.sizeHint())
    made.show_paper(PaperShown("Paper", "Printer, matte", white, BLACK, "contrast 39 : 1", lost), light, BAR_END, "tip")
    return made


@pytest.mark.parametrize("lightest", [236, 120])
def test_papers_keep_their_proportion_and_none_is_lighter_than_the_room(qtbot: QtBot, lightest: int) -> None:
    light = ShelfLight((WHITE, CREAM), lightest)
    seen = []
    for white in (WHITE, CREAM):
        tile = _tile(qtbot, None, light, white)
        sheet = tile.sheet()
        seen.append(int(pixels(tile)[round(sheet.top()) + 3, round(sheet.left()) + 3, 1]))
        ink = pixels(tile)[round(tile.ink().center().y()), round(tile.ink().center().x()), 1]
        assert ink < seen[-1] * 0.5
    assert seen[0] == pytest.approx(lightest, abs=1) and max(seen) <= lightest
    found = theme.luminance(seen[1]) / theme.luminance(seen[0])
    wanted = lab_to_xyz(np.array(CREAM))[1] / lab_to_xyz(np.array(WHITE))[1]
    assert found == pytest.approx(wanted, rel=0.02)


def test_a_bar_is_as_long_as_its_share(qtbot: QtBot) -> None:
    light = ShelfLight((WHITE,), 236)
    room, track = theme.ROOMS["mid"], _tile(qtbot, 10.0, light).track()
    y = round(track.center().y())
    for lost, share in ((10.0, 0.25), (40.0, 1.0), (60.0, 1.0), (0.0, 0.0)):
        tile = _tile(qtbot, lost, light)
        row = pixels(tile)[y, round(track.left()) : round(track.right()), 0].astype(int)
        lit = np.count_nonzero(np.abs(row - room.mark) < 6)
        assert tile.bar().width() <= track.width()
        assert lit == pytest.approx(share * track.width(), abs=1.5)
    assert (
        _tile(qtbot, 10.0, light).paper.lost_words == "10 % lost" and _tile(qtbot, None, light).paper.lost_words == "…"
    )


def test_the_shelf_tells_what_each_paper_costs_by_the_judgements_own_figures(window: Window) -> None:
    window.stack.go_to("paper")
    wait_until_settled(window)
    tray, session = window.stack.trays[2], window.session
    judged = session.judging.judgement
    assert judged is not None
    shares = {tile.paper.name + tile.paper.under: tile.paper.lost for tile in tray.tiles}
    assert len(shares) == 6 and all(share is not None for share in shares.values())
    chosen = next(tile for tile in tray.tiles if tile.isChecked())
    assert chosen.paper.lost == judged.beyond.lost.share and chosen.paper.name == "White Dune"
    assert tray.drawing._picture.width() > 100 and tray._sheet_words.text() == "A3+, rear, single sheet"
    gloss = next(tile for tile in tray.tiles if tile.paper.name == "Sluice Gloss")
    other = next(c for c in session.shelf.conditions if c.paper == "Sluice Gloss")
    session.takes.choose_condition(other)
    wait_until_settled(window)
    again = session.judging.judgement
    assert again is not None and again.beyond.lost.share == gloss.paper.lost, "the same figure when it is judged"
    # no loss of an old crop stands beside the new one
    session.takes.change(
        "crop", frame=type(session.now.take.frame)(crop=type(session.now.take.frame.crop)(0.1, 0.1, 0.3, 0.3))
    )
    assert session.costs.lost_on(other) is None and gloss.paper.lost is None
    wait_until_settled(window)
    assert gloss.paper.lost is not None
