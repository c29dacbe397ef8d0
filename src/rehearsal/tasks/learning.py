"""What a logbook teaches, out of its own export."""

from __future__ import annotations

import errno
import json
import math
from pathlib import Path
from typing import Any

from rehearsal.core.errors import RehearsalError
from rehearsal.core.values.adjustments import ADJUSTMENTS
from rehearsal.core.work.files import read_regular
from rehearsal.workbook.learning import estimates
from rehearsal.workbook.migrations import migrated
from rehearsal.workbook.values import LogEntry, from_plain

#: A longer file is no logbook.
_MOST_BYTES = 50_000_000


def read_log(path: Path) -> list[LogEntry]:
    """Entries of a logbook's export: ``{"log": […]}`` as the workbook writes itself, or the list alone; oldest first.

    Raises:
        RehearsalError: what is wrong with it, the file, and what to do.
    """
    try:
        data = json.loads(read_regular(path, _MOST_BYTES).decode("utf-8"))
    except OSError as error:
        if error.errno == errno.EFBIG:
            raise RehearsalError("this is no logbook", path, "choose the log's own export") from None
        raise RehearsalError("the logbook cannot be read", path, "choose a file that is there") from None
    except (ValueError, RecursionError):
        raise RehearsalError("the logbook is no JSON", path, "choose the log's own export") from None
    try:
        rows = migrated({"format": 0, **data})["log"] if isinstance(data, dict) else data
        made = [from_plain(LogEntry, row) for row in rows]
        hash(tuple(made))
        if not all(
            math.isfinite(v)
            for e in made
            for v in (e.darker, e.cooler, e.flatter, e.lux, e.kelvin, e.screen_white, e.cost)
        ):
            raise ValueError
    except (KeyError, TypeError, ValueError, AttributeError, RecursionError):
        raise RehearsalError("something in the logbook makes no sense", path, "choose the log's own export") from None
    return sorted(made, key=lambda e: (e.when, e.id))


def learnt_json(log: list[LogEntry], condition: int) -> dict[str, Any]:
    """What was learnt for a condition in the light of its last print (of any, where it has none): each quantity in its own unit.

    Raises:
        RehearsalError: nothing was printed yet.
    """
    if not log:
        raise RehearsalError("the logbook is empty", "log", "keep a verdict first")
    last = next((e for e in reversed(log) if e.condition == condition), log[-1])
    found = estimates(log, condition, last.lux, last.screen_white, last.kelvin)
    told: dict[str, Any] = {
        "condition": condition,
        "light": {"lux": last.lux, "kelvin": last.kelvin, "screen_white": last.screen_white},
    }
    for name, each in found.items():
        step = ADJUSTMENTS[name].verdict_step
        told[name] = {
            "value": each.value * step, "doubt": each.doubt * step, "shared": each.shared * step, "shared_doubt": each.shared_doubt * step,
            "own": each.own * step, "own_doubt": each.own_doubt * step, "prints": each.prints, "mine": each.mine,
        }  # fmt: skip
    return told
