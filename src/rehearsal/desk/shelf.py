"""What is kept and known whichever take is open: lists of the workbook, the screen, opened profiles, measured papers."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile, open_profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.model import check_destination
from rehearsal.core.proof.chain import Light
from rehearsal.core.screen.brightness import BrightnessAdvice, Trust, advise_brightness, trust
from rehearsal.desk.jobs import Jobs
from rehearsal.desk.monitor import desktop_profile
from rehearsal.tasks.desk_work import condition_facts
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Habit, LogEntry, Master, PrintCondition, Take


@dataclass(frozen=True)
class ScreenRecord:
    """What is known about the screen and the light on the prints; kept in the workbook."""

    profile_path: str = ""
    source: str = ""
    white: float = 100.0
    contrast: float = 1000.0
    calibrated: str = ""
    interval_days: int = 21
    light: str = "desk lamp for prints"
    lux: float = 500.0
    ppi: float = 0.0


class Shelf(QObject):
    """Lists, screen and papers. The open take is set by the model that builds on this."""

    lists_changed = pyqtSignal()
    screen_changed = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, workbook: Workbook, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.workbook = workbook
        self.jobs = Jobs(self)
        self.take: Take | None = None
        self.screen = ScreenRecord(**(workbook.setting("screen") or {}))
        self.facts: dict[int, dict[str, Any]] = {}
        self._profiles: dict[str, Profile] = {}

    def refresh_road(self) -> None:
        """The screen or the light changed: whoever shows a picture bakes again."""

    # ---- lists

    @property
    def masters(self) -> list[Master]:
        """All masters."""
        return self.workbook.all(Master)

    @property
    def conditions(self) -> list[PrintCondition]:
        """All print conditions."""
        return self.workbook.all(PrintCondition)

    def takes_of(self, master: int) -> list[Take]:
        """Takes of a master."""
        return [t for t in self.workbook.all(Take) if t.master == master]

    @property
    def log(self) -> list[LogEntry]:
        """The logbook, oldest first."""
        return self.workbook.all(LogEntry)

    @property
    def habits(self) -> list[Habit]:
        """Saved tunings."""
        return self.workbook.all(Habit)

    @property
    def master(self) -> Master | None:
        """Master of the open take."""
        return self.workbook.get(Master, self.take.master) if self.take else None

    @property
    def condition(self) -> PrintCondition | None:
        """Print condition of the open take."""
        return self.workbook.get(PrintCondition, self.take.condition) if self.take else None

    # ---- screen

    def set_screen(self, **changes: Any) -> None:
        """Change what is known about the screen or the light; the proof follows."""
        self.screen = replace(self.screen, **changes)
        self.workbook.set_setting("screen", self.screen.__dict__)
        self.screen_changed.emit()
        self.refresh_road()

    @property
    def screen_profile(self) -> Profile:
        """The monitor's profile; sRGB when none is known or the file is gone."""
        if self.screen.profile_path:
            try:
                return self.profile(self.screen.profile_path)
            except RehearsalError as error:
                self.said.emit(f"{error.sentence()}. sRGB is used for the screen.")
                self.screen = replace(self.screen, profile_path="", source="")
        return working_space("sRGB")

    def ask_desktop_for_profile(self) -> bool:
        """Use the profile the desktop knows for this screen; False when it knows none that can be used."""
        found = desktop_profile()
        if found is None:
            return False
        try:
            check_destination(self.profile(found[0]))
        except RehearsalError:
            return False
        self.set_screen(profile_path=found[0], source=found[1])
        return True

    @property
    def trust(self) -> Trust:
        """Whether the screen can be believed today."""
        return trust(self.screen.calibrated, self.screen.interval_days, date.today())

    @property
    def light(self) -> Light:
        """Light on the print and the screen's white."""
        return Light(self.screen.lux, self.screen.white)

    @property
    def brightness(self) -> BrightnessAdvice | None:
        """Brightness arithmetic for the open take's paper."""
        facts = self.condition_facts
        if facts is None:
            return None
        return advise_brightness(self.screen.lux, facts["white_y"], self.screen.white)

    def profile(self, path: str) -> Profile:
        """An opened profile by path, kept open."""
        if path not in self._profiles:
            self._profiles[path] = working_space(path[6:]) if path.startswith("space:") else open_profile(path)
        return self._profiles[path]

    @property
    def condition_facts(self) -> dict[str, Any] | None:
        """Measured facts of the open take's condition when they are known."""
        return self.facts.get(self.take.condition) if self.take else None

    def measure_conditions(self) -> None:
        """Measure every condition that has not been measured yet, away from the interface."""
        wanted = [c for c in self.conditions if c.id not in self.facts]
        if not wanted:
            return

        def work(progress: Callable[[float, str], None]) -> dict[int, dict[str, Any]]:
            found = {}
            for i, condition in enumerate(wanted):
                progress(i / len(wanted), f"measuring {condition.paper}")
                found[condition.id] = condition_facts(condition)
            return found

        def answer(found: dict[int, dict[str, Any]]) -> None:
            self.facts.update(found)
            self.lists_changed.emit()

        self.jobs.run("facts", work, answer)
