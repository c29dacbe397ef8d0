"""The manual page, made from the parsers of the command line."""

from __future__ import annotations

import argparse
from collections.abc import Iterator

_NAME = "rehearsal \\- rehearse a print before the first sheet"
_DESCRIPTION = (
    "Without a command the window opens, on the last take or on the pictures and profiles that are named. With a command one piece "
    "of work is done and the program ends: with status 0, or with 2 and one line that says what happened, to which file, and what to do."
)


def _plain(text: str) -> str:
    """Text that the formatter leaves as it is, in ASCII (groff_char(7))."""
    made = text.replace("\\", "\\e").replace("-", "\\-")
    made = "".join(c if c.isascii() else f"\\[u{ord(c):04X}]" for c in made)
    return f"\\&{made}" if made[:1] in (".", "'") else made


def _usage(parser: argparse.ArgumentParser) -> str:
    return " ".join(parser.format_usage().removeprefix("usage: ").split())


def _named(action: argparse.Action) -> str:
    """An argument as it is typed."""
    shown = action.metavar if isinstance(action.metavar, str) else action.dest
    value = "{" + ",".join(map(str, action.choices)) + "}" if action.choices else shown.upper()
    if not action.option_strings:
        return shown
    names = ", ".join(action.option_strings)
    return names if action.nargs == 0 else f"{names} {value}"


def _told(action: argparse.Action) -> str:
    default = action.default
    told = f"By default {default}." if isinstance(default, (int, float, str)) and not isinstance(default, bool) else ""
    words = (action.help or "").strip()
    return " ".join(part for part in (f"{words[:1].upper()}{words[1:]}." if words else "", told) if part)


def _arguments(parser: argparse.ArgumentParser) -> Iterator[str]:
    for action in parser._actions:
        if isinstance(action, (argparse._HelpAction, argparse._SubParsersAction)):
            continue
        yield ".TP"
        yield f".B {_plain(_named(action))}"
        yield _plain(_told(action)) or "\\&"


def _commands(parser: argparse.ArgumentParser) -> Iterator[tuple[str, str, argparse.ArgumentParser]]:
    for action in parser._actions:
        if isinstance(action, argparse._SubParsersAction):
            helps = {choice.dest: choice.help or "" for choice in action._choices_actions}
            for name, each in action.choices.items():
                yield name, helps.get(name, ""), each


def manual(version: str, window: argparse.ArgumentParser, commands: argparse.ArgumentParser) -> str:
    """The page in the language of man(7).

    Args:
        window: parser of the window's arguments; commands: the one whose subparsers are the commands.
    """
    lines = [f'.TH REHEARSAL 1 "" "Rehearsal {_plain(version)}" "User Commands"', ".SH NAME", _NAME, ".SH SYNOPSIS"]
    lines += [_plain(_usage(window)), ".br", ".B rehearsal", "COMMAND \\&...", ".SH DESCRIPTION", _plain(_DESCRIPTION)]
    lines += [".SH OPTIONS OF THE WINDOW", *_arguments(window), ".SH COMMANDS"]
    for name, told, parser in _commands(commands):
        lines += [f".SS {_plain(name)}", _plain(f"{told[:1].upper()}{told[1:]}."), ".PP", _plain(_usage(parser))]
        lines += _arguments(parser)
    lines += [
        ".SH FILES",
        ".TP",
        ".I $XDG_DATA_HOME/rehearsal/workbook.sqlite",
        "The workbook: pictures, papers, takes, logbook.",
    ]
    lines += [".TP", ".I $XDG_CACHE_HOME/rehearsal", "Tables that are made again when they are gone."]
    return "\n".join(lines) + "\n"
