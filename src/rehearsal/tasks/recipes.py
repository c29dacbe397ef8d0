"""Recipes out of files, and a picture tuned by one in its own space."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np

from rehearsal.core.errors import PictureError, RehearsalError
from rehearsal.core.picture.write import write_picture
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.recipe import HAND, Recipe, Step
from rehearsal.tasks.writing import Target

#: A longer file is no recipe.
_MOST_BYTES = 1_000_000


def read_recipe(path: Path) -> Recipe:
    """A recipe from a file of JSON: ``{"maths": …, "steps": […]}``, or amounts alone (``docs/recipe.schema.json``).

    Raises:
        RehearsalError: what is wrong with it, the file, and what to do.
    """
    try:
        if path.stat().st_size > _MOST_BYTES:
            raise RehearsalError("this is no recipe", path, "choose a file of JSON as docs/recipe.schema.json tells")
        data = json.loads(path.read_text("utf-8"))
    except OSError:
        raise RehearsalError("the recipe cannot be read", path, "choose a file that is there") from None
    except (ValueError, RecursionError):
        raise RehearsalError("the recipe is no JSON", path, "correct it as docs/recipe.schema.json tells") from None
    if not isinstance(data, dict):
        raise RehearsalError("the recipe is no object", path, "write it as docs/recipe.schema.json tells")
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
