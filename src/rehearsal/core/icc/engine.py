"""Loading of liblcms2 and its prototypes. Nothing outside this folder touches ctypes.

The engine reports errors through a callback; they are gathered per thread and raised
as :class:`ProfileError` with the engine's own words.
"""

from __future__ import annotations

import ctypes as ct
import ctypes.util
import functools
import threading
from typing import Any

from rehearsal.core.errors import ProfileError

FLAG_NOCACHE = 0x0040
FLAG_NOOPTIMIZE = 0x0100

_messages = threading.local()
#: Opening profiles and making transforms read shared tags; applying a transform does not need it.
build_lock = threading.RLock()

LOG_HANDLER = ct.CFUNCTYPE(None, ct.c_void_p, ct.c_uint32, ct.c_char_p)


class CIEXYZ(ct.Structure):
    """XYZ triple of the engine."""

    _fields_ = (("X", ct.c_double), ("Y", ct.c_double), ("Z", ct.c_double))


@LOG_HANDLER
def _on_error(_context: Any, _code: int, text: bytes) -> None:
    getattr(_messages, "items", []).append(text.decode("utf-8", "replace"))


_PROTOTYPES: dict[str, tuple[Any, list[Any]]] = {
    "cmsCreateContext": (ct.c_void_p, [ct.c_void_p, ct.c_void_p]),
    "cmsSetLogErrorHandlerTHR": (None, [ct.c_void_p, LOG_HANDLER]),
    "cmsOpenProfileFromMemTHR": (ct.c_void_p, [ct.c_void_p, ct.c_char_p, ct.c_uint32]),
    "cmsCloseProfile": (ct.c_int, [ct.c_void_p]),
    "cmsCreateLab4ProfileTHR": (ct.c_void_p, [ct.c_void_p, ct.c_void_p]),
    "cmsCreateXYZProfileTHR": (ct.c_void_p, [ct.c_void_p]),
    "cmsIsIntentSupported": (ct.c_int, [ct.c_void_p, ct.c_uint32, ct.c_uint32]),
    "cmsCreateExtendedTransform": (
        ct.c_void_p,
        [*[ct.c_void_p, ct.c_uint32], *[ct.c_void_p] * 5, *[ct.c_uint32] * 4],
    ),
    "cmsDeleteTransform": (None, [ct.c_void_p]),
    "cmsDoTransform": (None, [ct.c_void_p, ct.c_void_p, ct.c_void_p, ct.c_uint32]),
    "cmsDetectBlackPoint": (ct.c_int, [ct.POINTER(CIEXYZ), ct.c_void_p, ct.c_uint32, ct.c_uint32]),
    "cmsDetectDestinationBlackPoint": (ct.c_int, [ct.POINTER(CIEXYZ), ct.c_void_p, ct.c_uint32, ct.c_uint32]),
    "cmsGetEncodedCMMversion": (ct.c_int, []),
}


@functools.cache
def engine() -> Any:
    """The loaded library with typed prototypes; raises ProfileError in one clear line when it is missing."""
    for name in ("liblcms2.so.2", ctypes.util.find_library("lcms2")):
        if not name:
            continue
        try:
            lib = ct.CDLL(name)
            break
        except OSError:
            continue
    else:
        raise ProfileError("the colour engine is missing", "liblcms2.so.2", "install the Debian package liblcms2-2")
    for name, (result, arguments) in _PROTOTYPES.items():
        function = getattr(lib, name)
        function.restype, function.argtypes = result, arguments
    return lib


@functools.cache
def context() -> int:
    """The one engine context, with the error callback installed."""
    made = engine().cmsCreateContext(None, None)
    engine().cmsSetLogErrorHandlerTHR(made, _on_error)
    return int(made)


def version() -> str:
    """Engine version, for example ``2.14``."""
    number = int(engine().cmsGetEncodedCMMversion())
    return f"{number // 1000}.{number % 1000 // 10}"


def clear_messages() -> None:
    """Forget what the engine has said to this thread."""
    _messages.items = []


def messages() -> str:
    """What the engine has said to this thread since :func:`clear_messages`."""
    return "; ".join(getattr(_messages, "items", []))
