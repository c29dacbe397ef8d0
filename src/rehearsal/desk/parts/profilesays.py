"""What a paper's profile says, in plain words: greys, steps, room for colour, what is odd."""

from __future__ import annotations

from rehearsal.core.papers.plain import Plain, greys, room_for_colour, steps
from rehearsal.core.testsheets.wedges import one_black_words
from rehearsal.core.values.condition import PrintCondition
from rehearsal.desk.parts.bars import Bar
from rehearsal.desk.parts.toldlist import Told
from rehearsal.session.shelf import Shelf
from rehearsal.tasks.conditions import Facts, NoFacts


def said_rows(shelf: Shelf, condition: PrintCondition) -> list[Told]:
    """Greys, steps and notes as lines with rings; or why nothing is known."""
    facts = shelf.facts.get(condition.id)
    if facts is None:
        return [Told("", "measuring…", "empty")]
    if isinstance(facts, NoFacts):
        return [Told("", f"{facts.reason} Choose the profile again in its card.", "odd")]
    notes = [Told("", note.words, "odd") for note in facts.notes]
    if condition.space or not facts.is_paper:
        space = "a working space: this shows what the space cuts off, not ink and paper"
        return [Told("", space), *notes]
    plain = (greys(facts.drift_chroma, facts.drift_lightness), steps(facts.noise, facts.notes))
    made = [Told("", each.words, "told" if each.good else "odd") for each in plain]
    seen = one_black_words(condition.wedges, "this paper")
    return [*made, *([Told("", seen, "told")] if seen else []), *(notes or [Told("", "nothing odd found")])]


def room_of(shelf: Shelf, condition: PrintCondition) -> Plain | None:
    """Room for colour against the other papers of the shelf; None before all of them are measured, or without any."""
    facts = shelf.facts_of(condition.id)
    if facts is None or not facts.is_paper or condition.space:
        return None
    papers = [(c, shelf.facts.get(c.id)) for c in shelf.conditions if c.id != condition.id and not c.space]
    if any(found is None for _c, found in papers):  # the largest may be one that is still being measured
        return None
    return room_for_colour(
        facts.volume, [(c.paper, f.volume) for c, f in papers if isinstance(f, Facts) and f.is_paper]
    )


def room_bars(room: Plain | None) -> tuple[Bar, ...]:
    """The bar of the room for colour, its length against the paper of the shelf that has the most."""
    if room is None:
        return ()
    words = "the most of the shelf" if room.share >= 100 else f"{room.share:.0f} % of the most"
    return (Bar("room for colour", room.share, words),)
