"""The running order: each station with its tray, and what it knows about the open take in a few words.

A new station is a line in STATIONS, a tray, and its words.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime

from rehearsal.core.proof.saying import short_loss
from rehearsal.core.sheet.cautions import cautions
from rehearsal.core.values.words import about_stops, counted, date_words, moment_words, word
from rehearsal.desk.frame.ribbon import StationState
from rehearsal.desk.pair.view import PairView
from rehearsal.desk.trays.base import Tray
from rehearsal.desk.trays.judge import JudgeTray
from rehearsal.desk.trays.log import LogTray
from rehearsal.desk.trays.paper import PaperTray
from rehearsal.desk.trays.picture import PictureTray
from rehearsal.desk.trays.screen import ScreenTray
from rehearsal.desk.trays.sheet import SheetTray
from rehearsal.desk.trays.test import TestTray
from rehearsal.desk.trays.tune import TuneTray
from rehearsal.session.session import Session
from rehearsal.tasks.conditions import NoFacts

#: What the words of the stations depend on, as a change record names it.
FOLLOWS = (
    "take",
    "picture",
    "judgement",
    "first",
    "facts",
    "conditions",
    "masters",
    "takes",
    "log",
    "test_sheets",
    "screen",
    "figures",
    "queues",
    "prints",
)


def _screen(session: Session) -> StationState:
    trust = session.screen.trust
    if not session.screen.record.profile_path:
        return StationState("look", "no profile known")
    ring = {"fresh": "full", "soon": "full", "old": "look", "untold": "half", "unknown": "half"}[trust.state]
    return StationState(ring, trust.words, trust.words.removeprefix("calibrated "))


def _picture(session: Session) -> StationState:
    now = session.now
    take, master = now.take, now.master
    if take is None or master is None:
        return StationState()
    if now.file_state == "changed":
        return StationState("look", "changed since, judge again?")
    if take.frame.size is None:
        return StationState("half", "no print size yet")
    look = now.picture is not None and now.picture.picture.info.assumed and not master.assumed
    return StationState("look" if look else "full", take.frame.size.in_words)


def _paper(session: Session) -> StationState:
    condition = session.now.condition
    if condition is None:
        return StationState()
    if session.takes.is_without_paper:
        return StationState("half", "no paper yet")
    facts = session.shelf.facts.get(condition.id)
    if facts is None:
        return StationState("half", condition.paper)
    if isinstance(facts, NoFacts):
        return StationState("look", "profile missing")
    if not facts.is_paper:
        return StationState("full", condition.paper)
    contrast = f"contrast {facts.contrast:.0f} : 1"
    return StationState("full", f"{condition.paper}, {contrast}", contrast)


def _judge(session: Session) -> StationState:
    judged = session.judging.judgement
    if judged is None:
        return StationState("empty" if session.now.take is None else "half", "not judged yet")
    if judged.rendition.recipe.is_old:
        return StationState("look", "tuned before, look again")
    if session.takes.is_without_paper:
        return StationState("half", "no paper yet")
    lost = session.judging.lost
    if lost is None:  # the old figures are of another paper, crop or tuning
        return StationState("half", "judging…" if session.judging.is_coming else "not judged since")
    words = short_loss(lost)
    return StationState("full" if session.judging.is_current else "half", words, words.split(",")[0])


def _tune(session: Session) -> StationState:
    if session.now.take is None:
        return StationState()
    changes = session.now.take.recipe.changes
    if session.now.take.recipe.is_old:
        return StationState("look", "earlier arithmetic")
    if changes:
        return StationState("full", "1 change" if changes == 1 else f"{changes} changes")
    lesson = session.logbook.lesson
    if lesson is not None:
        stops = lesson.values["lightness"]
        first = about_stops(stops) if stops else lesson.words.split(",")[0]
        return StationState("half", f"{lesson.words} offered", f"{first} offered")
    return StationState("empty", "untuned")


def _test(session: Session) -> StationState:
    sheet = session.tested.last
    if sheet is None:
        return StationState("empty", "none yet")
    number = session.testing.number_of(sheet)
    if sheet.plan.kind == "proof":
        return StationState("full", "small proof written")
    if not sheet.variants:
        return StationState("full", "test sheet written")
    if sheet.looked.ending:
        chosen = " and ".join(str(n) for n in sheet.looked.chosen)
        return StationState("full" if chosen else "half", f"chosen: {chosen}" if chosen else "looked at")
    if session.tested.wet_until(sheet, datetime.now()):
        return StationState("half", f"sheet {number} dries")
    return StationState("half", f"sheet {number} is dry: look", "dry: look")


def _sheet(session: Session) -> StationState:
    request = session.printing.ticket_request()
    if request is None:
        return StationState()
    notes = cautions(request)
    if notes:
        return StationState("look", f"{counted(len(notes), 'thing')} to look at", f"{len(notes)} to look at")
    if session.printing.is_on_the_way:
        return StationState("half", "on its way")
    last = session.handed.last
    printed = last is not None and last.state == "printed" and session.handed.is_of_now(last)
    if request.rendition.hand_over.queue and not printed:
        return StationState("half", "ready to print")
    return _handed_over(session)


def _handed_over(session: Session) -> StationState:
    """Said of the take as it is now: what was handed over of another state is named as that."""
    last = session.handed.last
    if last is None:
        return StationState("half", "ready to write")
    if session.handed.is_of_now(last):
        return StationState("full", word("handed", last.state))
    holds = "the file holds" if last.state == "written" else f"{word('handed', last.state)} is"
    return StationState("half", f"{holds} the take of {moment_words(last.when)}", f"{last.state} before")


def _log(session: Session) -> StationState:
    master, condition = session.now.master, session.now.condition
    if master is None or condition is None:
        return StationState()
    log = session.logbook.entries
    entries = [e for e in log if e.condition == condition.id and e.picture == master.name]
    if entries:
        when = date_words(entries[-1].when)
        return StationState("full", f"printed {when}", when)
    held = session.verdicts.held
    if held is not None and held.printed:
        wet = session.verdicts.wet_until(held, datetime.now())
        return StationState(
            "half", f"dries until {wet}" if wet else "dry: which is it?", "dries" if wet else "which is it?"
        )
    count = sum(e.condition == condition.id for e in log)
    return StationState(
        "empty", f"{counted(count, 'print')} on this paper" if count else "not printed yet", "not printed"
    )


@dataclass(frozen=True)
class Station:
    """One station: its key (``words`` has the name), what it says of itself, and how its tray is made."""

    key: str
    state: Callable[[Session], StationState]
    tray: Callable[[Session, PairView], Tray]


#: In the order of the work.
STATIONS = (
    Station("screen", _screen, ScreenTray),
    Station("picture", _picture, PictureTray),
    Station("paper", _paper, PaperTray),
    Station("judge", _judge, JudgeTray),
    Station("tune", _tune, TuneTray),
    Station("test", _test, TestTray),
    Station("sheet", _sheet, SheetTray),
    Station("log", _log, LogTray),
)
#: Station whose ring fills while a job runs.
AT_WORK = {
    "load": "picture", "judge": "judge", "write": "sheet", "print": "sheet", "test": "test",
    "scout": "paper", "facts": "paper", "add": "paper",
    "library": "paper", "compare": "paper",
}  # fmt: skip
#: Work that is only for the eye at one station: elsewhere it stands in the way of that station's own.
LOOKED_AT = {"lost": "paper", "printed": "paper", "scout": "paper", "compare": "paper"}
AT = {station.key: i for i, station in enumerate(STATIONS)}


def station_states(session: Session) -> list[StationState]:
    """State of all stations, in the running order."""
    take = session.now.take
    skipped = () if take is None else take.not_wanted
    return [
        StationState("skip", "not for this print", "not now") if s.key in skipped else s.state(session)
        for s in STATIONS
    ]
