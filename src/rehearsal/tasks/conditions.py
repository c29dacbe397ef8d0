"""Print conditions out of profiles, and the facts of a condition."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from rehearsal.core.colour.lab import lab_to_xyz
from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile, open_profile
from rehearsal.core.icc.named import open_destination
from rehearsal.core.papers.facts import measure
from rehearsal.core.papers.health import HealthNote, health
from rehearsal.core.papers.model import check_paper, standard_space
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.plain import from_plain, to_plain
from rehearsal.tasks.finding import FoundProfile

#: Changes when facts are measured in another way: what an earlier version kept is measured again then.
FACTS_FORMAT = 4
#: A larger contrast than any paper has: the destination is a space without a black of its own.
_NO_PAPER = 10_000.0


@dataclass(frozen=True)
class Facts:
    """Measured facts of a condition's profile.

    Attributes:
        digest: of the profile they were measured from.
        white, black: absolute Lab.
        white_y: reflectance factor of the bare paper.
        contrast: Y(white) : Y(black); dmax: density of the black.
        volume: cubic Lab; noise: median ΔE₀₀ of the tables' own error.
        drift_chroma, drift_lightness: largest chroma of the printed neutral ramp, and where on L*.
        notes: what is odd about the profile.
        greys: the printed neutral ramp from black to paper, media-relative Lab.
    """

    digest: str
    white: tuple[float, float, float]
    black: tuple[float, float, float]
    white_y: float
    contrast: float
    dmax: float
    volume: float
    noise: float
    drift_chroma: float
    drift_lightness: float
    intents: tuple[str, ...]
    space: str
    notes: tuple[HealthNote, ...] = ()
    greys: tuple[tuple[float, float, float], ...] = ()

    @property
    def is_paper(self) -> bool:
        """False for a working space as destination."""
        return self.contrast <= _NO_PAPER


@dataclass(frozen=True)
class NoFacts:
    """Why nothing can be measured, as a sentence."""

    reason: str


def facts_of(profile: Profile) -> Facts:
    """Measured facts of a destination profile."""
    found = measure(profile)
    l_white, a_white, b_white = (float(v) for v in found.media_white)
    l_black, a_black, b_black = (float(v) for v in found.black)
    return Facts(
        digest=profile.digest, white=(l_white, a_white, b_white), black=(l_black, a_black, b_black),
        white_y=float(lab_to_xyz(found.media_white)[1]), contrast=found.contrast, dmax=found.dmax, volume=found.gamut_volume,
        noise=found.noise_median, drift_chroma=found.drift_chroma, drift_lightness=found.drift_lightness,
        intents=tuple(profile.intents()), space=profile.space, notes=tuple(health(profile, found)),
        greys=tuple((float(light), float(a), float(b)) for light, a, b in found.ramp),
    )  # fmt: skip


def condition_facts(condition: PrintCondition, kept: Mapping[str, dict[str, Any]] | None = None) -> Facts | NoFacts:
    """Measured facts of a condition's profile, or why there are none.

    Args:
        kept: facts measured earlier as plain data, by the digest of the profile's bytes.
    """
    try:
        profile = open_destination(condition.profile_path)
        if kept and profile.digest in kept:
            return from_plain(Facts, kept[profile.digest])
        return facts_of(profile)
    except RehearsalError as error:
        return NoFacts(error.words())


def facts_to_keep(facts: Facts) -> dict[str, Any]:
    """Facts as plain data."""
    data: dict[str, Any] = to_plain(facts)
    return data


def new_condition(path: Path) -> PrintCondition:
    """A print condition for a profile file, with its description as the first suggestion for a name."""
    profile = open_profile(path)
    check_paper(profile)
    return PrintCondition(
        paper=profile.description, profile_path=str(path.resolve()), profile_digest=profile.digest, read=("paper",),
        made_by="standard" if standard_space(profile) else "",
    )  # fmt: skip


def condition_from(found: FoundProfile) -> PrintCondition:
    """A print condition for a found profile; its fields ``read`` came out of its names.

    Raises:
        ProfileError: the file cannot be used after all.
    """
    base = new_condition(Path(found.path))
    guess = found.guess
    told = {
        "paper": guess.paper, "printer": guess.printer, "media_setting": guess.media, "quality": guess.quality, "ink": guess.ink,
        "surface": guess.surface, "weight": guess.weight, "resolution": guess.resolution,
        "made_by": "own" if guess.own else "",
    }  # fmt: skip
    known: dict[str, Any] = {name: value for name, value in told.items() if value}
    return replace(base, **known, instructions=found.instructions, read=tuple(known), unread=guess.rest)


def with_profile(condition: PrintCondition, path: Path) -> PrintCondition:
    """The same condition with another profile file."""
    profile = open_profile(path)
    check_paper(profile)
    return replace(condition, profile_path=str(path.resolve()), profile_digest=profile.digest)
