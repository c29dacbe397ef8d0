"""Closed anywhere, it opens again; a start that fails falls back to a plainer window, says so, and loses nothing."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QSize
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot
from tests.known import known_already

from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.destination import space_path
from rehearsal.demo.make import demo_folder
from rehearsal.demo.pictures import DEMO_FOLDER
from rehearsal.desk.boards.holder import BOARDS
from rehearsal.desk.frame.stations import AT, STATIONS
from rehearsal.desk.frame.window import Window
from rehearsal.desk.start import make_window
from rehearsal.desk.trays.paper import PaperTray
from rehearsal.workbook.masters import make_master
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Take

_PROFILES = sorted((demo_folder() / "profiles").glob("SK24*.icc"))
#: How many papers a workbook of one's own has; -1 for one without a picture.
_PAPERS = {"empty": -1, "a lab's file": 0, "one paper": 1, "many papers": len(_PROFILES)}
#: Where it is closed: with one paper everywhere, else where papers, or none, are shown.
_WHERE = {"one paper": tuple(s.key for s in STATIONS), "empty": ("screen", "picture", "paper", "log")}
_ELSEWHERE = ("paper", "judge", "sheet")
_ROOMS, _MODES, _SIZES = ("dark", "mid", "light"), ("pair", "large"), (QSize(1000, 640), QSize(1280, 800))


@pytest.fixture
def _known(qtbot: QtBot) -> Iterator[None]:
    swap = known_already()
    yield
    swap.undo()


def _own(path: Path, picture: Path, papers: int) -> Path:
    """A workbook as it stands after a picture was opened in it: on a paper of one's own, or on a file for a lab."""
    book = Workbook(path)
    if papers >= 0:
        lab = PrintCondition(paper="sRGB file for a lab", profile_path=space_path("sRGB"), made_by="standard")
        own = [PrintCondition(printer="Skarn 24", paper=p.stem, profile_path=str(p)) for p in _PROFILES[:papers]]
        conditions = [book.put(condition) for condition in own or [lab]]
        take = book.put(Take(master=book.put(make_master(picture)).id, condition=conditions[-1].id))
        book.set_setting("open take", take.id)
    book.close()
    return path


def _opened(path: Path) -> Window:
    window = make_window(Workbook(path), [])
    window.show()
    QTest.qWait(20)
    return window


@pytest.mark.usefixtures("_known")
@pytest.mark.parametrize("papers", _PAPERS)
def test_closed_at_any_station_it_opens_there_again(tmp_path: Path, little_cloths: Path, papers: str) -> None:
    path = _own(tmp_path / "own.sqlite", little_cloths, _PAPERS[papers])
    window = _opened(path)
    for i, station in enumerate(_WHERE.get(papers, _ELSEWHERE)):
        room, shift = _ROOMS[i % 3], list(_PAPERS).index(papers)
        boards = [name for name, (_kind, of) in BOARDS.items() if of == station]
        window.resize(_SIZES[i % 2])
        window.rooms.set(room)
        window.pair.state.set_mode(_MODES[i % 2])
        window.stack.go_to(station)
        if boards:
            window.boards.open_board(boards[shift % len(boards)])
        window.close()
        window = _opened(path)
        assert window.message.text == "", f"{papers}, {station}, {boards}"
        assert (window.stack.current_key, window.rooms.name) == (station, room)
        assert (window.pair.state.mode, window.boards.name == "") == (_MODES[i % 2], not window.boards.isVisible())
    window.close()


def _fails(*_: object) -> None:
    raise AttributeError("no room")


@pytest.mark.usefixtures("_known")
def test_a_start_that_falls_back_still_tells_of_a_damaged_workbook(
    tmp_path: Path, little_cloths: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = _own(tmp_path / "own.sqlite", little_cloths, 1)
    book = Workbook(path)
    book.set_setting("station", "paper")
    book.notice = "The workbook was damaged."
    monkeypatch.setattr(PaperTray, "refresh", _fails)
    window = make_window(book, [])
    assert "opens plainly" in window.message.text and window.message.text.endswith("The workbook was damaged.")
    assert "Nothing that is kept was lost" not in window.message.text
    window.close()


def test_a_demo_whose_pictures_cannot_be_made_is_one_line(
    tmp_path: Path, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    from rehearsal.desk import start

    (tmp_path / "rehearsal").mkdir()
    (tmp_path / "rehearsal" / DEMO_FOLDER).write_text("a file where a folder should be")
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    monkeypatch.setattr(start, "QApplication", lambda _: QtAppInUse())
    monkeypatch.setattr(start, "_install_hooks", lambda _bus=None: None)
    assert start.start(["--demo"]) == 2
    said = capsys.readouterr().err.splitlines()
    assert len(said) == 1 and "the demo's pictures cannot be made here" in said[0]


@pytest.mark.usefixtures("_known")
def test_a_station_that_cannot_be_shown_gives_way_to_the_plain_window(
    tmp_path: Path, little_cloths: Path, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    path = _own(tmp_path / "own.sqlite", little_cloths, 1)
    book = Workbook(path)
    book.set_setting("station", "paper")
    book.set_setting("screen", {"lux": 321.0})
    book.close()
    monkeypatch.setattr(PaperTray, "refresh", _fails)
    window = _opened(path)
    assert "AttributeError: no room" in window.message.text and "opens plainly" in window.message.text
    assert "Nothing that is kept was lost" in window.message.text and "no room" in caplog.text
    assert window.stack.station == AT["judge"] and window.session.now.take is not None
    assert window.session.screen.record.lux == 321.0
    window.close()
    monkeypatch.undo()
    again = _opened(path)
    assert again.message.text == "" and again.stack.station == AT["judge"]
    again.close()


@pytest.mark.usefixtures("_known")
@pytest.mark.parametrize("setting", [("screen", "nothing like it"), ("open take", "seven")])
def test_what_cannot_be_read_leaves_a_window_with_nothing_open(
    tmp_path: Path, little_cloths: Path, setting: tuple[str, str]
) -> None:
    path = _own(tmp_path / "own.sqlite", little_cloths, 1)
    book = Workbook(path)
    book.set_setting(*setting)
    book.close()
    window = _opened(path)
    assert "nothing is open" in window.message.text and window.session.now.take is None
    assert len(window.session.takes.masters) == 1
    window.session.screen.set(lux=300.0)
    window.close()
    kept = Workbook(path)
    assert kept.setting(setting[0]) == setting[1] and kept.setting("screen") in (None, "nothing like it")
    kept.close()


def test_when_no_window_can_be_opened_one_line_says_so(
    tmp_path: Path, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    from rehearsal.desk import start

    monkeypatch.setattr(start, "make_window", _fails)
    monkeypatch.setattr(start, "QApplication", lambda _: QtAppInUse())
    monkeypatch.setattr(start, "_install_hooks", lambda _bus=None: None)
    assert start.start(["--workbook", str(tmp_path / "own.sqlite")]) == 1
    said = capsys.readouterr().err.splitlines()
    assert len(said) == 1 and "no window can be opened (AttributeError: no room)" in said[0] and "own.sqlite" in said[0]


class QtAppInUse:
    """The application that is there already."""

    def setApplicationName(self, _name: str) -> None:
        """It has one."""

    def setStyle(self, _name: str) -> None:
        """It has one."""
