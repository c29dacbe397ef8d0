"""Frozen values as plain data and back, by their declared types."""

from __future__ import annotations

import types
import typing
from dataclasses import fields, is_dataclass
from functools import cache
from typing import Any, TypeVar

#: What plain data may hold for a simple field.
_SIMPLE: dict[Any, tuple[type, ...]] = {int: (int,), float: (int, float), str: (str,), bool: (bool,)}

Made = TypeVar("Made")


def to_plain(value: Any) -> Any:
    """Plain data (dicts, lists, text, numbers) of a value; a value with ``to_json`` says itself how."""
    if hasattr(value, "to_json"):
        return value.to_json()
    if is_dataclass(value) and not isinstance(value, type):
        return {f.name: to_plain(getattr(value, f.name)) for f in fields(value)}
    if isinstance(value, (tuple, list)):
        return [to_plain(v) for v in value]
    if isinstance(value, dict):
        return {k: to_plain(v) for k, v in value.items()}
    return value


@cache
def _hints(kind: type) -> dict[str, Any]:
    return typing.get_type_hints(kind)


def from_plain(kind: type[Made], data: dict[str, Any]) -> Made:
    """A value of a dataclass from plain data; names this version does not know are left out."""
    hints = _hints(kind)  # type: ignore[arg-type]
    known = {f.name for f in fields(kind)}  # type: ignore[arg-type]
    return kind(**{name: _made(hints[name], item) for name, item in data.items() if name in known})


def _made(hint: Any, item: Any) -> Any:
    if item is None:
        return None
    origin = typing.get_origin(hint)
    if origin in (typing.Union, types.UnionType):
        inner = [h for h in typing.get_args(hint) if h is not type(None)]
        return _made(inner[0], item)
    if origin is tuple:
        if not isinstance(item, (list, tuple)):
            raise TypeError(f"{item!r} is no list")
        return _tuple(typing.get_args(hint), list(item))
    if isinstance(hint, type) and hasattr(hint, "from_json"):
        return hint.from_json(item)
    if isinstance(hint, type) and is_dataclass(hint):
        return from_plain(hint, item)
    if hint in _SIMPLE and not isinstance(item, _SIMPLE[hint]):
        raise TypeError(f"{item!r} is no {hint.__name__}")
    return float(item) if hint is float and isinstance(item, int) else item


def _tuple(inner: tuple[Any, ...], items: list[Any]) -> tuple[Any, ...]:
    if len(inner) == 2 and inner[1] is Ellipsis:
        return tuple(_made(inner[0], item) for item in items)
    return tuple(_made(hint, item) for hint, item in zip(inner, items, strict=True))
