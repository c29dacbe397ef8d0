"""Where a picture is converted to: a printer profile's file, or a working space by its name."""

from __future__ import annotations

from dataclasses import dataclass, field

_SPACE = "space:"
#: Working spaces by their names; what each is stands in ``core/icc/standard.py``.
SPACE_NAMES = ("sRGB", "opRGB", "P3", "ROMM")


def space_path(name: str) -> str:
    """How a working space stands where a profile's path would."""
    return _SPACE + name


def space_of(path: str) -> str:
    """Name of the working space a path stands for; empty for a file."""
    return path.removeprefix(_SPACE) if path.startswith(_SPACE) else ""


@dataclass(frozen=True)
class Destination:
    """A profile by its content; where its file lies does not count.

    Attributes:
        digest: SHA-256 of the profile's bytes.
        path: file of the profile, or :func:`space_path`.
    """

    digest: str = ""
    path: str = field(default="", compare=False)
