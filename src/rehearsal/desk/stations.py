"""What each station of the running order knows about the open take, in a few words."""

from __future__ import annotations

from rehearsal.desk.model import DeskModel
from rehearsal.desk.ribbon import STATIONS, StationState
from rehearsal.desk.words import rendering_words, share_words, view_words
from rehearsal.tasks.ticketing import TicketRequest, cautions


def station_states(model: DeskModel) -> list[StationState]:
    """State of all stations, in the running order."""
    take = model.take
    made = [
        _screen(model),
        _picture(model),
        _paper(model),
        _judge(model),
        _tune(model),
        _test(model),
        _sheet(model),
        _log(model),
    ]
    if take is None:
        return made
    return [
        StationState("full", "not for this print") if STATIONS[i] in take.not_wanted else state
        for i, state in enumerate(made)
    ]


def _screen(model: DeskModel) -> StationState:
    trust = model.trust
    if not model.screen.profile_path:
        return StationState("look", "no profile known")
    return StationState({"fresh": "full", "soon": "full", "old": "look", "unknown": "half"}[trust.state], trust.words)


def _picture(model: DeskModel) -> StationState:
    take, master = model.take, model.master
    if take is None or master is None:
        return StationState()
    if model.file_state == "changed":
        return StationState("look", "changed since, judge again?")
    if take.size is None:
        return StationState("half", "no print size yet")
    look = model.loaded is not None and model.loaded.picture.info.assumed and not master.assumed
    return StationState("look" if look else "full", take.size.in_words)


def _paper(model: DeskModel) -> StationState:
    condition, facts = model.condition, model.condition_facts
    if condition is None:
        return StationState()
    if facts is None:
        return StationState("half", condition.paper)
    if "error" in facts:
        return StationState("look", "profile missing")
    contrast = f", {facts['contrast']:.0f} : 1" if facts["contrast"] < 10000 else ""
    return StationState("full", f"{condition.paper}{contrast}")


def _judge(model: DeskModel) -> StationState:
    if model.judgement is None:
        return StationState("empty" if model.take is None else "half", "not judged yet")
    words = f"{share_words(model.judgement.beyond.colour)} beyond in colour"
    return StationState("full" if model.judgement_is_current else "half", words)


def _tune(model: DeskModel) -> StationState:
    if model.take is None:
        return StationState()
    changes = model.take.tuning.changes
    if changes:
        return StationState("full", "1 change" if changes == 1 else f"{changes} changes")
    lesson = model.lesson
    if lesson is not None:
        return StationState("half", f"offered: {lesson.words}")
    return StationState("empty", "as the master")


def _test(model: DeskModel) -> StationState:
    tested = model.take is not None and f"test {model.take.id}" in (model.workbook.setting("tests") or [])
    return StationState("full", "test sheet written") if tested else StationState("empty", "none yet")


def ticket_request(model: DeskModel) -> TicketRequest | None:
    """Snapshot for the ticket of the open take."""
    take, condition, loaded, master = model.take, model.condition, model.loaded, model.master
    if take is None or condition is None or loaded is None or master is None:
        return None
    _x, _y, w, h = take.crop.pixels(*loaded.pyramid.size)
    facts_name = condition.paper
    try:
        facts_name = model.profile(condition.profile_path).description
    except Exception:
        facts_name = f"{condition.paper} (profile missing)"
    judged = model.judged_for
    return TicketRequest(take, condition, master.name, (w, h), facts_name, judged, take.file)


def _sheet(model: DeskModel) -> StationState:
    request = ticket_request(model)
    if request is None:
        return StationState()
    notes = cautions(request)
    if notes:
        return StationState("look", "1 thing to look at" if len(notes) == 1 else f"{len(notes)} things to look at")
    return StationState("full", "file written") if request.take.file else StationState("half", "ready to write")


def _log(model: DeskModel) -> StationState:
    master, condition = model.master, model.condition
    if master is None or condition is None:
        return StationState()
    entries = [e for e in model.log if e.condition == condition.id and e.picture == master.name]
    if entries:
        return StationState("full", f"printed {entries[-1].when}")
    count = sum(e.condition == condition.id for e in model.log)
    return StationState("empty", f"{count} prints on this paper" if count else "not printed")


def header_texts(model: DeskModel, content: int, mode: str) -> tuple[str, str]:
    """Name and state at the head of the picture's pane (content 0) or the take's (1)."""
    take, master, condition, road = model.take, model.master, model.condition, model.road
    if take is None or master is None:
        return "", ""
    paper = f"{condition.paper if condition else ''}, {rendering_words(take.rendering)}"
    if mode == "curtain":
        return master.name, paper
    if content == 0 and model.rival is not None:
        return f"{model.rival.name}", "the same take on the other paper; Esc ends"
    if content == 0:
        held = road is not None and road.hold < 0.995
        return master.name, "held at the paper's lightness" if held else "the picture, at full brightness"
    if model.unmanaged:
        return f"Unconverted numbers on {condition.paper if condition else ''}", "a warning, not a proof"
    outshines = ", paper brighter than this screen" if road is not None and road.outshines else ""
    return paper, f"{view_words(take.view)}{outshines}{contrast_words(model)}"


def contrast_words(model: DeskModel) -> str:
    """The paper's contrast beside the screen's."""
    facts = model.condition_facts
    if facts is None or "error" in facts or facts["contrast"] > 10000:
        return ""
    return f"; paper {facts['contrast']:.0f} : 1, screen {model.screen.contrast:.0f} : 1"
