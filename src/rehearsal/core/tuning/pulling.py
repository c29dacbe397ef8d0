"""Colours that are pulled, between the picture's Oklab and the Lab in which paper and eye are drawn."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from rehearsal.core.colour.lab import lab_to_xyz, xyz_to_lab
from rehearsal.core.colour.oklab import oklab_to_xyz, xyz_to_oklab
from rehearsal.core.papers.solid import Solid
from rehearsal.core.proof.hues import hue_key
from rehearsal.core.values.pull import Pull

_HALVINGS = 14


def polar(lab: np.ndarray) -> tuple[float, float, float]:
    """Oklab lightness, chroma and hue in degrees of a media-relative Lab (3,)."""
    light, a, b = (float(v) for v in xyz_to_oklab(lab_to_xyz(np.asarray(lab, dtype=float))))
    return light, float(np.hypot(a, b)), float(np.degrees(np.arctan2(b, a)))


def lab_of(light: float, chroma: float, hue: float) -> np.ndarray:
    """Lab (3,) of Oklab lightness, chroma and hue."""
    angle = np.radians(hue)
    return np.asarray(xyz_to_lab(oklab_to_xyz(np.array([light, chroma * np.cos(angle), chroma * np.sin(angle)]))))


def pull_at(lab: np.ndarray) -> Pull:
    """A pull of a colour, Lab (3,), that does nothing yet."""
    light, chroma, hue = polar(lab)
    return Pull(round(light, 4), round(chroma, 4), round(hue, 2), name=hue_key(np.asarray(lab, dtype=float)))


def ends(pull: Pull) -> tuple[np.ndarray, np.ndarray]:
    """Lab (3,) of a pull's colour as it is, and as it becomes in the middle of its window."""
    after = (pull.lightness + pull.lighter, max(pull.chroma + pull.stronger, 0.0), pull.hue + pull.turned)
    return lab_of(pull.lightness, pull.chroma, pull.hue), lab_of(*after)


def towards(pull: Pull, lab: np.ndarray) -> Pull:
    """The pull that brings its colour to a Lab (3,)."""
    light, chroma, hue = polar(lab)
    turned = (hue - pull.hue + 540.0) % 360.0 - 180.0
    return replace(
        pull, lighter=round(light - pull.lightness, 4), stronger=round(chroma - pull.chroma, 4), turned=round(turned, 2)
    )


def inside(pull: Pull, solid: Solid) -> Pull:
    """The pull as far as a paper holds it: strength gives way first, then lightness, then hue.

    A colour that lies beyond the paper as it is gives way as little as brings it inside, by strength alone where that suffices.
    """
    if _held(pull, solid):
        return pull
    grey = _least(pull, lambda p, share: replace(p, stronger=p.stronger + share * (-p.chroma - p.stronger)), solid)
    if grey is not None:
        return grey
    middle = 0.5 - pull.lightness
    lit = _least(
        replace(pull, stronger=-pull.chroma),
        lambda p, share: replace(p, lighter=p.lighter + share * (middle - p.lighter)),
        solid,
    )
    return replace(lit or pull, turned=0.0) if lit is None else lit


def _held(pull: Pull, solid: Solid) -> bool:
    return bool(solid.contains(ends(pull)[1]))


def _least(pull: Pull, giving, solid: Solid) -> Pull | None:  # type: ignore[no-untyped-def]
    """The pull giving way by the least share that a paper holds; None when even all of it does not help."""
    if not _held(giving(pull, 1.0), solid):
        return None
    low, high = 0.0, 1.0
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        low, high = (low, middle) if _held(giving(pull, middle), solid) else (middle, high)
    made: Pull = giving(pull, high)
    rounded = replace(made, stronger=round(made.stronger, 4), lighter=round(made.lighter, 4))
    return rounded if _held(rounded, solid) else made
