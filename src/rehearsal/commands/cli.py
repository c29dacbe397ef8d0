"""The command line: inspect, judge, proof, convert, tune, sheet."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile, open_profile
from rehearsal.core.papers.model import check_paper, check_screen
from rehearsal.core.papers.surface import SIGMA_UM, family
from rehearsal.core.proof.beyond import LIMIT
from rehearsal.core.proof.chain import VIEWS, Look
from rehearsal.core.sheet.layout import fit_size, parse_size, sheet_name
from rehearsal.core.sheet.printfile import suggest_name
from rehearsal.core.tuning.opened import OpenPicture, OpenRendition
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.frame import Frame
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.rendering import INTENTS, Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.sheet import Sheet

if TYPE_CHECKING:
    from rehearsal.tasks.writing import Target

COMMANDS = ("inspect", "judge", "proof", "convert", "tune", "sheet")


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
    _force(proof)
    _convert(commands)
    tune = commands.add_parser("tune", help="write a picture with a recipe, in its own space")
    tune.add_argument("picture")
    tune.add_argument("--recipe", required=True)
    tune.add_argument("--out", required=True)
    tune.add_argument("--depth", type=int, choices=(8, 16), default=16)
    tune.add_argument("--large", action="store_true", help="open pictures of more than 155 megapixels as well")
    _force(tune)
    _sheet(commands)
    return parser


def _sheet(commands: Any) -> None:
    sheet = commands.add_parser("sheet", help="write the whole page: the print at its place on bare paper")
    sheet.add_argument("picture")
    sheet.add_argument("--paper", required=True)
    _rendering(sheet)
    sheet.add_argument("--size", required=True)
    sheet.add_argument("--sheet", required=True)
    sheet.add_argument("--ppi", type=float, default=300.0)
    sheet.add_argument("--depth", type=int, choices=(8, 16), help="16 for TIFF, 8 for PDF when not given")
    sheet.add_argument("--margins", default="0,0,0,0", help="least bare paper in mm: top, right, bottom, left")
    sheet.add_argument("--place", default="centre", help="centre, foot:15, or mm from the left and the top: 30,45")
    sheet.add_argument("--sharpen", type=float, default=0.0, help="per cent, 0 to 150")
    sheet.add_argument("--surface", default="", help=f"of the paper: {', '.join(SIGMA_UM)}")
    sheet.add_argument("--out", required=True)
    _force(sheet)


def _rendering(command: argparse.ArgumentParser) -> None:
    command.add_argument("--intent", choices=INTENTS, default="relative")
    command.add_argument("--no-bpc", action="store_true")
    command.add_argument("--recipe", help="a tuning, as JSON (docs/recipe.schema.json)")
    command.add_argument("--large", action="store_true", help="open pictures of more than 155 megapixels as well")


def _force(command: argparse.ArgumentParser) -> None:
    command.add_argument(
        "--force", action="store_true", help="replace an existing file; never a master or a profile in use"
    )


def _target(arguments: argparse.Namespace, out: Path) -> Target:
    """Where a command writes; what it reads is never written to."""
    from rehearsal.tasks.writing import Target

    given = (getattr(arguments, name, None) for name in ("picture", "paper", "screen", "space", "assume", "recipe"))
    return Target(out, tuple(str(g) for g in given if g), arguments.force)


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
    _force(convert)


def _paper(path: str) -> Profile:
    profile = open_profile(path)
    check_paper(profile)
    return profile


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


def _read(arguments: argparse.Namespace) -> OpenPicture:
    from rehearsal.core.picture.file import read_picture

    assume = open_profile(arguments.assume) if getattr(arguments, "assume", None) else None
    # a command has one picture and keeps nothing: its name will do, and its bytes need not be hashed
    opened = OpenPicture(read_picture(arguments.picture, assume, arguments.large), arguments.picture)
    info = opened.picture.info
    if info.assumed:
        why = f"its profile cannot be used ({info.useless_profile})" if info.useless_profile else "no embedded profile"
        print(f"rehearsal: {why}: {arguments.picture}: taken for {info.profile_name}", file=sys.stderr)
    return opened


def _opened(picture: OpenPicture, paper: Profile, arguments: argparse.Namespace, **parts: Any) -> OpenRendition:
    """The rendition a command is about, with what it names."""
    rendering = Rendering(arguments.intent, not arguments.no_bpc)
    destination, recipe = Destination(paper.digest, paper.where), _recipe(arguments)
    made = Rendition(picture.digest, rendering=rendering, destination=destination, recipe=recipe, **parts)
    return OpenRendition(made, picture, paper)


def _recipe(arguments: argparse.Namespace) -> Recipe:
    """The tuning that was given, or none."""
    from rehearsal.tasks.recipes import read_recipe

    return read_recipe(Path(arguments.recipe)) if arguments.recipe else Recipe()


def _tune(arguments: argparse.Namespace) -> None:
    from rehearsal.tasks.recipes import write_tuned

    recipe = _recipe(arguments)
    picture = _read(arguments)
    opened = OpenRendition(Rendition(picture.digest, recipe=recipe), picture, picture.picture.profile)
    write_tuned(opened, _target(arguments, Path(arguments.out)), arguments.depth)


def _judge(arguments: argparse.Namespace) -> None:
    from rehearsal.tasks.judging import judge_rendition, judgement_json, judgement_text, warm_up
    from rehearsal.tasks.tables import KeptTables
    from rehearsal.workbook.home import cache_home

    tables = KeptTables(cache_home() / "tables")
    paper = _paper(arguments.paper)
    screen = _screen(arguments.screen) if arguments.screen else None
    warming = warm_up(paper, screen, tables)
    picture = _read(arguments)
    warming.join()
    opened = _opened(picture, paper, arguments)
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

    paper, screen = _paper(arguments.paper), _screen(arguments.screen)
    opened = _opened(_read(arguments), paper, arguments)
    proof_file(opened, Look(screen, arguments.paper_view), _target(arguments, Path(arguments.out)))


def _do_convert(arguments: argparse.Namespace) -> None:
    from rehearsal.tasks.writing import write_print_file

    target = _paper(arguments.paper or arguments.space)
    frame = Frame(size=parse_size(arguments.size) if arguments.size else None, fit=arguments.fit)
    hand_over = HandOver(format="tiff8" if arguments.depth == 8 else "tiff16", ppi=_resolution(arguments.ppi))
    rendering = Rendering(arguments.intent, not arguments.no_bpc)
    out = Path(arguments.out or suggest_name(arguments.picture, "", target.description, rendering, ".tif"))
    opened = _opened(_read(arguments), target, arguments, frame=frame, hand_over=hand_over)
    write_print_file(opened, _target(arguments, out))
    if not arguments.out:
        print(out)


def _do_sheet(arguments: argparse.Namespace) -> None:
    from rehearsal.tasks.paging import PageOrder, write_page

    out = Path(arguments.out)
    depth = arguments.depth or (8 if out.suffix.lower() == ".pdf" else 16)
    opened = _on_sheet(arguments, depth)
    write_page(PageOrder((opened,)), _target(arguments, out))


def _on_sheet(arguments: argparse.Namespace, depth: int) -> OpenRendition:
    """The rendition of a page: size, sheet and place as they were given."""
    from rehearsal.core.sheet.placing import parse_sheet, place_print

    paper, picture, wanted = _paper(arguments.paper), _read(arguments), parse_size(arguments.size)
    size = fit_size(wanted, *picture.size)
    mm = parse_sheet(arguments.sheet, size)
    place_print(size, mm, arguments.place, _margins(arguments.margins))
    hand_over = HandOver(
        format="tiff8" if depth == 8 else "tiff16", ppi=_resolution(arguments.ppi), sharpen=arguments.sharpen,
        sigma_um=_spread(arguments.sharpen, arguments.surface),
    )  # fmt: skip
    sheet = Sheet(sheet_name(arguments.sheet), place=arguments.place)
    return _opened(picture, paper, arguments, frame=Frame(size=size), hand_over=hand_over, sheet=sheet)


def _margins(text: str) -> tuple[float, float, float, float]:
    try:
        top, right, foot, left = (float(part) for part in text.split(","))
    except ValueError:
        raise RehearsalError("the margins are not understood", text, "write four numbers in mm like 5,5,15,5") from None
    if not all(0 <= side < 1000 for side in (top, right, foot, left)):
        raise RehearsalError("the margins are not possible", text, "write four numbers in mm like 5,5,15,5")
    return top, right, foot, left


def _spread(sharpen: float, surface: str) -> float:
    """Spread of a surface in µm; 0 when nothing is sharpened."""
    if not 0 <= sharpen <= 150:
        raise RehearsalError("the strength of sharpening is not possible", f"{sharpen:g}", "use 0 to 150 per cent")
    kind = family(surface)
    if sharpen and not kind:
        raise RehearsalError(
            "sharpening needs the paper's surface", surface or "--surface", f"name one of {', '.join(SIGMA_UM)}"
        )
    return SIGMA_UM.get(kind, 0.0) if sharpen else 0.0


def _resolution(ppi: float) -> float:
    if not 1 <= ppi <= 4800:
        raise RehearsalError("the resolution is not possible", str(ppi), "use 1 to 4800 ppi")
    return ppi


def run(arguments: list[str]) -> int:
    """Run one command; returns the exit status."""
    parsed = _parser().parse_args(arguments)
    work = {
        "inspect": _inspect, "judge": _judge, "proof": _proof, "convert": _do_convert, "tune": _tune, "sheet": _do_sheet,
    }[parsed.command]  # fmt: skip
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
