"""What is said of a judgement: the sentence of the window and of the ``judge`` command, its reasons, its areas.

Every claim has its condition here: "most", "look the same", "serves as well", "everything".
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from rehearsal.core.proof.advice import rendering_name
from rehearsal.core.proof.areas import Area, cause_in_words
from rehearsal.core.proof.beyond import Lost
from rehearsal.core.proof.contest import Advice, Loss, figure
from rehearsal.core.proof.judging import FirstFigures, Judgement
from rehearsal.core.values.destination import space_of
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.words import capital, hue_words, in_row, share_words

#: Shares under this many per cent are not spoken of.
_LEAST = 0.1
#: From this part of what is beyond on, it is said what those pixels lose that lose neither colour nor depth by themselves.
_REST = 0.25
#: Mean loss under this, and no area that loses this or more, ΔE₀₀: nothing is noticed (common practice, no source).
_UNNOTICED, _SEEN = 0.5, 3.0
#: Near-whites colder than the paper are spoken of from this share on, per cent.
COLDER = 0.5


def _name(rendering: Rendering) -> str:
    """Name of a rendering within a sentence, without the word that is always there."""
    return rendering_name(rendering).replace(" colorimetric", "")


def verdict_sentence(result: Judgement, fine: Mapping[tuple[str, str], str] | None = None, light: str = "") -> str:
    """What matters now, for a person.

    Args:
        fine: hue and cause of areas that were said to be fine, with the word why.
        light: what the light does to this print, a sentence or empty.
    """
    parts = [_loss_sentence(result, fine or {}), advice_sentence(result.advice, result.rendering)]
    return " ".join([*parts, light] if light else parts)


def _loss_sentence(result: Judgement, fine: Mapping[tuple[str, str], str]) -> str:
    lost, cold = result.beyond.lost, ""
    place = space_of(result.rendition.destination.path)  # a file for a lab is no paper
    near_white = result.near_white
    if result.colder >= COLDER and near_white is not None and (near_white.hue, near_white.cause) not in fine:
        cold = f"{share_words(result.colder)} is near-white and {near_white.cause} than {place or 'this paper'}"
    if lost.share < _LEAST:
        held = "Everything in this picture" if lost.share == 0 else f"All but {share_words(lost.share)} of this picture"
        fits = f"fits into {place}" if place else "can be printed on this paper"
        return f"{held} {fits}{f'; {cold}' if cold else ''}."
    kind = "grey picture" if result.is_grey else "picture"
    text = (
        f"{share_words(lost.share)} of this {kind} lies beyond {place or 'this paper'} (mean loss ΔE₀₀ {lost.mean:.1f})"
    )
    what = "nothing you would notice" if is_unnoticed(result) else _what_is_lost(result, fine)
    text += f": {what}" if what else ""
    accepted = sum(a.share for a in result.areas if (a.hue, a.cause) in fine)
    if accepted >= _LEAST:
        text += f"; {share_words(accepted)} is fine as it is"
    return f"{text}{f'; {cold}' if cold else ''}."


def is_unnoticed(result: Judgement) -> bool:
    """True when what lies beyond is nothing one would notice: little on the whole, and in no place by more than a step that is seen."""
    lost = result.beyond.lost
    strong = (a for a in result.areas if a.share >= _LEAST and a.median >= _SEEN)
    return lost.mean < _UNNOTICED and not any(strong)


def _what_is_lost(result: Judgement, fine: Mapping[tuple[str, str], str]) -> str:
    lost = result.beyond.lost
    if result.is_grey:
        return "it is deeper than the paper's black" if lost.depth > 0.5 * lost.share else "in its lightest tones"
    parts = []
    if lost.colour >= _LEAST:
        named = leading_hue(result, fine)
        parts.append(f"{share_words(lost.colour)} loses colour{f', {named},' if named else ''}")
    if lost.depth >= _LEAST:
        parts.append(f"{share_words(lost.depth)} loses depth")
    text = " and ".join(parts).rstrip(",")
    rest = _rest_words(lost)
    return f"{text}; {rest}" if text and rest else text or rest


def _rest_words(lost: Lost) -> str:
    """What the pixels lose that lose neither colour nor depth by themselves, where they are more than a quarter."""
    if lost.neither < max(_LEAST, _REST * lost.share):
        return ""
    subject = "the rest" if lost.colour >= _LEAST or lost.depth >= _LEAST else "all of it"
    return (
        f"{subject} is lighter than this paper"
        if lost.by_cause[1] > 0.5 * lost.neither
        else f"{subject} by a little of both"
    )


def leading_hue(result: Judgement, fine: Mapping[tuple[str, str], str]) -> str:
    """Which hue loses most colour, by the names of its pixels: "most of it" only above half of all that loses colour.

    What lies in areas that are fine as they are is left out.
    """
    accepted = [i + 1 for i, a in enumerate(result.areas) if (a.hue, a.cause) in fine]
    loss = result.hues.leading(np.isin(result.labels, accepted) if accepted else None)
    if loss is None:
        return ""
    part = "most of it" if loss.share > 0.5 * result.hues.total else "the largest part"
    return f"{part} {hue_words(loss.hue)} by ΔE₀₀ {loss.median:.0f}"


def advice_sentence(advice: Advice, chosen: Rendering) -> str:
    """What to do about the rendering, as it is chosen."""
    if advice.prescribed:
        return _prescribed(advice, chosen)
    if advice.verdict == "trade":
        return _trade(advice, chosen)
    return _stays(advice) if chosen == advice.rendering else _otherwise(advice, chosen)


def _otherwise(advice: Advice, chosen: Rendering) -> str:
    """Another one than the advised is chosen."""
    mine, name = capital(_name(chosen)), _name(advice.rendering)
    if advice.urges(chosen):
        return f"{mine} {_losing(advice.lost[0])}; {name} would serve it better."
    if chosen in advice.same:
        return f"{mine} looks the same as {name} here."
    if advice.rival is not None and advice.lost:
        return f"{mine} {_losing(advice.lost[0])} with {_name(advice.rival)}."
    if chosen in advice.equal:
        return f"{mine} serves it as well as {name}: nothing that would be seen speaks against either."
    return f"{mine} is chosen; among the usual ones it would be {name}."


def _stays(advice: Advice) -> str:
    """The advised one is chosen, and nobody beats it."""
    name = _name(advice.rendering)
    if not advice.same and not advice.equal:
        return f"{capital(name)} is right here."
    parts = [
        f"{in_row([_name(r) for r in found])} {verb[len(found) > 1]}"
        for found, verb in (
            (advice.same, ("looks the same", "look the same")),
            (advice.equal, ("serves it as well", "serve it as well")),
        )
        if found
    ]
    return f"Keep {name}; {', '.join(parts)}."


def _trade(advice: Advice, chosen: Rendering) -> str:
    """Each wins something: what, with its two figures; the user's own is not called right."""
    mine = capital(_name(chosen))
    if advice.rival is None:
        return f"{mine} stays; the usual ones win something of each other here."
    theirs, lost = _name(advice.rival), _winning(advice.lost[0])
    if not advice.won:
        return f"{mine} stays; {theirs} {lost}."
    return f"A trade: {_name(chosen)} {_winning(advice.won[0])}; {theirs} {lost}."


def _winning(loss: Loss) -> str:
    """What the other wins: its figure first."""
    win, lose = figure(loss.what, loss.theirs, loss.mine), figure(loss.what, loss.mine, loss.theirs)
    return {
        "depths": f"keeps the detail of the depths ({win} % lost against {lose})",
        "detail": f"keeps more detail ({win} % lost against {lose})",
        "nearness": f"stays nearer (ΔE₀₀ {win} against {lose})",
    }[loss.what]


def _losing(loss: Loss) -> str:
    """What is lost: its own figure first."""
    lose, win = figure(loss.what, loss.mine, loss.theirs), figure(loss.what, loss.theirs, loss.mine)
    return {
        "depths": f"closes {lose} % of the depths instead of {win}",
        "detail": f"loses detail in {lose} % of the picture instead of {win}",
        "nearness": f"differs by ΔE₀₀ {lose} instead of {win}",
    }[loss.what]


def _prescribed(advice: Advice, chosen: Rendering) -> str:
    text = f"The lab prescribes {_name(advice.rendering)}"
    if chosen != advice.rendering:
        same = " (it looks the same here)" if chosen in advice.same else ""
        return f"{text}, but {_name(chosen)} is chosen{same}."
    if advice.better is not None:
        return f"{text}; {_name(advice.better)} would serve this picture better."
    if advice.rival is not None and advice.lost:
        return f"{text}; {_name(advice.rival)} {_winning(advice.lost[0])}."
    return f"{text}, and it serves this picture."


def first_sentence(first: FirstFigures, paper: str) -> str:
    """What a sample tells before the judgement is there, of a paper by its name."""
    lost = first.lost
    if lost.share < _LEAST:
        return f"At a first look hardly anything of this picture lies beyond {paper}. Judging…"
    return (
        f"About {share_words(lost.share)} of this picture lies beyond {paper}: about {share_words(lost.colour)} loses colour, "
        f"{share_words(lost.depth)} depth. Judging…"
    )


def looked_sentence(paper: str, chosen: str, first: FirstFigures | None) -> str:
    """What is said of a paper that is only looked at, from a sample; ``chosen`` is the take's own."""
    stays = f"{capital(chosen)} stays chosen." if chosen else ""
    if first is None:
        return f"Looking at {paper}. {stays}".strip()
    lost = first.lost
    if lost.share < _LEAST:
        return f"At a first look hardly anything of this picture lies beyond {paper}. {stays}".strip()
    return (
        f"At a first look about {share_words(lost.share)} of this picture lies beyond {paper}: about {share_words(lost.colour)} "
        f"loses colour, {share_words(lost.depth)} depth. {stays}"
    ).strip()


def short_loss(lost: Lost) -> str:
    """A few words for the running order and for cards."""
    return f"{share_words(lost.share)} beyond, ΔE₀₀ {lost.mean:.1f}"


def area_lines(areas: Sequence[Area], most: int = 10) -> list[str]:
    """The largest areas in a line each, and how many more there are."""
    lines = [area_line(a) for a in areas[:most]]
    more = len(areas) - most
    if more > 0:
        rest = sum(a.share for a in areas[most:])
        lines.append(f"{more} smaller {'area' if more == 1 else 'areas'}: {share_words(rest)} together")
    return lines


def area_line(area: Area) -> str:
    """One area in a line."""
    text = f"{hue_words(area.hue)}, {cause_in_words(area)}: {share_words(area.share)}, ΔE₀₀ {area.median:.1f}, worst {area.p99:.1f}"
    return text if area.modelling is None else f"{text}, folds and shading kept {area.modelling * 100:.0f} %"
