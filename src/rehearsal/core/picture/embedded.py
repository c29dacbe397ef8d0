"""The profile a picture file carries."""

from __future__ import annotations

import struct
import zlib
from typing import Any, BinaryIO

from rehearsal.core.errors import ProfileError
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.work.files import MOST_BYTES

_PNG = b"\x89PNG\r\n\x1a\n"


def _chunks_before_pixels(stream: BinaryIO) -> dict[bytes, bytes]:
    """The colour chunks of a PNG file (ISO/IEC 15948:2004, 5.3), read up to its first pixels."""
    stream.seek(0)
    found: dict[bytes, bytes] = {}
    if stream.read(8) != _PNG:
        return found
    while len(head := stream.read(8)) == 8:
        length, kind = struct.unpack(">I4s", head)
        if kind in (b"IDAT", b"IEND") or length > MOST_BYTES:
            break
        if kind in (b"iCCP", b"sRGB"):
            found.setdefault(kind, stream.read(length))
            stream.seek(4, 1)
        else:
            stream.seek(length + 4, 1)
    return found


def _unpacked(chunk: bytes) -> bytes:
    """Profile bytes of an iCCP chunk (ISO/IEC 15948:2004, 11.3.3.3); raises ProfileError."""
    name, _, rest = chunk.partition(b"\0")
    if not 1 <= len(name) <= 79 or rest[:1] != b"\0":
        raise ProfileError("its chunk is damaged")
    try:
        data = zlib.decompressobj().decompress(rest[1:], MOST_BYTES + 1)
    except zlib.error as error:
        raise ProfileError("its chunk is damaged") from error
    if len(data) > MOST_BYTES:
        raise ProfileError(f"it is larger than {MOST_BYTES >> 20} MB")
    return data


def embedded_profile(image: Any, stream: BinaryIO, colours: int, name: str) -> tuple[Profile | None, str]:
    """The profile of an open picture, or None with why the one it carries is of no use (empty: it carries none).

    Args:
        image: as the picture library opened it.
        stream: the same file; the library drops some grey profiles of PNG files, so their chunks are read here.
        colours: channels of the picture.
        name: of the file, for messages.

    A PNG that only declares sRGB (the sRGB chunk) counts as carrying it.
    """
    chunks = _chunks_before_pixels(stream)
    try:
        if b"iCCP" in chunks:
            data = _unpacked(chunks[b"iCCP"])
        elif image.get_typeof("icc-profile-data"):
            data = bytes(image.get("icc-profile-data"))
        else:
            return (working_space("sRGB") if b"sRGB" in chunks and colours == 3 else None), ""
        profile = Profile(data, f"profile in {name}")
    except ProfileError as error:
        return None, error.what
    if profile.channels != colours:
        return None, f"it is for {profile.space}, the picture is not"
    return profile, ""
