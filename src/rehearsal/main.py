"""Entry point: picks the window or a command."""

from __future__ import annotations

import sys


def main(arguments: list[str] | None = None) -> int:
    """Run Rehearsal with command-line arguments; returns the exit status."""
    given = sys.argv[1:] if arguments is None else arguments
    from rehearsal.commands.cli import COMMANDS, run

    if given and (given[0] in COMMANDS or given[0] in ("-h", "--help")):
        return run(given)
    from rehearsal.desk.start import start

    return start(given)


if __name__ == "__main__":
    raise SystemExit(main())
