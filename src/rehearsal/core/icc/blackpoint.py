"""Black points as the engine finds them for black point compensation."""

from __future__ import annotations

import ctypes as ct

import numpy as np

from rehearsal.core.icc.engine import CIEXYZ, build_lock, engine
from rehearsal.core.icc.profile import Profile
from rehearsal.core.values.rendering import INTENTS


def _detect(function: str, profile: Profile, intent: str) -> np.ndarray:
    point = CIEXYZ()
    with build_lock:
        found = getattr(engine(), function)(ct.byref(point), profile.handle, INTENTS.index(intent), 0)
    return np.array([point.X, point.Y, point.Z]) if found else np.zeros(3)


def source_black(profile: Profile, intent: str) -> np.ndarray:
    """XYZ (3,), D50, white Y = 1, of the black a picture in this profile starts from; zeros when there is none."""
    return _detect("cmsDetectBlackPoint", profile, intent)


def destination_black(profile: Profile, intent: str) -> np.ndarray:
    """XYZ (3,), D50, white Y = 1, of the black this profile can print with the intent; zeros when there is none."""
    return _detect("cmsDetectDestinationBlackPoint", profile, intent)
