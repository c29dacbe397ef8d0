"""The command line: inspect, judge, proof, convert."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import Any, NoReturn

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import INTENTS, Profile, open_profile
from rehearsal.core.papers.model import check_destination
from rehearsal.core.proof.beyond import LIMIT
from rehearsal.core.proof.chain import VIEWS, Rendering
from rehearsal.core.sheet.export import ExportPlan, suggest_name
from rehearsal.core.sheet.layout import parse_size

COMMANDS = ("inspect", "judge", "proof", "convert")


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        print(f"rehearsal: {message}: command line: see rehearsal --help", file=sys.stderr)
        raise SystemExit(2)


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="rehearsal", description="Rehearse a print before the first sheet.")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=_Parser)
    inspect = commands.add_parser("inspect", help="facts of a profile")
    inspect.add_argument("profile")
    inspect.add_argument("--json", action="store_true")
    for name, text in (("judge", "what a print costs a picture"), ("proof", "write a proof for a screen")):
        command = commands.add_parser(name, help=text)
        command.add_argument("picture")
        command.add_argument("--paper", required=True)
        command.add_argument("--screen", required=name == "proof")
        _rendering(command)
    judge = commands.choices["judge"]
    judge.add_argument("--limit", type=float, default=LIMIT)
    judge.add_argument("--assume")
    judge.add_argument("--json", action="store_true")
    proof = commands.choices["proof"]
    proof.add_argument("--paper-view", choices=VIEWS, default="true-black")
    proof.add_argument("--out", required=True)
    _convert(commands)
    return parser


def _rendering(command: argparse.ArgumentParser) -> None:
    command.add_argument("--intent", choices=INTENTS, default="relative")
    command.add_argument("--no-bpc", action="store_true")


def _convert(commands: Any) -> None:
    convert = commands.add_parser("convert", help="write the print file")
    convert.add_argument("picture")
    target = convert.add_mutually_exclusive_group(required=True)
    target.add_argument("--paper")
    target.add_argument("--space")
    _rendering(convert)
    convert.add_argument("--size")
    convert.add_argument("--fit", choices=("crop", "inside"), default="crop")
    convert.add_argument("--ppi", type=float, default=300.0)
    convert.add_argument("--depth", type=int, choices=(8, 16), default=16)
    convert.add_argument("--out", help="made from picture, paper and intent when not given")


def _paper(path: str) -> Profile:
    profile = open_profile(path)
    check_destination(profile)
    return profile


def _show(data: dict[str, Any], as_json: bool) -> None:
    if as_json:
        print(json.dumps(data, ensure_ascii=False, allow_nan=False))
        return
    for key, value in data.items():
        print(f"{key}: {json.dumps(value, ensure_ascii=False)}")


def _inspect(arguments: argparse.Namespace) -> None:
    from rehearsal.tasks.profiles import profile_facts

    _show(profile_facts(open_profile(arguments.profile)), arguments.json)


def _read(arguments: argparse.Namespace) -> Any:
    from rehearsal.core.picture.file import read_picture

    assume = open_profile(arguments.assume) if getattr(arguments, "assume", None) else None
    picture = read_picture(arguments.picture, assume)
    if picture.info.assumed:
        print(
            f"rehearsal: no embedded profile: {arguments.picture}: taken for {picture.profile.description}",
            file=sys.stderr,
        )
    return picture


def _judge(arguments: argparse.Namespace) -> None:
    from rehearsal.tasks.pictures import judge_picture, judgement_json, warm_up

    paper = _paper(arguments.paper)
    screen = _paper(arguments.screen) if arguments.screen else None
    warming = warm_up(paper)
    picture = _read(arguments)
    warming.join()
    rendering = Rendering(arguments.intent, not arguments.no_bpc)
    result = judge_picture(picture, paper, rendering, screen, arguments.limit)
    _show(judgement_json(result, picture, paper, screen is not None), arguments.json)


def _proof(arguments: argparse.Namespace) -> None:
    from rehearsal.tasks.pictures import proof_file

    paper, screen = _paper(arguments.paper), _paper(arguments.screen)
    rendering = Rendering(arguments.intent, not arguments.no_bpc)
    proof_file(_read(arguments), paper, screen, rendering, arguments.paper_view, Path(arguments.out))


def _do_convert(arguments: argparse.Namespace) -> None:
    from rehearsal.tasks.pictures import convert_file

    target = _paper(arguments.paper or arguments.space)
    size = parse_size(arguments.size) if arguments.size else None
    if not 1 <= arguments.ppi <= 4800:
        raise RehearsalError("the resolution is not possible", str(arguments.ppi), "use 1 to 4800 ppi")
    rendering = Rendering(arguments.intent, not arguments.no_bpc)
    plan = ExportPlan(target, rendering, size, arguments.fit, arguments.ppi, arguments.depth)
    out = Path(arguments.out or suggest_name(arguments.picture, "", target.description, rendering, ".tif"))
    convert_file(_read(arguments), plan, out)
    if not arguments.out:
        print(out)


def run(arguments: list[str]) -> int:
    """Run one command; returns the exit status."""
    parsed = _parser().parse_args(arguments)
    work = {"inspect": _inspect, "judge": _judge, "proof": _proof, "convert": _do_convert}[parsed.command]
    try:
        work(parsed)
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
