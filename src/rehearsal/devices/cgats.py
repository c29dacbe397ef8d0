"""Measurement files: CGATS.17 / ISO 28178 keyword files, read forgivingly and written plainly."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np

from rehearsal.core.errors import RehearsalError, system_words
from rehearsal.core.work.files import read_regular

#: A quoted text, a comment (to the end of its line, where a word would begin), or a word.
_TOKEN = re.compile(r'"[^"]*"|#.*|\S+')
_DO = "choose a CGATS text file of measured patches"


@dataclass(frozen=True)
class Measurements:
    """One table of a measurement file.

    Attributes:
        fields: column names as in the file, upper case.
        rows: values as text, one list per patch.
        keywords: header keywords.
    """

    fields: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    keywords: dict[str, str] = field(default_factory=dict)

    def columns(self, names: Sequence[str]) -> np.ndarray:
        """Columns as float64 (patches, len(names)); raises RehearsalError when one is missing."""
        try:
            places = [self.fields.index(name) for name in names]
        except ValueError as error:
            raise RehearsalError(f"the measurements have no column {error.args[0].split(' ')[0]}", "", _DO) from error
        return np.array([[float(row[i]) for i in places] for row in self.rows])

    def has(self, *names: str) -> bool:
        """True when all columns are there."""
        return all(name in self.fields for name in names)


def parse(text: str, where: str = "measurements") -> list[Measurements]:
    """All tables of a CGATS text; tolerant of CRLF, tabs, blank lines, comments and missing sample ids."""
    tables, fields, rows, keywords, state = [], [], [], {}, "head"  # type: ignore[var-annotated]
    for line in text.replace("\r", "\n").split("\n"):
        words = [w.strip('"') for w in _TOKEN.findall(line) if not w.startswith("#")]
        if not words:
            continue
        match (state, words[0].upper()):
            case ("head", "BEGIN_DATA_FORMAT"):
                state, fields = "format", []
            case ("format", "END_DATA_FORMAT"):
                state = "head"
            case ("head", "BEGIN_DATA"):
                state, rows = "data", []
            case ("data", "END_DATA"):
                state = "head"
                tables.append(_table(fields, rows, keywords, where))
            case ("format", _):
                fields += [w.upper() for w in words]
            case ("data", _):
                rows += words
            case _:
                keywords[words[0].upper()] = " ".join(words[1:])
    if not tables:
        raise RehearsalError("no table of measurements found", where, _DO)
    return tables


def _table(fields: list[str], words: list[str], keywords: dict[str, str], where: str) -> Measurements:
    width = len(fields)
    if width == 0 or len(words) % width:
        raise RehearsalError("the table of measurements is incomplete", where, _DO)
    rows = tuple(tuple(words[i : i + width]) for i in range(0, len(words), width))
    return Measurements(tuple(fields), rows, dict(keywords))


def read(path: str | Path) -> list[Measurements]:
    """All tables of a file; bytes that are not UTF-8 are read as Latin-1."""
    try:
        raw = read_regular(path)
    except OSError as error:
        raise RehearsalError(f"the measurements cannot be read ({system_words(error)})", path, _DO) from error
    try:
        return parse(raw.decode("utf-8"), str(path))
    except UnicodeDecodeError:
        return parse(raw.decode("latin-1"), str(path))


def write(rgb: np.ndarray, xyz: np.ndarray, lab: np.ndarray, title: str) -> str:
    """CGATS text of RGB patches (0 to 1, written 0 to 100) with XYZ (Y of white 100) and absolute Lab."""
    names = "SAMPLE_ID RGB_R RGB_G RGB_B XYZ_X XYZ_Y XYZ_Z LAB_L LAB_A LAB_B"
    head = [
        "CGATS.17", f'DESCRIPTOR "{title}"', 'ORIGINATOR "Rehearsal, simulated instrument"',
        'MEASUREMENT_CONDITION "M1"', "NUMBER_OF_FIELDS 10", "BEGIN_DATA_FORMAT", names, "END_DATA_FORMAT",
        f"NUMBER_OF_SETS {len(rgb)}", "BEGIN_DATA",
    ]  # fmt: skip
    body = [
        f"{i + 1} " + " ".join(f"{v:.4f}" for v in (*(r * 100), *(x * 100), *tone))
        for i, (r, x, tone) in enumerate(zip(rgb, xyz, lab, strict=True))
    ]
    return "\n".join([*head, *body, "END_DATA", ""])
