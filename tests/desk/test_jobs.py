"""Work in the background: one ending each, late answers dropped, stopping, errors."""

import threading
import time
from collections.abc import Callable, Iterator

import pytest
from pytestqt.qtbot import QtBot

from rehearsal.core.errors import PictureError
from rehearsal.desk.jobs import Jobs


@pytest.fixture
def jobs(qtbot: QtBot) -> Iterator[Jobs]:
    made = Jobs()
    yield made
    made.close()


def test_answers_come_home_on_the_interface_thread(jobs: Jobs, qtbot: QtBot) -> None:
    found: list[tuple[int, bool]] = []
    jobs.run("a", lambda _p: 7, lambda r: found.append((r, threading.current_thread() is threading.main_thread())))
    qtbot.waitUntil(lambda: bool(found), timeout=3000)
    assert found == [(7, True)] and jobs.running == []


def test_the_newest_request_wins(jobs: Jobs, qtbot: QtBot) -> None:
    gate = threading.Event()
    found: list[str] = []

    def slow(_progress: object) -> str:
        gate.wait(3)
        return "old"

    jobs.run("a", slow, found.append)
    jobs.run("a", lambda _p: "new", found.append)
    qtbot.waitUntil(lambda: found == ["new"], timeout=3000)
    gate.set()
    qtbot.wait(100)
    assert found == ["new"]


def test_progress_and_stop(jobs: Jobs, qtbot: QtBot) -> None:
    steps: list[float] = []
    ended: list[str] = []
    answers: list[object] = []
    stopped = threading.Event()
    jobs.progressed.connect(lambda _k, share, _t: steps.append(share))
    jobs.ended.connect(ended.append)

    def work(progress: Callable[[float, str], None]) -> None:
        try:
            for i in range(1000):
                progress(i / 1000, "working")
                time.sleep(0.005)
        except BaseException:
            stopped.set()
            raise

    jobs.run("long", work, answers.append)
    qtbot.waitUntil(lambda: len(steps) > 3, timeout=3000)
    jobs.stop("long")
    assert stopped.wait(2)
    qtbot.wait(50)
    assert steps == sorted(steps) and ended == ["long"] and answers == [] and jobs.running == []


def test_an_error_is_told_once(jobs: Jobs, qtbot: QtBot) -> None:
    told: list[tuple[str, object]] = []
    jobs.failed.connect(lambda key, error: told.append((key, error)))

    def work(_progress: object) -> None:
        raise PictureError("the picture is damaged", "a.tif", "export it again")

    jobs.run("load", work, lambda _r: pytest.fail("no answer is due"))
    qtbot.waitUntil(lambda: bool(told), timeout=3000)
    assert told[0][0] == "load" and isinstance(told[0][1], PictureError) and len(told) == 1


def test_closing_waits_for_the_work(qtbot: QtBot) -> None:
    made = Jobs()
    state: list[str] = []

    def work(_progress: object) -> None:
        state.append("begun")
        time.sleep(0.2)
        state.append("over")

    made.run("a", work, lambda _r: state.append("answered"))
    while not state:
        time.sleep(0.01)
    made.close()
    assert state == ["begun", "over"]
