"""What can still be read out of a damaged workbook: row by row, each brought to the present format by itself."""

from __future__ import annotations

import base64
import contextlib
import hashlib
import json
import sqlite3
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import quote

from rehearsal.core.errors import RehearsalError
from rehearsal.core.values.plain import from_plain
from rehearsal.workbook.migrations import FORMAT, migrated
from rehearsal.workbook.values import KINDS

#: What the library raises over damaged pages; its complaint may quote bytes that are no text.
_UNREADABLE = (sqlite3.Error, UnicodeDecodeError)
#: What reading a damaged row can end in.
_BROKEN = (RehearsalError, ValueError, TypeError, KeyError, AttributeError, RecursionError)
#: Rows another table's rows are brought up with.
_NEEDED = ("masters", "conditions")


@dataclass(frozen=True)
class Salvaged:
    """Plain data in the present format, and how many rows were saved and lost as far as they could be counted."""

    data: dict[str, Any]
    saved: int
    lost: int

    @property
    def words(self) -> str:
        """What was saved, as a clause."""
        if not self.saved:
            return "nothing could be read out of it"
        entries = "1 entry was" if self.saved == 1 else f"{self.saved} entries were"
        lost = "" if not self.lost else f", {self.lost} could not be read"
        return f"{entries} read out of it{lost}"


def salvage(path: Path) -> Salvaged:
    """Everything that can be read of a workbook that is not open; the file is not touched."""
    raw: dict[str, list[dict[str, Any]]] = {table: [] for table in KINDS.values()}
    settings: dict[str, Any] = {}
    lost, version = 0, FORMAT
    profiles: dict[str, str] = {}
    with contextlib.suppress(*_UNREADABLE), contextlib.closing(_opened(path)) as db:
        with contextlib.suppress(*_UNREADABLE):
            version = db.execute("PRAGMA user_version").fetchone()[0]
        for table, rows in raw.items():
            for number, text in _rows(db, table, "id"):
                made = _parsed(text)
                if isinstance(made, dict) and isinstance(number, int):
                    rows.append({**made, "id": number})
                else:
                    lost += 1
        for name, text in _rows(db, "settings", "name"):
            with contextlib.suppress(ValueError, TypeError):
                settings[str(name)] = json.loads(text)
        profiles = _profiles(db)
    return _brought_up(raw, settings, version if 0 <= version <= FORMAT else FORMAT, lost, profiles)


def _profiles(db: sqlite3.Connection) -> dict[str, str]:
    """Kept profiles (base64) that are still what their digest says."""
    found = {}
    for digest, data in _rows(db, "profiles", "digest"):
        with contextlib.suppress(zlib.error, TypeError, ValueError):
            whole = zlib.decompress(data)
            if hashlib.sha256(whole).hexdigest() == digest:
                found[digest] = base64.b64encode(whole).decode()
    return found


def _opened(path: Path) -> sqlite3.Connection:
    """With its log of changes where there is one: the last ones may be nowhere else."""
    db = sqlite3.connect(f"file:{quote(str(path))}", uri=True)
    db.text_factory = lambda raw: raw.decode("utf-8", "replace")
    return db


def _rows(db: sqlite3.Connection, table: str, key: str) -> list[tuple[Any, Any]]:
    """Rows from the front as far as they can be read, and from the back."""
    found: dict[Any, Any] = {}
    for order in ("", " DESC"):
        with contextlib.suppress(*_UNREADABLE):
            for number, text in db.execute(f"SELECT {key}, data FROM {table} ORDER BY {key}{order}"):
                found.setdefault(number, text)
    return list(found.items())


def _parsed(text: Any) -> Any:
    try:
        return json.loads(text)
    except (ValueError, TypeError, RecursionError):
        return None


def _brought_up(
    raw: dict[str, list[dict[str, Any]]], settings: dict[str, Any], version: int, lost: int, profiles: dict[str, str]
) -> Salvaged:
    data: dict[str, Any] = {"format": FORMAT, "settings": {}, "profiles": profiles}
    with contextlib.suppress(*_BROKEN):
        data["settings"] = migrated({"format": version, "settings": settings})["settings"]
    needed = {table: raw[table] for table in _NEEDED}
    saved = 0
    for kind, table in KINDS.items():
        good = [row for row in _each_brought_up(table, raw[table], needed, version) if _fits(kind, row)]
        data[table] = good
        saved += len(good)
        lost += max(0, len(raw[table]) - len(good))
    return Salvaged(data, saved, lost)


def _each_brought_up(
    table: str, rows: list[dict[str, Any]], needed: dict[str, list[dict[str, Any]]], version: int
) -> Iterator[dict[str, Any]]:
    for row in rows:
        with contextlib.suppress(*_BROKEN):
            alone = migrated({"format": version, "settings": {}, **needed, table: [row]})
            yield from (made for made in alone.get(table, []) if made.get("id") == row["id"])


def _fits(kind: type[Any], row: dict[str, Any]) -> bool:
    try:
        hash(from_plain(kind, row))
    except _BROKEN:
        return False
    return True
