"""Entry point: picks the window or a command."""

from __future__ import annotations

import os
import sys
from pathlib import Path


def main(arguments: list[str] | None = None) -> int:
    """Run Rehearsal with command-line arguments; returns the exit status."""
    given = sys.argv[1:] if arguments is None else arguments
    from rehearsal.commands.cli import COMMANDS, run
    from rehearsal.desk.arguments import window_parser

    if given and (given[0] in COMMANDS or given[0] in ("-h", "--help")):
        return run(given, window_parser)
    if given and not given[0].startswith("-") and not Path(given[0]).exists():
        print(f"rehearsal: there is no such file or command: {given[0]}: see rehearsal --help", file=sys.stderr)
        return 2
    from rehearsal.desk.start import start

    return start(given)


def program() -> None:
    """Run as a program of its own: it ends with what it has said, and takes nothing apart first (that takes a third of a second)."""
    status = 1
    try:
        status = main()
    except SystemExit as end:  # --help, or arguments that cannot be understood
        status = end.code if isinstance(end.code, int) else 0 if end.code is None else 1
    except BaseException:
        sys.excepthook(*sys.exc_info())
    for stream in (sys.stdout, sys.stderr):
        try:
            stream.flush()
        except (OSError, ValueError):  # whoever listened has gone
            continue
    os._exit(status)


if __name__ == "__main__":
    program()
