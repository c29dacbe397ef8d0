"""The workbook file: SQLite in WAL mode, one transaction per operation, flushed before it counts.

A workbook of a newer version is refused, an older one is brought to the present format (a copy of it stays), a damaged one is
set aside, never overwritten. One window at a time writes; another one on the same file only looks.
"""

from __future__ import annotations

import base64
import contextlib
import fcntl
import json
import os
import sqlite3
import time
import zlib
from collections.abc import Callable, Iterator, Mapping, Sequence
from pathlib import Path
from typing import Any

from rehearsal.core.errors import RehearsalError, WorkbookError
from rehearsal.core.values.plain import from_plain, to_plain
from rehearsal.workbook.migrations import FORMAT, migrated
from rehearsal.workbook.recognise import APPLICATION, check_file
from rehearsal.workbook.salvage import salvage
from rehearsal.workbook.values import KINDS, AnyKept, Kept, with_id
from rehearsal.workbook.writer import Statement, Writer

_PUT = "INSERT INTO {} (id, data) VALUES (?, ?) ON CONFLICT (id) DO UPDATE SET data = excluded.data"
_PROFILE = "INSERT INTO profiles (digest, data) VALUES (?, ?) ON CONFLICT (digest) DO NOTHING"
_SET = "INSERT INTO settings (name, data) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET data = excluded.data"


def _said(error: Exception, path: Path) -> WorkbookError:
    """Why a workbook cannot be opened, as it is."""
    text = str(error).lower()
    for sign, what, do in (
        ("locked", "another program holds the workbook", "close that program and try again"),
        ("full", "there is no room on the disk", "free some space and try again"),
        ("readonly", "the workbook cannot be written to", "check the permissions of file and folder"),
    ):
        if sign in text:
            return WorkbookError(what, path, do)
    return WorkbookError(f"the workbook cannot be opened ({error})", path, "check the folder's permissions")


class _Damaged(WorkbookError):
    """Some of what is kept makes no sense."""


def _is_of_the_disk(error: Exception) -> bool:
    """True when the file itself may well be whole: it is locked, cannot be written to, or cannot be opened at all."""
    signs = ("locked", "full", "readonly", "unable to open", "disk i/o")
    return isinstance(error, sqlite3.OperationalError) and any(sign in str(error).lower() for sign in signs)


class Workbook:
    """An open workbook. Everything in it is read when it is opened; changes are committed in their order.

    Args:
        path: the file; made when it is missing.

    Raises:
        WorkbookError: it was made by a newer version, or cannot be opened or made.
    """

    def __init__(self, path: Path) -> None:
        self.path = path
        #: Sentence for the user when something happened while it was opened, else empty.
        self.notice = ""
        self._writer: Writer | None = None
        self._lock: int | None = None
        self._values: dict[type[AnyKept], dict[int, Any]] = {}
        self._overlooks = False
        try:
            self.notice = check_file(path)
            path.parent.mkdir(parents=True, exist_ok=True)
            self._lock = _lock(path)
            self._db = self._open_checked()
        except (sqlite3.Error, OSError) as error:
            self._unlock()
            raise _said(error, path) from error
        except BaseException:
            self._unlock()
            raise
        if self.read_only:
            self.notice = "This workbook is open in another window. Here it can be looked at; changes are not kept."

    @property
    def read_only(self) -> bool:
        """True when another window keeps the changes."""
        return self._lock is None

    # ---- opening

    def _open_checked(self) -> sqlite3.Connection:
        try:
            return self._open()
        except (sqlite3.DatabaseError, _Damaged) as error:
            if self.read_only or isinstance(error, sqlite3.OperationalError):
                raise
            aside = self._set_aside()
            saved = salvage(aside)
            db = self._open()
            with _transaction(db):
                for statement, values in _statements(saved.data):
                    db.execute(statement, values)
            self._take_in(saved.data)
            self.notice = f"The workbook was damaged and is kept as {aside.name}. A new one was begun: {saved.words}."
            return db

    def _set_aside(self) -> Path:
        """Give the damaged file another name, with its log of changes."""
        name = f"{self.path.stem}.damaged-{time.strftime('%Y%m%d-%H%M%S')}"
        aside = self.path.with_name(f"{name}{self.path.suffix}")
        count = 2
        while aside.exists():
            aside, count = self.path.with_name(f"{name}-{count}{self.path.suffix}"), count + 1
        for suffix in ("", "-wal", "-shm"):
            part = Path(f"{self.path}{suffix}")
            if part.exists():
                part.rename(f"{aside}{suffix}")
        return aside

    def _open(self) -> sqlite3.Connection:
        db = sqlite3.connect(self.path, isolation_level=None, timeout=5, check_same_thread=False)
        try:
            version = db.execute("PRAGMA user_version").fetchone()[0]
            if version > FORMAT:
                raise WorkbookError(
                    f"this workbook was made by a newer Rehearsal (format {version}, this one knows {FORMAT})",
                    self.path, "use the newer program; nothing was changed",
                )  # fmt: skip
            self._check_pages(db)
            self._read(db, version)
        except BaseException:
            db.close()
            raise
        return db

    @staticmethod
    def _check_pages(db: sqlite3.Connection) -> None:
        try:
            found = db.execute("PRAGMA quick_check").fetchone()[0]
        except UnicodeDecodeError:  # its complaint quotes the damaged bytes
            found = "damaged"
        if found != "ok":
            raise sqlite3.DatabaseError("quick_check failed")

    def _read(self, db: sqlite3.Connection, version: int) -> None:
        """Everything into memory, in the present format; the file is brought to it as well unless it is only looked at."""
        with _reading(self.path):
            data = migrated(_plain(db, version))
            self._take_in(data)
        if not self.read_only:
            self._bring_up(db, version, data)

    def _bring_up(self, db: sqlite3.Connection, version: int, data: dict[str, Any]) -> None:
        db.execute("PRAGMA journal_mode=WAL")
        db.execute("PRAGMA synchronous=FULL")
        if 0 < version < FORMAT:
            self._keep_copy(db, version)
        with _transaction(db):
            for table in KINDS.values():
                db.execute(f"CREATE TABLE IF NOT EXISTS {table} (id INTEGER PRIMARY KEY, data TEXT NOT NULL)")
            db.execute("CREATE TABLE IF NOT EXISTS profiles (digest TEXT PRIMARY KEY, data BLOB NOT NULL)")
            db.execute("CREATE TABLE IF NOT EXISTS settings (name TEXT PRIMARY KEY, data TEXT NOT NULL)")
            if 0 < version < FORMAT:
                for table in ("settings", *KINDS.values()):
                    db.execute(f"DELETE FROM {table}")
                for statement, values in _statements(data):
                    db.execute(statement, values)
            db.execute(f"PRAGMA application_id={APPLICATION}")
            db.execute(f"PRAGMA user_version={FORMAT}")

    def _keep_copy(self, db: sqlite3.Connection, version: int) -> None:
        copy = self.path.with_name(f"{self.path.stem}.format-{version}{self.path.suffix}")
        if copy.exists():
            return
        with contextlib.closing(sqlite3.connect(copy)) as target:
            db.backup(target)
        self.notice = f"The workbook was brought to a new format; the old one is kept as {copy.name}."

    def _take_in(self, data: dict[str, Any]) -> None:
        """Plain data as values; nothing is taken in when some of it cannot be read."""
        made: dict[type[AnyKept], dict[int, Any]] = {
            kind: {row["id"]: from_plain(kind, row) for row in data.get(table, [])} for kind, table in KINDS.items()
        }
        for values in made.values():
            hash(tuple(values.values()))  # what cannot be compared is of the wrong kind
        self._next = {KINDS[kind]: max(values, default=0) + 1 for kind, values in made.items()}
        self._settings: dict[str, Any] = dict(data.get("settings", {}))
        self._values = made

    # ---- reading

    def all(self, kind: type[Kept]) -> list[Kept]:
        """All values of a kind, oldest first."""
        return list(self._of(kind).values())

    def _of(self, kind: type[Any]) -> dict[int, Any]:
        return self._values[kind]

    def get(self, kind: type[Kept], number: int) -> Kept | None:
        """One value, or None."""
        return self._of(kind).get(number)

    def present(self, value: AnyKept) -> AnyKept | None:
        """What is kept under a value's number now; None when it is new."""
        found: AnyKept | None = self._of(type(value)).get(value.id)
        return found

    def setting(self, name: str, default: Any = None) -> Any:
        """A remembered setting."""
        return self._settings.get(name, default)

    def overlook_settings(self) -> None:
        """From now on no setting is known here, as in a new workbook; those in the file stay as they are."""
        self._settings, self._overlooks = {}, True

    # ---- changing

    def keep(
        self, puts: Sequence[AnyKept] = (), removes: Sequence[AnyKept] = (), settings: Mapping[str, Any] | None = None
    ) -> list[Any]:
        """One operation, one transaction: keep values (a new one, id 0, gets its number), forget others, remember settings.

        Returns:
            the values as kept.

        Raises:
            WorkbookError: another window keeps the changes, or (unless commits are made behind) it could not be written.
        """
        if self.read_only:
            raise WorkbookError(
                "this workbook is open in another window, so nothing is kept here", self.path.name,
                "make the change there, or close that window first",
            )  # fmt: skip
        kept = [self._numbered(value) for value in puts]
        statements: list[Statement] = []
        for value in kept:
            data = {k: v for k, v in to_plain(value).items() if k != "id"}
            statements.append((_PUT.format(KINDS[type(value)]), (value.id, json.dumps(data, ensure_ascii=False))))
        statements += [(f"DELETE FROM {KINDS[type(v)]} WHERE id = ?", (v.id,)) for v in removes]
        given = dict(settings or {})
        if not self._overlooks:
            statements += [(_SET, (name, json.dumps(value, ensure_ascii=False))) for name, value in given.items()]
        self._commit(statements)
        for value in kept:
            self._hold(value)
        for value in removes:
            self._of(type(value)).pop(value.id, None)
        self._settings.update(json.loads(json.dumps(given)))
        return kept

    def _hold(self, value: AnyKept) -> None:
        """In memory as well; a value that comes back takes its place in the order of the numbers again."""
        values = self._of(type(value))
        comes_back = value.id not in values and values and value.id < next(reversed(values))
        values[value.id] = value
        if comes_back:
            self._values[type(value)] = dict(sorted(values.items()))

    def _numbered(self, value: AnyKept) -> AnyKept:
        table = KINDS[type(value)]
        number = value.id or self._next[table]
        self._next[table] = max(self._next[table], number + 1)
        return with_id(value, number)

    def put(self, value: Kept) -> Kept:
        """Keep one value; returns it as kept."""
        made: Kept = self.keep([value])[0]
        return made

    def remove(self, value: AnyKept) -> None:
        """Forget a value."""
        self.keep(removes=[value])

    def set_setting(self, name: str, value: Any) -> None:
        """Remember a setting; a window that only looks remembers it for itself."""
        if self.read_only:
            self._settings[name] = value
        else:
            self.keep(settings={name: value})

    # ---- profiles of what was printed

    def keep_profile(self, digest: str, data: bytes) -> None:
        """Keep a profile's bytes by their SHA-256, once; nothing in a window that only looks.

        Raises:
            WorkbookError: it could not be written (unless commits are made behind).
        """
        if not self.read_only:
            # tables of a profile hardly pack: the quickest level keeps the window's thread free and is as small
            self._commit([(_PROFILE, (digest, zlib.compress(data, 1)))])

    def profile_bytes(self, digest: str) -> bytes | None:
        """A kept profile's bytes, or None."""
        self.flush()
        try:
            row = self._db.execute("SELECT data FROM profiles WHERE digest = ?", (digest,)).fetchone()
            return None if row is None else zlib.decompress(row[0])
        except (sqlite3.Error, zlib.error):
            return None

    # ---- commits

    def write_behind(self, failed: Callable[[WorkbookError], None]) -> None:
        """From now on commits are made by a thread of their own, in their order; closing waits for them.

        Args:
            failed: told, from that thread, when a change cannot be kept; it is tried again with the next one.
        """
        if not self.read_only:
            self._writer = Writer(self._write, lambda error: failed(self._unkept(error)))

    def flush(self) -> bool:
        """Wait until all changes are kept; False when one cannot be."""
        return self._writer is None or self._writer.flush()

    def _commit(self, statements: list[Statement]) -> None:
        if self._writer is not None:
            self._writer.submit(statements)
            return
        try:
            self._write(statements)
        except sqlite3.Error as error:
            raise self._unkept(error) from error

    def _write(self, statements: list[Statement]) -> None:
        with _transaction(self._db):
            for statement, values in statements:
                self._db.execute(statement, values)

    def _unkept(self, error: Exception) -> WorkbookError:
        return WorkbookError(f"the change could not be kept ({error})", self.path, "free some disk space and try again")

    # ---- plain data

    def export_json(self) -> dict[str, Any]:
        """Everything as plain data."""
        data: dict[str, Any] = {"format": FORMAT, "settings": dict(self._settings)}
        for kind, table in KINDS.items():
            data[table] = [to_plain(v) for v in self.all(kind)]
        data["profiles"] = self._profiles()
        return data

    def _profiles(self) -> dict[str, str]:
        """Kept profiles as text (base64), by digest."""
        self.flush()
        try:
            rows = self._db.execute("SELECT digest, data FROM profiles ORDER BY digest").fetchall()
        except sqlite3.Error:  # an older file that is only looked at
            return {}
        return {digest: base64.b64encode(zlib.decompress(data)).decode() for digest, data in rows}

    def import_json(self, data: dict[str, Any]) -> None:
        """Take in what :meth:`export_json` wrote, of this or an older format; equal numbers are replaced. All or nothing."""
        self.flush()
        with _reading(self.path):
            made = migrated({"format": 0, **data})
            present = self.export_json()
            for table in KINDS.values():
                rows = {row["id"]: row for row in [*present[table], *made.get(table, [])]}
                present[table] = [rows[number] for number in sorted(rows)]
            present["settings"] |= made.get("settings", {})
            statements = _statements(made)
            before = self._values, self._next, self._settings
            self._take_in(present)
        try:
            self._write(statements)
        except sqlite3.Error as error:
            self._values, self._next, self._settings = before
            raise self._unkept(error) from error

    def close(self) -> None:
        """Wait for all commits and close the file."""
        if self._writer is not None:
            self._writer.close()
            self._writer = None
        self._db.close()
        self._unlock()

    def _unlock(self) -> None:
        if self._lock is not None:
            os.close(self._lock)
            self._lock = None


@contextlib.contextmanager
def _reading(path: Path) -> Iterator[None]:
    """Whatever is wrong with kept data becomes one sentence; the file is left alone."""
    try:
        yield
    except WorkbookError:
        raise
    except RehearsalError as error:  # of a newer program: whole, but not ours to read
        raise WorkbookError(
            f"something in the workbook cannot be read ({error.what})", path,
            "use a newer Rehearsal or a backup; nothing was changed",
        ) from error  # fmt: skip
    except (ValueError, TypeError, KeyError, AttributeError, RecursionError, sqlite3.OperationalError) as error:
        if _is_of_the_disk(error):
            raise
        raise _Damaged(
            f"something in the workbook cannot be read ({type(error).__name__})", path,
            "use a backup; nothing was changed",
        ) from error  # fmt: skip


def _plain(db: sqlite3.Connection, version: int) -> dict[str, Any]:
    """Everything in the file as plain data, in the file's own format."""
    tables = {row[0] for row in db.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    data: dict[str, Any] = {"format": version or FORMAT, "settings": {}}
    for table in tables & {*KINDS.values()}:
        rows = db.execute(f"SELECT id, data FROM {table} ORDER BY id").fetchall()
        data[table] = [{**json.loads(text), "id": number} for number, text in rows]
    if "settings" in tables:
        data["settings"] = {name: json.loads(text) for name, text in db.execute("SELECT name, data FROM settings")}
    return data


def _statements(data: Mapping[str, Any]) -> list[Statement]:
    """Statements that put all rows and settings of plain data."""
    made: list[Statement] = []
    for table in KINDS.values():
        for row in data.get(table, []):
            rest = {k: v for k, v in row.items() if k != "id"}
            made.append((_PUT.format(table), (row["id"], json.dumps(rest, ensure_ascii=False))))
    for digest, text in data.get("profiles", {}).items():
        made.append((_PROFILE, (digest, zlib.compress(base64.b64decode(text, validate=True)))))
    for name, value in data.get("settings", {}).items():
        made.append((_SET, (name, json.dumps(value, ensure_ascii=False))))
    return made


def _lock(path: Path) -> int | None:
    """A lock beside the file that ends with this process, however it ends; None when another window has it."""
    handle = os.open(f"{path}.lock", os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        os.close(handle)
        return None
    return handle


def in_use(path: Path) -> bool:
    """True while a window has the workbook at path open."""
    if not path.exists():
        return False
    handle = _lock(path)
    if handle is None:
        return True
    os.close(handle)
    return False


@contextlib.contextmanager
def _transaction(db: sqlite3.Connection) -> Iterator[None]:
    db.execute("BEGIN IMMEDIATE")
    try:
        yield
    except BaseException:
        db.execute("ROLLBACK")
        raise
    db.execute("COMMIT")
