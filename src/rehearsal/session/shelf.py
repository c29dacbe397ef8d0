"""The shelf: print conditions, what was measured of them, and what is fine as it is on them."""

from __future__ import annotations

import logging
from dataclasses import replace
from typing import Any

from rehearsal.core.errors import RehearsalError, Stopped
from rehearsal.core.icc import Profile
from rehearsal.core.papers.surface import SIGMA_UM, assumed_family, family
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.words import counted, in_row
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus
from rehearsal.session.jobs import Job, JobProgress, Jobs
from rehearsal.session.profiles import OpenProfiles
from rehearsal.tasks.conditions import FACTS_FORMAT, Facts, NoFacts, condition_facts, facts_to_keep
from rehearsal.workbook.values import Accepted, LogEntry, Take

_log = logging.getLogger("rehearsal")
_FACTS = f"paper facts {FACTS_FORMAT}"


class Shelf:
    """Owner of the print conditions and their facts."""

    def __init__(self, book: Book, bus: Bus, jobs: Jobs, profiles: OpenProfiles) -> None:
        self._book, self._bus, self._jobs, self._profiles = book, bus, jobs, profiles
        #: By number of the condition.
        self.facts: dict[int, Facts | NoFacts] = {}
        self._removed: PrintCondition | None = None
        self._paths: dict[int, str] = {c.id: c.profile_path for c in self.conditions}
        bus.on(("conditions",), self._follow)

    @property
    def conditions(self) -> list[PrintCondition]:
        """All print conditions."""
        return self._book.all(PrintCondition)

    def family_of(self, condition: PrintCondition) -> tuple[str, bool]:
        """Family of a paper's surface, and whether it is only assumed from its black; empty while nobody knows."""
        if condition.space:
            return "", False
        told = family(condition.surface, condition.texture)
        facts = self.facts_of(condition.id)
        if told or facts is None or not facts.is_paper:
            return told, False
        return assumed_family(facts.dmax), True

    def spread_of(self, condition: PrintCondition) -> float:
        """Spread of light and ink in a paper, µm: as it was measured, else by its surface, told or assumed; 0 while nobody knows."""
        if condition.sigma_um > 0 and not condition.space:
            return condition.sigma_um
        return SIGMA_UM.get(self.family_of(condition)[0], 0.0)

    @property
    def printers(self) -> list[str]:
        """Names of the printers on the cards, labs left out."""
        return list(dict.fromkeys(c.printer for c in self.conditions if c.printer and not c.lab))

    def get(self, number: int) -> PrintCondition | None:
        """One print condition."""
        return self._book.get(PrintCondition, number)

    def profile(self, path: str) -> Profile:
        """An opened profile by path; raises ProfileError."""
        return self._profiles.open(path)

    # ---- operations

    def add(self, condition: PrintCondition) -> PrintCondition | None:
        """Keep a new condition, or the one there is of the very same profile; None when it cannot be kept."""
        for known in self.conditions:
            if known.profile_digest and known.profile_digest == condition.profile_digest:
                return known
        kept = self._book.do("add-condition", [condition])
        if not kept:
            return None
        self._bus.tell("conditions")
        made: PrintCondition = kept[0]
        return made

    def change(self, condition: PrintCondition) -> None:
        """Keep an edited condition."""
        if condition != self.get(condition.id) and self._book.do("change-condition", [condition]):
            self._bus.tell("conditions")

    def remove(self, condition: PrintCondition) -> str:
        """Take a condition off the shelf unless takes or the logbook need it; returns what happened as a sentence."""
        used = sum(t.condition == condition.id for t in self._book.all(Take))
        logged = sum(e.condition == condition.id for e in self._book.all(LogEntry))
        if used or logged:
            return f"{condition.name} stays: {_needed_by(used, logged)}."
        self._book.do("remove-condition", removes=[condition])
        if self.get(condition.id) is not None:
            return ""
        self._removed = condition
        self._bus.tell("conditions")
        return f"{condition.name} is off the shelf; its profile file was left alone."

    @property
    def removed(self) -> PrintCondition | None:
        """The condition that was taken off last, while it is still off."""
        return self._removed if self._removed is not None and self.get(self._removed.id) is None else None

    def restore(self) -> None:
        """Put the condition that was taken off last back on the shelf, with all its fields."""
        if self.removed is not None and self._book.do("add-condition", [self.removed]):
            self._bus.tell("conditions")
        self._removed = None

    # ---- facts

    def facts_of(self, number: int) -> Facts | None:
        """Measured facts of a condition, when they are known."""
        found = self.facts.get(number)
        return found if isinstance(found, Facts) else None

    def _follow(self) -> None:
        """Facts of a condition whose profile is another one, or that is gone, do not hold any more."""
        paths = {c.id: c.profile_path for c in self.conditions}
        old = [n for n, path in self._paths.items() if paths.get(n) != path]
        self._paths = paths
        if old:
            self._jobs.stop("facts")
            for number in old:
                self.facts.pop(number, None)
        self.measure()

    def measure(self, only: PrintCondition | None = None) -> None:
        """Measure every condition (or one of them) that has not been measured yet, in the background."""
        wanted = [c for c in ([only] if only else self.conditions) if c.id not in self.facts]
        if not wanted:
            return
        kept = self._book.recall(_FACTS, {})

        def work(progress: JobProgress) -> None:
            for i, condition in enumerate(wanted):
                progress(i / len(wanted), f"measuring {condition.paper}")
                progress.tell({condition.id: measured(condition, kept)})

        self._jobs.run(Job("facts", tuple(wanted)), work, lambda _r: None, part=self._on_facts)

    def _on_facts(self, found: dict[int, Facts | NoFacts]) -> None:
        self.facts.update(found)
        kept = self._book.recall(_FACTS, {})
        new = {f.digest: facts_to_keep(f) for f in found.values() if isinstance(f, Facts) and f.digest not in kept}
        if new:
            self._book.remember(_FACTS, {**kept, **new})
        self._bus.tell("facts")

    # ---- what is fine as it is

    def accepted_on(self, condition: int) -> dict[tuple[str, str], str]:
        """Why areas are fine as they are on a condition, by keys of hue and cause."""
        return {(a.hue, a.cause): a.why for a in self._book.all(Accepted) if a.condition == condition}

    def accept(self, condition: int, hue: str, cause: str, why: str) -> None:
        """This hue and cause are fine on a condition, with a word why; saying it again changes the word."""
        known = next(
            (a for a in self._book.all(Accepted) if (a.condition, a.hue, a.cause) == (condition, hue, cause)), None
        )
        made = replace(known or Accepted(condition=condition, hue=hue, cause=cause), why=why)
        if self._book.do("accept", [made]):
            self._bus.tell("accepted")

    def reject(self, condition: int, hue: str, cause: str) -> None:
        """It is not fine any more."""
        gone = [a for a in self._book.all(Accepted) if (a.condition, a.hue, a.cause) == (condition, hue, cause)]
        self._book.do("reject", removes=gone)
        self._bus.tell("accepted")


def _needed_by(takes: int, entries: int) -> str:
    parts = [counted(takes, "take")] if takes else []
    parts += [counted(entries, "entry", "entries") + " of the logbook"] if entries else []
    return f"{in_row(parts)} {'needs' if takes + entries == 1 else 'need'} it"


def measured(condition: PrintCondition, kept: dict[str, Any]) -> Facts | NoFacts:
    """Facts of a condition; whatever is wrong with one paper does not end the measuring of the others."""
    try:
        return condition_facts(condition, kept)
    except Stopped:
        raise
    except Exception as error:
        _log.exception("measuring %s", condition.name)
        return NoFacts(
            f"This profile cannot be measured ({type(error).__name__}). Choose another one, and please report this."
        )


def readable(shelf: Shelf, condition: PrintCondition) -> Profile | None:
    """A condition's profile, or None when it cannot be opened."""
    try:
        return shelf.profile(condition.profile_path)
    except RehearsalError:
        return None
