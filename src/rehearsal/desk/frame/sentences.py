"""The sentence of each station: its text, what "Why?" opens, and the advice that can be taken."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime

from rehearsal.core.picture.arrived import good_for
from rehearsal.core.proof.advice import rendering_name
from rehearsal.core.proof.judging import Judgement
from rehearsal.core.proof.saying import first_sentence, looked_sentence, verdict_sentence
from rehearsal.core.screen.brightness import lighten_words
from rehearsal.core.screen.lessons import reason_words
from rehearsal.core.sheet.cautions import cautions
from rehearsal.core.sheet.layout import effective_ppi
from rehearsal.core.testsheets.verdictrows import offset_words
from rehearsal.core.testsheets.words import plan_words
from rehearsal.core.values.recipe import LEARNT
from rehearsal.core.values.words import capital, counted, date_words, in_row, share_words, values_words, word
from rehearsal.desk.words import as_printed
from rehearsal.session.session import Session
from rehearsal.workbook.values import LogEntry, TestSheet


@dataclass(frozen=True)
class Sentence:
    """What a station says.

    Attributes:
        text: one or two sentences.
        why: what "Why?" opens: a key of the window's pages, empty for nothing.
        advice, take: words of the button that takes the advice, and what it does; tip: its words in full.
    """

    text: str
    why: str = ""
    advice: str = ""
    take: Callable[[], object] | None = None
    tip: str = ""


_NO_PAPER = (
    "No paper yet. A paper's profile comes from its maker, from the printer's maker, from the lab that prints, or is made for "
    "your own printer: add it at Paper."
)


def _without_paper(session: Session) -> Sentence:
    """Nothing is said of a print while there is none: the picture is held against the screen alone."""
    beyond = session.judging.beyond_screen
    if beyond is None:
        held = (
            "Until then nothing is said of a print, and without the screen's profile nothing of what the screen shows."
        )
    else:
        held = f"Until then: {share_words(beyond)} of the picture lies beyond this screen."
    return Sentence(
        f"{_NO_PAPER} {held}",
        "",
        "It goes to a lab as a file",
        session.takes.want_file,
        "Judge it for a file a lab prints",
    )


def _judge(session: Session) -> Sentence:
    if session.takes.is_without_paper:
        return _without_paper(session)
    take, result, first = session.now.take, session.judging.judgement, session.judging.first
    assert take is not None
    if result is None:
        return Sentence("Judging…" if first is None else first_sentence(first, "this paper"))
    fine = session.shelf.accepted_on(take.condition)
    said = verdict_sentence(result, fine, session.logbook.light_words)
    if not session.judging.is_current:
        return Sentence(_while_judging(session, result, said), "judgement")
    advised = result.advice.rendering
    if not result.advice.urges(result.rendering):
        return Sentence(said, "judgement")
    return Sentence(
        said, "judgement", "Take it", lambda: session.takes.render(advised), f"Take {rendering_name(advised)}"
    )


def _while_judging(session: Session, old: Judgement, said: str) -> str:
    """What is shown while new figures are made: of another paper or intent nothing, of the same its old sentence, as such."""
    rendition, condition = session.now.rendition, session.now.condition
    if rendition is None or condition is None:
        return "Judging…"
    if not session.judging.is_coming:
        if session.judging.was_stopped:
            return "Not judged since the last change: judging was stopped. Any change begins it again."
        return "Not judged since the last change: Ctrl+J judges it."
    if (rendition.destination, rendition.rendering) == (old.rendition.destination, old.rendition.rendering):
        return f"Judging again. Before the last change: {said}"
    first = session.judging.first
    if first is not None and rendition.destination != old.rendition.destination:
        return first_sentence(first, condition.paper)
    return f"Judging {condition.paper}, {rendering_name(rendition.rendering)}…"


_UNSAID = "Nobody has told how bright this screen and the light on the prints are, so nothing is said of how light prints will look."


def _screen(session: Session) -> Sentence:
    advice, trust = session.logbook.brightness, session.screen.trust
    text = f"{capital(trust.words)}. {session.screen.doubt}".strip()
    if not session.screen.record.profile_path:
        text = "This screen has no profile yet: what is shown is only as right as a usual screen. Choose the file its calibration wrote."
    if not session.screen.knows_light:
        return Sentence(f"{text} {_UNSAID}", "standards")
    if advice is None:
        return Sentence(text, "standards")
    return Sentence(f"{text} {advice.words}", "standards", lighten_words(advice), session.logbook.lighten_for_light)


def _picture(session: Session) -> Sentence:
    take, picture = session.now.take, session.now.picture
    assert take is not None
    if picture is None:
        return Sentence("Reading the picture…")
    _x, _y, w, h = take.frame.crop.pixels(*picture.size)
    near, *_rest, far = good_for(w, h)
    most = (
        f"With all the eye can use it may be {near.width_cm:.0f} × {near.height_cm:.0f} cm seen from {near.distance_cm:.0f} cm, "
        f"{far.width_cm:.0f} × {far.height_cm:.0f} cm from {far.distance_cm:.0f} cm."
    )
    if take.frame.size is None:
        return Sentence(f"No print size yet. {most}", "sizes")
    return Sentence(
        f"{take.frame.size.in_words} at {effective_ppi(w, take.frame.size.width_cm):.0f} ppi. {most}", "sizes"
    )


def _paper(session: Session) -> Sentence:
    condition, result = session.now.condition, session.judging.judgement
    said = _judge(session)
    if condition is None or result is None or not session.judging.is_current or session.takes.is_without_paper:
        return said
    facts = session.shelf.facts_of(condition.id)
    contrast = "" if facts is None or not facts.is_paper else f", contrast {facts.contrast:.0f} : 1"
    return Sentence(f"{condition.paper}{contrast}. {said.text}", said.why)


def _tune(session: Session) -> Sentence:
    take, lesson, result = session.now.take, session.logbook.lesson, session.judging.judgement
    assert take is not None
    done = values_words(take.recipe.total)
    text = f"Tuned: {in_row(done)}." if done else "As the picture is: nothing is tuned."
    if session.takes.is_without_paper:
        return Sentence(f"{text} {_NO_PAPER}")
    if result is not None and session.judging.is_current:
        text += f" The print differs from the picture by ΔE₀₀ {result.change.mean:.1f} on average."
    if lesson is None or take.recipe.step(LEARNT) is not None:
        return Sentence(text)
    text = f"{text} Learnt from {lesson.origin} in this light: {lesson.words}."
    return Sentence(text, "lesson", "Take what was learnt", session.logbook.apply_lesson)


def _test(session: Session) -> Sentence:
    sheet = session.tested.subject
    if sheet is None or (session.testing.looked_at is None and sheet.looked.ending):
        return _test_plan(session)
    number = session.testing.number_of(sheet)
    wet = session.tested.wet_until(sheet, datetime.now())
    if not sheet.looked.ending:
        state = (
            f"dries until {wet}: wait with the choice"
            if wet
            else "can be looked at: click the best field, or the gap between two"
        )
        return Sentence(f"Test sheet {number} of {date_words(sheet.when[:10])} {state}.")
    return _test_choice(session, sheet)


def _test_plan(session: Session) -> Sentence:
    """What the planned sheet is, and what was said of it."""
    made = session.testing.made
    if made is not None and made.planned.problem:
        return Sentence(plan_words(made.planned))
    if made is None or made.page is None:
        return Sentence("A small sheet before a large print costs less than a large one twice.")
    fields = counted(len(made.planned.variants), "field")
    return Sentence(f"{capital(fields)} on {made.page.name}: {plan_words(made.planned)}".removesuffix(": "))


_NEXT = {
    "edge": "It lies at the edge of the sheet: what is better may lie beyond it.",
    "narrower": "A narrower sheet about it is worth its paper.",
    "further": "The next sheet goes on from there.",
    "none-better": "Nothing is changed; this control is not offered again. A small proof of the whole is next.",
    "settled": "A small proof of the whole is next.",
}


def _test_choice(session: Session, sheet: TestSheet) -> Sentence:
    """What was chosen, and what is worth doing next."""
    looked, following = sheet.looked, session.tested.next_of(sheet)
    chosen = session.tested.choice_words(sheet)
    if looked.ending == "none-better":
        text = "The untouched one was best."
    elif looked.ending.startswith("further"):
        side = word(looked.ending.replace("-", "_"), sheet.names[0]) if sheet.names else ""
        text = f"None of them: further, {side}."
    elif len(looked.chosen) == 2:
        text = f"Between {looked.chosen[0]} and {looked.chosen[1]}: {chosen}."
    else:
        text = f"Field {looked.chosen[0]}: {chosen}."
    half = f"Half a step on this sheet is {following.apart / 2:.1f} visible steps"
    said = f"{text} {_NEXT.get(following.why, f'{half}: no finer sheet is worth its paper. A small proof of the whole is next.')}"
    if looked.chosen and session.testing.looked_at == sheet.id:
        return Sentence(said, "", "Give it to the take", lambda: session.tested.apply(sheet))
    if following.plan is not None:
        return Sentence(said, "", "Plan the next sheet", lambda: session.tested.take_next(sheet))
    return Sentence(said)


def _sheet(session: Session) -> Sentence:
    request = session.printing.ticket_request()
    if request is None:
        return Sentence("The picture is not there yet.")
    if session.takes.is_without_paper:
        return _without_paper(session)
    notes = cautions(request)
    if not notes:
        return Sentence(f"Nothing needs a look: {as_printed(request.rendition.hand_over)}.", "ticket")
    more = "" if len(notes) == 1 else f" And {counted(len(notes) - 1, 'more thing')} to look at."
    return Sentence(f"{notes[0]}{more}", "ticket")


def _log(session: Session) -> Sentence:
    condition, lesson = session.now.condition, session.logbook.lesson
    if condition is None:
        return Sentence("Nothing has been printed.")
    if session.takes.is_without_paper:
        return Sentence(f"Nothing has been printed. {_NO_PAPER}")
    held = offset_words(session.verdicts.offsets)
    hold = f"You hold a print {held} than the take. " if held else ""
    here: list[LogEntry] = [e for e in session.logbook.entries if e.condition == condition.id]
    reason = session.logbook.reason
    if not here and reason is None:
        said = f"No print on {condition.paper} has been looked at yet: the first verdict begins to teach."
        return Sentence(f"{hold}{said}")
    if reason is not None and reason.kind != "unsure":
        count = len(session.logbook.teachers)
        return Sentence(
            f"{hold}{counted(count, 'print')} in this light. {reason_words(reason, condition.paper)}", "lesson"
        )
    learnt = "No correction is offered in this light." if lesson is None else f"Learnt in this light: {lesson.words}."
    last = f", the last of {date_words(here[-1].when)}" if here else ""
    return Sentence(f"{hold}{counted(len(here), 'print')} on {condition.paper}{last}. {learnt}", "lesson")


_BY_STATION: dict[str, Callable[[Session], Sentence]] = {
    "screen": _screen, "picture": _picture, "paper": _paper, "judge": _judge, "tune": _tune, "test": _test, "sheet": _sheet,
    "log": _log,
}  # fmt: skip


def sentence_of(session: Session, station: str) -> Sentence:
    """What a station says of the open take."""
    now = session.now
    if station == "screen":
        return _screen(session)
    if now.looked is not None:
        return _looked(session)
    if now.take is None:
        return Sentence("Open a picture to begin.")
    if session.roads.unmanaged:
        return Sentence(
            "These numbers reach the printer unconverted: a warning, not a proof. So it prints when nobody converts."
        )
    if now.trouble is not None and now.trouble.kind != "untagged":
        return Sentence("Nothing can be judged yet.")
    return _BY_STATION[station](session)


def _looked(session: Session) -> Sentence:
    looked, chosen = session.now.looked, session.now.condition
    assert looked is not None
    takes = session.takes
    words, act = ("New take on", takes.new_on_looked) if takes.is_worked else ("Choose", takes.take_over_to_looked)
    words = f"{words} {looked.paper}"
    text = looked_sentence(looked.name, "" if chosen is None else chosen.name, session.judging.first_looked)
    return Sentence(text, "", words if session.now.take is not None else "", act)
