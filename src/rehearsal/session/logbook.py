"""The logbook, and what it teaches."""

from __future__ import annotations

from rehearsal.core.screen.brightness import BrightnessAdvice, advise_beside, advise_brightness, light_sentence
from rehearsal.core.screen.lessons import Estimate, Reason, reason_of
from rehearsal.core.values.adjustments import ADJUSTMENTS, Values
from rehearsal.core.values.recipe import LEARNT, LIGHT, Step
from rehearsal.core.values.words import word
from rehearsal.core.work.once import LastUsed
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus
from rehearsal.session.now import Now
from rehearsal.session.screen import Screen
from rehearsal.session.shelf import Shelf
from rehearsal.session.takes import Takes
from rehearsal.workbook.learning import (
    LeftOut,
    Lesson,
    LessonPoint,
    estimates,
    learnt,
    left_out,
    lesson_line,
    same_light,
    teaches,
)
from rehearsal.workbook.values import LogEntry, Master, Take


class Logbook:
    """What was printed and how it came out; steps that come from it and from the light."""

    def __init__(self, book: Book, bus: Bus, shelf: Shelf, screen: Screen, now: Now, takes: Takes) -> None:
        self._book, self._bus, self._shelf, self._screen = book, bus, shelf, screen
        self._now, self._takes = now, takes
        self._lines: LastUsed[list[LessonPoint]] = LastUsed(4, None)
        self._estimates: LastUsed[dict[str, Estimate]] = LastUsed(16, None)
        self._lessons: LastUsed[Lesson | None] = LastUsed(4, None)
        bus.on(("judgement",), self._ask_light)

    @property
    def entries(self) -> list[LogEntry]:
        """The logbook, oldest first."""
        return self._book.all(LogEntry)

    def furthest(self, take: Take) -> str:
        """Key of the furthest station a take has come to, as far as that is kept."""
        master = self._book.get(Master, take.master)
        name = "" if master is None else master.name
        if any(e.condition == take.condition and e.picture == name for e in self.entries):
            return "log"
        if take.written is not None:
            return "sheet"
        if not take.recipe.is_neutral:
            return "tune"
        return "paper" if take.condition else "picture"

    # ---- what it teaches

    @property
    def lesson(self) -> Lesson | None:
        """What earlier prints taught for the open take's condition and light."""
        take, screen = self._now.take, self._screen.record
        if take is None:
            return None
        log, card = tuple(self.entries), self._shelf.get(take.condition)
        asked = take.condition, screen.lux, screen.white, take.recipe, screen.kelvin, card
        return self._lessons.get((log, *asked), lambda: learnt([*log], *asked))

    @property
    def reason(self) -> Reason | None:
        """What is to blame for the lightness of prints on the open take's paper; None before any print was judged in this light."""
        take = self._now.take
        found = None if take is None else self.estimates_for(take.condition).get("lightness")
        if take is None or found is None:
            return None
        others = dict.fromkeys(e.condition for e in self.teachers if e.condition != take.condition)
        papers = [self.estimates_for(number)["lightness"] for number in others]
        mine = [found] if found.mine else []
        return reason_of(found, [*mine, *papers], self._screen.record.white)

    def estimates_for(self, condition: int) -> dict[str, Estimate]:
        """What was learnt of each quantity for a paper in the present light, in steps."""
        screen, log, card = self._screen.record, tuple(self.entries), self._shelf.get(condition)
        key = log, condition, screen.lux, screen.white, screen.kelvin, card
        return self._estimates.get(
            key, lambda: estimates([*log], condition, screen.lux, screen.white, screen.kelvin, card)
        )

    @property
    def lesson_line(self) -> list[LessonPoint]:
        """The lesson of lightness for the open take's paper after each print that taught it."""
        take, screen = self._now.take, self._screen.record
        if take is None:
            return []
        log = tuple(sorted(self.entries, key=lambda e: (e.when, e.id)))
        card = self._shelf.get(take.condition)
        key = log, take.condition, screen.lux, screen.white, screen.kelvin, card
        return self._lines.get(
            key, lambda: lesson_line([*log], take.condition, screen.lux, screen.white, screen.kelvin, card)
        )

    @property
    def left_out(self) -> LeftOut:
        """What of the logbook does not count for the open take's paper now."""
        card, screen = self._now.condition, self._screen.record
        return LeftOut() if card is None else left_out(self.entries, card, screen.lux, screen.white, screen.kelvin)

    @property
    def teachers(self) -> list[LogEntry]:
        """Prints of any paper seen in the present light beside the present screen white, the newest first."""
        screen = self._screen.record
        mine = (e for e in reversed(self.entries) if teaches(e))
        return [e for e in mine if same_light(e, screen.lux, screen.kelvin, screen.white)]

    def apply_lesson(self) -> None:
        """Make what was learnt the take's learnt step."""
        take, lesson = self._now.take, self.lesson
        if take is not None and lesson is not None:
            self._takes.change("learnt", recipe=take.recipe.having(Step(LEARNT, lesson.values)))

    # ---- the light

    @property
    def brightness(self) -> BrightnessAdvice | None:
        """Brightness arithmetic for the open take's paper; None while nobody has said how bright light and screen are."""
        facts = None if self._now.take is None else self._shelf.facts_of(self._now.take.condition)
        screen = self._screen.record
        if facts is None or not self._screen.knows_light:
            return None
        if screen.beside > 0:
            return advise_beside(screen.beside, facts.white_y)
        return advise_brightness(screen.lux, facts.white_y, screen.white)

    def _ask_light(self) -> None:
        """At the first judgement, once: how bright are light and screen?"""
        take = self._now.take
        facts = None if take is None else self._shelf.facts_of(take.condition)
        if facts is None or not facts.is_paper or self._screen.knows_light or self._book.recall("light asked"):
            return
        self._book.remember("light asked", True)
        self._bus.ask(word("ask", "light"), "tell-light")

    @property
    def light_words(self) -> str:
        """What the light does to the open take's print, as a sentence; empty when little."""
        advice, take = self.brightness, self._now.take
        if advice is None or take is None:
            return ""
        # what was tuned by hand shows on the screen as in the print; these two steps stand for what screen and light do
        steps = [take.recipe.step(origin) for origin in (LIGHT, LEARNT)]
        stops = sum(s.values["lightness"] * s.strength for s in steps if s is not None and s.acts)
        screen = self._screen.record
        light = word("light", screen.light) if self._screen.is_said("lux") else ""
        return light_sentence(advice, light, stops, screen.white)

    def lighten_for_light(self) -> None:
        """Make what the screen's brightness leaves over the take's step for the light: set, never added."""
        advice, take = self.brightness, self._now.take
        if advice is None or take is None:
            return
        step = ADJUSTMENTS["lightness"].step
        values = Values.of(lightness=round(advice.rest / step) * step)
        self._takes.change("light", recipe=take.recipe.having(Step(LIGHT, values)))
