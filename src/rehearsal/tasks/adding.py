"""Profiles that are given to the program: files, folders and archives read into print conditions."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from rehearsal.core.errors import RehearsalError
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.work.progress import Progress, silent
from rehearsal.tasks.conditions import condition_from, new_condition
from rehearsal.tasks.finding import PROFILE_ENDINGS, look_at, unpack

ARCHIVE_ENDING = ".zip"


@dataclass(frozen=True)
class Added:
    """What was read: conditions that are not kept yet, and why others are none."""

    conditions: tuple[PrintCondition, ...]
    errors: tuple[RehearsalError, ...]


def is_profile(path: Path) -> bool:
    """True for a profile's file or an archive by its ending."""
    return path.suffix.lower() in (*PROFILE_ENDINGS, ARCHIVE_ENDING)


def read_profiles(
    paths: Sequence[Path], home: Path, progress: Progress = silent, printers: Sequence[str] = ()
) -> Added:
    """Conditions for profile files and for the profiles in archives; one that is of no use does not stop the others.

    Args:
        home: folder of the program's own data, into which archives are unpacked.
        printers: those on the shelf.
    """
    made: list[PrintCondition] = []
    errors: list[RehearsalError] = []
    for i, path in enumerate(paths):
        progress(i / len(paths), f"reading {path.name}")
        try:
            files = unpack(path, home) if path.suffix.lower() == ARCHIVE_ENDING else [path]
        except RehearsalError as error:
            errors.append(error)
            continue
        for file in files:
            try:
                made.append(_condition(file, printers))
            except RehearsalError as error:
                errors.append(error)
    return Added(tuple(made), tuple(errors))


def _condition(path: Path, printers: Sequence[str]) -> PrintCondition:
    found = look_at(path)
    return new_condition(path) if found.reason else condition_from(found.among(printers))
