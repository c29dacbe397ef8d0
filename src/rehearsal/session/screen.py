"""What is known about the screen and the light on the prints."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from typing import Any

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.model import check_screen
from rehearsal.core.proof.chain import Light
from rehearsal.core.screen.brightness import Trust, doubt, trust
from rehearsal.core.values.plain import from_plain, to_plain
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus
from rehearsal.session.profiles import OpenProfiles
from rehearsal.workbook.values import ScreenReading, ScreenRecord

#: Finds the profile the desktop has for a screen: its place among the screens, its name; path and source key, or None.
DesktopProfile = Callable[[int, str], "tuple[str, str] | None"]


def no_desktop(_index: int, _name: str) -> tuple[str, str] | None:
    """Where no desktop is asked."""
    return None


def record_of(plain: dict[str, Any]) -> ScreenRecord:
    """A record as it was kept; once, hours were guessed from the days, and those guesses are not taken over.

    Once, nobody wrote down who had said a value: one that is not the usual was told by somebody, and the usual one by nobody.
    """
    made = from_plain(ScreenRecord, {"by_hours": plain.get("hours_a_day", 0) > 0, **plain})
    if "known" in plain:
        return made
    usual = ScreenRecord()
    told = tuple((name, "told") for name in SAID if getattr(made, name) != getattr(usual, name))
    return replace(made, known=told)


#: Values that are somebody's or nobody's.
SAID = ("white", "contrast", "lux")


class Screen:
    """Owner of the record of the screen the window is on."""

    def __init__(self, book: Book, bus: Bus, profiles: OpenProfiles, desktop_profile: DesktopProfile) -> None:
        self._book, self._bus, self._profiles, self._desktop_profile = book, bus, profiles, desktop_profile
        self.key = ""
        self.record = record_of(book.recall("screen") or {})
        self._forgotten: ScreenReading | None = None
        bus.on(("screen",), self._follow)

    def set(self, origin: str = "told", **changes: Any) -> None:
        """Change what is known about the screen or the light, as it was told or read; the proof follows."""
        made = replace(self.record, **changes)
        if ("white" in changes or "lux" in changes) and "beside" not in changes:
            made = replace(made, beside=0.0)  # one of the two is another now: what was matched was matched before
        for name in SAID:
            if name in changes:
                made = made.saying(name, origin)
        self._keep("screen", made)

    def forget(self, name: str) -> None:
        """A value is nobody's again."""
        self._keep("screen", self.record.saying(name, ""))

    def match(self, beside: float) -> None:
        """Light and screen were matched by eye: what the eye has seen counts, and lux that were told before are nobody's again."""
        self._keep("match-light", replace(self.record.saying("lux", ""), beside=beside))

    def is_said(self, *names: str) -> bool:
        """True when each of these values was told or read by somebody."""
        return all(self.record.origin(name) for name in names)

    @property
    def knows_light(self) -> bool:
        """True when somebody has said how bright light and screen are, or has matched one by the other."""
        return self.record.beside > 0 or self.is_said("lux", "white")

    def _keep(self, operation: str, record: ScreenRecord) -> None:
        if record == self.record:
            return
        if self._book.recall(self._name) is None:  # so that undo finds what was before the first change
            self._book.remember(self._name, to_plain(self.record))
        self._book.do(operation, settings={self._name: to_plain(record)})
        if not self._book.is_read_only:
            self._become(record)

    @property
    def _name(self) -> str:
        """Under which the record is kept; without a key it is that of the screen used last."""
        return f"screen {self.key}" if self.key else "screen"

    def _become(self, record: ScreenRecord) -> None:
        before, self.record = self.record, record
        self._book.remember("screen", to_plain(record))
        shown = any(getattr(before, f) != getattr(record, f) for f in ("profile_path", "white", "lux", "limited"))
        self._bus.tell("screen", *(("look",) if shown else ()))

    def _follow(self) -> None:
        """An operation was taken back: the record is what the workbook says."""
        kept = self._book.recall(self._name)
        if kept is not None and record_of(kept) != self.record:
            self._become(record_of(kept))

    def use(self, key: str, index: int = 0) -> None:
        """The window is on this screen now: take its own record up; a screen never seen starts with the room's light.

        Args:
            key: the screen's name and maker, as the desktop tells them.
            index: its place among the screens.
        """
        if key == self.key:
            return
        kept, seen = self._book.recall(f"screen {key}"), self.seen
        first = not self.key and seen in ([], [key])
        if key not in seen:
            self._book.remember("screens seen", [*seen, key])
        self.key, self._forgotten = key, None
        if kept is not None:
            self._take_up(record_of(kept))
        elif not first:
            room = ScreenRecord(
                light=self.record.light, lux=self.record.lux, kelvin=self.record.kelvin
            )  # nothing is matched here
            self._take_up(room.saying("lux", self.record.origin("lux")))
            known = self.ask_desktop(index)
            more = "its profile comes from the desktop" if known else "say which profile it has"
            self._bus.say(f"The window is on another screen now ({key}): {more}.")
        self._bus.tell("screen", "look")

    def _take_up(self, record: ScreenRecord) -> None:
        """Another screen's record: nothing was changed, so there is nothing to undo."""
        self.record = record
        self._book.remember("screen", to_plain(record))

    @property
    def seen(self) -> list[str]:
        """Keys of all screens the window has been on."""
        return self._book.recall("screens seen") or []

    # ---- readings

    def keep_reading(self, reading: ScreenReading) -> None:
        """Keep a check of the screen in its history."""
        self._keep("reading", replace(self.record, readings=(*self.record.readings, reading)))

    def forget_reading(self) -> None:
        """Take the last check out of the history; it can be brought back."""
        if self.record.readings:
            self._forgotten = self.record.readings[-1]
            self._keep("forget-reading", replace(self.record, readings=self.record.readings[:-1]))

    @property
    def forgotten(self) -> ScreenReading | None:
        """The check that was taken out last, while it is still out."""
        return None if self._forgotten in self.record.readings else self._forgotten

    def recall_reading(self) -> None:
        """Bring the check back that was forgotten last."""
        if self.forgotten is not None:
            self.keep_reading(self.forgotten)
        self._forgotten = None

    # ---- what follows

    @property
    def profile(self) -> Profile:
        """The monitor's profile; sRGB when none is known or the file is gone."""
        if self.record.profile_path:
            try:
                return self._profiles.open(self.record.profile_path)
            except RehearsalError as error:
                self._bus.say(f"{error.words()} sRGB is used for the screen.")
                self.record = replace(self.record, profile_path="", source="")
        return working_space("sRGB")

    def choose_profile(self, path: str, source: str) -> None:
        """Use a profile file for this screen, when it can be used."""
        try:
            check_screen(self._profiles.open(path))
        except RehearsalError as error:
            self._bus.say_error(error)
            return
        self.set(profile_path=path, source=source)

    def ask_desktop(self, index: int = 0) -> bool:
        """Use the profile the desktop knows for this screen; False when it knows none that can be used."""
        found = self._desktop_profile(index, self.key.split(",")[0])
        if found is None:
            return False
        try:
            check_screen(self._profiles.open(found[0]))
        except RehearsalError:
            return False
        self.set(profile_path=found[0], source=found[1])
        return True

    @property
    def light(self) -> Light:
        """Light on the print and the screen's white."""
        return Light(self.record.lux, self.record.white)

    @property
    def trust(self) -> Trust:
        """Whether the screen can be believed today."""
        s = self.record
        if s.by_hours:
            return trust(s.calibrated, s.interval_hours, date.today(), s.hours)
        return trust(s.calibrated, float(s.interval_days), date.today())

    def calibrated_today(self) -> None:
        """It was calibrated: days and hours begin anew."""
        self.set(calibrated=date.today().isoformat(), hours=0.0)

    def _is_past(self, day: str) -> bool:
        """True for a check that says nothing any more: longer ago than a calibration may be, or as stale as the calibration."""
        s = self.record
        return (
            self.trust.state == "old" if s.by_hours else trust(day, float(s.interval_days), date.today()).state == "old"
        )

    @property
    def doubt(self) -> str:
        """How much uncertainty the screen adds, as a sentence; empty when little. A check counts as long as a calibration."""
        last = next((r for r in reversed(self.record.readings) if r.mean >= 0), None)
        if last is None or last.when < self.record.calibrated or self._is_past(last.when):
            return doubt(self.trust.state, None)
        return doubt(self.trust.state, last.mean)

    def reminder(self) -> str:
        """A reminder that the calibration is due, at most once a day; empty otherwise."""
        today = date.today().isoformat()
        if self.trust.state != "old" or self._book.recall("reminded") == today:
            return ""
        self._book.remember("reminded", today)
        return f"This screen was {self.trust.words}. {self.doubt}".strip()
