"""Opening pictures: files become masters, masters are read into memory."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.file import Picture, assume_profile, check_picture, little_picture, read_picture
from rehearsal.core.tuning.opened import OpenPicture
from rehearsal.core.work.pool import side_by_side
from rehearsal.core.work.progress import Progress
from rehearsal.workbook.masters import find_again, make_master, state
from rehearsal.workbook.values import Master


@dataclass(frozen=True)
class ReadMaster:
    """A master that was read: with its new place when it was moved, ``there`` or ``changed``, and the picture."""

    master: Master
    state: str
    open: OpenPicture


def read_master(
    master: Master, folders: list[Path], progress: Progress, early: Callable[[OpenPicture], None] | None = None,
    ahead: Picture | None = None, large: bool = False,
) -> ReadMaster:  # fmt: skip
    """Read a master, looking for it again when it was moved.

    Args:
        early: gets the pixels before the reductions are made.
        ahead: the picture, when it was read this moment.
        large: the user has said that a very large one shall be opened.
    """
    progress(0.0, f"reading {master.name}")
    found = state(master)
    if found == "missing":
        again = find_again(master, folders)
        if again is not None:
            master, found = again, "there"
    picture = ahead or read_picture(master.path, large=large)
    if picture.info.assumed and master.assumed:
        picture = assume_profile(picture, working_space(master.assumed))
    opened = OpenPicture(picture, master.digest)
    if early is not None:
        early(opened)
    progress(0.6, "preparing the screen picture")
    opened.pyramid.prepare()
    return ReadMaster(master, found, opened)


@dataclass(frozen=True)
class Opened:
    """Masters of files, what was wrong with others, and the last picture, read already when it could be."""

    masters: list[Master]
    errors: list[RehearsalError]
    last: Picture | None


def new_masters(paths: list[Path], progress: Progress) -> Opened:
    """Masters of the files that can be pictures (their headers are read, their bytes hashed); the last one is read meanwhile."""
    (made, errors), last = side_by_side([lambda: _hashed(paths, progress), lambda: _readable(paths[-1])])
    return Opened(made, errors, last)


def _hashed(paths: list[Path], progress: Progress) -> tuple[list[Master], list[RehearsalError]]:
    made: list[Master] = []
    errors: list[RehearsalError] = []
    for i, path in enumerate(paths):
        progress(i / len(paths), f"opening {path.name}")
        try:
            check_picture(path)
            made.append(make_master(path))
        except RehearsalError as error:
            errors.append(error)
    return made, errors


def _readable(path: Path) -> Picture | None:
    try:
        return read_picture(path.resolve())
    except RehearsalError:
        return None  # whoever opens it gets the reason


def little_pictures(
    masters: list[Master], width: int, height: int, told: Callable[[str, np.ndarray], None], progress: Progress
) -> None:
    """Little pictures of masters, told by their digests as they come; one that cannot be read has none."""
    for i, master in enumerate(masters):
        progress(i / len(masters), master.name)
        try:
            told(master.digest, little_picture(master.path, width, height))
        except RehearsalError:
            continue
