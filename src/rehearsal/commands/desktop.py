"""``rehearsal desktop``: into the menus of this user's desktop and out again; the manual page."""

from __future__ import annotations

import argparse
import os
import shutil
import sys
from importlib import metadata
from pathlib import Path
from typing import Any

from rehearsal.commands.manual import manual
from rehearsal.tasks.installing import install, remove


def _share() -> Path:
    """The user's data folder (XDG base directory specification)."""
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")


def _program() -> Path:
    """The program as it was called, by its own place; a link to it is kept."""
    beside = Path(sys.executable).with_name("rehearsal")
    found = beside if beside.exists() else Path(shutil.which("rehearsal") or sys.argv[0])
    return found.absolute()


def do_desktop(parsed: argparse.Namespace, window: argparse.ArgumentParser, commands: argparse.ArgumentParser) -> None:
    """Do what was asked for.

    Raises:
        RehearsalError: a file cannot be written or taken away.
    """
    page = manual(metadata.version("rehearsal"), window, commands)
    if parsed.manual:
        print(page, end="")
    elif parsed.remove:
        gone = remove(_share())
        print(
            "rehearsal: taken out of this user's programs"
            if gone
            else "rehearsal: it was not among this user's programs"
        )
    else:
        install(_share(), _program(), page)
        print("rehearsal: it is among this user's programs now; pictures open in it from the file manager")


def add_desktop(commands: Any) -> None:
    """The command's arguments."""
    desktop = commands.add_parser("desktop", help="put the program among this user's programs, or take it out again")
    wanted = desktop.add_mutually_exclusive_group(required=True)
    wanted.add_argument("--install", action="store_true", help="desktop entry, icon, description and manual page")
    wanted.add_argument("--remove", action="store_true", help="take them away again; workbooks and pictures stay")
    wanted.add_argument("--manual", action="store_true", help="print the manual page")
