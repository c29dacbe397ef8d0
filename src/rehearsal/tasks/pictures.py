"""The judge, proof and convert use cases on files."""

from __future__ import annotations

import threading
from pathlib import Path
from typing import Any

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.colour.lab import compensate_lab
from rehearsal.core.colour.table import look_up_pixels
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.model import check_destination, paper_model
from rehearsal.core.picture.file import Picture, read_picture
from rehearsal.core.picture.reduce import judging_size, reduce_to
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.advice import CandidateFigures
from rehearsal.core.proof.areas import Area
from rehearsal.core.proof.beyond import CAUSES, LIMIT, causes
from rehearsal.core.proof.chain import Light, PrintChain, Rendering, ScreenLeg
from rehearsal.core.proof.field import delta_field
from rehearsal.core.proof.judging import Judgement, JudgeRequest, Spread, judge
from rehearsal.core.sheet.export import ExportPlan, make_pixels, write_picture
from rehearsal.core.work.progress import Progress, silent


def warm_up(paper: Profile) -> threading.Thread:
    """Begin, beside the reading of a picture, what only depends on the paper: its table, and loading the kernels."""

    def work() -> None:
        field = delta_field(paper)
        lab = np.array([[50.0, 10.0, 10.0], [50.0, 90.0, 0.0]], dtype=np.float32)
        field.look_up(lab)
        delta_e_2000(lab, lab)
        causes(lab, lab)
        compensate_lab(lab, np.zeros(3), np.full(3, 0.01))
        srgb = master_space(working_space("sRGB"))
        srgb.to_lab(reduce_to(np.zeros((4, 4, 3), np.uint16), srgb, 2, 2))
        look_up_pixels(np.zeros((1, 3), np.uint16), np.zeros(65536, np.float32), np.zeros((2, 2, 2, 3), np.float32))

    thread = threading.Thread(target=work, daemon=True)
    thread.start()
    return thread


def judge_picture(
    picture: Picture, paper: Profile, rendering: Rendering, screen: Profile | None = None, limit: float = LIMIT
) -> Judgement:
    """Judge a whole picture with no print size set."""
    check_destination(paper)
    paper_model(paper)
    space = master_space(picture.profile)
    size = judging_size(picture.info.width, picture.info.height)
    request = JudgeRequest(
        reduce_to(picture.pixels, space, *size), picture.profile, paper, rendering, screen, limit, picture.pixels
    )
    return judge(request)


def _spread(spread: Spread) -> dict[str, float]:
    return {"mean": spread.mean, "median": spread.median, "p95": spread.p95, "p99": spread.p99}


def _area(area: Area, width: int, height: int) -> dict[str, Any]:
    x, y, w, h = area.box
    return {
        "share": area.share,
        "cause": area.cause,
        "mixed": area.mixed,
        "at_edge": area.at_edge,
        "hue": area.hue,
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


def judgement_json(result: Judgement, picture: Picture, paper: Profile, has_screen: bool) -> dict[str, Any]:
    """A judgement under the keys of the judge command; boxes are x, y, width, height in pixels of the picture."""
    info = picture.info
    beyond = result.beyond
    data: dict[str, Any] = {
        "picture": {
            "width": info.width, "height": info.height, "depth": info.depth, "profile": info.profile_name,
            "assumed": info.assumed, "cautions": list(info.cautions),
        },
        "paper": paper.description,
        "intent": result.rendering.intent,
        "bpc": result.rendering.compensate,
        "limit": result.limit,
        "beyond_paper": {
            "share": beyond.share,
            "share_full": result.share_full,
            "colour": beyond.colour,
            "by_cause": dict(zip(CAUSES, beyond.by_cause, strict=True)),
            "colder_than_paper": result.colder,
        },
    }  # fmt: skip
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
    }


def proof_file(
    picture: Picture, paper: Profile, screen: Profile, rendering: Rendering, view: str, out: Path,
    light: Light | None = None, progress: Progress = silent,
) -> None:  # fmt: skip
    """Write the proof of a whole picture for a screen, tagged with the screen's profile, 16 bit (8 for JPEG)."""
    check_destination(paper)
    check_destination(screen)
    chain = PrintChain(picture.profile, paper, rendering)
    leg = ScreenLeg(paper, screen, view, light)
    h, w = picture.pixels.shape[:2]
    made = np.empty((h, w, 3), dtype=np.uint16)
    rows = max(1, (1 << 19) // w)
    for start in range(0, h, rows):
        progress(start / h, "proofing")
        part = picture.pixels[start : start + rows].reshape(-1, picture.pixels.shape[2]) / 65535.0
        rgb = leg.rgb(chain.device(part))
        made[start : start + rows] = np.round(rgb * 65535).reshape(-1, w, 3)
    write_picture(made, screen, picture.info.ppi, out)


def convert_file(picture: Picture, plan: ExportPlan, out: Path, progress: Progress = silent) -> None:
    """Write the print file of a picture."""
    check_destination(plan.target)
    if out.resolve() == Path(picture.info.path).resolve():
        from rehearsal.core.errors import PictureError

        raise PictureError("the master is never written to", out, "choose another file name")
    pixels = make_pixels(picture, plan, progress)
    write_picture(pixels, plan.target, plan.ppi, out)


__all__ = ["convert_file", "judge_picture", "judgement_json", "proof_file", "read_picture"]
