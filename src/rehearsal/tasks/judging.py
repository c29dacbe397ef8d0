"""Judging a rendition: one way for the window and the commands."""

from __future__ import annotations

import threading
from dataclasses import dataclass
from typing import Any

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.colour.lab import compensate_lab
from rehearsal.core.colour.table import look_up_pixels
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.model import check_destination
from rehearsal.core.picture.reduce import reduce_to
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.advice import CandidateFigures
from rehearsal.core.proof.areas import Area
from rehearsal.core.proof.beyond import CAUSES, LIMIT, Beyond, Lost, causes, find_beyond
from rehearsal.core.proof.judging import (
    FirstFigures,
    Judgement,
    JudgeRequest,
    Sent,
    Spread,
    first_figures,
    judge,
    more_candidates,
)
from rehearsal.core.proof.lattice import delta_lattice
from rehearsal.core.proof.saying import area_lines, verdict_sentence
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.words import hue_words, share_words
from rehearsal.core.work.pool import in_turn
from rehearsal.core.work.progress import Progress, silent
from rehearsal.tasks.tables import KeptTables

_FIRST_PIXELS = 4000
#: Whoever goes through all pixels does so alone: two at once take the memory of two and are no faster.
_ALL_PIXELS = threading.Lock()


def judge_rendition(
    opened: OpenRendition, screen: Profile | None = None, default: Rendering | None = None, prescribed: bool = False,
    limit: float = LIMIT, full: bool = False, progress: Progress = silent,
) -> Judgement:  # fmt: skip
    """Judge a rendition inside its crop, at the resolution its print will be seen at.

    Args:
        screen: the monitor's profile, for what lies beyond it.
        default: the rendering that stays when candidates are close; prescribed: it is a lab's wish.
        full: the share of all pixels as well.
    """
    check_destination(opened.paper)
    with in_turn(_ALL_PIXELS):
        return judge(_request(opened, screen, default or Rendering(), prescribed, limit, full), progress)


def compare_renderings(
    opened: OpenRendition, labels: np.ndarray, renderings: list[Rendering], progress: Progress = silent
) -> list[CandidateFigures]:
    """The figures of more renderings of a judged rendition; ``labels`` (h, w) are the judgement's areas."""
    progress(0.1, "other intents")
    return more_candidates(_request(opened, None, Rendering(), False, LIMIT, False), labels, renderings)


def _request(
    opened: OpenRendition, screen: Profile | None, default: Rendering, prescribed: bool, limit: float, full: bool
) -> JudgeRequest:
    neutral = opened.rendition.recipe.is_neutral
    image = _judging_image(opened)
    return JudgeRequest(
        rendition=opened.rendition,
        pixels=image.plain,
        master=image.profile,
        paper=opened.paper,
        screen=screen,
        limit=limit,
        full=image.inside if full else None,
        tuned=image.tuned,
        read={} if neutral else _read_otherwise(opened),
        default=default,
        prescribed=prescribed,
        via=opened.via,
    )


@dataclass(frozen=True)
class _JudgingImage:
    """The judging image as it is and after tuning (when there is any), all pixels inside the crop, and their profile."""

    plain: np.ndarray
    tuned: np.ndarray | None
    inside: np.ndarray
    profile: Profile


def _judging_image(opened: OpenRendition) -> _JudgingImage:
    """Straight from the file while nothing is tuned, else from the working copy."""
    neutral, picture = opened.rendition.recipe.is_neutral, opened.open.picture
    pixels, profile = picture.pixels, picture.profile
    if not neutral:
        pixels, profile = opened.open.pyramid.whole, opened.space.profile
    x, y, w, h = box = opened.box
    inside = pixels[y : y + h, x : x + w]
    plain = reduce_to(inside, master_space(profile), *opened.judging_pixels())
    return _JudgingImage(plain, None if neutral else opened.wanted.tuned(plain, box), inside, profile)


def judged_colours(opened: OpenRendition) -> np.ndarray:
    """M (h, w, 3) of the judging image, as it is wanted: what :func:`losses` are counted on. No paper has a part in it."""
    image = _judging_image(opened)
    return master_space(image.profile).to_lab(image.plain if image.tuned is None else image.tuned)


def losses(colours: np.ndarray, paper: Profile, limit: float = LIMIT) -> Lost:
    """What a paper costs these colours of :func:`judged_colours`: the very figures a judgement has."""
    return beyond_paper(colours, paper, limit).lost


def beyond_paper(colours: np.ndarray, paper: Profile, limit: float = LIMIT) -> Beyond:
    """How far each of these colours of :func:`judged_colours` lies beyond a paper."""
    with in_turn(_ALL_PIXELS):
        return find_beyond(colours, delta_lattice(paper), limit)


def _read_otherwise(opened: OpenRendition) -> dict[str, Sent]:
    """What is printed with the intents that read the master by tables of their own."""
    made: dict[str, Sent] = {}
    if opened.via is not None:
        return made
    for intent in ("perceptual", "saturation"):
        each = opened.rendered(Rendering(intent))
        if each.wanted is not each.tuned and intent in ("perceptual", opened.rendition.rendering.intent):
            x, y, w, h = opened.box
            plain = reduce_to(each.reading.whole[y : y + h, x : x + w], each.reading.space, *opened.judging_pixels())
            made[intent] = Sent(each.tuned.tuned(plain, opened.box), each.source)
    return made


def first_figures_of(opened: OpenRendition) -> FirstFigures:
    """First figures of a rendition from a sample of its crop, before anything else is made of the picture."""
    rendition, picture = opened.rendition, opened.open.picture
    if rendition.recipe.is_neutral:
        x, y, w, h = opened.box
        rng = np.random.default_rng(8)
        rows, columns = rng.integers(y, y + h, _FIRST_PIXELS), rng.integers(x, x + w, _FIRST_PIXELS)
        wanted = sent = Sent(picture.pixels[rows, columns], picture.profile)
    else:
        wanted = Sent(opened.wanted.sample(opened.box, _FIRST_PIXELS), opened.space.profile)
        sent = Sent(opened.tuned.sample(opened.box, _FIRST_PIXELS), opened.source)
    return first_figures(wanted, sent, opened.chain(sent.profile))


def warm_up(paper: Profile, screen: Profile | None, tables: KeptTables) -> threading.Thread:
    """Begin, beside the reading of a picture, what depends on paper and screen alone: their tables, and loading the kernels."""

    def work() -> None:
        for profile in filter(None, (paper, screen)):
            tables.fetch(profile)
        field = delta_lattice(paper)
        lab = np.array([[50.0, 10.0, 10.0], [50.0, 90.0, 0.0]], dtype=np.float32)
        field.look_up(lab)
        field.exact(lab)
        delta_e_2000(lab, lab)
        causes(lab, lab)
        compensate_lab(lab, np.zeros(3), np.full(3, 0.01))
        srgb = master_space(working_space("sRGB"))
        srgb.to_lab(reduce_to(np.zeros((4, 4, 3), np.uint16), srgb, 2, 2))
        look_up_pixels(np.zeros((1, 3), np.uint16), np.zeros(65536, np.float32), np.zeros((2, 2, 2, 3), np.float32))

    thread = threading.Thread(target=work, daemon=True)
    thread.start()
    return thread


def _spread(spread: Spread) -> dict[str, float]:
    return {"mean": spread.mean, "median": spread.median, "p95": spread.p95, "p99": spread.p99}


def _area(area: Area, width: int, height: int) -> dict[str, Any]:
    x, y, w, h = area.box
    return {
        "share": area.share,
        "cause": area.cause,
        "mixed": area.mixed,
        "at_edge": area.at_edge,
        "hue": hue_words(area.hue),
        "median": area.median,
        "p99": area.p99,
        "modelling": area.modelling,
        "contrast_kept": area.contrast_kept,
        "box": [round(x * width), round(y * height), round(w * width), round(h * height)],
    }


def _candidate(figures: CandidateFigures) -> dict[str, Any]:
    return {
        "intent": figures.rendering.intent,
        "bpc": figures.rendering.compensate,
        "score": figures.score,
        "felt_change": figures.felt_change,
        "fitted_change": figures.fitted_change,
        "modelling": figures.modelling,
        "flat": figures.flat,
        "flat_depths": figures.flat_depths,
        "black_depth": figures.black_depth,
        "shadow_separation": figures.shadow_separation,
    }


def judgement_text(result: Judgement) -> list[str]:
    """A judgement as lines to read: the sentence, its reasons, the areas."""
    lines = [verdict_sentence(result), *result.advice.reasons]
    if result.areas:
        lines += ["Areas beyond the paper, largest first:", *(f"  {line}" for line in area_lines(result.areas))]
    if result.specks > 0:
        lines.append(f"  specks: {share_words(result.specks)}")
    return lines


def judgement_json(result: Judgement, opened: OpenRendition, has_screen: bool) -> dict[str, Any]:
    """A judgement under the keys of the judge command; boxes are x, y, width, height in pixels of the picture."""
    info = opened.open.picture.info
    beyond = result.beyond
    data: dict[str, Any] = {
        "picture": {
            "width": info.width, "height": info.height, "depth": info.depth, "profile": info.profile_name,
            "assumed": info.assumed, "cautions": list(info.cautions),
        },
        "paper": opened.paper.description,
        "intent": result.rendering.intent,
        "bpc": result.rendering.compensate,
        "limit": result.limit,
        "beyond_paper": {
            "share": beyond.share,
            "share_full": result.share_full,
            "loses_colour": beyond.lost.colour,
            "loses_depth": beyond.lost.depth,
            "mean_loss": beyond.lost.mean,
            "colour": beyond.colour,
            "by_cause": dict(zip(CAUSES, beyond.by_cause, strict=True)),
            "colder_than_paper": result.colder,
        },
    }  # fmt: skip
    if result.cut is not None:
        space = opened.rendition.hand_over.space
        data["cut_by_space"] = {"space": space, "share": result.cut.share, "p99": result.cut.p99}
    if has_screen:
        data["beyond_screen"] = {"print": result.screen_print, "master": result.screen_master}
    return data | {
        "change": _spread(result.change),
        "fitted_change": _spread(result.fitted_change),
        "areas": [_area(a, info.width, info.height) for a in result.areas],
        "specks": {"share": result.specks},
        "flat": {"all": result.flat_all, "depths": result.flat_depths},
        "intents": [_candidate(c) for c in result.candidates],
        "advice": {
            "intent": result.advice.rendering.intent,
            "bpc": result.advice.rendering.compensate,
            "verdict": result.advice.verdict,
            "reasons": list(result.advice.reasons),
        },
        "sentence": verdict_sentence(result),
    }
