"""The program among a user's own programs: desktop entry, icon, description and manual page, put there and taken away again.

Places are those of the XDG base directory, desktop entry, icon theme and AppStream specifications.
"""

from __future__ import annotations

import shutil
import subprocess
from collections.abc import Callable
from importlib import resources
from pathlib import Path

from rehearsal.core.errors import RehearsalError, system_words
from rehearsal.core.work.files import write_beside

APPLICATION = "app.rehearsal.Rehearsal"


def shipped(ending: str) -> str:
    """Text of a shipped file of the desktop: ``.desktop``, ``.metainfo.xml`` or ``.svg``."""
    found = resources.files("rehearsal") / "data" / "desktop" / f"{APPLICATION}{ending}"
    return found.read_text(encoding="utf-8")


def entry_for(program: Path) -> str:
    """The desktop entry, calling a program by its place (quoted as the desktop entry specification has it)."""
    quoted = "".join(f"\\{c}" if c in '"`$\\' else c for c in str(program)).replace("\\", "\\\\").replace("%", "%%")
    lines = shipped(".desktop").splitlines()
    told = {"Exec": f'"{quoted}" %F', "TryExec": str(program)}
    return "\n".join(f"{k}={told[k]}" if (k := line.partition("=")[0]) in told else line for line in lines) + "\n"


def places(share: Path) -> dict[str, Path]:
    """Where each file belongs below a user's data folder."""
    return {
        ".desktop": share / "applications" / f"{APPLICATION}.desktop",
        ".svg": share / "icons" / "hicolor" / "scalable" / "apps" / f"{APPLICATION}.svg",
        ".metainfo.xml": share / "metainfo" / f"{APPLICATION}.metainfo.xml",
        ".1": share / "man" / "man1" / "rehearsal.1",
    }


def install(share: Path, program: Path, manual: str) -> list[Path]:
    """Put the files below a user's data folder; answers with them.

    Args:
        program: what the desktop entry calls.
        manual: the manual page.

    Raises:
        RehearsalError: one of them cannot be written.
    """
    texts = {
        ".desktop": entry_for(program),
        ".svg": shipped(".svg"),
        ".metainfo.xml": shipped(".metainfo.xml"),
        ".1": manual,
    }
    made = places(share)
    for ending, path in made.items():
        _write(path, texts[ending])
    _tell_desktop(share)
    return list(made.values())


def _write(path: Path, text: str) -> None:
    def write(name: str) -> None:
        Path(name).write_text(text, encoding="utf-8")

    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        write_beside(path, write)
    except OSError as error:
        raise RehearsalError(
            f"the program cannot be installed here ({system_words(error)})", path, "check the folder's permissions"
        ) from error


def remove(share: Path) -> list[Path]:
    """Take the files away again; answers with those that were there. Workbooks and pictures stay."""
    gone = [path for path in places(share).values() if path.is_file() or path.is_symlink()]
    for path in gone:
        try:
            path.unlink()
        except OSError as error:
            raise RehearsalError(
                f"it cannot be taken away ({system_words(error)})", path, "check the folder's permissions"
            ) from error
    _tell_desktop(share)
    return gone


def _tell_desktop(share: Path, run: Callable[..., object] = subprocess.run) -> None:
    """Let the desktop read its entries anew, where it has a command for that."""
    command = shutil.which("update-desktop-database")
    if command is not None and (share / "applications").is_dir():
        run([command, str(share / "applications")], check=False, capture_output=True, timeout=60)
