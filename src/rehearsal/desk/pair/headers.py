"""What stands at the head of each pane."""

from __future__ import annotations

from rehearsal.desk.words import rendering_words, view_words
from rehearsal.session.session import Session


def header_texts(session: Session, content: int, mode: str) -> tuple[str, str]:
    """Name and state at the head of the picture's pane (content 0) or the take's (1)."""
    now, roads = session.now, session.roads
    take, master, condition, road = now.take, now.master, now.condition, roads.road
    if take is None or master is None:
        return "", ""
    paper = f"{condition.paper if condition else ''}, {rendering_words(take.rendering)}"
    if mode == "curtain":
        return master.name, paper
    if content == 0 and roads.rival is not None:
        return f"{roads.rival.name}", "the same take on the other paper; Esc ends"
    if content == 0:
        held = road is not None and road.master_scale < 0.995
        return master.name, "held at the paper's lightness" if held else "the picture, at full brightness"
    if roads.unmanaged:
        return f"Unconverted numbers on {condition.paper if condition else ''}", "a warning, not a proof"
    outshines = ", paper brighter than this screen" if road is not None and road.outshines else ""
    old = "tuned by an earlier arithmetic, shown by the present one"
    return paper, old if take.recipe.is_old else f"{view_words(take.view)}{outshines}{contrast_words(session)}"


def contrast_words(session: Session) -> str:
    """The paper's contrast beside the screen's."""
    take = session.now.take
    facts = None if take is None else session.shelf.facts_of(take.condition)
    if facts is None or not facts.is_paper:
        return ""
    return f"; paper {facts.contrast:.0f} : 1, screen {session.screen.record.contrast:.0f} : 1"
