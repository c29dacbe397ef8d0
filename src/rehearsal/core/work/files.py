"""Doors to files: of others, regular ones only and no more bytes than are sensible; our own, beside and renamed into place."""

from __future__ import annotations

import errno
import os
import stat
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import BinaryIO

#: Most bytes of a profile, an archive or a list of readings.
MOST_BYTES = 60 << 20


#: Temporary names of files that are being written.
_unfinished: set[str] = set()


def open_regular(path: str | Path) -> BinaryIO:
    """Open a regular file for reading; a pipe or a device is refused without waiting for it.

    Raises:
        OSError: the file is missing, not readable, or not a regular file.
    """
    descriptor = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    try:
        if not stat.S_ISREG(os.fstat(descriptor).st_mode):
            raise OSError(errno.EINVAL, "it is not a regular file", str(path))
        return os.fdopen(descriptor, "rb", buffering=0)  # whoever reads by descriptor sees the same place
    except BaseException:
        os.close(descriptor)
        raise


def read_regular(path: str | Path, most: int = MOST_BYTES) -> bytes:
    """All bytes of a regular file.

    Raises:
        OSError: as :func:`open_regular`, or the file holds more than ``most`` bytes.
    """
    with open_regular(path) as stream:
        data = stream.read(most + 1)
    if len(data) > most:
        raise OSError(errno.EFBIG, f"it is larger than {most >> 20} MB", str(path))
    return data


def write_beside(path: Path, write: Callable[[str], None], replace: bool = True) -> None:
    """Write a file under a name nobody can guess in the same folder, flush it, and put it in place.

    Args:
        write: gets the temporary name.
        replace: take the place of a file of that name; a link is replaced, never what it leads to.

    Raises:
        FileExistsError: there is such a file, and it is not to be replaced.
        OSError: and whatever ``write`` raises; nothing half-written stays.
    """
    handle, temporary = tempfile.mkstemp(suffix=path.suffix, prefix=".rehearsal-", dir=path.parent)
    os.close(handle)
    _unfinished.add(temporary)
    try:
        write(temporary)
        with Path(temporary).open("rb+") as stream:
            os.fsync(stream.fileno())
        mask = os.umask(0)
        os.umask(mask)
        Path(temporary).chmod(0o666 & ~mask)
        if replace:
            Path(temporary).replace(path)
        else:
            _put(temporary, path)
    finally:
        Path(temporary).unlink(missing_ok=True)
        _unfinished.discard(temporary)


def remove_unfinished() -> None:
    """Remove what is half written: for a program that ends without waiting for who writes it."""
    for temporary in tuple(_unfinished):
        Path(temporary).unlink(missing_ok=True)


def _put(temporary: str, path: Path) -> None:
    """Put a file in a place that must be empty."""
    try:
        os.link(temporary, path, follow_symlinks=False)
    except FileExistsError:
        raise
    except OSError:  # a file system without links
        if path.exists() or path.is_symlink():
            raise FileExistsError(errno.EEXIST, os.strerror(errno.EEXIST), str(path)) from None
        Path(temporary).replace(path)


def same_file(one: str | Path, two: str | Path) -> bool:
    """True when two names lead to one file: by what it is, links of both kinds included."""
    try:
        return Path(one).samefile(two)
    except OSError:
        return Path(one).resolve() == Path(two).resolve()
