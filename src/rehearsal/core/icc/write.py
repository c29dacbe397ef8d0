"""Writing profiles byte by byte: matrix and curves, grey, tables both ways, device links.

ICC.1:2022 (version 4) and ICC.1:2001-04 (version 2). Tables are lut16Type ("mft2"), which both
versions allow; its Lab encoding is the legacy one in both (100 is 0xFF00, a and b 0 is 0x8000).
No creation date of the day and no profile id: the same input gives the same bytes everywhere.
"""

from __future__ import annotations

import struct
from collections.abc import Mapping

import numpy as np

D50 = (0.9642, 1.0, 0.8249)


def s15(value: float) -> bytes:
    """s15Fixed16Number."""
    return struct.pack(">i", round(value * 65536))


def text_tag(text: str, version: int, kind: str = "desc") -> bytes:
    """Description or copyright in the form of the version (2 or 4)."""
    if version >= 4:
        body = text.encode("utf-16-be")
        return b"mluc\0\0\0\0" + struct.pack(">II2s2sII", 1, 12, b"en", b"GB", len(body), 28) + body
    ascii_text = text.encode("ascii", "replace") + b"\0"
    if kind != "desc":
        return b"text\0\0\0\0" + ascii_text
    return b"desc\0\0\0\0" + struct.pack(">I", len(ascii_text)) + ascii_text + b"\0" * (4 + 4 + 2 + 1 + 67)


def plain_text_tag(text: str) -> bytes:
    """textType, used for the embedded characterisation data."""
    return b"text\0\0\0\0" + text.encode("ascii", "replace") + b"\0"


def xyz_tag(xyz: np.ndarray | tuple[float, float, float]) -> bytes:
    """XYZType with one triple."""
    return b"XYZ \0\0\0\0" + b"".join(s15(float(v)) for v in xyz)


def curve_tag(values: np.ndarray) -> bytes:
    """curveType sampled at equal steps; values 0 to 1."""
    data = np.round(np.clip(values, 0, 1) * 65535).astype(">u2")
    return b"curv\0\0\0\0" + struct.pack(">I", len(data)) + data.tobytes()


def gamma_tag(gamma: float) -> bytes:
    """curveType with a single exponent (u8Fixed8)."""
    return b"curv\0\0\0\0" + struct.pack(">IH", 1, round(gamma * 256))


def parametric_tag(function: int, *parameters: float) -> bytes:
    """parametricCurveType; function numbers of ICC.1:2022, 10.18."""
    return b"para\0\0\0\0" + struct.pack(">HH", function, 0) + b"".join(s15(p) for p in parameters)


def table_tag(clut: np.ndarray, curves_in: np.ndarray, curves_out: np.ndarray) -> bytes:
    """lut16Type.

    Args:
        clut: (n, ..., n, outputs), already encoded to 0 to 1; the first axis varies slowest.
        curves_in: (inputs, entries) and curves_out: (outputs, entries), 0 to 1, 2 to 4096 entries.
    """
    inputs, outputs, grid = clut.ndim - 1, clut.shape[-1], clut.shape[0]
    head = b"mft2\0\0\0\0" + struct.pack(">BBBB", inputs, outputs, grid, 0)
    matrix = b"".join(s15(v) for v in np.eye(3).ravel())
    counts = struct.pack(">HH", curves_in.shape[1], curves_out.shape[1])

    def words(values: np.ndarray) -> bytes:
        return np.round(np.clip(values, 0, 1) * 65535).astype(">u2").tobytes()

    return head + matrix + counts + words(curves_in) + words(clut) + words(curves_out)


def encode_lab(lab: np.ndarray) -> np.ndarray:
    """Lab (..., 3) to the legacy 16-bit encoding of lut16Type, scaled to 0 to 1."""
    scaled = np.empty(np.shape(lab))
    scaled[..., 0] = lab[..., 0] * 652.80 / 65535
    scaled[..., 1:] = (np.asarray(lab)[..., 1:] + 128.0) * 256.0 / 65535
    return scaled


def assemble(
    tags: Mapping[str, bytes], device_class: str, space: str, pcs: str, version: float = 4.3, intent: int = 0
) -> bytes:
    """Profile bytes from tags; equal tags share their data."""
    table, body, places = b"", b"", {}
    start = 132 + 12 * len(tags)
    for name, raw in tags.items():
        if raw not in places:
            body += b"\0" * (-len(body) % 4)
            places[raw] = start + len(body)
            body += raw
        table += struct.pack(">4sII", name.encode(), places[raw], len(raw))
    body += b"\0" * (-len(body) % 4)
    size = start + len(body)
    version_word = int(version) << 24 | round((version - int(version)) * 10) << 20
    head = struct.pack(
        ">I4sI4s4s4s6H4s4sIIIII", size, b"\0\0\0\0", version_word, device_class.encode(), space.encode(),
        pcs.encode(), 2026, 1, 1, 0, 0, 0, b"acsp", b"\0\0\0\0", 0, 0, 0, 0, 0,
    )  # fmt: skip
    head += struct.pack(">I", intent) + b"".join(s15(v) for v in D50)
    return head + b"\0" * (128 - len(head)) + struct.pack(">I", len(tags)) + table + body


def matrix_profile(name: str, colorants: np.ndarray, curve: bytes, device_class: str = "mntr") -> bytes:
    """Version 4 RGB profile of three colorants and one curve.

    Args:
        colorants: (3, 3), columns are the D50 adapted XYZ of red, green, blue.
        curve: a curve tag (gamma_tag, curve_tag, parametric_tag).
    """
    tags = {
        "desc": text_tag(name, 4),
        "cprt": text_tag("CC0, no rights reserved", 4),
        "wtpt": xyz_tag(D50),
        **{f"{c}XYZ": xyz_tag(colorants[:, i]) for i, c in enumerate("rgb")},
        **{f"{c}TRC": curve for c in "rgb"},
    }
    return assemble(tags, device_class, "RGB ", "XYZ ")


def gray_profile(name: str, curve: bytes) -> bytes:
    """Version 4 grey profile of one curve."""
    tags = {
        "desc": text_tag(name, 4),
        "cprt": text_tag("CC0, no rights reserved", 4),
        "wtpt": xyz_tag(D50),
        "kTRC": curve,
    }
    return assemble(tags, "mntr", "GRAY", "XYZ ")
