"""What was handed over: written, sent, printed, each said of the rendition it is of."""

from dataclasses import replace
from datetime import datetime
from pathlib import Path

import pytest
from tests.session.conftest import Desk

from rehearsal.core.values.handover import format_by
from rehearsal.core.values.recipe import by_hand
from rehearsal.desk.frame.stations import station_states
from rehearsal.desk.trays.log import handed_rows
from rehearsal.desk.trays.sheet import handed_words
from rehearsal.session.printing import as_made_now
from rehearsal.session.prints import _after
from rehearsal.workbook.values import PrintJob, Written

_WHEN = "2030-05-01T21:32"


def _write(desk: Desk, printed: str = "") -> None:
    rendition = desk.session.now.rendition
    assert rendition is not None
    desk.session.takes.change("write", written=Written("/prints/a.tif", as_made_now(rendition), _WHEN, printed))


def test_a_written_file_is_no_print(desk: Desk) -> None:
    s = desk.session
    idle = s.printing.ticket_request().idle_days  # type: ignore[union-attr]
    before = len(s.verdicts.waiting(datetime(2030, 5, 3)))
    _write(desk)
    last = s.handed.last
    assert last is not None and (last.state, last.file) == ("written", "/prints/a.tif") and s.handed.is_of_now(last)
    assert s.verdicts.held is not None and s.verdicts.held.printed == "", "the log asks about no print"
    assert s.printing.ticket_request().idle_days == idle, "nozzles do not know of files"  # type: ignore[union-attr]
    found = s.last_time.last_print(desk.take.condition)
    assert found is None or found.when != _WHEN
    assert len(s.verdicts.waiting(datetime(2030, 5, 3))) == before


def test_a_person_says_that_it_is_printed(desk: Desk) -> None:
    s = desk.session
    s.handed.say_printed()
    assert desk.take.written is None, "there is no file that could be"
    _write(desk)
    s.handed.say_printed()
    last, held = s.handed.last, s.verdicts.held
    assert last is not None and last.state == "printed" and held is not None and held.printed == last.when != ""
    assert s.printing.ticket_request().idle_days == 0  # type: ignore[union-attr]
    assert [r.value for r in handed_rows(s) if "asked about" in r.value] == [
        "Drying line on White Dune: printed; asked about"
    ]
    s.takes.undo()
    assert s.handed.last.state == "written"  # type: ignore[union-attr]


def test_after_a_change_the_file_holds_another_take(desk: Desk) -> None:
    s = desk.session
    _write(desk)
    assert handed_words(s) == "File written 1 May 2030: a.tif"
    assert s.printing.ticket_request().file == "/prints/a.tif"  # type: ignore[union-attr]
    s.takes.change_recipe(by_hand(contrast=3.0))
    last = s.handed.last
    assert last is not None and not s.handed.is_of_now(last)
    assert handed_words(s) == "The file a.tif holds the take of 1 May 2030, not as it is now."
    assert s.printing.ticket_request().file == "", "a page written earlier is not this one's ticket"  # type: ignore[union-attr]
    s.takes.undo()
    assert s.handed.is_of_now(last), "gone back it is the same again"


def test_the_ring_is_full_only_of_the_take_as_it_is(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    s = desk.session
    monkeypatch.setattr("rehearsal.desk.frame.stations.cautions", lambda _request: [])

    def ring() -> tuple[str, str]:
        state = station_states(s)[6]
        return state.ring, state.words

    assert ring() == ("half", "ready to write")
    _write(desk)
    assert ring() == ("full", "file written")
    s.takes.change_hand_over(ppi=150.0)
    assert ring() == ("half", "the file holds the take of 1 May 2030")
    _write(desk, "2030-05-02T08:00")
    assert ring() == ("full", "printed")
    s.takes.change_recipe(by_hand(contrast=3.0))
    assert ring() == ("half", "printed is the take of 2 May 2030")


def test_pages_at_a_queue_are_sent_until_the_queue_says_otherwise(desk: Desk) -> None:
    s, rendition = desk.session, desk.session.now.rendition
    assert rendition is not None
    card = s.now.condition
    assert card is not None
    job = PrintJob(
        take=desk.take.id,
        condition=card.id,
        picture="Drying line",
        renditions=(rendition,),
        card=card,
        state="sent",
        asked=_WHEN,
    )
    (kept,) = s.book.do("print", [job])
    assert s.handed.last.state == "sent"  # type: ignore[union-attr]
    s.book.note(replace(kept, state="done", printed="2030-05-01T21:40"))
    assert (s.handed.last.state, s.handed.last.when) == ("printed", "2030-05-01T21:40")  # type: ignore[union-attr]
    for state in ("waiting", "making"):
        s.book.note(replace(kept, state=state, printed=""))
        assert s.handed.last is None or s.handed.last.job != kept.id, "what only waits was not sent"
    s.book.note(replace(kept, state="failed"))
    assert s.handed.last is None or s.handed.last.job != kept.id, "what did not print was not handed over"


# ---- the name decides the format


@pytest.mark.parametrize(
    ("ending", "now", "wanted"),
    [
        (".tif", "tiff8", "tiff8"),
        (".TIFF", "pdf", "tiff16"),
        (".jpeg", "tiff16", "jpeg"),
        (".png", "png8", "png8"),
        (".pdf", "tiff16", "pdf"),
        (".xyz", "tiff16", ""),
        ("", "tiff16", ""),
    ],
)
def test_an_ending_names_a_format(ending: str, now: str, wanted: str) -> None:
    assert format_by(ending, now) == wanted


def test_the_name_decides_what_is_written(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    for name, format_, whole in (("a.png", "png16", False), ("b.jpg", "jpeg", False), ("c.pdf", "pdf", True)):
        s.printing.write(tmp_path / name)
        desk.until(lambda: not any(j.kind == "write" for j in s.jobs.running))
        assert (desk.take.hand_over.format, desk.take.hand_over.whole) == (format_, whole)
        assert (tmp_path / name).is_file() and s.handed.last is not None and s.handed.is_of_now(s.handed.last)
    assert desk.said[-1].endswith("c.pdf, 8 bits a channel")
    assert (tmp_path / "c.pdf").read_bytes().startswith(b"%PDF")
    before = desk.take
    s.printing.write(tmp_path / "d.jpg")
    assert "No whole page can be written as .jpg: end its name with .tif, .png or .pdf." in desk.said[-1]
    s.takes.change_hand_over(whole=False, format="tiff16")
    s.printing.write(tmp_path / "e.webp")
    assert "No print file can be written as .webp" in desk.said[-1] and before.hand_over.format == "pdf"
    assert not any(tmp_path.glob("[de].*"))
    desk.settle()


# ---- counted once, and compared by what prints


def test_a_print_of_a_queue_is_listed_once(desk: Desk) -> None:
    s, rendition, card = desk.session, desk.session.now.rendition, desk.session.now.condition
    assert rendition is not None and card is not None
    before = len(s.handed.all)
    s.book.do("print", [PrintJob(take=desk.take.id, card=card, renditions=(rendition,), state="done", printed=_WHEN)])
    s.takes.change("write", written=Written("", rendition, _WHEN))
    assert len(s.handed.all) == before + 1


def test_a_file_of_an_earlier_arithmetic_is_of_now(desk: Desk) -> None:
    s = desk.session
    s.takes.change("write", recipe=replace(by_hand(contrast=6.0), maths=1))
    _write(desk)
    last = s.handed.last
    assert last is not None and s.handed.is_of_now(last), "what was written was made by the present arithmetic"
    s.takes.change_hand_over(copies=5)
    assert s.handed.is_of_now(last), "how many are printed is no part of what the file holds"


def test_copies_leave_the_stock(desk: Desk) -> None:
    rendition, card = desk.session.now.rendition, desk.session.now.condition
    assert rendition is not None and card is not None
    three = replace(rendition, hand_over=replace(rendition.hand_over, copies=3))
    for stock, left in ((10, 7), (2, 0), (-1, -1)):
        job = PrintJob(card=card, renditions=(three,))
        assert _after(replace(card, stock=stock), job).stock == left


def test_a_shelf_with_papers_never_asks_for_one(desk: Desk) -> None:
    s = desk.session
    space = next(c for c in s.shelf.conditions if c.space)
    s.takes.change("condition", condition=space.id)
    assert s.now.condition == space and not s.takes.is_without_paper
    desk.settle()
