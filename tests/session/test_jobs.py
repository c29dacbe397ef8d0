"""Work in the background: one ending each, late answers dropped, stopping, errors; without a window."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator

import pytest

from rehearsal.core.errors import PictureError
from rehearsal.core.work import pool
from rehearsal.session.home import PlainHome
from rehearsal.session.jobs import Job, JobProgress, Jobs


@pytest.fixture
def home() -> PlainHome:
    return PlainHome()


@pytest.fixture
def jobs(home: PlainHome) -> Iterator[Jobs]:
    made = Jobs(home)
    yield made
    made.close()


def _until(home: PlainHome, ready: Callable[[], bool], seconds: float = 240.0) -> None:
    end = time.monotonic() + seconds
    while not ready():
        assert time.monotonic() < end
        home.turn()


def test_answers_come_home_on_the_owning_thread(jobs: Jobs, home: PlainHome) -> None:
    found: list[tuple[int, bool]] = []
    jobs.run(Job("a"), lambda _p: 7, lambda r: found.append((r, threading.current_thread() is threading.main_thread())))
    assert found == [], "nothing is answered before it comes home"
    _until(home, lambda: bool(found))
    assert found == [(7, True)] and jobs.running == []


def test_the_newest_request_wins(jobs: Jobs, home: PlainHome) -> None:
    gate, found = threading.Event(), []

    def slow(_progress: object) -> str:
        gate.wait(5)
        return "old"

    jobs.run(Job("a", 1), slow, found.append)
    jobs.run(Job("a", 2), lambda _p: "new", found.append)
    assert jobs.running == [Job("a", 2)]
    _until(home, lambda: found == ["new"])
    gate.set()
    for _ in range(10):
        home.turn()
    assert found == ["new"]


def test_jobs_about_different_things_go_on_side_by_side(jobs: Jobs, home: PlainHome) -> None:
    gate, found = threading.Event(), []
    for what in ("one", "two"):
        jobs.run(Job("write", what), lambda _p, w=what: (gate.wait(5), w)[1], found.append, alone=False)
    assert set(jobs.running) == {Job("write", "one"), Job("write", "two")} and jobs.is_running("write")
    gate.set()
    _until(home, lambda: len(found) == 2)
    assert sorted(found) == ["one", "two"] and not jobs.is_running("write")


def test_the_same_job_again_replaces_the_earlier_one(jobs: Jobs, home: PlainHome) -> None:
    gate, found = threading.Event(), []
    jobs.run(Job("write", "one"), lambda _p: (gate.wait(5), "first")[1], found.append, alone=False)
    jobs.run(Job("write", "one"), lambda _p: "second", found.append, alone=False)
    gate.set()
    _until(home, lambda: found == ["second"])
    for _ in range(10):
        home.turn()
    assert found == ["second"]


def test_progress_and_stop(jobs: Jobs, home: PlainHome) -> None:
    steps, ended, answers, parts = [], [], [], []
    stopped = threading.Event()
    jobs.progressed.connect(lambda step: steps.append(step[1]))
    jobs.ended.connect(ended.append)

    def work(progress) -> None:  # type: ignore[no-untyped-def]
        try:
            for i in range(1000):
                progress(i / 1000, "working")
                progress.tell(i)
                time.sleep(0.005)
        except BaseException:
            stopped.set()
            raise

    jobs.run(Job("long", 3), work, answers.append, part=parts.append)
    _until(home, lambda: len(steps) > 3)
    jobs.stop("long")
    count = len(parts)
    assert stopped.wait(2) and count > 1
    for _ in range(10):
        home.turn()
    assert steps == sorted(steps) and ended == [Job("long", 3)] and answers == [] and jobs.running == []
    assert len(parts) == count, "what was told late is dropped as well"


def test_an_error_is_told_once(jobs: Jobs, home: PlainHome) -> None:
    told: list[tuple[Job, BaseException]] = []
    jobs.failed.connect(told.append)

    def work(_progress: object) -> None:
        raise PictureError("the picture is damaged", "a.tif", "export it again")

    jobs.run(Job("load"), work, lambda _r: pytest.fail("no answer is due"))
    _until(home, lambda: bool(told))
    assert told[0][0] == Job("load") and isinstance(told[0][1], PictureError) and len(told) == 1


def test_closing_waits_for_the_work(home: PlainHome) -> None:
    made, state = Jobs(home), []

    def work(_progress: object) -> None:
        state.append("begun")
        time.sleep(0.2)
        state.append("over")

    made.run(Job("a"), work, lambda _r: state.append("answered"))
    while not state:
        time.sleep(0.01)
    made.close()
    assert state == ["begun", "over"]


def test_timers_ring_once_and_begin_anew(home: PlainHome) -> None:
    rung: list[float] = []
    timer = home.timer(60, lambda: rung.append(time.monotonic()))
    assert not timer.is_active
    begin = time.monotonic()
    timer.start()
    home.turn()
    timer.start()
    assert timer.is_active
    _until(home, lambda: bool(rung))
    assert not timer.is_active and len(rung) == 1 and rung[0] - begin >= 0.06
    timer.start()
    timer.stop()
    for _ in range(6):
        home.turn()
    assert len(rung) == 1


def test_closing_waits_a_moment_for_work_that_does_not_heed_and_no_longer() -> None:
    home = PlainHome()
    jobs, go = Jobs(home), threading.Event()
    jobs.run(Job("deaf"), lambda _p: go.wait(30), lambda _r: None)
    time.sleep(0.1)
    begun = time.monotonic()
    assert jobs.close() is False
    assert time.monotonic() - begun < 1.0
    go.set()


def test_closing_is_calm_when_all_work_heeds() -> None:
    home = PlainHome()
    jobs = Jobs(home)

    def work(progress: JobProgress) -> None:
        for _ in range(1000):
            progress(0.1, "heeding")
            time.sleep(0.01)

    jobs.run(Job("heeds"), work, lambda _r: None)
    time.sleep(0.05)
    assert jobs.close() is True


def test_a_stop_reaches_array_work_that_asks_nobody(
    jobs: Jobs, home: PlainHome, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(pool, "cores", lambda: 2)
    begun, ended = threading.Event(), threading.Event()

    def work(_progress: JobProgress) -> None:
        def piece(_part: slice) -> None:
            begun.set()
            time.sleep(0.01)

        try:
            for _ in range(2000):
                pool.in_slices(40_000, piece)
        finally:
            ended.set()

    jobs.run(Job("a"), work, lambda _r: None)
    assert begun.wait(10)
    jobs.stop("a")
    assert ended.wait(5)
