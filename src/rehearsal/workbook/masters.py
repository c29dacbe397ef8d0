"""Masters known by path and content: moved files are found again, edited ones are noticed."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from rehearsal.core.picture.file import EXTENSIONS, content_digest
from rehearsal.workbook.values import Master

_MOST_FILES = 4000


def make_master(path: Path) -> Master:
    """A new master of a file."""
    found = path.stat()
    return Master(
        id=0,
        path=str(path.resolve()),
        digest=content_digest(path),
        name=path.stem.replace("_", " "),
        assumed="",
        size_bytes=found.st_size,
        modified=found.st_mtime,
    )


def state(master: Master) -> str:
    """``there``, ``missing`` or ``changed``; content is only read when size or time differ."""
    path = Path(master.path)
    try:
        found = path.stat()
    except OSError:
        return "missing"
    if found.st_size == master.size_bytes and found.st_mtime == master.modified:
        return "there"
    return "there" if content_digest(path) == master.digest else "changed"


def refreshed(master: Master) -> Master:
    """The master with the present content of its file (after "changed since, judge again?")."""
    fresh = make_master(Path(master.path))
    return replace(master, digest=fresh.digest, size_bytes=fresh.size_bytes, modified=fresh.modified)


def find_again(master: Master, folders: list[Path]) -> Master | None:
    """Look for a moved master by content in folders, their parents' neighbours and below; None when not found."""
    seen = 0
    for folder in folders:
        if not folder.is_dir():
            continue
        for path in folder.rglob("*"):
            seen += 1
            if seen > _MOST_FILES:
                return None
            if path.suffix.lower() not in EXTENSIONS or not path.is_file():
                continue
            if path.stat().st_size == master.size_bytes and content_digest(path) == master.digest:
                return replace(master, path=str(path.resolve()), modified=path.stat().st_mtime)
    return None
