"""The workbook: kept through a killed process, newer versions refused, damaged files set aside, masters found again."""

import contextlib
import json
import os
import shutil
import signal
import sqlite3
import subprocess
import sys
import time
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rehearsal.core.errors import RehearsalError, WorkbookError
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.frame import Crop, Frame, PrintSize
from rehearsal.core.values.place import Ellipse
from rehearsal.core.values.recipe import LEARNT, LIGHT, Recipe, Step, by_hand
from rehearsal.core.values.rendition import Rendition
from rehearsal.demo.make import make_demo
from rehearsal.session.screen import record_of
from rehearsal.workbook.learning import learnt
from rehearsal.workbook.masters import find_again, make_master, refreshed, state
from rehearsal.workbook.migrations import FORMAT
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import (
    Accepted,
    Habit,
    LogEntry,
    Marks,
    Master,
    PrintCondition,
    ScreenReading,
    ScreenRecord,
    Take,
    Written,
    from_plain,
    to_plain,
)


def test_values_come_back_as_they_were(tmp_path: Path) -> None:
    book = Workbook(tmp_path / "book.sqlite")
    frame = Frame(Crop(0.1, 0.2, 0.5, 0.6), PrintSize(30, 20))
    take = book.put(Take(master=1, condition=2, frame=frame, recipe=by_hand(strength=4), not_wanted=("test",)))
    condition = book.put(
        PrintCondition(printer="Skarn 24", paper="White Dune", margins_mm=(30, 5, 30, 5), sheets=("A4",))
    )
    book.set_setting("room", "dark")
    book.close()
    again = Workbook(tmp_path / "book.sqlite")
    assert again.get(Take, take.id) == take
    assert again.all(PrintCondition) == [condition]
    assert again.setting("room") == "dark" and again.setting("none", 3) == 3
    again.remove(take)
    assert again.get(Take, take.id) is None
    again.close()


def test_a_workbook_of_the_first_format_is_opened_as_it_is(tmp_path: Path) -> None:
    path = tmp_path / "old.sqlite"
    book = Workbook(path)
    take = book.put(Take(name="old", master=4))
    book.close()
    db = sqlite3.connect(path)
    db.execute("DROP TABLE accepted")
    db.execute("UPDATE takes SET data = ?", (json.dumps({"name": "old", "master": 4}),))
    db.execute("PRAGMA user_version=1")
    db.commit()
    db.close()
    again = Workbook(path)
    assert again.get(Take, take.id) == replace(take, recipe=Recipe(maths=1))
    kept = again.put(Accepted(condition=1, hue="violet", cause="too_dark", why="soft"))
    assert again.all(Accepted) == [kept]
    again.close()


def test_lists_in_memory_are_those_of_the_file(tmp_path: Path) -> None:
    book = Workbook(tmp_path / "book.sqlite")
    first, second = book.put(Take(name="a")), book.put(Take(name="b"))
    assert [t.name for t in book.all(Take)] == ["a", "b"]
    book.put(replace(first, name="c"))
    book.remove(second)
    third = book.put(Take(name="d"))
    held = book.all(Take)
    held.clear()
    assert [t.name for t in book.all(Take)] == ["c", "d"] and book.get(Take, third.id) == third
    other = Workbook(tmp_path / "book.sqlite")
    assert other.all(Take) == book.all(Take)
    book.import_json({"format": FORMAT, "takes": [{"id": 9, "name": "e"}]})
    assert [t.name for t in book.all(Take)] == ["c", "d", "e"]
    other.close()
    book.close()


def test_a_screen_record_comes_back_with_its_readings() -> None:
    record = ScreenRecord(
        lux=300, readings=(ScreenReading("2026-01-01", 90.0, mean=0.4), ScreenReading("2026-02-01", 88.0))
    )
    assert from_plain(ScreenRecord, json.loads(json.dumps(to_plain(record)))) == record
    # a record of the first format knows nothing of readings and aims
    old = {"profile_path": "x.icc", "white": 110.0, "calibrated": "2026-01-01", "unheard_of": 1}
    assert from_plain(ScreenRecord, old) == ScreenRecord(profile_path="x.icc", white=110.0, calibrated="2026-01-01")


def test_what_is_printed_does_not_carry_what_its_frame_was_before() -> None:
    lent = Frame(size=PrintSize(30, 20)).lent("way", Frame(size=PrintSize(15, 10)))
    made = Take(1, frame=lent).rendition(Master(1, digest="d"), Destination("p"))
    assert made.frame == lent and made.frame.before is None and lent.before is not None


def test_who_said_a_value_is_kept_and_worked_out_for_older_records() -> None:
    record = ScreenRecord(white=120.0).saying("white", "read").saying("lux", "told")
    assert (record.origin("white"), record.origin("lux"), record.origin("contrast")) == ("read", "told", "")
    assert record_of(json.loads(json.dumps(to_plain(record)))) == record
    assert record.saying("white", "") == ScreenRecord(known=(("lux", "told"),))  # nobody's again, and usual
    # an older record did not say: what is not the usual was told
    old = record_of({"white": 110.0, "lux": 500.0, "contrast": 1000.0})
    assert old.known == (("white", "told"),)


@given(st.floats(0, 1), st.text(max_size=30), st.floats(-2, 2), st.booleans())
def test_plain_values_and_back(part: float, words: str, stops: float, placed: bool) -> None:
    place = Ellipse((part, 0.5), (0.1, 0.2), 30.0) if placed else None
    recipe = by_hand(lightness=stops).having(Step("place", Values.of(contrast=3), words, part, place=place))
    frame = Frame(Crop(part, 0, 1 - part, 1), PrintSize(30, 20) if placed else None)
    take = Take(name=words, frame=frame, recipe=recipe, marks=Marks(((part, 0.5),), (0.0, 0.1, 0.2, 0.3)))
    take = replace(take, written=Written("a.tif", Rendition(recipe=recipe, frame=frame)))
    assert from_plain(Take, json.loads(json.dumps(to_plain(take)))) == take


def test_unknown_fields_of_a_later_format_are_left_out() -> None:
    assert from_plain(Habit, {"name": "x", "colour_of_the_moon": 3, "values": {"strength": 2}}).values["strength"] == 2
    # but what is done to a picture is never left out: an unknown adjustment is refused by name
    with pytest.raises(RehearsalError, match="glow"):
        from_plain(Habit, {"name": "x", "values": {"glow": 1}})


_WRITER = """
import sys
from pathlib import Path
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Take
book = Workbook(Path(sys.argv[1]))
take = book.put(Take(name="0"))
print(take.id, flush=True)
number = 0
while True:
    number += 1
    take = book.put(Take(id=take.id, name=str(number)))
    print(number, flush=True)
"""


def test_killing_the_process_loses_at_most_the_stroke_in_hand(tmp_path: Path) -> None:
    path = tmp_path / "book.sqlite"
    writer = subprocess.Popen([sys.executable, "-c", _WRITER, str(path)], stdout=subprocess.PIPE, text=True)
    assert writer.stdout is not None
    number = int(writer.stdout.readline())
    told = 0
    end = time.monotonic() + 1.0
    while time.monotonic() < end:
        told = int(writer.stdout.readline())
    os.kill(writer.pid, signal.SIGKILL)
    rest = writer.stdout.read().split()
    writer.wait()
    writer.stdout.close()
    told = int(rest[-1]) if rest else told
    book = Workbook(path)
    kept = book.get(Take, number)
    assert kept is not None and int(kept.name) in (told, told + 1) and told > 3
    book.close()


def test_a_newer_workbook_is_refused_and_left_alone(tmp_path: Path) -> None:
    path = tmp_path / "book.sqlite"
    Workbook(path).close()
    db = sqlite3.connect(path)
    db.execute(f"PRAGMA user_version={FORMAT + 1}")
    db.close()
    before = path.read_bytes()
    with pytest.raises(WorkbookError, match="newer Rehearsal"):
        Workbook(path)
    assert path.read_bytes() == before


@pytest.mark.parametrize("all_is_lost", [True, False])
def test_a_damaged_workbook_is_set_aside(all_is_lost: bool, tmp_path: Path) -> None:
    path = tmp_path / "book.sqlite"
    book = Workbook(path)
    for i in range(300):
        book.put(Take(name=f"take {i}" * 20))
    book.close()
    data = bytearray(path.read_bytes())
    if all_is_lost:
        data = bytearray(b"this is no workbook at all " * 50)
    else:
        data[-4096 * 5 : -4096 * 3] = os.urandom(4096 * 2)  # leaves of the only table with much in it
    path.write_bytes(data)
    fresh = Workbook(path)
    assert "damaged" in fresh.notice
    saved = {t.name for t in fresh.all(Take)}
    least, most = (0, 0) if all_is_lost else (150, 299)
    assert least <= len(saved) <= most and saved <= {f"take {i}" * 20 for i in range(300)}, "rows on whole pages"
    assert f"{'nothing could be' if all_is_lost else f'{len(saved)} entries were'} read out of it" in fresh.notice
    aside = [p for p in tmp_path.iterdir() if "damaged" in p.name and p.suffix == ".sqlite"]
    assert aside[0].read_bytes() == bytes(data)
    fresh.close()


def test_everything_as_json_and_back(tmp_path: Path) -> None:
    book = make_demo(tmp_path / "demo.sqlite")
    data = json.loads(json.dumps(book.export_json()))
    other = Workbook(tmp_path / "other.sqlite")
    other.import_json(data)
    assert other.export_json() == book.export_json()
    with pytest.raises(WorkbookError, match="newer"):
        other.import_json({"format": FORMAT + 1})
    book.close()
    other.close()


def test_the_demo_is_complete(tmp_path: Path) -> None:
    book = make_demo(tmp_path / "demo.sqlite")
    assert len(book.all(Master)) == 8 and len(book.all(PrintCondition)) == 6
    assert len({c.printer for c in book.all(PrintCondition) if c.printer}) == 2
    # a season that makes its point: two papers, one lesson
    assert len(book.all(LogEntry)) == 14 and len({e.condition for e in book.all(LogEntry)}) == 2
    assert all(state(m) == "there" for m in book.all(Master))
    book.close()


def test_moved_and_edited_masters(tmp_path: Path, little_cloths: Path) -> None:
    (tmp_path / "one").mkdir()
    (tmp_path / "two").mkdir()
    path = tmp_path / "one" / "cloths.tif"
    shutil.copy(little_cloths, path)
    master = make_master(path)
    assert state(master) == "there"
    moved = tmp_path / "two" / "renamed.tif"
    path.rename(moved)
    assert state(master) == "missing"
    found = find_again(master, [tmp_path / "one", tmp_path])
    assert found is not None and found.path == str(moved) and state(found) == "there"
    moved.write_bytes(moved.read_bytes() + b"\0")
    assert state(found) == "changed"
    assert state(refreshed(found)) == "there"
    touched = make_master(moved)
    os.utime(moved, (1, 1))
    assert state(touched) == "there"
    assert find_again(master, [tmp_path]) is None


def test_an_edit_that_keeps_the_size_is_noticed_by_its_time(tmp_path: Path) -> None:
    path = tmp_path / "one.tif"
    path.write_bytes(b"x" * 500)
    master = make_master(path)
    path.write_bytes(b"y" * 500)
    os.utime(path, (master.modified + 2, master.modified + 2))
    assert state(master) == "changed"


def _entry(darker: float, **fields: object) -> LogEntry:
    return LogEntry(condition=1, lux=300, screen_white=90, darker=darker, **fields)  # type: ignore[arg-type]


def _shrunk(mean: float, prints: int) -> float:
    """What so many alike verdicts on one paper teach about it, in steps: the mean, shrunk by n (2² + 1.2²) / (n (2² + 1.2²) + 0.6²)."""
    known = prints * (2.0**2 + 1.2**2)
    return mean * known / (known + 0.6**2)


def test_what_prints_on_a_paper_missed_is_offered_the_surer_the_more_there_are() -> None:
    for prints in (1, 3, 8):
        lesson = learnt([_entry(2)] * prints, 1, 300, 90)
        assert lesson is not None and (lesson.prints, lesson.mine) == (prints, prints)
        assert lesson.values["lightness"] == pytest.approx(_shrunk(2, prints) / 6, abs=0.006)
    one, eight = (dict(learnt([_entry(2)] * n, 1, 300, 90).estimates)["lightness"] for n in (1, 8))  # type: ignore[union-attr]
    assert eight.doubt < one.doubt
    strange = learnt([_entry(2), _entry(2), _entry(2), _entry(2), _entry(12)], 1, 300, 90)
    assert strange is not None and strange.values["lightness"] < 0.45, "one that stands out hardly counts"


def test_another_paper_is_taught_what_all_share_and_other_light_nothing() -> None:
    log = [_entry(3)] * 3
    other = learnt(log, 2, 300, 90)
    assert other is not None and other.mine == 0 and other.prints == 3
    mixed = learnt([*log, replace(_entry(3), condition=2)], 2, 300, 90)
    alone = learnt(log, 1, 300, 90)
    assert mixed is not None and alone is not None
    assert (alone.origin, other.origin, mixed.origin) == (
        "3 prints on this paper", "3 prints, none of them on this paper", "4 prints, 1 of them on this paper",
    )  # fmt: skip
    share = 2.0**2 / (2.0**2 + 1.2**2)
    assert other.values["lightness"] == pytest.approx(_shrunk(3, 3) * share / 6, abs=0.006)
    assert learnt(log, 1, 900, 90) is None
    assert learnt(log, 1, 300, 200) is None
    assert learnt([_entry(0)], 1, 300, 90) is None
    assert learnt([_entry(0.4)], 1, 300, 90) is None, "less than half a step is no lesson"


def test_a_lesson_already_applied_counts() -> None:
    # the print carried +2 and still came out dark by 1: three steps were missing
    carried = Recipe().having(Step(LEARNT, Values.of(lightness=1 / 3)))
    # a learnt step at half strength gave half; one that was off gave nothing
    for recipe, steps in (
        (carried, 3),
        (Recipe((Step(LEARNT, Values.of(lightness=1 / 3), strength=0.5),)), 2),
        (Recipe((Step(LEARNT, Values.of(lightness=1 / 3), on=False),)), 1),
    ):
        found = learnt([_entry(1, rendition=Rendition(recipe=recipe))], 1, 300, 90)
        assert found is not None and found.values["lightness"] == pytest.approx(_shrunk(steps, 1) / 6, abs=0.006)


def test_three_right_prints_keep_what_made_them_right() -> None:
    carried = Recipe().having(Step(LEARNT, Values.of(lightness=1 / 3)))
    log = [_entry(2), *(_entry(0, rendition=Rendition(recipe=carried)) for _ in range(3))]
    lesson = learnt(log, 1, 300, 90)
    assert lesson is not None and lesson.values["lightness"] == pytest.approx(_shrunk(2, 4) / 6, abs=0.006)


def test_what_is_done_for_the_light_is_not_offered_again() -> None:
    lit = Recipe().having(Step(LIGHT, Values.of(lightness=1 / 6)))
    log = [_entry(2)] * 4
    whole = learnt(log, 1, 300, 90)
    lesson = learnt(log, 1, 300, 90, lit)
    assert lesson is not None and whole is not None
    assert lesson.values["lightness"] == pytest.approx(whole.values["lightness"] - 1 / 6, abs=0.006)
    # what is left of an offer must be half a step itself: all but a third of one is given
    nearly = Recipe().having(Step(LIGHT, Values.of(lightness=_shrunk(2, 4) / 6 - 0.05)))
    assert learnt(log, 1, 300, 90, nearly) is None
    # and what earlier prints did for the light counts as given
    again = learnt([_entry(1, rendition=Rendition(recipe=lit))] * 4, 1, 300, 90)
    assert again is not None and again.values == whole.values


def test_light_within_a_quarter_is_the_same_light() -> None:
    # lux and screen white within 25 %
    for lux, white, same in (
        (399, 90, True),
        (401, 90, False),
        (241, 90, True),
        (239, 90, False),
        (300, 119, True),
        (300, 121, False),
        (0, 90, True),
    ):
        assert (learnt([_entry(2)], 1, lux, white) is not None) is same, (lux, white)
    # and 300 K of its colour; what is not known matches any
    for mine, theirs, same in ((4000, 4290, True), (4000, 4310, False), (5000, 4700, True), (5000, 4690, False), (0, 2700, True),
                               (2700, 0, True)):  # fmt: skip
        assert (learnt([_entry(2, kelvin=mine)], 1, 300, 90, kelvin=theirs) is not None) is same, (mine, theirs)


def test_numbers_are_not_given_twice(tmp_path: Path) -> None:
    book = Workbook(tmp_path / "book.sqlite")
    first, second = book.put(Habit(name="soft")), book.put(Habit(name="hard"))
    book.remove(second)
    other = book.put(Habit(name="other"))
    assert other.id not in (first.id, second.id)
    book.put(second)
    assert [h.name for h in book.all(Habit)] == ["soft", "hard", "other"] and book.get(Habit, second.id) == second
    book.close()
    with contextlib.closing(sqlite3.connect(tmp_path / "book.sqlite")) as raw:
        assert raw.execute("SELECT count(*) FROM habits").fetchone()[0] == 3


def test_a_full_disk_keeps_what_was_there(tmp_path: Path) -> None:
    book = Workbook(tmp_path / "book.sqlite")
    kept = book.put(Habit(name="kept"))
    # SQLite's own limit on the pages of a file stands for a full disk
    pages = book._db.execute("PRAGMA page_count").fetchone()[0]
    book._db.execute(f"PRAGMA max_page_count={pages}")
    with pytest.raises(WorkbookError, match="could not be kept") as told:
        for i in range(200):
            book.put(LogEntry(picture="x" * 4000, when=f"2026-11-{i % 28 + 1:02d}"))
    assert "book.sqlite" in told.value.sentence() and "free some disk space" in told.value.sentence()
    assert book.all(Habit) == [kept]
    count = len(book.all(LogEntry))
    book.close()
    again = Workbook(tmp_path / "book.sqlite")
    assert again.all(Habit) == [kept] and len(again.all(LogEntry)) == count
    again.close()


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"darker": 2}, "⅓ stop lighter"), ({"darker": -1}, "⅙ stop darker"), ({"darker": 1.6}, "about ⅓ stop lighter"),
        ({"cooler": 2}, "warmer"),
        ({"cooler": -2}, "cooler"), ({"flatter": 1}, "more contrast"), ({"flatter": -1}, "less contrast"),
        ({"darker": 1, "flatter": -2}, "⅙ stop lighter, less contrast"),
    ],
)  # fmt: skip
def test_what_was_learnt_in_words(fields: dict, words: str) -> None:
    entries = [LogEntry(condition=4, lux=500, screen_white=100, **fields) for _ in range(3)]
    lesson = learnt(entries, 4, 500, 100)
    assert lesson is not None and lesson.words == words and lesson.prints == 3
    # what is offered goes against what was seen
    assert (lesson.values["lightness"] > 0) == (fields.get("darker", 0) > 0)
    assert (lesson.values["warmth"] > 0) == (fields.get("cooler", 0) > 0)
    assert (lesson.values["contrast"] > 0) == (fields.get("flatter", 0) > 0)


def test_a_moved_picture_is_not_mistaken_for_another_of_its_size(tmp_path: Path) -> None:
    original = tmp_path / "a" / "one.tif"
    original.parent.mkdir()
    original.write_bytes(b"x" * 500)
    master = make_master(original)
    (tmp_path / "b").mkdir()
    (tmp_path / "b" / "other.tif").write_bytes(b"y" * 500)
    original.unlink()
    assert find_again(master, [tmp_path / "b", tmp_path / "no such folder"]) is None
    (tmp_path / "b" / "deep").mkdir()
    (tmp_path / "b" / "deep" / "renamed.tif").write_bytes(b"x" * 500)
    found = find_again(master, [tmp_path / "b"])
    assert found is not None and found.path.endswith("deep/renamed.tif") and found.digest == master.digest


# ---- what is no workbook


def _is_untouched(path: Path, words: str) -> bool:
    """Refused in these words with its place, and nothing beside it was changed."""
    before = {p: p.read_bytes() for p in path.parent.iterdir()}
    with pytest.raises(WorkbookError, match=words) as caught:
        Workbook(path)
    return {p: p.read_bytes() for p in path.parent.iterdir()} == before and str(path) in caught.value.sentence()


def test_pictures_and_other_files_are_refused_untouched(tmp_path: Path) -> None:
    for name, data in (
        ("a.jpg", b"\xff\xd8\xff" + bytes(300)),
        ("a.tif", b"II*\0" + bytes(90)),
        ("notes.txt", b"hello"),
    ):
        (tmp_path / name).write_bytes(data)
        assert _is_untouched(tmp_path / name, "not a workbook")


def test_another_programs_database_is_refused_untouched(tmp_path: Path) -> None:
    for name in ("other.sqlite", "other.db"):
        db = sqlite3.connect(tmp_path / name)
        db.execute("CREATE TABLE photos (id)")
        db.commit()
        db.close()
        assert _is_untouched(tmp_path / name, "another program's database")


def test_folders_and_pipes_are_refused(tmp_path: Path) -> None:
    with pytest.raises(WorkbookError, match="not a file"):
        Workbook(tmp_path)
    os.mkfifo(tmp_path / "pipe.sqlite")
    with pytest.raises(WorkbookError, match="not a file"):
        Workbook(tmp_path / "pipe.sqlite")


def test_an_empty_file_becomes_a_workbook_and_says_so(tmp_path: Path) -> None:
    (tmp_path / "empty.sqlite").touch()
    book = Workbook(tmp_path / "empty.sqlite")
    assert "empty (0 bytes)" in book.notice and book.all(Take) == []
    book.close()
    again = Workbook(tmp_path / "empty.sqlite")
    assert again.notice == ""
    again.close()


def test_a_locked_workbook_says_who_is_to_blame(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "book.sqlite"
    Workbook(path).close()
    other = sqlite3.connect(path, isolation_level=None)
    other.execute("PRAGMA journal_mode=DELETE")
    other.execute("BEGIN EXCLUSIVE")
    real = sqlite3.connect
    monkeypatch.setattr(sqlite3, "connect", lambda *a, **n: real(*a, **{**n, "timeout": 0.1}))
    with pytest.raises(WorkbookError, match="another program holds the workbook"):
        Workbook(path)
    other.execute("ROLLBACK")
    other.close()
    Workbook(path).close()
