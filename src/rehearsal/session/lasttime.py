"""As last time: the open take made like the last print on its paper."""

from __future__ import annotations

from dataclasses import dataclass, replace

from rehearsal.core.sheet.layout import crop_to, fit_size, same_proportion
from rehearsal.core.values.frame import Frame
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.recipe import PICTURE, Recipe
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.words import date_words, in_row
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus
from rehearsal.session.now import Now
from rehearsal.session.queues import Queues
from rehearsal.session.takes import Takes
from rehearsal.workbook.values import LogEntry, Master, PrintJob, Take

_OTHER_NOW = "It was tuned by an earlier arithmetic: the same numbers give another print now. Look at it at Tune first."
_NONE_YET = "Nothing has been printed on this paper yet, so there is no last time."


@dataclass(frozen=True)
class LastPrint:
    """A print: when it came out (ISO 8601), of which picture, what was printed, and the view it was looked at in."""

    when: str
    picture: str
    rendition: Rendition
    view: str = ""


class LastTime:
    """Makes the open take like the last print on its paper; while the picture is being read, as soon as it is there."""

    def __init__(self, book: Book, bus: Bus, now: Now, takes: Takes, queues: Queues) -> None:
        self._book, self._bus, self._now, self._takes, self._queues = book, bus, now, takes, queues
        #: The take that waits for its picture.
        self._waits = 0
        bus.on(("picture",), self._go_on)

    def take_over(self) -> None:
        """Make the open take so, and say from which print, and what could not be taken over."""
        take, here = self._now.take, self._now.rendition
        if take is None or here is None:
            self._bus.say("Open a picture first.")
            return
        if self._now.picture is None:
            self._waits = take.id
            self._bus.say("As last time, as soon as the picture is read.")
            return
        last = self.last_print(take.condition)
        if last is None:
            self._bus.say(_NONE_YET)
            return
        self._bus.say(self._make_like(take, here, last), "undo")

    def _go_on(self) -> None:
        """The picture is there: what waited for it is done, if its take is still open."""
        take, waits = self._now.take, self._waits
        if waits and self._now.picture is not None:
            self._waits = 0
            if take is not None and take.id == waits:
                self.take_over()

    def last_print(self, condition: int) -> LastPrint | None:
        """The last print on a paper: one of the logbook, or one that came out of a queue; None while there was none."""
        made = [
            LastPrint(e.printed or e.when, e.picture, e.rendition, e.view)
            for e in self._book.all(LogEntry)
            if e.condition == condition and e.rendition is not None
        ]
        made += [
            LastPrint(j.printed, j.picture, j.rendition)
            for j in self._book.all(PrintJob)
            if j.condition == condition and j.printed
        ]
        for take in self._book.all(Take):
            written, master = take.written, self._book.get(Master, take.master)
            if take.condition == condition and written is not None and master is not None and written.print_when:
                made.append(LastPrint(written.print_when, master.name, written.rendition, take.view))
        return sorted(made, key=lambda p: p.when)[-1] if made else None

    def _make_like(self, take: Take, here: Rendition, last: LastPrint) -> str:
        model = last.rendition
        own = model.master == here.master
        frame = self._frame_like(take.frame, model, here)
        hand_over = self._hand_over(model.hand_over)
        recipe = _without_places(model, here)
        self._takes.change(
            "as-last",
            frame=frame,
            recipe=recipe,
            rendering=model.rendering,
            sheet=model.sheet if own else model.sheet.for_another,
            hand_over=hand_over,
            view=last.view or take.view,
        )
        left = self._left(here, model, hand_over, recipe)
        without = f" Not taken over: {in_row(left)}." if left else ""
        cropped = "" if frame.crop == take.frame.crop else " The crop went along with the size."
        changed = f" {_OTHER_NOW}" if model.recipe.is_old else ""
        size = "" if model.frame.size is None else f", {model.frame.size.in_words}"
        return f"As the print of {last.picture} of {date_words(last.when[:10])}{size}.{cropped}{without}{changed}"

    def _hand_over(self, model: HandOver) -> HandOver:
        """All that was set; a queue only where it is still there."""
        return model if not model.queue or model.queue in self._queues.names else replace(model, queue="")

    def _left(self, here: Rendition, model: Rendition, hand_over: HandOver, recipe: Recipe) -> list[str]:
        """What could not be taken over."""
        left = []
        if hand_over.queue != model.hand_over.queue:
            left.append(f"the queue {model.hand_over.queue}, which is not there")
        if any(s.place is not None for s in model.recipe.steps) and not any(s.place is not None for s in recipe.steps):
            left.append("places, which are the other picture's")
        if model.master != here.master and any(s.origin == PICTURE for s in model.recipe.steps):
            left.append("the lightness kept with the other picture")
        if model.master != here.master and model.sheet != model.sheet.for_another:
            left.append("what is written on its sheet")
        if model.destination != here.destination:
            left.append("its profile: the paper has another one now")
        return left

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


def _without_places(model: Rendition, here: Rendition) -> Recipe:
    """The recipe with its origins; places, and the lightness kept with a picture, belong to the picture they were made on."""
    if model.master == here.master:
        return model.recipe
    own = tuple(s for s in here.recipe.steps if s.origin == PICTURE)
    steps = tuple(s for s in model.recipe.steps if s.place is None and s.origin != PICTURE)
    return replace(model.recipe, steps=(*own, *steps))
