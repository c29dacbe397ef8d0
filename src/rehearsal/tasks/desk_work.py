"""Work the window asks for: a snapshot in, a result out, progress and stop on the way."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from rehearsal.core.colour.lab import lab_to_xyz
from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile, open_profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.papers.facts import measure
from rehearsal.core.papers.health import health_warnings
from rehearsal.core.papers.model import check_destination
from rehearsal.core.picture.file import Picture, assume_profile, check_picture, read_picture
from rehearsal.core.picture.pyramid import Pyramid
from rehearsal.core.picture.reduce import judging_size, reduce_to
from rehearsal.core.picture.space import master_space
from rehearsal.core.proof.judging import Judgement, JudgeRequest, judge
from rehearsal.core.sheet.export import tunable
from rehearsal.core.tuning.apply import TuningMap
from rehearsal.core.work.pool import side_by_side
from rehearsal.core.work.progress import Progress
from rehearsal.tasks.finding import FoundProfile
from rehearsal.workbook.masters import find_again, make_master, state
from rehearsal.workbook.values import Master, PrintCondition, Take


@dataclass(frozen=True)
class LoadedPicture:
    """A master in memory: as it is in the file, and as a pyramid of working RGB for the screen."""

    picture: Picture
    pyramid: Pyramid


def load_master(
    master: Master, folders: list[Path], progress: Progress, early: Callable[[Picture], None] | None = None,
    ahead: Picture | None = None,
) -> tuple[Master, str, LoadedPicture]:  # fmt: skip
    """Read a master, looking for it again when it was moved.

    Args:
        early: gets the pixels before the reductions are made.
        ahead: the picture, when it was read this moment.

    Returns:
        the master (with its new place), ``there`` or ``changed``, and the picture.
    """
    progress(0.0, f"reading {master.name}")
    found = state(master)
    if found == "missing":
        again = find_again(master, folders)
        if again is not None:
            master, found = again, "there"
    picture = ahead or read_picture(master.path)
    if picture.info.assumed and master.assumed:
        picture = assume_profile(picture, working_space(master.assumed))
    if early is not None:
        early(picture)
    progress(0.6, "preparing the screen picture")
    pixels, space = tunable(picture.pixels, master_space(picture.profile))
    return master, found, LoadedPicture(picture, Pyramid(pixels, space))


@dataclass(frozen=True)
class Opened:
    """Masters of files, what was wrong with others, and the last picture, read already when it could be."""

    masters: list[Master]
    errors: list[RehearsalError]
    last: Picture | None


def new_masters(paths: list[Path], progress: Progress) -> Opened:
    """Masters of the files that can be pictures (their headers are read, their bytes hashed); the last one is read meanwhile."""
    (made, errors), last = side_by_side([lambda: _hashed(paths, progress), lambda: _readable(paths[-1])])
    return Opened(made, errors, last)


def _hashed(paths: list[Path], progress: Progress) -> tuple[list[Master], list[RehearsalError]]:
    made: list[Master] = []
    errors: list[RehearsalError] = []
    for i, path in enumerate(paths):
        progress(i / len(paths), f"opening {path.name}")
        try:
            check_picture(path)
            made.append(make_master(path))
        except RehearsalError as error:
            errors.append(error)
    return made, errors


def _readable(path: Path) -> Picture | None:
    try:
        return read_picture(path.resolve())
    except RehearsalError:
        return None  # whoever opens it gets the reason


def judge_take(
    take: Take, condition: PrintCondition, loaded: LoadedPicture, paper: Profile, screen: Profile, progress: Progress
) -> Judgement:
    """Judge a take inside its crop, at the resolution its print will be seen at."""
    return judge(judge_request(take, condition, loaded, paper, screen), progress)


def judge_request(
    take: Take, condition: PrintCondition, loaded: LoadedPicture, paper: Profile, screen: Profile
) -> JudgeRequest:
    """What is judged of a take: the reduction of its crop, tuned."""
    plain = take.tuning.is_neutral
    pixels, profile = loaded.picture.pixels, loaded.picture.profile
    space = master_space(profile)
    if not plain:
        pixels, space = tunable(pixels, space)
        profile = space.profile
    h, w = pixels.shape[:2]
    x, y, cw, ch = take.crop.pixels(w, h)
    inside = pixels[y : y + ch, x : x + cw]
    size = (take.print_width_cm, take.print_height_cm) if take.size else None
    judging = reduce_to(inside, space, *judging_size(cw, ch, size))
    tuned = None if plain else TuningMap(take.tuning, space).pixels(judging)
    return JudgeRequest(
        judging, profile, paper, take.rendering, screen, tuned=tuned, default=condition.default,
        prescribed=condition.prescribed,
    )  # fmt: skip


#: Changes when facts are measured in another way: what an earlier version kept is measured again then.
FACTS_FORMAT = 1


def condition_facts(condition: PrintCondition, kept: Mapping[str, dict[str, Any]] | None = None) -> dict[str, Any]:
    """Measured facts of a condition's profile; ``error`` says why when there are none.

    Args:
        kept: facts measured earlier, by the digest of the profile's bytes.
    """
    try:
        path = condition.profile_path
        profile = working_space(path[6:]) if path.startswith("space:") else open_profile(path)
        if kept and profile.digest in kept:
            return kept[profile.digest]
        found = measure(profile)
    except RehearsalError as error:
        return {"error": error.sentence(), "white_y": 0.88, "contrast": 0.0, "white": (95.0, 0.0, 0.0)}
    return {
        "digest": profile.digest,
        "white": tuple(float(v) for v in found.media_white),
        "black": tuple(float(v) for v in found.black),
        "white_y": float(lab_to_xyz(found.media_white)[1]),
        "contrast": found.contrast,
        "dmax": found.dmax,
        "volume": found.gamut_volume,
        "noise": found.noise_median,
        "drift": (found.drift_chroma, found.drift_lightness),
        "warnings": health_warnings(profile, found),
        "intents": profile.intents(),
        "space": profile.space,
    }


def new_condition(path: Path) -> PrintCondition:
    """A print condition for a profile file, with its description as the first suggestion for a name."""
    profile = open_profile(path)
    check_destination(profile)
    return PrintCondition(
        paper=profile.description, profile_path=str(path.resolve()), profile_digest=profile.digest, made_by="maker"
    )


def condition_from(found: FoundProfile) -> tuple[PrintCondition, tuple[str, ...]]:
    """A print condition for a found profile, and which fields were read out of its names.

    Raises:
        ProfileError: the file cannot be used after all.
    """
    base = new_condition(Path(found.path))
    guess = found.guess
    told = {
        "paper": guess.paper, "printer": guess.printer, "media_setting": guess.media, "quality": guess.quality, "ink": guess.ink,
        "surface": guess.surface, "weight": guess.weight,
    }  # fmt: skip
    known: dict[str, Any] = {name: value for name, value in told.items() if value}
    made = replace(base, **known, instructions=found.instructions, made_by="own" if guess.own else base.made_by)
    return made, tuple(name.replace("_", " ") for name in known)


def with_profile(condition: PrintCondition, path: Path) -> PrintCondition:
    """The same condition with another profile file."""
    profile = open_profile(path)
    check_destination(profile)
    return replace(condition, profile_path=str(path.resolve()), profile_digest=profile.digest)
