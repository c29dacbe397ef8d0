"""Figures and causes in the table of areas are whole."""

from __future__ import annotations

import pytest
from PyQt6.QtGui import QColor, QFontMetricsF
from pytestqt.qtbot import QtBot

from rehearsal.core.values.words import all_words
from rehearsal.desk import theme
from rehearsal.desk.parts.areatable import _HATCH, AreaRow, AreaTable


@pytest.fixture
def table(qtbot: QtBot) -> AreaTable:
    theme.load_fonts()
    made = AreaTable()
    made.setStyleSheet(theme.sheet(theme.ROOMS["mid"]))
    qtbot.addWidget(made)
    made.resize(460, 200)
    made.show()
    return made


def test_figures_of_ten_and_more_are_whole(table: AreaTable) -> None:
    grey = QColor(90, 90, 90)
    row = AreaRow((grey, grey), ("blue",), "too_dark", "too dark", 13.0, 13.0, ("13 %", "28.4", "58.8", "kept"), "")
    table.show_rows([row])
    for column in (3, 4, 5):
        assert table.sizeHintForColumn(column) <= table.columnWidth(column), column


def test_every_cause_is_whole(table: AreaTable) -> None:
    metrics = QFontMetricsF(theme.font(theme.SMALL))
    room = table.columnWidth(1) - theme.px(_HATCH.width() + 7)
    assert {key for _text, key in all_words("cause")} == {key for _text, key in all_words("cause_short")}
    for text, key in all_words("cause_short"):
        assert metrics.horizontalAdvance(text) <= room, key
