"""The command line: inspect, judge, proof, convert, tune, sheet, print, learn, desktop."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any, NoReturn

from rehearsal.commands.common import (
    add_force,
    add_rendering,
    opened_rendition,
    read_given,
    read_paper,
    read_space,
    recipe_of,
    resolution,
    target_of,
)
from rehearsal.commands.desktop import add_desktop, do_desktop
from rehearsal.commands.sheets import add_print, add_sheet, do_print, do_sheet
from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile, open_profile
from rehearsal.core.icc.standard import SPACES
from rehearsal.core.papers.model import check_screen
from rehearsal.core.proof.beyond import LIMIT
from rehearsal.core.proof.chain import VIEWS, Look
from rehearsal.core.sheet.layout import parse_size
from rehearsal.core.sheet.printfile import suggest_name
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.frame import Frame
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition

COMMANDS = ("inspect", "judge", "proof", "convert", "tune", "sheet", "print", "learn", "desktop")


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        print(f"rehearsal: {message}: command line: see rehearsal --help", file=sys.stderr)
        raise SystemExit(2)


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="rehearsal", description="Rehearse a print before the first sheet.")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=_Parser)
    inspect = commands.add_parser("inspect", help="facts of a profile")
    inspect.add_argument("profile", help="an ICC profile, as a file")
    inspect.add_argument("--json", action="store_true", help="answer as JSON")
    for name, text in (("judge", "what a print costs a picture"), ("proof", "write a proof for a screen")):
        command = commands.add_parser(name, help=text)
        command.add_argument("picture", help="a TIFF, PNG or JPEG; it is never written to")
        command.add_argument("--paper", required=True, help="the printer-and-paper profile")
        command.add_argument("--screen", required=name == "proof", help="the screen's profile")
        add_rendering(command)
    judge = commands.choices["judge"]
    judge.add_argument("--limit", type=float, default=LIMIT, help="ΔE₀₀ from which a colour counts as beyond the paper")
    judge.add_argument("--assume", help="the profile a picture is read by that carries none")
    judge.add_argument("--json", action="store_true", help="answer as JSON")
    proof = commands.choices["proof"]
    proof.add_argument("--paper-view", choices=VIEWS, default="true-black", help="how the print is shown")
    proof.add_argument("--out", required=True, help="the file to write")
    add_force(proof)
    _convert(commands)
    tune = commands.add_parser("tune", help="write a picture with a recipe, in its own space")
    tune.add_argument("picture", help="a TIFF, PNG or JPEG; it is never written to")
    tune.add_argument("--recipe", required=True, help="a tuning, as JSON (docs/recipe.schema.json)")
    tune.add_argument("--out", required=True, help="the file to write")
    tune.add_argument("--depth", type=int, choices=(8, 16), default=16, help="bits a channel")
    tune.add_argument("--large", action="store_true", help="open pictures of more than 155 megapixels as well")
    add_force(tune)
    add_sheet(commands)
    add_print(commands)
    learn = commands.add_parser("learn", help="what a logbook teaches for a paper")
    learn.add_argument("log", help="the log's own export, as JSON")
    learn.add_argument("--condition", type=int, required=True, help="the paper's number in the workbook")
    learn.add_argument("--json", action="store_true", help="answer as JSON")
    add_desktop(commands)
    return parser


def _convert(commands: Any) -> None:
    convert = commands.add_parser("convert", help="write the print file")
    convert.add_argument("picture", help="a TIFF, PNG or JPEG; it is never written to")
    target = convert.add_mutually_exclusive_group(required=True)
    target.add_argument("--paper", help="the printer-and-paper profile")
    target.add_argument("--space", help=f"a working space instead of a paper: {', '.join(SPACES)}, or its profile")
    add_rendering(convert)
    convert.add_argument("--size", help="of the print, as 30x20cm or 12x8in")
    convert.add_argument(
        "--fit", choices=("crop", "inside"), default="crop", help="what happens when the proportions differ"
    )
    convert.add_argument("--ppi", type=float, default=300.0, help="pixels to the inch of the print")
    convert.add_argument("--depth", type=int, choices=(8, 16), default=16, help="bits a channel")
    convert.add_argument("--out", help="made from picture, paper and intent when not given")
    add_force(convert)


def _screen(path: str) -> Profile:
    profile = open_profile(path)
    check_screen(profile)
    return profile


def _show(data: dict[str, Any], as_json: bool) -> None:
    if as_json:
        print(json.dumps(data, ensure_ascii=False, allow_nan=False))
        return
    for key, value in data.items():
        print(f"{key}: {json.dumps(value, ensure_ascii=False)}")


def _inspect(arguments: argparse.Namespace) -> None:
    from rehearsal.tasks.inspecting import profile_facts

    _show(profile_facts(open_profile(arguments.profile)), arguments.json)


def _learn(arguments: argparse.Namespace) -> None:
    from rehearsal.tasks.learning import learnt_json, read_log

    _show(learnt_json(read_log(Path(arguments.log)), arguments.condition), arguments.json)


def _tune(arguments: argparse.Namespace) -> None:
    from rehearsal.tasks.recipes import write_tuned

    recipe = recipe_of(arguments)
    picture = read_given(arguments)
    opened = OpenRendition(Rendition(picture.digest, recipe=recipe), picture, picture.picture.profile)
    write_tuned(opened, target_of(arguments, Path(arguments.out)), arguments.depth)


def _judge(arguments: argparse.Namespace) -> None:
    from rehearsal.tasks.judging import judge_rendition, judgement_json, judgement_text, warm_up
    from rehearsal.tasks.tables import KeptTables
    from rehearsal.workbook.home import cache_home

    tables = KeptTables(cache_home() / "tables")
    paper = read_paper(arguments.paper)
    screen = _screen(arguments.screen) if arguments.screen else None
    warming = warm_up(paper, screen, tables)
    picture = read_given(arguments)
    warming.join()
    opened = opened_rendition(picture, paper, arguments)
    result = judge_rendition(opened, screen, limit=arguments.limit, full=True)
    if arguments.json:
        _show(judgement_json(result, opened, screen is not None), True)
    else:
        print("\n".join(judgement_text(result)))
    sys.stdout.flush()
    for profile in filter(None, (paper, screen)):
        tables.keep(profile)


def _proof(arguments: argparse.Namespace) -> None:
    from rehearsal.tasks.proofing import proof_file

    paper, screen = read_paper(arguments.paper), _screen(arguments.screen)
    opened = opened_rendition(read_given(arguments), paper, arguments)
    proof_file(opened, Look(screen, arguments.paper_view), target_of(arguments, Path(arguments.out)))


def _do_convert(arguments: argparse.Namespace) -> None:
    from rehearsal.tasks.writing import write_print_file

    target = read_paper(arguments.paper) if arguments.paper else read_space(arguments.space)
    frame = Frame(size=parse_size(arguments.size) if arguments.size else None, fit=arguments.fit)
    hand_over = HandOver(format="tiff8" if arguments.depth == 8 else "tiff16", ppi=resolution(arguments.ppi))
    rendering = Rendering(arguments.intent, not arguments.no_bpc)
    out = Path(arguments.out or suggest_name(arguments.picture, "", target.description, rendering, ".tif"))
    opened = opened_rendition(read_given(arguments), target, arguments, frame=frame, hand_over=hand_over)
    write_print_file(opened, target_of(arguments, out))
    if not arguments.out:
        print(out)


def run(arguments: list[str], window: Callable[[], argparse.ArgumentParser] = argparse.ArgumentParser) -> int:
    """Run one command; returns the exit status.

    Args:
        window: makes the parser of the window's arguments, for the manual page.
    """
    parser = _parser()
    parsed = parser.parse_args(arguments)
    commands: dict[str, Callable[[argparse.Namespace], None]] = {
        "inspect": _inspect, "judge": _judge, "proof": _proof, "convert": _do_convert, "tune": _tune, "sheet": do_sheet,
        "print": do_print, "learn": _learn, "desktop": lambda parsed: do_desktop(parsed, window(), parser),
    }  # fmt: skip
    try:
        commands[parsed.command](parsed)
    except RehearsalError as error:
        print(f"rehearsal: {error.sentence()}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        sys.stderr.close()
        return 0
    except MemoryError:
        print("rehearsal: not enough memory: this picture: use a smaller one", file=sys.stderr)
        return 2
    except Exception as error:  # the promise to other programs: one line, never a traceback
        text = " ".join(str(error).split()) or "no details"
        print(f"rehearsal: unexpected {type(error).__name__}: {text}: please report this", file=sys.stderr)
        return 2
    return 0
