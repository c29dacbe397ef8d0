"""The tables by which printing profiles turn Lab into device values, as arrays.

ICC.1:2022, 10.10 (lut16Type) and 10.11 (lut8Type): curves for L*, a*, b*, nodes between which values are interpolated, curves for
the device channels. Other kinds of table stay with the colour engine.
"""

from __future__ import annotations

import struct
from dataclasses import dataclass

import numpy as np

from rehearsal.core.icc.profile import Profile

#: Numbers that stand for L* 100 and for a step of 1 in a* or b*, of 65,535: the encodings of Lab in 16 bits (ICC.1:2022, 10.10,
#: the one of version 2) and in 8 bits (6.3.4.2).
_ENCODINGS = {b"mft2": (0xFF00, 0x100), b"mft1": (0xFFFF, 0x101)}


@dataclass(frozen=True)
class OutputTable:
    """One B2A table with three inputs.

    Attributes:
        first: (3, n) curves of L*, a*, b* at equal steps, 0 to 1.
        nodes: (g, g, g, channels) device values, 0 to 1, L* varying slowest.
        last: (channels, k) curves of the device channels.
        gain, shift: (3,) code 0 to 1 of a Lab colour is gain · Lab + shift.
    """

    first: np.ndarray
    nodes: np.ndarray
    last: np.ndarray
    gain: np.ndarray
    shift: np.ndarray


def output_table(profile: Profile, intent: str) -> OutputTable | None:
    """The table that serves an intent, or None when it is of another kind, or its connection space is not Lab."""
    raw = profile.tags.get(profile.table_for(intent) or "", b"")
    if raw[:4] not in _ENCODINGS or profile.header.pcs != "Lab " or raw[8] != 3 or raw[9] != profile.channels:
        return None
    channels, grid = raw[9], raw[10]
    wide = raw[:4] == b"mft2"
    entries = struct.unpack(">HH", raw[48:52]) if wide else (256, 256)
    kind = np.dtype(">u2" if wide else ">u1")
    counts = (3 * entries[0], grid**3 * channels, channels * entries[1])
    start = 52 if wide else 48
    if min(entries) < 2 or len(raw) < start + sum(counts) * kind.itemsize:
        return None
    values = np.frombuffer(raw, kind, sum(counts), start).astype(np.float32) / np.float32(np.iinfo(kind).max)
    first, nodes, last = np.split(values, np.cumsum(counts)[:2])
    white, step = _ENCODINGS[raw[:4]]
    return OutputTable(
        first.reshape(3, -1),
        np.ascontiguousarray(nodes.reshape(grid, grid, grid, channels)),
        last.reshape(channels, -1),
        np.array([white / 100, step, step]) / 65535.0,
        np.array([0.0, 128 * step, 128 * step]) / 65535.0,
    )
