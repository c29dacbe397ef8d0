"""Starting, restarting, and files of all kinds in the window."""

import gc
import os
import shutil
import sqlite3
import subprocess
import sys
import threading
import weakref
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QComboBox, QPushButton
from pytestqt.qtbot import QtBot
from tests.conftest import PRESS
from tests.desk.conftest import pixels, wait_until_settled

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.errors import PictureError
from rehearsal.core.icc.standard import working_space
from rehearsal.core.proof.chain import PrintChain
from rehearsal.core.values.frame import Crop, PrintSize
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.words import share_words, word
from rehearsal.demo.make import demo_folder
from rehearsal.desk import start as starting
from rehearsal.desk.frame.stations import station_states
from rehearsal.desk.frame.window import Window
from rehearsal.desk.pair.cropping import CropFrame, ticks
from rehearsal.desk.start import make_window
from rehearsal.session.bus import Bus
from rehearsal.workbook.migrations import FORMAT
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Master, Take

PICTURE = QRectF(100, 50, 600, 400)


def _program(*arguments: str, **environment: str) -> subprocess.CompletedProcess[str]:
    env = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY")} | environment
    return subprocess.run(
        [sys.executable, "-m", "rehearsal.main", *arguments],
        capture_output=True,
        text=True,
        env=env,
        check=False,
        timeout=120,
    )


def test_without_a_display_it_says_so() -> None:
    done = _program("--demo", QT_QPA_PLATFORM="")
    assert done.returncode == 2 and "no display found" in done.stderr and "--picture" in done.stderr


def test_a_newer_workbook_is_refused_in_one_line(tmp_path: Path) -> None:
    path = tmp_path / "book.sqlite"
    Workbook(path).close()
    db = sqlite3.connect(path)
    db.execute(f"PRAGMA user_version={FORMAT + 5}")
    db.close()
    done = _program("--workbook", str(path), QT_QPA_PLATFORM="offscreen")
    lines = [line for line in done.stderr.splitlines() if "propagateSizeHints" not in line]
    assert done.returncode == 2 and len(lines) == 1 and "newer Rehearsal" in lines[0]


def test_a_damaged_workbook_is_told_in_the_window(tmp_path: Path, qtbot: QtBot) -> None:
    path = tmp_path / "book.sqlite"
    path.write_bytes(b"nothing of the kind" * 400)
    window = make_window(Workbook(path), [])
    window.show()
    QTest.qWait(100)
    assert "damaged" in window.message.text and "kept as" in window.message.text
    window.close()


def test_an_empty_workbook_invites(tmp_path: Path, qtbot: QtBot) -> None:
    window = make_window(Workbook(tmp_path / "book.sqlite"), [])
    window.show()
    QTest.qWait(100)
    assert window.verdict.text == "Open a picture to begin." and window.session.now.take is None
    for i in range(8):
        window.stack.go(i)
    window.actions_of_keys.act("as_last")
    assert "Open a picture first" in window.message.text
    window.close()


def test_a_first_window_is_no_larger_than_the_free_screen_and_ctrl_q_closes_it(tmp_path: Path, qtbot: QtBot) -> None:
    window = make_window(Workbook(tmp_path / "book.sqlite"), [])
    free = window.screen().availableSize()
    least = window.minimumSize()
    assert window.width() <= max(free.width(), least.width()) and window.height() <= max(free.height(), least.height())
    window.show()
    qtbot.waitExposed(window)
    window.activateWindow()
    QTest.qWaitForWindowActive(window)
    QTest.keyClick(window, Qt.Key.Key_Q, Qt.KeyboardModifier.ControlModifier)
    assert not window.isVisible()


def test_files_given_at_the_start(tmp_path: Path, little_cloths: Path, qtbot: QtBot) -> None:
    window = make_window(Workbook(tmp_path / "book.sqlite"), [str(little_cloths), str(PRESS)])
    window.show()
    wait_until_settled(window)
    assert window.session.now.master is not None and window.session.now.master.name == "cloths"
    assert any(c.profile_path == str(PRESS) for c in window.session.shelf.conditions)
    window.close()


def test_light_and_screen_are_asked_about_once_at_the_first_judgement(
    tmp_path: Path, little_cloths: Path, qtbot: QtBot
) -> None:
    told: list[str] = []
    for start in range(2):
        window = make_window(Workbook(tmp_path / "book.sqlite"), [] if start else [str(little_cloths), str(PRESS)])
        window.session.bus.said.connect(lambda said: told.append(said.action))
        window.show()
        wait_until_settled(window)
        assert (
            "lighter than this screen" not in window.verdict.text
            and "darker than this screen" not in window.verdict.text
        )
        if not start:
            window.stack.go(3)
            assert window.message.text == word("ask", "light")
            window.message._action.click()
            assert window.stack.current_key == "screen"
        window.session.takes.render(Rendering("perceptual", True))  # judged again: nothing is asked again
        wait_until_settled(window)
        window.close()
    assert told.count("tell-light") == 1


def test_an_uncaught_error_is_shown_not_fatal(
    window: Window, caplog: pytest.LogCaptureFixture, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(sys, "excepthook", sys.excepthook)
    starting._install_hooks(window.session.bus)
    try:
        raise PictureError("the picture is damaged", "a.tif", "export it again")
    except PictureError as error:
        sys.excepthook(type(error), error, error.__traceback__)
    assert window.message.text == "The picture is damaged (a.tif). Export it again."
    assert "PictureError" in caplog.text
    caplog.clear()


def test_the_hooks_keep_no_closed_session_alive(monkeypatch: pytest.MonkeyPatch) -> None:
    for owner in (sys, threading):
        monkeypatch.setattr(owner, "excepthook", owner.excepthook)
    bus = Bus()
    there = weakref.ref(bus)
    starting._install_hooks(bus)
    del bus
    gc.collect()
    assert there() is None
    sys.excepthook(ValueError, ValueError("nobody listens"), None)


def test_a_moved_picture_is_found_again(window: Window, demo_book: Workbook, qtbot: QtBot) -> None:
    master = window.session.now.master
    assert master is not None
    path = demo_book.path
    window.close()
    old = Path(master.path)
    (old.parent / "sorted").mkdir()
    shutil.move(old, old.parent / "sorted" / "other name.tif")
    again = make_window(Workbook(path), [])
    again.show()
    wait_until_settled(again)
    assert again.session.now.picture is not None and again.session.now.master is not None
    assert again.session.now.master.path.endswith("other name.tif")
    again.close()


def test_a_lost_picture_is_one_sentence(window: Window, demo_book: Workbook, qtbot: QtBot) -> None:
    path = demo_book.path
    for master in window.session.takes.masters:
        Path(master.path).unlink()
    window.close()
    again = make_window(Workbook(path), [])
    again.show()
    QTest.qWait(1500)
    assert "cannot be opened" in again.pair.mending.text and again.session.now.take is not None
    again.close()


def test_an_untagged_picture_is_asked_about_once(window: Window, tmp_path: Path) -> None:
    Image.fromarray(np.random.default_rng(1).integers(0, 255, (60, 90, 3)).astype(np.uint8)).save(tmp_path / "bare.png")
    window.session.incoming.open_files([str(tmp_path / "bare.png")])
    wait_until_settled(window)
    window.session.takes.change_frame(size=PrintSize(9.0, 6.0))
    assert window.ribbon.buttons[1].state.ring == "look"
    window.stack.go(1)
    box = next(
        c
        for c in window.stack.trays[1].findChildren(QComboBox)
        if c.accessibleName() == "Profile of the untagged picture"
    )
    assert box.isVisible() and box.currentText() == "read as sRGB"
    index = box.findData("P3")
    box.setCurrentIndex(index)
    box.activated.emit(index)
    wait_until_settled(window)
    assert (
        window.session.now.picture is not None
        and window.session.now.picture.picture.profile.description == "Display P3"
    )
    assert window.ribbon.buttons[1].state.ring == "full"
    kept = window.session.book.get(Master, window.session.now.master.id) if window.session.now.master else None
    assert kept is not None and kept.assumed == "P3"


@pytest.mark.parametrize("mode", ["CMYK", "L"])
def test_grey_and_cmyk_masters_in_the_window(mode: str, window: Window, tmp_path: Path) -> None:
    image = Image.fromarray(np.tile(np.linspace(0, 255, 90).astype(np.uint8), (60, 1))).convert(mode)
    path = tmp_path / f"{mode}.tif"
    image.save(path, icc_profile=PRESS.read_bytes() if mode == "CMYK" else None)
    window.session.incoming.open_files([str(path)])
    wait_until_settled(window)
    assert window.session.judging.judgement is not None and window.session.now.picture is not None
    assert window.session.now.picture.picture.info.space == ("CMYK" if mode == "CMYK" else "Gray")
    # the working pixels show the same colours as the file
    picture, pyramid = window.session.now.picture.picture, window.session.now.picture.pyramid
    from rehearsal.core.picture.space import master_space

    ours = pyramid.space.to_lab(pyramid.block(0, 0, 90, 60, 90, 60)).astype(float)
    assert (
        np.percentile(delta_e_2000(ours, master_space(picture.profile).to_lab(picture.pixels).astype(float)), 99) < 0.5
    )
    placed = window.pair.placing.placed(1)
    assert placed is not None
    r = placed.picture.toRect()
    shown = pixels(window.pair)[r.top() + 3 : r.bottom() - 3, r.left() + 3 : r.right() - 3]
    assert shown[:, -10:].mean() != shown[:, :10].mean()


def test_stopping_from_the_window(window: Window) -> None:
    window.session.judging.judge(anew=True)
    assert window.session.jobs.is_running("judge")
    QTest.qWait(60)
    window.actions_of_keys.act("escape")
    assert window.session.jobs.running == []
    assert not next(b for b in window.message.findChildren(QPushButton) if b.text() == "Stop").isVisible()
    window.session.judging.judge(anew=True)
    wait_until_settled(window)
    assert window.session.judging.judgement is not None


def test_states_of_the_stations(window: Window) -> None:
    states = station_states(window.session)
    assert [s.ring for s in states] == [
        "full",
        "full",
        "full",
        "full",
        "half",
        "empty",
        "look",
        "full",
    ]
    assert states[0].words == "calibrated 9 days ago" and states[1].words == "39 × 26 cm"
    assert "White Dune" in states[2].words and ": 1" in states[2].words
    assert "beyond, ΔE₀₀" in states[3].words and "offered" in states[4].words
    window.session.takes.change_hand_over(scale_percent=97.0)
    assert station_states(window.session)[6].ring == "look"


def test_taking_another_paper_keeps_a_named_take(window: Window) -> None:
    take = window.session.now.take
    assert take is not None
    window.session.book.note(replace(take, name="For the hall"))
    window.session.takes.open(replace(take, name="For the hall"))
    wait_until_settled(window)
    window.session.takes.choose_condition(window.session.shelf.conditions[2])
    assert window.session.now.take is not None and window.session.now.take.name == "For the hall"
    window.session.takes.choose_condition(window.session.shelf.conditions[3])
    assert window.session.now.condition is not None and window.session.now.condition.paper == "Windmill Baryta"


def test_judgement_follows_the_crop(window: Window) -> None:
    # the doorway alone is darker than the paper; the whole picture is not all dark
    whole = window.session.judging.judgement
    window.session.takes.change_frame(crop=Crop(0.86, 0.3, 0.08, 0.35))
    wait_until_settled(window)
    door = window.session.judging.judgement
    assert whole is not None and door is not None
    assert door.beyond.by_cause[0] > 2 * whole.beyond.by_cause[0] and door.beyond.colour < whole.beyond.colour


def test_the_readout_is_exact(window: Window) -> None:
    opened = window.session.now.opened
    assert opened is not None
    window.verdict.point((160, 120))
    text = window.verdict._readout.text
    value = opened.open.picture.pixels[120, 160][None] / 65535.0
    printed = PrintChain(opened.source, opened.paper, opened.rendition.rendering).print_lab(value)[0]
    assert f"L* {printed[0]:.0f}" in text and window.verdict._readout.isVisible()
    window.verdict.point(None)
    assert not window.verdict._readout.isVisible(), "the sentence has the room"


def _drag(
    frame: CropFrame, at: tuple[float, float], to: tuple[float, float], crop: Crop, proportion: float | None
) -> Crop | None:
    frame.begin(QPointF(*at), PICTURE, crop, proportion)
    frame.drag(QPointF(*to))
    return frame.end()


def test_moving_and_sizing_a_crop() -> None:
    frame = CropFrame()
    crop = Crop(0.25, 0.25, 0.5, 0.5)
    moved = _drag(frame, (400, 250), (460, 250), crop, None)
    assert moved == Crop(0.35, 0.25, 0.5, 0.5)
    pushed = _drag(frame, (400, 250), (2000, 2000), crop, None)
    assert pushed == Crop(0.5, 0.5, 0.5, 0.5)
    wider = _drag(frame, (550, 350), (610, 350), crop, None)
    assert wider is not None and wider.width == pytest.approx(0.6) and wider.height == pytest.approx(0.5)
    assert (wider.x, wider.y) == (0.25, 0.25)
    square = _drag(frame, (250, 150), (100, 50), crop, 1.0)
    assert square is not None and square.width == pytest.approx(square.height)
    assert square.x + square.width == pytest.approx(0.75) and square.y >= -1e-9
    assert _drag(frame, (110, 60), (300, 300), crop, None) is None
    assert not frame.active


def test_a_side_of_the_crop_is_dragged_by_its_bar() -> None:
    frame, crop = CropFrame(), Crop(0.25, 0.25, 0.5, 0.5)
    wider = _drag(frame, (550, 250), (610, 400), crop, None)  # the right bar; the way down does nothing
    assert wider is not None and (wider.x, wider.y, wider.height) == (0.25, 0.25, 0.5)
    assert wider.width == pytest.approx(0.6)
    lower = _drag(frame, (400, 150), (100, 110), crop, None)  # the upper bar
    assert lower is not None and lower.y == pytest.approx(0.15) and lower.y + lower.height == pytest.approx(0.75)
    assert (lower.x, lower.width) == (0.25, 0.5)
    kept = _drag(frame, (550, 250), (610, 250), crop, 1.0)  # a kept proportion: about the middle of the other way
    assert kept is not None and kept.width == pytest.approx(0.6) == pytest.approx(kept.height)
    assert kept.x == 0.25 and kept.y + kept.height / 2 == pytest.approx(0.5)
    edge = _drag(frame, (550, 250), (5000, 250), crop, 1.0)
    assert (
        edge is not None
        and edge.x + edge.width <= 1 + 1e-9
        and edge.y >= -1e-9
        and edge.width == pytest.approx(edge.height)
    )


def test_ticks_mark_thirds_and_the_golden_section_and_cover_nothing() -> None:
    rect = QRectF(100, 50, 300, 200)
    found = ticks(rect)
    assert len(found) == 16 and max(line.length() for line in found) == 11
    long = {round(line.x1()) for line in found if line.length() > 8 and line.x1() == line.x2()}
    short = {round(line.x1(), 1) for line in found if line.length() < 8 and line.x1() == line.x2()}
    assert long == {200, 300} and short == {214.6, 285.4}
    inner = rect.adjusted(12, 12, -12, -12)
    assert not any(inner.contains(line.p1()) or inner.contains(line.p2()) for line in found)


def test_a_take_for_a_lab_goes_by_the_working_space(window: Window, tmp_path: Path, qtbot: QtBot) -> None:
    lab = next(c for c in window.session.shelf.conditions if c.profile_path == "space:sRGB")
    window.session.takes.choose_condition(lab)
    wait_until_settled(window)
    assert window.session.judging.judgement is not None and window.session.judging.judgement.beyond.share > 0
    window.session.takes.change_frame(size=PrintSize(10.0, 6.67))
    wait_until_settled(window)
    window.stack.sheet.write_to(tmp_path / "lab.jpg")
    wait_until_settled(window)
    QTest.qWait(100)
    with Image.open(tmp_path / "lab.jpg") as image:
        assert image.size == (1181, 788) and image.info["icc_profile"] == working_space("sRGB").data


def test_a_second_window_says_large_that_nothing_is_kept(demo_book: Workbook, qtbot: QtBot) -> None:
    first = make_window(demo_book, [])
    second = make_window(Workbook(demo_book.path), [])
    for window, shown in ((first, False), (second, True)):
        window.show()
        wait_until_settled(window)
        assert window.only_looks.isVisible() == shown
    assert "nothing done here is kept" in second.only_looks.text() and second.only_looks.height() >= 30
    second.close()
    first.close()


def test_closing_at_any_moment_keeps_the_last_stroke(window: Window, demo_book: Workbook) -> None:
    window.session.takes.change(notes="last stroke")
    take = window.session.now.take
    assert take is not None
    window.session.judging.judge(anew=True)
    window.close()
    copy = Workbook(demo_book.path)
    assert not copy.read_only
    kept = copy.get(Take, take.id)
    copy.close()
    assert kept is not None and kept.notes == "last stroke"


def test_the_windows_picture_is_never_written_onto_a_master(
    window: Window, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    master = window.session.now.master
    assert master is not None
    before = Path(master.path).read_bytes()
    starting._save_picture(window, Path(master.path))
    assert Path(master.path).read_bytes() == before and "never written to" in capsys.readouterr().err
    starting._save_picture(window, tmp_path / "none" / "w.png")
    assert "the folder is missing" in capsys.readouterr().err
    starting._save_picture(window, tmp_path / "w.png")
    assert (tmp_path / "w.png").read_bytes().startswith(b"\x89PNG") and "w.png" in capsys.readouterr().out


def test_without_a_paper_nothing_is_said_of_a_print_and_where_profiles_come_from(
    tmp_path: Path, little_cloths: Path, qtbot: QtBot
) -> None:
    window = make_window(Workbook(tmp_path / "book.sqlite"), [str(little_cloths)])
    window.show()
    wait_until_settled(window)
    session = window.session
    for station in ("paper", "judge", "sheet"):
        window.stack.go_to(station)
        assert window.verdict.text.startswith("No paper yet. A paper's profile comes from its maker")
        assert "without the screen's profile nothing" in window.verdict.text
        assert "fits into" not in window.verdict.text and "this paper" not in window.verdict.text
    for station in ("tune", "log"):
        window.stack.go_to(station)
        assert "No paper yet" in window.verdict.text and "differs from the picture" not in window.verdict.text
    session.screen.set(profile_path=str(demo_folder() / "profiles" / "desk-screen-standard.icc"), source="file")
    wait_until_settled(window)
    window.stack.go_to("judge")
    assert (
        f"{share_words(session.judging.beyond_screen or 0)} of the picture lies beyond this screen"
        in window.verdict.text
    )
    window.verdict._take.click()  # it goes to a lab as a file
    wait_until_settled(window)
    assert "sRGB" in window.verdict.text and "No paper yet" not in window.verdict.text
    window.close()


def test_a_paper_on_the_shelf_ends_the_asking_for_one(tmp_path: Path, little_cloths: Path, qtbot: QtBot) -> None:
    window = make_window(Workbook(tmp_path / "book.sqlite"), [str(little_cloths), str(PRESS)])
    window.show()
    wait_until_settled(window)
    assert not window.session.takes.is_without_paper
    window.stack.go_to("judge")
    assert "No paper yet" not in window.verdict.text
    window.close()
