"""The profile the X server holds for its screen, set by a separate program on a virtual screen."""

import os
import shutil
import subprocess
import sys

import pytest
from tests.conftest import demo_profile

from rehearsal.desk.monitor import x11_root_property

_SET_AND_READ = """
import ctypes as ct, os, sys
data = open(sys.argv[1], "rb").read()
x = ct.CDLL("libX11.so.6")
x.XOpenDisplay.restype = ct.c_void_p
x.XDefaultRootWindow.argtypes, x.XDefaultRootWindow.restype = [ct.c_void_p], ct.c_ulong
x.XInternAtom.argtypes, x.XInternAtom.restype = [ct.c_void_p, ct.c_char_p, ct.c_int], ct.c_ulong
x.XChangeProperty.argtypes = [ct.c_void_p, ct.c_ulong, ct.c_ulong, ct.c_ulong, ct.c_int, ct.c_int, ct.c_char_p, ct.c_int]
x.XSync.argtypes = [ct.c_void_p, ct.c_int]
d = x.XOpenDisplay(os.environ["DISPLAY"].encode())
x.XChangeProperty(d, x.XDefaultRootWindow(d), x.XInternAtom(d, b"_ICC_PROFILE", 0), 6, 8, 0, data, len(data))
x.XSync(d, 0)
from rehearsal.desk.monitor import desktop_profile
path, source = desktop_profile()
print(source, open(path, "rb").read() == data)
"""


@pytest.mark.skipif(not shutil.which("xvfb-run"), reason="no virtual screen here")
def test_x11_property() -> None:
    screen = demo_profile("desk-screen-wide.icc")
    environment = {**os.environ, "DBUS_SYSTEM_BUS_ADDRESS": "unix:path=/nowhere"}
    done = subprocess.run(
        ["xvfb-run", "--auto-servernum", sys.executable, "-c", _SET_AND_READ, screen.where],
        capture_output=True, text=True, check=False, env=environment,
    )  # fmt: skip
    assert done.stdout.strip() == "x11 True", done.stderr


def test_without_x11(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delenv("DISPLAY", raising=False)
    assert x11_root_property("_ICC_PROFILE") == b""
