"""Profiles: opened from file or bytes, checked, described, and closed for certain."""

from __future__ import annotations

import functools
import hashlib
import weakref
from pathlib import Path

import numpy as np

from rehearsal.core.errors import ProfileError, system_words
from rehearsal.core.icc import tags as icc_tags
from rehearsal.core.icc.curves import check_shape
from rehearsal.core.icc.engine import build_lock, clear_messages, context, engine, messages
from rehearsal.core.work.files import read_regular

_TABLE_TAGS = {"perceptual": "0", "relative": "1", "saturation": "2"}


class Profile:
    """One ICC profile, immutable and usable from any thread.

    Args:
        data: the profile's bytes.
        where: file name or description used in error messages.

    Raises:
        ProfileError: the bytes are not a profile the engine can use.
    """

    def __init__(self, data: bytes, where: str = "profile") -> None:
        self.where = where
        self.header = icc_tags.parse_header(data, where)
        self.data = bytes(data[: self.header.size])
        self.tags = icc_tags.parse_tags(self.data, where)
        check_shape(self.tags, where)
        self.digest = hashlib.sha256(self.data).hexdigest()
        self.handle = self._open()

    def _open(self) -> int:
        with build_lock:
            clear_messages()
            handle = engine().cmsOpenProfileFromMemTHR(context(), self.data, len(self.data))
        if not handle:
            raise ProfileError(
                f"the colour engine refuses this profile ({messages() or 'no reason given'})",
                self.where,
                icc_tags.ANOTHER,
            )
        self._finalizer = weakref.finalize(self, engine().cmsCloseProfile, handle)
        return int(handle)

    @property
    def channels(self) -> int:
        """Number of device channels."""
        return self.header.channels

    @property
    def space(self) -> str:
        """Device colour space as a plain word: Gray, RGB, CMYK, Lab, XYZ or the profile's own code."""
        return {"GRAY": "Gray", "RGB ": "RGB"}.get(self.header.colour_space, self.header.colour_space.strip())

    @property
    def description(self) -> str:
        """The profile's own name, or the file's name when it has none."""
        return icc_tags.decode_text(self.tags.get("desc", b"")) or Path(self.where).stem

    @property
    def is_matrix(self) -> bool:
        """True for an RGB profile of three colorants and curves without any table."""
        return all(t in self.tags for t in ("rXYZ", "gXYZ", "bXYZ", "rTRC")) and "A2B0" not in self.tags

    @property
    def is_destination(self) -> bool:
        """True when pixels can be converted into this profile's space."""
        return any(f"B2A{i}" in self.tags for i in "012") or self.is_matrix or self.is_gray_curve

    @property
    def is_gray_curve(self) -> bool:
        """True for a grey profile made of one curve."""
        return "kTRC" in self.tags

    @property
    def media_white_tag(self) -> np.ndarray | None:
        """XYZ of the media-white tag (3,), D50 relative, or None."""
        return icc_tags.decode_xyz(self.tags.get("wtpt", b""))

    @property
    def target_text(self) -> str:
        """Measurement text embedded by the maker (the targ tag), or an empty string."""
        raw = self.tags.get("targ", b"")
        return raw[8:].rstrip(b"\0").decode("utf-8", "replace") if raw[:4] == b"text" else ""

    def table_for(self, intent: str, direction: str = "B2A") -> str | None:
        """Name of the table that serves an intent, following the fallback of ICC.1 (to table 0), or None."""
        wanted = f"{direction}{_TABLE_TAGS.get(intent, '1')}"
        if wanted in self.tags:
            return wanted
        return f"{direction}0" if f"{direction}0" in self.tags else None

    def one_table(self, intent: str, other: str, direction: str = "B2A") -> bool:
        """True when one table (or curves) serves both intents."""
        one, two = (self.table_for(each, direction) for each in (intent, other))
        return one is None or two is None or self.tags[one] == self.tags[two]

    def intents(self) -> list[str]:
        """Intents with a table of their own; a matrix or curve profile has the colorimetric ones only."""
        own = [name for name, digit in _TABLE_TAGS.items() if f"B2A{digit}" in self.tags]
        if not own:
            own = ["relative"] if self.is_destination else []
        if "relative" in own or "B2A0" in self.tags:
            own.append("absolute")
        return own

    def __repr__(self) -> str:
        return f"Profile({self.description!r}, {self.space}, {self.header.class_name})"


def open_profile(source: str | Path | bytes, where: str | None = None) -> Profile:
    """Open a profile from a file or from bytes.

    Raises:
        ProfileError: the file cannot be read or is not a usable profile.
    """
    if isinstance(source, bytes):
        return Profile(source, where or "embedded profile")
    try:
        data = read_regular(source)
    except OSError as error:
        raise ProfileError(
            f"the profile cannot be read ({system_words(error)})", source, "check that the file is still there"
        ) from error
    return Profile(data, where or str(source))


class _Virtual:
    """A profile the engine makes itself (Lab or XYZ, D50)."""

    def __init__(self, handle: int, space: str, channels: int) -> None:
        self.handle = handle
        self.space = space
        self.channels = channels
        self.digest = f"virtual-{space}"


@functools.cache
def lab_profile() -> _Virtual:
    """Float CIELAB, D50."""
    return _Virtual(int(engine().cmsCreateLab4ProfileTHR(context(), None)), "Lab", 3)


@functools.cache
def xyz_profile() -> _Virtual:
    """Float CIE XYZ, D50, Y of white 1."""
    return _Virtual(int(engine().cmsCreateXYZProfileTHR(context())), "XYZ", 3)


AnyProfile = Profile | _Virtual
