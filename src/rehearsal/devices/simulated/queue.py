"""The simulated printer as a print queue: it takes pages and settings, prints at its own pace, and remembers what was left on."""

from __future__ import annotations

import json
import time
from collections.abc import Callable, Sequence
from pathlib import Path

from rehearsal.core.errors import QueueError
from rehearsal.core.sheet.layout import ROLLS, SHEETS
from rehearsal.core.sheet.page import DrawnPage
from rehearsal.core.values.queue import QueueOffers, QueueOption, SentState

NAME = "Simulated printer"
#: Seconds it takes for a sheet of A4; others by their area.
SECONDS_A4 = 6.0
_A4_MM2 = 210.0 * 297.0
#: Its settings: key, words, role, choices; the first is the one it leaves the works with.
_SETTINGS = (
    (
        "Medium",
        "Medium",
        "media",
        ("Fine art, smooth", "Cotton, textured", "Baryta", "Photo gloss, resin-coated", "Plain"),
    ),
    ("Feed", "Feed", "feed", ("rear, single sheet", "top", "roll")),
    ("Quality", "Quality", "quality", ("High", "Fine", "Standard", "Draft")),
    ("Colour", "Colour", "mode", ("Colour", "Grey")),
    ("Speed", "High speed", "speed", ("Off", "On")),
)


class SimulatedQueue:
    """The queue of the printer that ships.

    Args:
        folder: where it keeps its own state.
        clock: seconds; the system's.
    """

    def __init__(self, folder: Path, clock: Callable[[], float] = time.time) -> None:
        self.name = NAME
        self._file, self._clock = folder / "simulated-printer.json", clock

    def offers(self) -> QueueOffers:
        """What can be set, and how the last job left it."""
        left = self._left()
        options = [QueueOption("Sheet", "Sheet", (*SHEETS, *ROLLS, "Custom"), "A4", "size")]
        for key, words, role, choices in _SETTINGS:
            stands = str(left.get(key, choices[0]))
            options.append(QueueOption(key, words, choices, stands if stands in choices else choices[0], role))
        scale = left.get("scale", 100.0)
        return QueueOffers(self.name, tuple(options), scale if isinstance(scale, float) else 100.0, simulated=True)

    def send(self, page: DrawnPage, title: str, options: Sequence[tuple[str, str]]) -> str:
        """Take a page; its settings stay on afterwards.

        Raises:
            QueueError: it does not know a setting.
        """
        known = {o.key: o for o in self.offers().options}
        for key, value in options:
            option = known.get(key)
            if option is None or (value not in option.choices and not value.startswith("Custom")):
                raise QueueError(f"the queue {self.name} knows no “{value}” for {key}", title, "choose another one")
        self._leave({key: value for key, value in options if key != "Sheet"})
        seconds = SECONDS_A4 * page.width * page.height / _A4_MM2
        return f"simulated-{self._clock():.2f}-{seconds:.2f}"

    def state(self, job: str) -> SentState:
        """By its clock: it prints for as long as the sheet takes."""
        if job in self._list("stopped"):
            return SentState("stopped")
        try:
            began, seconds = (float(part) for part in job.removeprefix("simulated-").split("-"))
        except ValueError:
            return SentState("failed", "the queue does not know it")
        past = self._clock() - began
        if past >= seconds:
            return SentState("done")
        return SentState("printing", f"{past / seconds * 100:.0f} %")

    def stop(self, job: str) -> None:
        """Take it back; raises QueueError when it has come out already."""
        if self.state(job).key == "done":
            raise QueueError("the sheet is printed already", self.name, "nothing can be taken back")
        self._leave({"stopped": [*self._list("stopped"), job][-50:]})

    def unscale(self) -> None:
        """Let it print at 100 %."""
        self._leave({"scale": 100.0})

    def leave(self, **settings: object) -> None:
        """Settings that somebody else's job has left on."""
        self._leave(settings)

    def _left(self) -> dict[str, object]:
        try:
            found = json.loads(self._file.read_text())
        except (OSError, ValueError):
            return {}
        return found if isinstance(found, dict) else {}

    def _list(self, name: str) -> list[str]:
        found = self._left().get(name, [])
        return [str(v) for v in found] if isinstance(found, list) else []

    def _leave(self, settings: dict[str, object]) -> None:
        try:
            self._file.parent.mkdir(parents=True, exist_ok=True)
            self._file.write_text(json.dumps({**self._left(), **settings}, ensure_ascii=False))
        except OSError as error:
            raise QueueError("the simulated printer cannot keep its state", self._file, "look at the folder") from error
