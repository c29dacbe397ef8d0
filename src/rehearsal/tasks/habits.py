"""Habits as files of JSON (``docs/habit.schema.json``)."""

from __future__ import annotations

import json
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from rehearsal.core.errors import RehearsalError
from rehearsal.core.picture.write import put_in_place
from rehearsal.core.proof.chain import VIEWS
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.rendering import INTENTS
from rehearsal.tasks.recipes import read_object
from rehearsal.tasks.writing import Target
from rehearsal.workbook.values import Habit

_TELLS = "correct it as docs/habit.schema.json tells"
_KEYS = {"habit", "values", "intent", "compensate", "view"}


def habit_json(habit: Habit) -> dict[str, Any]:
    """What a habit holds, without what belongs to one workbook (its paper, and whether takes begin with it)."""
    made: dict[str, Any] = {"habit": habit.name}
    if habit.values:
        made["values"] = habit.values.to_json()
    if habit.intent:
        made["intent"] = habit.intent
    if habit.compensate is not None:
        made["compensate"] = habit.compensate
    if habit.view:
        made["view"] = habit.view
    return made


def habit_from_json(data: Mapping[str, Any], path: Path) -> Habit:
    """From plain data.

    Raises:
        RehearsalError: what is wrong with it, the file, and what to do.
    """
    unknown = sorted(set(data) - _KEYS)
    if unknown:
        raise RehearsalError(f"the habit holds something unknown ({', '.join(unknown)})", path, "use a newer Rehearsal")
    name, intent, view, compensate = (data.get(key) for key in ("habit", "intent", "view", "compensate"))
    if not isinstance(name, str) or not name.strip():
        raise RehearsalError("the habit has no name", path, _TELLS)
    if intent not in (None, *INTENTS):
        raise RehearsalError(f"the habit's intent is none of {', '.join(INTENTS)}", path, _TELLS)
    if view not in (None, *VIEWS):
        raise RehearsalError(f"the habit's view is none of {', '.join(VIEWS)}", path, _TELLS)
    if compensate not in (None, True, False) or (
        isinstance(compensate, (int, float)) and not isinstance(compensate, bool)
    ):
        raise RehearsalError("the habit's compensation is neither true nor false", path, _TELLS)
    try:
        values = Values.from_json(data.get("values") or {})
    except (TypeError, ValueError, KeyError, AttributeError):
        raise RehearsalError("the habit holds what is no amount", path, _TELLS) from None
    made = Habit(name=name.strip(), values=values, intent=intent or "", compensate=compensate, view=view or "")
    if made == Habit(name=made.name):
        raise RehearsalError("the habit holds nothing", path, _TELLS)
    return made


def read_habit(path: Path) -> Habit:
    """A habit from a file.

    Raises:
        RehearsalError: what is wrong with it, the file, and what to do.
    """
    return habit_from_json(read_object(path, "habit"), path)


def write_habit(habit: Habit, target: Target) -> None:
    """A habit into a file.

    Raises:
        PictureError: a master or a profile in use lies there, or it cannot be written.
    """
    target.check()
    text = json.dumps(habit_json(habit), ensure_ascii=False, indent=1) + "\n"
    put_in_place(target.path, lambda name: _put(text, Path(name)), target.replace, "habit")


def _put(text: str, path: Path) -> None:
    path.write_text(text, "utf-8")
