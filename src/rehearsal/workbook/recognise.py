"""What a file given as a workbook is, before anything touches it."""

from __future__ import annotations

import contextlib
import sqlite3
import stat
import struct
from pathlib import Path
from urllib.parse import quote

from rehearsal.core.errors import WorkbookError, system_words

_MAGIC = b"SQLite format 3\0"
#: In the header of our workbooks (SQLite's application_id, at byte 68).
APPLICATION = 0x52454845
ENDING = ".sqlite"
_OURS = {"takes", "masters", "conditions"}


def check_file(path: Path) -> str:
    """Refuse what is no workbook, untouched; answers with a notice when the file is empty, else nothing.

    A file without the signature of a database is taken for a damaged workbook when its name ends as a workbook's does.

    Raises:
        WorkbookError: it is a folder, a picture, another program's database, or cannot be read.
    """
    try:
        found = path.stat()
    except FileNotFoundError:
        return ""
    except OSError as error:
        raise WorkbookError(
            f"the workbook cannot be opened ({system_words(error)})", path, "choose another file"
        ) from error
    if not stat.S_ISREG(found.st_mode):
        raise WorkbookError("this is not a file", path, "choose a workbook, or a name for a new one")
    if found.st_size == 0:
        return "The workbook was empty (0 bytes); a new one was begun."
    try:
        with path.open("rb") as stream:
            head = stream.read(100)
    except OSError as error:
        raise WorkbookError(
            f"the workbook cannot be read ({system_words(error)})", path, "check the file's permissions"
        ) from error
    if not head.startswith(_MAGIC):
        if path.suffix.lower() != ENDING:
            raise WorkbookError(
                "this is not a workbook", path, "choose a workbook, or a name for a new one; nothing was changed"
            )
        return ""
    if len(head) == 100 and struct.unpack(">I", head[68:72])[0] != APPLICATION:
        _check_tables(path)
    return ""


def _check_tables(path: Path) -> None:
    """A database without our number is ours when it holds our tables, or none (formats before the number, a file just begun)."""
    try:
        with contextlib.closing(sqlite3.connect(f"file:{quote(str(path))}?mode=ro&immutable=1", uri=True)) as db:
            names = {row[0] for row in db.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    except sqlite3.DatabaseError:
        return  # damaged: set aside by whoever opens it
    if names and not names & _OURS:
        raise WorkbookError("this is another program's database", path, "choose a workbook; nothing was changed")
