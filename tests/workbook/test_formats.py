"""Workbooks of older formats, commits made behind, and two windows on one workbook."""

from __future__ import annotations

import hashlib
import json
import multiprocessing
import shutil
import sqlite3
import threading
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from rehearsal.core.errors import WorkbookError
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.frame import Crop, Frame, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.pull import Point
from rehearsal.core.values.recipe import LEARNT
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.sheet import Sheet
from rehearsal.core.values.testplan import Looked, PatchSaid
from rehearsal.core.values.wedge import WedgeSeen
from rehearsal.workbook.migrations import FORMAT, migrated
from rehearsal.workbook.store import Workbook, in_use
from rehearsal.workbook.values import (
    Accepted,
    Habit,
    LogEntry,
    Marks,
    Master,
    Moment,
    PrintCondition,
    PrintJob,
    ScreenRecord,
    Take,
    TestSheet,
    from_plain,
)

#: Made by the code of format 2.
FORMAT_2 = Path(__file__).parent / "fixtures" / "format-2.sqlite"


@pytest.fixture
def old(tmp_path: Path) -> Path:
    """A copy of a workbook of format 2."""
    path = tmp_path / "book.sqlite"
    shutil.copy(FORMAT_2, path)
    return path


# ---- format 4


def test_takes_of_format_4_name_themselves_unless_the_name_was_their_own(tmp_path: Path) -> None:
    path = tmp_path / "book.sqlite"
    shutil.copy(FORMAT_2.with_name("format-4.sqlite"), path)
    book = Workbook(path)
    assert "damaged" not in book.notice and len(book.all(PrintCondition)) == 2, "nothing of it was lost"
    assert [t.name for t in book.all(Take)] == ["", "", "For the exhibition", ""]
    assert book.all(Take)[0].recipe.total == Values.of(lightness=1 / 3, contrast=4)
    (habit,) = book.all(Habit)
    assert habit.values == Values.of(contrast=6, strength=9)
    assert (habit.intent, habit.compensate, habit.view, habit.starts) == ("", None, "", False)
    assert [m.lift for m in book.all(Master)] == [0.0, 0.0] and book.all(Moment) == []
    made = book.put(Moment(take=1, name="Contrast +4", recipe=book.all(Take)[0].recipe))
    book.close()
    again = Workbook(path)
    assert again.all(Moment) == [made] and [t.name for t in again.all(Take)] == ["", "", "For the exhibition", ""]
    again.close()


def test_a_name_that_is_none_loses_its_row_alone(tmp_path: Path) -> None:
    path = tmp_path / "book.sqlite"
    shutil.copy(FORMAT_2.with_name("format-4.sqlite"), path)
    db = sqlite3.connect(path)
    row = json.loads(db.execute("SELECT data FROM takes WHERE id = 2").fetchone()[0])
    db.execute("UPDATE takes SET data = ? WHERE id = 2", (json.dumps({**row, "name": 7}),))
    db.commit()
    db.close()
    book = Workbook(path)
    assert [t.id for t in book.all(Take)] == [1, 3, 4] and "1 could not be read" in book.notice
    book.close()


# ---- format 3


def test_a_workbook_of_format_3_lacks_only_what_nobody_had_told(tmp_path: Path) -> None:
    path = tmp_path / "book.sqlite"
    shutil.copy(FORMAT_2.with_name("format-3.sqlite"), path)
    book = Workbook(path)
    (take,), (card,), (entry,) = book.all(Take), book.all(PrintCondition), book.all(LogEntry)
    assert (
        take.recipe.total == Values.of(lightness=1 / 3, contrast=6, strength=4) and take.recipe.step(LEARNT) is not None
    )
    assert (take.recipe.total.points, take.recipe.total.pulled) == ((), ())
    assert take.written is not None and take.written.when == "" and take.written.rendition == entry.rendition
    assert card.steps == ("One sheet at a time, coated side up.",) and card.state("quality") == "read"
    assert (card.brightener, card.dry_hours, card.ink_set, card.lab) == (
        "",
        0.0,
        "",
        False,
    ) and entry.condition_card == card
    assert take.sheet == Sheet("A3+") and take.frame.size == PrintSize(59.0, 39.3), (
        "larger than its sheet, and kept as it was"
    )
    made = replace(take, recipe=take.recipe.with_tone(replace(take.recipe.total, points=(Point(30.0, 34.0),))))
    book.put(made)
    book.close()
    again = Workbook(path)
    assert again.get(Take, take.id) == made
    again.close()


# ---- format 2


def test_a_take_of_format_2_is_parted_and_loses_nothing(old: Path) -> None:
    book = Workbook(old)
    take, plain = book.all(Take)
    assert take.frame == Frame(Crop(0.1, 0.05, 0.8, 0.9), PrintSize(39.0, 26.0)) and take.name == ""
    assert take.rendering == Rendering("relative", False) and take.view == "on-paper" and take.notes == "velvet"
    assert take.sheet == Sheet("A3+") and take.not_wanted == ("test", "log")
    assert take.hand_over == HandOver("space", "P3", "tiff8", 240.0, "program", "perceptual", "Matte", "top", 97.0)
    assert take.marks == Marks(((0.25, 0.5), (0.75, 0.125)), (0.1, 0.2, 0.9, 0.8))
    # five sixths were a sum: two of them learnt, three by hand
    assert take.recipe.total == Values.of(lightness=5 / 6, contrast=6, dark_half=8, strength=4, warmth=5)
    learnt = take.recipe.step(LEARNT)
    assert learnt is not None and learnt.values == Values.of(lightness=2 / 6, warmth=5) and take.recipe.maths == 1
    assert take.written is not None and take.file == "/prints/drying.tif"
    master, condition = book.get(Master, take.master), book.get(PrintCondition, take.condition)
    assert master is not None and condition is not None
    assert take.written.rendition.master == master.digest == "a" * 64
    assert take.written.rendition.destination.digest == condition.profile_digest == "d" * 64
    assert plain.recipe.is_neutral and plain.written is None and plain.frame.size is None
    book.close()


def test_kept_words_of_format_2_become_keys(old: Path) -> None:
    book = Workbook(old)
    dark, own = book.all(LogEntry)
    assert (dark.verdict, dark.light, own.verdict, own.light) == ("again", "office", "good", "under the north window")
    assert dark.rendition is not None and dark.rendition.recipe.total["lightness"] == pytest.approx(5 / 6, abs=1e-6)
    assert dark.view == "on-paper" and dark.condition_card is not None and dark.condition_card.paper == "White Dune"
    assert own.rendition is None and own.condition_card is None and (own.darker, dark.flatter) == (-1.0, -1.0)
    assert [(a.hue, a.why) for a in book.all(Accepted)] == [("deep-orange", "velvet")]
    assert book.all(Habit)[0].values == Values.of(dark_half=8, lightness=1 / 6)
    screen = from_plain(ScreenRecord, book.setting("screen"))
    assert (screen.light, screen.source) == ("office", "chosen")
    assert [r.source for r in screen.readings] == ["simulated", "typed"] and screen.readings[0].luminance == 90.1
    assert from_plain(ScreenRecord, book.setting("screen DP-1, Maker Model")).light == "desk-lamp"
    assert book.setting("station") == "tune" and book.setting("room") == "dark" and book.setting("tests") is None
    assert [(t.take, t.variants) for t in book.all(TestSheet)] == [(1, ())]
    book.close()


def test_the_old_workbook_is_kept_beside(old: Path) -> None:
    before = old.read_bytes()
    book = Workbook(old)
    assert "format-2.sqlite" in book.notice
    book.close()
    copy = old.with_name("book.format-2.sqlite")
    raw, kept = sqlite3.connect(copy), sqlite3.connect(FORMAT_2)
    assert raw.execute("PRAGMA user_version").fetchone()[0] == 2 and len(before) > 0
    for table in ("takes", "log", "settings"):
        assert raw.execute(f"SELECT * FROM {table}").fetchall() == kept.execute(f"SELECT * FROM {table}").fetchall()
    raw.close()
    kept.close()
    again = Workbook(old)
    assert again.notice == "" and len(again.all(Take)) == 2
    again.close()


def test_a_migration_that_fails_leaves_the_file_alone(old: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    before = old.read_bytes()
    monkeypatch.setattr("rehearsal.workbook.store._statements", lambda _data: [("INSERT INTO nowhere VALUES (1)", ())])
    with pytest.raises(WorkbookError, match="cannot be opened"):
        Workbook(old)
    monkeypatch.undo()
    raw = sqlite3.connect(old)
    assert raw.execute("PRAGMA user_version").fetchone()[0] == 2
    assert raw.execute("SELECT count(*) FROM takes").fetchone()[0] == 2
    raw.close()
    assert len(before) > 0
    book = Workbook(old)
    assert len(book.all(Take)) == 2
    book.close()


def test_plain_data_of_format_2_can_be_taken_in(old: Path, tmp_path: Path) -> None:
    raw = sqlite3.connect(FORMAT_2)
    tables = ("conditions", "masters", "takes", "log", "habits", "accepted")
    data: dict = {
        "format": 2,
        "settings": {n: json.loads(t) for n, t in raw.execute("SELECT name, data FROM settings")},
    }
    for table in tables:
        data[table] = [{"id": n, **json.loads(t)} for n, t in raw.execute(f"SELECT id, data FROM {table}")]
    raw.close()
    book, other = Workbook(old), Workbook(tmp_path / "other.sqlite")
    other.import_json(data)
    assert other.export_json() == book.export_json()
    with pytest.raises(WorkbookError, match="newer"):
        migrated({"format": FORMAT + 1})
    book.close()
    other.close()


def test_an_import_is_all_or_nothing(tmp_path: Path) -> None:
    book = Workbook(tmp_path / "book.sqlite")
    kept = book.put(Habit(name="kept"))
    with pytest.raises(WorkbookError):
        # conditions are written first, the habit's number cannot be
        book.import_json(
            {"format": FORMAT, "conditions": [{"id": 5, "paper": "new"}], "habits": [{"id": 1.5, "name": "x"}]}
        )
    assert book.all(PrintCondition) == []
    with pytest.raises(WorkbookError):
        book.import_json({"format": FORMAT, "habits": [{"id": 5, "name": "new"}], "takes": [{"name": "has no number"}]})
    assert book.all(Habit) == [kept]
    book.put(Habit(name="later"))
    book.close()
    again = Workbook(tmp_path / "book.sqlite")
    assert [h.name for h in again.all(Habit)] == ["kept", "later"] and again.all(PrintCondition) == []
    again.close()


@pytest.mark.parametrize(
    "harm",
    [
        "UPDATE takes SET data = '{torn' WHERE id = 1",
        "UPDATE takes SET data = '[1, 2]' WHERE id = 1",
        """UPDATE takes SET data = '{"master": "x", "tuning": {"lightness": "abc"}, "crop": 5}' WHERE id = 1""",
        "INSERT OR REPLACE INTO settings VALUES ('tests', '{')",
        "UPDATE takes SET data = x'ff00fe' WHERE id = 1",
        "UPDATE takes SET data = NULL WHERE id = 1",
    ],
)
def test_damaged_rows_set_the_workbook_aside_with_all_others_read_out(old: Path, harm: str) -> None:
    whole = Workbook(_copied(old, "whole.sqlite"))
    db = sqlite3.connect(old)
    db.execute("CREATE TABLE IF NOT EXISTS loose (id INTEGER)")
    if "NULL" in harm:  # a file whose own rule about it is gone
        db.executescript("CREATE TABLE t AS SELECT * FROM takes; DROP TABLE takes; ALTER TABLE t RENAME TO takes;")
    db.execute(harm)
    db.commit()
    db.close()
    before = old.read_bytes()
    book = Workbook(old)
    aside = next(p for p in old.parent.iterdir() if "damaged" in p.name and p.suffix == ".sqlite")
    assert aside.read_bytes() == before and aside.name in book.notice and "read out of it" in book.notice
    lost_take = "takes" in harm
    assert [t.id for t in book.all(Take)] == ([2] if lost_take else [1, 2])
    assert ("1 could not be read" in book.notice) is lost_take
    for kind in (Master, PrintCondition, LogEntry, Habit, Accepted):
        assert book.all(kind) == whole.all(kind), kind
    assert book.setting("screen") == whole.setting("screen")
    book.put(Habit(name="goes on"))
    book.close()
    whole.close()
    again = Workbook(old)
    assert again.notice == "" and again.all(Habit)[-1].name == "goes on"
    again.close()


@pytest.mark.parametrize("harm", [{"master": "x"}, {"name": 5}, {"frame": 7}, {"not_wanted": "test"}, {"recipe": []}])
def test_a_row_whose_fields_are_of_the_wrong_kind_is_lost_alone(old: Path, harm: dict) -> None:
    Workbook(old).close()
    db = sqlite3.connect(old)
    row = json.loads(db.execute("SELECT data FROM takes WHERE id = 1").fetchone()[0])
    db.execute("UPDATE takes SET data = ? WHERE id = 1", (json.dumps({**row, **harm}),))
    db.commit()
    db.close()
    book = Workbook(old)
    assert [t.id for t in book.all(Take)] == [2] and "1 could not be read" in book.notice
    assert len(book.all(Master)) > 0
    book.close()


def test_a_workbook_that_is_only_looked_at_is_never_set_aside(old: Path) -> None:
    first = Workbook(old)
    db = sqlite3.connect(old)
    db.execute("UPDATE takes SET data = '{torn' WHERE id = 1")
    db.commit()
    db.close()
    before = {p.name for p in old.parent.iterdir()}
    with pytest.raises(WorkbookError, match="cannot be read"):
        Workbook(old)
    assert {p.name for p in old.parent.iterdir()} == before
    first.close()


def test_what_a_newer_program_wrote_is_refused_and_left_alone(old: Path) -> None:
    Workbook(old).close()
    db = sqlite3.connect(old)
    row = json.loads(db.execute("SELECT data FROM takes WHERE id = 1").fetchone()[0])
    row["recipe"]["maths"] = 99
    db.execute("UPDATE takes SET data = ? WHERE id = 1", (json.dumps(row),))
    db.commit()
    db.close()
    names = {p.name for p in old.parent.iterdir()}
    for _ in range(2):  # the second try is not told that somebody else has it
        with pytest.raises(WorkbookError, match="cannot be read") as told:
            Workbook(old)
        assert "nothing was changed" in told.value.sentence()
    assert {p.name for p in old.parent.iterdir()} == names and not in_use(old)


def _copied(path: Path, name: str) -> Path:
    made = path.parent / "copy" / name
    made.parent.mkdir()
    made.write_bytes(path.read_bytes())
    return made


@pytest.mark.parametrize("seed", range(24))
def test_bytes_changed_anywhere_lose_no_more_than_their_rows(tmp_path: Path, seed: int) -> None:
    path = tmp_path / "book.sqlite"
    book = Workbook(path)
    kept = [book.put(Habit(name=f"habit {i} " * 12)) for i in range(200)]
    book.close()
    rng = np.random.default_rng(seed)
    data = bytearray(path.read_bytes())
    for at in rng.integers(200, len(data), size=int(rng.integers(1, 20))):
        data[at] = int(rng.integers(0, 256))
    path.write_bytes(bytes(data))
    try:
        found = Workbook(path)
    except WorkbookError as error:
        assert error.do and "Error" not in error.what.split("(")[0]
        return
    names = {h.id: h.name for h in found.all(Habit)}
    same = sum(names.get(h.id) == h.name for h in kept)
    is_lost = "nothing could be read out of it" in found.notice
    assert same >= (0 if is_lost else 60), "most rows lie on pages that were not hit"
    assert bool(found.notice) == any("damaged" in p.name for p in tmp_path.iterdir())
    found.put(Habit(name="goes on"))
    found.close()


def test_commits_are_flushed_before_they_count(tmp_path: Path) -> None:
    # SQLite documents synchronous=FULL (2) as the one that survives a power cut in WAL mode
    book = Workbook(tmp_path / "book.sqlite")
    assert book._db.execute("PRAGMA synchronous").fetchone()[0] == 2
    assert book._db.execute("PRAGMA journal_mode").fetchone()[0] == "wal"
    book.close()


# ---- commits made behind


def test_changes_are_committed_behind_in_their_order_and_closing_waits(tmp_path: Path) -> None:
    book = Workbook(tmp_path / "book.sqlite")
    real, go, threads = book._write, threading.Event(), []

    def slow(statements: list) -> None:
        assert go.wait(30)
        threads.append(threading.current_thread())
        real(statements)

    book._write = slow  # type: ignore[method-assign]
    book.write_behind(lambda error: pytest.fail(str(error)))
    first = book.put(Habit(name="0"))
    for i in range(1, 40):
        book.put(Habit(id=first.id, name=str(i)))
    # nothing is written yet, and everything is there for whoever asks
    assert book.get(Habit, first.id).name == "39" and threads == []  # type: ignore[union-attr]
    go.set()
    book.close()
    assert len(threads) == 40 and threading.current_thread() not in threads
    again = Workbook(tmp_path / "book.sqlite")
    assert [h.name for h in again.all(Habit)] == ["39"]
    again.close()


def test_what_cannot_be_kept_is_told_and_tried_again(tmp_path: Path) -> None:
    book = Workbook(tmp_path / "book.sqlite")
    told: list[WorkbookError] = []
    real, broken = book._write, [True]

    def write(statements: list) -> None:
        if broken[0]:
            raise sqlite3.OperationalError("database or disk is full")
        real(statements)

    book._write = write  # type: ignore[method-assign]
    book.write_behind(told.append)
    kept = book.put(Habit(name="first"))
    assert book.flush() is False
    assert "disk is full" in told[0].sentence() and "free some disk space" in told[0].sentence()
    broken[0] = False
    book.put(Habit(name="second"))
    assert book.flush() is True and len(told) == 1
    book.close()
    again = Workbook(tmp_path / "book.sqlite")
    assert [h.name for h in again.all(Habit)] == ["first", "second"] and again.all(Habit)[0] == kept
    again.close()


# ---- two windows


def test_a_second_window_only_looks_and_says_so(tmp_path: Path) -> None:
    path = tmp_path / "book.sqlite"
    one = Workbook(path)
    take = one.put(Take(name="mine"))
    assert in_use(path) and not in_use(tmp_path / "none.sqlite")
    two = Workbook(path)
    assert two.read_only and not one.read_only and "another window" in two.notice
    assert two.all(Take) == [take]
    with pytest.raises(WorkbookError, match="another window"):
        two.put(Take(name="theirs"))
    two.set_setting("room", "dark")  # how the window stands is its own affair
    assert two.setting("room") == "dark"
    one.put(Take(id=take.id, name="changed"))
    two.close()
    one.close()
    assert not in_use(path)
    again = Workbook(path)
    assert not again.read_only and again.all(Take)[0].name == "changed" and again.setting("room") is None
    again.close()


def _hold(path: str, ready, go) -> None:  # type: ignore[no-untyped-def]
    book = Workbook(Path(path))
    ready.put(book.read_only)
    go.wait(30)


def test_another_process_that_ends_hard_gives_the_workbook_free(tmp_path: Path) -> None:
    path = tmp_path / "book.sqlite"
    context = multiprocessing.get_context("spawn")
    ready, go = context.Queue(), context.Event()
    other = context.Process(target=_hold, args=(str(path), ready, go))
    other.start()
    assert ready.get(timeout=30) is False
    mine = Workbook(path)
    assert mine.read_only
    mine.close()
    other.kill()
    other.join()
    mine = Workbook(path)
    assert not mine.read_only
    mine.close()


def test_an_older_workbook_in_use_is_looked_at_in_the_new_form(old: Path) -> None:
    one = Workbook(old)
    two = Workbook(old)
    assert two.read_only and two.all(Take) == one.all(Take)
    two.close()
    one.close()


# ---- format 5


def test_a_workbook_of_format_5_knows_its_sheets_and_has_no_prints_on_their_way(tmp_path: Path) -> None:
    path = tmp_path / "book.sqlite"
    shutil.copy(FORMAT_2.with_name("format-5.sqlite"), path)
    book = Workbook(path)
    assert "damaged" not in book.notice and "format-5" in book.notice
    first, second = book.all(Take)
    assert first.sheet == Sheet("A3+") and second.sheet == Sheet("A4", True), "in the middle, without mat, alone"
    assert first.hand_over == HandOver(format="tiff8", ppi=240.0, sharpen=80.0, sigma_um=60.0, media="Plain")
    assert first.ticked == () and second.written is not None and second.written.rendition.sheet == Sheet("A3+")
    (card,) = book.all(PrintCondition)
    assert (card.true_place, card.queue_words, card.stock, card.sigma_um) == (None, (), -1, 0.0)
    assert len(book.all(Moment)) == 1 and len(book.all(LogEntry)) == 1 and book.all(PrintJob) == []
    job = book.put(
        PrintJob(
            take=1, queue="hall", renditions=(second.written.rendition,), card=card, options=(("Medium", "Plain"),)
        )
    )
    book.keep_profile("d1", b"profile")
    book.close()
    again = Workbook(path)
    assert (
        again.all(PrintJob) == [job] and again.profile_bytes("d1") == b"profile" and again.profile_bytes("d2") is None
    )
    plain = again.export_json()
    again.close()
    other = Workbook(tmp_path / "other.sqlite")
    other.import_json(json.loads(json.dumps(plain)))
    assert other.profile_bytes("d1") == b"profile" and other.all(PrintJob) == [job]
    with pytest.raises(WorkbookError, match="cannot be read"):
        other.import_json({**plain, "profiles": {"x": "no base64!"}})
    other.close()


# ---- format 6


def test_a_test_sheet_of_format_6_becomes_fields_with_their_values(tmp_path: Path) -> None:
    path = tmp_path / "book.sqlite"
    shutil.copy(FORMAT_2.with_name("format-6.sqlite"), path)
    book = Workbook(path)
    assert "damaged" not in book.notice and "format-6" in book.notice
    first, second = book.all(TestSheet)
    assert first.names == ("contrast",) and [v.values for v in first.variants] == [(-8.0,), (0.0,), (8.0,)]
    assert [v.number for v in first.variants] == [1, 2, 3] and {v.rendition for v in first.variants} == {
        first.rendition
    }
    assert (first.plan.kind, first.plan.first, first.plan.whole, first.pieces) == ("bracket", "contrast", True, ())
    assert first.rendition.master == "m1" and first.looked == Looked() and first.file == "/t.tif"
    assert second.variants == () and second.names == ()
    (entry,) = book.all(LogEntry)
    assert (entry.print_id, entry.places, entry.photo, entry.cause, entry.cost) == (0, (), "", "", -1.0)
    (card,) = book.all(PrintCondition)
    assert (card.stock, card.roll_m, card.sheet_price, card.ink_ml) == (3, -1.0, 0.0, 0.0)
    kept = book.put(
        replace(first, looked=Looked("chosen", (2, 3), (PatchSaid(2, ("flat",)),), WedgeSeen(3.0, 2.0, 500.0)))
    )
    book.close()
    again = Workbook(path)
    assert again.all(TestSheet)[0] == kept and kept.looked.of(2).words == ("flat",)
    again.close()


def test_kept_profiles_are_saved_out_of_a_damaged_workbook(tmp_path: Path) -> None:
    path = tmp_path / "book.sqlite"
    book = Workbook(path)
    data = b"a profile" * 40
    book.keep_profile(hashlib.sha256(data).hexdigest(), data)
    book.keep_profile("not its digest", b"something else")
    book.close()
    db = sqlite3.connect(path)
    db.execute("INSERT INTO takes (id, data) VALUES (1, 'no json')")
    db.commit()
    db.close()
    made = Workbook(path)
    assert "damaged" in made.notice and made.profile_bytes(hashlib.sha256(data).hexdigest()) == data
    assert made.profile_bytes("not its digest") is None
    made.close()
