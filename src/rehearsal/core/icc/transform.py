"""Transforms of NumPy arrays through any chain of profiles.

Device values are 0 to 1 in floating point (the engine's 0 to 100 for CMYK floats stays inside
this file), 0 to 255 or 0 to 65535 in integers. Lab and XYZ are floats in their usual units.
"""

from __future__ import annotations

import ctypes as ct
import weakref
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from rehearsal.core.errors import ProfileError
from rehearsal.core.icc.engine import (
    FLAG_NOCACHE,
    FLAG_NOOPTIMIZE,
    build_lock,
    clear_messages,
    context,
    engine,
    messages,
)
from rehearsal.core.icc.profile import AnyProfile
from rehearsal.core.values.rendering import INTENTS

_PIXEL_TYPE = {"Gray": 3, "RGB": 4, "CMY": 5, "CMYK": 6, "YCbr": 7, "Luv": 8, "XYZ": 9, "Lab": 10, "HSV": 12}
_BYTES = {"uint8": 1, "uint16": 2, "float32": 4, "float64": 0}
_CHUNK = 1 << 22


@dataclass(frozen=True)
class Step:
    """One profile of a chain with the intent, compensation and adaptation of the leg that leads to it.

    Of the first profile the intent alone counts: it chooses the table by which the pixels are read.
    """

    profile: AnyProfile
    intent: str = "relative"
    compensate: bool = False
    adaptation: float = 1.0


def _format(profile: AnyProfile, dtype: np.dtype) -> int:
    """Engine format word: float flag, colour space, channels, bytes per sample."""
    name = np.dtype(dtype).name
    if name not in _BYTES:
        raise ProfileError(f"pixels of type {name} cannot be converted")
    if profile.space in ("Lab", "XYZ") and not name.startswith("float"):
        raise ProfileError(f"{profile.space} pixels must be floating point")
    kind = _PIXEL_TYPE.get(profile.space, 0)
    is_float = 1 if name.startswith("float") else 0
    return is_float << 22 | kind << 16 | profile.channels << 3 | _BYTES[name]


class Transform:
    """A prepared conversion; safe to share between threads (made without the engine's one-pixel cache).

    Args:
        steps: one device link, or more; the intent of the first chooses the table by which the pixels are read.
        dtype_in, dtype_out: NumPy types of the arrays.
        exact: keep the engine from resampling the chain into a table.

    Raises:
        ProfileError: with the engine's own text when the chain cannot be built.
    """

    def __init__(
        self,
        steps: Sequence[Step],
        dtype_in: type | str = np.float64,
        dtype_out: type | str = np.float64,
        exact: bool = True,
    ) -> None:
        self.source, self.target = steps[0].profile, steps[-1].profile
        self.dtype_in, self.dtype_out = np.dtype(dtype_in), np.dtype(dtype_out)
        self._profiles = [s.profile for s in steps]
        self._handle = self._create(steps, exact)

    def _create(self, steps: Sequence[Step], exact: bool) -> int:
        n = len(steps)
        profiles = (ct.c_void_p * n)(*[s.profile.handle for s in steps])
        compensate = (ct.c_int * n)(*[int(s.compensate) for s in steps])
        intents = (ct.c_uint32 * n)(*[INTENTS.index(s.intent) for s in steps])
        states = (ct.c_double * n)(*[s.adaptation for s in steps])
        flags = FLAG_NOCACHE | (FLAG_NOOPTIMIZE if exact else 0)
        with build_lock:
            clear_messages()
            handle = engine().cmsCreateExtendedTransform(
                context(), n, profiles, compensate, intents, states, None, 0,
                _format(self.source, self.dtype_in), _format(self.target, self.dtype_out), flags,
            )  # fmt: skip
        if not handle:
            names = ", ".join(getattr(s.profile, "where", s.profile.space) for s in steps)
            reason = messages() or "the profiles do not fit together"
            raise ProfileError(
                f"the colour engine cannot join these profiles ({reason})", names, "choose other profiles"
            )
        self._finalizer = weakref.finalize(self, engine().cmsDeleteTransform, handle)
        return int(handle)

    def apply(self, pixels: np.ndarray) -> np.ndarray:
        """Convert an array of shape (..., channels in) into (..., channels out).

        A Gray array may come without its last axis of length one.
        """
        values = np.ascontiguousarray(pixels, dtype=self.dtype_in)
        if values.shape[-1] != self.source.channels:
            if self.source.channels != 1:
                raise ProfileError(f"{values.shape[-1]} channels given where {self.source.channels} are wanted")
            values = values[..., None]
        if self.source.space == "CMYK" and self.dtype_in.kind == "f":
            values = values * self.dtype_in.type(100)
        shape = values.shape[:-1]
        out = np.empty((*shape, self.target.channels), dtype=self.dtype_out)
        self._run(values.reshape(-1, self.source.channels), out.reshape(-1, self.target.channels))
        if self.target.space == "CMYK" and self.dtype_out.kind == "f":
            out /= 100.0
        return out

    def _run(self, flat: np.ndarray, out: np.ndarray) -> None:
        do = engine().cmsDoTransform
        for start in range(0, len(flat), _CHUNK):
            part = flat[start : start + _CHUNK]
            do(self._handle, part.ctypes.data, out[start:].ctypes.data, len(part))
