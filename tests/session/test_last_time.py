"""As last time: the last print, all that was set, and what could not be taken over."""

from dataclasses import replace

from tests.session.conftest import Desk

from rehearsal.core.values.frame import Crop, Frame, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.rendition import Rendition
from rehearsal.workbook.values import LogEntry, PrintJob, Take


def _printed(desk: Desk, when: str, **fields: object) -> Rendition:
    here = desk.session.now.rendition
    assert here is not None
    return replace(here, **fields)  # type: ignore[arg-type]


def _logged(desk: Desk, when: str, rendition: Rendition) -> None:
    entry = LogEntry(when=when, picture="Boats", condition=desk.take.condition, rendition=rendition)
    desk.session.book.do("log", [entry])


def test_the_last_print_counts_wherever_it_was_made(desk: Desk) -> None:
    s = desk.session
    older, newer = (_printed(desk, "", hand_over=HandOver(ppi=p)) for p in (240.0, 360.0))
    _logged(desk, "2030-03-01", older)
    job = PrintJob(
        condition=desk.take.condition, picture="Quay", renditions=(newer,), state="done", printed="2030-03-02T10:00"
    )
    s.book.do("print", [job, replace(job, renditions=(older,), printed="")])
    last = s.last_time.last_print(desk.take.condition)
    assert last is not None and (last.picture, last.rendition) == ("Quay", newer), "one that only waits is no print"
    _logged(desk, "2030-03-03", older)
    s.last_time.take_over()
    assert desk.take.hand_over.ppi == 240.0 and desk.said[-1].startswith("As the print of Boats of 3 Mar 2030, ")


def test_all_that_was_set_comes_along(desk: Desk) -> None:
    s = desk.session
    set_ = HandOver(
        route="space",
        space="sRGB",
        media="Cotton",
        feed="rear",
        quality="High",
        ink="matte black",
        speed="off",
        ppi=180.0,
    )
    frame = Frame(Crop(0.1, 0.1, 0.6, 0.6), PrintSize(15, 10))
    _logged(desk, "2030-01-01", _printed(desk, "", hand_over=set_, frame=frame))
    s.last_time.take_over()
    assert desk.take.hand_over == set_ and desk.take.frame == frame
    assert (
        "15 × 10 cm" in desk.said[-1]
        and "The crop went along" in desk.said[-1]
        and "Not taken over" not in desk.said[-1]
    )
    s.takes.undo()
    assert desk.take.hand_over != set_


def test_a_queue_that_is_gone_is_not_taken_over_and_named(desk: Desk) -> None:
    s = desk.session
    _logged(desk, "2030-01-01", _printed(desk, "", hand_over=HandOver(queue="attic")))
    s.last_time.take_over()
    assert desk.take.hand_over.queue == "" and "the queue attic, which is not there" in desk.said[-1]
    _logged(desk, "2030-01-02", _printed(desk, "", hand_over=HandOver(queue=s.queues.names[0])))
    s.last_time.take_over()
    assert desk.take.hand_over.queue == s.queues.names[0] and "queue" not in desk.said[-1]


def test_another_profile_since_is_named(desk: Desk) -> None:
    here = desk.session.now.rendition
    assert here is not None
    _logged(desk, "2030-01-01", replace(here, destination=replace(here.destination, digest="another")))
    desk.session.last_time.take_over()
    assert "the paper has another one now" in desk.said[-1]


def test_a_take_that_was_never_printed_is_no_last_time(desk: Desk) -> None:
    s = desk.session
    alone = next(c for c in s.shelf.conditions if s.last_time.last_print(c.id) is None)
    s.takes.choose_condition(alone)
    s.takes.duplicate()
    before = desk.take
    s.last_time.take_over()
    assert desk.take == before and "Nothing has been printed on this paper yet" in desk.said[-1]
    desk.settle()


def test_who_has_gone_on_is_not_called_back(desk: Desk) -> None:
    s, first = desk.session, desk.take
    _logged(desk, "2030-01-01", _printed(desk, "", hand_over=HandOver(ppi=181.0)))
    others = [t for t in s.book.all(Take) if t.condition == first.condition and t.master != first.master]
    s.takes.open(others[0])
    s.last_time.take_over()
    s.takes.open(first)
    desk.settle()
    assert all(t.hand_over.ppi != 181.0 for t in s.book.all(Take))
