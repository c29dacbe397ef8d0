"""What is kept and known whichever take is open: lists of the workbook, the screen, opened profiles, measured papers."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile, open_profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.model import check_destination
from rehearsal.core.proof.chain import Light
from rehearsal.core.screen.brightness import BrightnessAdvice, Trust, advise_brightness, doubt, light_sentence, trust
from rehearsal.desk.jobs import Jobs
from rehearsal.desk.library import Library
from rehearsal.desk.monitor import desktop_profile
from rehearsal.tasks.desk_work import FACTS_FORMAT, condition_facts
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import (
    Accepted,
    Habit,
    LogEntry,
    Master,
    PrintCondition,
    ScreenReading,
    ScreenRecord,
    Take,
    screen_from_json,
    to_json,
)

_FACTS = f"paper facts {FACTS_FORMAT}"


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
        self.screen_key = ""
        self.last_removed: PrintCondition | None = None
        self.last_reading: ScreenReading | None = None
        self.screen = screen_from_json(workbook.setting("screen") or {})
        self.library = Library(workbook, self.jobs, self)
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
        self.workbook.set_setting("screen", to_json(self.screen))
        if self.screen_key:
            self.workbook.set_setting(f"screen {self.screen_key}", to_json(self.screen))
        self.screen_changed.emit()
        if set(changes) & {"profile_path", "white", "lux"}:
            self.refresh_road()

    def use_screen(self, key: str, index: int = 0) -> None:
        """The window is on this screen now: take its own record up; a screen never seen starts with the room's light.

        Args:
            key: the screen's name and maker, as the desktop tells them.
            index: its place among the screens, for the X11 property.
        """
        if key == self.screen_key:
            return
        kept = self.workbook.setting(f"screen {key}")
        first = not self.screen_key and self.workbook.setting("screens seen") in (None, [], [key])
        seen = self.workbook.setting("screens seen") or []
        if key not in seen:
            self.workbook.set_setting("screens seen", [*seen, key])
        self.screen_key, self.last_reading = key, None
        if kept is not None:
            self.screen = screen_from_json(kept)
        elif not first:
            self.screen = ScreenRecord(light=self.screen.light, lux=self.screen.lux)
            known = self.ask_desktop_for_profile(index)
            more = "its profile comes from the desktop" if known else "say which profile it has"
            self.said.emit(f"The window is on another screen now ({key}): {more}.")
        self.screen_changed.emit()
        self.refresh_road()

    def keep_reading(self, reading: ScreenReading) -> None:
        """Keep a check of the screen in its history."""
        self.set_screen(readings=(*self.screen.readings, reading))

    def forget_reading(self) -> None:
        """Take the last check out of the history; it can be brought back."""
        if self.screen.readings:
            self.last_reading = self.screen.readings[-1]
            self.set_screen(readings=self.screen.readings[:-1])

    def recall_reading(self) -> None:
        """Bring the check back that was forgotten last."""
        reading, self.last_reading = self.last_reading, None
        if reading is not None:
            self.keep_reading(reading)

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

    def ask_desktop_for_profile(self, index: int = 0) -> bool:
        """Use the profile the desktop knows for this screen; False when it knows none that can be used."""
        found = desktop_profile(index, self.screen_key.split(",")[0])
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
        return self._trust_since(self.screen.calibrated)

    def _trust_since(self, day: str) -> Trust:
        s = self.screen
        interval = s.interval_hours if s.hours_a_day > 0 else float(s.interval_days)
        return trust(day, interval, date.today(), s.hours_a_day)

    @property
    def doubt(self) -> str:
        """How much uncertainty the screen adds, as a sentence; empty when little. A check counts as long as a calibration."""
        last = next((r for r in reversed(self.screen.readings) if r.mean >= 0), None)
        if last is None or last.when < self.screen.calibrated or self._trust_since(last.when).state == "old":
            return doubt(self.trust.state, None)
        return doubt(self.trust.state, last.mean)

    def reminder(self) -> str:
        """A reminder that the calibration is due, at most once a day; empty otherwise."""
        today = date.today().isoformat()
        if self.trust.state != "old" or self.workbook.setting("reminded") == today:
            return ""
        self.workbook.set_setting("reminded", today)
        return f"This screen was {self.trust.words}. {self.doubt}".strip()

    # ---- what is fine as it is

    @property
    def accepted(self) -> list[Accepted]:
        """Areas that were said to be fine, for all conditions."""
        return self.workbook.all(Accepted)

    def accept_area(self, hue: str, cause: str, why: str) -> None:
        """This hue and cause are fine on the open take's condition, with a word why; saying it again changes the word."""
        if self.take is None:
            return
        condition = self.take.condition
        known = next((a for a in self.accepted if (a.condition, a.hue, a.cause) == (condition, hue, cause)), None)
        self.workbook.put(replace(known or Accepted(condition=condition, hue=hue, cause=cause), why=why))
        self.lists_changed.emit()

    def reject_area(self, hue: str, cause: str) -> None:
        """It is not fine any more."""
        for each in self.accepted:
            if self.take is not None and (each.condition, each.hue, each.cause) == (self.take.condition, hue, cause):
                self.workbook.remove(each)
        self.lists_changed.emit()

    def accepted_here(self) -> dict[tuple[str, str], str]:
        """Why, by hue and cause, for the open take's condition."""
        here = self.take.condition if self.take else 0
        return {(a.hue, a.cause): a.why for a in self.accepted if a.condition == here}

    def remove_condition(self, condition: PrintCondition) -> str:
        """Take a condition off the shelf unless takes or the logbook need it; returns what happened as a sentence."""
        used = sum(t.condition == condition.id for t in self.workbook.all(Take))
        logged = sum(e.condition == condition.id for e in self.log)
        if used or logged:
            return f"{condition.name} stays: {used} takes and {logged} entries of the logbook need it."
        self.workbook.remove(condition)
        self.forget_facts(condition)
        self.last_removed = condition
        self.lists_changed.emit()
        return f"{condition.name} is off the shelf; its profile file was left alone."

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

    def restore_condition(self) -> None:
        """Put the condition that was taken off last back on the shelf, with all its fields."""
        if self.last_removed is not None:
            self.workbook.put_back(self.last_removed)
            self.last_removed = None
            self.lists_changed.emit()
            self.measure_conditions()

    @property
    def light_words(self) -> str:
        """What the light does to the open take's print, as a sentence; empty when little."""
        advice = self.brightness
        if advice is None or self.take is None:
            return ""
        return light_sentence(advice, self.screen.light, self.take.tuning.lightness / 6)

    def profile(self, path: str) -> Profile:
        """An opened profile by path, kept open."""
        if path not in self._profiles:
            self._profiles[path] = working_space(path[6:]) if path.startswith("space:") else open_profile(path)
        return self._profiles[path]

    @property
    def condition_facts(self) -> dict[str, Any] | None:
        """Measured facts of the open take's condition when they are known."""
        return self.facts.get(self.take.condition) if self.take else None

    def forget_facts(self, condition: PrintCondition) -> None:
        """What was measured does not hold any more: another profile, or a number that the next condition may get."""
        self.jobs.stop("facts")
        self.facts.pop(condition.id, None)

    def measure_conditions(self, only: PrintCondition | None = None) -> None:
        """Measure every condition (or one of them) that has not been measured yet, away from the interface."""
        wanted = [c for c in ([only] if only else self.conditions) if c.id not in self.facts]
        if not wanted:
            return

        kept = self.workbook.setting(_FACTS, {})

        def work(progress: Callable[[float, str], None]) -> dict[int, dict[str, Any]]:
            found = {}
            for i, condition in enumerate(wanted):
                progress(i / len(wanted), f"measuring {condition.paper}")
                found[condition.id] = condition_facts(condition, kept)
            return found

        def answer(found: dict[int, dict[str, Any]]) -> None:
            self.facts.update(found)
            new = {f["digest"]: f for f in found.values() if "digest" in f and f["digest"] not in kept}
            if new:
                self.workbook.set_setting(_FACTS, {**kept, **new})
            self.lists_changed.emit()

        self.jobs.run("facts", work, answer)
