"""What several commands share: their arguments, and the picture, paper and recipe they name."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile, open_profile
from rehearsal.core.icc.standard import SPACES, working_space
from rehearsal.core.papers.model import check_paper
from rehearsal.core.tuning.opened import OpenPicture, OpenRendition
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.rendering import INTENTS, Rendering
from rehearsal.core.values.rendition import Rendition

if TYPE_CHECKING:
    from rehearsal.tasks.writing import Target


def add_rendering(command: argparse.ArgumentParser) -> None:
    """Intent, compensation and recipe."""
    command.add_argument("--intent", choices=INTENTS, default="relative", help="the rendering intent")
    command.add_argument("--no-bpc", action="store_true", help="without black point compensation")
    command.add_argument("--recipe", help="a tuning, as JSON (docs/recipe.schema.json)")
    command.add_argument("--large", action="store_true", help="open pictures of more than 155 megapixels as well")


def add_force(command: argparse.ArgumentParser) -> None:
    """Whether a file may be replaced."""
    command.add_argument(
        "--force", action="store_true", help="replace an existing file; never a master or a profile in use"
    )


def target_of(arguments: argparse.Namespace, out: Path) -> Target:
    """Where a command writes; what it reads is never written to."""
    from rehearsal.tasks.writing import Target

    given = (getattr(arguments, name, None) for name in ("picture", "paper", "screen", "space", "assume", "recipe"))
    return Target(out, tuple(str(g) for g in given if g), arguments.force)


def read_paper(path: str) -> Profile:
    """A profile that can be printed with."""
    profile = open_profile(path)
    check_paper(profile)
    return profile


def read_space(text: str) -> Profile:
    """A working space by its name, whatever its capitals, or by its file."""
    known = {name.lower(): name for name in SPACES}
    return working_space(known[text.lower()]) if text.lower() in known else read_paper(text)


def read_given(arguments: argparse.Namespace) -> OpenPicture:
    """The picture of a command; what an untagged one was taken for is said."""
    from rehearsal.core.picture.file import read_picture

    assume = open_profile(arguments.assume) if getattr(arguments, "assume", None) else None
    # a command has one picture and keeps nothing: its name will do, and its bytes need not be hashed
    opened = OpenPicture(read_picture(arguments.picture, assume, arguments.large), arguments.picture)
    info = opened.picture.info
    if info.assumed:
        why = f"its profile cannot be used ({info.useless_profile})" if info.useless_profile else "no embedded profile"
        print(f"rehearsal: {why}: {arguments.picture}: taken for {info.profile_name}", file=sys.stderr)
    return opened


def opened_rendition(
    picture: OpenPicture, paper: Profile, arguments: argparse.Namespace, **parts: Any
) -> OpenRendition:
    """The rendition a command is about, with what it names."""
    rendering = Rendering(arguments.intent, not arguments.no_bpc)
    destination, recipe = Destination(paper.digest, paper.where), recipe_of(arguments)
    made = Rendition(picture.digest, rendering=rendering, destination=destination, recipe=recipe, **parts)
    return OpenRendition(made, picture, paper)


def recipe_of(arguments: argparse.Namespace) -> Recipe:
    """The tuning that was given, or none."""

    from rehearsal.tasks.recipes import read_recipe

    return read_recipe(Path(arguments.recipe)) if arguments.recipe else Recipe()


def resolution(ppi: float) -> float:
    """A resolution that can be."""
    if not 1 <= ppi <= 4800:
        raise RehearsalError("the resolution is not possible", str(ppi), "use 1 to 4800 ppi")
    return ppi
