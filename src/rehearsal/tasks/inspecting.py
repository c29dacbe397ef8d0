"""The inspect use case."""

from __future__ import annotations

from typing import Any

import numpy as np

from rehearsal.core.errors import ProfileError
from rehearsal.core.icc import Profile
from rehearsal.core.papers.facts import compensation_blacks, measure
from rehearsal.core.papers.health import health_warnings
from rehearsal.core.papers.model import check_destination


def _list(values: np.ndarray) -> list[float]:
    return [float(v) for v in values]


def profile_facts(profile: Profile) -> dict[str, Any]:
    """Facts of a profile under the keys of the inspect command; unknown ones are None with a warning why."""
    head = profile.header
    facts: dict[str, Any] = {
        "description": profile.description,
        "class": head.class_name,
        "colour_space": profile.space,
        "pcs": head.pcs.strip(),
        "version": head.version,
        "intents": profile.intents(),
    }
    try:
        check_destination(profile)
    except ProfileError as error:
        empty = (
            "media_white",
            "black",
            "compensation_black",
            "contrast",
            "dmax",
            "gamut_volume",
            "noise",
            "neutral_drift",
        )
        return {**facts, **dict.fromkeys(empty), "warnings": [f"{error.what}; nothing can be measured from it"]}
    found = measure(profile)
    return {
        **facts,
        "media_white": _list(found.media_white),
        "black": _list(found.black),
        "compensation_black": {k: _list(v) for k, v in compensation_blacks(profile).items()},
        "contrast": found.contrast,
        "dmax": found.dmax,
        "gamut_volume": found.gamut_volume,
        "noise": {"median": found.noise_median, "p95": found.noise_p95},
        "neutral_drift": {"chroma": found.drift_chroma, "at_lightness": found.drift_lightness},
        "warnings": health_warnings(profile, found),
    }
