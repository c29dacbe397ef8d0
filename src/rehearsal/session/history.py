"""States a take went through, by name: they are there after a restart, and can be gone back to."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from rehearsal.core.tuning.changed import recipe_change
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.words import capital, rendering_short, word
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus, Change
from rehearsal.session.now import Now
from rehearsal.workbook.values import Moment, Take

#: So many states of a take are kept, and those that have a name of the user's own.
MOST = 40
_PARTS = ("condition", "frame", "recipe", "rendering", "sheet")
_TOPICS = tuple(f"take.{part}" for part in _PARTS)


def moment_of(take: Take, after: int, when: datetime) -> Moment:
    """A take's state now, made of another."""
    parts = {name: getattr(take, name) for name in _PARTS}
    return Moment(take=take.id, when=when.isoformat(timespec="seconds"), after=after, **parts)


def is_of(moment: Moment, take: Take) -> bool:
    """True while a take is in this state."""
    return moment.take == take.id and all(getattr(moment, name) == getattr(take, name) for name in _PARTS)


class History:
    """Owner of the moments: notes each new state of the open take; ``history`` tells of it. A state come back to is not a new one."""

    def __init__(self, book: Book, bus: Bus, now: Now) -> None:
        self._book, self._bus, self._now = book, bus, now
        self._last: Take | None = None
        for moment in book.all(Moment):  # nothing can be put back any more, and a take's number may come again
            if book.get(Take, moment.take) is None:
                book.forget(moment)
        bus.changed.connect(self._follow)

    def of(self, take: Take) -> list[Moment]:
        """States of a take, oldest first."""
        return [m for m in self._book.all(Moment) if m.take == take.id]

    def _follow(self, change: Change) -> None:
        take = self._now.take
        if "take" in change.topics:
            self._last = take
        elif take is not None and change.topics & {*_TOPICS}:
            before, self._last = self._last, take
            if before is not None and before.id == take.id and not self._book.is_read_only:
                self._note(before, take)

    def _note(self, before: Take, take: Take) -> None:
        known, now = self.of(take), datetime.now()
        made_of = next((m for m in known if is_of(m, before)), None)
        if made_of is None:
            made_of = self._book.note(moment_of(before, 0, now))
        if not any(is_of(m, take) for m in known):
            self._book.note(moment_of(take, made_of.id, now))
            for old in [m for m in self.of(take) if not m.name][:-MOST]:
                self._book.forget(old)
        self._bus.tell("history")

    def words(self, moment: Moment) -> str:
        """What was done to come to a state; of one whose beginning is no longer kept, how it is tuned."""
        before = self._book.get(Moment, moment.after)
        if before is None:
            whole = recipe_change(Recipe(), moment.recipe)
            return capital(whole) if moment.after and whole else word("change", "begun")
        paper = self._book.get(PrintCondition, moment.condition)
        said = []
        if paper is not None and moment.condition != before.condition:
            said.append(word("change", "condition").format(paper.paper))
        if moment.rendering != before.rendering:
            said.append(rendering_short(moment.rendering))
        said.append(recipe_change(before.recipe, moment.recipe))
        if moment.frame.crop != before.frame.crop:
            said.append(word("change", "crop"))
        if moment.frame.size is not None and moment.frame.size != before.frame.size:
            said.append(moment.frame.size.in_words)
        if moment.sheet != before.sheet:
            said.append(word("change", "sheet").format(moment.sheet.name))
        return capital("; ".join(part for part in said if part))

    # ---- operations

    def go_back(self, moment: Moment) -> None:
        """Make the open take as it was then; one operation that can be taken back."""
        take = self._now.take
        if take is None or take.id != moment.take:
            return
        if self._book.get(PrintCondition, moment.condition) is None:
            self._bus.say("The paper of that state is no longer on the shelf.")
            return
        made = replace(take, **{name: getattr(moment, name) for name in _PARTS})
        if made != take and self._book.do("history", [made]):
            self._now.become(made)

    def rename(self, moment: Moment, name: str) -> None:
        """Give a state a name of the user's own: it is kept however many come after it."""
        fresh = self._book.get(Moment, moment.id)
        made = None if fresh is None else replace(fresh, name=name.strip())
        if made is not None and made != fresh and self._book.do("history", [made]):
            self._bus.tell("history")
