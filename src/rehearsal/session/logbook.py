"""The logbook, and what it teaches."""

from __future__ import annotations

from dataclasses import replace

from rehearsal.core.screen.brightness import BrightnessAdvice, advise_beside, advise_brightness, light_sentence
from rehearsal.core.screen.lessons import Estimate, Reason, reason_of
from rehearsal.core.sheet.layout import crop_to, fit_size, same_proportion
from rehearsal.core.values.adjustments import ADJUSTMENTS, Values
from rehearsal.core.values.frame import Frame
from rehearsal.core.values.recipe import LEARNT, LIGHT, PICTURE, Recipe, Step
from rehearsal.core.values.rendition import Rendition
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

#: What "as last time" takes over besides the print size, for the sentence about it.
_TAKEN_OVER = (
    "intent",
    "compensation",
    "view",
    "tuning",
    "route",
    "space",
    "format",
    "ppi",
    "sharpening",
    "fit",
    "borderless",
    "sheet",
)


_OTHER_NOW = "It was tuned by an earlier arithmetic: the same numbers give another print now. Look at it at Tune first."


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

    # ---- as last time

    def as_last_time(self) -> str:
        """Make the open master's take like the last one printed (or kept) for the same condition.

        Returns what was taken over, as a sentence, or why nothing was.
        """
        take, here = self._now.take, self._now.rendition
        if take is None or here is None:
            return "Open a picture first."
        last = self._last_printed(take)
        if last is None:
            return "Nothing has been printed on this paper yet, so there is no last time."
        model, view, name = last
        mine = take.hand_over
        hand_over = replace(
            mine, route=model.hand_over.route, space=model.hand_over.space, format=model.hand_over.format,
            ppi=model.hand_over.ppi, sharpen=model.hand_over.sharpen, sigma_um=model.hand_over.sigma_um,
        )  # fmt: skip
        frame = self._frame_like(take.frame, model, here)
        sheet = model.sheet if model.master == here.master else model.sheet.for_another
        self._takes.change(
            "as-last", frame=frame, recipe=_without_places(model, here),
            rendering=model.rendering, sheet=sheet, hand_over=hand_over, view=view or take.view,
        )  # fmt: skip
        changed = " " + _OTHER_NOW if model.recipe.is_old else ""
        cropped = "" if frame.crop == take.frame.crop else " The crop went along with the size."
        return f"As last time on {name}: {model.rendering.intent}, {len(_TAKEN_OVER) + 2} settings taken over.{cropped}{changed}"

    def _frame_like(self, mine: Frame, model: Rendition, here: Rendition) -> Frame:
        """The frame of last time: of the same picture with its crop, of another its size with a crop that fits it.

        A size never comes without a crop of its proportions: what is printed is what the pane shows.
        """
        if model.master == here.master:
            return model.frame
        size, picture = model.frame.size, self._now.picture
        if size is None or picture is None:
            return replace(mine, fit=model.frame.fit)
        width, height = picture.size
        _x, _y, w, h = mine.crop.pixels(width, height)
        if (w > h) != (size.width_cm > size.height_cm):
            size = size.turned
        if same_proportion(w, h, size.width_cm, size.height_cm):
            return replace(mine, size=size, fit=model.frame.fit)
        if model.frame.fit == "inside":
            return replace(mine, size=fit_size(size, w, h), fit="inside")
        crop = crop_to(size.width_cm / size.height_cm, width, height, mine.crop)
        return replace(mine, crop=crop, size=size, fit=model.frame.fit)

    def _last_printed(self, take: Take) -> tuple[Rendition, str, str] | None:
        """The last rendition on this paper with the view it was looked at in and its name."""
        for entry in reversed(self.entries):
            if entry.condition == take.condition and entry.rendition is not None:
                return entry.rendition, entry.view, entry.condition_name.split(" on ")[0]
        others = [t for t in self._book.all(Take) if t.condition == take.condition and t.id != take.id]
        if not others or self._now.rendition is None or self._now.master is None:
            return None
        other = others[-1]
        made = other.rendition(self._now.master, self._now.rendition.destination)
        return made, other.view, self._takes.name_of(other)


def _without_places(model: Rendition, here: Rendition) -> Recipe:
    """The recipe with its origins; places, and the lightness kept with a picture, belong to the picture they were made on."""
    if model.master == here.master:
        return model.recipe
    own = tuple(s for s in here.recipe.steps if s.origin == PICTURE)
    steps = tuple(s for s in model.recipe.steps if s.place is None and s.origin != PICTURE)
    return replace(model.recipe, steps=(*own, *steps))
