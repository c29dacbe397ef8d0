"""Health of a profile: what is odd about it, in words, with the consequence for a proof.

Limits are common practice, no source, except where a definition of the project gives them.
"""

from __future__ import annotations

import struct
from dataclasses import dataclass

import numpy as np

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.colour.lab import chroma, xyz_to_lab
from rehearsal.core.icc import Profile, Step, Transform, destination_black, lab_profile
from rehearsal.core.icc.curves import odd_curves
from rehearsal.core.papers.facts import PaperFacts, neutral_ramp
from rehearsal.core.papers.model import paper_model
from rehearsal.core.values.words import word

NOISE_P95 = 2.0
DRIFT_CHROMA = 3.0
BLACK_CAST = 4.0
WHITE_GAP = 0.5
#: Glossy photographic prints reach a density of 2.7 at most (common practice, no source).
MOST_DMAX = 3.0
_KINK = 0.6
_REVERSAL = 0.05


@dataclass(frozen=True)
class HealthNote:
    """One finding: its kind (a key of ``words``: what was found, and what follows for a proof), and its figures."""

    kind: str
    figures: tuple[float | str, ...] = ()

    @property
    def words(self) -> str:
        """What was found and what follows, in one clause."""
        return f"{word('health', self.kind)}: {word('health_follows', self.kind)}".format(*self.figures)


def health(profile: Profile, facts: PaperFacts) -> list[HealthNote]:
    """All findings about a destination profile; empty when nothing is odd."""
    if profile.is_matrix:
        return [HealthNote("space"), *_curves(profile)]
    return [
        *_impossible(facts), *_curves(profile), *_tables(profile), *_likeness(profile), *_quirks(profile), *_white(profile, facts),
        *_noise(facts), *_ramp(profile), *_casts(facts),
    ]  # fmt: skip


def _impossible(facts: PaperFacts) -> list[HealthNote]:
    """Blacks no print has, and papers that are darker than their black."""
    if facts.contrast < 1:
        return [HealthNote("no-contrast", (facts.contrast,))]
    return [HealthNote("impossible-black", (facts.dmax,))] if facts.dmax > MOST_DMAX else []


def _curves(profile: Profile) -> list[HealthNote]:
    odd = odd_curves(profile.tags)
    return [HealthNote("odd-curve", (", ".join(odd),))] if odd else []


def health_warnings(profile: Profile, facts: PaperFacts) -> list[str]:
    """:func:`health` as clauses."""
    return [note.words for note in health(profile, facts)]


def _tables(profile: Profile) -> list[HealthNote]:
    notes = [
        HealthNote("missing-table", (name, profile.table_for(name) or "no table"))
        for name in ("perceptual", "relative", "saturation")
        if profile.table_for(name) != f"B2A{'prs'.index(name[0])}"
    ]
    if "A2B1" not in profile.tags and "A2B0" in profile.tags:
        notes.append(HealthNote("no-colorimetric-table"))
    return notes


def _likeness(profile: Profile) -> list[HealthNote]:
    tags = profile.tags
    if "B2A0" not in tags or "B2A1" not in tags:
        return []
    if tags["B2A0"] == tags["B2A1"]:
        return [HealthNote("identical-tables")]
    axis = np.linspace(-60, 60, 9)
    lattice = np.stack(np.meshgrid(np.linspace(10, 95, 9), axis, axis, indexing="ij"), -1).reshape(-1, 3)
    read = paper_model(profile).to_lab
    made = [
        read.apply(np.clip(Transform([Step(lab_profile()), Step(profile, name)]).apply(lattice), 0, 1))
        for name in ("perceptual", "relative")
    ]
    gap = float(delta_e_2000(made[0], made[1]).mean())
    if gap < 0.4:
        return [HealthNote("alike-tables", (gap,))]
    return []


def _grid_and_bits(raw: bytes) -> tuple[int, int]:
    """Smallest number of nodes along an axis, and bits per sample, of a table tag; zeros when unknown."""
    if raw[:4] in (b"mft1", b"mft2"):
        return raw[10], 8 if raw[:4] == b"mft1" else 16
    if raw[:4] in (b"mAB ", b"mBA ") and len(raw) >= 32:
        at = struct.unpack(">I", raw[24:28])[0]
        if at:
            return min(raw[at : at + raw[8]]), 8 * raw[at + 16]
    return 0, 0


def _quirks(profile: Profile) -> list[HealthNote]:
    notes = []
    grid, bits = _grid_and_bits(profile.tags.get("B2A1", profile.tags.get("B2A0", b"")))
    if bits == 8:
        notes.append(HealthNote("8-bit-tables"))
    if 0 < grid < 9:
        notes.append(HealthNote("coarse-table", (float(grid),)))
    if profile.header.version >= 4 and "B2A0" in profile.tags:
        notes.append(HealthNote("version-4", (profile.header.version,)))
    elif "B2A0" in profile.tags and not destination_black(profile, "perceptual").any():
        notes.append(HealthNote("no-perceptual-black"))
    return notes


def _white(profile: Profile, facts: PaperFacts) -> list[HealthNote]:
    notes = []
    tag = profile.media_white_tag
    if tag is not None and profile.header.device_class == "prtr":
        gap = float(delta_e_2000(xyz_to_lab(tag), facts.media_white))
        if gap > WHITE_GAP:
            notes.append(HealthNote("media-white", (gap,)))
    model = paper_model(profile)
    device = np.clip(model.from_lab.apply(np.array([[100.0, 0, 0]]))[0], 0, 1)
    ink = float(np.abs(device - model.paper_device).sum())
    if ink > 0.01:
        notes.append(HealthNote("ink-in-white", (ink * 100,)))
    return notes


def _noise(facts: PaperFacts) -> list[HealthNote]:
    if facts.noise_p95 <= NOISE_P95:
        return []
    return [HealthNote("noise", (facts.noise_p95,))]


def _ramp(profile: Profile) -> list[HealthNote]:
    """Reversals and kinks of the printed neutral ramp, step 1 L*, from a little above the printed black."""
    asked, printed = neutral_ramp(paper_model(profile))
    keep = asked > asked[0] + 2
    notes = []
    places = ramp_faults(asked[keep], printed[keep, 0])
    if places[0] is not None:
        notes.append(HealthNote("reversal", places[0]))
    elif places[1] is not None:
        notes.append(HealthNote("kink", places[1]))
    return notes


def ramp_faults(
    asked: np.ndarray, printed: np.ndarray
) -> tuple[tuple[float, float] | None, tuple[float, float] | None]:
    """Worst reversal and worst kink of a ramp of printed L* (m,) over asked L* (m,) in steps of 1.

    Returns:
        (asked L*, how far it turns back) and (asked L*, the odd step), None where there is none.
    """
    steps = np.diff(printed)
    if len(steps) < 7:
        return None, None
    worst = int(np.argmin(steps))
    reversal = (float(asked[worst]), float(-steps[worst])) if steps[worst] < -_REVERSAL else None
    padded = np.pad(steps, 3, mode="edge")
    usual = np.median(np.stack([padded[i : i + len(steps)] for i in range(7)]), axis=0)
    odd = np.abs(steps - usual)
    at = int(np.argmax(odd))
    kink = (float(asked[at]), float(steps[at])) if odd[at] > _KINK else None
    return reversal, kink


def _casts(facts: PaperFacts) -> list[HealthNote]:
    notes = []
    if facts.drift_chroma > DRIFT_CHROMA:
        notes.append(HealthNote("cast", (facts.drift_chroma, facts.drift_lightness)))
    black = float(chroma(facts.black))
    if black > BLACK_CAST:
        notes.append(HealthNote("black-cast", (float(facts.black[1]), float(facts.black[2]))))
    return notes
