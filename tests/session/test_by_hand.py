"""What a person has stopped is called stopped, and nothing else is."""

import threading

from tests.session.conftest import Desk

from rehearsal.desk.frame.sentences import sentence_of
from rehearsal.session.jobs import Job


def test_only_a_person_stops_judging(desk: Desk) -> None:
    s = desk.session
    for by_hand in (False, True):
        s.judging.judge(anew=True)
        job = next(j for j in s.jobs.running if j.kind == "judge")
        s.jobs.stop_by_hand(job) if by_hand else s.jobs.stop(job)
        assert s.judging.was_stopped is by_hand
    s.judging.judge(anew=True)
    assert not s.judging.was_stopped
    desk.settle()


def test_the_sentence_follows(desk: Desk) -> None:
    from rehearsal.core.values.recipe import by_hand

    s = desk.session
    for stopped, said in ((False, "Ctrl+J judges it"), (True, "judging was stopped")):
        s.takes.change_recipe(by_hand(contrast=3.0 + stopped))
        s.judging.judge()
        job = next(j for j in s.jobs.running if j.kind == "judge")
        s.jobs.stop_by_hand(job) if stopped else s.jobs.stop(job)
        assert said in sentence_of(s, "judge").text
        assert ("stopped" in sentence_of(s, "judge").text) is stopped
    s.judging.judge()
    desk.settle()


def test_what_is_not_under_way_cannot_be_stopped(desk: Desk) -> None:
    told: list[Job] = []
    s, go = desk.session, threading.Event()
    s.jobs.stopped.connect(told.append)
    s.jobs.stop_by_hand(Job("open", "nothing"))
    assert told == []
    s.jobs.run(Job("open", "x"), lambda _p: go.wait(5), lambda _r: None)
    s.jobs.stop_by_hand(Job("open", "x"))
    assert told == [Job("open", "x")] and Job("open", "x") not in s.jobs.running
    go.set()
