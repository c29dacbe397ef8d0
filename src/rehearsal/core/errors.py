"""The one family of errors a user can meet: what happened, which file, what to do."""

from __future__ import annotations

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
        """The three parts in one line, joined by colons."""
        return ": ".join(part for part in (self.what, self.where, self.do) if part)


class ProfileError(RehearsalError):
    """A colour profile cannot be used for what it is wanted for."""


class PictureError(RehearsalError):
    """A picture file cannot be read or written."""


class WorkbookError(RehearsalError):
    """The workbook cannot be opened or written."""


class Stopped(Exception):
    """The user stopped a piece of work; not a failure."""
