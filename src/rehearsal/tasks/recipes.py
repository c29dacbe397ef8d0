"""Recipes out of files, and a picture tuned by one in its own space."""

from __future__ import annotations

import errno
import json
from pathlib import Path
from typing import Any

import numpy as np

from rehearsal.core.errors import PictureError, RehearsalError
from rehearsal.core.picture.write import write_picture
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.recipe import HAND, Recipe, Step
from rehearsal.core.work.files import read_regular
from rehearsal.tasks.writing import Target

#: A longer file is no recipe.
_MOST_BYTES = 1_000_000


def read_object(path: Path, what: str) -> dict[str, Any]:
    """The object in a small file of JSON that should hold a recipe or a habit.

    Raises:
        RehearsalError: what is wrong with it, the file, and what to do.
    """
    tells = f"docs/{what}.schema.json tells"
    try:
        data = json.loads(read_regular(path, _MOST_BYTES).decode("utf-8"))
    except OSError as error:
        if error.errno == errno.EFBIG:
            raise RehearsalError(f"this is no {what}", path, f"choose a file of JSON as {tells}") from None
        raise RehearsalError(f"the {what} cannot be read", path, "choose a file that is there") from None
    except (ValueError, RecursionError):
        raise RehearsalError(f"the {what} is no JSON", path, f"correct it as {tells}") from None
    if not isinstance(data, dict):
        raise RehearsalError(f"the {what} is no object", path, f"write it as {tells}")
    return data


def read_recipe(path: Path) -> Recipe:
    """A recipe from a file of JSON: ``{"maths": …, "steps": […]}``, or amounts alone (``docs/recipe.schema.json``).

    Raises:
        RehearsalError: what is wrong with it, the file, and what to do.
    """
    data = read_object(path, "recipe")
    try:
        if "steps" in data or "maths" in data:
            return Recipe.from_json(data)
        return Recipe().having(Step(HAND, Values.from_json(data)))
    except (TypeError, ValueError, KeyError, AttributeError):
        raise RehearsalError(
            "the recipe holds what is no amount", path, "correct it as docs/recipe.schema.json tells"
        ) from None


def write_tuned(opened: OpenRendition, target: Target, depth: int) -> None:
    """Write a picture with its recipe in its own space, in its own size.

    Raises:
        PictureError: the picture's space cannot be tuned, or nothing can be written there.
    """
    target.check(opened)
    picture = opened.open.picture
    if not (picture.profile.space == "RGB" and picture.profile.is_matrix):
        raise PictureError(
            "only pictures in an RGB working space are tuned in their own space", picture.info.path,
            "convert it to a working space first",
        )  # fmt: skip
    h, w = picture.pixels.shape[:2]
    tuned = opened.wanted.tuned(opened.open.pyramid.whole, (0.0, 0.0, float(w), float(h)))
    pixels = np.round(tuned / 257.0).astype(np.uint8) if depth == 8 else tuned
    write_picture(pixels, picture.profile, picture.info.ppi or 300.0, target.path, target.replace)
