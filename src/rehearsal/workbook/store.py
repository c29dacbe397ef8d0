"""The workbook file: SQLite in WAL mode, one transaction per operation, flushed before it counts.

A workbook of a newer version is refused; a damaged one is set aside, never overwritten.
"""

from __future__ import annotations

import contextlib
import json
import sqlite3
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any, TypeVar

from rehearsal.core.errors import WorkbookError
from rehearsal.workbook.values import (
    Accepted,
    Habit,
    LogEntry,
    Master,
    PrintCondition,
    Take,
    from_json,
    to_json,
    with_id,
)

SCHEMA = 2
_APPLICATION = 0x52454845
Kept = TypeVar("Kept", PrintCondition, Master, Take, LogEntry, Habit, Accepted)
_TABLES: dict[type, str] = {
    PrintCondition: "conditions",
    Master: "masters",
    Take: "takes",
    LogEntry: "log",
    Habit: "habits",
    Accepted: "accepted",
}


class Workbook:
    """An open workbook.

    Args:
        path: the file; made when it is missing.

    Raises:
        WorkbookError: it was made by a newer version, or cannot be opened or made.
    """

    def __init__(self, path: Path) -> None:
        self.path = path
        #: What was read, by kind, until something of it changes (this program is the file's only writer).
        self._read: dict[type, dict[int, Any]] = {}
        #: Sentence for the user when a damaged workbook was set aside, else empty.
        self.notice = ""
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            self._db = self._open_checked()
        except (sqlite3.Error, OSError) as error:
            raise WorkbookError(
                f"the workbook cannot be opened ({error})", path, "check the folder's permissions"
            ) from error

    def _open_checked(self) -> sqlite3.Connection:
        try:
            return self._open()
        except sqlite3.DatabaseError as error:
            if isinstance(error, sqlite3.OperationalError):
                raise
            aside = self.path.with_name(f"{self.path.stem}.damaged-{time.strftime('%Y%m%d-%H%M%S')}{self.path.suffix}")
            for suffix in ("", "-wal", "-shm"):
                part = Path(f"{self.path}{suffix}")
                if part.exists():
                    part.rename(f"{aside}{suffix}")
            self.notice = f"The workbook was damaged and is kept as {aside.name}; a new one was begun."
            return self._open()

    def _open(self) -> sqlite3.Connection:
        db = sqlite3.connect(self.path, isolation_level=None, timeout=5)
        try:
            version = db.execute("PRAGMA user_version").fetchone()[0]
            if version > SCHEMA:
                raise WorkbookError(
                    f"this workbook was made by a newer Rehearsal (format {version}, this one knows {SCHEMA})",
                    self.path, "use the newer program; nothing was changed",
                )  # fmt: skip
            if db.execute("PRAGMA quick_check").fetchone()[0] != "ok":
                raise sqlite3.DatabaseError("quick_check failed")
            db.execute("PRAGMA journal_mode=WAL")
            db.execute("PRAGMA synchronous=FULL")
            self._create(db)
        except BaseException:
            db.close()
            raise
        return db

    @staticmethod
    def _create(db: sqlite3.Connection) -> None:
        with _transaction(db):
            for table in _TABLES.values():
                db.execute(f"CREATE TABLE IF NOT EXISTS {table} (id INTEGER PRIMARY KEY, data TEXT NOT NULL)")
            db.execute("CREATE TABLE IF NOT EXISTS settings (name TEXT PRIMARY KEY, data TEXT NOT NULL)")
            db.execute(f"PRAGMA application_id={_APPLICATION}")
            db.execute(f"PRAGMA user_version={SCHEMA}")

    def put(self, value: Kept) -> Kept:
        """Keep a value; a new one (id 0) gets its number. Returns the value as kept."""
        table = _TABLES[type(value)]
        data = to_json(value)
        data.pop("id")
        text = json.dumps(data, ensure_ascii=False)
        with self._change():
            number = self._db.execute(
                f"INSERT INTO {table} (id, data) VALUES (?, ?) ON CONFLICT (id) DO UPDATE SET data = excluded.data",
                (value.id or None, text),
            ).lastrowid
        kept = value if value.id else with_id(value, int(number or 0))
        if type(value) in self._read:
            self._read[type(value)][kept.id] = kept
        return kept

    def remove(self, value: Kept) -> None:
        """Forget a value."""
        with self._change():
            self._db.execute(f"DELETE FROM {_TABLES[type(value)]} WHERE id = ?", (value.id,))
        self._read.pop(type(value), None)

    def put_back(self, value: Kept) -> Kept:
        """Keep a removed value again, under its own number unless that was given away meanwhile."""
        return self.put(value if self.get(type(value), value.id) is None else with_id(value, 0))

    def all(self, kind: type[Kept]) -> list[Kept]:
        """All values of a kind, oldest first."""
        return list(self._all(kind).values())

    def _all(self, kind: type[Kept]) -> dict[int, Kept]:
        if kind not in self._read:
            rows = self._db.execute(f"SELECT id, data FROM {_TABLES[kind]} ORDER BY id").fetchall()
            self._read[kind] = {number: with_id(from_json(kind, json.loads(data)), number) for number, data in rows}
        return self._read[kind]

    def get(self, kind: type[Kept], number: int) -> Kept | None:
        """One value, or None."""
        return self._all(kind).get(number)

    def setting(self, name: str, default: Any = None) -> Any:
        """A remembered setting."""
        row = self._db.execute("SELECT data FROM settings WHERE name = ?", (name,)).fetchone()
        return json.loads(row[0]) if row else default

    def set_setting(self, name: str, value: Any) -> None:
        """Remember a setting."""
        with self._change():
            self._db.execute(
                "INSERT INTO settings (name, data) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET data = excluded.data",
                (name, json.dumps(value, ensure_ascii=False)),
            )

    @contextlib.contextmanager
    def _change(self) -> Iterator[None]:
        try:
            with _transaction(self._db):
                yield
        except sqlite3.Error as error:
            raise WorkbookError(
                f"the change could not be kept ({error})", self.path, "free some disk space and try again"
            ) from error

    def export_json(self) -> dict[str, Any]:
        """Everything as plain data."""
        data: dict[str, Any] = {"format": SCHEMA, "settings": {}}
        for kind, table in _TABLES.items():
            data[table] = [to_json(v) for v in self.all(kind)]
        for name, text in self._db.execute("SELECT name, data FROM settings ORDER BY name"):
            data["settings"][name] = json.loads(text)
        return data

    def import_json(self, data: dict[str, Any]) -> None:
        """Take in what :meth:`export_json` wrote; equal numbers are replaced. All or nothing."""
        if data.get("format", 0) > SCHEMA:
            raise WorkbookError("this file was made by a newer Rehearsal", "", "use the newer program")
        with self._change():
            for table in _TABLES.values():
                for row in data.get(table, []):
                    rest = {k: v for k, v in row.items() if k != "id"}
                    self._db.execute(
                        f"INSERT OR REPLACE INTO {table} (id, data) VALUES (?, ?)",
                        (row["id"], json.dumps(rest, ensure_ascii=False)),
                    )
            for name, value in data.get("settings", {}).items():
                self._db.execute("INSERT OR REPLACE INTO settings VALUES (?, ?)", (name, json.dumps(value)))
        self._read.clear()

    def close(self) -> None:
        """Close the file."""
        self._db.close()


@contextlib.contextmanager
def _transaction(db: sqlite3.Connection) -> Iterator[None]:
    db.execute("BEGIN IMMEDIATE")
    try:
        yield
    except BaseException:
        db.execute("ROLLBACK")
        raise
    db.execute("COMMIT")
