"""Operations on the sheet, and pages on their way to a queue."""

from __future__ import annotations

import threading
from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from pathlib import Path

import numpy as np
import pytest
from tests.session.conftest import Desk

from rehearsal.core.errors import QueueError
from rehearsal.core.sheet.page import DrawnPage
from rehearsal.core.sheet.trueplace import planned
from rehearsal.core.values.frame import Crop, PrintSize
from rehearsal.core.values.queue import QueueOffers, QueueOption, SentState
from rehearsal.core.values.recipe import by_hand
from rehearsal.core.values.sheet import Caption, Mat, Several
from rehearsal.session.home import PlainHome
from rehearsal.session.jobs import Job
from rehearsal.session.session import Session
from rehearsal.tasks.queues import SIMULATED
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import PrintJob, Take


class Hall:
    """A queue whose states the test sets."""

    name = "hall"

    def __init__(self) -> None:
        self.states: dict[str, SentState] = {}
        self.pages: list[DrawnPage] = []
        self.options: list[dict[str, str]] = []
        self.stopped: list[str] = []
        self.scale = 97.0
        self.gate = threading.Event()
        self.gate.set()
        self.refuses = False

    def offers(self) -> QueueOffers:
        options = (
            QueueOption("PageSize", "Size", ("A4", "A3", "A3Plus"), "A4", "size"),
            QueueOption("MediaType", "Media", ("Cotton", "Gloss"), "Gloss", "media"),
            QueueOption("Speed", "High speed", ("Off", "On"), "On", "speed"),
        )
        return QueueOffers(self.name, options, self.scale)

    def send(self, page: DrawnPage, _title: str, options: Sequence[tuple[str, str]]) -> str:
        self.gate.wait(20)
        if self.refuses:
            raise QueueError("the queue is full", self.name, "wait")
        self.pages.append(page)
        self.options.append(dict(options))
        number = f"hall-{len(self.pages)}"
        self.states.setdefault(number, SentState("printing"))
        return number

    def state(self, job: str) -> SentState:
        return self.states[job]

    def stop(self, job: str) -> None:
        self.stopped.append(job)
        self.states[job] = SentState("stopped")

    def unscale(self) -> None:
        self.scale = 100.0


@pytest.fixture
def hall(desk: Desk) -> Hall:
    """The open take goes to a queue of the test's own."""
    made = Hall()
    desk.session.queues.open = lambda _name: made
    desk.session.sheets.choose_queue("hall")
    desk.until(lambda: desk.session.queues.offers("hall") is not None)
    return made


# ---- the sheet


def test_a_print_is_moved_and_grown_on_its_sheet_and_taken_back(desk: Desk) -> None:
    sheets, take = desk.session.sheets, desk.take
    sheets.put_at(20.0, 30.0)
    assert desk.take.sheet.place == "20.0,30.0" and sheets.page is not None and sheets.page.laid[0].box.left == 20
    sheets.put_at(-50.0, 9999.0)
    page = sheets.page
    assert page.borders[3] == 0 and page.borders[2] == pytest.approx(0, abs=0.06), "it stays on its sheet"
    sheets.set_border("left", 12.0)
    assert sheets.page.borders[3] == pytest.approx(12)
    desk.session.takes.undo()
    desk.session.takes.undo()
    desk.session.takes.undo()
    assert desk.take.sheet == take.sheet
    before = sheets.page.borders
    sheets.set_border("left", before[3] - 10)
    after = sheets.page.borders
    assert after[3] == pytest.approx(before[3] - 10, abs=0.1) and after[1] == pytest.approx(after[3], abs=0.1), (
        "centred, it grows on both sides"
    )
    desk.session.sheets.place("foot:20")
    sheets.set_border("top", 80.0)
    top, _right, foot, _left = sheets.page.borders
    assert top == pytest.approx(80, abs=0.2) and foot / top == pytest.approx(1.2, abs=0.01)
    sheets.largest()
    inked = sheets.page.inked
    assert inked.holds(sheets.page.laid[0].box) and desk.take.sheet.place == "centre"


def test_a_print_without_a_size_becomes_as_large_as_ink_reaches(desk: Desk) -> None:
    session = desk.session
    session.takes.change_frame(size=None)
    assert session.sheets.page is None
    session.sheets.place("foot:15")
    page = session.sheets.page
    assert (
        page is not None
        and page.inked.holds(page.laid[0].box, 0.2)
        and max(page.laid[0].box.width, page.laid[0].box.height) > 350
    )
    session.takes.undo()
    assert desk.take.frame.size is None and desk.take.sheet.place == "centre", "one change"


def test_an_even_border_cuts_the_picture_to_it_as_one_change(desk: Desk) -> None:
    sheets, before = desk.session.sheets, desk.take
    sheets.even_border(10.0)
    assert sheets.page is not None and sheets.page.borders == pytest.approx((10,) * 4, abs=0.1)
    assert desk.take.frame.crop != before.frame.crop
    sheets.even_border(0.0)
    assert desk.take.sheet.borderless and sheets.page.bare == pytest.approx(0, abs=1e-6)
    assert "borderless" in [c.key for c in sheets.cautions], "matte cotton must not be filled"
    desk.session.takes.undo()
    desk.session.takes.undo()
    assert desk.take == before
    sheets.even_border(2000.0)
    assert any("leaves no print" in said for said in desk.said) and desk.take == before


def test_recropping_on_the_sheet_keeps_what_hands_left(desk: Desk) -> None:
    desk.session.sheets.recrop(Crop(0.1, 0.1, 0.5, 0.5), PrintSize(4.5, 3.0), "10.0,12.0")
    page = desk.session.sheets.page
    assert page is not None and page.laid[0].box.left == 10 and desk.take.frame.crop.width == 0.5
    desk.settle()
    assert desk.session.sheets.cautions and all(c.key != "judged-otherwise" for c in desk.session.sheets.cautions)


def test_mats_captions_grids_and_packs(desk: Desk, tmp_path: Path) -> None:
    sheets = desk.session.sheets
    sheets.mat(Mat("over", 400, 300))
    assert sheets.page is not None and sheets.page.mat is not None
    sheets.caption(Caption("Line", 2, 9, "A. Lind"))
    assert [line.text for line in sheets.page.lettering] == ["2/9", "Line", "A. Lind"]
    sheets.lay_several(Several("grid", 2, 2, 5.0))
    page = sheets.page
    assert len(page.laid) == 4 and desk.take.sheet.mat == Mat() and page.inked.holds(page.laid[0].box)
    assert sheets.as_grid(Several("grid", 3, 3)) is not None
    sheets.lay_several(Several("grid", 99, 2, 50.0))
    assert any("leave no room" in said for said in desk.said)
    other = desk.session.book.note(
        replace(
            desk.take,
            id=0,
            frame=replace(desk.take.frame, size=PrintSize(5.0, 4.0)),
            sheet=replace(desk.take.sheet, several=Several()),
        )
    )
    assert (other.id in [t.id for t, _n in sheets.can_share()]) and all(
        t.id != desk.take.id for t, _n in sheets.can_share()
    )
    sheets.lay_several(Several("packed", takes=(other.id, 999)))
    assert [t.id for _s, t in sheets.others()] == [other.id] and len(sheets.page.laid) == 2
    mark = tmp_path / "mark.png"
    mark.write_bytes(b"x")
    sheets.choose_mark(mark)
    assert desk.take.sheet.caption.mark == str(mark) and desk.take.sheet.caption.mark_digest
    sheets.choose_mark(tmp_path / "none.png")
    assert any("mark cannot be read" in said for said in desk.said)


def test_where_the_printer_puts_it_is_kept_with_the_card(desk: Desk, tmp_path: Path) -> None:
    session = desk.session
    condition = session.now.condition
    assert condition is not None
    width, height, at = session.sheets.cross_places(condition, "A4")
    measured = {
        ask: mm + (1.0 if ask[1] in ("left",) else -1.0 if ask[1] == "right" else 0.0)
        for ask, mm in planned(width, height, at).items()
    }
    session.sheets.keep_true_place("A4", measured)
    found = session.now.condition
    assert found is not None and found.true_place is not None and found.true_place.right == pytest.approx(1.0, abs=0.01)
    session.sheets.keep_true_place("A4", {("upper left", "left"): 45.0})
    assert any("distance is missing" in said for said in desk.said)
    session.sheets.forget_true_place()
    assert session.now.condition is not None and session.now.condition.true_place is None
    session.takes.undo()
    assert session.now.condition.true_place is not None
    session.printing.write_crosses(tmp_path / "crosses.pdf", "A4")
    desk.until(lambda: not session.jobs.running)
    assert (tmp_path / "crosses.pdf").read_bytes().startswith(b"%PDF")


def test_what_is_written_and_who_shares_belong_to_their_picture_and_paper(desk: Desk) -> None:
    session = desk.session
    session.sheets.caption(Caption("Drying line", 3, 12, "A. Lind"))
    session.sheets.tick("nozzles")
    session.sheets.lay_several(Several("packed", takes=(3,)))
    sheet = desk.take.sheet.for_another
    assert (sheet.caption.text, sheet.caption.edition, sheet.caption.of, sheet.caption.signature) == (
        "",
        0,
        12,
        "A. Lind",
    )
    assert (
        sheet.several == Several()
        and replace(desk.take.sheet, several=Several("grid")).for_another.several.way == "grid"
    )
    other = next(c for c in session.shelf.conditions if c.id != desk.take.condition)
    session.takes.take_on(other)
    assert (
        desk.take.sheet.several == Several()
        and desk.take.sheet.caption.text == "Drying line"
        and desk.take.ticked == ()
    )


# ---- cautions


def test_what_is_wrong_is_put_right_as_one_change(desk: Desk, hall: Hall) -> None:
    session = desk.session
    keys = {c.key for c in session.sheets.cautions}
    assert {"unknown-media", "scale", "left-speed"} <= keys
    session.sheets.tell_word("media", "Cotton")
    assert session.now.condition is not None and session.now.condition.queue_words[0].word == "Cotton"
    session.takes.change_hand_over(media="Gloss", speed="On")
    found = {c.key: c for c in session.sheets.cautions}
    assert {"media", "speed", "scale"} <= set(found) and "unknown-media" not in found
    before = desk.take
    session.sheets.mend([c.mend for c in session.sheets.cautions])
    desk.until(lambda: hall.scale == 100.0 and "scale" not in {c.key for c in session.sheets.cautions})
    assert not {"media", "speed", "scale"} & {c.key for c in session.sheets.cautions}
    session.takes.undo()
    assert desk.take == before
    session.sheets.tick("left-speed")
    assert "left-speed" in desk.take.ticked


def test_a_take_knows_whether_it_was_tested_and_when_its_printer_last_ran(desk: Desk) -> None:
    request = desk.session.printing.ticket_request()
    assert request is not None and request.tested and request.idle_days == 12, "by the demo's logbook"
    stranger = next(
        t for t in desk.session.book.all(Take) if desk.session.takes.master_of(t).name == "Dyed cloths, close"
    )  # type: ignore[union-attr]
    desk.session.takes.open(stranger)
    desk.settle()
    request = desk.session.printing.ticket_request()
    assert request is not None and not request.tested


def test_cautions_of_several_takes_are_told_once(desk: Desk, hall: Hall) -> None:
    session = desk.session
    session.sheets.tell_word("media", "Cotton")
    stranger = next(t for t in session.book.all(Take) if session.takes.master_of(t).name == "Dyed cloths, close")  # type: ignore[union-attr]
    stranger = session.book.note(replace(stranger, hand_over=replace(stranger.hand_over, queue="hall")))
    here = session.now.rendition
    found = session.sheets.cautions_of([desk.take, stranger])
    texts = [c.text for _picture, c in found]
    assert len(texts) == len(set(texts)) and any("97 %" in t for t in texts), "once, though it is about both"
    assert ("Dyed cloths, close", "untested") in [(picture, c.key) for picture, c in found]
    assert session.now.rendition == here and {t.id for t in session.prints.of_this_paper()} == {
        desk.take.id,
        stranger.id,
    }
    assert all(c.key != "not-judged" for _p, c in found)


# ---- prints


def test_pages_go_one_after_the_other_and_are_kept_with_their_profile(desk: Desk, hall: Hall) -> None:
    session = desk.session
    session.sheets.tell_word("media", "Cotton")
    first, second = session.prints.order([desk.take, replace(desk.take)])
    assert session.prints.all[0].state == "making" and session.prints.all[1].state == "waiting"
    desk.until(lambda: len(hall.pages) == 2 and all(j.state == "sent" for j in session.prints.all))
    assert hall.options[0] == {"PageSize": "A3Plus", "MediaType": "Cotton", "Speed": "Off"}
    digest = first.rendition.destination.digest
    kept = session.book.profile_bytes(digest)
    assert kept is not None and session.now.paper is not None and kept == session.now.paper.data
    hall.states["hall-1"] = SentState("done")
    desk.until(lambda: session.prints.all[0].state == "done", 20)
    assert (
        session.prints.all[0].printed
        and desk.take.written is not None
        and desk.take.written.rendition == first.rendition
    )
    assert session.prints.all[1].state == "sent" and second.id == session.prints.all[1].id
    assert any("is printed. Let it dry" in said for said in desk.said)
    hall.states["hall-2"] = SentState("held", "paper is out")
    desk.until(lambda: session.prints.all[1].state == "held", 20)
    assert session.prints.all[1].words == "paper is out"
    np.testing.assert_array_equal(hall.pages[0].pixels, hall.pages[1].pixels)


def test_work_answers_with_the_take_it_was_given(desk: Desk, hall: Hall) -> None:
    session = desk.session
    session.sheets.tell_word("media", "Cotton")
    hall.gate.clear()
    take = desk.take
    (job,) = session.prints.order([take])
    session.takes.change("frame", frame=replace(take.frame, size=PrintSize(3.0, 2.0)))
    other = next(t for t in session.book.all(Take) if t.master != take.master)
    session.takes.open(other)
    hall.gate.set()
    desk.until(lambda: len(hall.pages) == 1)
    part = hall.pages[0].parts[0]
    size = job.rendition.frame.size
    assert size is not None and part.rows.stop - part.rows.start == pytest.approx(
        size.width_cm / 2.54 * 100, abs=1.5
    ), "as it was asked for"
    hall.states["hall-1"] = SentState("done")
    desk.until(lambda: session.prints.all[0].state == "done", 20)
    kept = session.book.get(Take, take.id)
    assert (
        kept is not None
        and kept.written is not None
        and kept.written.rendition == job.rendition
        and desk.take.id == other.id
    )


def test_one_is_stopped_without_the_rest(desk: Desk, hall: Hall) -> None:
    session = desk.session
    session.sheets.tell_word("media", "Cotton")
    hall.gate.clear()
    jobs = session.prints.order([desk.take] * 3)
    session.prints.stop(jobs[1])
    session.prints.stop(jobs[0])
    hall.gate.set()
    desk.until(lambda: [j.state for j in session.prints.all] == ["stopped", "stopped", "sent"])
    session.prints.stop(session.prints.all[2])
    desk.until(lambda: session.prints.all[2].state == "stopped")
    assert hall.stopped and len(session.prints.waiting) == 0
    session.prints.again(session.prints.all[1])
    desk.until(lambda: session.prints.all[1].state == "sent")
    session.prints.forget(session.prints.all[0])
    assert len(session.prints.all) == 2
    session.prints.forget(session.prints.all[0])
    assert len(session.prints.all) == 2, "what is on its way stays on the list"


def test_stopping_all_work_stops_the_page_that_is_made_and_the_next_goes_on(desk: Desk, hall: Hall) -> None:
    session = desk.session
    session.sheets.tell_word("media", "Cotton")
    hall.gate.clear()
    session.prints.order([desk.take, desk.take])
    session.jobs.stop("print")
    desk.until(lambda: session.prints.all[0].state == "stopped" and session.prints.all[1].state == "making")
    hall.gate.set()
    desk.until(lambda: session.prints.all[1].state == "sent")


def test_a_page_that_cannot_be_sent_says_why_and_the_next_goes_on(desk: Desk, hall: Hall) -> None:
    session = desk.session
    (bad,) = session.prints.order([desk.take])  # nobody has said what the medium is called there
    desk.until(lambda: session.prints.all[0].state == "failed")
    assert "nobody has said" in session.prints.all[0].words.lower() and not hall.pages
    session.sheets.tell_word("media", "Cotton")
    hall.refuses = True
    session.prints.order([desk.take])
    desk.until(lambda: session.prints.all[1].state == "failed")
    assert "full" in session.prints.all[1].words and bad.id == session.prints.all[0].id


def _breaks(_progress: object) -> None:
    raise QueueError("the paper jams", "hall", "look")


def test_other_work_that_fails_is_no_failure_of_the_page_with_its_number(desk: Desk, hall: Hall) -> None:
    session = desk.session
    session.sheets.tell_word("media", "Cotton")
    session.prints.pause()
    (page,) = session.prints.order([desk.take])
    session.jobs.run(Job("other", page.id), _breaks, lambda _answer: None)
    desk.until(lambda: not session.jobs.is_running("other"))
    desk.settle()
    assert [j.state for j in session.prints.all] == ["waiting"] and session.prints.all[0].words == ""


def test_what_waited_goes_on_after_a_restart_only_when_told(desk: Desk, hall: Hall) -> None:
    session, book = desk.session, desk.session.book
    session.sheets.tell_word("media", "Cotton")
    session.prints.pause()
    session.prints.order([desk.take, desk.take])
    assert [j.state for j in session.prints.all] == ["waiting", "waiting"] and session.prints.is_paused
    book.note(replace(session.prints.all[0], state="making"))
    path = session.book._workbook.path
    desk.session.close()
    home = PlainHome()
    again = Session(Workbook(path), home)
    again.queues.open = lambda _name: hall
    assert again.prints.is_paused and [j.state for j in again.prints.all] == ["waiting", "waiting"]
    for _ in range(20):
        home.turn()
    assert not hall.pages, "paper is used only when somebody says so"
    again.prints.go_on()
    for _ in range(2000):
        home.turn()
        if len(hall.pages) == 2:
            break
    assert len(hall.pages) == 2
    for _ in range(50):
        home.turn()
    again.close()
    desk.session = Session(Workbook(path), desk.home)


def test_a_count_of_sheets_goes_down_and_an_empty_one_is_named(desk: Desk, hall: Hall) -> None:
    session = desk.session
    session.sheets.tell_word("media", "Cotton")
    condition = session.now.condition
    assert condition is not None
    session.shelf.change(replace(condition, stock=1))
    hall.states["hall-1"] = SentState("done")
    session.prints.order([desk.take])
    desk.until(lambda: bool(session.prints.all) and session.prints.all[0].state == "done", 20)
    assert session.now.condition is not None and session.now.condition.stock == 0
    assert "stock" in {c.key for c in session.sheets.cautions}
    assert session.prints.done_of(desk.take) == session.prints.all


def test_the_queue_that_ships_is_always_there(desk: Desk) -> None:
    session = desk.session
    assert session.queues.names == [SIMULATED]
    session.queues.look()
    desk.until(lambda: not session.jobs.running)
    assert SIMULATED in session.queues.names
    session.sheets.choose_queue(SIMULATED)
    desk.until(lambda: session.queues.offers(SIMULATED) is not None)
    offers = session.queues.offers(SIMULATED)
    assert offers is not None and offers.simulated and desk.take.hand_over.queue == SIMULATED
    session.sheets.choose_queue("")
    assert desk.take.hand_over.queue == ""


def test_minutes_since_a_print(desk: Desk) -> None:
    job = PrintJob(printed="2026-11-28T10:00")
    assert desk.session.prints.minutes_since(job, datetime(2026, 11, 28, 10, 30)) == 30
    assert desk.session.prints.minutes_since(PrintJob(printed="soon"), datetime(2026, 11, 28)) == 0


def test_a_print_of_the_logbook_is_printed_again_pixel_for_pixel(desk: Desk, hall: Hall) -> None:
    session = desk.session
    session.sheets.tell_word("media", "Cotton")
    session.prints.order([desk.take])
    desk.until(lambda: len(hall.pages) == 1)
    hall.states["hall-1"] = SentState("done")
    desk.until(lambda: session.prints.all[0].state == "done", 20)
    assert session.verdicts._clock.is_active, "it dries: it will ask"
    entry = session.verdicts.keep("good")
    assert entry is not None and entry.print_id == session.prints.all[0].id
    # the take goes on, the card gets another profile
    session.takes.change_recipe(by_hand(lightness=-1.0))
    other = next(c for c in session.shelf.conditions if c.paper == "Sluice Gloss")
    card = session.now.condition
    assert card is not None
    session.shelf.change(replace(card, profile_path=other.profile_path, profile_digest=other.profile_digest))
    assert session.past.print_again(entry)
    desk.until(lambda: len(hall.pages) == 2)
    np.testing.assert_array_equal(hall.pages[0].pixels, hall.pages[1].pixels)
    assert hall.options[0] == hall.options[1]
    desk.until(lambda: not session.jobs.running)


def test_a_test_sheet_goes_to_the_queue_as_it_is_planned(desk: Desk, hall: Hall) -> None:
    session = desk.session
    session.sheets.tell_word("media", "Cotton")
    session.testing.wish(kind="bracket", count=3, sheet="A4")
    desk.until(lambda: session.testing.made is not None)
    made = session.testing.made
    session.tested.send()
    desk.until(lambda: session.tested.last is not None)
    (page,) = hall.pages
    assert made is not None and made.page is not None and page.pixels.dtype == np.uint8
    fed = sorted((made.page.page.width, made.page.page.height))
    assert (page.width, page.height) == pytest.approx(tuple(fed)), "its short side goes in first"
    assert hall.options[0]["PageSize"] == "A4" and hall.options[0]["MediaType"] == "Cotton"
    assert session.tested.last.variants == made.planned.variants and session.tested.last.file == ""  # type: ignore[union-attr]
    desk.settle()
