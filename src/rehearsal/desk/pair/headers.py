"""What stands at the head of each pane."""

from __future__ import annotations

from rehearsal.core.values.condition import PrintCondition
from rehearsal.desk.words import rendering_words, view_words
from rehearsal.session.session import Session

#: Views that show the paper's white darker and warmer than the screen's: an eye that is used to it sees white (common practice, no source).
_PAPER_VIEWS = ("on-paper", "on-paper-bright")
_EYE = "; the print looks better than this once the eye is used to it"


def header_texts(session: Session, content: int, mode: str) -> tuple[str, str]:
    """Name and state at the head of the picture's pane (content 0) or the take's (1)."""
    now, roads = session.now, session.roads
    take, master, condition, road = now.take, now.master, now.condition, roads.road
    if take is None or master is None:
        return "", ""
    paper = f"{condition.paper if condition else ''}, {rendering_words(take.rendering)}"
    if mode == "curtain":
        return master.name, paper
    if content == 0:
        return _left_texts(session, master.name)
    if roads.unmanaged:
        return f"Unconverted numbers on {condition.paper if condition else ''}", "a warning, not a proof"
    if now.looked is not None:
        return _looked_texts(session, now.looked, paper)
    outshines = ", paper brighter than this screen" if road is not None and road.outshines else ""
    old = "tuned by an earlier arithmetic, shown by the present one"
    more = _EYE if take.view in _PAPER_VIEWS else contrast_words(session)
    return paper, old if take.recipe.is_old else f"{view_words(take.view)}{outshines}{more}"


def _left_texts(session: Session, picture: str) -> tuple[str, str]:
    """The head of the left pane: the picture, or the other paper of a comparison."""
    roads = session.roads
    if roads.rival_take is not None:
        other, here = roads.rival_take, session.now.take
        crop = "" if here is None or other.frame.crop == here.frame.crop else ", in this one's crop"
        return session.takes.name_of(other), f"another take of this picture{crop}; Esc ends"
    if roads.rival is not None:
        return roads.rival.name, "the same take on the other paper; Esc ends"
    held = roads.road is not None and roads.road.master_scale < 0.995
    return picture, "held at the paper's lightness" if held else "the picture, at full brightness"


def _looked_texts(session: Session, looked: PrintCondition, paper: str) -> tuple[str, str]:
    """The head of a pane that shows a paper nobody has chosen."""
    now = session.now
    if now.opened is not None and now.seen is now.opened:
        return paper, f"the profile of {looked.paper} cannot be opened"
    return f"{looked.paper}, {rendering_words(now.rendering_on(looked))}", "only looked at, not chosen; Esc goes back"


def contrast_words(session: Session) -> str:
    """The paper's contrast beside the screen's."""
    take = session.now.take
    facts = None if take is None else session.shelf.facts_of(take.condition)
    if facts is None or not facts.is_paper:
        return ""
    screen = session.screen
    own = f", screen {screen.record.contrast:.0f} : 1" if screen.is_said("contrast") else ""
    return f"; paper {facts.contrast:.0f} : 1{own}"
