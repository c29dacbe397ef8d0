"""The profile the desktop uses for a screen: its colour service over D-Bus, else the X11 property."""

from __future__ import annotations

import contextlib
import subprocess
import tempfile
from pathlib import Path
from typing import Any

from PyQt6.QtDBus import QDBusConnection, QDBusInterface, QDBusMessage

_SERVICE = "org.freedesktop.ColorManager"
_ROOT = "/org/freedesktop/ColorManager"


def desktop_profile() -> tuple[str, str] | None:
    """Path and source of the first display's profile, or None when the desktop knows none."""
    return _from_colour_service() or _from_x11()


def _call(path: str, interface: str, method: str, *arguments: object) -> QDBusMessage:
    """One call on the system bus, never longer than a second."""
    proxy = QDBusInterface(_SERVICE, path, interface, QDBusConnection.systemBus())
    proxy.setTimeout(1000)
    return proxy.call(method, *arguments)


def _from_colour_service() -> tuple[str, str] | None:
    bus = QDBusConnection.systemBus()
    if not bus.isConnected():
        return None
    answer = _call(_ROOT, _SERVICE, "GetDevicesByKind", "display")
    if answer.type() != QDBusMessage.MessageType.ReplyMessage or not answer.arguments():
        return None
    for device in answer.arguments()[0] or []:
        profiles = _property(str(getattr(device, "path", lambda d=device: d)()), "Device", "Profiles")
        for profile in profiles or []:
            path = _property(str(getattr(profile, "path", lambda p=profile: p)()), "Profile", "Filename")
            if path and Path(str(path)).exists():
                return str(path), "the desktop's colour service"
    return None


def _property(path: str, kind: str, name: str) -> Any:
    answer = _call(path, "org.freedesktop.DBus.Properties", "Get", f"{_SERVICE}.{kind}", name)
    if answer.type() != QDBusMessage.MessageType.ReplyMessage or not answer.arguments():
        return None
    value = answer.arguments()[0]
    return value.variant() if hasattr(value, "variant") else value


def _from_x11() -> tuple[str, str] | None:
    """The _ICC_PROFILE property of the root window (ICC profiles in X specification 0.4), through xprop."""
    with contextlib.suppress(OSError, subprocess.SubprocessError, ValueError):
        text = subprocess.run(
            ["xprop", "-root", "-notype", "8c", "_ICC_PROFILE"], capture_output=True, text=True, timeout=2, check=True
        ).stdout
        numbers = [int(n) & 0xFF for n in text.partition("=")[2].replace(",", " ").split()]
        if len(numbers) > 128:
            path = Path(tempfile.gettempdir()) / "rehearsal-screen-from-x11.icc"
            path.write_bytes(bytes(numbers))
            return str(path), "the X11 root window"
    return None
