"""The profile the desktop uses for a screen: its colour service over D-Bus, else the X11 property."""

from __future__ import annotations

import ctypes as ct
import hashlib
import os
from pathlib import Path
from typing import Any

from PyQt6.QtDBus import QDBusConnection, QDBusInterface, QDBusMessage

from rehearsal.core.work.files import write_beside
from rehearsal.workbook.home import data_home

_SERVICE = "org.freedesktop.ColorManager"
_HEADER = 128
_ROOT = "/org/freedesktop/ColorManager"


def desktop_profile(index: int = 0, name: str = "") -> tuple[str, str] | None:
    """Path and source key of a display's profile, or None when the desktop knows none.

    Args:
        index: place of the screen among all, for the X11 property.
        name: the output's name; the colour service's display of that name is preferred.
    """
    return _from_colour_service(name) or _from_x11(index)


def desktop_converts() -> str:
    """Why the desktop may convert colours as well, as a sentence; empty when nothing speaks for it."""
    kind = os.environ.get("XDG_SESSION_TYPE", "")
    if kind == "wayland" or os.environ.get("WAYLAND_DISPLAY"):
        return "This desktop composes with Wayland, which may convert colours as well. Switch that off, or give it sRGB here."
    return ""


def _call(path: str, interface: str, method: str, *arguments: object) -> QDBusMessage:
    """One call on the system bus, never longer than a second."""
    proxy = QDBusInterface(_SERVICE, path, interface, QDBusConnection.systemBus())
    proxy.setTimeout(1000)
    return proxy.call(method, *arguments)


def _from_colour_service(name: str = "") -> tuple[str, str] | None:
    bus = QDBusConnection.systemBus()
    if not bus.isConnected():
        return None
    answer = _call(_ROOT, _SERVICE, "GetDevicesByKind", "display")
    if answer.type() != QDBusMessage.MessageType.ReplyMessage or not answer.arguments():
        return None
    devices = [str(getattr(device, "path", lambda d=device: d)()) for device in answer.arguments()[0] or []]
    # the display of the wanted output first, the others only when there is but one
    named = [d for d in devices if name and name.lower().replace("-", "_") in d.lower().replace("-", "_")]
    for device in named or (devices if len(devices) == 1 or not name else []):
        profiles = _property(device, "Device", "Profiles")
        for profile in profiles or []:
            path = _property(str(getattr(profile, "path", lambda p=profile: p)()), "Profile", "Filename")
            if path and Path(str(path)).exists():
                return str(path), "colour-service"
    return None


def _property(path: str, kind: str, name: str) -> Any:
    answer = _call(path, "org.freedesktop.DBus.Properties", "Get", f"{_SERVICE}.{kind}", name)
    if answer.type() != QDBusMessage.MessageType.ReplyMessage or not answer.arguments():
        return None
    value = answer.arguments()[0]
    return value.variant() if hasattr(value, "variant") else value


def _from_x11(index: int = 0) -> tuple[str, str] | None:
    """The _ICC_PROFILE property of the root window, _ICC_PROFILE_1 for the second screen (ICC profiles in X 0.4)."""
    data = x11_root_property(f"_ICC_PROFILE_{index}" if index else "_ICC_PROFILE")
    if len(data) <= _HEADER:
        return None
    path = data_home() / "screens" / f"{hashlib.sha256(data).hexdigest()[:16]}.icc"
    try:
        path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
        write_beside(path, lambda name: _write(name, data))
    except OSError:
        return None
    return str(path), "x11"


def _write(name: str, data: bytes) -> None:
    Path(name).write_bytes(data)


def x11_root_property(name: str) -> bytes:
    """Bytes of a property of the default root window; empty without X11 or without the property."""
    display_name = os.environ.get("DISPLAY")
    if not display_name:
        return b""
    try:
        x11 = ct.CDLL("libX11.so.6")
    except OSError:
        return b""
    for function, result, arguments in (
        ("XOpenDisplay", ct.c_void_p, [ct.c_char_p]),
        ("XDefaultRootWindow", ct.c_ulong, [ct.c_void_p]),
        ("XInternAtom", ct.c_ulong, [ct.c_void_p, ct.c_char_p, ct.c_int]),
        ("XGetWindowProperty", ct.c_int, [ct.c_void_p, ct.c_ulong, ct.c_ulong, ct.c_long, ct.c_long, ct.c_int, ct.c_ulong]
         + [ct.c_void_p] * 5),
        ("XFree", ct.c_int, [ct.c_void_p]),
        ("XCloseDisplay", ct.c_int, [ct.c_void_p]),
    ):  # fmt: skip
        getattr(x11, function).restype, getattr(x11, function).argtypes = result, arguments
    display = x11.XOpenDisplay(display_name.encode())
    if not display:
        return b""
    try:
        return _read_property(x11, display, name)
    finally:
        x11.XCloseDisplay(display)


def _read_property(x11: Any, display: int, name: str) -> bytes:
    atom = x11.XInternAtom(display, name.encode(), 1)
    if not atom:
        return b""
    kind, form = ct.c_ulong(), ct.c_int()
    count, rest, data = ct.c_ulong(), ct.c_ulong(), ct.c_void_p()
    failed = x11.XGetWindowProperty(
        display, x11.XDefaultRootWindow(display), atom, 0, 1 << 24, 0, 0,
        ct.byref(kind), ct.byref(form), ct.byref(count), ct.byref(rest), ct.byref(data),
    )  # fmt: skip
    if failed or not data.value or form.value != 8:
        return b""
    found = ct.string_at(data.value, count.value)
    x11.XFree(data)
    return found
