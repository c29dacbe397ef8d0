"""The print in the hand and the logbook: one verdict a light, waiting prints, again in a year, causes, files."""

from __future__ import annotations

import csv
import json
from dataclasses import replace
from datetime import datetime, timedelta
from pathlib import Path

import numpy as np
import pytest
from tests.known import keep_verdict
from tests.session.conftest import Desk

from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.recipe import LEARNT, Step, by_hand
from rehearsal.session import verdicts
from rehearsal.tasks.learning import read_log
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import LogEntry, Master, PlaceSaid, PrintJob, Take, Written


def _written(desk: Desk, when: str = "2026-11-27T14:00") -> Take:
    """The open take as if its file had been written."""
    s = desk.session
    rendition = s.now.rendition
    assert rendition is not None and s.now.paper is not None
    s.book.keep_profile(s.now.paper.digest, s.now.paper.data)
    s.takes.change("write", written=Written("/prints/a.tif", rendition, when, when))
    return desk.take


def test_one_verdict_for_each_light(desk: Desk) -> None:
    s = desk.session
    _written(desk)
    before = len(s.logbook.entries)
    screen = s.screen.record
    first = keep_verdict(s, 1.0, 0.0, 0.0, "usable", "a little dark")
    assert first is not None and first.printed == "2026-11-27T14:00" and first.rendition == desk.take.written.rendition  # type: ignore[union-attr]
    assert (first.lux, first.kelvin, first.light) == (screen.lux, screen.kelvin, screen.light)
    assert s.verdicts.offsets == {} and s.verdicts.earlier == first
    again = keep_verdict(s, 2.0, -1.0, 0.0, "again", "darker still")
    assert again is not None and again.id == first.id and len(s.logbook.entries) == before + 1, (
        "put right, not counted twice"
    )
    assert (again.darker, again.cooler) == (2.0, -1.0)
    s.verdicts.hold_in("living-room", 90.0, 2700.0)
    assert s.verdicts.earlier is None
    evening = keep_verdict(s, 4.0, 0.0, 0.0, "usable")
    assert evening is not None and evening.id != first.id and (evening.lux, evening.light) == (90.0, "living-room")
    s.takes.undo()
    assert len(s.logbook.entries) == before + 1
    # another print of the same rendition has a verdict of its own
    _written(desk, "2026-11-28T09:00")
    assert s.verdicts.earlier is None
    desk.settle()


def test_another_take_is_in_the_hand_in_the_screens_light(desk: Desk) -> None:
    s = desk.session
    s.verdicts.hold_in("living-room", 90.0, 2700.0)
    _written(desk)
    s.verdicts.choose("lightness", 0.5)
    s.takes.change("view", view="on-paper")
    s.takes.change_recipe(by_hand(contrast=2))
    assert s.verdicts.offsets == {"lightness": 0.5}, "the print is what it was"
    assert s.verdicts.light == ("living-room", 90.0, 2700.0), "the same print still"
    here = desk.take
    s.takes.open(next(t for t in s.book.all(Take) if t.id != here.id and t.master != here.master))
    screen = s.screen.record
    assert s.verdicts.light == (screen.light, screen.lux, screen.kelvin)
    desk.settle()


def test_a_verdict_put_right_keeps_what_was_known_of_the_print(desk: Desk) -> None:
    s = desk.session
    _written(desk)
    entry = s.verdicts.keep("again", cost=2.4)
    assert entry is not None and entry.cost == 2.4
    s.past.set_cause(entry, "program-converts")
    again = s.verdicts.keep("given-up")
    assert again is not None and (again.id, again.cause, again.cost) == (entry.id, "program-converts", 2.4)
    desk.settle()


def test_the_logbook_is_never_written_over_a_picture_or_a_profile(desk: Desk) -> None:
    s = desk.session
    for path in (Path(s.now.master.path), Path(s.now.condition.profile_path)):  # type: ignore[union-attr]
        before = path.read_bytes()
        linked = path.parent / "log.csv"
        linked.unlink(missing_ok=True)
        linked.hardlink_to(path)
        s.past.write(linked, s.printing.protected())
        assert "never written to" in desk.said[-1] and path.read_bytes() == before
        linked.unlink()
    s.past.write(Path(s.now.master.path).with_name("log.txt"), ())  # type: ignore[union-attr]
    assert "CSV, JSON or PDF" in desk.said[-1] and not Path(s.now.master.path).with_name("log.txt").exists()  # type: ignore[union-attr]
    desk.settle()


def test_a_whole_page_is_written_again_as_a_page(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    s.takes.change("hand-over", hand_over=replace(desk.take.hand_over, whole=True, format="tiff8"))
    s.takes.change("sheet", sheet=replace(desk.take.sheet, name="A4"))
    _written(desk)
    entry = keep_verdict(s, 0.0, 0.0, 0.0, "good")
    s.past.write_again(entry, tmp_path / "page.tif", ())
    desk.until((tmp_path / "page.tif").exists)
    desk.until(lambda: not s.jobs.is_running("write"))
    from rehearsal.core.picture.file import read_picture

    back = read_picture(tmp_path / "page.tif").info
    sides = sorted((back.width / back.ppi * 2.54, back.height / back.ppi * 2.54))
    assert sides == pytest.approx([21.0, 29.7], abs=0.1)
    desk.settle()


def test_a_right_print_confirms_what_was_learnt(desk: Desk) -> None:
    s = desk.session
    s.takes.change_recipe(desk.take.recipe.having(Step(LEARNT, Values.of(lightness=1 / 3))))
    _written(desk)
    assert s.verdicts.leaves_out
    keep_verdict(s, 0.0, 0.0, 0.0, "good")
    assert "confirms the learnt step" in desk.said[-1]
    s.takes.change_recipe(by_hand(contrast=3))
    _written(desk, "2026-11-28T15:00")
    assert not s.verdicts.leaves_out
    keep_verdict(s, 0.0, 0.0, 0.0, "good")
    assert "confirms" not in desk.said[-1], "there was nothing to confirm"
    desk.settle()


def test_rows_and_pictures_follow_the_print_and_the_view(desk: Desk) -> None:
    s = desk.session
    desk.until(lambda: s.verdicts.rows is not None)

    def small() -> list[bytes]:
        desk.until(lambda: s.verdicts.small((60, 40)) is not None)
        made = s.verdicts.small((60, 40))
        assert made is not None
        return [rgb.tobytes() for row in made for rgb in row]

    first = small()
    rows = s.verdicts.rows
    assert rows is not None and len(first) == sum(len(r.offsets) for r in rows)
    light = rows[0]
    middle = light.middle
    assert first[middle] == first[len(light.offsets) + rows[1].middle], "the take itself in each row"
    assert len(set(first[: len(light.offsets)])) == len(light.offsets)
    s.verdicts.choose("lightness", light.offsets[0])
    chosen = small()
    assert (
        chosen[: len(light.offsets)] == first[: len(light.offsets)]
        and chosen[len(light.offsets) :] != first[len(light.offsets) :]
    )
    s.takes.change("view", view="on-paper")
    assert small() != chosen
    desk.until(lambda: s.verdicts.large((90, 60)) is not None)
    here = s.verdicts.large((90, 60))
    s.verdicts.point(("warmth", rows[1].offsets[0]))
    desk.until(lambda: s.verdicts.large((90, 60)) is not None)
    there = s.verdicts.large((90, 60))
    assert here is not None and there is not None and not np.array_equal(here, there)
    s.takes.change_recipe(by_hand(strength=30))
    assert s.verdicts.held.rendition.recipe.total["strength"] == 30, "nothing is printed: the take as it is"  # type: ignore[union-attr]
    desk.settle()


def test_places_are_kept(desk: Desk) -> None:
    s = desk.session
    s.verdicts.mark(0.5, 0.5)
    assert s.verdicts.places == (), "nobody said what"
    s.verdicts.call_place("blocked")
    s.verdicts.mark(0.25, 0.75)
    s.verdicts.call_place("cast")
    s.verdicts.mark(0.5, 0.1)
    s.verdicts.unmark()
    entry = keep_verdict(s, 0.0, 0.0, 0.0, "again")
    assert entry.places == (PlaceSaid(0.25, 0.75, "blocked"),) and s.verdicts.places == ()
    desk.settle()


def test_a_waiting_print_asks_once_when_it_is_dry(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    s = desk.session
    card = s.now.condition
    assert card is not None
    s.shelf.change(replace(card, dry_hours=10.0))
    _written(desk, "2026-11-27T14:00")
    out = datetime(2026, 11, 27, 14, 0)
    (waiting,) = s.verdicts.waiting(out + timedelta(hours=1))
    assert waiting.take == desk.take.id and s.verdicts.wet_until(waiting, out) != ""

    class _Clock(datetime):
        moment = out + timedelta(hours=9)

        @classmethod
        def now(cls, tz: object = None) -> datetime:  # type: ignore[override]
            return cls.moment

    monkeypatch.setattr(verdicts, "datetime", _Clock)
    s.verdicts._before = _Clock.moment
    for hours in (9.5, 10.1, 10.2):
        _Clock.moment = out + timedelta(hours=hours)
        s.verdicts._look_at_clock()
    assert sum("is dry: take it to its light" in text for text in desk.said) == 1
    monkeypatch.undo()
    keep_verdict(s, 0.0, 0.0, 0.0, "good")
    assert s.verdicts.waiting(out + timedelta(hours=20)) == []
    assert s.verdicts.waiting(out + timedelta(days=100)) == []
    desk.settle()


def test_what_dried_while_the_program_was_away_asks_at_its_start(desk: Desk) -> None:
    s = desk.session
    moment = (datetime.now() - timedelta(days=2)).isoformat(timespec="minutes")
    take = _written(desk, moment)
    desk.settle()
    path = s.book._workbook.path
    s.close()
    again = Desk(Workbook(path))
    again.until(lambda: any("nobody has said how it came out" in text for text in again.said))
    held = again.session.verdicts.waiting(datetime.now())
    assert [h.take for h in held] == [take.id]
    again.session.close()


def test_a_page_that_came_out_is_the_print_in_the_hand(desk: Desk) -> None:
    s = desk.session
    rendition, card = s.now.rendition, s.now.condition
    assert rendition is not None and card is not None
    job = PrintJob(take=desk.take.id, condition=card.id, picture="x", queue="hall", renditions=(rendition,), card=card, state="done",
                   printed="2026-11-27T10:00")  # fmt: skip
    kept = s.book.note(job)
    held = s.verdicts.held
    assert held is not None and held.print_id == kept.id and held.printed == "2026-11-27T10:00"
    entry = keep_verdict(s, 1.0, 0.0, 0.0, "usable")
    assert entry.print_id == kept.id
    s.takes.change_recipe(by_hand(contrast=20))
    assert s.verdicts.held == held, "the print stays what was printed"
    desk.settle()


# ---- looked through


def test_search_and_filters(desk: Desk) -> None:
    s = desk.session
    every = s.past.shown
    assert len(every) >= 3 and [e.when for e in every] == sorted(e.when for e in every)
    s.past.show_only(search=every[0].picture.lower()[:5])
    assert s.past.shown and all(every[0].picture[:5].lower() in e.picture.lower() for e in s.past.shown)
    s.past.show_only(search="no such words anywhere")
    assert s.past.shown == []
    s.past.show_only(search="", picture=every[-1].picture)
    assert {e.picture for e in s.past.shown} == {every[-1].picture}
    s.past.show_only(picture="", verdict="given-up")
    assert s.past.shown and {e.verdict for e in s.past.shown} == {"given-up"}
    s.past.show_only(search="nothing at all")
    assert s.past.shown == [] and s.past.entry is None
    s.past.show_only(search="")
    s.past.show_only(verdict="", paper=every[0].condition)
    assert {e.condition for e in s.past.shown} == {every[0].condition}
    s.past.show_only(paper=0, light=True)
    screen = s.screen.record
    assert s.past.shown and all(abs(e.lux / screen.lux - 1) <= 0.25 for e in s.past.shown)
    desk.settle()


def test_an_entry_is_put_right_and_taken_out_with_undo(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    entry = s.past.shown[0]
    s.past.choose(entry)
    s.past.change(entry, words="seen again", verdict="good", photo=str(tmp_path / "photo.jpg"))
    assert s.book.get(LogEntry, entry.id) == replace(
        entry, words="seen again", verdict="good", photo=str(tmp_path / "photo.jpg")
    )
    s.past.remove(entry)
    assert s.book.get(LogEntry, entry.id) is None and s.past.chosen == ()
    s.takes.undo()
    assert s.book.get(LogEntry, entry.id).words == "seen again"  # type: ignore[union-attr]
    s.takes.undo()
    assert s.book.get(LogEntry, entry.id) == entry
    two = s.past.shown[:2]
    s.past.choose(two[0])
    s.past.choose(two[1], too=True)
    assert [e.id for e in s.past.entries] == [e.id for e in two]
    desk.settle()


def test_files_out_and_in(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    s.past.change(s.past.shown[0], words='=cmd, "quoted"')
    for name in ("log.csv", "log.json", "log.pdf"):
        s.past.write(tmp_path / name, ())
    rows = list(csv.reader((tmp_path / "log.csv").read_text(encoding="utf-8").splitlines()))
    assert len(rows) == len(s.past.shown) + 1 and rows[1][-1] == '\'=cmd, "quoted"', "no formula for a spreadsheet"
    assert rows[1][8] == f"{-s.past.shown[0].darker / 6:.2f}"
    assert read_log(tmp_path / "log.json") == s.past.shown
    assert (tmp_path / "log.pdf").read_bytes().startswith(b"%PDF")
    before = len(s.logbook.entries)
    assert s.past.take_in(tmp_path / "log.json") == 0 and len(s.logbook.entries) == before, "all are there already"
    gone = s.past.shown[0]
    s.past.remove(gone)
    assert s.past.take_in(tmp_path / "log.json") == 1 and len(s.logbook.entries) == before
    (tmp_path / "bad.json").write_text(json.dumps({"log": [{"when": 4}]}))
    assert (
        s.past.take_in(tmp_path / "bad.json") == 0
        and "makes no sense" in desk.said[-1]
        and len(s.logbook.entries) == before
    )
    for bad in ({"darker": 1e400}, {"cost": float("nan")}, {"places": 3}, {"when": "x", "lux": "bright"}):
        (tmp_path / "bad.json").write_text(json.dumps([bad]))
        assert s.past.take_in(tmp_path / "bad.json") == 0 and len(s.logbook.entries) == before
    s.past.write(tmp_path / "no" / "log.csv", ())
    assert "folder is missing" in desk.said[-1]
    desk.settle()


def test_a_print_is_the_same_pixels_in_a_year_or_says_what_changed(desk: Desk, tmp_path: Path) -> None:
    s = desk.session
    _written(desk)
    entry = keep_verdict(s, 0.0, 0.0, 0.0, "good")
    desk.until(lambda: s.past.then(entry) is not None)
    then = s.past.then(entry)
    assert then is not None and then.same and then.profile == "kept" and then.words.endswith("the same pixels.")
    assert entry.rendition is not None
    before = replace(entry, rendition=replace(entry.rendition, recipe=replace(by_hand(contrast=9), maths=1)))
    desk.until(lambda: s.past.then(before) is not None)
    then = s.past.then(before)
    assert then is not None and not then.same and "earlier arithmetic" in then.words
    # a year later the card has another profile: the bytes that were kept still print it
    other = next(c for c in s.shelf.conditions if c.paper == "Sluice Gloss")
    card = s.now.condition
    assert card is not None
    s.shelf.change(replace(card, profile_path=other.profile_path, profile_digest=other.profile_digest))
    desk.until(lambda: (t := s.past.then(entry)) is not None and t.profile == "bytes")
    then = s.past.then(entry)
    assert then is not None and then.same and 0 < then.mean < then.worst and f"mean ΔE₀₀ {then.mean:.1f}" in then.words
    s.past.write_again(entry, tmp_path / "again.tif", ())
    desk.until((tmp_path / "again.tif").exists)
    desk.until(lambda: not s.jobs.is_running("write"))
    from rehearsal.core.picture.file import read_picture

    assert read_picture(tmp_path / "again.tif").profile.digest == entry.rendition.destination.digest
    # the picture's file is gone: nothing is promised
    master = next(m for m in s.book.all(Master) if m.digest == entry.rendition.master)
    s.book.note(replace(master, path=str(tmp_path / "gone.tif")))
    s.past._thens = type(s.past._thens)(4, None)
    desk.until(lambda: s.past.then(entry) is not None)
    then = s.past.then(entry)
    assert then is not None and not then.same and "gone" in then.words
    older = replace(entry, rendition=replace(entry.rendition, recipe=replace(by_hand(contrast=9), maths=1)))
    s.book.note(replace(master, path=master.path))
    desk.until(lambda: s.past.then(older) is not None)
    assert not s.past.then(older).same and "earlier arithmetic" in s.past.then(older).words  # type: ignore[union-attr]
    desk.settle()


def test_causes_of_a_print_teach_nothing(desk: Desk) -> None:
    s = desk.session
    _written(desk)
    entry = keep_verdict(s, 6.0, 0.0, 0.0, "again")
    desk.until(lambda: s.past.cause_looks(entry, 60) is not None)
    looks = s.past.cause_looks(entry, 60)
    assert looks is not None and len({rgb.tobytes() for rgb in looks.values()}) == len(looks)
    found = s.past.causes(entry, "twice")
    assert found[0].key == "program-converts" and {c.key: c.known for c in found}["other-profile"] == "out"
    before, wrong = s.logbook.lesson, s.logbook.left_out.cause
    s.past.set_cause(entry, found[0].key)
    assert s.book.get(LogEntry, entry.id).cause == "program-converts"  # type: ignore[union-attr]
    assert s.logbook.left_out.cause == wrong + 1
    assert s.logbook.lesson != before
    s.takes.undo()
    assert s.logbook.lesson == before
    desk.settle()


def test_what_prints_of_a_paper_cost(desk: Desk) -> None:
    s = desk.session
    card = s.now.condition
    assert card is not None
    s.shelf.change(replace(card, sheet_price=0.0, ink_price=0.0, ink_ml=0.0))
    assert s.past.cost(s.verdicts.held) is None, "nobody told a price"
    s.shelf.change(replace(card, sheet_price=1.5, ink_price=0.6, ink_ml=12.0, stock=3))
    for entry in s.past.shown:
        s.past.change(entry, cost=-1.0)
    desk.until(lambda: s.past.cost(s.verdicts.held) is not None)
    cost = s.past.cost(s.verdicts.held)
    assert cost is not None and cost.ink is not None and cost.paper is not None and 0 < cost.ink < 12 * 0.6
    before = s.past.account(card.id)
    _written(desk)
    s.verdicts.keep("good", "", cost.total or -1.0)
    after = s.past.account(card.id)
    assert (
        after.sheets == before.sheets + 1 and after.good == before.good + 1 and after.cost == pytest.approx(cost.total)
    )
    assert after.per_good == pytest.approx(after.cost / after.good)
    # the same print in another light is the same sheet
    s.verdicts.hold_in("living-room", 90.0, 2700.0)
    s.verdicts.keep("usable")
    assert s.past.account(card.id).sheets == after.sheets
    desk.settle()
