"""Header and tag table of an ICC profile, read with bounds checks before the engine sees the bytes.

Layout from ICC.1:2022 (and ICC.1:2001-04 for version 2 text): header 128 bytes, tag count,
then 12 bytes a tag (signature, offset, size).
"""

from __future__ import annotations

import math
import struct
from dataclasses import dataclass

import numpy as np

from rehearsal.core.errors import ProfileError

CHANNELS = {"GRAY": 1, "RGB ": 3, "CMYK": 4, "Lab ": 3, "XYZ ": 3, "CMY ": 3, "HSV ": 3, "YCbr": 3, "Luv ": 3}
_COLOUR_COUNTS = {f"{n:X}CLR": n for n in range(1, 16)}
_CLASSES = {
    "scnr": "scanner",
    "mntr": "display",
    "prtr": "printer",
    "link": "device link",
    "spac": "colour space",
    "abst": "abstract",
    "nmcl": "named colours",
}
#: What to do about a profile that cannot be used.
ANOTHER = "choose another profile, or fetch this one again from where it came"
MAX_TAGS = 256


@dataclass(frozen=True)
class Header:
    """What the first 128 bytes say.

    ``version`` is like 4.3; ``intent`` is the header's default rendering intent (0 to 3).
    """

    size: int
    version: float
    device_class: str
    colour_space: str
    pcs: str
    intent: int

    @property
    def class_name(self) -> str:
        """The device class in words."""
        return _CLASSES.get(self.device_class, f"unknown class {self.device_class!r}")

    @property
    def channels(self) -> int:
        """Number of device channels, 0 when the space is unknown."""
        return CHANNELS.get(self.colour_space, _COLOUR_COUNTS.get(self.colour_space, 0))


def _refuse(why: str, where: str) -> ProfileError:
    return ProfileError(f"not a usable colour profile ({why})", where, ANOTHER)


def _text(raw: bytes) -> str:
    return raw.decode("latin-1")


def parse_header(data: bytes, where: str) -> Header:
    """Header of the profile bytes; raises ProfileError when they cannot be a profile."""
    if len(data) < 132:
        raise _refuse("it is empty or cut short" if data else "the file is empty", where)
    if data[36:40] != b"acsp":
        raise _refuse("the signature of an ICC profile is missing", where)
    size = struct.unpack(">I", data[:4])[0]
    if size > len(data) or size < 132:
        raise _refuse(f"it says {size} bytes and has {len(data)}", where)
    major, minor = data[8], data[9] >> 4
    intent = struct.unpack(">I", data[64:68])[0] & 0xFFFF
    return Header(size, major + minor / 10, _text(data[12:16]), _text(data[16:20]), _text(data[20:24]), min(intent, 3))


def parse_tags(data: bytes, where: str) -> dict[str, bytes]:
    """All tags with their bytes; every offset and size is checked against the file."""
    count = struct.unpack(">I", data[128:132])[0]
    if count == 0 or count > MAX_TAGS or 132 + 12 * count > len(data):
        raise _refuse(f"the tag table claims {count} entries", where)
    tags: dict[str, bytes] = {}
    for i in range(count):
        name, offset, size = struct.unpack(">4sII", data[132 + 12 * i : 144 + 12 * i])
        if offset + size > len(data) or offset < 128 or size < 8:
            raise _refuse(f"tag {_text(name)!r} lies outside the file", where)
        tags[_text(name)] = data[offset : offset + size]
    for name, raw in tags.items():
        _check_table(name, raw, where)
    return tags


def _check_table(name: str, raw: bytes, where: str) -> None:
    """Refuse tables whose node count does not fit their bytes (huge counts make a reader loop or allocate)."""
    kind = raw[:4]
    if kind in (b"mft1", b"mft2"):
        if len(raw) < 52:
            raise _refuse(f"the table {name!r} is damaged", where)
        inputs, outputs, grid = raw[8], raw[9], raw[10]
        width = 1 if kind == b"mft1" else 2
        sane = 0 < inputs <= 15 and 0 < outputs <= 15 and grid >= 2
        if not sane or grid**inputs * outputs * width > len(raw):
            raise _refuse(f"the table {name!r} is damaged", where)
    elif kind in (b"mAB ", b"mBA "):
        _check_mab(name, raw, where)
    elif kind == b"curv" and len(raw) >= 12 and struct.unpack(">I", raw[8:12])[0] * 2 > len(raw):
        raise _refuse(f"the curve {name!r} is damaged", where)


def _check_mab(name: str, raw: bytes, where: str) -> None:
    if len(raw) < 32:
        raise _refuse(f"the table {name!r} is damaged", where)
    inputs = raw[8]
    clut = struct.unpack(">I", raw[24:28])[0]
    if clut:
        if clut + 20 > len(raw) or not 0 < inputs <= 15:
            raise _refuse(f"the table {name!r} is damaged", where)
        nodes = math.prod(raw[clut : clut + inputs]) * raw[9] * max(1, raw[clut + 16])
        if nodes > len(raw) - clut or min(raw[clut : clut + inputs]) < 2:
            raise _refuse(f"the table {name!r} is damaged", where)


def decode_text(raw: bytes) -> str:
    """Text of a desc, text or mluc tag; empty when it cannot be read."""
    kind = raw[:4]
    if kind == b"desc" and len(raw) >= 12:
        count = struct.unpack(">I", raw[8:12])[0]
        return raw[12 : 12 + min(count, len(raw) - 12)].split(b"\0")[0].decode("latin-1").strip()
    if kind == b"text":
        return raw[8:].split(b"\0")[0].decode("latin-1").strip()
    if kind == b"mluc":
        return _decode_mluc(raw)
    return ""


def _decode_mluc(raw: bytes) -> str:
    if len(raw) < 16:
        return ""
    count, size = struct.unpack(">II", raw[8:16])
    found = ""
    for i in range(min(count, 64)):
        at = 16 + i * max(size, 12)
        if at + 12 > len(raw):
            break
        language, length, offset = raw[at : at + 2], *struct.unpack(">II", raw[at + 4 : at + 12])
        text = raw[offset : min(offset + length, len(raw))].decode("utf-16-be", "replace").strip("\0 ")
        if language == b"en" or not found:
            found = text
        if language == b"en":
            break
    return found


def decode_xyz(raw: bytes) -> np.ndarray | None:
    """First XYZ triple of an XYZ tag as float64 (3,), or None."""
    if raw[:4] != b"XYZ " or len(raw) < 20:
        return None
    return np.array(struct.unpack(">3i", raw[8:20]), dtype=np.float64) / 65536.0
