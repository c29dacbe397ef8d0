"""What is laid out once and kept: flows of parts and tables of words follow whatever changes in them."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLabel, QWidget
from pytestqt.qtbot import QtBot

from rehearsal.desk.parts.flow import flow
from rehearsal.desk.parts.widgets import PlainTable, dress_table


def _parts(count: int) -> list[QLabel]:
    made = [QLabel(f"part {i}") for i in range(count)]
    for label in made:
        label.setFixedSize(100, 20)
    return made


def test_a_flow_is_as_high_as_its_lines_whatever_comes_and_goes(qtbot: QtBot) -> None:
    holder, parts = QWidget(), _parts(6)
    qtbot.addWidget(holder)
    laid = flow(*parts)
    holder.setLayout(laid)
    holder.resize(330, 200)
    holder.show()
    # 100 wide and a gap of 6: three in 330, two in 206, one in 205; lines 4 apart
    assert [laid.heightForWidth(w) for w in (330, 206, 205, 636)] == [44, 68, 140, 20]
    parts[0].hide()
    QTest.qWait(1)
    assert [laid.heightForWidth(w) for w in (330, 206, 636)] == [44, 68, 20] and laid.heightForWidth(205) == 116
    parts[1].setFixedSize(100, 50)
    QTest.qWait(1)
    assert laid.heightForWidth(330) == 74
    more = QLabel("more")
    more.setFixedSize(100, 20)
    laid.addWidget(more)
    more.show()
    QTest.qWait(1)
    assert laid.heightForWidth(205) == 170
    laid.takeAt(laid.indexOf(more))
    assert laid.heightForWidth(205) == 146
    assert [p.geometry().x() for p in parts[1:4]] == [0, 106, 212]


def _table(qtbot: QtBot) -> PlainTable:
    made = PlainTable()
    qtbot.addWidget(made)
    dress_table(made, ("when", "paper", "L*"), "prints", 20)
    made.right_align(2)
    made.resize(600, 200)
    made.show()
    return made


def _words(table: PlainTable) -> list[list[str]]:
    return [[table.item(row, column).text() for column in range(3)] for row in range(table.rowCount())]


def test_a_table_holds_the_rows_it_was_told_and_lays_its_columns_by_them(qtbot: QtBot) -> None:
    table = _table(qtbot)
    rows = [["today", "Dune", "9.5"], ["yesterday", "Gloss", "12.0"]]
    table.fill(rows)
    QTest.qWait(1)
    short = table.columnWidth(1)
    assert _words(table) == rows and table.item(1, 1).toolTip() == "Gloss"
    assert table.item(0, 2).textAlignment() & Qt.AlignmentFlag.AlignRight.value and not table.item(0, 1).textAlignment()
    table.fill([["today", "a paper with a long name indeed", "9.5"]])
    QTest.qWait(1)
    assert _words(table) == [["today", "a paper with a long name indeed", "9.5"]]
    assert table.columnWidth(1) > short + 50 >= table.fontMetrics().horizontalAdvance("Gloss")
    table.fill([])
    assert table.rowCount() == 0


def test_rows_that_say_the_same_stay_and_what_is_chosen_with_them(qtbot: QtBot) -> None:
    table = _table(qtbot)
    table.fill([["today", "Dune", "9.5"], ["yesterday", "Gloss", "12.0"]])
    table.selectRow(1)
    kept, told = table.item(1, 1), []
    table.itemChanged.connect(lambda _item: told.append(1))
    table.fill([["today", "Dune", "9.5"], ["yesterday", "Gloss", "12.0"]])
    assert table.item(1, 1) is kept and table.currentRow() == 1
    table.fill([["today", "Dune", "9.5"], ["yesterday", "Gloss", "12.1"]])
    assert table.item(1, 2).text() == "12.1" and told == [], "nobody is told of what the program itself writes"
