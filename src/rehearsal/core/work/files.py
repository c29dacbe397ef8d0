"""The one door for reading files of others: regular files only, and no more bytes than are sensible."""

from __future__ import annotations

import errno
import os
import stat
from pathlib import Path
from typing import BinaryIO

#: Most bytes of a profile, an archive or a list of readings.
MOST_BYTES = 60 << 20


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
