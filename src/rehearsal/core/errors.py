"""The one family of errors a user can meet: what happened, which file, what to do."""

from __future__ import annotations

import errno
from pathlib import Path


class RehearsalError(Exception):
    """An error with three parts for a person.

    Args:
        what: what happened, a clause without a full stop.
        where: the file or thing it happened to; may be empty.
        do: what the user can do about it.
    """

    def __init__(self, what: str, where: str | Path = "", do: str = "") -> None:
        self.what = what
        self.where = str(where)
        self.do = do
        super().__init__(self.sentence())

    def sentence(self) -> str:
        """The three parts in one line, joined by colons, for other programs to read."""
        return ": ".join(part for part in (self.what, self.where, self.do) if part)

    def words(self) -> str:
        """The three parts as sentences for a person; of a file its name."""
        name = Path(self.where).name if "/" in self.where else self.where
        what = self.what
        if name and name not in what:
            before, bracket, why = what.rpartition(" (")
            what = f"{before} ({name}, {why}" if bracket and what.endswith(")") else f"{what} ({name})"
        return " ".join(f"{part[:1].upper()}{part[1:]}." for part in (what, self.do) if part)


_SYSTEM = {
    errno.ENOENT: "it is not there any more", errno.EACCES: "there is no permission", errno.EPERM: "there is no permission",
    errno.EISDIR: "it is a folder", errno.ENOTDIR: "its folder is not there", errno.ENOSPC: "the disk is full",
    errno.EDQUOT: "the disk is full", errno.EROFS: "the disk can only be read", errno.EIO: "the disk reports an error",
    errno.EFBIG: "it is far too large", errno.ENAMETOOLONG: "its name is too long", errno.EEXIST: "it is there already",
    errno.EMFILE: "too many files are open", errno.ENXIO: "it is no file", errno.EINVAL: "it is no file",
}  # fmt: skip


def system_words(error: OSError) -> str:
    """What the system says, in plain words."""
    known = _SYSTEM.get(error.errno or 0)
    return known or (error.strerror or str(error) or "for no reason the system gives").lower()


class ProfileError(RehearsalError):
    """A colour profile cannot be used for what it is wanted for."""


class PictureError(RehearsalError):
    """A picture file cannot be read or written."""


class WorkbookError(RehearsalError):
    """The workbook cannot be opened or written."""


class QueueError(RehearsalError):
    """A print queue cannot be used, or refuses."""


class Stopped(Exception):
    """The user stopped a piece of work; not a failure."""
