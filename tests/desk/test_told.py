"""Told and read: each line by how it is known, drawn as a ring; long words go on instead of being cut."""

from dataclasses import replace

from PyQt6.QtGui import QPalette
from pytestqt.qtbot import QtBot
from tests.desk.conftest import pixels

from rehearsal.core.values.condition import USUAL, PrintCondition
from rehearsal.desk import theme
from rehearsal.desk.parts.toldlist import Told, ToldList
from rehearsal.desk.trays.paper import told_rows


def test_rows_say_how_they_are_known() -> None:
    card = PrintCondition(
        printer="Skarn 24",
        paper="White Dune",
        media_setting="Fine art",
        quality="High",
        read=("quality",),
        unread="x7",
        notes="Soft.",
    )
    rows = {row.name: row for row in told_rows(card)}
    assert (rows["media setting"].state, rows["media setting"].value) == ("told", "Fine art")
    assert rows["quality"].state == "read" and (rows["feed"].state, rows["feed"].value) == ("empty", "")
    assert rows["notes"].value == "Soft." and "printer" not in rows
    assert (rows["margins"].state, rows["borderless"].value) == ("empty", "usual: no")
    open_ = {row.name: row for row in told_rows(replace(card, media_setting="", printer="", told=USUAL))}
    assert (open_["media setting"].state, open_["media setting"].value) == ("empty", "“x7”: the medium?")
    assert open_["printer"].state == "empty" and open_["borderless"].value == "no"
    lab = {row.name for row in told_rows(PrintCondition(paper="sRGB file for a lab", profile_path="space:sRGB"))}
    assert "feed" not in lab and "margins" not in lab and "intent" in lab, "a file for a lab has no feed"


def test_rings_differ_and_long_words_go_on(qtbot: QtBot) -> None:
    made = ToldList()
    qtbot.addWidget(made)
    made.setAutoFillBackground(True)
    made.setPalette(QPalette(made.room.colour("chrome")))
    made.show_rows((Told("a", "x"), Told("b", "y", "read"), Told("c", "", "empty")))
    made.resize(230, made.heightForWidth(230))
    painted, row = pixels(made)[..., 0].astype(int), theme.px(20)
    share = [float((painted[i * row + 6 : i * row + 14, 2:10] > 180).mean()) for i in range(3)]
    assert share[0] > share[1] + 0.15 > share[2] + 0.3
    assert "b: y, from the name" in made.accessibleDescription() and "c: nobody said" in made.accessibleDescription()
    short = made.heightForWidth(230)
    made.show_rows((Told("a", "a note that is far too long for one line of this narrow list " * 3), Told("b", "y")))
    assert made.heightForWidth(230) > short and made.heightForWidth(400) < made.heightForWidth(230)
