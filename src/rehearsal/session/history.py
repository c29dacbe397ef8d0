"""States a take went through, by name: they are there after a restart, and can be gone back to."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from rehearsal.core.tuning.changed import recipe_change
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.words import capital, rendering_short, word
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus, Change
from rehearsal.session.now import Now
from rehearsal.workbook.values import Moment, Take

#: So many states of a take are kept, and those that have a name of the user's own.
MOST = 40
_PARTS = ("condition", "frame", "recipe", "rendering", "sheet")
_TOPICS = tuple(f"take.{part}" for part in _PARTS)


def moment_of(take: Take, words: str, when: datetime) -> Moment:
    """A take's state now."""
    parts = {name: getattr(take, name) for name in _PARTS}
    return Moment(take=take.id, when=when.isoformat(timespec="seconds"), words=words, **parts)


def is_of(moment: Moment, take: Take) -> bool:
    """True while a take is in this state."""
    return moment.take == take.id and all(getattr(moment, name) == getattr(take, name) for name in _PARTS)


class History:
    """Owner of the moments: notes each new state of the open take; ``history`` tells of it. A state come back to is not a new one."""

    def __init__(self, book: Book, bus: Bus, now: Now) -> None:
        self._book, self._bus, self._now = book, bus, now
        self._last: Take | None = None
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
        if not known:
            self._book.note(moment_of(before, word("change", "begun"), now))
        if any(is_of(m, take) for m in known):
            self._bus.tell("history")
            return
        self._book.note(moment_of(take, self._words(before, take), now))
        for old in [m for m in self.of(take) if not m.name][:-MOST]:
            self._book.forget(old)
        self._bus.tell("history")

    def _words(self, before: Take, take: Take) -> str:
        """What was done, in words."""
        paper = self._book.get(PrintCondition, take.condition)
        said = []
        if paper is not None and take.condition != before.condition:
            said.append(word("change", "condition").format(paper.paper))
        if take.rendering != before.rendering:
            said.append(rendering_short(take.rendering))
        said.append(recipe_change(before.recipe, take.recipe))
        if take.frame.crop != before.frame.crop:
            said.append(word("change", "crop"))
        if take.frame.size is not None and take.frame.size != before.frame.size:
            said.append(take.frame.size.in_words)
        if take.sheet != before.sheet:
            said.append(word("change", "sheet").format(take.sheet.name))
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
        made = replace(moment, name=name.strip())
        if made != moment and self._book.do("history", [made]):
            self._bus.tell("history")
